package limit

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/civil"
	"restbend/core/exercise"
)

var today = civil.Date(2026, 11, 24)

func number(v float64) *float64 { return &v }
func whole(v int) *int          { return &v }

func no() *bool { b := false; return &b }

// conditions are a few of its own, so that this package is tested without the library.
var conditions = Conditions{
	{ID: "disc_sciatica", Order: 1, Name: "Disc", Fields: []Field{
		{
			ID:      "stage",
			Label:   "Stage",
			Kind:    KindChoice,
			Choices: []Choice{{"acute", "acute"}, {"subacute", "subacute"}},
			Unknown: "acute",
			Assumed: "The stage is taken as {stage}.",
			Says:    map[string]string{"any": ", {}"},
		},
		{ID: "side", Label: "Side", Kind: KindSide},
		{ID: "eases", Label: "Eased by", Kind: KindChoice, Choices: []Choice{{"flexion", "f"}, {"extension", "e"}}, Unknown: "unknown"},
		{ID: "leg_symptoms", Label: "Leg", Kind: KindYesNo, Unknown: "true"},
	}, Rules: []Rule{
		{ID: "disc_sciatica.flexion", Bar: true, Unless: map[string][]string{"eases": {"flexion"}},
			Limits: []RuleLimit{{Quantity: "lumbar_flexion", Max: number(20)}}, Reason: "a", Source: "s"},
		{
			ID: "disc_sciatica.acute",
			If: map[string][]string{"stage": {"acute"}},
			Limits: []RuleLimit{
				{Quantity: "lumbar_flexion", Max: number(10)},
				{Quantity: "lumbar_moment", Max: number(0.04)},
			},
			Reason: "b",
			Source: "s",
		},
		{
			ID:     "disc_sciatica.with",
			Limits: []RuleLimit{{Quantity: "lumbar_flexion", Max: number(5), With: &With{"lumbar_rotation", 5}}},
			Reason: "c",
			Source: "s",
		},
		{ID: "disc_sciatica.nerve", If: map[string][]string{"leg_symptoms": {"true"}},
			Limits: []RuleLimit{{Quantity: "straight_leg_raise", Max: number(45), Sided: true}}, Reason: "d", Source: "s"},
	}},
	{
		ID:     "osteoporosis",
		Order:  2,
		Name:   "Bone",
		Fields: []Field{tScore, {ID: "vertebral_fracture", Label: "Fracture", Kind: KindYesNo, Unknown: "true"}},
		Rules: []Rule{
			{
				ID:      "osteoporosis.head",
				Limits:  []RuleLimit{{Quantity: "head_lift", Allowed: no()}, {Quantity: "spring_load", Word: "light"}},
				Wants:   []exercise.Purpose{"balance"},
				Session: []SessionCap{{Count: FlexionCycles, Max: 20}},
				Reason:  "e",
				Source:  "s",
			},
			{
				ID:     "osteoporosis.fracture",
				If:     map[string][]string{"vertebral_fracture": {"true"}},
				Limits: []RuleLimit{{Quantity: "floor_sit", Allowed: no()}},
				Reason: "e",
				Source: "s",
			},
			{
				ID:     "osteoporosis.loaded",
				Limits: []RuleLimit{{Quantity: "thoracic_flexion", When: "loaded", Max: number(10)}},
				Reason: "f",
				Source: "s",
			},
		},
	},
	{ID: "osteopenia", Order: 3, Name: "Low bone", Fields: []Field{tScore},
		Facts:   []Fact{{ID: "fragile", From: "t_score", Bands: []Band{{To: number(-2.5), Is: "true"}, {Is: "false"}}, Unknown: "false"}},
		Becomes: &Becomes{"osteoporosis", map[string]string{"fragile": "true"}, "It is treated as osteoporosis."}},
	{
		ID:    "extension_sensitive",
		Order: 4,
		Name:  "Back",
		Rules: []Rule{
			{
				ID:     "extension_sensitive.prone",
				Limits: []RuleLimit{{Quantity: "prone", Allowed: no(), Needs: []string{"pillow"}}},
				Reason: "g",
				Source: "s",
			},
		},
	},
	{
		ID:    "raised_blood_pressure",
		Order: 5,
		Name:  "Pressure",
		Fields: []Field{
			{ID: "reading", Label: "Reading", Kind: KindPressure},
			{ID: "controlled", Label: "Controlled", Kind: KindYesNo, Unknown: "false"},
		},
		Facts: []Fact{{ID: "calm", All: map[string]string{"controlled": "true", "reading_taken": "true"}}},
		Rules: []Rule{
			{
				ID:     "raised_blood_pressure.today",
				Refer:  true,
				If:     map[string][]string{"reading_level": {"very_high"}},
				Reason: "{reading} is too high.",
				Source: "s",
			},
			{
				ID:     "raised_blood_pressure.pace",
				Manner: []string{"even_rest"},
				If:     map[string][]string{"calm": {"false"}},
				Reason: "h",
				Source: "s",
			},
		},
	},
	{
		ID:    "scoliosis",
		Order: 6,
		Name:  "Curve",
		Fields: []Field{
			{ID: "curves", Label: "Curves", Kind: KindCurves, Large: 40, Says: map[string]string{"thoracic": ", upper to the {}"}},
		},
		Rules: []Rule{
			{
				ID:     "scoliosis.large",
				If:     map[string][]string{"large": {"true"}, "thoracic_convex": {"left", "right"}},
				Reason: "i",
				Source: "s",
				Limits: []RuleLimit{
					{Quantity: "thoracic_side_bend_{thoracic_concave}", Max: number(10)},
					{Quantity: "thoracic_rotation_{thoracic_convex}", Max: number(9)},
				},
			},
		},
	},
	{
		ID:    "spinal_fusion",
		Order: 7,
		Name:  "Fusion",
		Fields: []Field{{ID: "levels", Label: "Levels", Kind: KindLevels, Says: map[string]string{"any": ", {}"}},
			{ID: "months_since", Label: "Months", Kind: KindFigure, Min: number(0), Max: number(1200), Expects: "months"}},
		Facts: []Fact{
			{ID: "recent", From: "months_since", Bands: []Band{{Under: number(3), Is: "true"}, {Is: "false"}}, Unknown: "true"},
		},
		Contradictions: []Contradiction{{map[string]string{"recent": "true", "cervical": "true"}, "levels", "cannot be"}},
		Rules: []Rule{
			{
				ID:     "spinal_fusion.low",
				If:     map[string][]string{"lumbar": {"true"}},
				Limits: []RuleLimit{{Quantity: "lumbar_flexion", Max: number(8)}},
				Reason: "j",
				Source: "s",
			},
		},
	},
	{
		ID:    "shoulder_pain",
		Order: 8,
		Name:  "Shoulder",
		Fields: []Field{
			{ID: "side", Label: "Side", Kind: KindSide},
			{ID: "rest_pain", Label: "Rest", Kind: KindYesNo, UnknownAs: "sore", Assumed: "Taken as {sore}."},
		},
		Facts: []Fact{{ID: "sore", From: "pain_now", Bands: []Band{{Under: number(3), Is: "false"}, {Is: "true"}}, Unknown: "true"}},
		Rules: []Rule{
			{
				ID:     "shoulder_pain.rest",
				If:     map[string][]string{"rest_pain": {"true"}},
				Limits: []RuleLimit{{Quantity: "wrist_load", Max: number(0.2), Sided: true}},
				Reason: "k",
				Source: "s",
			},
		},
	},
}

