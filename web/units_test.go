package web

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestHeightsAndWeightsAreReadAsWritten(t *testing.T) {
	for _, x := range []struct {
		text     string
		imperial bool
		cm       float64
	}{{"168", false, 168}, {"168,5 cm", true, 168.5}, {"1.68 m", false, 168}, {"5 ft 6", false, 167.5}, {`5'6"`, true, 167.5}, {"5’ 6”", true, 167.5}, {"66", true, 167.5}, {"66 in", false, 167.5}, {"5.5", true, 167.5}, {"6 ft", true, 183}} {
		cm, ok := readLength(x.text, x.imperial)
		assert.True(t, ok, x.text)
		assert.InDelta(t, x.cm, cm, 1e-9, x.text)
	}
	for _, x := range []struct {
		text     string
		imperial bool
		kg       float64
	}{{"68", false, 68}, {"150", true, 68}, {"150 lb", false, 68}, {"68 kg", true, 68}, {"10 st 10", false, 68}, {"11 st", true, 69.9}} {
		kg, ok := readMass(x.text, x.imperial)
		assert.True(t, ok, x.text)
		assert.InDelta(t, x.kg, kg, 1e-9, x.text)
	}
	for _, wrong := range []string{"", "tall", "5 ft 14", "5 yd", "-3", "1e3", "0x5"} {
		_, ok := readLength(wrong, true)
		assert.False(t, ok, wrong)
	}
	for _, wrong := range []string{"", "heavy", "10 st 20", "5 cm"} {
		_, ok := readMass(wrong, false)
		assert.False(t, ok, wrong)
	}
}

// TestWhatIsShownIsReadTheSame: a form that is sent as it was shown changes nothing.
func TestWhatIsShownIsReadTheSame(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		cm := math.Round(2*rapid.Float64Range(90, 230).Draw(t, "cm")) / 2
		kg := math.Round(10*rapid.Float64Range(25, 250).Draw(t, "kg")) / 10
		for _, imperial := range []bool{false, true} {
			back, ok := readLength(lengthText(cm, imperial), imperial)
			assert.True(t, ok)
			assert.InDelta(t, cm, back, 1e-9, lengthText(cm, imperial))
			back, ok = readMass(massText(kg, imperial), imperial)
			assert.True(t, ok)
			assert.InDelta(t, kg, back, 1e-9, massText(kg, imperial))
		}
	})
	assert.Equal(t, "5 ft 7", lengthText(170, true), "typed as 5 ft 7, shown as 5 ft 7")
	assert.Equal(t, "150", massText(68, true))
}
