package limit

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"restbend/core/civil"
	"restbend/core/exercise"
)

// chairStands are the scores of the 30-second chair stand that count as below
// average under the figure, men and women by age: CDC STEADI (from memory).
var chairStands = []struct{ from, men, women int }{
	{60, 14, 12}, {65, 12, 11}, {70, 12, 10}, {75, 11, 10}, {80, 10, 9}, {85, 8, 8}, {90, 7, 4},
}

const (
	steadi     = "CDC STEADI (from memory)"
	mcgillHold = "McGill, Childs and Liebenson, Arch Phys Med Rehabil 1999, healthy young adults: a comparison and no target (from memory)"
	bunnell    = "Bunnell 1984 and 1993 (from memory)"
)

// unevenShare is how much smaller the lesser side may be before the difference
// is named; half as much again is then given to it (common practice).
const unevenShare = 0.10

// measure is the latest value of a measure on a side ("" for one without
// sides); before is the value before that.
func (c Client) measure(id, side string) (latest, before float64, n int) {
	for _, m := range c.Measures {
		if m.ID == id && m.Side == side {
			latest, before, n = m.Value, latest, n+1
		}
	}
	return
}

// slowAge is the age from which moving about is given more time.
const slowAge = 75

// risks compares what was measured with published figures. Each result says the
// figure, the reference and the meaning.
func (s *Limits) risks(c Client, on civil.Day) {
	add := func(id string, raised bool, source, format string, args ...any) {
		level := "usual"
		if raised {
			level = "raised"
		}
		s.Risks = append(s.Risks, Risk{ID: id, Level: level, Because: fmt.Sprintf(format, args...), Source: source})
	}
	age, because := c.age(on), fallsBecause(c, on)
	if len(because) > 0 {
		add("falls", true, steadi, "Falls are likelier: %s. Support stays in reach.", strings.Join(because, "; "))
	}
	falls := len(because) > 0
	for _, t := range fallsTests(c, on) {
		s.Risks = append(s.Risks, t.Risk)
	}
	// Who may fall, is out of training or well on in years moves with time in hand
	// (common practice).
	s.Slow = falls || c.Has("falls_risk") || c.Has("deconditioned") || age >= slowAge
	if falls {
		s.Needs = append(s.Needs,
			Need{"balance", "a balance or leg measure is below its reference"},
			Need{"leg_strength", "a balance or leg measure is below its reference"},
		)
	}
	s.endurance(c, add)
	s.uneven(c, add)
	if v, before, n := c.measure("trunk_rotation_angle_deg", ""); n > 0 {
		switch {
		case v >= 7 || n > 1 && v-before >= 3:
			add(
				"trunk_rotation",
				true,
				bunnell,
				"Trunk rotation of %g° (7° or more, or a rise of 3°): ask the specialist to look at the curve.",
				v,
			)
		case v >= 5:
			add("trunk_rotation", true, bunnell, "Trunk rotation of %g°: 5° or more is watched.", v)
		default:
			add("trunk_rotation", false, bunnell, "Trunk rotation of %g°: under 5°.", v)
		}
	}
	if v, before, n := c.measure("specific_activity", ""); n > 1 {
		add(
			"specific_activity",
			false,
			"Patient-Specific Functional Scale, Stratford 1995 (from memory)",
			"The activity wanted back went from %g to %g of 10; a change of 3 on one activity counts.%s",
			before,
			v,
			map[bool]string{true: " It does.", false: ""}[math.Abs(v-before) >= 3],
		)
	}
	if c.Steroids.Taken || age > 70 && c.Has("osteoporosis") {
		add(
			"fracture_suspicion",
			true,
			ownSource,
			"Steroids, or an age over 70 with fragile bone: sudden mid-back pain is a suspected fracture until a doctor has looked.",
		)
	}
	for _, k := range c.Conditions {
		for _, curve := range k.Curves("curves") {
			if curve.CobbDeg >= 50 {
				add(
					"curve_"+curve.Region,
					true,
					"adults' curves of 50° or more tend to progress (from memory)",
					"A curve of %g° tends to grow in adults: regular checks by the specialist.",
					curve.CobbDeg,
				)
			}
		}
	}
}

func chairStandFor(age int, sex string) (limit int, known bool) {
	if age < 60 || age > 94 || sex != "male" && sex != "female" {
		return 0, false
	}
	for _, row := range chairStands {
		if age >= row.from {
			limit = row.women
			if sex == "male" {
				limit = row.men
			}
		}
	}
	return limit, true
}

// endurance looks at the ratios of the holds.
func (s *Limits) endurance(c Client, add func(id string, raised bool, source, format string, args ...any)) {
	left, _, hasLeft := c.measure("side_bridge_s", "left")
	right, _, hasRight := c.measure("side_bridge_s", "right")
	back, _, hasBack := c.measure("back_extensor_hold_s", "")
	front, _, hasFront := c.measure("trunk_flexor_hold_s", "")
	if hasLeft > 0 && hasRight > 0 && left > 0 {
		ratio := right / left
		apart := math.Abs(ratio-1) > 0.05
		add(
			"side_bridge_balance",
			apart,
			mcgillHold,
			"Side bridge right to left %.2f%s.",
			ratio,
			marked(apart, ": more than 0.05 from 1 suggests an imbalance", ", within 0.05 of 1: even"),
		)
	}
	if hasBack > 0 && back > 0 {
		if hasFront > 0 {
			add(
				"front_to_back",
				front/back > 1,
				mcgillHold,
				"Front hold to back hold %.2f%s.",
				front/back,
				marked(front/back > 1, ": over 1.0 suggests a weak back", ", no more than 1.0: in order"),
			)
		}
		if most := math.Max(left, right); most > 0 {
			add(
				"side_to_back",
				most/back > 0.75,
				mcgillHold,
				"Side bridge to back hold %.2f%s.",
				most/back,
				marked(most/back > 0.75, ": over 0.75 suggests a weak back", ", no more than 0.75: in order"),
			)
		}
	}
}

