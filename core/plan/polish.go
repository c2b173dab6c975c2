package plan

import (
	"math"
	"slices"
)

// How many changes are tried on one session, and on the very first: counts and not a
// clock, so that the same request always gives the same plan.
const (
	mostTrials  = 60000
	roughTrials = 1500
)

// polisher improves a sequence by small changes: another dose, another exercise
// in its place, one more, one fewer. It knows the true value, features and all.
// Of a change it works out only the difference.
type polisher struct {
	v valued
	*course
	trials  int // that are left
	now     []choice
	items   float64   // what the items of now are worth, without their order
	best    float64   // what now is worth in all
	wrong   bool      // now misses the minutes
	amounts []float64 // of each feature in now
	diff    []float64 // of each feature by the change looked at
	touched []int
	list    []change
	steep   []float64 // the most that one full dose of each candidate could add
}

func newPolisher(v valued, k *course) *polisher {
	p := &polisher{v: v, course: k, amounts: make([]float64, len(v.features)), diff: make([]float64, len(v.features))}
	for _, c := range v.cs {
		steep := math.Max(0, c.own)
		for _, u := range c.units {
			steep += v.features[u.feature].slopes[0] * u.amount
		}
		p.steep = append(p.steep, steep)
	}
	return p
}

// change is a choice that comes (1) or goes (−1).
type change struct {
	choice
	sign float64
}

// begin takes a sequence as the one to improve; false when it is not allowed.
func (p *polisher) begin(from []choice) bool {
	p.now, p.items = slices.Clone(from), 0
	clear(p.amounts)
	var all []change
	for _, x := range from {
		all = append(all, change{x, 1})
	}
	p.items = p.gain(all)
	p.keep()
	cost, used, ok := p.path(p.now)
	p.best = p.items - cost - p.missCost(used)
	p.wrong = !p.near(used)
	return ok && used <= p.limit
}

// gain is what changes add to the items' worth, order apart; it leaves the
// differences of the features in diff and touched.
func (p *polisher) gain(changes []change) float64 {
	for _, i := range p.touched {
		p.diff[i] = 0
	}
	p.touched = p.touched[:0]
	add := func(feature int, amount float64) {
		if p.diff[feature] == 0 {
			p.touched = append(p.touched, feature)
		}
		p.diff[feature] += amount
	}
	sum := 0.0
	for _, x := range changes {
		c := &p.v.cs[x.candidate]
		returns := c.doses[x.option].returns
		sum += x.sign * (c.own*returns - p.f.oneMore)
		for _, u := range c.units {
			if u.whole {
				add(u.feature, x.sign*u.amount)
			} else {
				add(u.feature, x.sign*u.amount*returns)
			}
		}
		for _, u := range c.doses[x.option].uses {
			add(u.feature, x.sign*u.amount)
		}
	}
	for n, i := range p.touched {
		if slices.Contains(p.touched[:n], i) {
			continue // went back to nothing on the way
		}
		was := p.amounts[i]
		sum += p.v.features[i].worth(math.Max(0, was+p.diff[i])) - p.v.features[i].worth(was)
	}
	return sum
}

// keep takes over the differences of the change looked at last.
func (p *polisher) keep() {
	for n, i := range p.touched {
		if !slices.Contains(p.touched[:n], i) {
			p.amounts[i] = math.Max(0, p.amounts[i]+p.diff[i])
		}
	}
}

// try looks at a sequence that differs from the present one by the changes, and
// takes it when it is better. One that leaves the minutes wrong is tried again
// with another dose of each of the others that puts them right.
func (p *polisher) try(next []choice, changes ...change) bool {
	if p.trials <= 0 {
		return false
	}
	cost, used, ok := p.path(next)
	if !ok {
		p.trials--
		return false
	}
	return p.weigh(next, cost, used, changes...)
}

