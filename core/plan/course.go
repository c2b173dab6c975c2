package plan

import (
	"math"

	"restbend/core/exercise"
)

// choice is one exercise of a session: which candidate, with which of its doses.
type choice struct {
	candidate, option int
}

// course is what the steps of a session take and cost: by candidate its phase, the
// ranks of the positions it starts and ends in and the whole seconds of each dose,
// with setting up and changing sides; by position the ways between them.
type course struct {
	f          frame
	least      int // the seconds from which on the minutes are near enough
	limit      int // and those that no session may go beyond
	phase      []int
	start, end []int
	seconds    [][]int
	move       [][]int // seconds from one position to another
	cost       [][]float64
	up         []int // seconds from a position to standing
	floor      []bool
	standing   int
	skip       []float64 // what leaving out each phase costs
}

func newCourse(f frame, cs []candidate) *course {
	k := &course{f: f, least: f.least(), limit: f.most(), skip: f.skips(), standing: standingPosition.Rank()}
	for i := range cs {
		c := &cs[i]
		k.phase = append(k.phase, f.phase(c.phase))
		k.start, k.end = append(k.start, c.variant.Position.Rank()), append(k.end, c.variant.EndPosition.Rank())
		var seconds []int
		for _, o := range c.doses {
			seconds = append(seconds, int(math.Round(o.seconds+c.setUp())))
		}
		k.seconds = append(k.seconds, seconds)
	}
	m := mover{f.place, f.slow}
	for _, from := range exercise.Positions {
		var move []int
		var cost []float64
		for _, to := range exercise.Positions {
			move = append(move, int(m.change(from, to)-setUpSeconds))
			cost = append(cost, moveCost(f.place, from, to))
		}
		k.move, k.cost, k.floor = append(k.move, move), append(k.cost, cost), append(k.floor, isFloor(f.place, from))
		k.up = append(k.up, int(m.up(from)))
	}
	return k
}

// skips is what the phases left out between two cost.
func (k *course) skips(from, to int) float64 {
	cost := 0.0
	for p := from + 1; p < to; p++ {
		cost += k.skip[p]
	}
	return cost
}

// follows says whether an exercise that starts at a position may follow one of the
// given phase that ended elsewhere.
func (k *course) follows(phase, end, start int) bool {
	return !k.floor[start] || k.floor[end] || k.f.allowed(phase, exercise.Positions[end], exercise.Positions[start])
}

// path is what the order of a sequence costs, the seconds it takes, and whether it
// is allowed.
func (k *course) path(list []choice) (cost float64, used int, ok bool) {
	if len(list) == 0 {
		return 0, 0, false
	}
	at, phase := k.f.from.Rank(), k.f.begun
	for n, x := range list {
		i := x.candidate
		down := k.floor[k.start[i]] && !k.floor[at]
		if k.phase[i] < phase || down && (n > 0 && !(k.f.standing && phase == 0) || n == 0 && k.f.stayUp) {
			return 0, 0, false
		}
		cost += k.skips(phase, k.phase[i]) + k.cost[at][k.start[i]]
		used += k.move[at][k.start[i]] + k.seconds[i][x.option]
		phase, at = k.phase[i], k.end[i]
	}
	return cost + k.skips(phase, len(k.skip)) + k.cost[at][k.standing], used + k.up[at], true
}

// near says whether so many seconds are near enough to the minutes asked.
func (k *course) near(seconds int) bool { return seconds >= k.least && seconds <= k.limit }

// missCost is what missing the target costs: outside, nearness comes before value.
func (k *course) missCost(seconds int) float64 {
	miss := math.Abs(float64(seconds - k.f.target))
	if k.near(seconds) {
		return minuteMissCost * miss
	}
	return 1000 + missSlope*miss
}

// setUp is the seconds of setting a candidate up and changing its sides.
func (c *candidate) setUp() float64 {
	if c.sided {
		return setUpSeconds + SideSeconds
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
