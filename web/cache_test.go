package web

import (
	"context"
	"html/template"
	"net/http"
	"regexp"
	"strings"
	"testing"

	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestAKeptPageIsTheLastWord: a page comes twice the same but for the keys of its forms, and
// anew as soon as anything was changed.
func TestAKeptPageIsTheLastWord(t *testing.T) {
	h, s := demoHandler(t)
	plans, err := s.Store.PlansOn(context.Background(), s.Today().String())
	require.NoError(t, err)
	path := "/plans/" + plans[0].ID
	keys := regexp.MustCompile(`name="key" value="[^"]+"`)
	one, two := page(t, h, path), page(t, h, path)
	assert.NotEqual(t, one, two, "each form is sent once")
	assert.Equal(t, keys.ReplaceAllString(one, ""), keys.ReplaceAllString(two, ""))
	require.NoError(t, s.Schedule(context.Background(), plans[0].ID, "2026-11-30", "07:45"))
	assert.NotContains(t, two, "07:45")
	assert.Contains(t, page(t, h, path), "07:45")
}

// BenchmarkPlanPage asks for a plan's page again and again, and for a bare page of Gin of
// the same size.
func BenchmarkPlanPage(b *testing.B) {
	h, s := demoHandler(b)
	plans, err := s.Store.PlansOn(context.Background(), s.Today().String())
	require.NoError(b, err)
	path := "/plans/" + plans[0].ID
	whole := page(b, h, path)
	bare := gin.New()
	bare.SetHTMLTemplate(template.Must(template.New("page").Parse(`{{range .}}{{.}}{{end}}`)))
	var parts []template.HTML
	for _, part := range strings.SplitAfter(whole, ">") {
		parts = append(parts, template.HTML(part))
	}
	bare.GET("/", func(c *gin.Context) { c.HTML(http.StatusOK, "page", parts) })
	for _, k := range []struct {
		name, path string
		h          http.Handler
	}{{"ours", path, h}, {"bare", "/", bare}} {
		b.Run(k.name, func(b *testing.B) {
			for b.Loop() {
				page(b, k.h, k.path)
			}
		})
	}
}
