package limit

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
)

// asked is one condition that is asked about in every way there is.
var asked = Conditions{
	{
		ID:    "operation",
		Order: 1,
		Name:  "Operation",
		Fields: []Field{
			{ID: "kind", Kind: KindChoice, Choices: []Choice{{"open", "open"}, {"closed", "closed"}}, Unknown: "unknown"},
			{ID: "side", Kind: KindSide},
			{ID: "cleared", Kind: KindYesNo},
			{ID: "weeks_since", Kind: KindFigure, Since: "weeks", Expects: "weeks", Min: number(2), Max: number(500)},
			{ID: "levels", Kind: KindLevels},
			{ID: "reading", Kind: KindPressure},
			{ID: "curves", Kind: KindCurves},
		},
		Rules: []Rule{
			{ID: "operation.caps", Limits: []RuleLimit{{Quantity: "lumbar_flexion", Max: number(10)}}, Reason: "a", Source: "s"},
			{ID: "operation.refers", Refer: true, If: map[string][]string{"cleared": {"false"}}, Reason: "b", Source: "s"},
		},
		Contradictions: []Contradiction{
			{If: map[string]string{"kind": "closed", "side": "both"}, Field: "side", Says: "closed is never both"},
		},
	},
}

// TestWhatIsWrongWithAClientIsNamed with the field and what was expected of it.
func TestWhatIsWrongWithAClientIsNamed(t *testing.T) {
	k := Condition{ID: "operation"}
	curves := func(all ...Curve) Client {
		return Client{Conditions: []Condition{k.With("curves", all)}}
	}
	for _, w := range []struct {
		c          Client
		path, want string
	}{
		{Client{Conditions: []Condition{{ID: "lumbago"}}}, "conditions[0].id", "lumbago is not known; expected one of operation"},
		{Client{Conditions: []Condition{k, k}}, "conditions[1].id", "listed twice"},
		{Client{Conditions: []Condition{k.With("colour", "red")}}, "conditions[0].colour", "is not asked about operation; expected " +
			"kind, side"},
		{Client{Conditions: []Condition{k.With("kind", "ajar")}}, "conditions[0].kind", "ajar is not known; expected one of open, closed"},
		{Client{Conditions: []Condition{k.With("kind", true)}}, "conditions[0].kind", "expected one of open, closed"},
		{Client{Conditions: []Condition{k.With("side", "middle")}}, "conditions[0].side", "expected one of left, right"},
		{Client{Conditions: []Condition{k.With("cleared", "yes")}}, "conditions[0].cleared", "expected true or false, found yes"},
		{Client{Conditions: []Condition{k.With("weeks_since", 1.5)}}, "conditions[0].weeks_since", "expected weeks, from 2 to 500, " +
			"found 1.5"},
		{Client{Conditions: []Condition{k.With("weeks_since", 500.5)}}, "conditions[0].weeks_since", "from 2 to 500, found 500.5"},
		{Client{Conditions: []Condition{k.With("weeks_since", "six")}}, "conditions[0].weeks_since", "found six"},
		{Client{Conditions: []Condition{k.With(DateField, "2026-13-01")}}, "conditions[0]." + DateField, "YYYY-MM-DD"},
		{Client{Conditions: []Condition{k.With(DateField, today.AddDate(0, 0, 1).Format("2006-01-02"))}}, "conditions[0]." + DateField,
			"today or earlier"},
		{Client{Conditions: []Condition{k.With(DateField, "1899-12-31")}}, "conditions[0]." + DateField, "today or earlier"},
		{Client{Conditions: []Condition{k.With("levels", "L4-S9")}}, "conditions[0].levels", "expected levels such as L4-S1"},
		{Client{Conditions: []Condition{k.With("levels", 4)}}, "conditions[0].levels", "cannot be read"},
		{Client{Conditions: []Condition{k.With("reading", "80/120")}}, "conditions[0].reading", "expected a reading such as 128/78, " +
			"found 80/120"},
		{Client{Conditions: []Condition{k.With("reading", "high")}}, "conditions[0].reading", "found high"},
		{Client{Conditions: []Condition{k.With("curves", "one")}}, "conditions[0].curves", "expected a list of curves"},
		{curves(Curve{Region: "lower", Convex: "left"}), "conditions[0].curves[0].region", `"lower" is not one of`},
		{curves(Curve{Region: "lumbar", Convex: "left"}, Curve{Region: "lumbar", Convex: "right"}), "conditions[0].curves[1].region",
			"a second lumbar curve"},
		{curves(Curve{Region: "lumbar", Convex: "up"}), "conditions[0].curves[0].convex", `"up" is not left or right`},
		{curves(Curve{Region: "lumbar", Convex: "right", CobbDeg: -1}), "conditions[0].curves[0].cobb_deg", "from 0 to 150, found -1"},
		{curves(Curve{Region: "thoracic", Convex: "right"}, Curve{Region: "lumbar", Convex: "left", CobbDeg: 151}),
			"conditions[0].curves[1].cobb_deg", "found 151"},
		{Client{Conditions: []Condition{k.With("kind", "closed").With("side", "both")}}, "conditions[0].side", "closed is never both"},
		{Client{Clearances: []Clearance{{Rule: "operation.caps"}, {Rule: "operation.colour"}}}, "clearances[1].rule",
			"operation.colour is not a rule"},
		{Client{Clearances: []Clearance{{Rule: "operation.refers"}}}, "clearances[0].rule", "cannot be loosened"},
		{Client{Instructions: []Instruction{{Quantity: "lumbar_flexion"}, {Quantity: "courage"}}}, "instructions[1].quantity",
			"courage is not a movement quantity"},
		{Client{Instructions: []Instruction{{Quantity: "head_lift"}}}, "instructions[0].quantity", "head_lift is not a movement quantity"},
		{Client{Instructions: []Instruction{{Quantity: "spring_load"}}}, "instructions[0].quantity", "with a figure"},
	} {
		m := asked.CheckClient(w.c, today)
		if assert.NotNil(t, m, "%s: %s", w.path, w.want) {
			assert.Equal(t, w.path, m.Path)
			assert.Contains(t, m.Want, w.want)
		}
	}
	for _, q := range exercise.Registry {
		if q.Inner {
			assert.NotNil(t, asked.CheckClient(Client{Instructions: []Instruction{{Quantity: q.ID}}}, today), "%s is not published", q.ID)
		}
	}
	whole := k.With(
		"kind",
		"open",
	).With(
		"side",
		"both",
	).With(
		"cleared",
		true,
	).With(
		"weeks_since",
		2,
	).With(
		"levels",
		"L4-S1",
	).With(
		"reading",
		"128/78",
	).
		With(
			"curves",
			[]Curve{{Region: "thoracic", Convex: "left", CobbDeg: 150}, {Region: "lumbar", Convex: "right"}},
		)
	require.Nil(t,
		asked.CheckClient(
			Client{
				Conditions:   []Condition{whole},
				Clearances:   []Clearance{{Rule: "operation.caps"}},
				Instructions: []Instruction{{Quantity: "lumbar_flexion"}},
			},
			today,
		),
	)
	require.Nil(t, asked.CheckClient(Client{Conditions: []Condition{k.With("weeks_since", 500)}}, today))
	require.Nil(t,
		asked.CheckClient(Client{Conditions: []Condition{k.With("kind", "unknown").With(DateField, today.Format("2006-01-02"))}}, today),
	)
	require.Nil(t, asked.CheckClient(Client{Conditions: []Condition{k.With(DateField, "1900-01-01")}}, today))
}

