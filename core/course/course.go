// Package course plans weeks ahead to a review: which day holds a lesson, a home day, a
// short bout or rest, what is in each, and what comes when if all goes well.
//
// The lessons of a week open and close alike, and their middles turn: what one lesson holds
// brings less in the others, so that the week covers more than any of them. What comes later
// is not guessed: the lessons are taken to go cleanly, and the rules of package progress say
// what follows, one rung a week at most.
package course

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/home"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/progress"
	"restbend/core/readiness"
)

// Bounds of what is asked for.
const (
	MostWeeks = 26
	WeekDays  = 7
)

// Kinds of days.
const (
	Studio = "studio"
	Home   = "home"
	Micro  = "micro" // short bouts alone
	Rest   = "rest"
	Review = "review" // the tests again
)

// Request is what is asked of a course.
type Request struct {
	Plan     plan.Request // of a lesson on the first day; client, place, minutes and approach
	Library  plan.Library
	Now      readiness.Limits                               // of today, for what begins ahead
	Limits   func(limit.Client, civil.Day) readiness.Limits // ahead of a day, since operations age
	Rules    progress.Rules
	Records  []lesson.Record
	From     civil.Day // the first day
	Today    civil.Day // days before it are over
	Weeks    int
	Sessions int // lessons a week
	HomeDays int // a week
	Off      []time.Weekday
	Also     map[exercise.Purpose][]time.Weekday // what else the client does that serves a purpose: walking, gardening
}

// Course is restbend.course/1.
type Course struct {
	Format    string              `json:"format"`
	Status    string              `json:"status"`
	Weeks     []Week              `json:"weeks"`
	ReviewOn  string              `json:"review_on"`
	Retests   []string            `json:"retests"` // measures to take again, by id
	Notes     []string            `json:"notes"`
	Readiness readiness.Readiness `json:"readiness"`
	Library   string              `json:"library,omitempty"`
}

// Week is seven days.
type Week struct {
	Week   int            `json:"week"` // from 1
	Days   []Day          `json:"days"`
	Tally  map[string]int `json:"tally"`  // by purpose, on how many days something leads with it
	Wanted map[string]int `json:"wanted"` // and on how many it is wanted
	Easy   bool           `json:"easy"`   // less is done, so that what was won can settle
	Comes  []Step         `json:"comes"`  // what this week has new, if all went well before
	Load   float64        `json:"load"`   // of a lesson, on average: minutes of work times demand
}

// Day is one day of a course.
type Day struct {
	On      string `json:"on"`
	Kind    string `json:"kind"`
	Minutes int    `json:"minutes"`
	Focus   string `json:"focus"`
	Items   []Item `json:"items"`
	Taught  bool   `json:"taught"` // there is a record of it
	Missed  bool   `json:"missed"` // there is none, and it is over
	Moved   bool   `json:"moved"`  // here from a day that was missed

	Plan plan.Plan `json:"-"` // of a lesson
}

// Item is one exercise of a day.
type Item struct {
	Variant string        `json:"variant"`
	Name    string        `json:"name"`
	Dose    exercise.Dose `json:"dose"`
	Sides   []string      `json:"sides"`
	New     bool          `json:"new"` // nothing before it in records or course holds it
}

// Step is something that comes if all goes well.
type Step struct {
	Variant string `json:"variant"`
	Name    string `json:"name"`
	From    string `json:"from"`  // the exercise it follows on
	Words   string `json:"words"` // what comes, where it is more of the same
	If      string `json:"if"`
}

// Check refuses a request that no course can be made from.
func (r Request) Check() error {
	for _, n := range []struct {
		field           string
		value, from, to int
	}{{"weeks", r.Weeks, 1, MostWeeks}, {"sessions-per-week", r.Sessions, 1, WeekDays}, {"home-days", r.HomeDays, 0, WeekDays}} {
		if n.value < n.from || n.value > n.to {
			return fmt.Errorf("%s: expected %d to %d, found %d", n.field, n.from, n.to, n.value)
		}
	}
	if free := WeekDays - len(r.Off); r.Sessions > free {
		return fmt.Errorf("sessions-per-week: %d lessons do not fit into the %d days that are not off", r.Sessions, free)
	}
	if n := r.Sessions + r.HomeDays; n > WeekDays {
		return fmt.Errorf("home-days: %d lessons and %d home days are more than a week has", r.Sessions, r.HomeDays)
	}
	return nil
}

