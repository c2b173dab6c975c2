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

// Middleware that checks readiness before a handler runs. Handlers that change something check
// it again in app, where the change is decided.

// exports are the routes whose response leaves the site or opens beside it, and so has no
// banner. They are refused on a day on which the act does not go on.
var exports = []string{"/plans/:id/session.pdf", "/plans/:id/session.vtt", "/plans/:id/print",
	"/plans/:id/screen", "/plans/:id/remote", "/plans/:id/lesson",
	"/homes/:id/sheet.pdf", "/homes/:id/at-home.html", "/homes/:id/mail", "/clients/:id/weeks.ics"}

// ownBanner are the pages that show the readiness of the day themselves.
var ownBanner = []string{"client", "plan", "recheck", "nottoday", "library"}

// requireReadiness works out the readiness of the client that a route is about. Pages show it;
// exports are refused where the act does not go on. If it cannot be worked out, nothing is sent.
func (w *site) requireReadiness(x route) gin.HandlerFunc {
	door, _ := readiness.FindDoor(x.door)
	return func(c *gin.Context) {
		if x.door == none || x.method != http.MethodGet && x.path != "/homes/:id/mail" {
			return
		}
		k, day, err := w.readinessOf(c, x.path, door.Act)
		switch {
		case err != nil:
			w.refused(c, err)
			c.Abort()
		case k.ID == "": // about nobody in particular, or about a session that is over
		case day.Status() != limit.OK && slices.Contains(exports, x.path):
			w.notToday(c, k, day.Readiness)
			c.Abort()
		default:
			c.Set("day", day)
		}
	}
}

// readinessOf finds the client that a route is about and their readiness for an act. The client
// is empty where the route is about nobody, or about a plan that was taught.
func (w *site) readinessOf(c *gin.Context, path string, act readiness.Act) (k store.Client, day readiness.Limits, err error) {
	ctx, id := c.Request.Context(), c.Param("id")
	switch {
	case strings.HasPrefix(path, "/plans/:id"):
		row, err := w.Store.Plan(ctx, id)
		if err != nil || row.Taught() {
			return k, day, err
		}
		if k, err = w.Store.Client(ctx, row.ClientID); err == nil {
			day, err = w.ReadyForPlan(ctx, row, k.Client, act)
		}
		return k, day, err
	case strings.HasPrefix(path, "/homes/:id"):
		row, err := w.Store.Home(ctx, id)
		if err != nil {
			return k, day, err
		}
		id = row.ClientID
	case strings.HasPrefix(path, "/clients/:id"):
	case strings.HasPrefix(path, "/library"), path == "/lever":
		id = c.Query("client")
	default:
		id = ""
	}
	if id == "" {
		return k, day, nil
	}
	if k, err = w.Store.Client(ctx, id); err == nil {
		day, err = w.ReadyFor(ctx, k.ID, k.Client, nil, w.Today(), act)
	}
	return k, day, err
}

// banner is the readiness that a page shows above its content; false for none.
func (w *site) banner(c *gin.Context, page string) (dayLine, bool) {
	v, asked := c.Get("day")
	if !asked || slices.Contains(ownBanner, page) {
		return dayLine{}, false
	}
	day := v.(readiness.Limits).Readiness
	return w.dayOf(day), day.Status != readiness.Ready
}
