package lesson

import (
	"restbend/core/civil"
	"restbend/core/readiness"
)

// What lessons say to the readiness of a day.

// Visits are records as the days after them ask about them.
func Visits(records []Record) []readiness.Visit {
	var out []readiness.Visit
	for _, r := range records {
		on, err := civil.Parse(r.On)
		if err != nil {
			continue // refused when it was read
		}
		v := readiness.Visit{On: on, Before: r.Pain.Before}
		if f := r.FollowUp; f != nil {
			v.Flags = f.RedFlags
		}
		out = append(out, v)
	}
	return out
}

// Felt is what was marked in a lesson that is under way and still stands. The side of a mark is
// the one that was worked, not the one that hurts, so a part counts on both.
func Felt(marks []Mark) []readiness.Mark {
	var out []readiness.Mark
	for _, m := range Settled(marks) {
		switch m.Kind {
		case "pain":
			if m.Score != nil {
				out = append(out, readiness.Mark{Kind: m.Kind, Score: m.Score, Where: m.Where})
			}
		case "tingling":
			out = append(out, readiness.Mark{Kind: m.Kind, Where: m.Where})
		}
	}
	return out
}

// FeltIn is the same of a record of what has been done so far. A worst pain that no exercise
// has is of nobody knows where.
func FeltIn(r Record) []readiness.Mark {
	var out []readiness.Mark
	worst := 0
	for _, d := range r.Items {
		if d.Pain != nil {
			worst = max(worst, d.Pain.Score)
			out = append(out, readiness.Mark{Kind: "pain", Score: &d.Pain.Score, Where: d.Pain.Where})
		}
		if d.Sensation == "tingle" || d.Ended == "tingling" {
			out = append(out, readiness.Mark{Kind: "tingling"})
		}
	}
	if p := r.Pain.During; p != nil && *p > worst {
		out = append(out, readiness.Mark{Kind: "pain", Score: p})
	}
	return out
}
