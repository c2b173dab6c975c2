package limit

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
)

var body170 = size{170, 70}

func because(rule string) Reason { return Reason{Rule: rule, Text: rule, Source: "s"} }

// ofRow is a set of rows and nothing else.
func ofRow(rows ...Limit) Limits { return Limits{rows: merge(rows), HeightCM: 170, MassKG: 70} }

// TestSafetyWhatIsNotKnownBreaks: a name or a value that nothing knows, which is refused at
// load, would still bar rather than let pass.
func TestSafetyWhatIsNotKnownBreaks(t *testing.T) {
	still := exercise.AtRest()
	for name, l := range map[string]Limit{
		"a quantity nobody knows":         body170.row("courage", exercise.WhenAny, 10.0, because("r")),
		"a scope it is not measured in":   body170.row("hip_flexion", exercise.WhenLoaded, 10.0, because("r")),
		"a side where there is none":      body170.row("lumbar_flexion_left", exercise.WhenAny, 10.0, because("r")),
		"a number for a flag":             body170.row("head_lift", exercise.WhenAny, 1.0, because("r")),
		"false for a number":              body170.row("lumbar_flexion", exercise.WhenAny, false, because("r")),
		"a word that is not in its order": body170.row("spring_load", exercise.WhenAny, "gentle", because("r")),
		"no figure at all":                body170.row("lumbar_flexion", exercise.WhenAny, math.NaN(), because("r")),
	} {
		assert.NotEmpty(t, ofRow(l).Breaks(still), name)
	}
	with := body170.row("lumbar_flexion", exercise.WhenAny, 5.0, because("r"))
	with.With = &With{"courage", 5}
	assert.NotEmpty(t, ofRow(with).Breaks(during(at("lumbar_flexion"))), "a companion nobody knows is always there")
	assert.Empty(t, ofRow(with).Breaks(still))

	stranger := For(Client{Conditions: []Condition{{ID: "lumbago"}}}, conditions, today)
	assert.Equal(t, Refer, stranger.Status(), "an unknown condition")
	assert.Contains(t, stranger.Refer()[0].Text, "lumbago")
	assert.NotEmpty(t,
		ofRow(body170.row("prone", exercise.WhenAny, false, because("r"))).Breaks(exercise.Measured{}),
		"nothing was measured",
	)
}

