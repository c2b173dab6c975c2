package plan

import (
	"math"
	"slices"

	"restbend/core/exercise"
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
	f := frame{place: r.Place, slow: r.Limits.Slow, phases: exercise.Phases, from: standingPosition, begun: -1, target: target, standing: r.StandingFirst, oneMore: r.oneMore(target)}
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

// least and most are the seconds within which a session is near enough to the
// minutes asked; none may take longer.
func (f frame) least() int { return int(math.Ceil((1 - nearMinutes) * float64(f.target))) }
func (f frame) most() int  { return int((1 + nearMinutes) * float64(f.target)) }

// phase is the place of a phase in the order of this session.
func (f frame) phase(p exercise.Phase) int { return slices.Index(f.phases, p) }

// allowed says whether an exercise that starts at one position may follow another
// of the given phase that ended elsewhere: once up, nobody is sent down to the
// floor again, but work on two feet that comes first is followed by the floor.
func (f frame) allowed(phase int, end, start exercise.Position) bool {
	return !isFloor(f.place, start) || isFloor(f.place, end) || f.standing && phase == 0
}

// mayStart says whether the session may begin, or go on, with this exercise.
func (f frame) mayStart(phase int, start exercise.Position) bool {
	return phase >= f.begun && !(f.stayUp && isFloor(f.place, start))
}

// skips is what leaving out each phase costs.
func (f frame) skips() []float64 {
	out := make([]float64, len(f.phases))
	for i := range out {
		out[i] = skippedPhase
	}
	out[0], out[len(out)-1] = skippedEnd, skippedEnd
	return out
}

// unfilled is what is lost by the phases that no candidate fills, whatever is chosen.
func (f frame) unfilled(cs []candidate) float64 {
	cost := 0.0
	for i, skip := range f.skips() {
		if i > f.begun && !slices.ContainsFunc(cs, func(c candidate) bool { return f.phase(c.phase) == i }) {
			cost += skip
		}
	}
	return cost
}
