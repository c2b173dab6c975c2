package web

import (
	"html/template"
	"net/http"

	"github.com/gin-gonic/gin"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/draw"
)

// promises are the limits on the bending of back and neck, and what is allowed only with
// something, in sentences: what a client can read, without the figures of the engine.
func promises(set limit.Set) []limitLine {
	return linesOf(func(yield func(limit.Limit) bool) {
		for l := range set.Rows() {
			q, _ := exercise.Split(l.Quantity)
			if _, number := l.Number(); (number && q != nil && q.Unit == exercise.Degrees || len(l.Needs) > 0) && !yield(l) {
				return
			}
		}
	})
}

// print shows the session on paper.
func (w *site) print(c *gin.Context) {
	row, client, r, ok := w.planAndRequest(c)
	if !ok {
		return
	}
	type sheetItem struct {
		plan.Item
		Number      int
		Start, Then Figure
	}
	var items []sheetItem
	for i, it := range row.Plan.Items {
		items = append(items, sheetItem{it, i + 1,
			w.figures.get(want{variant: it.Variant, pose: "start", theme: draw.Light}), w.figures.get(w.figures.item(it))})
	}
	rose := roseOf(r.Limits, exercise.Measured{}, limit.Client{})
	w.pages.render(c, http.StatusOK, "print", gin.H{"Row": row, "Client": client, "Items": items, "Caution": w.Library.Book.Words(row.Client),
		"Limits": promises(r.Limits), "NotNow": notNow(r.Limits), "Rose": template.HTML(draw.SVGRose(rose.Rose, 150, "#FFFFFF", draw.Light, rose.text())),
		"Cautions": w.cautions(w.Limits(client.Client, w.Today()), true), "Ribbon": w.ribbon(row, -1, 1100, false)})
}
