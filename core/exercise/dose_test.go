package exercise

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// dose draws any dose there can be.
func dose(t *rapid.T) Dose {
	d := Dose{
		Kind:        rapid.SampledFrom(DoseKinds).Draw(t, "kind"),
		Sets:        rapid.IntRange(1, 4).Draw(t, "sets"),
		Repetitions: rapid.IntRange(1, 15).Draw(t, "repetitions"),
		Seconds:     rapid.Float64Range(1, 60).Draw(t, "seconds"),
		Breaths:     rapid.IntRange(1, 15).Draw(t, "breaths"),
	}
	if d.Kind == HoldSeconds && rapid.Bool().Draw(t, "growing") {
		d.SecondsByRepetition = []float64{1, 2, 3}
	}
	if (d.Kind == HoldSeconds || d.Kind == Repetitions) && rapid.Bool().Draw(t, "descending") {
		d.RepetitionsBySet = []int{6, 4, 2}
	}
	return d
}

// TestDosesAddUpOnEverySide: whatever the dose, the work of both sides is that of
// each side alone, more repetitions never take less, and it can be said.
func TestDosesAddUpOnEverySide(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d, breath := dose(t), rapid.Float64Range(2, 12).Draw(t, "breath")
		one, two := d.Work(1, breath), d.Work(2, breath)
		if d.Kind == AlternatingSeconds {
			assert.Equal(t, one, two, "both sides share them")
			return
		}
		assert.InDelta(t, 2*one, two, 1e-6, "even sides")
		assert.Equal(t, one, d.Work(0, breath), "no side counts as one")
		assert.NotEmpty(t, d.Words(true))
		assert.NotEqual(t, d.Words(true), "", "it can be said")

		u := d.Uneven("left")
		left, right := u.On("left").Work(1, breath), u.On("right").Work(1, breath)
		assert.InDelta(t, left+right, u.Work(2, breath), 1e-6, "each side for itself")
		assert.GreaterOrEqual(t, left, right, "the lesser side gets more")
		if len(u.BySide) == 0 {
			assert.Equal(t, d, u, "what cannot differ stays as it is")
		}
		more := d
		more.Sets++
		if len(d.RepetitionsBySet) == 0 {
			assert.Greater(t, more.Work(1, breath), one)
		}
		assert.GreaterOrEqual(t, resting(d, 2), resting(d, 1), "two sides rest no less than one")
	})
}

func TestUnevenNeedsASide(t *testing.T) {
	d := Dose{Kind: Repetitions, Sets: 1, Repetitions: 8}
	assert.Equal(t, d, d.Uneven(""))
	assert.Equal(t, d, d.Uneven("both"))
	assert.Equal(t, "8 slowly right, 12 left", d.Uneven("left").Words(true))
}
