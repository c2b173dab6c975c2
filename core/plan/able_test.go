package plan_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
)

// TestTheAbleAreNotUnderDosed: who holds a plank for 75 seconds does not begin at the wall,
// who is sore, begins low or fails the test does.
func TestTheAbleAreNotUnderDosed(t *testing.T) {
	hardest := func(c limit.Client) (most float64) {
		c.Equipment, c.Goals = []string{"mat", "chair"}, []exercise.Purpose{"anti_extension", "trunk_flexor_endurance"}
		p := plan.Best(request(c, "mat", 30), planLib)
		require.Equal(t, plan.Ready, p.Status)
		for _, it := range p.Items {
			if it.Purposes[0] == "anti_extension" || it.Purposes[0] == "trunk_flexor_endurance" {
				most = max(most, it.Demand)
			}
		}
		return most
	}
	held := func(s float64) limit.Client {
		return limit.Client{Measures: []limit.Measure{{ID: "plank_hold_s", Value: s}}}
	}
	first := hardest(limit.Client{})
	assert.Equal(t, first, hardest(held(29)))
	assert.Greater(t, hardest(held(75)), first)
	assert.Greater(t, hardest(held(40)), first)
	able := held(75)
	able.Equipment, able.Goals = []string{"mat", "chair"}, []exercise.Purpose{"anti_extension", "trunk_flexor_endurance"}
	assert.NotContains(t, names(plan.Best(request(able, "mat", 30), planLib)), "plank_wall")
	low := held(75)
	low.Conditions = []limit.Condition{{ID: "deconditioned"}}
	assert.LessOrEqual(t, hardest(low), first)
	sore := held(75)
	sore.Pain.Now = ptr(4)
	assert.LessOrEqual(t, hardest(sore), first)
}

// TestTheLesserSideCounts of a measure of both.
func TestTheLesserSideCounts(t *testing.T) {
	with := func(left, right float64) []string {
		c := limit.Client{Equipment: []string{"mat", "chair"}, Goals: []exercise.Purpose{"lateral_stability"}, Measures: []limit.Measure{
			{ID: "side_bridge_s", Side: "left", Value: left}, {ID: "side_bridge_s", Side: "right", Value: right}}}
		var out []string
		for _, it := range plan.Best(request(c, "mat", 30), planLib).Items {
			if slices.Contains(it.Purposes, "lateral_stability") {
				out = append(out, it.Variant)
			}
		}
		return out
	}
	assert.Equal(t, with(20, 20), with(20, 21), "alike but for a second")
	assert.NotEqual(t, with(20, 20), with(62, 62))
}
