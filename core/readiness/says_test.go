package readiness_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/readiness"
	"restbend/core/readiness/readinesstest"
	"restbend/library"
)

// What a day says besides its status: what is asked, who hears of it, what is barred.

func at(days int, before int) readiness.Visit {
	return readiness.Visit{On: day.AddDate(0, 0, -days), Before: &before}
}

// TestARiseOfTheUsualPainIsAskedAbout within four weeks, by two points or more.
func TestARiseOfTheUsualPainIsAskedAbout(t *testing.T) {
	r := rules(t)
	k := readinesstest.Base(day)
	asked := func(c limit.Client, past ...readiness.Visit) string {
		for _, q := range r.For(c, past, nil, day, readiness.Plan).Asks {
			if q.Field == "usual_pain" {
				return q.Found
			}
		}
		return ""
	}
	low := []readiness.Visit{at(40, 1), at(35, 1), at(26, 1)}
	risen := append(low, at(20, 4), at(12, 4), at(5, 4), at(2, 4))
	assert.Equal(t, "1, then 4", asked(k, risen...))
	assert.Empty(t, asked(k, append(low, at(20, 2), at(12, 2), at(5, 2), at(2, 2))...), "one point is no rise")
	assert.Empty(t, asked(k, at(80, 1), at(75, 1), at(70, 1), at(65, 4), at(60, 4), at(55, 4), at(50, 4)), "long ago")
	assert.Empty(t, asked(k, at(5, 1), at(2, 4)), "too few sessions say it")
	assert.Equal(t, "1, then 3", asked(k, at(9, 1), at(8, 1), at(7, 1), at(6, 3), at(5, 3), at(4, 3), at(3, 5)), "two points are a rise")
	never := 0
	for _, d := range r.Conditions {
		k.Conditions = []limit.Condition{{ID: d.ID}}
		if d.PainIsNeverUsual(k.Conditions[0], day) {
			never++
			assert.Empty(t, asked(k, risen...), "no pain of %s is usual", d.ID)
		} else {
			assert.NotEmpty(t, asked(k, risen...), d.ID)
		}
	}
	assert.Positive(t, never)
	k.Conditions = []limit.Condition{{ID: "unheard_of"}}
	assert.Empty(t, asked(k, risen...), "what is not known is the strictest")
}

// TestFreeTextIsAskedAboutOnce: what is read is asked about, what is not is to be read by
// somebody, and an answer ends both.
func TestFreeTextIsAskedAboutOnce(t *testing.T) {
	r := rules(t)
	of := func(other string, answers ...limit.Answer) readiness.Readiness {
		k := readinesstest.Base(day)
		k.Notes, k.Answers = other, answers
		return r.For(k, nil, nil, day, readiness.Plan)
	}
	d := of("28 weeks pregnant")
	require.Len(t, d.Asks, 1, "%v", d.Asks)
	assert.NotContains(t, d.Asks[0].Question, "was not understood")
	assert.Equal(t, readiness.Ask, d.Status)
	d = of("the left dingbat wobbles")
	require.Len(t, d.Asks, 1)
	assert.Contains(t, d.Asks[0].Question, "was not understood here: please read it")
	assert.Equal(t, readiness.Ready, d.Status)
	assert.Empty(t,
		of("the left dingbat wobbles", limit.Answer{Field: "notes", Answer: "read, nothing in it", By: "Maren", On: day.String()}).Asks,
	)
}

// TestPainGivenTwiceHasToAgree.
func TestPainGivenTwiceHasToAgree(t *testing.T) {
	r := rules(t)
	for today, want := range map[int]readiness.Status{0: readiness.Ready, 3: readiness.Ask} {
		k := readinesstest.Base(day) // with no pain now
		k.Today = &limit.Today{On: day.String(), Pain: &today}
		d := r.For(k, nil, nil, day, readiness.Plan)
		assert.Equal(t, want, d.Status, "today %d", today)
	}
	k := readinesstest.Base(day)
	k.Today = &limit.Today{On: day.String()}
	assert.Equal(t, readiness.Ready, r.For(k, nil, nil, day, readiness.Plan).Status, "no pain is given for today")
	k.Pain.Now = nil
	five := 5
	k.Today.Pain = &five
	assert.Equal(t, readiness.Ready, r.For(k, nil, nil, day, readiness.Plan).Status, "pain is given once")
}

