package plan

import (
	"math"
	"slices"

	"restbend/core/exercise"
)

// choice is the chosen sequence.
type choice struct {
	candidate, option int
}

// step is how a cell of the table was reached: from which candidate, with which
// option, and at which column.
type step struct {
	from, option int16
	before       int32
}

// table finds the sequence of greatest value whose seconds come to the target of
// its frame within two in a hundred, or else come nearest to it. Candidates are in
// session order and each is used once at most, so that the best value by last
// candidate and time so far, in ticks, holds the true optimum of this value. It is
// filled anew for each set of prices and its memory used again.
type table struct {
	f        frame
	cs       []candidate
	limit    int // last column
	phase    []int
	skip     []float64   // what leaving out each phase costs
	best     [][]float64 // by last candidate and column
	way      [][]step
	states   []state
	stateOf  []int // the state that each candidate ends in
	arrivals []arrival
	kindOf   []int // the arrival from earlier phases that each candidate shares
	now      arrival
	// Ticks of each option, with setting up and changing sides, so that rounding
	// errs now to one side and now to the other.
	seconds [][]int
	// Positions by number: where each candidate starts and ends, ticks and cost of
	// moving from one to another and of coming up, and which are on the floor.
	start, end []int
	move       [][]int
	cost       [][]float64
	up         []int
	floor      []bool
	standing   int
	miss       []float64 // what ending in each column costs
	lo, hi     []int     // columns in use of each candidate's row
	top        []float64 // and the best in it
}

// state is the phase and position that the last exercise ended in. What follows
// depends only on these: the best value, and by which candidate it was reached.
type state struct {
	phase  int
	end    exercise.Position
	rank   int // of end
	value  []float64
	by     []int16
	lo, hi int // columns in use
}

// arrival is the best value on arriving at a candidate, by column, and how. What
// arrives from earlier phases is the same for all that begin alike.
type arrival struct {
	into   []float64
	from   []step
	lo, hi int // columns in use
	done   bool
}

func newTable(f frame, cs []candidate) *table {
	n := len(cs)
	t := &table{f: f, cs: cs, limit: f.columns(), phase: make([]int, n), skip: f.skips(),
		best: make([][]float64, n), way: make([][]step, n), stateOf: make([]int, n), kindOf: make([]int, n), seconds: make([][]int, n)}
	type kind struct {
		phase int
		start exercise.Position
	}
	var kinds []kind
	for i, c := range cs {
		t.phase[i] = f.phase(c.phase)
		t.best[i], t.way[i] = make([]float64, t.limit+1), make([]step, t.limit+1)
		t.stateOf[i] = slices.IndexFunc(t.states, func(s state) bool { return s.phase == t.phase[i] && s.end == c.variant.EndPosition })
		if t.stateOf[i] < 0 {
			t.stateOf[i] = len(t.states)
			t.states = append(t.states, state{phase: t.phase[i], end: c.variant.EndPosition, rank: c.variant.EndPosition.Rank(), value: make([]float64, t.limit+1), by: make([]int16, t.limit+1)})
		}
		k := kind{t.phase[i], c.variant.Position}
		t.kindOf[i] = slices.Index(kinds, k)
		if t.kindOf[i] < 0 {
			t.kindOf[i] = len(kinds)
			kinds = append(kinds, k)
			t.arrivals = append(t.arrivals, t.newArrival())
		}
		for _, o := range c.doses {
			t.seconds[i] = append(t.seconds[i], f.ticks(o.seconds+c.setUp()))
		}
	}
	t.positions()
	t.lo, t.hi, t.top = make([]int, n), make([]int, n), make([]float64, n)
	for i := range cs {
		clearTo(t.best[i])
		t.lo[i], t.hi[i] = t.limit+1, -1
	}
	for k := range t.limit + 1 {
		t.miss = append(t.miss, f.missCost(k))
	}
	t.now = t.newArrival()
	clearTo(t.now.into)
	t.now.lo, t.now.hi = t.limit+1, -1
	return t
}

// positions works out once what moving between positions takes.
func (t *table) positions() {
	t.standing = standingPosition.Rank()
	for _, c := range t.cs {
		t.start, t.end = append(t.start, c.variant.Position.Rank()), append(t.end, c.variant.EndPosition.Rank())
	}
	place, m := t.f.place, mover{t.f.place, t.f.slow}
	for _, from := range exercise.Positions {
		var move []int
		var cost []float64
		for _, to := range exercise.Positions {
			move = append(move, t.f.ticks(m.change(from, to)-setUpSeconds))
			cost = append(cost, moveCost(place, from, to))
		}
		t.move, t.cost, t.floor = append(t.move, move), append(t.cost, cost), append(t.floor, isFloor(place, from))
		t.up = append(t.up, t.f.ticks(m.up(from)))
	}
}

func (t *table) newArrival() arrival {
	return arrival{into: make([]float64, t.limit+1), from: make([]step, t.limit+1)}
}

var none = math.Inf(-1)

func clearTo(values []float64) {
	for i := range values {
		values[i] = none
	}
}

// skips is what the phases left out between two cost.
func (t *table) skips(from, to int) float64 {
	cost := 0.0
	for p := from + 1; p < to; p++ {
		cost += t.skip[p]
	}
	return cost
}

// follow lets a candidate follow what ended in a state.
func (t *table) follow(a *arrival, s *state, i int) {
	c := &t.cs[i]
	end := s.rank
	if s.hi < 0 || t.floor[t.start[i]] && !t.floor[end] && !t.f.allowed(s.phase, s.end, c.variant.Position) {
		return
	}
	move := t.move[end][t.start[i]]
	cost := t.skips(s.phase, t.phase[i]) + t.cost[end][t.start[i]]
	last := min(s.hi, t.limit-move)
	if last < s.lo {
		return
	}
	into, from := a.into[s.lo+move:last+move+1], a.from[s.lo+move:last+move+1]
	for k, v := range s.value[s.lo : last+1] {
		if v -= cost; v > into[k] {
			into[k], from[k] = v, step{from: s.by[s.lo+k], before: int32(s.lo + k)}
		}
	}
	a.lo, a.hi = min(a.lo, s.lo+move), max(a.hi, last+move)
}

