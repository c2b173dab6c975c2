package web

import (
	"fmt"
	"html/template"
	"math"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/core/exercise"
	"restbend/core/home"
	"restbend/core/limit"
	"restbend/core/readiness"
	"restbend/draw"
	"restbend/store"
)

// sheet is one exercise's page.
type sheet struct {
	Variant   *exercise.Variant
	Family    *exercise.Family
	Figure    Figure
	View      draw.View
	Views     []viewLink
	Phases    []phaseBar
	Ladder    []rungCard
	Swaps     []swapCard
	Reach     template.HTML
	Client    store.Client
	Clients   []store.Client
	Judged    bool
	Judgement limit.Judgement
	Cues      []string // of the form for the client
	Reasons   []string
	Facts     []fact
	Film      string
	Uses      []use
	standIns  map[string][]string
}

type viewLink struct {
	Name, Link string
	Now        bool
}

type phaseBar struct {
	Name, Breath string
	Seconds      float64
	Wide         int // share of the bar in twelfths
}

type rungCard struct {
	ID, Name, Note, Link string
	Level                int
	Figure               Figure
	Now, Here            bool
}

type swapCard struct {
	Name, Link, Why string
	Verdict         exercise.Verdict
	Figure          Figure
	Reach           template.HTML
}

type fact struct{ Name, Figure string }

var viewWords = map[draw.View]string{
	draw.SideView:    "side",
	draw.FrontView:   "front",
	draw.BackView:    "back",
	draw.AboveView:   "above",
	draw.QuarterView: "three quarter",
}

func (w *site) exercise(c *gin.Context) {
	v := w.Library.Variant(c.Param("variant"))
	if v == nil {
		fail(c, http.StatusNotFound, "There is no such exercise in the library. It may have been renamed.")
		return
	}
	view := draw.View(c.Query("view"))
	if view != "" && !slices.Contains(draw.Views, view) {
		fail(c, http.StatusUnprocessableEntity, fmt.Sprintf("View: %s is not one of side, front, back, above and three_quarter.", view))
		return
	}
	s := sheet{Variant: v, View: view, standIns: w.Library.StandIns}
	var err error
	if s.Clients, err = w.choices(c.Request.Context(), c.Query("client")); err != nil {
		w.refused(c, err)
		return
	}
	for _, f := range w.Library.Families {
		if f.ID == v.Family {
			s.Family = f
		}
	}
	set, kit := limit.Limits{HeightCM: limit.DefaultHeightCM, MassKG: limit.DefaultMassKG}, limit.Kit{}
	form := v.Plain()
	if id := c.Query("client"); id != "" {
		if s.Client, err = w.Store.Client(c.Request.Context(), id); err != nil {
			w.refused(c, err)
			return
		}
		day, err := w.ReadyFor(c.Request.Context(), id, s.Client.Client, nil, w.Today(), readiness.Judge)
		if err != nil {
			w.refused(c, err)
			return
		}
		set = day.Limits
		kit = limit.KitOf(s.Client.Client, s.Client.Client.Place)
		s.Judged, s.Judgement = true, day.Judge(v, kit)
		form = s.Judgement.Form
		for _, r := range s.Judgement.Reasons {
			if !slices.Contains(s.Reasons, r.Text) {
				s.Reasons = append(s.Reasons, r.Text)
			}
		}
	}
	keep := func(link string) string {
		if s.Client.ID != "" {
			return link + "client=" + s.Client.ID
		}
		return strings.TrimRight(link, "?&")
	}
	shape := want{variant: v.ID, view: view, large: true, ghost: true, theme: draw.Light}
	if form != v.Plain() {
		shape.form = form
	}
	s.Figure = w.figures.get(shape)
	s.Film = keep("/library/" + v.ID + "/film?view=" + string(view) + "&")
	for _, name := range append([]draw.View{""}, draw.Views...) {
		link, word := "/library/"+v.ID+"?", "best"
		if name != "" {
			link, word = link+"view="+string(name)+"&", viewWords[name]
		}
		s.Views = append(s.Views, viewLink{word, keep(link), name == view})
	}
	s.Cues = v.CuesOf(form)
	s.phases(form.Movement)
	s.facts(form.Measured, set)
	of := reachOf(set, form.Measured, limit.Client{})
	of.Text = v.Name + ". " + of.Text
	s.Reach = of.Small()
	stands := s.Client.Client.Rungs
	if s.Client.ID != "" { // where the records have led to
		next, err := w.NextFor(c.Request.Context(), s.Client.ID, s.Client.Client)
		if err != nil {
			w.refused(c, err)
			return
		}
		stands = next.Client.Rungs
	}
	for _, r := range s.Family.Ladder() {
		note := r.Variant.Position.Words()
		if len(r.From) > 0 {
			note = "changes " + strings.Join(r.From[0].Changes, " and ")
		}
		s.Ladder = append(s.Ladder, rungCard{r.Variant.ID, r.Variant.Name, note, keep("/library/" + r.Variant.ID + "?"), min(r.Level, 7),
			w.figures.thumb(r.Variant.ID), r.Variant.ID == v.ID,
			slices.ContainsFunc(stands, func(k limit.Rung) bool { return k.Variant == r.Variant.ID })})
	}
	for _, id := range v.Swaps {
		o := w.Library.Variant(id)
		j := limit.Judgement{Verdict: "", Form: o.Plain()}
		why := o.Position.Words()
		if s.Judged {
			j = limit.Judge(set, o, kit)
			if words := judgementWords(j); words != "" {
				why = words
			}
		}
		other := reachOf(set, j.Form.Measured, limit.Client{})
		other.Text = o.Name + ". " + other.Text
		s.Swaps = append(s.Swaps,
			swapCard{
				o.Name,
				keep("/library/" + id + "?"),
				why,
				j.Verdict,
				w.figures.get(want{variant: id, form: formOf(j, o), theme: draw.Light}),
				other.Tiny(),
			},
		)
	}
	if err = w.usesOf(c, &s); err != nil {
		w.refused(c, err)
		return
	}
	w.pages.render(c, http.StatusOK, "exercise", s)
}

