package web

import (
	"context"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/plan/edit"
	"restbend/core/readiness"
	"restbend/draw"
	"restbend/store"
)

// teaching is what the teaching page's script works from.
type teaching struct {
	Plan     string              `json:"plan"`
	Revision int                 `json:"revision"`
	Client   string              `json:"client"`
	Breath   float64             `json:"breath"`
	Items    []teachItem         `json:"items"`
	Beats    []lesson.Beat       `json:"beats"` // the whole timetable
	Total    float64             `json:"total"` // seconds
	Marks    []lesson.Mark       `json:"marks"` // kept so far
	Places   []app.Choice        `json:"places"`
	Flags    []app.Choice        `json:"flags"` // warning signs
	Stop     string              `json:"stop"`
	Call     string              `json:"call"`
	Rules    readiness.MarkRules `json:"rules"` // by which the page weighs marks, also without a connection
}

type teachItem struct {
	ID         string           `json:"id"`
	Name       string           `json:"name"`
	Variant    string           `json:"variant"`
	Position   string           `json:"position"`
	Sides      []string         `json:"sides"`
	Means      string           `json:"means"`
	Kind       string           `json:"kind"`
	Shown      string           `json:"shown"`       // the side at work in the pictures
	Alternate  bool             `json:"alternating"` // lift by lift
	Uneven     bool             `json:"uneven"`      // the sides differ
	Cues       []string         `json:"cues"`
	Breath     string           `json:"breathCue"`
	SetUp      string           `json:"setUp"`
	Adapt      []string         `json:"adapt"`
	Dose       string           `json:"dose"`
	With       string           `json:"with"` // what it is done with, at which settings
	Stop       []string         `json:"stop"`
	Faults     []exercise.Fault `json:"faults"`
	Steps      []plan.Step      `json:"steps"`
	Figures    lessonFigures    `json:"figures"`
	Easier     []teachStep      `json:"easier"`
	Harder     []teachStep      `json:"harder"`
	Swaps      []teachStep      `json:"swaps"`
	Complaints []teachComplaint `json:"complaints"`
	Loads      []string         `json:"loads"`  // parts of the body that it loads
	Gentle     bool             `json:"gentle"` // inside the gentle limits of a day with pain
}

// teachStep is another exercise to go to, or why that is barred.
type teachStep struct {
	ID     string `json:"id"`
	Name   string `json:"name"`
	Barred string `json:"barred,omitempty"`
}

// teachComplaint is what to try, in order, where the exercise is felt in a place.
type teachComplaint struct {
	Where string             `json:"where"`
	Words string             `json:"words"`
	Steps []teachComplaintDo `json:"steps"`
}

type teachComplaintDo struct {
	Do     string `json:"do"`
	Text   string `json:"text"`
	To     string `json:"to,omitempty"` // an exercise to go to
	Barred string `json:"barred,omitempty"`
}

type lessonFigures struct {
	Light, Dark map[string]string
}

func (w *site) teach(c *gin.Context) {
	row, client, r, ok := w.planAndRequest(c)
	if !ok {
		return
	}
	if row.Taught() {
		w.toRecord(c, row)
		return
	}
	if !w.mayTeach(c, row, client) {
		return
	}
	t, err := w.teaching(c.Request.Context(), row, client, r, visitorOf(c).Look)
	if err != nil {
		w.refused(c, err)
		return
	}
	w.pages.render(c, http.StatusOK, "teach", gin.H{"Cautions": w.cautions(r.Limits, false), "Row": row, "Client": client,
		"Lesson": t, "Ribbon": w.ribbonAt(row, -1, 1224, false, 0)})
}

