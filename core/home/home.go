// Package home makes what a client does alone between the lessons: two to six exercises
// that are safe without anybody watching, and at most three short bouts for the day.
package home

import (
	"slices"
	"strings"

	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/plan/edit"
	"restbend/core/readiness"
)

// Bounds of what is asked for; a programme without an answer has the usual.
const (
	FewestItems, MostItems, UsualItems = 2, 6, 4
	FewestDays, MostDays               = 1, 7
	mostMicro                          = 3
	askAgain                           = 14 // days after which it is reviewed (common practice)
)

// What may be done alone (common practice): no harder than this, of 10, nor further from
// steady than two feet close together, unless a hand is on something; without a record
// nothing that wants more than this of somebody new.
const (
	aloneDemand   = 5.0
	aloneBalance  = 2.0
	newDemand     = 3.0
	effortDemand  = 2.0 // from which a day's rest comes between
	microDemand   = 2.0
	microSeconds  = 90.0
	deskTimes     = 6 // a day: about hourly
	elsewhereTime = 3
)

// Programme is restbend.home/1.
type Programme struct {
	Format      string              `json:"format"`
	Status      string              `json:"status"` // ready, refer, stop, ask or infeasible
	Place       exercise.Place      `json:"place"`
	Approach    exercise.Approach   `json:"approach"`
	Items       []Item              `json:"items"`
	Micro       []Item              `json:"micro"`
	Do          []string            `json:"do"`
	DoNot       []string            `json:"do_not"`
	StopWhen    []string            `json:"stop_when"`
	CallWhen    []string            `json:"call_when"`
	AskAgainOn  string              `json:"ask_again_on"`
	MinutesADay int                 `json:"minutes_a_day"` // of the fullest day
	Breath      float64             `json:"breath_seconds"`
	Notes       []string            `json:"notes"`
	Unserved    []exercise.Purpose  `json:"unserved"` // goals that nothing here serves
	Readiness   readiness.Readiness `json:"readiness"`
}

// Item is one exercise to do alone.
type Item struct {
	ID          string                `json:"id"`
	Variant     string                `json:"variant"`
	Name        string                `json:"name"`
	SetUp       string                `json:"set_up"`
	Dose        exercise.Dose         `json:"dose"`
	Sides       []string              `json:"sides"`
	TimesADay   int                   `json:"times_a_day"`
	Days        []string              `json:"days"` // of Days
	When        string                `json:"when,omitempty"`
	Settings    exercise.Settings     `json:"settings,omitzero"`
	Share       float64               `json:"surface_share,omitzero"`
	Adaptations []exercise.Adaptation `json:"adaptations"`
	Uses        []string              `json:"uses"`
	Cues        []string              `json:"cues"`
	Breath      string                `json:"breath_cue"`
	Remember    string                `json:"remember"`
	Stop        []string              `json:"stop"`
	Caution     string                `json:"caution"`
	Purposes    []exercise.Purpose    `json:"purposes"`
	Because     []string              `json:"because"`
	Seconds     float64               `json:"seconds"` // once through
	Quantities  exercise.Quantities   `json:"quantities"`
}

// Days of the week, as a programme names them.
var Days = []string{"mon", "tue", "wed", "thu", "fri", "sat", "sun"}

// Request is what is asked for.
type Request struct {
	Client   limit.Client
	Limits   readiness.Limits
	Library  plan.Library
	Items    int
	Days     int // a week
	Recorded bool
	Clean    map[string]bool // variants that were done clean in a lesson
	On       civil.Day
}

// Place is where the client exercises at home.
func Place(c limit.Client) exercise.Place {
	switch {
	case c.Place == "mat" || c.Place == "bed" || c.Place == "chair" || c.Place == "standing":
		return c.Place
	case c.Tolerates.Floor != nil && !*c.Tolerates.Floor:
		return "chair"
	}
	return "mat"
}

