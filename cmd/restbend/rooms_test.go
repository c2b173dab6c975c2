package main

import (
	"context"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/limit"
	"restbend/store"
	"restbend/web"
)

// TestStudiosSideBySide: each name has a studio of its own with its own people, opened when
// it is asked for and closed when nobody is there.
func TestStudiosSideBySide(t *testing.T) {
	judge, err := loadJudge()
	require.NoError(t, err)
	dir, log := t.TempDir(), slog.New(slog.NewTextHandler(io.Discard, nil))
	for _, name := range []string{"loft", "mill"} {
		require.NoError(t, os.Mkdir(filepath.Join(dir, name), 0o700))
	}
	figures := web.NewFigures(judge.Library)
	m := &rooms{dir: dir, under: []string{"studio.example"}, idle: time.Minute, log: log, now: map[string]*guests{}}
	m.open = func(at string) (*room, error) {
		name := filepath.Base(at)
		return openRoom(
			context.Background(),
			at,
			judge,
			log,
			web.Setup{Figures: figures, Names: []string{name + ".localhost", name + ".studio.example"}},
			"",
		)
	}
	ask := func(method, host, path, cookie string, form url.Values) *httptest.ResponseRecorder {
		r := httptest.NewRequest(method, path, strings.NewReader(form.Encode()))
		r.Host, r.RemoteAddr = host, "127.0.0.1:1"
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		r.Header.Set("Cookie", cookie)
		w := httptest.NewRecorder()
		m.ServeHTTP(w, r)
		return w
	}
	begin := url.Values{"studio": {"The Loft"}, "name": {"Maren"}, "login": {"maren"}, "password": {theirs}, "again": {theirs}}
	w := ask("POST", "loft.localhost:8080", "/first", "", begin)
	require.Equal(t, http.StatusSeeOther, w.Code, w.Body.String())
	cookie := strings.Split(w.Header().Get("Set-Cookie"), ";")[0]
	assert.Contains(t, ask("GET", "LOFT.localhost:8080", "/", cookie, nil).Body.String(), "The Loft")
	other := ask("GET", "mill.studio.example", "/", cookie, nil)
	assert.Equal(t, http.StatusSeeOther, other.Code)
	assert.Contains(t, other.Header().Get("Location"), "/first", "what is signed in for one opens no other")
	for _, host := range []string{"barn.localhost", "..localhost", "localhost", "loft.elsewhere.example", "a.loft.localhost",
		"../loft.localhost"} {
		assert.Equal(t, http.StatusNotFound, ask("GET", host, "/", cookie, nil).Code, host)
	}
	assert.Equal(t, 2, m.tidy(time.Now().Add(-time.Hour)), "they were asked for just now")
	assert.Zero(t, m.tidy(time.Now()))
	assert.Contains(t, ask("GET", "loft.localhost", "/", cookie, nil).Body.String(), "The Loft", "and opened again, still signed in")
	assert.Zero(t, m.tidy(time.Now()))
}

