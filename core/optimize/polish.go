package optimize

import (
	"math"
	"slices"
)

// How many changes are tried on one selection, and on the very first: counts and not a
// clock, so that the same request always gives the same answer.
const (
	mostTrials  = 60000
	roughTrials = 1500
)

// polisher improves a sequence by small changes: another option, another candidate
// in its place, one more, one fewer. It knows the true value, features and all.
// Of a change it works out only the difference.
type polisher struct {
	*Problem
	trials  int // that are left
	now     []Choice
	items   float64   // what the items of now are worth, without their order
	best    float64   // what now is worth in all
	wrong   bool      // now misses the time
	amounts []float64 // of each feature in now
	diff    []float64 // of each feature by the change looked at
	touched []int
	seen    []int // by feature, the look at which its difference was touched last
	look    int
	list    []change
	steep   []float64 // the most that one full option of each candidate could add
	next    []float64 // where several take part, what a little more of each feature would add
}

func newPolisher(of *Problem) *polisher {
	p := &polisher{
		Problem: of,
		amounts: make([]float64, len(of.Features)),
		diff:    make([]float64, len(of.Features)),
		seen:    make([]int, len(of.Features)),
	}
	for _, c := range of.Candidates {
		steep := math.Max(0, c.Own)
		for _, u := range c.Units {
			steep += of.Features[u.Feature].Slopes[0] * u.Amount
		}
		p.steep = append(p.steep, steep)
		for _, o := range c.Options {
			if len(o.Shares) > 0 && p.next == nil {
				p.next = make([]float64, len(of.Features))
			}
		}
	}
	return p
}

// change is a choice that comes (1) or goes (−1).
type change struct {
	Choice
	sign float64
}

// begin takes a sequence as the one to improve; false when it is not allowed.
func (p *polisher) begin(from []Choice) bool {
	p.now, p.items = slices.Clone(from), 0
	clear(p.amounts)
	var all []change
	for _, x := range from {
		all = append(all, change{x, 1})
	}
	p.items = p.gain(all)
	p.keep()
	cost, used, ok := p.Path(p.now)
	p.best = p.items - cost - p.Time.missCost(used)
	p.wrong = !p.Time.near(used)
	return ok && used <= p.Time.Limit
}

// gain is what changes add to the items' worth, order apart; it leaves the
// differences of the features in diff and touched.
func (p *polisher) gain(changes []change) float64 {
	p.touched, p.look = p.touched[:0], p.look+1
	add := func(feature int, amount float64) {
		if p.seen[feature] != p.look {
			p.seen[feature], p.diff[feature] = p.look, 0
			p.touched = append(p.touched, feature)
		}
		p.diff[feature] += amount
	}
	sum := 0.0
	for _, x := range changes {
		c := &p.Candidates[x.Candidate]
		returns := c.Options[x.Option].Returns
		sum += x.sign * (c.Own*returns - p.Begin)
		for _, u := range c.Units {
			if u.Whole {
				add(u.Feature, x.sign*u.Amount)
			} else {
				add(u.Feature, x.sign*u.Amount*returns)
			}
		}
		for _, u := range c.Options[x.Option].Uses {
			add(u.Feature, x.sign*u.Amount)
		}
		if o := &c.Options[x.Option]; len(o.Shares) > 0 {
			sum -= x.sign * o.apartness(x.Choice)
		}
		for n, ways := range c.Options[x.Option].Shares {
			way := &ways[x.Picks[n]]
			sum += x.sign * way.Own
			for _, u := range way.Units {
				add(u.Feature, x.sign*u.Amount)
			}
		}
	}
	for _, i := range p.touched {
		was := p.amounts[i]
		sum += p.Features[i].Worth(math.Max(0, was+p.diff[i])) - p.Features[i].Worth(was)
	}
	return sum
}

// keep takes over the differences of the change looked at last.
func (p *polisher) keep() {
	for _, i := range p.touched {
		p.amounts[i] = math.Max(0, p.amounts[i]+p.diff[i])
	}
	if p.next != nil {
		for i := range p.next {
			p.next[i] = p.Features[i].Further(p.amounts[i])
		}
	}
}

// in is a candidate in another of its options, each share in the way that would add most
// now.
func (p *polisher) in(candidate, option int) Choice {
	x := Choice{Candidate: candidate, Option: option}
	if o := &p.Candidates[candidate].Options[option]; len(o.Shares) > 0 {
		o.Pick(p.next, &x)
	}
	return x
}

// try looks at a sequence that differs from the present one by the changes, and
// takes it when it is better. One that leaves the time wrong is tried again
// with another option of each of the others that puts them right.
func (p *polisher) try(next []Choice, changes ...change) bool {
	if p.trials <= 0 {
		return false
	}
	cost, used, ok := p.Path(next)
	if !ok {
		p.trials--
		return false
	}
	return p.weigh(next, cost, used, changes...)
}

// weigh is try for a sequence whose order costs and takes so much.
func (p *polisher) weigh(next []Choice, cost float64, used int, changes ...change) bool {
	if p.trials <= 0 {
		return false
	}
	p.trials--
	if !p.Time.near(used) && !p.mendable(next, used) {
		return false
	}
	worth := p.items + p.gain(changes) - cost
	if p.Time.near(used) {
		return p.take(next, worth+cost, worth, used)
	}
	for at := range next {
		x := next[at]
		options := p.Candidates[x.Candidate].Options
		for k := range options {
			other := used + options[k].Seconds - options[x.Option].Seconds
			if k == x.Option || !p.Time.near(other) || worth+p.mostByOption(x, k) <= p.best {
				continue
			}
			next[at] = p.in(x.Candidate, k)
			p.trials--
			p.list = append(append(p.list[:0], changes...), change{x, -1}, change{next[at], 1})
			items := p.items + p.gain(p.list)
			if p.take(next, items, items-cost, other) {
				return true
			}
		}
		next[at] = x
	}
	// Nearer than the present one, if that is wrong too.
	return p.wrong && p.take(next, p.items+p.gain(changes), worth, used)
}

