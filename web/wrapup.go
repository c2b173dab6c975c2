package web

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/lesson"
	"restbend/core/plan"
	"restbend/draw"
	"restbend/formats"
	"restbend/store"
)

// The wrap-up: what the marks tell is filled in, and only what was otherwise is changed.

type endedWord struct{ ID, Words string }

// endWords says how a set ended.
func endWords(id string) string {
	for _, e := range endedWords {
		if e.ID == id {
			return e.Words
		}
	}
	return id
}

var endedWords = []endedWord{{"done", "all of it, clean"}, {"form", "form broke"}, {"pain", "pain"}, {"shaking", "shaking"},
	{"soreness", "soreness"}, {"tingling", "tingling"}, {"cramp", "cramp"}, {"choice", "left out or cut short"}}

// wrapRow is one exercise and side in the wrap-up form, with what is known of it.
type wrapRow struct {
	Field     string
	Name      string
	Side      string
	Thumb     Figure
	Dose      string
	Done      []lesson.Done
	Said      string // what was done, in words
	Otherwise bool   // not as planned
	Chosen    string
}

// wrapBase is the record as far as it is known: folded from the marks, or as planned where
// none were made.
func (w *site) wrapBase(ctx context.Context, row store.Plan) (lesson.Record, bool, error) {
	marks, err := w.Store.Marks(ctx, row.ID)
	if err != nil || len(marks) > 0 {
		r, err := w.RecordNow(ctx, row.ID)
		return r, true, err
	}
	r := lesson.AsPlanned(row.Plan)
	r.Plan, r.On = row.ID, w.Today().String()
	return r, false, nil
}

// wrapRows are the rows of a record, exceptions first.
func (w *site) wrapRows(row store.Plan, r lesson.Record) []wrapRow {
	var out []wrapRow
	for _, d := range r.Items {
		field := d.Item + "." + d.Variant
		if d.Side != "" {
			field += "." + d.Side
		}
		i := slices.IndexFunc(out, func(x wrapRow) bool { return x.Field == field })
		if i < 0 {
			i = len(out)
			x := wrapRow{Field: field, Name: d.Name, Side: d.Side}
			if at := slices.IndexFunc(
				row.Plan.Items,
				func(it plan.Item) bool { return it.ID == d.Item && it.Variant == d.Variant },
			); at >= 0 {
				x.Thumb = w.figures.get(w.figures.item(row.Plan.Items[at]))
			} else {
				x.Thumb = w.figures.get(want{variant: d.Variant, theme: draw.Light})
			}
			if d.Planned != nil {
				x.Dose = d.Planned.Words(false)
			}
			out = append(out, x)
		}
		out[i].Done = append(out[i].Done, d)
	}
	for i := range out {
		out[i].Said, out[i].Otherwise = doneSaid(out[i].Done), otherwise(out[i].Done)
	}
	slices.SortStableFunc(out, func(a, b wrapRow) int {
		return map[bool]int{true: -1, false: 1}[a.Otherwise] * map[bool]int{true: 0, false: 1}[a.Otherwise == b.Otherwise]
	})
	return out
}

// otherwise says whether something of an exercise was not as planned.
func otherwise(done []lesson.Done) bool {
	sets := 0
	for _, d := range done {
		if d.Ended != "done" || d.Skipped || d.Pain != nil || d.Tighter != "" || len(d.Stepped) > 0 || d.Sensation != "" {
			return true
		}
		sets += d.Sets
		if p := d.Planned; p != nil && p.RepetitionsBySet == nil && max(p.Repetitions, p.Breaths, 1) > d.Repetitions {
			return true
		}
	}
	return len(done) > 0 && done[0].Planned != nil && sets < len(done[0].Planned.SetSizes())
}

// doneSaid says what was done, run by run.
func doneSaid(done []lesson.Done) string {
	var words []string
	for _, d := range done {
		words = append(words, doneWords(d))
	}
	return strings.Join(words, "; ")
}

