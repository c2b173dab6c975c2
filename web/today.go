package web

import (
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

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
	Ribbon  any
}

// followUp is a session that nobody has asked about yet.
type followUp struct {
	store.Unasked
	Ago string
}

func (w *site) today(c *gin.Context) {
	today := w.Today()
	on := today.Format(time.DateOnly)
	if !visitorOf(c).Sees() {
		w.desk(c, on)
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
		visits = append(visits, visit{v, w.Library.Book.Words(v.Now.Client), w.ribbon(v.Plan, -1, 1080, false)})
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
	w.pages.render(c, http.StatusOK, "today", gin.H{"Date": today.Format("Monday 2 January"), "Classes": w.classRows(classes), "Visits": visits, "All": max(all, len(visits)), "More": max(0, all-len(visits)), "FollowUps": follow, "MoreToAsk": more, "Answers": followUpChoices})
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

// ago says how many days back a date lies.
func ago(date string, today time.Time) string {
	t, err := time.Parse(time.DateOnly, date)
	if err != nil {
		return date
	}
	switch days := int(today.Sub(t).Hours() / 24); days {
	case 0:
		return "today"
	case 1:
		return "yesterday"
	default:
		return dateWords(date)
	}
}
