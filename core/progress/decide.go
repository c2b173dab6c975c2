package progress

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"restbend/core/exercise"
	"restbend/core/lesson"
	"restbend/core/limit"
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
	Format    string          `json:"format"`
	Status    string          `json:"status"`
	Decisions []Decision      `json:"decisions"`
	Measures  []limit.Measure `json:"measures"` // taken from the records
	Client    limit.Client    `json:"client"`   // brought up to date
	Notes     []string        `json:"notes"`
}

// World is what decisions are made in: the library, its rules of progress, and what bears
// on the client today.
type World struct {
	Variants []*exercise.Variant
	Rules    Rules
	Limits   limit.Set
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
	j := limit.Judge(w.Limits, v, w.Kit)
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
	on      time.Time
	answer  *Answer
	quiet   bool // nothing steps up today
	worse   bool // the next session is planned one pain level worse
	why     string
}

// Decide says what follows from records, given in any order. A record that cannot be
// believed is a *Contradiction.
func Decide(c limit.Client, records []lesson.Record, w World, on time.Time) (Answer, error) {
	a := Answer{Format: "restbend.next/1", Status: limit.OK, Decisions: []Decision{}, Measures: []limit.Measure{}, Client: c, Notes: []string{}}
	sessions, err := sorted(records, on)
	if err != nil {
		return a, err
	}
	d := decider{World: w, client: c, records: sessions, on: on, answer: &a}
	d.whole()
	for _, t := range d.exercises() {
		a.Decisions = append(a.Decisions, d.decide(t))
	}
	d.sides()
	d.update()
	return a, nil
}

func (d *decider) note(format string, args ...any) {
	if text := fmt.Sprintf(format, args...); !slices.Contains(d.answer.Notes, text) {
		d.answer.Notes = append(d.answer.Notes, text)
	}
}

func (d *decider) refer(rule string, more ...string) {
	d.answer.Status = limit.Refer
	d.note("%s Stop, and refer: the clinician’s word comes before the next session.", d.Rules[rule].says(more...))
}

// whole looks at the sessions as wholes: what refers, and whether anything may step up.
func (d *decider) whole() {
	if d.Limits.Status() == limit.Refer {
		d.refer("red_flag")
	}
	var last *lesson.Record
	if n := len(d.records); n > 0 {
		last = &d.records[n-1]
	}
	if last == nil {
		d.note("There is no record to decide from: the first rungs stand.")
		return
	}
	for _, r := range d.records {
		if f := r.FollowUp; f != nil && len(f.RedFlags) > 0 {
			d.refer("red_flag")
			for _, flag := range f.RedFlags {
				if !slices.Contains(d.answer.Client.RedFlags, flag) {
					d.answer.Client.RedFlags = append(slices.Clone(d.answer.Client.RedFlags), flag)
				}
			}
		}
	}
	if f := last.FollowUp; f != nil {
		if f.Spread && f.HoursToSettle > d.Rules["spread"].Hours {
			d.refer("spread")
		}
		for _, s := range f.Symptoms {
			switch {
			case (s.Change == "down" || s.Change == "new" && leg(s.Where)) && f.HoursToSettle > d.Rules["spread"].Hours:
				d.refer("spread")
			case s.Change == "stays" && (s.Kind == "tingling" || s.Kind == "numbness"):
				d.refer("stays")
			}
			if s.Where == "upper_back" && s.Kind == "pain" && s.Change == "new" && d.brokenVertebra() {
				if p, _ := pain(*last); p > d.Rules["mid_back"].Pain || f.PainNextDay != nil && *f.PainNextDay > d.Rules["mid_back"].Pain {
					d.refer("mid_back")
				}
			}
		}
	}
	for _, it := range last.Items {
		if it.Pain != nil && it.Pain.Where == "upper_back" && it.Pain.Score > d.Rules["mid_back"].Pain && d.brokenVertebra() {
			d.refer("mid_back")
		}
	}
	var pains []int
	for _, r := range d.records {
		if p, ok := pain(r); ok {
			pains = append(pains, p)
		}
	}
	if rule, n := d.Rules["again"], len(pains); n >= rule.Sessions && !slices.ContainsFunc(pains[n-rule.Sessions:], func(p int) bool { return p <= rule.Pain }) {
		d.refer("again")
	}
	if rule, n := d.Rules["rising"], len(pains); n >= rule.Sessions {
		rising := pains[n-1] >= rule.Pain
		for i := n - rule.Sessions + 1; i < n; i++ {
			rising = rising && pains[i] > pains[i-1]
		}
		if rising {
			d.refer("rising")
		}
	}
	s := d.Rules.settling(*last)
	worst, _ := pain(*last)
	switch {
	case !s.answered:
		d.quiet, d.why = true, "how the last session settled"
	case d.Limits.Irritability > limit.Calm:
		d.quiet, d.why = true, "a calm day: it is irritable, so nothing steps up"
	case s.answered && !s.ok && !d.leaves(*last):
		d.quiet, d.why = true, "a session that settles as it ordinarily does"
	case worst >= d.Rules["hurt"].Pain && !d.leaves(*last) || slices.ContainsFunc(last.Items, func(x lesson.Done) bool {
		return x.Ended == "pain" || x.Pain != nil && x.Pain.Score >= d.Rules["hurt"].Pain
	}):
		d.quiet, d.why = true, "a session in which nothing hurts"
	}
	if s.answered && (s.hours > d.Rules["left_out"].Hours || worst > d.Rules["left_out"].Pain) || worst > d.Rules["left_out"].Pain {
		d.worse = true
		d.note("The next session is planned one pain level worse, and the clinician asked.")
	}
	if !s.answered {
		d.note("Nobody has asked yet how the session of %s settled: until it is answered nothing steps up.", last.On)
	}
	if d.leaves(*last) {
		d.note("%s", d.Rules["leaving"].says())
	}
}

