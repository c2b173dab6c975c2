package progress

import (
	"fmt"
	"slices"

	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/readiness"
)

// Steps that may follow.
const (
	StepUp   = "step_up"
	Hold     = "hold"
	StepBack = "step_back"
	Refer    = "stop_and_refer"
)

// Decision is what follows for one exercise, on one side or both.
type Decision struct {
	Family     string     `json:"family"`
	Variant    string     `json:"variant"`
	Side       string     `json:"side"`
	Step       string     `json:"step"`
	Changed    string     `json:"changed"` // rung, dose, setting, or nothing
	To         Target     `json:"to"`
	Because    []string   `json:"because"`
	Evidence   []Evidence `json:"evidence"`
	WaitingFor string     `json:"waiting_for,omitempty"`
	Rules      []string   `json:"rules"` // the rows that decided
}

// Target is what is done next.
type Target struct {
	Variant  string            `json:"variant"`
	Dose     *exercise.Dose    `json:"dose,omitempty"`
	Settings exercise.Settings `json:"settings,omitzero"`
}

// Evidence is a session that a decision rests on.
type Evidence struct {
	On       string  `json:"on"`
	Ended    string  `json:"ended"`
	BestHold float64 `json:"best_hold,omitempty"`
	Share    float64 `json:"share"` // of the dose
	Pain     *int    `json:"pain,omitempty"`
}

// Answer is restbend.next/1.
type Answer struct {
	Format    string              `json:"format"`
	Status    string              `json:"status"`
	Decisions []Decision          `json:"decisions"`
	Measures  []limit.Measure     `json:"measures"` // taken from the records
	Client    limit.Client        `json:"client"`   // brought up to date
	Notes     []string            `json:"notes"`
	Readiness readiness.Readiness `json:"readiness"`
}

// World is what decisions are made in: the library, its rules of progress, and what bears
// on the client today.
type World struct {
	Variants []*exercise.Variant
	Rules    Rules
	Limits   readiness.Limits
	Kit      limit.Kit
}

func (w World) find(id string) *exercise.Variant {
	for _, v := range w.Variants {
		if v.ID == id {
			return v
		}
	}
	return nil
}

// allowed says whether an exercise is one that the client may do; why not otherwise.
func (w World) allowed(v *exercise.Variant, side string) (bool, string) {
	j := limit.Judge(w.Limits.Limits, v, w.Kit)
	if one, apart := j.Sides[side]; apart {
		if one.Verdict == exercise.Avoid {
			return false, one.Reasons[0].Text
		}
		return true, ""
	}
	if j.Verdict == exercise.Avoid {
		return false, j.Reasons[0].Text
	}
	return true, ""
}

// decider decides for one client on one day.
type decider struct {
	World
	client  limit.Client
	records []lesson.Record
	on      civil.Day
	answer  *Answer
	quiet   bool // nothing steps up today
	worse   bool // the next session is planned one pain level worse
	why     string
}

// Decide says what follows from records, given in any order. A record that cannot be
// believed is a *Contradiction.
func Decide(c limit.Client, records []lesson.Record, w World, on civil.Day) (Answer, error) {
	a := Answer{Format: "restbend.next/1", Status: limit.OK, Decisions: []Decision{}, Measures: []limit.Measure{}, Client: c,
		Notes: []string{}, Readiness: w.Limits.Readiness}
	sessions, err := sorted(records, on)
	if err != nil {
		return a, err
	}
	if w.Limits.Status() == string(readiness.Ask) { // nothing follows before it is answered
		a.Status, a.Notes = w.Limits.Status(), append(a.Notes, w.Limits.Readiness.Texts()...)
		return a, nil
	}
	d := decider{World: w, client: c, records: sessions, on: on, answer: &a}
	d.session()
	for _, t := range d.exercises() {
		a.Decisions = append(a.Decisions, d.decide(t))
	}
	d.sides()
	d.update()
	d.measures()
	return a, nil
}

func (d *decider) note(format string, args ...any) {
	if text := fmt.Sprintf(format, args...); !slices.Contains(d.answer.Notes, text) {
		d.answer.Notes = append(d.answer.Notes, text)
	}
}

// thread is one exercise and side with all its sessions.
type thread struct {
	variant *exercise.Variant
	side    string
	turns   []turn
}

func (t thread) last() turn { return t.turns[len(t.turns)-1] }

