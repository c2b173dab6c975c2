package optimize

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

const states, groups = 3, 4

// problems draws small problems; shared ones have three who take part, each in her own way.
func problems(t *rapid.T, shared bool) Problem {
	p := Problem{Begin: rapid.Float64Range(0, 1).Draw(t, "begin")}
	for range groups {
		p.Skip = append(p.Skip, rapid.Float64Range(0, 3).Draw(t, "skip"))
	}
	number := func(most int, of string) int { return rapid.IntRange(0, most).Draw(t, of) }
	w := &p.Ways
	w.From, w.Home, w.Begun = number(states-1, "from"), number(states-1, "home"), -1
	for from := range states {
		var seconds []int
		var cost []float64
		for to := range states {
			if from == to {
				seconds, cost = append(seconds, 0), append(cost, 0)
				continue
			}
			seconds, cost = append(seconds, number(30, "way")), append(cost, rapid.Float64Range(0, 3).Draw(t, "cost"))
		}
		w.Seconds, w.Cost = append(w.Seconds, seconds), append(w.Cost, cost)
		w.HomeSeconds, w.MayStart = append(w.HomeSeconds, number(30, "home")), append(w.MayStart, number(4, "start") > 0)
	}
	for range groups {
		var may [][]bool
		for range states {
			may = append(may, rapid.SliceOfN(rapid.SampledFrom([]bool{true, true, true, false}), states, states).Draw(t, "may"))
		}
		w.May = append(w.May, may)
	}
	target := rapid.IntRange(100, 500).Draw(t, "target")
	p.Time = Time{Target: target, Least: target - target/50, Limit: target + target/50, Miss: 0.05, Outside: 1000, MissOutside: 10}
	for range 4 {
		a := rapid.Float64Range(0, 6).Draw(t, "first")
		b := rapid.Float64Range(-2, a).Draw(t, "second")
		p.Features = append(p.Features,
			Feature{Slopes: [3]float64{a, b, rapid.Float64Range(-4, b).Draw(t, "third")}, Had: float64(number(4, "had")) / 4},
		)
	}
	p.Features = append(p.Features, Feature{Slopes: [3]float64{0, -200, -200}, Cap: true})
	units := func(most int) (out []Unit) {
		for range number(most, "units") {
			out = append(out,
				Unit{number(len(p.Features)-1, "feature"), rapid.Float64Range(0.1, 1).Draw(t, "amount"), rapid.Bool().Draw(t, "whole")},
			)
		}
		return
	}
	for range rapid.IntRange(1, 6).Draw(t, "candidates") {
		c := Candidate{
			Group: number(groups-1, "group"),
			Start: number(states-1, "start"),
			End:   number(states-1, "end"),
			Own:   rapid.Float64Range(-1, 6).Draw(t, "own"),
			Units: units(2),
		}
		for range rapid.IntRange(1, 2).Draw(t, "options") {
			o := Option{Seconds: rapid.IntRange(20, 160).Draw(t, "seconds"), Returns: rapid.Float64Range(0.3, 1.3).Draw(t, "returns")}
			for n := 0; shared && n < 2; n++ {
				var ways []Way
				ways = append(ways, Way{Own: rapid.Float64Range(-1, 2).Draw(t, "by itself"), Units: units(1)}) // of a kind open to all
				for range number(2, "more ways") {
					ways = append(ways, Way{rapid.Float64Range(-1, 2).Draw(t, "by itself"), units(1), uint8(number(3, "kind"))})
				}
				o.Shares, o.Kinds, o.More = append(o.Shares, ways), number(2, "kinds"), float64(number(2, "more"))/2
			}
			c.Options = append(c.Options, o)
		}
		p.Candidates = append(p.Candidates, c)
	}
	slices.SortStableFunc(p.Candidates, func(a, b Candidate) int { return (a.Group-b.Group)*states + a.Start - b.Start })
	return p
}

// order is what the order of a given sequence costs and the seconds it takes, worked out
// plainly; ok is false when the sequence is not allowed.
func (p Problem) order(list []Choice) (cost float64, seconds int, ok bool) {
	if len(list) == 0 {
		return 0, 0, false
	}
	at, used := p.Ways.From, map[int]bool{}
	for n, x := range list {
		c := p.Candidates[x.Candidate]
		if n == 0 && !p.Ways.MayStart[c.Start] || n > 0 && !p.Ways.May[p.Candidates[list[n-1].Candidate].Group][at][c.Start] {
			return 0, 0, false
		}
		used[c.Group] = true
		cost += p.Ways.Cost[at][c.Start] + p.Begin
		seconds += p.Ways.Seconds[at][c.Start] + c.Options[x.Option].Seconds
		at = c.End
	}
	for g, skip := range p.Skip {
		if !used[g] {
			cost += skip
		}
	}
	return cost + p.Ways.Cost[at][p.Ways.Home], seconds + p.Ways.HomeSeconds[at], true
}

