package exercise

import (
	"encoding/json"
	"fmt"
	"maps"
	"math"
	"slices"

	"restbend/core/body"
)

// Measured holds a variant's movement quantities: peaks over the whole
// movement, and over both sides when it has sides. Angles are degrees, loads
// shares of body weight, Numbers["lumbar_moment"] a share of body weight ×
// height (see NewtonMetres).
type Measured struct {
	Numbers map[string]float64
	Flags   map[string]bool
	Words   map[string]string
	// Moments are the spine's angles at each sampled instant, for rules about
	// two quantities at the same time.
	Moments []Spine
	Demand  float64
}

// NewtonMetres turns a share of body weight × height into N·m.
func NewtonMetres(share, heightCM, massKG float64) float64 {
	return share * massKG * 9.81 * heightCM / 100
}

// Net moments above which a region counts as loaded, as shares of body weight
// × height (contract).
const (
	loadedLowBack    = 0.03
	loadedLowestRibs = 0.012
)

const (
	heldSeconds = 5.0  // a hold from here on counts as held
	fastDegrees = 60.0 // per second; from here on a movement counts as fast
	betweenKeys = 4    // samples from one key pose to the next
	offBalance  = 0.02 // body heights by which the weight may miss its base: a foot's width of error
)

// Frame is one sampled instant of a movement.
type Frame struct {
	Pose    string // the key pose, or "" on the way
	Seconds float64
	Figure  body.Figure
}

// Frames solves the movement: every key pose and samples on the way between.
// Errors name the pose.
func (m Movement) Frames() ([]Frame, error) { return m.Film(betweenKeys) }

// Film is Frames with so many samples from one key pose to the next.
func (m Movement) Film(samples int) ([]Frame, error) {
	figures, err := m.Figures()
	if err != nil {
		return nil, err
	}
	frames := []Frame{{"start", 0, figures["start"]}}
	now, at := "start", 0.0
	for _, s := range m.Steps {
		a, b := figures[now], figures[s.To]
		for i := 1; i <= samples; i++ {
			t := float64(i) / float64(samples)
			eased := (1 - math.Cos(math.Pi*t)) / 2
			f := Frame{Seconds: at + t*s.Seconds, Figure: body.Between(a, b, eased)}
			if i == samples {
				f.Pose, f.Figure = s.To, b
			}
			frames = append(frames, f)
		}
		now, at = s.To, at+s.Seconds
	}
	return frames, nil
}

// Figures solves the key poses by name.
func (m Movement) Figures() (map[string]body.Figure, error) {
	out := map[string]body.Figure{}
	scene := m.Scene
	for _, name := range m.Order {
		f, err := body.Solve(m.Poses[name], scene)
		if err != nil {
			return nil, fmt.Errorf("pose %s: %w", name, err)
		}
		if name == "start" {
			scene.Start = &f
		} else if m.range01() < 1 {
			f = body.Between(out["start"], f, m.range01())
		}
		out[name] = f
	}
	return out, nil
}

// Measure works out every movement quantity of a movement from its poses.
func Measure(m Movement) (Measured, error) {
	frames, err := m.Frames()
	if err != nil {
		return Measured{}, err
	}
	return MeasureFrames(m, frames)
}