// Alone says whether an exercise may be done without anybody watching, and why not.
func (r Request) Alone(v *exercise.Variant) (bool, string) {
	m := v.Plain().Measured
	depth := 0
	for _, w := range r.Library.Variants {
		if slices.Contains(w.NextIDs(), v.ID) {
			depth = 1
		}
	}
	quiet := v.Purposes[0] == "breath" || v.Purposes[0] == "relaxation"
	hand := m.Flag("support_hand")
	switch {
	case v.Watched:
		return false, "it wants somebody who watches"
	case m.Demand() > aloneDemand:
		return false, "it is too hard to do alone"
	case m.Number("balance_steps") > aloneBalance && !hand, m.Flag("eyes_closed"):
		return false, "it wants somebody near who can steady"
	case slices.Equal(v.Places, []exercise.Place{"studio"}) || v.Settings.Spring != "":
		return false, "it wants a studio"
	case r.Clean[v.ID] || quiet:
		return true, ""
	case r.Recorded:
		return false, "it was not done clean in a lesson yet"
	case depth > 0 || m.Demand() > newDemand:
		return false, "without a lesson on record only first steps that explain themselves go home"
	}
	return true, ""
}

// planned is the request to the planner for so many minutes, of what may be done alone.
func (r Request) planned(minutes int) (plan.Request, plan.Library) {
	alone := slices.DeleteFunc(slices.Clone(r.Library.Variants), func(v *exercise.Variant) bool {
		ok, _ := r.Alone(v)
		return !ok
	})
	approach := r.Client.Approach
	if approach == "" {
		approach = "steady"
	}
	return plan.Request{
			Client:   r.Client,
			Limits:   r.Limits,
			Place:    Place(r.Client),
			Approach: approach,
			Minutes:  minutes,
			Home:     true,
		}, plan.NewLibrary(
			alone,
			r.Library.Hash,
			r.Library.StandIns,
		)
}

// minutes of a session that the exercises are chosen from.
const minutes = 15

// fewest keeps so many of a session's exercises: those that serve a goal first, then a need,
// each purpose once before any twice, then the quiet ones that open and close; in the order
// of the session.
func fewest(items []plan.Item, most int) []plan.Item {
	worth := func(it plan.Item, served map[exercise.Purpose]bool) float64 {
		w := 0.5
		if it.Phase == "settle" || it.Phase == "close" {
			w = 1
		}
		for _, why := range it.Because {
			kind, purpose, _ := strings.Cut(why, ": ")
			share := map[bool]float64{true: 0.3, false: 1}[served[exercise.Purpose(purpose)]]
			w += map[string]float64{"goal": 4, "focus": 6, "need": 2}[kind] * share
		}
		return w
	}
	served := map[exercise.Purpose]bool{}
	var kept []plan.Item
	left := slices.Clone(items)
	for len(kept) < most && len(left) > 0 {
		at := 0
		for i := range left {
			if worth(left[i], served) > worth(left[at], served) {
				at = i
			}
		}
		for _, p := range left[at].Purposes {
			served[p] = true
		}
		if once := func(it plan.Item) bool { return it.Variant == left[at].Variant }; !slices.ContainsFunc(
			kept,
			once,
		) { // it may open and close a session
			kept = append(kept, left[at])
		}
		left = slices.Delete(left, at, at+1)
	}
	place := func(it plan.Item) int {
		return slices.IndexFunc(items, func(o plan.Item) bool { return o.ID == it.ID })
	}
	slices.SortFunc(kept, func(a, b plan.Item) int { return place(a) - place(b) })
	return kept
}

