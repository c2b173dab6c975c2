package progress

import (
	"math"

	"restbend/core/exercise"
)

// The small steps of a dose, one at a time (common practice).
const (
	secondsStep = 2.0 // of a hold
	inTurnStep  = 5.0 // of sides that take turns
	leastHold   = 2.0
)

// top is the most that a dose of a variant goes to before something else changes: what
// earns the next rung, or where nothing follows half as much again as is usual.
func top(v *exercise.Variant, usual exercise.Dose) (amount float64, repetitions, sets int) {
	e := v.Earn
	if len(v.Next) > 0 && e.Amount > 0 {
		return e.Amount, max(1, e.Repetitions), max(1, e.Sets)
	}
	switch usual.Kind {
	case exercise.HoldSeconds:
		return math.Round(1.5 * usual.Hold(0)), max(1, usual.Repetitions), max(1, usual.Sets)
	case exercise.Breaths, exercise.HoldBreaths:
		return math.Round(1.5 * float64(usual.Breaths)), 1, max(1, usual.Sets)
	case exercise.AlternatingSeconds:
		return math.Round(1.5 * usual.Seconds), 1, max(1, usual.Sets)
	}
	return math.Round(1.5 * float64(max(usual.Repetitions, 1))), 1, max(1, usual.Sets)
}

// more is a dose one small step further; ok is false when it is as far as it goes.
func more(d exercise.Dose, v *exercise.Variant) (exercise.Dose, bool) {
	amount, repetitions, sets := top(v, v.Studio)
	switch {
	case len(d.RepetitionsBySet) > 0 || len(d.SecondsByRepetition) > 0: // a shape of its own
		return d, false
	case d.Kind == exercise.HoldSeconds && d.Seconds < amount:
		d.Seconds = math.Min(amount, d.Seconds+secondsStep)
	case d.Kind == exercise.HoldSeconds && max(1, d.Repetitions) < repetitions:
		d.Repetitions = max(1, d.Repetitions) + 1
	case d.Kind == exercise.AlternatingSeconds && d.Seconds < amount:
		d.Seconds = math.Min(amount, d.Seconds+inTurnStep)
	case d.Breaths > 0 && float64(d.Breaths) < amount:
		d.Breaths++
	case (d.Kind == exercise.Repetitions || d.Kind == exercise.Circles) && float64(d.Repetitions) < amount:
		d.Repetitions++
	case max(1, d.Sets) < sets:
		d.Sets = max(1, d.Sets) + 1
	default:
		return d, false
	}
	return d, true
}

// good is the part of a dose that went well: the last comfortable repetition and the clean
// seconds. It is never more than the dose.
func good(t turn) exercise.Dose {
	d := t.planned
	if t.full || t.over {
		return d
	}
	switch {
	case d.Kind == exercise.HoldSeconds:
		if t.best > 0 {
			d.Seconds = math.Max(leastHold, math.Min(d.Hold(0), math.Floor(t.best)))
			d.SecondsByRepetition = nil
		}
		if t.reps > 0 && d.RepetitionsBySet == nil {
			d.Repetitions = min(max(1, d.Repetitions), t.reps)
		}
	case d.Breaths > 0:
		if t.reps > 0 {
			d.Breaths = min(d.Breaths, t.reps)
		}
	case d.Kind == exercise.Repetitions || d.Kind == exercise.Circles:
		if t.reps > 0 {
			d.Repetitions, d.RepetitionsBySet = min(d.SetSizes()[0], t.reps), nil
		}
	}
	return d
}

// less is a dose a step back: half of it, at least one; ok is false when it is as little
// as can be.
func less(d exercise.Dose) (exercise.Dose, bool) {
	was := d
	d.RepetitionsBySet, d.SecondsByRepetition = nil, nil
	switch {
	case d.Sets > 1:
		d.Sets--
		if len(was.RepetitionsBySet) > 0 {
			d.Repetitions = was.RepetitionsBySet[0]
		}
	case len(was.RepetitionsBySet) > 0:
		d.Repetitions = was.RepetitionsBySet[0]
	case d.Kind == exercise.HoldSeconds && was.Hold(0) > 4:
		d.Seconds = math.Max(leastHold, math.Round(was.Hold(0)/2))
	case d.Kind == exercise.AlternatingSeconds && d.Seconds > 10:
		d.Seconds = math.Round(d.Seconds / 2)
	case d.Breaths > 3:
		d.Breaths = (d.Breaths + 1) / 2
	case d.Repetitions > 2:
		d.Repetitions = (d.Repetitions + 1) / 2
	default:
		return was, false
	}
	return d, true
}
