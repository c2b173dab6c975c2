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
	sided   bool    // done on one side and then the other
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
	for _, v := range lib.Variants {
		if !Available(v, r.Place, r.kit()) {
			continue
		}
		if r.Limits.FirstRungs && lib.depth(v) > 0 && !r.recorded(v) {
			continue
		}
		j := r.judge(v)
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
			c := candidate{variant: v, judged: j, phase: phase, sided: len(r.sides(v)) > 1}
			c.doses = r.options(c)
			if len(c.doses) > 0 {
				out = append(out, c)
			}
		}
	}
	out = r.framed(out)
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
			if v == nil || !Available(v, r.Place, r.kit()) {
				continue
			}
			j := r.judge(v)
			if j.Verdict == exercise.Avoid {
				continue
			}
			c := candidate{variant: v, judged: j, phase: it.Phase, must: n == 0, keep: n == 1, sided: len(r.sides(v)) > 1}
			c.doses = r.options(c)
			if c.must {
				sides, breath := len(r.sides(v)), r.Client.BreathSeconds()
				c.doses = []option{{dose: it.Dose, returns: 1, seconds: it.Dose.Work(sides, breath) + r.rest(it.Dose, sides)}}
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
		if r.passedOver(c, all) {
			continue
		}
		k := place{c.variant.Family, c.phase, c.variant.Position}
		j, taken := best[k]
		if !taken || r.better(c, all[j]) {
			best[k] = i
		}
	}
	var out []candidate
	for i, c := range all {
		if r.passedOver(c, all) {
			continue
		}
		if best[place{c.variant.Family, c.phase, c.variant.Position}] == i {
			out = append(out, c)
		}
	}
	return out
}

// passedOver says whether a rung gives way to the one its family has reached: the
// client works there, by the record or else as in the last session. On a sore day
// it is a step below the record, and nothing new.
func (r Request) passedOver(c candidate, all []candidate) bool {
	calm := r.Limits.Irritability == limit.Calm
	if c.must || calm && r.recorded(c.variant) {
		return false
	}
	depth := r.lib.depth(c.variant)
	recent := r.recent(c.variant)
	for _, k := range all {
		switch {
		case k.variant.Family != c.variant.Family:
		case r.recorded(k.variant):
			if calm || depth >= max(1, r.lib.depth(k.variant)) {
				return true
			}
		case k.variant.Position != c.variant.Position: // another branch of the ladder
		case !recent && r.recent(k.variant), !calm && !recent && r.lib.depth(k.variant) < depth:
			return true
		}
	}
	return false
}

func (r Request) recent(v *exercise.Variant) bool { return slices.Contains(r.History.Recent, v.ID) }

// better prefers the rung on record, then the one its ladder comes to first; a sore
// day has no eye for the record.
func (r Request) better(a, b candidate) bool {
	if a.must != b.must {
		return a.must
	}
	if r.Limits.Irritability == limit.Calm {
		if x, y := r.recorded(a.variant), r.recorded(b.variant); x != y {
			return x
		}
	}
	if x, y := r.lib.depth(a.variant), r.lib.depth(b.variant); x != y {
		return x < y
	}
	return a.judged.Form.Measured.Demand < b.judged.Form.Measured.Demand
}

// onRecord says whether any rung of a family is on the client's record.
func (r Request) onRecord(family string) bool {
	return slices.ContainsFunc(r.Client.Rungs, func(k limit.Rung) bool { return k.Family == family })
}

func (r Request) recorded(v *exercise.Variant) bool {
	return slices.ContainsFunc(r.Client.Rungs, func(k limit.Rung) bool { return k.Variant == v.ID })
}

