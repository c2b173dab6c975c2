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
	"restbend/core/limit"
	"restbend/draw"
	"restbend/store"
)

// shelf is the library as asked for.
type shelf struct {
	Wish       shelfWish
	Families   []shelfFamily
	Found      int
	Of         int
	Hidden     int // barred for the client or the conditions, and so not shown
	Clients    []store.Client
	Purposes   []exercise.Purpose
	Positions  []exercise.Position
	Places     []exercise.Place
	Kit        []string
	Efforts    []string
	Conditions []app.ConditionForm
}

// shelfWish is what is looked for; empty fields ask for nothing.
type shelfWish struct {
	Words, Purpose, Position, Place, Effort, Kit, Client string
	Conditions                                           []string
	Barred                                               bool // show what is barred too
}

// HasCondition tells the form what is ticked.
func (s shelfWish) HasCondition(id string) bool { return slices.Contains(s.Conditions, id) }

// Judges says whether the search is for somebody.
func (s shelfWish) Judges() bool { return s.Client != "" || len(s.Conditions) > 0 }

type shelfFamily struct {
	Name, Why string
	Cards     []card
}

type card struct {
	ID, Name, Position, Effort string
	Figure                     Figure
	Verdict                    exercise.Verdict
	Why                        string
	Link                       string
}

// shelfText is what a search by words looks through, by variant.
func shelfText(families []*exercise.Family) map[string]string {
	out := map[string]string{}
	for _, f := range families {
		for _, v := range f.Variants {
			words := []string{v.Name, f.Name, v.Position.Words(), v.Why, v.SetUp, strings.Join(v.Cues, " "), strings.Join(v.Equipment, " ")}
			for _, p := range v.Purposes {
				words = append(words, p.Words())
			}
			out[v.ID] = strings.ToLower(strings.Join(words, " "))
		}
	}
	return out
}

func (w *site) shelf(c *gin.Context) {
	wish := shelfWish{Words: strings.TrimSpace(c.Query("words")), Purpose: c.Query("purpose"), Position: c.Query("position"), Place: c.Query("place"),
		Effort: c.Query("effort"), Kit: c.Query("kit"), Client: c.Query("client"), Conditions: c.QueryArray("condition"), Barred: c.Query("barred") == "yes"}
	clients, err := w.choices(c.Request.Context(), wish.Client)
	if err != nil {
		w.refused(c, err)
		return
	}
	who := limit.Client{}
	if wish.Client != "" {
		k, err := w.Store.Client(c.Request.Context(), wish.Client)
		if err != nil {
			w.refused(c, err)
			return
		}
		who = k.Client
	}
	for _, id := range wish.Conditions {
		if w.Library.Book.Condition(id) == nil {
			fail(c, http.StatusUnprocessableEntity, fmt.Sprintf("Condition: %s is not known.", id))
			return
		}
		if !who.Has(id) {
			who.Conditions = append(slices.Clone(who.Conditions), limit.Condition{ID: id})
		}
	}
	s := shelf{Wish: wish, Clients: clients, Purposes: exercise.Purposes, Positions: exercise.Positions, Places: exercise.Places,
		Kit: exercise.Equipment, Efforts: exercise.Efforts, Conditions: w.Conditions, Of: len(w.Library.Variants)}
	set, kit := w.Limits(who, w.Today()), limit.KitOf(who, who.Place)
	for _, f := range w.Library.Families {
		shown := shelfFamily{Name: f.Name, Why: f.Why}
		for _, v := range f.Variants {
			if !w.fits(v, wish) {
				continue
			}
			k := card{ID: v.ID, Name: v.Name, Position: v.Position.Words(), Effort: v.Effort(), Figure: w.figures.thumb(v.ID), Link: "/library/" + v.ID}
			if wish.Judges() {
				j := limit.Judge(set, v, kit)
				if j.Verdict == exercise.Avoid && !wish.Barred {
					s.Hidden++
					continue
				}
				k.Verdict, k.Why = j.Verdict, judgementWords(j)
			}
			if wish.Client != "" {
				k.Link += "?client=" + wish.Client
			}
			shown.Cards = append(shown.Cards, k)
		}
		if len(shown.Cards) > 0 {
			s.Found += len(shown.Cards)
			s.Families = append(s.Families, shown)
		}
	}
	w.pages.render(c, http.StatusOK, "library", s)
}

