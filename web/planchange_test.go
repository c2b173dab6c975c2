package web

import (
	"context"
	"net/http"
	"net/url"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/store"
)

// TestAPlanIsChangedWithoutScripts goes through the builder's plain forms, as a
// browser without scripts sends them, and through what they refuse.
func TestAPlanIsChangedWithoutScripts(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	ctx := context.Background()
	plan := planned(t, s, "Tobias")
	at := func() store.Plan {
		row, err := s.Store.Plan(ctx, plan.ID)
		require.NoError(t, err)
		return row
	}
	post := func(path string, form url.Values) (*http.Response, string) {
		if form.Get("revision") == "" {
			form.Set("revision", strconv.Itoa(at().Revision))
		}
		return ask(t, http.MethodPost, srv.URL+"/plans/"+plan.ID+"/"+path, form, nil)
	}
	to := "/plans/" + plan.ID
	for _, c := range []struct {
		path string
		form url.Values
		did  func(store.Plan) bool
	}{
		{"change", url.Values{"standing_first": {"yes"}}, func(p store.Plan) bool {
			return p.Plan.StandingFirst && p.Plan.Items[0].Phase == "upright"
		}},
		{"change", url.Values{"standing_first": {"no"}, "home": {"yes"}},
			func(p store.Plan) bool { return !p.Plan.StandingFirst && p.Plan.Home }},
		{"change", url.Values{"home": {"no"}, "focus": {"balance"}}, func(p store.Plan) bool {
			return p.Plan.Focus == "balance" &&
				!p.Plan.Home
		}},
		{"change", url.Values{"focus": {"none"}}, func(p store.Plan) bool { return p.Plan.Focus == "" }},
		{"edit", url.Values{"kind": {"lock"}, "item": {"2"}}, func(p store.Plan) bool { return p.Plan.Items[1].Locked }},
		{"edit", url.Values{"kind": {"move"}, "item": {"2"}, "to": {"3"}}, func(p store.Plan) bool { return p.Plan.Items[2].Locked }},
		{"edit", url.Values{"kind": {"unlock"}, "item": {"3"}}, func(p store.Plan) bool { return !p.Plan.Items[2].Locked }},
		{"undo", url.Values{}, func(p store.Plan) bool { return p.Plan.Items[2].Locked }},
		{"redo", url.Values{}, func(p store.Plan) bool { return !p.Plan.Items[2].Locked }},
		{"schedule", url.Values{"draft": {"yes"}}, func(p store.Plan) bool { return p.On == "" }},
		{"schedule", url.Values{"on": {"2026-12-01"}, "at": {"08:15"}},
			func(p store.Plan) bool { return p.On == "2026-12-01" && p.At == "08:15" }},
		{"template", url.Values{"name": {"Back to lifting"}}, func(store.Plan) bool {
			all,
				_ := s.Store.Templates(ctx)
			return len(all) == 1
		}},
	} {
		resp, body := post(c.path, c.form)
		require.Equal(t, http.StatusSeeOther, resp.StatusCode, "%s %v: %s", c.path, c.form, between(body, "refusal", "</p>"))
		assert.Contains(t, resp.Header.Get("Location"), to)
		assert.True(t, c.did(at()), "%s %v", c.path, c.form)
	}
	before := at()
	for says, c := range map[string]struct {
		path string
		form url.Values
	}{
		"is not known":                             {"change", url.Values{"focus": {"strength of ten"}}},
		"expected a whole number, found":           {"edit", url.Values{"kind": {"move"}, "item": {"2"}, "to": {"up"}}},
		"no exercise number 77":                    {"edit", url.Values{"kind": {"remove"}, "item": {"77"}}},
		"cannot be read; expected a dose such as":  {"edit", url.Values{"kind": {"dose"}, "item": {"2"}, "dose": {"a thousand"}}},
		"is no change":                             {"edit", url.Values{"kind": {"juggle"}, "item": {"2"}}},
		"Minutes left: expected 2 to 120, found 0": {"edit", url.Values{"kind": {"continue"}, "item": {"2"}}},
		"is not a time of day":                     {"schedule", url.Values{"on": {"2026-12-01"}, "at": {"noon"}}},
		"Name of the template: expected 1 to 80":   {"template", url.Values{"name": {""}}},
		"Revision: is missing":                     {"redo", url.Values{"revision": {"soon"}}},
	} {
		resp, body := post(c.path, c.form)
		assert.Equal(t, http.StatusUnprocessableEntity, resp.StatusCode, says)
		assert.Contains(t, body, says)
		assert.Contains(t, body, `id="builder"`, "the plan is still there")
	}
	assert.Equal(t, before, at(), "a refusal changes nothing")
	for path, status := range map[string]int{"/beside?with=place:chair": 200, "/beside?with=minutes:40": 200,
		"/beside?with=plan:" + planned(t, s, "Odette").ID: 404,
		"/beside?with=moon": 422, "/beside?with=minutes:many": 422, "/possible": 200} {
		got, _ := get(t, srv.URL+to+path)
		assert.Equal(t, status, got, path)
	}
	templates, err := s.Store.Templates(ctx)
	require.NoError(t, err)
	id := client(t, s, "Marguerite")
	resp, _ := ask(t,
		http.MethodPost,
		srv.URL+"/clients/"+id+"/plans",
		url.Values{"from": {"template:" + templates[0].ID}, "draft": {"yes"}},
		nil,
	)
	assert.Equal(t, http.StatusSeeOther, resp.StatusCode)
	resp, _ = ask(t, http.MethodPost, srv.URL+"/clients/"+id+"/plans", url.Values{"from": {"last"}}, nil)
	assert.Equal(t, http.StatusSeeOther, resp.StatusCode)
	_, body := ask(t, http.MethodPost, srv.URL+"/clients/"+id+"/plans", url.Values{"from": {"dreams"}, "second": {"yes"}}, nil)
	assert.Contains(t, body, "expected last or a template")
	resp, _ = ask(t, http.MethodPost, srv.URL+"/templates/"+templates[0].ID+"/forget", url.Values{"client": {id}}, nil)
	assert.Equal(t, "/clients/"+id+"?forgot="+templates[0].ID, resp.Header.Get("Location"))
	_, page := get(t, srv.URL+resp.Header.Get("Location"))
	assert.Contains(t, page, "Forgot "+templates[0].Name)
	ask(t, http.MethodPost, srv.URL+"/templates/"+templates[0].ID+"/keep", url.Values{"client": {id}}, nil)
	_, page = get(t, srv.URL+"/clients/"+id)
	assert.Contains(t, page, "Forget the template "+templates[0].Name, "it is back")
}
