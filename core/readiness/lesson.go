package readiness

import (
	"restbend/core/exercise"
	"restbend/core/limit"
)

// What a page that teaches needs to decide by itself, where there is no connection.

// MarkRules are the figures by which marks of a lesson are weighed, and the kind of each part of
// the body.
type MarkRules struct {
	Ease  int               `json:"ease"`   // pain from which the rest of an exercise is offered a step easier
	Over  int               `json:"over"`   // from which it is dropped, and what loads the part barred
	Stop  int               `json:"stop"`   // from which, in the back or in two parts, the lesson ends
	Kinds map[string]string `json:"kinds"`  // of parts: limb, back or alarm
	End   []string          `json:"ending"` // a calm one
}

// ForMarks are the rules by which marks are weighed.
func (r *Rules) ForMarks() MarkRules {
	out := MarkRules{Ease: stepBackPain, Over: gentlePain, Stop: stopPain, Kinds: map[string]string{},
		End: []string{"End calmly: the easiest position, slow breath.", "Up slowly, with a hand on something.",
			"Somebody stays with the client until it has passed or help is there."}}
	for _, p := range r.Parts {
		out.Kinds[p.Where] = p.Kind
	}
	return out
}

// Loaded are the parts of the body that something measured loads, on either side, so that
// it is barred where one of them hurts.
func (r *Rules) Loaded(m exercise.Measured, heightCM, massKG float64) []string {
	out := []string{}
	for _, p := range r.Parts {
		set := limit.Limits{
			HeightCM: heightCM,
			MassKG:   massKG,
		}.With(
			limit.RowsOf(p.Limits, "", true, limit.Reason{}, heightCM, massKG),
			nil,
		)
		if len(set.Breaks(m)) > 0 {
			out = append(out, p.Where)
		}
	}
	return out
}

// GentleEnough says whether something measured is inside the gentle limits of a day with pain.
func (r *Rules) GentleEnough(m exercise.Measured, heightCM, massKG float64) bool {
	demand := r.Gentle.SoreDemand
	rows := append(limit.RowsOf(r.Gentle.Limits, "", true, limit.Reason{}, heightCM, massKG),
		limit.RowsOf([]limit.RuleLimit{{Quantity: "demand", Max: &demand}}, "", false, limit.Reason{}, heightCM, massKG)...)
	return len(limit.Limits{HeightCM: heightCM, MassKG: massKG}.With(rows, nil).Breaks(m)) == 0
}