// exercises are those to decide about: of each family the exercise that was done last, each
// side apart.
func (d *decider) exercises() []thread {
	type key struct{ family, side string }
	latest := map[key]string{}
	var order []key
	unknown := map[string]bool{}
	for _, r := range d.records {
		for _, it := range r.Items {
			v := d.find(it.Variant)
			if v == nil {
				if !unknown[it.Variant] {
					unknown[it.Variant] = true
					d.note("%s is not in the library: it is kept in the record, and nothing is decided from it.", it.Variant)
				}
				continue
			}
			if it.Skipped {
				continue
			}
			k := key{v.Family, it.Side}
			if latest[k] == "" {
				order = append(order, k)
			}
			latest[k] = v.ID
		}
	}
	var out []thread
	for _, k := range order {
		v := d.find(latest[k])
		if t := d.turns(v, k.side); len(t) > 0 {
			out = append(out, thread{v, k.side, t})
		}
	}
	return out
}

// usual is the dose that was to be done where a record does not say: the client's own on
// record, else the usual one.
func (d *decider) usual(v *exercise.Variant, side string) exercise.Dose {
	for _, k := range d.client.Rungs {
		if k.Variant == v.ID && k.Dose != nil && (k.Side == "" || k.Side == side) {
			return k.Dose.On(side)
		}
	}
	return v.Studio.On(side)
}

// decide takes the strictest of what the record says of one exercise.
//
//revive:disable-next-line:cyclomatic One branch for each row of the rules, in their order.
func (d *decider) decide(t thread) Decision {
	last := t.last()
	settings := t.variant.Settings
	for _, run := range last.runs {
		if run.Settings != (exercise.Settings{}) {
			settings = run.Settings
		}
	}
	dose := last.planned
	out := Decision{
		Family:  t.variant.Family,
		Variant: t.variant.ID,
		Side:    t.side,
		Step:    Hold,
		To:      Target{t.variant.ID, &dose, settings},
		Because: []string{},
		Rules:   []string{},
	}
	for _, x := range t.turns[max(0, len(t.turns)-3):] {
		e := Evidence{On: x.on, Ended: x.ended, BestHold: x.best, Share: round(x.share)}
		if x.hurt >= 0 {
			e.Pain = &x.hurt
		}
		out.Evidence = append(out.Evidence, e)
	}
	decide := func(rule, step string, more ...string) {
		out.Step, out.Rules = step, append(out.Rules, rule)
		out.Because = append(out.Because, d.Rules[rule].says(more...))
	}
	if last.over {
		out.Because = append(out.Because, "More than the dose was done: it counts as the dose, and does not become the target.")
	}
	s := d.Rules.settling(last.record)
	isLast := last.on == d.records[len(d.records)-1].On
	leaving := d.leaves(last.record)
	before := -1
	if p := last.record.Pain.Before; p != nil {
		before = *p
	}
	away := d.away(last.on)
	hurts := last.hurt >= d.Rules["hurt"].Pain || last.hurt >= 0 && before >= 0 && last.hurt >= before+d.Rules["hurt"].Rise
	unsettled := isLast && s.answered && !s.ok && d.blamed(last.record, t)
	switch {
	case d.answer.Status == limit.Refer:
		decide("hold", Refer)
		out.Because = []string{"The clinician’s word comes first: see the notes."}
	case last.hurt > d.Rules["left_out"].Pain || unsettled && s.hours > d.Rules["left_out"].Hours:
		decide("left_out", StepBack)
		d.rest(t, last.on, out.Because[len(out.Because)-1])
		if v := d.gentlest(t); v != t.variant {
			out.Changed, out.To = "rung", anew(v)
		} else if less, ok := less(good(last)); ok {
			out.Changed, out.To.Dose = "dose", &less
		}
	case (hurts || unsettled) && leaving:
		decide("leaving", Hold)
		out.WaitingFor = "one more session in which symptoms stay out of the limb"
	case hurts:
		decide("hurt", StepBack, "{score}", fmt.Sprint(last.hurt))
		d.back(t, &out, false)
	case unsettled:
		decide("unsettled", StepBack, "{hours}", fmt.Sprintf("%g", s.hours))
		d.back(t, &out, false)
	case isLast && movedDown(last.record) && d.blamed(last.record, t):
		decide("moved_down", StepBack)
		d.back(t, &out, false)
	case away >= d.Rules["long_away"].Days:
		decide("long_away", StepBack, "{days}", fmt.Sprint(away))
		if v := d.gentlest(t); v != t.variant {
			out.Changed, out.To = "rung", anew(v)
		} else {
			d.back(t, &out, true)
		}
		d.note("It has been six weeks or more: measure anew before stepping up.")
	case away >= d.Rules["away"].Days && t.variant.Plain().Measured.Demand() >= d.Rules["quiet"].Demand:
		decide("away", StepBack, "{days}", fmt.Sprint(away))
		d.back(t, &out, true)
	case away >= d.Rules["away"].Days:
		decide("quiet", Hold)
		out.WaitingFor = "a session, to see where it stands"
	case d.broke(t):
		decide("broke", StepBack)
		d.back(t, &out, true)
	case d.cleanRun(t) >= d.Rules["clean"].Sessions && !d.quiet:
		decide("clean", StepUp)
		d.up(t, &out)
	default:
		decide("hold", Hold)
		part := good(last)
		out.To.Dose = &part
		out.WaitingFor = d.missing(t)
	}
	return out
}