// doneWords say how much was done in one run of sets, and how it ended.
func doneWords(d lesson.Done) string {
	if d.Skipped {
		if d.Notes != "" {
			return d.Notes
		}
		return "not done"
	}
	var s string
	switch {
	case d.Repetitions == 0 && d.Seconds == 0:
		s = "hardly begun"
	case d.Planned != nil && d.Planned.Breaths > 0:
		s = fmt.Sprintf("%d breaths", d.Repetitions)
	case d.Planned != nil && d.Planned.Kind == exercise.AlternatingSeconds, d.Repetitions <= 1 && d.Seconds > 0:
		s = fmt.Sprintf("%.0f s", d.Seconds)
	case d.Planned != nil && d.Planned.Kind == exercise.HoldSeconds:
		s = fmt.Sprintf("%d holds of %.0f s", d.Repetitions, d.Seconds)
	default:
		s = fmt.Sprintf("%d", d.Repetitions)
	}
	if d.Sets > 1 {
		s = fmt.Sprintf("%d × %s", d.Sets, s)
	}
	if d.Ended != "done" {
		s += ", then " + map[string]string{"choice": "left it there"}[d.Ended]
		if d.Ended != "choice" {
			s += endWords(d.Ended)
		}
	}
	if d.Pain != nil {
		s += fmt.Sprintf(" (%s)", painAtWords(*d.Pain))
	}
	return s
}

// painAtWords say where it hurt and how much.
func painAtWords(p lesson.PainAt) string {
	s := strings.TrimSpace(p.Side + " " + strings.ReplaceAll(p.Where, "_", " "))
	return strings.TrimSpace(s + fmt.Sprintf(" %d", p.Score))
}

func (w *site) wrapUp(c *gin.Context) {
	row, client, ok := w.planAndClient(c)
	if !ok {
		return
	}
	if row.Taught() {
		w.toRecord(c, row)
		return
	}
	w.showWrapUp(c, http.StatusOK, row, client, "")
}

func (w *site) showWrapUp(c *gin.Context, status int, row store.Plan, client store.Client, refusal string) {
	r, marked, err := w.wrapBase(c.Request.Context(), row)
	if err != nil {
		w.refused(c, err)
		return
	}
	rows := w.wrapRows(row, r)
	exceptions := len(rows)
	for i, x := range rows {
		if !x.Otherwise && i < exceptions {
			exceptions = i
		}
	}
	figure := func(p *int) string {
		if p == nil {
			return ""
		}
		return strconv.Itoa(*p)
	}
	w.pages.render(c,
		status,
		"wrapup",
		gin.H{
			"Row":       row,
			"Client":    client,
			"Otherwise": rows[:exceptions],
			"Planned":   rows[exceptions:],
			"Ended":     endedWords,
			"Marked":    marked,
			"Before":    figure(r.Pain.Before),
			"During":    figure(r.Pain.During),
			"After":     figure(r.Pain.After),
			"Notes":     r.Notes,
			"Well":      wentWell(r),
			"Refusal":   refusal,
			"Checks":    r.SideChecks,
		},
	)
}

// wentWell is a sentence to tell the client: what was done clean, the longest hold first.
func wentWell(r lesson.Record) string {
	best, clean := lesson.Done{}, map[string]bool{}
	for _, d := range r.Items {
		if d.Ended == "done" && !d.Skipped {
			clean[d.Variant] = true
			if d.BestHold > best.BestHold {
				best = d
			}
		}
	}
	switch {
	case best.BestHold >= 5:
		return fmt.Sprintf(
			"You held “%s” for %.0f clean seconds, and did %d exercises clean.",
			strings.ToLower(best.Name[:1])+best.Name[1:],
			best.BestHold,
			len(clean),
		)
	case len(clean) > 0:
		return fmt.Sprintf("You did %d exercises clean today.", len(clean))
	}
	return "You came, and you listened to your body. That counts."
}

func (w *site) addRecord(c *gin.Context) {
	row, client, ok := w.planAndClient(c)
	if !ok {
		return
	}
	r, err := w.readRecord(c, row)
	after := app.After{NextOn: c.PostForm("next")}
	if err == nil {
		after.Activity, err = painField(c, "activity", "how well it goes")
	}
	var id string
	if err == nil {
		id, err = w.idempotent(c, func(ctx context.Context) (string, error) { return w.WrapUp(ctx, row.ID, r, after) })
	}
	var invalid *formats.Invalid
	switch {
	case errors.As(err, &invalid) && !row.Taught():
		_, sentence := w.sentence(c, err)
		w.showWrapUp(c, http.StatusUnprocessableEntity, row, client, sentence)
	case errors.Is(err, store.ErrChanged) && !row.Taught():
		w.showWrapUp(c,
			http.StatusConflict,
			row,
			client,
			"The plan was changed in another window in the meantime: look over what stands here now, and save again. Nothing was "+
				"saved yet.",
		)
	case err != nil:
		w.refused(c, err)
	default:
		c.Redirect(http.StatusSeeOther, "/records/"+id)
	}
}