// MeasureFrames is Measure for a movement that has been solved.
func MeasureFrames(m Movement, frames []Frame) (Measured, error) {
	out := Measured{Numbers: map[string]float64{}, Flags: map[string]bool{}, Words: map[string]string{}}
	peak := func(name string, v float64) {
		if old, ok := out.Numbers[name]; !ok || v > old {
			out.Numbers[name] = v
		}
	}
	var armShare, hips float64
	var spine spinePeaks
	for i, f := range frames {
		fig := f.Figure
		loads := fig.Carry(m.Scene)
		if f.Pose != "" && loads.Residual > offBalance {
			return out, fmt.Errorf("pose %s: the body is off balance: its weight lies outside what it rests on by %.3f of body height", f.Pose, loads.Residual)
		}
		resisted := m.resisted()
		loaded := [3]bool{resisted || loads.LowBack > loadedLowBack, resisted || loads.LowestRibs > loadedLowestRibs, false}
		held := f.Pose != "" && f.Pose == m.HoldsAt && m.Hold >= heldSeconds
		now := spineOf(fig.Pose)
		spine.take(now, f.Seconds, loaded, held)
		out.Moments = append(out.Moments, now)

		a := fig.Angles()
		for s := body.Left; s <= body.Right; s++ {
			side := "_" + s.String()
			peak("hip_flexion"+side, math.Max(0, a.HipFlexion[s]))
			peak("hip_extension"+side, math.Max(0, -a.HipFlexion[s]))
			peak("hip_adduction"+side, math.Max(0, -a.HipAbduction[s]))
			peak("hip_rotation"+side, math.Abs(a.HipRotation[s]))
			peak("knee_flexion"+side, a.KneeFlexion[s])
			peak("shoulder_elevation"+side, a.ShoulderLift[s])
			peak("straight_leg_raise"+side, a.StraightRaise[s])
			hand, fore := loads.Share(sided("hand", s)), loads.Share(sided("elbow", s), sided("forearm", s))
			peak("wrist_load"+side, hand)
			peak("forearm_load"+side, fore)
			peak("knee_load"+side, loads.Share(sided("knee", s)))
			armShare = math.Max(armShare, hand+fore)
			hips = math.Max(hips, loads.Hips[s])
		}
		peak("lumbar_moment", loads.LowBack)
		peak("lowest_ribs_moment", loads.LowestRibs)
		if fig.Head.F.Z > 0.3 && fig.Pelvis.F.Z > 0.5 && loads.Share(body.HeadPart) < 0.02 {
			out.Flags["head_lift"] = true
		}
		if fig.Skull().At.Z < fig.Spine[14].At.Z-0.08 {
			out.Flags["head_below_heart"] = true
		}
		if singleLeg(m, fig, loads) {
			out.Flags["single_leg"] = true
		}
		if i == 0 {
			out.Words["base_of_support"] = base(m, loads)
		}
	}
	spine.into(out.Numbers)
	if m.Sided {
		bothSides(&out)
	}
	for _, q := range []string{"hip_flexion", "hip_extension", "hip_adduction", "hip_rotation", "knee_flexion", "shoulder_elevation",
		"straight_leg_raise", "wrist_load", "forearm_load", "knee_load"} {
		out.Numbers[q] = math.Max(out.Numbers[q+"_left"], out.Numbers[q+"_right"])
	}
	if m.Hold > 0 {
		out.Numbers["hold_seconds"] = m.Hold
	}
	flags := map[string]bool{
		"prone": m.Position == "prone", "supine_flat": m.Position == "supine",
		"kneeling":       m.Position == "kneeling" || m.Position == "half_kneeling" || m.Position == "four_point",
		"floor_transfer": m.Position.OnFloor(), "eyes_closed": m.EyesClosed, "ballistic": m.Ballistic, "breath_hold": m.BreathHold,
		"loaded": m.resisted() || out.Numbers["lumbar_moment"] > loadedLowBack || out.Numbers["lowest_ribs_moment"] > loadedLowestRibs,
	}
	for k, v := range flags {
		out.Flags[k] = v
	}
	for _, k := range []string{"head_lift", "head_below_heart", "single_leg"} {
		out.Flags[k] = out.Flags[k] || false
	}
	if out.Flags["single_leg"] && !m.Hands {
		out.Words["base_of_support"] = "single"
	}
	out.Words["spring_load"] = "none"
	out.Demand = demand(out, armShare, hips)
	return out, nil
}

// resisted says whether outside resistance acts through the trunk.
func (m Movement) resisted() bool { return m.Resistance != "" && m.Resistance != "none" }

