package web

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/draw"
	"restbend/formats"
	"restbend/store"
)

// lesson is what the teaching page's script works from.
type lesson struct {
	Plan   string       `json:"plan"`
	Client string       `json:"client"`
	Breath float64      `json:"breath"`
	Items  []lessonItem `json:"items"`
}

type lessonItem struct {
	Name     string        `json:"name"`
	Variant  string        `json:"variant"`
	Position string        `json:"position"`
	Sides    []string      `json:"sides"`
	Means    string        `json:"means"`
	Kind     string        `json:"kind"`
	Parts    []lessonPart  `json:"parts"`  // one for each side, or one
	Uneven   bool          `json:"uneven"` // the sides differ
	Rest     float64       `json:"rest"`   // after a set
	Turn     float64       `json:"turn"`   // between the sides
	Change   float64       `json:"change"`
	End      float64       `json:"end"`
	Cues     []string      `json:"cues"`
	Breath   string        `json:"breathCue"`
	SetUp    string        `json:"setUp"`
	Adapt    []string      `json:"adapt"`
	Dose     string        `json:"dose"`
	Stop     []string      `json:"stop"`
	Steps    []plan.Step   `json:"steps"`
	Figures  lessonFigures `json:"figures"`
}

// lessonPart is the dose on one side.
type lessonPart struct {
	Sets    []int     `json:"sets"`
	Seconds float64   `json:"seconds"`
	Breaths int       `json:"breaths"`
	Holds   []float64 `json:"holds"` // that grow; empty when they are alike
}

type lessonFigures struct {
	Light, Dark map[string]string
}

func (w *site) teach(c *gin.Context) {
	row, client, ok := w.planAndClient(c)
	if !ok {
		return
	}
	if row.Taught() {
		r, err := w.Store.RecordOfPlan(c, row.ID)
		if err != nil {
			w.refused(c, err)
			return
		}
		c.Redirect(http.StatusSeeOther, "/records/"+r.ID)
		return
	}
	if stop := w.warning(client); stop != "" {
		fail(c, http.StatusUnprocessableEntity, stop)
		return
	}
	l := lesson{Plan: row.ID, Client: firstName(client.Client.Name), Breath: row.Plan.Breath}
	for i, it := range row.Plan.Items {
		item := lessonItem{Name: it.Name, Variant: it.Variant, Position: it.Position.Words(), Sides: it.Sides, Means: it.SideMeans,
			Kind: string(it.Dose.Kind), Uneven: len(it.Dose.BySide) > 0,
			Change: it.SecondsChange, Cues: it.Cues, Breath: it.BreathCue, SetUp: strings.TrimSpace(strings.TrimSpace(it.OnlySide+" "+it.First) + " " + it.SetUp + withSentence(it)), Dose: app.DoseWords(it.Dose, it.Sides), Steps: it.Steps, Adapt: []string{}, Stop: append([]string{}, it.Stop...),
			Figures: w.lessonFigures(it)}
		sides := it.Sides
		if len(sides) == 0 {
			sides = []string{""}
		}
		for _, side := range sides {
			d := it.Dose.On(side)
			item.Parts = append(item.Parts, lessonPart{d.SetSizes(), d.Seconds, d.Breaths, slices.Concat(d.SecondsByRepetition)})
		}
		item.Rest, item.Turn = it.Rests()
		if item.Turn > 0 {
			item.Change -= plan.SideSeconds * float64(len(sides)-1)
		}
		if i == len(row.Plan.Items)-1 {
			item.End = row.Plan.ComingUp(it.EndPosition)
			item.Change -= item.End
		}
		for _, a := range it.Adaptations {
			item.Adapt = append(item.Adapt, a.Text)
		}
		l.Items = append(l.Items, item)
	}
	w.pages.render(c, http.StatusOK, "teach", gin.H{"Cautions": w.cautions(w.Limits(client.Client, w.Today()), false), "Row": row, "Client": client, "Lesson": l, "Ribbon": w.ribbonAt(row, -1, 1224, false, 0, draw.Light), "DarkRibbon": w.ribbonAt(row, -1, 1224, false, 0, draw.Dark)})
}

// withSentence says what an exercise is done with, after its set-up.
func withSentence(it plan.Item) string {
	if with := app.WithWords(it.Uses, it.Settings); with != "" {
		return " With: " + with + "."
	}
	return ""
}

// warning is why a client may not be taught today, whatever was planned; empty
// when nothing stands against it.
func (w *site) warning(k store.Client) string {
	set := w.Limits(k.Client, w.Today())
	if set.Status() != limit.Refer {
		return ""
	}
	return set.Refer()[0].Text
}

// lessonFigures are the large figures of an exercise at its start and as it is
// taught, light and dark.
func (w *site) lessonFigures(it plan.Item) lessonFigures {
	address := func(pose string, theme draw.Theme) string {
		want := w.figures.item(it)
		want.pose, want.theme, want.large, want.ghost = pose, theme, true, true
		return w.figures.get(want).URL
	}
	both := func(theme draw.Theme) map[string]string {
		return map[string]string{"start": address("start", theme), "show": address("", theme)}
	}
	return lessonFigures{both(draw.Light), both(draw.Dark)}
}

