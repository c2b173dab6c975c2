package plan

import (
	"math"
	"slices"

	"restbend/core/exercise"
)

// The four approaches change what is chosen, how it is dosed and how the trunk is
// cued; the limits never change with them (common practice, as its schools teach).

// likes are the ways of counting an approach doses by.
var likes = map[exercise.Approach][]exercise.DoseKind{
	"steady": {exercise.HoldSeconds}, "segment": {exercise.Repetitions, exercise.Circles},
	"breath": {exercise.HoldBreaths, exercise.Breaths}, "sensing": {exercise.Repetitions, exercise.AlternatingSeconds},
}

// trunkCues say what the trunk does, in each approach's own way.
var trunkCues = map[exercise.Approach]string{
	"steady":  "Brace lightly all round, ribs over the pelvis.",
	"segment": "Draw the low belly in and grow long.",
	"breath":  "Slow, even breath; no effort beyond it.",
	"sensing": "Look for ease and balance; nothing is braced.",
}

// trunkWork are the purposes in which the trunk has something to hold.
var trunkWork = []exercise.Purpose{"deep_core", "anti_extension", "anti_rotation", "lateral_stability", "trunk_flexor_endurance",
	"back_extensor_endurance", "hip_extension", "dissociation"}

// cues are a variant's own in its form, and the approach's for the trunk where it works.
func (r Request) cues(v *exercise.Variant, f *exercise.Form) []string {
	cues := v.CuesOf(f)
	works := slices.ContainsFunc(v.Purposes, func(p exercise.Purpose) bool { return slices.Contains(trunkWork, p) })
	if cue := trunkCues[r.Approach]; works && cue != "" {
		return append(slices.Clone(cues), cue)
	}
	return cues
}

// Bounds of doses by approach, common practice.
const (
	leastBreaths, mostBreaths = 3, 10 // in one shape
	segmentMost               = 10    // slow repetitions
	sensingLeast              = 4     // repetitions, by feel
	skillSessions             = 3     // sessions after which a repetition fewer is enough
	longHold                  = 15.0  // seconds from which a hold is a shape to rest in
)

// dosed is the usual dose as the approach counts it.
func (r Request) dosed(base exercise.Dose, c candidate) exercise.Dose {
	switch r.Approach {
	case "breath":
		// A shape that is kept is counted in breaths, which take their time.
		if base.Kind == exercise.HoldSeconds && base.Seconds >= longHold && base.SetSizes()[0] <= fewHolds {
			breath := r.Client.BreathSeconds()
			n := math.Round(base.Seconds / breath)
			if most := c.judged.Form.Movement.Hold; most > 0 {
				n = math.Min(n, math.Floor(most/breath))
			}
			if n >= leastBreaths {
				return exercise.Dose{Kind: exercise.HoldBreaths, Sets: min(2, base.SetSizes()[0]), Breaths: int(math.Min(n, mostBreaths))}
			}
		}
	case "segment":
		if base.Kind == exercise.Repetitions {
			base.Repetitions = min(base.Repetitions, segmentMost)
		}
	case "sensing":
		if base.Kind == exercise.Repetitions && base.Repetitions > sensingLeast {
			base.Repetitions = max(sensingLeast, base.Repetitions-r.History.Sessions/skillSessions)
		}
	}
	return base
}

// mostSets is how many sets of a dose are offered.
func (r Request) mostSets(phase exercise.Phase) int {
	working := phase == "strengthen" || phase == "upright" || phase == "activate"
	switch {
	case quietPhase(phase):
		return 1
	case !working || r.Approach == "segment" || r.Approach == "sensing":
		return 2
	}
	return 3
}
