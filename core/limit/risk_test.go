package limit

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"restbend/core/exercise"
)

func riskOf(c Client, id string) Risk {
	for _, r := range For(c, nil, today).Risks {
		if r.ID == id {
			return r
		}
	}
	return Risk{}
}

// CDC STEADI, below-average scores (from memory): each row once just under and
// once at the figure.
func TestChairStandsAgainstSTEADI(t *testing.T) {
	for _, row := range []struct{ age, men, women int }{{60, 14, 12}, {64, 14, 12}, {65, 12, 11}, {70, 12, 10}, {75, 11, 10}, {80, 10, 9},
		{85, 8, 8}, {89, 8, 8}, {90, 7, 4}, {94, 7, 4}, {69, 12, 11}, {74, 12, 10}, {79, 11, 10}, {84, 10, 9}} {
		for sex, limit := range map[string]int{"male": row.men, "female": row.women} {
			c := Client{
				BirthYear: today.Year() - row.age,
				Sex:       sex,
				Measures:  []Measure{{ID: "chair_stand_30s", Value: float64(limit - 1)}},
			}
			assert.Equal(t, "raised", riskOf(c, "chair_stand").Level, "%s %d", sex, row.age)
			c.Measures[0].Value = float64(limit)
			assert.Equal(t, "usual", riskOf(c, "chair_stand").Level, "%s %d", sex, row.age)
		}
	}
	young := Client{BirthYear: today.Year() - 59, Sex: "male", Measures: []Measure{{ID: "chair_stand_30s", Value: 3}}}
	assert.Contains(t, riskOf(young, "chair_stand").Because, "begin at 60")
}