// options are the doses a candidate may be given.
func (r Request) options(c candidate) []option {
	base := r.usual(c.variant)
	for _, rung := range r.Client.Rungs {
		if rung.Variant == c.variant.ID && rung.Dose != nil && rung.Dose.Kind == base.Kind {
			base = asRecorded(base, *rung.Dose)
		}
	}
	base = r.dosed(base, c)
	sides := r.sides(c.variant)
	breath := r.Client.BreathSeconds()
	usual := base.Work(len(sides), breath)
	more := r.lesserSide(c.variant)
	var out []option
	for _, d := range r.doses(base, c) {
		if more != "" {
			if d = d.Uneven(more); len(d.BySide) == 0 {
				continue // sets that descend say nothing about sides
			}
		}
		if !r.bearable(c, d) {
			continue
		}
		work := d.Work(len(sides), breath)
		share := work / usual
		out = append(out, option{dose: d, seconds: work + r.rest(d, len(sides)),
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
	base.SecondsByRepetition = rung.SecondsByRepetition
	return base
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

// kit is what there is to work with.
func (r Request) kit() []string {
	if r.atHand != nil {
		return r.atHand
	}
	return r.allKit()
}

// allKit is the client's equipment; at home everyday things stand in for more.
func (r Request) allKit() []string {
	if !r.Home {
		return r.Client.Equipment
	}
	out := slices.Clone(r.Client.Equipment)
	for _, e := range exercise.Equipment {
		if len(r.lib.StandIns[e]) > 0 && !slices.Contains(out, e) && !slices.Contains(bigThings, e) {
			out = append(out, e)
		}
	}
	return out
}

// Offers says whether a variant can be done in the place of the request with what
// there is.
func Offers(r Request, lib Library, v *exercise.Variant) bool {
	r.lib = lib
	return Available(v, r.Place, r.allKit())
}

// bigThings nobody improvises: they are there or they are not.
var bigThings = []string{"mat", "table", "bed"}

// fewReps is a count too small to vary, and fewHolds one too small to descend from.
const (
	fewReps  = 3
	fewHolds = 4
)

// soreHold is the seconds that a hold is not cut below on a sore day.
const soreHold = 5

// holds says whether a form is held at all in the way that a limit speaks of: any,
// or loaded.
func holds(f *exercise.Form, when string) bool {
	return when == "any" || f.Measured.Numbers["hold_seconds_"+when] > 0
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
		}
	}
	return longest
}

// bearable says whether a dose keeps weight off the wrists in time and stays by
// itself inside what a whole session may hold.
func (r Request) bearable(c candidate, d exercise.Dose) bool {
	held := Held(d, r.Client.BreathSeconds())
	for _, l := range r.Limits.Limits {
		if most, ok := l.Number(); ok && l.Quantity == "hold_seconds" && held > most && holds(c.judged.Form, l.When) {
			return false
		}
	}
	for _, k := range r.Limits.Session {
		if k.Count != limit.FloorTransfers && counted(k.Count, c.judged.Form, c.phase, d, 1) > k.Max {
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
	}
	most := c.judged.Form.Movement.Hold
	if base.Kind == exercise.HoldSeconds && most > 0 {
		base.Seconds = math.Min(base.Seconds, most) // an adapted form may hold for less
	}
	if longest := slices.Max(append(slices.Clone(base.SecondsByRepetition), 0)); sore > limit.Calm || most > 0 && longest > most {
		base.SecondsByRepetition = nil // no growing on a sore day, or beyond what is allowed
	}
	var out []exercise.Dose
	maxSets := r.mostSets(c.phase)
	if base.SetSizes()[0] < fewReps {
		maxSets = 1 // ways down and up are practised once or twice
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
		for _, size := range []struct{ breaths, sets int }{{3, 1}, {base.Breaths, 1}, {base.Breaths, 2}} {
			d := base
			d.Breaths, d.Sets = size.breaths, size.sets
			if len(out) == 0 || out[len(out)-1].Breaths != d.Breaths || size.sets > 1 {
				out = append(out, d)
			}
		}
	case exercise.HoldSeconds:
		if sore > limit.Calm {
			base.Seconds = math.Min(base.Seconds, math.Max(soreHold, base.Seconds/2))
		}
		n := base.SetSizes()[0]
		// Descending sets: McGill, Low Back Disorders (from memory); common practice.
		pyramids := [][]int{{n - 2}, {n}, {n, n - 2}, {n, n - 2, n - 4}}
		if r.Approach == "steady" && maxSets > 2 {
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
	case exercise.AlternatingSeconds:
		for _, share := range []float64{0.5, 1, 1.5} {
			d := base
			d.Seconds = base.Seconds * share
			out = append(out, d)
		}
	default:
		n := base.SetSizes()[0]
		sizes := []int{n - 2, n, n + 2}
		if n < fewReps {
			sizes = []int{n}
		}
		if sore > limit.Calm { // no more than the usual count on a sore day
			sizes = sizes[:min(2, len(sizes))]
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

// sides are those a variant is done on: with curves that all bulge to one side,
// what lengthens is done for the hollow side and what strengthens for the bulging
// one; two curves the other way round want even work.
func (r Request) sides(v *exercise.Variant) []string {
	if !v.Sided {
		return []string{}
	}
	convex := r.Client.Convex()
	concave := map[string]string{"left": "right", "right": "left"}[convex]
	switch {
	case convex != "" && v.Curve == "strengthen":
		return []string{convex}
	case convex != "" && v.Curve == "lengthen":
		return []string{concave}
	}
	return []string{"left", "right"}
}
