package plan

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"restbend/core/exercise"
)

// TestARegionIsDividedWithoutRest: every session of a region is in one of its halves
// and in one only, however it is divided.
func TestARegionIsDividedWithoutRest(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(2, 5).Draw(t, "candidates")
		var cs []candidate
		for range n {
			at := rapid.SampledFrom([]exercise.Position{"supine", "standing"}).Draw(t, "position")
			c := candidate{phase: "mobilise", variant: &exercise.Variant{Position: at, EndPosition: at}}
			for range rapid.IntRange(1, 3).Draw(t, "doses") {
				c.doses = append(c.doses, option{seconds: 60, returns: 1})
			}
			cs = append(cs, c)
		}
		inOrder(cs)
		v, f := valued{cs: cs}, frameOf("mat", 300)
		c := newChain(v, newCourse(f, cs))
		g := &region{block: make([]mark, len(c.blocks)), candidate: make([]mark, n), splitBlock: -1, splitCandidate: -1}
		for i := range cs {
			g.doses = append(g.doses, 1<<len(cs[i].doses)-1)
		}
		switch i := rapid.IntRange(0, n-1).Draw(t, "at"); rapid.IntRange(0, 2).Draw(t, "kind") {
		case 0:
			g.splitBlock = i % len(c.blocks)
		case 1:
			g.splitCandidate = i
		case 2:
			g.splitCandidate, g.few = i, 1
		}
		yes, no := g.parts(c.blocks)
		everySequence(cs, func(list []choice) {
			a, b := yes.holds(c.blocks, list), no.holds(c.blocks, list)
			assert.True(t, a || b, "%v is in neither", list)
			if a && b { // only a session without the candidate whose doses are divided
				assert.NotZero(t, g.few)
				assert.False(t, slices.ContainsFunc(list, func(x choice) bool { return x.candidate == g.splitCandidate }))
			}
		})
	})
}
