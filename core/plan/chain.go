package plan

import (
	"math"
	"slices"

	"restbend/core/exercise"
)

// prices are what one of each feature is worth for the moment, and what a second
// costs.
type prices struct {
	of     []float64
	second float64
}

// chain finds the sequence worth most when each feature and each second has its
// price. Then what may follow depends only on the phase and position that a session
// stands in, its states, and one walk through the candidates in session order finds
// the true best of all sequences of a region.
type chain struct {
	*course
	v      valued
	full   [][]share // what each candidate holds of features with a full dose
	whole  [][]share // and with any
	blocks []block
	states []state
	onward [][]arc // by state, to the blocks that may follow
	// What the walk fills: by state its value and the candidate that reached it,
	// within a wanted block also those that passed through it; by candidate its
	// worth, the dose that has it and the candidate before.
	top, within  []float64
	by, withinBy []int
	worth        []float64
	dose         []int
	doseWorth    [][]float64 // and what each dose has
	before       []int
	reach        []float64 // the most that a sequence is worth as far as the candidate
	enter        []float64 // by block, the most that one is worth from there on
	chosen       []choice
}

// share is so much of a feature.
type share struct {
	feature int
	amount  float64
}

// state is the phase and position that an exercise ended in, and what coming up
// from there at the end costs.
type state struct {
	phase, end int
	finish     arc
}

// block is the candidates of one phase that start in one position; they follow each
// other in session order. The arcs lead to it from the start, if it may begin a
// session, from earlier phases and from its own.
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

func newChain(v valued, k *course) *chain {
	n := len(v.cs)
	c := &chain{course: k, v: v, worth: make([]float64, n), dose: make([]int, n), before: make([]int, n), reach: make([]float64, n)}
	var all []share // in one piece, since it is read so often
	shares := func(units []unit, whole bool) []share {
		from := len(all)
		for _, u := range units {
			if u.whole == whole {
				all = append(all, share{u.feature, u.amount})
			}
		}
		return all[from:len(all):len(all)]
	}
	for i := range v.cs {
		c.full, c.whole = append(c.full, shares(v.cs[i].units, false)), append(c.whole, shares(v.cs[i].units, true))
		c.doseWorth = append(c.doseWorth, make([]float64, len(v.cs[i].doses)))
	}
	stateOf := make([]int, n)
	for i := range v.cs {
		stateOf[i] = slices.IndexFunc(c.states, func(s state) bool { return s.phase == k.phase[i] && s.end == k.end[i] })
		if stateOf[i] < 0 {
			stateOf[i] = len(c.states)
			c.states = append(c.states, state{k.phase[i], k.end[i],
				arc{stateOf[i], k.skips(k.phase[i], len(k.skip)) + k.cost[k.end[i]][k.standing], float64(k.up[k.end[i]])}})
		}
	}
	for i := range v.cs {
		if last := len(c.blocks) - 1; last < 0 || k.phase[c.blocks[last].lo] != k.phase[i] || k.start[c.blocks[last].lo] != k.start[i] {
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
	phase, start := c.phase[i], c.start[i]
	b := block{lo: i}
	if from := c.f.from.Rank(); c.f.mayStart(phase, exercise.Positions[start]) {
		b.begin = &arc{-1, c.skips(c.f.begun, phase) + c.cost[from][start], float64(c.move[from][start])}
	}
	for n, s := range c.states {
		if s.phase > phase || !c.follows(s.phase, s.end, start) {
			continue
		}
		a := arc{n, c.skips(s.phase, phase) + c.cost[s.end][start], float64(c.move[s.end][start])}
		if s.phase == phase {
			b.beside = append(b.beside, a)
		} else {
			b.earlier = append(b.earlier, a)
		}
	}
	return b
}

var none = math.Inf(-1)

// price works out each candidate's best dose of those that the region allows.
func (c *chain) price(g *region) {
	of, second := g.prices.of, g.prices.second
	for i := range c.v.cs {
		if g.candidate[i] == barred {
			continue
		}
		k := &c.v.cs[i]
		full, whole := k.own, -c.f.oneMore
		for _, u := range c.full[i] {
			full += of[u.feature] * u.amount
		}
		for _, u := range c.whole[i] {
			whole += of[u.feature] * u.amount
		}
		best, at := none, 0
		for d := range k.doses {
			if g.doses[i]>>d&1 == 0 {
				continue
			}
			o := &k.doses[d]
			w := whole + full*o.returns - second*float64(c.seconds[i][d])
			for _, u := range o.uses {
				w += of[u.feature] * u.amount
			}
			if c.doseWorth[i][d] = w; w > best {
				best, at = w, d
			}
		}
		c.worth[i], c.dose[i] = best, at
	}
}

// walk returns the sequence of a region that is worth most at its prices, with what
// it is worth; nil when there is none. The sequence is kept until the next walk.
func (c *chain) walk(g *region) ([]choice, float64) {
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
		c.chosen = append(c.chosen, choice{i, c.dose[i]})
	}
	slices.Reverse(c.chosen)
	return c.chosen, best
}

// through calls visit for every candidate of a region that a walk at its prices has
// just reached, with the most that any sequence through it is worth.
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
