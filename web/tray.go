package web

import (
	"html/template"
	"slices"
	"strings"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/plan/edit"
	"restbend/core/plan/tell"
	"restbend/draw"
)

// tray is what can be done with the chosen exercise of a plan: its dose and place,
// why it is there, and what could stand instead.
type tray struct {
	Title        string
	Minutes      string
	In, Look     trayReach
	Item         plan.Item
	First, Last  bool // of the session
	Doses        []string
	Less, More   string // doses next to its own; empty at the ends
	Easier       []rungStep
	Harder       []rungStep
	With         string // what it is done with, at which settings
	Why          tell.Explanation
	Here         string // what it is for
	Total        string
	Alternatives []alternative
}

// rungStep is a step on the ladder from the chosen exercise; Barred says why it is
// not offered.
type rungStep struct{ ID, Name, Barred string }

type trayReach struct {
	Name    string
	Verdict exercise.Verdict
	SVG     template.HTML
	Tiny    template.HTML
}

type alternative struct {
	ID, Name string
	Verdict  exercise.Verdict
	Why      string
	Figure   Figure
	Reach    template.HTML
	Looked   bool
	Near     *rungStep // the nearest that is safe, for what is barred
}

const mostAlternatives = 6

// tray fills the tray for item i of a plan; look is the alternative looked at.
func (w *site) tray(r plan.Request, p plan.Plan, i int, look string, u app.Units) *tray {
	lib, it := w.PlanLibrary(), p.Items[i]
	t := &tray{Title: it.Purposes[0].Words(), Minutes: draw.HalfMinutes(it.Seconds()), Item: it, First: i == 0, Last: i == len(p.Items)-1,
		Why: tell.Explain(p, r, lib, i), Total: app.Clock(it.Seconds()), With: app.WithWords(it.Uses, it.Settings, u)}
	var here []string
	for _, line := range it.Because {
		here = append(here, app.BecauseWords(line))
	}
	t.Here = strings.Join(here, ", ")
	if len(it.Because) > 0 && !strings.HasPrefix(it.Because[0], "phase") {
		t.Here = "for " + t.Here
	}
	t.Here = app.Capital(t.Here) + "."
	for i, line := range t.Why.Rung {
		t.Why.Rung[i] = u.Say(line)
	}
	sided := len(it.Sides) > 0
	for _, d := range edit.Doses(p, r, lib, i) {
		t.Doses = append(t.Doses, d.Words(sided))
	}
	if at := slices.Index(t.Doses, it.Dose.Words(sided)); at >= 0 {
		if at > 0 {
			t.Less = t.Doses[at-1]
		}
		if at < len(t.Doses)-1 {
			t.More = t.Doses[at+1]
		}
	}
	easier, harder := plan.Neighbours(lib, it.Variant)
	t.Easier, t.Harder = w.rungSteps(r, easier), w.rungSteps(r, harder)
	if v := w.Library.Variant(it.Variant); v != nil {
		t.In = w.trayReach(r, v)
	}
	var looked *exercise.Variant
	for _, a := range edit.Alternatives(r, lib, it) {
		if len(t.Alternatives) == mostAlternatives {
			break
		}
		if looked == nil && look == "" || a.Variant.ID == look {
			looked = a.Variant
		}
		t.Alternatives = append(t.Alternatives, w.alternative(r, a.Variant, a.Judged, u))
	}
	if looked != nil {
		t.Look = w.trayReach(r, looked)
		for i := range t.Alternatives {
			t.Alternatives[i].Looked = t.Alternatives[i].ID == looked.ID
		}
	}
	return t
}

// rungSteps are the rungs next to an exercise that can be done here.
func (w *site) rungSteps(r plan.Request, ids []string) []rungStep {
	var out []rungStep
	for _, id := range ids {
		v := w.Library.Variant(id)
		if v == nil || !plan.Offers(r, w.PlanLibrary(), v) {
			continue
		}
		step := rungStep{ID: id, Name: v.Name}
		if j := plan.Judge(r, v); j.Verdict == exercise.Avoid {
			step.Barred = j.Reasons[0].Text
		}
		out = append(out, step)
	}
	return out
}

