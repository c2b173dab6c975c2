package web

import (
	"context"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/readiness"
)

// A class as it is taught: one clock for all, the versions with names, and marks that go
// into everybody's own lesson.

// classLesson is what the page's script works from.
type classLesson struct {
	Class  string              `json:"class"`
	Name   string              `json:"name"`
	Now    time.Time           `json:"now"`   // by the server's clock
	Total  float64             `json:"total"` // seconds
	Items  []classTeach        `json:"items"`
	People []classStudent      `json:"people"`
	Done   map[string]bool     `json:"done"` // ids of items that a plan has marks on
	Rules  readiness.MarkRules `json:"rules"`
	Places []app.Choice        `json:"places"`
	Flags  []app.Choice        `json:"flags"`
	Call   string              `json:"call"`
}

type classTeach struct {
	Thread  string         `json:"thread"`
	Seconds float64        `json:"seconds"`
	Figure  string         `json:"figure"`
	Groups  []classVersion `json:"groups"`
}

type classVersion struct {
	Name   string   `json:"name"`
	Words  string   `json:"words"`
	Figure string   `json:"figure"`
	Doses  []string `json:"doses"`
	Cue    string   `json:"cue"`
	People []int    `json:"people"` // of classLesson.People
}

type classStudent struct {
	Name  string        `json:"name"`
	Plan  string        `json:"plan"`
	Items []classDose   `json:"items"` // one for each of the class
	Marks []lesson.Mark `json:"marks"` // of pain, tingling and warning signs, kept so far
	Out   string        `json:"out"`   // why the day lets this one do nothing; empty where it does
}

// classDose is what is marked when an item has been done.
type classDose struct {
	ID      string      `json:"id"`
	Variant string      `json:"variant"`
	Sets    []classOf   `json:"sets"`
	Loads   []string    `json:"loads"`  // parts of the body that it loads
	Gentle  bool        `json:"gentle"` // inside the gentle limits of a day with pain
	Easier  []teachStep `json:"easier"`
}

type classOf struct {
	Side        string  `json:"side,omitempty"`
	Set         int     `json:"set"`
	Repetitions int     `json:"repetitions"`
	Seconds     float64 `json:"seconds,omitempty"`
}

