package optimize

import (
	"container/heap"
	"math"
	"slices"
)

// How long the search goes on, in passes over the candidates, never by the clock.
const (
	rootRounds   = 60 // in which prices are moved for all selections
	regionRounds = 16 // and for a part of them
	hardEvery    = 3  // the rounds from one start to the next where several share
)

// Effort limits a search. It ends when the result is proved to be within the share Near of
// the best, or after so many passes. Ordinary is the least worth that the share is taken of,
// since a share of almost nothing would say nothing.
type Effort struct {
	Passes   int
	Near     float64
	Ordinary float64
	From     [][]Choice // selections to start from, if any; they need not be good
	Trials   int        // changes that are tried on one selection, 0 for the usual number
}

// Bound is how good a selection is known to be: its value, and what none can be worth
// more than. Both take off what the groups cost that nothing can fill, and the time that
// cannot be filled, and count each Bonus; Unfilled is how much that is, so that with it
// both are what was chosen freely. Brought is what the selection brings before beginning,
// ways, empty groups and missed time are taken off; Ordinary is that of the effort.
type Bound struct{ Value, Most, Unfilled, Brought, Ordinary float64 }

// Gap is the share of the bound that may have been missed, or of what is ordinary where
// the bound is less; 0 for no selection.
func (b Bound) Gap() float64 {
	if b == (Bound{}) {
		return 0
	}
	return math.Max(0, (b.Most-b.Value)/math.Max(b.Ordinary, b.Most+b.Unfilled))
}

// search finds the best selection by branch and bound.
//
// A region is the set of all selections in which some blocks, candidates and options are
// wanted and some are barred; the root is the set of all selections. Prices give an upper
// bound on the value of a region. The region with the highest bound is divided, by whether a
// block is used, whether a candidate is, or by its option, and a region whose bound is within
// the tolerance of the incumbent is pruned. The highest bound that was pruned is kept, since
// the proof has to include it.
//
// A pass is one dynamic program over the candidates, which finds the best sequence at given
// prices. Passes are the only thing that is counted, so a search ends by work done and never
// by the clock. Selections near the incumbent are improved by local search.
//
// What all selections lose alike, because nothing can fill a group or the time (unfilled), and
// what all gain alike for what must be in them (bonus), is left out of the comparison and put
// back into the bound.
type search struct {
	*chain
	polisher  *polisher
	corners   [][]corner // of each feature's worth
	times     []corner   // of what the seconds in all are worth
	regions   regions
	passes    int // still allowed
	trials    int // of local search on one selection
	tolerance float64
	ordinary  float64
	rough     bool    // selections need not be improved yet
	hard      bool    // the time is hard to hit, so that any selection may be improved
	found     int     // regions
	pruned    float64 // the highest bound of a region that was pruned
	unfilled  float64
	best      []Choice // the incumbent
	value     float64  // of the incumbent
	bonus     float64  // the part of value that is for what must be in it
	// In the last rounds: how often blocks, candidates and their options were used.
	used            []float64 // by candidate
	usedBlock       []float64
	usedOption      [][]float64
	counts, total   float64
	amounts, slopes []float64
}

// Best finds a selection and proves how far from the best it can be.
func (p *Problem) Best(e Effort) ([]Choice, Bound) {
	s := &search{
		chain:     newChain(p),
		polisher:  newPolisher(p),
		passes:    e.Passes,
		trials:    e.Trials,
		tolerance: e.Near,
		ordinary:  e.Ordinary,
		pruned:    none,
		value:     none,
		used:      make([]float64, len(p.Candidates)),
		amounts:   make([]float64, len(p.Features)),
		slopes:    make([]float64, len(p.Features)),
	}
	if s.trials == 0 {
		s.trials = mostTrials
	}
	s.usedBlock = make([]float64, len(s.blocks))
	for i := range p.Candidates {
		s.usedOption = append(s.usedOption, make([]float64, len(p.Candidates[i].Options)))
	}
	for _, k := range p.Features {
		s.corners = append(s.corners, k.corners())
	}
	root := s.root(true)
	if root == nil {
		root = s.root(false) // the time does not hold all that is fixed
	}
	if root == nil {
		return nil, Bound{}
	}
	s.rough, s.hard = true, s.polisher.next != nil && len(e.From) == 0
	s.rounds(root, rootRounds)
	s.rough = false
	s.consider(s.best, s.trials)
	for _, from := range e.From {
		s.consider(from, s.trials)
	}
	s.examine(root)
	for len(s.regions) > 0 && s.passes > 0 {
		g := heap.Pop(&s.regions).(*region)
		if g.bound <= s.enough() {
			s.pruned = math.Max(s.pruned, g.bound)
			break // none of the others has more
		}
		yes, no := g.parts(s.blocks)
		for _, half := range []*region{yes, no} {
			s.rounds(half, regionRounds)
			s.examine(half)
		}
	}
	most := math.Max(s.value, s.pruned)
	if len(s.regions) > 0 {
		most = math.Max(most, s.regions[0].bound)
	}
	cost, used, _ := s.Path(s.best)
	brought := s.value + cost + s.Time.missCost(used) + s.Begin*float64(len(s.best)) - s.bonus
	return s.best, Bound{s.value, most, s.unfilled - s.bonus, brought, s.ordinary}
}