// alternative is a variant as it is offered, with verdict, figure and reach.
func (w *site) alternative(r plan.Request, v *exercise.Variant, j limit.Judgement, u app.Units) alternative {
	return alternative{ID: v.ID, Name: v.Name, Verdict: j.Verdict, Why: u.Say(verdictWords(v, j)),
		Figure: w.figures.get(want{variant: v.ID, form: j.Form, theme: draw.Light}), Reach: w.trayReach(r, v).Tiny}
}

// adding is the tray for bringing one more exercise into a plan.
type adding struct {
	Query        string
	Alternatives []alternative
	More         int // found beside those listed
}

const mostAdded = 8

// adding lists exercises that can be added: those that answer the words typed, or
// with none those that serve a goal or need that the plan does not serve yet.
func (w *site) adding(r plan.Request, p plan.Plan, query string, u app.Units) *adding {
	a := &adding{Query: query}
	lib := w.PlanLibrary()
	var found []*exercise.Variant
	words := strings.Fields(strings.ToLower(query))
	for _, v := range lib.Variants {
		if !plan.Offers(r, lib, v) || slices.ContainsFunc(p.Items, func(it plan.Item) bool { return it.Variant == v.ID }) {
			continue
		}
		if len(words) > 0 && !slices.ContainsFunc(words, func(word string) bool { return !strings.Contains(w.texts[v.ID], word) }) {
			found = append(found, v)
		}
		if len(words) == 0 && w.wanted(r, p, v) {
			found = append(found, v)
		}
	}
	safe := func(v *exercise.Variant) bool { return plan.Judge(r, v).Verdict != exercise.Avoid }
	slices.SortStableFunc(found, func(x, y *exercise.Variant) int {
		switch a, b := safe(x), safe(y); {
		case a && !b:
			return -1
		case b && !a:
			return 1
		}
		return 0
	})
	for _, v := range found {
		if len(a.Alternatives) == mostAdded {
			a.More = len(found) - mostAdded
			break
		}
		alt := w.alternative(r, v, plan.Judge(r, v), u)
		if near := w.Library.Variant(plan.Instead(r, lib, v, p.Items)); alt.Verdict == exercise.Avoid && near != nil {
			alt.Near = &rungStep{ID: near.ID, Name: near.Name}
		}
		a.Alternatives = append(a.Alternatives, alt)
	}
	return a
}

// wanted says whether a variant serves what the client wants and the plan lacks.
func (w *site) wanted(r plan.Request, p plan.Plan, v *exercise.Variant) bool {
	if plan.Judge(r, v).Verdict == exercise.Avoid ||
		slices.ContainsFunc(p.Items, func(it plan.Item) bool { return it.Family == v.Family }) {
		return false
	}
	return slices.ContainsFunc(v.Purposes[:1], func(x exercise.Purpose) bool {
		return slices.Contains(r.Client.Goals, x) ||
			slices.ContainsFunc(r.Limits.Needs, func(n limit.Need) bool { return n.Purpose == x })
	})
}

// trayReach draws what a variant asks of this client: as adapted when it has to
// be, plain when it is barred, so that the excess shows.
func (w *site) trayReach(r plan.Request, v *exercise.Variant) trayReach {
	j := plan.Judge(r, v)
	of := reachOf(r.Limits.Limits, j.Form.Measured, limit.Client{})
	of.Text = v.Name + ". " + of.Text
	return trayReach{v.Name, j.Verdict, of.Small(), of.Tiny()}
}

// verdictWords is the line under an offered exercise: what it is, what is adapted,
// or why it is barred.
func verdictWords(v *exercise.Variant, j limit.Judgement) string {
	switch j.Verdict {
	case exercise.Avoid:
		return j.Reasons[0].Text
	case exercise.Adapt:
		words := make([]string, 0, 2)
		for _, x := range j.Adaptations {
			words = append(words, x.Text)
		}
		return strings.Join(words, "; ")
	}
	return v.Position.Words() + ", " + v.Studio.Words(v.Sided())
}
