package plan

import (
	"container/heap"
	"math"
	"slices"
)

// How long the search goes on: walks through the candidates, never the clock.
const (
	rootRounds   = 60 // in which prices are moved for all sessions
	regionRounds = 16 // and for a part of them
)

// effort is how many walks a search may take, and the share of its worth that the
// session found may miss.
type effort struct {
	walks int
	near  float64
}

var usual = effort{walks: 4000, near: 0.01}

// Bound is how good a plan is known to be: its value, and what no plan for the
// request can be worth more than. Both take off what the phases cost that nothing
// can fill, and the minutes that cannot be filled, and count what the instructor has
// fixed; Unfilled is how much that is, so that with it both are what was chosen freely.
type Bound struct{ Value, Most, Unfilled float64 }

// ordinary is about what half an hour is worth: shares of less than that would say
// nothing, since what a session brings and costs may come near nothing.
const ordinary = 20.0

// Gap is the share of the bound that may have been missed, or of what an ordinary session
// is worth where the bound is less.
func (b Bound) Gap() float64 {
	return math.Max(0, (b.Most-b.Value)/math.Max(ordinary, b.Most+b.Unfilled))
}

// The words of the search:
//
//   - walk: one pass through the candidates in session order that finds the best of all
//     sequences at given prices; the only thing that is counted, so that a search is
//     stopped by work done and never by the clock.
//   - region: all sessions in which some blocks, candidates and doses are wanted and some
//     are barred; the root is all sessions there are.
//   - left: how many walks may still be made.
//   - near: the share of its worth that the session found may miss and still be taken.
//   - met: said of a session that some walk came upon. Those near the best so far are
//     polished, that is bettered by small changes, before the next.
//   - most: what no session of a region can be worth more than, proven by prices.
//   - given (up): a region whose most is near enough to the best session met is not
//     looked into; the largest such most is kept, since the bound has to own up to it.
//   - unfilled: what all sessions lose alike, because phases or minutes have nothing to
//     fill them; bonus: what all gain alike for what the instructor has fixed. Both are
//     left out of the comparison and put back into the bound.

// search looks for the best session by branch and bound. Prices show what no session
// of a region can be worth more than; the region with the most left is split, by
// whether a block is used, whether a candidate is, or by its dose, until what is
// left is near enough to the best session met.
type search struct {
	*chain
	polisher *polisher
	corners  [][]corner // of each feature's worth
	time     []corner   // of what the seconds in all are worth
	regions  regions
	left     int // walks
	near     float64
	rough    bool    // sessions that are met need not be improved yet
	found    int     // regions
	given    float64 // the most of what was given up as near enough
	unfilled float64
	best     []choice
	value    float64
	bonus    float64 // what of the value is for what the instructor has fixed
	// Of the last rounds: how often blocks, candidates and their doses were used.
	used            []float64 // by candidate
	usedBlock       []float64
	usedDose        [][]float64
	counts, total   float64
	amounts, slopes []float64
}

// corner is an amount at which a falling return bends, and what it is worth.
type corner struct{ at, worth float64 }

// best finds a session and proves how far from the best it can be.
func (v valued) best(f frame, e effort) ([]choice, Bound) {
	k := newCourse(f, v.cs)
	s := &search{chain: newChain(v, k), polisher: newPolisher(v, k), left: e.walks, near: e.near, given: none, value: none,
		used: make([]float64, len(v.cs)), amounts: make([]float64, len(v.features)), slopes: make([]float64, len(v.features))}
	s.usedBlock = make([]float64, len(s.blocks))
	for i := range v.cs {
		s.usedDose = append(s.usedDose, make([]float64, len(v.cs[i].doses)))
	}
	for _, k := range v.features {
		s.corners = append(s.corners, k.corners())
	}
	root := s.root(true)
	if root == nil {
		root = s.root(false) // the minutes do not hold all that is fixed
	}
	if root == nil {
		return nil, Bound{}
	}
	s.rough = true
	s.rounds(root, rootRounds)
	s.rough = false
	s.met(s.best, mostTrials)
	s.examine(root)
	for len(s.regions) > 0 && s.left > 0 {
		g := heap.Pop(&s.regions).(*region)
		if g.most <= s.enough() {
			s.given = math.Max(s.given, g.most)
			break // none of the others has more
		}
		yes, no := g.parts(s.blocks)
		for _, half := range []*region{yes, no} {
			s.rounds(half, regionRounds)
			s.examine(half)
		}
	}
	most := math.Max(s.value, s.given)
	if len(s.regions) > 0 {
		most = math.Max(most, s.regions[0].most)
	}
	return s.best, Bound{s.value, most, s.unfilled - s.bonus}
}

// enough is what a region has to hold more than to be looked into.
func (s *search) enough() float64 {
	return s.value + math.Max(1e-9, s.near*math.Max(ordinary, s.value+s.unfilled-s.bonus))
}

