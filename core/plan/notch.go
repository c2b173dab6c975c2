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
	for _, s := range v.Notches(now, harder) {
		to := s.Settings
		at := r
		var m exercise.Measured
		if to.SurfaceCM != now.SurfaceCM {
			at.Client.Owned.SurfaceCM = []float64{to.SurfaceCM}
			at = at.from(lib)
		} else {
			measured := false
			if m, measured = v.With(to); !measured || len(r.Limits.Breaks(m)) > 0 {
				return fmt.Errorf("variant: %s, %s, is not for this client: %s", v.Name, s.Words, breaks(r, m))
			}
		}
		_, j, err := at.judged(v.ID, p.Items)
		if err != nil {
			return err
		}
		it := at.item(v, j, old.Phase, old.Dose)
		if to.SurfaceCM == now.SurfaceCM { // the things at hand are chosen no heavier; this is asked for
			it.set(to, m, r)
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

// set gives an item settings other than the surface, and what is measured with them.
func (it *Item) set(to exercise.Settings, m exercise.Measured, r Request) {
	to.SurfaceCM, to.PillowCM = it.Settings.SurfaceCM, it.Settings.PillowCM
	it.Settings = to
	it.Quantities, it.Demand = m.For(r.Client.Size()), tenth(m.Demand())
}

// breaks is the first reason why what is measured is not for the client.
func breaks(r Request, m exercise.Measured) string {
	if b := r.Limits.Breaks(m); len(b) > 0 {
		return b[0].Text
	}
	return "it cannot be measured there."
}
