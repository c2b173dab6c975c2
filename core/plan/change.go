package plan

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// A change by hand is checked like a plan of the program's own: what the client's
// limits bar, or what would make the whole session too much, is refused with the
// reason, and the plan stays as it was.

// has refuses the number of an exercise that is not there.
func (p *Plan) has(i int) error {
	if i < 0 || i >= len(p.Items) {
		return fmt.Errorf("item: there is no exercise number %d in this plan; it has %d", i+1, len(p.Items))
	}
	return nil
}

// become takes over new items unless they take the session over a cap it was
// inside of, or further over one.
func (p *Plan) become(r Request, items []Item) error {
	next := *p
	next.Items = items
	next.Retime(r)
	if over, excess := next.over(r); over != nil {
		if was := p.Use(r.lib)[over.Count] - over.Max; excess > was+1e-6 {
			return fmt.Errorf("session: that would make %s, and %.0f is the most here: %s",
				CountWords(over.Count, over.Max+excess), over.Max, over.Reasons[0].Text)
		}
	}
	next.LeftOut = leftOut(r, next.Items)
	next.Unserved, _ = r.goals(next)
	if next.Shortfall != nil {
		if next.Shortfall = r.short(next, int(next.Target())); next.Shortfall != nil {
			next.Shortfall.Places = p.Shortfall.Places
		}
	}
	*p = next
	return nil
}

// judged is a variant that may be used here, with its verdict; the refusal names
// the nearest safe form of it where there is one.
func (r Request) judged(id string, items []Item) (*exercise.Variant, limit.Judgement, error) {
	v := r.find(id)
	if v == nil {
		return nil, limit.Judgement{}, fmt.Errorf("variant: %q is not in the library", id)
	}
	if !r.available(v) {
		return nil, limit.Judgement{}, fmt.Errorf("variant: %s %s", v.Name, r.unavailable(v))
	}
	j := r.judge(v)
	if j.Verdict == exercise.Avoid {
		err := fmt.Errorf("variant: %s is not for this client: %s", v.Name, j.Reasons[0].Text)
		if near := r.find(r.instead(v, items)); near != nil {
			err = fmt.Errorf("%w Nearest that is safe: %s", err, near.Name)
		}
		return nil, j, err
	}
	return v, j, nil
}

// Swap puts another variant in the place of item i, with the dose whose seconds
// come nearest to what was there.
func (p *Plan) Swap(r Request, lib Library, i int, id string) error {
	r = r.from(lib)
	if err := p.has(i); err != nil {
		return err
	}
	v, j, err := r.judged(id, p.Items)
	if err != nil {
		return err
	}
	old := p.Items[i]
	dose, err := r.nearest(v, j, old.Phase, old.SecondsWork+old.SecondsRest)
	if err != nil {
		return err
	}
	it := r.item(v, j, old.Phase, dose)
	it.ID, it.Locked = old.ID, old.Locked // the place keeps its id, so that marks made on it are found
	items := slices.Clone(p.Items)
	items[i] = it
	return p.become(r, items)
}

// nearest is the dose that takes nearest to so many seconds.
func (r Request) nearest(v *exercise.Variant, j limit.Judgement, phase exercise.Phase, seconds float64) (exercise.Dose, error) {
	best, miss := exercise.Dose{}, math.Inf(1)
	for _, o := range r.options(candidate{variant: v, judged: j, phase: phase}) {
		if m := math.Abs(o.seconds - seconds); m < miss {
			best, miss = o.dose, m
		}
	}
	if math.IsInf(miss, 1) {
		return best, fmt.Errorf("variant: no dose of %s is inside this client's limits", v.Name)
	}
	return best, nil
}