// TestSafetyMergeInItsOrderOfPrecedence goes through the order that merge is written down
// with.
func TestSafetyMergeInItsOrderOfPrecedence(t *testing.T) {
	always := exercise.WhenAny
	of := func(q string, when exercise.Scope, v any, rule string) Limit {
		return body170.row(q, when, v, because(rule))
	}
	t.Run("the strictest of one kind wins, in either order, and all reasons stay", func(t *testing.T) {
		for _, order := range [][]float64{{20, 10, 15}, {10, 20, 15}, {15, 20, 10}} {
			var rows []Limit
			for _, v := range order {
				rows = append(rows, of("lumbar_flexion", always, v, "r"))
			}
			rows = merge(rows)
			require.Len(t, rows, 1)
			assert.Equal(t, 10.0, rows[0].Max)
			assert.Len(t, rows[0].Reasons, 3)
			assert.NotEmpty(t, ofRow(rows...).Breaks(exercise.AtRest().With("lumbar_flexion", 11)))
			assert.Empty(t, ofRow(rows...).Breaks(exercise.AtRest().With("lumbar_flexion", 10)))
		}
		words := merge(
			[]Limit{
				of("spring_load", always, "moderate", "a"),
				of("spring_load", always, "light", "b"),
				of("spring_load", always, "moderate", "c"),
			},
		)
		assert.Equal(t, "light", words[0].Max)
	})
	t.Run("what cannot be compared is the strictest", func(t *testing.T) {
		rows := merge([]Limit{of("lumbar_flexion", always, 10.0, "a"), of("lumbar_flexion", always, false, "slip")})
		assert.NotEmpty(t, ofRow(rows...).Breaks(exercise.AtRest()))
	})
	t.Run("a bar among caps makes a bar", func(t *testing.T) {
		shut := of("lumbar_flexion", always, 20.0, "a")
		shut.Bar = true
		assert.True(t, merge([]Limit{of("lumbar_flexion", always, 10.0, "b"), shut})[0].Bar)
	})
	t.Run("scopes, sides, companions and aids stand beside one another", func(t *testing.T) {
		with, other, aided := of(
			"lumbar_flexion",
			always,
			5.0,
			"c",
		), of(
			"lumbar_flexion",
			always,
			5.0,
			"d",
		), of(
			"prone",
			always,
			false,
			"e",
		)
		with.With, other.With, aided.Needs = &With{"lumbar_rotation", 5}, &With{"lumbar_rotation", 9}, []string{"pillow"}
		assert.Len(t,
			merge([]Limit{
				of("lumbar_flexion", always, 20.0, "a"),
				of("lumbar_flexion", exercise.WhenLoaded, 10.0, "b"),
				with,
				other,
				aided,
				of(
					"prone",
					always,
					false,
					"f",
				),
				of("hip_flexion_left", always, 90.0, "g"),
				of("hip_flexion_right", always, 90.0, "h"),
				of("hip_flexion", always, 90.0, "i"),
			}),
			9,
		)
		set := ofRow(aided, of("prone", always, false, "f"))
		assert.Len(t,
			set.Breaks(exercise.AtRest().With("prone", true).With("pillow", true)),
			1,
			"a pillow helps one row and not the other",
		)
		assert.Len(t, set.Breaks(exercise.AtRest().With("prone", true)), 2)
	})
	t.Run("merging leaves its sources as they were", func(t *testing.T) {
		rows := []Limit{of("lumbar_flexion", always, 20.0, "a"), of("lumbar_flexion", always, 10.0, "b")}
		merge(rows)
		assert.Equal(t, 20.0, rows[0].Max)
		assert.Len(t, rows[0].Reasons, 1)
	})
	t.Run("they come by quantity and scope", func(t *testing.T) {
		rows := merge(
			[]Limit{
				of("prone", always, false, "a"),
				of("lumbar_flexion", exercise.WhenLoaded, 1.0, "b"),
				of("lumbar_flexion", always, 2.0, "c"),
			},
		)
		assert.Equal(t,
			[]string{"lumbar_flexion", "lumbar_flexion", "prone"},
			[]string{rows[0].Quantity, rows[1].Quantity, rows[2].Quantity},
		)
		assert.Equal(t, always, rows[0].When)
	})
}

