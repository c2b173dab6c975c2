package web

import (
	"html/template"
	"math"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/readiness"
	"restbend/store"
)

// builder is the plan page.
type builder struct {
	Row        store.Plan
	Client     store.Client
	Age        string
	Caution    string
	Cautions   *cautions
	Ribbon     template.HTML
	Rows       []planRow
	Chosen     int // index, −1 for none
	Tray       *tray
	LeftOut    []leftOut
	Undo, Redo string   // what an undo would take back, and a redo make again
	Advice     string   // what the day asks for, where that is less than was asked
	Notes      []string // the plan's others
	Off        string   // by how much the minutes are missed, if they are
	Adding     *adding
	Rest       bool // the rest is to be replanned
	Refusal    string
	Places     []exercise.Place
	Approaches []exercise.Approach
	Purposes   []exercise.Purpose // that the session may be focused on
	Set        limit.Limits
	Day        dayLine // what the plan's day allows; none of one that was taught
}

// ChosenItem is the exercise that is looked at; nil for none.
func (b builder) ChosenItem() *plan.Item {
	if b.Chosen < 0 || b.Chosen >= len(b.Row.Plan.Items) {
		return nil
	}
	return &b.Row.Plan.Items[b.Chosen]
}

// planRow is an exercise as a row of the plan.
type planRow struct {
	plan.Item
	Number   int
	NewPhase bool
	Figure   Figure
	Chosen   bool
}

// leftOut is one reason, with the exercises it leaves out.
type leftOut struct {
	Why string
	Of  []struct{ Name, Instead string }
}

func (w *site) plan(c *gin.Context) {
	w.showPlan(c, http.StatusOK, c.Query("item"), c.Query("look"), "")
}

func (w *site) showPlan(c *gin.Context, status int, item, look, refusal string) {
	row, client, r, ok := w.planAndRequest(c)
	if !ok {
		return
	}
	if look == "" {
		look = c.Query("look")
	}
	b := builder{
		Row:        row,
		Notes:      row.Plan.Notes,
		Client:     client,
		Age:        age(client.Client.BirthYear, w.Today()),
		Caution:    w.Library.Conditions.Words(client.Client),
		Chosen:     -1,
		Refusal:    refusal,
		Places:     w.placesFor(r),
		Approaches: exercise.Approaches,
		Purposes:   w.offeredGoals(),
		Undo:       w.Store.LastChange(c.Request.Context(), row.ID, row.Revision),
		Redo:       w.Store.NextChange(c.Request.Context(), row.ID, row.Revision),
		Set:        r.Limits.Limits,
		Cautions:   w.cautions(r.Limits, true),
	}
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
	if !row.Taught() {
		day, err := w.ReadyForPlan(c.Request.Context(), row, client.Client, readiness.Plan)
		if err != nil {
			w.refused(c, err)
			return
		}
		b.Day = w.dayOf(day.Readiness)
	}
	if miss := row.Plan.SecondsTotal - row.Plan.Target(); math.Abs(miss) > 0.03*row.Plan.Target() {
		b.Off = app.Clock(math.Abs(miss)) + map[bool]string{true: " too long", false: " too short"}[miss > 0]
	}
	if b.Advice = row.Plan.Advice(); b.Advice != "" {
		b.Notes = b.Notes[1:]
	}
	b.Rest = c.Query("rest") != ""
	switch {
	case row.Taught():
	case c.Query("add") != "" && refusal == "":
		b.Adding = w.adding(r, row.Plan, c.Query("q"), visitorOf(c).Look.Units)
	case b.Chosen >= 0:
		b.Tray = w.tray(r, row.Plan, b.Chosen, look, visitorOf(c).Look.Units)
	}
	for _, k := range row.Plan.Barrings() {
		out := leftOut{Why: k.Because}
		for _, l := range k.Of {
			one := struct{ Name, Instead string }{Name: l.Name}
			if v := w.Library.Variant(l.Instead); v != nil {
				one.Instead = v.Name
			}
			out.Of = append(out.Of, one)
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
