package limit

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
)

var today = time.Date(2026, 11, 24, 0, 0, 0, 0, time.UTC)

func number(v float64) *float64 { return &v }
func whole(v int) *int          { return &v }

func no() *bool { b := false; return &b }

// book is a small rule book of its own, so that this package is tested without
// the library.
var book = Rules{
	{ID: "disc_sciatica.flexion", Condition: "disc_sciatica", Bar: true, Unless: map[string][]string{"eases": {"flexion"}},
		Limits: []RuleLimit{{Quantity: "lumbar_flexion", Max: number(20)}}, Reason: "a", Source: "s"},
	{ID: "disc_sciatica.acute", Condition: "disc_sciatica", If: map[string][]string{"stage": {"acute"}},
		Limits: []RuleLimit{{Quantity: "lumbar_flexion", Max: number(10)}, {Quantity: "lumbar_moment", Max: number(0.04)}}, Reason: "b", Source: "s"},
	{ID: "disc_sciatica.with", Condition: "disc_sciatica",
		Limits: []RuleLimit{{Quantity: "lumbar_flexion", Max: number(5), With: &With{"lumbar_rotation", 5}}}, Reason: "c", Source: "s"},
	{ID: "disc_sciatica.nerve", Condition: "disc_sciatica", If: map[string][]string{"leg_symptoms": {"true"}},
		Limits: []RuleLimit{{Quantity: "straight_leg_raise", Max: number(45), Sided: true}}, Reason: "d", Source: "s"},
	{ID: "osteoporosis.head", Condition: "osteoporosis", Limits: []RuleLimit{{Quantity: "head_lift", Allowed: no()}, {Quantity: "spring_load", Word: "light"}},
		Wants: []exercise.Purpose{"balance"}, Reason: "e", Source: "s"},
	{ID: "osteoporosis.loaded", Condition: "osteoporosis", Limits: []RuleLimit{{Quantity: "thoracic_flexion", When: "loaded", Max: number(10)}}, Reason: "f", Source: "s"},
}

func find(s Set, quantity, when string) *Limit {
	for i, l := range s.Limits {
		if l.Quantity == quantity && l.When == when && l.With == nil {
			return &s.Limits[i]
		}
	}
	return nil
}

func disc(stage string) Client {
	return Client{HeightCM: 170, MassKG: 70, Conditions: []Condition{{ID: "disc_sciatica", Stage: stage, Side: "left"}}}
}

func TestStrictestWinsAndAllReasonsStay(t *testing.T) {
	require.NoError(t, book.Check())
	l := find(For(disc("acute"), book, today), "lumbar_flexion", "any")
	require.NotNil(t, l)
	assert.Equal(t, 10.0, l.Max)
	require.Len(t, l.Reasons, 2)
	assert.Equal(t, "disc_sciatica.flexion", l.Reasons[0].Rule)

	l = find(For(disc("subacute"), book, today), "lumbar_flexion", "any")
	assert.Equal(t, 20.0, l.Max)
	easing := disc("subacute")
	easing.Conditions[0].Eases = "flexion"
	assert.Nil(t, find(For(easing, book, today), "lumbar_flexion", "any"), "unless")
}

func TestSidesUnitsAndDefaults(t *testing.T) {
	s := For(disc("acute"), book, today)
	assert.NotNil(t, find(s, "straight_leg_raise_left", "any"))
	assert.Nil(t, find(s, "straight_leg_raise_right", "any"))
	assert.InDelta(t, 46.7, find(s, "lumbar_moment", "any").Max, 0.05, "0.04 × 70 kg × 9.81 × 1.70 m")
	blank := For(Client{Conditions: []Condition{{ID: "disc_sciatica"}}}, book, today)
	assert.Equal(t, 10.0, find(blank, "lumbar_flexion", "any").Max, "no stage: the most careful one")
	assert.NotNil(t, find(blank, "straight_leg_raise_right", "any"), "no side: both")
	assert.NotEmpty(t, blank.Defaults)
}

// at is an instant with six degrees in each of the named directions.
func at(names ...string) exercise.Spine {
	var s exercise.Spine
	for i, n := range exercise.SpineNames {
		if slices.Contains(names, n) {
			s[i] = 6
		}
	}
	return s
}

