package web

import (
	"log/slog"
	"net/http"
	"net/http/httptest"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
)

// TestPagesSayThatTheDemoIsFilled, and a list comes anew when it is; a form does not.
func TestPagesSayThatTheDemoIsFilled(t *testing.T) {
	t.Parallel()
	f := new(Filling)
	studio := &app.Studio{Judge: judge, Store: demoData(t, t.TempDir()), Now: func() time.Time { return now }}
	w, err := New(studio, slog.New(slog.DiscardHandler), Setup{Demo: true, Filling: f, Figures: drawn()})
	require.NoError(t, err)
	get := func(path, from string) *httptest.ResponseRecorder {
		r := httptest.NewRequest(http.MethodGet, path, nil)
		r.RemoteAddr, r.Host = "127.0.0.1:4000", "127.0.0.1"
		if from != "" {
			r.Header.Set("HX-Request", "true")
			r.Header.Set("HX-Current-URL", "http://example.com"+from)
		}
		out := httptest.NewRecorder()
		w.ServeHTTP(out, r)
		return out
	}
	f.Say("The demo is being filled: Odette comes next.")
	assert.Contains(t, get("/", "").Body.String(), "Odette comes next.")
	assert.Contains(t, get("/clients", "").Body.String(), "Odette comes next.")
	line := get("/filling", "/")
	assert.Contains(t, line.Body.String(), "Odette comes next.")
	assert.Empty(t, line.Header().Get("HX-Refresh"))
	f.Say("")
	assert.Equal(t, "true", get("/filling", "/").Header().Get("HX-Refresh"))
	assert.Empty(t, get("/filling", "/clients/new").Header().Get("HX-Refresh"))
	assert.NotContains(t, get("/filling", "/").Body.String(), "<p")
	assert.NotContains(t, get("/", "").Body.String(), "comes next", "no page said it that is kept")
}
