package optimize

import (
	"math"
	"slices"
)

// prices are what one of each feature is worth for the moment, and what a second
// costs.
type prices struct {
	of     []float64
	second float64
}

// chain finds the best sequence at given prices of features and seconds. At fixed prices what
// may follow depends only on the group and state that a sequence has reached, so one dynamic
// program over the candidates in order finds the best of all sequences of a region.
type chain struct {
	*Problem
	full   [][]share // what each candidate holds of features in a full option
	whole  [][]share // and in any
	blocks []block
	states []state
	onward [][]arc // by state, to the blocks that may follow
	// What a pass fills: by state its value and the candidate that reached it,
	// within a wanted block also those that passed through it; by candidate its
	// worth, the choice that has it and the candidate before.
	top, within  []float64
	by, withinBy []int
	worth        []float64
	best         []Choice
	optionWorth  [][]float64 // and what each option has
	before       []int
	reach        []float64 // the most that a sequence is worth as far as the candidate
	enter        []float64 // by block, the most that one is worth from there on
	chosen       []Choice
}

// share is so much of a feature.
type share struct {
	feature int
	amount  float64
}

// state is the group and state that a candidate ended in, and what going home from
// there costs.
type state struct {
	group, end int
	finish     arc
}

// block is the candidates of one group that start in one state; they follow each
// other in order. The arcs lead to it from the start, if it may begin a selection,
// from earlier groups and from its own.
type block struct {
	lo, hi          int // candidates
	begin           *arc
	earlier, beside []arc
	state           []int // that each of its candidates ends in
}

// arc is a way from a state, or on to a block, with what it costs and the seconds it
// takes.
type arc struct {
	of            int // the state or block
	cost, seconds float64
}

func newChain(p *Problem) *chain {
	n := len(p.Candidates)
	c := &chain{Problem: p, worth: make([]float64, n), best: make([]Choice, n), before: make([]int, n), reach: make([]float64, n)}
	var all []share // in one piece, since it is read so often
	shares := func(units []Unit, whole bool) []share {
		from := len(all)
		for _, u := range units {
			if u.Whole == whole {
				all = append(all, share{u.Feature, u.Amount})
			}
		}
		return all[from:len(all):len(all)]
	}
	for i := range p.Candidates {
		k := &p.Candidates[i]
		c.full, c.whole = append(c.full, shares(k.Units, false)), append(c.whole, shares(k.Units, true))
		c.optionWorth = append(c.optionWorth, make([]float64, len(k.Options)))
	}
	stateOf := make([]int, n)
	for i := range p.Candidates {
		k := &p.Candidates[i]
		stateOf[i] = slices.IndexFunc(c.states, func(s state) bool { return s.group == k.Group && s.end == k.End })
		if stateOf[i] < 0 {
			stateOf[i] = len(c.states)
			c.states = append(c.states, state{k.Group, k.End,
				arc{stateOf[i], p.skips(k.Group, len(p.Skip)) + p.Ways.Cost[k.End][p.Ways.Home], float64(p.Ways.HomeSeconds[k.End])}})
		}
	}
	for i := range p.Candidates {
		if last := len(c.blocks) - 1; last < 0 || p.Candidates[c.blocks[last].lo].Group != p.Candidates[i].Group ||
			p.Candidates[c.blocks[last].lo].Start != p.Candidates[i].Start {
			c.blocks = append(c.blocks, c.newBlock(i))
		}
		b := &c.blocks[len(c.blocks)-1]
		b.hi = i + 1
		b.state = append(b.state, stateOf[i])
	}
	c.enter, c.onward = make([]float64, len(c.blocks)), make([][]arc, len(c.states))
	for q, b := range c.blocks {
		for _, a := range slices.Concat(b.earlier, b.beside) {
			c.onward[a.of] = append(c.onward[a.of], arc{q, a.cost, a.seconds})
		}
	}
	s := len(c.states)
	c.top, c.within, c.by, c.withinBy = make([]float64, s), make([]float64, s), make([]int, s), make([]int, s)
	return c
}

// newBlock is the block that begins with a candidate, with the ways that lead to it.
func (c *chain) newBlock(i int) block {
	w, group, start := &c.Ways, c.Candidates[i].Group, c.Candidates[i].Start
	b := block{lo: i}
	if group >= w.Begun && w.MayStart[start] {
		b.begin = &arc{-1, c.skips(w.Begun, group) + w.Cost[w.From][start], float64(w.Seconds[w.From][start])}
	}
	for n, s := range c.states {
		if s.group > group || !w.May[s.group][s.end][start] {
			continue
		}
		a := arc{n, c.skips(s.group, group) + w.Cost[s.end][start], float64(w.Seconds[s.end][start])}
		if s.group == group {
			b.beside = append(b.beside, a)
		} else {
			b.earlier = append(b.earlier, a)
		}
	}
	return b
}

