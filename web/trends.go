package web

import (
	"context"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/progress"
	"restbend/draw"
	"restbend/handout"
	"restbend/store"
)

// Trends over the sessions, as charts with their tables behind them, and the report.

// trendView is a trend with its table.
type trendView struct {
	progress.Trend
	Rows   []trendRow
	Change string // first to last, in words
	Counts string // whether that counts as a real change
	Source string
}

type trendRow struct {
	On     string
	Values []string
}

func (w *site) trendsOf(ctx context.Context, k store.Client) ([]progress.Trend, error) {
	rows, err := w.Store.RecordsOf(ctx, k.ID)
	if err != nil {
		return nil, err
	}
	var records []lesson.Record
	for _, r := range rows {
		records = append(records, r.Record)
	}
	return progress.Trends(k.Client, records, w.Library.Variants), nil
}

func trendViews(all []progress.Trend) []trendView {
	var out []trendView
	for _, t := range all {
		v := trendView{Trend: t}
		at := map[string]int{}
		for i, l := range t.Lines {
			for _, p := range l.Points {
				on := p.On.String()
				row, ok := at[on]
				if !ok {
					row = len(v.Rows)
					at[on] = row
					v.Rows = append(v.Rows, trendRow{On: on, Values: make([]string, len(t.Lines))})
				}
				v.Rows[row].Values[i] = fmt.Sprintf("%.2g", p.Value)
			}
		}
		slices.SortFunc(v.Rows, func(a, b trendRow) int { return strings.Compare(a.On, b.On) })
		var changes []string
		for _, l := range t.Lines {
			if n := len(l.Points); n > 1 {
				changes = append(changes,
					strings.TrimSpace(fmt.Sprintf("%s %.2g to %.2g", l.Words, l.Points[0].Value, l.Points[n-1].Value)),
				)
			}
		}
		v.Change = strings.Join(changes, ", ") + " (" + t.Unit + ")"
		v.Counts, v.Source = t.Real()
		out = append(out, v)
	}
	return out
}

