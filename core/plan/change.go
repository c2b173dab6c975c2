package plan

import (
	"fmt"
	"math"
	"slices"
	"sort"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// Alternative is a variant that could stand in an item's place.
type Alternative struct {
	Variant *exercise.Variant
	Judged  limit.Judgement
	Shared  int // purposes in common with the item
}

// Alternatives lists the variants that serve a purpose of the item and are
// available here, safe ones first, those named as its swaps before others.
func Alternatives(r Request, lib Library, it Item) []Alternative {
	var swaps []string
	if v := lib.variant(it.Variant); v != nil {
		swaps = v.Swaps
	}
	var out []Alternative
	for _, v := range lib.Variants {
		if v.ID == it.Variant || !Available(v, r.Place, r.Client.Equipment) {
			continue
		}
		shared := 0
		for _, p := range v.Purposes {
			if slices.Contains(it.Purposes, p) {
				shared++
			}
		}
		if shared > 0 || slices.Contains(swaps, v.ID) {
			out = append(out, Alternative{v, limit.Judge(r.Limits, v), shared})
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

// Swap puts another variant in the place of item i, with the dose whose seconds
// come nearest to what was there, and retimes the plan. A variant that the
// client's limits bar is refused with the reasons in the error.
func (p *Plan) Swap(r Request, lib Library, i int, id string) error {
	if i < 0 || i >= len(p.Items) {
		return fmt.Errorf("item: there is no exercise number %d in this plan; it has %d", i+1, len(p.Items))
	}
	v := lib.variant(id)
	if v == nil {
		return fmt.Errorf("variant: %q is not in the library", id)
	}
	if !Available(v, r.Place, r.Client.Equipment) {
		return fmt.Errorf("variant: %s cannot be done %s with the equipment at hand", v.Name, r.Place.Words())
	}
	j := limit.Judge(r.Limits, v)
	if j.Verdict == exercise.Avoid {
		return fmt.Errorf("variant: %s is not for this client: %s", v.Name, j.Reasons[0].Text)
	}
	old := p.Items[i]
	c := candidate{variant: v, judged: j, phase: old.Phase}
	best, miss := v.Studio, math.Inf(1)
	for _, o := range r.options(c) {
		if m := math.Abs(o.seconds - old.SecondsWork - old.SecondsRest); m < miss {
			best, miss = o.dose, m
		}
	}
	p.Items[i] = r.item(v, j, old.Phase, best)
	p.Retime(r.Limits)
	p.LeftOut = leftOut(r, lib, p.Items)
	return nil
}
