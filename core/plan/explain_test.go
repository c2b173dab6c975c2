package plan_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/plan/tell"
)

// TestTheArithmeticAddsUp holds the sums that are shown against the seconds that
// are planned, for every item of sessions in several places.
func TestTheArithmeticAddsUp(t *testing.T) {
	uneven := bothConditions()
	uneven.Measures = []limit.Measure{
		{ID: "thoracic_rotation_deg", Side: "left", Value: 45},
		{ID: "thoracic_rotation_deg", Side: "right", Value: 30},
		{ID: "breath_seconds", Value: 4.2},
	}
	for _, place := range []exercise.Place{"mat", "chair", "bed"} {
		for _, approach := range exercise.Approaches {
			r := request(uneven, place, 40)
			r.Approach = approach
			p := plan.Best(r, planLib)
			require.NotEmpty(t, p.Items)
			for i, it := range p.Items {
				e := tell.Explain(p, r, planLib, i)
				sum := 0.0
				for _, s := range e.Sums {
					sum += s.Seconds
					assert.NotEmpty(t, s.Words)
				}
				assert.InDelta(t, it.Seconds(), sum, 0.2, "%s %s", place, it.Variant)
				assert.NotEmpty(t, e.Rung, it.Variant)
				assert.NotEmpty(t, e.Point, it.Variant)
			}
		}
	}
}

func TestTheArithmeticInWords(t *testing.T) {
	r := request(bothConditions(), "mat", 30)
	p := plan.Plan{
		Place:  "mat",
		Breath: 5,
		Items: []plan.Item{{Variant: "bird_dog_arm", Position: "four_point", EndPosition: "four_point", Sides: []string{"left", "right"},
			Dose: exercise.Dose{Kind: exercise.HoldSeconds, Repetitions: 6, Seconds: 10}}},
	}
	p.Retime(r)
	e := tell.Explain(p, r, planLib, 0)
	assert.Equal(t, tell.Sum{Words: "6 holds × 10 s × 2 sides", Seconds: 120}, e.Sums[0], "six ten-second holds on two sides are 120 s")
	assert.Equal(t, "one rest of 20 s between sets and sides", e.Sums[1].Words)
	assert.Empty(t, tell.Explain(p, r, planLib, 7).Sums)
}

func TestWhatWouldBecomePossible(t *testing.T) {
	c := bothConditions()
	c.Equipment = []string{"mat"}
	r := request(c, "mat", 20)
	var said []string
	for _, o := range tell.Possible(plan.Best(r, planLib), r, planLib) {
		said = append(said, o.Change)
		assert.NotEmpty(t, o.Gains, o.Change)
		assert.GreaterOrEqual(t, o.More, len(o.Gains))
	}
	all := strings.Join(said, "; ")
	assert.Contains(t, all, "with a chair")
	assert.Contains(t, all, "with ten more minutes")
	assert.Contains(t, all, "if the clinician loosened this")
	assert.NotContains(t, all, "with a mat")
}