// TestTheRightPeopleHear: a warning sign by its name and urgency, what a condition refers for
// from the clinician.
func TestTheRightPeopleHear(t *testing.T) {
	r := rules(t)
	for _, f := range limit.RedFlags {
		k := readinesstest.Base(day)
		k.RedFlags = []string{f.ID}
		d := r.For(k, nil, nil, day, readiness.Plan)
		require.Len(t, d.Tell, 1, f.ID)
		assert.Contains(t, d.Tell[0].Text, f.Name)
		who := map[string]string{limit.Now: "emergency", limit.SameDay: "doctor"}[f.When]
		if who == "" {
			who = "doctor"
		}
		assert.Equal(t, who, d.Tell[0].Who, f.ID)
	}
	k := readinesstest.Base(day)
	k.BirthYear = day.Year() - 9
	d := r.For(k, nil, nil, day, readiness.Plan)
	require.Equal(t, readiness.Refer, d.Status)
	for _, m := range d.Tell {
		assert.Equal(t, "clinician", m.Who)
	}
	assert.NotEmpty(t, d.Tell)
}

// TestTextsSayEachThingOnce.
func TestTextsSayEachThingOnce(t *testing.T) {
	d := readiness.Readiness{Because: []readiness.Reason{{Text: "a"}}, Instead: []string{"c"},
		Asks: []readiness.Question{{Question: "a"}, {Question: "b"}}}
	assert.Equal(t, []string{"a", "b", "c"}, d.Texts())
	assert.Equal(t, "a", d.FirstReason())
	assert.Empty(t, readiness.Readiness{}.FirstReason())
}

// TestSafetyPainMarkedInALessonBarsThePart: nothing that loads the wrist is left after pain over 5
// in it; 8 in one limb bars and goes on, in two limbs or in the back it ends.
func TestSafetyPainMarkedInALessonBarsThePart(t *testing.T) {
	l, err := library.Load()
	require.NoError(t, err)
	r := l.Days()
	pain := func(score int, where string) readiness.Mark {
		return readiness.Mark{Kind: "pain", Score: &score, Where: where}
	}
	day1 := func(marks ...readiness.Mark) readiness.Limits {
		return r.Limits(readinesstest.Base(day), nil, marks, day, readiness.Teach)
	}
	plank := l.Variant("plank_toes")
	if plank == nil {
		for _, v := range l.Variants {
			if strings.Contains(v.ID, "plank") && v.Plain().Measured.Number("wrist_load") > 0.2 {
				plank = v
			}
		}
	}
	require.NotNil(t, plank)
	m := plank.Plain().Measured
	assert.Empty(t, day1().Breaks(m))
	sore := day1(pain(6, "wrist"))
	require.NotEmpty(t, sore.Breaks(m), plank.ID)
	assert.Equal(t, "readiness.part", sore.Breaks(m)[0].Rule)
	for row := range sore.Rows() {
		if row.Reasons[0].Rule == "readiness.part" {
			assert.True(t, row.Bar, "it is shut, whatever the range: %s", row.Quantity)
		}
	}
	assert.Equal(t, readiness.Ready, sore.Readiness.Status)
	assert.Empty(t, day1(pain(5, "wrist")).Breaks(m), "5 is not over 5")
	assert.Equal(t, readiness.Ready, day1(pain(8, "wrist")).Readiness.Status)
	assert.Equal(t, readiness.Stop, day1(pain(8, "wrist"), pain(8, "knee")).Readiness.Status)
	assert.Equal(t, readiness.Gentle, day1(pain(7, "low_back")).Readiness.Status)
	assert.Equal(t, readiness.Stop, day1(pain(8, "low_back")).Readiness.Status)
	assert.Equal(t, readiness.Stop, day1(pain(8, "")).Readiness.Status, "nobody knows where")

	assert.Contains(t, r.Loaded(m, 168, 66), "wrist")
	assert.False(t, r.GentleEnough(m, 168, 66))
	rest := l.Variant("constructive_rest").Plain().Measured
	assert.NotContains(t, r.Loaded(rest, 168, 66), "wrist")
	assert.True(t, r.GentleEnough(rest, 168, 66))
}

