package web

import (
	"bytes"
	"context"
	"io"
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
	"restbend/backup"
	"restbend/store"
)

const secretWords = "seven herons cross the harbour"

// studio is the demo's studio as one of its own: everybody signs in. Its clock can be set.
type lockedStudio struct {
	*httptest.Server
	*app.Studio
	t     *testing.T
	dir   string
	clock time.Time
	site  http.Handler
	log   bytes.Buffer
}

func newLocked(t *testing.T) *lockedStudio {
	t.Helper()
	dir := t.TempDir()
	return lockedOn(t, dir, demoData(t, dir))
}

// lockedOn is a studio into which one signs in, of what a database holds.
func lockedOn(t *testing.T, dir string, db *store.Store) *lockedStudio {
	t.Helper()
	x := &lockedStudio{t: t, dir: dir, clock: now}
	x.Studio = &app.Studio{Judge: judge, Store: db, Now: func() time.Time { return x.clock }}
	var err error
	x.site, err = New(
		x.Studio,
		slog.New(slog.NewTextHandler(&x.log, nil)),
		Setup{
			Figures: drawn(),
			Copies:  &backup.Keeper{Data: x.dir, Dir: filepath.Join(x.dir, "copies"), Every: time.Hour, Days: 30, Now: x.Now},
		},
	)
	require.NoError(t, err)
	x.Server = httptest.NewServer(x.site)
	t.Cleanup(x.Close)
	return x
}

// add adds somebody to the studio.
func (x *lockedStudio) add(login, role string) string {
	id, err := x.AddPerson(context.Background(), store.Person{Name: "The " + login, Login: login, Role: role}, secretWords)
	require.NoError(x.t, err)
	return id
}

// visit is a browser of somebody.
type visit1 struct {
	x *lockedStudio
	*http.Client
}

func (x *lockedStudio) visitor() visit1 {
	jar, err := cookiejar.New(nil)
	require.NoError(x.t, err)
	return visit1{x, &http.Client{Jar: jar, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}}
}

// as is a browser in which somebody is signed in.
func (x *lockedStudio) as(login string) visit1 {
	v := x.visitor()
	status, to, body := v.post("/sign-in", url.Values{"login": {login}, "password": {secretWords}, "to": {"/clients"}})
	require.Equal(x.t, http.StatusSeeOther, status, body)
	require.Equal(x.t, "/clients", to)
	return v
}

func (v visit1) do(method, path string, form url.Values) (int, string, string) {
	r, err := http.NewRequest(method, v.x.URL+path, strings.NewReader(form.Encode()))
	require.NoError(v.x.t, err)
	if method == http.MethodPost {
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	}
	resp, err := v.Do(r)
	require.NoError(v.x.t, err, path)
	defer resp.Body.Close()
	b, err := io.ReadAll(resp.Body)
	require.NoError(v.x.t, err)
	return resp.StatusCode, resp.Header.Get("Location"), string(b)
}

func (v visit1) get(path string) (int, string) {
	status, to, body := v.do(http.MethodGet, path, nil)
	return status, to + body
}

func (v visit1) post(path string, form url.Values) (int, string, string) {
	return v.do(http.MethodPost, path, form)
}

// TestSafetyEveryRouteHasItsDoor asks for each address there is in each role, and without one.
// There is no address beside the table, since all are registered from it.
func TestSafetyEveryRouteHasItsDoor(t *testing.T) {
	t.Parallel()
	x := newLocked(t)
	visits := map[string]visit1{}
	for _, r := range app.Roles {
		x.add("a-"+r.ID, r.ID)
		visits[r.ID] = x.as("a-" + r.ID)
	}
	nobody := x.visitor()
	table := (&site{assets: &assets{}, figures: &figures{}, Studio: x.Studio}).routes()
	require.Greater(t, len(table), 100)
	seen := map[string]bool{}
	for _, r := range table {
		assert.False(t, seen[r.method+r.path], "twice: %s", r.path)
		seen[r.method+r.path] = true
		if r.path == "/sign-out" || r.path == "/lock" || r.path == "/sign-in" || r.path == "/unlock" {
			continue // they have a test of their own
		}
		path := strings.NewReplacer(
			":id",
			"none",
			":variant",
			"none",
			":name",
			"none",
			":hash",
			"none",
			"*path",
			"none",
			":what",
			"none",
			":item",
			"0",
		).Replace(r.path)
		for _, role := range app.Roles {
			status, to, _ := visits[role.ID].do(r.method, path, url.Values{})
			may := role.May(r.right)
			assert.Equal(t, !may, status == http.StatusForbidden, "%s %s as %s: %d", r.method, r.path, role.ID, status)
			assert.NotEqual(t, http.StatusUnauthorized, status)
			assert.NotContains(t, to, "/locked")
			assert.Less(t, status, 500, "%s %s as %s", r.method, r.path, role.ID)
		}
		status, to, _ := nobody.do(r.method, path, url.Values{})
		if r.right == app.Anybody {
			assert.NotEqual(t, http.StatusUnauthorized, status, r.path)
			continue
		}
		if r.method == http.MethodPost {
			assert.Equal(t, http.StatusUnauthorized, status, r.path)
		} else {
			assert.True(t, status == http.StatusSeeOther && strings.HasPrefix(to, "/sign-in"), "%s: %d %s", r.path, status, to)
		}
		if r.method == http.MethodPost && r.right == app.Work { // all that changes clients is in the trail, or changes nothing of them
			assert.True(t, r.says != "" || strings.HasSuffix(r.path, "/stands") || strings.HasSuffix(r.path, "/order"), r.path)
		}
	}
}

