package library

import (
	"testing"

	"restbend/core/exercise"
	"restbend/core/lesson"

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

// TestEveryUsualDoseIsCountedAsItIsTimed: the beats of a lesson last as long as the plan says.
func TestEveryUsualDoseIsCountedAsItIsTimed(t *testing.T) {
	stays, alternating := 0, 0
	for _, v := range load(t).Variants {
		sides := []string{"left", "right"}
		if !v.Sided() {
			sides = nil
		}
		for _, d := range []exercise.Dose{v.Studio, v.Home} {
			sum := 0.0
			for _, b := range lesson.Count(d, lesson.SidesOf(sides, d), 5, 20, 20) {
				if b.Kind == "work" {
					sum += b.Seconds
				}
			}
			assert.InDelta(t, d.Work(len(sides), 5), sum, 1e-9, "%s: %s", v.ID, d.Words(v.Sided()))
		}
		if v.Studio.StaySeconds > 0 {
			stays++
			assert.GreaterOrEqual(t, v.Plain().Measured.Number("hold_seconds"), v.Studio.StaySeconds, v.ID)
		}
		if v.Studio.Alternating {
			alternating++
		}
	}
	t.Logf("%d stay inside a repetition, %d alternate lift by lift", stays, alternating)
	assert.Positive(t, stays)
	assert.Positive(t, alternating)
}

// TestSmallStepsAreMeasured: 5 cm of height, one band, half a kilogram, the feet wider or
// closer, held or free, each with its measured demand, the easier first.
func TestSmallStepsAreMeasured(t *testing.T) {
	l := load(t)
	words := func(id string) (out []string) {
		for _, s := range l.Variant(id).SmallSteps() {
			out = append(out, map[bool]string{true: "up ", false: "down "}[s.Harder]+s.Words)
		}
		return
	}
	assert.Equal(t, []string{"down the surface at 50 cm", "up the surface at 40 cm"}, words("plank_sofa_toes"))
	assert.Equal(t, []string{"down 1.5 kg", "up 2.5 kg"}, words("one_side_carry_march"))
	assert.Equal(t, []string{"down the feet wide", "up a medium band", "up the feet narrow"}, words("anti_rotation_press"))
	assert.Equal(t, []string{"down a seat of 50 cm", "up a seat of 40 cm"}, words("sit_to_stand"))
	assert.Equal(t, []string{"up the feet free"}, words("wedge_curl_2_easy"))
	assert.Empty(t, words("chair_band_press")[1:], "nobody stands there")
	assert.Equal(t, []string{"up 1 kg"}, words("weight_arcs_lying"), "nothing is lighter than half a kilogram")
	assert.Empty(t, words("pelvic_tilt"))
	for _, v := range l.Variants {
		down := true
		for _, s := range v.SmallSteps() {
			assert.True(t, down || s.Harder, "%s: the easier first", v.ID)
			down = !s.Harder
			if s.Harder {
				assert.GreaterOrEqual(t, s.Demand, v.Plain().Measured.Demand()-0.05, v.ID)
			} else {
				assert.LessOrEqual(t, s.Demand, v.Plain().Measured.Demand()+0.06, v.ID)
			}
		}
	}
}
