package exercise

import (
	"cmp"
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
	seatNotch                      = 5.0 // cm
	lowestSeat, highestSeat        = 40.0, 60.0
	baseNotch                      = 0.028 // of the body's height that each foot goes in or out
)

// smallSteps keeps the small steps of a variant once they were measured.
type smallSteps struct {
	once sync.Once
	list []SmallStep
}

// SmallSteps are the next notch down and up of each setting that the variant has, easier
// first: 5 cm of height of a surface or a seat, one band, half a kilogram, the feet a little
// wider or narrower, held down or free. (Places and grades of a wedge are rungs of
// their own.) Each is measured. A lower seat, feet closer together and free feet are harder
// (common practice); of the others, where the measure cannot tell two
// notches apart, the heavier is the harder.
func (v *Variant) SmallSteps() []SmallStep {
	if v.steps == nil {
		return nil
	}
	v.steps.once.Do(func() { v.steps.list = v.measuredSteps() })
	return v.steps.list
}

//revive:disable-next-line:cyclomatic One case for each thing that can be set.
func (v *Variant) measuredSteps() []SmallStep {
	var out []SmallStep
	now := v.Plain().Measured
	add := func(s Settings, words string, m Measured, heavier bool) {
		if s.SeatCM != v.Settings.SeatCM || s.Base != v.Settings.Base || s.Feet != v.Settings.Feet {
			// What steadies is in no moment: practice says which is harder.
			out = append(out, SmallStep{s, words, math.Round(m.Demand()*10) / 10, heavier})
			return
		}
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
	// set tries the setting with one word or figure changed.
	set := func(words string, heavier bool, change func(*Settings)) {
		s := v.Settings
		change(&s)
		if m, ok := v.With(s); ok {
			add(s, words, m, heavier)
		}
	}
	// word tries the words beside the one that is set.
	word := func(all []string, now, words string, change func(*Settings, string)) {
		i := slices.Index(all, now)
		for _, k := range []int{i - 1, i + 1} {
			if i >= 0 && k >= 0 && k < len(all) {
				set(fmt.Sprintf(words, all[k]), k > i, func(s *Settings) { change(s, all[k]) })
			}
		}
	}
	word(Strengths, v.Settings.Band, "a %s band", func(s *Settings, to string) { s.Band = to })
	word(Bases, v.Settings.Base, "the feet %s", func(s *Settings, to string) { s.Base = to })
	word(FeetHeld, v.Settings.Feet, "the feet %s", func(s *Settings, to string) { s.Feet = to })
	for _, by := range []float64{-weightNotch, weightNotch} {
		if kg := v.Settings.WeightKG + by; v.Settings.WeightKG > 0 && kg >= lightestWeight && kg <= heaviestWeight {
			set(fmt.Sprintf("%g kg", kg), by > 0, func(s *Settings) { s.WeightKG = kg })
		}
	}
	for _, by := range []float64{seatNotch, -seatNotch} {
		if cm := v.Settings.SeatCM + by; v.Settings.SeatCM > 0 && cm >= lowestSeat && cm <= highestSeat {
			set(fmt.Sprintf("a seat of %g cm", cm), by < 0, func(s *Settings) { s.SeatCM = cm })
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

// With is what is measured of the plain form with other bands and weights, on a seat of
// another height, or with the feet wider or closer.
func (v *Variant) With(s Settings) (Measured, bool) {
	f := v.Plain()
	if s.SeatCM != v.Settings.SeatCM || s.Base != v.Settings.Base {
		m, ok := f.Movement, true
		if by := s.SeatCM - v.Settings.SeatCM; by != 0 {
			if m, ok = m.higherSeat(by / figureCM); !ok {
				return Measured{}, false
			}
		}
		m = m.feetOut(baseNotch * float64(slices.Index(Bases, v.Settings.Base)-slices.Index(Bases, s.Base)))
		f = &Form{Movement: m}
	}
	frames, err := f.Frames()
	if err != nil || f != v.Plain() && CheckFrames(f.Movement, frames) != nil {
		return Measured{}, false
	}
	m := f.Movement
	m.With = s
	measured, err := MeasureFrames(m, frames)
	return measured, err == nil
}

// Notches are the settings one small step harder or easier than now, the next to be tried
// first: what goes back to the usual comes before what goes further from it. Words and
// demand are those of the step.
func (v *Variant) Notches(now Settings, harder bool) (out []SmallStep) {
	now = now.Filled(v.Settings)
	away := func(s Settings) (n int) {
		for _, other := range []bool{s.SurfaceCM != v.Settings.SurfaceCM, s.Band != v.Settings.Band, s.WeightKG != v.Settings.WeightKG,
			s.SeatCM != v.Settings.SeatCM, s.Base != v.Settings.Base, s.Feet != v.Settings.Feet} {
			if other {
				n++
			}
		}
		return
	}
	var further []SmallStep
	for _, s := range v.SmallSteps() {
		usual, step := v.Settings, s.Settings
		if s.Harder != harder { // the same way back
			usual, step = step, usual
		}
		to, ok := now.Moved(usual, step)
		switch back := away(to) < away(now); {
		case ok && back:
			out = append(out, SmallStep{to, "as usual again", s.Demand, harder})
		case ok && s.Harder == harder:
			further = append(further, SmallStep{to, s.Words, s.Demand, harder})
		}
	}
	return append(out, further...)
}

// Filled is the settings with seat, base and feet as usual where they were not said.
func (s Settings) Filled(usual Settings) Settings {
	s.SeatCM, s.Base, s.Feet = cmp.Or(s.SeatCM, usual.SeatCM), cmp.Or(s.Base, usual.Base), cmp.Or(s.Feet, usual.Feet)
	return s
}

// Moved is a setting moved from where it is by as much as a small step moves the usual
// one; ok is false where it goes no further.
func (s Settings) Moved(usual, step Settings) (Settings, bool) {
	// along goes so many words on as the step does.
	along := func(all []string, now *string, usual, step string) bool {
		i := slices.Index(all, *now) + slices.Index(all, step) - slices.Index(all, usual)
		if i < 0 || i >= len(all) {
			return false
		}
		*now = all[i]
		return true
	}
	ok := false
	switch {
	case step.SurfaceCM != usual.SurfaceCM:
		s.SurfaceCM += step.SurfaceCM - usual.SurfaceCM
		ok = s.SurfaceCM >= 20 && s.SurfaceCM <= 120
	case step.Band != usual.Band:
		ok = along(Strengths, &s.Band, usual.Band, step.Band)
	case step.WeightKG != usual.WeightKG:
		s.WeightKG += step.WeightKG - usual.WeightKG
		ok = s.WeightKG > 0
	case step.SeatCM != usual.SeatCM:
		s.SeatCM += step.SeatCM - usual.SeatCM
		ok = s.SeatCM >= lowestSeat && s.SeatCM <= highestSeat
	case step.Base != usual.Base:
		ok = along(Bases, &s.Base, usual.Base, step.Base)
	case step.Feet != usual.Feet:
		ok = along(FeetHeld, &s.Feet, usual.Feet, step.Feet)
	}
	return s, ok
}