// trend draws one trend of a client.
func (w *site) trend(c *gin.Context) {
	k, err := w.Store.Client(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	all, err := w.trendsOf(c.Request.Context(), k)
	if err != nil {
		w.refused(c, err)
		return
	}
	at := slices.IndexFunc(all, func(t progress.Trend) bool { return t.ID+".svg" == c.Param("name") })
	if at < 0 {
		fail(c, http.StatusNotFound, "There is no such trend of this client.")
		return
	}
	var lines []draw.TrendLine
	for _, l := range all[at].Lines {
		line := draw.TrendLine{Words: l.Words}
		for _, p := range l.Points {
			line.Days, line.Values = append(line.Days, p.On.Time()), append(line.Values, p.Value)
		}
		lines = append(lines, line)
	}
	c.Header("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'")
	c.Data(http.StatusOK, "image/svg+xml", draw.SVGTrend(all[at].Unit, all[at].Most, lines, 420, 180))
}

// often is an exercise and how often it was done clean.
type often struct {
	Name  string
	Times int
}

// report is one page on how it goes: for the client in plain words, or for who referred
// the client with rules and sources.
func (w *site) report(c *gin.Context) {
	if _, facts, ok := w.reportOf(c); ok {
		w.pages.render(c, http.StatusOK, "report", facts)
	}
}

// reportOf gathers what a report says; it has answered where that cannot be.
func (w *site) reportOf(c *gin.Context) (k store.Client, facts gin.H, ok bool) {
	k, err := w.Store.Client(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	records, err := w.Store.RecordsOf(c.Request.Context(), k.ID)
	if err != nil {
		w.refused(c, err)
		return
	}
	trends, err := w.trendsOf(c.Request.Context(), k)
	if err != nil {
		w.refused(c, err)
		return
	}
	next, err := w.nextView(c.Request.Context(), k, records, visitorOf(c).Look.Units)
	if err != nil {
		w.refused(c, err)
		return
	}
	done := map[string]int{}
	for _, r := range records {
		seen := map[string]bool{}
		for _, d := range r.Record.Items {
			if !d.Skipped && d.Ended == "done" && !seen[d.Name] && d.Name != "" {
				seen[d.Name] = true
				done[d.Name]++
			}
		}
	}
	var most []often
	for name, n := range done {
		most = append(most, often{name, n})
	}
	slices.SortFunc(most, func(a, b often) int {
		if a.Times != b.Times {
			return b.Times - a.Times
		}
		return strings.Compare(a.Name, b.Name)
	})
	most = most[:min(8, len(most))]
	set := w.Limits(k.Client, w.Today())
	var wants []string
	for _, g := range k.Client.Goals {
		wants = append(wants, g.Words())
	}
	for _, t := range limit.Tasks {
		if slices.Contains(k.Client.Tasks, t.ID) {
			wants = append(wants, t.Words)
		}
	}
	first := ""
	if len(records) > 0 {
		first = records[0].On
	}
	var away []string // each sentence once
	parts := app.Promises(set.Limits)
	for _, part := range append(parts, app.Part{Promises: app.NotNow(set.Limits)}) {
		for _, p := range part.Promises {
			for _, r := range p.Reasons[:min(1, len(p.Reasons))] {
				if !slices.Contains(away, r.Text) {
					away = append(away, r.Text)
				}
			}
		}
	}
	facts = gin.H{
		"Away":     away,
		"Client":   k,
		"Age":      age(k.Client.BirthYear, w.Today()),
		"Caution":  w.Library.Conditions.Words(k.Client),
		"Referrer": c.Query("for") == "referrer",
		"Sessions": len(records),
		"First":    first,
		"Wants":    wants,
		"Trends":   trendViews(trends),
		"Most":     most,
		"Next":     next,
		"Promises": parts,
		"NotNow":   app.NotNow(set.Limits),
		"Set":      set,
		"Today":    w.Today().String(),
		"Stop":     app.WhenToStop,
		"Call":     w.call(),
	}
	return k, facts, true
}

// reportPDF is the report as PDF.
func (w *site) reportPDF(c *gin.Context) {
	k, facts, ok := w.reportOf(c)
	if !ok {
		return
	}
	referrer := facts["Referrer"].(bool)
	wants := slices.Clone(facts["Wants"].([]string))
	if k.Client.GoalText != "" {
		wants = append([]string{"“" + k.Client.GoalText + "”"}, wants...)
	}
	attendance := "No session taught yet."
	if n := facts["Sessions"].(int); n > 0 {
		attendance = fmt.Sprintf("%d sessions since %s.", n, dateWords(facts["First"].(string)))
	}
	var changed, most, limits []string
	for _, t := range facts["Trends"].([]trendView) {
		line := t.Words + ": " + t.Change
		if t.Counts != "" {
			line += ". " + t.Counts
		}
		if referrer && t.Source != "" {
			line += " (" + t.Source + ")"
		}
		changed = append(changed, line)
	}
	for _, m := range facts["Most"].([]often) {
		most = append(most, fmt.Sprintf("%s, %d times", m.Name, m.Times))
	}
	limits = facts["Away"].([]string)
	if referrer {
		limits = nil
		for _, part := range append(facts["Promises"].([]app.Part), app.Part{Name: "Not for now",
			Promises: facts["NotNow"].([]app.Promise)}) {
			for _, p := range part.Promises {
				line := part.Name + ": " + p.Text
				for _, r := range p.Reasons {
					line += ". " + strings.TrimSuffix(r.Text, ".") + " (" + r.Source + ")"
				}
				limits = append(limits, line+".")
			}
		}
	}
	var next []string
	n := facts["Next"].(nextView)
	for _, l := range n.Up {
		next = append(next, "A step further with "+l.Name+".")
	}
	for _, l := range n.Back {
		next = append(next, "A step back for now with "+l.Name+".")
	}
	h := handout.Heading{
		Client: k.Client.Name,
		Studio: w.Store.Setting(c.Request.Context(), "studio"),
		On:     longDate(facts["Today"].(string)),
	}
	if referrer {
		h.Caution = app.Capital(w.Library.Conditions.Words(k.Client)) + "."
	}
	s, err := handout.Page(
		"Report",
		h,
		[]handout.Section{
			{Title: "Wanted", Lines: wants},
			{Title: "Attendance", Lines: []string{attendance}},
			{Title: "What changed", Lines: changed},
			{Title: "Done most, and clean", Lines: most},
			{
				Title: map[bool]string{true: "Limits kept, and why", false: "What we keep away from"}[referrer],
				Lines: limits,
			},
			{Title: "Next", Lines: next},
			{Title: "When to stop, and when to call", Lines: []string{app.WhenToStop, w.call()}},
		},
		handout.Options{Size: c.Query("size"), Font: SheetFont()},
	)
	w.sheet(c, s, err, "report.pdf")
}
