package plan

import (
	"fmt"
	"math"
	"slices"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// Desk is a request with the library it is answered from at hand: what packages edit and
// tell, which change a session and explain it, ask of the planner.
type Desk struct {
	Request
}

// DeskOf takes a request to the desk.
func DeskOf(r Request, lib Library) Desk { return Desk{r.from(lib)} }

// Library is what the desk answers from.
func (d Desk) Library() Library { return d.lib }

// Find is a variant of the library; nil for none.
func (d Desk) Find(id string) *exercise.Variant { return d.find(id) }

// Judge is the verdict on a variant at the settings it is done with here.
func (d Desk) Judge(v *exercise.Variant) limit.Judgement { return d.judge(v) }

// Available says whether place, equipment, heights and strengths allow a variant, and
// Unavailable why not, in words that follow its name.
func (d Desk) Available(v *exercise.Variant) bool     { return d.available(v) }
func (d Desk) Unavailable(v *exercise.Variant) string { return d.unavailable(v) }

// Kit is what there is to work with.
func (d Desk) Kit() []string { return d.kit() }

// Instead names what does the job of a barred variant, best one of the items; empty for none.
func (d Desk) Instead(v *exercise.Variant, items []Item) string { return d.instead(v, items) }

// Recorded says whether a variant is a rung on record.
func (d Desk) Recorded(v *exercise.Variant) bool { return d.recorded(v) }

// Weight is what a purpose counts for this client; Ranked are a variant's purposes, the one
// that counts most first.
func (d Desk) Weight(p exercise.Purpose) float64             { return d.weight(p) }
func (d Desk) Ranked(v *exercise.Variant) []exercise.Purpose { return d.ranked(v) }

// Usual is a variant's own dose where the session happens, and Sides those it is done on.
func (d Desk) Usual(v *exercise.Variant) exercise.Dose { return d.usual(v) }
func (d Desk) Sides(v *exercise.Variant) []string      { return d.sides(v) }

// Rest is the seconds of rest that a dose needs in a phase.
func (d Desk) Rest(phase exercise.Phase, dose exercise.Dose, sides int) float64 {
	return d.rest(phase, dose, sides)
}

// Bearable says whether a dose of a variant stays by itself inside what a session may hold.
func (d Desk) Bearable(v *exercise.Variant, phase exercise.Phase, dose exercise.Dose) bool {
	return d.bearable(candidate{variant: v, judged: d.judge(v), phase: phase}, dose)
}

// Offered are the doses that a variant may be given in a phase, those of practice that it may
// grow into among them.
func (d Desk) Offered(v *exercise.Variant, phase exercise.Phase) []exercise.Dose {
	c := candidate{variant: v, judged: d.judge(v), phase: phase}
	out := append(d.grown(d.usual(v), c), d.usual(v))
	if !d.bearable(c, d.usual(v)) || d.Limits.Irritability > limit.Calm {
		out = nil
	}
	for _, o := range d.options(c) {
		out = append(out, o.dose)
	}
	return out
}

// Nearest is the dose of a judged variant that takes nearest to so many seconds in a phase;
// an error where none is inside the limits.
func (d Desk) Nearest(v *exercise.Variant, j limit.Judgement, phase exercise.Phase, seconds float64) (exercise.Dose, error) {
	best, miss := exercise.Dose{}, math.Inf(1)
	for _, o := range d.options(candidate{variant: v, judged: j, phase: phase}) {
		if m := math.Abs(o.seconds - seconds); m < miss {
			best, miss = o.dose, m
		}
	}
	if math.IsInf(miss, 1) {
		return best, fmt.Errorf("variant: no dose of %s is inside this client's limits", v.Name)
	}
	return best, nil
}

// Item writes out one exercise of the session.
func (d Desk) Item(v *exercise.Variant, j limit.Judgement, phase exercise.Phase, dose exercise.Dose) Item {
	return d.item(v, j, phase, dose)
}

// ItemWith is Item with other settings than the surface, and what is measured with them.
func (d Desk) ItemWith(it Item, to exercise.Settings, m exercise.Measured) Item {
	it.set(to, m, d.Request)
	return it
}

// set gives an item settings other than the surface, and what is measured with them.
func (it *Item) set(to exercise.Settings, m exercise.Measured, r Request) {
	to.SurfaceCM, to.PillowCM = it.Settings.SurfaceCM, it.Settings.PillowCM
	it.Settings = to
	it.Quantities, it.Demand = m.For(r.Client.Size()), tenth(m.Demand())
}

// Order is the place of a phase in this session, and Home the phase that a variant is put in
// where nobody says.
func (d Desk) Order(p exercise.Phase) int                   { return d.newFrame(0).phase(p) }
func (d Desk) HomePhase(v *exercise.Variant) exercise.Phase { return phasesOf(v)[0] }

// Settle gives a plan other items, with its times, what is left out and what goals lack
// recalculated. What would take the session over a cap it was inside of, or further over
// one, is refused, and the plan stays as it was.
func (d Desk) Settle(p *Plan, items []Item) error {
	next := *p
	next.Items = items
	next.takeSeats(d.Request, standingPosition)
	if over, excess := next.over(d.Request); over != nil {
		if was := p.Use(d.lib)[over.Count] - over.Max; excess > was+1e-6 {
			return fmt.Errorf("session: that would make %s, and %.0f is the most here: %s",
				CountWords(over.Count, over.Max+excess), over.Max, over.Reasons[0].Text)
		}
	}
	next.LeftOut = leftOut(d.Request, next.Items)
	next.Unserved, _ = d.goals(next)
	if next.Shortfall != nil {
		if next.Shortfall = d.short(next, int(next.Target())); next.Shortfall != nil {
			next.Shortfall.Places = p.Shortfall.Places
		}
	}
	*p = next
	return nil
}

// Whole is a plan with other items, whatever they come to: its times and what is left out are
// recalculated.
func (d Desk) Whole(p Plan, items []Item) Plan {
	p.Items = items
	p.takeSeats(d.Request, standingPosition)
	p.LeftOut = leftOut(d.Request, p.Items)
	return p
}

// Locked are the items that are fixed.
func (p Plan) Locked() []Item {
	return slices.DeleteFunc(slices.Clone(p.Items), func(it Item) bool { return !it.Locked })
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
