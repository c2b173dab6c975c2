package web

import (
	"context"
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/formats"
)

// A clinician's word on one client: rules loosened, figures of their own.

// addClearance loosens one rule on a clinician's word; removeClearance takes that back.
func (w *site) addClearance(c *gin.Context) {
	w.changeClearances(c, w.idempotentOnly(c, func(ctx context.Context) error {
		return w.Loosen(ctx, c.Param("id"), limit.Clearance{Rule: c.PostForm("rule"), By: strings.TrimSpace(c.PostForm("by")),
			On:   c.PostForm("on"),
			Note: strings.TrimSpace(c.PostForm("note"))})
	}))
}

func (w *site) removeClearance(c *gin.Context) {
	w.changeClearances(c,
		w.idempotentOnly(c, func(ctx context.Context) error { return w.Tighten(ctx, c.Param("id"), c.PostForm("rule")) }),
	)
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
	w.changeClearances(c, w.idempotentOnly(c, func(ctx context.Context) error {
		return w.Instruct(ctx, c.Param("id"), limit.Instruction{Quantity: c.PostForm("quantity"), Max: most,
			By: strings.TrimSpace(c.PostForm("by")), On: c.PostForm("on")})
	}))
}

func (w *site) removeInstruction(c *gin.Context) {
	n, err := strconv.Atoi(c.PostForm("n"))
	if err != nil {
		n = -1
	}
	w.changeClearances(c, w.idempotentOnly(c, func(ctx context.Context) error { return w.TakeBackInstruction(ctx, c.Param("id"), n) }))
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
