package web

import (
	"compress/gzip"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestFirstLoadsAreLight asks for pages and all that they name, as a browser does that has
// nothing yet.
func TestFirstLoadsAreLight(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	raw := &http.Client{Transport: &http.Transport{DisableCompression: true}}
	weigh := func(path string) (int, string) {
		r, err := http.NewRequest(http.MethodGet, srv.URL+path, nil)
		require.NoError(t, err)
		r.Header.Set("Accept-Encoding", "gzip, deflate, br")
		resp, err := raw.Do(r)
		require.NoError(t, err)
		defer resp.Body.Close()
		require.Equal(t, http.StatusOK, resp.StatusCode, path)
		b, err := io.ReadAll(resp.Body)
		require.NoError(t, err)
		text := string(b)
		if resp.Header.Get("Content-Encoding") == "gzip" {
			z, err := gzip.NewReader(strings.NewReader(text))
			require.NoError(t, err)
			plain, err := io.ReadAll(z)
			require.NoError(t, err)
			text = string(plain)
		}
		return len(b), text
	}
	named := regexp.MustCompile(`(?:src|href)="(/(?:static|figures)/[^"]+)"`)
	for path, most := range map[string]int{"/": 150, "/clients": 150, "/clients/" + client(t, s, "Odette"): 150,
		"/plans/" + planned(t, s, "Odette").ID: 150, "/plans/" + planned(t, s, "Odette").ID + "/teach": 150, "/library": 600} {
		page, text := weigh(path)
		sum, seen := page, map[string]bool{}
		for _, m := range named.FindAllStringSubmatch(text, -1) {
			if !seen[m[1]] {
				seen[m[1]] = true
				n, _ := weigh(m[1])
				sum += n
			}
		}
		t.Logf("%s: page %d kB, in all %d kB in %d requests", path, page/1000, sum/1000, len(seen)+1)
		assert.LessOrEqual(t, sum/1000, most, path)
	}
}

// TestASwapIsLight: a change of a plan sends what changed, in little.
func TestASwapIsLight(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	row := planned(t, s, "Odette")
	small := func(r *http.Request) {
		r.Header.Set("HX-Request", "true")
		r.Header.Set("Accept-Encoding", "gzip")
	}
	for what, ask := range map[string]func() (*http.Response, string){
		"another row": func() (*http.Response, string) {
			return ask(t, http.MethodGet, srv.URL+"/plans/"+row.ID+"?item=4", nil, small)
		},
		"five minutes more": func() (*http.Response, string) {
			return ask(t, http.MethodPost, srv.URL+"/plans/"+row.ID+"/change", url.Values{
				"revision": {fmt.Sprint(planned(t, s, "Odette").Revision)}, "step": {"more"}}, small)
		},
	} {
		resp, body := ask()
		require.Equal(t, http.StatusOK, resp.StatusCode, what)
		require.Equal(t, "gzip", resp.Header.Get("Content-Encoding"), what)
		t.Logf("%s: %d bytes", what, len(body))
		assert.LessOrEqual(t, len(body), 11_000, what)
	}
}
