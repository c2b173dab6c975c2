package class

import (
	"math"
	"slices"

	"restbend/core/optimize"
	"restbend/core/plan"
)

// seeking is the search for a class.
type seeking struct {
	Request
	lib      plan.Library
	inOrder  []int // of the people as they are looked at
	here     []*attending
	list     []thread // by candidate
	of       [][]slot // by candidate
	base     optimize.Problem
	features int    // of all
	offered  uint64 // groups
	// What was found: the last class and the best.
	met    [][]optimize.Choice
	chosen []optimize.Choice
	shares []float64
	atMost float64
}

// How long the search goes on: rounds in which weights are moved, dynamic programs per round
// divided by the number of people, since each takes longer for more, and changes tried. These
// are counts, never the clock.
const (
	rounds      = 3 // and more, up to mostRounds, while the bound is far off
	mostRounds  = 4
	smallRounds = 20 // where there is little to choose from, so that each takes no time
	firstPasses = 8000
	laterPasses = 480
	trials      = 6000
	firstEta    = 6.0 // how fast weights move at first
	nearEnough  = 3.0 // percent from the bound
	farOff      = 8.0
)

// What shares are counted in, what of them a round may miss, what going once over a cap
// costs of them, and the part of the minutes that a class may end at.
const (
	percent   = 100.0
	nearShare = 1.0
	barring   = 2000.0
	inTime    = 0.95
)

// search finds the class; false where there is none.
func (s *seeking) search() bool {
	s.list, s.of, s.features, s.offered, s.chosen, s.met = nil, nil, 0, 0, nil, nil
	for _, a := range s.here {
		a.first = s.features
		s.features += len(a.menu.Features) + 1
	}
	s.base = s.here[0].menu.Frame
	for _, a := range s.here {
		if !a.beside {
			s.base = a.menu.Frame
		}
	}
	s.base.Time.Least = int(inTime * float64(60*s.Minutes))
	s.offer()
	if len(s.list) == 0 {
		return false
	}
	s.atMost = math.Inf(1)
	weights := slices.Repeat([]float64{1 / float64(len(s.here))}, len(s.here))
	eta, least := firstEta, math.Inf(-1)
	for round := range max(mostRounds, min(smallRounds, smallRounds*10/len(s.list)/len(s.here))) {
		chosen, most := s.weighed(weights, round == 0)
		if len(chosen) == 0 {
			break
		}
		if _, used, _ := s.base.Path(chosen); used < s.base.Time.Least { // the minutes cannot be filled
			s.base.Time.Least, most = used, math.Inf(1) // what holds for more of them holds no longer
		}
		s.atMost = math.Min(s.atMost, most)
		chosen, shares, ok := s.even(chosen)
		if smallest := slices.Min(shares); ok && (smallest > least+1e-9 || smallest > least-1e-9 && sum(shares) > sum(s.shares)) {
			s.chosen, s.shares, least = chosen, shares, smallest
			s.met = [][]optimize.Choice{chosen}
		}
		if gap := s.atMost - least; gap < nearEnough || round+1 >= rounds && gap < farOff {
			break
		}
		// Whoever has less than the mean is given more weight.
		mean, total := sum(shares)/float64(len(shares)), 0.0
		for n := range weights {
			weights[n] *= math.Exp(-eta * (shares[n] - mean) / percent)
			total += weights[n]
		}
		for n := range weights {
			weights[n] /= total
		}
		eta *= 0.85
	}
	return len(s.chosen) > 0
}

// offer lists the threads that may be done, of each phase and position those that serve
// most.
func (s *seeking) offer() {
	type found struct {
		thread
		slots []slot
		worth float64
	}
	var all []found
	for _, t := range s.threads() {
		if slots, worth := s.slots(t); len(slots) > 0 {
			all = append(all, found{t, slots, worth})
		}
	}
	blocks := map[[2]int]bool{}
	for _, k := range all {
		blocks[[2]int{phaseOf(k.thread), k.start.Rank()}] = true
	}
	most := max(fewThreads, mostThreads/max(1, len(blocks)))
	for i, k := range all {
		better := 0
		for j, other := range all {
			if other.phase == k.phase && other.start == k.start && (other.worth > k.worth || other.worth == k.worth && j < i) {
				better++
			}
		}
		if better >= most {
			continue
		}
		c := optimize.Candidate{Group: phaseOf(k.thread), Start: k.start.Rank(), End: k.end.Rank()}
		for _, one := range k.slots {
			c.Options = append(c.Options, one.option())
		}
		s.list, s.of = append(s.list, k.thread), append(s.of, k.slots)
		s.base.Candidates = append(s.base.Candidates, c)
		s.offered |= 1 << c.Group
	}
}

// weighed is the best class for the weighted sum of shares, in percent, with an upper bound.
func (s *seeking) weighed(weights []float64, afresh bool) (chosen []optimize.Choice, most float64) {
	p := s.problem(weights)
	e := optimize.Effort{Passes: firstPasses / len(s.here), Near: nearShare / percent, Ordinary: percent, Trials: trials}
	if afresh {
		e.From = s.starts(p)
	} else {
		e.Passes, e.From = laterPasses/len(s.here), s.met
	}
	chosen, bound := p.Best(e)
	most = bound.Most + bound.Unfilled
	for n, a := range s.here {
		most += weights[n] * a.share(0)
	}
	return chosen, most
}