// TestOneProgramServesAFolder; a second is refused with a sentence, and so is what would be
// served in plain text to elsewhere.
func TestOneProgramServesAFolder(t *testing.T) {
	judge, err := loadJudge()
	require.NoError(t, err)
	dir, log := t.TempDir(), slog.New(slog.NewTextHandler(io.Discard, nil))
	r, err := openRoom(context.Background(), dir, judge, log, web.Setup{}, filepath.Join(dir, "far"))
	require.NoError(t, err)
	status, _, errs := call("", "serve", "--addr", "127.0.0.1:0", "--data", dir)
	assert.Equal(t, exitRefused, status)
	assert.Contains(t, errs, "another Rest Bend serves")
	status, _, errs = call("", "restore", filepath.Join(dir, "restbend.db"), "--data", dir, "--aside")
	assert.Equal(t, exitRefused, status)
	assert.Contains(t, errs, "is being served")
	require.NoError(t, r.close())
	for _, c := range []struct {
		args []string
		says string
	}{
		{[]string{"--addr", "0.0.0.0:8080"}, "in plain text"},
		{[]string{"--name", "studio.example"}, "in plain text"},
		{[]string{"--tls-cert", "x"}, "goes with --tls-key"},
		{[]string{"--behind", "the other room", "--name", "studio.example"}, "is no address"},
		{[]string{"--behind", "127.0.0.1"}, "--name"},
		{[]string{"--copies-every", "1s"}, "a minute or more"},
		{[]string{"--copies-days", "0"}, "1 to 3650"},
		{[]string{"--key", dir + "/none"}, "--key"},
		{[]string{"--follow", "gopher://hole"}, "no place to follow to"},
		{[]string{"--studios", dir + "/none"}, "a folder that is there"},
	} {
		status, _, errs := call("", append([]string{"serve", "--data", dir}, c.args...)...)
		assert.Equal(t, exitRefused, status, c.args)
		assert.Contains(t, errs, c.says)
	}
}

// TestADamagedDatabaseIsPutAside and the last good copy brought back beside it; the doctor
// sees both.
func TestADamagedDatabaseIsPutAside(t *testing.T) {
	dir := t.TempDir()
	db, err := store.Open(context.Background(), dir)
	require.NoError(t, err)
	require.NoError(t, db.Change(context.Background(), func(tx *store.Tx) error {
		_, err := tx.AddClient(limit.Client{Name: "Ada"}, time.Now())
		return err
	}))
	require.NoError(t, db.Close())
	key, file := filepath.Join(dir, "key"), filepath.Join(dir, "copy.db.age")
	status, out, errs := call("", "new-key", key)
	require.Equal(t, exitDone, status, errs)
	assert.Contains(t, out, "keep it apart")
	status, _, errs = call("", "backup", filepath.Join(dir, "copy.db"), "--data", dir, "--key", key)
	assert.Equal(t, exitRefused, status)
	assert.Contains(t, errs, ".age")
	status, out, errs = call("", "backup", file, "--data", dir, "--key", key)
	require.Equal(t, exitDone, status, errs)
	assert.Contains(t, out, "brought back")
	status, out, _ = call("", "doctor", "--data", dir)
	assert.Equal(t, exitFailed, status, "there are no copies where they are looked for")
	assert.Contains(t, out, "good  database: is whole")
	assert.Contains(t, out, "ILL   copies")

	path := filepath.Join(dir, "restbend.db")
	b, err := os.ReadFile(path)
	require.NoError(t, err)
	for i := 8192; i < len(b); i++ {
		b[i] = 0x5a
	}
	require.NoError(t, os.WriteFile(path, b, 0o600))
	status, _, errs = call("", "serve", "--data", dir, "--addr", "127.0.0.1:0")
	assert.Equal(t, exitRefused, status)
	assert.Contains(t, errs, "damaged")
	_, out, _ = call("", "doctor", "--data", dir)
	assert.Contains(t, out, "ILL   database")
	status, _, errs = call("", "restore", file, "--data", dir, "--aside")
	assert.Equal(t, exitRefused, status, "without the key nothing is moved")
	assert.Contains(t, errs, "needs its key")
	status, out, errs = call("", "restore", file, "--data", dir, "--aside", "--key", key)
	require.Equal(t, exitDone, status, errs)
	aside := strings.TrimSuffix(strings.TrimPrefix(strings.Split(out, "\n")[0], "What was there is now "), ".")
	kept, err := os.ReadFile(aside)
	require.NoError(t, err)
	assert.Equal(t, b, kept, "not a byte of what was there is changed")
	db, err = store.Open(context.Background(), dir)
	require.NoError(t, err)
	defer db.Close()
	all, err := db.Clients(context.Background())
	require.NoError(t, err)
	assert.Len(t, all, 1)
}
