package web

import (
	"context"
	"errors"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
	"restbend/core/readiness"
	"restbend/demo"
	"restbend/mail"
	"restbend/store"
)

// now is a fixed morning, so that tests do not depend on the day.
var now = time.Date(2026, 11, 24, 8, 15, 0, 0, time.UTC)

var judge = func() *app.Judge {
	j, err := app.NewJudge()
	if err != nil {
		panic(err)
	}
	return j
}()

// demoSite serves the demo data.
func demoSite(t *testing.T) (*httptest.Server, *app.Studio) {
	t.Helper()
	h, s := demoHandler(t)
	srv := httptest.NewServer(h)
	t.Cleanup(srv.Close)
	return srv, s
}

// drawn are the figures, which all tests share as studios side by side do.
var drawn = sync.OnceValue(func() *Figures {
	f := NewFigures(judge.Library)
	f.Warm()
	return f
})

// demoFile is the database of the demo, played once for all tests.
var demoFile = sync.OnceValues(func() ([]byte, error) {
	dir, err := os.MkdirTemp("", "restbend-demo")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	ctx := context.Background()
	db, err := store.Open(ctx, dir)
	if err != nil {
		return nil, err
	}
	err = demo.Fill(ctx, judge, db, now)
	if err == nil {
		err = askEverybody(ctx, app.NewStudio(ctx, judge, db, func() time.Time { return now }))
	}
	if err = errors.Join(err, db.Close()); err != nil {
		return nil, err
	}
	return os.ReadFile(filepath.Join(dir, "restbend.db"))
})

// askEverybody has asked everybody this morning: no signs, and the pain that was planned for,
// so that a test of something else may open a lesson at once.
func askEverybody(ctx context.Context, s *app.Studio) error {
	all, err := s.Store.Clients(ctx)
	if err != nil {
		return err
	}
	for _, k := range all {
		ready, err := s.ReadyFor(ctx, k.ID, k.Client, nil, s.Today(), readiness.Plan)
		if err != nil {
			return err
		}
		c, pain := k.Client, 0
		if p := ready.Client.Pain.Now; p != nil {
			pain = *p
		}
		c.Pain.Now, c.Pain.On, c.Pain.Worst24h = &pain, s.Today().String(), nil
		if err := s.ChangeClient(ctx, k.ID, k.Version, c); err != nil {
			return err
		}
	}
	return nil
}

// demoData is a database of the demo of one's own, in a folder.
func demoData(t testing.TB, dir string) *store.Store {
	t.Helper()
	file, err := demoFile()
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(dir, "restbend.db"), file, 0o600))
	db, err := store.Open(context.Background(), dir)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, db.Close()) })
	return db
}

func demoHandler(t testing.TB) (http.Handler, *app.Studio) {
	t.Helper()
	db := demoData(t, t.TempDir())
	s := app.NewStudio(context.Background(), judge, db, func() time.Time { return now })
	h, err := New(s,
		slog.New(slog.NewTextHandler(io.Discard, nil)),
		Setup{Figures: drawn(), Demo: true, Post: Post{Folder: mail.Folder{Dir: filepath.Join(t.TempDir(), "outbox")}}},
	)
	require.NoError(t, err)
	return h, s
}

// ask makes one request and gives status, headers and body.
func ask(t *testing.T, method, address string, form url.Values, change func(*http.Request)) (*http.Response, string) {
	t.Helper()
	r, err := http.NewRequest(method, address, strings.NewReader(form.Encode()))
	require.NoError(t, err)
	if method == http.MethodPost {
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	}
	if change != nil {
		change(r)
	}
	stay := &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	resp, err := stay.Do(r)
	require.NoError(t, err)
	defer resp.Body.Close()
	b, err := io.ReadAll(resp.Body)
	require.NoError(t, err)
	return resp, string(b)
}

func get(t *testing.T, address string) (int, string) {
	t.Helper()
	resp, body := ask(t, http.MethodGet, address, nil, nil)
	return resp.StatusCode, body
}

// client finds a demo client's id by the beginning of the name.
func client(t *testing.T, s *app.Studio, name string) string {
	t.Helper()
	all, err := s.Store.Clients(context.Background())
	require.NoError(t, err)
	for _, c := range all {
		if strings.HasPrefix(c.Client.Name, name) {
			return c.ID
		}
	}
	require.Fail(t, "no such client", name)
	return ""
}

