package plan

import (
	"math"
	"slices"

	"restbend/core/exercise"
	"restbend/core/optimize"
)

// frame is what a session has to fit into: where it happens, in which order its
// phases come, and where it stands when it goes on from something done already.
type frame struct {
	place    exercise.Place
	slow     bool // moving about takes longer
	phases   []exercise.Phase
	from     exercise.Position // standing, unless the session goes on
	begun    int               // the phase that has been reached; −1 at the start
	stayUp   bool              // the floor has been left for good
	target   int               // seconds
	standing bool              // upright work comes first
	oneMore  float64           // what it costs to begin one more exercise
}

// nearMinutes is how near to the minutes asked a session comes where it can, as a
// share.
const nearMinutes = 0.02

// newFrame is the frame of a whole session.
func (r Request) newFrame(target int) frame {
	f := frame{
		place:    r.Place,
		slow:     r.Limits.Slow,
		phases:   exercise.Phases,
		from:     standingPosition,
		begun:    -1,
		target:   target,
		standing: r.StandingFirst,
		oneMore:  r.oneMore(target),
	}
	if r.StandingFirst {
		f.phases = []exercise.Phase{"upright", "settle", "mobilise", "activate", "strengthen", "close"}
	}
	floor := false
	for _, it := range r.Done {
		floor = floor || isFloor(r.Place, it.Position) || isFloor(r.Place, it.EndPosition)
		f.from = it.EndPosition
		f.begun = max(f.begun, f.phase(it.Phase))
	}
	f.stayUp = floor && !isFloor(r.Place, f.from)
	return f
}

// time is how near to the minutes asked a session has to come; none may take longer.
func (f frame) time() optimize.Time {
	return optimize.Time{
		Target:      f.target,
		Least:       int(math.Ceil((1 - nearMinutes) * float64(f.target))),
		Limit:       int((1 + nearMinutes) * float64(f.target)),
		Miss:        minuteMissCost,
		Outside:     outsideCost,
		MissOutside: missSlope,
	}
}

// ways are what moving between the positions takes and costs, and which of it is allowed:
// once up, nobody is sent down to the floor again, but work on two feet that comes first
// is followed by the floor.
func (f frame) ways() optimize.Ways {
	w := optimize.Ways{From: f.from.Rank(), Home: standingPosition.Rank(), Begun: f.begun}
	m := mover{f.place, f.slow}
	floor := func(p exercise.Position) bool { return isFloor(f.place, p) }
	for _, from := range exercise.Positions {
		var seconds []int
		var cost []float64
		for _, to := range exercise.Positions {
			seconds = append(seconds, int(m.change(from, to)-SetUpSeconds))
			cost = append(cost, moveCost(f.place, from, to))
		}
		w.Seconds, w.Cost = append(w.Seconds, seconds), append(w.Cost, cost)
		w.HomeSeconds = append(w.HomeSeconds, int(m.up(from)))
		w.MayStart = append(w.MayStart, !(f.stayUp && floor(from)))
	}
	for phase := range f.phases {
		var may [][]bool
		for _, end := range exercise.Positions {
			var row []bool
			for _, start := range exercise.Positions {
				row = append(row, !floor(start) || floor(end) || f.standing && phase == 0)
			}
			may = append(may, row)
		}
		w.May = append(w.May, may)
	}
	return w
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

// phase is the place of a phase in the order of this session.
func (f frame) phase(p exercise.Phase) int { return slices.Index(f.phases, p) }

// skips is what leaving out each phase costs.
func (f frame) skips() []float64 {
	out := make([]float64, len(f.phases))
	for i := range out {
		out[i] = skippedPhase
	}
	out[0], out[len(out)-1] = skippedEnd, skippedEnd
	return out
}