// The shape of a course (common practice): one week in so many is easy, with so much of the
// minutes; the load of a lesson rises by no more than this a week; a home programme is
// reviewed after so many weeks.
const (
	easyEvery = 4
	easyShare = 2.0 / 3
	mostRise  = 1.10
	homeWeeks = 2
	fewest    = 10 // minutes of an easy lesson
)

// builder makes a course week by week.
type builder struct {
	Request
	client  limit.Client
	before  limit.Client // a week ago
	records []lesson.Record
	known   map[string]bool // variants so far
	frame   []plan.Item     // of every lesson
	home    home.Programme
	recent  []string
	count   int // lessons so far
	first   string
	load    float64 // of the last week that was not easy
	last    []plan.Plan
	steps   []Step // decided after the last week, for the next
	course  Course
}

// Make makes the course; the same request always gives the same one.
func Make(r Request) Course {
	m := &builder{
		Request: r,
		client:  r.Plan.Client,
		records: slices.Clone(r.Records),
		known:   map[string]bool{},
		count:   r.Plan.History.Sessions,
		course: Course{
			Format:  "restbend.course/1",
			Status:  plan.Ready,
			Weeks:   []Week{},
			Retests: []string{},
			Notes:   []string{},
			Library: r.Library.Hash,
		},
	}
	if m.course.Readiness = r.Now.Readiness; r.Now.Status() != limit.OK {
		m.course.Status, m.course.Notes = r.Now.Status(), append(m.course.Notes, r.Now.Readiness.Texts()...)
		return m.course
	}
	if answer, err := m.decide(r.From); err == nil {
		m.client = answer.Client
		if answer.Status == limit.Refer {
			m.course.Status, m.course.Notes = limit.Refer, answer.Notes
			return m.course
		}
	} else {
		m.course.Notes = append(m.course.Notes, "The records contradict each other and are not used: "+err.Error())
		m.records = nil
	}
	if begins := r.Limits(m.client, r.From); begins.Status() != limit.OK {
		m.course.Status, m.course.Notes = begins.Status(), append(m.course.Notes, begins.Readiness.Texts()...)
		return m.course
	}
	for _, rec := range r.Records {
		for _, it := range rec.Items {
			m.known[it.Variant] = true
		}
	}
	m.recent, m.before = r.Plan.History.Recent, m.client
	for week := 1; week <= r.Weeks; week++ {
		w, ok := m.week(week)
		if !ok {
			m.course.Status = plan.Infeasible
			return m.course
		}
		m.course.Weeks = append(m.course.Weeks, w)
	}
	m.review()
	m.course.Notes = append(m.course.Notes,
		"What comes later is a forecast: it holds if every lesson is clean and settles, and is made anew from each record.",
	)
	return m.course
}

// decide says what follows from the records there are, on a day.
func (m *builder) decide(on civil.Day) (progress.Answer, error) {
	w := progress.World{
		Variants: m.Library.Variants,
		Rules:    m.Rules,
		Limits:   m.Limits(m.client, on),
		Kit:      limit.KitOf(m.client, m.client.Place),
	}
	return progress.Decide(m.client, m.records, w, on)
}

// day is the date of day d, from 0, of a week, from 1.
func (m *builder) day(week, d int) civil.Day { return m.From.AddDate(0, 0, WeekDays*(week-1)+d) }

// week makes one week; false where a lesson holds nothing.
func (m *builder) week(n int) (Week, bool) {
	easy := n%easyEvery == 0 && n < m.Weeks
	w := Week{Week: n, Easy: easy, Comes: []Step{}, Wanted: Wanted(m.client), Tally: m.also()}
	if (n-1)%homeWeeks == 0 || len(m.home.Items) == 0 {
		m.home = m.atHome(n)
	}
	w.Days = m.layout(n)
	before := m.before
	m.before = m.client
	minutes := m.Plan.Minutes
	if easy {
		minutes = max(fewest, int(easyShare*float64(minutes))/5*5)
	}
	plans, ok := m.lessons(w, minutes)
	if !ok {
		return w, false
	}
	w.Load = load(plans)
	if !easy && m.load > 0 && w.Load > mostRise*m.load { // too much at once: nothing of what was decided comes yet
		m.client, m.steps = before, nil
		for fewer := minutes; fewer >= max(fewest, minutes/2); fewer -= 5 {
			if plans, ok = m.lessons(w, fewer); !ok {
				return w, false
			}
			if w.Load = load(plans); w.Load <= mostRise*m.load {
				break
			}
		}
		if w.Load > mostRise*m.load && len(m.last) >= len(plans) { // then the lightest lessons of the week before are repeated
			plans = slices.Clone(m.last)
			slices.SortStableFunc(plans, func(a, b plan.Plan) int { return cmp.Compare(load([]plan.Plan{a}), load([]plan.Plan{b})) })
			plans = plans[:len(days(w, Studio))]
			w.Load = load(plans)
		}
	}
	if !easy {
		m.load, m.last = w.Load, plans
	}
	m.fill(&w, plans)
	m.follow(&w)
	m.taught(n, &w, plans)
	return w, true
}

