package plan

import (
	"math"
	"slices"
	"sort"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// candidate is a variant that may stand in a phase of the session, with the
// doses it may be given.
type candidate struct {
	variant *exercise.Variant
	judged  limit.Judgement
	phase   exercise.Phase
	doses   []option
	units   []unit  // what a full dose holds of each feature
	own     float64 // what it is worth by itself
	must    bool    // fixed by the instructor
	keep    bool    // in the plan already
}

// option is one dose with its seconds of work and rest, how much of a full dose's
// return it brings, and its value at the prices of the moment.
type option struct {
	dose    exercise.Dose
	seconds float64
	returns float64
	value   float64
	uses    []unit // what it takes of what a whole session may hold
}

// Available says whether the place, and what the client has, allow the
// variant.
func Available(v *exercise.Variant, place exercise.Place, has []string) bool {
	if !place.Holds(v.Position) || !slices.Contains(v.Places, place) {
		return false
	}
	kit := slices.Concat(has, place.OwnEquipment())
	have := func(e string) bool { return e == "wall" || slices.Contains(kit, e) }
	for _, e := range v.Equipment {
		// On a bed or table the mat is not wanted: the surface is there.
		if e == "mat" && (place == "bed" || place == "table") {
			continue
		}
		if !have(e) {
			return false
		}
	}
	for _, oneOf := range v.EquipmentOneOf {
		if !slices.ContainsFunc(oneOf, have) {
			return false
		}
	}
	return true
}

// candidates lists what may be chosen, in session order: by phase, from the
// most supported position, from light to demanding.
func (r Request) candidates(everyRung bool) []candidate {
	lib, order := r.lib, r.newFrame(0)
	var out []candidate
	led := map[string]bool{} // rungs that an easier one leads to
	for _, v := range lib.Variants {
		for _, n := range v.Next {
			led[n.To] = true
		}
	}
	for _, v := range lib.Variants {
		if !Available(v, r.Place, r.Client.Equipment) {
			continue
		}
		if r.Limits.FirstRungs && led[v.ID] && !r.recorded(v) {
			continue
		}
		j := limit.Judge(r.Limits, v)
		if j.Verdict == exercise.Avoid {
			continue
		}
		for _, phase := range phasesOf(v) {
			if r.Limits.Irritability == limit.Flared && phase != "settle" && phase != "mobilise" && phase != "close" {
				continue
			}
			if order.phase(phase) < order.begun || r.doneBefore(v, phase) {
				continue
			}
			c := candidate{variant: v, judged: j, phase: phase}
			c.doses = r.options(c)
			if len(c.doses) > 0 {
				out = append(out, c)
			}
		}
	}
	if !everyRung {
		out = r.oneRungEach(out)
	}
	out = r.withFixed(out)
	sort.SliceStable(out, func(i, j int) bool {
		a, b := out[i], out[j]
		if x, y := order.phase(a.phase), order.phase(b.phase); x != y {
			return x < y
		}
		if x, y := a.variant.Position.Rank(), b.variant.Position.Rank(); x != y {
			return x < y
		}
		return a.judged.Form.Measured.Demand < b.judged.Form.Measured.Demand
	})
	return out
}

// doneBefore says whether a session that goes on has done the variant already; to
// rest or breathe once more is no repetition.
func (r Request) doneBefore(v *exercise.Variant, phase exercise.Phase) bool {
	return phase != "close" && slices.ContainsFunc(r.Done, func(it Item) bool { return it.Variant == v.ID })
}

// withFixed puts what the instructor has locked, and what is to be kept where
// possible, among the candidates.
func (r Request) withFixed(cs []candidate) []candidate {
	for n, list := range [][]Item{r.Fixed, r.Kept} {
		for _, it := range list {
			v := r.find(it.Variant)
			if v == nil || !Available(v, r.Place, r.Client.Equipment) {
				continue
			}
			j := limit.Judge(r.Limits, v)
			if j.Verdict == exercise.Avoid {
				continue
			}
			c := candidate{variant: v, judged: j, phase: it.Phase, must: n == 0, keep: n == 1}
			c.doses = r.options(c)
			if c.must {
				sides, breath := len(sidesOf(v)), r.Client.BreathSeconds()
				c.doses = []option{{dose: it.Dose, returns: 1, seconds: it.Dose.Work(sides, breath) + it.Dose.Rest(sides, breath, restBetween(r.Limits))}}
			}
			cs = slices.DeleteFunc(cs, func(k candidate) bool { return k.variant == v && k.phase == it.Phase })
			cs = append(cs, c)
		}
	}
	return cs
}

// phasesOf are the phases a variant may fill: the first it names, and the close
// for what can also settle.
func phasesOf(v *exercise.Variant) []exercise.Phase {
	if v.Phases[0] == "settle" && slices.Contains(v.Phases, "close") {
		return []exercise.Phase{"settle", "close"}
	}
	return v.Phases[:1]
}

// oneRungEach keeps one variant of a family in each phase and position: the
// recorded one, or the easiest.
func (r Request) oneRungEach(all []candidate) []candidate {
	type place struct {
		family string
		phase  exercise.Phase
		pos    exercise.Position
	}
	best := map[place]int{}
	for i, c := range all {
		k := place{c.variant.Family, c.phase, c.variant.Position}
		j, taken := best[k]
		if !taken || r.better(c, all[j]) {
			best[k] = i
		}
	}
	var out []candidate
	for i, c := range all {
		if best[place{c.variant.Family, c.phase, c.variant.Position}] == i {
			out = append(out, c)
		}
	}
	return out
}

// better prefers the rung on record; a sore day prefers the easier one.
func (r Request) better(a, b candidate) bool {
	if r.Limits.Irritability == limit.Calm {
		if x, y := r.recorded(a.variant), r.recorded(b.variant); x != y {
			return x
		}
	}
	return a.judged.Form.Measured.Demand < b.judged.Form.Measured.Demand
}

func (r Request) recorded(v *exercise.Variant) bool {
	return slices.ContainsFunc(r.Client.Rungs, func(k limit.Rung) bool { return k.Variant == v.ID })
}

// options are the doses a candidate may be given.
func (r Request) options(c candidate) []option {
	base := c.variant.Studio
	for _, rung := range r.Client.Rungs {
		if rung.Variant == c.variant.ID && rung.Dose != nil && rung.Dose.Kind == base.Kind {
			if rung.Dose.Repetitions > 0 {
				base.Repetitions = rung.Dose.Repetitions
			}
		}
	}
	sides := sidesOf(c.variant)
	breath := r.Client.BreathSeconds()
	usual := base.Work(len(sides), breath)
	more := r.lesserSide(c.variant)
	var out []option
	for _, d := range doses(base, c, r.Limits.Irritability) {
		if more != "" {
			if d = d.Uneven(more); len(d.BySide) == 0 {
				continue // sets that descend say nothing about sides
			}
		}
		if !r.bearable(c.judged.Form, d) {
			continue
		}
		work := d.Work(len(sides), breath)
		share := work / usual
		out = append(out, option{dose: d, seconds: work + d.Rest(len(sides), breath, restBetween(r.Limits)),
			// Falling returns: the usual dose is worth 1, twice as much 1.2.
			returns: 1.5 * share / (0.5 + share)})
	}
	return out
}

// lesserSide is the side that is to have about half as much again of a variant:
// the one that was measured to do less of what it is for. Empty when the sides
// are alike.
func (r Request) lesserSide(v *exercise.Variant) string {
	if !v.Sided {
		return ""
	}
	for _, u := range r.Limits.Uneven {
		if !slices.Contains(v.Purposes[:min(2, len(v.Purposes))], u.Purpose) {
			continue
		}
		if v.ServesOther {
			return map[string]string{"left": "right", "right": "left"}[u.Lesser]
		}
		return u.Lesser
	}
	return ""
}

// bearable says whether a dose keeps weight off the wrists in time and stays by
// itself inside what a whole session may hold.
func (r Request) bearable(f *exercise.Form, d exercise.Dose) bool {
	for _, k := range r.Limits.Session {
		if k.Count != limit.FloorTransfers && counted(k.Count, f, d, 1) > k.Max {
			return false
		}
	}
	return true
}

// doses lists the sizes of dose that practice uses round the usual one.
func doses(base exercise.Dose, c candidate, sore limit.Irritability) []exercise.Dose {
	if form := c.judged.Form; base.Kind == exercise.Repetitions || base.Kind == exercise.Circles {
		base.Seconds = form.Movement.Tempo()
	}
	if most := c.judged.Form.Movement.Hold; base.Kind == exercise.HoldSeconds && most > 0 {
		base.Seconds = math.Min(base.Seconds, most) // an adapted form may hold for less
	}
	var out []exercise.Dose
	maxSets := 2
	if c.phase == "strengthen" || c.phase == "upright" || c.phase == "activate" {
		maxSets = 3
	}
	if sore > limit.Calm {
		maxSets = min(maxSets, 2)
	}
	switch base.Kind {
	case exercise.Breaths:
		for _, n := range []int{3, 4, 5, 6, 8, 10} {
			d := base
			d.Breaths = n
			out = append(out, d)
		}
	case exercise.HoldBreaths:
		for _, size := range []struct{ breaths, sets int }{{3, 1}, {5, 1}, {5, 2}} {
			d := base
			d.Breaths, d.Sets = size.breaths, size.sets
			out = append(out, d)
		}
	case exercise.HoldSeconds:
		if sore > limit.Calm {
			base.Seconds = math.Min(base.Seconds, 5)
		}
		n := base.SetSizes()[0]
		// Descending sets: McGill, Low Back Disorders (from memory); common practice.
		for _, sizes := range [][]int{{n - 2}, {n}, {n, n - 2}, {n, n - 2, n - 4}} {
			if sizes[len(sizes)-1] < 2 || len(sizes) > maxSets {
				continue
			}
			d := base
			d.Sets, d.Repetitions, d.RepetitionsBySet = len(sizes), sizes[0], nil
			if len(sizes) > 1 {
				d.RepetitionsBySet = sizes
			}
			out = append(out, d)
		}
	case exercise.AlternatingSeconds:
		for _, share := range []float64{0.5, 1, 1.5} {
			d := base
			d.Seconds = base.Seconds * share
			out = append(out, d)
		}
	default:
		n := base.SetSizes()[0]
		sizes := []int{n - 2, n, n + 2}
		if sore > limit.Calm { // no more than the usual count on a sore day
			sizes = sizes[:2]
		}
		for _, reps := range sizes {
			for sets := 1; sets <= maxSets; sets++ {
				d := base
				d.Repetitions, d.Sets, d.RepetitionsBySet = max(min(3, n), reps), sets, nil
				out = append(out, d)
			}
		}
	}
	return out
}

func sidesOf(v *exercise.Variant) []string {
	if v.Sided {
		return []string{"left", "right"}
	}
	return []string{}
}