// starts are the classes to begin with: each person's own best session, as far as all can take
// part in it.
func (s *seeking) starts(p optimize.Problem) (out [][]optimize.Choice) {
	prices := make([]float64, len(p.Features))
	for i, f := range p.Features {
		prices[i] = f.Further(0)
	}
	for _, a := range s.here {
		if a.beside || len(out) == mostStarts {
			continue
		}
		var list []optimize.Choice
		for _, it := range a.alone.Items {
			i := slices.IndexFunc(s.list, func(t thread) bool {
				return t.family == it.Family && t.phase == it.Phase && t.start == it.Position && t.end == it.EndPosition
			})
			if i < 0 || slices.ContainsFunc(list, func(x optimize.Choice) bool { return x.Candidate == i }) {
				continue
			}
			x := optimize.Choice{Candidate: i}
			for d, o := range p.Candidates[i].Options {
				if float64(o.Seconds) <= it.SecondsWork+it.SecondsRest+step {
					x.Option = d
				}
			}
			p.Candidates[i].Options[x.Option].Pick(prices, &x)
			list = append(list, x)
		}
		slices.SortFunc(list, func(a, b optimize.Choice) int { return a.Candidate - b.Candidate })
		for len(list) > 0 {
			if _, used, ok := p.Path(list); ok && used <= p.Time.Limit {
				out = append(out, list)
				break
			}
			list = slices.Delete(list, len(list)/2, len(list)/2+1) // the middle is what can be done without
		}
	}
	return out
}

// mostStarts is how many own sessions the search starts from.
const mostStarts = 3

// step is about the seconds from one length of an item to the next.
const step = 30.0

// problem is the class as a problem for optimize, with a weight for each person.
func (s *seeking) problem(weights []float64) optimize.Problem {
	p := s.base
	all, moving := 0.0, 0.0
	scale := make([]float64, len(s.here))
	for n, a := range s.here {
		scale[n] = percent * weights[n] / a.brings
		all += scale[n]
		if !a.beside {
			moving += scale[n]
		}
		for _, f := range a.menu.Features {
			for i := range f.Slopes {
				f.Slopes[i] *= scale[n]
				if f.Cap && f.Slopes[i] < 0 {
					f.Slopes[i] = -barring
				}
			}
			p.Features = append(p.Features, f)
		}
		// minutes that suit the person
		p.Features = append(p.Features, optimize.Feature{Slopes: [3]float64{0, -barring, -barring}, Cap: true})
	}
	p.Skip = scaled(p.Skip, all)
	p.Time.Miss, p.Time.Outside, p.Time.MissOutside = 0, p.Time.Outside*all, p.Time.MissOutside*all
	p.Ways.Cost = nil
	for _, row := range s.base.Ways.Cost {
		p.Ways.Cost = append(p.Ways.Cost, scaled(row, moving))
	}
	p.Begin = 0
	p.Candidates = make([]optimize.Candidate, len(s.base.Candidates))
	for i, c := range s.base.Candidates {
		options := make([]optimize.Option, len(c.Options))
		for d, o := range c.Options {
			shares := make([][]optimize.Way, len(o.Shares))
			for n, ways := range o.Shares {
				shares[n] = make([]optimize.Way, len(ways))
				for m, w := range ways {
					w.Own *= scale[n]
					shares[n][m] = w
				}
			}
			o.Shares, o.More = shares, o.More*all/float64(len(s.here))
			options[d] = o
		}
		c.Options = options
		p.Candidates[i] = c
	}
	return p
}

func scaled(values []float64, by float64) []float64 {
	out := make([]float64, len(values))
	for i, v := range values {
		out[i] = v * by
	}
	return out
}

// sharesOf is what a class is worth to each person, in percent of their own best session.
func (s *seeking) sharesOf(chosen []optimize.Choice) []float64 {
	out := make([]float64, len(s.here))
	s.worth(chosen, make([]float64, s.features), out)
	return out
}

// worth fills in what a class holds of each feature and what it is worth to each person, in
// percent of their own best session; the amounts are to be zero.
func (s *seeking) worth(chosen []optimize.Choice, amounts, shares []float64) {
	clear(shares)
	for _, x := range chosen {
		for n, ways := range s.of[x.Candidate][x.Option].ways {
			w := &ways[x.Picks[n]]
			shares[n] += w.own
			for _, u := range w.units {
				amounts[u.Feature] += u.Amount
			}
		}
	}
	moving, skips := s.order(chosen)
	for _, x := range chosen {
		skips += moreCost * float64(s.base.Candidates[x.Candidate].Options[x.Option].Together(x)-1) / float64(len(s.here))
	}
	for n, a := range s.here {
		for i := range a.menu.Features {
			f := &a.menu.Features[i]
			if amount := amounts[a.first+i]; amount != 0 && !f.Cap {
				shares[n] += f.Worth(amount)
			}
		}
		if shares[n] -= skips; !a.beside {
			shares[n] -= moving
		}
		shares[n] = a.share(shares[n])
	}
}

// order is what changes of position cost those who move, and what it costs to leave out phases
// that could have been there.
func (s *seeking) order(chosen []optimize.Choice) (moving, skips float64) {
	at, used := s.base.Ways.From, uint64(0)
	for _, x := range chosen {
		c := &s.base.Candidates[x.Candidate]
		moving += s.base.Ways.Cost[at][c.Start]
		at, used = c.End, used|1<<c.Group
	}
	for g, skip := range s.base.Skip {
		if s.offered>>g&1 == 1 && used>>g&1 == 0 {
			skips += skip
		}
	}
	return moving + s.base.Ways.Cost[at][s.base.Ways.Home], skips
}

func sum(values []float64) float64 {
	total := 0.0
	for _, v := range values {
		total += v
	}
	return total
}