// TestSafetyInstructionsOnlyTighten: a clinician's figure counts where it is stricter; where
// it is looser the usual caution stays and is said; rows under load stay either way.
func TestSafetyInstructionsOnlyTighten(t *testing.T) {
	instructed := func(quantity string, most float64) Limits {
		d := disc("subacute")
		d.Conditions = append(d.Conditions, Condition{ID: "osteoporosis"})
		d.Instructions = []Instruction{{Quantity: quantity, Max: most, By: "the surgeon", On: "2026-10-01"}}
		return For(d, conditions, today)
	}
	tight := instructed("lumbar_flexion", 12)
	assert.Equal(t, 12.0, find(tight, "lumbar_flexion", "any").Max)
	assert.Contains(t, find(tight, "lumbar_flexion", "any").Reasons[1].Text, "Instruction of the surgeon, 2026-10-01.")
	loose := instructed("lumbar_flexion", 35)
	assert.Equal(t, 20.0, find(loose, "lumbar_flexion", "any").Max)
	assert.Contains(t, loose.Defaults[len(loose.Defaults)-1], "allows more (35) than the usual caution (20)")
	assert.NotContains(t, tight.Defaults, loose.Defaults[len(loose.Defaults)-1])

	flat := instructed("thoracic_flexion", 26)
	assert.Equal(t, 26.0, find(flat, "thoracic_flexion", "any").Max, "there was no row of that kind")
	assert.Equal(t, 10.0, find(flat, "thoracic_flexion", "loaded").Max, "the stricter loaded row stays")
	turned := instructed("lumbar_rotation", 4)
	assert.Equal(t, 4.0, find(turned, "lumbar_rotation_left", "any").Max, "both ways")
	assert.Equal(t, 4.0, find(turned, "lumbar_rotation_right", "any").Max)
	assert.NotEmpty(t, turned.Breaks(exercise.AtRest().With("lumbar_rotation_right", 5)))
	leg := instructed("hip_flexion", 80)
	assert.NotEmpty(t, leg.Breaks(exercise.AtRest().With("hip_flexion_right", 85)))
	assert.Empty(t, leg.Breaks(exercise.AtRest().With("hip_flexion", 80)))
	moment := instructed("lumbar_moment", 35)
	assert.Equal(t, 35.0, find(moment, "lumbar_moment", "any").Max, "in newton metres")
	assert.Empty(t, moment.Breaks(exercise.AtRest().With("lumbar_moment", 0.0299)), "0.0299 × 70 kg × 9.81 × 1.70 m = 34.9 N·m")
	assert.NotEmpty(t, moment.Breaks(exercise.AtRest().With("lumbar_moment", 0.0302)), "35.3 N·m")
	assert.NotEmpty(t, instructed("courage", 3).Breaks(exercise.AtRest()), "of nothing: nobody passes")
	same := instructed("lumbar_flexion", 20)
	assert.NotContains(t, strings.Join(same.Defaults, " "), "allows more", "just as much is not more")
	nameless := disc("acute")
	nameless.Instructions = []Instruction{{Quantity: "lumbar_flexion", Max: 5}}
	assert.Equal(t, "Instruction of the clinician, .", find(For(nameless, conditions, today), "lumbar_flexion", "any").Reasons[2].Text)
}

// TestSafetyAClearanceLoosensWhatItNamesAndNothingElse.
func TestSafetyAClearanceLoosensWhatItNamesAndNothingElse(t *testing.T) {
	bone := Client{Conditions: []Condition{{ID: "osteoporosis"}, Condition{ID: "raised_blood_pressure"}.With("reading", "185/95")}}
	before := For(bone, conditions, today)
	bone.Clearances = []Clearance{
		{Rule: "osteoporosis.head", By: "Dr A. Example", On: "2026-10-01"},
		{Rule: "raised_blood_pressure.today"},
		{Rule: "pain.flared"},
	}
	after := For(bone, conditions, today)
	assert.NotNil(t, find(before, "head_lift", "any"))
	assert.Nil(t, find(after, "head_lift", "any"))
	assert.Nil(t, find(after, "spring_load", "any"))
	assert.NotNil(t, find(after, "thoracic_flexion", "loaded"), "another rule of the same condition stays")
	assert.Len(t, after.Session(), len(before.Session())-1, "and so goes what it set for a session")
	assert.Equal(t, before.Needs, after.Needs, "what is wanted is no limit and stays")
	assert.Equal(t, Refer, after.Status(), "what refers is not loosened")
	assert.Equal(t, []Clearance{bone.Clearances[0]}, after.Cleared, "and is not said to be")
	assert.True(t, after.EvenRest)
	bone.Clearances = []Clearance{{Rule: "raised_blood_pressure.pace"}}
	assert.False(t, For(bone, conditions, today).EvenRest)
}

