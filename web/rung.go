package web

import (
	"context"
	"fmt"
	"math"
	"net/http"
	"net/url"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/progress"
	"restbend/draw"
	"restbend/store"
)

// The test of a rung: one exercise on its own, held or counted to what earns the next.

// rungTest is the page of one.
type rungTest struct {
	Client   store.Client
	Variant  *exercise.Variant
	Figure   Figure
	Next     []string // names of what it earns
	Sides    []rungSide
	Unit     string // what is counted
	Each     string // seconds of each hold, where there are to be several
	Barred   string
	Instead  link
	Before   []rungResult
	Said     string
	Refusal  string
	Cautions *cautions
}

// rungSide is what is filled in for one side.
type rungSide struct {
	Side, Value, Holds string
}

// rungResult is one earlier test in words.
type rungResult struct {
	On, Words, Change string
	Shown             bool
}

var rungUnits = map[exercise.DoseKind]string{
	exercise.Repetitions: "clean repetitions",
	exercise.HoldSeconds: "seconds held clean",
	exercise.Breaths:     "breaths",
}

func (w *site) rung(c *gin.Context) { w.showRung(c, http.StatusOK, "", nil) }

// rungOf finds client and exercise; it has answered where one is missing.
func (w *site) rungOf(c *gin.Context) (store.Client, *exercise.Variant, bool) {
	k, err := w.Store.Client(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return k, nil, false
	}
	v := w.Library.Variant(c.Param("variant"))
	if v == nil {
		fail(c, http.StatusNotFound, "There is no such exercise in the library. It may have been renamed.")
	}
	return k, v, v != nil
}

// rungSides are the sides a rung is tested on.
func rungSides(v *exercise.Variant) []string {
	if v.Sided() {
		return []string{"left", "right"}
	}
	return []string{""}
}

func (w *site) showRung(c *gin.Context, status int, refusal string, typed map[string]string) {
	k, v, ok := w.rungOf(c)
	if !ok {
		return
	}
	set := w.Limits(k.Client, w.Today())
	j := set.Judge(v, limit.KitOf(k.Client, k.Client.Place))
	p := rungTest{Client: k, Variant: v, Unit: rungUnits[v.Earn.Kind], Refusal: refusal, Cautions: w.cautions(set, true),
		Figure: w.figures.get(want{variant: v.ID, form: formOf(j, v), large: true, ghost: true, theme: draw.Light})}
	if v.Earn.Kind == exercise.HoldSeconds && v.Earn.Repetitions > 1 {
		p.Each = fmt.Sprintf("%g", v.Earn.Amount)
	}
	for _, id := range v.NextIDs() {
		p.Next = append(p.Next, w.Library.Variant(id).Name)
	}
	switch free := j.Free(); {
	case set.Status() == limit.Refer:
		p.Barred = set.Refer()[0].Text
	case j.Verdict == exercise.Avoid && free == "":
		p.Barred = j.Reasons[0].Text
	default:
		for _, side := range rungSides(v) {
			if j.Verdict == exercise.Avoid && side != free {
				continue
			}
			p.Sides = append(p.Sides, rungSide{side, typed["value."+side], typed["holds."+side]})
		}
	}
	if p.Barred != "" {
		for _, id := range v.Swaps { // what asks the same and is for this client
			if o := w.Library.Variant(id); slices.Contains(o.Purposes, v.Purposes[0]) &&
				set.Judge(o, limit.KitOf(k.Client, k.Client.Place)).Verdict != exercise.Avoid {
				p.Instead = link{o.Name, rungLink(k.ID, o.ID)}
				break
			}
		}
	}
	first := map[string]float64{}
	for _, m := range k.Client.Measures {
		if m.ID != limit.RungTest || m.Variant != v.ID {
			continue
		}
		r := rungResult{On: m.On, Words: rungWords(v, m), Shown: progress.Shown(v, m)}
		if was, met := first[m.Side]; met && was != m.Value {
			r.Change = fmt.Sprintf("%+g since the first time", m.Value-was)
		} else if !met {
			first[m.Side] = m.Value
		}
		p.Before = append(p.Before, r)
	}
	slices.Reverse(p.Before)
	if c.Query("kept") != "" {
		p.Said = rungSaid(v, progress.RungTests(k.Client, v.ID, w.Today()))
	}
	w.pages.render(c, status, "rung", p)
}