var tScore = Field{ID: "t_score", Label: "T", Kind: KindFigure, Min: number(-8), Max: number(5), Expects: "a score"}

func find(s Limits, quantity, when string) *Limit {
	for l := range s.Rows() {
		if l.Quantity == quantity && l.When == exercise.Scope(when) && l.With == nil {
			return &l
		}
	}
	return nil
}

func disc(stage string) Client {
	return Client{
		HeightCM:   170,
		MassKG:     70,
		Conditions: []Condition{Condition{ID: "disc_sciatica"}.With("stage", stage).With("side", "left")},
	}
}

func TestSafetyStrictestWinsAndAllReasonsStay(t *testing.T) {
	_, err := conditions.Check()
	require.NoError(t, err)
	l := find(For(disc("acute"), conditions, today), "lumbar_flexion", "any")
	require.NotNil(t, l)
	assert.Equal(t, 10.0, l.Max)
	require.Len(t, l.Reasons, 2)
	assert.Equal(t, "disc_sciatica.flexion", l.Reasons[0].Rule)

	l = find(For(disc("subacute"), conditions, today), "lumbar_flexion", "any")
	assert.Equal(t, 20.0, l.Max)
	easing := disc("subacute")
	easing.Conditions[0] = easing.Conditions[0].With("eases", "flexion")
	assert.Nil(t, find(For(easing, conditions, today), "lumbar_flexion", "any"), "unless")
}

