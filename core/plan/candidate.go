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
}

// option is one dose with its seconds of work and rest, how much of a full dose's
// return it brings, and its value at the prices of the moment.
type option struct {
	dose    exercise.Dose
	seconds float64
	returns float64
	value   float64
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
func (r Request) candidates(lib Library, everyRung bool) []candidate {
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
			c := candidate{variant: v, judged: j, phase: phase}
			c.doses = r.options(c)
			out = append(out, c)
		}
	}
	if !everyRung {
		out = r.oneRungEach(out)
	}
	sort.SliceStable(out, func(i, j int) bool {
		a, b := out[i], out[j]
		if x, y := slices.Index(exercise.Phases, a.phase), slices.Index(exercise.Phases, b.phase); x != y {
			return x < y
		}
		if x, y := a.variant.Position.Rank(), b.variant.Position.Rank(); x != y {
			return x < y
		}
		return a.judged.Form.Measured.Demand < b.judged.Form.Measured.Demand
	})
	return out
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
	var out []option
	for _, d := range doses(base, c, r.Limits.Irritability) {
		work := d.Work(len(sides), breath)
		share := work / usual
		out = append(out, option{dose: d, seconds: work + d.Rest(len(sides), breath, restBetween(r.Limits)),
			// Falling returns: the usual dose is worth 1, twice as much 1.2.
			returns: 1.5 * share / (0.5 + share)})
	}
	return out
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
