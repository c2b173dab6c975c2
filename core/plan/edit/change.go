// Package edit changes a session by hand: swap, add, take out, move, other doses and settings,
// the rest of a session that has begun. Each change is checked like a plan of the program's
// own: what the client's limits bar, or what would make the whole session too much, is refused
// with the reason, and the plan stays as it was.
package edit

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
)

// allowed refuses a change on a day that allows no session, with what to do instead.
func allowed(d plan.Desk) error {
	if d.Limits.Status() == limit.OK {
		return nil
	}
	return fmt.Errorf("day: nothing is changed: %s", strings.Join(d.Limits.Readiness.Texts(), " "))
}

// has refuses the number of an exercise that is not there.
func has(p plan.Plan, i int) error {
	if i < 0 || i >= len(p.Items) {
		return fmt.Errorf("item: there is no exercise number %d in this plan; it has %d", i+1, len(p.Items))
	}
	if p.Items[i].Seat {
		return errSeat
	}
	return nil
}

// errSeat refuses a change of a seat by itself.
var errSeat = errors.New("item: this seat rests the legs; it goes by itself when what is done on two feet is shorter")

// judged is a variant that may be used here, with its verdict; the refusal names
// the nearest safe form of it where there is one.
func judged(d plan.Desk, id string, items []plan.Item) (*exercise.Variant, limit.Judgement, error) {
	v := d.Find(id)
	if v == nil {
		return nil, limit.Judgement{}, fmt.Errorf("variant: %q is not in the library", id)
	}
	if !d.Available(v) {
		return nil, limit.Judgement{}, fmt.Errorf("variant: %s %s", v.Name, d.Unavailable(v))
	}
	j := d.Judge(v)
	if j.Verdict == exercise.Avoid {
		err := fmt.Errorf("variant: %s is not for this client: %s", v.Name, j.Reasons[0].Text)
		if near := d.Find(d.Instead(v, items)); near != nil {
			err = fmt.Errorf("%w Nearest that is safe: %s", err, near.Name)
		}
		return nil, j, err
	}
	return v, j, nil
}

// Swap puts another variant in the place of item i, with the dose whose seconds
// come nearest to what was there.
func Swap(p *plan.Plan, r plan.Request, lib plan.Library, i int, id string) error {
	d := plan.DeskOf(r, lib)
	if err := allowed(d); err != nil {
		return err
	}
	if err := has(*p, i); err != nil {
		return err
	}
	v, j, err := judged(d, id, p.Items)
	if err != nil {
		return err
	}
	old := p.Items[i]
	dose, err := d.Nearest(v, j, old.Phase, old.SecondsWork+old.SecondsRest)
	if err != nil {
		return err
	}
	it := d.Item(v, j, old.Phase, dose)
	it.ID, it.Locked, it.ByHand = old.ID, old.Locked, true // the place keeps its id, so that marks made on it are found
	items := slices.Clone(p.Items)
	items[i] = it
	return d.Settle(p, items)
}

// Add puts a variant into the session where its phase and position belong, with
// its usual dose, and says where.
func Add(p *plan.Plan, r plan.Request, lib plan.Library, id string) (int, error) {
	d := plan.DeskOf(r, lib)
	if err := allowed(d); err != nil {
		return 0, err
	}
	if i := slices.IndexFunc(p.Items, func(it plan.Item) bool { return it.Variant == id }); i >= 0 {
		return 0, fmt.Errorf("variant: %s is in the plan already, as number %d", p.Items[i].Name, i+1)
	}
	v, j, err := judged(d, id, p.Items)
	if err != nil {
		return 0, err
	}
	phase := d.HomePhase(v)
	sides := len(d.Sides(v))
	usual := d.Usual(v).Work(sides, p.Breath) + d.Rest(phase, d.Usual(v), sides)
	dose, err := d.Nearest(v, j, phase, usual)
	if err != nil {
		return 0, err
	}
	it := d.Item(v, j, phase, dose)
	it.ByHand = true
	at := 0
	for i, k := range p.Items {
		if a, b := d.Order(k.Phase), d.Order(phase); a < b || a == b && k.Position.Rank() <= v.Position.Rank() {
			at = i + 1
		}
	}
	if err := d.Settle(p, slices.Insert(slices.Clone(p.Items), at, it)); err != nil {
		return 0, err
	}
	return slices.IndexFunc(p.Items, func(it plan.Item) bool { return it.Variant == id }), nil
}

// Remove takes item i out.
func Remove(p *plan.Plan, r plan.Request, lib plan.Library, i int) error {
	d := plan.DeskOf(r, lib)
	if err := allowed(d); err != nil {
		return err
	}
	if err := has(*p, i); err != nil {
		return err
	}
	if len(p.Items) == 1 {
		return fmt.Errorf("item: %s is all there is; swap it, or plan anew", p.Items[i].Name)
	}
	return d.Settle(p, slices.Delete(slices.Clone(p.Items), i, i+1))
}

// Move puts item i at another place of the order.
func Move(p *plan.Plan, r plan.Request, lib plan.Library, i, to int) error {
	d := plan.DeskOf(r, lib)
	if err := allowed(d); err != nil {
		return err
	}
	if err := has(*p, i); err != nil {
		return err
	}
	if err := has(*p, to); err != nil && !errors.Is(err, errSeat) {
		return err
	}
	it := p.Items[i]
	items := slices.Delete(slices.Clone(p.Items), i, i+1)
	// Among the exercises of another phase it belongs to that phase.
	switch {
	case to > 0 && d.Order(items[to-1].Phase) > d.Order(it.Phase):
		it.Phase = items[to-1].Phase
	case to < len(items) && d.Order(items[to].Phase) < d.Order(it.Phase):
		it.Phase = items[to].Phase
	}
	return d.Settle(p, slices.Insert(items, to, it))
}

