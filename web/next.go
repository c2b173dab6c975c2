package web

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/progress"
	"restbend/store"
)

// What happened decides what comes next: the strip on top of a client's page.

// nextView says last time and therefore next.
type nextView struct {
	Last      *store.Record
	Ago       string
	Otherwise []string
	Refer     bool
	Notes     []string
	Up, Back  []nextLine
	Waiting   []nextLine
	Holds     []nextLine   // exercises that wait for the same stand together
	Rungs     []app.Choice // what can be set on somebody's word
	Ladders   []ladderView // where the client stands
	PainNow   *int         // what the next session is planned for, as the records leave it
}

// nextLine is one decision in words.
type nextLine struct {
	Name, To, Why, Waits string
}

func (w *site) nextView(ctx context.Context, k store.Client, records []store.Record, u app.Units) (nextView, error) {
	v := nextView{}
	if len(records) == 0 {
		v.Ladders = w.ladders(k, progress.Answer{Client: k.Client})
		return v, nil
	}
	last := records[len(records)-1]
	v.Last, v.Ago = &last, ago(last.On, w.Today())
	v.Otherwise, _ = exceptions(last.Record.Items)
	next, err := w.NextFor(ctx, k.ID, k.Client)
	if err != nil {
		return v, err
	}
	v.Refer = next.Status == limit.Refer
	for _, n := range next.Notes {
		v.Notes = append(v.Notes, plainDates(n))
	}
	v.Ladders = w.ladders(k, next)
	v.PainNow = next.Client.Pain.Now
	offered := map[string]bool{}
	for _, d := range next.Decisions {
		at := w.Library.Variant(d.Variant)
		if at == nil {
			continue
		}
		line := nextLine{Name: at.Name, Why: plainDates(strings.Join(d.Because, " ")), Waits: plainDates(d.WaitingFor)}
		if d.Side != "" {
			line.Name += ", " + d.Side
		}
		if to := w.Library.Variant(d.To.Variant); to != nil && d.To.Dose != nil {
			line.To = app.DoseWords(*d.To.Dose, nil)
			if with := app.WithWords(nil, d.To.Settings, u); with != "" && d.Changed == "setting" {
				line.To += ", " + with
			}
			if to != at {
				line.To = to.Name + ", " + line.To
			}
		}
		switch d.Step {
		case progress.StepUp:
			v.Up = bothSidesOnce(v.Up, line, at.Name)
		case progress.StepBack:
			v.Back = bothSidesOnce(v.Back, line, at.Name)
		default:
			v.Waiting = bothSidesOnce(v.Waiting, line, at.Name)
		}
		for _, id := range append([]string{at.ID}, at.NextIDs()...) {
			if x := w.Library.Variant(id); x != nil && !offered[id] {
				offered[id] = true
				v.Rungs = append(v.Rungs, app.Choice{Value: id, Words: x.Name})
			}
		}
	}
	for _, l := range v.Waiting {
		i := slices.IndexFunc(v.Holds, func(o nextLine) bool { return o.Why == l.Why && o.Waits == l.Waits })
		if i < 0 {
			v.Holds = append(v.Holds, l)
			continue
		}
		v.Holds[i].Name += "; " + l.Name
	}
	return v, nil
}

// bothSidesOnce adds a line; where the other side says the same, the two are one.
func bothSidesOnce(lines []nextLine, line nextLine, name string) []nextLine {
	for i, l := range lines {
		if strings.HasPrefix(l.Name, name+", ") && l.To == line.To && l.Why == line.Why && l.Waits == line.Waits {
			lines[i].Name = name
			return lines
		}
	}
	return append(lines, line)
}

// overrule sets a rung on somebody's word.
func (w *site) overrule(c *gin.Context) {
	w.changeClearances(c, w.idempotentOnly(c, func(ctx context.Context) error {
		return w.Overrule(ctx, c.Param("id"), c.PostForm("variant"), c.PostForm("by"), c.PostForm("reason"))
	}))
}

// seen notes a clinician's look at what the records referred.
func (w *site) seen(c *gin.Context) {
	w.changeClearances(c, w.idempotentOnly(c, func(ctx context.Context) error {
		return w.SeenByClinician(ctx,
			c.Param("id"),
			limit.SeenBy{By: c.PostForm("by"), On: c.PostForm("on"), Note: strings.TrimSpace(c.PostForm("note"))},
		)
	}))
}

// followUpChoice is an answer that needs one tap.
type followUpChoice struct{ ID, Words string }

var followUpChoices = []followUpChoice{
	{"none", "Nothing"},
	{"sore", "Sore, gone within a day and a half"},
	{"pain", "Pain, back to usual within a day"},
}

// quickFollowUp keeps an answer that was tapped on the page of the day.
func (w *site) quickFollowUp(c *gin.Context) {
	f, ok := map[string]lesson.FollowUp{"none": {Kind: "none"}, "sore": {Kind: "soreness", HoursToSettle: 24},
		"pain": {Kind: "pain", HoursToSettle: 20}}[c.PostForm("answer")]
	if !ok {
		fail(c, http.StatusUnprocessableEntity, fmt.Sprintf("Answer: %q is not known. Nothing was saved.", c.PostForm("answer")))
		return
	}
	if err := w.idempotentOnly(c, func(ctx context.Context) error { return w.FollowUp(ctx, c.Param("id"), f) }); err != nil {
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/?asked="+url.QueryEscape(c.Param("id")))
}

// symptomsOf reads what a follow-up says of symptoms.
func symptomsOf(c *gin.Context) []lesson.Symptom {
	s := lesson.Symptom{
		Where:  c.PostForm("symptom_where"),
		Side:   c.PostForm("symptom_side"),
		Kind:   c.PostForm("symptom_kind"),
		Change: c.PostForm("symptom_change"),
	}
	if s.Where == "" || s.Kind == "" {
		return nil
	}
	return []lesson.Symptom{s}
}

// symptomPlaces are where a symptom may be, in words.
func symptomPlaces() []app.Choice {
	var out []app.Choice
	for _, p := range exercise.ComplaintPlaces {
		out = append(out, app.Choice{Value: p, Words: strings.ReplaceAll(p, "_", " ")})
	}
	return out
}
