package exercise

import (
	"fmt"
	"math"
	"slices"
	"sync"
)

// SmallStep is a step inside a rung: the same exercise with one setting a notch on, and
// what was measured of it so.
type SmallStep struct {
	Settings Settings `json:"settings"`
	Words    string   `json:"words"`
	Demand   float64  `json:"demand"`
	Harder   bool     `json:"harder"`
}

// The notches of settings (common practice), and how far they go.
const (
	surfaceNotch                   = 5.0 // cm
	lowestSurface, highestSurface  = 30.0, 110.0
	weightNotch                    = 0.5 // kg
	lightestWeight, heaviestWeight = 0.5, 5.0
)

// smallSteps keeps the small steps of a variant once they were measured.
type smallSteps struct {
	once sync.Once
	list []SmallStep
}

// SmallSteps are the next notch down and up of each setting that the variant has, easier
// first: 5 cm of height, one band, half a kilogram. (Places and grades of a wedge are rungs of
// their own.) Each is measured; where the measure cannot tell two
// notches apart, the heavier is the harder.
func (v *Variant) SmallSteps() []SmallStep {
	if v.steps == nil {
		return nil
	}
	v.steps.once.Do(func() { v.steps.list = v.measuredSteps() })
	return v.steps.list
}

func (v *Variant) measuredSteps() []SmallStep {
	var out []SmallStep
	now := v.Plain().Measured
	add := func(s Settings, words string, m Measured, heavier bool) {
		apart := m.Demand() - now.Demand()
		if math.Abs(apart) < 0.005 {
			apart = m.Number("lumbar_moment") - now.Number("lumbar_moment")
		}
		harder := heavier
		if math.Abs(apart) > 1e-4 {
			harder = apart > 0
		}
		out = append(out, SmallStep{s, words, math.Round(m.Demand()*10) / 10, harder})
	}
	for _, by := range []float64{surfaceNotch, -surfaceNotch} {
		cm := v.Settings.SurfaceCM + by
		if v.Settings.SurfaceCM == 0 || cm < lowestSurface || cm > highestSurface {
			continue
		}
		if there := v.At(cm / figureCM); there != nil && there != v {
			s := v.Settings
			s.SurfaceCM = cm
			add(s, fmt.Sprintf("the surface at %g cm", cm), there.Plain().Measured, by < 0)
		}
	}
	if i := slices.Index(Strengths, v.Settings.Band); i >= 0 {
		for _, k := range []int{i - 1, i + 1} {
			if k < 0 || k >= len(Strengths) {
				continue
			}
			s := v.Settings
			s.Band = Strengths[k]
			if m, ok := v.With(s); ok {
				add(s, "a "+s.Band+" band", m, k > i)
			}
		}
	}
	if v.Settings.WeightKG > 0 {
		for _, by := range []float64{-weightNotch, weightNotch} {
			s := v.Settings
			if s.WeightKG += by; s.WeightKG < lightestWeight || s.WeightKG > heaviestWeight {
				continue
			}
			if m, ok := v.With(s); ok {
				add(s, fmt.Sprintf("%g kg", s.WeightKG), m, by > 0)
			}
		}
	}
	slices.SortStableFunc(out, func(a, b SmallStep) int {
		switch {
		case a.Harder == b.Harder:
			return 0
		case b.Harder:
			return -1
		}
		return 1
	})
	return out
}

// With is what is measured of the plain form with other bands and weights.
func (v *Variant) With(s Settings) (Measured, bool) {
	frames, err := v.Plain().Frames()
	if err != nil {
		return Measured{}, false
	}
	m := v.Plain().Movement
	m.With = s
	measured, err := MeasureFrames(m, frames)
	return measured, err == nil
}
