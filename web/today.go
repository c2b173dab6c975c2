package web

import (
	"net/http"
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"restbend/store"
)

// visit is one session of the day with who it is for.
type visit struct {
	Plan     store.Plan
	Client   store.Client
	Caution  string
	RecordID string
	Ribbon   any
}

// followUp is a record that nobody has asked about yet.
type followUp struct {
	Record store.Record
	Client store.Client
	Ago    string
}

func (w *site) today(c *gin.Context) {
	today := w.Today()
	plans, err := w.Store.PlansOn(c, today.Format(time.DateOnly))
	if err != nil {
		w.refused(c, err)
		return
	}
	classes, err := w.Store.Classes(c, today.Format(time.DateOnly))
	if err != nil {
		w.refused(c, err)
		return
	}
	classes = slices.DeleteFunc(classes, func(k store.Class) bool { return k.On != today.Format(time.DateOnly) })
	inClass := map[string]bool{}
	for _, k := range classes {
		for _, p := range k.People {
			inClass[p.PlanID] = true
		}
	}
	var visits []visit
	for _, p := range plans {
		if inClass[p.ID] {
			continue
		}
		client, err := w.Store.Client(c, p.ClientID)
		if err != nil {
			w.refused(c, err)
			return
		}
		v := visit{Plan: p, Client: client, Caution: w.Library.Book.Words(client.Client)}
		if p.Taught() {
			r, err := w.Store.RecordOfPlan(c, p.ID)
			if err != nil {
				w.refused(c, err)
				return
			}
			v.RecordID = r.ID
		}
		v.Ribbon = w.ribbon(p, -1, 1080, false)
		visits = append(visits, v)
	}
	open, err := w.ToFollowUp(c)
	if err != nil {
		w.refused(c, err)
		return
	}
	var follow []followUp
	for _, r := range open {
		client, err := w.Store.Client(c, r.ClientID)
		if err != nil {
			w.refused(c, err)
			return
		}
		follow = append(follow, followUp{r, client, ago(r.On, today)})
	}
	w.pages.render(c, http.StatusOK, "today", gin.H{"Date": today.Format("Monday 2 January"), "Classes": w.classRows(classes), "Visits": visits, "FollowUps": follow, "Answers": followUpChoices})
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
