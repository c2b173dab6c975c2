// Package optimize finds the most valuable ordered selection that fits a time, and proves how
// far from the best it can be.
//
// A problem has candidates, each in a group, whose options take some seconds and bring some
// value; features that candidates add to, with diminishing returns; and states in which
// candidates begin and end, with the seconds and costs of getting from one to another. A
// selection takes candidates in the given order, which is by group, each at most once and in
// one option. It is worth
//
//	the sum over features of the worth of what is chosen holds of them
//	+ own × returns of each candidate chosen, − the cost of beginning one
//	− the ways between states − groups left empty − missing the time.
//
// Since every return falls, a price on each feature and each second splits that sum into
// the candidates again; one pass over them then finds the best selection at those
// prices, and its worth with what the prices leave over is more than any selection can be
// worth (weak duality). The package does not know what is being chosen.
package optimize

import "math"

// Problem is what may be chosen and how it counts.
type Problem struct {
	Features   []Feature
	Candidates []Candidate // by group; those of one group and start lie together
	Ways       Ways
	Time       Time
	Skip       []float64 // by group, what leaving it empty costs
	Begin      float64   // what it costs to begin one more candidate
}

// Candidate may be chosen, once, in one of its options.
type Candidate struct {
	Group      int
	Start, End int      // states
	Options    []Option // at most 64
	Units      []Unit   // what a full option holds of each feature
	Own        float64  // what a full option is worth by itself
	Bonus      float64  // what of that is no merit of the selection, as for what must be in it
	Must       bool     // it is in every selection, as long as the time holds it
}

// Option is one size of a candidate.
type Option struct {
	Seconds int
	Returns float64 // what it brings of a full one
	Uses    []Unit  // what it holds of features whatever its returns
	Shares  [][]Way // where several take part, the ways open to each; each takes one
	Kinds   int     // how many kinds of ways there may be side by side, 0 for any; so many must do for all
	More    float64 // what each kind beyond the first costs
}

// Way is how one of several takes part in an option; its units count as they are.
type Way struct {
	Own   float64
	Units []Unit
	Kind  uint8 // below MostKinds
}

// MostKinds is how many kinds of ways an option may have.
const MostKinds = 8

// MostShares is how many may take part in one option.
const MostShares = 12

// Unit is so much of a feature; a whole one counts whatever the option's returns.
type Unit struct {
	Feature int
	Amount  float64
	Whole   bool
}

// Ways are how one gets from the end of a candidate to the start of the next.
type Ways struct {
	From, Home  int // the state that a selection begins in, and ends in
	Begun       int // the group that has been reached already, -1 for none
	Seconds     [][]int
	Cost        [][]float64
	HomeSeconds []int      // from each state
	May         [][][]bool // by group of the one, its end and the start of the next
	MayStart    []bool     // by state
}

// Time is how many seconds a selection is to take.
type Time struct {
	Target, Least, Limit int     // Least to Limit are near enough, beyond Limit is never taken
	Miss                 float64 // what a second away from the target costs
	Outside, MissOutside float64 // and below Least: so much, and so much a second
}

// Choice is a candidate in one of its options.
type Choice struct {
	Candidate, Option int
	Picks             [MostShares]uint8 // the way that each share takes
}

// Feature is one concave return: the first unit is worth the first slope, the
// second the second, any more the third.
type Feature struct {
	Slopes [3]float64
	Had    float64 // what was there before anything is chosen
	Cap    bool    // it only costs, beyond one
}

// Worth is what so much adds to what was there before.
func (f Feature) Worth(amount float64) float64 {
	if f.Had > 0 {
		return f.total(f.Had+amount) - f.total(f.Had)
	}
	return f.total(amount)
}

func (f Feature) total(amount float64) float64 {
	switch {
	case amount <= 1:
		return f.Slopes[0] * amount
	case amount <= 2:
		return f.Slopes[0] + f.Slopes[1]*(amount-1)
	}
	return f.Slopes[0] + f.Slopes[1] + f.Slopes[2]*(amount-2)
}

// most of any feature that one selection can hold.
const mostOfOne = 40

// corner is an amount at which a falling return bends, and what it is worth.
type corner struct{ at, worth float64 }

// corners are the amounts at which the return bends, from none on.
func (f Feature) corners() []corner {
	out := []corner{{}}
	for _, y := range []float64{1 - f.Had, 2 - f.Had, mostOfOne} {
		if y > 0 {
			out = append(out, corner{y, f.Worth(y)})
		}
	}
	return out
}

