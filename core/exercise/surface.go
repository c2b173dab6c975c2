package exercise

import (
	"math"
	"slices"
	"sync"
)

// figureCM is the height of the figure that poses are written for, in centimetres: a
// surface set to 45 cm is one of 45/170 of the body's height.
const figureCM = 170

// sameShare is how finely heights of surfaces are told apart, in body heights.
const sameShare = 0.005

// heights are the variants that were put on a surface of another height, which is
// the same for everybody whose surface is so high for their body.
var heights sync.Map // of height to *Variant

type height struct {
	v     *Variant
	steps int // of sameShare
}

// SurfaceShare is the height of the surface that the variant is written for, in body
// heights; 0 when it leans on none that is set.
func (v *Variant) SurfaceShare() float64 { return v.Settings.SurfaceCM / figureCM }

// At is the variant on a surface of such a share of the body's height: its movement is
// put there and measured again, adapted forms and all. A surface cannot then be raised
// further. It is the variant itself when it leans on no surface that is set or no
// share is given, and nil when no body could take it there.
func (v *Variant) At(share float64) *Variant {
	if v.Settings.SurfaceCM == 0 || share <= 0 {
		return v
	}
	key := height{v, int(math.Round(share / sameShare))}
	if kept, ok := heights.Load(key); ok {
		return kept.(*Variant)
	}
	var out *Variant
	if m, ok := v.Plain().Movement.raiseSurface(float64(key.steps)*sameShare - v.SurfaceShare()); ok {
		plain := &Form{Movement: m}
		if plain.measure() {
			there := *v
			there.MayAdapt = slices.DeleteFunc(slices.Clone(v.MayAdapt), func(id string) bool { return id == "raise_surface" })
			there.Forms = append([]*Form{plain}, Adaptations(m, there.MayAdapt)...)
			out = &there
		}
	}
	kept, _ := heights.LoadOrStore(key, out)
	return kept.(*Variant)
}

// FormAt finds the form with the given adaptations on a surface of such a share of
// the body's height; as FormOf does where none is given, or no body could take it.
func (v *Variant) FormAt(share float64, adaptations []Adaptation) *Form {
	if there := v.At(share); there != nil {
		return there.FormOf(adaptations)
	}
	return v.FormOf(adaptations)
}
