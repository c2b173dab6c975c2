package plan

import (
	"cmp"
	"math"
	"slices"

	"restbend/core/exercise"
)

// How long the search goes on: counts, never the clock.
const (
	coarser      = 4  // how much coarser the first table is
	coarseRounds = 60 // how often prices are moved on it
	priceRounds  = 10 // and on the whole one
	mostOthers   = 2  // and of those that do without one position or another
	mostStarts   = 2  // how many of the sessions met are improved by small changes
)

// Bound is how good a plan is known to be: its value, and what no plan for the
// request can be worth more than. Both take off what the phases cost that nothing
// can fill; Unfilled is how much that is.
type Bound struct{ Value, Most, Unfilled float64 }

// Gap is the share of the bound that may have been missed.
func (b Bound) Gap() float64 {
	most := b.Most + b.Unfilled
	if most <= 0 {
		return 0
	}
	return math.Max(0, (b.Most-b.Value)/most)
}

// search is the state of looking for the best session: prices, what was met and
// what is proven.
type search struct {
	v      valued
	prices []float64
	starts []start // the best sessions met for each position to end in, the best first
	bound  Bound
}

// best finds a session and proves how far from the best it can be. The prices are
// brought near on a table of few columns; what is met and proven comes from the
// whole one.
func (v valued) best(f frame) ([]choice, Bound) {
	s := search{v: v, prices: make([]float64, len(v.features))}
	for i, k := range v.features {
		s.prices[i] = k.start()
	}
	coarse := f
	coarse.tick *= coarser
	rough := newTable(coarse, v.cs)
	s.rounds(rough, coarseRounds) // too coarse for a very short session, it leaves the prices alone
	t := newTable(f, v.cs)
	if !s.rounds(t, priceRounds) {
		return nil, Bound{}
	}
	// Small changes lead to different ends from different beginnings.
	var kept []choice
	others := s.lacking(rough, newPolisher(v, t))
	for _, from := range append(s.starts[:min(mostStarts, len(s.starts))], others...) {
		if better, worth := newPolisher(v, t).improve(from.chosen); kept == nil || worth > s.bound.Value {
			kept, s.bound.Value = better, worth
		}
	}
	kept, s.bound.Value = newPolisher(v, t).kick(kept, s.bound.Value)
	s.bound.Unfilled = f.unfilled(v.cs)
	return kept, s.bound
}

// start is a session that was met and what it is truly worth.
type start struct {
	chosen []choice
	end    exercise.Position
	worth  float64
}

// met keeps a session if it is the best met that ends in its position: where a
// session ends is what small changes do not easily alter.
func (s *search) met(chosen []choice, worth float64) {
	s.bound.Value = math.Max(s.bound.Value, worth)
	end := s.v.cs[chosen[len(chosen)-1].candidate].variant.EndPosition
	i := slices.IndexFunc(s.starts, func(k start) bool { return k.end == end })
	switch {
	case i < 0:
		s.starts = append(s.starts, start{chosen, end, worth})
	case worth > s.starts[i].worth:
		s.starts[i] = start{chosen, end, worth}
	}
	slices.SortStableFunc(s.starts, func(a, b start) int { return cmp.Compare(b.worth, a.worth) })
}

// lacking are sessions that do without one position or another, the best for the
// present prices, as far as they are not met already: in which positions a session is
// held is what small changes do not easily alter.
func (s *search) lacking(t *table, p *polisher) []start {
	var out []start
	for _, position := range exercise.Positions {
		with := false
		for i := range s.v.cs {
			c := &s.v.cs[i]
			for k := range c.doses {
				c.doses[k].value = s.v.priced(i, c.doses[k], s.prices)
				if c.variant.Position == position {
					c.doses[k].value, with = c.doses[k].value-shunned, true
				}
			}
		}
		if !with {
			continue
		}
		chosen, _ := t.choose()
		if len(chosen) == 0 || !p.begin(chosen) {
			continue
		}
		cost, _, _ := p.path(chosen)
		out = append(out, start{chosen: chosen, worth: p.items - cost})
	}
	slices.SortStableFunc(out, func(a, b start) int { return cmp.Compare(b.worth, a.worth) })
	out = slices.CompactFunc(out, func(a, b start) bool { return slices.Equal(a.chosen, b.chosen) })
	return out[:min(mostOthers, len(out))]
}

// shunned is what it costs to use a position that a session is to do without.
const shunned = 100

// real is what a session is truly worth that is worth so much at the prices.
func (s *search) real(chosen []choice, worth float64) float64 {
	for i, amount := range s.v.amounts(chosen) {
		worth += s.v.features[i].worth(amount) - s.prices[i]*amount
	}
	return worth
}

// rounds moves the prices so many times by what the best sequence for them holds
// too much or too little of; false when there is no sequence.
func (s *search) rounds(t *table, n int) bool {
	v := s.v
	s.starts, s.bound = nil, Bound{math.Inf(-1), math.Inf(1), 0}
	slope := make([]float64, len(v.features))
	for round := range n {
		for i := range v.cs {
			for k := range v.cs[i].doses {
				v.cs[i].doses[k].value = v.priced(i, v.cs[i].doses[k], s.prices)
			}
		}
		chosen, worth := t.choose()
		if len(chosen) == 0 {
			return false
		}
		amounts := v.amounts(chosen)
		over, real, steep := 0.0, worth, 0.0
		for i, k := range v.features {
			left, at := k.left(s.prices[i])
			over += left
			slope[i] = amounts[i] - at
			steep += slope[i] * slope[i]
			real += k.worth(amounts[i]) - s.prices[i]*amounts[i]
		}
		s.met(chosen, real)
		for _, e := range t.endings() {
			other := t.trace(e)
			s.met(other, s.real(other, e.worth))
		}
		s.bound.Most = math.Min(s.bound.Most, worth+over)
		// Polyak's step toward the value already in hand.
		step := (worth + over - s.bound.Value) / math.Max(1, steep) / (1 + 0.1*float64(round))
		for i, k := range v.features {
			s.prices[i] = math.Max(k.slopes[2], math.Min(k.slopes[0], s.prices[i]-step*slope[i]))
		}
	}
	return true
}
