package web

import (
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"
	lru "github.com/hashicorp/golang-lru/v2"
)

// Pages that show only what the database holds are cached until anything in it changes.

// maxCachedPages is the most pages that are cached.
const maxCachedPages = 64

// pageCache are pages by who asked for what, on which day and at which state of the
// database.
type pageCache = lru.Cache[string, [][]byte]

// cached answers from the cache, or lets show write the page. What it shows may follow
// from the address, who asks, the day and the database, and from nothing else.
func (w *site) cached(show gin.HandlerFunc) gin.HandlerFunc {
	return func(c *gin.Context) {
		version, err := w.Store.Version(c.Request.Context())
		if err != nil {
			w.refused(c, err)
			return
		}
		key := strings.Join([]string{version, w.Today().String(), c.GetHeader("HX-Request"), visitorOf(c).ID, visitorOf(c).Role.ID,
			c.Request.URL.RequestURI()}, "\x00")
		if page, ok := w.cache.Get(key); ok {
			sendPage(c, http.StatusOK, page)
			return
		}
		c.Set("cache", key)
		show(c)
	}
}

// cachePage adds a page whose handler is wrapped in cached. While the demo is being filled nothing
// is cached, since each page says how far it is.
func (w *site) cachePage(c *gin.Context, status int, page [][]byte) {
	if key := c.GetString("cache"); key != "" && status == http.StatusOK && w.setup.Filling.Words() == "" {
		w.cache.Add(key, page)
	}
}
