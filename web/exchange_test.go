package web

import (
	"context"
	"encoding/json"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestInAndOut: everything goes out by a link; a table is looked at, and taken only when
// that is said; what cannot be read is refused with nothing taken.
func TestInAndOut(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	ctx := context.Background()
	k := odette(t, s)
	for path, begins := range map[string]string{"/exchange/out/archive.zip": "PK", "/exchange/out/tables.zip": "PK",
		"/exchange/out/sessions.ics":            "BEGIN:VCALENDAR",
		"/clients/" + k.ID + "/out/client.json": "{", "/clients/" + k.ID + "/out/whole.zip": "PK",
		"/clients/" + k.ID + "/report.pdf": "%PDF-", "/clients/" + k.ID + "/report.pdf?for=referrer&size=letter": "%PDF-",
		"/plans/" + planned(t, s, "Odette").ID + "/session.pdf": "%PDF-", "/plans/" + planned(t, s, "Odette").ID + "/ribbon.svg": "<svg",
		"/clients/" + k.ID + "/out/fhir.json": "{", "/clients/" + k.ID + "/out/sessions.ics": "BEGIN:VCALENDAR",
		"/plans/" + planned(t, s, "Odette").ID + "/session.vtt": "WEBVTT"} {
		status, body := get(t, srv.URL+path)
		assert.Equal(t, http.StatusOK, status, path)
		assert.True(t, strings.HasPrefix(body, begins), path)
	}
	_, ribbon := get(t, srv.URL+"/plans/"+planned(t, s, "Odette").ID+"/ribbon.svg")
	assert.NotContains(t, ribbon, "/figures/", "it stands by itself")
	for _, path := range []string{"/exchange/out/secrets", "/clients/" + k.ID + "/out/secrets", "/clients/none/out/fhir.json",
		"/exchange?upload=none"} {
		status, _ := get(t, srv.URL+path)
		assert.Equal(t, http.StatusNotFound, status, path)
	}
	names := func() (out []string) {
		all, err := s.Store.Clients(ctx)
		require.NoError(t, err)
		for _, k := range all {
			out = append(out, k.Client.Name)
		}
		return
	}
	before := names()
	send := func(name, body string) string {
		resp, err := http.Post(
			srv.URL+"/exchange/uploads?name="+url.QueryEscape(name),
			"application/octet-stream",
			strings.NewReader(body),
		)
		require.NoError(t, err)
		defer resp.Body.Close()
		var answer struct{ At string }
		require.NoError(t, json.NewDecoder(resp.Body).Decode(&answer))
		return answer.At
	}
	for name, body := range map[string]string{"odd.csv": "colour\nred", "odd.zip": "PK", "odd.txt": "hello"} {
		status, page := get(t, srv.URL+send(name, body))
		assert.Equal(t, http.StatusUnprocessableEntity, status, name)
		assert.Contains(t, page, "Nothing was taken.", name)
	}
	at := send("new.csv", "name,birth_year\nAda Newcome,1961\n,1970\n")
	_, page := get(t, srv.URL+at)
	assert.Contains(t, page, "1 taken, 0 there already, 1 refused")
	assert.Equal(t, before, names(), "looking takes nothing")
	id := at[strings.LastIndex(at, "=")+1:]
	resp, _ := ask(t, http.MethodPost, srv.URL+"/exchange/take", url.Values{"upload": {id}}, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, resp.StatusCode)
	assert.Equal(t, before, names(), "all or nothing")
	resp, _ = ask(t, http.MethodPost, srv.URL+"/exchange/take", url.Values{"upload": {id}, "partly": {"yes"}}, nil)
	assert.Equal(t, http.StatusSeeOther, resp.StatusCode)
	assert.Contains(t, names(), "Ada Newcome")

	// By hand, with a file.
	path := filepath.Join(t.TempDir(), "two.csv")
	require.NoError(t, os.WriteFile(path, []byte("name\nBo Newcome\n"), 0o600))
	b := newBrowser(t, 1280, 800)
	b.open(srv.URL + "/exchange")
	b.accessible("in and out")
	b.do(chromedp.SetUploadFiles("#in-file", []string{path}))
	b.until(`document.querySelector(".exchange-report .tongue")`)
	b.do(chromedp.Click(".exchange-report .tongue"))
	b.until(`document.querySelector(".home-note")?.innerText.includes("taken in")`)
	assert.Contains(t, names(), "Bo Newcome")
	b.do(chromedp.Click(".undo button"))
	b.until(`document.querySelector(".home-note")?.innerText.includes("nothing was deleted")`)
	assert.NotContains(t, names(), "Bo Newcome")
}
