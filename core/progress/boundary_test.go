package progress_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/lesson"
	"restbend/core/progress"
)

// What decides is tried on the figure itself and beside it.

// TestThreeOfTenIsPain: an exercise that hurt 3 steps back, one that hurt 2 does not.
func TestThreeOfTenIsPain(t *testing.T) {
	for score, want := range map[int]bool{2: false, 3: true, 4: true} {
		a, err := progress.Decide(
			plain,
			records(session{ago: 4, before: 1, worst: 1, hurt: score, follow: settled()}),
			world(t, plain),
			today,
		)
		require.NoError(t, err)
		d := right(t, a)
		assert.Equal(t, want, d.Step == progress.StepBack, "pain %d on the right: %s %v", score, d.Step, d.Because)
	}
}

// TestOverFivePlansOneLevelWorse, also where nobody asked for a score after the session.
func TestOverFivePlansOneLevelWorse(t *testing.T) {
	for worst, want := range map[int]bool{5: false, 6: true} {
		for _, after := range []bool{true, false} {
			r := session{ago: 4, worst: worst, follow: settled()}.record()
			if !after {
				r.Pain.After = nil
			}
			a, err := progress.Decide(plain, []lesson.Record{r}, world(t, plain), today)
			require.NoError(t, err)
			worse := a.Client.Pain.PlannedAs != nil
			assert.Equal(t, want, worse, "worst %d, asked afterwards %v: %v", worst, after, a.Notes)
			if worse {
				least := 3 // sore
				if after {
					least = worst
				}
				assert.GreaterOrEqual(t, *a.Client.Pain.PlannedAs, least)
				assert.Contains(t, fmt.Sprint(a.Notes), "planned one pain level worse")
			}
		}
	}
}

// TestPainThatRisesToThreeRefers, and to 2 does not.
func TestPainThatRisesToThreeRefers(t *testing.T) {
	for last, want := range map[int]bool{2: false, 3: true} {
		a, err := progress.Decide(plain, records(session{ago: 12, worst: last - 2, follow: settled()},
			session{ago: 8, worst: last - 1, follow: settled()}, session{ago: 4, worst: last, follow: settled()}), world(t, plain), today)
		require.NoError(t, err)
		assert.Equal(t, want, a.Status == "refer", "up to %d: %v", last, a.Notes)
	}
}
