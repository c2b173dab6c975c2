package web

import (
	"context"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestLogsNameNobody: after pages, changes, refusals and a wrong address the log holds no
// name, no id and nothing of what was sent.
func TestLogsNameNobody(t *testing.T) {
	t.Parallel()
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
	t.Parallel()
	x := newLocked(t)
	x.add("olive", "owner")
	v := x.as("olive")
	for _, path := range []string{"/", "/sign-in", "/clients", "/nowhere", "/clients/none", "/healthz", "/worker.js",
		"/exchange/out/archive.zip", "/locked"} {
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
	secure, err := New(
		x.Studio,
		slog.New(slog.NewTextHandler(io.Discard, nil)),
		Setup{Figures: drawn(), Secure: true, Names: []string{"loft.example"}},
	)
	require.NoError(t, err)
	r := httptest.NewRequest(
		http.MethodPost,
		"/sign-in",
		strings.NewReader(url.Values{"login": {"olive"}, "password": {secretWords}}.Encode()),
	)
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
	t.Parallel()
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
			for says, bad := range map[string]string{"right to left": "Ada\u202eneB", "zero width": "A\u200bda", "bell": "A\ada",
				"long": strings.Repeat("a", 10000), "bytes": "a\xffb"} {
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
	status, _, body := v.post(
		"/people",
		url.Values{"name": {"<script>alert(2)</script>"}, "login": {"last"}, "role": {"reader"}, "password": {secretWords}},
	)
	require.Equal(t, http.StatusSeeOther, status, body)
	_, body = v.get("/people")
	assert.Contains(t, body, "&lt;script&gt;alert(2)")
	assert.NotContains(t, body, "<script>alert")
}
