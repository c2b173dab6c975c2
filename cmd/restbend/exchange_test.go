package main

import (
	"context"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
	"restbend/demo"
	"restbend/store"
)

// TestOutAndIn: a studio moves by an archive; a client goes out in every form, and what
// cannot be is named.
func TestOutAndIn(t *testing.T) {
	ctx, from, to, out := context.Background(), t.TempDir(), t.TempDir(), t.TempDir()
	s, err := store.Open(ctx, from)
	require.NoError(t, err)
	j, err := app.NewJudge()
	require.NoError(t, err)
	now := time.Date(2026, 11, 24, 10, 0, 0, 0, time.UTC)
	require.NoError(t, demo.Fill(ctx, j, s, now))
	studio := &app.Studio{Judge: j, Store: s, Now: func() time.Time { return now }}
	all, err := s.Clients(ctx)
	require.NoError(t, err)
	id := all[0].ID
	_, err = studio.AddHome(ctx, id, 3, 7)
	require.NoError(t, err)
	require.NoError(t, s.Close())
	file := func(name string) string { return filepath.Join(out, name) }

	status, _, errs := call("", "export", "studio", "--as", "archive", "--out", file("a.zip"), "--data", from, "--on", "2026-11-25")
	require.Equal(t, exitDone, status, errs)
	status, said, errs := call("", "import", file("a.zip"), "--dry-run", "--data", to)
	require.Equal(t, exitDone, status, errs)
	assert.Contains(t, said, "Would be:")
	status, said, errs = call("", "import", file("a.zip"), "--data", to)
	require.Equal(t, exitDone, status, errs)
	assert.Contains(t, said, "0 refused")
	status, _, errs = call("", "export", "studio", "--as", "archive", "--out", file("b.zip"), "--data", to, "--on", "2026-11-25")
	require.Equal(t, exitDone, status, errs)
	a, err := os.ReadFile(file("a.zip"))
	require.NoError(t, err)
	b, err := os.ReadFile(file("b.zip"))
	require.NoError(t, err)
	assert.Equal(t, a, b, "the same archive again")

	for as, begins := range map[string]string{"json": "{", "ics": "BEGIN:VCALENDAR", "fhir": "{", "vtt": "WEBVTT", "pdf": "%PDF-",
		"html": "<!doctype html>", "svg": "<svg", "png": "\x89PNG"} {
		status, _, errs := call("", "export", id, "--as", as, "--out", file("c."+as), "--data", from)
		require.Equal(t, exitDone, status, "%s: %s", as, errs)
		got, err := os.ReadFile(file("c." + as))
		require.NoError(t, err)
		assert.True(t, strings.HasPrefix(string(got), begins), as)
	}
	for _, as := range []string{"csv", "ics"} {
		status, _, errs := call("", "export", "studio", "--as", as, "--out", file("s."+as), "--data", from)
		require.Equal(t, exitDone, status, errs)
	}
	table := file("more.csv")
	require.NoError(t, os.WriteFile(table, []byte("name,birth_year\nNew Person,1961\n,1970\n"), 0o600))
	status, said, errs = call("", "import", table, "--data", to)
	assert.Equal(t, exitRefused, status)
	assert.Contains(t, said, "more.csv, line 3: name: is missing")
	assert.Contains(t, errs, "1 rows were refused")
	status, said, errs = call("", "import", table, "--partly", "--data", to)
	assert.Equal(t, exitDone, status, errs)
	assert.Contains(t, said, "1 taken")

	for says, args := range map[string][]string{
		"is there already":      {"export", "studio", "--as", "archive", "--out", file("a.zip"), "--data", from},
		"is not made of studio": {"export", "studio", "--as", "pdf", "--out", file("x"), "--data", from},
		"is no client":          {"export", "nobody", "--as", "pdf", "--out", file("x"), "--data", from},
		"there is no database":  {"export", "studio", "--as", "csv", "--out", file("x"), "--data", out},
		"no zip file": {"import", func() string { os.WriteFile(file("n.zip"), []byte("no"), 0o600); return file("n.zip") }(),
			"--data", to},
		"no ending that is know": {"import", func() string { os.WriteFile(file("n.txt"), []byte("no"), 0o600); return file("n.txt") }(),
			"--data", to},
		"cannot be opened": {"import", file("none.csv"), "--data", to},
	} {
		status, _, errs := call("", args...)
		assert.Equal(t, exitRefused, status, says)
		assert.Contains(t, errs, says)
	}
	_, err = os.Stat(file("x"))
	assert.True(t, os.IsNotExist(err), "nothing half written")
}
