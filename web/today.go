package web

import (
	"context"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/civil"
	"restbend/core/readiness"
	"restbend/store"
)

// How much the page of a day shows at once; the rest stands in calendar and records.
const (
	mostVisits = 30
	mostAsked  = 12
)

// visit is one session of the day with who it is for.
type visit struct {
	store.Visit
	Caution string
	Before  string // what is to be brought and asked before it
	Ribbon  any
	Day     dayLine
}

// beforeIt says what a session needs before it begins: what lies ready, and what is asked.
func beforeIt(v store.Visit) string {
	var kit []string
	for _, it := range v.Plan.Plan.Items {
		for _, u := range it.Uses {
			if u = strings.ReplaceAll(u, "_", " "); u != "mat" && u != "wall" && u != "pillow" && !slices.Contains(kit, u) {
				kit = append(kit, u)
			}
		}
	}
	out := strings.Join(kit, ", ")
	if app.AsksPressure(v.Now.Client) {
		if out != "" {
			out += "; "
		}
		out += "ask the blood pressure"
	}
	return out
}

// stripDay is a day of the week that stands above the page of a day.
type stripDay struct {
	On, Words string
	Count     int
	Now, Here bool
	Closed    bool
}

// weekStrip is the week of a day, yesterday first where it lies before, with how many come on
// each.
func (w *site) weekStrip(ctx context.Context, on string) ([]stripDay, error) {
	d, err := civil.Parse(on)
	if err != nil {
		return nil, err
	}
	from := d.AddDate(0, 0, -(int(d.Weekday())+6)%7)
	if d == from {
		from = from.AddDate(0, 0, -1)
	}
	bookings, err := w.Store.Bookings(ctx, from.String(), from.AddDate(0, 0, 7).String())
	if err != nil {
		return nil, err
	}
	house := w.House(ctx)
	var out []stripDay
	for n := range 8 {
		day := from.AddDate(0, 0, n)
		s := stripDay{
			On:     day.String(),
			Words:  day.Format("Mon 2"),
			Now:    day == w.Today(),
			Here:   day == d,
			Closed: house.Closed(day, "") != "",
		}
		classes := map[string]bool{} // a class counts once
		for _, b := range bookings {
			if b.On == s.On && !classes[b.ClassID] {
				s.Count++
				classes[b.ClassID] = b.ClassID != ""
			}
		}
		out = append(out, s)
	}
	return out, nil
}

// followUp is a session that nobody has asked about yet.
type followUp struct {
	store.Unasked
	Ago string
}

func (w *site) today(c *gin.Context) {
	today := w.Today()
	on := today.String()
	if !visitorOf(c).Sees() {
		w.desk(c, on)
		return
	}
	if asked, err := civil.Parse(c.Query("on")); err == nil && asked.Year() >= 2000 && asked.Year() < 2100 {
		on = asked.String()
	}
	week, err := w.weekStrip(c.Request.Context(), on)
	if err != nil {
		w.refused(c, err)
		return
	}
	rows, all, err := w.Store.VisitsOn(c.Request.Context(), on, mostVisits)
	if err != nil {
		w.refused(c, err)
		return
	}
	classes, err := w.Store.Classes(c.Request.Context(), on, on)
	if err != nil {
		w.refused(c, err)
		return
	}
	for _, k := range classes {
		for _, p := range k.People {
			if p.PlanID != "" {
				all--
			}
		}
	}
	var visits []visit
	for _, v := range rows {
		one := visit{
			Visit:   v,
			Caution: w.Library.Conditions.Words(v.Now.Client),
			Before:  beforeIt(v),
			Ribbon:  w.ribbon(v.Plan, -1, 830, false),
		}
		if !v.Plan.Taught() {
			day, err := w.ReadyForPlan(c.Request.Context(), v.Plan, v.Now.Client, readiness.Plan)
			if err != nil {
				w.refused(c, err)
				return
			}
			one.Day = w.dayOf(day.Readiness)
		}
		visits = append(visits, one)
	}
	// Whom a doctor has to see stands above the order of the day.
	slices.SortStableFunc(visits, func(a, b visit) int {
		return map[bool]int{true: -1}[a.Day.Status == "refer"] - map[bool]int{true: -1}[b.Day.Status == "refer"]
	})
	unasked, err := w.Store.NeverAsked(c.Request.Context(), mostAsked+1)
	if err != nil {
		w.refused(c, err)
		return
	}
	nobody := false
	if len(visits)+len(classes) == 0 {
		_, clients, err := w.Store.ClientPage(c.Request.Context(), "", "", "", 1)
		if err != nil {
			w.refused(c, err)
			return
		}
		nobody = clients == 0
	}
	open, err := w.ToFollowUp(c.Request.Context(), mostAsked+1)
	if err != nil {
		w.refused(c, err)
		return
	}
	var follow []followUp
	for _, r := range open {
		follow = append(follow, followUp{r, ago(r.On, today)})
	}
	more := len(follow) > mostAsked
	if more {
		follow = follow[:mostAsked]
	}
	closed := ""
	if day, err := civil.Parse(on); err == nil {
		closed = w.House(c.Request.Context()).Closed(day, "")
	}
	w.pages.render(c, http.StatusOK, "today", gin.H{"Closed": closed, "Date": longDay(on), "IsToday": on == today.String(),
		"Week": week, "Nobody": nobody, "Classes": w.classRows(classes), "Visits": visits, "All": max(all,
			len(visits)), "More": max(0, all-len(visits)), "FollowUps": follow, "Unasked": unasked[:min(len(unasked),
			mostAsked)], "MoreUnasked": len(unasked) > mostAsked, "MoreToAsk": more, "Answers": followUpChoices})
}

// comer is who comes to the desk.
type comer struct {
	Who, At string
	Minutes int
	Done    bool
}

// desk is the page of the day for who sees nothing else: names and times.
func (w *site) desk(c *gin.Context, on string) {
	all, err := w.Store.Bookings(store.As(c.Request.Context(), store.Actor{All: true}), on, on)
	if err != nil {
		w.refused(c, err)
		return
	}
	var lines []comer
	for _, b := range all {
		lines = append(lines, comer{b.Name, b.At, b.Minutes, b.Taught})
	}
	w.pages.render(c, http.StatusOK, "desk", gin.H{"Date": w.Today().Format("Monday 2 January"), "Lines": lines})
}