// rungWords say a result.
func rungWords(v *exercise.Variant, m limit.Measure) string {
	words := fmt.Sprintf("%g %s", m.Value, rungUnits[v.Earn.Kind])
	if m.Holds > 0 {
		words = fmt.Sprintf("%d holds of %g s", m.Holds, m.Value)
	}
	if m.Side != "" {
		words = m.Side + ": " + words
	}
	return words
}

// rungSaid says what the newest tests show: that the next is earned, or what is short.
func rungSaid(v *exercise.Variant, tests []limit.Measure) string {
	var short []string
	for _, side := range rungSides(v) {
		i := slices.IndexFunc(tests, func(m limit.Measure) bool { return m.Side == side })
		on := ""
		if side != "" {
			on = " on the " + side
		}
		switch {
		case i < 0:
			short = append(short, "nothing is tested"+on+" yet")
		case progress.Shown(v, tests[i]):
		case tests[i].Value < v.Earn.Amount:
			short = append(short, fmt.Sprintf("%g short%s", v.Earn.Amount-tests[i].Value, on))
		default:
			short = append(short, fmt.Sprintf("%d holds short%s", v.Earn.Repetitions-max(1, tests[i].Holds), on))
		}
	}
	if len(short) == 0 {
		return "That is what earns the next step. It counts for four weeks; two clean sessions that settle are still wanted before " +
			"the step."
	}
	return "Not yet: " + strings.Join(short, ", ") + ". What was clean is the target."
}

func rungLink(client, variant string) string {
	return "/clients/" + url.PathEscape(client) + "/rungs/" + url.PathEscape(variant)
}

// addRung keeps a test of a rung, both sides or none.
//
//revive:disable-next-line:cyclomatic One check for each field, each with its own sentence.
func (w *site) addRung(c *gin.Context) {
	k, v, ok := w.rungOf(c)
	if !ok {
		return
	}
	typed, refusal := map[string]string{}, ""
	var tests app.Tests
	for _, side := range rungSides(v) {
		on := ""
		if side != "" {
			on = ", " + side
		}
		value, holds := strings.TrimSpace(c.PostForm("value."+side)), strings.TrimSpace(c.PostForm("holds."+side))
		typed["value."+side], typed["holds."+side] = value, holds
		if value == "" && holds == "" {
			continue
		}
		several := v.Earn.Kind == exercise.HoldSeconds && v.Earn.Repetitions > 1
		if several && value == "" {
			value = fmt.Sprintf("%g", v.Earn.Amount)
		}
		m := limit.Measure{ID: limit.RungTest, Variant: v.ID, Side: side}
		n, number := readNumber(value)
		whole := v.Earn.Kind != exercise.HoldSeconds
		switch {
		case !number || n < 0 || n > 600 || whole && n != math.Trunc(n):
			refusal = fmt.Sprintf(
				"%s%s: expected a %snumber from 0 to 600, found %q. Nothing was saved yet.",
				app.Capital(rungUnits[v.Earn.Kind]),
				on,
				map[bool]string{true: "whole "}[whole],
				value,
			)
			continue
		}
		m.Value = n
		if several {
			count, number := readNumber(holds)
			if !number || count < 0 || count > exercise.MostRepetitions || count != math.Trunc(count) {
				refusal = fmt.Sprintf(
					"Clean holds%s: expected a whole number from 0 to %d, found %q. Nothing was saved yet.",
					on,
					exercise.MostRepetitions,
					holds,
				)
				continue
			}
			if m.Holds = int(count); count == 0 {
				m.Value = 0 // not one was clean
			}
		}
		tests.Measures = append(tests.Measures, m)
	}
	if refusal == "" && len(tests.Measures) == 0 {
		refusal = "Nothing was filled in: expected what was done clean, on one side at least."
	}
	if refusal == "" {
		set := w.Limits(k.Client, w.Today())
		j := set.Judge(v, limit.KitOf(k.Client, k.Client.Place))
		for _, m := range tests.Measures {
			if set.Status() == limit.Refer || j.Verdict == exercise.Avoid && (j.Free() == "" || j.Free() != m.Side) {
				refusal = fmt.Sprintf("%s is not for this client now. Nothing was saved.", v.Name)
			}
		}
	}
	if refusal == "" {
		err := w.idempotentOnly(c, func(ctx context.Context) error { return w.AddMeasures(ctx, k.ID, tests.Measures) })
		if err == nil {
			c.Redirect(http.StatusSeeOther, rungLink(k.ID, v.ID)+"?kept=yes")
			return
		}
		status, sentence := w.sentence(c, err)
		if status != http.StatusUnprocessableEntity {
			fail(c, status, sentence)
			return
		}
		refusal = sentence
	}
	w.showRung(c, http.StatusUnprocessableEntity, refusal, typed)
}

