package web

import (
	"bytes"
	"context"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/store"
)

// TestSentTwiceIsDoneOnce: a plan, a note, a change of a plan, and an instruction taken
// back, each with its key, twice.
func TestSentTwiceIsDoneOnce(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	ctx, id := context.Background(), client(t, s, "Odette")
	twice := func(path string, form url.Values) (to string) {
		t.Helper()
		form.Set("key", store.NewID())
		for range 2 {
			resp, body := ask(t, http.MethodPost, srv.URL+path, form, nil)
			require.Equal(t, http.StatusSeeOther, resp.StatusCode, body)
			if to != "" {
				assert.Equal(t, to, resp.Header.Get("Location"))
			}
			to = resp.Header.Get("Location")
		}
		return to
	}
	before, err := s.Store.PlansOf(ctx, id)
	require.NoError(t, err)
	path := twice("/clients/"+id+"/plans", url.Values{"minutes": {"15"}, "place": {"chair"}, "second": {"yes"}})
	after, err := s.Store.PlansOf(ctx, id)
	require.NoError(t, err)
	assert.Len(t, after, len(before)+1)
	planID := strings.TrimPrefix(path, "/plans/")

	twice(path+"/edit", url.Values{"revision": {"1"}, "kind": {"remove"}, "item": {"1"}})
	row, err := s.Store.Plan(ctx, planID)
	require.NoError(t, err)
	assert.Equal(t, 2, row.Revision)

	for _, by := range []string{"one", "two"} {
		twice("/clients/"+id+"/instructions", url.Values{"quantity": {"lumbar_flexion"}, "max": {"5"}, "by": {by}})
	}
	twice("/clients/"+id+"/instructions/remove", url.Values{"n": {"0"}})
	k, err := s.Store.Client(ctx, id)
	require.NoError(t, err)
	require.Len(t, k.Client.Instructions, 1, "the second of two is not taken back with the first")
	assert.Equal(t, "two", k.Client.Instructions[0].By)

	// The same key with other answers is said, and not done.
	form := url.Values{"key": {store.NewID()}, "minutes": {"15"}, "second": {"yes"}}
	resp, _ := ask(t, http.MethodPost, srv.URL+"/clients/"+id+"/plans", form, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	form.Set("minutes", "25")
	resp, body := ask(t, http.MethodPost, srv.URL+"/clients/"+id+"/plans", form, nil)
	assert.Equal(t, http.StatusConflict, resp.StatusCode)
	assert.Contains(t, body, "saved before, with other answers")

	// A change of an older revision lands on the exercise it was meant for, wherever that
	// stands by now, and nowhere when it is gone.
	first, second := row.Plan.Items[0], row.Plan.Items[1]
	edit := func(kind string, it string, was string) int {
		resp, _ := ask(t,
			http.MethodPost,
			srv.URL+path+"/edit",
			url.Values{"key": {store.NewID()}, "revision": {"2"}, "kind": {kind}, "item": {"2"}, "at": {it}, "was": {was}},
			nil,
		)
		return resp.StatusCode
	}
	require.Equal(t, http.StatusSeeOther, edit("remove", first.ID, first.Variant))
	require.Equal(t, http.StatusSeeOther, edit("lock", second.ID, second.Variant))
	row, err = s.Store.Plan(ctx, planID)
	require.NoError(t, err)
	assert.Equal(t, second.ID, row.Plan.Items[0].ID)
	assert.True(t, row.Plan.Items[0].Locked)
	assert.Equal(t, http.StatusConflict, edit("lock", first.ID, first.Variant))
	assert.Equal(t, http.StatusConflict, edit("fit", second.ID, second.Variant))

	// Taken away and brought back.
	to := twice(path+"/away", url.Values{})
	_, page := get(t, srv.URL+to)
	assert.Contains(t, page, "Bring it back")
	resp, _ = ask(t, http.MethodPost, srv.URL+path+"/edit", url.Values{"revision": {"4"}, "kind": {"fit"}}, nil)
	assert.Equal(t, http.StatusConflict, resp.StatusCode)
	assert.Equal(t, path, twice(path+"/away", url.Values{"back": {"yes"}}))
	assert.Equal(t, "/clients?away="+id, twice("/clients/"+id+"/away", url.Values{}))
	_, page = get(t, srv.URL+"/clients")
	assert.NotContains(t, page, "Odette")
	_, page = get(t, srv.URL+"/clients?away="+id)
	assert.Contains(t, page, "was taken out of your book")
	twice("/clients/"+id+"/away", url.Values{"back": {"yes"}})
	_, page = get(t, srv.URL+"/clients")
	assert.Contains(t, page, "Odette")
}

// TestARecordIsPutRightByAddition: the old value stays, struck through, with who and why;
// notes are added; a correction that changes nothing or has no reason is refused.
func TestARecordIsPutRightByAddition(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	records, err := s.Store.RecordsOf(context.Background(), client(t, s, "Odette"))
	require.NoError(t, err)
	path := "/records/" + records[0].ID
	_, page := get(t, srv.URL+path+"/correct")
	form := shown(formsOf(t, page)[0])
	form.Set("by", "Maren")
	form.Set("why", "the wrong line was ticked")
	resp, body := ask(t, http.MethodPost, srv.URL+path+"/correct", form, nil)
	assert.Equal(t, 422, resp.StatusCode)
	assert.Contains(t, body, "nothing differs")
	form.Set("ended-1", "pain")
	form.Set("repetitions-1", "3")
	form.Set("why", "")
	resp, body = ask(t, http.MethodPost, srv.URL+path+"/correct", form, nil)
	assert.Equal(t, 422, resp.StatusCode)
	assert.Contains(t, body, "Why: expected 1 to 300 characters")
	form.Set("why", "the wrong line was ticked")
	form.Set("key", store.NewID())
	resp, body = ask(t, http.MethodPost, srv.URL+path+"/correct", form, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode, body)
	_, page = get(t, srv.URL+path)
	assert.Contains(t, page, ", then pain</ins>")
	assert.Contains(t, page, "the wrong line was ticked")
	assert.Contains(t, page, "Maren")
	resp, _ = ask(t, http.MethodPost, srv.URL+path+"/notes", url.Values{"note": {"slept well"}, "by": {"Maren"}}, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	_, page = get(t, srv.URL+path)
	assert.Contains(t, page, "slept well")
}

// TestWhatCannotBeReadOverwritesNothing: a body that is no form, and bytes that are no
// text, leave a draft as it was kept.
func TestWhatCannotBeReadOverwritesNothing(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	keep := srv.URL + "/intakes/draft-1/keep"
	resp, _ := ask(t, http.MethodPost, keep, url.Values{"name": {"Ada Kept"}}, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	for name, body := range map[string]struct {
		text, kind string
		status     int
	}{
		"broken":        {"name=%zz", "application/x-www-form-urlencoded", 400},
		"another thing": {"{}", "text/plain", 415},
		"nothing":       {"", "application/x-www-form-urlencoded", 400},
		"json":          {"{}", "application/json", 400},
		"no text":       {"name=a%ff", "application/x-www-form-urlencoded", 422},
		"turned":        {"name=Ada%E2%80%AEneB", "application/x-www-form-urlencoded", 422},
		"too large":     {"name=" + strings.Repeat("x", maxBody), "application/x-www-form-urlencoded", 413},
	} {
		resp, err := http.Post(keep, body.kind, bytes.NewReader([]byte(body.text)))
		require.NoError(t, err)
		require.NoError(t, resp.Body.Close())
		assert.Equal(t, body.status, resp.StatusCode, name)
	}
	draft, err := s.Store.Intake(context.Background(), "draft-1")
	require.NoError(t, err)
	assert.Equal(t, "Ada Kept", draft.Form.Get("name"))

	// An answer under a condition that is not ticked is asked about.
	form := full()
	form["conditions"] = []string{"disc_sciatica", "wrist_pain"}
	resp, body := ask(t, http.MethodPost, srv.URL+"/clients", form, nil)
	assert.Equal(t, 422, resp.StatusCode)
	assert.Contains(t, body, "This counts only where “Fragile bone” is ticked")
}