// planned finds a client's next untaught plan.
func planned(t *testing.T, s *app.Studio, name string) store.Plan {
	t.Helper()
	plans, err := s.Store.PlansOf(context.Background(), client(t, s, name))
	require.NoError(t, err)
	for _, p := range plans {
		if of, err := s.Store.ClassOfPlan(context.Background(), p.ID); err == nil && of == "" && !p.Taught() {
			return p
		}
	}
	require.Fail(t, "no plan", name)
	return store.Plan{}
}

func TestEveryPageAnswers(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	odette, plan := client(t, s, "Odette"), planned(t, s, "Odette")
	records, err := s.Store.RecordsOf(context.Background(), odette)
	require.NoError(t, err)
	for path, says := range map[string]string{
		"/": "Ask how it settled", "/clients": "Saffron Eberlight", "/clients/new": "Warning signs", "/clients/" + odette: "does not " +
			"round past 10°, 10° under load too",
		"/clients/" + odette + "/edit": "ask each one", "/plans/" + plan.ID: "Left out for this client",
		"/plans/" + plan.ID + "/print": "Keep away from",
		"/plans/" + plan.ID + "/teach": "Form broke", "/plans/" + plan.ID + "/wrap-up": "Save the record",
		"/records":                  "the last six months",
		"/records/" + records[0].ID: "Otherwise than planned", "/healthz": "ok",
	} {
		status, body := get(t, srv.URL+path)
		assert.Equal(t, http.StatusOK, status, path)
		assert.Contains(t, body, says, path)
		assert.NotContains(t, body, "style=", path)
		assert.NotContains(t, body, "ZgotmplZ", path)
		assert.NotRegexp(t, regexp.MustCompile(`>(osteoporosis|disc_sciatica|chair_sit|bird_dog_arm)<`), body, "ids are not words")
	}
	_, body := get(t, srv.URL+"/plans/"+plan.ID)
	for _, link := range regexp.MustCompile(`(?:src|href)="(/(?:figures|static)/[^"]+)"`).FindAllStringSubmatch(body, -1) {
		resp, _ := ask(t, http.MethodGet, srv.URL+link[1], nil, nil)
		assert.Equal(t, http.StatusOK, resp.StatusCode, link[1])
		assert.Contains(t, resp.Header.Get("Cache-Control"), "immutable", link[1])
		assert.Equal(t, "default-src 'none'", resp.Header.Get("Content-Security-Policy"), link[1])
		assert.Equal(t, "nosniff", resp.Header.Get("X-Content-Type-Options"), link[1])
	}
}

