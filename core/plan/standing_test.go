package plan_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/plan/edit"
)

// longestStanding is the most seconds on two feet at a stretch: work, rest and setting up.
func longestStanding(p plan.Plan) (longest float64) {
	on := 0.0
	for _, it := range p.Items {
		switch {
		case it.Position != "standing" && it.Position != "standing_supported":
			on = 0
		case on > 0:
			on += it.Seconds()
		default: // getting up is not standing yet
			on = it.SecondsWork + it.SecondsRest
		}
		longest = max(longest, on)
	}
	return longest
}

// TestSafetyStandingIsCapped: nobody stands longer at a stretch than they bear, in every place, and
// where the minutes want more there is a seat between.
func TestSafetyStandingIsCapped(t *testing.T) {
	for _, minutes := range []float64{1, 5, 15} {
		for _, place := range []exercise.Place{"mat", "chair", "standing"} {
			c := limit.Client{RedFlags: []string{}, BirthYear: 1958, Tolerates: limit.Tolerates{StandingMinutes: &minutes},
				Equipment: []string{"mat", "chair"}}
			p := plan.Best(request(c, place, 30), planLib)
			longest := longestStanding(p)
			assert.LessOrEqual(t, longest, 60*minutes, "%s, %v minutes", place, minutes)
			switch {
			case place != "standing":
				assert.Zero(t, p.Seats(), "%s, %v minutes: other work is between", place, minutes)
			case minutes == 5:
				assert.Positive(t, p.Seats(), "%v minutes", minutes)
				assert.InEpsilon(t, 1800, p.SecondsTotal, 0.05)
				assert.Contains(t, fmt.Sprint(p.Notes), "seats are put in between: 5 minutes on two feet at a stretch are the most.")
			}
			t.Logf(
				"%s, %v min: %.0f s unbroken, %d seats, %.0f s in all, %s",
				place,
				minutes,
				longest,
				p.Seats(),
				p.SecondsTotal,
				p.Status,
			)
		}
	}
}

// TestSeatsComeAndGoByThemselves: a change by hand puts seats where they are wanted, a seat by
// itself cannot be changed, and without a chair there is none.
func TestSeatsComeAndGoByThemselves(t *testing.T) {
	five := 5.0
	c := limit.Client{
		RedFlags:  []string{},
		BirthYear: 1958,
		Tolerates: limit.Tolerates{StandingMinutes: &five},
		Equipment: []string{"chair"},
	}
	r := request(c, "standing", 30)
	p := plan.Best(r, planLib)
	seats := p.Seats()
	for i, it := range p.Items {
		if it.Seat {
			assert.Equal(t, "Rib breathing, sitting tall", it.Name)
			assert.Equal(t, "Sit down and let the legs rest.", it.First)
			next := p
			assert.ErrorContains(t, edit.Remove(&next, r, planLib, i), "this seat rests the legs")
			assert.ErrorContains(t, edit.Lock(&next, i, true), "this seat rests the legs")
		}
	}
	for p.Seats() > 0 {
		assert.NoError(t, edit.Remove(&p, r, planLib, 0))
		assert.LessOrEqual(t, p.Seats(), seats)
		assert.LessOrEqual(t, longestStanding(p), 300.0)
		seats = p.Seats()
	}
	c.Equipment = nil
	none := plan.Best(request(c, "standing", 30), planLib)
	assert.Zero(t, none.Seats(), "nothing to sit on")
	assert.LessOrEqual(t, longestStanding(none), 300.0)
	if assert.NotNil(t, none.Shortfall) {
		assert.NotEmpty(t, none.Shortfall.Places, "where it serves better")
	}
}

// offered says whether an item can be done with what there is; a seat is on a chair wherever
// the session is.
func offered(r plan.Request, v *exercise.Variant, it plan.Item) bool {
	if it.Seat {
		r.Place = "chair"
	}
	return plan.Offers(r, planLib, v)
}
