package lesson

import (
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
)

// Fold is the record of a lesson as its marks tell it: the same for any order and any
// repetition of them. plans are the revisions of the plan, oldest first, at least one; the
// last is the plan as it stands, the others are asked what stood where a mark was made.
// What no mark speaks of was not done.
func Fold(plans []plan.Plan, marks []Mark) Record {
	now := plans[len(plans)-1]
	r := Record{Format: "restbend.record/1", Items: []Done{}}
	before := now.PainNow
	r.Pain.Before = &before
	settled := Settled(marks)
	of := byItem(plans, settled)
	for _, it := range now.Items {
		for _, seen := range of[it.ID] {
			r.Items = append(r.Items, seen.done()...)
		}
		if i := slices.IndexFunc(of[it.ID], func(s seen) bool { return s.item.Variant == it.Variant }); i < 0 {
			r.Items = append(r.Items, seen{item: it}.done()...)
		}
	}
	for _, m := range settled { // what was taken out again, and had been begun
		if slices.ContainsFunc(now.Items, func(x plan.Item) bool { return x.ID == m.Item }) {
			continue
		}
		for _, seen := range of[m.Item] {
			r.Items = append(r.Items, seen.done()...)
		}
		delete(of, m.Item)
	}
	for _, m := range settled {
		switch m.Kind {
		case "pain":
			if m.Score != nil && (r.Pain.During == nil || *m.Score > *r.Pain.During) {
				r.Pain.During = m.Score
			}
		case "ended":
			if m.Score != nil {
				r.Pain.After = m.Score
			}
			r.note(m.Text)
		case "note":
			r.note(m.Text)
		case "warning":
			name := m.Flag
			if f, known := limit.FindRedFlag(m.Flag); known {
				name = f.Name
			}
			r.note("Warning sign: " + name + ". The lesson ended there.")
		case "side_check":
			c := SideCheck{Item: m.Item, Variant: m.Variant, Moment: m.Moment, Less: m.Less}
			if it := find(plans, m.Item, m.Variant); it != nil {
				c.Variant, c.Name = it.Variant, it.Name
			}
			r.SideChecks = append(r.SideChecks, c)
		}
	}
	return r
}

func (r *Record) note(text string) {
	if text == "" {
		return
	}
	if r.Notes != "" {
		r.Notes += "\n"
	}
	r.Notes += text
}

// seen is an exercise that stood in a place of the plan, with the marks made on it.
type seen struct {
	item  plan.Item
	marks []Mark
}

// byItem sorts the marks by the place in the plan and the exercise that stood there, in the
// order in which they were seen.
func byItem(plans []plan.Plan, marks []Mark) map[string][]seen {
	out := map[string][]seen{}
	stands := map[string]string{} // the exercise in a place, as the marks go by
	for _, m := range marks {
		if m.Item == "" || m.Kind == "begun" || m.Kind == "side_check" {
			continue
		}
		variant := m.Variant
		if variant == "" {
			variant = stands[m.Item]
		}
		it := find(plans, m.Item, variant)
		if it == nil { // a revision that was taken back; what was done of it is kept
			it = &plan.Item{ID: m.Item, Variant: variant, Name: strings.ReplaceAll(variant, "_", " ")}
		}
		i := slices.IndexFunc(out[m.Item], func(s seen) bool { return s.item.Variant == it.Variant })
		if i < 0 {
			i = len(out[m.Item])
			out[m.Item] = append(out[m.Item], seen{item: *it})
		}
		out[m.Item][i].marks = append(out[m.Item][i].marks, m)
		stands[m.Item] = it.Variant
		if m.To != "" && (m.Kind == "swapped" || m.Kind == "easier" || m.Kind == "harder") {
			stands[m.Item] = m.To
		}
	}
	return out
}

// find is an item of a plan by its lasting id and the exercise that stood there, in the
// newest revision that has it so; without an exercise, in the oldest.
func find(plans []plan.Plan, id, variant string) *plan.Item {
	for n := range plans {
		p := &plans[n]
		if variant != "" {
			p = &plans[len(plans)-1-n]
		}
		for i := range p.Items {
			if it := &p.Items[i]; it.ID == id && (variant == "" || it.Variant == variant) {
				return it
			}
		}
	}
	return nil
}

// set is how one set went.
type set struct {
	ended       string
	repetitions int
	seconds     float64
	best        float64
}