func TestSidesUnitsAndDefaults(t *testing.T) {
	s := For(disc("acute"), conditions, today)
	assert.NotNil(t, find(s, "straight_leg_raise_left", "any"))
	assert.Nil(t, find(s, "straight_leg_raise_right", "any"))
	assert.InDelta(t, 46.7, find(s, "lumbar_moment", "any").Max, 0.05, "0.04 × 70 kg × 9.81 × 1.70 m")
	blank := For(Client{Conditions: []Condition{{ID: "disc_sciatica"}}}, conditions, today)
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

// during is a body at rest but for what its spine does at each instant.
func during(moments ...exercise.Spine) exercise.Measured {
	m := exercise.AtRest()
	m.Moments = moments
	return m
}

func TestBreaks(t *testing.T) {
	acute := For(disc("acute"), conditions, today)
	for _, c := range []struct {
		name   string
		m      exercise.Measured
		breaks string // the rule, or none
	}{
		{"inside", exercise.AtRest().With("lumbar_flexion", 10).With("lumbar_moment", 0.04), ""},
		{"half a degree over", exercise.AtRest().With("lumbar_flexion", 10.5), ""},
		{"over", exercise.AtRest().With("lumbar_flexion", 10.6), "disc_sciatica.flexion"},
		{"moment over", exercise.AtRest().With("lumbar_moment", 0.0411), "disc_sciatica.acute"},
		{"other leg", exercise.AtRest().With("straight_leg_raise_right", 80), ""},
		{"painful leg", exercise.AtRest().With("straight_leg_raise_left", 46), "disc_sciatica.nerve"},
		{"round and turned at once", during(at("lumbar_flexion", "lumbar_rotation_right")), "disc_sciatica.with"},
		{"round, then turned", during(at("lumbar_flexion"), at("lumbar_rotation_right")), ""},
	} {
		broken := acute.Breaks(c.m)
		if c.breaks == "" {
			assert.Empty(t, broken, c.name)
			continue
		}
		require.NotEmpty(t, broken, c.name)
		assert.Equal(t, c.breaks, broken[0].Rule, c.name)
	}
	bone := For(Client{Conditions: []Condition{{ID: "osteoporosis"}}}, conditions, today)
	assert.NotEmpty(t, bone.Breaks(exercise.AtRest().With("head_lift", true)))
	assert.Empty(t, bone.Breaks(exercise.AtRest().With("spring_load", "light")))
	assert.NotEmpty(t, bone.Breaks(exercise.AtRest().With("spring_load", "heavy")))
	assert.Empty(t, bone.Breaks(exercise.AtRest().With("thoracic_flexion", 15)), "not loaded")
	assert.NotEmpty(t, bone.Breaks(exercise.AtRest().With("thoracic_flexion_loaded", 15)))
}

func TestJudgeTakesTheGentlestFormThatFits(t *testing.T) {
	form := func(flexion float64, id string) *exercise.Form {
		f := &exercise.Form{Measured: exercise.AtRest().With("lumbar_flexion", flexion)}
		if id != "" {
			f.Adaptations = []exercise.Adaptation{{ID: id}}
		}
		return f
	}
	v := &exercise.Variant{Forms: []*exercise.Form{form(30, ""), form(22, "a"), form(15, "b"), form(5, "c")}}
	j := Judge(For(disc("subacute"), conditions, today), v, Kit{})
	assert.Equal(t, exercise.Adapt, j.Verdict)
	assert.Equal(t, "b", j.Adaptations[0].ID)
	assert.NotEmpty(t, j.Reasons, "what the plain form would break")
	v.Forms = v.Forms[:2]
	assert.Equal(t, exercise.Avoid, Judge(For(disc("subacute"), conditions, today), v, Kit{}).Verdict)
	assert.Equal(t, exercise.Suits, Judge(For(Client{}, conditions, today), v, Kit{}).Verdict)
}

func TestSafetyRedFlagsAndAge(t *testing.T) {
	for _, f := range RedFlags {
		s := For(Client{RedFlags: []string{f.ID}}, conditions, today)
		assert.Equal(t, Refer, s.Status(), f.ID)
		assert.Regexp(t, "doctor|emergency", s.Refer()[0].Text)
	}
	for urgent, when := range map[string]string{"saddle_numbness": Now, "bladder_bowel_change": Now, "stroke_signs": Now,
		"chest_pain_at_rest": Now, "tearing_pain": Now, "sudden_worst_headache": Now,
		"neck_pain_with_head_signs": Now, "breathless_at_rest": Now, "sexual_dysfunction_new": SameDay,
		"progressive_leg_weakness": SameDay, "both_legs_symptoms": SameDay, "chest_pain_on_effort": SameDay,
		"new_foot_drop": SameDay, "hand_clumsiness_or_gait_change": SameDay, "calf_swollen_hot": SameDay, "fever_unwell": SameDay,
		"wound_leaking": SameDay, "limb_hot_red": SameDay, "new_fracture_suspected": SameDay} {
		s := For(Client{RedFlags: []string{"pain_increasing", urgent}}, conditions, today)
		assert.Equal(t, when, s.Refer()[0].When, "%s: the urgent one first", urgent)
		assert.True(t, s.Refer()[0].Urgent())
		assert.Contains(t, s.Refer()[0].Text, map[string]string{Now: "now", SameDay: "today"}[when])
		assert.Equal(t, BeforeNext, s.Refer()[1].When)
		assert.False(t, s.Refer()[1].Urgent())
	}
	for _, pair := range [][2]string{{"calf_swollen_hot", "breathless_at_rest"}, {"sexual_dysfunction_new", "saddle_numbness"},
		{"sexual_dysfunction_new", "bladder_bowel_change"}} {
		for _, why := range For(Client{RedFlags: pair[:]}, conditions, today).Refer() {
			assert.Equal(t, Now, why.When, "%v together", pair)
		}
	}
	assert.Equal(t, Refer, For(Client{BirthYear: 2011}, conditions, today).Status())
	assert.Equal(t, OK, For(Client{BirthYear: 2010}, conditions, today).Status())
	cleared := Client{
		RedFlags:   []string{"fever_unwell"},
		Clearances: []Clearance{{Rule: "red_flag.fever_unwell", By: "x", On: "2026-01-01"}},
	}
	assert.Equal(t, Refer, For(cleared, conditions, today).Status(), "a clearance never removes a red flag")
}

func TestPainNow(t *testing.T) {
	for _, c := range []struct {
		now   int
		hours float64
		want  Irritability
	}{{0, 0, Calm}, {2, 24, Calm}, {3, 0, Irritable}, {5, 0, Irritable}, {6, 0, Flared}, {2, 25, Irritable}, {4, 30, Flared}} {
		s := For(Client{Pain: Pain{Now: whole(c.now), SettlesHours: &c.hours}}, conditions, today)
		assert.Equal(t, c.want, s.Irritability, "pain %d settling in %g h", c.now, c.hours)
		assert.Equal(t, c.want == Flared, find(s, "loaded", "any") != nil)
	}
}

func TestClientWideRules(t *testing.T) {
	off := false
	c := Client{
		Tolerates: Tolerates{Floor: &off, Kneeling: &off, WristLoad: &off},
		Measures:  []Measure{{ID: "lumbar_flexion_deg", Value: 30}, {ID: "thoracic_rotation_deg", Side: "right", Value: 20}},
	}
	s := For(c, conditions, today)
	assert.NotNil(t, find(s, "floor_transfer", "any"))
	assert.NotNil(t, find(s, "kneeling", "any"))
	assert.Equal(t, 27.0, find(s, "lumbar_flexion", "any").Max, "nine tenths of the measurement")
	assert.Equal(t, 18.0, find(s, "thoracic_rotation_right", "any").Max)
	assert.Nil(t, find(s, "thoracic_rotation_left", "any"))
	c.Measures = append(c.Measures, Measure{ID: "lumbar_flexion_deg", Value: 50}, Measure{ID: "breath_seconds", Value: 5})
	s = For(c, conditions, today)
	assert.Equal(t, 45.0, find(s, "lumbar_flexion", "any").Max, "the later measurement holds")
	assert.Equal(t, For(c, conditions, today), s, "the same every time")
	for _, d := range s.Defaults {
		assert.NotContains(t, d, "breath", "five seconds were measured")
	}
	c.Place = "bed"
	assert.Nil(t, find(For(c, conditions, today), "floor_transfer", "any"), "a bed is not the floor")

	d := disc("acute")
	d.Clearances = []Clearance{{Rule: "disc_sciatica.acute", By: "Dr A. Example", On: "2026-10-01"}}
	s = For(d, conditions, today)
	assert.Equal(t, 20.0, find(s, "lumbar_flexion", "any").Max, "the next strictest holds")
	assert.Len(t, s.Cleared, 1)
	risks := For(
		Client{HeightCM: 160, TallestHeightCM: 164, Conditions: []Condition{Condition{ID: "osteoporosis"}.With("t_score", -2.5)}},
		conditions,
		today,
	).Risks
	require.Len(t, risks, 2)
	assert.Contains(t, risks[0].Because, "osteoporosis", "WHO 1994 (from memory): −2.5 and below")
}