// Doses are the doses item i may be given, in the order of their length; the one
// it has is among them.
func Doses(p plan.Plan, r plan.Request, lib plan.Library, i int) []exercise.Dose {
	desk := plan.DeskOf(r, lib)
	if has(p, i) != nil {
		return nil
	}
	it := p.Items[i]
	out := []exercise.Dose{it.Dose}
	if v := desk.Find(it.Variant); v != nil {
		for _, m := range desk.Offered(v, it.Phase) {
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
func SetDose(p *plan.Plan, r plan.Request, lib plan.Library, i int, words string) error {
	d := plan.DeskOf(r, lib)
	if err := allowed(d); err != nil {
		return err
	}
	if err := has(*p, i); err != nil {
		return err
	}
	sided := len(p.Items[i].Sides) > 0
	doses := Doses(*p, r, lib, i)
	k := slices.IndexFunc(doses, func(d exercise.Dose) bool { return d.Words(sided) == words })
	items := slices.Clone(p.Items)
	if k >= 0 {
		items[i].Dose, items[i].ByHand = doses[k], true
		return d.Settle(p, items)
	}
	dose, err := asked(d, d.Find(items[i].Variant), items[i], words)
	if err != nil {
		return fmt.Errorf("dose: %s: %w", items[i].Name, err)
	}
	items[i].Dose, items[i].ByHand = dose, true
	return d.Settle(p, items)
}

// asked is a dose of an item that somebody asks for in words: it has to be one that the
// exercise can be counted in, and inside every limit however long it is held.
func asked(desk plan.Desk, v *exercise.Variant, it plan.Item, words string) (exercise.Dose, error) {
	d, err := exercise.ReadDose(words)
	if err != nil {
		return d, err
	}
	if v == nil {
		return d, fmt.Errorf("it is not in the library any more; expected an exercise of it")
	}
	j := desk.Judge(v)
	if d, err = d.Of(desk.Usual(v), j.Form.Movement, v.Sided()); err != nil {
		return d, err
	}
	m, err := j.Form.HeldFor(plan.Held(d, desk.Client.BreathSeconds()))
	if err != nil {
		return d, err
	}
	if broken := desk.Limits.Breaks(m.On(j.Only)); len(broken) > 0 {
		return d, fmt.Errorf("%s is not inside the limits: %s", d.Words(len(it.Sides) > 1), broken[0].Text)
	}
	if !desk.Bearable(v, it.Phase, d) {
		return d, fmt.Errorf("%s is more than a whole session may hold of it; expected less", d.Words(len(it.Sides) > 1))
	}
	return d, nil
}

// Lock fixes item i, so that it stays when the plan is made again, or frees it.
func Lock(p *plan.Plan, i int, locked bool) error {
	if err := has(*p, i); err != nil {
		return err
	}
	p.Items = slices.Clone(p.Items)
	p.Items[i].Locked = locked
	return nil
}

// Fit puts the minutes right, by other doses first and by adding or leaving out
// where that is not enough; what is locked stays as it is.
func Fit(p *plan.Plan, r plan.Request, lib plan.Library) error {
	if err := allowed(plan.DeskOf(r, lib)); err != nil {
		return err
	}
	r.Fixed, r.Kept = chosen(p.Items), slices.DeleteFunc(slices.Clone(p.Items), stays)
	next := plan.Best(r, lib)
	unlock(next.Items, p.Items)
	*p = next
	return nil
}

// stays says whether somebody chose an item by hand, or locked it.
func stays(it plan.Item) bool { return it.Locked || it.ByHand }

// chosen are the items that stay where they may.
func chosen(items []plan.Item) []plan.Item {
	return slices.DeleteFunc(slices.Clone(items), func(it plan.Item) bool { return !stays(it) })
}

// unlock frees what was chosen by hand and never locked: planning holds it as if it were.
func unlock(items, before []plan.Item) {
	for i := range items {
		for _, was := range before {
			if was.Variant == items[i].Variant && was.ByHand && !items[i].Seat {
				items[i].Locked, items[i].ByHand = was.Locked, true
			}
		}
	}
}

// Continue plans what is left of a session after the first done exercises for so
// many minutes. What was done stays as it was, and the rest begins where it ended.
func Continue(p plan.Plan, r plan.Request, lib plan.Library, done, minutes int) (plan.Plan, error) {
	if err := allowed(plan.DeskOf(r, lib)); err != nil {
		return p, err
	}
	if done < 0 || done > len(p.Items) {
		return p, fmt.Errorf("done: expected 0 to %d exercises, found %d", len(p.Items), done)
	}
	whole := plan.DeskOf(r, lib)
	r.Done = slices.Clone(p.Items[:done])
	for i := range r.Done {
		r.Done[i].Seat = false // it was sat through, and stays
	}
	r.Fixed, r.Kept = chosen(p.Items[done:]), slices.DeleteFunc(slices.Clone(p.Items[done:]), stays)
	r.Minutes = minutes
	rest := plan.Best(r, lib)
	unlock(rest.Items, p.Items)
	next := whole.Whole(rest, slices.Concat(r.Done, rest.Items))
	next.MinutesAsked = p.MinutesAsked
	if p.Advice() != "" {
		next.MinutesAdvised, next.Notes = p.MinutesAdvised, append([]string{p.Advice()}, rest.Notes...)
	}
	return next, nil
}
