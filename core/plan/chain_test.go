package plan

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"restbend/core/exercise"
)

// plainly is what the order of a given sequence costs and the seconds it takes, worked
// out plainly; ok is false when the sequence is not allowed.
func plainly(place exercise.Place, cs []candidate, list []choice, oneMore float64) (cost float64, seconds int, ok bool) {
	if len(list) == 0 {
		return 0, 0, false
	}
	at, phase := standingPosition, -1
	skip := func(to int) {
		for p := phase + 1; p < to; p++ {
			if p == 0 || p == 5 {
				cost += skippedEnd
			} else {
				cost += skippedPhase
			}
		}
	}
	for n, x := range list {
		v := cs[x.candidate].variant
		if n > 0 && isFloor(place, v.Position) && !isFloor(place, at) {
			return 0, 0, false
		}
		index := slices.Index(exercise.Phases, cs[x.candidate].phase)
		skip(index)
		phase = index
		cost += moveCost(place, at, v.Position) + oneMore
		setUp := 8.0
		if cs[x.candidate].sided {
			setUp += SideSeconds
		}
		seconds += int(mover{place: place}.change(at, v.Position)-8) + int(math.Round(cs[x.candidate].doses[x.option].seconds+setUp))
		at = v.EndPosition
	}
	skip(len(exercise.Phases))
	return cost + moveCost(place, at, standingPosition), seconds + int(mover{place: place}.up(at)), true
}

// inMinutes is what a session's seconds cost; ok is false when they are too many.
func inMinutes(seconds, target int) (cost float64, ok bool) {
	miss := math.Abs(float64(seconds - target))
	if miss > 0.02*float64(target) {
		return 1000 + 10*miss, seconds < target
	}
	return minuteMissCost * miss, true
}

// everySequence visits every choice of candidates, in order, with every dose.
func everySequence(cs []candidate, visit func(list []choice)) {
	var try func(i int, list []choice)
	try = func(i int, list []choice) {
		if i == len(cs) {
			visit(list)
			return
		}
		try(i+1, list)
		for d := range cs[i].doses {
			try(i+1, append(slices.Clone(list), choice{i, d}))
		}
	}
	try(0, nil)
}

func frameOf(place exercise.Place, target int) frame { return Request{Place: place}.newFrame(target) }

// inOrder puts candidates into session order.
func inOrder(cs []candidate) {
	slices.SortStableFunc(cs, func(a, b candidate) int {
		if by := slices.Index(exercise.Phases, a.phase) - slices.Index(exercise.Phases, b.phase); by != 0 {
			return by
		}
		return a.variant.Position.Rank() - b.variant.Position.Rank()
	})
}

// TestAWalkFindsTheBestOfARegion compares a walk with every possible sequence of
// small libraries, at any price of a second and in any part of all sessions; and what
// the best through each candidate is worth.
func TestAWalkFindsTheBestOfARegion(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 6).Draw(t, "candidates")
		var cs []candidate
		for i := range n {
			position := rapid.SampledFrom([]exercise.Position{"supine", "four_point", "standing_supported", "standing"})
			c := candidate{phase: rapid.SampledFrom(exercise.Phases).Draw(t, "phase"), own: rapid.Float64Range(0, 6).Draw(t, "own"), sided: rapid.Bool().Draw(t, "sided"),
				variant: &exercise.Variant{ID: string(rune('a' + i)), Position: position.Draw(t, "from"), EndPosition: position.Draw(t, "to")}}
			for range rapid.IntRange(1, 3).Draw(t, "doses") {
				c.doses = append(c.doses, option{seconds: float64(rapid.IntRange(20, 160).Draw(t, "seconds")), returns: rapid.Float64Range(0.3, 1.3).Draw(t, "returns")})
			}
			cs = append(cs, c)
		}
		inOrder(cs)
		f := frameOf("mat", 600)
		c := newChain(valued{cs: cs}, newCourse(f, cs))
		g := &region{block: make([]mark, len(c.blocks)), candidate: make([]mark, n), prices: prices{second: rapid.Float64Range(-0.1, 0.1).Draw(t, "price")}}
		for q := range g.block {
			g.block[q] = rapid.SampledFrom([]mark{open, open, barred, wanted}).Draw(t, "block")
		}
		for i := range cs {
			g.candidate[i] = rapid.SampledFrom([]mark{open, open, open, barred, wanted}).Draw(t, "mark")
			g.doses = append(g.doses, uint64(rapid.IntRange(1, 1<<len(cs[i].doses)-1).Draw(t, "allowed")))
		}
		for q, b := range c.blocks {
			for i := b.lo; i < b.hi && g.block[q] == barred; i++ {
				g.candidate[i] = barred // as the search does
			}
		}
		inside := func(list []choice) bool { return g.holds(c.blocks, list) }
		best, through := none, make([]float64, n)
		clearTo(through)
		everySequence(cs, func(list []choice) {
			cost, seconds, ok := plainly("mat", cs, list, f.oneMore)
			if !ok || !inside(list) {
				return
			}
			worth := -cost - g.prices.second*float64(seconds)
			for _, x := range list {
				worth += cs[x.candidate].own * cs[x.candidate].doses[x.option].returns
			}
			best = max(best, worth)
			for _, x := range list {
				through[x.candidate] = max(through[x.candidate], worth)
			}
		})
		chosen, worth := c.walk(g)
		if best == none {
			assert.Empty(t, chosen)
			return
		}
		assert.True(t, inside(chosen))
		assert.InDelta(t, best, worth, 1e-6)
		c.through(g, func(i int, worth float64) {
			if through[i] == none {
				assert.Equal(t, none, worth)
			} else {
				assert.InDelta(t, through[i], worth, 1e-6)
			}
		})
	})
}

// holds says whether a session is one of a region.
func (g *region) holds(blocks []block, list []choice) bool {
	for q, b := range blocks {
		used := slices.ContainsFunc(list, func(x choice) bool { return x.candidate >= b.lo && x.candidate < b.hi })
		if used && g.block[q] == barred || !used && g.block[q] == wanted {
			return false
		}
	}
	for i, m := range g.candidate {
		at := slices.IndexFunc(list, func(x choice) bool { return x.candidate == i })
		if at >= 0 && (m == barred || g.doses[i]>>list[at].option&1 == 0) || at < 0 && m == wanted {
			return false
		}
	}
	return true
}

func clearTo(values []float64) {
	for i := range values {
		values[i] = none
	}
}

func TestChangeOver(t *testing.T) {
	assert.Equal(t, 8.0, mover{place: "mat"}.change("supine", "supine"))
	assert.Equal(t, 55.0, mover{place: "mat"}.change("standing", "supine"), "8 + 10 + 22 and a way to the floor")
	assert.Equal(t, 40.0, mover{place: "bed"}.change("standing", "supine"), "a bed is no floor")
	assert.Equal(t, 0.0, mover{place: "mat"}.up("standing"))
	assert.Equal(t, 47.0, mover{place: "mat"}.up("supine"))
	assert.Equal(t, 79.0, mover{"mat", true}.change("standing", "supine"), "8 and half as much again of 47")
	assert.Equal(t, 8.0, mover{"mat", true}.change("supine", "supine"), "setting up takes no longer")
}
