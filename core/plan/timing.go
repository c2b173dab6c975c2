package plan

import (
	"math"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// Seconds that changing over takes. Common practice, rounded: to set up the
// next exercise in the same position, to change position at all, for each unit
// of height travelled between lying (0) and standing (1), for a way down to or
// up from the floor, and to change sides.
const (
	setUpSeconds     = 8
	positionSeconds  = 10
	heightSeconds    = 22
	transferSeconds  = 15
	sideSeconds      = 6
	restSeconds      = 20 // between sets and sides
	restSecondsSore  = 30
	standingPosition = exercise.Position("standing")
)

// isFloor says whether the position is on the floor here: on a bed or table
// lying down is no floor transfer.
func isFloor(place exercise.Place, p exercise.Position) bool {
	return p.OnFloor() && place != "bed" && place != "table"
}

// changeOver is the seconds from one position into the next exercise's.
func changeOver(place exercise.Place, from, to exercise.Position) float64 {
	s := float64(setUpSeconds)
	if from == to {
		return s
	}
	s += positionSeconds + heightSeconds*math.Abs(from.Level()-to.Level())
	if isFloor(place, from) != isFloor(place, to) {
		s += transferSeconds
	}
	return math.Round(s)
}

// ComingUp is the seconds from the last position to standing.
func ComingUp(place exercise.Place, from exercise.Position) float64 {
	if from == standingPosition {
		return 0
	}
	return changeOver(place, from, standingPosition) - setUpSeconds
}

// rest is the seconds of rest that a dose needs: between sets and sides, longer on
// a sore day, and as long as the work for whoever is out of training.
func (r Request) rest(d exercise.Dose, sides int) float64 {
	between := float64(restSeconds)
	if r.Limits.Irritability > limit.Calm {
		between = restSecondsSore
	}
	if r.Limits.EvenRest {
		between = math.Max(between, longestSet(d))
	}
	return d.Rest(sides, r.Client.BreathSeconds(), between)
}

// Retime works out every item's seconds, the transfers and the total anew, from
// doses and order.
func (p *Plan) Retime(r Request) { p.retimeFrom(r, standingPosition) }

// retimeFrom is Retime for a session that goes on from a position.
func (p *Plan) retimeFrom(r Request, at exercise.Position) {
	p.SecondsTotal, p.Transfers = 0, Transfers{}
	move := func(to exercise.Position) {
		if isFloor(p.Place, at) != isFloor(p.Place, to) {
			p.Transfers.Floor++
		}
		if at != to {
			p.Transfers.Positions++
		}
		at = to
	}
	for i := range p.Items {
		it := &p.Items[i]
		sides := len(it.Sides)
		it.SecondsWork = tenth(it.Dose.Work(sides, p.Breath))
		it.SecondsRest = tenth(r.rest(it.Dose, sides))
		it.SecondsChange = changeOver(p.Place, at, it.Position)
		if sides > 1 {
			it.SecondsChange += sideSeconds * float64(sides-1)
		}
		move(it.Position)
		move(it.EndPosition) // some exercises are ways up or down themselves
		if i == len(p.Items)-1 {
			it.SecondsChange += ComingUp(p.Place, it.EndPosition)
			move(standingPosition)
		}
		p.SecondsTotal += it.Seconds()
	}
	p.SecondsTotal = tenth(p.SecondsTotal)
	p.restWrists(r.lib)
}

func tenth(v float64) float64 { return math.Round(v*10) / 10 }
