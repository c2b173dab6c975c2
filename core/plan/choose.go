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
	oneMore        = 1.6
	positionCost   = 0.15
	transferCost   = 2.0
	minuteMissCost = 0.05 // per second away from the minutes asked
)

// choice is the chosen sequence.
type choice struct {
	candidate, option int
}

// choose finds the sequence of greatest value whose seconds come to the target
// within two in a hundred, or else come nearest to it. Candidates are
// in session order and each is used once at most, so that a table of the best
// value by last candidate and seconds so far holds the true optimum of this
// value.
func choose(place exercise.Place, cs []candidate, target int) []choice {
	n := len(cs)
	limit := int(float64(target)*1.02) + 1
	none := math.Inf(-1)
	type step struct {
		from, option int16
		before       int32
	}
	best := make([][]float64, n)
	way := make([][]step, n)
	phase := make([]int, n)
	for i, c := range cs {
		phase[i] = slices.Index(exercise.Phases, c.phase)
	}
	filled := make([]bool, len(exercise.Phases))
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
	for i, c := range cs {
		best[i] = make([]float64, limit+1)
		way[i] = make([]step, limit+1)
		into := make([]float64, limit+1) // best value on arriving at i, by seconds
		from := make([]step, limit+1)
		for t := range into {
			into[t], best[i][t] = none, none
		}
		sides := 0.0
		if c.variant.Sided {
			sides = sideSeconds
		}
		arrive := func(j int16, t int, v float64) {
			if t <= limit && v > into[t] {
				into[t], from[t] = v, step{from: j}
			}
		}
		if !opens || phase[i] == 0 {
			at := int(math.Round(changeOver(place, standingPosition, c.variant.Position) + sides))
			arrive(-1, at, -skips(-1, phase[i])-moveCost(place, standingPosition, c.variant.Position))
			if at <= limit {
				from[at].before = -1
			}
		}
		for j := range i {
			if cs[j].variant == c.variant && phase[j] == phase[i] {
				continue
			}
			last := cs[j].variant.EndPosition
			if isFloor(place, c.variant.Position) && !isFloor(place, last) {
				continue // once up, nobody is sent down to the floor again
			}
			move := int(math.Round(changeOver(place, last, c.variant.Position) + sides))
			cost := skips(phase[j], phase[i]) + moveCost(place, last, c.variant.Position)
			for t, v := range best[j] {
				if v > none && t+move <= limit && v-cost > into[t+move] {
					into[t+move] = v - cost
					from[t+move] = step{from: int16(j), before: int32(t)}
				}
			}
		}
		for k, o := range c.doses {
			s := int(math.Round(o.seconds))
			for t, v := range into {
				if v == none || t+s > limit {
					continue
				}
				if worth := v + o.value - oneMore; worth > best[i][t+s] {
					best[i][t+s] = worth
					way[i][t+s] = step{from[t].from, int16(k), from[t].before}
				}
			}
		}
	}
	end, at, top := -1, 0, none
	for i, c := range cs {
		if closes && phase[i] != len(exercise.Phases)-1 {
			continue
		}
		up := int(math.Round(ComingUp(place, c.variant.EndPosition)))
		cost := skips(phase[i], len(exercise.Phases)) + moveCost(place, c.variant.EndPosition, standingPosition)
		for t, v := range best[i] {
			total := t + up
			if v == none || total > limit {
				continue
			}
			miss := math.Abs(float64(total - target))
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
	return out
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
