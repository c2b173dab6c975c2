package edit

import (
	"fmt"
	"slices"

	"restbend/core/exercise"
	"restbend/core/plan"
)

// Notch sets what exercise i is done with one small step harder or easier: the surface by
// five centimetres, the band by one, the weight by half a kilogram. The movement is judged
// again there; where that is barred, or there is nothing to set, it is refused.
func Notch(p *plan.Plan, r plan.Request, lib plan.Library, i int, harder bool) error {
	d := plan.DeskOf(r, lib)
	if err := allowed(d); err != nil {
		return err
	}
	if err := has(*p, i); err != nil {
		return err
	}
	old := p.Items[i]
	v := d.Find(old.Variant)
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
		at := d
		var m exercise.Measured
		if to.SurfaceCM != now.SurfaceCM {
			there := r
			there.Client.Owned.SurfaceCM = []float64{to.SurfaceCM}
			at = plan.DeskOf(there, lib)
		} else {
			measured := false
			if m, measured = v.With(to); !measured || len(r.Limits.Breaks(m)) > 0 {
				return fmt.Errorf("variant: %s, %s, is not for this client: %s", v.Name, s.Words, breaks(r, m))
			}
		}
		_, j, err := judged(at, v.ID, p.Items)
		if err != nil {
			return err
		}
		it := at.Item(v, j, old.Phase, old.Dose)
		if to.SurfaceCM == now.SurfaceCM { // the things at hand are chosen no heavier; this is asked for
			it = d.ItemWith(it, to, m)
		}
		if it.Settings == old.Settings {
			continue
		}
		it.ID, it.Locked, it.ByHand = old.ID, old.Locked, true
		items := slices.Clone(p.Items)
		items[i] = it
		return d.Settle(p, items)
	}
	return fmt.Errorf("variant: there is nothing on %s to set %s; an easier or harder step of its ladder does it", v.Name, way)
}

// breaks is the first reason why what is measured is not for the client.
func breaks(r plan.Request, m exercise.Measured) string {
	if b := r.Limits.Breaks(m); len(b) > 0 {
		return b[0].Text
	}
	return "it cannot be measured there."
}