func TestFriendlyRefusals(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	odette, plan := client(t, s, "Odette"), planned(t, s, "Odette")
	first := plan.Plan.Items[0]
	field := "ended-" + first.ID + "." + first.Variant
	if len(first.Sides) > 0 {
		field += "." + first.Sides[0]
	}
	for _, c := range []struct {
		name, method, path string
		form               url.Values
		change             func(*http.Request)
		status             int
		says               string
	}{
		{"no such page", "GET", "/nowhere", nil, nil, 404, "There is no such page"},
		{"no such client", "GET", "/clients/01a2", nil, nil, 404, "nothing at this address"},
		{"no such plan", "GET", "/plans/' OR 1=1", nil, nil, 404, "nothing at this address"},
		{"no such record", "GET", "/records/x", nil, nil, 404, "nothing at this address"},
		{"no such film", "GET", "/plans/" + plan.ID + "/film/99", nil, nil, 404, "no such exercise"},
		{"a lever in words", "GET", "/lever?raise=high", nil, nil, 422, "expected centimetres as a number"},
		{"a lever on nothing", "GET", "/lever?on=elbows", nil, nil, 422, "is not known"},
		{"a lever for nobody", "GET", "/lever?client=x", nil, nil, 404, "nothing at this address"},
		{"no such figure", "GET", "/figures/x.svg", nil, nil, 404, "no such figure"},
		{"wrong method", "DELETE", "/clients", nil, nil, 405, "does not take"},
		{"foreign host", "GET", "/", nil, func(r *http.Request) { r.Host = "studio.example:80" }, 403, "a name that is not its own"},
		{"another site", "POST", "/clients", url.Values{"name": {"x"}},
			func(r *http.Request) { r.Header.Set("Sec-Fetch-Site", "cross-site") }, 403, "from another site"},
		{"another origin", "POST", "/clients", url.Values{"name": {"x"}},
			func(r *http.Request) { r.Header.Set("Origin", "https://other.example") }, 403, "from another site"},
		{"too large", "POST", "/clients", url.Values{"name": {strings.Repeat("x", maxBody)}}, nil, 413, "too large"},
		{"no name", "POST", "/clients", url.Values{"birth_year": {"1950"}}, nil, 422, "Is needed"},
		{"a year in words", "POST", "/clients", url.Values{"name": {"Kept Name"}, "birth_year": {"long ago"}}, nil, 422,
			"found &#34;long ago&#34;"},
		{"unknown condition", "POST", "/clients", url.Values{"name": {"x"}, "conditions": {"gout"}}, nil, 422, "gout is not known"},
		{"600 minutes", "POST", "/clients/" + odette + "/plans", url.Values{"minutes": {"600"}}, nil, 422, "expected 5 to 120, found 600"},
		{"0 minutes", "POST", "/clients/" + odette + "/plans", url.Values{"minutes": {"0"}}, nil, 422, "expected 5 to 120, found 0"},
		{"unknown place", "POST", "/clients/" + odette + "/plans", url.Values{"place": {"moon"}}, nil, 422, "is not known"},
		{"pain of 11", "POST", "/clients/" + odette + "/plans", url.Values{"pain": {"11"}}, nil, 422, "expected 0 to 10"},
		{"a bad date", "POST", "/clients/" + odette + "/plans", url.Values{"on": {"soon"}}, nil, 422, "is not a date"},
		{"stale plan", "POST", "/plans/" + plan.ID + "/change", url.Values{"revision": {"7"}}, nil, 409, "changed in another window"},
		{"no revision", "POST", "/plans/" + plan.ID + "/edit", url.Values{"item": {"1"}, "kind": {"swap"}}, nil, 422,
			"Revision: is missing"},
		{"swap to nothing", "POST", "/plans/" + plan.ID + "/edit", url.Values{"kind": {"swap"}, "item": {"1"}, "revision": {"1"},
			"variant": {"headstand"}}, nil, 422, "is not in the library"},
		{"swap nowhere", "POST", "/plans/" + plan.ID + "/edit", url.Values{"kind": {"swap"}, "item": {"99"}, "revision": {"1"},
			"variant": {"hinge_chair"}}, nil, 422, "no exercise number 99"},
		{"record without pain", "POST", "/plans/" + plan.ID + "/record", url.Values{"before": {"3"}}, nil, 422, "Pain after: is needed"},
		{"record with pain 12", "POST", "/plans/" + plan.ID + "/record", url.Values{"after": {"12"}}, nil, 422, "from 0 to 10"},
		{"an unknown ending", "POST", "/plans/" + plan.ID + "/record", url.Values{"after": {"2"}, field: {"bored"}}, nil, 422,
			"how it ended is not known"},
	} {
		resp, body := ask(t, c.method, srv.URL+c.path, c.form, c.change)
		assert.Equal(t, c.status, resp.StatusCode, c.name)
		assert.Contains(t, body, c.says, c.name)
		assert.NotEmpty(t, resp.Header.Get("X-Request-Id"), c.name)
		assert.Contains(t, resp.Header.Get("Content-Security-Policy"), "default-src 'none'", c.name)
	}
	_, body := ask(t,
		http.MethodPost,
		srv.URL+"/clients",
		url.Values{"name": {"Kept Name"}, "birth_year": {"long ago"}, "goal_text": {"to swim"}},
		nil,
	)
	assert.Contains(t, body, `value="Kept Name"`, "nothing typed is lost")
	assert.Contains(t, body, `value="to swim"`)
	all, err := s.Store.Clients(context.Background())
	require.NoError(t, err)
	assert.Len(t, all, 8, "nothing was saved")
	p, err := s.Store.Plan(context.Background(), plan.ID)
	require.NoError(t, err)
	assert.Equal(t, plan, p)
}

func TestSafetyARedFlagAllowsNoPlan(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	resp, _ := ask(t,
		http.MethodPost,
		srv.URL+"/clients",
		url.Values{"name": {"Flag Bearer"}, "red_flags": {"chest_pain_on_effort"}},
		nil,
	)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	at := srv.URL + resp.Header.Get("Location")
	_, body := get(t, at)
	assert.Contains(t, body, "refer: a doctor, today")
	assert.Contains(t, body, "When a doctor has looked at it")
	assert.NotContains(t, body, "Plan a session")
	resp, body = ask(t, http.MethodPost, at+"/plans", url.Values{"minutes": {"20"}}, nil)
	assert.Equal(t, 422, resp.StatusCode)
	assert.Contains(t, body, "No session is planned for this client today")
	plans, err := s.Store.PlansOf(context.Background(), client(t, s, "Flag"))
	require.NoError(t, err)
	assert.Empty(t, plans)
}

