package web

import (
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/readiness"
	"restbend/store"
)

// shelf is the library as asked for.
type shelf struct {
	Day        *dayLine // what the day is, where it does not leave the client ready
	Wish       shelfWish
	Families   []shelfFamily
	Found      int
	Of         int
	Hidden     int // whose verdict was not asked for, and so not shown
	Clients    []store.Client
	Purposes   []exercise.Purpose
	Positions  []exercise.Position
	Places     []exercise.Place
	Kit        []string
	Efforts    []string
	Conditions []app.ConditionForm
	Verdicts   []app.Choice
}

// shelfWish is what is looked for; empty fields ask for nothing.
type shelfWish struct {
	Words, Purpose, Position, Place, Effort, Kit, Client string
	Conditions                                           []string
	Verdict                                              string // one of shelfVerdicts, where it is for somebody
}

// shelfVerdicts are the verdicts that can be asked for, each with how it is offered; what is
// not barred where none is.
var shelfVerdicts = []app.Choice{
	{Value: "", Words: "what is safe"},
	{Value: string(exercise.Suits), Words: "safe as it is"},
	{Value: string(exercise.Adapt), Words: "with a change"},
	{Value: string(exercise.Avoid), Words: "not for now"},
	{Value: "all", Words: "everything"},
}

// takes says whether a verdict is one that was asked for.
func (s shelfWish) takes(v exercise.Verdict) bool {
	return s.Verdict == "all" || s.Verdict == string(v) || s.Verdict == "" && v != exercise.Avoid
}

// HasCondition tells the form what is ticked.
func (s shelfWish) HasCondition(id string) bool { return slices.Contains(s.Conditions, id) }

// Any says whether anything is asked for.
func (x shelfWish) Any() bool {
	return x.Words+x.Purpose+x.Position+x.Place+x.Effort+x.Kit+x.Client != "" || len(x.Conditions) > 0 || x.Verdict != ""
}

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
			words := []string{
				v.Name,
				f.Name,
				v.Position.Words(),
				v.Why,
				v.SetUp,
				strings.Join(v.Cues, " "),
				strings.Join(v.Equipment, " "),
			}
			for _, p := range v.Purposes {
				words = append(words, p.Words())
			}
			out[v.ID] = strings.ToLower(strings.Join(words, " "))
		}
	}
	return out
}

// remembered redirects from the library without a query to what was searched for last in this
// session, until that is cleared.
func (w *site) remembered(show gin.HandlerFunc) gin.HandlerFunc {
	return func(c *gin.Context) {
		ctx, asked := c.Request.Context(), c.Request.URL.RawQuery
		last := w.sessions.GetString(ctx, "shelf")
		switch {
		case c.Query("all") != "":
			asked = ""
		case asked == "" && last != "":
			c.Redirect(http.StatusSeeOther, "/library?"+last)
			return
		}
		if asked != last && len(asked) < 2000 {
			w.sessions.Put(ctx, "shelf", asked)
			if err := w.saveSession(c); err != nil {
				w.refused(c, err)
				return
			}
		}
		show(c)
	}
}

func (w *site) shelf(c *gin.Context) {
	wish := shelfWish{
		Words:      strings.TrimSpace(c.Query("words")),
		Purpose:    c.Query("purpose"),
		Position:   c.Query("position"),
		Place:      c.Query("place"),
		Effort:     c.Query("effort"),
		Kit:        c.Query("kit"),
		Client:     c.Query("client"),
		Conditions: c.QueryArray("condition"),
		Verdict:    c.Query("verdict"),
	}
	if !slices.ContainsFunc(shelfVerdicts, func(k app.Choice) bool { return k.Value == wish.Verdict }) {
		fail(c, http.StatusUnprocessableEntity, fmt.Sprintf("Verdict: expected suits, adapt, avoid or all, found %q.", wish.Verdict))
		return
	}
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
		if w.Library.Conditions.Condition(id) == nil {
			fail(c, http.StatusUnprocessableEntity, fmt.Sprintf("Condition: %s is not known.", id))
			return
		}
		if !who.Has(id) {
			who.Conditions = append(slices.Clone(who.Conditions), limit.Condition{ID: id})
		}
	}
	s := shelf{
		Wish:       wish,
		Clients:    clients,
		Purposes:   exercise.Purposes,
		Positions:  exercise.Positions,
		Places:     exercise.Places,
		Kit:        exercise.Equipment,
		Efforts:    exercise.Efforts,
		Conditions: w.Conditions,
		Verdicts:   shelfVerdicts,
		Of:         len(w.Library.Variants),
	}
	set, err := w.ReadyFor(c.Request.Context(), wish.Client, who, nil, w.Today(), readiness.Judge)
	if err != nil {
		w.refused(c, err)
		return
	}
	if wish.Client != "" && set.Readiness.Status != readiness.Ready {
		line := w.dayOf(set.Readiness)
		s.Day = &line
	}
	kit := limit.KitOf(who, who.Place)
	for _, f := range w.Library.Families {
		shown := shelfFamily{Name: f.Name, Why: f.Why}
		for _, v := range f.Variants {
			if !w.fits(v, wish) {
				continue
			}
			k := card{
				ID:       v.ID,
				Name:     v.Name,
				Position: v.Position.Words(),
				Effort:   v.Effort(),
				Figure:   w.figures.thumb(v.ID),
				Link:     "/library/" + v.ID,
			}
			if wish.Judges() {
				j := set.Judge(v, kit)
				if !wish.takes(j.Verdict) {
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
