package web

import (
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/draw"
	"restbend/formats"
	"restbend/store"
)

// builder is the plan page.
type builder struct {
	Row        store.Plan
	Client     store.Client
	Age        string
	Caution    string
	Ribbon     template.HTML
	Rows       []planRow
	Chosen     int // index, −1 for none
	Tray       *tray
	LeftOut    []leftOut
	Undo       string // what an undo would take back
	Refusal    string
	Places     []exercise.Place
	Approaches []exercise.Approach
	Set        limit.Set
}

type planRow struct {
	plan.Item
	Number   int
	NewPhase bool
	Figure   Figure
	Chosen   bool
}

type tray struct {
	Title        string
	Minutes      string
	In, Look     trayRose
	Alternatives []alternative
}

type trayRose struct {
	Name    string
	Verdict exercise.Verdict
	SVG     template.HTML
}

type alternative struct {
	ID, Name string
	Verdict  exercise.Verdict
	Why      string
	Figure   Figure
	Rose     template.HTML
	Looked   bool
}

type leftOut struct {
	Name, Why, Instead string
}

func (w *site) plan(c *gin.Context) {
	w.showPlan(c, http.StatusOK, c.Query("item"), c.Query("look"), "")
}

func (w *site) showPlan(c *gin.Context, status int, item, look, refusal string) {
	row, client, ok := w.planAndClient(c)
	if !ok {
		return
	}
	r, err := w.RequestOf(row)
	if err != nil {
		w.refused(c, err)
		return
	}
	b := builder{Row: row, Client: client, Age: age(client.Client.BirthYear, w.Today()), Caution: app.ConditionWords(client.Client), Chosen: -1,
		Refusal: refusal, Places: w.placesFor(r), Approaches: exercise.Approaches, Undo: w.Store.LastChange(c, row.ID, row.Revision), Set: r.Limits}
	if n, err := strconv.Atoi(item); err == nil && n >= 1 && n <= len(row.Plan.Items) {
		b.Chosen = n - 1
	} else if item == "" && len(row.Plan.Items) > 0 {
		b.Chosen = hardest(row.Plan)
	}
	phase := exercise.Phase("")
	for i, it := range row.Plan.Items {
		b.Rows = append(b.Rows, planRow{it, i + 1, it.Phase != phase, w.figures.get(w.figures.item(it)), i == b.Chosen})
		phase = it.Phase
	}
	b.Ribbon = w.ribbon(row, b.Chosen, 1232, true)
	if b.Refusal == "" && !row.Taught() {
		b.Refusal = w.warning(client)
	}
	if b.Chosen >= 0 && !row.Taught() {
		b.Tray = w.tray(r, row.Plan.Items[b.Chosen], look)
	}
	for _, l := range row.Plan.LeftOut {
		out := leftOut{Name: l.Name, Why: l.Reasons[0].Text}
		if v := w.Library.Variant(l.Instead); v != nil {
			out.Instead = v.Name
		}
		b.LeftOut = append(b.LeftOut, out)
	}
	w.pages.render(c, status, "plan", b)
}

// placesFor are the places the client has what it takes for.
func (w *site) placesFor(r plan.Request) []exercise.Place {
	var out []exercise.Place
	for _, p := range exercise.Places {
		if p == r.Place {
			out = append(out, p)
			continue
		}
		for _, v := range w.Library.Variants {
			if p != "studio" && plan.Available(v, p, r.Client.Equipment) {
				out = append(out, p)
				break
			}
		}
	}
	return out
}

// hardest is the item a newcomer is shown first: the most demanding one.
func hardest(p plan.Plan) int {
	best := 0
	for i, it := range p.Items {
		if it.Demand > p.Items[best].Demand {
			best = i
		}
	}
	return best
}

// tray lists what could stand in an item's place, each with its verdict and
// rose.
func (w *site) tray(r plan.Request, it plan.Item, look string) *tray {
	t := &tray{Title: it.Purposes[0].Words(), Minutes: draw.HalfMinutes(it.Seconds())}
	if v := w.Library.Variant(it.Variant); v != nil {
		t.In = w.trayRose(r, v, 112)
	}
	var looked *exercise.Variant
	for _, a := range plan.Alternatives(r, w.PlanLibrary(), it) {
		if len(t.Alternatives) == 6 {
			break
		}
		if looked == nil && look == "" || a.Variant.ID == look {
			looked = a.Variant
		}
		rose := w.trayRose(r, a.Variant, 56)
		t.Alternatives = append(t.Alternatives, alternative{a.Variant.ID, a.Variant.Name, a.Judged.Verdict, alternativeWords(a),
			w.figures.get(want{variant: a.Variant.ID, form: a.Judged.Form, theme: draw.Light}), rose.SVG, false})
	}
	if looked != nil {
		t.Look = w.trayRose(r, looked, 112)
		for i := range t.Alternatives {
			t.Alternatives[i].Looked = t.Alternatives[i].ID == looked.ID
		}
	}
	return t
}

