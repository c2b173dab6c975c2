package plan_test

import (
	"testing"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"

	"github.com/stretchr/testify/assert"
)

// TestTheGapOnTheFullLibrary reports how far from the proven bound plans are: the
// aim is one in a hundred, at which the search stops.
func TestTheGapOnTheFullLibrary(t *testing.T) {
	worst, sum, n := 0.0, 0.0, 0.0
	for _, place := range []exercise.Place{"mat", "chair", "bed", "standing"} {
		for _, minutes := range []int{20, 30, 45} {
			for _, c := range []limit.Client{bothConditions(), {Equipment: []string{"mat", "chair", "band"},
				Goals: []exercise.Purpose{"mobility_rotation", "deep_core"}}} {
				_, b := plan.BestBounded(request(c, place, minutes), planLib)
				worst, sum, n = max(worst, b.Gap()), sum+b.Gap(), n+1
				t.Logf("%s %d min: value %.2f, bound %.2f, gap %.1f%%", place, minutes, b.Value, b.Most, 100*b.Gap())
			}
		}
	}
	assert.Positive(t, worst, "a bound that is always met is no bound")
	assert.Less(t, worst, 0.02)
	assert.LessOrEqual(t, sum/n, 0.01)
	t.Logf("worst gap %.1f%%, mean %.1f%%", 100*worst, 100*sum/n)
}
