package web

import (
	"context"
	"net/http"
	"net/url"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/limit"
)

// TestMapsOfTheBackAreTapped taps hours of the pelvic clock and sides of the curve
// map, and takes them back.
func TestMapsOfTheBackAreTapped(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	id := client(t, s, "Saffron")
	b := newBrowser(t, 1280, 900)
	b.open(srv.URL + "/clients/" + id + "/screens")
	b.do(chromedp.Click(".hour-3"))
	b.until(`document.querySelector("#clock").innerText.includes("hesitant at 3")`)
	b.do(chromedp.Click(".hour-3"))
	b.until(`document.querySelector("#clock").innerText.includes("jerky at 3")`)
	row, err := s.Store.Client(context.Background(), id)
	require.NoError(t, err)
	last := row.Client.Clock[len(row.Client.Clock)-1]
	assert.Equal(t, []int{3}, last.Rough())
	b.accessible("clock")
	b.do(chromedp.Click(".clock-said button"))
	b.until(`!document.querySelector("#clock").innerText.includes("jerky at")`)

	b.open(srv.URL + "/clients/" + id)
	b.do(chromedp.Click(".spot-lumbar-left")) // there already: taken away
	b.until(`document.querySelector(".spot-lumbar-left").getAttribute("aria-pressed") === "false"`)
	b.do(chromedp.Click(".spot-lumbar-right"))
	b.until(`document.querySelector(".spot-lumbar-right").getAttribute("aria-pressed") === "true"`)
	row, err = s.Store.Client(context.Background(), id)
	require.NoError(t, err)
	assert.Equal(t, "right", row.Client.Convex(), "both curves bulge to the right now")

	for path, form := range map[string]url.Values{"clock": {"hour": {"13"}}, "curves": {"curve": {"neck-left"}}} {
		resp, body := ask(t, http.MethodPost, srv.URL+"/clients/"+id+"/"+path, form, nil)
		assert.Equal(t, http.StatusUnprocessableEntity, resp.StatusCode)
		assert.Contains(t, body, "xpected")
	}
}

// TestFaultsSeenAndPressure ticks a fault, which becomes a need, and asks for a
// reading before a visit of somebody with raised blood pressure.
func TestFaultsSeenAndPressure(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	ctx := context.Background()
	id, plan := client(t, s, "Tobias"), planned(t, s, "Tobias")
	row, err := s.Store.Client(ctx, id)
	require.NoError(t, err)
	resp, _ := ask(t, http.MethodPost, srv.URL+"/clients/"+id+"/screens", url.Values{"version": {"1"}, "faults": {"tucks_under"}}, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	row, err = s.Store.Client(ctx, id)
	require.NoError(t, err)
	require.Len(t, row.Client.FaultsSeen, 1)
	assert.NotEmpty(t, row.Client.FaultsSeen[0].On)

	_, page := get(t, srv.URL+"/plans/"+plan.ID+"/check")
	assert.NotContains(t, page, "Blood pressure")
	k := row.Client
	k.Conditions = append(k.Conditions, limit.Condition{ID: "raised_blood_pressure"})
	require.NoError(t, s.ChangeClient(ctx, id, row.Version, k))
	_, page = get(t, srv.URL+"/plans/"+plan.ID+"/check")
	assert.Contains(t, page, "Blood pressure at rest")
	_, page = ask(t, http.MethodPost, srv.URL+"/plans/"+plan.ID+"/check",
		url.Values{"asked": {"yes"}, "pain": {"3"}, "pressure": {"high"}}, nil)
	assert.Contains(t, page, "expected a reading such as 128/78")
	assert.Contains(t, page, `value="high"`, "what was typed stays")
	resp, _ = ask(t, http.MethodPost, srv.URL+"/plans/"+plan.ID+"/check",
		url.Values{"asked": {"yes"}, "pain": {"3"}, "pressure": {"186/100"}}, nil)
	assert.Equal(t, "/clients/"+id, resp.Header.Get("Location"), "too high for a session today")
	_, page = get(t, srv.URL+"/clients/"+id)
	assert.Contains(t, page, "186/100 is too high for a session today: the doctor hears of it today")
	for _, to := range []string{"", "/teach"} {
		resp, _ = ask(t, http.MethodPost, srv.URL+"/plans/"+plan.ID+"/check",
			url.Values{"asked": {"yes"}, "pain": {"3"}, "pressure": {"128/78"}}, nil)
		assert.Equal(t,
			"/plans/"+plan.ID+to,
			resp.Header.Get("Location"),
			"the plan was made before the condition was known: anew first, then on",
		)
	}
	_, page = ask(t, http.MethodPost, srv.URL+"/plans/"+plan.ID+"/check", url.Values{"pain": {"x"}, "red_flags": {"fever_unwell"}}, nil)
	assert.Contains(t, page, `value="fever_unwell" checked`, "what was marked stays too")
}

// TestChairStandsAreCounted starts the half minute and counts three taps.
func TestChairStandsAreCounted(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	b := newBrowser(t, 1280, 900)
	b.open(srv.URL + "/clients/" + client(t, s, "Odette") + "/screens")
	read[int](b, `[...document.querySelectorAll(".drawer")].map(d => d.open = true).length`)
	for range 4 { // the first tap starts it
		b.do(chromedp.Click(`[data-count="m.chair_stand_30s"]`))
	}
	assert.Equal(t, "3", read[string](b, `document.getElementsByName("m.chair_stand_30s")[0].value`))
	assert.Contains(t, b.text(`[data-count] + span`), "s left")
}
