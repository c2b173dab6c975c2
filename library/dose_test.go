package library

import (
	"testing"

	"restbend/core/exercise"

	"github.com/stretchr/testify/assert"
)

// TestUsualDosesAreThoseOfPractice holds every variant's doses to what is common
// practice: up to four sets of 3 to 15 repetitions, holds of two minutes at most,
// breath-counted shapes of 3 to 15 breaths, and pyramids that descend. Ways of
// getting down and up are practised once or twice.
func TestUsualDosesAreThoseOfPractice(t *testing.T) {
	lib := load(t)
	for _, v := range lib.Variants {
		for _, d := range []exercise.Dose{v.Studio, v.Home} {
			assert.LessOrEqual(t, d.Sets, 4, v.ID)
			for _, n := range append([]int{d.Repetitions}, d.RepetitionsBySet...) {
				assert.LessOrEqual(t, n, 15, v.ID)
			}
			for i := 1; i < len(d.RepetitionsBySet); i++ {
				assert.Less(t, d.RepetitionsBySet[i], d.RepetitionsBySet[i-1], "%s: a pyramid descends", v.ID)
			}
			fewest := 3
			if v.Family == "down_and_up" {
				fewest = 1
			}
			switch d.Kind {
			case exercise.Repetitions, exercise.Circles:
				assert.GreaterOrEqual(t, d.SetSizes()[0], fewest, v.ID)
			case exercise.HoldSeconds:
				assert.GreaterOrEqual(t, d.Seconds, 1.0, v.ID)
				assert.LessOrEqual(t, d.Seconds, 120.0, v.ID)
			case exercise.HoldBreaths, exercise.Breaths:
				assert.GreaterOrEqual(t, d.Breaths, 3, v.ID)
				assert.LessOrEqual(t, d.Breaths, 15, v.ID)
			}
		}
	}
}

// TestEveryUsualDoseIsReadBackAsItIsSaid.
func TestEveryUsualDoseIsReadBackAsItIsSaid(t *testing.T) {
	for _, v := range load(t).Variants {
		for _, d := range []exercise.Dose{v.Studio, v.Home} {
			words := d.Words(v.Sided())
			read, err := exercise.ReadDose(words)
			if !assert.NoError(t, err, v.ID) {
				continue
			}
			read, err = read.Of(d, v.Plain().Movement, v.Sided())
			assert.NoError(t, err, "%s: %s", v.ID, words)
			assert.Equal(t, words, read.Words(v.Sided()), v.ID)
			assert.InDelta(t, d.Work(1, 5), read.Work(1, 5), 1e-9, v.ID)
		}
	}
}