// toRecord leads to the record of a plan that was taught.
func (w *site) toRecord(c *gin.Context, row store.Plan) {
	r, err := w.Store.RecordOfPlan(c.Request.Context(), row.ID)
	if err != nil {
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/records/"+r.ID)
}

// teaching is a plan as the page teaches it.
func (w *site) teaching(ctx context.Context, row store.Plan, client store.Client, r plan.Request, look app.Look) (teaching, error) {
	t := teaching{
		Plan:     row.ID,
		Revision: row.Revision,
		Client:   firstName(client.Client.Name),
		Breath:   row.Plan.Breath,
		Beats:    lesson.Beats(row.Plan),
		Total:    row.Plan.SecondsTotal,
		Items:    []teachItem{},
		Stop:     app.WhenToStop,
		Call:     w.call(),
		Rules:    w.MarkRules(),
	}
	for _, where := range exercise.ComplaintPlaces {
		t.Places = append(t.Places, app.Choice{Value: where, Words: strings.ReplaceAll(where, "_", " ")})
	}
	for _, f := range limit.RedFlags {
		t.Flags = append(t.Flags, app.Choice{Value: f.ID, Words: f.Question})
	}
	marks, err := w.Store.Marks(ctx, row.ID)
	if err != nil {
		return t, err
	}
	t.Marks = append([]lesson.Mark{}, marks...)
	lib := w.PlanLibrary()
	for _, it := range look.Shown(row.Plan).Items {
		item := teachItem{
			ID:        it.ID,
			Name:      it.Name,
			Variant:   it.Variant,
			Position:  it.Position.Words(),
			Sides:     it.Sides,
			Means:     it.SideMeans,
			Kind:      string(it.Dose.Kind),
			Alternate: it.Dose.Alternating,
			Uneven:    len(it.Dose.BySide) > 0,
			Cues:      it.Cues,
			Breath:    it.BreathCue,
			Faults:    append([]exercise.Fault{}, it.Faults...),
			SetUp: strings.TrimSpace(
				strings.TrimSpace(it.OnlySide+" "+it.First) + " " + it.SetUp + withSentence(it, look.Units),
			),
			Dose:       app.DoseWords(it.Dose, it.Sides),
			With:       app.WithWords(nil, it.Settings, look.Units),
			Steps:      it.Steps,
			Adapt:      []string{},
			Stop:       append([]string{}, it.Stop...),
			Figures:    w.lessonFigures(it),
			Swaps:      []teachStep{},
			Complaints: []teachComplaint{},
		}
		if v := w.Library.Variant(it.Variant); v != nil {
			item.Shown = v.ShownSide()
		}
		for _, a := range it.Adaptations {
			item.Adapt = append(item.Adapt, look.Units.Say(a.Text))
		}
		easier, harder := plan.Neighbours(lib, it.Variant)
		item.Easier, item.Harder = teachSteps(w.rungSteps(r, easier)), teachSteps(w.rungSteps(r, harder))
		for _, a := range edit.Alternatives(r, lib, it) {
			if len(item.Swaps) < 4 && a.Judged.Verdict != exercise.Avoid {
				item.Swaps = append(item.Swaps, teachStep{ID: a.Variant.ID, Name: a.Variant.Name})
			}
		}
		if v := w.Library.Variant(it.Variant); v != nil {
			item.Complaints = w.complaints(r, v)
		}
		item.Loads, item.Gentle = w.Loaded(client.Client, it)
		t.Items = append(t.Items, item)
	}
	return t, nil
}

func teachSteps(of []rungStep) []teachStep {
	out := []teachStep{}
	for _, s := range of {
		out = append(out, teachStep(s))
	}
	return out
}

// complaints are the complaint paths of an exercise, with what of them is barred here.
func (w *site) complaints(r plan.Request, v *exercise.Variant) []teachComplaint {
	out := []teachComplaint{}
	for _, k := range v.Complaints {
		path := teachComplaint{Where: k.Where, Words: strings.ReplaceAll(k.Where, "_", " "), Steps: []teachComplaintDo{}}
		for _, s := range k.Steps {
			do := teachComplaintDo{Do: s.Do, Text: s.Text}
			if to := w.Library.Variant(s.To); to != nil && (s.Do == "rung" || s.Do == "swap") {
				if !plan.Offers(r, w.PlanLibrary(), to) {
					continue // not in this place
				}
				if do.To = to.ID; do.Text == "" {
					do.Text = to.Name
				}
				if j := plan.Judge(r, to); j.Verdict == exercise.Avoid {
					do.Barred = j.Reasons[0].Text
				}
			}
			path.Steps = append(path.Steps, do)
		}
		out = append(out, path)
	}
	return out
}

// withSentence says what an exercise is done with, after its set-up.
func withSentence(it plan.Item, u app.Units) string {
	if with := app.WithWords(it.Uses, it.Settings, u); with != "" {
		return " With: " + with + "."
	}
	return ""
}

// mayTeach says whether a plan may be taught now; it has answered where it may not: with
// the check where something is to be asked first, or what was planned is not for today, else
// with what to do instead.
func (w *site) mayTeach(c *gin.Context, row store.Plan, k store.Client) bool {
	marks, err := w.Store.Marks(c.Request.Context(), row.ID)
	if err != nil {
		w.refused(c, err)
		return false
	}
	ready, err := w.ReadyForPlan(c.Request.Context(), row, k.Client, readiness.Teach)
	switch {
	case err != nil:
		w.refused(c, err)
	case ready.Readiness.Status == readiness.Ask:
		c.Redirect(http.StatusSeeOther, "/plans/"+row.ID+"/check")
	case ready.Status() != limit.OK:
		w.notToday(c, k, ready.Readiness)
	case len(marks) == 0 && len(w.Outside(row.Plan, ready)) > 0: // planned before something was known
		c.Redirect(http.StatusSeeOther, "/plans/"+row.ID+"/check")
	default:
		return true
	}
	return false
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
	row, err := w.Store.Plan(c.Request.Context(), c.Param("id"))
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
	row, err := w.Store.Plan(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return row, store.Client{}, false
	}
	client, err := w.Store.Client(c.Request.Context(), row.ClientID)
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
	r, err := w.RequestOf(c.Request.Context(), row)
	if err != nil {
		w.refused(c, err)
		return row, client, r, false
	}
	return row, client, r, true
}