// Where an exercise is used is looked for from some weeks back to some weeks ahead.
const (
	usedBackDays, usedAheadDays = 28, 56
	mostUsed                    = 12
)

// usesOf says in which plans and programmes the exercise stands.
func (w *site) usesOf(c *gin.Context, s *sheet) error {
	day := func(d int) string { return w.Today().AddDate(0, 0, d).String() }
	plans, err := w.Store.Using(c.Request.Context(), s.Variant.ID, day(-usedBackDays), day(usedAheadDays), mostUsed)
	if err != nil {
		return err
	}
	for _, p := range plans {
		u := use{Who: p.Name, On: p.On, Link: "/plans/" + p.PlanID, What: "planned"}
		if p.Taught && p.RecordID != "" {
			u.What, u.Link = "taught", "/records/"+p.RecordID
		}
		s.Uses = append(s.Uses, u)
	}
	homes, err := w.Store.HomesOpen(c.Request.Context())
	if err != nil {
		return err
	}
	for _, h := range homes {
		if len(s.Uses) < 2*mostUsed &&
			slices.ContainsFunc(h.Programme.Items, func(it home.Item) bool { return it.Variant == s.Variant.ID }) {
			s.Uses = append(s.Uses, use{Who: h.Name, On: h.On, Link: "/homes/" + h.ID, What: "at home since"})
		}
	}
	return nil
}

// use is a plan or programme in which an exercise stands.
type use struct{ Who, On, Link, What string }

