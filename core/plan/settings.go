package plan

import (
	"fmt"
	"slices"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// judge is the verdict on a variant at the settings that it is done with here, worked
// out once.
func (r Request) judge(v *exercise.Variant) limit.Judgement {
	if j, given := r.fits[v]; given {
		return j
	}
	j := limit.Judge(r.Limits.Limits, v, limit.KitOf(r.Client, r.Place))
	if at := r.decidedHeight(v); at > 0 { // it was decided on, and is tried first
		kit := limit.KitOf(r.Client, r.Place)
		kit.SurfaceCM = []float64{at}
		if there := limit.Judge(r.Limits.Limits, v, kit); there.Lacks == "" && there.Verdict != exercise.Avoid {
			j = there
		}
	}
	if why := r.resting(v); why != "" {
		j.Verdict, j.Reasons = exercise.Avoid, []limit.Reason{{Rule: "next.resting", Text: why, Source: "common practice"}}
		return j
	}
	switch only := r.curveSide(v); {
	case only != "":
		j = j.On(only)
	case j.Verdict == exercise.Avoid && j.Free() != "":
		j = j.On(j.Free()) // the other side rests
	}
	if r.fits != nil {
		r.fits[v] = j
	}
	return j
}

// decidedHeight is the height of the surface that the record has come to for an exercise,
// in cm, where it was one of what the client has; 0 for none.
func (r Request) decidedHeight(v *exercise.Variant) float64 {
	for _, k := range r.Client.Rungs {
		if at := k.Settings.SurfaceCM; k.Variant == v.ID && at > 0 &&
			(r.Client.Owned.SurfaceCM == nil || slices.Contains(r.Client.Owned.SurfaceCM, at)) {
			return at
		}
	}
	return 0
}

// decidedSettings are band, weight, seat, base and feet that the record has come to for an
// exercise, and what is measured with them; ok is false where none were decided, they are
// not at hand, are barred today, or the exercise is adapted otherwise.
func (r Request) decidedSettings(v *exercise.Variant, j limit.Judgement) (to exercise.Settings, m exercise.Measured, ok bool) {
	if j.Form == nil || len(j.Form.Adaptations) > 0 {
		return
	}
	i := slices.IndexFunc(r.Client.Rungs, func(k limit.Rung) bool { return k.Variant == v.ID && k.Settings != (exercise.Settings{}) })
	if i < 0 {
		return
	}
	decided, owned := r.Client.Rungs[i].Settings, limit.KitOf(r.Client, r.Place)
	to = j.Settings.Filled(v.Settings)
	if decided.Band != "" && to.Band != "" && (owned.Band == nil || slices.Contains(owned.Band, decided.Band)) {
		to.Band = decided.Band
	}
	if decided.WeightKG > 0 && to.WeightKG > 0 && (owned.WeightKG == nil || slices.Contains(owned.WeightKG, decided.WeightKG)) {
		to.WeightKG = decided.WeightKG
	}
	if v.Settings.SeatCM > 0 && decided.SeatCM > 0 {
		to.SeatCM = decided.SeatCM
	}
	if v.Settings.Base != "" && slices.Contains(exercise.Bases, decided.Base) {
		to.Base = decided.Base
	}
	if v.Settings.Feet != "" && slices.Contains(exercise.FeetHeld, decided.Feet) {
		to.Feet = decided.Feet
	}
	if to == j.Settings.Filled(v.Settings) {
		return to, m, false
	}
	if m, ok = v.With(to); ok {
		ok = len(r.Limits.Breaks(m)) == 0
	}
	return to, m, ok
}

// resting says why an exercise is left out for now: it hurt, or a harder rung of its ladder
// is; empty when it is not.
func (r Request) resting(v *exercise.Variant) string {
	for _, k := range r.Client.Resting {
		rests := r.find(k.Variant)
		if v.ID == k.Variant || rests != nil && rests.Family == v.Family && r.lib.depth(v) > r.lib.depth(rests) {
			name := k.Variant
			if rests != nil {
				name = rests.Name
			}
			return fmt.Sprintf("Left out until a session has settled: %s since %s. %s", name, k.Since, k.Because)
		}
	}
	return ""
}

// Judge is the verdict on a variant for the request's client, at the settings that it
// is done with here.
func Judge(r Request, v *exercise.Variant) limit.Judgement { return r.judge(v) }

// available says whether the place, what there is, and its heights and strengths
// allow a variant.
func (r Request) available(v *exercise.Variant) bool {
	return Available(v, r.Place, r.kit()) && r.judge(v).Lacks == ""
}

// unavailable says why a variant cannot be done here, in words that follow its name.
func (r Request) unavailable(v *exercise.Variant) string {
	if lacks := r.judge(v).Lacks; lacks != "" && Available(v, r.Place, r.kit()) {
		return "wants " + lacks
	}
	return "cannot be done " + r.Place.Words() + " with what is at hand"
}
