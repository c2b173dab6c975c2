// Package readiness decides what a day allows. It is asked before anything is judged,
// planned, taught or sent home, and it is the only place where warning signs, pain of the
// day, unanswered questions and a clinician's word are weighed against one another.
//
// A session is planned from Limits, which only Rules.Limits makes: what plans needs them,
// so that nothing can be planned past this package. The zero Limits allow nothing.
package readiness

import (
	"slices"

	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/limit"
)

// Status is what a day allows, the strictest first: refer, stop, ask, gentle, ready.
type Status string

const (
	Refer  Status = "refer"  // somebody else comes first
	Stop   Status = "stop"   // not on this day
	Ask    Status = "ask"    // a question is open
	Gentle Status = "gentle" // only inside the gentle limits
	Ready  Status = "ready"
)

// Statuses are all, in order of precedence.
var Statuses = []Status{Refer, Stop, Ask, Gentle, Ready}

// Act is what is about to be done.
type Act string

const (
	Judge Act = "judge" // limits, verdicts, the library for a client
	Plan  Act = "plan"  // a session for a day, a class, replanning, a change by hand
	Teach Act = "teach" // begin or go on with a lesson or class
	Ahead Act = "ahead" // course, home, bouts, what follows
)

// Acts are all.
var Acts = []Act{Judge, Plan, Teach, Ahead}

// Reason is why a day is as it is.
type Reason struct {
	Rule   string `json:"rule"`
	Text   string `json:"text"`
	Source string `json:"source"`
}

// Question is something that somebody has to ask: about a field, with what was found in it.
type Question struct {
	Field    string `json:"field"`
	Found    string `json:"found"`
	Question string `json:"question"`
}

// Part is a part of the body that nothing may load, on a side or both.
type Part struct {
	Where string `json:"where"` // of exercise.ComplaintPlaces
	Side  string `json:"side"`
}

// Caps are what a session may hold of some things on the day; nil for no cap.
type Caps struct {
	Demand          *float64 `json:"demand,omitempty"`
	StandingSeconds *float64 `json:"standing_seconds,omitempty"`
	Minutes         *float64 `json:"minutes,omitempty"`
}

// Message is who should hear of something, how soon, and what.
type Message struct {
	Who  string `json:"who"`  // emergency, doctor or clinician
	When string `json:"when"` // now, today, before_next or soon
	Text string `json:"text"`
}

// Readiness is what a day allows a client.
type Readiness struct {
	Status      Status     `json:"status"`
	Because     []Reason   `json:"because"`
	Asks        []Question `json:"asks"`
	Caps        Caps       `json:"caps"`
	BarredParts []Part     `json:"barred_parts"`
	Cautions    []string   `json:"cautions"`
	Tell        []Message  `json:"tell"`
	Instead     []string   `json:"instead,omitempty"` // what to do in place of a session

	act Act
}

// Gives says whether the act goes on at all on the day: a verdict is given also where
// nothing may be planned, and weeks ahead begin the day after a stop.
func (r Readiness) Gives() bool {
	switch r.Status {
	case Ready, Gentle:
		return true
	case Ask:
		return r.act == Judge
	case Stop:
		return r.act == Judge || r.act == Ahead
	}
	return false
}

// FirstReason is the first reason; empty for none.
func (r Readiness) FirstReason() string {
	if len(r.Because) == 0 {
		return ""
	}
	return r.Because[0].Text
}

// Limits are what a session has to stay inside on a day: those of the client, and what the
// day allows beside them.
type Limits struct {
	limit.Limits
	Readiness Readiness
	// Client is the client as of the day: what was said on another day is history.
	Client limit.Client
}

// Status is limit.OK where the act goes on, else that of the readiness. Zero Limits, which
// nobody asked for, refer.
func (l Limits) Status() string {
	switch {
	case l.Readiness.Gives():
		return limit.OK
	case l.Readiness.Status == "":
		return limit.Refer
	}
	return string(l.Readiness.Status)
}

// Texts are the reasons, then the questions, in sentences, of a day that gives nothing.
func (r Readiness) Texts() []string {
	var out []string
	for _, b := range r.Because {
		out = append(out, b.Text)
	}
	for _, q := range r.Asks {
		if !slices.Contains(out, q.Question) {
			out = append(out, q.Question)
		}
	}
	return append(out, r.Instead...)
}

// Limits are what a client's session on a day has to stay inside for an act. The past are
// the sessions there were, marks what was marked in the lesson of the day so far.
func (r *Rules) Limits(c limit.Client, past []Visit, marks []Mark, day civil.Day, act Act) Limits {
	k := r.assess(c, past, marks, day, act)
	return Limits{Limits: k.set, Readiness: k.out, Client: k.client}
}

// For is the readiness alone.
func (r *Rules) For(c limit.Client, past []Visit, marks []Mark, day civil.Day, act Act) Readiness {
	return r.assess(c, past, marks, day, act).out
}

// assessment is one assessment of a client on a day.
type assessment struct {
	*Rules
	given  limit.Client // as it was handed in
	client limit.Client // as of the day
	past   []Visit      // by day
	marks  []Mark
	day    civil.Day
	act    Act
	known  bool // pain of the day is
	hurts  hurt
	set    limit.Limits
	out    Readiness
}

func (r *Rules) assess(c limit.Client, past []Visit, marks []Mark, day civil.Day, act Act) *assessment {
	k := &assessment{Rules: r, given: c, past: slices.Clone(past), marks: marks, day: day, act: act,
		out: Readiness{Status: Ready, Because: []Reason{}, Asks: []Question{}, BarredParts: []Part{}, Cautions: []string{},
			Tell: []Message{}, act: act}}
	slices.SortStableFunc(k.past, func(a, b Visit) int { return a.On.Compare(b.On) })
	k.asOf()
	k.set = limit.For(k.client, r.Conditions, day)
	for _, s := range Signals {
		if s.check != nil {
			s.check(k)
		}
	}
	if k.out.Status == Refer {
		k.instead("No session, no exercises at home, until somebody has looked at it.")
	}
	k.clearances()
	k.tighten()
	k.cautions()
	return k
}

// restrict makes the day no better than a status, with the reason.
func (k *assessment) restrict(s Status, rule, source, text string) {
	k.atMost(s)
	k.out.Because = append(k.out.Because, Reason{rule, text, source})
}

func (k *assessment) atMost(s Status) {
	if slices.Index(Statuses, s) < slices.Index(Statuses, k.out.Status) {
		k.out.Status = s
	}
}

// asks adds a question, once.
func (k *assessment) asks(field, found, question string) {
	if q := (Question{field, found, question}); !slices.Contains(k.out.Asks, q) {
		k.out.Asks = append(k.out.Asks, q)
	}
}

// tell adds who should hear of something, once.
func (k *assessment) tell(who, when, text string) {
	if m := (Message{who, when, text}); !slices.Contains(k.out.Tell, m) {
		k.out.Tell = append(k.out.Tell, m)
	}
}

// Judge is the verdict on a variant; nothing is for a day on which somebody else comes first.
func (l Limits) Judge(v *exercise.Variant, kit limit.Kit) limit.Judgement {
	j := limit.Judge(l.Limits, v, kit)
	if l.Status() != limit.OK {
		j.Verdict = exercise.Avoid
		j.Reasons = nil
		for _, b := range l.Readiness.Because {
			j.Reasons = append(j.Reasons, limit.Reason{Rule: b.Rule, Text: b.Text, Source: b.Source})
		}
	}
	return j
}
