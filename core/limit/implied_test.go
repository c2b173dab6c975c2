package limit

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
)

// TestWhatWasMeasuredSpeaksOfConditions: each mark of falls once at its figure and once
// beyond (CDC STEADI and Vellas, from memory; 80 years is common practice), a reading of
// 160/100, and four centimetres lost.
func TestWhatWasMeasuredSpeaksOfConditions(t *testing.T) {
	one := func(id, side string, stage int, v float64) []Measure {
		return []Measure{{ID: id, Side: side, Stage: stage, Value: v}}
	}
	for name, c := range map[string]struct {
		c    Client
		says string // the condition, empty for none
	}{
		"80 years": {Client{BirthYear: today.Year() - 80}, "falls_risk"},
		"79 years": {Client{BirthYear: today.Year() - 79}, ""},
		"few chair stands": {Client{BirthYear: today.Year() - 65, Sex: "female", Measures: one("chair_stand_30s", "", 0, 10)},
			"falls_risk"},
		"enough chair stands": {Client{BirthYear: today.Year() - 65, Sex: "female", Measures: one("chair_stand_30s", "", 0, 11)}, ""},
		"no age for them":     {Client{Measures: one("chair_stand_30s", "", 0, 3)}, ""},
		"heel to toe":         {Client{Measures: one("balance_stage_s", "", 3, 9.9)}, "falls_risk"},
		"ten seconds":         {Client{Measures: one("balance_stage_s", "", 3, 10)}, ""},
		"one leg, stage four": {Client{Measures: one("balance_stage_s", "", 4, 4.9)}, "falls_risk"},
		"five seconds":        {Client{Measures: one("balance_stage_s", "", 4, 5)}, ""},
		"an easier stage":     {Client{Measures: one("balance_stage_s", "", 2, 1)}, ""},
		"slow up and go":      {Client{Measures: one("timed_up_and_go_s", "", 0, 12)}, "falls_risk"},
		"quick up and go":     {Client{Measures: one("timed_up_and_go_s", "", 0, 11.9)}, ""},
		"on the left leg":     {Client{Measures: one("single_leg_stance_s", "left", 0, 4.9)}, "falls_risk"},
		"on the right leg":    {Client{Measures: one("single_leg_stance_s", "right", 0, 4.9)}, "falls_risk"},
		"long enough":         {Client{Measures: one("single_leg_stance_s", "right", 0, 5)}, ""},
		"the last time":       {Client{Measures: append(one("timed_up_and_go_s", "", 0, 14), one("timed_up_and_go_s", "", 0, 10)...)}, ""},
		"160 upper":           {Client{RestingPressure: "160/80"}, "raised_blood_pressure"},
		"100 lower":           {Client{RestingPressure: "130/100"}, "raised_blood_pressure"},
		"159/99":              {Client{RestingPressure: "159/99"}, ""},
		"4 cm lost":           {Client{HeightCM: 160, TallestHeightCM: 164}, "osteoporosis"},
		"low bone mass too":   {Client{HeightCM: 160, TallestHeightCM: 164, Conditions: []Condition{{ID: "osteopenia"}}}, "osteoporosis"},
		"3.9 cm lost":         {Client{HeightCM: 160, TallestHeightCM: 163.9}, ""},
		"never measured":      {Client{TallestHeightCM: 164, LastHeightCM: 164}, ""},
		"2 cm lately":         {Client{HeightCM: 160, LastHeightCM: 162}, "osteoporosis"},
		"1.9 cm lately":       {Client{HeightCM: 160, LastHeightCM: 161.9, TallestHeightCM: 161.9}, ""},
		"two falls":           {Client{FallsThisYear: 2}, "falls_risk"},
		"one fall":            {Client{FallsThisYear: 1}, ""},
		"one that hurt":       {Client{FallsThisYear: 1, FallInjury: true}, "falls_risk"},
	} {
		got := implied(c.c, today)
		if c.says == "" {
			assert.Empty(t, got, name)
			continue
		}
		if assert.Len(t, got, 1, name) {
			assert.Equal(t, c.says, got[0].ID, name)
			assert.NotEmpty(t, got[0].because, name)
			ticked := c.c
			ticked.Conditions = []Condition{{ID: c.says}}
			assert.Empty(t, implied(ticked, today), "%s: what is ticked need not be implied", name)
		}
	}
	stage := For(Client{Measures: one("balance_stage_s", "", 4, 3)}, conditions, today)
	assert.Equal(t,
		[]string{"falls", "one_leg_stage"},
		[]string{stage.Risks[0].ID, stage.Risks[1].ID},
		"in one sentence, and each test by its own id",
	)
	assert.Equal(t, []string{"", "falls"}, []string{stage.Risks[0].Within, stage.Risks[1].Within})
	set := For(Client{RestingPressure: "185/95"}, conditions, today)
	require.Equal(t, Refer, set.Status(), "a reading counts without the condition too")
	assert.Equal(t, "185/95 is too high.", set.Refer()[0].Text)
	assert.True(t, For(Client{RestingPressure: "165/95"}, conditions, today).EvenRest)
	assert.Contains(t, strings.Join(For(Client{RestingPressure: "145/85"}, conditions, today).Defaults, " "), "140/90 or over: ask")
	assert.NotContains(t, strings.Join(For(Client{RestingPressure: "139/89"}, conditions, today).Defaults, " "), "140/90")
	assert.Contains(t,
		riskOf(Client{HeightCM: 160, LastHeightCM: 162.5}, "height_loss").Because,
		"2.5 cm shorter than when last measured",
	)
	assert.Contains(t, riskOf(Client{FallsThisYear: 3, FallInjury: true}, "falls").Because, "3 falls in a year")
	assert.Contains(t, riskOf(Client{FallsThisYear: 1, FallInjury: true}, "falls").Because, "a fall with an injury")
	lost := For(Client{HeightCM: 160, TallestHeightCM: 165}, conditions, today)
	assert.NotEmpty(t, lost.Breaks(exercise.AtRest().With("head_lift", true)), "as fragile bone until a doctor has looked")
	assert.Contains(t, strings.Join(lost.Defaults, " "), "5 cm shorter than at the tallest")
	empty := Client{Conditions: make([]Condition, 0, 4), RestingPressure: "165/95"}
	For(empty, conditions, today)
	assert.Empty(t, empty.Conditions[:1][0].ID, "the client that was given is not changed")
}