// weigh is try for a sequence whose order costs and takes so much.
func (p *polisher) weigh(next []choice, cost float64, used int, changes ...change) bool {
	if p.trials <= 0 {
		return false
	}
	p.trials--
	if !p.near(used) && !p.mendable(next, used) {
		return false
	}
	worth := p.items + p.gain(changes) - cost
	if p.near(used) {
		return p.take(next, worth+cost, worth, used)
	}
	for at := range next {
		x := next[at]
		for k, seconds := range p.seconds[x.candidate] {
			other := used + seconds - p.seconds[x.candidate][x.option]
			if k == x.option || !p.near(other) || worth+p.mostByDose(x, k) <= p.best {
				continue
			}
			next[at].option = k
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

// mostByDose is the most that another dose of an exercise could add, caps apart.
func (p *polisher) mostByDose(x choice, option int) float64 {
	c := &p.v.cs[x.candidate]
	return math.Max(0, (c.doses[option].returns-c.doses[x.option].returns)*p.steep[x.candidate])
}

// mendable says whether another dose of one exercise would put the minutes right,
// or the present sequence has them wrong as well.
func (p *polisher) mendable(next []choice, used int) bool {
	if p.wrong {
		return true
	}
	for _, x := range next {
		all := p.seconds[x.candidate]
		for _, seconds := range all {
			if p.near(used + seconds - all[x.option]) {
				return true
			}
		}
	}
	return false
}

// take makes a sequence the present one when it is worth more.
func (p *polisher) take(next []choice, items, worth float64, used int) bool {
	if used > p.limit || worth-p.missCost(used) <= p.best+1e-9 {
		return false
	}
	p.keep()
	p.now, p.items, p.best = append(p.now[:0], next...), items, worth-p.missCost(used)
	p.wrong = !p.near(used)
	return true
}

// improve makes small changes until none helps, or so many were tried, and returns
// the sequence with what it is worth.
func (p *polisher) improve(from []choice, trials int) ([]choice, float64) {
	if p.trials = trials; !p.begin(from) {
		return from, none
	}
	cs := p.v.cs
	next := make([]choice, 0, 64)
	for improved := true; improved && p.trials > 0; {
		improved = false
		for at := 0; at < len(p.now); at++ {
			for k := range cs[p.now[at].candidate].doses {
				was := p.now[at]
				if k == was.option {
					continue
				}
				next = append(next[:0], p.now...)
				next[at].option = k
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
	}
	return p.now, p.best
}

// bring tries a candidate as one more exercise, and in the place of another of
// its phase.
func (p *polisher) bring(c int, next []choice) bool {
	if slices.ContainsFunc(p.now, func(x choice) bool { return x.candidate == c }) {
		return false
	}
	if p.inEveryDose(c, insert(next[:0], p.now, -1, choice{c, 0}), change{choice{c, 0}, 1}) {
		return true
	}
	for at, was := range p.now {
		if p.phase[was.candidate] != p.phase[c] {
			continue // what replaces another stands in its phase
		}
		if p.inEveryDose(c, insert(next[:0], p.now, at, choice{c, 0}), change{was, -1}, change{choice{c, 0}, 1}) {
			return true
		}
	}
	return false
}

// inEveryDose tries a sequence that holds a candidate in its first dose in each of its
// doses: only the seconds and the last of the changes differ. The list of changes is
// altered.
func (p *polisher) inEveryDose(c int, next []choice, changes ...change) bool {
	cost, first, ok := p.path(next)
	if !ok {
		p.trials -= len(p.v.cs[c].doses)
		return false
	}
	at := slices.IndexFunc(next, func(x choice) bool { return x.candidate == c })
	for k := range p.v.cs[c].doses {
		next[at].option, changes[len(changes)-1].option = k, k
		if p.weigh(next, cost, first+p.seconds[c][k]-p.seconds[c][0], changes...) {
			return true
		}
	}
	return false
}

// insert puts a choice at its place of the session order, without the one at
// index less, if any.
func insert(into, now []choice, less int, x choice) []choice {
	done := false
	for n, y := range now {
		if n == less {
			continue
		}
		if !done && y.candidate > x.candidate {
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
