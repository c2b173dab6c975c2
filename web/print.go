package web

import (
	"encoding/base64"
	"net/http"
	"regexp"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/draw"
	"restbend/handout"
)

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
	all := visitorOf(c).Look.Shown(row.Plan).Items
	once := handout.OnceEach(all)
	for i, it := range all {
		it.Cues = once[i]
		line := sheetItem{Item: it, Number: i + 1, Then: w.figures.get(w.figures.item(it))}
		if v := w.Library.Variant(it.Variant); v != nil &&
			v.FormAt(it.SurfaceShare, it.Adaptations).Moves(handout.SeenMoving) { // else one picture says it
			line.Start = w.figures.get(want{variant: it.Variant, pose: "start", theme: draw.Light})
		}
		items = append(items, line)
	}
	w.pages.render(c,
		http.StatusOK,
		"print",
		gin.H{"Row": row, "Client": client, "Items": items, "Caution": w.Library.Conditions.Words(row.Client),
			"Promises": app.Promises(r.Limits.Limits), "NotNow": app.NotNow(r.Limits.Limits), "Reach": reachOf(r.Limits.Limits,
				exercise.Measured{}, limit.Client{}).Small(),
			"Cautions": w.cautions(r.Limits, true), "Ribbon": w.ribbon(row, -1, 1100, false)},
	)
}

// printPDF is the session on paper as PDF.
func (w *site) printPDF(c *gin.Context) {
	row, client, r, ok := w.planAndRequest(c)
	if !ok {
		return
	}
	var away []string
	for _, p := range app.NotNow(r.Limits.Limits) {
		away = append(away, p.Text+".")
	}
	for _, part := range app.Promises(r.Limits.Limits) {
		away = append(away, part.Said())
	}
	h := handout.Heading{
		Client: client.Client.Name,
		Studio: w.Store.Setting(c.Request.Context(), "studio"),
		On:     strings.TrimSpace(longDate(row.On) + " " + row.At),
		Units:  visitorOf(c).Look.Units,
	}
	s, err := handout.Lesson(visitorOf(c).Look.Shown(row.Plan), h,
		[]handout.Section{{Title: "Keep away from", Lines: away},
			{Title: "When to stop, and when to call", Lines: []string{app.WhenToStop, w.call()}}}, w.Library,
		handout.Options{Size: c.Query("size"), Font: SheetFont()})
	w.sheet(c, s, err, "session.pdf")
}

// ribbonSVG is the ribbon of a session as a drawing of its own.
func (w *site) ribbonSVG(c *gin.Context) {
	row, _, _, ok := w.planAndRequest(c)
	if !ok {
		return
	}
	svg := imageLinks.ReplaceAllStringFunc(string(w.ribbon(row, -1, 1100, false)), func(link string) string {
		name := imageLinks.FindStringSubmatch(link)[2]
		drawing, there := w.figures.byHash.Get(nameOf(strings.TrimPrefix(name, figurePath)))
		if !there {
			return link
		}
		return imageLinks.FindStringSubmatch(link)[1] + "data:image/svg+xml;base64," + base64.StdEncoding.EncodeToString(drawing) + `"`
	})
	c.Header("Content-Disposition", `attachment; filename="ribbon.svg"`)
	c.Data(http.StatusOK, "image/svg+xml", []byte(svg))
}

// imageLinks are the pictures that a drawing refers to.
var imageLinks = regexp.MustCompile(`(href=")(/figures/[0-9a-f]+\.svg)"`)
