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

// TestARungIsTestedOnItsOwn: both sides are kept as measures of today, what is short is
// said, slips are refused with nothing kept, and what is barred is not offered.
func TestARungIsTestedOnItsOwn(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	ctx := context.Background()
	id, err := s.AddClient(ctx, limit.Client{Format: "restbend.client/1", Name: "Rung Tester", RedFlags: []string{}, Place: "mat",
		Equipment: []string{"mat", "chair"}})
	require.NoError(t, err)
	page := srv.URL + rungLink(id, "bird_dog_arm")
	measures := func() []limit.Measure {
		k, err := s.Store.Client(ctx, id)
		require.NoError(t, err)
		return k.Client.Measures
	}
	status, body := get(t, page)
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, body, "Six holds of ten seconds each side with level hips.")
	assert.Contains(t, body, "Never tested on its own yet.")

	for field, bad := range map[string]url.Values{
		"Clean holds, right: expected a whole number from 0 to " +
			"30": {"value.left": {"10"}, "holds.left": {"6"}, "value.right": {"10"}, "holds.right": {"lots"}},
		"Seconds held clean, left: expected a number from 0": {"value.left": {"-3"}, "holds.left": {"6"}},
		"Nothing was filled in":                              {},
	} {
		resp, body := ask(t, http.MethodPost, page, bad, nil)
		assert.Equal(t, http.StatusUnprocessableEntity, resp.StatusCode, field)
		assert.Contains(t, body, field)
		assert.Empty(t, measures(), field)
	}

	resp, _ := ask(t,
		http.MethodPost,
		page,
		url.Values{"value.left": {"10"}, "holds.left": {"6"}, "value.right": {"10"}, "holds.right": {"4"}},
		nil,
	)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	today := s.Today().String()
	assert.Equal(t,
		[]limit.Measure{
			{ID: "rung", Variant: "bird_dog_arm", Side: "left", Value: 10, Holds: 6, On: today},
			{ID: "rung", Variant: "bird_dog_arm", Side: "right", Value: 10, Holds: 4, On: today},
		},
		measures(),
	)
	_, body = get(t, page+"?kept=yes")
	assert.Contains(t, body, "Not yet: 2 holds short on the right")
	assert.Contains(t, body, "left: 6 holds of 10 s")
	resp, _ = ask(t, http.MethodPost, page, url.Values{"value.right": {"10"}, "holds.right": {"6"}}, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	assert.Len(t, measures(), 2, "again on one day is a correction")
	_, body = get(t, page+"?kept=yes")
	assert.Contains(t, body, "That is what earns the next step.")

	// What is barred is not offered, and not taken.
	k := limit.Client{
		Format:     "restbend.client/1",
		Name:       "Rung Barred",
		Place:      "mat",
		Equipment:  []string{"mat"},
		Conditions: []limit.Condition{{ID: "osteoporosis"}},
	}
	barred, err := s.AddClient(ctx, k)
	require.NoError(t, err)
	_, body = get(t, srv.URL+rungLink(barred, "curl_up"))
	assert.Contains(t, body, "Not for this client now.")
	assert.NotContains(t, body, "Keep it")
	resp, body = ask(t,
		http.MethodPost,
		srv.URL+rungLink(barred, "curl_up"),
		url.Values{"value.left": {"10"}, "holds.left": {"6"}, "value.": {"10"}, "holds.": {"6"}},
		nil,
	)
	assert.Equal(t, http.StatusUnprocessableEntity, resp.StatusCode)
	assert.Contains(t, body, "is not for this client now")
	status, _ = get(t, srv.URL+rungLink(id, "no_such"))
	assert.Equal(t, http.StatusNotFound, status)
}

// TestARungByStopwatch: on the client's page a rung leads to its test; the stopwatch fills
// the field, and the result stands there.
func TestARungByStopwatch(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	id, err := s.AddClient(context.Background(), limit.Client{Format: "restbend.client/1", Name: "Rung Watcher",
		RedFlags: []string{}, Place: "mat", Equipment: []string{"mat", "wall"},
		Rungs: []limit.Rung{{Family: "front_plank", Variant: "plank_wall"}}})
	require.NoError(t, err)
	b := newBrowser(t, 1280, 800)
	b.open(srv.URL + "/clients/" + id)
	b.do(chromedp.Click(`.stand .is-now a`))
	b.until(`document.querySelector("[data-watch]")`)
	b.do(chromedp.Click(`[data-watch]`))
	b.until(`Number(document.querySelector(".rung-form input[inputmode=decimal]").value) > 0.4`)
	b.do(chromedp.Click(`[data-watch]`), chromedp.Click(`.rung-form button[type=submit]`))
	b.until(`document.querySelector(".rung-said")?.innerText.startsWith("Not yet: 5")`)
	b.accessible("the test of a rung")
}