func sided(part string, s body.Side) body.Part { return body.Part(part + "_" + s.String()) }

// bothSides mirrors the peaks and the instants, so that a variant with sides
// is measured as done on both.
func bothSides(m *Measured) {
	for name, v := range maps.Clone(m.Numbers) {
		other := swapSide(name)
		if other != name && v > m.Numbers[other] {
			m.Numbers[other] = v
		}
	}
	for _, moment := range slices.Clone(m.Moments) {
		m.Moments = append(m.Moments, moment.mirrored())
	}
}

// singleLeg is standing on one foot alone.
func singleLeg(m Movement, f body.Figure, l body.Loads) bool {
	if m.Position != "standing" && m.Position != "standing_supported" {
		return false
	}
	on := 0
	for s := body.Left; s <= body.Right; s++ {
		if l.Share(sided("heel", s), sided("ball", s), sided("toes", s)) > 0.01 {
			on++
		}
	}
	return on == 1
}

func base(m Movement, l body.Loads) string {
	switch m.Position {
	case "supine", "side_lying", "prone":
		return "lying"
	case "four_point", "kneeling", "half_kneeling":
		return "wide"
	case "floor_sit", "chair_sit":
		return "seated"
	}
	var left, right float64
	for _, c := range l.Contacts {
		switch c.Part {
		case "heel_left", "ball_left":
			left = c.At.Y
		case "heel_right", "ball_right":
			right = c.At.Y
		}
	}
	if left-right < 0.06 && !m.Hands {
		return "narrow"
	}
	return "feet_apart"
}

// demand is one number from 0 to 10 for how hard a variant is, used wherever
// "harder", "heavy" or the ribbon's thickness is meant. Up to 4 points for the
// low-back moment (0.10 of weight × height earns all), up to 3 for the load on
// one arm (0.35 of body weight), up to 3 for the larger hip moment (0.08), and
// 1 each for a single leg without a hand and for outside resistance. The
// weights are this product's own choice.
func demand(m Measured, armShare, hips float64) float64 {
	d := 4*math.Min(1, m.Numbers["lumbar_moment"]/0.10) + 3*math.Min(1, armShare/0.35) + 3*math.Min(1, hips/0.08)
	if m.Words["base_of_support"] == "single" {
		d++
	}
	return math.Min(10, d)
}

// Value is the quantity as it goes into JSON: a number, a word, or true or
// false. ok is false for a quantity that was not measured.
func (m Measured) Value(name string) (any, bool) {
	if v, ok := m.Numbers[name]; ok {
		return v, true
	}
	if v, ok := m.Flags[name]; ok {
		return v, true
	}
	v, ok := m.Words[name]
	return v, ok
}

// For gives the quantities as published: numbers rounded to a tenth (loads to
// a thousandth) and the low-back moment in N·m for the client's height in cm
// and mass in kg.
func (m Measured) For(heightCM, massKG float64) Quantities {
	q := Quantities{}
	for k, v := range m.Numbers {
		switch k {
		case "lumbar_moment":
			v = NewtonMetres(v, heightCM, massKG)
		case "lowest_ribs_moment":
			continue
		case "wrist_load", "wrist_load_left", "wrist_load_right", "forearm_load", "forearm_load_left", "forearm_load_right",
			"knee_load", "knee_load_left", "knee_load_right":
			q[k] = math.Round(v*1000) / 1000
			continue
		}
		q[k] = math.Round(v*10) / 10
	}
	for k, v := range m.Flags {
		q[k] = v
	}
	for k, v := range m.Words {
		q[k] = v
	}
	return q
}

// Quantities are published movement quantities: number, bool or word by name.
type Quantities map[string]any

// UnmarshalJSON keeps numbers as float64.
func (q *Quantities) UnmarshalJSON(b []byte) error {
	var raw map[string]any
	if err := json.Unmarshal(b, &raw); err != nil {
		return err
	}
	*q = raw
	return nil
}
