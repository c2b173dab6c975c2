package web

import (
	"context"
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/core/civil"
	"restbend/core/lesson"
	"restbend/draw"
	"restbend/formats"
	"restbend/store"
)

type recordRow struct {
	store.NamedRecord
	Ago       string
	Otherwise []string // what was not as planned, in a few words
	Planned   int
}

// recordWeek are the records of one week.
type recordWeek struct {
	Words   string
	Records []recordRow
}

// recordSearch is what records are looked for by.
type recordSearch struct{ Q, Mark, From, To string }

func (w *site) records(c *gin.Context) {
	s := recordSearch{strings.TrimSpace(c.Query("q")), c.Query("mark"), c.Query("from"), c.Query("to")}
	refusal := ""
	date := func(given *string, usual civil.Day) string {
		if *given == "" {
			return usual.String()
		}
		if _, err := civil.Parse(*given); err != nil {
			refusal = fmt.Sprintf("%q is not a date; expected YYYY-MM-DD.", *given)
			*given = ""
			return usual.String()
		}
		return *given
	}
	// To a year ahead: a clock that went back hides nothing.
	from, to := date(&s.From, w.Today().AddDate(0, -6, 0)), date(&s.To, w.Today().AddDate(1, 0, 0))
	page, next, err := w.recordPage(c.Request.Context(), s, from, to, c.Query("after"))
	if err != nil {
		w.refused(c, err)
		return
	}
	var weeks []recordWeek
	for _, r := range page {
		row := recordRow{NamedRecord: r, Ago: ago(r.On, w.Today())}
		row.Otherwise, row.Planned = exceptions(r.Record.Record.Items)
		words := weekWords(r.On, w.Today())
		if n := len(weeks); n == 0 || weeks[n-1].Words != words {
			weeks = append(weeks, recordWeek{Words: words})
		}
		last := &weeks[len(weeks)-1]
		last.Records = append(last.Records, row)
	}
	w.pages.render(c,
		http.StatusOK,
		"records",
		gin.H{
			"Weeks":   weeks,
			"Found":   len(page),
			"Next":    next,
			"Search":  s,
			"Ended":   endedWords[1:],
			"Refusal": refusal,
			"Any":     s != recordSearch{},
		},
	)
}

// pageOfRecords is how many records a page of the list has.
const pageOfRecords = 50

// recordPage is a page of what is looked for, from where another ended, and the address of
// the next; empty for none.
func (w *site) recordPage(ctx context.Context, s recordSearch, from, to, after string) ([]store.NamedRecord, string, error) {
	onward := func(after string) string {
		return "/records?" + url.Values{"q": {s.Q}, "mark": {s.Mark}, "from": {s.From}, "to": {s.To}, "after": {after}}.Encode()
	}
	words := strings.Fields(s.Q)
	if s.Mark != "" {
		words = append(words, "ended_"+s.Mark)
	}
	if len(words) == 0 {
		day, id, ok := strings.Cut(after, " ")
		if !ok {
			day, id = to, "~" // after every id of the day
		}
		page, err := w.Store.RecordPage(ctx, from, day, id, pageOfRecords+1)
		if err != nil || len(page) <= pageOfRecords {
			return page, "", err
		}
		last := page[pageOfRecords-1]
		return page[:pageOfRecords], onward(last.On + " " + last.ID), nil
	}
	var out []store.NamedRecord
	at, _ := strconv.ParseInt(after, 10, 64) // or the first page
	for {
		some, next, err := w.Store.RecordsWith(ctx, words, from, to, at, pageOfRecords)
		if err != nil {
			return nil, "", err
		}
		at = next
		for _, r := range some {
			known := slices.ContainsFunc(out, func(o store.NamedRecord) bool { return o.ID == r.ID })
			if !known && s.finds(r.Name, r.Record) { // or it was corrected since
				out = append(out, r)
			}
		}
		if len(some) < pageOfRecords || len(out) >= pageOfRecords {
			slices.SortStableFunc(out, func(a, b store.NamedRecord) int { return strings.Compare(b.On, a.On) })
			if len(some) < pageOfRecords {
				return out, "", nil
			}
			return out, onward(strconv.FormatInt(at, 10)), nil
		}
	}
}

// finds says whether a record answers to what is looked for: words in the client's name,
// an exercise or a note; and a mark.
func (s recordSearch) finds(client string, r store.Record) bool {
	text := strings.ToLower(client + " " + r.Record.Notes)
	marked := s.Mark == ""
	for _, d := range r.Record.Items {
		text += " " + strings.ToLower(d.Name)
		marked = marked || d.Ended == s.Mark || s.Mark == "pain" && d.Pain != nil
	}
	for _, word := range strings.Fields(strings.ToLower(s.Q)) {
		if !strings.Contains(text, word) {
			return false
		}
	}
	return marked
}

