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

// mostHeights is how many heights of one variant are kept: more than the steps there are
// between the lowest and the highest that stand in for its own.
const mostHeights = 64

// heights keeps a variant on surfaces of other heights, which is the same for everybody
// whose surface is so high for their body.
type heights struct {
	mu sync.Mutex
	at map[int]*Variant // by steps of sameShare
}

// find finds the variant at a height, or makes it; two who ask at once may both make it.
func (h *heights) find(steps int, make func() *Variant) *Variant {
	h.mu.Lock()
	kept, ok := h.at[steps]
	h.mu.Unlock()
	if ok {
		return kept
	}
	made := make()
	h.mu.Lock()
	defer h.mu.Unlock()
	if kept, ok := h.at[steps]; ok {
		return kept
	}
	if h.at == nil || len(h.at) >= mostHeights {
		h.at = map[int]*Variant{}
	}
	h.at[steps] = made
	return made
}

// SurfaceShare is the height of the surface that the variant is written for, in body
// heights; 0 when it leans on none that is set.
func (v *Variant) SurfaceShare() float64 { return v.Settings.SurfaceCM / figureCM }

// At is the variant on a surface of such a share of the body's height: its movement is
// put there and measured again, adapted forms and all. A surface cannot then be raised
// further. It is the variant itself when it leans on no surface that is set, no share
// is given or it was not Made, and nil when no body could take it there.
func (v *Variant) At(share float64) *Variant {
	if v.Settings.SurfaceCM == 0 || share <= 0 || v.heights == nil {
		return v
	}
	steps := int(math.Round(share / sameShare))
	return v.heights.find(steps, func() *Variant {
		m, ok := v.Plain().Movement.raiseSurface(float64(steps)*sameShare - v.SurfaceShare())
		if !ok {
			return nil
		}
		plain := &Form{Movement: m}
		if !plain.measure() {
			return nil
		}
		there := *v
		there.recalled, there.heights, there.steps = nil, new(heights), nil
		there.MayAdapt = slices.DeleteFunc(slices.Clone(v.MayAdapt), func(id string) bool { return id == "raise_surface" })
		there.Forms = plain.withAdaptations(there.MayAdapt)
		return &there
	})
}

// FormAt finds the form with the given adaptations on a surface of such a share of
// the body's height; as FormOf does where none is given, or no body could take it.
func (v *Variant) FormAt(share float64, adaptations []Adaptation) *Form {
	if there := v.At(share); there != nil {
		return there.FormOf(adaptations)
	}
	return v.FormOf(adaptations)
}