// TestASetIsNotChangedByWhoReadsIt.
func TestASetIsNotChangedByWhoReadsIt(t *testing.T) {
	bone := Client{RedFlags: []string{"fever_unwell"}, Conditions: []Condition{{ID: "osteoporosis"}}}
	set := For(bone, conditions, today)
	for l := range set.Rows() {
		l.Max, l.most = 1000.0, 1000
	}
	set.Session()[0].Max = 1000
	set.Refer()[0].Text = ""
	assert.Equal(t, For(bone, conditions, today), set)
	n := 0
	for range set.Rows() {
		n++
		break
	}
	assert.Equal(t, 1, n)
}

func TestFactsFollowFromAnswers(t *testing.T) {
	facts := func(k Condition, c Client) map[string]string {
		out, _ := conditions.Condition(k.ID).FactsOf(k, c, today)
		return out
	}
	of := func(id string) Condition { return Condition{ID: id} }
	for name, c := range map[string]struct {
		k    Condition
		c    Client
		fact string
		is   string
	}{
		"said":                     {of("disc_sciatica").With("stage", "subacute"), Client{}, "stage", "subacute"},
		"not said":                 {of("disc_sciatica"), Client{}, "stage", "acute"},
		"yes":                      {of("disc_sciatica").With("leg_symptoms", true), Client{}, "leg_symptoms", "true"},
		"no":                       {of("disc_sciatica").With("leg_symptoms", false), Client{}, "leg_symptoms", "false"},
		"unsaid yes":               {of("disc_sciatica"), Client{}, "leg_symptoms", "true"},
		"strict":                   {of("disc_sciatica"), Client{Strict: true}, "strict", "true"},
		"a band to its bound":      {of("osteopenia").With("t_score", -2.5), Client{}, "fragile", "true"},
		"just beyond it":           {of("osteopenia").With("t_score", -2.4), Client{}, "fragile", "false"},
		"a band under its bound":   {of("spinal_fusion").With("months_since", 2.9), Client{}, "recent", "true"},
		"at it":                    {of("spinal_fusion").With("months_since", 3), Client{}, "recent", "false"},
		"no figure":                {of("spinal_fusion"), Client{}, "recent", "true"},
		"of the client":            {of("shoulder_pain"), Client{Pain: Pain{Now: whole(2)}}, "rest_pain", "false"},
		"of the client, sore":      {of("shoulder_pain"), Client{Pain: Pain{Now: whole(3)}}, "rest_pain", "true"},
		"of the client, not asked": {of("shoulder_pain"), Client{}, "rest_pain", "true"},
		"its own answer first":     {of("shoulder_pain").With("rest_pain", false), Client{Pain: Pain{Now: whole(9)}}, "rest_pain", "false"},
		"all of them": {of("raised_blood_pressure").With("controlled", true).With("reading", "120/80"), Client{}, "calm",
			"true"},
		"not all of them": {of("raised_blood_pressure").With("controlled", true), Client{}, "calm", "false"},
		"the client's own reading": {of("raised_blood_pressure").With("controlled", true), Client{RestingPressure: "120/80"}, "calm",
			"true"},
		"no reading": {of("raised_blood_pressure").With("reading", "high"), Client{}, "reading_level", "unknown"},
		"convex": {of("scoliosis").With("curves", []Curve{{"thoracic", "right", 40}}), Client{}, "thoracic_convex",
			"right"},
		"concave": {of("scoliosis").With("curves", []Curve{{"thoracic", "right", 40}}), Client{}, "thoracic_concave",
			"left"},
		"large":                  {of("scoliosis").With("curves", []Curve{{"thoracic", "right", 40}}), Client{}, "large", "true"},
		"not large":              {of("scoliosis").With("curves", []Curve{{"thoracic", "right", 39}}), Client{}, "large", "false"},
		"no such curve":          {of("scoliosis").With("curves", []Curve{{"thoracic", "left", 39}}), Client{}, "lumbar_convex", "none"},
		"levels":                 {of("spinal_fusion").With("levels", "L4-S1"), Client{}, "lumbar", "true"},
		"other levels":           {of("spinal_fusion").With("levels", "L4-S1"), Client{}, "cervical", "false"},
		"levels nobody can read": {of("spinal_fusion").With("levels", "waist"), Client{}, "cervical", "true"},
	} {
		assert.Equal(t, c.is, facts(c.k, c.c)[c.fact], name)
	}
	_, said := conditions.Condition("disc_sciatica").FactsOf(of("disc_sciatica"), Client{}, today)
	assert.Equal(t, []string{"The stage is taken as acute."}, said)
	_, said = conditions.Condition("shoulder_pain").FactsOf(of("shoulder_pain"), Client{}, today)
	assert.Equal(t, []string{"Taken as yes."}, said)
	_, said = conditions.Condition("disc_sciatica").FactsOf(of("disc_sciatica").With("stage", "acute"), Client{}, today)
	assert.Empty(t, said, "said, so not assumed")
}