// mostByOption is the most that another option of an candidate could add, caps apart.
func (p *polisher) mostByOption(x Choice, option int) float64 {
	c := &p.Candidates[x.Candidate]
	return math.Max(0, (c.Options[option].Returns-c.Options[x.Option].Returns)*p.steep[x.Candidate])
}

// mendable says whether another option of one candidate would put the time right,
// or the present sequence has them wrong as well.
func (p *polisher) mendable(next []Choice, used int) bool {
	if p.wrong {
		return true
	}
	for _, x := range next {
		all := p.Candidates[x.Candidate].Options
		for k := range all {
			if p.Time.near(used + all[k].Seconds - all[x.Option].Seconds) {
				return true
			}
		}
	}
	return false
}

// take makes a sequence the present one when it is worth more.
func (p *polisher) take(next []Choice, items, worth float64, used int) bool {
	if used > p.Time.Limit || worth-p.Time.missCost(used) <= p.best+1e-9 {
		return false
	}
	p.keep()
	p.now, p.items, p.best = append(p.now[:0], next...), items, worth-p.Time.missCost(used)
	p.wrong = !p.Time.near(used)
	return true
}

// improve makes small changes until none helps, or so many were tried, and returns
// the sequence with what it is worth.
func (p *polisher) improve(from []Choice, trials int) ([]Choice, float64) {
	if p.trials = trials; !p.begin(from) {
		return from, none
	}
	cs := p.Candidates
	next := make([]Choice, 0, 64)
	for improved := true; improved && p.trials > 0; {
		improved = false
		for at := 0; at < len(p.now); at++ {
			for k := range cs[p.now[at].Candidate].Options {
				was := p.now[at]
				if k == was.Option {
					continue
				}
				next = append(next[:0], p.now...)
				next[at] = p.in(was.Candidate, k)
				improved = p.try(next, change{was, -1}, change{next[at], 1}) || improved
			}
		}
		for at := 0; at < len(p.now); at++ {
			next = append(append(next[:0], p.now[:at]...), p.now[at+1:]...)
			if p.try(next, change{p.now[at], -1}) {
				improved = true
				at--
			}
		}
		for c := range cs {
			improved = p.bring(c, next) || improved
		}
		for at := 0; p.next != nil && at < len(p.now); at++ {
			improved = p.otherWays(at, next) || improved
		}
	}
	return p.now, p.best
}

// otherWays tries every other way of each share in the candidate at an index.
func (p *polisher) otherWays(at int, next []Choice) (improved bool) {
	for n, ways := range p.Candidates[p.now[at].Candidate].Options[p.now[at].Option].Shares {
		for m := range ways {
			was := p.now[at]
			if int(was.Picks[n]) == m {
				continue
			}
			next = append(next[:0], p.now...)
			next[at].Picks[n] = uint8(m)
			if o := &p.Candidates[was.Candidate].Options[was.Option]; o.Kinds > 0 && o.Together(next[at]) > o.Kinds {
				continue
			}
			improved = p.try(next, change{was, -1}, change{next[at], 1}) || improved
		}
	}
	return improved
}

// bring tries a candidate as one more candidate, and in the place of another of
// its group.
func (p *polisher) bring(c int, next []Choice) bool {
	if slices.ContainsFunc(p.now, func(x Choice) bool { return x.Candidate == c }) {
		return false
	}
	if p.inEveryOption(c, insert(next[:0], p.now, -1, Choice{Candidate: c}), change{Choice{Candidate: c}, 1}) {
		return true
	}
	for at, was := range p.now {
		if p.Candidates[was.Candidate].Group != p.Candidates[c].Group {
			continue // what replaces another stands in its group
		}
		if p.inEveryOption(c, insert(next[:0], p.now, at, Choice{Candidate: c}), change{was, -1}, change{Choice{Candidate: c}, 1}) {
			return true
		}
	}
	return false
}

// inEveryOption tries a sequence that holds a candidate in its first option in each of its
// options: only the seconds and the last of the changes differ. The list of changes is
// altered.
func (p *polisher) inEveryOption(c int, next []Choice, changes ...change) bool {
	cost, first, ok := p.Path(next)
	if !ok {
		p.trials -= len(p.Candidates[c].Options)
		return false
	}
	at := slices.IndexFunc(next, func(x Choice) bool { return x.Candidate == c })
	for k := range p.Candidates[c].Options {
		next[at] = p.in(c, k)
		changes[len(changes)-1].Choice = next[at]
		if p.weigh(next, cost, first+p.Candidates[c].Options[k].Seconds-p.Candidates[c].Options[0].Seconds, changes...) {
			return true
		}
	}
	return false
}

// insert puts a choice at its place of the order, without the one at
// index less, if any.
func insert(into, now []Choice, less int, x Choice) []Choice {
	done := false
	for n, y := range now {
		if n == less {
			continue
		}
		if !done && y.Candidate > x.Candidate {
			into = append(into, x)
			done = true
		}
		into = append(into, y)
	}
	if !done {
		into = append(into, x)
	}
	return into
}
