// Package app holds what a user does, once, for web and command line alike:
// load, judge, plan, save.
package app

import (
	"fmt"
	"sync"
	"sync/atomic"

	"restbend/core/body"
	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/readiness"
	"restbend/formats"
	"restbend/library"
)

// Judge answers questions that need the library and no database.
type Judge struct {
	Library     *library.Library
	Conditions  []ConditionForm // as they are asked about
	planLibrary plan.Library
	days        *atomic.Pointer[readiness.Rules] // what days are decided by
}

// builtIn is the built-in library, read and measured once: nothing changes it.
var builtIn = sync.OnceValues(library.Load)

// NewJudge loads the built-in library.
func NewJudge() (*Judge, error) {
	l, err := builtIn()
	if err != nil {
		return nil, fmt.Errorf("the built-in exercise library: %w", err)
	}
	if _, err := library.ReadinessRules(); err != nil {
		return nil, fmt.Errorf("the rules of readiness: %w", err)
	}
	sayings, err := library.Sayings()
	if err != nil {
		return nil, err
	}
	fast := plan.NewLibrary(l.Variants, l.Hash, l.StandIns)
	j := &Judge{l, ConditionForms(l.Conditions, sayings), fast, &atomic.Pointer[readiness.Rules]{}}
	j.days.Store(l.Days())
	return j, nil
}

// Client reads and checks a client file as of a date. A refusal is a
// *formats.Invalid.
func (j *Judge) Client(b []byte, on civil.Day) (limit.Client, error) {
	c, err := formats.ReadClient(b, on)
	if err != nil {
		return c, err
	}
	return c, j.Check(c, on)
}

// Check refuses a client whose data cannot be true or names what does not
// exist.
func (j *Judge) Check(c limit.Client, on civil.Day) error {
	if err := formats.CheckClient(c, on); err != nil {
		return err
	}
	if m := j.Library.Conditions.CheckClient(c, on); m != nil {
		return &formats.Invalid{Path: m.Path, Want: m.Want}
	}
	for i, r := range c.Rungs {
		if v := j.Library.Variant(r.Variant); v == nil || v.Family != r.Family {
			return &formats.Invalid{
				Path: fmt.Sprintf("rungs[%d].variant", i),
				Want: fmt.Sprintf("%s of %s is not in the library", r.Variant, r.Family),
			}
		}
	}
	return nil
}

// Wish is what is asked of a plan; zero fields fall back to the client's own
// wishes and then to defaults, which are named in the plan's notes.
type Wish struct {
	Minutes  int
	Place    exercise.Place
	Approach exercise.Approach
	PainNow  *int
	// StandingFirst puts work on two feet before the floor; Home plans with home
	// doses and what stands in for equipment.
	StandingFirst, Home bool
	Focus               exercise.Purpose  // what the session is to serve above all; may be empty
	Past                []readiness.Visit // the sessions there were
	Marks               []readiness.Mark  // what was marked in the lesson that the plan goes on with
}

