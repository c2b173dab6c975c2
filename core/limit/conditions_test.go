package limit

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
)

// sound is a description with one of everything, to be spoilt.
func sound() Description {
	return Description{
		ID:    "knot",
		Order: 9,
		Name:  "Knot",
		Fields: []Field{
			{ID: "side", Label: "Side", Kind: KindSide},
			{ID: "stage", Label: "Stage", Kind: KindChoice, Choices: []Choice{{"new", "new"}, {"old", "old"}}, Unknown: "new"},
			{
				ID:      "weeks",
				Label:   "Weeks",
				Kind:    KindFigure,
				Min:     number(0),
				Max:     number(99),
				Expects: "weeks",
			},
			{ID: "sore", Label: "Sore?", Kind: KindYesNo, Unknown: "true", Assumed: "Taken: {sore}."},
			{ID: "curves", Label: "Curves", Kind: KindCurves, Large: 40},
		},
		Facts: []Fact{
			{ID: "fresh", From: "weeks", Bands: []Band{{Under: number(6), Is: "true"}, {Is: "false"}}, Unknown: "true"},
			{ID: "bad", All: map[string]string{"sore": "true", "fresh": "true"}},
		},
		Contradictions: []Contradiction{{map[string]string{"bad": "true"}, "weeks", "no"}},
		Rules: []Rule{
			{
				ID:     "knot.bend",
				If:     map[string][]string{"stage": {"new"}},
				Unless: map[string][]string{"fresh": {"false"}},
				Reason: "Since {stage}.",
				Source: "s",
				Limits: []RuleLimit{
					{Quantity: "lumbar_flexion", Max: number(5), With: &With{"lumbar_rotation", 5}},
					{Quantity: "hip_flexion", Max: number(90), Sided: true},
					{
						Quantity: "thoracic_side_bend_{thoracic_concave}",
						Max:      number(5),
					},
					{Quantity: "prone", Allowed: no(), Needs: []string{"pillow"}},
					{Quantity: "spring_load", Word: "light"},
				},
			},
		},
	}
}

