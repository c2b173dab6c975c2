package web

import (
	"context"
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/class"
	"restbend/core/exercise"
	"restbend/core/plan"
	"restbend/core/readiness"
	"restbend/draw"
	"restbend/store"
)

// Classes: one session for several, built, taught and printed.

// classForm is what a class is asked for with.
type classForm struct {
	Name, On, At string
	Place        exercise.Place
	Minutes      string
	People       []classChoice
	Places       []exercise.Place
}

type classChoice struct {
	ID, Name, Caution string
	On                bool
}

func classLink(id string) string { return "/classes/" + url.PathEscape(id) }

// classChoices are the clients to choose from, those of a class ticked.
func (w *site) classChoices(c *gin.Context, on []string) ([]classChoice, error) {
	all, err := w.choices(c.Request.Context(), on...)
	if err != nil {
		return nil, err
	}
	var out []classChoice
	for _, k := range all {
		out = append(out, classChoice{k.ID, k.Client.Name, w.Library.Conditions.Words(k.Client), slices.Contains(on, k.ID)})
	}
	return out, nil
}

// classRow is one class in a list.
type classRow struct {
	Row         store.Class
	Link, Least string
	Names       []string
}

func (w *site) classRows(all []store.Class) []classRow {
	var out []classRow
	for _, k := range all {
		r := classRow{Row: k, Link: classLink(k.ID)}
		for _, m := range k.Class.People {
			r.Names = append(r.Names, m.Name)
		}
		r.Least = fmt.Sprintf("%.0f", 100*k.Class.Least())
		out = append(out, r)
	}
	return out
}

func (w *site) classes(c *gin.Context) { w.showClasses(c, http.StatusOK, "") }

func (w *site) showClasses(c *gin.Context, status int, refusal string) {
	today := w.Today().String()
	next, err := w.Store.Classes(c.Request.Context(), today, "9999")
	if err != nil {
		w.refused(c, err)
		return
	}
	past, err := w.Store.ClassesBefore(c.Request.Context(), today)
	if err != nil {
		w.refused(c, err)
		return
	}
	people, err := w.classChoices(c, nil)
	if err != nil {
		w.refused(c, err)
		return
	}
	form := classForm{On: today, Place: "mat", Minutes: "30", People: people, Places: exercise.Places}
	w.pages.render(c,
		status,
		"classes",
		gin.H{
			"Next":    w.classRows(next),
			"Past":    w.classRows(past),
			"Form":    form,
			"Refusal": refusal,
			"Few":     class.Few,
			"Many":    class.Many,
		},
	)
}

// readClass is the wish that a form tells.
func readClass(c *gin.Context) app.ClassWish {
	minutes, err := strconv.Atoi(strings.TrimSpace(c.PostForm("minutes")))
	if err != nil {
		minutes = -1 // refused by name
	}
	return app.ClassWish{
		Name:    c.PostForm("name"),
		Clients: c.PostFormArray("client"),
		Place:   exercise.Place(c.PostForm("place")),
		Minutes: minutes,
		On:      c.PostForm("on"),
		At:      c.PostForm("at"),
	}
}

func (w *site) addClass(c *gin.Context) {
	id, err := w.idempotent(c, func(ctx context.Context) (string, error) { return w.AddClass(ctx, readClass(c)) })
	if err != nil {
		if status, sentence := w.sentence(c, err); status == http.StatusUnprocessableEntity {
			w.showClasses(c, status, sentence)
			return
		}
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, classLink(id))
}

// personDay is what the day allows one of a class.
type personDay struct {
	Name string
	Day  dayLine
}

// classPage is a class as it is looked at.
type classPage struct {
	Days     []personDay // of whom the day does not leave ready
	Row      store.Class
	People   []classMember // in the order of the columns
	Items    []classLine
	Chosen   classLine
	Refusal  string
	Form     classForm
	Room     template.HTML
	Lay      string
	LeftOut  []class.Member
	Least    string
	Taught   bool
	Nobody   bool
	Cautions []personCaution
}

type classMember struct {
	class.Member
	ClientID, PlanID, First, Caution string
	Column                           int
	Percent                          string
	Bar                              int
	Goes                             bool // a record is kept
}

