package app

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestHeightsAndWeightsAreReadAsWritten(t *testing.T) {
	for _, x := range []struct {
		text string
		u    Units
		cm   float64
	}{{"168", Metric, 168}, {"168,5 cm", Imperial, 168.5}, {"1.68 m", Metric, 168}, {"5 ft 6", Metric, 167.5}, {`5'6"`, Imperial, 167.5},
		{"5’ 6”", Imperial, 167.5}, {"66", Imperial, 167.5}, {"66 in", Metric, 167.5}, {"5.5", Imperial, 167.5}, {"6 ft", Imperial, 183}} {
		cm, ok := x.u.ReadHeight(x.text)
		assert.True(t, ok, x.text)
		assert.InDelta(t, x.cm, cm, 1e-9, x.text)
	}
	for _, x := range []struct {
		text string
		u    Units
		kg   float64
	}{{"68", Metric, 68}, {"150", Imperial, 68}, {"150 lb", Metric, 68}, {"68 kg", Imperial, 68}, {"10 st 10", Metric, 68},
		{"11 st", Imperial, 69.9}} {
		kg, ok := x.u.ReadMass(x.text)
		assert.True(t, ok, x.text)
		assert.InDelta(t, x.kg, kg, 1e-9, x.text)
	}
	for _, wrong := range []string{"", "tall", "5 ft 14", "5 yd", "-3", "1e3", "0x5"} {
		_, ok := Imperial.ReadHeight(wrong)
		assert.False(t, ok, wrong)
	}
	for _, wrong := range []string{"", "heavy", "10 st 20", "5 cm"} {
		_, ok := Metric.ReadMass(wrong)
		assert.False(t, ok, wrong)
	}
}

// TestWhatIsShownIsReadTheSame: a form that is sent as it was shown changes nothing.
func TestWhatIsShownIsReadTheSame(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		cm := round(rapid.Float64Range(2, 230).Draw(t, "cm"), 10)
		kg := round(rapid.Float64Range(0.1, 250).Draw(t, "kg"), 100)
		for _, u := range []Units{Metric, Imperial} {
			for text, read := range map[string]func(string) (float64, bool){u.LengthFigure(cm): u.ReadLength, u.Length(cm): u.ReadLength,
				u.HeightFigure(cm): u.ReadHeight} {
				back, ok := read(text)
				assert.True(t, ok, text)
				assert.InDelta(t, cm, back, 1e-9, text)
			}
			for _, text := range []string{u.MassFigure(kg), u.Mass(kg)} {
				back, ok := u.ReadMass(text)
				assert.True(t, ok, text)
				assert.InDelta(t, kg, back, 1e-9, text)
			}
		}
	})
	assert.Equal(t, "5 ft 7", Imperial.HeightFigure(170), "typed as 5 ft 7, shown as 5 ft 7")
	assert.Equal(t, "5 ft 0", Imperial.HeightFigure(152.5), "as five feet are kept")
	assert.Equal(t, "150", Imperial.MassFigure(68))
	assert.Equal(t, "17.7 in", Imperial.Length(45))
	assert.Equal(t, "4 in", Imperial.Length(10))
	for text, cm := range map[string]float64{"18": 45.5, "3": 7.5, "3in": 7.5, "45cm": 45} {
		got, ok := Imperial.ReadLength(text)
		assert.True(t, ok, text)
		assert.InDelta(t, cm, got, 1e-9, "of a thing, a bare figure is inches: "+text)
	}
}

func TestSentencesAreSaidInTheUnitsOfWhoeverReads(t *testing.T) {
	for text, want := range map[string]string{
		"It wants a surface 39 to 75 cm high.": "It wants a surface 15.4 to 29.5 in high.",
		"a weight of 2 kg or less":             "a weight of 4.4 lb or less",
		"10 to 12 breaths, 3 sets":             "10 to 12 breaths, 3 sets",
	} {
		assert.Equal(t, want, Imperial.Say(text))
		assert.Equal(t, text, Metric.Say(text))
	}
}