// TestTheUsualPainIsTheMedianOfTheLast: of six at most and three at least, at most 5, and
// none where no pain is usual.
func TestTheUsualPainIsTheMedianOfTheLast(t *testing.T) {
	r := rules(t)
	usual := func(change func(*limit.Client), past ...readiness.Visit) *int {
		k := readinesstest.Base(day)
		if change != nil {
			change(&k)
		}
		return r.Limits(k, past, nil, day, readiness.Plan).Client.UsualPain
	}
	is := func(want int, got *int, why string) {
		t.Helper()
		if assert.NotNil(t, got, why) {
			assert.Equal(t, want, *got, why)
		}
	}
	assert.Nil(t, usual(nil, at(9, 2), at(8, 2)), "two are too few")
	is(2, usual(nil, at(9, 2), at(8, 2), at(7, 2)), "three are enough")
	is(5, usual(nil, at(9, 7), at(8, 7), at(7, 7)), "more than 5 is not usual")
	is(1, usual(nil, at(9, 5), at(8, 5), at(7, 5), at(6, 1), at(5, 1), at(4, 1), at(3, 1), at(2, 1), at(1, 1)), "the last six")
	four, nine := 4, 9
	is(4, usual(func(k *limit.Client) { k.UsualPain = &four }, at(9, 1), at(8, 1), at(7, 1)), "as it was agreed")
	is(5, usual(func(k *limit.Client) { k.UsualPain = &nine }), "at most 5")
	assert.Nil(t, usual(func(k *limit.Client) {
		k.UsualPain = &four
		k.Today = &limit.Today{On: day.String(), Where: []string{"knee"}}
	}), "pain in a limb is never usual")
	assert.Nil(t, usual(func(k *limit.Client) {
		k.UsualPain = &four
		k.Today = &limit.Today{On: day.String(), New: []string{"numbness"}}
	}), "nor what is new in one")
}

// TestSafetyAGentleDayIsCapped: pain caps the demand lower than what else makes a day gentle, the
// gentle rows are shut, and a verdict alone stays what it is.
func TestSafetyAGentleDayIsCapped(t *testing.T) {
	r := rules(t)
	six := 6
	sore := readinesstest.Base(day)
	sore.Pain.Now = &six
	for name, c := range map[string]struct {
		client limit.Client
		marks  []readiness.Mark
		demand float64
	}{
		"pain today": {sore, nil, r.Gentle.SoreDemand},
		"pain in the lesson": {readinesstest.Base(day), []readiness.Mark{{Kind: "pain", Score: &six, Where: "low_back"}},
			r.Gentle.SoreDemand},
		"tingling": {readinesstest.Base(day), []readiness.Mark{{Kind: "tingling", Where: "foot"}}, r.Gentle.Demand},
	} {
		l := r.Limits(c.client, nil, c.marks, day, readiness.Teach)
		assert.Equal(t, readiness.Gentle, l.Readiness.Status, name)
		if assert.NotNil(t, l.Readiness.Caps.Demand, name) {
			assert.Equal(t, c.demand, *l.Readiness.Caps.Demand, name)
		}
		shut := 0
		for row := range l.Rows() {
			if row.Bar {
				shut++
			}
		}
		assert.Positive(t, shut, name)
	}
	assert.Nil(t, r.Limits(readinesstest.Base(day), nil, nil, day, readiness.Teach).Readiness.Caps.Demand)
}

// TestSafetyEightInOneLimbBarsIt, and the rest of the day is gentle; pain without a day is today's.
func TestSafetyEightInOneLimbBarsIt(t *testing.T) {
	r := rules(t)
	eight := 8
	k := readinesstest.Base(day)
	k.Pain.Now, k.Pain.On = &eight, ""
	k.Today = &limit.Today{On: day.String(), Where: []string{"knee"}, Side: "left"}
	d := r.For(k, nil, nil, day, readiness.Plan)
	assert.Equal(t, readiness.Gentle, d.Status)
	assert.Equal(t, []readiness.Part{{Where: "knee", Side: "left"}}, d.BarredParts)
	k.Today = nil
	assert.Equal(t, readiness.Stop, r.For(k, nil, nil, day, readiness.Plan).Status, "nobody knows where")
}

// TestSafetyNothingIsForADayThatRefers, whatever the variant.
func TestSafetyNothingIsForADayThatRefers(t *testing.T) {
	l, err := library.Load()
	require.NoError(t, err)
	rest := l.Variant("constructive_rest")
	r := l.Days()
	k := readinesstest.Base(day)
	assert.NotEqual(t, exercise.Avoid, r.Limits(k, nil, nil, day, readiness.Plan).Judge(rest, limit.Kit{}).Verdict)
	k.RedFlags = []string{limit.RedFlags[0].ID}
	j := r.Limits(k, nil, nil, day, readiness.Plan).Judge(rest, limit.Kit{})
	assert.Equal(t, exercise.Avoid, j.Verdict)
	if assert.NotEmpty(t, j.Reasons) {
		assert.Contains(t, j.Reasons[0].Rule, "red_flag")
	}
}

// TestPainInTheChestRings.
func TestPainInTheChestRings(t *testing.T) {
	six := 6
	r := rules(t)
	d := r.For(readinesstest.Base(day), nil, []readiness.Mark{{Kind: "pain", Score: &six, Where: "chest"}}, day, readiness.Teach)
	assert.Equal(t, readiness.Stop, d.Status)
	var who []string
	for _, m := range d.Tell {
		who = append(who, m.Who+" "+m.When)
	}
	assert.Contains(t, who, "emergency now")
}

