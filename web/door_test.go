package web

import (
	"bytes"
	"context"
	"database/sql"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
	"restbend/copies"
	"restbend/demo"
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
	ctx, x := context.Background(), &lockedStudio{t: t, dir: t.TempDir(), clock: now}
	db, err := store.Open(ctx, x.dir)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, db.Close()) })
	require.NoError(t, demo.Fill(ctx, judge, db, now))
	x.Studio = &app.Studio{Judge: judge, Store: db, Now: func() time.Time { return x.clock }}
	x.site, err = New(x.Studio, slog.New(slog.NewTextHandler(&x.log, nil)), Setup{Copies: &copies.Keeper{Data: x.dir, Dir: filepath.Join(x.dir, "copies"), Every: time.Hour, Days: 30, Now: x.Now}})
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

// TestEveryRouteHasItsDoor asks for each address there is in each role, and without one.
// There is no address beside the table, since all are registered from it.
func TestEveryRouteHasItsDoor(t *testing.T) {
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
		path := strings.NewReplacer(":id", "none", ":variant", "none", ":name", "none", ":hash", "none", "*path", "none", ":what", "none", ":item", "0").Replace(r.path)
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

	for _, path := range []string{"/", "/clients", "/clients?q=e", "/records", "/records?q=e", "/records?mark=pain", "/calendar", "/classes", "/library", "/lever", "/clients/" + hers.ID} {
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
			paths = append(paths, "/plans/"+p.ID, "/plans/"+p.ID+"/teach", "/plans/"+p.ID+"/session.pdf", "/plans/"+p.ID+"/follow", "/plans/"+p.ID+"/marks")
		}
		records, err := x.Store.RecordsOf(ctx, k.ID)
		require.NoError(t, err)
		for _, r := range records {
			paths = append(paths, "/records/"+r.ID)
		}
		paths = append(paths, "/clients/"+k.ID, "/clients/"+k.ID+"/report", "/clients/"+k.ID+"/out/whole.zip", "/library?client="+k.ID, "/lever?client="+k.ID)
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
	status, to, body := v.post("/clients", url.Values{"key": {"n"}, "name": {"Nova Larkspur"}, "place": {"mat"}, "approach": {"steady"}, "minutes": {"30"}})
	require.Equal(t, http.StatusSeeOther, status, body)
	status, body = v.get(to)
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, body, "Nova Larkspur")

	// Nor does she come at what somebody else has begun, for a new client or for one of hers.
	x.add("olive", "owner")
	for draft, form := range map[string]url.Values{"draft-new": {"name": {"Begun Elsewhere"}}, "draft-of": {"name": {"Begun Elsewhere"}, "client": {others[0].ID}, "version": {"1"}}} {
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

// TestSigningIn goes through the door as it is meant to be gone through, and as it is not.
func TestSigningIn(t *testing.T) {
	t.Parallel()
	x := newLocked(t)
	ctx := context.Background()
	id := x.add("olive", "owner")
	v := x.visitor()
	for i := range 5 {
		status, _, body := v.post("/sign-in", url.Values{"login": {"olive"}, "password": {fmt.Sprint("wrong ", i)}})
		assert.Equal(t, http.StatusUnprocessableEntity, status)
		assert.NotContains(t, body, fmt.Sprint("wrong ", i), "a password is not sent back")
	}
	status, _, body := v.post("/sign-in", url.Values{"login": {"Olive"}, "password": {secretWords}})
	assert.Equal(t, http.StatusTooManyRequests, status, "also with the right one")
	assert.Contains(t, body, "Wait 15 seconds")
	x.clock = x.clock.Add(16 * time.Second)

	// What was sent without being signed in is sent again.
	all, err := x.Store.Clients(ctx)
	require.NoError(t, err)
	status, _, body = v.post("/clients/"+all[0].ID+"/rights/consent", url.Values{"consent": {"to be \"written\" to"}, "given": {"yes"}, "on": {"2026-11-20"}})
	assert.Equal(t, http.StatusUnauthorized, status)
	assert.Contains(t, body, `name="carried.consent" value="to be &#34;written&#34; to"`)
	status, _, body = v.post("/sign-in", url.Values{"login": {"OLIVE"}, "password": {secretWords}, "to": {"//elsewhere.example"}, "path": {"/clients/" + all[0].ID + "/rights/consent"}, "carried.consent": {"to be written to"}, "carried.given": {"yes"}, "carried.on": {"2026-11-20"}})
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, body, `name="consent" value="to be written to"`)
	assert.Contains(t, body, `action="/clients/`+all[0].ID+`/rights/consent"`)
	for _, to := range []string{"//evil.example", "https://evil.example", `/\evil.example`, "javascript:alert(1)", ""} {
		assert.Equal(t, "/", onward(to))
	}

	// One-time codes: with the code of the moment, once.
	secret, _, err := app.NewOnce("Loft", "olive")
	require.NoError(t, err)
	code := func() string {
		c, err := totp.GenerateCode(secret, x.clock)
		require.NoError(t, err)
		return c
	}
	require.Error(t, x.SetOnce(ctx, id, secretWords, secret, "000000"))
	require.NoError(t, x.SetOnce(ctx, id, secretWords, secret, code()))
	status, _ = v.get("/clients")
	assert.Equal(t, http.StatusSeeOther, status, "another way of signing in ends what was before")
	x.clock = x.clock.Add(time.Minute)
	form := url.Values{"login": {"olive"}, "password": {secretWords}, "to": {"/people"}}
	status, _, _ = v.post("/sign-in", form)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	form.Set("code", code())
	status, to, _ := v.post("/sign-in", form)
	assert.Equal(t, http.StatusSeeOther, status)
	assert.Equal(t, "/people", to)
	status, _, _ = x.visitor().post("/sign-in", form)
	assert.Equal(t, http.StatusUnprocessableEntity, status, "a code is taken once")
	require.NoError(t, x.SetOnce(ctx, id, secretWords, "", ""))
	v = x.as("olive")

	// A screen that nobody touched locks; a short code opens it, five wrong ones sign out.
	require.Error(t, x.SetShort(ctx, id, secretWords, "1234"), "digits in a row")
	require.NoError(t, x.SetShort(ctx, id, secretWords, "4719"))
	x.clock = x.clock.Add(21 * time.Minute)
	status, to1 := v.get("/clients?q=a")
	assert.Equal(t, http.StatusSeeOther, status)
	assert.True(t, strings.HasPrefix(to1, "/locked?to=%2Fclients%3Fq%3Da"), to1)
	plans, err := x.Store.PlansOn(ctx, x.Today().Format(time.DateOnly))
	require.NoError(t, err)
	status, to1 = v.get("/plans/" + plans[0].ID + "/marks")
	assert.Equal(t, http.StatusSeeOther, status, "what was marked is not shown, "+to1)
	r1, err := v.Post(x.URL+"/plans/"+plans[0].ID+"/marks", "application/json", strings.NewReader(`{"marks":[]}`))
	require.NoError(t, err)
	r1.Body.Close()
	assert.NotEqual(t, http.StatusLocked, r1.StatusCode, "and what is marked is taken")
	status, _, body = v.post("/clients/"+all[0].ID+"/rights/consent", url.Values{"consent": {"photographs"}})
	assert.Equal(t, http.StatusLocked, status)
	assert.Contains(t, body, "photographs")
	status, to, _ = v.post("/unlock", url.Values{"code": {"4719"}, "to": {"/records"}})
	assert.Equal(t, http.StatusSeeOther, status)
	assert.Equal(t, "/records", to)
	status, _ = v.get("/records")
	assert.Equal(t, http.StatusOK, status)
	status, _, _ = v.post("/lock", nil)
	assert.Equal(t, http.StatusSeeOther, status)
	for range 5 {
		status, _, body = v.post("/unlock", url.Values{"code": {"0000"}})
		assert.Equal(t, http.StatusUnprocessableEntity, status)
	}
	assert.Contains(t, body, "Five wrong codes")
	_, to1 = v.get("/records")
	assert.True(t, strings.HasPrefix(to1, "/sign-in"))

	// Signing out, here and everywhere.
	one, two := x.as("olive"), x.as("olive")
	resp, err := one.PostForm(x.URL+"/sign-out", nil)
	require.NoError(t, err)
	resp.Body.Close()
	assert.Equal(t, `"cache", "storage"`, resp.Header.Get("Clear-Site-Data"))
	status, _ = one.get("/")
	assert.Equal(t, http.StatusSeeOther, status)
	one = x.as("olive")
	status, _, _ = one.post("/me/everywhere", nil)
	assert.Equal(t, http.StatusSeeOther, status)
	status, _ = two.get("/")
	assert.Equal(t, http.StatusSeeOther, status)
	status, _ = one.get("/me")
	assert.Equal(t, http.StatusOK, status)
	status, _, _ = one.post("/me/password", url.Values{"now": {secretWords}, "password": {"short"}, "again": {"short"}})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	status, _, body = one.post("/me/password", url.Values{"now": {secretWords}, "password": {"password1234"}, "again": {"password1234"}})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, body, "guessed too easily")

	for _, weak := range []string{"Olive-2026!", "qwertyuiop12", "aaaaaaaaaaaaaa", "1234567890123", "Pilates-Studio-Spring", "SummerSummer"} {
		assert.ErrorContains(t, x.GivePassword(ctx, id, weak), "guessed too easily", weak)
	}
	for _, strong := range []string{"kettle moth umbrella", "7vZp!qW2mRx", "der Hafen liegt im Nebel"} {
		assert.NoError(t, x.GivePassword(ctx, id, strong), strong)
	}
	require.NoError(t, x.GivePassword(ctx, id, secretWords))

	// The cookie is no script's and no other site's.
	r, err := http.PostForm(x.URL+"/sign-in", url.Values{"login": {"olive"}, "password": {secretWords}})
	require.NoError(t, err)
	r.Body.Close()
	resp, err = x.visitor().PostForm(x.URL+"/sign-in", url.Values{"login": {"olive"}, "password": {secretWords}})
	require.NoError(t, err)
	resp.Body.Close()
	assert.True(t, resp.Cookies()[0].HttpOnly)
	assert.Equal(t, http.SameSiteLaxMode, resp.Cookies()[0].SameSite)
}