func round(share float64) float64 { return float64(int(share*100+0.5)) / 100 }

func (d *decider) away(on string) int {
	day, err := civil.Parse(on)
	if err != nil {
		return 0
	}
	return d.on.Since(day)
}

// blamed says whether what did not settle is laid to an exercise: to those that hurt, and
// where none did to the one that asked the most.
func (d *decider) blamed(r lesson.Record, t thread) bool {
	hurt, most, asks := false, "", -1.0
	for _, it := range r.Items {
		if it.Skipped {
			continue
		}
		if it.Pain != nil && it.Pain.Score >= d.Rules["hurt"].Pain || it.Ended == "pain" || it.Ended == "soreness" {
			hurt = true
			if it.Variant == t.variant.ID && it.Side == t.side {
				return true
			}
		}
		if v := d.find(it.Variant); v != nil && v.Plain().Measured.Demand() > asks {
			asks, most = v.Plain().Measured.Demand(), v.ID
		}
	}
	return !hurt && most == t.variant.ID
}

// broke says whether an exercise broke off early at sessions running.
func (d *decider) broke(t thread) bool {
	rule := d.Rules["broke"]
	if len(t.turns) < rule.Sessions {
		return false
	}
	for _, x := range t.turns[len(t.turns)-rule.Sessions:] {
		if x.ended != "form" && x.ended != "shaking" || x.share >= rule.Share {
			return false
		}
	}
	return true
}

// clean says whether one turn was clean, comfortable and settled; why not otherwise.
func (d *decider) clean(x turn) (bool, string) {
	rule := d.Rules["clean"]
	p, asked := pain(x.record)
	s := d.Rules.settling(x.record)
	switch {
	case !x.full && (x.ended == "form" || x.ended == "shaking"):
		return false, "a set that does not break off: last time " + map[string]string{"form": "form broke", "shaking": "it shook"}[x.ended]
	case !x.full && x.ended == "choice":
		return false, "the whole dose; ask why it was left early"
	case !x.full:
		return false, "the whole dose"
	case asked && p > rule.Pain || x.hurt > rule.Pain:
		return false, fmt.Sprintf("a session with pain of %d at most", rule.Pain)
	case asked && x.record.Pain.Before != nil && p > *x.record.Pain.Before:
		return false, "a session after which the pain is no more than before"
	case !s.answered:
		return false, "how it settled: nobody has asked yet"
	case !s.ok:
		return false, "a session that settles as it ordinarily does"
	}
	return true, ""
}

// cleanRun is how many of the last sessions of an exercise at this dose were clean.
func (d *decider) cleanRun(t thread) int {
	n := 0
	for i := len(t.turns) - 1; i >= 0; i-- {
		if ok, _ := d.clean(t.turns[i]); !ok {
			break
		}
		n++
	}
	return n
}

// missing says what a step up waits for.
func (d *decider) missing(t thread) string {
	if ok, why := d.clean(t.last()); !ok {
		return why
	}
	if n := d.Rules["clean"].Sessions - d.cleanRun(t); n > 0 {
		return words(n) + " more clean session" + map[bool]string{true: "s"}[n > 1]
	}
	return d.why
}