// days are those of a kind.
func days(w Week, kind string) []Day {
	return slices.DeleteFunc(slices.Clone(w.Days), func(d Day) bool { return d.Kind != kind })
}

// fill writes what each day holds, and counts it.
func (m *builder) fill(w *Week, plans []plan.Plan) {
	i := 0
	for d := range w.Days {
		day := &w.Days[d]
		day.Items = []Item{}
		switch day.Kind {
		case Studio:
			p := plans[i]
			i++
			day.Minutes, day.Focus, day.Plan = int(p.Target()/60), string(p.Focus), p
			for _, it := range p.Items {
				day.Items = append(day.Items, Item{it.Variant, it.Name, it.Dose, it.Sides, !m.known[it.Variant]})
				m.known[it.Variant] = true
			}
			lead(w.Tally, p.Items)
		case Home:
			day.Minutes = m.home.MinutesADay
			for _, it := range m.home.Items {
				day.Items = append(day.Items, Item{it.Variant, it.Name, it.Dose, it.Sides, !m.known[it.Variant]})
				m.known[it.Variant] = true
			}
			tallied(w.Tally, m.home)
		case Micro:
			seconds := 0.0
			for _, it := range m.home.Micro {
				day.Items = append(day.Items, Item{it.Variant, it.Name, it.Dose, it.Sides, false})
				seconds += float64(it.TimesADay) * it.Dose.Work(len(it.Sides), m.home.Breath)
			}
			day.Minutes = int(math.Ceil(seconds / 60))
		}
	}
	for d := range w.Days {
		for i := range w.Days[d].Items {
			if it := &w.Days[d].Items[i]; it.Sides == nil {
				it.Sides = []string{}
			}
		}
	}
	for _, d := range w.Days {
		if d.Kind != Studio {
			continue
		}
		for _, it := range d.Items {
			if it.New && len(m.course.Weeks) > 0 {
				s := Step{Variant: it.Variant, Name: it.Name, If: "if the lessons before it are clean"}
				if from := m.below(it.Variant); from != nil {
					s.From = from.Name
					s.If = fmt.Sprintf("if %s is clean", strings.ToLower(from.Name[:1])+from.Name[1:])
				}
				w.Comes = append(w.Comes, s)
			}
		}
	}
}

// below is a rung that was met already and leads to a variant.
func (m *builder) below(id string) *exercise.Variant {
	for _, v := range m.Library.Variants {
		if m.known[v.ID] && v.ID != id && slices.Contains(v.NextIDs(), id) {
			return v
		}
	}
	return nil
}

// lead counts, for each purpose that something in a lesson leads with, one day.
func lead(tally map[string]int, items []plan.Item) {
	seen := map[string]bool{}
	for _, it := range items {
		for _, p := range it.Purposes[:min(2, len(it.Purposes))] {
			if !seen[string(p)] {
				seen[string(p)] = true
				tally[string(p)]++
			}
		}
	}
}

func tallied(tally map[string]int, p home.Programme) {
	seen := map[string]bool{}
	for _, it := range p.Items {
		for _, x := range it.Purposes[:min(2, len(it.Purposes))] {
			if !seen[string(x)] {
				seen[string(x)] = true
				tally[string(x)]++
			}
		}
	}
}

