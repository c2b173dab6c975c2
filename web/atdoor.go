package web

import (
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/core/limit"
	"restbend/core/readiness"
	"restbend/store"
)

// The doors of readiness, asked before an address of theirs answers, so that none of them can
// forget to. What changes something asks again where it is decided, in app.

// takenOut are the addresses whose answer leaves the pages, and so carries no line that would
// say what the day is: there is none on a day that gives nothing.
var takenOut = []string{"/plans/:id/session.pdf", "/plans/:id/session.vtt", "/plans/:id/print", "/plans/:id/screen",
	"/plans/:id/remote", "/plans/:id/lesson",
	"/homes/:id/sheet.pdf", "/homes/:id/at-home.html", "/homes/:id/mail", "/clients/:id/weeks.ics"}

// tellsItself are the pages that say by themselves what the day is.
var tellsItself = []string{"client", "plan", "recheck", "nottoday", "library"}

// atDoor asks what the day allows whoever an address is about, before it answers.
func (w *site) atDoor(x route) gin.HandlerFunc {
	door, _ := readiness.FindDoor(x.door)
	return func(c *gin.Context) {
		if x.door == none || x.method != http.MethodGet && x.path != "/homes/:id/mail" {
			return
		}
		k, day, ok := w.whoAtDoor(c, x.path, door.Act)
		if !ok {
			return // nobody in particular, or what the address itself refuses
		}
		c.Set("day", day)
		if day.Status() != limit.OK && slices.Contains(takenOut, x.path) {
			w.notToday(c, k, day.Readiness)
			c.Abort()
		}
	}
}

// whoAtDoor finds whom an address is about and what the day allows them.
func (w *site) whoAtDoor(c *gin.Context, path string, act readiness.Act) (k store.Client, day readiness.Limits, ok bool) {
	ctx, id := c.Request.Context(), c.Param("id")
	var err error
	switch {
	case strings.HasPrefix(path, "/plans/:id"):
		row, err := w.Store.Plan(ctx, id)
		if err != nil || row.Taught() { // what was taught is history
			return k, day, false
		}
		if k, err = w.Store.Client(ctx, row.ClientID); err == nil {
			day, err = w.ReadyForPlan(ctx, row, k.Client, act)
		}
		return k, day, err == nil
	case strings.HasPrefix(path, "/homes/:id"):
		var row store.Home
		row, err = w.Store.Home(ctx, id)
		id = row.ClientID
	case strings.HasPrefix(path, "/clients/:id"):
	case strings.HasPrefix(path, "/library"), path == "/lever":
		id = c.Query("client")
	default:
		id = ""
	}
	if err != nil || id == "" {
		return k, day, false
	}
	if k, err = w.Store.Client(ctx, id); err == nil {
		day, err = w.ReadyFor(ctx, k.ID, k.Client, nil, w.Today(), act)
	}
	return k, day, err == nil
}

// lineOf is what a page that does not say it itself shows of the day; false for nothing.
func (w *site) lineOf(c *gin.Context, page string) (dayLine, bool) {
	v, asked := c.Get("day")
	if !asked || slices.Contains(tellsItself, page) {
		return dayLine{}, false
	}
	day := v.(readiness.Limits).Readiness
	return w.dayOf(day), day.Status != readiness.Ready
}