// film answers with the stills of one exercise of a plan, for the page to show
// one after the other at the real tempo.
func (w *site) film(c *gin.Context) {
	row, err := w.Store.Plan(c, c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	n, err := strconv.Atoi(c.Param("item"))
	if err != nil || n < 1 || n > len(row.Plan.Items) {
		fail(c, http.StatusNotFound, "There is no such exercise in this plan.")
		return
	}
	want := w.figures.item(row.Plan.Items[n-1])
	if c.Query("theme") == string(draw.Dark) {
		want.theme = draw.Dark
	}
	stills := w.figures.film(want)
	if stills == nil {
		stills = []still{}
	}
	c.JSON(http.StatusOK, stills)
}

func firstName(name string) string {
	first, _, _ := strings.Cut(name, " ")
	return first
}

func (w *site) planAndClient(c *gin.Context) (store.Plan, store.Client, bool) {
	row, err := w.Store.Plan(c, c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return row, store.Client{}, false
	}
	client, err := w.Store.Client(c, row.ClientID)
	if err != nil {
		w.refused(c, err)
		return row, client, false
	}
	return row, client, true
}

// planAndRequest is planAndClient with the request that the plan answers.
func (w *site) planAndRequest(c *gin.Context) (store.Plan, store.Client, plan.Request, bool) {
	row, client, ok := w.planAndClient(c)
	if !ok {
		return row, client, plan.Request{}, false
	}
	r, err := w.RequestOf(c, row)
	if err != nil {
		w.refused(c, err)
		return row, client, r, false
	}
	return row, client, r, true
}

// wrapRow is one exercise and side in the wrap-up form.
type wrapRow struct {
	Field string
	Item  plan.Item
	Side  string
	Thumb Figure
	Ended string
}

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

func wrapRows(w *site, p plan.Plan) []wrapRow {
	var out []wrapRow
	for i, it := range p.Items {
		sides := it.Sides
		if len(sides) == 0 {
			sides = []string{""}
		}
		for _, s := range sides {
			field := fmt.Sprintf("%d", i+1)
			if s != "" {
				field += "-" + s
			}
			out = append(out, wrapRow{field, it, s, w.figures.get(w.figures.item(it)), "done"})
		}
	}
	return out
}

func (w *site) wrapUp(c *gin.Context) {
	row, client, ok := w.planAndClient(c)
	if !ok {
		return
	}
	if row.Taught() {
		w.teach(c) // leads to the record
		return
	}
	w.showWrapUp(c, http.StatusOK, row, client, "")
}

func (w *site) showWrapUp(c *gin.Context, status int, row store.Plan, client store.Client, refusal string) {
	rows := wrapRows(w, row.Plan)
	for i := range rows {
		if v := c.PostForm("ended-" + rows[i].Field); v != "" {
			rows[i].Ended = v
		}
	}
	before := c.PostForm("before")
	if before == "" {
		before = strconv.Itoa(row.Plan.PainNow)
	}
	w.pages.render(c, status, "wrapup", gin.H{"Row": row, "Client": client, "Rows": rows, "Ended": endedWords, "Before": before,
		"After": c.PostForm("after"), "Notes": c.PostForm("notes"), "Refusal": refusal})
}

func (w *site) addRecord(c *gin.Context) {
	row, client, ok := w.planAndClient(c)
	if !ok {
		return
	}
	r, err := w.readRecord(c, row)
	var id string
	if err == nil {
		id, err = w.once(c, func(ctx context.Context) (string, error) { return w.AddRecord(ctx, row.ID, r) })
	}
	var invalid *formats.Invalid
	if errors.As(err, &invalid) {
		_, sentence := w.sentence(c, err)
		w.showWrapUp(c, http.StatusUnprocessableEntity, row, client, sentence)
		return
	}
	if err != nil {
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/records/"+id)
}

func (w *site) readRecord(c *gin.Context, row store.Plan) (formats.Record, error) {
	r := formats.Record{Format: "restbend.record/1", Plan: row.ID, On: w.Today().Format(time.DateOnly), Notes: strings.TrimSpace(c.PostForm("notes")), Items: []formats.RecordItem{}}
	var err error
	if r.Pain.Before, err = painField(c, "before", "pain before"); err != nil {
		return r, err
	}
	if r.Pain.After, err = painField(c, "after", "pain after"); err != nil {
		return r, err
	}
	if r.Pain.After == nil {
		return r, &formats.Invalid{Path: "pain after", Want: "is needed, 0 to 10: ask before the client leaves"}
	}
	for _, x := range wrapRows(w, row.Plan) {
		item := formats.RecordItem{Variant: x.Item.Variant, Name: x.Item.Name, Side: x.Side, Ended: c.PostForm("ended-" + x.Field)}
		if item.Ended == "" {
			item.Ended = "done"
		}
		if item.Ended == "choice" {
			item.Skipped = true
		} else {
			item.Sets, item.Settings = len(x.Item.Dose.SetSizes()), x.Item.Settings
			for _, n := range x.Item.Dose.SetSizes() {
				item.Repetitions += n
			}
			item.Seconds = x.Item.Dose.Work(1, row.Plan.Breath)
			if x.Item.Dose.Kind == exercise.HoldSeconds && item.Ended == "done" {
				item.BestHold = x.Item.Dose.Seconds
			}
		}
		r.Items = append(r.Items, item)
	}
	return r, nil
}

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