// unevenMeasures are measures by side that name which side gets more work.
var unevenMeasures = []struct {
	id, words string
	purpose   exercise.Purpose
	raised    string // begins what is said where a published mark is missed: then it is no small matter
}{
	{"thoracic_rotation_deg", "turning", "mobility_rotation", ""},
	{"side_bend_cm", "bending sideways", "mobility_side_bend", ""},
	{
		"single_leg_stance_s",
		"standing on one leg",
		"balance",
		"single_leg_",
	},
	{"side_bridge_s", "the side bridge", "lateral_stability", "side_bridge_"},
	{"straight_leg_raise_deg", "raising a straight leg", "hamstring_length", ""},
}

// Uneven is a difference between the sides: the lesser side gets about half as
// much again.
type Uneven struct {
	Purpose exercise.Purpose
	Lesser  string // left or right
	Share   float64
}

func (s *Limits) uneven(c Client, add func(id string, raised bool, source, format string, args ...any)) {
	for _, u := range unevenMeasures {
		left, _, l := c.measure(u.id, "left")
		right, _, r := c.measure(u.id, "right")
		most := math.Max(left, right)
		if l == 0 || r == 0 || most == 0 {
			continue
		}
		share := math.Min(left, right) / most
		if 1-share < unevenShare {
			continue
		}
		lesser := "left"
		if right < left {
			lesser = "right"
		}
		s.Uneven = append(s.Uneven, Uneven{u.purpose, lesser, share})
		add(
			"uneven_"+u.id,
			false,
			ownSource,
			"In %s the %s side reaches %.0f%% of the other: it gets about half as much again.%s",
			u.words,
			lesser,
			100*share,
			marked(s.raised(u.raised), "", " A difference is common and no fault."),
		)
	}
}

// raised says whether a result of this beginning is raised.
func (s *Limits) raised(beginning string) bool {
	return beginning != "" &&
		slices.ContainsFunc(s.Risks, func(r Risk) bool { return r.Level == "raised" && strings.HasPrefix(r.ID, beginning) })
}

// conflicts says where two conditions pull in opposite directions, which way
// remains, and when to ask.
func (s *Limits) conflicts(c Client) {
	eases := func(way string) bool {
		return slices.ContainsFunc(c.Conditions, func(k Condition) bool { return k.ID == "disc_sciatica" && k.Word("eases") == way })
	}
	if eases("extension") && c.Has("extension_sensitive") {
		s.Conflicts = append(s.Conflicts,
			"Bending back eases the disc but narrows the canal: neither end is used. Neutral work, hinges and bracing remain. Ask the "+
				"clinician which of the two leads before any arching.",
		)
	}
	if eases("flexion") && (c.Has("osteoporosis") || c.Has("osteopenia")) {
		s.Conflicts = append(s.Conflicts,
			"Bending forward eases the disc but presses on fragile vertebrae: only rest with the legs up and small, unloaded rounding "+
				"remain. Ask the clinician before more.",
		)
	}
	if c.Has("extension_sensitive") && c.Has("osteoporosis") {
		s.Conflicts = append(s.Conflicts,
			"Fragile bone wants the upper back extended, the low back must not arch: extension stays above the waist, with a pillow "+
				"under the belly when face down.",
		)
	}
	if c.Has("hypermobility") && c.Has("desk_stiffness") {
		s.Conflicts = append(s.Conflicts, "Mobile joints can feel stiff: it is control that is missing. Range stays in the middle.")
	}
}

// boneClasses report the class of every T-score.
func (s *Limits) boneClasses(c Client) {
	for _, k := range c.Conditions {
		if t, said := k.Figure("t_score"); said {
			s.boneClass(t)
		}
	}
}

func (s *Limits) boneClass(t float64) {
	level, word := "usual", "in the ordinary class"
	switch {
	case t <= -2.5:
		level, word = "raised", "in the class of osteoporosis (−2.5 or less)"
	case t < -1:
		level, word = "raised", "in the class of low bone mass (below −1)"
	}
	s.Risks = append(s.Risks,
		Risk{
			ID:      "bone_density",
			Level:   level,
			Because: fmt.Sprintf("A T-score of %s is %s.", signed(t), word),
			Source:  "WHO 1994 (from memory)",
			Within:  "conditions",
		},
	)
}

func signed(v float64) string { return strings.Replace(fmt.Sprintf("%g", v), "-", "−", 1) }

// heightLoss reports height lost.
func (s *Limits) heightLoss(c Client) {
	if lost, since := c.lostHeight(); since != "" {
		s.Risks = append(s.Risks, Risk{ID: "height_loss", Level: "raised",
			Because: fmt.Sprintf("%.3g cm shorter than %s: ask the doctor to look at the spine.", lost, since), Source: ownSource})
	}
}
