package web

import (
	"context"
	"errors"
	"html/template"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"restbend/core/lesson"
	"restbend/draw"
	"restbend/formats"
	"restbend/store"
)

type recordRow struct {
	store.Record
	Client store.Client
	Ago    string
}

func (w *site) records(c *gin.Context) {
	from := w.Today().AddDate(0, -6, 0).Format(time.DateOnly)
	all, err := w.Store.RecordsBetween(c, from, w.Today().Format(time.DateOnly))
	if err != nil {
		w.refused(c, err)
		return
	}
	var rows []recordRow
	for _, r := range all {
		client, err := w.Store.Client(c, r.ClientID)
		if err != nil {
			w.refused(c, err)
			return
		}
		rows = append(rows, recordRow{r, client, ago(r.On, w.Today())})
	}
	w.pages.render(c, http.StatusOK, "records", gin.H{"Records": rows})
}

func (w *site) record(c *gin.Context) { w.showRecord(c, http.StatusOK, "") }

func (w *site) showRecord(c *gin.Context, status int, refusal string) {
	r, err := w.Store.Record(c, c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	row, err := w.Store.Plan(c, r.PlanID)
	if err != nil {
		w.refused(c, err)
		return
	}
	client, err := w.Store.Client(c, r.ClientID)
	if err != nil {
		w.refused(c, err)
		return
	}
	before, err := w.Store.RecordsOf(c, r.ClientID)
	if err != nil {
		w.refused(c, err)
		return
	}
	var until []store.Record
	for _, x := range before {
		if x.On <= r.On {
			until = append(until, x)
		}
	}
	if len(until) > 8 {
		until = until[len(until)-8:]
	}
	clean := 0
	for _, it := range r.Record.Items {
		if it.Ended == "done" {
			clean++
		}
	}
	w.pages.render(c, status, "record", gin.H{"Record": r, "Row": row, "Client": client, "Items": correctedItems(r), "Pain": painWas(r), "Clean": clean,
		"Ribbon": w.ribbon(row, -1, 1232, false), "String": template.HTML(draw.SVGPainString(painPoints(until), draw.Light)),
		"Refusal": refusal, "Ago": ago(r.On, w.Today())})
}

func (w *site) followUp(c *gin.Context) {
	f, err := readFollowUp(c)
	if err == nil {
		err = w.onceOnly(c, func(ctx context.Context) error { return w.FollowUp(ctx, c.Param("id"), f) })
	}
	var invalid *formats.Invalid
	if errors.As(err, &invalid) {
		_, sentence := w.sentence(c, err)
		w.showRecord(c, http.StatusUnprocessableEntity, sentence)
		return
	}
	if err != nil {
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/records/"+c.Param("id"))
}

func readFollowUp(c *gin.Context) (lesson.FollowUp, error) {
	var f lesson.FollowUp
	n, ok := readNumber(c.PostForm("hours"))
	if !ok {
		return f, &formats.Invalid{Path: "hours to settle", Want: "expected a number of hours, 0 when there was nothing"}
	}
	f.HoursToSettle, f.Kind, f.Spread = n, c.PostForm("kind"), c.PostForm("spread") == "yes"
	if f.Kind != "none" && f.Kind != "soreness" && f.Kind != "pain" {
		return f, &formats.Invalid{Path: "what it was", Want: "expected nothing, soreness or pain"}
	}
	var err error
	f.PainNextDay, err = painField(c, "next", "pain next day")
	return f, err
}