// taught assumes that the lessons of a week went well and settled, and moves the client
// on by the rules of progress: one rung at most.
func (m *builder) taught(n int, w *Week, plans []plan.Plan) {
	i := 0
	for _, d := range w.Days {
		if d.Kind != Studio {
			continue
		}
		p := plans[i]
		i++
		if m.first == "" {
			m.first = d.On
		}
		m.count++
		m.recent = middle(p)
		if d.Taught || m.recorded(d.On) { // it is on record what happened
			continue
		}
		r := lesson.Fold([]plan.Plan{p}, lesson.AllDone(p))
		r.On, r.Plan = d.On, "forecast "+d.On
		pain := p.PainNow // as today: when it will ease is unknown
		r.Pain.Before, r.Pain.During, r.Pain.After = &pain, &pain, &pain
		r.FollowUp = &lesson.FollowUp{HoursToSettle: 1, Kind: "none", PainNextDay: &pain}
		m.records = append(m.records, r)
	}
	if w.Easy {
		return // gains settle
	}
	answer, err := m.decide(m.day(n+1, 0))
	if err != nil {
		return
	}
	m.client = oneRung(m.client, answer)
	m.steps = nil
	for _, d := range answer.Decisions {
		v := m.find(d.Variant)
		if d.Step != progress.StepUp || d.Changed == "rung" || v == nil || d.To.Dose == nil || v.Phases[0] == "settle" ||
			v.Phases[0] == "close" {
			continue // more of a settling exercise is not worth telling
		}
		words := d.To.Dose.Words(v.Sided())
		if d.Changed == "setting" {
			words = "one notch further"
		}
		if !slices.ContainsFunc(m.steps, func(s Step) bool { return s.Variant == d.Variant }) {
			m.steps = append(m.steps, Step{Variant: v.ID, Name: v.Name, From: v.Name, Words: words, If: "if it stays clean"})
		}
	}
}

// follow adds to what a week brings the steps that were decided for it and that its lessons
// hold.
func (m *builder) follow(w *Week) {
	if w.Easy {
		return
	}
	for _, s := range m.steps {
		held := slices.ContainsFunc(w.Days, func(d Day) bool {
			return d.Kind == Studio && slices.ContainsFunc(d.Items, func(it Item) bool { return it.Variant == s.Variant })
		})
		if held {
			w.Comes = append(w.Comes, s)
		}
	}
}

func (m *builder) find(id string) *exercise.Variant {
	for _, v := range m.Library.Variants {
		if v.ID == id {
			return v
		}
	}
	return nil
}

func (m *builder) recorded(on string) bool {
	return slices.ContainsFunc(m.Records, func(r lesson.Record) bool { return r.On == on })
}

// oneRung is the client after the decisions with one rung changed at most: of several changes
// the first is made and the others wait.
func oneRung(before limit.Client, a progress.Answer) limit.Client {
	after := a.Client
	changed := 0
	for _, d := range a.Decisions {
		if d.Step != progress.StepUp || d.Changed != "rung" {
			continue
		}
		if changed++; changed == 1 {
			continue
		}
		was := slices.IndexFunc(before.Rungs, func(k limit.Rung) bool { return k.Family == d.Family && k.Side == d.Side })
		after.Rungs = slices.DeleteFunc(
			slices.Clone(after.Rungs),
			func(k limit.Rung) bool { return k.Family == d.Family && k.Variant == d.To.Variant && k.Side == d.Side },
		)
		if was >= 0 {
			after.Rungs = append(after.Rungs, before.Rungs[was])
		} else {
			after.Rungs = append(after.Rungs, limit.Rung{Family: d.Family, Variant: d.Variant, Side: d.Side})
		}
	}
	return after
}

// atHome is the programme for home as of a week.
func (m *builder) atHome(n int) home.Programme {
	on := m.day(n, 0)
	return home.Make(
		home.Request{
			Client:   m.client,
			Limits:   m.Limits(m.client, on),
			Library:  m.Library,
			Days:     max(1, m.HomeDays),
			Recorded: len(m.records) > 0,
			Clean:    home.Clean(m.records),
			On:       on,
		},
	)
}

// review names the day and the measures to take again.
func (m *builder) review() {
	for _, w := range m.course.Weeks {
		for _, d := range w.Days {
			if d.Kind == Review {
				m.course.ReviewOn = d.On
			}
		}
	}
	for _, k := range m.Plan.Client.Measures {
		if k.ID != "breath_seconds" && !slices.Contains(m.course.Retests, k.ID) {
			m.course.Retests = append(m.course.Retests, k.ID)
		}
	}
}