type personCaution struct {
	Name string
	Says []string
}

// classLine is one item: its blocks from left to right.
type classLine struct {
	class.Item
	Number int
	Link   string
	Chosen bool
	Kinds  int
	Blocks []classBlock
	Groups []classGroup
	Figure Figure // of the version that most people do
}

// classBlock is a run of people who do the same.
type classBlock struct {
	From, Span   int
	Class, Words string
	Figure       Figure
	Name         string
}

// classGroup is everybody who does the same, for the tray, the wall and the lesson.
type classGroup struct {
	Name, Words string
	Names       []string
	Doses       []string
	Why         []string
	SetUp       string
	Cues        []string
	Figure      Figure
	People      []int
}

// theClass finds the class that is asked for; it has answered where there is none.
func (w *site) theClass(c *gin.Context) (store.Class, bool) {
	k, err := w.Store.Class(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
	}
	return k, err == nil
}

func (w *site) class(c *gin.Context) { w.showClass(c, http.StatusOK, "") }

func (w *site) showClass(c *gin.Context, status int, refusal string) {
	k, ok := w.theClass(c)
	if !ok {
		return
	}
	p, err := w.classPage(c, k)
	if err != nil {
		w.refused(c, err)
		return
	}
	p.Refusal = refusal
	w.pages.render(c, status, "class", p)
}

func (w *site) classPage(c *gin.Context, k store.Class) (classPage, error) {
	p := classPage{
		Row:    k,
		Taught: k.Taught(),
		Form: classForm{
			Name:    k.Name,
			On:      k.On,
			At:      k.At,
			Place:   k.Class.Place,
			Minutes: strconv.Itoa(k.Class.MinutesAsked),
			Places:  exercise.Places,
		},
	}
	chosen, _ := strconv.Atoi(c.Query("item"))
	chosen = min(max(chosen, 1), max(1, len(k.Class.Items))) - 1
	order := columns(k.Class)
	p.Items = w.classLines(k, order, chosen)
	if len(p.Items) > 0 {
		p.Chosen = p.Items[chosen]
	}
	var on []string
	for _, m := range k.People {
		on = append(on, m.ClientID)
	}
	var err error
	if p.Form.People, err = w.classChoices(c, on); err != nil {
		return p, err
	}
	var spots []draw.Spot
	for column, person := range order {
		m := classMember{Member: k.Class.People[person], Column: column + 1}
		who := k.People[person]
		m.ClientID, m.PlanID, m.Goes, m.First = who.ClientID, who.PlanID, who.Taught, firstName(m.Name)
		m.Percent, m.Bar = fmt.Sprintf("%.0f", 100*m.Share), int(100*m.Share+0.5)
		client, err := w.Store.Client(c.Request.Context(), who.ClientID)
		if err != nil {
			return p, err
		}
		m.Caution = w.Library.Conditions.Words(client.Client)
		if says := w.Limits(client.Client, w.Today()).Readiness.Cautions; len(says) > 0 {
			p.Cautions = append(p.Cautions, personCaution{m.Name, says})
		}
		p.People = append(p.People, m)
		spots = append(spots, draw.Spot{Name: m.Name, Chair: m.Place == "chair", AtWall: w.needsWall(k.Class, person)})
	}
	for _, m := range k.Class.People {
		if m.Status != plan.Ready {
			p.LeftOut = append(p.LeftOut, m)
		}
	}
	if !p.Taught {
		days, err := w.ClassReady(c.Request.Context(), k, readiness.Plan)
		if err != nil {
			return p, err
		}
		for i, d := range days {
			if d.Readiness.Status != readiness.Ready {
				p.Days = append(p.Days, personDay{k.Class.People[i].Name, w.dayOf(d.Readiness)})
			}
		}
	}
	p.Least, p.Room, p.Lay = fmt.Sprintf("%.0f", 100*k.Class.Least()), template.HTML(draw.SVGRoom(spots)), layWords(k.Class.Equipment)
	return p, nil
}