// fromEarlier is what arrives at a candidate from the start and earlier phases.
func (t *table) fromEarlier(i int) *arrival {
	a := &t.arrivals[t.kindOf[i]]
	if a.done {
		return a
	}
	c := &t.cs[i]
	clearTo(a.into)
	a.lo, a.hi, a.done = t.limit+1, -1, true
	if t.f.mayStart(t.phase[i], c.variant.Position) {
		from := t.f.from.Rank()
		if at := t.move[from][t.start[i]]; at <= t.limit {
			a.into[at], a.from[at] = -t.skips(t.f.begun, t.phase[i])-t.cost[from][t.start[i]], step{from: -1, before: -1}
			a.lo, a.hi = at, at
		}
	}
	for s := range t.states {
		if t.states[s].phase < t.phase[i] {
			t.follow(a, &t.states[s], i)
		}
	}
	return a
}

// choose fills the table for the options' values and returns the best sequence
// with what it is worth.
func (t *table) choose() ([]choice, float64) {
	for i := range t.arrivals {
		t.arrivals[i].done = false
	}
	for i := range t.states {
		s := &t.states[i]
		clearTo(s.value)
		s.lo, s.hi = t.limit+1, -1
	}
	for i := range t.cs {
		t.reach(i)
	}
	var best ending
	for _, e := range t.endings() {
		if best.worth == 0 || e.worth > best.worth {
			best = e
		}
	}
	return t.trace(best), best.worth
}

// trace walks back from an ending through the table.
func (t *table) trace(e ending) []choice {
	if e.worth == 0 {
		return nil
	}
	var out []choice
	for i, k := e.last, e.column; i >= 0; {
		w := t.way[i][k]
		out = append(out, choice{i, int(w.option)})
		i, k = int(w.from), int(w.before)
	}
	slices.Reverse(out)
	return out
}

// reach fills the row of a candidate and adds it to the state it ends in.
func (t *table) reach(i int) {
	before, now := t.fromEarlier(i), &t.now
	if now.lo <= now.hi {
		clearTo(now.into[now.lo : now.hi+1])
	}
	if now.lo, now.hi = before.lo, before.hi; now.lo <= now.hi {
		copy(now.into[now.lo:now.hi+1], before.into[now.lo:now.hi+1])
		copy(now.from[now.lo:now.hi+1], before.from[now.lo:now.hi+1])
	}
	for s := range t.states {
		if t.states[s].phase == t.phase[i] {
			t.follow(now, &t.states[s], i)
		}
	}
	if t.lo[i] <= t.hi[i] {
		clearTo(t.best[i][t.lo[i] : t.hi[i]+1])
	}
	lo, hi := t.limit+1, -1
	for k, o := range t.cs[i].doses {
		s := t.seconds[i][k]
		last := min(now.hi, t.limit-s)
		if now.lo > last {
			continue
		}
		alone := o.value - t.f.oneMore
		lo, hi = min(lo, now.lo+s), max(hi, last+s)
		in, at, to := now.into[now.lo:last+1], t.best[i][now.lo+s:last+s+1], t.way[i][now.lo+s:last+s+1]
		from := now.from[now.lo : last+1]
		for n, v := range in {
			if worth := v + alone; worth > at[n] {
				at[n], to[n] = worth, step{from[n].from, int16(k), from[n].before}
			}
		}
	}
	s, top := &t.states[t.stateOf[i]], none
	for n := lo; n <= hi; n++ {
		v := t.best[i][n]
		if v > s.value[n] {
			s.value[n], s.by[n] = v, int16(i)
		}
		top = math.Max(top, v)
	}
	t.lo[i], t.hi[i], t.top[i] = lo, hi, top
	s.lo, s.hi = min(s.lo, lo), max(s.hi, hi)
}

// ending is the best end of a session in one position: its last candidate, at which
// column, and what the whole is worth.
type ending struct {
	last, column int
	worth        float64 // 0 when there is none
}

// endings are the best ends of a session, one for each position it may end in.
func (t *table) endings() []ending {
	best := make([]ending, len(exercise.Positions))
	for i := range t.cs {
		rank := t.end[i]
		cost := t.skips(t.phase[i], len(t.f.phases)) + t.cost[rank][t.standing]
		if best[rank].worth != 0 && t.top[i]-cost <= best[rank].worth {
			continue // not even in time would it be better
		}
		for k := t.lo[i]; k <= min(t.hi[i], t.limit-t.up[rank]); k++ {
			v, total := t.best[i][k], k+t.up[rank]
			if v == none {
				continue
			}
			if v -= cost + t.miss[total]; best[rank].worth == 0 || v > best[rank].worth {
				best[rank] = ending{i, k, v}
			}
		}
	}
	return slices.DeleteFunc(best, func(e ending) bool { return e.worth == 0 })
}

// setUp is the seconds of setting a candidate up and changing its sides.
func (c *candidate) setUp() float64 {
	if c.sided {
		return setUpSeconds + sideSeconds
	}
	return setUpSeconds
}

func moveCost(place exercise.Place, from, to exercise.Position) float64 {
	if from == to {
		return 0
	}
	switch {
	case isFloor(place, from) != isFloor(place, to):
		return transferCost
	case to.Rank() < from.Rank():
		return positionCost + backCost
	}
	return positionCost
}
