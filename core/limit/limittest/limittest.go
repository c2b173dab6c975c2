// Package limittest draws clients for property tests from the descriptions of
// conditions, so that a condition that is added is drawn from then on.
package limittest

import (
	"fmt"

	"pgregory.net/rapid"

	"restbend/core/limit"
)

// Condition draws a condition with any answers that its description allows, some of
// them left out.
func Condition(t *rapid.T, d limit.Description) limit.Condition {
	k := limit.Condition{ID: d.ID}
	for _, f := range d.Fields {
		at := d.ID + "." + f.ID
		if !rapid.Bool().Draw(t, at+" said") {
			continue
		}
		k = k.With(f.ID, Answer(t, f, at))
	}
	return k
}

// Answer draws one answer to a field.
func Answer(t *rapid.T, f limit.Field, name string) any {
	switch f.Kind {
	case limit.KindChoice:
		return rapid.SampledFrom(f.Choices).Draw(t, name).ID
	case limit.KindSide:
		return rapid.SampledFrom([]string{"left", "right", "both"}).Draw(t, name)
	case limit.KindYesNo:
		return rapid.Bool().Draw(t, name)
	case limit.KindFigure:
		// near the bounds of bands as well as anywhere
		if *f.Max > 100 {
			return rapid.Float64Range(*f.Min, *f.Min+24).Draw(t, name)
		}
		return rapid.Float64Range(*f.Min, *f.Max).Draw(t, name)
	case limit.KindLevels:
		return rapid.SampledFrom([]string{"C3-C4", "C5-C6", "T4-T8", "T11-L2", "L3-L4", "L4-S1"}).Draw(t, name)
	case limit.KindPressure:
		return fmt.Sprintf("%d/%d", rapid.IntRange(100, 210).Draw(t, name+" upper"), rapid.IntRange(50, 99).Draw(t, name+" lower"))
	case limit.KindCurves:
		var out []limit.Curve
		for _, region := range limit.Regions {
			if rapid.Bool().Draw(t, name+" "+region) {
				out = append(out,
					limit.Curve{Region: region, Convex: rapid.SampledFrom([]string{"left", "right"}).Draw(t, region+" convex"),
						CobbDeg: float64(rapid.IntRange(0, 70).Draw(t, region+" cobb"))},
				)
			}
		}
		return out
	}
	panic("no way to answer a field of kind " + f.Kind)
}

// Conditions draws some of the conditions, each at most once.
func Conditions(t *rapid.T, conditions limit.Conditions, most int) []limit.Condition {
	var out []limit.Condition
	for _, d := range rapid.SliceOfNDistinct(rapid.SampledFrom(conditions), 0, most,
		func(d limit.Description) string { return d.ID }).Draw(t,
		"conditions") {
		out = append(out, Condition(t, d))
	}
	return out
}
