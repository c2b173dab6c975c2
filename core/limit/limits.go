package limit

import (
	"fmt"
	"iter"
	"slices"

	"restbend/core/civil"
	"restbend/core/exercise"
)

// Risk is the result of comparing what was measured with a published figure.
type Risk struct {
	ID      string `json:"id"`
	Level   string `json:"level"` // usual or raised
	Because string `json:"because"`
	Source  string `json:"source"`
	Within  string `json:"-"` // what says as much already: another risk's id, or conditions
}

// Need is a purpose the client wants trained, and why.
type Need struct {
	Purpose exercise.Purpose `json:"purpose"`
	Because string           `json:"because"`
}

// Status of an answer.
const (
	OK    = "ok"
	Refer = "refer"
)

// Irritability is how much a session may ask today, from pain now and how long
// it takes to settle.
type Irritability int

const (
	Calm      Irritability = iota // full dose
	Irritable                     // shorter, no new rungs
	Flared                        // settle, breath and unloaded mobility only
)

// Limits is everything that limits one client today. It does not change once For has
// made it: what guards the client is handed out as copies only.
type Limits struct {
	refer   []Reason
	rows    []Limit
	session []SessionCap

	Risks        []Risk
	Needs        []Need
	Defaults     []string // sentences on what was assumed where nothing was said
	Cleared      []Clearance
	Irritability Irritability
	FirstRungs   bool // only the first rungs of ladders
	EvenRest     bool // rest as long as the work before it
	Slow         bool // takes longer over getting down, up and about
	Uneven       []Uneven
	Conflicts    []string // where conditions pull in opposite directions
	HeightCM     float64
	MassKG       float64
}

// pressureToday is the rule that refers for a pressure too high for a session.
const pressureToday = "raised_blood_pressure.today"

const (
	painSource = "Thomeé, Phys Ther 1997, pain monitoring (from memory)"
	ownSource  = "common practice"
)

// For works out the client's limits on a date. Every source gives rows of its own,
// which merge puts together once; then comes what the limits do not depend on.
func For(c Client, conditions Conditions, on civil.Day) Limits {
	s := Limits{}
	s.HeightCM, s.MassKG = c.Size()
	body := size{s.HeightCM, s.MassKG}
	s.assume(c)
	s.Irritability = irritability(c)
	known := conditions.speaking(c, on)
	s.refer = append(redFlags(c, on), known.refers()...)
	for i, why := range s.refer {
		if p, ok := ReadPressure(c.RestingPressure); ok && why.Rule == pressureToday && p.emergency(c.OpenFlags(on)) {
			s.refer[i].When = Now
		}
	}
	slices.SortStableFunc(s.refer, func(a, b Reason) int { return soonness(a.When) - soonness(b.When) })
	rows := known.limits(body)
	rows = append(rows, tolerated(c, body)...)
	rows = append(rows, measured(c, body)...)
	rows = append(rows, screened(c, body)...)
	rows = append(rows, sore(s.Irritability, body)...)
	rows = append(rows, instructed(c, body)...)
	s.rows = merge(rows)
	s.session = append(known.session(), everySession(s.Irritability, c)...).merge()

	s.Defaults = append(s.Defaults, known.assumed...)
	s.Defaults = append(s.Defaults, s.tooLoose(c)...)
	s.Cleared, s.FirstRungs, s.EvenRest = known.cleared, known.asks("first_rungs"), known.asks("even_rest")
	s.boneClasses(c)
	s.heightLoss(c)
	s.Needs = append(s.Needs, known.wants()...)
	s.risks(c, on)
	s.conflicts(c)
	s.failed(c)
	s.daily(c)
	for _, g := range c.Goals {
		s.Needs = append(s.Needs, Need{g, "a goal of the client"})
	}
	return s
}

// Status is Refer when no session is to be planned today, else OK.
func (s Limits) Status() string {
	if len(s.refer) > 0 {
		return Refer
	}
	return OK
}

// Refer is why there is no plan, most urgent first.
func (s Limits) Refer() []Reason { return slices.Clone(s.refer) }

// Rows walks the limits by quantity and scope.
func (s Limits) Rows() iter.Seq[Limit] {
	return func(yield func(Limit) bool) {
		for _, l := range s.rows {
			if !yield(l) {
				return
			}
		}
	}
}

// Tighter says whether something is limited further than in another set, or only here.
func (s Limits) Tighter(than Limits) bool {
	return slices.ContainsFunc(s.rows, func(l Limit) bool {
		return !slices.ContainsFunc(than.rows, func(o Limit) bool { return o.same(l) && o.most <= l.most })
	}) || slices.ContainsFunc(s.session, func(k SessionCap) bool {
		return !slices.ContainsFunc(than.session, func(o SessionCap) bool { return o.Count == k.Count && o.Max <= k.Max })
	})
}

// With is the set with further rows and caps, which only tighten it.
func (s Limits) With(rows []Limit, session []SessionCap) Limits {
	s.rows = merge(append(slices.Clone(s.rows), rows...))
	s.session = append(caps(slices.Clone(s.session)), session...).merge()
	return s
}

// Session is what a whole session may hold.
func (s Limits) Session() []SessionCap { return slices.Clone(s.session) }

// assume names the defaults used for the client as a whole.
func (s *Limits) assume(c Client) {
	if c.heights().now == 0 || c.MassKG == 0 {
		s.Defaults = append(s.Defaults, sizeAssumed)
	}
	if p, ok := ReadPressure(c.RestingPressure); ok && p.level() == "raised" && !c.Has("raised_blood_pressure") {
		s.Defaults = append(s.Defaults,
			fmt.Sprintf("A resting pressure of %s is 140/90 or over: ask whether it is known, and under control.", p),
		)
	}
	if c.BetaBlocker {
		s.Defaults = append(s.Defaults, "Beta-blockers hold the pulse down: effort is judged by talking, not by the pulse.")
	}
	if c.Pain.Now == nil {
		s.Defaults = append(s.Defaults, "Pain now was not given: 0 is used.")
	}
	if !slices.ContainsFunc(c.Measures, func(m Measure) bool { return m.ID == "breath_seconds" }) {
		s.Defaults = append(s.Defaults, "The breath was not measured: 5 seconds are used.")
	}
}
