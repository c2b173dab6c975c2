package plan

import (
	"fmt"
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
	cues := slices.Clone(v.CuesOf(f))
	slices.SortStableFunc(cues, func(a, b string) int { // what worked is said again first
		return boolInt(slices.Contains(r.History.Worked[v.ID], b)) - boolInt(slices.Contains(r.History.Worked[v.ID], a))
	})
	works := slices.ContainsFunc(v.Purposes, func(p exercise.Purpose) bool { return slices.Contains(trunkWork, p) })
	if cue := trunkCues[r.Approach]; works && cue != "" {
		return append(slices.Clone(cues), cue)
	}
	return cues
}

func boolInt(yes bool) int {
	if yes {
		return 1
	}
	return 0
}

// Bounds of doses by approach, common practice.
const (
	leastBreaths, mostBreaths = 3, 10 // in one shape
	segmentMost               = 10    // slow repetitions
	sensingLeast              = 4     // repetitions, by feel
	skillSessions             = 3     // sessions after which a repetition fewer is enough
	longHold                  = 15.0  // seconds from which a hold is a shape to rest in
)

// easyShape is the demand up to which a short hold may become a shape for breaths.
const easyShape = 3.0

// breathed says whether one repetition of a movement is one breath: in on the way and out
// on the other.
func breathed(m exercise.Movement) bool {
	in, out := 0, 0
	for i, s := range m.Steps {
		turned := i == 0 || m.Steps[i-1].Breath != s.Breath
		switch {
		case s.Breath == "in" && turned:
			in++
		case s.Breath == "out" && turned:
			out++
		case !turned:
		default:
			return false
		}
	}
	return in == 1 && out == 1
}

// dosed is the usual dose as the approach counts it.
func (r Request) dosed(base exercise.Dose, c candidate) exercise.Dose {
	switch r.Approach {
	case "breath":
		breath := r.Client.BreathSeconds()
		// What moves with the breath is counted by it: one in and out each time.
		if n := base.SetSizes()[0]; base.Kind == exercise.Repetitions && n >= leastBreaths && breathed(c.judged.Form.Movement) {
			return exercise.Dose{Kind: exercise.Breaths, Sets: 1, Breaths: min(n, mostBreaths)}
		}
		// Short easy holds become one shape for a few breaths, where that may be held.
		if base.Kind == exercise.HoldSeconds && base.Seconds < longHold && c.judged.Form.Measured.Demand() < easyShape {
			d := exercise.Dose{Kind: exercise.HoldBreaths, Sets: 1, Breaths: leastBreaths}
			if most := c.judged.Form.Movement.Hold; r.bearable(c, d) && (len(c.judged.Form.Adaptations) == 0 || Held(d, breath) <= most) {
				return d
			}
		}
		// A shape that is kept is counted in breaths, which take their time.
		if base.Kind == exercise.HoldSeconds && base.Seconds >= longHold && base.SetSizes()[0] <= fewHolds {
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

// worthSaying is the share from which it is said how a session is counted.
const worthSaying = 0.3

// Counted is the share of the work, 0 to 1, that is dosed in the approach's own way of
// counting; 0 for no work.
func (p Plan) Counted() float64 {
	own, all := 0.0, 0.0
	for _, it := range p.Items {
		all += it.SecondsWork
		if slices.Contains(likes[p.Approach], it.Dose.Kind) {
			own += it.SecondsWork
		}
	}
	if all == 0 {
		return 0
	}
	return own / all
}

// countedWords say it in a sentence.
func (p Plan) countedWords() string {
	in := map[exercise.Approach]string{"steady": "timed holds", "segment": "slow repetitions", "breath": "breaths",
		"sensing": "repetitions by feel"}[p.Approach]
	if in == "" || p.Counted() < worthSaying {
		return ""
	}
	return fmt.Sprintf("Of the work, %.0f%% is counted in %s.", 100*p.Counted(), in)
}