func TestSafetyAWarningSignMarkedLaterStopsTheTeaching(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	plan := planned(t, s, "Tobias")
	row, err := s.Store.Client(context.Background(), plan.ClientID)
	require.NoError(t, err)
	status, _ := get(t, srv.URL+"/plans/"+plan.ID+"/teach")
	require.Equal(t, http.StatusOK, status)
	row.Client.RedFlags = []string{"both_legs_symptoms"}
	require.NoError(t, s.ChangeClient(context.Background(), row.ID, row.Version, row.Client))
	status, body := get(t, srv.URL+"/plans/"+plan.ID+"/teach")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, body, "A doctor has to see it today")
	_, body = get(t, srv.URL+"/plans/"+plan.ID)
	assert.Contains(t, body, "A doctor has to see it today")
	assert.NotContains(t, body, "/check")
}

func TestPlainFormsWorkWithoutScripts(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	plan := planned(t, s, "Tobias")
	at := srv.URL + "/plans/" + plan.ID
	resp, _ := ask(t, http.MethodPost, at+"/change", url.Values{"revision": {"1"}, "minutes": {"30"}, "step": {"fewer"}}, nil)
	assert.Equal(t, at, srv.URL+resp.Header.Get("Location"))
	p, err := s.Store.Plan(context.Background(), plan.ID)
	require.NoError(t, err)
	assert.Equal(t, 25, p.Plan.MinutesAsked)
	resp, _ = ask(t, http.MethodPost, at+"/undo", url.Values{"revision": {"2"}}, nil)
	assert.Equal(t, http.StatusSeeOther, resp.StatusCode)
	p, err = s.Store.Plan(context.Background(), plan.ID)
	require.NoError(t, err)
	assert.Equal(t, 30, p.Plan.MinutesAsked)
}

func TestPartialsAreThePagesOwn(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	plan := planned(t, s, "Odette")
	_, whole := get(t, srv.URL+"/plans/"+plan.ID+"?item=2")
	resp, part := ask(t,
		http.MethodGet,
		srv.URL+"/plans/"+plan.ID+"?item=2",
		nil,
		func(r *http.Request) { r.Header.Set("HX-Request", "true") },
	)
	assert.Equal(t, "HX-Request", resp.Header.Get("Vary"))
	assert.NotContains(t, part, "<html")
	key := regexp.MustCompile(`name="key" value="[0-9a-f-]{36}\.[0-9]+"`)
	assert.Greater(t, len(key.FindAllString(part, -1)), 3, "each form has a key of its own")
	assert.True(t, strings.Contains(key.ReplaceAllString(whole, ""), key.ReplaceAllString(strings.TrimSpace(part), "")))
}

func TestLoopbackOnly(t *testing.T) {
	for addr, ok := range map[string]bool{"127.0.0.1:8080": true, "localhost:0": true, "[::1]:80": true, "127.9.9.9:1": true,
		"0.0.0.0:80": false, ":8080": false, "192.168.1.4:80": false, "example.org:80": false, "nonsense": false} {
		assert.Equal(t, ok, LoopbackAddr(addr), addr)
	}
}

func TestAPanicIsAFriendlyPage(t *testing.T) {
	t.Parallel()
	_, s := demoSite(t)
	h, err := New(
		&app.Studio{Judge: judge, Store: s.Store, Now: func() time.Time { panic("the clock stopped") }},
		slog.New(slog.NewTextHandler(io.Discard, nil)),
		Setup{Figures: drawn(), Demo: true, Post: Post{Folder: mail.Folder{Dir: filepath.Join(t.TempDir(), "outbox")}}},
	)
	require.NoError(t, err)
	srv := httptest.NewServer(h)
	t.Cleanup(srv.Close)
	status, body := get(t, srv.URL+"/")
	assert.Equal(t, 500, status)
	assert.Contains(t, body, "Nothing of this step was saved")
	assert.NotContains(t, body, "clock stopped", "the cause is for the log")
}