// Request builds the planner's request.
func (j *Judge) Request(c limit.Client, w Wish, on civil.Day) (plan.Request, []string, error) {
	var assumed []string
	if w.Minutes == 0 {
		w.Minutes = c.Minutes
	}
	if w.Minutes == 0 {
		w.Minutes = limit.DefaultMinutes
		assumed = append(assumed, fmt.Sprintf("No minutes were asked for: %d are planned.", w.Minutes))
	}
	if w.Minutes < 5 || w.Minutes > 120 {
		return plan.Request{}, nil, &formats.Invalid{Path: "minutes", Want: fmt.Sprintf("expected 5 to 120, found %d", w.Minutes)}
	}
	if w.Place == "" {
		w.Place = c.Place
	}
	if w.Place == "" {
		w.Place = "mat"
		assumed = append(assumed, "No place was named: the mat is used.")
	}
	if err := known("place", w.Place, exercise.Places); err != nil {
		return plan.Request{}, nil, err
	}
	if w.Approach == "" {
		w.Approach = c.Approach
	}
	if w.Approach == "" {
		w.Approach = "steady"
		assumed = append(assumed, "No approach was named: steady is used.")
	}
	if err := known("approach", w.Approach, exercise.Approaches); err != nil {
		return plan.Request{}, nil, err
	}
	if w.Focus != "" {
		if err := known("focus", w.Focus, exercise.Purposes); err != nil {
			return plan.Request{}, nil, err
		}
	}
	if w.PainNow != nil {
		if *w.PainNow < 0 || *w.PainNow > 10 {
			return plan.Request{}, nil, &formats.Invalid{Path: "pain today", Want: fmt.Sprintf("expected 0 to 10, found %d", *w.PainNow)}
		}
		c = painOn(c, *w.PainNow, on)
	}
	c.Place = w.Place // whether lying down is a way to the floor depends on it
	limits := j.Ready(c, w.Past, w.Marks, on, readiness.Plan)
	return plan.Request{Client: limits.Client, Limits: limits, Place: w.Place, Approach: w.Approach, Minutes: w.Minutes,
		StandingFirst: w.StandingFirst, Home: w.Home, Focus: w.Focus}, assumed, nil
}

// painOn is a client whose pain on a day was just said: it puts other figures of that day
// right.
func painOn(c limit.Client, now int, on civil.Day) limit.Client {
	if c.Pain.On != "" && c.Pain.On != on.String() || c.Pain.Worst24h != nil && *c.Pain.Worst24h < now {
		c.Pain.Worst24h = nil
	}
	c.Pain.Now, c.Pain.On = &now, on.String()
	if c.Today != nil && c.Today.On == on.String() {
		today := *c.Today
		today.Pain = &now
		c.Today = &today
	}
	return c
}

// LeverWish is a leaning shape to be worked out, in centimetres and kilograms.
type LeverWish struct {
	On, From         string
	Side             bool
	RaiseCM          float64
	HeightCM, MassKG float64
}

// MaxRaiseCM is the highest surface the lever bench offers.
const MaxRaiseCM = 110

// Lever works out a leaning shape. A refusal is a *formats.Invalid.
func Lever(w LeverWish) (body.Lever, error) {
	refuse := func(path, format string, args ...any) (body.Lever, error) {
		return body.Lever{}, &formats.Invalid{Path: path, Want: fmt.Sprintf(format, args...)}
	}
	if err := known("on", body.Support(w.On), []body.Support{body.OnHands, body.OnForearms}); err != nil {
		return body.Lever{}, err
	}
	if err := known("from", body.Pivot(w.From), []body.Pivot{body.FromToes, body.FromKnees}); err != nil {
		return body.Lever{}, err
	}
	switch {
	case !(w.RaiseCM >= 0 && w.RaiseCM <= MaxRaiseCM):
		return refuse("raise-cm", "expected 0 to %d, found %g", MaxRaiseCM, w.RaiseCM)
	case !(w.HeightCM >= 100 && w.HeightCM <= 230):
		return refuse("height-cm", "expected 100 to 230, found %g", w.HeightCM)
	case !(w.MassKG >= 25 && w.MassKG <= 250):
		return refuse("mass-kg", "expected 25 to 250, found %g", w.MassKG)
	}
	l, err := body.Lean{On: body.Support(w.On), From: body.Pivot(w.From), Side: w.Side, Raise: w.RaiseCM / w.HeightCM}.Work()
	if err != nil {
		return refuse("raise-cm", "%g cm is too high for a straight body on the %s; expected a lower surface", w.RaiseCM, w.From)
	}
	return l, nil
}

// PlanLibrary is the library as the planner sees it.
func (j *Judge) PlanLibrary() plan.Library {
	return j.planLibrary
}

func known[T ~string](field string, got T, all []T) error {
	for _, a := range all {
		if a == got {
			return nil
		}
	}
	return &formats.Invalid{Path: field, Want: fmt.Sprintf("%q is not known; expected one of %v", string(got), all)}
}