func TestBreaks(t *testing.T) {
	acute := For(disc("acute"), book, today)
	for _, c := range []struct {
		name   string
		m      exercise.Measured
		breaks string // the rule, or none
	}{
		{"inside", exercise.Measured{Numbers: map[string]float64{"lumbar_flexion": 10, "lumbar_moment": 0.04}}, ""},
		{"over", exercise.Measured{Numbers: map[string]float64{"lumbar_flexion": 10.1}}, "disc_sciatica.flexion"},
		{"moment over", exercise.Measured{Numbers: map[string]float64{"lumbar_moment": 0.0411}}, "disc_sciatica.acute"},
		{"other leg", exercise.Measured{Numbers: map[string]float64{"straight_leg_raise_right": 80}}, ""},
		{"painful leg", exercise.Measured{Numbers: map[string]float64{"straight_leg_raise_left": 46}}, "disc_sciatica.nerve"},
		{"round and turned at once", exercise.Measured{Moments: []exercise.Spine{at("lumbar_flexion", "lumbar_rotation_right")}}, "disc_sciatica.with"},
		{"round, then turned", exercise.Measured{Moments: []exercise.Spine{at("lumbar_flexion"), at("lumbar_rotation_right")}}, ""},
	} {
		broken := acute.Breaks(c.m)
		if c.breaks == "" {
			assert.Empty(t, broken, c.name)
			continue
		}
		require.NotEmpty(t, broken, c.name)
		assert.Equal(t, c.breaks, broken[0].Rule, c.name)
	}
	bone := For(Client{Conditions: []Condition{{ID: "osteoporosis"}}}, book, today)
	assert.NotEmpty(t, bone.Breaks(exercise.Measured{Flags: map[string]bool{"head_lift": true}}))
	assert.Empty(t, bone.Breaks(exercise.Measured{Words: map[string]string{"spring_load": "light"}}))
	assert.NotEmpty(t, bone.Breaks(exercise.Measured{Words: map[string]string{"spring_load": "heavy"}}))
	assert.Empty(t, bone.Breaks(exercise.Measured{Numbers: map[string]float64{"thoracic_flexion": 15}}), "not loaded")
	assert.NotEmpty(t, bone.Breaks(exercise.Measured{Numbers: map[string]float64{"thoracic_flexion_loaded": 15}}))
}

func TestJudgeTakesTheGentlestFormThatFits(t *testing.T) {
	form := func(flexion float64, id string) *exercise.Form {
		f := &exercise.Form{Measured: exercise.Measured{Numbers: map[string]float64{"lumbar_flexion": flexion}}}
		if id != "" {
			f.Adaptations = []exercise.Adaptation{{ID: id}}
		}
		return f
	}
	v := &exercise.Variant{Forms: []*exercise.Form{form(30, ""), form(22, "a"), form(15, "b"), form(5, "c")}}
	j := Judge(For(disc("subacute"), book, today), v)
	assert.Equal(t, exercise.Adapt, j.Verdict)
	assert.Equal(t, "b", j.Adaptations[0].ID)
	assert.NotEmpty(t, j.Reasons, "what the plain form would break")
	v.Forms = v.Forms[:2]
	assert.Equal(t, exercise.Avoid, Judge(For(disc("subacute"), book, today), v).Verdict)
	assert.Equal(t, exercise.Suits, Judge(For(Client{}, book, today), v).Verdict)
}

func TestRedFlagsAndAge(t *testing.T) {
	for _, f := range RedFlags {
		s := For(Client{RedFlags: []string{f.ID}}, book, today)
		assert.Equal(t, Refer, s.Status, f.ID)
		assert.Contains(t, s.Refer[0].Text, "doctor")
	}
	for _, urgent := range []string{"saddle_numbness", "bladder_bowel_change", "sexual_dysfunction_new", "progressive_leg_weakness", "both_legs_symptoms", "chest_pain_on_effort"} {
		s := For(Client{RedFlags: []string{"pain_increasing", urgent}}, book, today)
		assert.True(t, s.Refer[0].Urgent, "the urgent one first")
		assert.Contains(t, s.Refer[0].Text, "today")
		assert.False(t, s.Refer[1].Urgent)
	}
	assert.Equal(t, Refer, For(Client{BirthYear: 2011}, book, today).Status)
	assert.Equal(t, OK, For(Client{BirthYear: 2010}, book, today).Status)
	cleared := Client{RedFlags: []string{"fever_unwell"}, Clearances: []Clearance{{Rule: "red_flag.fever_unwell", By: "x", On: "2026-01-01"}}}
	assert.Equal(t, Refer, For(cleared, book, today).Status, "a clearance never removes a red flag")
}

