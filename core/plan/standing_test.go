package plan_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
)

// TestStandingIsCapped: what a client bears on two feet caps the session, in
// every place, and where another place serves better the plan says so.
func TestStandingIsCapped(t *testing.T) {
	for _, minutes := range []float64{1, 5, 15} {
		for _, place := range []exercise.Place{"mat", "chair", "standing"} {
			c := limit.Client{RedFlags: []string{}, BirthYear: 1958, Tolerates: limit.Tolerates{StandingMinutes: &minutes},
				Equipment: []string{"mat", "chair"}}
			p := plan.Best(request(c, place, 30), planLib)
			on, longest := 0.0, 0.0
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
			assert.LessOrEqual(t, longest, 60*minutes, "%s, %v minutes", place, minutes)
			if place == "standing" && minutes < 15 {
				if assert.NotNil(t, p.Shortfall, "%v minutes", minutes) {
					assert.NotEmpty(t, p.Shortfall.Places, "where it serves better")
				}
			}
			t.Logf("%s, %v min: %.0f s unbroken, %.0f s in all, %s", place, minutes, longest, p.SecondsTotal, p.Status)
		}
	}
}
