package exercise

import (
	"math"

	"restbend/core/body"
)

// limbNames are the sided quantities of the limbs, in the order of limbPeaks.
var limbNames = [...]string{"hip_inward_rotation", "hip_outward_rotation", "knee_flexion_loaded", "hip_flexion", "hip_extension", "hip_adduction", "hip_rotation", "knee_flexion",
	"shoulder_elevation", "straight_leg_raise", "wrist_load", "forearm_load", "knee_load"}

// Parts by side.
var (
	handPart    = [2]body.Part{"hand_left", "hand_right"}
	elbowPart   = [2]body.Part{"elbow_left", "elbow_right"}
	forearmPart = [2]body.Part{"forearm_left", "forearm_right"}
	kneePart    = [2]body.Part{"knee_left", "knee_right"}
	heelPart    = [2]body.Part{"heel_left", "heel_right"}
	ballPart    = [2]body.Part{"ball_left", "ball_right"}
	toesPart    = [2]body.Part{"toes_left", "toes_right"}
)

// carries is the share of body weight on one foot from which that knee
// counts as loaded: about what standing on two feet asks, less a margin.
const carries = 0.3

// limbPeaks gathers the peaks of the limbs over a movement, by side; with what
// carries the body, the moments of the trunk and how safely it stands.
type limbPeaks struct {
	peak                [len(limbNames)][2]float64
	lowBack, lowestRibs float64
	lever, legLever     float64
	margin              float64
	hips                float64
	any                 bool
}

// take adds an instant.
func (p *limbPeaks) take(f *body.Figure, loads body.Loads) {
	a := f.Angles()
	for s := body.Left; s <= body.Right; s++ {
		bent := 0.0 // of a knee that carries
		if loads.Share(heelPart[s], ballPart[s], toesPart[s]) > carries {
			bent = a.KneeFlexion[s]
		}
		for i, v := range [len(limbNames)]float64{
			a.HipRotation[s], -a.HipRotation[s], bent, a.HipFlexion[s], -a.HipFlexion[s], -a.HipAbduction[s], math.Abs(a.HipRotation[s]), a.KneeFlexion[s],
			a.ShoulderLift[s], a.StraightRaise[s],
			loads.Share(handPart[s]), loads.Share(elbowPart[s], forearmPart[s]), loads.Share(kneePart[s]),
		} {
			p.peak[i][s] = math.Max(p.peak[i][s], v)
		}
	}
	p.hips = math.Max(p.hips, math.Max(loads.Hips[0], loads.Hips[1]))
	p.lowBack = math.Max(p.lowBack, loads.LowBack)
	p.lowestRibs = math.Max(p.lowestRibs, loads.LowestRibs)
	p.lever = math.Max(p.lever, loads.TrunkLever)
	p.legLever = math.Max(p.legLever, math.Max(loads.LegLevers[0], loads.LegLevers[1]))
	if m := loads.Margin(); !p.any || m < p.margin {
		p.margin, p.any = m, true
	}
}

// into writes the peaks under their names.
func (p *limbPeaks) into(numbers map[string]float64) {
	for i, name := range limbNames {
		for s := body.Left; s <= body.Right; s++ {
			numbers[name+"_"+s.String()] = p.peak[i][s]
		}
	}
	numbers["lumbar_moment"], numbers["lowest_ribs_moment"] = p.lowBack, p.lowestRibs
	numbers["trunk_lever_cm"], numbers["leg_lever_cm"] = p.lever, p.legLever
	numbers["hip_moment"] = p.hips
	if !math.IsInf(p.margin, 0) {
		numbers["base_margin_cm"] = p.margin
	}
}