// Add puts a variant into the session where its phase and position belong, with
// its usual dose, and says where.
func (p *Plan) Add(r Request, lib Library, id string) (int, error) {
	r = r.from(lib)
	if i := slices.IndexFunc(p.Items, func(it Item) bool { return it.Variant == id }); i >= 0 {
		return 0, fmt.Errorf("variant: %s is in the plan already, as number %d", p.Items[i].Name, i+1)
	}
	v, j, err := r.judged(id, p.Items)
	if err != nil {
		return 0, err
	}
	phase := phasesOf(v)[0]
	sides := len(r.sides(v))
	usual := r.usual(v).Work(sides, p.Breath) + r.rest(phase, r.usual(v), sides)
	dose, err := r.nearest(v, j, phase, usual)
	if err != nil {
		return 0, err
	}
	it := r.item(v, j, phase, dose)
	order := r.newFrame(0)
	at := 0
	for i, k := range p.Items {
		if a, b := order.phase(k.Phase), order.phase(phase); a < b || a == b && k.Position.Rank() <= v.Position.Rank() {
			at = i + 1
		}
	}
	return at, p.become(r, slices.Insert(slices.Clone(p.Items), at, it))
}

// Remove takes item i out.
func (p *Plan) Remove(r Request, lib Library, i int) error {
	r = r.from(lib)
	if err := p.has(i); err != nil {
		return err
	}
	if len(p.Items) == 1 {
		return fmt.Errorf("item: %s is all there is; swap it, or plan anew", p.Items[i].Name)
	}
	return p.become(r, slices.Delete(slices.Clone(p.Items), i, i+1))
}

// Move puts item i at another place of the order.
func (p *Plan) Move(r Request, lib Library, i, to int) error {
	r = r.from(lib)
	if err := p.has(i); err != nil {
		return err
	}
	if err := p.has(to); err != nil {
		return err
	}
	it := p.Items[i]
	items := slices.Delete(slices.Clone(p.Items), i, i+1)
	// Among the exercises of another phase it belongs to that phase.
	order := r.newFrame(0)
	switch {
	case to > 0 && order.phase(items[to-1].Phase) > order.phase(it.Phase):
		it.Phase = items[to-1].Phase
	case to < len(items) && order.phase(items[to].Phase) < order.phase(it.Phase):
		it.Phase = items[to].Phase
	}
	return p.become(r, slices.Insert(items, to, it))
}

// Doses are the doses item i may be given, in the order of their length; the one
// it has is among them.
func (p *Plan) Doses(r Request, lib Library, i int) []exercise.Dose {
	r = r.from(lib)
	if p.has(i) != nil {
		return nil
	}
	it := p.Items[i]
	out := []exercise.Dose{it.Dose}
	if v := lib.variant(it.Variant); v != nil {
		c := candidate{variant: v, judged: r.judge(v), phase: it.Phase}
		more := append(r.grown(r.usual(v), c), r.usual(v))
		if !r.bearable(c, r.usual(v)) || r.Limits.Irritability > limit.Calm {
			more = nil
		}
		for _, o := range r.options(c) {
			more = append(more, o.dose)
		}
		for _, m := range more {
			if !slices.ContainsFunc(out, func(d exercise.Dose) bool { return d.Words(true) == m.Words(true) }) {
				out = append(out, m)
			}
		}
	}
	work := func(d exercise.Dose) float64 { return d.Work(len(it.Sides), p.Breath) }
	slices.SortStableFunc(out, func(a, b exercise.Dose) int {
		switch x, y := work(a), work(b); {
		case x < y:
			return -1
		case x > y:
			return 1
		}
		return strings.Compare(a.Words(true), b.Words(true))
	})
	return out
}