// TestRulesThatCannotBeAreRefused, each by its row.
func TestRulesThatCannotBeAreRefused(t *testing.T) {
	for says, spoil := range map[string]func(r *readiness.Rules){
		"gentle: at least one limit":     func(r *readiness.Rules) { r.Gentle.Limits = nil },
		"gentle: reason, source":         func(r *readiness.Rules) { r.Gentle.Reason = "" },
		"gentle: reason, source, d":      func(r *readiness.Rules) { r.Gentle.Source = "" },
		"gentle: reason, source, demand": func(r *readiness.Rules) { r.Gentle.Demand = 0 },
		"a lower sore_demand":            func(r *readiness.Rules) { r.Gentle.SoreDemand = r.Gentle.Demand + 1 },
		"sore_demand are all needed":     func(r *readiness.Rules) { r.Gentle.SoreDemand = 0 },
		"parts[0].where: \"tail\"":       func(r *readiness.Rules) { r.Parts[0].Where = "tail" },
		"stands twice":                   func(r *readiness.Rules) { r.Parts[1].Where = r.Parts[0].Where },
		"parts[2].kind":                  func(r *readiness.Rules) { r.Parts[2].Kind = "wing" },
		"parts[0]: at least one limit":   func(r *readiness.Rules) { r.Parts[0].Limits = nil },
		"is missing":                     func(r *readiness.Rules) { r.Parts = r.Parts[1:] },
		"phrases[1].id":                  func(r *readiness.Rules) { r.Phrases[1].ID = r.Phrases[0].ID },
		"phrases[0].id: \"\"":            func(r *readiness.Rules) { r.Phrases[0].ID = "" },
		"phrases[0]: question and say":   func(r *readiness.Rules) { r.Phrases[0].Question = "" },
		"question and say are both":      func(r *readiness.Rules) { r.Phrases[0].Say = nil },
		"phrases[0].holds":               func(r *readiness.Rules) { r.Phrases[0].Holds = "perhaps" },
		"phrases[0].sign":                func(r *readiness.Rules) { r.Phrases[0].Sign = "omen" },
		"answers: words of yes":          func(r *readiness.Rules) { r.Answers.No = nil },
		"words of yes and of no":         func(r *readiness.Rules) { r.Answers.Yes = nil },
	} {
		r := *rules(t)
		r.Parts, r.Phrases = slices.Clone(r.Parts), slices.Clone(r.Phrases)
		r.Gentle.SoreDemand = r.Gentle.Demand
		require.NoError(t, r.Check(), "no lower is allowed")
		spoil(&r)
		assert.ErrorContains(t, r.Check(), says)
	}
}

// BenchmarkFreeText reads what a client may say of themselves at length.
func BenchmarkFreeText(b *testing.B) {
	r := rules(b)
	for b.Loop() {
		r.Read("My back aches after a day at the wheel, worse when bending forward for long; a warm bath and a short walk ease it. " +
			"No numbness, tingling or weakness. I had a cracked rib years ago, all healed.")
	}
}

// TestAHighReadingOfAnotherDayIsAskedAgain, and an ordinary one is not.
func TestAHighReadingOfAnotherDayIsAskedAgain(t *testing.T) {
	r := rules(t)
	for reading, want := range map[string]bool{"120/78": false, "165/95": true} {
		k := readinesstest.Base(day)
		k.RestingPressure, k.RestingPressureOn = reading, day.AddDate(0, 0, -3).String()
		asked := slices.ContainsFunc(r.For(k, nil, nil, day, readiness.Plan).Asks,
			func(q readiness.Question) bool { return q.Field == "resting_pressure" })
		assert.Equal(t, want, asked, reading)
	}
}

// TestAnOldOperationIsAskedAbout without keeping the client from a session.
func TestAnOldOperationIsAskedAbout(t *testing.T) {
	r := rules(t)
	for answer, asked := range map[any]bool{nil: true, true: false} {
		k := readinesstest.Base(day)
		one := limit.Condition{ID: "discectomy_or_laminectomy"}.With("which", "discectomy").With("weeks_since", 520.0)
		if answer != nil {
			one = one.With("cleared_for_exercise", answer)
		}
		k.Conditions = []limit.Condition{one}
		got := r.For(k, nil, nil, day, readiness.Plan)
		assert.Equal(t, readiness.Ready, got.Status, "%v", answer)
		found := slices.ContainsFunc(got.Asks, func(q readiness.Question) bool {
			return q.Field == "conditions.discectomy_or_laminectomy" && strings.Contains(q.Question, "has the surgeon cleared exercise")
		})
		assert.Equal(t, asked, found, "%v: %v", answer, got.Asks)
	}
}