// needsWall says whether a person does something at a wall or a rail that the others do not
// do: who all go there together find room.
func (w *site) needsWall(c class.Class, person int) bool {
	for _, it := range c.Items {
		own := it.Kinds()[0][0].Kind()
		for _, v := range it.Versions {
			k := w.Library.Variant(v.Variant)
			if v.Person != person || k == nil || v.Kind() == own {
				continue
			}
			if slices.ContainsFunc(k.Equipment, func(e string) bool { return e == "wall" || e == "rail" }) {
				return true
			}
		}
	}
	return false
}

// layWords say what must be laid out.
func layWords(of map[string]int) string {
	var names []string
	for e := range of {
		if e != "wall" {
			names = append(names, e)
		}
	}
	slices.Sort(names)
	var out []string
	for _, e := range names {
		word := strings.ReplaceAll(e, "_", " ")
		if of[e] > 1 {
			word += "s"
			if strings.HasSuffix(e, "ch") {
				word = strings.TrimSuffix(word, "s") + "es"
			}
		}
		out = append(out, fmt.Sprintf("%d %s", of[e], word))
	}
	return strings.Join(out, ", ")
}

func (w *site) changeClass(c *gin.Context) {
	seen, _ := strconv.Atoi(c.PostForm("revision"))
	err := w.idempotentOnly(c, func(ctx context.Context) error { return w.RemakeClass(ctx, c.Param("id"), seen, readClass(c)) })
	if err != nil {
		if status, sentence := w.sentence(c, err); status == http.StatusUnprocessableEntity || status == http.StatusConflict {
			w.showClass(c, status, sentence)
			return
		}
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, classLink(c.Param("id")))
}

func (w *site) classAway(c *gin.Context) {
	back := c.PostForm("back") == "yes"
	err := w.idempotentOnly(c, func(ctx context.Context) error { return w.TakeClassAway(ctx, c.Param("id"), !back) })
	if err != nil {
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, classLink(c.Param("id")))
}

// classWall is the class on paper for the wall.
func (w *site) classWall(c *gin.Context) {
	k, ok := w.theClass(c)
	if !ok {
		return
	}
	p, err := w.classPage(c, k)
	if err != nil {
		w.refused(c, err)
		return
	}
	w.pages.render(c, http.StatusOK, "wall", p)
}

// grouping shows the people of a class in two classes instead.
func (w *site) grouping(c *gin.Context) {
	k, ok := w.theClass(c)
	if !ok {
		return
	}
	o, err := w.ClassOtherwise(c.Request.Context(), k)
	if err != nil {
		w.refused(c, err)
		return
	}
	type member struct{ ClientID, Name, Now, Then string }
	type group struct {
		Members []member
		Minutes string
		Place   exercise.Place
	}
	var groups []group
	g := o.Two
	for i := range g.Groups {
		if !o.Possible {
			break
		}
		out := group{Minutes: app.Clock(g.Classes[i].SecondsTotal), Place: g.Classes[i].Place}
		for n, p := range g.Groups[i] {
			m := g.Classes[i].People[n]
			now := "not in it"
			if k.Class.People[p].Status == plan.Ready {
				now = fmt.Sprintf("%.0f", 100*k.Class.People[p].Share)
			}
			out.Members = append(out.Members, member{k.People[p].ClientID, m.Name, now, fmt.Sprintf("%.0f", 100*m.Share)})
		}
		groups = append(groups, out)
	}
	type more struct{ Thing, Least, All string }
	sum := 0.0
	for _, m := range k.Class.People {
		sum += m.Share
	}
	var things []more
	for _, m := range o.More {
		all, least := "no more", k.Class.Least()
		if gain := 100 * (m.Sum - sum); gain >= 1 {
			all, least = fmt.Sprintf("%.0f more", gain), m.Least
		}
		things = append(things,
			more{
				fmt.Sprintf("a %s for %d who have none", strings.ReplaceAll(m.Thing, "_", " "), m.Lacking),
				fmt.Sprintf("%.0f", 100*least),
				all,
			},
		)
	}
	w.pages.render(c,
		http.StatusOK,
		"grouping",
		gin.H{"Row": k, "Groups": groups, "More": things, "Least": fmt.Sprintf("%.0f", 100*k.Class.Least())},
	)
}