// exceptions are what was not as planned, each exercise once, and how many were.
func exceptions(items []lesson.Done) (otherwiseWords []string, planned int) {
	of := map[string][]lesson.Done{} // by exercise and side
	var order []string
	for _, d := range items {
		key := d.Variant + " " + d.Side
		if of[key] == nil {
			order = append(order, key)
		}
		of[key] = append(of[key], d)
	}
	said := map[string]bool{}
	for _, key := range order {
		v := of[key][0].Variant
		if !otherwise(of[key]) {
			if _, met := said[v]; !met {
				said[v] = false
				planned++
			}
			continue
		}
		if said[v] {
			continue
		}
		if _, met := said[v]; met {
			planned--
		}
		said[v] = true
		d := of[key][max(0, slices.IndexFunc(of[key], func(d lesson.Done) bool { return d.Ended != "done" }))]
		how := endWords(d.Ended)
		switch {
		case d.Skipped:
			how = "not done"
		case d.Ended == "done":
			how = "less than planned"
		}
		otherwiseWords = append(otherwiseWords, d.Name+": "+how)
	}
	return otherwiseWords, planned
}

// weekWords name the week of a date.
func weekWords(date string, today civil.Day) string {
	d, err := civil.Parse(date)
	if err != nil {
		return date
	}
	monday := func(t civil.Day) civil.Day { return t.AddDate(0, 0, -(int(t.Weekday())+6)%7) }
	switch weeks := monday(today).Since(monday(d)) / 7; weeks {
	case 0:
		return "This week"
	case 1:
		return "Last week"
	}
	return "Week of " + monday(d).Format("2 January")
}

func (w *site) record(c *gin.Context) { w.showRecord(c, http.StatusOK, "") }

func (w *site) showRecord(c *gin.Context, status int, refusal string) {
	r, err := w.Store.Record(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	row, err := w.Store.Plan(c.Request.Context(), r.PlanID)
	if err != nil {
		w.refused(c, err)
		return
	}
	client, err := w.Store.Client(c.Request.Context(), r.ClientID)
	if err != nil {
		w.refused(c, err)
		return
	}
	before, err := w.Store.RecordsOf(c.Request.Context(), r.ClientID)
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
	otherwise, asPlanned := w.taughtRows(row, r)
	series, err := w.Store.SeriesOf(c.Request.Context(), row.ID)
	if err != nil {
		w.refused(c, err)
		return
	}
	w.pages.render(c,
		status,
		"record",
		gin.H{
			"Record":    r,
			"Row":       row,
			"Client":    client,
			"Otherwise": otherwise,
			"AsPlanned": asPlanned,
			"Series":    seriesViews(series),
			"Places":    symptomPlaces(),
			"Flags":     flagBoxes(nil),
			"Pain":      painWas(r),
			"Taught":    w.taughtRibbon(row, r.Record, 1232),
			"Well":      wentWell(r.Record),
			"Ribbon":    w.ribbon(row, -1, 1232, false),
			"String":    template.HTML(draw.SVGPainString(painPoints(until), draw.Light)),
			"Refusal":   refusal,
			"Ago":       ago(r.On, w.Today()),
		},
	)
}

func (w *site) followUp(c *gin.Context) {
	f, err := readFollowUp(c)
	if err == nil {
		err = w.idempotentOnly(c, func(ctx context.Context) error { return w.FollowUp(ctx, c.Param("id"), f) })
	}
	w.added(c, err, w.showRecord, "")
}

func readFollowUp(c *gin.Context) (lesson.FollowUp, error) {
	var f lesson.FollowUp
	n, ok := readNumber(c.PostForm("hours"))
	if !ok {
		return f, &formats.Invalid{Path: "hours to settle", Want: "expected a number of hours, 0 when there was nothing"}
	}
	f.RedFlags, f.Symptoms = c.PostFormArray("red_flags"), symptomsOf(c)
	f.HoursToSettle, f.Kind, f.Spread = n, c.PostForm("kind"), c.PostForm("spread") == "yes"
	if f.Kind != "none" && f.Kind != "soreness" && f.Kind != "pain" {
		return f, &formats.Invalid{Path: "what it was", Want: "expected nothing, soreness or pain"}
	}
	var err error
	f.PainNextDay, err = painField(c, "next", "pain next day")
	return f, err
}
