package web

import (
	"fmt"
	"html/template"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/plan"
	"restbend/formats"
	"restbend/store"
)

// besideOption is what a plan can be set beside: another way, place or length of
// it, not saved, or another plan of the client.
type besideOption struct {
	Value, Words string
	Chosen       bool
}

// besideColumn is one of the two plans.
type besideColumn struct {
	Title    string
	Plan     plan.Plan
	Ribbon   template.HTML
	Rows     []besideRow
	Purposes []besideShare
	Take     map[string]string // fields that make the plan so; nil for what is saved
}

type besideRow struct {
	plan.Item
	Number int
	Only   bool // the other does not have it
}

// besideShare is how many minutes serve a purpose here and in the other plan.
type besideShare struct {
	Purpose exercise.Purpose
	Minutes float64
	More    bool
}

// beside shows two plans side by side.
func (w *site) beside(c *gin.Context) {
	row, client, r, ok := w.planAndRequest(c)
	if !ok {
		return
	}
	with := c.Query("with")
	options := w.besideOptions(c, row, r)
	if with == "" && len(options) > 0 {
		with = options[0].Value
	}
	other, title, take, err := w.besideOf(c, row, with)
	if err != nil {
		w.refused(c, err)
		return
	}
	for i := range options {
		options[i].Chosen = options[i].Value == with
	}
	a := besideColumn{Title: "As planned", Plan: row.Plan, Ribbon: w.ribbonAt(row, -1, 610, false, -1)}
	b := besideColumn{Title: title, Plan: other.Plan, Ribbon: w.ribbonAt(other, -1, 610, false, -1), Take: take}
	a.fill(other.Plan)
	b.fill(row.Plan)
	w.pages.render(c, http.StatusOK, "beside", gin.H{"Row": row, "Client": client, "Columns": []besideColumn{a, b}, "Options": options})
}

// fill marks what the other plan does not have and sums up the purposes.
func (k *besideColumn) fill(other plan.Plan) {
	mine, theirs := minutesByPurpose(k.Plan), minutesByPurpose(other)
	for i, it := range k.Plan.Items {
		only := !slices.ContainsFunc(other.Items, func(o plan.Item) bool { return o.Variant == it.Variant })
		k.Rows = append(k.Rows, besideRow{it, i + 1, only})
	}
	for _, p := range exercise.Purposes {
		if mine[p] > 0 {
			k.Purposes = append(k.Purposes, besideShare{p, mine[p], mine[p] > theirs[p]+0.5})
		}
	}
	slices.SortStableFunc(k.Purposes, func(a, b besideShare) int { return int(60 * (b.Minutes - a.Minutes)) })
	k.Purposes = k.Purposes[:min(8, len(k.Purposes))]
}

// minutesByPurpose counts an exercise's work under its first purpose.
func minutesByPurpose(p plan.Plan) map[exercise.Purpose]float64 {
	out := map[exercise.Purpose]float64{}
	for _, it := range p.Items {
		if len(it.Purposes) > 0 {
			out[it.Purposes[0]] += it.SecondsWork / 60
		}
	}
	return out
}

func (w *site) besideOptions(c *gin.Context, row store.Plan, r plan.Request) []besideOption {
	var out []besideOption
	for _, a := range exercise.Approaches {
		if a != row.Plan.Approach {
			out = append(out, besideOption{Value: "approach:" + string(a), Words: "the " + string(a) + " way"})
		}
	}
	for _, p := range w.placesFor(r) {
		if p != row.Plan.Place {
			out = append(out, besideOption{Value: "place:" + string(p), Words: p.Words()})
		}
	}
	for _, m := range []int{row.Plan.MinutesAsked - 10, row.Plan.MinutesAsked + 10} {
		if m >= 5 && m <= 120 {
			out = append(out, besideOption{Value: fmt.Sprintf("minutes:%d", m), Words: fmt.Sprintf("%d minutes", m)})
		}
	}
	plans, err := w.Store.PlanHeadsOf(c.Request.Context(), row.ClientID, 20)
	if err != nil {
		return out
	}
	for _, p := range plans {
		if p.ID != row.ID && len(out) < 18 {
			out = append(out, besideOption{Value: "plan:" + p.ID, Words: planWords(p)})
		}
	}
	return out
}

// planWords names a saved plan.
func planWords(p store.PlanHead) string {
	if p.On == "" {
		return "no day yet, " + app.Clock(p.Seconds) + " min"
	}
	if p.Taught {
		return "what was taught on " + dateWords(p.On)
	}
	return "the plan for " + dateWords(p.On)
}

// besideOf is the plan to set beside, its title, and what would make this plan so.
func (w *site) besideOf(c *gin.Context, row store.Plan, with string) (store.Plan, string, map[string]string, error) {
	kind, value, _ := strings.Cut(with, ":")
	wish := app.WishOf(row.Plan)
	title := ""
	switch kind {
	case "plan":
		other, err := w.Store.Plan(c.Request.Context(), value)
		if err == nil && other.ClientID != row.ClientID {
			err = store.ErrNotFound
		}
		return other, app.Capital(
			planWords(store.PlanHead{On: other.On, Taught: other.Taught(), Seconds: other.Plan.SecondsTotal}),
		), nil, err
	case "approach":
		wish.Approach, title = exercise.Approach(value), "The "+value+" way"
	case "place":
		wish.Place, title = exercise.Place(value), app.Capital(exercise.Place(value).Words())
	case "minutes":
		if _, err := fmt.Sscan(value, &wish.Minutes); err != nil {
			return row, "", nil, &formats.Invalid{Path: "with", Want: fmt.Sprintf("expected minutes as a whole number, found %q", value)}
		}
		title = value + " minutes"
	default:
		return row, "", nil, &formats.Invalid{
			Path: "with",
			Want: fmt.Sprintf("%q is nothing to set beside; expected approach, place, minutes or plan", with),
		}
	}
	p, err := w.PlanAs(c.Request.Context(), row, wish)
	other := row
	other.Plan = p
	return other, title, map[string]string{kind: value}, err
}