// enough is the bound up to which a region is pruned.
func (s *search) enough() float64 {
	return s.value + math.Max(1e-9, s.tolerance*math.Max(s.ordinary, s.value+s.unfilled-s.bonus))
}

// root is the region of all selections, with prices half-way down and the price of a
// second at which the time comes out; nil when not even one candidate fits, or not
// all that is fixed where that is wanted. It meets a first selection on the way.
func (s *search) root(fixed bool) *region {
	g := &region{block: make([]mark, len(s.blocks)), candidate: make([]mark, len(s.Candidates)), bound: math.Inf(1)}
	for i := range s.Candidates {
		g.options = append(g.options, 1<<len(s.Candidates[i].Options)-1)
		if fixed && s.Candidates[i].Must {
			g.candidate[i] = wanted
		}
	}
	for _, k := range s.Features {
		g.prices.of = append(g.prices.of, k.start())
	}
	at := func(second float64) int {
		g.prices.second = second
		chosen, _ := s.pass(g)
		if chosen == nil {
			return 0
		}
		_, used, _ := s.Path(chosen)
		if s.polisher.begin(chosen) && s.polisher.best > s.value {
			s.accept(chosen, s.polisher.best)
		}
		return used
	}
	longest := at(-1e6) // nothing but time counts
	if longest == 0 {
		return nil
	}
	s.unfilled = s.Problem.unfilled()
	bends := []int{0, s.Time.Least, s.Time.Target, s.Time.Limit}
	low, high := -s.Time.MissOutside, s.Time.MissOutside
	if longest < s.Time.Least { // the time cannot be filled
		s.unfilled += s.Time.missCost(longest)
		bends, high = []int{0, longest}, low
	}
	s.times = s.times[:0]
	for _, t := range bends {
		s.times = append(s.times, corner{float64(t), -s.Time.missCost(t)})
	}
	for ; at(high) > s.Time.Limit; high *= 4 {
		if high > 1e6 {
			return nil
		}
	}
	for range 8 {
		if mid := (low + high) / 2; at(mid) > s.Time.Target {
			low = mid
		} else {
			high = mid
		}
	}
	g.prices.second = high
	s.consider(s.best, roughTrials)
	return g
}

// rounds moves the prices of a region so many times by what the best sequence for
// them holds too much or too little of, and keeps those that prove most.
func (s *search) rounds(g *region, n int) {
	s.forget()
	best := prices{slices.Clone(g.prices.of), g.prices.second}
	theta, stale, proven := 1.0, 0, math.Inf(1)
	for n := range n {
		if s.passes--; s.passes < 0 {
			break
		}
		chosen, worth := s.pass(g)
		if chosen == nil {
			g.bound = none
			return
		}
		now := s.read(g, chosen, worth)
		switch better := now.real > s.value+1e-9; {
		case now.used > s.Time.Limit:
		case s.rough && s.hard && n%hardEvery == 0:
			s.consider(chosen, roughTrials)
		case better && s.rough:
			s.accept(chosen, now.real)
		case better:
			s.consider(chosen, s.trials)
		}
		s.count(chosen)
		if now.bound < proven-1e-9 {
			if proven-now.bound > 0.01*(proven-s.value) {
				stale = 0
			}
			proven = now.bound
			copy(best.of, g.prices.of)
			best.second = g.prices.second
		} else {
			stale++
		}
		if proven <= s.enough() || now.steep < 1e-12 {
			break
		}
		if stale > 2 {
			theta, stale = theta/2, 0
		}
		// Polyak's step toward the value already in hand.
		step := theta * (now.bound - s.value) / max(1e-3, now.steep)
		for i := range g.prices.of {
			if s.slopes[i] != 0 {
				k := &s.Features[i]
				g.prices.of[i] = max(k.Slopes[2], min(k.Slopes[0], g.prices.of[i]-step*s.slopes[i]))
			}
		}
		g.prices.second += step * now.late / timeUnit
	}
	g.prices = best
	g.bound = min(g.bound, proven)
	s.share()
}