var none = math.Inf(-1)

// price works out each candidate's best option of those that the region allows.
func (c *chain) price(g *region) {
	of, second := g.prices.of, g.prices.second
	for i := range c.Candidates {
		if g.candidate[i] == barred {
			continue
		}
		k := &c.Candidates[i]
		full, whole := k.Own, -c.Begin
		for _, u := range c.full[i] {
			full += of[u.feature] * u.amount
		}
		for _, u := range c.whole[i] {
			whole += of[u.feature] * u.amount
		}
		best, at := none, Choice{Candidate: i}
		for d := range k.Options {
			if g.options[i]>>d&1 == 0 {
				continue
			}
			o := &k.Options[d]
			w := whole + full*o.Returns - second*float64(o.Seconds)
			for _, u := range o.Uses {
				w += of[u.Feature] * u.Amount
			}
			now := Choice{Candidate: i, Option: d}
			if len(o.Shares) > 0 {
				w += o.pickOver(of, best-w, &now)
			}
			if c.optionWorth[i][d] = w; w > best {
				best, at = w, now
			}
		}
		c.worth[i], c.best[i] = best, at
	}
}

// pass returns the best sequence of a region at its prices, with its value; nil when there is
// none. The sequence is valid until the next pass.
func (c *chain) pass(g *region) ([]Choice, float64) {
	c.price(g)
	for s := range c.top {
		c.top[s], c.within[s] = none, none
	}
	second, begun := g.prices.second, false
	for q := range c.blocks {
		b := &c.blocks[q]
		if g.block[q] == barred {
			continue
		}
		first, from := none, -1
		if b.begin != nil && !begun {
			first = -b.begin.cost - second*b.begin.seconds
		}
		for _, a := range b.earlier {
			if w := c.top[a.of] - a.cost - second*a.seconds; w > first {
				first, from = w, c.by[a.of]
			}
		}
		for i := b.lo; i < b.hi; i++ {
			if g.candidate[i] == barred {
				continue
			}
			c.reach[i] = none
			best, by := first, from
			for _, a := range b.beside {
				way := a.cost + second*a.seconds
				if w := c.top[a.of] - way; w > best {
					best, by = w, c.by[a.of]
				}
				if w := c.within[a.of] - way; w > best {
					best, by = w, c.withinBy[a.of]
				}
			}
			if g.candidate[i] == wanted { // nothing leads past it
				for s := range c.top {
					c.top[s], c.within[s] = none, none
				}
				first, begun = none, true
			}
			if best == none {
				continue
			}
			best += c.worth[i]
			c.before[i], c.reach[i] = by, best
			s := b.state[i-b.lo]
			switch {
			case g.block[q] == wanted:
				if best > c.within[s] {
					c.within[s], c.withinBy[s] = best, i
				}
			case best > c.top[s]:
				c.top[s], c.by[s] = best, i
			}
		}
		if g.block[q] == wanted {
			begun = true
			for s := range c.top {
				c.top[s], c.by[s], c.within[s] = c.within[s], c.withinBy[s], none
			}
		}
	}
	best, last := none, -1
	for s := range c.states {
		a := &c.states[s].finish
		if w := c.top[s] - a.cost - second*a.seconds; w > best {
			best, last = w, c.by[s]
		}
	}
	c.chosen = c.chosen[:0]
	if best == none {
		return nil, none
	}
	for i := last; i >= 0; i = c.before[i] {
		c.chosen = append(c.chosen, c.best[i])
	}
	slices.Reverse(c.chosen)
	return c.chosen, best
}

// through calls visit for every candidate of a region that the last pass has reached, with
// the value of the best sequence through it.
func (c *chain) through(g *region, visit func(i int, worth float64)) {
	second, ends := g.prices.second, true
	for q := range c.enter {
		c.enter[q] = none
	}
	for q := len(c.blocks) - 1; q >= 0; q-- {
		b := &c.blocks[q]
		if g.block[q] == barred {
			continue
		}
		for i := b.hi - 1; i >= b.lo; i-- {
			if g.candidate[i] == barred {
				continue
			}
			rest, s := none, b.state[i-b.lo]
			if ends {
				rest = -c.states[s].finish.cost - second*c.states[s].finish.seconds
			}
			for _, a := range c.onward[s] {
				rest = max(rest, c.enter[a.of]-a.cost-second*a.seconds)
			}
			visit(i, c.reach[i]+rest)
			if g.candidate[i] == wanted { // nothing leads past it
				ends = false
				for q := range c.enter {
					c.enter[q] = none
				}
			}
			c.enter[q] = max(c.enter[q], c.worth[i]+rest)
		}
		if g.block[q] == wanted {
			ends = false
			for later := q + 1; later < len(c.enter); later++ {
				c.enter[later] = none
			}
		}
	}
}
