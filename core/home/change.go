package home

import (
	"fmt"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/plan/edit"
)

// A programme is changed by hand within the same rules as it is made by.

// Check says what is wrong with a change to a programme by hand: too few or too many, twice
// the same, something that may not be done alone or is not for this client.
func (r Request) Check(p Programme) error {
	switch {
	case r.Limits.Status() != limit.OK:
		return fmt.Errorf("day: nothing is changed: %s", strings.Join(r.Limits.Readiness.Texts(), " "))
	case len(p.Items) < FewestItems:
		return fmt.Errorf("items: %d left; expected %d to %d", len(p.Items), FewestItems, MostItems)
	case len(p.Items) > MostItems:
		return fmt.Errorf("items: %d are too many to be done; expected %d to %d", len(p.Items), FewestItems, MostItems)
	case len(p.Micro) > mostMicro:
		return fmt.Errorf("micro: %d short bouts; expected at most %d", len(p.Micro), mostMicro)
	}
	seen := map[string]bool{}
	for _, it := range p.Items {
		v := r.find(it.Variant)
		if v == nil {
			return fmt.Errorf("variant: %q is not in the library", it.Variant)
		}
		if seen[it.Variant] {
			return fmt.Errorf("variant: %s stands there twice; expected once", v.Name)
		}
		seen[it.Variant] = true
		if j := limit.Judge(r.Limits.Limits, v, limit.KitOf(r.Client, Place(r.Client))); j.Verdict == exercise.Avoid && j.Free() == "" {
			return fmt.Errorf("variant: %s is not for this client: %s", v.Name, j.Reasons[0].Text)
		}
	}
	return nil
}

// Add puts an exercise into the programme, dosed for home. It is refused, with the reason,
// where it may not be done alone, here, or by this client.
func (r Request) Add(p *Programme, variant string) error {
	v := r.find(variant)
	if v == nil {
		return fmt.Errorf("variant: %q is not in the library", variant)
	}
	if ok, why := r.Alone(v); !ok {
		return fmt.Errorf("variant: %s does not go home: %s", v.Name, why)
	}
	q, _ := r.planned(10)
	session := plan.Plan{Status: plan.Ready, Place: q.Place, Approach: q.Approach, Breath: p.Breath, Home: true}
	at, err := edit.Add(&session, q, r.Library, variant)
	if err != nil {
		return err
	}
	next := *p
	next.Items = append(slices.Clone(p.Items), r.item(session.Items[at]))
	if err := r.Check(next); err != nil {
		return err
	}
	*p = next
	r.Finish(p)
	return nil
}

// Remove takes an exercise out.
func (r Request) Remove(p *Programme, variant string) error {
	next := *p
	next.Items = slices.DeleteFunc(slices.Clone(p.Items), func(it Item) bool { return it.Variant == variant })
	next.Micro = slices.DeleteFunc(slices.Clone(p.Micro), func(it Item) bool { return it.Variant == variant })
	if len(next.Items) == len(p.Items) && len(next.Micro) == len(p.Micro) {
		return fmt.Errorf("variant: %q is not in the programme", variant)
	}
	if err := r.Check(next); err != nil {
		return err
	}
	*p = next
	r.Finish(p)
	return nil
}

// SetDose gives an exercise another dose, in words as a plan takes them, and other days.
func (r Request) SetDose(p *Programme, variant, words string, days []string) error {
	i := slices.IndexFunc(p.Items, func(it Item) bool { return it.Variant == variant })
	if i < 0 {
		return fmt.Errorf("variant: %q is not in the programme", variant)
	}
	for _, d := range days {
		if !slices.Contains(Days, d) {
			return fmt.Errorf("days: %q is no day; expected %s", d, strings.Join(Days, ", "))
		}
	}
	if len(days) == 0 {
		return fmt.Errorf("days: none is left; expected one at least")
	}
	q, _ := r.planned(10)
	session := plan.Plan{Status: plan.Ready, Place: q.Place, Approach: q.Approach, Breath: p.Breath, Home: true}
	at, err := edit.Add(&session, q, r.Library, variant)
	if err != nil {
		return err
	}
	if err := edit.SetDose(&session, q, r.Library, at, words); err != nil {
		return err
	}
	it := r.item(session.Items[at])
	it.Days = nil
	for _, d := range Days { // in the order of the week
		if slices.Contains(days, d) {
			it.Days = append(it.Days, d)
		}
	}
	it.TimesADay = p.Items[i].TimesADay
	next := *p
	next.Items = slices.Clone(p.Items)
	next.Items[i] = it
	*p = next
	r.Finish(p)
	return nil
}