func TestMeasuresAgainstTheirReferences(t *testing.T) {
	one := func(id string, value float64) []Measure { return []Measure{{ID: id, Value: value}} }
	sides := func(id string, left, right float64) []Measure {
		return []Measure{{ID: id, Side: "left", Value: left}, {ID: id, Side: "right", Value: right}}
	}
	for _, c := range []struct {
		risk     string
		measures []Measure
		level    string
	}{
		{"timed_up_and_go", one("timed_up_and_go_s", 12), "raised"}, {"timed_up_and_go", one("timed_up_and_go_s", 11.9), "usual"},
		// the last time counts
		{"tandem_stance", []Measure{{ID: "balance_stage_s", Stage: 3, Value: 6}, {ID: "balance_stage_s", Stage: 3, Value: 10}}, "usual"},
		{"tandem_stance", []Measure{{ID: "balance_stage_s", Stage: 3, Value: 9.9}}, "raised"},
		{"tandem_stance", []Measure{{ID: "balance_stage_s", Stage: 3, Value: 10}}, "usual"},
		{"single_leg_left", sides("single_leg_stance_s", 4.9, 20), "raised"}, {"single_leg_left", sides("single_leg_stance_s", 5, 20), ""},
		{"side_bridge_balance", sides("side_bridge_s", 60, 64), "raised"}, {"side_bridge_balance", sides("side_bridge_s", 60, 62), "usual"},
		{"side_bridge_balance", sides("side_bridge_s", 100, 105.2), "raised"}, {"side_bridge_balance", sides("side_bridge_s", 100, 104.8),
			"usual"}, {"side_bridge_balance", sides("side_bridge_s", 100, 94.8), "raised"},
		{"front_to_back", append(one("back_extensor_hold_s", 100), one("trunk_flexor_hold_s", 101)...), "raised"},
		{"front_to_back", append(one("back_extensor_hold_s", 100), one("trunk_flexor_hold_s", 100)...), "usual"},
		{"side_to_back", append(one("back_extensor_hold_s", 100), sides("side_bridge_s", 70, 76)...), "raised"},
		{"side_to_back", append(one("back_extensor_hold_s", 100), sides("side_bridge_s", 70, 75)...), "usual"},
		{"trunk_rotation", one("trunk_rotation_angle_deg", 4.9), "usual"}, {"trunk_rotation", one("trunk_rotation_angle_deg", 5), "raised"},
		{"uneven_thoracic_rotation_deg", sides("thoracic_rotation_deg", 30, 40), "usual"},
		{"uneven_thoracic_rotation_deg", sides("thoracic_rotation_deg", 37, 40), ""},
	} {
		assert.Equal(t, c.level, riskOf(Client{Measures: c.measures}, c.risk).Level, "%s %v", c.risk, c.measures)
	}
	for _, c := range []struct { // a ratio wants both of its parts
		risk     string
		measures []Measure
	}{
		{"side_bridge_balance", sides("side_bridge_s", 60, 64)[:1]}, {"side_bridge_balance", sides("side_bridge_s", 60, 64)[1:]},
		{"side_bridge_balance", sides("side_bridge_s", 0, 64)},
		{"front_to_back", one("back_extensor_hold_s", 100)}, {"front_to_back", one("trunk_flexor_hold_s", 100)},
		{"front_to_back", append(one("back_extensor_hold_s", 0), one("trunk_flexor_hold_s", 9)...)},
		{"side_to_back", one("back_extensor_hold_s", 100)}, {"side_to_back", sides("side_bridge_s", 70, 76)},
	} {
		assert.Empty(t, riskOf(Client{Measures: c.measures}, c.risk).Level, "%s %v", c.risk, c.measures)
	}
	assert.Equal(t,
		"raised",
		riskOf(Client{Measures: append(one("back_extensor_hold_s", 100), sides("side_bridge_s", 76, 0)[0])}, "side_to_back").Level,
		"one side is enough",
	)
	activity := func(before, now float64) string {
		return riskOf(
			Client{Measures: append(one("specific_activity", before), one("specific_activity", now)...)},
			"specific_activity",
		).Because
	}
	assert.Contains(t, activity(3, 6), "from 3 to 6 of 10; a change of 3 on one activity counts. It does.")
	assert.NotContains(t, activity(3, 5.5), "It does.")
	assert.Contains(t, activity(7, 4), "It does.", "worse counts too")
	assert.Empty(t,
		riskOf(Client{Measures: one("specific_activity", 3)}, "specific_activity").Because,
		"one figure says nothing of change",
	)
	assert.Contains(t, riskOf(Client{Measures: sides("side_bridge_s", 50, 40)}, "side_bridge_balance").Because, "0.80")
	assert.Contains(t,
		riskOf(Client{Measures: append(one("back_extensor_hold_s", 50), one("trunk_flexor_hold_s", 100)...)}, "front_to_back").Because,
		"2.00",
	)
	assert.Contains(t, riskOf(Client{Measures: one("trunk_rotation_angle_deg", 7)}, "trunk_rotation").Because, "ask the specialist")
	rising := append(one("trunk_rotation_angle_deg", 2), one("trunk_rotation_angle_deg", 5)...)
	assert.Contains(t, riskOf(Client{Measures: rising}, "trunk_rotation").Because, "ask the specialist", "a rise of 3°")
	uneven := For(Client{Measures: sides("thoracic_rotation_deg", 30, 40)}, nil, today).Uneven
	assert.Equal(t, "left", uneven[0].Lesser)
	needs := For(Client{Measures: one("timed_up_and_go_s", 14)}, nil, today).Needs
	assert.Equal(t, exercise.Purpose("balance"), needs[0].Purpose)
}

func TestBoneClassesOfTheWHO(t *testing.T) {
	for score, says := range map[float64]string{-0.9: "ordinary", -1: "ordinary", -1.1: "low bone mass", -2.4: "low bone mass",
		-2.5: "osteoporosis"} {
		assert.Contains(t,
			riskOf(Client{Conditions: []Condition{Condition{ID: "osteopenia"}.With("t_score", score)}}, "bone_density").Because,
			says,
			"%g",
			score,
		)
	}
	low := -2.6
	set := For(Client{Conditions: []Condition{Condition{ID: "osteopenia"}.With("t_score", low)}}, conditions, today)
	assert.Contains(t, strings.Join(set.Defaults, " "), "treated as osteoporosis")
}