// formOf is the form a judgement wants taught; nil for the plain one at its usual
// height, which is drawn once for everybody.
func formOf(j limit.Judgement, v *exercise.Variant) *exercise.Form {
	if j.Form == v.Plain() {
		return nil
	}
	return j.Form
}

// judgementWords is one line on a verdict: the adaptations, or the first reason.
func judgementWords(j limit.Judgement) string {
	switch j.Verdict {
	case exercise.Avoid:
		return j.Reasons[0].Text
	case exercise.Adapt:
		words := make([]string, 0, 2)
		for _, a := range j.Adaptations {
			words = append(words, a.Text)
		}
		return strings.Join(words, "; ")
	}
	return ""
}

func (w *site) fits(v *exercise.Variant, wish shelfWish) bool {
	for _, word := range strings.Fields(strings.ToLower(wish.Words)) {
		if !strings.Contains(w.texts[v.ID], word) {
			return false
		}
	}
	kit := slices.Concat(append([][]string{v.Equipment}, v.EquipmentOneOf...)...)
	return (wish.Purpose == "" || slices.Contains(v.Purposes, exercise.Purpose(wish.Purpose))) &&
		(wish.Position == "" || v.Position == exercise.Position(wish.Position)) &&
		(wish.Place == "" || slices.Contains(v.Places, exercise.Place(wish.Place))) &&
		(wish.Effort == "" || v.Effort() == wish.Effort) &&
		(wish.Kit == "" || wish.Kit == "none" && len(kit) == 0 || slices.Contains(kit, wish.Kit))
}

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

var viewWords = map[draw.View]string{draw.SideView: "side", draw.FrontView: "front", draw.BackView: "back", draw.AboveView: "above", draw.QuarterView: "three quarter"}

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
	set, kit := limit.Set{HeightCM: limit.DefaultHeightCM, MassKG: limit.DefaultMassKG}, limit.Kit{}
	form := v.Plain()
	if id := c.Query("client"); id != "" {
		if s.Client, err = w.Store.Client(c.Request.Context(), id); err != nil {
			w.refused(c, err)
			return
		}
		set = w.Limits(s.Client.Client, w.Today())
		kit = limit.KitOf(s.Client.Client, s.Client.Client.Place)
		s.Judged, s.Judgement = true, limit.Judge(set, v, kit)
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
	for _, r := range s.Family.Ladder() {
		note := r.Variant.Position.Words()
		if len(r.From) > 0 {
			note = "changes " + strings.Join(r.From[0].Changes, " and ")
		}
		s.Ladder = append(s.Ladder, rungCard{r.Variant.ID, r.Variant.Name, note, keep("/library/" + r.Variant.ID + "?"), min(r.Level, 7),
			w.figures.thumb(r.Variant.ID), r.Variant.ID == v.ID,
			slices.ContainsFunc(s.Client.Client.Rungs, func(k limit.Rung) bool { return k.Variant == r.Variant.ID })})
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
		s.Swaps = append(s.Swaps, swapCard{o.Name, keep("/library/" + id + "?"), why, j.Verdict, w.figures.get(want{variant: id, form: formOf(j, o), theme: draw.Light}),
			other.Tiny()})
	}
	w.pages.render(c, http.StatusOK, "exercise", s)
}

// phases are the steps of one repetition as a bar.
func (s *sheet) phases(m exercise.Movement) {
	total := m.Tempo()
	for _, step := range m.Steps {
		breath := map[string]string{"in": "breathe in", "out": "breathe out", "free": "easy breath", exercise.BreathHeld: "hold the breath"}[step.Breath]
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

// facts are the measured quantities worth reading, with what instructors reason
// with.
func (s *sheet) facts(m exercise.Measured, set limit.Set) {
	v := s.Variant
	add := func(name, format string, args ...any) {
		s.Facts = append(s.Facts, fact{name, fmt.Sprintf(format, args...)})
	}
	add("demand", "%.1f of 10, %s", m.Demand(), v.Effort())
	add("low back", "%.0f N·m", exercise.NewtonMetres(m.Number("lumbar_moment"), set.HeightCM, set.MassKG))
	for _, part := range []struct{ name, quantity string }{{"one wrist", "wrist_load"}, {"one forearm", "forearm_load"}, {"one knee", "knee_load"}} {
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
		shape.form = formOf(limit.Judge(w.Limits(k.Client, w.Today()), v, limit.KitOf(k.Client, k.Client.Place)), v)
	}
	stills := w.figures.film(shape)
	if stills == nil {
		stills = []still{}
	}
	c.JSON(http.StatusOK, stills)
}
