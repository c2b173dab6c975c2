// Package web shows Rest Bend in the browser: server-rendered pages, htmx for
// what answers at once, and drawings as images.
package web

import (
	"errors"
	"fmt"
	"log/slog"
	"net/http"

	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"
	lru "github.com/hashicorp/golang-lru/v2"
	"github.com/klauspost/compress/gzhttp"

	"restbend/app"
	"restbend/core/find"
	"restbend/formats"
	"restbend/store"
)

// site is the running web application.
type site struct {
	*app.Studio
	log      *slog.Logger
	figures  *figures
	assets   *assets
	pages    *pages
	hub      *hub
	texts    map[string]string // of each variant, for a search by words
	waiting  *lru.Cache[string, upload]
	post     Post
	cache    *pageCache
	worths   *lru.Cache[string, []app.Worth] // what tests would change, by state of the database, client and day
	finder   *find.Index
	helps    map[string]helpOf
	takes    map[string]app.Right // what it takes to see a page, by its address
	setup    Setup
	sessions *scs.SessionManager
	tries    *tries
	used     *lru.Cache[string, struct{}] // one-time codes
	noticed  *lru.Cache[string, struct{}] // what the trail says of looking already
}

// New builds the handler of the whole site.
func New(s *app.Studio, log *slog.Logger, u Setup) (http.Handler, error) {
	a, err := newAssets()
	if err != nil {
		return nil, fmt.Errorf("reading the static files: %w", err)
	}
	if u.Figures == nil {
		u.Figures = NewFigures(s.Library)
		go u.Figures.warm()
	}
	w := &site{
		Studio:   s,
		log:      log,
		figures:  u.Figures.figures,
		assets:   a,
		hub:      newHub(),
		texts:    shelfText(s.Library.Families),
		waiting:  bounded[string, upload](mostWait),
		post:     u.Post,
		setup:    u,
		sessions: newSessions(u),
		tries:    newTries(),
		used:     bounded[string, struct{}](10000),
		noticed:  bounded[string, struct{}](20000),
		cache:    bounded[string, [][]byte](maxCachedPages),
		worths:   bounded[string, []app.Worth](maxCachedPages),
	}
	if w.finder, err = s.Finder(); err != nil {
		return nil, fmt.Errorf("what can be found: %w", err)
	}
	if w.helps, err = readHelp(); err != nil {
		return nil, err
	}
	if w.pages, err = newPages(w); err != nil {
		return nil, fmt.Errorf("reading the templates: %w", err)
	}

	gin.SetMode(gin.ReleaseMode)
	r := gin.New()
	r.HandleMethodNotAllowed = true
	if err := r.SetTrustedProxies(u.Proxies); err != nil {
		return nil, fmt.Errorf("the proxies: %w", err)
	}
	r.Use(func(c *gin.Context) { c.Set("site", w) }, guard(log, u))
	cross := http.NewCrossOriginProtection()
	r.Use(func(c *gin.Context) {
		if cross.Check(c.Request) != nil {
			fail(c, http.StatusForbidden, "This change was asked for from another site, so it was not made.")
		}
	})
	r.Use(plain)
	r.NoRoute(func(c *gin.Context) {
		if v, in, err := w.authenticate(c); err == nil && in && !v.Locked { // the menu and the look stay
			c.Set("visitor", v)
		}
		fail(c, http.StatusNotFound, "There is no such page. The address may be mistyped, or what it showed is gone.")
	})
	r.NoMethod(func(c *gin.Context) {
		fail(c, http.StatusMethodNotAllowed, "This address does not take that kind of request.")
	})
	w.takes = map[string]app.Right{}
	routes := w.routes()
	if err := checkDoors(routes); err != nil {
		return nil, fmt.Errorf("the routes: %w", err)
	}
	for _, x := range routes {
		if x.method == http.MethodGet {
			w.takes[x.path] = x.right
		}
		r.Handle(x.method, x.path, w.authorize(x), w.requireReadiness(x), x.do)
		if x.method == http.MethodGet {
			r.HEAD(x.path, w.authorize(x), w.requireReadiness(x), x.do)
		}
	}
	// Pages are compressed, with a little of chance in their length, so that it says nothing of
	// what is in them.
	zip, err := gzhttp.NewWrapper(
		gzhttp.MinSize(1000),
		gzhttp.CompressionLevel(8),
		gzhttp.RandomJitter(32, 0, false),
		gzhttp.ContentTypes(
			[]string{
				"text/html",
				"text/plain",
				"text/css",
				"text/javascript",
				"text/calendar",
				"text/csv",
				"image/svg+xml",
				"application/json",
				"application/fhir+json",
			},
		),
	)
	if err != nil {
		return nil, fmt.Errorf("compressing: %w", err)
	}
	return zip(r), nil
}

