package web

import (
	"net/http"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestEveryPageSaysHowItIsUsed: the help of each page has words of its own, in five lines at
// most, and none is kept for a page there is not.
func TestEveryPageSaysHowItIsUsed(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	link := regexp.MustCompile(`href="(/help/[a-z]+)" data-help`)
	asked := 0
	for _, view := range everyView(t, s) {
		_, page := get(t, srv.URL+view)
		m := link.FindStringSubmatch(page)
		if m == nil { // a lesson and its like have no menu
			continue
		}
		asked++
		status, help := get(t, srv.URL+m[1])
		require.Equal(t, http.StatusOK, status, m[1])
		if m[1] != "/help/help" {
			assert.Contains(t, help, "How it is used", "%s, of %s", m[1], view)
		}
	}
	assert.Greater(t, asked, 30)
	helps, err := readHelp()
	require.NoError(t, err)
	for name, h := range helps {
		assert.LessOrEqual(t, len(h.How), 5, name)
		if name == "anywhere" || name == "words" {
			continue
		}
		_, err := templateFiles.Open("templates/" + name + ".html")
		assert.NoError(t, err, name)
	}
}
