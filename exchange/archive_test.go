package exchange_test

import (
	"archive/zip"
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/limit"
	"restbend/exchange"
	"restbend/store"
)

var ctx = context.Background()

func open(t testing.TB) *store.Store {
	s, err := store.Open(ctx, t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { s.Close() })
	return s
}

// filled is a studio with a few clients.
func filled(t testing.TB, n int) *store.Store {
	s := open(t)
	require.NoError(t, s.Change(ctx, func(tx *store.Tx) error {
		if err := tx.SetSetting("studio", "Lantern Loft"); err != nil {
			return err
		}
		for i := range n {
			if _, err := tx.AddClient(
				limit.Client{Name: fmt.Sprintf("Client %d <é \"quoted\">", i), GoalText: "=1+1"},
				time.Date(2026, 11, 25, 9, i%60, 0, 0, time.UTC),
			); err != nil {
				return err
			}
		}
		return nil
	}))
	return s
}

func archive(t testing.TB, s *store.Store, day string) []byte {
	var b bytes.Buffer
	require.NoError(t, exchange.Archive(ctx, s, &b, day))
	return b.Bytes()
}

func take(t testing.TB, s *store.Store, b []byte, o exchange.Options) (exchange.Report, error) {
	return exchange.TakeArchive(ctx, s, bytes.NewReader(b), int64(len(b)), o)
}

// TestAnArchiveMovesAStudio from one folder to another, byte for byte; twice changes
// nothing, and a dry run takes nothing.
func TestAnArchiveMovesAStudio(t *testing.T) {
	from, to := filled(t, 12), open(t)
	out := archive(t, from, "2026-11-25")
	r, err := take(t, to, out, exchange.Options{DryRun: true})
	require.NoError(t, err)
	assert.Positive(t, r.Taken)
	all, err := to.Clients(ctx)
	require.NoError(t, err)
	assert.Empty(t, all, "a dry run")
	again, err := take(t, to, out, exchange.Options{})
	require.NoError(t, err)
	assert.Equal(t, r, again)
	assert.Empty(t, again.Refused)
	assert.True(t, bytes.Equal(out, archive(t, to, "2026-11-25")), "byte for byte")
	third, err := take(t, to, out, exchange.Options{})
	require.NoError(t, err)
	assert.Zero(t, third.Taken)
	assert.Equal(t, r.Taken, third.Same)

	// What was changed here meanwhile stays, and is named; nothing of the rest is taken.
	clients, err := to.Clients(ctx)
	require.NoError(t, err)
	require.NoError(t, to.Change(ctx, func(tx *store.Tx) error {
		return tx.ChangeClient(clients[0].ID, 1, limit.Client{Name: "Changed here"}, time.Now())
	}))
	require.NoError(t, from.Change(ctx, func(tx *store.Tx) error {
		_, err := tx.AddClient(limit.Client{Name: "New there"}, time.Now())
		return err
	}))
	newer := archive(t, from, "2026-11-26")
	r, err = take(t, to, newer, exchange.Options{})
	require.NoError(t, err)
	require.NotEmpty(t, r.Refused)
	assert.Contains(t, r.Refused[0].Why, "stays as it is")
	assert.Equal(t, "data/clients.jsonl", r.Refused[0].File)
	now, err := to.Clients(ctx)
	require.NoError(t, err)
	assert.Len(t, now, 12, "all or nothing")
	_, err = take(t, to, newer, exchange.Options{Partly: true})
	require.NoError(t, err)
	now, err = to.Clients(ctx)
	require.NoError(t, err)
	assert.Len(t, now, 13, "what can be taken")
}

