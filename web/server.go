// Package web shows Rest Bend in the browser: server-rendered pages, htmx for
// what answers at once, and drawings as images.
package web

import (
	"errors"
	"fmt"
	"log/slog"
	"net/http"

	"github.com/gin-gonic/gin"
	lru "github.com/hashicorp/golang-lru/v2"

	"restbend/app"
	"restbend/formats"
	"restbend/store"
)

// site is the running web application.
type site struct {
	*app.Studio
	log     *slog.Logger
	figures *figures
	assets  *assets
	pages   *pages
	hub     *hub
	texts   map[string]string // of each variant, for a search by words
	waiting *lru.Cache[string, upload]
	post    Post
	keeping *keptPages
}

// New builds the handler of the whole site.
func New(s *app.Studio, log *slog.Logger, letters Post) (http.Handler, error) {
	a, err := newAssets()
	if err != nil {
		return nil, fmt.Errorf("reading the static files: %w", err)
	}
	w := &site{Studio: s, log: log, figures: newFigures(s.Library), assets: a, hub: newHub(), texts: shelfText(s.Library.Families), waiting: bounded[string, upload](mostWait), post: letters, keeping: bounded[string, [][]byte](mostKept)}
	if w.pages, err = newPages(w); err != nil {
		return nil, fmt.Errorf("reading the templates: %w", err)
	}
	go w.figures.warm()

	gin.SetMode(gin.ReleaseMode)
	r := gin.New()
	r.HandleMethodNotAllowed = true
	r.ContextWithFallback = true // a query stops when its reader has left
	r.Use(func(c *gin.Context) { c.Set("site", w) }, guard(log))
	cross := http.NewCrossOriginProtection()
	r.Use(func(c *gin.Context) {
		if cross.Check(c.Request) != nil {
			fail(c, http.StatusForbidden, "This change was asked for from another site, so it was not made.")
		}
	})
	r.Use(plain)
	r.NoRoute(func(c *gin.Context) {
		fail(c, http.StatusNotFound, "There is no such page. The address may be mistyped, or what it showed is gone.")
	})
	r.NoMethod(func(c *gin.Context) {
		fail(c, http.StatusMethodNotAllowed, "This address does not take that kind of request.")
	})
	r.GET("/healthz", w.health)
	r.GET("/static/:hash/*path", a.serve)
	r.GET("/figures/:name", w.figures.serve)
	r.GET("/", w.today)
	r.GET("/clients", w.lasting(w.clients))
	r.GET("/clients/new", w.newClient)
	r.POST("/clients", w.addClient)
	r.GET("/intakes/:id", w.resumeIntake)
	r.POST("/intakes/:id/keep", w.keepIntake)
	r.POST("/intakes/:id/undo", w.undoIntake)
	r.POST("/intakes/:id/drop", w.dropIntake)
	r.GET("/clients/:id", w.lasting(w.client))
	r.GET("/clients/:id/edit", w.editClient)
	r.POST("/clients/:id/away", w.clientAway)
	r.POST("/clients/:id", w.changeClient)
	r.GET("/clients/:id/screens", w.screens)
	r.POST("/clients/:id/screens", w.addScreens)
	r.POST("/clients/:id/screens/take-back", w.takeBackScreen)
	r.GET("/clients/:id/rungs/:variant", w.rung)
	r.POST("/clients/:id/rungs/:variant", w.addRung)
	r.GET("/plans/:id/session.pdf", w.printPDF)
	r.GET("/plans/:id/ribbon.svg", w.ribbonSVG)
	r.GET("/clients/:id/report.pdf", w.reportPDF)
	r.GET("/homes/:id/mail", w.mail)
	r.POST("/homes/:id/mail", w.sendMail)
	r.GET("/outbox", w.outbox)
	r.GET("/outbox/:name", w.letter)
	r.GET("/exchange", w.exchange)
	r.POST(uploads, w.addUpload)
	r.POST("/exchange/take", w.takeIn)
	r.POST("/exchange/take-back", w.takeBackIn)
	r.GET("/exchange/out/:what", w.exportStudio)
	r.GET("/clients/:id/out/:what", w.exportClient)
	r.GET("/plans/:id/session.vtt", w.track)
	r.POST("/clients/:id/homes", w.addHome)
	r.GET("/homes/:id", w.home)
	r.POST("/homes/:id/edit", w.editHome)
	r.POST("/homes/:id/undo", w.undoHome)
	r.POST("/homes/:id/away", w.homeAway)
	r.GET("/homes/:id/sheet.pdf", w.homeSheet)
	r.GET("/homes/:id/at-home.html", w.homeFile)
	r.GET("/homes/:id/diary", w.diary)
	r.POST("/homes/:id/diary", w.takeDiary)
	r.POST("/clients/:id/clock", w.tapClock)
	r.POST("/clients/:id/clock/clear", w.clearClock)
	r.POST("/clients/:id/curves", w.tapCurve)
	r.GET("/clients/:id/limits", w.limitsSheet)
	r.GET("/clients/:id/report", w.report)
	r.GET("/clients/:id/trends/:name", w.trend)
	r.POST("/clients/:id/plans", w.addPlan)
	r.GET("/plans/:id", w.lasting(w.plan))
	r.POST("/plans/:id/away", w.planAway)
	r.POST("/plans/:id/change", w.changePlan)
	r.POST("/plans/:id/edit", w.editPlan)
	r.POST("/plans/:id/undo", w.undo)
	r.POST("/plans/:id/redo", w.redo)
	r.POST("/plans/:id/schedule", w.schedule)
	r.POST("/plans/:id/template", w.saveTemplate)
	r.GET("/plans/:id/possible", w.possible)
	r.GET("/plans/:id/beside", w.beside)
	r.GET("/plans/:id/print", w.print)
	r.GET("/plans/:id/check", w.recheck)
	r.POST("/plans/:id/check", w.keepRecheck)
	r.POST("/clients/:id/clearances", w.addClearance)
	r.POST("/clients/:id/clearances/remove", w.removeClearance)
	r.POST("/clients/:id/instructions", w.addInstruction)
	r.POST("/clients/:id/instructions/remove", w.removeInstruction)
	r.GET("/plans/:id/teach", w.teach)
	r.GET("/plans/:id/film/:item", w.film)
	r.GET("/plans/:id/wrap-up", w.wrapUp)
	r.GET("/plans/:id/lesson", w.lessonNow)
	r.POST("/plans/:id/within", w.within)
	r.GET("/plans/:id/marks", w.marks)
	r.POST("/plans/:id/marks", w.addMarks)
	r.POST("/plans/:id/series", w.addSeries)
	r.POST("/plans/:id/warning", w.warn)
	r.GET("/plans/:id/follow", w.follow)
	r.POST("/plans/:id/stands", w.stands)
	r.POST("/plans/:id/order", w.order)
	r.GET("/plans/:id/screen", w.secondScreen)
	r.GET("/plans/:id/remote", w.remote)
	r.GET("/plans/:id/record", w.recordNow)
	r.GET("/worker.js", w.worker)
	r.POST("/plans/:id/record", w.addRecord)
	r.POST("/templates/:id/forget", w.forgetTemplate)
	r.POST("/templates/:id/keep", w.keepTemplate)
	r.GET("/clients/:id/weeks", w.weeks)
	r.POST("/clients/:id/weeks", w.keepWeeks)
	r.POST("/clients/:id/weeks/undo", w.undoWeeks)
	r.GET("/clients/:id/weeks.ics", w.weeksCalendar)
	r.GET("/calendar", w.calendar)
	r.POST("/calendar/move", w.moveBooking)
	r.GET("/classes", w.classes)
	r.POST("/classes", w.addClass)
	r.GET("/classes/:id", w.lasting(w.class))
	r.POST("/classes/:id", w.changeClass)
	r.POST("/classes/:id/away", w.classAway)
	r.GET("/classes/:id/wall", w.classWall)
	r.GET("/classes/:id/grouping", w.grouping)
	r.GET("/classes/:id/teach", w.teachClass)
	r.POST("/classes/:id/rest", w.restOfClass)
	r.POST("/classes/:id/records", w.finishClass)
	r.GET("/library", w.lasting(w.shelf))
	r.GET("/library/:variant", w.lasting(w.exercise))
	r.GET("/library/:variant/film", w.exerciseFilm)
	r.GET("/lever", w.lever)
	r.POST("/clients/:id/surfaces", w.addSurface)
	r.GET("/records", w.records)
	r.GET("/records/:id", w.record)
	r.POST("/records/:id/follow-up", w.followUp)
	r.POST("/records/:id/asked", w.quickFollowUp)
	r.POST("/clients/:id/overrule", w.overrule)
	r.POST("/clients/:id/seen", w.seen)
	r.GET("/records/:id/correct", w.correctForm)
	r.POST("/records/:id/correct", w.correct)
	r.POST("/records/:id/notes", w.addNote)
	return r, nil
}

func (w *site) health(c *gin.Context) {
	if err := w.Store.Ping(c, w.Now()); err != nil {
		w.log.Error("health", "cause", err)
		c.String(http.StatusServiceUnavailable, "the database does not answer, or cannot be written to")
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
		return http.StatusConflict, "This was changed in another window in the meantime. Nothing was saved; reload to see how it stands now."
	case errors.Is(err, app.ErrTaught):
		return http.StatusConflict, app.Capital(err.Error()) + "."
	case errors.Is(err, app.ErrRefer):
		return http.StatusUnprocessableEntity, app.Capital(err.Error())
	}
	w.log.Error("failed", "request", c.GetString("request"), "path", c.Request.URL.Path, "cause", err)
	return http.StatusInternalServerError, "Something went wrong in the program. Nothing of this step was saved; what you saved before is safe."
}
