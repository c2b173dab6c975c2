package edit

import (
	"slices"
	"sort"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
)

// Alternative is a variant that could stand in an item's place.
type Alternative struct {
	Variant *exercise.Variant
	Judged  limit.Judgement
	Shared  int // purposes in common with the item
}

// Alternatives lists the variants that serve a purpose of the item and are
// available here, safe ones first, those named as its swaps before others.
func Alternatives(r plan.Request, lib plan.Library, it plan.Item) []Alternative {
	d := plan.DeskOf(r, lib)
	var swaps []string
	if v := d.Find(it.Variant); v != nil {
		swaps = v.Swaps
	}
	var out []Alternative
	for _, v := range lib.Variants {
		if v.ID == it.Variant || !d.Available(v) {
			continue
		}
		shared := 0
		for _, p := range v.Purposes {
			if slices.Contains(it.Purposes, p) {
				shared++
			}
		}
		if shared > 0 || slices.Contains(swaps, v.ID) {
			out = append(out, Alternative{v, d.Judge(v), shared})
		}
	}
	rank := func(a Alternative) int {
		k := slices.Index([]exercise.Verdict{exercise.Suits, exercise.Adapt, exercise.Avoid}, a.Judged.Verdict) * 100
		if !slices.Contains(swaps, a.Variant.ID) {
			k += 50
		}
		return k - a.Shared
	}
	sort.SliceStable(out, func(i, j int) bool { return rank(out[i]) < rank(out[j]) })
	return out
}