// TestDescriptionMistakes spoils a sound description in one place after the other: each
// mistake is refused with its place.
func TestDescriptionMistakes(t *testing.T) {
	d := sound()
	require.NoError(t, d.Check())
	limit := func(l RuleLimit) func(*Description) {
		return func(d *Description) { d.Rules[0].Limits = []RuleLimit{l} }
	}
	five := number(5)
	for name, c := range map[string]struct {
		spoil      func(*Description)
		path, want string
	}{
		"no name":                  {func(d *Description) { d.Name = "" }, "condition", "all needed"},
		"no order":                 {func(d *Description) { d.Order = 0 }, "condition", "all needed"},
		"a field without label":    {func(d *Description) { d.Fields[0].Label = "" }, "fields[0]", "both needed"},
		"a field twice":            {func(d *Description) { d.Fields[1].ID = "side" }, "fields[1].id", "already asked"},
		"a kind nobody knows":      {func(d *Description) { d.Fields[0].Kind = "mood" }, "fields[0].kind", "not one of"},
		"a choice without choices": {func(d *Description) { d.Fields[1].Choices = nil }, "fields[1].choices", "a choice has choices"},
		"choices without a choice": {func(d *Description) { d.Fields[0].Choices = []Choice{{"a", "a"}} }, "fields[0].choices",
			"nothing else"},
		"a choice taken as nothing": {func(d *Description) { d.Fields[1].Unknown = "" }, "fields[1].unknown", "needed"},
		"a figure without bounds":   {func(d *Description) { d.Fields[2].Max = nil }, "fields[2]", "min, max"},
		"a figure without words":    {func(d *Description) { d.Fields[2].Expects = "" }, "fields[2]", "expects"},
		"yes or no taken as maybe":  {func(d *Description) { d.Fields[3].Unknown = "maybe" }, "fields[3].unknown", "not true or false"},
		"yes or no taken as none":   {func(d *Description) { d.Fields[3].Unknown = "" }, "fields[3].unknown", "needed"},
		"taken as no fact":          {func(d *Description) { d.Fields[3].UnknownAs = "mood" }, "fields[3].unknown_as", "not a fact"},
		"assumed of no fact":        {func(d *Description) { d.Fields[3].Assumed = "{mood}" }, "fields[3].assumed", "{mood}"},
		"curves never large":        {func(d *Description) { d.Fields[4].Large = 0 }, "fields[4].large", "above 0"},
		"a fact that is a field":    {func(d *Description) { d.Facts[0].ID = "stage" }, "facts[0].id", "taken"},
		"a fact twice":              {func(d *Description) { d.Facts[1].ID = d.Facts[0].ID }, "facts[1].id", "taken"},
		"a fact without a name":     {func(d *Description) { d.Facts[1].ID = "" }, "facts[1].id", "empty"},
		"needs that is no aid": {limit(RuleLimit{Quantity: "prone", Allowed: no(), Needs: []string{"kneeling"}}),
			"rules[0].limits[0].needs[0]", "[pillow raised_seat fists support_hand]"},
		"a fact from nothing":       {func(d *Description) { d.Facts[0].From = "stage" }, "facts[0].from", "neither"},
		"a fact without unknown":    {func(d *Description) { d.Facts[0].Unknown = "" }, "facts[0]", "unknown"},
		"bands that leave some out": {func(d *Description) { d.Facts[0].Bands = d.Facts[0].Bands[:1] }, "facts[0].bands", "without bounds"},
		"all of a word never said":  {func(d *Description) { d.Facts[1].All["sore"] = "very" }, "facts[1].all", `never "very"`},
		"a contradiction of none": {func(d *Description) { d.Contradictions[0].If = map[string]string{"mood": "x"} },
			"contradictions[0].if", "not a fact"},
		"a contradiction nowhere": {func(d *Description) { d.Contradictions[0].Field = "mood" }, "contradictions[0].field",
			"not a field"},
		"becoming on no fact": {func(d *Description) { d.Becomes = &Becomes{"other", map[string]string{"mood": "x"}, "s"} },
			"becomes.if", "not a fact"},
		"a rule of another": {func(d *Description) { d.Rules[0].ID = "other.bend" }, "rules[0].id", "must begin with its " +
			"condition"},
		"a rule twice":        {func(d *Description) { d.Rules = append(d.Rules, d.Rules[0]) }, "rules[1].id", "already taken"},
		"no reason":           {func(d *Description) { d.Rules[0].Reason = "" }, "rules[0].reason", "both needed"},
		"no source":           {func(d *Description) { d.Rules[0].Source = "" }, "rules[0].reason", "both needed"},
		"a reason of no fact": {func(d *Description) { d.Rules[0].Reason = "{mood}" }, "rules[0].reason", "{mood}"},
		"if of no fact": {func(d *Description) { d.Rules[0].If = map[string][]string{"stagе": {"new"}} }, "rules[0].if",
			"not a fact"},
		"if of a word never said": {func(d *Description) { d.Rules[0].If = map[string][]string{"stage": {"acute"}} }, "rules[0].if",
			`never "acute"`},
		"if of no words": {func(d *Description) { d.Rules[0].If = map[string][]string{"stage": {}} }, "rules[0].if.stage",
			"at least one"},
		"unless of no fact": {func(d *Description) { d.Rules[0].Unless = map[string][]string{"mood": {"new"}} }, "rules[0].unless",
			"not a fact"},
		"a want nobody serves":  {func(d *Description) { d.Rules[0].Wants = []exercise.Purpose{"joy"} }, "rules[0].wants[0]", "joy"},
		"a manner nobody knows": {func(d *Description) { d.Rules[0].Manner = []string{"gently"} }, "rules[0].manner[0]", "gently"},
		"a cap of no count": {func(d *Description) { d.Rules[0].Session = []SessionCap{{Count: "smiles", Max: 3}} },
			"rules[0].session[0]", "smiles"},
		"a cap of nothing": {func(d *Description) { d.Rules[0].Session = []SessionCap{{Count: FlexionCycles}} },
			"rules[0].session[0]", "above 0"},
		"a rule of nothing": {func(d *Description) { d.Rules[0].Limits = nil }, "rules[0].id", "says nothing"},
		"limits that refer": {func(d *Description) { d.Rules[0].Refer = true }, "rules[0].refer", "no limits"},

		"a quantity nobody measures": {limit(RuleLimit{Quantity: "lumbar_flex", Max: five}), "rules[0].limits[0].quantity",
			"not a movement quantity"},
		"a side of no curve": {limit(RuleLimit{Quantity: "thoracic_side_bend_{stage}", Max: five}), "rules[0].limits[0].quantity",
			"not a side"},
		"a scope not measured": {limit(RuleLimit{Quantity: "hip_flexion", When: "loaded", Max: five}), "rules[0].limits[0].when",
			"not measured when"},
		"a scope nobody knows": {limit(RuleLimit{Quantity: "lumbar_flexion", When: "often", Max: five}), "rules[0].limits[0].when",
			"often"},
		"the neck under load": {limit(RuleLimit{Quantity: "cervical_flexion", When: "loaded", Max: five}),
			"rules[0].limits[0].when", "not measured when"},
		"sided without sides": {limit(RuleLimit{Quantity: "lumbar_flexion", Max: five, Sided: true}), "rules[0].limits[0].sided",
			"a side left open"},
		"sided with a side": {limit(RuleLimit{Quantity: "hip_flexion_left", Max: five, Sided: true}), "rules[0].limits[0].sided",
			"a side left open"},
		"no figure": {limit(RuleLimit{Quantity: "lumbar_flexion"}), "rules[0].limits[0].quantity", "exactly one"},
		"two figures": {limit(RuleLimit{Quantity: "prone", Max: five, Allowed: no()}), "rules[0].limits[0].quantity",
			"exactly one"},
		"a figure for a flag": {limit(RuleLimit{Quantity: "prone", Max: five}), "rules[0].limits[0].quantity", "cannot be 5"},
		"false for a figure": {limit(RuleLimit{Quantity: "lumbar_flexion", Allowed: no()}), "rules[0].limits[0].quantity",
			"cannot be false"},
		"a word nobody knows": {limit(RuleLimit{Quantity: "spring_load", Word: "gentle"}), "rules[0].limits[0].quantity",
			"not one of"},
		"the most of all words": {limit(RuleLimit{Quantity: "spring_load", Word: "heavy"}), "rules[0].limits[0].word",
			"limits nothing"},
		"allowed: true": {limit(RuleLimit{Quantity: "prone", Allowed: new(true)}), "rules[0].limits[0].allowed",
			"limits nothing"},
		"less than nothing": {limit(RuleLimit{Quantity: "lumbar_flexion", Max: number(-1)}), "rules[0].limits[0].max",
			"0 or more"},
		"needs that no form has": {limit(RuleLimit{Quantity: "prone", Allowed: no(), Needs: []string{"head_down"}}),
			"rules[0].limits[0].needs[0]", "not an aid"},
		"with of no angle": {limit(RuleLimit{Quantity: "lumbar_flexion", Max: five, With: &With{"wrist_load", 1}}),
			"rules[0].limits[0].with.quantity", "not known at each instant"},
		"with a slip": {limit(RuleLimit{Quantity: "lumbar_flexion", Max: five, With: &With{"lumbar_rotatoin", 1}}),
			"rules[0].limits[0].with.quantity", "not known at each instant"},
		"with under load": {limit(RuleLimit{Quantity: "lumbar_flexion", When: "loaded", Max: five,
			With: &With{"lumbar_rotation", 1}}), "rules[0].limits[0].with", "whenever it occurs"},
		"no angle with one": {limit(RuleLimit{Quantity: "wrist_load", Max: five, With: &With{"lumbar_rotation", 1}}),
			"rules[0].limits[0].with", "only an angle"},
		"a margin to what is not measured at rest": {limit(RuleLimit{Quantity: "lumbar_rotation", Max: five, Protects: true}),
			"rules[0].limits[0].protects", "measured at rest"},
		"a margin under load": {limit(RuleLimit{Quantity: "lumbar_flexion", When: "loaded", Max: five, Protects: true}),
			"rules[0].limits[0].protects", "at any time"},
		"segments of a hip": {limit(RuleLimit{Quantity: "hip_flexion", Max: five, Segments: true}),
			"rules[0].limits[0].segments", "range of the spine"},
		"segments without a figure": {limit(RuleLimit{Quantity: "lumbar_flexion", Segments: true}),
			"rules[0].limits[0].segments", "expected a figure"},
		"weeks since nothing": {limit(RuleLimit{Quantity: "lumbar_flexion", Weeks: &Phased{First: 5, Free: 10}}),
			"rules[0].limits[0].weeks", "is of an operation"},
		"with less than nothing": {limit(RuleLimit{Quantity: "lumbar_flexion", Max: five, With: &With{"lumbar_rotation", -1}}),
			"rules[0].limits[0].with.over", "0 or more"},
	} {
		d := sound()
		c.spoil(&d)
		err := d.Check()
		var m *Mistake
		if assert.ErrorAs(t, err, &m, name) {
			assert.Equal(t, c.path, m.Path, name)
			assert.Contains(t, m.Want, c.want, name)
		}
	}
	for name, allow := range map[string]func(*Description){
		"curves large from anything above 0": func(d *Description) { d.Fields[4].Large = 0.5 },
		"a limit and a want":                 func(d *Description) { d.Rules[0].Wants = []exercise.Purpose{"balance"} },
		"two wants alone": func(d *Description) {
			d.Rules[0].Limits, d.Rules[0].Wants = nil,
				[]exercise.Purpose{"balance", "gait"}
		},
		"a limit and a manner": func(d *Description) {
			d.Rules[0].Limits, d.Rules[0].Manner = d.Rules[0].Limits[:1],
				Manners[:1]
		},
		"a cap and a want": func(d *Description) {
			d.Rules[0].Limits, d.Rules[0].Session, d.Rules[0].Wants = nil, []SessionCap{{Count: FlexionCycles, Max: 3}},
				[]exercise.Purpose{"gait"}
		},
		"a limit and a cap": func(d *Description) {
			d.Rules[0].Limits, d.Rules[0].Session = d.Rules[0].Limits[:1], []SessionCap{{Count: FlexionCycles, Max: 3}}
		},
		"a manner alone": func(d *Description) { d.Rules[0].Limits, d.Rules[0].Manner = nil, Manners[:1] },
		"a cap alone": func(d *Description) {
			d.Rules[0].Limits, d.Rules[0].Session = nil, []SessionCap{{Count: FlexionCycles, Max: 0.5}}
		},
		"a referral alone":       func(d *Description) { d.Rules[0].Limits, d.Rules[0].Refer = nil, true },
		"a most of nothing":      limit(RuleLimit{Quantity: "lumbar_flexion", Max: number(0)}),
		"with over nothing":      limit(RuleLimit{Quantity: "lumbar_flexion", Max: five, With: &With{"lumbar_rotation", 0}}),
		"the least of all words": limit(RuleLimit{Quantity: "spring_load", Word: "none"}),
	} {
		d := sound()
		allow(&d)
		assert.NoError(t, d.Check(), name)
	}
	for name, spoil := range map[string]func(*Description){
		"a referral with a cap": func(d *Description) {
			d.Rules[0].Limits, d.Rules[0].Refer, d.Rules[0].Session = nil, true, []SessionCap{{Count: FlexionCycles, Max: 3}}
		},
		"a referral with a limit": func(d *Description) { d.Rules[0].Refer, d.Rules[0].Limits = true, d.Rules[0].Limits[:1] },
	} {
		d := sound()
		spoil(&d)
		assert.ErrorContains(t, d.Check(), "sets no limits", name)
	}
	sideless := sound()
	sideless.Fields = sideless.Fields[1:]
	assert.ErrorContains(t, sideless.Check(), "asks for no side")
}

