package limit

import (
	"cmp"
	"fmt"
	"slices"

	"restbend/core/exercise"
)

// ScreenTest is one movement test: how it is done, what is looked for, what it
// needs, and what kind of work answers it.
type ScreenTest struct {
	ID, Name, How, Look string
	Like                string // a variant whose figure shows it
	Needs               []exercise.Purpose
	Chain, Orientation  string // of the task that is tested
	Timed               string // the measure it gives, if any
	Balance             bool   // a support is within reach for anyone who may fall
	// Asks is what it asks of the body, by published names of quantities: what a usual
	// try comes to (common practice).
	Asks map[string]any
}

// ScreenTests are all tests in the order they are done.
var ScreenTests = []ScreenTest{
	{
		"half_squat",
		"Half squat",
		"Feet hip-width apart, arms ahead. Sit back half-way and stand again, five times.",
		"the tail tucking under, knees falling in, heels lifting",
		"half_squat",
		[]exercise.Purpose{"dissociation", "leg_strength"},
		"closed",
		"upright",
		"",
		false,
		map[string]any{"hip_flexion": 75, "knee_flexion_loaded": 60, "lumbar_moment": 0.06, "base_of_support": "feet_apart"},
	},
	{
		"full_squat",
		"Deep squat",
		"As the half squat, as low as is easy, a hand on a support.",
		"where the back begins to round, which heel lifts first",
		"half_squat_chair",
		[]exercise.Purpose{"leg_strength", "ankle_mobility", "hip_mobility"},
		"closed",
		"upright",
		"",
		false,
		map[string]any{"lumbar_flexion": 30, "hip_flexion": 110, "knee_flexion_loaded": 110, "support_hand": true},
	},
	{
		"heel_raise",
		"Heel raise",
		"Hands near a support. Rise on both heels, then on one, up to ten times.",
		"ankles rolling out, height lost from rise to rise",
		"heel_raise",
		[]exercise.Purpose{"calf_strength", "balance"},
		"closed",
		"upright",
		"",
		true,
		map[string]any{"base_of_support": "feet_apart", "support_hand": true},
	},
	{
		"goalpost_wall",
		"Goalpost at the wall",
		"Back against a wall, elbows out at shoulder height, forearms up. Slide the arms up the wall.",
		"ribs flaring, the low back leaving the wall, wrists that do not reach it",
		"wall_chest_drop",
		[]exercise.Purpose{"shoulder_mobility", "upper_back_posture"},
		"open",
		"upright",
		"",
		false,
		map[string]any{"shoulder_elevation": 140},
	},
	{
		"long_sit",
		"Sitting tall, legs long",
		"On the floor or a firm bed, legs long, hands light. Sit as tall as is easy.",
		"the pelvis rolling back, knees that bend to allow it",
		"staff_sit",
		[]exercise.Purpose{"hamstring_length", "upper_back_posture"},
		"closed",
		"seated",
		"",
		false,
		map[string]any{"floor_sit": true, "lumbar_flexion": 15, "straight_leg_raise": 70},
	},
	{
		"single_leg_stance",
		"One leg",
		"Beside a support, eyes open, arms free. Best of three, each side.",
		"the hip dropping, the trunk leaning, eyes that search",
		"single_leg",
		[]exercise.Purpose{"balance", "hip_abduction"},
		"closed",
		"upright",
		"single_leg_stance_s",
		true,
		map[string]any{"single_leg": true, "hip_moment": 0.05, "support_hand": true},
	},
	{
		"seated_reach",
		"Reach and turn, sitting",
		"Arms crossed on the chest. Turn each way, then lean each way.",
		"which way is shorter, and what stops it",
		"seated_turn",
		[]exercise.Purpose{"mobility_rotation", "mobility_side_bend"},
		"closed",
		"seated",
		"thoracic_rotation_deg",
		false,
		map[string]any{"thoracic_rotation": 20, "thoracic_side_bend": 15},
	},
	{
		"leg_lower",
		"Slow leg lower",
		"On the back, one foot flat, the other thigh upright. Lower that foot to the floor in four counts.",
		"the low back lifting off a hand that lies under it",
		"leg_lower_one_foot_down",
		[]exercise.Purpose{"deep_core", "anti_extension"},
		"open",
		"lying",
		"",
		false,
		map[string]any{"supine_flat": true, "hip_flexion": 89, "lumbar_moment": 0.03},
	},
	{
		"forward_bend_ease",
		"Bending forward, a few times",
		"Standing or sitting, round forward easily five times.",
		"whether pain leaves or spreads; a solid stop or a pinch",
		"seated_flex_extend",
		[]exercise.Purpose{"mobility_flexion_extension"},
		"closed",
		"upright",
		"lumbar_flexion_deg",
		false,
		map[string]any{"lumbar_flexion": 50, "thoracic_flexion": 25},
	},
	{
		"backward_bend_ease",
		"Bending back, a few times",
		"Standing, hands on the hips, arch easily five times.",
		"whether pain leaves or spreads; a solid stop or a pinch",
		"seated_flex_extend",
		[]exercise.Purpose{"mobility_flexion_extension"},
		"closed",
		"upright",
		"lumbar_extension_deg",
		false,
		map[string]any{"lumbar_extension": 15},
	},
}

