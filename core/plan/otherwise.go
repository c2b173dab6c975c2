package plan

import (
	"reflect"
	"slices"
)

// Otherwise is how one plan differs from another for the same time and place.
type Otherwise struct {
	In, Out []string // ids of exercises that come, and that go
	Redosed []string // stay, with another dose or adapted otherwise
	Seconds float64  // of the session that are otherwise: what is put for something else counts once
}

// Differs compares a plan with the one before it. One that refers has nothing in it.
func Differs(before, after Plan) Otherwise {
	var d Otherwise
	var comes, goes float64 // seconds that come and that go
	in := func(p Plan, variant string) int {
		return slices.IndexFunc(p.Items, func(it Item) bool { return it.Variant == variant })
	}
	for _, it := range before.Items {
		if in(after, it.Variant) < 0 && !slices.Contains(d.Out, it.Variant) {
			d.Out = append(d.Out, it.Variant)
			goes += it.Seconds()
		}
	}
	for _, it := range after.Items {
		at := in(before, it.Variant)
		if at < 0 {
			if !slices.Contains(d.In, it.Variant) {
				d.In = append(d.In, it.Variant)
				comes += it.Seconds()
			}
			continue
		}
		was := before.Items[at]
		if !slices.Equal(it.Sides, was.Sides) || !reflect.DeepEqual(it.Adaptations, was.Adaptations) ||
			!reflect.DeepEqual(it.Dose, was.Dose) {
			d.Redosed = append(d.Redosed, it.Variant)
			d.Seconds += max(it.Seconds(), was.Seconds()) - min(it.Seconds(), was.Seconds())
		}
	}
	d.Seconds += max(comes, goes)
	return d
}