// reading is what one round shows: what no selection of the region can be worth more
// than, what the sequence is truly worth and how long it takes, and how far, squared,
// it is from what the prices ask for; the slopes hold that by feature.
type reading struct {
	bound, real, steep, late float64
	used                     int
}

func (s *search) read(g *region, chosen []Choice, worth float64) reading {
	_, used, _ := s.Path(chosen)
	clear(s.amounts)
	s.Add(s.amounts, chosen)
	now := reading{bound: worth, real: worth + g.prices.second*float64(used) - s.Time.missCost(used), used: used}
	for i, price := range g.prices.of {
		k := &s.Features[i]
		over, at := leftOver(s.corners[i], price)
		slope := s.amounts[i] - at
		if slope > 0 && price <= k.Slopes[2] || slope < 0 && price >= k.Slopes[0] {
			slope = 0 // the price is at its end
		}
		s.slopes[i] = slope
		now.bound += over
		now.steep += slope * slope
		if amount := s.amounts[i]; amount != 0 {
			now.real += k.Worth(amount) - price*amount
		}
	}
	over, at := leftOver(s.times, -g.prices.second)
	now.late = (float64(used) - at) / timeUnit
	now.bound += over
	now.steep += now.late * now.late
	return now
}

// forget, count and share keep how often the last rounds used blocks, candidates and
// options, as shares, the later ones counting more.
func (s *search) forget() {
	for i := range s.used {
		s.used[i] = 0
		clear(s.usedOption[i])
	}
	clear(s.usedBlock)
	s.counts, s.total = 1, 0
}

func (s *search) count(chosen []Choice) {
	s.total += s.counts
	q, last := 0, -1
	for _, x := range chosen {
		s.used[x.Candidate] += s.counts
		s.usedOption[x.Candidate][x.Option] += s.counts
		for s.blocks[q].hi <= x.Candidate {
			q++
		}
		if q != last {
			s.usedBlock[q] += s.counts
			last = q
		}
	}
	s.counts *= laterCounts
}

func (s *search) share() {
	if s.total == 0 {
		return
	}
	for i := range s.used {
		if s.used[i] > 0 {
			s.used[i] /= s.total
			for d := range s.usedOption[i] {
				s.usedOption[i][d] /= s.total
			}
		}
	}
	for q := range s.usedBlock {
		s.usedBlock[q] /= s.total
	}
}

const (
	timeUnit    = 180  // seconds that count like one full option when prices are moved
	laterCounts = 1.25 // how much more what a round used counts than the one before
)

// leftOver is the most that an amount can be worth beyond its price, and that amount.
func leftOver(corners []corner, price float64) (over, at float64) {
	over, at = corners[0].worth-price*corners[0].at, corners[0].at
	for _, k := range corners[1:] {
		if v := k.worth - price*k.at; v > over {
			over, at = v, k.at
		}
	}
	return
}

// consider improves a selection by local search and accepts it when it beats the incumbent.
func (s *search) consider(chosen []Choice, trials int) {
	if better, worth := s.polisher.improve(chosen, trials); worth > s.value {
		s.accept(better, worth)
	}
}

// accept makes a selection the incumbent.
func (s *search) accept(chosen []Choice, worth float64) {
	s.best, s.value, s.bonus = slices.Clone(chosen), worth, 0
	for _, x := range chosen {
		c := &s.Candidates[x.Candidate]
		s.bonus += c.Bonus * c.Options[x.Option].Returns
	}
}

// tighten gives a region the prices at which the selection found there is worth exactly its
// true value.
func (s *search) tighten(g *region) {
	chosen, _ := s.pass(g)
	if chosen == nil {
		return
	}
	clear(s.amounts)
	s.Add(s.amounts, chosen)
	for i := range s.Features {
		g.prices.of[i] = s.Features[i].steep(s.amounts[i], g.prices.of[i])
	}
}