// rezip writes an archive anew with its files changed; the manifest is put right unless it
// is one of those changed.
func rezip(t *testing.T, b []byte, honest bool, change func(name string, body []byte) (string, []byte)) []byte {
	z, err := zip.NewReader(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	var out bytes.Buffer
	w := zip.NewWriter(&out)
	sums, rows := map[string]string{}, map[string]int{}
	for _, f := range z.File {
		r, err := f.Open()
		require.NoError(t, err)
		body, err := io.ReadAll(r)
		require.NoError(t, err)
		name, body := change(f.Name, body)
		if name == "" {
			continue
		}
		if name == "manifest.json" && honest {
			var m exchange.Manifest
			require.NoError(t, json.Unmarshal(body, &m))
			for i, k := range m.Files {
				if sum := sums[k.Name]; sum != "" {
					m.Files[i].SHA256 = sum
					if strings.HasPrefix(k.Name, "data/") {
						m.Files[i].Rows = rows[k.Name]
					}
				}
			}
			body, err = json.Marshal(m)
			require.NoError(t, err)
		}
		sum := sha256.Sum256(body)
		sums[name], rows[name] = hex.EncodeToString(sum[:]), bytes.Count(body, []byte("\n"))
		f2, err := w.Create(name)
		require.NoError(t, err)
		_, err = f2.Write(body)
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	return out.Bytes()
}

// TestADamagedArchiveIsRefused whole, with the file and what was expected, and nothing of it
// is taken.
func TestADamagedArchiveIsRefused(t *testing.T) {
	good := archive(t, filled(t, 3), "2026-11-25")
	clients := "data/clients.jsonl"
	only := func(name string, to func([]byte) []byte) func(string, []byte) (string, []byte) {
		return func(n string, b []byte) (string, []byte) {
			if n == name {
				b = to(b)
			}
			return n, b
		}
	}
	manifest := func(old, new string) []byte {
		return rezip(t,
			good,
			false,
			only("manifest.json", func(b []byte) []byte { return bytes.Replace(b, []byte(old), []byte(new), 1) }),
		)
	}
	for says, b := range map[string][]byte{
		"cut short":   good[:len(good)/2],
		"no zip file": []byte("hello"),
		"changed or damaged": rezip(t, good, false, only(clients,
			func(b []byte) []byte { return bytes.Replace(b, []byte("Client 1"), []byte("Client 9"), 1) })),
		"is missing": rezip(t, good, false, func(n string, b []byte) (string,
			[]byte) {
			return strings.TrimPrefix(n, "manifest.json"), b
		}),
		"named in the manifest": rezip(t, good, false, func(n string, b []byte) (string, []byte) {
			return strings.TrimPrefix(n, clients),
				b
		}),
		"not named": manifest(`"name": "data/series.jsonl"`, `"name": "data/clients.jsonl"`),
		"leads out of the archive": rezip(t, good, false, func(n string, b []byte) (string, []byte) {
			return strings.Replace(n, "data/clients", "../clients", 1), b
		}),
		"later version":     manifest(`"schema": `, `"schema": 9`),
		"expected restbend": manifest("restbend.archive/1", "restbend.archive/2"),
		"cannot be read":    manifest(`"made_on"`, `"made_off"`),
	} {
		to := open(t)
		_, err := take(t, to, b, exchange.Options{})
		require.ErrorContains(t, err, says, says)
		var bad *exchange.Bad
		assert.ErrorAs(t, err, &bad, says)
		all, err := to.Clients(ctx)
		require.NoError(t, err)
		assert.Empty(t, all, says)
	}
	// Honest lines that cannot be rows are named by line.
	for says, line := range map[string]string{
		"no JSON object": "soup\n", "is no field": `{"id":"x","colour":"red"}` + "\n", "is missing": `{"id":"x"}` + "\n",
		"more than one": `{} {}` + "\n",
	} {
		to := open(t)
		r, err := take(t,
			to,
			rezip(t, good, true, only(clients, func(b []byte) []byte { return append(b, line...) })),
			exchange.Options{},
		)
		require.NoError(t, err, says)
		require.NotEmpty(t, r.Refused, says)
		assert.Contains(t, r.Refused[0].Why, says)
		assert.Equal(t, 4, r.Refused[0].Line)
		all, err := to.Clients(ctx)
		require.NoError(t, err)
		assert.Empty(t, all, "all or nothing")
	}
}

// BenchmarkArchive takes a studio of 1,000 clients with 50 versions each out and in.
func BenchmarkArchive(b *testing.B) {
	s := filled(b, 1000)
	all, err := s.Clients(ctx)
	require.NoError(b, err)
	require.NoError(b, s.Change(ctx, func(tx *store.Tx) error {
		for _, k := range all {
			for v := range 50 {
				k.Client.GoalText = strings.Repeat("What was done and how it was. ", 100)
				if err := tx.ChangeClient(k.ID, v+1, k.Client, time.Now()); err != nil {
					return err
				}
			}
		}
		return nil
	}))
	for b.Loop() {
		out := archive(b, s, "2026-11-25")
		to, err := store.Open(ctx, filepath.Join(b.TempDir(), "in"))
		require.NoError(b, err)
		_, err = take(b, to, out, exchange.Options{})
		require.NoError(b, err)
		to.Close()
	}
}
