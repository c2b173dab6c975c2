package web

import (
	"context"
	"database/sql"
	"flag"
	"fmt"
	"html"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
	"restbend/demo"
	"restbend/mail"
	"restbend/store"
)

var (
	manyClients  = flag.Int("clients", 300, "how many clients the large studio of the list benchmark has")
	manySessions = flag.Int("sessions", 20, "and how many sessions each of them")
)

// grown is the demo with so many clients more, each with so many taught sessions, copies of
// those of the demo; their plans are without exercises, to fit on a
// disk.
func grown(t testing.TB, clients, sessions int) (http.Handler, *app.Studio) {
	t.Helper()
	ctx, dir := context.Background(), t.TempDir()
	db, err := store.Open(ctx, dir)
	require.NoError(t, err)
	require.NoError(t, demo.Fill(ctx, judge, db, now))
	require.NoError(t, db.Close())
	raw, err := sql.Open("sqlite", filepath.Join(dir, "restbend.db"))
	require.NoError(t, err)
	raw.SetMaxOpenConns(1)
	for _, q := range []string{
		"PRAGMA synchronous = OFF",
		`CREATE TEMP TABLE a AS SELECT row_number() OVER (ORDER BY id) - 1 AS n, doc, name FROM clients`,
		`CREATE TEMP TABLE b AS SELECT row_number() OVER (ORDER BY r.id) - 1 AS n, r.doc AS record, json_object('status', 'ready', ` +
			`'minutes_asked', p.doc -> '$.minutes_asked', 'place', p.doc ->> '$.place', 'items', json('[]')) AS plan, p.client_doc ` +
			`FROM records r JOIN plans p ON p.id = r.plan_id`,
		fmt.Sprintf(`WITH i(n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM i WHERE n < %d)
			INSERT INTO clients (id, version, name, doc, created_at, updated_at)
			SELECT printf('k%%06d', i.n), 1, printf('%%s %%06d', a.name, i.n),
			json_set(a.doc, '$.name', printf('%%s %%06d', a.name, i.n)), '2024-01-01T00:00:00Z', '2024-01-01T00:00:00Z'
			FROM i JOIN a ON a.n = i.n %% (SELECT count(*) FROM a)`, max(1, clients)),
		fmt.Sprintf(`WITH j(n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM j WHERE n < %d)
			INSERT INTO plans (id, client_id, on_date, state, revision, doc, client_doc, created_at, updated_at)
			SELECT printf('p%%s-%%04d', k.id, j.n), k.id, date('2026-11-24', printf('-%%d days', 4 * j.n + k.rowid %% 4)),
			'taught', 1, b.plan, b.client_doc, '2024-01-01T00:00:00Z', '2024-01-01T00:00:00Z'
			FROM clients k JOIN j JOIN b ON b.n = (k.rowid + j.n) %% (SELECT count(*) FROM b) WHERE k.id LIKE 'k______'`, max(1, sessions)),
		`INSERT INTO records (id, plan_id, client_id, on_date, doc, created_at)
			SELECT 'r' || p.id, p.id, p.client_id, p.on_date, b.record, p.on_date || 'T10:00:00Z'
			FROM plans p JOIN b ON b.n = p.rowid % (SELECT count(*) FROM b) WHERE p.id LIKE 'pk______-%' ORDER BY p.on_date, p.id`,
		"ANALYZE",
	} {
		_, err := raw.ExecContext(ctx, q)
		require.NoError(t, err, q)
	}
	require.NoError(t, raw.Close())
	db, err = store.Open(ctx, dir)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, db.Close()) })
	s := &app.Studio{Judge: judge, Store: db, Now: func() time.Time { return now }}
	h, err := New(s,
		slog.New(slog.NewTextHandler(io.Discard, nil)),
		Setup{Figures: drawn(), Demo: true, Post: Post{Folder: mail.Folder{Dir: filepath.Join(t.TempDir(), "outbox")}}},
	)
	require.NoError(t, err)
	return h, s
}

func page(t testing.TB, h http.Handler, path string) string {
	r := httptest.NewRequest(http.MethodGet, path, nil)
	r.Host, r.RemoteAddr = "127.0.0.1", "127.0.0.1:1"
	w := httptest.NewRecorder()
	h.ServeHTTP(w, r)
	require.Equal(t, http.StatusOK, w.Code, path)
	return w.Body.String()
}

// walked follows the link onward from page to page and gives back what stands in each row.
func walked(t testing.TB, h http.Handler, path, row, onward string) []string {
	var out []string
	for path != "" {
		text := page(t, h, path)
		for _, part := range strings.Split(text, row)[1:] {
			id, _, _ := strings.Cut(part, `"`)
			out = append(out, id)
		}
		path = ""
		if before, _, ok := strings.Cut(text, `">`+onward); ok {
			path = html.UnescapeString(before[strings.LastIndex(before, `href="`)+6:])
		}
	}
	return out
}

// TestListsGoOnToTheirEnd: each client and each record stands on exactly one page.
func TestListsGoOnToTheirEnd(t *testing.T) {
	t.Parallel()
	h, s := grown(t, 130, 1)
	all, err := s.Store.Clients(context.Background())
	require.NoError(t, err)
	var want []string
	for _, k := range all {
		want = append(want, k.ID)
	}
	assert.Equal(t, want, walked(t, h, "/clients", `class="client-row" href="/clients/`, "The next ones"))

	records, err := s.Store.RecordsBetween(context.Background(), "2026-01-01", "2027-01-01")
	require.NoError(t, err)
	want = nil
	for _, r := range records {
		want = append(want, r.ID)
	}
	assert.ElementsMatch(t, want, walked(t, h, "/records", `class="client-row" href="/records/`, "Earlier ones"))
	found := walked(t, h, "/records?q=000077", `class="client-row" href="/records/`, "Earlier ones")
	assert.Equal(t, []string{"rpk000077-0001"}, found)
	assert.Contains(t, page(t, h, "/clients?q=zz%25"), "Nobody’s name has")
	assert.Contains(t, page(t, h, "/records?q=%22+OR+%2A"), "No record answers to that")
}

// BenchmarkLists asks for each list of the demo and of a large studio; -clients and
// -sessions make it larger.
func BenchmarkLists(b *testing.B) {
	small, _ := demoHandler(b)
	large, _ := grown(b, *manyClients, *manySessions)
	for _, path := range []string{"/", "/clients", "/clients?q=000", "/records", "/records?q=bridge", "/records?mark=pain", "/classes",
		"/calendar", "/library", "/exchange"} {
		for _, k := range []struct {
			name string
			h    http.Handler
		}{{"small", small}, {"large", large}} {
			b.Run(path+" "+k.name, func(b *testing.B) {
				for b.Loop() {
					page(b, k.h, path)
				}
			})
		}
	}
	b.Run("client", func(b *testing.B) {
		for b.Loop() {
			page(b, large, "/clients/k000007")
		}
	})
}
