package plan

import (
	"math"
	"slices"

	"restbend/core/exercise"
)

// mostTrials is how many changes are tried on one session: a count and not a
// clock, so that the same request always gives the same plan.
const mostTrials = 60000

// mostByDose is more than another dose of one exercise could add to a session.
const mostByDose = 1.5

// polisher improves a sequence by small changes: another dose, another exercise
// in its place, one more, one fewer. It knows the true value, features and all.
type polisher struct {
	v       valued
	frame   frame
	limit   int
	phase   []int
	filled  []bool
	amounts []float64
	trials  int
	// Positions by number, the last one standing; ticks and cost of moving from one
	// to another, and which are on the floor.
	start, end []int
	sided      []int
	move       [][]int
	cost       [][]float64
	floor      []bool
	seconds    [][]int // ticks of each dose
}

func newPolisher(v valued, f frame) *polisher {
	place := f.place
	p := &polisher{v: v, frame: f, limit: int(float64(f.target)*1.02)/tick + 1,
		phase: make([]int, len(v.cs)), filled: make([]bool, len(f.phases)), amounts: make([]float64, len(v.features))}
	for i, c := range v.cs {
		p.phase[i] = f.phase(c.phase)
		p.filled[p.phase[i]] = true
		p.start, p.end = append(p.start, c.variant.Position.Rank()), append(p.end, c.variant.EndPosition.Rank())
		side := 0
		if c.variant.Sided {
			side = 1
		}
		p.sided = append(p.sided, side)
		doses := make([]int, len(c.doses))
		for k, o := range c.doses {
			doses[k] = ticks(o.seconds)
		}
		p.seconds = append(p.seconds, doses)
	}
	for _, from := range exercise.Positions {
		var move []int
		var cost []float64
		for _, to := range exercise.Positions {
			// Twice over: without sides, and with the change of sides that follows.
			move = append(move, ticks(changeOver(place, from, to)), ticks(changeOver(place, from, to)+sideSeconds))
			cost = append(cost, moveCost(place, from, to))
		}
		p.move, p.cost, p.floor = append(p.move, move), append(p.cost, cost), append(p.floor, isFloor(place, from))
	}
	return p
}

// improve makes small changes until none helps, and returns the sequence with
// what it is worth. A change that leaves the minutes wrong is tried again with
// another dose of each of the others that puts them right.
func (p *polisher) improve(from []choice) ([]choice, float64) {
	v := p.v
	now := slices.Clone(from)
	best := p.worth(now)
	take := func(next []choice, sum float64, used int) bool {
		if w := p.timed(sum, used); w > best+1e-9 {
			now, best = slices.Clone(next), w
			return true
		}
		return false
	}
	try := func(next []choice) bool {
		if p.trials >= mostTrials || len(next) == 0 {
			return false
		}
		p.trials++
		sum, used, ok := p.weigh(next)
		if !ok {
			return false
		}
		if take(next, sum, used) {
			return true
		}
		// Even free of the minutes it would be worth less: nothing to put right.
		if p.inTime(used) || sum+mostByDose < best {
			return false
		}
		for at := range next {
			c := &v.cs[next[at].candidate]
			was := next[at].option
			for k := range c.doses {
				other := used + p.seconds[next[at].candidate][k] - p.seconds[next[at].candidate][was]
				if k == was || !p.inTime(other) {
					continue
				}
				next[at].option = k
				p.trials++
				if sum, used, ok := p.weigh(next); ok && take(next, sum, used) {
					return true
				}
			}
			next[at].option = was
		}
		return false
	}
	next := make([]choice, 0, 64)
	for improved := true; improved && p.trials < mostTrials; {
		improved = false
		for at := 0; at < len(now); at++ {
			for k := range v.cs[now[at].candidate].doses {
				next = append(next[:0], now...)
				next[at].option = k
				improved = try(next) || improved
			}
		}
		for at := 0; at < len(now); at++ {
			next = append(append(next[:0], now[:at]...), now[at+1:]...)
			if try(next) {
				improved = true
				at--
			}
		}
		for c := range v.cs {
			before := best
			in := slices.ContainsFunc(now, func(x choice) bool { return x.candidate == c })
			for k := 0; k < len(v.cs[c].doses) && !in; k++ {
				next = insert(next[:0], now, c, k)
				in = try(next)
			}
			for at := 0; at < len(now) && !in; at++ {
				if p.phase[now[at].candidate] != p.phase[c] {
					continue // what replaces another stands in its phase
				}
				for k := 0; k < len(v.cs[c].doses) && !in; k++ {
					next = insert(next[:0], slices.Delete(slices.Clone(now), at, at+1), c, k)
					in = try(next)
				}
			}
			improved = improved || in && best > before+1e-9
		}
	}
	return now, best
}