// done is what was done of the exercise: for each side a run of sets that went alike.
func (s seen) done() []Done {
	var out []Done
	for _, side := range SidesOf(s.item.Sides, s.item.Dose) {
		out = append(out, s.onSide(side)...)
	}
	return out
}

//revive:disable-next-line:cyclomatic One case for each kind of mark, in the order in which they undo one another.
func (s seen) onSide(side string) []Done {
	d := s.item.Dose.On(side)
	base := Done{
		Variant:  s.item.Variant,
		Name:     s.item.Name,
		Item:     s.item.ID,
		Side:     side,
		Settings: s.item.Settings,
		Planned:  &d,
		Ended:    "choice",
	}
	sets, skipped := map[int]set{}, false
	last := 0
	for _, m := range s.marks {
		if m.Side != "" && side != "" && m.Side != side {
			continue
		}
		n := max(1, m.Set)
		switch {
		case m.Kind == "set_done":
			sets[n] = full(d, n, m)
		case slices.Contains(ending, m.Kind):
			if x, ok := sets[n]; !ok || x.ended != "done" {
				sets[n] = set{ended: m.Kind, repetitions: m.Repetitions, seconds: m.Seconds, best: m.BestHold}
			}
			if base.OddFrom == 0 && m.Kind != "soreness" {
				base.OddFrom = m.Repetitions + 1
			}
		case m.Kind == "skipped":
			skipped = true
			if m.Set > 0 && m.Repetitions > 0 {
				if _, ok := sets[n]; !ok {
					sets[n] = set{ended: "choice", repetitions: m.Repetitions, seconds: m.Seconds, best: m.BestHold}
				}
			}
		}
		last = max(last, n)
		s.also(&base, m)
	}
	var out []Done
	for n := 1; n <= last; n++ {
		x, ok := sets[n]
		if !ok {
			continue
		}
		if k := len(out) - 1; k >= 0 && out[k].Ended == x.ended && out[k].Repetitions == x.repetitions && out[k].Seconds == x.seconds {
			out[k].Sets++
			out[k].BestHold = max(out[k].BestHold, x.best)
			continue
		}
		one := base
		one.Sets, one.Repetitions, one.Seconds, one.BestHold, one.Ended = 1, x.repetitions, x.seconds, x.best, x.ended
		if x.ended == "done" {
			one.OddFrom = 0
		}
		out = append(out, one)
	}
	if out == nil {
		base.Skipped, base.OddFrom, base.Notes = true, 0, "not reached"
		if skipped {
			base.Notes = "left out"
		}
		out = []Done{base}
	}
	if len(out) > 1 { // said once: with the set that did not end well
		at := max(0, slices.IndexFunc(out, func(x Done) bool { return x.Ended != "done" }))
		for i := range out {
			if i != at {
				out[i].Pain, out[i].Sensation, out[i].Stepped = nil, "", nil
			}
		}
	}
	return out
}

// full is a set that was done, with the figures of the mark or, without any, those of the
// dose.
func full(d exercise.Dose, n int, m Mark) set {
	x := set{ended: "done", repetitions: m.Repetitions, seconds: m.Seconds, best: m.BestHold}
	if sizes := d.SetSizes(); x.repetitions == 0 {
		x.repetitions = sizes[min(n, len(sizes))-1]
		if d.Breaths > 0 {
			x.repetitions = d.Breaths
		}
	}
	if x.seconds == 0 && d.Breaths == 0 {
		x.seconds = d.Hold(x.repetitions - 1)
	}
	if x.best == 0 && d.Kind == exercise.HoldSeconds {
		x.best = x.seconds
	}
	return x
}

// also takes what a mark says of the exercise as a whole.
func (s seen) also(d *Done, m Mark) {
	switch m.Kind {
	case "pain":
		if m.Score != nil && (d.Pain == nil || *m.Score > d.Pain.Score) { // else nobody said how much
			d.Pain = &PainAt{*m.Score, m.Where, m.Side}
		}
		d.Sensation = "pain"
	case "tingling":
		d.Sensation = "tingle"
	case "pinch", "solid_stop":
		if d.Sensation == "" {
			d.Sensation = m.Kind
		}
	case "tighter":
		d.Tighter = m.Side
	case "stepped":
		d.Stepped = append(d.Stepped, m.Which)
	}
}
