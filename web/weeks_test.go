package web

import (
	"context"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"restbend/core/civil"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestWeeksAhead: the weeks of a client are shown, kept as lessons and taken back, and go out
// as a calendar; what cannot be is refused with what was asked still there.
func TestWeeksAhead(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	ctx := context.Background()
	odette := client(t, s, "Odette")
	at := srv.URL + "/clients/" + odette + "/weeks"
	b := newBrowser(t, 1280, 900)
	b.open(at)
	b.accessible("weeks ahead")
	assert.Equal(t, 6.0, read[float64](b, `document.querySelectorAll(".week:not(.week-names)").length`))
	assert.Equal(t, 1.0, read[float64](b, `document.querySelectorAll(".day.is-review").length`))
	assert.Contains(t, b.text(".weeks-side"), "balance")
	assert.NotEmpty(t, read[string](b, `document.querySelector(".day-items li strong").innerText`))
	b.do(chromedp.Focus(`.day.is-home`), chromedp.KeyEvent(kb.Enter)) // another day, by keys
	b.until(`document.querySelector(".day.is-chosen")?.classList.contains("is-home")`)

	plans := func() (n int) {
		all, err := s.Store.PlansOf(ctx, odette)
		require.NoError(t, err)
		for _, p := range all {
			if !p.Taught() {
				n++
			}
		}
		return n
	}
	before := plans()
	b.open(at + "?weeks=3&sessions=2&home=2")
	b.press(".head-actions .tongue")
	b.until(`document.querySelector(".undo")?.innerText.includes("These days are kept")`)
	assert.Equal(t, before+4, plans(), "five lessons but for the review, and today's was planned before")
	assert.Contains(t, b.text("h1"), "3 weeks", "what was kept is shown again")
	b.press(".undo button")
	b.until(`!document.querySelector(".undo")`)
	assert.Equal(t, before, plans())

	_, ics := ask(t, http.MethodGet, at+".ics?weeks=2", nil, nil)
	assert.Contains(t, ics, "SUMMARY:Lesson")
	assert.Contains(t, ics, "SUMMARY:Review\\, tests again")
	for says, query := range map[string]string{"Weeks: expected 1 to 26": "weeks=99",
		"Sessions-per-week: expected": "weeks=2&sessions=lots", "more than a week has": "weeks=2&sessions=4&home=7",
		"is not a date": "weeks=2&from=soon"} {
		r, body := ask(t, http.MethodGet, at+"?"+query, nil, nil)
		assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode, says)
		assert.Contains(t, body, says)
		r, body = ask(t, http.MethodPost, at, mustQuery(t, query), nil)
		assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode, says)
		assert.Contains(t, body, says)
	}
}

func mustQuery(t *testing.T, q string) url.Values {
	v, err := url.ParseQuery(q)
	require.NoError(t, err)
	return v
}

// TestCalendar: lessons and classes stand on their days, are moved by the arrows and back, and
// what falls together is said.
func TestCalendar(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	ctx := context.Background()
	row, k := planned(t, s, "Anselm"), theDemoClass(t, s.Store)
	b := newBrowser(t, 1280, 900)
	b.open(srv.URL + "/calendar")
	b.accessible("calendar")
	assert.Contains(t, b.text(`.cal-day[data-day="`+row.On+`"]`), "Anselm")
	assert.Contains(t, b.text(`.cal-day[data-day="`+k.On+`"]`), k.Name)
	assert.Equal(t, 1, strings.Count(b.text(".cal"), "Anselm"), "the plan in the class is not shown twice")
	assert.Contains(t, b.text(".cal-day.is-today"), "how it settled")

	read[any](b, `document.querySelector('[data-id="`+row.ID+`"] button:last-child').click(); 0`)
	b.until(`document.querySelector(".undo")?.innerText.includes("was moved to")`)
	next, err := civil.Parse(row.On)
	require.NoError(t, err)
	moved, err := s.Store.Plan(ctx, row.ID)
	require.NoError(t, err)
	assert.Equal(t, next.AddDate(0, 0, 1).String(), moved.On)
	assert.Equal(t, row.At, moved.At)
	b.press(".undo button")
	b.until(`!document.querySelector(".undo") || document.querySelector(".undo").innerText.includes("` + dateWords(row.On) + `")`)
	moved, err = s.Store.Plan(ctx, row.ID)
	require.NoError(t, err)
	assert.Equal(t, row.On, moved.On)

	// The class and everybody's plan go together; at the hour of another lesson it is said.
	edmund := planned(t, s, "Edmund")
	require.NoError(t, s.Schedule(ctx, edmund.ID, k.On, "10:15"))
	_, page := ask(t, http.MethodGet, srv.URL+"/calendar", nil, nil)
	assert.Contains(t, page, "at once")
	r, _ := ask(t, http.MethodPost, srv.URL+"/calendar/move", url.Values{"what": {"class"}, "id": {k.ID}, "on": {row.On}}, nil)
	require.Equal(t, http.StatusSeeOther, r.StatusCode)
	k, err = s.Store.Class(ctx, k.ID)
	require.NoError(t, err)
	for _, p := range k.People {
		of, err := s.Store.Plan(ctx, p.PlanID)
		require.NoError(t, err)
		assert.Equal(t, row.On, of.On)
	}
	for says, form := range map[string]url.Values{"is missing": {"what": {"plan"}, "id": {row.ID}},
		"cannot be moved": {"what": {"chair"}, "on": {row.On}}, "is not a date": {"what": {"plan"}, "id": {row.ID}, "on": {"soon"}},
		"too far away": {"what": {"class"}, "id": {k.ID}, "on": {"2090-01-01"}}} {
		r, body := ask(t, http.MethodPost, srv.URL+"/calendar/move", form, nil)
		assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode, says)
		assert.Contains(t, body, says)
	}
}