// SetDose gives item i one of its Doses, named by its words, or any other that is read
// from words and is inside the limits.
func (p *Plan) SetDose(r Request, lib Library, i int, words string) error {
	r = r.from(lib)
	if err := p.has(i); err != nil {
		return err
	}
	sided := len(p.Items[i].Sides) > 0
	doses := p.Doses(r, lib, i)
	k := slices.IndexFunc(doses, func(d exercise.Dose) bool { return d.Words(sided) == words })
	items := slices.Clone(p.Items)
	if k >= 0 {
		items[i].Dose = doses[k]
		return p.become(r, items)
	}
	dose, err := r.asked(lib.variant(items[i].Variant), items[i], words)
	if err != nil {
		return fmt.Errorf("dose: %s: %w", items[i].Name, err)
	}
	items[i].Dose = dose
	return p.become(r, items)
}

// asked is a dose of an item that somebody asks for in words: it has to be one that the
// exercise can be counted in, and inside every limit however long it is held.
func (r Request) asked(v *exercise.Variant, it Item, words string) (exercise.Dose, error) {
	d, err := exercise.ReadDose(words)
	if err != nil {
		return d, err
	}
	if v == nil {
		return d, fmt.Errorf("it is not in the library any more; expected an exercise of it")
	}
	c := candidate{variant: v, judged: r.judge(v), phase: it.Phase}
	form := c.judged.Form
	if d, err = d.Of(r.usual(v), form.Movement, v.Sided()); err != nil {
		return d, err
	}
	m, err := form.HeldFor(Held(d, r.Client.BreathSeconds()))
	if err != nil {
		return d, err
	}
	if broken := r.Limits.Breaks(m.On(c.judged.Only)); len(broken) > 0 {
		return d, fmt.Errorf("%s is not inside the limits: %s", d.Words(len(it.Sides) > 1), broken[0].Text)
	}
	if !r.bearable(c, d) {
		return d, fmt.Errorf("%s is more than a whole session may hold of it; expected less", d.Words(len(it.Sides) > 1))
	}
	return d, nil
}

// Lock fixes item i, so that it stays when the plan is made anew, or frees it.
func (p *Plan) Lock(i int, locked bool) error {
	if err := p.has(i); err != nil {
		return err
	}
	p.Items = slices.Clone(p.Items)
	p.Items[i].Locked = locked
	return nil
}

// Locked are the items that are fixed.
func (p Plan) Locked() []Item {
	return slices.DeleteFunc(slices.Clone(p.Items), func(it Item) bool { return !it.Locked })
}

// Fit puts the minutes right, by other doses first and by adding or leaving out
// where that is not enough; what is locked stays as it is.
func (p *Plan) Fit(r Request, lib Library) {
	r.Fixed = p.Locked()
	r.Kept = slices.DeleteFunc(slices.Clone(p.Items), func(it Item) bool { return it.Locked })
	*p = Best(r, lib)
}

// Neighbours are the rungs of the ladder just below and above a variant.
func Neighbours(lib Library, id string) (easier, harder []string) {
	for _, v := range lib.Variants {
		if v.ID == id {
			harder = v.NextIDs()
		}
		if slices.Contains(v.NextIDs(), id) {
			easier = append(easier, v.ID)
		}
	}
	return
}

// Continue plans what is left of a session after the first done exercises for so
// many minutes. What was done stays as it was, and the rest begins where it ended.
func (p Plan) Continue(r Request, lib Library, done, minutes int) (Plan, error) {
	if done < 0 || done > len(p.Items) {
		return p, fmt.Errorf("done: expected 0 to %d exercises, found %d", len(p.Items), done)
	}
	r.Done = slices.Clone(p.Items[:done])
	r.Fixed = slices.DeleteFunc(slices.Clone(p.Items[done:]), func(it Item) bool { return !it.Locked })
	r.Minutes = minutes
	rest := Best(r, lib)
	r = r.from(lib)
	next := rest
	next.Items = slices.Concat(r.Done, rest.Items)
	next.MinutesAsked = p.MinutesAsked
	if p.Advice() != "" {
		next.MinutesAdvised, next.Notes = p.MinutesAdvised, append([]string{p.Advice()}, rest.Notes...)
	}
	next.Retime(r)
	next.LeftOut = leftOut(r, next.Items)
	return next, nil
}