// worth is what a sequence is worth in all, worked out plainly; ok is false where it is
// not allowed or too long.
func (p Problem) worth(list []Choice) (float64, bool) {
	cost, seconds, ok := p.order(list)
	if !ok || seconds > p.Time.Limit {
		return 0, false
	}
	miss := math.Abs(float64(seconds - p.Time.Target))
	worth := -cost
	if seconds < p.Time.Least {
		worth -= 1000 + 10*miss
	} else {
		worth -= 0.05 * miss
	}
	amounts := make([]float64, len(p.Features))
	for _, x := range list {
		c := p.Candidates[x.Candidate]
		o := c.Options[x.Option]
		worth += c.Own * o.Returns
		for _, u := range c.Units {
			if !u.Whole {
				u.Amount *= o.Returns
			}
			amounts[u.Feature] += u.Amount
		}
		kinds := map[uint8]bool{}
		for n, ways := range o.Shares {
			kinds[ways[x.Picks[n]].Kind] = true
		}
		worth -= o.More * float64(max(0, len(kinds)-1))
		for n, ways := range o.Shares {
			worth += ways[x.Picks[n]].Own
			for _, u := range ways[x.Picks[n]].Units {
				amounts[u.Feature] += u.Amount
			}
		}
	}
	for i, a := range amounts {
		worth += p.Features[i].total(p.Features[i].Had+a) - p.Features[i].total(p.Features[i].Had)
	}
	return worth, true
}

// every visits every choice of candidates, in order, in every option and way.
func (p Problem) every(visit func(list []Choice)) {
	var try func(i int, list []Choice)
	try = func(i int, list []Choice) {
		if i == len(p.Candidates) {
			visit(list)
			return
		}
		try(i+1, list)
		for d, o := range p.Candidates[i].Options {
			var pick func(n int, x Choice)
			pick = func(n int, x Choice) {
				if n == len(o.Shares) {
					kinds := map[uint8]bool{}
					for n, ways := range o.Shares {
						kinds[ways[x.Picks[n]].Kind] = true
					}
					if o.Kinds > 0 && len(kinds) > o.Kinds {
						return
					}
					try(i+1, append(slices.Clone(list), x))
					return
				}
				for m := range o.Shares[n] {
					x.Picks[n] = uint8(m)
					pick(n+1, x)
				}
			}
			pick(0, Choice{Candidate: i, Option: d})
		}
	}
	try(0, nil)
}