// phases are the steps of one repetition as a bar.
func (s *sheet) phases(m exercise.Movement) {
	total := m.Tempo()
	for _, step := range m.Steps {
		breath := map[string]string{"in": "breathe in", "out": "breathe out", "free": "easy breath",
			exercise.BreathHeld: "hold the breath"}[step.Breath]
		name := strings.ReplaceAll(step.To, "_", " ")
		if step.To == "start" {
			name = "return"
		}
		if d := s.Variant.Studio; step.To == m.HoldsAt && m.HoldsAt != "start" {
			if d.Kind == exercise.HoldSeconds {
				breath += fmt.Sprintf(", stay %g s", d.Seconds)
			} else if d.Kind == exercise.HoldBreaths {
				breath += fmt.Sprintf(", stay %d breaths", d.Breaths)
			}
		}
		s.Phases = append(s.Phases, phaseBar{name, breath, step.Seconds, max(1, int(12*step.Seconds/total+0.5))})
	}
}

// leastTurning is the share of weight × height from which a load that turns or bends the back to a
// side is worth reading.
const leastTurning = 0.008

// facts are the measured quantities worth reading, with what instructors reason
// with.
func (s *sheet) facts(m exercise.Measured, set limit.Limits) {
	v := s.Variant
	add := func(name, format string, args ...any) {
		s.Facts = append(s.Facts, fact{name, fmt.Sprintf(format, args...)})
	}
	add("demand", "%.1f of 10, %s", m.Demand(), v.Effort())
	add("low back", "%.0f N·m", exercise.NewtonMetres(m.Number("lumbar_moment"), set.HeightCM, set.MassKG))
	add("compression at L4/5", "%.1f times quiet standing, about %.0f N", m.Number("lumbar_compression"),
		m.Number("lumbar_compression_n")*set.MassKG*exercise.Gravity)
	add("compression at T12/L1", "%.1f times quiet standing", m.Number("thoracolumbar_compression"))
	for _, load := range []struct{ name, quantity string }{{"twisting load on the low back", "axial_moment"},
		{"one-sided load that moves", "moving_side_moment"}} {
		left, right := m.Number(load.quantity+"_left"), m.Number(load.quantity+"_right")
		nm := func(v float64) float64 { return exercise.NewtonMetres(v, set.HeightCM, set.MassKG) }
		switch {
		case max(left, right) < leastTurning:
		case math.Abs(nm(left)-nm(right)) < 1:
			add(load.name, "%.0f N·m each way", nm(left))
		default:
			add(load.name, "%.0f N·m to the left, %.0f to the right", nm(left), nm(right))
		}
	}
	for _, part := range []struct{ name, quantity string }{{"one wrist", "wrist_load"}, {"one forearm", "forearm_load"},
		{"one knee", "knee_load"}} {
		if share := m.Number(part.quantity); share > 0.05 {
			add(part.name, "%.0f%% of body weight", 100*share)
		}
	}
	for _, e := range slices.Concat(append([][]string{v.Equipment}, v.EquipmentOneOf...)...) {
		if ins := s.standIns[e]; len(ins) > 0 && e != "chair" {
			add("at home, for "+strings.ReplaceAll(e, "_", " "), "%s", strings.Join(ins, ", or "))
		}
	}
	add("chain", "%s", strings.ReplaceAll(v.Chain, "_", " "))
	add("body", "%s", v.Orientation())
	add("base of support", "%s", strings.ReplaceAll(m.Word("base_of_support"), "_", " "))
	add("feedback of the surface", "%s", v.Feedback())
}

// exerciseFilm is the movement of a variant as stills.
func (w *site) exerciseFilm(c *gin.Context) {
	v := w.Library.Variant(c.Param("variant"))
	if v == nil {
		fail(c, http.StatusNotFound, "There is no such exercise in the library.")
		return
	}
	shape := want{variant: v.ID, view: draw.View(c.Query("view")), theme: draw.Light}
	if id := c.Query("client"); id != "" {
		k, err := w.Store.Client(c.Request.Context(), id)
		if err != nil {
			w.refused(c, err)
			return
		}
		shape.form = formOf(w.Limits(k.Client, w.Today()).Judge(v, limit.KitOf(k.Client, k.Client.Place)), v)
	}
	stills := w.figures.film(shape)
	if stills == nil {
		stills = []still{}
	}
	c.JSON(http.StatusOK, stills)
}