// ladderView is one family on a client's page: the rung before, the one on record, what
// comes next.
type ladderView struct {
	Family string
	Said   string // what happened there last, or what it waits for
	Rungs  []ladderRung
}

type ladderRung struct {
	Name, Link, State, Words string // state is done, now or next
	Figure                   Figure
}

// mostLadders is how many families are shown at first.
const mostLadders = 4

// ladders are the families that a client has a place in, the latest decided first.
func (w *site) ladders(k store.Client, next progress.Answer) []ladderView {
	var out []ladderView
	seen := map[string]bool{}
	add := func(at *exercise.Variant, said string) {
		if at == nil || seen[at.Family] || len(out) == mostLadders {
			return
		}
		seen[at.Family] = true
		l := ladderView{Said: said}
		if said == "" && len(at.Next) > 0 {
			l.Said = at.Earn.Words
		}
		for _, f := range w.Library.Families {
			if f.ID != at.Family {
				continue
			}
			l.Family = f.Name
			for _, r := range f.Ladder() {
				if r.Variant == at && len(r.From) > 0 {
					below := w.Library.Variant(r.From[0].To)
					l.Rungs = append(l.Rungs,
						ladderRung{below.Name, "/library/" + below.ID + "?client=" + k.ID, "done", "", w.figures.thumb(below.ID)},
					)
				}
			}
		}
		l.Rungs = append(l.Rungs, ladderRung{at.Name, rungLink(k.ID, at.ID), "now", "test this step", w.figures.thumb(at.ID)})
		for _, id := range at.NextIDs() {
			up := w.Library.Variant(id)
			l.Rungs = append(l.Rungs, ladderRung{up.Name, "/library/" + up.ID + "?client=" + k.ID, "next", "", w.figures.thumb(up.ID)})
			break
		}
		out = append(out, l)
	}
	decided := slices.Clone(next.Decisions)
	rank := map[string]int{progress.StepBack: 0, progress.StepUp: 1, progress.Hold: 2, progress.Refer: 3}
	slices.SortStableFunc(decided, func(a, b progress.Decision) int { return rank[a.Step] - rank[b.Step] })
	for _, d := range decided {
		at := w.Library.Variant(d.To.Variant)
		said := ""
		switch {
		case d.Step == progress.StepBack && len(d.Because) > 0:
			said = "stepped back: " + d.Because[0]
		case d.Step == progress.StepUp:
			said = "steps up in " + d.Changed
		}
		if at != nil && (len(at.Next) > 0 || d.Step != progress.Hold) {
			add(at, said)
		}
	}
	for _, r := range next.Client.Rungs {
		add(w.Library.Variant(r.Variant), "")
	}
	return out
}