// TestSafetyWhatFollowsAConditionNobodyKnows: the client is referred, and all that is known
// holds all the same.
func TestSafetyWhatFollowsAConditionNobodyKnows(t *testing.T) {
	s := For(Client{Conditions: []Condition{{ID: "lumbago"}, {ID: "osteoporosis"}}}, conditions, today)
	assert.Equal(t, Refer, s.Status())
	assert.NotEmpty(t, s.Breaks(exercise.AtRest().With("head_lift", true)), "the bone's rules stay")
}

// TestASizeThatIsHalfKnown is said to be assumed.
func TestASizeThatIsHalfKnown(t *testing.T) {
	for _, c := range []Client{{}, {MassKG: 60}, {HeightCM: 160}} {
		assert.Contains(t, For(c, conditions, today).Defaults, sizeAssumed)
	}
	assert.NotContains(t, For(Client{HeightCM: 160, MassKG: 60}, conditions, today).Defaults, sizeAssumed)
}

// TestRatiosOfHoldsOfOneSecond are ratios too.
func TestRatiosOfHoldsOfOneSecond(t *testing.T) {
	measures := func(left, right, back, front float64) (out []Measure) {
		return []Measure{
			{ID: "side_bridge_s", Side: "left", Value: left},
			{ID: "side_bridge_s", Side: "right", Value: right},
			{ID: "back_extensor_hold_s", Value: back},
			{ID: "trunk_flexor_hold_s", Value: front},
		}
	}
	level := func(ms []Measure, id string) string {
		for _, r := range For(Client{Measures: ms}, conditions, today).Risks {
			if r.ID == id {
				return r.Level
			}
		}
		return ""
	}
	assert.Equal(t, "raised", level(measures(1, 2, 1, 2), "front_to_back"))
	assert.Equal(t, "usual", level(measures(1, 1, 1, 1), "front_to_back"))
	assert.Equal(t, "raised", level(measures(1, 2, 1, 2), "side_bridge_balance"))
	assert.Equal(t, "usual", level(measures(1, 1, 1, 1), "side_bridge_balance"))
	assert.Equal(t, "raised", level(measures(1, 1, 1, 1), "side_to_back"))
	assert.Equal(t, "usual", level(measures(0.5, 0.5, 1, 1), "side_to_back"))
	said := map[string]string{}
	for _, r := range For(Client{Measures: measures(2, 2, 4, 3)}, conditions, today).Risks {
		said[r.ID] = r.Because
		assert.Equal(t, "usual", r.Level, "longer holds, the same ratios: %s", r.ID)
	}
	assert.Contains(t, said["side_bridge_balance"], "left 1.00")
	assert.Contains(t, said["front_to_back"], "back hold 0.75")
	assert.Contains(t, said["side_to_back"], "back hold 0.50")
	assert.Empty(t, level(measures(0, 1, 1, 1), "side_bridge_balance"), "nothing to divide by")
	assert.Empty(t, level(measures(1, 1, 0, 1), "front_to_back"))
}

