package lesson

import (
	"fmt"

	"restbend/core/plan"
)

// AsPlanned is the record of a lesson in which all went as it was planned, made of no
// marks: for one that was taught without the page.
func AsPlanned(p plan.Plan) Record { return Fold([]plan.Plan{p}, AllDone(p)) }

// AllDone are the marks of a lesson in which all went as planned, with ids that hold
// within it only.
func AllDone(p plan.Plan) []Mark {
	var out []Mark
	for _, b := range Beats(p) {
		if b.SetEnds {
			out = append(out,
				Mark{
					ID:      fmt.Sprintf("as-planned-%d", len(out)),
					Item:    b.ID,
					Variant: p.Items[b.Item].Variant,
					Side:    b.Side,
					Set:     b.Set,
					Kind:    "set_done",
					ClockS:  b.At + b.Seconds,
				},
			)
		}
	}
	return out
}
