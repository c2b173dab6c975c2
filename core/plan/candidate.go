package plan

import (
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
	bonus   float64 // what it is worth for being fixed or in the plan already
	must    bool    // fixed by the instructor
	keep    bool    // in the plan already
	sided   bool    // done on one side and then the other
}

// option is one dose with its seconds of work and rest, and how much of a full
// dose's return it brings.
type option struct {
	dose    exercise.Dose
	seconds float64
	returns float64
}

// setUp is the seconds of setting a candidate up for a dose and changing its sides.
func (c *candidate) setUp(d exercise.Dose) float64 {
	sides := 1
	if c.sided {
		sides = 2
	}
	return SetUpSeconds + SideSeconds*float64(d.SideChanges(sides))
}

// candidates lists what may be chosen, in session order: by phase, from the
// most supported position, from light to demanding.
func (r Request) candidates(everyRung bool) []candidate {
	lib, order := r.lib, r.newFrame(0)
	r.wide = everyRung
	var out []candidate
	for _, v := range lib.Variants {
		if !r.available(v) {
			continue
		}
		if r.Limits.FirstRungs && !r.firstHere(v) {
			continue
		}
		j := r.judge(v)
		if j.Verdict == exercise.Avoid {
			continue
		}
		phases := phasesOf(v)
		if everyRung { // and every phase that it names
			phases = v.Phases
		}
		for _, phase := range phases {
			if !r.bears(phase) {
				continue
			}
			if r.StandingFirst && phase == "upright" && isFloor(r.Place, v.Position) { // down, up and down again
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
	all := slices.Clone(out)
	out = slices.DeleteFunc(out, func(c candidate) bool {
		if r.shared && (quietPhase(c.phase) || r.Limits.Irritability == limit.Calm) {
			return r.beyond(c) // what is easier, or rests, may be wanted to go along with others
		}
		return r.passedOver(c, all)
	})
	if !everyRung && !r.shared {
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
		return a.judged.Form.Measured.Demand() < b.judged.Form.Measured.Demand()
	})
	return out
}

// firstHere says whether a variant is a first rung for this client here: the first of its
// ladder, what is on record, or the lowest of its family that can be done here, if that is
// hardly further up, or only settles, moves easily or closes.
func (r Request) firstHere(v *exercise.Variant) bool {
	depth := r.lib.depth(v)
	if depth == 0 || r.recorded(v) {
		return true
	}
	if depth > farUp && slices.ContainsFunc(v.Phases, func(p exercise.Phase) bool { return !quietPhase(p) && p != "mobilise" }) {
		return false
	}
	return !slices.ContainsFunc(r.lib.Variants, func(w *exercise.Variant) bool {
		return w.Family == v.Family && r.lib.depth(w) < depth && r.available(w) && r.judge(w).Verdict != exercise.Avoid
	})
}

// bears says whether a phase is for today: with high pain only what settles and
// moves easily.
func (r Request) bears(phase exercise.Phase) bool {
	return r.Limits.Irritability < limit.Flared || quietPhase(phase) || phase == "mobilise"
}

// doneBefore says whether a session that goes on has done the variant already; to
// a second rest or breathing exercise is not one.
func (r Request) doneBefore(v *exercise.Variant, phase exercise.Phase) bool {
	return phase != "close" && slices.ContainsFunc(r.Done, func(it Item) bool { return it.Variant == v.ID })
}

// withFixed puts what the instructor has locked, and what is to be kept where
// possible, among the candidates.
func (r Request) withFixed(cs []candidate) []candidate {
	for n, list := range [][]Item{r.Fixed, r.Kept} {
		for _, it := range list {
			v := r.find(it.Variant)
			if v == nil || !r.available(v) {
				continue
			}
			j := r.judge(v)
			if j.Verdict == exercise.Avoid {
				continue
			}
			c := candidate{variant: v, judged: j, phase: it.Phase, must: n == 0, keep: n == 1, sided: len(r.sides(v)) > 1}
			c.doses = r.options(c)
			if !r.bears(c.phase) || len(c.doses) == 0 {
				continue
			}
			if c.must && r.bearable(c, it.Dose) {
				sides, breath := len(r.sides(v)), r.Client.BreathSeconds()
				c.doses = []option{{dose: it.Dose, returns: 1, seconds: it.Dose.Work(sides, breath) + r.rest(it.Phase, it.Dose, sides)}}
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
