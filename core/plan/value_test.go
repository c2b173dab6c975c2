package plan

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// TestTheBoundHolds compares the plan and its bound with every possible session
// of small libraries: nothing is worth more than the bound, and the plan is
// worth no more than the best.
func TestTheBoundHolds(t *testing.T) {
	total, missed := 0, 0
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(2, 6).Draw(t, "candidates")
		r := Request{Client: limit.Client{Goals: []exercise.Purpose{"balance"}}, Approach: "steady"}
		var cs []candidate
		for i := range n {
			position := rapid.SampledFrom([]exercise.Position{"supine", "four_point", "standing"}).Draw(t, "position")
			v := &exercise.Variant{ID: string(rune('a' + i)), Family: rapid.SampledFrom([]string{"f", "g", "h"}).Draw(t, "family"), Position: position, EndPosition: position,
				Purposes: rapid.SliceOfNDistinct(rapid.SampledFrom([]exercise.Purpose{"balance", "deep_core", "breath", "gait"}), 1, 3, rapid.ID[exercise.Purpose]).Draw(t, "purposes"),
				Forms:    []*exercise.Form{{}}}
			c := candidate{variant: v, judged: limit.Judgement{Verdict: exercise.Suits, Form: v.Forms[0]}, phase: rapid.SampledFrom(exercise.Phases).Draw(t, "phase")}
			for range rapid.IntRange(1, 2).Draw(t, "doses") {
				c.doses = append(c.doses, option{seconds: float64(rapid.IntRange(20, 160).Draw(t, "seconds")), returns: rapid.Float64Range(0.3, 1.3).Draw(t, "returns")})
			}
			cs = append(cs, c)
		}
		byPhase(cs)
		target := rapid.IntRange(100, 700).Draw(t, "target")
		v := r.value(cs)
		chosen, bound := v.best(frameOf("mat", target))

		// What a session is truly worth: the costs of the table with no value of
		// options, plus own worth and features.
		for i := range cs {
			for k := range cs[i].doses {
				cs[i].doses[k].value = cs[i].own * cs[i].doses[k].returns
			}
		}
		truth := func(picked, doses []int) (float64, bool) {
			worth, _, ok := value("mat", cs, picked, doses, target)
			list := make([]choice, len(picked))
			for n := range picked {
				list[n] = choice{picked[n], doses[n]}
			}
			for i, amount := range v.amounts(list) {
				worth += v.features[i].worth(amount)
			}
			return worth, ok
		}
		best := math.Inf(-1)
		everySequence(cs, func(picked, doses []int) {
			if w, ok := truth(picked, doses); ok {
				best = max(best, w)
			}
		})
		if math.IsInf(best, -1) {
			assert.Empty(t, chosen)
			return
		}
		assert.GreaterOrEqual(t, bound.Most, best-1e-9, "the bound is one")
		assert.LessOrEqual(t, bound.Value, best+1e-9, "no plan is worth more than the best")
		var picked, doses []int
		for _, c := range chosen {
			picked, doses = append(picked, c.candidate), append(doses, c.option)
		}
		real, ok := truth(picked, doses)
		assert.True(t, ok)
		assert.InDelta(t, bound.Value, real, 1e-9, "the value is the plan's own")
		// What a further limit takes away never leads over the bound.
		var fewer []candidate
		for _, c := range cs {
			if c.variant.Family != "h" {
				c.doses = slices.Clone(c.doses)
				fewer = append(fewer, c)
			}
		}
		if less, with := r.value(fewer).best(frameOf("mat", target)); len(less) > 0 {
			assert.LessOrEqual(t, with.Value, bound.Most+1e-9, "a limit more is never worth more than the bound")
		}
		total++
		if best-bound.Value > 1e-9 {
			missed++
		}
	})
	t.Logf("of %d small libraries the very best was missed in %d", total, missed)
	assert.LessOrEqual(t, missed, total/10, "small libraries are nearly always planned at their very best")
}

func TestFeaturesHaveFallingReturns(t *testing.T) {
	f := feature{slopes: [3]float64{2, 1, 0.5}}
	assert.Equal(t, 2.5, f.worth(1.5))
	assert.Equal(t, 4.0, f.worth(4))
	over, at := f.left(1.5)
	assert.Equal(t, 0.5, over)
	assert.Equal(t, 1.0, at)
}
