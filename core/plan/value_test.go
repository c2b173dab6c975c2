package plan

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// TestTheBestIsFound compares the plan and its bound with every possible session of
// small libraries: searched to the end it is the very best, and else within what is
// near enough; nothing is worth more than the bound.
func TestTheBestIsFound(t *testing.T) {
	tried := 0
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
		inOrder(cs)
		target := rapid.IntRange(100, 700).Draw(t, "target")
		v, f := r.value(cs), frameOf("mat", target)
		truth := func(list []choice) (float64, bool) {
			cost, seconds, ok := plainly("mat", cs, list, f.oneMore)
			late, inTime := inMinutes(seconds, target)
			worth := -cost - late
			for _, x := range list {
				worth += cs[x.candidate].own * cs[x.candidate].doses[x.option].returns
			}
			amounts := make([]float64, len(v.features))
			v.add(amounts, list)
			for i, amount := range amounts {
				worth += v.features[i].worth(amount)
			}
			return worth, ok && inTime
		}
		best := none
		everySequence(cs, func(list []choice) {
			if w, ok := truth(list); ok {
				best = max(best, w)
			}
		})
		for _, e := range []effort{usual, {walks: 100000}} {
			chosen, bound := v.best(f, e)
			if best == none {
				assert.Empty(t, chosen)
				continue
			}
			real, ok := truth(chosen)
			assert.True(t, ok)
			assert.InDelta(t, bound.Value, real, 1e-6, "the value is the plan's own")
			assert.GreaterOrEqual(t, bound.Most, best-1e-6, "the bound is one")
			assert.LessOrEqual(t, best-real, e.near*max(0, bound.Value+bound.Unfilled)+1e-6, "nothing better was missed")
		}
		if best == none {
			return
		}
		// What a further limit takes away never leads over the bound.
		var fewer []candidate
		for _, c := range cs {
			if c.variant.Family != "h" {
				c.doses = slices.Clone(c.doses)
				fewer = append(fewer, c)
			}
		}
		for _, e := range []effort{usual, {walks: 100000}} {
			_, bound := v.best(f, e)
			less, with := r.value(fewer).best(f, e)
			if len(less) == 0 {
				continue
			}
			assert.LessOrEqual(t, with.Value, bound.Most+1e-6, "a limit more is never worth more than the bound")
			if e.near == 0 {
				assert.LessOrEqual(t, with.Most, bound.Most+1e-6, "and never raises it")
			}
		}
		tried++
	})
	t.Logf("%d small libraries", tried)
	assert.Positive(t, tried)
}

func TestFeaturesHaveFallingReturns(t *testing.T) {
	f := feature{slopes: [3]float64{2, 1, 0.5}}
	assert.Equal(t, 2.5, f.worth(1.5))
	assert.Equal(t, 4.0, f.worth(4))
	over, at := leftOver(f.corners(), 1.5)
	assert.Equal(t, 0.5, over)
	assert.Equal(t, 1.0, at)
}
