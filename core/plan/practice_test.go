package plan_test

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
)

// TestTheDosesOfPractice: over places, ways and minutes the planner's own choice comes to the
// doses that practice gives somebody able (practice.md).
//
//revive:disable-next-line:cyclomatic One case for each dose.
func TestTheDosesOfPractice(t *testing.T) {
	calm := 0
	able := limit.Client{Equipment: exercise.Equipment, Pain: limit.Pain{Now: &calm}}
	for id, v := range map[string]float64{"plank_hold_s": 90, "trunk_flexor_hold_s": 100, "back_extensor_hold_s": 100} {
		able.Measures = append(able.Measures, limit.Measure{ID: id, Value: v, On: "2026-11-20"})
	}
	for _, side := range []string{"left", "right"} {
		able.Measures = append(able.Measures,
			limit.Measure{ID: "side_bridge_s", Side: side, Value: 80, On: "2026-11-20"},
			limit.Measure{ID: "single_leg_stance_s", Side: side, Value: 50, On: "2026-11-20"},
		)
	}
	met := map[string]bool{}
	for _, goal := range []exercise.Purpose{"deep_core", "anti_extension", "anti_rotation", "lateral_stability", "mobility_rotation",
		"trunk_flexor_endurance", "back_extensor_endurance"} {
		for _, approach := range exercise.Approaches {
			for _, minutes := range []int{15, 30, 45} {
				c := able
				c.Goals = []exercise.Purpose{goal}
				switch goal { // the client has come up these ladders
				case "deep_core":
					c.Rungs = []limit.Rung{{Family: "deep_core", Variant: "long_leg_hold"}}
				case "mobility_rotation":
					c.Rungs = []limit.Rung{{Family: "open_book", Variant: "open_book_minute"}}
				}
				r := request(c, "mat", minutes)
				r.Approach = approach
				for _, it := range plan.Best(r, planLib).Items {
					d := it.Dose
					sizes := d.SetSizes()
					switch {
					case d.Kind == exercise.HoldSeconds && d.Seconds == 10 && slices.Equal(sizes, []int{6}):
						met["10 s × 6"] = true
					case d.Kind == exercise.HoldSeconds && slices.Equal(sizes, []int{6, 4, 2}):
						met["6-4-2"] = true
					case d.Kind == exercise.HoldBreaths && d.Breaths == 15:
						met["15 breaths"] = true
					case d.Kind == exercise.AlternatingSeconds && d.Seconds >= 30:
						met["30 s in turn"] = true
					}
					switch seconds := plan.Held(d, 5); {
					case it.Family == "open_book" && seconds >= 50:
						met["a minute of open book"] = true
					case it.Variant == "long_leg_hold" && seconds >= 60:
						met["one to two minutes of a long leg"] = true
					}
					if it.Family == "curl_up" && d.Kind == exercise.HoldSeconds {
						if n := sizes[0]; n == 6 {
							met["six curl-ups"] = true
						}
					}
				}
			}
		}
	}
	for _, want := range []string{"10 s × 6", "6-4-2", "15 breaths", "30 s in turn", "a minute of open book", "one to two minutes of " +
		"a long leg", "six curl-ups"} {
		assert.True(t, met[want], fmt.Sprintf("%s is never given", want))
	}
}
