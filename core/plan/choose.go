package plan

import (
	"math"
	"slices"

	"restbend/core/exercise"
)

// Weights of the choosing, this product's own choice: what it costs to leave
// out a phase that could be filled, to begin one more exercise (fewer, done
// fully, teach better than many), to change position, and to get down to or up
// from the floor.
const (
	skippedPhase   = 3.0
	oneMore        = 0.5
	positionCost   = 0.6
	transferCost   = 2.0
	minuteMissCost = 0.05 // per second away from the minutes asked
)

// choice is the chosen sequence.
type choice struct {
	candidate, option int
}

// tick is the seconds that one column of the table stands for.
const tick = 3

// ticks rounds seconds to columns.
func ticks(seconds float64) int { return int(math.Round(seconds / tick)) }

// choose finds the sequence of greatest value whose seconds come to the target
// of the frame within two in a hundred, or else come nearest to it. Candidates are
// in session order and each is used once at most, so that a table of the best
// value by last candidate and time so far, in ticks, holds the true optimum of
// this value. It also returns what the sequence is worth.
func choose(f frame, cs []candidate) ([]choice, float64) {
	n, place, target := len(cs), f.place, f.target
	limit := int(float64(target)*1.02)/tick + 1
	none := math.Inf(-1)
	type step struct {
		from, option int16
		before       int32
	}
	// What follows depends only on the phase and position that the last exercise
	// ended in, so the table is kept by those: the best value, and by which
	// candidate it was reached.
	type state struct {
		phase  int
		end    exercise.Position
		value  []float64
		by     []int16
		lo, hi int // columns in use
	}
	var states []*state
	stateOf := func(phase int, end exercise.Position) *state {
		for _, s := range states {
			if s.phase == phase && s.end == end {
				return s
			}
		}
		s := &state{phase, end, make([]float64, limit+1), make([]int16, limit+1), limit + 1, -1}
		for t := range s.value {
			s.value[t] = none
		}
		states = append(states, s)
		return s
	}
	best := make([][]float64, n)
	way := make([][]step, n)
	phase := make([]int, n)
	for i, c := range cs {
		phase[i] = f.phase(c.phase)
	}
	filled := make([]bool, len(f.phases))
	for _, p := range phase {
		filled[p] = true
	}
	skips := func(from, to int) float64 {
		cost := 0.0
		for p := from + 1; p < to; p++ {
			if filled[p] {
				cost += skippedPhase
			}
		}
		return cost
	}
	closes := filled[len(filled)-1]
	opens := filled[0]
	// arrival is the best value on arriving at a candidate, by time, and how.
	type arrival struct {
		into   []float64
		from   []step
		lo, hi int // columns in use
	}
	arrive := func() *arrival {
		a := &arrival{make([]float64, limit+1), make([]step, limit+1), limit + 1, -1}
		for t := range a.into {
			a.into[t] = none
		}
		return a
	}
	follow := func(a *arrival, s *state, i int) {
		c := &cs[i]
		if !f.allowed(s.phase, s.end, c.variant.Position) {
			return
		}
		move := ticks(changeOver(place, s.end, c.variant.Position) + c.sideSeconds())
		cost := skips(s.phase, phase[i]) + moveCost(place, s.end, c.variant.Position)
		last := min(s.hi, limit-move)
		if last < s.lo {
			return
		}
		into, from := a.into[s.lo+move:last+move+1], a.from[s.lo+move:last+move+1]
		for t, v := range s.value[s.lo : last+1] {
			if v -= cost; v > into[t] {
				into[t], from[t] = v, step{from: s.by[s.lo+t], before: int32(s.lo + t)}
			}
		}
		a.lo, a.hi = min(a.lo, s.lo+move), max(a.hi, last+move)
	}
	// What arrives from earlier phases is the same for all that begin alike.
	type kind struct {
		phase int
		start exercise.Position
		sided bool
	}
	earlier := map[kind]*arrival{}
	now := arrive()
	for i, c := range cs {
		best[i] = make([]float64, limit+1)
		way[i] = make([]step, limit+1)
		for t := range best[i] {
			best[i][t] = none
		}
		key := kind{phase[i], c.variant.Position, c.variant.Sided}
		before := earlier[key]
		if before == nil {
			before = arrive()
			if f.mayStart(opens, phase[i], c.variant.Position) {
				at := ticks(changeOver(place, f.from, c.variant.Position) + c.sideSeconds())
				if at <= limit {
					before.into[at], before.from[at] = -skips(f.begun, phase[i])-moveCost(place, f.from, c.variant.Position), step{from: -1, before: -1}
					before.lo, before.hi = at, at
				}
			}
			for _, s := range states {
				if s.phase < phase[i] {
					follow(before, s, i)
				}
			}
			earlier[key] = before
		}
		copy(now.into, before.into)
		copy(now.from, before.from)
		now.lo, now.hi = before.lo, before.hi
		for _, s := range states {
			if s.phase == phase[i] {
				follow(now, s, i)
			}
		}
		into, from, lo, hi := now.into, now.from, now.lo, now.hi
		for k, o := range c.doses {
			s := ticks(o.seconds)
			last := min(hi, limit-s)
			if lo > last {
				continue
			}
			alone := o.value - oneMore
			in, at, to := into[lo:last+1], best[i][lo+s:last+s+1], way[i][lo+s:last+s+1]
			for t, v := range in {
				if worth := v + alone; worth > at[t] {
					at[t], to[t] = worth, step{from[lo+t].from, int16(k), from[lo+t].before}
				}
			}
		}
		s := stateOf(phase[i], c.variant.EndPosition)
		values := s.value
		for t, v := range best[i] {
			if v > values[t] {
				values[t], s.by[t] = v, int16(i)
				s.lo, s.hi = min(s.lo, t), max(s.hi, t)
			}
		}
	}
	end, at, top := -1, 0, none
	for i, c := range cs {
		if closes && phase[i] != len(f.phases)-1 {
			continue
		}
		up := ticks(ComingUp(place, c.variant.EndPosition))
		cost := skips(phase[i], len(f.phases)) + moveCost(place, c.variant.EndPosition, standingPosition)
		for t, v := range best[i] {
			total := t + up
			if v == none || total > limit {
				continue
			}
			miss := math.Abs(float64(total*tick - target))
			if miss > 0.02*float64(target) { // outside: nearness comes before value
				v -= 1000 + 10*miss
			}
			if v -= cost + minuteMissCost*miss; v > top {
				end, at, top = i, t, v
			}
		}
	}
	var out []choice
	for i, t := end, at; i >= 0; {
		w := way[i][t]
		out = append(out, choice{i, int(w.option)})
		i, t = int(w.from), int(w.before)
	}
	slices.Reverse(out)
	return out, top
}

// sideSeconds is what changing sides takes.
func (c *candidate) sideSeconds() float64 {
	if c.variant.Sided {
		return sideSeconds
	}
	return 0
}

func moveCost(place exercise.Place, from, to exercise.Position) float64 {
	if from == to {
		return 0
	}
	if isFloor(place, from) != isFloor(place, to) {
		return transferCost
	}
	return positionCost
}