func TestScreensBecomeNeedsAndCaps(t *testing.T) {
	c := Client{
		Screens: []Screen{
			{ID: "half_squat", Finding: "loses_neutral"},
			{ID: "leg_lower", Finding: "weak"},
			{ID: "leg_lower", Finding: "able"},
			{ID: "forward_bend_ease", Finding: "stiff", Sensation: "pinch"},
		},
		Measures: []Measure{{ID: "lumbar_flexion_deg", Value: 40}},
	}
	set := For(c, nil, today)
	want := map[exercise.Purpose]bool{}
	for _, n := range set.Needs {
		want[n.Purpose] = true
	}
	assert.True(t, want["dissociation"])
	assert.False(t, want["deep_core"], "done well since")
	capped := false
	for l := range set.Rows() {
		if figure, ok := l.Number(); ok && l.Quantity == "lumbar_flexion" {
			capped = true
			assert.Equal(t, 36.0, figure, "nine tenths of what was measured")
		}
	}
	assert.True(t, capped)
	sided := For(
		Client{Screens: []Screen{{ID: "single_leg_stance", Finding: "unsteady", Side: "left"}, {ID: "half_squat", Finding: "weak"}}},
		nil,
		today,
	).Needs
	assert.Contains(t, sided[0].Because, `the test "One leg" on the left showed it: `)
	assert.Contains(t, sided[len(sided)-1].Because, `the test "Half squat" showed it: `)
	squat, _ := FindScreenTest("half_squat")
	for _, v := range []struct {
		chain, level string
		position     exercise.Position
		purposes     []exercise.Purpose
	}{{"closed", "full", "standing", []exercise.Purpose{"dissociation"}}, {"open", "part", "supine", []exercise.Purpose{"dissociation"}},
		{"closed", "part", "four_point", []exercise.Purpose{"dissociation"}}, {"closed", "", "standing", []exercise.Purpose{"breath"}}} {
		level, why := squat.Answer("dissociation", &exercise.Variant{Chain: v.chain, Position: v.position, Purposes: v.purposes})
		assert.Equal(t, v.level, level, "%v", v)
		assert.NotEmpty(t, why)
	}
	for _, c := range []struct {
		test           string
		position       exercise.Position
		exercise, want string
	}{
		{"half_squat", "standing", "closed", "full"}, {"half_squat", "standing", "open", "part"},
		{"half_squat", "standing", "semi_closed", "full"},
		{"half_squat", "chair_sit", "closed", "part"}, {"half_squat", "supine", "open", "part"},
	} {
		test, _ := FindScreenTest(c.test)
		level, _ := test.Answer(
			"dissociation",
			&exercise.Variant{Chain: c.exercise, Position: c.position, Purposes: []exercise.Purpose{"dissociation"}},
		)
		assert.Equal(t, c.want, level, "%v", c)
	}
	free := ScreenTest{Chain: "open", Orientation: "lying"}
	for _, c := range []struct {
		chain    string
		position exercise.Position
		why      string
	}{{"closed", "standing", "trains it standing"}, {"open", "supine", "as the task is done"},
		{"open", "four_point", "trains it on hands and knees"}} {
		level, why := free.Answer(
			"breath",
			&exercise.Variant{Chain: c.chain, Position: c.position, Purposes: []exercise.Purpose{"mobility", "breath"}},
		)
		assert.Equal(t, "full", level, "%v: a lying task of a free limb is trained in any posture", c)
		assert.Contains(t, why, c.why)
	}
	seated := ScreenTest{Chain: "closed", Orientation: "seated"}
	for _, c := range []struct {
		chain    string
		position exercise.Position
		why      string
	}{{"open", "standing", "a beginning"}, {"closed", "standing", "the task is done seated"},
		{"open", "chair_sit", "the task stands on it"}} {
		level, why := seated.Answer(
			"breath",
			&exercise.Variant{Chain: c.chain, Position: c.position, Purposes: []exercise.Purpose{"breath"}},
		)
		assert.Equal(t, "part", level, "%v", c)
		assert.Contains(t, why, c.why)
	}
	deep, _ := FindScreenTest("forward_bend_ease")
	assert.Contains(t,
		deep.Barred(Limits{rows: []Limit{{Quantity: "lumbar_flexion", When: "any", Max: 10.0, Reasons: []Reason{{Text: "Fragile."}}}}}),
		"Fragile.",
	)
	assert.Empty(t, deep.Barred(Limits{}))
}