// FindScreenTest finds a test by its id.
func FindScreenTest(id string) (ScreenTest, bool) {
	for _, t := range ScreenTests {
		if t.ID == id {
			return t, true
		}
	}
	return ScreenTest{}, false
}

// Barred says why a test is not for the client today; "" when it may be done.
// Tests obey the limits themselves.
func (t ScreenTest) Barred(s Limits) string {
	asks := exercise.AtRest()
	for name, value := range t.Asks {
		asks = asks.With(name, value)
	}
	broken := s.Breaks(asks)
	if len(broken) == 0 {
		return ""
	}
	slices.SortStableFunc(broken, func(a, b Reason) int { return cmp.Compare(a.Quantity, b.Quantity) })
	return broken[0].Text
}

// Instead is the test that answers a question of a barred one and may be done, with the
// need that it speaks of; "" where there is none.
func (t ScreenTest) Instead(s Limits) (name string, need exercise.Purpose) {
	for _, p := range t.Needs {
		for _, o := range ScreenTests {
			if o.ID != t.ID && slices.Contains(o.Needs, p) && o.Barred(s) == "" {
				return o.Name, p
			}
		}
	}
	return "", ""
}

// failed findings speak of a need.
func (s Screen) failed() bool { return s.Finding != "able" }

// latest keeps the last finding of each test and side.
func latest(screens []Screen) []Screen {
	var out []Screen
	for i, a := range screens {
		newer := false
		for _, b := range screens[i+1:] {
			newer = newer || b.ID == a.ID && b.Side == a.Side
		}
		if !newer {
			out = append(out, a)
		}
	}
	return out
}

// FailedScreens are the tests whose last finding is not "able".
func FailedScreens(c Client) []Screen {
	var out []Screen
	for _, s := range latest(c.Screens) {
		if s.failed() {
			out = append(out, s)
		}
	}
	return out
}

// failed turns failed tests into needs.
func (s *Limits) failed(c Client) {
	for _, screen := range FailedScreens(c) {
		t, ok := FindScreenTest(screen.ID)
		if !ok {
			continue
		}
		side := ""
		if screen.Side != "" {
			side = " on the " + screen.Side
		}
		for _, p := range t.Needs {
			s.Needs = append(s.Needs, Need{p, fmt.Sprintf("the test %q%s showed it: %s", t.Name, side, FindingWords[screen.Finding])})
		}
	}
}

// testedDirections are the tests that stop in a direction, with half of the ordinary
// range in degrees, which is taken where it was not measured (AAOS handbook, from
// memory).
var testedDirections = map[string]struct {
	quantity string
	half     float64
}{"forward_bend_ease": {"lumbar_flexion", 30}, "backward_bend_ease": {"lumbar_extension", 12.5}}

// hardEnds are sensations that work stays short of.
var hardEnds = []string{"solid_stop", "pinch", "pain"}

// screened caps directions in which a test ended hard.
func screened(c Client, body size) []Limit {
	var out []Limit
	for _, screen := range latest(c.Screens) {
		stops, ok := testedDirections[screen.ID]
		if !ok || !slices.Contains(hardEnds, screen.Sensation) {
			continue
		}
		most := stops.half
		if v, _, n := c.measure(stops.quantity+"_deg", ""); n > 0 {
			most = endShare * v
		}
		out = append(out, body.row(stops.quantity, exercise.WhenAny, round(most, 1), Reason{Rule: "screen." + screen.ID,
			Text: "The test ended in " + SensationWords[screen.Sensation] + ": work stays short of it.", Source: ownSource}))
	}
	return out
}

// FindingWords and SensationWords are the answers of a test in plain words.
var (
	FindingWords = map[string]string{
		"able":          "done well",
		"loses_neutral": "the back lost its shape",
		"weak":          "strength gave out",
		"uncoordinated": "not smooth",
		"stiff":         "stopped short",
		"painful":       "painful",
		"unsteady":      "unsteady",
	}
	SensationWords = map[string]string{
		"none":       "nothing",
		"stretch":    "a stretch",
		"solid_stop": "a solid stop",
		"pinch":      "a pinch",
		"pain":       "pain",
		"tingle":     "tingling",
	}
)

// Answer says how well an exercise answers a need that a test has shown: "full",
// "part" or "" for not at all, with the sentence why.
func (t ScreenTest) Answer(need exercise.Purpose, v *exercise.Variant) (level, why string) {
	serves := false
	for _, p := range v.Purposes {
		serves = serves || p == need
	}
	if !serves {
		return "", "does not train it"
	}
	chain := v.Chain == t.Chain || v.Chain == "semi_closed" || t.Chain == "open"
	posture := v.Orientation() == t.Orientation || t.Orientation == "lying" // a lying task is trained in any posture
	switch {
	case chain && v.Orientation() == t.Orientation && v.Position != "four_point":
		return "full", fmt.Sprintf("trains it %s, as the task is done", v.Position.Words())
	case chain && posture:
		return "full", "trains it " + v.Position.Words()
	case !chain && !posture:
		return "part", fmt.Sprintf("trains it %s and with the foot or hand free: a beginning", v.Orientation())
	case !posture:
		return "part", fmt.Sprintf("trains it %s; the task is done %s", v.Orientation(), t.Orientation)
	}
	return "part", "trains it with the foot or hand free; the task stands on it"
}