// insert puts a candidate at its place of the session order.
func insert(into, now []choice, candidate, option int) []choice {
	done := false
	for _, x := range now {
		if !done && x.candidate > candidate {
			into = append(into, choice{candidate, option})
			done = true
		}
		into = append(into, x)
	}
	if !done {
		into = append(into, choice{candidate, option})
	}
	return into
}

// inTime says whether so many ticks are near enough to the minutes asked.
func (p *polisher) inTime(used int) bool {
	return used <= p.limit && math.Abs(float64(used*tick-p.frame.target)) <= 0.02*float64(p.frame.target)
}

// worth is what a sequence is truly worth; minus infinity when it is not allowed.
func (p *polisher) worth(list []choice) float64 {
	sum, used, ok := p.weigh(list)
	if !ok {
		return math.Inf(-1)
	}
	return p.timed(sum, used)
}

// timed takes off what being away from the minutes asked costs.
func (p *polisher) timed(sum float64, used int) float64 {
	if used > p.limit {
		return math.Inf(-1)
	}
	miss := math.Abs(float64(used*tick - p.frame.target))
	if miss > 0.02*float64(p.frame.target) {
		sum -= 1000 + 10*miss
	}
	return sum - minuteMissCost*miss
}

// weigh adds up a sequence without regard to the minutes asked, and its ticks.
func (p *polisher) weigh(list []choice) (sum float64, used int, ok bool) {
	if len(list) == 0 || p.filled[0] && p.frame.begun < 0 && p.phase[list[0].candidate] != 0 || p.filled[len(p.filled)-1] && p.phase[list[len(list)-1].candidate] != len(p.filled)-1 {
		return 0, 0, false
	}
	clear(p.amounts)
	at, phase := p.frame.from.Rank(), p.frame.begun
	skip := func(to int) {
		for q := phase + 1; q < to; q++ {
			if p.filled[q] {
				sum -= skippedPhase
			}
		}
	}
	for n, x := range list {
		i := x.candidate
		down := p.floor[p.start[i]] && !p.floor[at]
		if p.phase[i] < phase || down && (n > 0 && !(p.frame.standing && phase == 0) || n == 0 && p.frame.stayUp) {
			return 0, 0, false
		}
		skip(p.phase[i])
		phase = p.phase[i]
		sum -= p.cost[at][p.start[i]]
		used += p.move[at][2*p.start[i]+p.sided[i]] + p.seconds[i][x.option]
		c := &p.v.cs[i]
		returns := c.doses[x.option].returns
		sum += c.own*returns - oneMore
		for _, u := range c.units {
			if u.whole {
				p.amounts[u.feature] += u.amount
			} else {
				p.amounts[u.feature] += u.amount * returns
			}
		}
		for _, u := range c.doses[x.option].uses {
			p.amounts[u.feature] += u.amount
		}
		at = p.end[i]
	}
	skip(len(p.filled))
	standing := standingPosition.Rank()
	sum -= p.cost[at][standing]
	if at != standing {
		used += ticks(ComingUp(p.frame.place, exercise.Positions[at]))
	}
	for i, amount := range p.amounts {
		if amount > 0 {
			sum += p.v.features[i].worth(amount)
		}
	}
	return sum, used, true
}