// TestATestThatEndedHardCountsBesideOneThatDidNot.
func TestATestThatEndedHardCountsBesideOneThatDidNot(t *testing.T) {
	s := For(
		Client{
			Screens: []Screen{
				{ID: "half_squat", Finding: "able", Sensation: "none"},
				{ID: "forward_bend_ease", Finding: "stiff", Sensation: "stretch"},
				{ID: "backward_bend_ease", Finding: "painful", Sensation: "pinch"},
			},
		},
		conditions,
		today,
	)
	assert.NotEmpty(t, s.Breaks(exercise.AtRest().With("lumbar_extension", 13.1)), "half of the ordinary 25°")
	assert.Empty(t, s.Breaks(exercise.AtRest().With("lumbar_extension", 12.0)))
	assert.Empty(t, s.Breaks(exercise.AtRest().With("lumbar_flexion", 40.0)), "a stretch is no hard end")
}

// TestTasksAndHoursInWords.
func TestTasksAndHoursInWords(t *testing.T) {
	_, ok := FindTask("flying")
	assert.False(t, ok)
	task, ok := FindTask("stairs")
	assert.True(t, ok)
	assert.Equal(t, "stairs and kerbs", task.Words)
	for want, list := range map[string][]int{"3": {3}, "3 and 9": {3, 9}, "3, 9 and 12": {3, 9, 12}} {
		assert.Equal(t, want, hours(list))
	}
}
