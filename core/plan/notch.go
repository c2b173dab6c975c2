package plan

import (
	"fmt"
	"slices"

	"restbend/core/exercise"
)

// Notch sets what exercise i is done with one small step harder or easier: the surface by
// five centimetres, the band by one, the weight by half a kilogram. The movement is judged
// anew there; where that is barred, or there is nothing to set, it is refused.
func (p *Plan) Notch(r Request, lib Library, i int, harder bool) error {
	r = r.from(lib)
	if err := p.has(i); err != nil {
		return err
	}
	old := p.Items[i]
	v := r.find(old.Variant)
	if v == nil {
		return fmt.Errorf("variant: %q is not in the library", old.Variant)
	}
	now := old.Settings
	if now.SurfaceCM == 0 { // not known, so taken to be as usual
		now.SurfaceCM = v.Settings.SurfaceCM
	}
	way := map[bool]string{true: "harder", false: "easier"}[harder]
	for _, s := range v.SmallSteps() {
		from, step := v.Settings, s.Settings
		if s.Harder != harder { // the same way back
			from, step = step, from
		}
		to, ok := notched(now, from, step)
		if !ok {
			continue
		}
		at := r
		var m exercise.Measured
		if to.SurfaceCM != now.SurfaceCM {
			at.Client.Owned.SurfaceCM = []float64{to.SurfaceCM}
			at = at.from(lib)
		} else {
			measured := false
			if m, measured = v.With(to); !measured || len(r.Limits.Breaks(m)) > 0 {
				return fmt.Errorf("variant: %s with %s is not for this client: %s", v.Name, setWords(to), breaks(r, m))
			}
		}
		_, j, err := at.judged(v.ID, p.Items)
		if err != nil {
			return err
		}
		it := at.item(v, j, old.Phase, old.Dose)
		if to.SurfaceCM == now.SurfaceCM { // the things at hand are chosen no heavier; this is asked for
			it.Settings.Band, it.Settings.WeightKG = to.Band, to.WeightKG
			it.Quantities, it.Demand = m.For(r.Client.Size()), m.Demand()
		}
		if it.Settings == old.Settings {
			continue
		}
		it.ID, it.Locked = old.ID, old.Locked
		items := slices.Clone(p.Items)
		items[i] = it
		return p.become(r, items)
	}
	return fmt.Errorf("variant: there is nothing on %s to set %s; a rung is the next step", v.Name, way)
}

// setWords say a setting.
func setWords(s exercise.Settings) string {
	switch {
	case s.Band != "":
		return "a " + s.Band + " band"
	case s.WeightKG > 0:
		return fmt.Sprintf("%g kg", s.WeightKG)
	}
	return fmt.Sprintf("a surface %g cm high", s.SurfaceCM)
}

func breaks(r Request, m exercise.Measured) string {
	if b := r.Limits.Breaks(m); len(b) > 0 {
		return b[0].Text
	}
	return "it cannot be measured there."
}

// notched is a setting moved from where it is by as much as a small step moves the usual
// one; ok is false where it goes no further.
func notched(now, usual, step exercise.Settings) (exercise.Settings, bool) {
	switch {
	case step.SurfaceCM != usual.SurfaceCM:
		now.SurfaceCM += step.SurfaceCM - usual.SurfaceCM
		return now, now.SurfaceCM >= 20 && now.SurfaceCM <= 120
	case step.Band != usual.Band:
		i := slices.Index(exercise.Strengths, now.Band) + slices.Index(exercise.Strengths, step.Band) - slices.Index(exercise.Strengths, usual.Band)
		if i < 0 || i >= len(exercise.Strengths) {
			return now, false
		}
		now.Band = exercise.Strengths[i]
		return now, true
	case step.WeightKG != usual.WeightKG:
		now.WeightKG += step.WeightKG - usual.WeightKG
		return now, now.WeightKG > 0
	}
	return now, false
}
