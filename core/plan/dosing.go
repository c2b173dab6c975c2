package plan

import (
	"fmt"
	"math"
	"slices"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// options are the doses a candidate may be given.
func (r Request) options(c candidate) (out []option) {
	base := r.usual(c.variant)
	recorded, decided := false, false
	for _, rung := range bothSides(r.Client.Rungs, c.variant.ID) {
		decided = rung.Dose.Sets > 0
		if rung.Dose.Kind == base.Kind {
			base = asRecorded(base, *rung.Dose)
		} else if d, err := rung.Dose.Of(base, c.judged.Form.Movement, c.variant.Sided()); err == nil { // counted otherwise since
			base, recorded = d, true
		}
	}
	if !recorded {
		base = r.dosed(base, c)
	}
	sides := r.sides(c.variant)
	breath := r.Client.BreathSeconds()
	usual := base.Work(len(sides), breath)
	more := r.lesserSide(c.variant)
	if len(base.BySide) > 0 {
		more = "" // the record says it already
	}
	defer func() { // one thing does not take over the session
		short := slices.DeleteFunc(slices.Clone(out), func(o option) bool { return o.seconds > longestItem })
		if len(short) > 0 {
			out = short
		}
	}()
	doses := r.doses(base, c)
	if len(bothSides(r.Client.Rungs, c.variant.ID)) == 0 && r.heads[c.variant.Purposes[0]] > 0 {
		doses = append(doses, r.grown(base, c)...) // whoever has shown the strength may be given those of practice
	}
	for _, d := range doses {
		if more != "" {
			if d = d.Uneven(more); len(d.BySide) == 0 {
				continue // sets that descend say nothing about sides
			}
		}
		if d.Alternating && !r.bearable(c, d) {
			d.Alternating = false // a rest between the sides
		}
		if !r.bearable(c, d) || decided && d.Work(len(sides), breath) > usual+0.5 {
			continue // more than what was decided is not earned
		}
		work := d.Work(len(sides), breath)
		share := work / usual
		out = append(out, option{dose: d, seconds: work + r.rest(c.phase, d, len(sides)),
			// Falling returns: the usual dose is worth 1, twice as much 1.2.
			returns: 1.5 * share / (0.5 + share)})
	}
	return out
}

// asRecorded is the usual dose with the figures that the record gives.
func asRecorded(base, rung exercise.Dose) exercise.Dose {
	if rung.Repetitions > 0 {
		base.Repetitions = rung.Repetitions
	}
	if base.Kind == exercise.HoldSeconds && rung.Seconds > 0 {
		base.Seconds = rung.Seconds
	}
	if rung.Breaths > 0 {
		base.Breaths = rung.Breaths
	}
	if rung.Sets > 0 { // a whole dose, as it was decided
		base.Sets, base.RepetitionsBySet, base.BySide = rung.Sets, rung.RepetitionsBySet, rung.BySide
		base.StaySeconds, base.Alternating = rung.StaySeconds, rung.Alternating && len(rung.BySide) == 0
	}
	base.SecondsByRepetition = rung.SecondsByRepetition
	return base
}

// bothSides are what is on record of an exercise, one entry for both sides: the weaker side
// says how long, and each side how much.
func bothSides(rungs []limit.Rung, variant string) []limit.Rung {
	var out []limit.Rung
	for _, k := range rungs {
		if k.Variant != variant || k.Dose == nil {
			continue
		}
		if n := len(out); n > 0 && k.Side != "" && out[n-1].Side != "" && k.Dose.Kind == out[n-1].Dose.Kind {
			a, b := *out[n-1].Dose, k.Dose.On(k.Side)
			first := out[n-1].Side
			a = a.On(first)
			one := a
			one.Seconds = math.Min(a.Seconds, b.Seconds)
			one.Sets, one.Repetitions, one.Breaths = min(
				max(1, a.Sets),
				max(1, b.Sets),
			), min(
				a.Repetitions,
				b.Repetitions,
			), min(
				a.Breaths,
				b.Breaths,
			)
			counts := func(d exercise.Dose) int {
				if d.Breaths > 0 {
					return d.Breaths
				}
				return d.Repetitions
			}
			if counts(a) != counts(b) && len(one.RepetitionsBySet) == 0 {
				one.BySide = map[string]int{first: counts(a), k.Side: counts(b)}
			}
			out[n-1].Dose, out[n-1].Side = &one, ""
			continue
		}
		out = append(out, k)
	}
	return out
}

// lesserSide is the side that is to have about half as much again of a variant:
// the one that was measured to do less of what it is for. Empty when the sides
// are alike.
func (r Request) lesserSide(v *exercise.Variant) string {
	if len(r.sides(v)) < 2 {
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

// usual is the variant's own dose, where the session happens.
func (r Request) usual(v *exercise.Variant) exercise.Dose {
	if r.Home {
		return v.Home
	}
	return v.Studio
}

// fewReps is a count too small to vary, and fewHolds one too small to descend from.
const (
	fewReps  = 3
	fewHolds = 4
)

// soreHold is the seconds that a hold is not cut below on a sore day.
const soreHold = 5

// heldQuantities are those that grow with the seconds of a hold.
var heldQuantities = []string{"hold_seconds", "effort_held_seconds", "end_range_held_seconds"}

// holds says whether a form is held at all in the way that a limit speaks of.
func holds(f *exercise.Form, l limit.Limit) bool {
	name := l.Quantity
	if l.When != exercise.WhenAny {
		name += "_" + string(l.When)
	}
	return f.Measured.Number(name) > 0
}

// The doses of practice that an exercise may grow into (common practice).
const (
	longerHold    = 10.0 // seconds of short holds
	testHold      = 60.0 // seconds of one long hold
	longestHold   = 120.0
	longestBreath = 15 // breaths in one shape
	inTurn        = 30 // seconds with the sides in turn
)

// grown are the doses of practice beyond the usual one, on a calm day. They are offered to
// who plans by hand; the planner takes them where measures show the strength for it, and
// else begins where the record left off.
func (r Request) grown(base exercise.Dose, c candidate) []exercise.Dose {
	if r.Limits.Irritability > limit.Calm {
		return nil
	}
	var out []exercise.Dose
	add := func(d exercise.Dose, seconds float64, sizes ...int) {
		d.Seconds, d.Sets, d.Repetitions, d.RepetitionsBySet, d.SecondsByRepetition = seconds, len(sizes), sizes[0], nil, nil
		d.Alternating = false
		if len(sizes) > 1 && sizes[0] != sizes[len(sizes)-1] {
			d.RepetitionsBySet = sizes
		}
		out = append(out, d)
	}
	n := base.SetSizes()[0]
	switch base.Kind {
	case exercise.HoldSeconds:
		switch {
		case n > fewHolds && base.Seconds < longerHold:
			add(base, longerHold, 6)
			add(base, longerHold, 6, 4, 2)
			if c.judged.Form.Movement.Alternates() {
				out = append(out, exercise.Dose{Kind: exercise.AlternatingSeconds, Sets: 1, Seconds: inTurn})
			}
		case n <= fewHolds && base.Seconds >= longHold:
			add(base, math.Min(testHold, 1.5*base.Seconds), n)
			add(base, testHold, 1)
			out = append(out, exercise.Dose{Kind: exercise.HoldBreaths, Sets: 1, Breaths: longestBreath})
			if n <= 2 && base.Seconds >= longestHold/4 {
				add(base, longestHold, 1)
			}
		}
	case exercise.HoldBreaths:
		if base.Breaths >= leastBreaths {
			out = append(out, exercise.Dose{Kind: exercise.HoldBreaths, Sets: 1, Breaths: longestBreath})
		}
	}
	return slices.DeleteFunc(out, func(d exercise.Dose) bool { return !r.bearable(c, d) })
}

// Held is the seconds of the longest hold of a dose; breaths in a shape are one.
func Held(d exercise.Dose, breath float64) float64 {
	longest := 0.0
	for _, side := range d.Sides(2) {
		switch side.Kind {
		case exercise.HoldBreaths:
			longest = math.Max(longest, float64(side.Breaths)*breath)
		case exercise.HoldSeconds:
			for i := range slices.Max(side.SetSizes()) {
				longest = math.Max(longest, side.Hold(i))
			}
		case exercise.Repetitions:
			longest = math.Max(longest, side.StaySeconds)
		}
	}
	return longest
}

// bearable says whether a dose keeps weight off the wrists in time and stays by
// itself inside what a whole session may hold.
func (r Request) bearable(c candidate, d exercise.Dose) bool {
	held := Held(d, r.Client.BreathSeconds())
	for l := range r.Limits.Rows() {
		if most, ok := l.Number(); ok && slices.Contains(heldQuantities, l.Quantity) && held > most && holds(c.judged.Form, l) {
			return false
		}
	}
	for _, k := range r.Limits.Session() {
		if k.Count == limit.FloorTransfers { // down once and up once beside it
			if n := waysAgain(r.Place, c.variant.Position, c.variant.EndPosition, d); n > 0 && float64(n+2) > k.Max {
				return false
			}
		} else if k.Count == limit.StandingSeconds {
			if onFeet(c.variant.Position) && standingSeconds(c.phase, d, len(r.sides(c.variant))) > k.Max {
				return false
			}
		} else if counted(k.Count, c.variant.Position, c.judged.Form, c.phase, d, 1) > k.Max {
			return false
		}
	}
	return true
}

// doses lists the sizes of dose that practice uses round the usual one.
func (r Request) doses(base exercise.Dose, c candidate) []exercise.Dose {
	sore := r.Limits.Irritability
	if form := c.judged.Form; base.Kind == exercise.Repetitions || base.Kind == exercise.Circles {
		base.Seconds = form.Movement.Tempo()
		base.StaySeconds = math.Min(base.StaySeconds, form.Movement.Hold)
	}
	if r.Limits.EvenRest {
		base.Alternating = false // one side rests at a time and the trunk does not
	}
	most := c.judged.Form.Movement.Hold
	if len(c.judged.Form.Adaptations) == 0 {
		most = 0 // the record may have outgrown the usual hold; bearable looks at the limits
	}
	if base.Kind == exercise.HoldSeconds && most > 0 {
		base.Seconds = math.Min(base.Seconds, most) // an adapted form may hold for less
	}
	if longest := slices.Max(append(slices.Clone(base.SecondsByRepetition), 0)); sore > limit.Calm || most > 0 && longest > most {
		base.SecondsByRepetition = nil // no growing on a sore day, or beyond what is allowed
	}
	maxSets := r.mostSets(c.phase)
	if base.SetSizes()[0] < fewReps {
		maxSets = 1 // ways down and up are practised once or twice
	}
	if sore > limit.Calm { // a second round only in the direction that eases
		maxSets = 1
		if r.eases(c.judged.Form.Measured) > 0 {
			maxSets = 2
		}
	}
	if r.filler(c) {
		maxSets = min(maxSets, max(1, len(base.SetSizes())))
	}
	switch base.Kind {
	case exercise.Breaths:
		return r.breathDoses(base, c)
	case exercise.HoldBreaths:
		return heldBreathDoses(base, maxSets)
	case exercise.HoldSeconds:
		return r.holdDoses(base, c, maxSets)
	case exercise.AlternatingSeconds:
		var out []exercise.Dose
		for _, share := range []float64{0.5, 1, 1.5} {
			d := base
			d.Seconds = base.Seconds * share
			out = append(out, d)
		}
		return out
	}
	return r.repetitionDoses(base, maxSets)
}

func (r Request) breathDoses(base exercise.Dose, c candidate) (out []exercise.Dose) {
	sizes := []int{3, 4, 5, 6, 8, 10}
	if r.Limits.Irritability > limit.Calm && quiet(c.variant) && quietPhase(c.phase) {
		sizes = append(sizes, 15)
		if c.variant.Position != standingPosition && !c.sided { // rest and breath of two or three minutes
			sizes = append(sizes, 24, 36)
		}
	}
	for _, n := range sizes {
		d := base
		d.Breaths = n
		out = append(out, d)
	}
	return out
}

func heldBreathDoses(base exercise.Dose, maxSets int) (out []exercise.Dose) {
	for _, size := range []struct{ breaths, sets int }{{3, 1}, {base.Breaths, 1}, {base.Breaths, 2}} {
		if size.sets > maxSets {
			continue
		}
		d := base
		d.Breaths, d.Sets = size.breaths, size.sets
		if len(out) == 0 || out[len(out)-1].Breaths != d.Breaths || size.sets > 1 {
			out = append(out, d)
		}
	}
	return out
}

func (r Request) holdDoses(base exercise.Dose, c candidate, maxSets int) (out []exercise.Dose) {
	n := base.SetSizes()[0]
	if r.Limits.Irritability > limit.Calm {
		base.Seconds = math.Min(base.Seconds, math.Max(soreHold, base.Seconds/2))
	}
	// Descending sets: McGill, Low Back Disorders (from memory); common practice.
	pyramids := [][]int{{n - 2}, {n}, {n, n - 2}, {n, n - 2, n - 4}}
	if r.Approach == "steady" && maxSets > 2 && !r.filler(c) {
		pyramids = append(pyramids, []int{n + 2, n, n - 2, n - 4})
		maxSets++
	}
	switch { // few long holds: one more or one fewer
	case n <= 2:
		pyramids = [][]int{{n}, {n, n}}
	case n <= fewHolds:
		pyramids = [][]int{{n - 1}, {n}, {n + 1}}
	}
	for _, sizes := range pyramids {
		if sizes[len(sizes)-1] < min(2, n) || len(sizes) > maxSets {
			continue
		}
		d := base
		d.Sets, d.Repetitions, d.RepetitionsBySet = len(sizes), sizes[0], nil
		if sizes[0] != sizes[len(sizes)-1] {
			d.RepetitionsBySet = sizes
		}
		out = append(out, d)
	}
	return out
}

func (r Request) repetitionDoses(base exercise.Dose, maxSets int) (out []exercise.Dose) {
	n := base.SetSizes()[0]
	sizes := []int{n - 2, n, n + 2}
	if n < fewReps {
		sizes = []int{1, n}[min(1, 2-n):]
	}
	if r.Limits.Irritability > limit.Calm { // no more than the usual count on a sore day
		sizes = sizes[:min(2, len(sizes))]
	}
	for _, reps := range sizes {
		for sets := 1; sets <= maxSets; sets++ {
			d := base
			d.Repetitions, d.Sets, d.RepetitionsBySet = max(min(3, n), reps), sets, nil
			out = append(out, d)
		}
	}
	return out
}

// sides are those a variant is done on: with curves that all bulge to one side,
// what lengthens is done for the hollow side and what strengthens for the bulging
// one; two curves the other way round want even work. Where one side is barred the
// other is done alone.
func (r Request) sides(v *exercise.Variant) []string {
	if !v.Sided() {
		return []string{}
	}
	if only := r.curveSide(v); only != "" {
		return []string{only}
	}
	if only := r.judge(v).Only; only != "" {
		return []string{only}
	}
	return []string{"left", "right"}
}

// curveSide is the one side that a curve wants a variant done on; empty for both.
func (r Request) curveSide(v *exercise.Variant) string {
	convex := r.Client.Convex()
	switch {
	case convex != "" && v.Curve == "strengthen":
		return convex
	case convex != "" && v.Curve == "lengthen":
		return map[string]string{"left": "right", "right": "left"}[convex]
	}
	return ""
}

// onlySide says why a variant is done on one side alone, for what bars the other.
func (r Request) onlySide(v *exercise.Variant) string {
	if j := r.judge(v); j.Only != "" && r.curveSide(v) == "" {
		other := map[string]string{"left": "right", "right": "left"}[j.Only]
		both := limit.Judge(r.Limits.Limits, v, limit.KitOf(r.Client, r.Place))
		if side := both.Sides[other]; len(side.Reasons) > 0 {
			return fmt.Sprintf("On the %s only; the %s rests: %s", j.Only, other, side.Reasons[0].Text)
		}
	}
	return ""
}
