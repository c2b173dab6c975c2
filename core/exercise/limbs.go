package exercise

import (
	"math"

	"restbend/core/body"
)

// limbNames are the sided quantities of the limbs, in the order of limbPeaks.
var limbNames = [...]string{
	"hip_inward_turn",
	"hip_outward_turn",
	"hip_flexion",
	"hip_extension",
	"hip_adduction",
	"hip_rotation",
	"knee_flexion",
	"shoulder_elevation",
	"straight_leg_raise",
	"wrist_load",
	"forearm_load",
	"knee_load",
}

// limbKeys are where they are kept, by side; the last is the knee that carries.
var limbKeys = func() (out [len(limbNames) + 1][2]Key) {
	for i := range out {
		for s := body.Left; s <= body.Right; s++ {
			name, scope := "knee_flexion", WhenLoaded
			if i < len(limbNames) {
				name, scope = limbNames[i], WhenAny
			}
			out[i][s] = mustKey(name, s.String(), scope)
		}
	}
	return
}()

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
	peak                [len(limbNames) + 1][2]float64
	arm                 float64 // share of body weight on one arm that props the shoulder
	lowBack, lowestRibs float64
	lumbar, ribs        float64 // compression, as shares of body weight
	shear               float64
	axial, moving       [2]float64 // to the left and to the right
	resting             [len(restNames)][2]float64
	restingBack         [2]float64
	outside             [2][2]float64 // newtons on hand and foot, by side
	lever, legLever     float64
	margin              float64
	hips                float64
	any                 bool
	lyingLever          float64    // of legs in the air, on the back
	abduction           [2]float64 // of a leg that bears nothing
	liftedArm           [2]float64 // degrees of an arm that is held up or moved by its own muscles
	bothOff             bool       // both legs in the air, on the back
	straightOff         [2]bool
	crossing            [2]bool
	behindBack          [2]bool // a hand
	oneLegBridge        bool
	last                *[4]float64 // angles of hips and shoulders, for their speed
	lastAt              float64
	hands               [2]body.Vec // where they were then
	quickest            float64     // degrees a second
}

// take adds an instant.
func (p *limbPeaks) take(f *body.Figure, loads body.Loads, held body.Held) {
	a := f.Angles()
	for s := body.Left; s <= body.Right; s++ {
		bent := 0.0 // of a knee that carries
		if loads.Share(heelPart[s], ballPart[s], toesPart[s]) > carries {
			bent = a.KneeFlexion[s]
		}
		propped := 0.0 // an arm that lies there bears its own weight alone
		if loads.Props[s] {
			propped = 1
		}
		knelt := 1.0 // a knee that lies there bears no more than the leg
		if loads.Lies {
			knelt = 0
		}
		for i, v := range [len(limbNames) + 1]float64{
			a.HipRotation[s], -a.HipRotation[s], a.HipFlexion[s], -a.HipFlexion[s], -a.HipAbduction[s], math.Abs(a.HipRotation[s]),
			a.KneeFlexion[s],
			a.ShoulderLift[s], a.StraightRaise[s],
			propped * loads.Share(handPart[s]), propped * loads.Share(elbowPart[s], forearmPart[s]), knelt * loads.Share(kneePart[s]), bent,
		} {
			p.peak[i][s] = math.Max(p.peak[i][s], v)
		}
		p.arm = math.Max(p.arm, propped*loads.Share(handPart[s], elbowPart[s], forearmPart[s]))
		p.outside[0][s] = math.Max(p.outside[0][s], loads.Hand[s]*usualNewtons)
		p.outside[1][s] = math.Max(p.outside[1][s], loads.Foot[s]*usualNewtons)
	}
	p.legs(f, loads, a)
	p.arms(f, loads, a)
	p.hips = math.Max(p.hips, math.Max(loads.Hips[0], loads.Hips[1]))
	p.lowBack = math.Max(p.lowBack, math.Max(loads.LowBack, held.Sum()))
	p.lowestRibs = math.Max(p.lowestRibs, loads.LowestRibs)
	p.lever = math.Max(p.lever, loads.TrunkLever)
	p.legLever = math.Max(p.legLever, math.Max(loads.LegLevers[0], loads.LegLevers[1]))
	if m := loads.Margin(); !p.any || m < p.margin {
		p.margin, p.any = m, true
	}
}

// What the legs do that the joints' angles alone do not tell.
const (
	straightKnee = 20.0 // degrees up to which a knee is straight
	flexedHip    = 60.0 // degrees from which a hip that crosses is at risk (limits of a replaced hip)
	offFloor     = 0.01 // share of weight × height from which hip flexors carry a leg
	liftedPelvis = 0.10 // body heights between the hips and the floor
	oneCarries   = 0.85 // share of what the legs carry from which it is one of them
	bearsLittle  = 0.02 // share of body weight under which a leg is carried by its hip
	pastMiddle   = 5.0  // degrees from which a thigh goes past the middle
)

// legs looks at legs in the air, at bridges, and at thighs that cross.
func (p *limbPeaks) legs(f *body.Figure, loads body.Loads, a body.Angles) {
	onBack := f.Pelvis.F.Z > 0.5
	if onBack {
		p.lyingLever = math.Max(p.lyingLever, loads.Flexors[0]+loads.Flexors[1])
		both := loads.Leg[0] + loads.Leg[1]
		p.bothOff = p.bothOff || loads.Air[0] && loads.Air[1]
		lifted := f.Origin.Z > liftedPelvis && loads.Share(body.Seat, "hip_left", "hip_right") < 0.02
		if lifted && both > 0.05 && math.Max(loads.Leg[0], loads.Leg[1]) > oneCarries*both {
			p.oneLegBridge = true
		}
	}
	for s := body.Left; s <= body.Right; s++ {
		if a.KneeFlexion[s] < straightKnee && loads.Flexors[s] > offFloor {
			p.straightOff[s] = true
		}
		if loads.Leg[s] < bearsLittle {
			p.abduction[s] = math.Max(p.abduction[s], a.HipAbduction[s])
		}
		if a.HipFlexion[s] > flexedHip && -a.HipAbduction[s] > pastMiddle {
			p.crossing[s] = true
		}
	}
}