// TestPressureLevels: 140/90, 160/100 and 180/110 (ESC and ESH grades, from memory),
// each once just under and once at the figure.
func TestPressureLevels(t *testing.T) {
	for reading, level := range map[string]string{"139/89": "usual", "140/70": "raised", "120/90": "raised", "159/99": "raised",
		"160/70": "high", "120/100": "high",
		"179/109": "high", "180/70": "very_high", "120/110": "very_high", " 150 / 80 ": "raised"} {
		p, ok := ReadPressure(reading)
		require.True(t, ok, reading)
		assert.Equal(t, level, p.level(), reading)
	}
	for _, bad := range []string{"", "high", "120", "120/80/60", "1200/80", "12 0/80"} {
		_, ok := ReadPressure(bad)
		assert.False(t, ok, bad)
	}
	for p, possible := range map[Pressure]bool{{120, 80}: true, {80, 120}: false, {80, 80}: false, {59, 40}: false, {60, 30}: true,
		{280, 200}: true, {281, 200}: false, {100, 29}: false} {
		assert.Equal(t, possible, p.Possible(), p)
	}
	set := For(
		Client{RestingPressure: "150/80", Conditions: []Condition{Condition{ID: "raised_blood_pressure"}.With("reading", "182/95")}},
		conditions,
		today,
	)
	assert.Equal(t, "182/95 is too high.", set.Refer()[0].Text, "the worse of the two, in its own words")
	assert.Equal(t,
		OK,
		For(Client{RestingPressure: "150/80", Conditions: []Condition{{ID: "raised_blood_pressure"}}}, conditions, today).Status(),
	)
}

func TestTighter(t *testing.T) {
	of := func(c Client) Limits { return For(c, conditions, today) }
	free, capped := of(Client{}), of(Client{Measures: []Measure{{ID: "lumbar_flexion_deg", Value: 40}}})
	less := of(Client{Measures: []Measure{{ID: "lumbar_flexion_deg", Value: 30}}})
	assert.False(t, free.Tighter(free))
	assert.False(t, capped.Tighter(capped))
	assert.True(t, capped.Tighter(free))
	assert.False(t, free.Tighter(capped))
	assert.True(t, less.Tighter(capped))
	assert.False(t, capped.Tighter(less))
	soreToday := of(Client{Pain: Pain{Now: whole(4)}})
	assert.True(t, soreToday.Tighter(free), "by what a session may hold")
	assert.False(t, free.Tighter(soreToday))
}

// TestTheWorstReadingCounts: the one that is nearer to sending somebody on, by either
// figure; what cannot be read is none.
func TestTheWorstReadingCounts(t *testing.T) {
	for _, c := range [][3]string{{"170/80", "150/92", "170/80"}, {"150/92", "170/80", "170/80"}, {"175/80", "120/112", "120/112"},
		{"120/112", "175/80", "120/112"}, {"178/100", "120/109", "120/109"}, {"179/100", "120/109", "179/100"},
		{"tall", "120/80", "120/80"}, {"110/70", "", "110/70"}} {
		worst, ok := worstPressure(c[0], c[1])
		want, _ := ReadPressure(c[2])
		assert.True(t, ok)
		assert.Equal(t, want, worst, "%s and %s", c[0], c[1])
	}
	_, ok := worstPressure("tall", "")
	assert.False(t, ok)
}