// readRecord is what the marks tell, with what the form says was otherwise. A form that
// speaks of an exercise that is in the plan no more is store.ErrChanged.
func (w *site) readRecord(c *gin.Context, row store.Plan) (lesson.Record, error) {
	r, _, err := w.wrapBase(c.Request.Context(), row)
	if err != nil {
		return r, err
	}
	if row.Taught() { // another account of it
		stands, err := w.Store.RecordOfPlan(c.Request.Context(), row.ID)
		if err != nil {
			return r, err
		}
		r = stands.Record
	}
	r.Notes = strings.TrimSpace(c.PostForm("notes"))
	if r.Pain.Before, err = painField(c, "before", "pain before"); err != nil {
		return r, err
	}
	if c.Request.PostForm.Has("during") {
		if r.Pain.During, err = painField(c, "during", "pain during"); err != nil {
			return r, err
		}
	}
	if r.Pain.After, err = painField(c, "after", "pain after"); err != nil {
		return r, err
	}
	if r.Pain.After == nil {
		return r, &formats.Invalid{Path: "pain after", Want: "is needed, 0 to 10: ask before the client leaves"}
	}
	rows := w.wrapRows(row, r)
	for field := range c.Request.PostForm {
		name, ok := strings.CutPrefix(field, "ended-")
		if ok && !slices.ContainsFunc(rows, func(x wrapRow) bool { return x.Field == name }) {
			return r, store.ErrChanged
		}
	}
	r.Items = slices.Clone(r.Items)
	for _, x := range rows {
		ended := c.PostForm("ended-" + x.Field)
		if ended == "" || ended == "as" {
			continue
		}
		if endWords(ended) == ended {
			return r, &formats.Invalid{Path: x.Name, Want: fmt.Sprintf("how it ended is not known: %q", ended)}
		}
		one := asEnded(x.Done[0], ended)
		at := slices.IndexFunc(
			r.Items,
			func(d lesson.Done) bool { return d.Item == one.Item && d.Variant == one.Variant && d.Side == one.Side },
		)
		r.Items = slices.DeleteFunc(r.Items, func(d lesson.Done) bool {
			return d.Item == one.Item && d.Variant == one.Variant && d.Side == one.Side
		})
		r.Items = slices.Insert(r.Items, at, one)
	}
	return r, nil
}

// asEnded is an exercise on a side as somebody says afterwards that it ended: without
// figures of its own, it is the dose that was planned when it was done, and one set that
// broke off otherwise.
func asEnded(d lesson.Done, ended string) lesson.Done {
	one := lesson.Done{
		Variant:  d.Variant,
		Name:     d.Name,
		Item:     d.Item,
		Side:     d.Side,
		Settings: d.Settings,
		Planned:  d.Planned,
		Tighter:  d.Tighter,
		Ended:    ended,
	}
	if ended == "choice" {
		one.Skipped, one.Notes = true, "left out"
		return one
	}
	if p := d.Planned; p != nil {
		one.Sets, one.Repetitions, one.Seconds = len(p.SetSizes()), p.SetSizes()[0], p.Hold(0)
		if p.Breaths > 0 {
			one.Repetitions = p.Breaths
		}
		if ended != "done" {
			one.Sets, one.Repetitions = 1, max(1, d.Repetitions/2)
		} else if p.Kind == exercise.HoldSeconds {
			one.BestHold = p.Hold(0)
		}
	}
	if ended == "pain" {
		one.Sensation = "pain"
	}
	return one
}

// painField reads a pain from 0 to 10; empty is not said.
func painField(c *gin.Context, field, words string) (*int, error) {
	v := strings.TrimSpace(c.PostForm(field))
	if v == "" {
		return nil, nil
	}
	n, err := strconv.Atoi(v)
	if err != nil || n < 0 || n > 10 {
		return nil, &formats.Invalid{Path: words, Want: fmt.Sprintf("expected a whole number from 0 to 10, found %q", v)}
	}
	return &n, nil
}
