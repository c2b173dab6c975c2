package app_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
)

// TestNoPlanLiesANewHipDown: in the first three months nobody lies on the operated side,
// wherever and for however long the session is, and whichever way the hip was opened. What
// a side means is read off the form that is taught, mirrored where it is done on the right.
func TestNoPlanLiesANewHipDown(t *testing.T) {
	for _, side := range []string{"left", "right"} {
		for _, approach := range []string{"posterior", "unknown"} {
			for i, place := range exercise.Places {
				hip := limit.Condition{ID: "hip_replacement"}.With("side", side).With("approach", approach).With("months_since", 2).
					With("cleared_for_exercise", true)
				c := limit.Client{Format: "restbend.client/1", Name: "Ada Test", BirthYear: 1960, Conditions: []limit.Condition{hip},
					Equipment: []string{"mat", "chair", "pillow", "towel", "band", "wall", "rail"}}
				p, err := judge.Plan(c, app.Wish{Place: place, Minutes: 15 + 15*i}, nil, civil.Of(now))
				require.NoError(t, err)
				require.Equal(t, plan.Ready, p.Status, "%s %s %s", side, approach, place)
				for _, it := range p.Items {
					form := judge.Library.Variant(it.Variant).FormOf(it.Adaptations)
					sides := it.Sides
					if len(sides) == 0 {
						sides = []string{""}
					}
					for _, s := range sides {
						m := form.Measured.On(s)
						assert.False(t, m.Flag("lies_on_"+side), "%s %s %s: %s on the %s", side, approach, place, it.Variant, s)
					}
				}
			}
		}
	}
	// The other side is free, so that the plans above are not empty of it by a bar on both.
	right := limit.Client{
		Conditions: []limit.Condition{
			limit.Condition{ID: "hip_replacement"}.With("side", "right").With("approach", "posterior").With("months_since", 2).
				With("cleared_for_exercise", true),
		},
	}
	j := limit.Judge(judge.Limits(right, civil.Of(now)).Limits, judge.Library.Variant("clam"), limit.Kit{})
	assert.Equal(t, exercise.Avoid, j.Verdict)
	assert.Equal(t, exercise.Adapt, j.Sides[j.Free()].Verdict, "with a pillow between the knees")
}
