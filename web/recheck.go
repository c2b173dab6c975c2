package web

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/formats"
	"restbend/store"
)

// recheck opens a visit: the warning signs again, briefly, and pain today.
type recheck struct {
	Row     store.Plan
	Client  store.Client
	Pain    string
	Refusal string
	// Pressure is asked of whoever has raised blood pressure.
	AskPressure bool
	Pressure    string
}

func (w *site) recheck(c *gin.Context) {
	row, client, ok := w.planAndClient(c)
	if !ok {
		return
	}
	w.showRecheck(c, http.StatusOK, recheck{Row: row, Client: client, Pain: strconv.Itoa(row.Plan.PainNow), AskPressure: app.AsksPressure(client.Client)})
}

func (w *site) showRecheck(c *gin.Context, status int, r recheck) {
	w.pages.render(c, status, "recheck", gin.H{"Check": r, "Flags": flagBoxes(c.PostFormArray("red_flags"))})
}

// keepRecheck keeps what was answered. A warning sign stops the session; another
// pain than the plan was made for plans it anew, to be looked over.
func (w *site) keepRecheck(c *gin.Context) {
	row, client, ok := w.planAndClient(c)
	if !ok {
		return
	}
	typed, pressure := strings.TrimSpace(c.PostForm("pain")), strings.TrimSpace(c.PostForm("pressure"))
	asks := app.AsksPressure(client.Client)
	pain, err := strconv.Atoi(typed)
	if err != nil || pain < 0 || pain > 10 {
		w.showRecheck(c, http.StatusUnprocessableEntity, recheck{row, client, typed, fmt.Sprintf("Pain now: expected a whole number from 0 to 10, found %q. Nothing was saved yet.", typed), asks, pressure})
		return
	}
	v := app.Visit{RedFlags: c.PostFormArray("red_flags"), Pain: pain}
	if asks {
		v.Pressure = &pressure
	}
	then, err := w.once(c, func(ctx context.Context) (string, error) { return w.StartVisit(ctx, row.ID, v) })
	var invalid *formats.Invalid
	switch {
	case errors.As(err, &invalid):
		w.showRecheck(c, http.StatusUnprocessableEntity, recheck{row, client, typed, app.Capital(invalid.Error()) + ". Nothing was saved yet.", asks, pressure})
	case err != nil:
		w.refused(c, err)
	case then == app.SendOn:
		c.Redirect(http.StatusSeeOther, "/clients/"+client.ID)
	case then == app.PlannedAnew:
		c.Redirect(http.StatusSeeOther, "/plans/"+row.ID)
	default:
		c.Redirect(http.StatusSeeOther, "/plans/"+row.ID+"/teach")
	}
}

// addClearance loosens one rule on a clinician's word; removeClearance takes that back.
func (w *site) addClearance(c *gin.Context) {
	w.changeClearances(c, w.onceOnly(c, func(ctx context.Context) error {
		return w.Loosen(ctx, c.Param("id"), limit.Clearance{Rule: c.PostForm("rule"), By: strings.TrimSpace(c.PostForm("by")), On: c.PostForm("on"),
			Note: strings.TrimSpace(c.PostForm("note"))})
	}))
}

func (w *site) removeClearance(c *gin.Context) {
	w.changeClearances(c, w.onceOnly(c, func(ctx context.Context) error { return w.Tighten(ctx, c.Param("id"), c.PostForm("rule")) }))
}

// addInstruction adds a clinician's own figure; removeInstruction takes one back.
func (w *site) addInstruction(c *gin.Context) {
	most, ok := readNumber(strings.TrimSpace(c.PostForm("max")))
	if !ok {
		w.changeClearances(c, &formats.Invalid{Path: "at most", Want: fmt.Sprintf("expected a figure, found %q", c.PostForm("max"))})
		return
	}
	if q, _ := exercise.Split(c.PostForm("quantity")); q != nil && q.Unit == exercise.Share {
		most /= 100 // asked for in percent
	}
	w.changeClearances(c, w.onceOnly(c, func(ctx context.Context) error {
		return w.Instruct(ctx, c.Param("id"), limit.Instruction{Quantity: c.PostForm("quantity"), Max: most, By: strings.TrimSpace(c.PostForm("by")), On: c.PostForm("on")})
	}))
}

func (w *site) removeInstruction(c *gin.Context) {
	n, err := strconv.Atoi(c.PostForm("n"))
	if err != nil {
		n = -1
	}
	w.changeClearances(c, w.onceOnly(c, func(ctx context.Context) error { return w.TakeBackInstruction(ctx, c.Param("id"), n) }))
}

func (w *site) changeClearances(c *gin.Context, err error) {
	if err == nil {
		c.Redirect(http.StatusSeeOther, "/clients/"+c.Param("id")+"#limits")
		return
	}
	status, sentence := w.sentence(c, err)
	if status != http.StatusUnprocessableEntity {
		fail(c, status, sentence)
		return
	}
	row, err := w.Store.Client(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	w.showClient(c, status, row, sentence+" Nothing was changed.", nil)
}
