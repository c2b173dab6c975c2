package exercise

import (
	"cmp"
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
// height (see NewtonMetres), lever arms and the margin of the base shares of
// height until For makes them centimetres.
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
	standsOnOne = 0.8  // seconds on one leg from which it is balancing and not a step
	propping    = 0.10 // share of body weight on one arm from which a hold is an effort
	propped     = 0.12 // body heights from which a shoulder rests on its arm and not beside it
	betweenKeys = 4    // samples from one key pose to the next
	offBalance  = 0.02 // body heights by which the weight may miss its base: a foot's width of error
	// offBalanceHeld is the same with a hand on a support, which is not modelled
	// as bearing weight but does steady.
	offBalanceHeld = 0.06
)

// Frame is one sampled instant of a movement.
type Frame struct {
	Pose    string // the key pose, or "" on the way
	Seconds float64
	Figure  body.Figure
	Rolling bool // from one base position into another, whose loads are not worked out
	Same    int  // index of an earlier frame with the same posture, or -1
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
	frames := []Frame{{Pose: "start", Figure: figures["start"], Same: -1}}
	now, at, index := "start", 0.0, map[string]int{"start": 0}
	ways := map[[2]string]int{} // index of the first frame of a way already filmed
	for _, s := range m.Steps {
		a, b := figures[now], figures[s.To]
		first := len(frames)
		there, again := ways[[2]string{now, s.To}]
		back, returning := ways[[2]string{s.To, now}]
		for i := 1; i <= samples; i++ {
			t := float64(i) / float64(samples)
			f := Frame{Seconds: at + t*s.Seconds, Rolling: i < samples && a.Pose.Base != b.Pose.Base, Same: -1}
			switch {
			case i == samples:
				f.Pose, f.Figure = s.To, b
				if k, seen := index[s.To]; seen {
					f.Same = k
				} else {
					index[s.To] = len(frames)
				}
			case again:
				f.Same, f.Figure = there+i-1, frames[there+i-1].Figure
			case returning: // the same way back
				k := back + samples - i - 1
				f.Same, f.Figure = k, frames[k].Figure
			default:
				f.Figure = body.Between(a, b, (1-math.Cos(math.Pi*t))/2)
				if a.Pose.Base != b.Pose.Base {
					f.Figure.Clear(m.Scene)
				}
			}
			frames = append(frames, f)
		}
		if !again {
			ways[[2]string{now, s.To}] = first
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
	var peaks limbPeaks
	var armShare, hips, onOne float64
	kneels := m.Position == "kneeling" || m.Position == "half_kneeling"
	var spine spinePeaks
	carried := make([]body.Loads, len(frames))
	for i, f := range frames {
		fig := &frames[i].Figure
		if f.Same >= 0 {
			carried[i] = carried[f.Same]
		} else {
			carried[i] = fig.Carry(m.Scene)
		}
		loads := carried[i]
		most := offBalance
		if m.Hands {
			most = offBalanceHeld
		}
		if f.Pose != "" && loads.Residual > most {
			return out, fmt.Errorf("pose %s: the body is off balance: its weight lies outside what it rests on by %.3f of body height", f.Pose, loads.Residual)
		}
		resisted := m.resisted()
		loaded := [3]bool{resisted || loads.LowBack > loadedLowBack, resisted || loads.LowestRibs > loadedLowestRibs, false}
		held := f.Pose != "" && f.Pose == m.HoldsAt && m.Hold >= heldSeconds
		if f.Rolling {
			continue
		}
		if !singleLeg(m, loads) {
			onOne = f.Seconds
		} else if f.Seconds-onOne >= standsOnOne {
			out.Flags["single_leg"] = true
		}
		now := spineOf(fig.Pose)
		spine.take(now, f.Seconds, loaded, held)
		if f.Same >= 0 {
			continue // its peaks are in already
		}
		out.Moments = append(out.Moments, now)
		peaks.take(fig, loads)
		for s := body.Left; s <= body.Right; s++ {
			if fig.Arms[s].Root.Z > propped {
				armShare = math.Max(armShare, loads.Share(handPart[s], elbowPart[s], forearmPart[s]))
			}
			hips = math.Max(hips, loads.Hips[s])
		}
		if fig.Head.F.Z > 0.3 && fig.Pelvis.F.Z > 0.5 && loads.Share(body.HeadPart) < 0.02 {
			out.Flags["head_lift"] = true
		}
		if fig.Skull().At.Z < fig.Spine[14].At.Z-0.08 {
			out.Flags["head_below_heart"] = true
		}
		if f.Pose != "" {
			if b := base(m, fig, loads); steadier(out.Words["base_of_support"], b) {
				out.Words["base_of_support"] = b
			}
			kneels = kneels || loads.Share(kneePart[0])+loads.Share(kneePart[1]) > 0.05
		}
	}
	peaks.into(out.Numbers)
	spine.into(out.Numbers)
	if m.Sided {
		bothSides(&out)
	}
	for _, q := range limbNames {
		out.Numbers[q] = math.Max(out.Numbers[q+"_left"], out.Numbers[q+"_right"])
	}
	if m.Hold > 0 {
		out.Numbers["hold_seconds"] = m.Hold
		if out.Numbers["lumbar_moment"] > loadedLowBack || armShare > propping {
			out.Numbers["hold_seconds_loaded"] = m.Hold
		}
	}
	out.Flags["split_stance"] = splitStance(m, frames)
	flags := map[string]bool{
		"side_lying": m.Position == "side_lying", "pillow": m.Pillow, "support_hand": m.Hands,
		"hips_above_heart": m.Hold > heartSeconds && raisedHips(m, frames),
		"prone":            m.Position == "prone", "supine_flat": m.Position == "supine",
		"kneeling":       kneels,
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
	out.Words["spring_load"] = cmp.Or(m.Spring, "none")
	out.Numbers["demand"] = 0
	out.Demand = demand(out, armShare, hips, m.resisted())
	out.Numbers["demand"] = out.Demand
	return out, nil
}

// heartSeconds is how long hips held above the heart are counted.
const heartSeconds = 30

// raisedHips says whether the pose that is held has the hips above the chest.
func raisedHips(m Movement, frames []Frame) bool {
	return slices.ContainsFunc(frames, func(f Frame) bool {
		return f.Pose != "" && f.Pose == m.HoldsAt && f.Figure.Pelvis.F.Z > 0.3 && f.Figure.Origin.Z > f.Figure.Spine[12].At.Z+0.03
	})
}

// splitStance says whether the feet stand far apart from front to back, more
// than a step (0.35 of body height).
func splitStance(m Movement, frames []Frame) bool {
	if m.Position != "standing" && m.Position != "standing_supported" {
		return false
	}
	return slices.ContainsFunc(frames, func(f Frame) bool {
		legs := f.Figure.Legs
		return math.Abs(legs[0].End.Sub(legs[1].End).Dot(f.Figure.Pelvis.F)) > 0.35
	})
}

// resisted says whether outside resistance acts through the trunk.
func (m Movement) resisted() bool { return m.Resistance != "" && m.Resistance != "none" }

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
func singleLeg(m Movement, l body.Loads) bool {
	if m.Position != "standing" && m.Position != "standing_supported" {
		return false
	}
	on := 0
	for s := body.Left; s <= body.Right; s++ {
		if l.Share(heelPart[s], ballPart[s], toesPart[s]) > 0.01 {
			on++
		}
	}
	return on == 1
}

// bases are the words of base_of_support, steadiest first.
var bases = []string{"lying", "wide", "seated", "feet_apart", "narrow", "single"}

// steadier says whether base a is none at all or steadier than b.
func steadier(a, b string) bool { return slices.Index(bases, a) < slices.Index(bases, b) }

// base is what one posture stands on. A hand on a support counts the feet as
// apart; so do feet side by side with the heels down.
func base(m Movement, f *body.Figure, l body.Loads) string {
	switch m.Position {
	case "supine", "side_lying", "prone":
		return "lying"
	case "half_kneeling":
		if !m.Hands {
			return "narrow"
		}
		return "wide"
	case "four_point", "kneeling":
		return "wide"
	case "floor_sit", "chair_sit":
		return "seated"
	}
	if m.Hands {
		return "feet_apart"
	}
	arms := l.Share(handPart[:]...) + l.Share(forearmPart[:]...)
	heels := l.Share(heelPart[0]) + l.Share(heelPart[1])
	apart := f.Legs[body.Left].End.Sub(f.Legs[body.Right].End)
	ahead := math.Abs(apart.Dot(f.Pelvis.F))
	if apart.Dot(f.Pelvis.L) < 0.05 && ahead < 0.3 || arms < 0.02 && heels < 0.02 && l.Share(ballPart[:]...)+l.Share(toesPart[:]...) > 0.5 {
		return "narrow"
	}
	return "feet_apart"
}

// demand is one number from 0 to 10 for how hard a variant is, used wherever
// "harder", "heavy" or the ribbon's thickness is meant. Up to 4 points for the
// low-back moment (0.10 of weight × height earns all), up to 3 for the load on
// one arm that props the shoulder (0.60 of body weight), up to 3 for the larger
// hip moment (0.12), 1 for a single leg without a hand, and a half each for a
// head lifted in lying and for outside resistance. The weights are this
// product's own choice.
func demand(m Measured, armShare, hips float64, resisted bool) float64 {
	d := 4*math.Min(1, m.Numbers["lumbar_moment"]/0.10) + 3*math.Min(1, armShare/0.60) + 3*math.Min(1, hips/0.12)
	if m.Words["base_of_support"] == "single" {
		d++
	}
	if m.Flags["head_lift"] {
		d += 0.5
	}
	if resisted {
		d += 0.5
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
		case "lowest_ribs_moment", "hip_moment":
			continue
		case "trunk_lever_cm", "leg_lever_cm", "base_margin_cm":
			v *= heightCM
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
