package optimize

import (
	"container/heap"
	"math/bits"
	"slices"
)

// mark says what a region of the search has decided about a candidate or a block.
type mark int8

const (
	open   mark = iota
	barred      // no selection of the region holds it
	wanted      // every one does
)

// region is a set of selections: those that hold what is wanted and nothing that is barred,
// in options whose bits are set. No selection in it is worth more than bound, as prices show.
type region struct {
	block, candidate []mark
	options          []uint64
	prices           prices
	bound            float64
	order            int // of finding, to settle ties
	// By what it is to be divided: a block or a candidate, or where few is set by
	// these options of the candidate.
	splitBlock, splitCandidate int
	few                        uint64
}

// half is a copy of a region, to become one half of it.
func (g *region) half() *region {
	return &region{block: slices.Clone(g.block), candidate: slices.Clone(g.candidate), options: slices.Clone(g.options),
		prices: prices{slices.Clone(g.prices.of), g.prices.second}, bound: g.bound}
}

// regions is a heap of those still open, the highest bound first.
type regions []*region

func (o regions) Len() int { return len(o) }
func (o regions) Less(i, j int) bool {
	if o[i].bound != o[j].bound {
		return o[i].bound > o[j].bound
	}
	return o[i].order < o[j].order
}
func (o regions) Swap(i, j int) { o[i], o[j] = o[j], o[i] }
func (o *regions) Push(x any)   { *o = append(*o, x.(*region)) }
func (o *regions) Pop() any {
	last := len(*o) - 1
	g := (*o)[last]
	*o = (*o)[:last]
	return g
}

// agreed is how far from always or never a use may be that counts as either.
const agreed = 0.08

// examine prunes a region whose prices were adjusted, or decides how it is to be divided and
// queues it.
func (s *search) examine(g *region) {
	if g.bound > s.enough() && !s.divided(g) {
		// The same selection every time: look again at prices at which it is worth exactly
		// its true value.
		s.tighten(g)
		s.rounds(g, regionRounds)
		if g.bound > s.enough() && !s.divided(g) && !s.dividedAnyhow(g) {
			if s.polisher.next != nil { // but for the ways that each takes in it, which are not divided
				s.pruned = max(s.pruned, g.bound)
			}
			return // one selection is left, and it was considered
		}
	}
	if g.bound <= s.enough() {
		s.pruned = max(s.pruned, g.bound)
		return
	}
	s.narrow(g)
	g.order, s.found = s.found, s.found+1
	heap.Push(&s.regions, g)
}

// narrow bars the candidates and options of a region that no selection better than the
// incumbent can hold.
func (s *search) narrow(g *region) {
	chosen, worth := s.pass(g)
	if chosen == nil {
		return
	}
	over, enough := s.read(g, chosen, worth).bound-worth, s.enough()
	s.through(g, func(i int, worth float64) {
		if most := worth + over; most <= enough {
			s.pruned = max(s.pruned, most)
			g.candidate[i] = barred
			return
		}
		if bits.OnesCount64(g.options[i]) < 2 {
			return
		}
		for d := range s.Candidates[i].Options {
			if g.options[i]>>d&1 == 0 {
				continue
			}
			if most := worth + over + s.optionWorth[i][d] - s.worth[i]; most <= enough {
				s.pruned = max(s.pruned, most)
				g.options[i] &^= 1 << d
			}
		}
	})
}

// divided decides by what a region is to be divided in two: what the last rounds
// agreed on least. First it is whether a block is used, since ways between
// states are what prices mix, then whether a candidate is, then its option. False when they
// agreed on all.
func (s *search) divided(g *region) bool {
	g.splitBlock, g.splitCandidate, g.few = -1, -1, 0
	least := agreed
	for q, use := range s.usedBlock {
		if u := min(use, 1-use); g.block[q] == open && u > least {
			g.splitBlock, least = q, u
		}
	}
	if g.splitBlock >= 0 {
		return true
	}
	for i, use := range s.used {
		if u := min(use, 1-use); g.candidate[i] == open && u > least {
			g.splitCandidate, least = i, u
		}
	}
	if g.splitCandidate >= 0 {
		return true
	}
	for i, use := range s.used {
		if u := use - slices.Max(s.usedOption[i]); u > least {
			g.splitCandidate, least = i, u
		}
	}
	if i := g.splitCandidate; i >= 0 {
		g.few = s.fewer(g, i)
	}
	return g.splitCandidate >= 0
}

// dividedAnyhow divides a region whose rounds agreed: by whether the candidate used
// most is used, or else by the option of one that has more than one left.
func (s *search) dividedAnyhow(g *region) bool {
	most := -1.0
	for i, use := range s.used {
		if g.candidate[i] == open && use > most {
			g.splitCandidate, most = i, use
		}
	}
	if most >= 0 {
		return true
	}
	for i := range s.used {
		if g.candidate[i] == wanted && bits.OnesCount64(g.options[i]) > 1 {
			g.splitCandidate, g.few = i, s.fewer(g, i)
			return true
		}
	}
	return false
}

// fewer are those options of a candidate that take no longer than it took on average.
func (s *search) fewer(g *region, i int) (few uint64) {
	mean := 0.0
	for d, u := range s.usedOption[i] {
		mean += u * float64(s.Candidates[i].Options[d].Seconds)
	}
	for d := range s.Candidates[i].Options {
		if g.options[i]>>d&1 == 1 && float64(s.Candidates[i].Options[d].Seconds)*s.used[i] <= mean {
			few |= 1 << d
		}
	}
	if few == 0 || few == g.options[i] {
		few = g.options[i] & -g.options[i] // the first alone
	}
	return few
}

// parts are the two halves of a region as it is to be divided.
func (g *region) parts(blocks []block) (yes, no *region) {
	yes, no = g.half(), g.half()
	switch q, i := g.splitBlock, g.splitCandidate; {
	case q >= 0:
		yes.block[q], no.block[q] = wanted, barred
		for i := blocks[q].lo; i < blocks[q].hi; i++ {
			no.candidate[i] = barred
		}
	case g.few == 0:
		yes.candidate[i], no.candidate[i] = wanted, barred
	default:
		yes.options[i], no.options[i] = g.few, g.options[i]&^g.few
	}
	return yes, no
}