func TestConflictsSayWhatRemains(t *testing.T) {
	both := Client{Conditions: []Condition{Condition{ID: "disc_sciatica"}.With("eases", "extension"), {ID: "extension_sensitive"}}}
	assert.Contains(t, For(both, conditions, today).Conflicts[0], "Ask the clinician")
	assert.Empty(t, For(Client{Conditions: both.Conditions[:1]}, conditions, today).Conflicts)
	bending := func(way string) Condition { return Condition{ID: "disc_sciatica"}.With("eases", way) }
	for _, c := range []struct {
		says string
		of   []Condition
	}{
		{"presses on fragile vertebrae", []Condition{bending("flexion"), {ID: "osteoporosis"}}},
		{"presses on fragile vertebrae", []Condition{bending("flexion"), {ID: "osteopenia"}}},
		{"stays above the waist", []Condition{{ID: "extension_sensitive"}, {ID: "osteoporosis"}}},
		{"control that is missing", []Condition{{ID: "hypermobility"}, {ID: "desk_stiffness"}}},
	} {
		set := For(Client{Conditions: c.of}, conditions, today)
		if assert.Len(t, set.Conflicts, 1, "%v", c.of) {
			assert.Contains(t, set.Conflicts[0], c.says)
		}
		for _, k := range c.of {
			assert.Empty(t, For(Client{Conditions: []Condition{k}}, conditions, today).Conflicts, "%s alone", k.ID)
		}
	}
	assert.Empty(t, For(Client{Conditions: []Condition{bending("extension"), {ID: "osteoporosis"}}}, conditions, today).Conflicts)
}

func TestFusedRegions(t *testing.T) {
	for levels, want := range map[string]string{"L4-S1": "lumbar", "L1-L3": "thoracic lumbar", "T4-T8": "thoracic",
		"T10-L4": "thoracic lumbar",
		"C5-C6":  "cervical thoracic", "C4-C5": "cervical", "T3-T4": "thoracic", "T1-T3": "cervical thoracic", "T9-T10": "thoracic",
		"T10-T11": "thoracic lumbar", "L3-L4": "lumbar", "L2-L3": "thoracic lumbar", "L5-S1": "lumbar", "S1-S2": "", "S1": "",
		"L5": "lumbar", "T12": "thoracic lumbar", "C7": "cervical thoracic", "C3-C4": "cervical", "T11-L2": "thoracic lumbar",
		"T2 T5": "cervical thoracic"} {
		got, ok := fusedRegions(levels)
		assert.True(t, ok, levels)
		assert.Equal(t, want, strings.Join(got, " "), levels)
	}
	for _, bad := range []string{"", "waist", "L9", "L4 to X", "C8"} {
		assert.False(t, knownLevels(bad), bad)
	}
}