func (w *site) health(c *gin.Context) {
	if err := w.Store.Ping(c.Request.Context(), w.Now()); err != nil {
		w.log.Error("health", "cause", err)
		trouble := store.Trouble(err)
		if trouble == "" {
			trouble = "The database does not answer, or cannot be written to."
		}
		c.String(http.StatusServiceUnavailable, trouble)
		return
	}
	c.String(http.StatusOK, "ok")
}

// fail shows a friendly page for a status, or for htmx the sentence alone.
func fail(c *gin.Context, status int, sentence string) {
	c.Abort()
	w := c.MustGet("site").(*site)
	w.pages.render(c, status, "problem", problem{status, problemTitle(status), sentence, c.GetString("request")})
}

type problem struct {
	Status   int
	Title    string
	Sentence string
	Request  string
}

func problemTitle(status int) string {
	switch status {
	case http.StatusNotFound:
		return "Not here"
	case http.StatusForbidden:
		return "Not allowed"
	case http.StatusConflict:
		return "Changed in between"
	case http.StatusUnprocessableEntity, http.StatusBadRequest:
		return "Not taken"
	case http.StatusRequestEntityTooLarge:
		return "Too large"
	case http.StatusMethodNotAllowed:
		return "Not that way"
	}
	return "Something went wrong"
}

// refused maps an error of a user's action to a status and a sentence. What it
// does not know is the program's fault: the log has the cause.
func (w *site) refused(c *gin.Context, err error) {
	status, sentence := w.sentence(c, err)
	fail(c, status, sentence)
}

func (w *site) sentence(c *gin.Context, err error) (int, string) {
	var invalid *formats.Invalid
	var tooLarge *http.MaxBytesError
	var clash *app.Clash
	switch {
	case errors.As(err, &tooLarge):
		return http.StatusRequestEntityTooLarge, "What was sent is too large. Nothing was saved; expected at most 256 KB."
	case errors.As(err, &invalid):
		return http.StatusUnprocessableEntity, app.Capital(invalid.Error()) + "."
	case errors.As(err, &clash):
		return http.StatusConflict, app.Capital(clash.Error()) + ". Nothing was saved yet."
	case errors.Is(err, store.ErrNotFound):
		return http.StatusNotFound, "There is nothing at this address. It may have been mistyped, or what it showed is gone."
	case errors.Is(err, store.ErrOtherForm):
		return http.StatusConflict, "This form was saved before, with other answers. Nothing was saved now; open the client to change more."
	case errors.Is(err, store.ErrChanged):
		return http.StatusConflict, "This was changed in another window in the meantime. Nothing was saved; reload to see how it " +
			"stands now."
	case errors.Is(err, app.ErrTaught):
		return http.StatusConflict, app.Capital(err.Error()) + "."
	case errors.Is(err, app.ErrRefer):
		return http.StatusUnprocessableEntity, app.Capital(err.Error())
	}
	if c.Request.Context().Err() != nil {
		return 499, "The page was left before it was there." // nobody reads it
	}
	w.log.Error("failed", "request", c.GetString("request"), "path", c.FullPath(), "cause", err)
	if trouble := store.Trouble(err); trouble != "" {
		return http.StatusServiceUnavailable, trouble
	}
	return http.StatusInternalServerError, "Something went wrong in the program. Nothing of this step was saved; what you saved " +
		"before is safe."
}