// TestTimeGoesByByItself: an operation is kept by its date.
func TestTimeGoesByByItself(t *testing.T) {
	d := conditions.Condition("spinal_fusion")
	since := d.Field("months_since")
	since.Since = "months"
	defer func() { since.Since = "" }()
	k := d.Dated(Condition{ID: "spinal_fusion"}.With("months_since", 2), today)
	assert.Equal(t, []string{DateField}, k.Answered())
	assert.Equal(t, "2026-09-24", k.Word(DateField), "61 days ago")
	recent := func(days int) string {
		facts, _ := d.FactsOf(k, Client{}, today.AddDate(0, 0, days))
		return facts["recent"]
	}
	assert.Equal(t, "true", recent(0))
	assert.Equal(t, "true", recent(30), "91 days are 2.99 months")
	assert.Equal(t, "false", recent(31))
	assert.Equal(t, k, d.Dated(k.With("months_since", 9).With("weeks_since", 3), today), "a date that is there stays")
	check := func(k Condition) string {
		if m := conditions.CheckClient(Client{Conditions: []Condition{k.With("levels", "L4-S1")}}, today); m != nil {
			return m.Path + " " + m.Want
		}
		return ""
	}
	assert.Empty(t, check(k))
	assert.Contains(t, check(k.With(DateField, "2026-11-25")), "conditions[0].operated_on expected the day of the operation")
	assert.Contains(t, check(k.With(DateField, "last year")), "operated_on")
	assert.Contains(t, check(k.With(DateField, "1899-12-31")), "operated_on")
	assert.Empty(t, check(k.With("months_since", 2)), "the day wins")
	assert.Equal(t, "true", recent(0))
	assert.Empty(t, check(k.With(DateField, nil).With("weeks_since", 20)), "weeks are as good as months")
	assert.Contains(t, check(k.With("weeks_since", -1)), "conditions[0].weeks_since expected weeks, from 0 to 5200")
	weeks, known := since.figure(Condition{ID: "spinal_fusion"}.With("weeks_since", 20), today)
	assert.True(t, known)
	assert.InDelta(t, 4.6, weeks, 0.01, "20 weeks in months")
	bone := conditions.CheckClient(Client{Conditions: []Condition{Condition{ID: "osteoporosis"}.With(DateField, "2026-01-01")}}, today)
	assert.Contains(t, bone.Want, "is not asked about")
}

// TestTabletsCount: steroids for months thin the bone until a density is known, what makes drowsy
// counts for falls, and beta-blockers take the pulse's word away.
func TestTabletsCount(t *testing.T) {
	born := func(age int) int { return today.Year() - age }
	for name, c := range map[string]struct {
		client Client
		want   string
	}{
		"none":                       {Client{BirthYear: born(50), Sex: "male"}, ""},
		"nobody knows how much":      {Client{BirthYear: born(50), Sex: "male", Steroids: Steroids{Taken: true}}, "osteoporosis"},
		"little, for long":           {Client{BirthYear: born(50), Sex: "male", Steroids: Steroids{true, 12, 5}}, "osteopenia"},
		"much, for long":             {Client{BirthYear: born(50), Sex: "male", Steroids: Steroids{true, 12, 7.5}}, "osteoporosis"},
		"little, old":                {Client{BirthYear: born(66), Sex: "male", Steroids: Steroids{true, 12, 5}}, "osteoporosis"},
		"little, past the menopause": {Client{BirthYear: born(58), Sex: "female", Steroids: Steroids{true, 12, 5}}, "osteoporosis"},
		"a short course":             {Client{BirthYear: born(80), Steroids: Steroids{true, 1, 40}}, ""},
		"hardly any":                 {Client{BirthYear: born(80), Steroids: Steroids{true, 12, 2}}, ""},
	} {
		k, because := c.client.onSteroids(today)
		assert.Equal(t, c.want, k.ID, name)
		assert.Equal(t, c.want == "", because == "", name)
	}
	assert.Equal(t, []string{"takes tablets that make drowsy"}, fallsBecause(Client{BirthYear: born(50), Sedatives: true}, today))
	assert.Contains(t, For(Client{BetaBlocker: true}, conditions, today).Defaults,
		"Beta-blockers hold the pulse down: effort is judged by talking, not by the pulse.")
}
