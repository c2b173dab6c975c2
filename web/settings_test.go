package web

import (
	"context"
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
)

// TestSettingsAreTheClientsOwn: an exercise on a bench is planned, drawn, explained
// and taught at the height that the client has.
func TestSettingsAreTheClientsOwn(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	ctx := context.Background()
	c := limit.Client{Format: "restbend.client/1", Name: "Hester Lowbench", Place: "mat", Minutes: 30, RedFlags: []string{},
		Approach: "steady", Equipment: []string{"mat", "bench"}, Owned: limit.Owned{SurfaceCM: []float64{60, 95}}}
	id, err := s.AddClient(ctx, c)
	require.NoError(t, err)
	planID, err := s.AddPlan(ctx, id, app.Wish{Minutes: 30, Place: "mat", Approach: "steady"}, "2026-11-24", "10:00")
	require.NoError(t, err)
	row, err := s.Store.Plan(ctx, planID)
	require.NoError(t, err)
	on := func(it plan.Item) bool { return it.Variant == "plank_sofa_toes" }
	if !slices.ContainsFunc(row.Plan.Items, on) {
		resp, body := ask(t,
			http.MethodPost,
			srv.URL+"/plans/"+planID+"/edit",
			url.Values{"kind": {"add"}, "variant": {"plank_sofa_toes"}, "revision": {strconv.Itoa(row.Revision)}},
			nil,
		)
		require.Equal(t, http.StatusSeeOther, resp.StatusCode, between(body, "refusal", "</p>"))
		row, err = s.Store.Plan(ctx, planID)
		require.NoError(t, err)
	}
	at := -1
	for i, it := range row.Plan.Items {
		if it.Variant == "plank_sofa_toes" {
			at = i
			assert.Equal(t, exercise.Settings{SurfaceCM: 60}, it.Settings)
		}
	}
	require.GreaterOrEqual(t, at, 0)
	_, page := get(t, srv.URL+"/plans/"+planID+"?item="+strconv.Itoa(at+1))
	assert.Contains(t, page, "surface 60 cm high")
	assert.Contains(t, page, "the one of 60 cm is used: higher than usual for this client’s height, which makes it lighter")

	// The picture is another than the library's, at 45 cm.
	picture := func(page, name string) string {
		m := regexp.MustCompile(`(?s)src="(/figures/[0-9a-f]+\.svg)"[^>]*>[^<]*(?:<[^>]*>[^<]*){0,6}` + name).FindStringSubmatch(page)
		require.NotNil(t, m, name)
		return m[1]
	}
	_, library := get(t, srv.URL+"/library?q=toes+down")
	assert.NotEqual(t, picture(library, "Plank on a bench, toes down"), picture(page, "Plank on a bench, toes down"))

	// Whoever thinks in inches sees inches, on the plan, in the lesson and on paper; and as many
	// cues as she wants.
	cues := len(row.Plan.Items[at].Cues)
	require.Greater(t, cues, 1)
	resp, body := ask(t, http.MethodPost, srv.URL+"/settings/look", url.Values{"units": {"imperial"}, "cues": {"1"}}, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode, body)
	_, page = get(t, srv.URL+"/plans/"+planID+"?item="+strconv.Itoa(at+1))
	assert.Contains(t, page, "surface 23.6 in high")
	assert.Contains(t, page, "the one of 23.6 in is used")
	assert.NotRegexp(t, `\d (cm|kg)\b`, page)
	_, err = s.StartVisit(ctx, planID, app.Visit{Asked: true, Pain: row.Plan.PainNow})
	require.NoError(t, err)
	for _, view := range []string{"/print", "/teach"} {
		_, page = get(t, srv.URL+"/plans/"+planID+view)
		assert.Contains(t, page, "surface 23.6 in high", view)
		assert.Contains(t, page, row.Plan.Items[at].Cues[0], view)
		assert.NotContains(t, page, row.Plan.Items[at].Cues[cues-1], view)
	}
	_, page = get(t, srv.URL+"/lever?raise=60&client="+id)
	assert.Contains(t, page, "<strong>23.6 in</strong>")
	_, page = get(t, srv.URL+"/clients/"+id+"/edit")
	assert.Contains(t, page, `name="owned.surface_cm" inputmode="decimal" value="23.6 37.4"`)
	resp, body = ask(t, http.MethodPost, srv.URL+"/settings/look", url.Values{"cues": {"7"}}, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, resp.StatusCode)
	assert.Contains(t, body, "not one of those offered")
	resp, _ = ask(t, http.MethodPost, srv.URL+"/settings/look", url.Values{}, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)

	// What no height of hers serves is refused with the heights that would.
	resp, body = ask(t,
		http.MethodPost,
		srv.URL+"/plans/"+planID+"/edit",
		url.Values{"kind": {"add"}, "variant": {"cat_cow_chair_seat"}, "revision": {strconv.Itoa(row.Revision)}},
		nil,
	)
	assert.Equal(t, http.StatusUnprocessableEntity, resp.StatusCode)
	assert.Contains(t, body, "Cat and cow, hands on a chair seat cannot be done on the mat with what is at hand")

	// What was done is recorded with it.
	resp, body = ask(t, http.MethodPost, srv.URL+"/plans/"+planID+"/record", url.Values{"after": {"1"}}, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode, between(body, "refusal", "</p>"))
	_, page = get(t, srv.URL+resp.Header.Get("Location"))
	assert.Contains(t, page, "surface 60 cm high")
}

