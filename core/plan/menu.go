package plan

import (
	"math"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/optimize"
)

// Menu is what a client may be given, for who chooses for several clients or several
// days at once: every rung that is open to the client, with what it is worth.
type Menu struct {
	Offers   []Offer            // in session order
	Features []optimize.Feature // that the units of the offers speak of
	Begin    float64            // what one exercise more costs
	Frame    optimize.Problem   // the order and the minutes, without features and candidates
	Minutes  int                // that suit the day, at most those asked
	Because  []string           // why they are fewer
	request  Request
	problem  optimize.Problem
	cs       []candidate
}

// Offer is one exercise that a client may be given in one phase.
type Offer struct {
	Variant *exercise.Variant
	Judged  limit.Judgement
	Phase   exercise.Phase
	Doses   []Dosed
	Own     float64         // what a full dose is worth by itself
	Units   []optimize.Unit // and what it holds of each feature
}

// Dosed is a dose with the seconds it takes, rest, setting up and changing sides among
// them.
type Dosed struct {
	Dose    exercise.Dose
	Seconds int
	Returns float64
	Uses    []optimize.Unit
}

// MenuOf is what a request may choose from; empty where the limits refer the client.
func MenuOf(r Request, lib Library) Menu {
	r = r.from(lib)
	m := Menu{}
	if r.Limits.Status() != limit.OK {
		m.request = r
		return m
	}
	r.shared = true
	m.Minutes, m.Because = r.advised()
	m.request, m.cs = r, r.candidates(false)
	f := r.newFrame(60 * r.Minutes)
	m.problem = r.problem(m.cs, f)
	m.Features, m.Begin, m.Frame = m.problem.Features, f.oneMore, m.problem
	m.Frame.Features, m.Frame.Candidates = nil, nil
	for i, c := range m.cs {
		k := m.problem.Candidates[i]
		o := Offer{Variant: c.variant, Judged: c.judged, Phase: c.phase, Own: k.Own, Units: k.Units}
		for d, dose := range c.doses {
			o.Doses = append(o.Doses, Dosed{dose.dose, k.Options[d].Seconds, dose.returns, k.Options[d].Uses})
		}
		m.Offers = append(m.Offers, o)
	}
	return m
}

// Best is the best session of the menu's client alone.
func (m Menu) Best() (Plan, optimize.Bound) {
	r := m.request
	r.shared = false
	return r.best()
}

// Item writes out an offer in one of its doses.
func (m Menu) Item(offer, dose int) Item {
	c := m.cs[offer]
	it := m.request.item(c.variant, c.judged, c.phase, c.doses[dose].dose)
	return it
}

// Plan is the session of these items, in this order, for the menu's client.
func (m Menu) Plan(items []Item) Plan {
	p := m.request.empty()
	p.Items = items
	if m.Minutes < m.request.Minutes {
		p.MinutesAdvised = m.Minutes
	}
	p.Retime(m.request)
	p.LeftOut = leftOut(m.request, p.Items)
	unserved, notes := m.request.goals(p)
	p.Unserved, p.Notes = unserved, append(p.Notes, notes...)
	return p
}

// Worth is what a session of these items, in this order and in their doses, is worth for a
// request; minus infinity where it is not allowed or too long.
func Worth(r Request, lib Library, items []Item) float64 {
	r = r.from(lib)
	f := r.newFrame(60 * r.Minutes)
	var cs []candidate
	var list []optimize.Choice
	for i, it := range items {
		v := r.find(it.Variant)
		if v == nil || !r.available(v) {
			return math.Inf(-1)
		}
		c := candidate{variant: v, judged: r.judge(v), phase: it.Phase, sided: len(it.Sides) > 1}
		if c.judged.Verdict == exercise.Avoid {
			return math.Inf(-1)
		}
		usual := 1.0
		for _, o := range r.options(c) {
			if o.dose.Words(true) == it.Dose.Words(true) {
				usual = o.returns
			}
		}
		c.doses = []option{
			{
				dose:    it.Dose,
				returns: usual,
				seconds: it.Dose.Work(len(it.Sides), r.Client.BreathSeconds()) + r.rest(it.Phase, it.Dose, len(it.Sides)),
			},
		}
		cs, list = append(cs, c), append(list, optimize.Choice{Candidate: i})
	}
	p := r.problem(cs, f)
	return p.Worth(list)
}

// Over names the first cap of a whole session that a plan goes beyond; nil when it is
// inside all.
func (m Menu) Over(p Plan) *limit.SessionCap {
	over, _ := p.over(m.request)
	return over
}

// Barred is why a variant is not for the client here: the first reason, or what is not at
// hand; empty where it suits the client.
func (m Menu) Barred(v *exercise.Variant) string {
	switch j := m.request.judge(v); {
	case !m.request.available(v):
		return upper(v.Name) + " " + m.request.unavailable(v) + "."
	case j.Verdict == exercise.Avoid:
		return j.Reasons[0].Text
	}
	return ""
}
