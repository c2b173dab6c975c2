package web

import (
	"context"
	"net/http"
	"net/url"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestAChangeIsSaidAndTakenBack keeps tests, reads that they were kept, and takes them back;
// what somebody else changed since is not taken back with it.
func TestAChangeIsSaidAndTakenBack(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	ctx, id := context.Background(), client(t, s, "Tobias")
	before, err := s.Store.Client(ctx, id)
	require.NoError(t, err)
	b := newBrowser(t, 1280, 800)
	b.open(srv.URL + "/clients/" + id + "/screens")
	b.do(chromedp.Click(`.test-card .answers input[value=weak]`), chromedp.Click(`.keep-bar button`))
	b.until(`document.querySelector(".said-line")?.innerText.includes("Entered tests.")`)
	b.accessible("what was done")
	kept, err := s.Store.Client(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, before.Version+1, kept.Version)
	b.do(chromedp.Click(`.said-line form button`))
	b.until(`document.querySelector(".said-line")?.innerText.includes("Took the last change")`)
	b.until(`location.pathname.endsWith("/screens")`)
	after, err := s.Store.Client(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, before.Client, after.Client)
	assert.False(t, read[bool](b, `document.querySelector(".said-line form") !== null`), "taking back is not taken back")
	b.open(srv.URL + "/clients")
	assert.False(t, read[bool](b, `document.querySelector(".said-line") !== null`), "it is said once")

	for version, status := range map[string]int{"x": 422, "1": 422, "900": 422} {
		resp, _ := ask(t, http.MethodPost, srv.URL+"/clients/"+id+"/undo", url.Values{"version": {version}}, nil)
		assert.Equal(t, status, resp.StatusCode, version)
	}
	now, err := s.Store.Client(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, after.Version, now.Version)
}