// TestEachSeesHerOwn: an instructor finds her clients on every list and page, and nothing of
// another's.
func TestEachSeesHerOwn(t *testing.T) {
	t.Parallel()
	x := newLocked(t)
	ctx := context.Background()
	id := x.add("ida", "instructor")
	v := x.as("ida")
	all, err := x.Store.Clients(ctx)
	require.NoError(t, err)
	hers, others := all[0], all[1:]
	status, body := v.get("/clients")
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, body, "0 in your book")
	require.NoError(t, x.WorksWith(ctx, id, []string{hers.ID}, []string{hers.ID}))

	for _, path := range []string{"/", "/clients", "/clients?q=e", "/records", "/records?q=e", "/records?mark=pain", "/calendar",
		"/classes", "/library", "/lever", "/clients/" + hers.ID} {
		status, body := v.get(path)
		assert.Equal(t, http.StatusOK, status, path)
		for _, k := range others {
			assert.NotContains(t, body, k.Client.Name, path)
		}
	}
	_, body = v.get("/clients")
	assert.Contains(t, body, hers.Client.Name)
	for _, k := range others {
		var paths []string
		plans, err := x.Store.PlansOf(ctx, k.ID)
		require.NoError(t, err)
		for _, p := range plans[:1] {
			paths = append(paths,
				"/plans/"+p.ID,
				"/plans/"+p.ID+"/teach",
				"/plans/"+p.ID+"/session.pdf",
				"/plans/"+p.ID+"/follow",
				"/plans/"+p.ID+"/marks",
			)
		}
		records, err := x.Store.RecordsOf(ctx, k.ID)
		require.NoError(t, err)
		for _, r := range records {
			paths = append(paths, "/records/"+r.ID)
		}
		paths = append(paths,
			"/clients/"+k.ID,
			"/clients/"+k.ID+"/report",
			"/clients/"+k.ID+"/out/whole.zip",
			"/library?client="+k.ID,
			"/lever?client="+k.ID,
		)
		for _, path := range paths {
			status, body := v.get(path)
			assert.Equal(t, http.StatusNotFound, status, path)
			assert.NotContains(t, body, k.Client.Name, path)
		}
		for path, form := range map[string]url.Values{
			"/clients/" + k.ID + "/away":  {},
			"/clients/" + k.ID + "/plans": {"minutes": {"20"}},
			"/classes":                    {"client": {hers.ID, k.ID}, "minutes": {"30"}, "place": {"mat"}, "on": {"2026-11-30"}},
			"/calendar/move":              {"what": {"plan"}, "id": {plans[0].ID}, "on": {"2026-11-30"}},
		} {
			status, _, body := v.post(path, form)
			assert.Equal(t, http.StatusNotFound, status, "%s %s", path, body)
		}
	}
	// Who is new is hers at once.
	status, to, body := v.post(
		"/clients",
		url.Values{"key": {"n"}, "name": {"Nova Larkspur"}, "place": {"mat"}, "approach": {"steady"}, "minutes": {"30"}},
	)
	require.Equal(t, http.StatusSeeOther, status, body)
	status, body = v.get(to)
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, body, "Nova Larkspur")

	// Nor does she come at what somebody else has begun, for a new client or for one of hers.
	x.add("olive", "owner")
	for draft, form := range map[string]url.Values{"draft-new": {"name": {"Begun Elsewhere"}},
		"draft-of": {"name": {"Begun Elsewhere"}, "client": {others[0].ID}, "version": {"1"}}} {
		status, _, body := x.as("olive").post("/intakes/"+draft+"/keep", form)
		require.Equal(t, http.StatusSeeOther, status, body)
		status, body = v.get("/intakes/" + draft)
		assert.Equal(t, http.StatusNotFound, status)
		assert.NotContains(t, body, "Begun Elsewhere")
		for _, what := range []string{"/keep", "/undo", "/drop"} {
			status, _, _ = v.post("/intakes/"+draft+what, url.Values{"name": {"Mine"}})
			assert.Equal(t, http.StatusNotFound, status, what)
		}
		_, body = v.get("/clients")
		assert.NotContains(t, body, "Begun Elsewhere")
	}
	// The desk sees names and times.
	x.add("desk", "assistant")
	_, body = x.as("desk").get("/")
	assert.Contains(t, body, "who comes today")
	assert.NotContains(t, body, "/clients/")
	// And who reads changes nothing.
	reader := x.add("reader", "reader")
	require.NoError(t, x.WorksWith(ctx, reader, []string{hers.ID}, []string{hers.ID}))
	r := x.as("reader")
	status, body = r.get("/clients/" + hers.ID)
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, body, "looking only")
	status, _, _ = r.post("/clients/"+hers.ID+"/away", nil)
	assert.Equal(t, http.StatusForbidden, status)
}