// Where a hand is, in body heights.
const (
	handMoves    = 0.01 // between two instants, from which it moves
	behindBack   = 0.05 // behind the hips, from which it is behind the back,
	awayFromBack = 0.16 // up to where it is away from it,
	besideBack   = 0.09 // and from the middle, up to where it is beside the body
)

// arms looks at arms that are held up, and at hands behind the back.
func (p *limbPeaks) arms(f *body.Figure, loads body.Loads, a body.Angles) {
	for s := body.Left; s <= body.Right; s++ {
		if loads.Arms[s] > 0 {
			p.liftedArm[s] = math.Max(p.liftedArm[s], a.ShoulderLift[s])
		}
		d := f.Arms[s].End.Sub(f.Origin) // from the middle of the hips
		back := -d.Dot(f.Pelvis.F)
		p.behindBack[s] = p.behindBack[s] || back > behindBack && back < awayFromBack && math.Abs(d.Dot(f.Pelvis.L)) < besideBack
	}
}

// move adds how quickly hips and shoulders go, and which arms move by themselves.
func (p *limbPeaks) move(f *body.Figure, loads body.Loads, at float64) {
	a := f.Angles()
	now := [4]float64{a.HipFlexion[0], a.HipFlexion[1], a.ShoulderLift[0], a.ShoulderLift[1]}
	if p.last != nil && at > p.lastAt {
		for i, v := range now {
			p.quickest = math.Max(p.quickest, math.Abs(v-p.last[i])/(at-p.lastAt))
		}
		for s := body.Left; s <= body.Right; s++ { // one that slides along the mat is moved by itself, too
			slides := f.Arms[s].End.Sub(p.hands[s]).Len() > handMoves
			if slides && !loads.Props[s] && now[2+s] != p.last[2+s] {
				p.liftedArm[s] = math.Max(p.liftedArm[s], now[2+s])
			}
		}
	}
	p.last, p.lastAt, p.hands = &now, at, [2]body.Vec{f.Arms[0].End, f.Arms[1].End}
}

// rest adds a posture in which the movement begins or is held.
func (p *limbPeaks) rest(f *body.Figure) {
	a, spine := f.Angles(), spineOf(f.Pose)
	for s := body.Left; s <= body.Right; s++ {
		for i, v := range [...]float64{a.HipFlexion[s], -a.HipFlexion[s], a.HipRotation[s], -a.HipRotation[s], a.ShoulderLift[s]} {
			p.resting[i][s] = math.Max(p.resting[i][s], v)
		}
	}
	p.restingBack[0] = math.Max(p.restingBack[0], spine.Worst("lumbar_flexion"))
	p.restingBack[1] = math.Max(p.restingBack[1], spine.Worst("lumbar_extension"))
}

// restNames are the sided quantities at rest, in the order of limbPeaks.
var restNames = [...]string{"hip_flexion_resting", "hip_extension_resting", "hip_inward_turn_resting", "hip_outward_turn_resting",
	"shoulder_elevation_resting"}

// into writes the peaks. Nothing to stand on, as when lying, has a margin without end.
func (p *limbPeaks) into(m *Measured) {
	for i, sides := range limbKeys {
		for s := body.Left; s <= body.Right; s++ {
			m.set(sides[s], p.peak[i][s])
		}
	}
	for s := body.Left; s <= body.Right; s++ {
		m.flag("straight_leg_off_floor_"+s.String(), p.straightOff[s])
		m.put("hip_abduction_active_"+s.String(), p.abduction[s])
		m.put("shoulder_elevation_active_"+s.String(), p.liftedArm[s])
		m.flag("crosses_while_flexed_"+s.String(), p.crossing[s])
		m.flag("hand_behind_back_"+s.String(), p.behindBack[s])
	}
	for i, name := range restNames {
		for s := body.Left; s <= body.Right; s++ {
			m.put(name+"_"+s.String(), p.resting[i][s])
		}
	}
	m.put("lumbar_flexion_resting", p.restingBack[0])
	m.put("lumbar_extension_resting", p.restingBack[1])
	m.flag("both_legs_off", p.bothOff)
	m.flag("one_leg_bridge", p.oneLegBridge)
	m.put("lying_leg_lever", p.lyingLever)
	m.put("lumbar_moment", p.lowBack)
	standing := body.QuietStanding()
	m.put("lumbar_compression", p.lumbar/standing.Lumbar.Compression)
	m.put("thoracolumbar_compression", p.ribs/standing.Thoracolumbar.Compression)
	m.put("lumbar_compression_n", p.lumbar)
	m.put("lumbar_shear_n", p.shear)
	for s := body.Left; s <= body.Right; s++ {
		m.put("axial_moment_"+s.String(), p.axial[s])
		m.put("moving_side_moment_"+s.String(), p.moving[s])
		m.put("hand_force_"+s.String(), p.outside[0][s])
		m.put("foot_force_"+s.String(), p.outside[1][s])
	}
	m.put("lowest_ribs_moment", p.lowestRibs)
	m.put("hip_moment", p.hips)
	m.put("trunk_lever_cm", p.lever)
	m.put("leg_lever_cm", p.legLever)
	m.put("base_margin_cm", p.margin)
}
