package web

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/formats"
)

// After a change the next page says what was done, aloud and in sight, and offers to take it
// back where it changed a client's file. The words wait in a cookie for that page and hold
// nothing of anybody.

// flash is what the next page says.
type flash struct {
	Text string `json:"text"`
	Undo string `json:"undo,omitempty"` // where the change is taken back
	At   int    `json:"at,omitempty"`   // the version that it made
}

// fileOf is the version of the client's file that a request may change; 0 for none.
func (w *site) fileOf(c *gin.Context, kind, id string) int {
	if kind != "clients" || c.Request.Method != http.MethodPost {
		return 0
	}
	k, err := w.Store.Client(c.Request.Context(), id)
	if err != nil {
		return 0 // refused, and told, elsewhere
	}
	return k.Version
}

// setFlash leaves the words for the next page, after a request that led on to it.
func (w *site) setFlash(c *gin.Context, says, kind, id string, before int) {
	if c.Request.Method != http.MethodPost || c.Writer.Status() != http.StatusSeeOther || says == "" || strings.Contains(says, ", or ") ||
		strings.HasSuffix(c.FullPath(), "/erase") ||
		c.Writer.Written() {
		return
	}
	d := flash{Text: app.Capital(says) + "."}
	if after := w.fileOf(c, kind, id); before > 0 && after == before+1 && !strings.HasSuffix(c.FullPath(), "/undo") {
		d.Undo, d.At = "/clients/"+url.PathEscape(id)+"/undo", after
	}
	doc, err := json.Marshal(d)
	if err != nil {
		return
	}
	http.SetCookie(
		c.Writer,
		&http.Cookie{
			Name:     "flash",
			Value:    url.QueryEscape(string(doc)),
			Path:     "/",
			MaxAge:   30,
			SameSite: http.SameSiteStrictMode,
			Secure:   w.setup.Secure,
		},
	)
}

// undoClient takes the last change of a client's file back.
func (w *site) undoClient(c *gin.Context) {
	version, err := strconv.Atoi(c.PostForm("version"))
	if err != nil {
		err = &formats.Invalid{
			Path: "version",
			Want: fmt.Sprintf("expected the version that is to be taken back, found %q", c.PostForm("version")),
		}
	} else {
		err = w.idempotentOnly(c, func(ctx context.Context) error { return w.UndoClient(ctx, c.Param("id"), version) })
	}
	if err != nil {
		w.refused(c, err)
		return
	}
	to := c.PostForm("to")
	if !strings.HasPrefix(to, "/clients/"+c.Param("id")) {
		to = "/clients/" + url.PathEscape(c.Param("id"))
	}
	c.Redirect(http.StatusSeeOther, to)
}