func TestPainNow(t *testing.T) {
	for _, c := range []struct {
		now   int
		hours float64
		want  Irritability
	}{{0, 0, Calm}, {2, 24, Calm}, {3, 0, Irritable}, {5, 0, Irritable}, {6, 0, Flared}, {2, 25, Irritable}, {4, 30, Flared}} {
		s := For(Client{Pain: Pain{Now: whole(c.now), SettlesHours: &c.hours}}, book, today)
		assert.Equal(t, c.want, s.Irritability, "pain %d settling in %g h", c.now, c.hours)
		assert.Equal(t, c.want == Flared, find(s, "loaded", "any") != nil)
	}
}

func TestClientWideRules(t *testing.T) {
	off := false
	c := Client{Tolerates: Tolerates{Floor: &off, Kneeling: &off, WristLoad: &off}, Measures: []Measure{{ID: "lumbar_flexion_deg", Value: 30}, {ID: "thoracic_rotation_deg", Side: "right", Value: 20}}}
	s := For(c, book, today)
	assert.NotNil(t, find(s, "floor_transfer", "any"))
	assert.NotNil(t, find(s, "kneeling", "any"))
	assert.Equal(t, 27.0, find(s, "lumbar_flexion", "any").Max, "nine tenths of the measurement")
	assert.Equal(t, 18.0, find(s, "thoracic_rotation_right", "any").Max)
	assert.Nil(t, find(s, "thoracic_rotation_left", "any"))
	c.Measures = append(c.Measures, Measure{ID: "lumbar_flexion_deg", Value: 50}, Measure{ID: "breath_seconds", Value: 5})
	s = For(c, book, today)
	assert.Equal(t, 45.0, find(s, "lumbar_flexion", "any").Max, "the later measurement holds")
	assert.Equal(t, For(c, book, today), s, "the same every time")
	for _, d := range s.Defaults {
		assert.NotContains(t, d, "breath", "five seconds were measured")
	}
	c.Place = "bed"
	assert.Nil(t, find(For(c, book, today), "floor_transfer", "any"), "a bed is not the floor")

	d := disc("acute")
	d.Clearances = []Clearance{{Rule: "disc_sciatica.acute", By: "Dr A. Example", On: "2026-10-01"}}
	s = For(d, book, today)
	assert.Equal(t, 20.0, find(s, "lumbar_flexion", "any").Max, "the next strictest holds")
	assert.Len(t, s.Cleared, 1)
	d.Instructions = []Instruction{{Quantity: "lumbar_flexion", Max: 35, By: "surgeon"}}
	assert.Equal(t, 35.0, find(For(d, book, today), "lumbar_flexion", "any").Max, "a clinician's own figure overrides")

	risks := For(Client{HeightCM: 160, TallestHeightCM: 164, Conditions: []Condition{{ID: "osteoporosis", TScore: number(-2.5)}}}, book, today).Risks
	require.Len(t, risks, 2)
	assert.Contains(t, risks[0].Because, "osteoporosis", "WHO 1994 (from memory): −2.5 and below")
}

func TestRuleBookMistakes(t *testing.T) {
	for want, r := range map[string]Rule{
		"must begin with its condition": {ID: "x.y", Condition: "osteoporosis", Reason: "r", Source: "s"},
		"is not one of":                 {ID: "moon.y", Condition: "moon", Reason: "r", Source: "s"},
		"both are needed":               {ID: "osteoporosis.y", Condition: "osteoporosis"},
		"not a quantity with a figure":  {ID: "osteoporosis.y", Condition: "osteoporosis", Reason: "r", Source: "s", Limits: []RuleLimit{{Quantity: "lumbar_flex", Max: number(1)}}},
		"true-or-false":                 {ID: "osteoporosis.y", Condition: "osteoporosis", Reason: "r", Source: "s", Limits: []RuleLimit{{Quantity: "lumbar_flexion", Allowed: no()}}},
		"one of max, word and allowed":  {ID: "osteoporosis.y", Condition: "osteoporosis", Reason: "r", Source: "s", Limits: []RuleLimit{{Quantity: "head_lift"}}},
		"limits.when":                   {ID: "osteoporosis.y", Condition: "osteoporosis", Reason: "r", Source: "s", Limits: []RuleLimit{{Quantity: "lumbar_flexion", Max: number(1), When: "often"}}},
	} {
		assert.ErrorContains(t, Rules{r}.Check(), want)
	}
	assert.ErrorContains(t, append(book[:1:1], book[0]).Check(), "already taken")
}