//revive:disable-next-line:cyclomatic One field of the page after the other.
func (w *site) teachClass(c *gin.Context) {
	k, ok := w.theClass(c)
	if !ok {
		return
	}
	if k.Gone != "" || k.Taught() {
		c.Redirect(http.StatusSeeOther, classLink(k.ID))
		return
	}
	days, err := w.ClassReady(c.Request.Context(), k, readiness.Teach)
	if err != nil {
		w.refused(c, err)
		return
	}
	for i, d := range days {
		if k.People[i].PlanID != "" && d.Readiness.Status == readiness.Ask { // somebody was not asked today
			c.Redirect(http.StatusSeeOther, classLink(k.ID)+"/check")
			return
		}
	}
	t := classLesson{Class: k.ID, Name: k.Name, Now: w.Now(), Total: k.Class.SecondsTotal, Done: map[string]bool{},
		Rules: w.MarkRules(), Call: w.call()}
	for _, where := range exercise.ComplaintPlaces {
		t.Places = append(t.Places, app.Choice{Value: where, Words: strings.ReplaceAll(where, "_", " ")})
	}
	for _, f := range limit.RedFlags {
		t.Flags = append(t.Flags, app.Choice{Value: f.ID, Words: f.Name})
	}
	seat := map[int]int{} // of each person of the class, among those who take part
	for person, who := range k.People {
		if who.PlanID == "" {
			continue
		}
		row, err := w.Store.Plan(c.Request.Context(), who.PlanID)
		if err != nil {
			w.refused(c, err)
			return
		}
		seat[person] = len(t.People)
		s := classStudent{Name: firstName(k.Class.People[person].Name), Plan: who.PlanID, Marks: []lesson.Mark{}}
		if d := days[person]; d.Status() != limit.OK {
			s.Out = d.Readiness.FirstReason()
		}
		client, err := w.Store.Client(c.Request.Context(), who.ClientID)
		if err != nil {
			w.refused(c, err)
			return
		}
		for _, it := range row.Plan.Items {
			d := classDose{ID: it.ID, Variant: it.Variant, Easier: []teachStep{}}
			d.Loads, d.Gentle = w.Loaded(client.Client, it)
			easier, _ := plan.Neighbours(w.PlanLibrary(), it.Variant)
			for _, id := range easier {
				if v := w.Library.Variant(id); v != nil &&
					days[person].Judge(v, limit.KitOf(client.Client, k.Class.Place)).Verdict != exercise.Avoid {
					d.Easier = append(d.Easier, teachStep{ID: id, Name: v.Name})
				}
			}
			for _, side := range lesson.SidesOf(it.Sides, it.Dose) {
				of := it.Dose.On(side)
				for n, size := range of.SetSizes() {
					one := classOf{Side: side, Set: n + 1, Repetitions: size, Seconds: of.Seconds}
					if of.Breaths > 0 {
						one.Repetitions = of.Breaths
					}
					d.Sets = append(d.Sets, one)
				}
			}
			s.Items = append(s.Items, d)
		}
		marks, err := w.Store.Marks(c.Request.Context(), who.PlanID)
		if err != nil {
			w.refused(c, err)
			return
		}
		for _, m := range lesson.Settled(marks) {
			if m.Kind == "pain" || m.Kind == "tingling" || m.Kind == "warning" {
				s.Marks = append(s.Marks, m)
			}
		}
		for _, m := range marks {
			if m.Kind == "set_done" {
				t.Done[who.PlanID+" "+m.Item] = true
			}
		}
		t.People = append(t.People, s)
	}
	for _, l := range w.classLines(k, columns(k.Class), -1) {
		it := classTeach{Thread: l.Thread, Seconds: l.Seconds}
		for i, g := range l.Groups {
			v := classVersion{Name: g.Name, Words: g.Words, Figure: g.Figure.URL, Doses: g.Doses}
			if len(g.Cues) > 0 {
				v.Cue = g.Cues[0]
			}
			for _, person := range g.People {
				v.People = append(v.People, seat[person])
			}
			if i == 0 {
				it.Figure = w.largeFigure(k.Class.Items[l.Number-1], g.People[0])
			}
			it.Groups = append(it.Groups, v)
		}
		t.Items = append(t.Items, it)
	}
	p, err := w.classPage(c, k)
	if err != nil {
		w.refused(c, err)
		return
	}
	w.pages.render(c,
		http.StatusOK,
		"classteach",
		gin.H{"Row": k, "Lesson": t, "Cautions": p.Cautions, "Room": p.Room, "Stop": app.WhenToStop},
	)
}

func (w *site) finishClass(c *gin.Context) {
	after := map[string]int{}
	for _, said := range c.PostFormArray("after") { // a plan and how much, of ten
		if said == "" {
			continue // as before
		}
		of, score, _ := strings.Cut(said, " ")
		n, err := strconv.Atoi(score)
		if err != nil || n < 0 || n > 10 {
			fail(c, http.StatusUnprocessableEntity, "Pain after: expected 0 to 10.")
			return
		}
		after[of] = n
	}
	err := w.idempotentOnly(c, func(ctx context.Context) error {
		return w.FinishClass(ctx, c.Param("id"), after, c.PostForm("as_before") == "yes")
	})
	if err != nil {
		if status, sentence := w.sentence(c, err); status == http.StatusUnprocessableEntity {
			w.showClass(c, status, sentence)
			return
		}
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, classLink(c.Param("id")))
}

// restOfClass replans what is left for those who are here.
func (w *site) restOfClass(c *gin.Context) {
	number := func(field string) int {
		n, err := strconv.Atoi(strings.TrimSpace(c.PostForm(field)))
		if err != nil {
			return -1 // refused by name
		}
		return n
	}
	rest := app.ClassRest{Done: number("done"), Minutes: number("minutes"), Absent: c.PostFormArray("absent")}
	err := w.idempotentOnly(c, func(ctx context.Context) error { return w.ContinueClass(ctx, c.Param("id"), rest) })
	if err != nil {
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, classLink(c.Param("id"))+"/teach")
}
