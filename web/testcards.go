package web

import (
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/limit"
	"restbend/draw"
	"restbend/store"
)

// testCard is a movement test or a measure as it is shown large: those whose answer would
// change the next plan most, three a visit.
type testCard struct {
	ID, Name, How, Look string
	Asked               bool // it has findings; else it is measured only
	Support             bool
	Figure              Figure
	Measures            []measureField
	Before              []string // what was found before, by side
	Worth               string   // how much of the next plan it could change
	Taken               bool     // before the work, today: to be taken again after it
}

// aVisit is how many tests are proposed for a visit.
const aVisit = 3

// cards are the tests for now: what was taken before today's work and not yet after it, then
// what would change the next plan most.
func (w *site) cards(c *gin.Context, k store.Client) ([]testCard, error) {
	version, err := w.Store.Version(c.Request.Context())
	if err != nil {
		return nil, err
	}
	key := strings.Join([]string{version, k.ID, w.Today().String()}, " ")
	worth, known := w.worths.Get(key)
	if !known {
		if worth, err = w.TestsWorth(c.Request.Context(), k); err != nil {
			return nil, err
		}
		w.worths.Add(key, worth)
	}
	worth = slices.Clone(worth)
	today := w.Today().String()
	again := func(t app.Worth) bool {
		at := func(moment string) bool {
			return slices.ContainsFunc(
				k.Client.Screens,
				func(r limit.Screen) bool { return r.ID == t.Test && r.On == today && r.Moment == moment },
			)
		}
		return t.Test != "" && at("before") && !at("after")
	}
	slices.SortStableFunc(worth, func(a, b app.Worth) int {
		return map[bool]int{true: 1}[again(b)] - map[bool]int{true: 1}[again(a)]
	})
	var out []testCard
	for _, t := range worth {
		if len(out) == aVisit {
			break
		}
		card := testCard{ID: t.Test + t.Measure, Taken: again(t)}
		switch {
		case t.Seconds >= 90:
			card.Worth = fmt.Sprintf("Could change about %.0f minutes of the next plan.", t.Seconds/60)
		case t.Seconds > 0:
			card.Worth = "Could change a little of the next plan."
		}
		if test, ok := limit.FindScreenTest(t.Test); ok {
			card.Asked, card.Name, card.How, card.Look, card.Support = true, test.Name, test.How, test.Look, test.Balance
			card.Figure, card.Before = w.figures.get(want{variant: test.Like, large: true, theme: draw.Light}), findingsOf(
				k.Client,
				test.ID,
			)
			if test.Timed != "" {
				card.Measures = append(card.Measures, w.measured(k.Client, test.Timed)...)
			}
		} else {
			card.Measures = w.measured(k.Client, t.Measure)
			for _, m := range card.Measures {
				card.Name, card.How, card.Figure = m.Words, m.How, w.figures.get(want{variant: m.Like, large: true, theme: draw.Light})
			}
		}
		out = append(out, card)
	}
	return out, nil
}

// measured is a measure with what was found before.
func (w *site) measured(c limit.Client, id string) []measureField {
	for _, m := range measureFields {
		if m.ID == id {
			m.recall(c.Measures, w.Today())
			return []measureField{m}
		}
	}
	return nil
}

// findingsOf are the last findings of a test in words, by side, newest last.
func findingsOf(c limit.Client, test string) []string {
	var out []string
	for _, r := range c.Screens {
		if r.ID != test {
			continue
		}
		words := limit.FindingWords[r.Finding]
		if r.Side != "" {
			words = r.Side + ": " + words
		}
		if r.Moment != "" {
			words += ", " + r.Moment + " the work"
		}
		if r.On != "" {
			words += ", " + dateWords(r.On)
		}
		out = append(out, words)
	}
	return out[max(0, len(out)-2):]
}

// wouldChange says what the answers that stand on a card would change, before they are kept.
func (w *site) wouldChange(c *gin.Context) {
	k, err := w.Store.Client(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	asked, _, refusal := readTests(k, func(name string) string { return c.Query(name) })
	lines := []string{}
	switch {
	case refusal != "":
		lines = append(lines, refusal)
	case len(asked.Screens)+len(asked.Measures) > 0:
		if lines, err = w.WouldChange(c.Request.Context(), k, asked); err != nil {
			status, sentence := w.sentence(c, err)
			if status != http.StatusUnprocessableEntity {
				w.refused(c, err)
				return
			}
			lines = []string{sentence}
		}
	}
	for i, line := range lines {
		lines[i] = strings.TrimSuffix(line, " Nothing was saved yet.")
	}
	w.pages.render(c, http.StatusOK, "would", lines)
}