// Make is the programme for a request. The same request always gives the same.
func Make(r Request) Programme {
	p := Programme{
		Format:     "restbend.home/1",
		Status:     "ready",
		Place:      Place(r.Client),
		Approach:   r.Client.Approach,
		Items:      []Item{},
		Micro:      []Item{},
		Do:         []string{},
		DoNot:      []string{},
		StopWhen:   []string{},
		CallWhen:   []string{},
		Notes:      []string{},
		Unserved:   []exercise.Purpose{},
		Breath:     r.Client.BreathSeconds(),
		AskAgainOn: r.On.AddDate(0, 0, askAgain).String(),
	}
	if r.Items == 0 {
		r.Items = UsualItems
	}
	if r.Days == 0 {
		r.Days = MostDays
	}
	p.Readiness = r.Limits.Readiness
	if status := r.Limits.Status(); status != limit.OK {
		p.Status, p.Notes = status, append(p.Notes, r.Limits.Readiness.Texts()...)
		return p
	}
	if r.Limits.Readiness.Status == readiness.Stop {
		p.Notes = append(p.Notes, "Not today: it begins tomorrow. "+r.Limits.Readiness.FirstReason())
	}
	q, lib := r.planned(minutes)
	best := plan.Best(q, lib)
	if best.Status != plan.Ready {
		best.Items = nil
	}
	best.Items = fewest(best.Items, r.Items)
	if len(best.Items) < FewestItems {
		p.Status = "infeasible"
		p.Notes = append(p.Notes,
			"Nothing is left that this client could do alone and safely. "+map[bool]string{true: "What is done clean in the next " +
				"lessons may go home.", false: "After a first lesson there may be more."}[r.Recorded],
		)
		return p
	}
	for _, it := range best.Items {
		p.Items = append(p.Items, r.item(it))
	}
	p.Micro = r.micro(p)
	r.Finish(&p)
	if !r.Recorded {
		p.Notes = append(p.Notes, "There is no lesson on record yet: only first steps that explain themselves go home.")
	}
	return p
}

// item is an exercise of a plan as it is done at home.
func (r Request) item(it plan.Item) Item {
	v := r.find(it.Variant)
	out := Item{
		ID:          it.Variant,
		Variant:     it.Variant,
		Name:        it.Name,
		SetUp:       it.SetUp,
		Dose:        it.Dose,
		Sides:       it.Sides,
		TimesADay:   1,
		Days:        r.days(v, it),
		Settings:    it.Settings,
		Share:       it.SurfaceShare,
		Adaptations: it.Adaptations,
		Uses:        append([]string{}, it.Uses...),
		Cues:        it.Cues,
		Breath:      it.BreathCue,
		Remember:    v.OneThing(),
		Stop:        it.Stop,
		Purposes:    it.Purposes,
		Because:     it.Because,
		Seconds:     it.SecondsWork + it.SecondsRest,
		Quantities:  it.Quantities,
	}
	if len(it.Adaptations) > 0 {
		out.Remember = it.Cues[0]
	}
	var caution []string
	for _, a := range it.Adaptations {
		caution = append(caution, a.Text)
	}
	if it.OnlySide != "" {
		caution = append(caution, strings.SplitN(it.OnlySide, ":", 2)[0])
	}
	out.Caution = strings.Join(caution, "; ")
	return out
}

func (r Request) find(id string) *exercise.Variant {
	for _, v := range r.Library.Variants {
		if v.ID == id {
			return v
		}
	}
	return nil
}

// days are the days of an exercise: what is quiet on all of them, what is work with a day
// between, and what resists twice a week where bone is fragile.
func (r Request) days(v *exercise.Variant, it plan.Item) []string {
	all := spread(r.Days)
	work := it.Demand >= effortDemand && it.Phase != "settle" && it.Phase != "close"
	resisted := v.Settings.Band != "" || v.Settings.WeightKG > 0
	switch {
	case resisted && r.Client.Has("osteoporosis"):
		return within(all, []string{"mon", "thu"})
	case work || resisted:
		return within(all, []string{"mon", "wed", "fri"})
	}
	return all
}

// spread is so many days over the week.
func spread(n int) []string {
	switch n {
	case 1:
		return []string{"mon"}
	case 2:
		return []string{"mon", "thu"}
	case 3:
		return []string{"mon", "wed", "fri"}
	case 4:
		return []string{"mon", "tue", "thu", "fri"}
	case 5:
		return []string{"mon", "tue", "wed", "fri", "sat"}
	case 6:
		return Days[:6]
	}
	return Days
}

// within are the days wanted that are among all; as many of all where none is.
func within(all, wanted []string) []string {
	var out []string
	for _, d := range all {
		if slices.Contains(wanted, d) {
			out = append(out, d)
		}
	}
	if len(out) == 0 {
		return all[:min(len(all), len(wanted))]
	}
	return out
}

