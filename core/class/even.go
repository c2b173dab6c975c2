package class

import (
	"math"
	"slices"

	"restbend/core/optimize"
)

// Looks are how many changes are tried on one class when shares are evened out; a count
// and not a clock.
const looks = 60000

// softness is the percent by which shares above the smallest still count when they are
// evened out: a little less for one may be much more for another.
const softness = 2.0

// evener is a local search that raises the smallest share first, which no sum of shares does.
type evener struct {
	*seeking
	problem optimize.Problem // at weights that look to those who have least
	now     []optimize.Choice
	score   float64
	left    int
	amounts []float64
	shares  []float64
}

// even takes a class and returns one that is more even, with everybody's share; not ok when
// it is not allowed, since somebody would do more of something than a session may hold.
func (s *seeking) even(from []optimize.Choice) (now []optimize.Choice, shares []float64, ok bool) {
	e := &evener{seeking: s, now: from, left: looks, amounts: make([]float64, s.features), shares: make([]float64, len(s.here))}
	e.score = e.scoreOf(from)
	for improved := true; improved && e.left > 0; {
		improved = false
		e.problem = s.problem(e.weights())
		prices := e.prices()
		for i := range e.problem.Candidates {
			improved = e.bring(i, prices) || improved
		}
		for at := 0; at < len(e.now); at++ {
			improved = e.vary(at, prices) || improved
		}
	}
	return e.now, s.sharesOf(e.now), !math.IsInf(e.score, -1)
}

// scoreOf is high where even the smallest share is: a mean of all in which the smallest
// counts most. A class that is not allowed has none.
func (e *evener) scoreOf(list []optimize.Choice) float64 {
	e.left--
	_, used, ok := e.base.Path(list)
	if t := e.base.Time; !ok || used > t.Limit || used < t.Least {
		return math.Inf(-1)
	}
	e.into(list)
	for _, a := range e.here {
		if e.amounts[a.first+len(a.menu.Features)] > 1 {
			return math.Inf(-1)
		}
		for i, f := range a.menu.Features {
			if f.Cap && f.Had+e.amounts[a.first+i] > 1+1e-9 {
				return math.Inf(-1)
			}
		}
	}
	sum := 0.0
	for _, share := range e.shares {
		sum += math.Exp(-share / softness)
	}
	return -softness * math.Log(sum)
}

// into works out the shares of a class, and what it holds of each feature.
func (e *evener) into(list []optimize.Choice) {
	clear(e.amounts)
	e.worth(list, e.amounts, e.shares)
}

// weights look to those who have least.
func (e *evener) weights() []float64 {
	e.into(e.now)
	out, total := make([]float64, len(e.shares)), 0.0
	for n, share := range e.shares {
		out[n] = math.Exp(-(share - slices.Min(e.shares)) / softness / 2)
		total += out[n]
	}
	for n := range out {
		out[n] /= total
	}
	return out
}

// prices are what a little more of each feature would bring now.
func (e *evener) prices() []float64 {
	out := make([]float64, len(e.problem.Features))
	for i, f := range e.problem.Features {
		out[i] = f.Further(e.amounts[i])
	}
	return out
}

// try takes a class when it is better.
func (e *evener) try(list []optimize.Choice) bool {
	if e.left <= 0 {
		return false
	}
	score := e.scoreOf(list)
	if score <= e.score+1e-9 {
		return false
	}
	e.now, e.score = slices.Clone(list), score
	return true
}

// bring tries a thread in every length as one more, and in the place of another.
func (e *evener) bring(i int, prices []float64) bool {
	if slices.ContainsFunc(e.now, func(x optimize.Choice) bool { return x.Candidate == i }) {
		return false
	}
	for d := range e.problem.Candidates[i].Options {
		x := optimize.Choice{Candidate: i, Option: d}
		e.problem.Candidates[i].Options[d].Pick(prices, &x)
		for less := -1; less < len(e.now); less++ {
			if e.try(inserted(e.now, less, x)) {
				return true
			}
		}
	}
	return false
}

// vary tries the thread at an index in other lengths, alone or in exchange for the length of
// another, leaves it out, and tries each person in another of their ways.
func (e *evener) vary(at int, prices []float64) (improved bool) {
	was := e.now[at]
	for d := range e.base.Candidates[was.Candidate].Options {
		x := optimize.Choice{Candidate: was.Candidate, Option: d}
		e.problem.Candidates[x.Candidate].Options[d].Pick(prices, &x)
		next := slices.Clone(e.now)
		next[at] = x
		improved = e.try(next) || improved
		for other := range e.now {
			if other == at {
				continue
			}
			options := e.base.Candidates[e.now[other].Candidate].Options
			for k := range options {
				y := optimize.Choice{Candidate: e.now[other].Candidate, Option: k}
				if e.seconds(next)+options[k].Seconds-options[e.now[other].Option].Seconds > e.base.Time.Limit {
					continue
				}
				e.problem.Candidates[y.Candidate].Options[k].Pick(prices, &y)
				both := slices.Clone(next)
				both[other] = y
				improved = e.try(both) || improved
			}
		}
	}
	for n, ways := range e.base.Candidates[e.now[at].Candidate].Options[e.now[at].Option].Shares {
		for m := range ways {
			next := slices.Clone(e.now)
			next[at].Picks[n] = uint8(m)
			if e.base.Candidates[next[at].Candidate].Options[next[at].Option].Together(next[at]) <= Versions {
				improved = e.try(next) || improved
			}
		}
	}
	return improved
}

func (e *evener) seconds(list []optimize.Choice) int {
	_, used, _ := e.base.Path(list)
	return used
}

// inserted puts a choice at its place in the order, without the one at index less.
func inserted(now []optimize.Choice, less int, x optimize.Choice) []optimize.Choice {
	var out []optimize.Choice
	done := false
	for n, y := range now {
		if n == less {
			continue
		}
		if !done && y.Candidate > x.Candidate {
			out, done = append(out, x), true
		}
		out = append(out, y)
	}
	if !done {
		out = append(out, x)
	}
	return out
}