// TestPeopleAreLookedAfter: the last owner stays one, a name is one person's, who has left is
// not let in.
func TestPeopleAreLookedAfter(t *testing.T) {
	x := newLocked(t)
	ctx := context.Background()
	x.add("olive", "owner")
	v := x.as("olive")
	status, to, body := v.post("/people", url.Values{"name": {"Ines"}, "login": {"ines"}, "role": {"instructor"}, "password": {secretWords}})
	require.Equal(t, http.StatusSeeOther, status, body)
	_, _, body = v.post("/people", url.Values{"name": {"Ines Two"}, "login": {"INES"}, "role": {"reader"}, "password": {secretWords}})
	assert.Contains(t, body, "is somebody’s already")
	assert.Contains(t, body, `value="Ines Two"`)
	status, _, _ = v.post(to+"/away", nil)
	assert.Equal(t, http.StatusSeeOther, status)
	status, _, _ = x.visitor().post("/sign-in", url.Values{"login": {"ines"}, "password": {secretWords}})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	all, err := x.Store.People(ctx)
	require.NoError(t, err)
	for _, p := range all {
		if p.Role == "owner" && p.Login != "olive" {
			require.NoError(t, x.Leave(ctx, p.ID, true)) // the demo's
		}
	}
	me, err := x.Store.PersonNamed(ctx, "olive")
	require.NoError(t, err)
	_, _, body = v.post("/people/"+me.ID+"/who", url.Values{"name": {"Olive"}, "login": {"olive"}, "role": {"reader"}})
	assert.Contains(t, body, "without an owner")
	me, err = x.Store.PersonNamed(ctx, "olive")
	require.NoError(t, err)
	assert.Equal(t, "owner", me.Role)
}

