package web

import (
	"context"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/plan"
	"restbend/store"
)

// TestThePlanSaysWhatTheDayAsksFor: fewer minutes with the reason, and a shortfall with the
// places where more would suit, each a button that goes there.
func TestThePlanSaysWhatTheDayAsksFor(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	row := planned(t, s, "Tobias")
	to := srv.URL + "/plans/" + row.ID
	resp, _ := ask(t,
		http.MethodPost,
		to+"/change",
		url.Values{"revision": {strconv.Itoa(row.Revision)}, "minutes": {"60"}, "pain": {"7"}},
		nil,
	)
	require.Less(t, resp.StatusCode, 400)
	_, page := get(t, to)
	assert.Contains(t, page, "Asked 60 minutes, today 15. Pain today is 7 of 10; over 5, the clinician should hear of it.")
	assert.NotContains(t, page, "fit to 60 min", "it is fitted to what suits the day")

	row = planned(t, s, "Tobias")
	assert.Equal(t, 60, row.Plan.MinutesAsked, "what was asked is kept")
	p := row.Plan
	p.Shortfall = &plan.Shortfall{
		Minutes: 4,
		Because: []string{"Only quiet things suit."},
		Places:  []plan.PlaceMinutes{{Place: "bed", Minutes: 14}},
	}
	require.NoError(t, s.Store.Change(context.Background(), func(tx *store.Tx) error {
		return tx.ChangePlan(row.ID, row.Revision, p, "shorter", s.Now())
	}))
	b := newBrowser(t, 1280, 800)
	b.open(to)
	assert.Contains(t, b.text(".day-line strong"), "4 minutes short.")
	b.accessible("short plan")
	b.picture("short")
	require.True(t,
		read[bool](b, `(() => { const k = document.querySelector(".day-line button[value=bed]"); k && k.click(); return !!k })()`),
	)
	b.until(`document.getElementById("wish-place").value === "bed"`)
	assert.Equal(t, "bed", string(planned(t, s, "Tobias").Plan.Place))
}

// TestTwoPlansOfOneDayAreMeant: a second one is asked about, wherever the first came from.
func TestTwoPlansOfOneDayAreMeant(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	first := planned(t, s, "Odette")
	path := srv.URL + "/clients/" + first.ClientID + "/plans"
	form := url.Values{"minutes": {"25"}, "place": {"chair"}, "on": {first.On}}
	resp, body := ask(t, http.MethodPost, path, form, nil)
	assert.Equal(t, http.StatusConflict, resp.StatusCode)
	assert.Contains(t, body, "has a plan for")
	assert.Contains(t, body, `href="/plans/`+first.ID+`"`)
	assert.Contains(t, body, `value="25"`, "what was asked for stays")
	form.Set("second", "yes")
	resp, _ = ask(t, http.MethodPost, path, form, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	second := strings.TrimPrefix(resp.Header.Get("Location"), "/plans/")
	_, body = get(t, srv.URL+"/calendar")
	assert.Contains(t, body, "Odette comes twice")
	day := s.Today().AddDate(0, 0, 3).String()
	resp, _ = ask(t, http.MethodPost, srv.URL+"/plans/"+second+"/schedule", url.Values{"on": {day}}, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	resp, body = ask(t, http.MethodPost, srv.URL+"/plans/"+second+"/schedule", url.Values{"on": {first.On}}, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, resp.StatusCode)
	assert.Contains(t, body, "has another plan on")
	resp, _ = ask(t, http.MethodPost, srv.URL+"/plans/"+second+"/schedule", url.Values{"on": {first.On}, "second": {"yes"}}, nil)
	assert.Equal(t, http.StatusSeeOther, resp.StatusCode)
}
