package limit

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"restbend/core/exercise"
)

// Kit is what an exercise is done with: the heights, strengths and weights that are
// there. The zero Kit has everything as usual.
type Kit struct{ Owned }

// KitOf is what the client has in a place; a studio has everything.
func KitOf(c Client, place exercise.Place) Kit {
	if place == "studio" {
		return Kit{}
	}
	return Kit{c.Owned}
}

// Fit is a variant as it is done with a kit.
type Fit struct {
	Settings exercise.Settings
	Share    float64 // of the client's height, at which the surface stands; 0 for the usual
	Lacks    string  // what is missing for it, in words
}

// How far a surface may be from the height that an exercise is written for and still
// be the same exercise, in body heights: higher is lighter, so more is allowed there.
// So little beside it makes no difference that could be felt.
const (
	surfaceLower  = 0.03
	surfaceHigher = 0.18
	SurfaceSame   = 0.018
)

// onSurface judges the variant at the height that is chosen for it: the nearest that
// suits, else the nearest on which the exercise can be adapted; the verdict on the
// nearest when all are barred. Each that is near enough is judged, since the height
// changes what is measured.
func (s Limits) onSurface(v *exercise.Variant, kit Kit, fit *Fit) Judgement {
	if kit.SurfaceCM == nil || v.Settings.SurfaceCM == 0 {
		return s.judge(v)
	}
	want := v.SurfaceShare()
	share := func(cm float64) float64 { return cm / s.HeightCM }
	near := slices.DeleteFunc(slices.Clone(kit.SurfaceCM), func(cm float64) bool {
		return share(cm) < want-surfaceLower || share(cm) > want+surfaceHigher || onHeight(v, share(cm)) == nil
	})
	if len(near) == 0 {
		fit.Lacks = fmt.Sprintf("a surface %.0f to %.0f cm high", (want-surfaceLower)*s.HeightCM, (want+surfaceHigher)*s.HeightCM)
		return s.judge(v)
	}
	slices.SortStableFunc(near, func(a, b float64) int {
		return cmp.Compare(math.Abs(share(a)-want), math.Abs(share(b)-want))
	})
	var best Judgement
	for n, cm := range near {
		j := s.judge(onHeight(v, share(cm)))
		if n == 0 || worse(best.Verdict, j.Verdict) {
			best, fit.Settings.SurfaceCM, fit.Share = j, cm, share(cm)
		}
	}
	return best
}

// onHeight is the variant on a surface of such a share; as it is written where no body
// could be measured there, if the height is the same for all that matters, and else
// nil.
func onHeight(v *exercise.Variant, share float64) *exercise.Variant {
	there := v.At(share)
	if there == nil && math.Abs(share-v.SurfaceShare()) <= SurfaceSame {
		return v
	}
	return there
}

// worse says whether a verdict is less good than another.
func worse(a, b exercise.Verdict) bool {
	order := []exercise.Verdict{exercise.Suits, exercise.Adapt, exercise.Avoid}
	return slices.Index(order, a) > slices.Index(order, b)
}

// smallThings chooses band, weight, wedge, arc and pillow: of what there is the
// nearest to what the exercise is written for, never a heavier one.
func (o Kit) smallThings(want exercise.Settings, fit *Fit) {
	if want.Band != "" && o.Band != nil {
		fit.Settings.Band = ""
		for _, s := range exercise.Strengths[:slices.Index(exercise.Strengths, want.Band)+1] {
			if slices.Contains(o.Band, s) {
				fit.Settings.Band = s
			}
		}
		if fit.Settings.Band == "" {
			fit.Lacks = "a " + want.Band + " band"
		}
	}
	if want.WeightKG > 0 && o.WeightKG != nil {
		fit.Settings.WeightKG = 0
		for _, kg := range o.WeightKG {
			if kg <= want.WeightKG && kg > fit.Settings.WeightKG {
				fit.Settings.WeightKG = kg
			}
		}
		if fit.Settings.WeightKG == 0 {
			fit.Lacks = fmt.Sprintf("a weight of %g kg or less", want.WeightKG)
		}
	}
	if want.WedgeGrade > 0 && o.WedgeGrade != nil && !slices.Contains(o.WedgeGrade, want.WedgeGrade) {
		fit.Lacks = fmt.Sprintf("a wedge of grade %d", want.WedgeGrade)
	}
	if want.Arc != "" && o.Arc != nil && !slices.Contains(o.Arc, want.Arc) {
		fit.Lacks = "a " + want.Arc + " arc"
	}
	if want.PillowCM > 0 && len(o.PillowCM) > 0 {
		fit.Settings.PillowCM = slices.MinFunc(o.PillowCM, func(a, b float64) int {
			return cmp.Compare(math.Abs(a-want.PillowCM), math.Abs(b-want.PillowCM))
		})
	}
}