// TestTheTrail: what was seen and changed is in it, and a change from outside shows.
func TestTheTrail(t *testing.T) {
	x := newLocked(t)
	ctx := context.Background()
	x.add("olive", "owner")
	v := x.as("olive")
	all, err := x.Store.Clients(ctx)
	require.NoError(t, err)
	k := all[0]
	v.get("/clients/" + k.ID)
	v.get("/clients/" + k.ID)
	v.post("/clients/"+k.ID+"/surfaces", url.Values{"surface": {"62"}})
	v.get("/clients/" + k.ID + "/out/client.json")
	lines, err := x.Store.Trail(ctx, k.ID, 0, 20)
	require.NoError(t, err)
	var what []string
	for _, l := range lines {
		what = append(what, l.Name+" "+l.What)
	}
	assert.Equal(t, []string{"The olive took out her data", "The olive entered a surface", "The olive looked at her page"}, what)
	_, body := v.get("/trail")
	assert.Contains(t, body, "entered a surface")
	assert.NotContains(t, body, "changed the database")
	n, seal, err := x.Store.CheckTrail(ctx)
	require.NoError(t, err)
	assert.Positive(t, n)
	assert.Len(t, seal, 64)
	changes := []string{"UPDATE trail SET what = 'did nothing' WHERE seq = 2", "DELETE FROM trail WHERE seq = 2"}
	for _, q := range changes {
		require.Error(t, outside(t, x.dir, q), "not even by hand, as long as the database looks after it")
	}
	require.NoError(t, outside(t, x.dir, "DROP TRIGGER trail_stays", "DROP TRIGGER trail_is_whole"))
	for _, q := range changes {
		require.NoError(t, outside(t, x.dir, q))
		_, _, err = x.Store.CheckTrail(ctx)
		assert.ErrorIs(t, err, store.ErrTrail)
	}
	_, body = v.get("/trail")
	assert.Contains(t, body, "changed the database with another program")
}

