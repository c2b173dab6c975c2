package exercise

import (
	"slices"
	"sync"
)

// heights are the variants that were put on a surface of another height, which is
// the same for every client that has one so high.
var heights sync.Map // of height to *Variant

type height struct {
	v  *Variant
	cm float64
}

// At is the variant on a surface of so many centimetres: its movement is put there
// and measured again, adapted forms and all. A surface cannot then be raised further.
// It is the variant itself when it leans on no surface that is set or none is given,
// and nil when no body could take it there.
func (v *Variant) At(cm float64) *Variant {
	if v.Settings.SurfaceCM == 0 || cm <= 0 {
		return v
	}
	if kept, ok := heights.Load(height{v, cm}); ok {
		return kept.(*Variant)
	}
	var out *Variant
	if m, ok := v.Plain().Movement.raiseSurface((cm - v.Settings.SurfaceCM) / figureCM); ok {
		plain := &Form{Movement: m}
		if plain.measure() {
			there := *v
			there.Settings.SurfaceCM = cm
			there.MayAdapt = slices.DeleteFunc(slices.Clone(v.MayAdapt), func(id string) bool { return id == "raise_surface" })
			there.Forms = append([]*Form{plain}, Adaptations(m, there.MayAdapt)...)
			out = &there
		}
	}
	kept, _ := heights.LoadOrStore(height{v, cm}, out)
	return kept.(*Variant)
}

// FormAt finds the form with the given settings and adaptations, as FormOf does for
// the variant's own settings.
func (v *Variant) FormAt(s Settings, adaptations []Adaptation) *Form {
	if s.SurfaceCM != v.Settings.SurfaceCM {
		if there := v.At(s.SurfaceCM); there != nil {
			return there.FormOf(adaptations)
		}
	}
	return v.FormOf(adaptations)
}