// trayRose draws what a variant asks of this client: as adapted when it has to
// be, plain when it is barred, so that the excess shows.
func (w *site) trayRose(r plan.Request, v *exercise.Variant, px float64) trayRose {
	j := limit.Judge(r.Limits, v)
	rose := roseOf(r.Limits, j.Form.Measured, limit.Client{})
	ground := ""
	return trayRose{v.Name, j.Verdict, template.HTML(draw.SVGRose(rose.Rose, px, ground, draw.Light, v.Name+". "+rose.text()))}
}

func alternativeWords(a plan.Alternative) string {
	switch a.Judged.Verdict {
	case exercise.Avoid:
		return a.Judged.Reasons[0].Text
	case exercise.Adapt:
		words := make([]string, 0, 2)
		for _, x := range a.Judged.Adaptations {
			words = append(words, x.Text)
		}
		return strings.Join(words, "; ")
	}
	return a.Variant.Position.Words() + ", " + a.Variant.Studio.Words(a.Variant.Sided)
}

// readWish reads the plan's controls: minutes, place, approach and pain today,
// with a step up or down when one of the step buttons was used.
func readWish(c *gin.Context, from app.Wish) (app.Wish, error) {
	number := func(field string, now int) (int, error) {
		v := strings.TrimSpace(c.PostForm(field))
		if v == "" {
			return now, nil
		}
		n, err := strconv.Atoi(v)
		if err != nil {
			return now, &formats.Invalid{Path: field, Want: fmt.Sprintf("expected a whole number, found %q", v)}
		}
		return n, nil
	}
	var err error
	if from.Minutes, err = number("minutes", from.Minutes); err != nil {
		return from, err
	}
	if from.Minutes < 5 || from.Minutes > 120 {
		return from, &formats.Invalid{Path: "minutes", Want: fmt.Sprintf("expected 5 to 120, found %d", from.Minutes)}
	}
	pain := 0
	if from.PainNow != nil {
		pain = *from.PainNow
	}
	if pain, err = number("pain", pain); err != nil {
		return from, err
	}
	switch c.PostForm("step") {
	case "fewer":
		from.Minutes = max(5, (from.Minutes-1)/5*5)
	case "more":
		from.Minutes = min(120, from.Minutes/5*5+5)
	case "less-pain":
		pain = max(0, pain-1)
	case "more-pain":
		pain = min(10, pain+1)
	}
	from.PainNow = &pain
	if v := c.PostForm("place"); v != "" {
		from.Place = exercise.Place(v)
	}
	if v := c.PostForm("approach"); v != "" {
		from.Approach = exercise.Approach(v)
	}
	return from, nil
}

// changed answers a change of a plan: the builder anew, or for a plain form the
// way back to it.
func (w *site) changed(c *gin.Context, err error, item string) {
	id := c.Param("id")
	if err != nil {
		status, sentence := w.sentence(c, err)
		if status == http.StatusNotFound || status == http.StatusInternalServerError {
			fail(c, status, sentence)
			return
		}
		w.showPlan(c, status, item, "", sentence)
		return
	}
	if c.GetHeader("HX-Request") == "true" {
		w.showPlan(c, http.StatusOK, item, "", "")
		return
	}
	to := "/plans/" + url.PathEscape(id)
	if item != "" {
		to += "?item=" + url.QueryEscape(item)
	}
	c.Redirect(http.StatusSeeOther, to)
}

func (w *site) revision(c *gin.Context) (int, error) {
	n, err := strconv.Atoi(c.PostForm("revision"))
	if err != nil {
		return 0, &formats.Invalid{Path: "revision", Want: "is missing; reload the page"}
	}
	return n, nil
}

func (w *site) changePlan(c *gin.Context) {
	revision, err := w.revision(c)
	if err == nil {
		var row store.Plan
		if row, err = w.Store.Plan(c, c.Param("id")); err == nil {
			var wish app.Wish
			wish, err = readWish(c, app.Wish{Minutes: row.Plan.MinutesAsked, Place: row.Plan.Place, Approach: row.Plan.Approach, PainNow: &row.Plan.PainNow})
			if err == nil {
				err = w.Replan(c, row.ID, revision, wish)
			}
		}
	}
	w.changed(c, err, "")
}

func (w *site) swap(c *gin.Context) {
	item := c.PostForm("item")
	revision, err := w.revision(c)
	if err == nil {
		var n int
		if n, err = strconv.Atoi(item); err != nil {
			err = &formats.Invalid{Path: "item", Want: fmt.Sprintf("expected the number of an exercise, found %q", item)}
		} else {
			err = w.Swap(c, c.Param("id"), revision, n-1, c.PostForm("variant"))
		}
	}
	w.changed(c, err, item)
}

func (w *site) undo(c *gin.Context) {
	revision, err := w.revision(c)
	if err == nil {
		err = w.Undo(c, c.Param("id"), revision)
	}
	w.changed(c, err, c.PostForm("item"))
}