func leg(where string) bool {
	return slices.Contains([]string{"seat", "thigh", "knee", "calf", "foot"}, where)
}

func (d *decider) brokenVertebra() bool {
	for _, k := range d.client.Conditions {
		if yes, said := k.Yes("vertebral_fracture"); said && yes {
			return true
		}
	}
	return false
}

// leaves says whether symptoms left the limb after a session, and nothing moved down it;
// that outweighs pain up to the rule's figure on the same day.
func (d *decider) leaves(r lesson.Record) bool {
	if r.FollowUp == nil {
		return false
	}
	leaving := false
	for _, s := range r.FollowUp.Symptoms {
		switch s.Change {
		case "leaving", "gone":
			leaving = true
		case "down", "new":
			return false
		}
	}
	p, _ := pain(r)
	return leaving && p <= d.Rules["leaving"].Pain && !r.FollowUp.Spread
}

// movedDown says whether symptoms moved down a limb after a session.
func movedDown(r lesson.Record) bool {
	return r.FollowUp != nil && (r.FollowUp.Spread || slices.ContainsFunc(r.FollowUp.Symptoms, func(s lesson.Symptom) bool { return s.Change == "down" }))
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
		if t := turns(d.records, v.ID, k.side, d.usual(v, k.side)); len(t) > 0 {
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
func (d *decider) decide(t thread) Decision {
	last := t.last()
	settings := t.variant.Settings
	for _, run := range last.runs {
		if run.Settings != (exercise.Settings{}) {
			settings = run.Settings
		}
	}
	dose := last.planned
	out := Decision{Family: t.variant.Family, Variant: t.variant.ID, Side: t.side, Step: Hold, To: Target{t.variant.ID, &dose, settings}, Because: []string{}, Rules: []string{}}
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
		if v := d.gentlest(t); v != nil && v.ID != t.variant.ID {
			out.Changed, out.To = "rung", Target{v.ID, usual(v), v.Settings}
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
		if v := d.gentlest(t); v != nil && v.ID != t.variant.ID {
			out.Changed, out.To = "rung", Target{v.ID, usual(v), v.Settings}
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
		out.WaitingFor = d.missing(t, s)
	}
	return out
}

func usual(v *exercise.Variant) *exercise.Dose { d := v.Studio; return &d }

func round(share float64) float64 { return float64(int(share*100+0.5)) / 100 }

func (d *decider) away(on string) int {
	day, err := time.Parse(time.DateOnly, on)
	if err != nil {
		return 0
	}
	return int(d.on.Sub(day).Hours() / 24)
}

// blamed says whether what did not settle is laid to an exercise: to those that hurt, and
// where none did to the one that asked the most.
func (d *decider) blamed(r lesson.Record, t thread) bool {
	hurt, most, asks := false, "", -1.0
	for _, it := range r.Items {
		if it.Skipped {
			continue
		}
		if it.Pain != nil && it.Pain.Score >= 3 || it.Ended == "pain" || it.Ended == "soreness" {
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
func (d *decider) missing(t thread, s settling) string {
	if ok, why := d.clean(t.last()); !ok {
		return why
	}
	if n := d.Rules["clean"].Sessions - d.cleanRun(t); n > 0 {
		return words(n) + " more clean session" + map[bool]string{true: "s"}[n > 1]
	}
	return d.why
}

// up is exactly one step: of dose, else of a setting, else of the rung where that is earned.
func (d *decider) up(t thread, out *Decision) {
	last := t.last()
	if dose, ok := more(last.planned, t.variant); ok && !d.earned(t) {
		out.Changed, out.To.Dose = "dose", &dose
		return
	}
	for _, s := range t.variant.SmallSteps() {
		if s.Harder && t.variant.Settings == out.To.Settings && len(t.variant.Next) == 0 {
			out.Changed, out.To.Settings = "setting", s.Settings
			out.Because = append(out.Because, sentence(s.Words))
			return
		}
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
			out.Step, out.WaitingFor = Hold, "what earns the next rung: "+t.variant.Earn.Words
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

func sentence(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:] + "."
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

// earned says whether what earns the next rung was done in the sessions it asks for.
func (d *decider) earned(t thread) bool {
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
	for _, s := range t.variant.SmallSteps() {
		if !s.Harder && t.variant.Settings == out.To.Settings {
			out.Changed, out.To.Settings, out.To.Dose = "setting", s.Settings, &part
			out.Because = append(out.Because, sentence(s.Words))
			return
		}
	}
	if v := d.before(t); v != nil {
		dose := usual(v)
		out.Changed, out.To = "rung", Target{v.ID, dose, v.Settings}
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

// gentlest is the first rung below an exercise that the client may do; nil for none.
func (d *decider) gentlest(t thread) *exercise.Variant {
	at, lowest := t, (*exercise.Variant)(nil)
	for range 20 { // no ladder is longer
		v := d.before(at)
		if v == nil {
			break
		}
		lowest, at.variant = v, v
	}
	if lowest == nil {
		return t.variant
	}
	return lowest
}

// rest leaves an exercise out until a session has settled.
func (d *decider) rest(t thread, since, because string) {
	c := &d.answer.Client
	c.Resting = append(slices.DeleteFunc(slices.Clone(c.Resting), func(r limit.Resting) bool { return r.Variant == t.variant.ID }),
		limit.Resting{Family: t.variant.Family, Variant: t.variant.ID, Since: since, Because: because})
}
