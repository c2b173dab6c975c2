package plan

import (
	"fmt"
	"math"
	"slices"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// Seconds that changing over takes. Common practice, rounded: to set up the
// next exercise in the same position, to change position at all, for each unit
// of height travelled between lying (0) and standing (1), for a way down to or
// up from the floor, and to change sides; and how much longer moving takes whoever
// is slow on their feet.
const (
	slowPace = 1.5

	SetUpSeconds     = 8
	positionSeconds  = 10
	heightSeconds    = 22
	TransferSeconds  = 15
	SideSeconds      = 6
	restSeconds      = 20 // between sets and sides
	restSecondsSore  = 30
	standingPosition = exercise.Position("standing")
)

// isFloor says whether the position is on the floor here: on a bed or table
// lying down is no floor transfer.
func isFloor(place exercise.Place, p exercise.Position) bool {
	return p.OnFloor() && place != "bed" && place != "table"
}

// mover is where and how a client moves between positions.
type mover struct {
	place exercise.Place
	slow  bool
}

// change is the seconds from one position into the next exercise's.
func (m mover) change(from, to exercise.Position) float64 {
	if from == to {
		return SetUpSeconds
	}
	s := positionSeconds + heightSeconds*math.Abs(from.Level()-to.Level())
	if isFloor(m.place, from) != isFloor(m.place, to) {
		s += TransferSeconds
	}
	if m.slow {
		s *= slowPace
	}
	return math.Round(SetUpSeconds + s)
}

// up is the seconds from the last position to standing.
func (m mover) up(from exercise.Position) float64 {
	if from == standingPosition {
		return 0
	}
	return m.change(from, standingPosition) - SetUpSeconds
}

func (p Plan) mover() mover { return mover{p.Place, p.Slow} }

// ComingUp is the seconds from a last position to standing.
func (p Plan) ComingUp(from exercise.Position) float64 { return p.mover().up(from) }

// rest is the seconds of rest that a dose needs: between sets and sides, longer on
// a sore day, and as long as the work for whoever is out of training. What is quiet needs
// none beyond a reset breath, and easy movement none between sides.
func (r Request) rest(phase exercise.Phase, d exercise.Dose, sides int) float64 {
	if d.Kind == exercise.HoldBreaths {
		return r.Client.BreathSeconds()
	}
	between := float64(restSeconds)
	if r.Limits.Irritability > limit.Calm {
		between = restSecondsSore
	}
	if r.Limits.EvenRest {
		between = math.Max(between, longestSet(d))
	}
	sets, turns := rests(phase, d, sides)
	return between * float64(sets+turns)
}

// rests are how often a dose rests in a phase between sets on one side, and between its
// sides.
func rests(phase exercise.Phase, d exercise.Dose, sides int) (sets, turns int) {
	sets, turns = d.Rests(sides)
	switch {
	case quietPhase(phase):
		return 0, 0
	case phase == "mobilise":
		return sets, 0
	}
	return sets, turns
}

// Rests are the seconds of rest after each set on one side, and between the sides with
// the changing over; 0 where there is none. What is left of SecondsRest is a reset breath
// at the end.
func (i Item) Rests() (set, turn float64) {
	sets, turns := rests(i.Phase, i.Dose, len(i.Sides))
	each := 0.0
	if sets+turns > 0 {
		each = i.SecondsRest / float64(sets+turns)
	}
	if len(i.Sides) > 1 && !i.Dose.Alternates() {
		turn = SideSeconds
	}
	if turns > 0 {
		turn += each
	}
	if sets > 0 {
		set = each
	}
	return set, turn
}

// quietPhase says whether a phase only settles or closes.
func quietPhase(p exercise.Phase) bool { return p == "settle" || p == "close" }

// Retime works out every item's seconds, the transfers and the total again, from
// doses and order.
func (p *Plan) Retime(r Request) { p.retimeFrom(r, standingPosition) }

// retimeFrom is Retime for a session that goes on from a position.
func (p *Plan) retimeFrom(r Request, at exercise.Position) {
	p.SecondsTotal, p.Transfers, p.Slow = 0, Transfers{}, r.Limits.Slow
	move := func(to exercise.Position) {
		if isFloor(p.Place, at) != isFloor(p.Place, to) {
			p.Transfers.Floor++
		}
		if at != to {
			p.Transfers.Positions++
		}
		at = to
	}
	p.name()
	for i := range p.Items {
		it := &p.Items[i]
		sides := len(it.Sides)
		it.SecondsWork = tenth(it.Dose.Work(sides, p.Breath))
		it.SecondsRest = tenth(r.rest(it.Phase, it.Dose, sides))
		it.SecondsChange = p.mover().change(at, it.Position)
		it.SecondsChange += SideSeconds * float64(it.Dose.SideChanges(sides))
		move(it.Position)
		move(it.EndPosition) // some exercises are ways up or down themselves
		p.Transfers.Floor += waysAgain(p.Place, it.Position, it.EndPosition, it.Dose)
		if i == len(p.Items)-1 {
			it.SecondsChange += p.ComingUp(it.EndPosition)
			move(standingPosition)
		}
		p.SecondsTotal += it.Seconds()
	}
	p.SecondsTotal = tenth(p.SecondsTotal)
	p.restWrists(r.lib)
	p.steady(r)
	p.restFeet(r)
}

// waysAgain are the ways down and up that rehearsing one takes beyond the first: each time
// more is one down and one up.
func waysAgain(place exercise.Place, from, to exercise.Position, d exercise.Dose) int {
	if isFloor(place, from) == isFloor(place, to) {
		return 0
	}
	return 2 * (int(cycles(d, 1)) - 1)
}

func tenth(v float64) float64 { return math.Round(v*10) / 10 }

// name gives each item that has none an id of its own: the exercise, with a number
// where it comes again.
func (p *Plan) name() {
	taken := func(id string) bool { return slices.ContainsFunc(p.Items, func(it Item) bool { return it.ID == id }) }
	for i := range p.Items {
		for n := 1; p.Items[i].ID == ""; n++ {
			id := p.Items[i].Variant
			if n > 1 {
				id = fmt.Sprintf("%s-%d", id, n)
			}
			if !taken(id) {
				p.Items[i].ID = id
			}
		}
	}
}

// Standing is the position that a session begins and ends in.
const Standing = standingPosition

// OnFloor says whether a position is on the floor in a place: on a bed or table lying down is
// no floor transfer.
func OnFloor(place exercise.Place, p exercise.Position) bool { return isFloor(place, p) }

// Change is the seconds from one position into the next exercise's.
func (p Plan) Change(from, to exercise.Position) float64 { return p.mover().change(from, to) }

// RestsBetween are how often an item rests between sets on one side, and between its sides.
func (i Item) RestsBetween() (sets, turns int) { return rests(i.Phase, i.Dose, len(i.Sides)) }
