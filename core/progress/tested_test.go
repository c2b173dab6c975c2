package progress_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/progress"
)

// TestARungShownOnItsOwnEarnsTheNext: two clean sessions at the usual dose wait for what
// earns the next rung; a test of the rung shows it, on both sides and not long ago.
func TestARungShownOnItsOwnEarnsTheNext(t *testing.T) {
	usual := hold(6, 6)
	of := records(session{ago: 8, follow: settled(), planned: usual}, session{ago: 4, follow: settled(), planned: usual})
	on := func(day string, left, right limit.Measure) limit.Client {
		c := plain
		for side, m := range map[string]limit.Measure{"left": left, "right": right} {
			m.ID, m.Variant, m.Side, m.On = limit.RungTest, "bird_dog_arm", side, day
			c.Measures = append(c.Measures, m)
		}
		return c
	}
	full, short := limit.Measure{Value: 10, Holds: 6}, limit.Measure{Value: 10, Holds: 4}
	for name, k := range map[string]struct {
		client limit.Client
		earned bool
	}{
		"never tested": {plain, false}, "shown on both sides": {on("2026-11-24", full, full), true},
		"one side short": {on("2026-11-24", full, short), false}, "long ago": {on("2026-10-01", full, full), false},
	} {
		a, err := progress.Decide(k.client, of, world(t, k.client), today)
		require.NoError(t, err)
		rung := false
		for _, d := range a.Decisions {
			rung = rung || d.Changed == "rung" && d.Side != "left"
		}
		assert.Equal(t, k.earned, rung, "%s: %+v", name, a.Decisions)
	}
}

// TestRecordsBecomeMeasures: a hold that ended for its form is as long as it could be; one
// that stopped at its dose says nothing, and an older one nothing new.
func TestRecordsBecomeMeasures(t *testing.T) {
	r := session{ago: 4, follow: settled()}.record()
	r.Items = []lesson.Done{
		{Variant: "single_leg", Side: "left", Sets: 1, Repetitions: 1, Seconds: 20, BestHold: 20, Ended: "done", Planned: hold(1, 20)},
		{
			Variant:     "single_leg",
			Side:        "right",
			Sets:        1,
			Repetitions: 1,
			Seconds:     20,
			BestHold:    11,
			Ended:       "shaking",
			Planned:     hold(1, 20),
		},
		{Variant: "plank_forearms", Sets: 1, Repetitions: 1, Seconds: 40, BestHold: 40, Ended: "done", Planned: hold(1, 40)},
	}
	c := plain
	c.Measures = []limit.Measure{{ID: "plank_hold_s", Value: 25, On: "2026-09-01"}}
	a, err := progress.Decide(c, []lesson.Record{r}, world(t, c), today)
	require.NoError(t, err)
	assert.Equal(t,
		[]limit.Measure{{ID: "single_leg_stance_s", Side: "right", Value: 11, On: r.On}, {ID: "plank_hold_s", Value: 40, On: r.On}},
		a.Measures,
	)
	assert.Len(t, a.Client.Measures, 3)
	again, err := progress.Decide(a.Client, []lesson.Record{r}, world(t, c), today)
	require.NoError(t, err)
	assert.Empty(t, again.Measures, "once is enough")
}