// TestTheLeverBenchLeadsSomewhere: a height tried there is kept as the client's, once, and
// plans choose from it.
func TestTheLeverBenchLeadsSomewhere(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	id := client(t, s, "Anselm")
	_, page := get(t, srv.URL+"/lever?raise=62&client="+id)
	require.Contains(t, page, "Keep 62 cm as a surface there is")
	form := url.Values{"surface": {"62"}, "on": {"hands"}, "from": {"toes"}}
	for range 2 {
		resp, _ := ask(t, http.MethodPost, srv.URL+"/clients/"+id+"/surfaces", form, nil)
		require.Equal(t, http.StatusSeeOther, resp.StatusCode)
		_, page = get(t, srv.URL+resp.Header.Get("Location"))
		assert.NotContains(t, page, "Keep 62 cm")
		assert.Contains(t, page, ">62 cm</a>")
	}
	k, err := s.Store.Client(context.Background(), id)
	require.NoError(t, err)
	n := 0
	for _, cm := range k.Client.Owned.SurfaceCM {
		if cm == 62 {
			n++
		}
	}
	assert.Equal(t, 1, n)
	for _, wrong := range []string{"high", "900"} {
		resp, _ := ask(t, http.MethodPost, srv.URL+"/clients/"+id+"/surfaces", url.Values{"surface": {wrong}}, nil)
		assert.Equal(t, 422, resp.StatusCode, wrong)
	}
}

// TestAWrongAddressKeepsTheLook: the page that says so is as the others are.
func TestAWrongAddressKeepsTheLook(t *testing.T) {
	t.Parallel()
	srv, _ := demoSite(t)
	resp, body := ask(t, http.MethodPost, srv.URL+"/settings/look", url.Values{"scheme": {"dark"}}, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode, body)
	status, page := get(t, srv.URL+"/nowhere")
	assert.Equal(t, http.StatusNotFound, status)
	assert.Contains(t, page, `data-scheme="dark"`)
	assert.Contains(t, page, `href="/library"`)
}

// TestTheStudioSetsItsNumberAndItsZone: what is to be rung stands wherever a sign cannot wait,
// and which day is today is decided by the zone of the studio.
func TestTheStudioSetsItsNumberAndItsZone(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	id := client(t, s, "Odette")
	house := s.House(t.Context())
	form := func(emergency, zone string) url.Values {
		return url.Values{"name": {house.Name}, "place": {"mat"}, "approach": {"steady"}, "minutes": {"30"}, "emergency": {emergency},
			"zone": {zone}}
	}
	for says, bad := range map[string]url.Values{"Emergency number: expected a number to ring": form("help", ""),
		"Time zone: expected a name such as": form("112", "The Moon")} {
		resp, body := ask(t, http.MethodPost, srv.URL+"/settings/house", bad, nil)
		assert.Equal(t, http.StatusUnprocessableEntity, resp.StatusCode)
		assert.Contains(t, body, says)
	}
	day := s.Today()
	resp, body := ask(t, http.MethodPost, srv.URL+"/settings/house", form("0800 15", "Pacific/Midway"), nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode, body)
	_, page := get(t, srv.URL+"/clients/"+id+"/report")
	assert.Contains(t, page, "ring 0800 15")
	assert.NotContains(t, page, "ring 112")
	assert.Equal(t, day.AddDate(0, 0, -1), s.Today(), "it is still yesterday there")
	again := app.NewStudio(t.Context(), judge, s.Store, func() time.Time { return now })
	assert.Equal(t, s.Today(), again.Today(), "after a start, too")
	assert.Contains(t, strings.Join(again.CallWhen(), " "), "0800 15")
	assert.NotContains(t, strings.Join(judge.CallWhen(), " "), "0800", "another studio has its own")
}