func TestWordsOfAClient(t *testing.T) {
	assert.Equal(t, "no condition noted", conditions.Words(Client{}))
	assert.Equal(t,
		"disc, subacute · fusion, L4-S1 · curve, upper to the left · bone",
		conditions.Words(
			Client{Conditions: []Condition{
				Condition{ID: "disc_sciatica"}.With("stage", "subacute"),
				Condition{ID: "spinal_fusion"}.With("levels", "L4-S1"),
				Condition{
					ID: "scoliosis",
				}.With(
					"curves",
					[]Curve{{Region: "thoracic", Convex: "left"}, {Region: "cervical", Convex: "left"}},
				),
				{ID: "osteoporosis"},
			}},
		),
	)
}

func TestAConditionInAFile(t *testing.T) {
	k := Condition{ID: "scoliosis"}.With("curves", []Curve{{"thoracic", "right", 24}}).With("side", "left").With("yes", true).With("n", 3)
	b, err := k.MarshalJSON()
	require.NoError(t, err)
	assert.JSONEq(t,
		`{"id":"scoliosis","curves":[{"region":"thoracic","convex":"right","cobb_deg":24}],"side":"left","yes":true,"n":3}`,
		string(b),
	)
	var back Condition
	require.NoError(t, back.UnmarshalJSON(b))
	assert.Equal(t, k, back)
	assert.Equal(t, []string{"curves", "n", "side", "yes"}, back.Answered())
	assert.Empty(t, back.With("curves", []Curve{}).With("side", "").With("yes", nil).With("n", nil).Answered(), "an empty answer is none")
	assert.Len(t, back.Answered(), 4, "With makes another")
	odd := Condition{ID: "a\x01\"b"}
	b, err = odd.MarshalJSON()
	require.NoError(t, err)
	require.NoError(t, back.UnmarshalJSON(b))
	assert.Equal(t, odd, back, "whatever was typed, so that it can be refused by name")
	for _, bad := range []string{`[]`, `{"id":3}`, `{"id":"x","curves":["left"]}`} {
		assert.Error(t, back.UnmarshalJSON([]byte(bad)), bad)
	}
}

// TestAConditionBecomesAnother: low bone mass at −2.5 has the rules of fragile bone, and
// takes what was not said from its own answers; just above it has not.
func TestAConditionBecomesAnother(t *testing.T) {
	low := func(t float64) Limits {
		return For(Client{Conditions: []Condition{Condition{ID: "osteopenia"}.With("t_score", t)}}, conditions, today)
	}
	assert.NotEmpty(t, low(-2.5).Breaks(exercise.AtRest().With("head_lift", true)))
	assert.Contains(t, low(-2.5).Defaults, "It is treated as osteoporosis.")
	assert.NotEmpty(t, low(-2.5).Breaks(exercise.AtRest().With("floor_sit", true)), "of a fracture nothing was said, so there was one")
	assert.Empty(t,
		For(
			Client{Conditions: []Condition{Condition{ID: "osteoporosis"}.With("vertebral_fracture", false)}},
			conditions,
			today,
		).Breaks(exercise.AtRest().With("floor_sit", true)),
	)
	assert.Empty(t, low(-2.4).Breaks(exercise.AtRest().With("head_lift", true)))
}

// TestYesAndNoAreSaidInWords.
func TestYesAndNoAreSaidInWords(t *testing.T) {
	assert.Equal(t, "Taken as no.", fillIn("Taken as {sore}.", map[string]string{"sore": "false"}))
	assert.Equal(t, "Taken as yes, acute.", fillIn("Taken as {sore}, {stage}.", map[string]string{"sore": "true", "stage": "acute"}))
}