// TestErasedIsGone: after a client was erased no byte of the database names her, and a copy
// from before is told of until it goes.
func TestErasedIsGone(t *testing.T) {
	x := newLocked(t)
	ctx := context.Background()
	x.add("olive", "owner")
	v := x.as("olive")
	all, err := x.Store.Clients(ctx)
	require.NoError(t, err)
	k := all[0]
	holds := func() bool {
		found := false
		for _, f := range []string{"restbend.db", "restbend.db-wal"} {
			b, err := os.ReadFile(filepath.Join(x.dir, f))
			require.NoError(t, err)
			found = found || bytes.Contains(b, []byte(k.Client.Name)) || bytes.Contains(b, []byte(k.ID+`"`))
		}
		return found
	}
	require.True(t, holds())
	status, _, body := v.post("/copies", nil)
	require.Equal(t, http.StatusSeeOther, status, body)
	x.clock = x.clock.Add(time.Second)

	// Kept and not used.
	v.post("/clients/"+k.ID+"/rights/restrict", nil)
	status, _, body = v.post("/clients/"+k.ID+"/plans", url.Values{"minutes": {"30"}})
	assert.Equal(t, http.StatusConflict, status)
	assert.Contains(t, body, "kept and not used")
	status, _, _ = v.post("/clients/"+k.ID+"/rights/restrict", url.Values{"lift": {"yes"}})
	assert.Equal(t, http.StatusSeeOther, status)
	_, _, body = v.post("/clients/"+k.ID+"/rights/consent", url.Values{"consent": {"keeping"}, "given": {"yes"}, "on": {"2027-11-20"}})
	assert.Contains(t, body, "expected a day up to today")

	_, _, body = v.post("/clients/"+k.ID+"/erase", url.Values{"name": {"Somebody"}, "why": {"she asked"}})
	assert.Contains(t, body, "written out")
	_, _, body = v.post("/clients/"+k.ID+"/erase", url.Values{"name": {k.Client.Name}, "why": {"asked by " + k.Client.Name}})
	assert.Contains(t, body, "do not name her")
	status, to, body := v.post("/clients/"+k.ID+"/erase", url.Values{"name": {k.Client.Name}, "why": {"she asked for it"}})
	require.Equal(t, http.StatusSeeOther, status, body)
	assert.False(t, holds(), "no byte of hers")
	status, _ = v.get("/clients/" + k.ID)
	assert.Equal(t, http.StatusNotFound, status)
	_, body = v.get(to)
	assert.Contains(t, body, "she asked for it")
	assert.Contains(t, body, "may hold her until")
	_, body = v.get("/trail")
	assert.Contains(t, body, "a client who was erased")
}

// outside changes the database as another program would.
func outside(t *testing.T, dir string, queries ...string) error {
	t.Helper()
	db, err := sql.Open("sqlite", filepath.Join(dir, "restbend.db")+"?_pragma=busy_timeout(5000)")
	require.NoError(t, err)
	defer db.Close()
	for _, q := range queries {
		if _, err := db.ExecContext(context.Background(), q); err != nil {
			return err
		}
	}
	return nil
}

// TestLogsNameNobody: after pages, changes, refusals and a wrong address the log holds no
// name, no id and nothing of what was sent.
func TestLogsNameNobody(t *testing.T) {
	x := newLocked(t)
	x.add("olive", "owner")
	v := x.as("olive")
	all, err := x.Store.Clients(context.Background())
	require.NoError(t, err)
	for _, k := range all {
		v.get("/clients/" + k.ID)
		v.get("/clients?q=" + url.QueryEscape(k.Client.Name))
		v.post("/clients/"+k.ID+"/rights/consent", url.Values{"consent": {"secret of " + k.Client.Name}, "on": {"never"}})
		v.get("/clients/" + k.ID + "/" + url.PathEscape(k.Client.Name))
	}
	log := x.log.String()
	require.Contains(t, log, "/clients/:id")
	for _, k := range all {
		assert.NotContains(t, log, k.ID)
		assert.NotContains(t, log, strings.Fields(k.Client.Name)[0])
	}
	assert.NotContains(t, log, "secret of")
	assert.NotContains(t, log, secretWords)
}