// TestAPassFindsTheBestOfARegion compares a pass with every possible sequence of small
// problems, at any price of a second and in any part of all selections; and what the best
// through each candidate is worth.
func TestAPassFindsTheBestOfARegion(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := problems(t, false)
		n := len(p.Candidates)
		c := newChain(&p)
		g := &region{
			block:     make([]mark, len(c.blocks)),
			candidate: make([]mark, n),
			prices:    prices{of: make([]float64, len(p.Features)), second: rapid.Float64Range(-0.1, 0.1).Draw(t, "price")},
		}
		for q := range g.block {
			g.block[q] = rapid.SampledFrom([]mark{open, open, barred, wanted}).Draw(t, "block")
		}
		for i, k := range p.Candidates {
			g.candidate[i] = rapid.SampledFrom([]mark{open, open, open, barred, wanted}).Draw(t, "mark")
			g.options = append(g.options, uint64(rapid.IntRange(1, 1<<len(k.Options)-1).Draw(t, "allowed")))
		}
		for q, b := range c.blocks {
			for i := b.lo; i < b.hi && g.block[q] == barred; i++ {
				g.candidate[i] = barred // as the search does
			}
		}
		inside := func(list []Choice) bool { return g.holds(c.blocks, list) }
		best, through := none, slices.Repeat([]float64{none}, n)
		p.every(func(list []Choice) {
			cost, seconds, ok := p.order(list)
			if !ok || !inside(list) {
				return
			}
			worth := -cost - g.prices.second*float64(seconds)
			for _, x := range list {
				worth += p.Candidates[x.Candidate].Own * p.Candidates[x.Candidate].Options[x.Option].Returns
			}
			best = max(best, worth)
			for _, x := range list {
				through[x.Candidate] = max(through[x.Candidate], worth)
			}
		})
		chosen, worth := c.pass(g)
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

// holds says whether a selection is one of a region.
func (g *region) holds(blocks []block, list []Choice) bool {
	for q, b := range blocks {
		used := slices.ContainsFunc(list, func(x Choice) bool { return x.Candidate >= b.lo && x.Candidate < b.hi })
		if used && g.block[q] == barred || !used && g.block[q] == wanted {
			return false
		}
	}
	for i, m := range g.candidate {
		at := slices.IndexFunc(list, func(x Choice) bool { return x.Candidate == i })
		if at >= 0 && (m == barred || g.options[i]>>list[at].Option&1 == 0) || at < 0 && m == wanted {
			return false
		}
	}
	return true
}

// TestARegionIsDividedWithoutRest: every selection of a region is in one of its halves
// and in one only, however it is divided.
func TestARegionIsDividedWithoutRest(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := problems(t, false)
		n := len(p.Candidates)
		c := newChain(&p)
		g := &region{block: make([]mark, len(c.blocks)), candidate: make([]mark, n), splitBlock: -1, splitCandidate: -1}
		for _, k := range p.Candidates {
			g.options = append(g.options, 1<<len(k.Options)-1)
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
		p.every(func(list []Choice) {
			a, b := yes.holds(c.blocks, list), no.holds(c.blocks, list)
			assert.True(t, a || b, "%v is in neither", list)
			if a && b { // only a selection without the candidate whose options are divided
				assert.NotZero(t, g.few)
				assert.False(t, slices.ContainsFunc(list, func(x Choice) bool { return x.Candidate == g.splitCandidate }))
			}
		})
	})
}

// TestTheBestIsFound compares what is chosen and its bound with every possible selection of
// small problems, those that several share too: searched to the end it is the very best,
// and else within what is near enough; nothing is worth more than the bound.
func TestTheBestIsFound(t *testing.T) {
	for _, shared := range []bool{false, true} {
		tried := 0
		rapid.Check(t, func(t *rapid.T) {
			p := problems(t, shared)
			best := none
			p.every(func(list []Choice) {
				if w, ok := p.worth(list); ok {
					best = max(best, w)
				}
			})
			for _, e := range []Effort{{Passes: 4000, Near: 0.01, Ordinary: 20}, {Passes: 100000, Ordinary: 20}} {
				chosen, bound := p.Best(e)
				if best == none {
					assert.Empty(t, chosen)
					continue
				}
				real, ok := p.worth(chosen)
				assert.True(t, ok)
				assert.InDelta(t, bound.Value, real, 1e-6, "the value is the selection's own")
				assert.InDelta(t, real, p.Worth(chosen), 1e-6)
				assert.GreaterOrEqual(t, bound.Most, best-1e-6, "the bound is one")
				missed := e.Near * max(e.Ordinary, bound.Value+bound.Unfilled)
				if shared || e.Near > 0 { // not all ways are looked into, or the passes may have run out
					missed = max(missed, bound.Most-bound.Value)
				}
				assert.LessOrEqual(t, best-real, missed+1e-6, "nothing better was missed")
			}
			if best == none {
				return
			}
			// What is taken away never leads over the bound.
			q := p
			q.Candidates = slices.Clone(p.Candidates)[:len(p.Candidates)-1]
			_, bound := p.Best(Effort{Passes: 100000, Ordinary: 20})
			if less, with := q.Best(Effort{Passes: 100000, Ordinary: 20}); len(less) > 0 {
				assert.LessOrEqual(t, with.Value, bound.Most+1e-6)
				if !shared {
					assert.LessOrEqual(t, with.Most, bound.Most+1e-6)
				}
			}
			tried++
		})
		t.Logf("%d small problems", tried)
		assert.Positive(t, tried)
	}
}

func TestFeaturesHaveFallingReturns(t *testing.T) {
	f := Feature{Slopes: [3]float64{2, 1, 0.5}}
	assert.Equal(t, 2.5, f.Worth(1.5))
	assert.Equal(t, 4.0, f.Worth(4))
	over, at := leftOver(f.corners(), 1.5)
	assert.Equal(t, 0.5, over)
	assert.Equal(t, 1.0, at)
	f.Had = 1
	assert.Equal(t, 0.5, f.Worth(0.5), "the second unit has begun")
}