// micro are short bouts for the day, sitting or standing, of things that are not in the
// programme already: hourly for whoever is stiff from a desk.
func (r Request) micro(p Programme) []Item {
	out := []Item{}
	most, times, when := 1, elsewhereTime, "morning, noon and evening"
	if r.Client.Has("desk_stiffness") {
		most, times, when = mostMicro, deskTimes, "about every hour at the desk"
	}
	for _, family := range []string{"desk_set", "six_directions", "rib_breathing", "feet", "neck"} {
		for _, v := range r.Library.Variants {
			taken := func(it Item) bool {
				o := r.find(it.Variant)
				return it.Variant == v.ID || o != nil && o.Family == v.Family
			}
			if len(out) == most || v.Family != family || v.Position != "chair_sit" && v.Position != "standing" ||
				slices.ContainsFunc(p.Items, taken) ||
				slices.ContainsFunc(out, taken) {
				continue
			}
			place := exercise.Place("chair")
			if v.Position == "standing" {
				place = "standing"
			}
			q, _ := r.planned(10)
			q.Place = place
			if ok, _ := r.Alone(v); !ok && r.Recorded && v.Plain().Measured.Demand() > microDemand || v.Watched ||
				!plan.Offers(q, r.Library, v) {
				continue
			}
			session := plan.Plan{Status: plan.Ready, Place: place, Approach: q.Approach, Breath: p.Breath, Home: true}
			at, err := edit.Add(&session, q, r.Library, v.ID)
			if err != nil || session.Items[at].Seconds() > microSeconds || session.Items[at].Demand > microDemand {
				continue
			}
			it := r.item(session.Items[at])
			it.TimesADay, it.When, it.Days = times, when, spread(min(r.Days, 5))
			out = append(out, it)
		}
	}
	return out
}

// Finish works out what follows from the exercises: minutes, what serves which goal, what
// to do and not to do. It is called again after every change.
func (r Request) Finish(p *Programme) {
	most := 0.0
	for _, d := range Days {
		day := 0.0
		for _, it := range slices.Concat(p.Items, p.Micro) {
			if slices.Contains(it.Days, d) {
				day += it.Seconds * float64(it.TimesADay)
			}
		}
		most = max(most, day)
	}
	p.MinutesADay = int((most + 59) / 60)
	p.Unserved = []exercise.Purpose{}
	for _, g := range r.Client.Goals {
		if !slices.ContainsFunc(p.Items, func(it Item) bool { return slices.Contains(it.Purposes, g) }) {
			p.Unserved = append(p.Unserved, g)
		}
	}
	p.Do = []string{
		"Breathe all the way through; the breath is never held.",
		"Stop while it is still good: five clean are worth more than ten tired ones.",
	}
	lying := slices.ContainsFunc(p.Items, func(it Item) bool { v := r.find(it.Variant); return v != nil && v.Position.Lying() })
	if lying {
		p.Do = append(p.Do, "Roll to the side to come up from lying.")
	}
	if slices.ContainsFunc(p.Items, func(it Item) bool { return slices.Contains(it.Uses, "chair") }) {
		p.Do = append(p.Do, "The chair has no wheels, or stands against a wall.")
	}
	if slices.ContainsFunc(p.Items, func(it Item) bool {
		v := r.find(it.Variant)
		return v != nil && (v.Position == "standing" || v.Position == "standing_supported")
	}) {
		p.Do = append(p.Do, "Standing, keep something firm within reach.")
	}
	p.DoNot = []string{}
	for l := range r.Limits.Rows() {
		q, _ := exercise.Split(l.Quantity)
		if l.Allowed == nil || l.When != exercise.WhenAny || q == nil || len(l.Needs) > 0 || q.Aid {
			continue
		}
		if words := strings.ToUpper(q.Words[:1]) + q.Words[1:] + "."; !slices.Contains(p.DoNot, words) {
			p.DoNot = append(p.DoNot, words)
		}
	}
}