// steep is the price of so much at which no more and no less of it would be better,
// the nearest to the given one where it bends there.
func (f Feature) steep(amount, price float64) float64 {
	const bend = 1e-9
	switch a := amount + f.Had; {
	case a < 1-bend:
		return f.Slopes[0]
	case a <= 1+bend:
		return max(f.Slopes[1], min(f.Slopes[0], price))
	case a < 2-bend:
		return f.Slopes[1]
	case a <= 2+bend:
		return max(f.Slopes[2], min(f.Slopes[1], price))
	}
	return f.Slopes[2]
}

// Further is what a little more than so much would add, for each of it.
func (f Feature) Further(amount float64) float64 {
	switch a := amount + f.Had; {
	case a < 1:
		return f.Slopes[0]
	case a < 2:
		return f.Slopes[1]
	}
	return f.Slopes[2]
}

// start is the price that the search begins with: half-way down, and none for
// what is only a cap.
func (f Feature) start() float64 {
	if f.Cap {
		return 0
	}
	return (f.Slopes[0] + f.Slopes[1]) / 2
}

// Add adds how much of each feature a selection holds.
func (p Problem) Add(to []float64, chosen []Choice) {
	for _, k := range chosen {
		c := &p.Candidates[k.Candidate]
		o := &c.Options[k.Option]
		for _, u := range c.Units {
			if u.Whole {
				to[u.Feature] += u.Amount
			} else {
				to[u.Feature] += u.Amount * o.Returns
			}
		}
		for _, u := range o.Uses {
			to[u.Feature] += u.Amount
		}
		for n, ways := range o.Shares {
			for _, u := range ways[k.Picks[n]].Units {
				to[u.Feature] += u.Amount
			}
		}
	}
}

// Path is what the order of a selection costs, the seconds it takes, and whether it
// is allowed.
func (p *Problem) Path(list []Choice) (cost float64, used int, ok bool) {
	if len(list) == 0 {
		return 0, 0, false
	}
	w := &p.Ways
	at, group := w.From, w.Begun
	for n, x := range list {
		c := &p.Candidates[x.Candidate]
		if c.Group < group || n == 0 && !w.MayStart[c.Start] || n > 0 && !w.May[group][at][c.Start] {
			return 0, 0, false
		}
		cost += p.skips(group, c.Group) + w.Cost[at][c.Start]
		used += w.Seconds[at][c.Start] + c.Options[x.Option].Seconds
		group, at = c.Group, c.End
	}
	return cost + p.skips(group, len(p.Skip)) + w.Cost[at][w.Home], used + w.HomeSeconds[at], true
}

// Worth is what a selection is worth in all; minus infinity where it is not allowed or longer
// than the limit.
func (p *Problem) Worth(list []Choice) float64 {
	cost, used, ok := p.Path(list)
	if !ok || used > p.Time.Limit {
		return math.Inf(-1)
	}
	sum := -cost - p.Time.missCost(used)
	for _, x := range list {
		c := &p.Candidates[x.Candidate]
		o := &c.Options[x.Option]
		sum += c.Own*o.Returns - p.Begin - o.apartness(x)
		for n, ways := range o.Shares {
			sum += ways[x.Picks[n]].Own
		}
	}
	amounts := make([]float64, len(p.Features))
	p.Add(amounts, list)
	for i, a := range amounts {
		sum += p.Features[i].Worth(a)
	}
	return sum
}

// skips is what the groups left empty between two cost.
func (p *Problem) skips(from, to int) float64 {
	cost := 0.0
	for g := from + 1; g < to; g++ {
		cost += p.Skip[g]
	}
	return cost
}

// unfilled is what is lost by the groups that no candidate fills, whatever is chosen.
func (p *Problem) unfilled() float64 {
	filled := make([]bool, len(p.Skip))
	for i := range p.Candidates {
		filled[p.Candidates[i].Group] = true
	}
	cost := 0.0
	for g, skip := range p.Skip {
		if g > p.Ways.Begun && !filled[g] {
			cost += skip
		}
	}
	return cost
}

// near says whether so many seconds are near enough to the target.
func (t Time) near(seconds int) bool { return seconds >= t.Least && seconds <= t.Limit }

// missCost is what missing the target costs: outside, nearness comes before value.
func (t Time) missCost(seconds int) float64 {
	miss := math.Abs(float64(seconds - t.Target))
	if t.near(seconds) {
		return t.Miss * miss
	}
	return t.Outside + t.MissOutside*miss
}
