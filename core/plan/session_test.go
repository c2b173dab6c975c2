package plan_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/plan/edit"
)

// item is an exercise of the library with a dose of one's own.
func item(id string, phase exercise.Phase, d exercise.Dose) plan.Item {
	v := lib.Variant(id)
	it := plan.Item{
		Variant:     id,
		Family:      v.Family,
		Name:        v.Name,
		Phase:       phase,
		Position:    v.Position,
		EndPosition: v.EndPosition,
		Dose:        d,
		Demand:      v.Plain().Measured.Demand(),
	}
	if v.Sided() {
		it.Sides = []string{"left", "right"}
	}
	return it
}

// TestSessionsWorkedOutByHand holds three short sessions against sums done on paper.
func TestSessionsWorkedOutByHand(t *testing.T) {
	reps := func(sets, n int, seconds float64) exercise.Dose {
		return exercise.Dose{Kind: exercise.Repetitions, Sets: sets, Repetitions: n, Seconds: seconds}
	}
	for _, c := range []struct {
		name      string
		place     exercise.Place
		items     []plan.Item
		seconds   []float64 // of each item
		total     float64
		floor     int
		positions int
	}{
		// Breaths 5 × 5 = 25 and 8 + 10 + 22 × 0.36 = 26 to sit down from standing.
		// Two sets of ten of 4 s are 80, one rest of 20, set-up 8. Then standing up:
		// the last item holds the way up, 10 + 7.92 = 18.
		{"on a chair", "chair", []plan.Item{
			item("rib_breath_chair", "settle", exercise.Dose{Kind: exercise.Breaths, Sets: 1, Breaths: 5}),
			item("sit_to_stand", "strengthen", reps(2, 10, 4))}, []float64{25 + 26, 80 + 20 + 8 + 18}, 51 + 126, 0, 2},
		// Down to the mat: 8 + 10 + 22 + 15 = 55. Six ten-second holds on two sides are
		// 120, one rest of 20; from lying to all fours 8 + 10 + 22 × 0.38 = 26 and 6 to
		// change sides. Up from all fours: 10 + 22 × 0.62 + 15 = 39.
		{"on the mat", "mat", []plan.Item{
			item("rib_breath_supine", "settle", exercise.Dose{Kind: exercise.Breaths, Sets: 1, Breaths: 6}),
			item("bird_dog_arm", "strengthen", exercise.Dose{Kind: exercise.HoldSeconds, Sets: 1, Repetitions: 6, Seconds: 10})},
			[]float64{30 + 55, 120 + 20 + 26 + 6 + 39}, 85 + 211, 2, 3},
		// Breath-counted shapes: two sides of five breaths and one to come in, 2 × 6 × 5
		// = 60, and a reset breath of 5; a bed is no floor: 8 + 10 + 22 × 0.87
		// = 37 onto the side and 6 for the sides, and 29 up again.
		{"on the bed", "bed", []plan.Item{
			item("open_book", "mobilise", exercise.Dose{Kind: exercise.HoldBreaths, Sets: 1, Breaths: 5})},
			[]float64{60 + 5 + 37 + 6 + 29}, 137, 0, 2},
	} {
		r := request(limit.Client{Equipment: []string{"mat", "chair", "bed"}}, c.place, 20)
		p := plan.Plan{Place: c.place, Breath: 5, Items: c.items}
		p.Retime(r)
		for i, it := range p.Items {
			assert.InDelta(t, c.seconds[i], it.Seconds(), 1.01, "%s: %s", c.name, it.Variant)
		}
		assert.InDelta(t, c.total, p.SecondsTotal, 2.01, c.name)
		assert.Equal(t, plan.Transfers{Floor: c.floor, Positions: c.positions}, p.Transfers, c.name)
	}
}

func TestASessionIsCappedAsAWhole(t *testing.T) {
	c := limit.Client{
		Equipment:  []string{"mat", "chair", "pillow"},
		Goals:      []exercise.Purpose{"mobility_flexion_extension", "back_extensor_endurance", "upper_back_posture"},
		Conditions: []limit.Condition{limit.Condition{ID: "extension_sensitive"}.With("which", "facet")},
	}
	r := request(c, "mat", 60)
	i := slices.IndexFunc(r.Limits.Session(), func(k limit.SessionCap) bool { return k.Count == limit.ExtensionCycles })
	require.GreaterOrEqual(t, i, 0, "whom it may irritate arches about twenty times at most (common practice)")
	assert.Equal(t, 20.0, r.Limits.Session()[i].Max)
	p := plan.Best(r, planLib)
	assert.LessOrEqual(t, p.Use(planLib)[limit.ExtensionCycles], 20.0)
	assert.InEpsilon(t, 3600, p.SecondsTotal, 0.03, "and the hour is filled all the same")

	// What was done before counts: a session that goes on has less left.
	done := item("cow_only", "mobilise", exercise.Dose{Kind: exercise.Repetitions, Sets: 1, Repetitions: 18, Seconds: 5})
	before := plan.Plan{Items: []plan.Item{done}}.Use(planLib)[limit.ExtensionCycles]
	r.Done = []plan.Item{done}
	r.Minutes = 20
	rest := plan.Best(r, planLib)
	assert.LessOrEqual(t, rest.Use(planLib)[limit.ExtensionCycles]+before, max(20.0, before))
}

func TestTheHandsAreRested(t *testing.T) {
	c := limit.Client{Equipment: []string{"mat"}}
	r := request(c, "mat", 20)
	hold := exercise.Dose{Kind: exercise.HoldSeconds, Sets: 1, Repetitions: 3, Seconds: 20}
	p := plan.Plan{
		Place:  "mat",
		Breath: 5,
		Items: []plan.Item{
			item("plank_knees_hands", "strengthen", hold),
			item("plank_hands", "strengthen", hold),
			item("rib_breath_supine", "close", exercise.Dose{Kind: exercise.Breaths, Breaths: 5}),
		},
	}
	require.NoError(t, edit.Move(&p, r, planLib, 2, 2)) // any change works the times out anew
	assert.Empty(t, p.Items[0].First)
	assert.Contains(t, p.Items[1].First, "let the hands rest", "two minutes on the wrists at once would be too long")
	require.NoError(t, edit.Move(&p, r, planLib, 2, 1))
	assert.Empty(t, p.Items[2].First, "they have rested meanwhile")
}

func TestSoreDaysCapHeavyWork(t *testing.T) {
	c := limit.Client{
		Equipment: []string{"mat", "chair"},
		Goals:     []exercise.Purpose{"anti_extension", "lateral_stability", "leg_strength"},
		Pain:      limit.Pain{Now: ptr(4)},
	}
	r := request(c, "mat", 45)
	p := plan.Best(r, planLib)
	assert.LessOrEqual(t, p.Use(planLib)[limit.HeavySeconds], 60.0)
	c.Pain.Now = ptr(0)
	assert.NotContains(t, counts(request(c, "mat", 45).Limits.Limits), limit.HeavySeconds, "on a good day nothing caps it")
}

func counts(s limit.Limits) []string {
	var out []string
	for _, k := range s.Session() {
		out = append(out, k.Count)
	}
	return out
}

func TestCountsInWords(t *testing.T) {
	for _, count := range limit.SessionCounts {
		assert.NotEqual(t, "20 ", plan.CountWords(count, 20), count)
	}
	assert.Equal(t, "20 times arching the low back", plan.CountWords(limit.ExtensionCycles, 20))
}
