package plan

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// How far a surface may be from the height that an exercise is written for and still
// be the same exercise, in body heights: higher is lighter, so more is allowed there.
// So little beside it makes no difference that could be felt.
const (
	surfaceLower  = 0.03
	surfaceHigher = 0.18
	surfaceSame   = 0.018
)

// fit is a variant as it is done with what the client has: its settings, what is
// missing for it, in words, and the verdict on it at these settings.
type fit struct {
	settings exercise.Settings
	share    float64 // of the client's height, at which the surface stands; 0 for the usual
	lacks    string
	judged   limit.Judgement
}

// fitted works out the settings of a variant once: of what there is the nearest to
// what the exercise is written for, never a heavier one. The height of a surface
// changes what is measured, so each that is near enough is judged, the nearest first.
func (r Request) fitted(v *exercise.Variant) fit {
	if k, given := r.fits[v]; given {
		return k
	}
	k := fit{settings: v.Settings}
	if r.Place == "studio" || r.Client.Owned.SurfaceCM == nil || v.Settings.SurfaceCM == 0 {
		k.judged = limit.Judge(r.Limits, v)
	} else {
		k.judged = r.onSurface(v, &k)
	}
	if r.Place != "studio" {
		r.smallThings(v.Settings, &k)
	}
	if r.fits != nil {
		r.fits[v] = k
	}
	return k
}

// onSurface chooses the height, for the client's own: the nearest that suits, else the
// nearest on which the exercise can be adapted; the verdict on the nearest when all
// are barred.
func (r Request) onSurface(v *exercise.Variant, k *fit) limit.Judgement {
	want := v.SurfaceShare()
	near := slices.DeleteFunc(slices.Clone(r.Client.Owned.SurfaceCM), func(cm float64) bool {
		share := r.share(cm)
		return share < want-surfaceLower || share > want+surfaceHigher || onHeight(v, share) == nil
	})
	if len(near) == 0 {
		k.lacks = fmt.Sprintf("a surface %.0f to %.0f cm high", (want-surfaceLower)*r.Limits.HeightCM, (want+surfaceHigher)*r.Limits.HeightCM)
		return limit.Judge(r.Limits, v)
	}
	slices.SortStableFunc(near, func(a, b float64) int {
		return cmp.Compare(math.Abs(r.share(a)-want), math.Abs(r.share(b)-want))
	})
	var best limit.Judgement
	for n, cm := range near {
		j := limit.Judge(r.Limits, onHeight(v, r.share(cm)))
		if n == 0 || worse(best.Verdict, j.Verdict) {
			best, k.settings.SurfaceCM, k.share = j, cm, r.share(cm)
		}
	}
	return best
}

// share is a height as a share of the client's own.
func (r Request) share(cm float64) float64 { return cm / r.Limits.HeightCM }

// onHeight is the variant on a surface of such a share; as it is written where no body
// could be measured there, if the height is the same for all that matters, and else
// nil.
func onHeight(v *exercise.Variant, share float64) *exercise.Variant {
	there := v.At(share)
	if there == nil && math.Abs(share-v.SurfaceShare()) <= surfaceSame {
		return v
	}
	return there
}

// worse says whether a verdict is less good than another.
func worse(a, b exercise.Verdict) bool {
	order := []exercise.Verdict{exercise.Suits, exercise.Adapt, exercise.Avoid}
	return slices.Index(order, a) > slices.Index(order, b)
}

// smallThings chooses band, weight, wedge, arc and pillow.
func (r Request) smallThings(want exercise.Settings, k *fit) {
	o := r.Client.Owned
	if want.Band != "" && o.Band != nil {
		k.settings.Band = ""
		for _, s := range exercise.Strengths[:slices.Index(exercise.Strengths, want.Band)+1] {
			if slices.Contains(o.Band, s) {
				k.settings.Band = s
			}
		}
		if k.settings.Band == "" {
			k.lacks = "a " + want.Band + " band"
		}
	}
	if want.WeightKG > 0 && o.WeightKG != nil {
		k.settings.WeightKG = 0
		for _, kg := range o.WeightKG {
			if kg <= want.WeightKG && kg > k.settings.WeightKG {
				k.settings.WeightKG = kg
			}
		}
		if k.settings.WeightKG == 0 {
			k.lacks = fmt.Sprintf("a weight of %g kg or less", want.WeightKG)
		}
	}
	if want.WedgeGrade > 0 && o.WedgeGrade != nil && !slices.Contains(o.WedgeGrade, want.WedgeGrade) {
		k.lacks = fmt.Sprintf("a wedge of grade %d", want.WedgeGrade)
	}
	if want.Arc != "" && o.Arc != nil && !slices.Contains(o.Arc, want.Arc) {
		k.lacks = "a " + want.Arc + " arc"
	}
	if want.PillowCM > 0 && len(o.PillowCM) > 0 {
		k.settings.PillowCM = slices.MinFunc(o.PillowCM, func(a, b float64) int {
			return cmp.Compare(math.Abs(a-want.PillowCM), math.Abs(b-want.PillowCM))
		})
	}
}

// Judge is the verdict on a variant for the request's client, at the settings that it
// is done with here.
func Judge(r Request, v *exercise.Variant) limit.Judgement { return r.fitted(v).judged }

// available says whether the place, what there is, and its heights and strengths
// allow a variant.
func (r Request) available(v *exercise.Variant) bool {
	return Available(v, r.Place, r.kit()) && r.fitted(v).lacks == ""
}

// unavailable says why a variant cannot be done here, in words that follow its name.
func (r Request) unavailable(v *exercise.Variant) string {
	if lacks := r.fitted(v).lacks; lacks != "" && Available(v, r.Place, r.kit()) {
		return "wants " + lacks
	}
	return "cannot be done " + r.Place.Words() + " with what is at hand"
}

// whySettings says which of the heights there are is used and what follows from it.
func (r Request) whySettings(it Item) []string {
	v := r.find(it.Variant)
	if v == nil {
		return nil
	}
	var out []string
	if it.SurfaceShare > 0 {
		by := "as usual for this client’s height"
		switch is, usual := it.SurfaceShare, v.SurfaceShare(); {
		case is > usual+surfaceSame/2:
			by = "higher than usual for this client’s height, which makes it lighter"
		case is < usual-surfaceSame/2:
			by = "lower than usual for this client’s height, which makes it harder"
		}
		out = append(out, fmt.Sprintf("Of the surfaces there are, the one of %g cm is used: %s. The movement is measured and judged there.", it.Settings.SurfaceCM, by))
	}
	var changed []string
	if it.Settings.Band != v.Settings.Band {
		changed = append(changed, it.Settings.Band+" band")
	}
	if it.Settings.WeightKG != v.Settings.WeightKG {
		changed = append(changed, fmt.Sprintf("weight of %g kg", it.Settings.WeightKG))
	}
	if it.Settings.PillowCM != v.Settings.PillowCM {
		changed = append(changed, fmt.Sprintf("pillow of %g cm", it.Settings.PillowCM))
	}
	if len(changed) > 0 {
		out = append(out, "Of what there is, the "+strings.Join(changed, " and the ")+" comes nearest.")
	}
	return out
}
