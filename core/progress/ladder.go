package progress

import (
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// The ladders: one step up or back of dose, setting or rung, and no more.

// up is exactly one step: of dose, else of a setting, else of the rung where that is earned.
func (d *decider) up(t thread, out *Decision) {
	last := t.last()
	if dose, ok := more(last.planned, t.variant); ok && !d.earned(t) {
		out.Changed, out.To.Dose = "dose", &dose
		return
	}
	if s, ok := d.notch(t, out.To.Settings, true); ok {
		out.Changed, out.To.Settings = "setting", s.Settings
		out.Because = append(out.Because, sentence(s.Words))
		return
	}
	barred := ""
	for _, id := range t.variant.NextIDs() {
		v := d.find(id)
		if v == nil {
			continue
		}
		ok, why := d.allowed(v, t.side)
		if !ok {
			barred = v.Name + ": " + why
			continue
		}
		if !d.earned(t) {
			out.Step, out.WaitingFor = Hold, "what earns the next step: "+t.variant.Earn.Words
			return
		}
		if v.Notch(t.variant) {
			out.Changed = "setting"
		} else {
			out.Changed = "rung"
		}
		out.To = Target{v.ID, first(v, last.planned), v.Settings}
		out.Because = append(out.Because, "Earned: "+strings.TrimSuffix(t.variant.Earn.Words, ".")+".")
		return
	}
	out.Step = Hold
	switch {
	case barred != "":
		out.Because, out.WaitingFor = append(out.Because, "What follows is barred. "+barred), "nothing: it stays where it is safe"
	default:
		out.Because, out.WaitingFor = append(out.Because, "It is at the top of its ladder."), "nothing: keep it, or change for variety"
	}
}

// anew is an exercise begun at its usual dose.
func anew(v *exercise.Variant) Target {
	dose := v.Studio
	return Target{v.ID, &dose, v.Settings}
}

// notch is a small step of what an exercise is done with, harder or easier, from the usual
// setting or back to it, where the client may do it there.
func (d *decider) notch(t thread, now exercise.Settings, harder bool) (exercise.SmallStep, bool) {
	now = now.Filled(t.variant.Settings)
	for _, s := range t.variant.Notches(now, harder) {
		if now != t.variant.Settings && s.Settings != t.variant.Settings { // no further than a notch from there, and back
			continue
		}
		if s.Settings.SurfaceCM != now.SurfaceCM {
			kit := d.Kit
			kit.SurfaceCM = []float64{s.Settings.SurfaceCM}
			if j := limit.Judge(d.Limits.Limits, t.variant, kit); j.Verdict != exercise.Avoid && j.Lacks == "" {
				return s, true
			}
			continue
		}
		if m, measured := t.variant.With(s.Settings); measured && len(d.Limits.Breaks(m)) == 0 {
			return s, true
		}
	}
	return exercise.SmallStep{}, false
}

func sentence(s string) string {
	if s == "" {
		return s
	}
	return limit.Capital(s) + "."
}

// first is the dose that a new rung begins with: its usual one, and no more of it than the
// rung before was done.
func first(v *exercise.Variant, before exercise.Dose) *exercise.Dose {
	d := v.Studio
	if d.Kind == before.Kind && before.Repetitions > 0 && len(before.RepetitionsBySet) == 0 && len(d.RepetitionsBySet) == 0 {
		d.Repetitions = min(max(1, d.Repetitions), before.Repetitions)
	}
	return &d
}

// earned says whether what earns the next rung was done in the sessions it asks for, or
// shown in a test of the rung on its own.
func (d *decider) earned(t thread) bool {
	if d.tested(t) {
		return true
	}
	e := t.variant.Earn
	n := max(1, e.Sessions)
	if len(t.turns) < n {
		return false
	}
	for _, x := range t.turns[len(t.turns)-n:] {
		met := false
		sets := 0
		for _, run := range x.runs {
			k, reps, seconds := amounts(run, x.planned)
			amount := float64(reps)
			if e.Kind == exercise.HoldSeconds {
				amount = max(seconds, run.BestHold)
				if x.planned.Kind == exercise.AlternatingSeconds {
					reps = max(reps, e.Repetitions)
				}
			} else if x.planned.Kind == exercise.AlternatingSeconds && e.Kind == exercise.Repetitions {
				amount = seconds / 4 // a lift of three to five seconds (common practice)
			}
			if run.Ended == "done" || run.Ended == "choice" {
				sets += k
				met = met || e.Met(max(sets, k), reps, amount)
			}
		}
		if !met {
			return false
		}
	}
	return true
}

// back is one step back: where byDose is so in dose first, then a setting, then the rung;
// for what hurt a setting or the rung, and the dose only on the lowest.
func (d *decider) back(t thread, out *Decision, byDose bool) {
	part := good(t.last())
	halve := func() bool {
		dose, ok := part, !part.Same(t.last().planned)
		if !ok {
			dose, ok = less(part)
		}
		if ok {
			out.Changed, out.To.Dose = "dose", &dose
		}
		return ok
	}
	if byDose && halve() {
		return
	}
	if s, ok := d.notch(t, out.To.Settings, false); ok {
		out.Changed, out.To.Settings, out.To.Dose = "setting", s.Settings, &part
		out.Because = append(out.Because, sentence(s.Words))
		return
	}
	if v := d.before(t); v != nil {
		out.Changed, out.To = "rung", anew(v)
		if v.Notch(t.variant) {
			out.Changed = "setting"
		}
		return
	}
	if !halve() {
		out.Because = append(out.Because, "It is the gentlest there is: leave it out today if it is felt again.")
	}
}

// before is the rung below, of those that the client may do.
func (d *decider) before(t thread) *exercise.Variant {
	for _, v := range d.Variants {
		if v.Family == t.variant.Family && slices.Contains(v.NextIDs(), t.variant.ID) {
			if ok, _ := d.allowed(v, t.side); ok {
				return v
			}
		}
	}
	return nil
}

// gentlest is the lowest rung of an exercise's ladder that the client may do; the exercise
// itself where none lies below it.
func (d *decider) gentlest(t thread) *exercise.Variant {
	for range 20 { // no ladder is longer
		v := d.before(t)
		if v == nil {
			break
		}
		t.variant = v
	}
	return t.variant
}

// rest leaves an exercise out until a session has settled.
func (d *decider) rest(t thread, since, because string) {
	c := &d.answer.Client
	c.Resting = append(slices.DeleteFunc(slices.Clone(c.Resting), func(r limit.Resting) bool { return r.Variant == t.variant.ID }),
		limit.Resting{Family: t.variant.Family, Variant: t.variant.ID, Since: since, Because: because})
}