// root is the region of all sessions, with prices half-way down and the price of a
// second at which the minutes come out; nil when not even one exercise fits, or not
// all that is fixed where that is wanted. It meets a first session on the way.
func (s *search) root(fixed bool) *region {
	g := &region{block: make([]mark, len(s.blocks)), candidate: make([]mark, len(s.v.cs)), most: math.Inf(1)}
	for i := range s.v.cs {
		g.doses = append(g.doses, 1<<len(s.v.cs[i].doses)-1)
		if fixed && s.v.cs[i].must {
			g.candidate[i] = wanted
		}
	}
	for _, k := range s.v.features {
		g.prices.of = append(g.prices.of, k.start())
	}
	at := func(second float64) int {
		g.prices.second = second
		chosen, _ := s.walk(g)
		if chosen == nil {
			return 0
		}
		_, used, _ := s.path(chosen)
		if s.polisher.begin(chosen) && s.polisher.best > s.value {
			s.keep(chosen, s.polisher.best)
		}
		return used
	}
	longest := at(-1e6) // nothing but time counts
	if longest == 0 {
		return nil
	}
	s.unfilled = s.f.unfilled(s.v.cs)
	bends := []int{0, s.least, s.f.target, s.limit}
	low, high := -missSlope, missSlope
	if longest < s.least { // the minutes cannot be filled
		s.unfilled += s.missCost(longest)
		bends, high = []int{0, longest}, low
	}
	s.time = s.time[:0]
	for _, t := range bends {
		s.time = append(s.time, corner{float64(t), -s.missCost(t)})
	}
	for ; at(high) > s.limit; high *= 4 {
		if high > 1e6 {
			return nil
		}
	}
	for range 8 {
		if mid := (low + high) / 2; at(mid) > s.f.target {
			low = mid
		} else {
			high = mid
		}
	}
	g.prices.second = high
	s.met(s.best, roughTrials)
	return g
}

// rounds moves the prices of a region so many times by what the best sequence for
// them holds too much or too little of, and keeps those that prove most.
func (s *search) rounds(g *region, n int) {
	s.forget()
	best := prices{slices.Clone(g.prices.of), g.prices.second}
	theta, stale, proven := 1.0, 0, math.Inf(1)
	for range n {
		if s.left--; s.left < 0 {
			break
		}
		chosen, worth := s.walk(g)
		if chosen == nil {
			g.most = none
			return
		}
		now := s.read(g, chosen, worth)
		if now.used <= s.limit && now.real > s.value+1e-9 {
			if s.rough {
				s.keep(chosen, now.real)
			} else {
				s.met(chosen, mostTrials)
			}
		}
		s.count(chosen)
		if now.most < proven-1e-9 {
			if proven-now.most > 0.01*(proven-s.value) {
				stale = 0
			}
			proven = now.most
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
		step := theta * (now.most - s.value) / max(1e-3, now.steep)
		for i := range g.prices.of {
			if s.slopes[i] != 0 {
				k := &s.v.features[i]
				g.prices.of[i] = max(k.slopes[2], min(k.slopes[0], g.prices.of[i]-step*s.slopes[i]))
			}
		}
		g.prices.second += step * now.late / timeUnit
	}
	g.prices = best
	g.most = min(g.most, proven)
	s.share()
}

// reading is what one round shows: what no session of the region can be worth more
// than, what the sequence is truly worth and how long it takes, and how far, squared,
// it is from what the prices ask for; the slopes hold that by feature.
type reading struct {
	most, real, steep, late float64
	used                    int
}

func (s *search) read(g *region, chosen []choice, worth float64) reading {
	_, used, _ := s.path(chosen)
	clear(s.amounts)
	s.v.add(s.amounts, chosen)
	now := reading{most: worth, real: worth + g.prices.second*float64(used) - s.missCost(used), used: used}
	for i, price := range g.prices.of {
		k := &s.v.features[i]
		over, at := leftOver(s.corners[i], price)
		slope := s.amounts[i] - at
		if slope > 0 && price <= k.slopes[2] || slope < 0 && price >= k.slopes[0] {
			slope = 0 // the price is at its end
		}
		s.slopes[i] = slope
		now.most += over
		now.steep += slope * slope
		if amount := s.amounts[i]; amount != 0 {
			now.real += k.worth(amount) - price*amount
		}
	}
	over, at := leftOver(s.time, -g.prices.second)
	now.late = (float64(used) - at) / timeUnit
	now.most += over
	now.steep += now.late * now.late
	return now
}

// forget, count and share keep how often the last rounds used blocks, candidates and
// doses, as shares, the later ones counting more.
func (s *search) forget() {
	for i := range s.used {
		s.used[i] = 0
		clear(s.usedDose[i])
	}
	clear(s.usedBlock)
	s.counts, s.total = 1, 0
}

func (s *search) count(chosen []choice) {
	s.total += s.counts
	q, last := 0, -1
	for _, x := range chosen {
		s.used[x.candidate] += s.counts
		s.usedDose[x.candidate][x.option] += s.counts
		for s.blocks[q].hi <= x.candidate {
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
			for d := range s.usedDose[i] {
				s.usedDose[i][d] /= s.total
			}
		}
	}
	for q := range s.usedBlock {
		s.usedBlock[q] /= s.total
	}
}

const (
	timeUnit    = 180  // seconds that count like one full dose when prices are moved
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

// met improves a session that is better than any before by small changes.
func (s *search) met(chosen []choice, trials int) {
	if better, worth := s.polisher.improve(chosen, trials); worth > s.value {
		s.keep(better, worth)
	}
}

// keep takes a session as the best there is.
func (s *search) keep(chosen []choice, worth float64) {
	s.best, s.value, s.bonus = slices.Clone(chosen), worth, 0
	for _, x := range chosen {
		c := &s.v.cs[x.candidate]
		s.bonus += c.bonus * c.doses[x.option].returns
	}
}

// steady gives a region the prices at which the session found there is worth what it
// truly is.
func (s *search) steady(g *region) {
	chosen, _ := s.walk(g)
	if chosen == nil {
		return
	}
	clear(s.amounts)
	s.v.add(s.amounts, chosen)
	for i := range s.v.features {
		g.prices.of[i] = s.v.features[i].steep(s.amounts[i], g.prices.of[i])
	}
}