// TestWhoIsSuspectedOfAFracture: steroids, or over 70 with fragile bone (common
// practice); a curve of 50° tends to grow (from memory); 4 cm lost since the tallest.
func TestWhoIsSuspectedOfAFracture(t *testing.T) {
	bone := []Condition{{ID: "osteoporosis"}}
	for name, c := range map[string]struct {
		c    Client
		risk string
		is   string
	}{
		"steroids":           {Client{Steroids: Steroids{Taken: true}}, "fracture_suspicion", "raised"},
		"71 and fragile":     {Client{BirthYear: today.Year() - 71, Conditions: bone}, "fracture_suspicion", "raised"},
		"70 and fragile":     {Client{BirthYear: today.Year() - 70, Conditions: bone}, "fracture_suspicion", ""},
		"71 and not fragile": {Client{BirthYear: today.Year() - 71}, "fracture_suspicion", ""},
		"no age":             {Client{Conditions: bone}, "fracture_suspicion", ""},
		"4 cm lost":          {Client{HeightCM: 160, TallestHeightCM: 164}, "height_loss", "raised"},
		"less lost":          {Client{HeightCM: 160, TallestHeightCM: 163.9}, "height_loss", ""},
		"never measured":     {Client{TallestHeightCM: 164}, "height_loss", ""},
		"a curve of 50°": {Client{Conditions: []Condition{Condition{ID: "scoliosis"}.With("curves",
			[]Curve{{"thoracic", "right", 50}})}}, "curve_thoracic", "raised"},
		"a curve of 49°": {Client{Conditions: []Condition{Condition{ID: "scoliosis"}.With("curves",
			[]Curve{{"thoracic", "right", 49}})}}, "curve_thoracic", ""},
	} {
		assert.Equal(t, c.is, riskOf(c.c, c.risk).Level, name)
	}
	for age, slow := range map[int]bool{74: false, 75: true} {
		assert.Equal(t, slow, For(Client{BirthYear: today.Year() - age}, conditions, today).Slow, "%d", age)
	}
	assert.Contains(t, riskOf(Client{HeightCM: 160, TallestHeightCM: 164.5}, "height_loss").Because, "4.5 cm shorter")
}

// TestTheLesserSide is named by right and left, and the share of the other that it
// reaches; a tenth less is where it begins.
func TestTheLesserSide(t *testing.T) {
	of := func(id string, left, right float64) []Uneven {
		return For(
			Client{Measures: []Measure{{ID: id, Side: "left", Value: left}, {ID: id, Side: "right", Value: right}}},
			conditions,
			today,
		).Uneven
	}
	assert.Equal(t, []Uneven{{"mobility_rotation", "left", 0.75}}, of("thoracic_rotation_deg", 30, 40))
	assert.Equal(t, []Uneven{{"mobility_rotation", "right", 0.75}}, of("thoracic_rotation_deg", 40, 30))
	assert.Equal(t, []Uneven{{"mobility_side_bend", "right", 0.5}}, of("side_bend_cm", 20, 10))
	assert.Equal(t, []Uneven{{"balance", "left", 0.875}}, of("single_leg_stance_s", 17.5, 20), "more than a tenth")
	assert.Equal(t, []Uneven{{"lateral_stability", "right", 0}}, of("side_bridge_s", 18, 0))
	assert.Empty(t, of("single_leg_stance_s", 18.1, 20), "just less than a tenth")
	assert.Equal(t, []Uneven{{"balance", "left", 0.75}}, of("single_leg_stance_s", 15, 20))
	assert.Len(t, of("single_leg_stance_s", 8, 16), 1)
	assert.Empty(t, of("single_leg_stance_s", 0, 0))
	assert.Empty(t, of("fingertip_floor_cm", 5, 20), "no measure of sides")
	one := For(Client{Measures: []Measure{{ID: "side_bridge_s", Side: "left", Value: 20}}}, conditions, today)
	assert.Empty(t, one.Uneven, "one side alone says nothing")
	worse := For(Client{Measures: []Measure{{ID: "single_leg_stance_s", Side: "right", Value: 4.9}}}, conditions, today)
	assert.Equal(t, "falls", worse.Risks[0].ID)
	assert.Equal(t, "single_leg_right", worse.Risks[1].ID, "the right alone is enough")
	assert.True(t, worse.Slow)
	tandem := For(Client{Measures: []Measure{{ID: "balance_stage_s", Stage: 3, Value: 9}}}, conditions, today)
	assert.Equal(t,
		[]exercise.Purpose{"balance", "leg_strength"},
		[]exercise.Purpose{tandem.Needs[0].Purpose, tandem.Needs[1].Purpose},
		"the tandem test raises falls",
	)
	other := For(Client{Measures: []Measure{{ID: "balance_stage_s", Stage: 2, Value: 3}}}, conditions, today)
	assert.Empty(t, other.Needs, "an easier stage is no tandem")
}