func TestBookMistakes(t *testing.T) {
	one, other := sound(), sound()
	_, err := Conditions{one, other}.Check()
	assert.ErrorContains(t, err, "described twice")
	other.ID, other.Rules = "tangle", nil
	i, err := Conditions{one, other}.Check()
	assert.ErrorContains(t, err, "9 is taken by knot")
	assert.Equal(t, 1, i)
	other.Order = 10
	other.Becomes = &Becomes{Condition: "nothing", If: map[string]string{"stage": "new"}}
	_, err = Conditions{one, other}.Check()
	assert.ErrorContains(t, err, `becomes.condition: there is no "nothing"`)
	other.Becomes.Condition = "knot"
	i, err = Conditions{one, other}.Check()
	assert.NoError(t, err)
	assert.Equal(t, -1, i)
	assert.Nil(t, Conditions{one}.Condition("tangle"))
	assert.Nil(t, Conditions{one}.Rule("knot.tie"))
	assert.Equal(t, "knot.bend", Conditions{other, one}.Rule("knot.bend").ID)
}

// TestAnswersAreHeldAgainstTheirFields has one wrong answer of every kind.
func TestAnswersAreHeldAgainstTheirFields(t *testing.T) {
	b := Conditions{
		sound(),
		{
			ID:     "press",
			Order:  1,
			Name:   "Press",
			Fields: []Field{{ID: "reading", Label: "R", Kind: KindPressure}, {ID: "levels", Label: "L", Kind: KindLevels}},
		},
	}
	of := func(id, field string, answer any) *Mistake {
		return b.CheckClient(Client{Conditions: []Condition{Condition{ID: id}.With(field, answer)}}, today)
	}
	for _, good := range []*Mistake{of("knot", "side", "both"), of("knot", "stage", "old"), of("knot", "weeks", 0),
		of("knot", "weeks", 99), of("knot", "sore", false), of("press", "reading", "120/80"),
		of("press", "levels", "L4-S1"), of("knot", "curves", []Curve{{"lumbar", "left", 0}, {"thoracic", "right", 150}})} {
		if good != nil && good.Path != "conditions[0].weeks" { // sore and fresh contradicts, see below
			assert.Nil(t, good)
		}
	}
	for path, m := range map[string]*Mistake{
		"conditions[0].side": of("knot", "side", "up"), "conditions[0].stage": of("knot", "stage", 3),
		"conditions[0].weeks": of("knot", "weeks", 100),
		"conditions[0].sore":  of("knot", "sore", "yes"), "conditions[0].reading": of("press", "reading", 120),
		"conditions[0].levels":             of("press", "levels", "waist"),
		"conditions[0].curves":             of("knot", "curves", "left"),
		"conditions[0].curves[0].convex":   of("knot", "curves", []Curve{{"lumbar", "up", 1}}),
		"conditions[0].curves[0].region":   of("knot", "curves", []Curve{{"waist", "left", 1}}),
		"conditions[0].curves[0].cobb_deg": of("knot", "curves", []Curve{{"lumbar", "left", 151}}),
		"conditions[0].curves[1].region":   of("knot", "curves", []Curve{{"lumbar", "left", 1}, {"lumbar", "left", 1}}),
		"conditions[0].mood":               of("knot", "mood", "x"), "conditions[0].id": of("tangle", "side", "left"),
	} {
		if assert.NotNil(t, m, path) {
			assert.Equal(t, path, m.Path)
			assert.NotEmpty(t, m.Want)
		}
	}
	assert.Equal(t, &Mistake{"conditions[0].weeks", "no"}, of("knot", "weeks", 3), "it contradicts what is taken of the rest")
	twice := b.CheckClient(Client{Conditions: []Condition{{ID: "press"}, {ID: "press"}}}, today)
	assert.Equal(t, "conditions[1].id", twice.Path)
}