// TestHeadersAreWhole on every kind of answer: pages, refusals, files, redirects.
func TestHeadersAreWhole(t *testing.T) {
	x := newLocked(t)
	x.add("olive", "owner")
	v := x.as("olive")
	for _, path := range []string{"/", "/sign-in", "/clients", "/nowhere", "/clients/none", "/healthz", "/worker.js", "/exchange/out/archive.zip", "/locked"} {
		for _, method := range []string{http.MethodGet, http.MethodHead} {
			r, err := http.NewRequest(method, x.URL+path, nil)
			require.NoError(t, err)
			resp, err := v.Do(r)
			require.NoError(t, err)
			resp.Body.Close()
			h := resp.Header
			assert.NotEqual(t, http.StatusMethodNotAllowed, resp.StatusCode, path)
			assert.Contains(t, h.Get("Content-Security-Policy"), "default-src 'none'", path)
			assert.Equal(t, "nosniff", h.Get("X-Content-Type-Options"), path)
			assert.Equal(t, "same-origin", h.Get("Referrer-Policy"), path)
			assert.Equal(t, "same-origin", h.Get("Cross-Origin-Opener-Policy"), path)
			assert.Equal(t, "same-origin", h.Get("Cross-Origin-Resource-Policy"), path)
			assert.Contains(t, h.Get("Permissions-Policy"), "camera=()", path)
			assert.Contains(t, []string{"no-store", "no-cache"}, h.Get("Cache-Control"), path)
			assert.Empty(t, h.Get("Server"))
		}
	}
	secure, err := New(x.Studio, slog.New(slog.NewTextHandler(io.Discard, nil)), Setup{Secure: true, Names: []string{"loft.example"}})
	require.NoError(t, err)
	r := httptest.NewRequest(http.MethodPost, "/sign-in", strings.NewReader(url.Values{"login": {"olive"}, "password": {secretWords}}.Encode()))
	r.Host = "loft.example"
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	w := httptest.NewRecorder()
	secure.ServeHTTP(w, r)
	assert.Contains(t, w.Header().Get("Strict-Transport-Security"), "max-age=")
	assert.Contains(t, w.Header().Get("Set-Cookie"), "__Host-restbend=")
	assert.Contains(t, w.Header().Get("Set-Cookie"), "Secure")
	r.Host = "other.example"
	w = httptest.NewRecorder()
	secure.ServeHTTP(w, r)
	assert.Equal(t, http.StatusForbidden, w.Code)
}

// TestHostileWords: what is no plain text, or too long, is refused by name in every form of
// the door, and what is markup stays words.
func TestHostileWords(t *testing.T) {
	x := newLocked(t)
	x.add("olive", "owner")
	v := x.as("olive")
	all, err := x.Store.Clients(context.Background())
	require.NoError(t, err)
	forms := map[string]url.Values{
		"/people":  {"name": {"Ines"}, "login": {"ines"}, "role": {"reader"}, "password": {secretWords}},
		"/sign-in": {"login": {"olive"}, "password": {"x"}, "to": {"/"}},
		"/clients/" + all[0].ID + "/rights/consent": {"consent": {"keeping"}, "given": {"yes"}, "on": {"2026-11-20"}, "note": {"n"}},
		"/clients/" + all[0].ID + "/erase":          {"name": {"x"}, "why": {"y"}},
		"/copies":                                   {"idle": {"20"}, "years": {"8"}},
		"/me/password":                              {"now": {"x"}, "password": {"y"}, "again": {"y"}},
	}
	for path, form := range forms {
		for name := range form {
			for says, bad := range map[string]string{"right to left": "Ada\u202eneB", "zero width": "A\u200bda", "bell": "A\ada", "long": strings.Repeat("a", 10000), "bytes": "a\xffb"} {
				f := url.Values{}
				for k, values := range form {
					f[k] = values
				}
				f.Set(name, bad)
				status, _, body := v.post(path, f)
				if path == "/sign-in" && name == "to" && says == "long" { // an address that leads nowhere
					continue
				}
				assert.Equal(t, http.StatusUnprocessableEntity, status, "%s: %s with %s", path, name, says)
				assert.NotContains(t, body, "\u202e")
			}
			f := url.Values{}
			for k, values := range form {
				f[k] = values
			}
			f.Set(name, `"><script>alert(1)</script>`)
			_, _, body := v.post(path, f)
			assert.NotContains(t, body, "<script>alert", "%s %s", path, name)
		}
	}
	status, _, body := v.post("/people", url.Values{"name": {"<script>alert(2)</script>"}, "login": {"last"}, "role": {"reader"}, "password": {secretWords}})
	require.Equal(t, http.StatusSeeOther, status, body)
	_, body = v.get("/people")
	assert.Contains(t, body, "&lt;script&gt;alert(2)")
	assert.NotContains(t, body, "<script>alert")
}
