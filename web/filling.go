package web

import (
	"net/http"
	"net/url"
	"slices"
	"sync/atomic"

	"github.com/gin-gonic/gin"
)

// Filling is what the demo still does before all of it is there.
type Filling struct{ words atomic.Value }

// Say says what comes next; nothing when all is there.
func (f *Filling) Say(words string) { f.words.Store(words) }

// Words are what was said last; empty where nothing is being filled.
func (f *Filling) Words() string {
	if f == nil {
		return ""
	}
	words, _ := f.words.Load().(string)
	return words
}

// lists are the pages that have more to show once the demo is filled, and nothing that
// somebody may be writing in.
var lists = []string{"/", "/calendar", "/clients", "/classes", "/records"}

// filling is the line on a page while the demo is filled. When it is, the line goes, and a list
// comes anew.
func (w *site) filling(c *gin.Context) {
	at, err := url.Parse(c.GetHeader("HX-Current-URL"))
	if w.setup.Filling.Words() == "" && err == nil && slices.Contains(lists, at.Path) {
		c.Header("HX-Refresh", "true")
	}
	w.pages.render(c, http.StatusOK, "filling", nil)
}
