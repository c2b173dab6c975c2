package library

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"

	"restbend/core/exercise"
)

// TestWhatResistsIsHeld: a band, a weight, a ring or a stick that an exercise wants is in
// the figure's hands, so that it is drawn and pulls as a force.
func TestWhatResistsIsHeld(t *testing.T) {
	for _, v := range load(t).Variants {
		for thing, kind := range map[string]string{"band": "band", "hand_weight": "weight", "ring": "ring", "stick": "stick",
			"strap": "strap"} {
			if slices.Contains(v.Equipment, thing) {
				assert.True(t,
					slices.ContainsFunc(
						v.Plain().Movement.Held,
						func(h exercise.Held) bool { return h.Kind == kind || thing == "band" && h.Kind == "strap" },
					),
					"%s wants a %s and holds none",
					v.ID,
					thing,
				)
			}
		}
	}
}
