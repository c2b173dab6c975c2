package web

import (
	"fmt"
	"html/template"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/core/limit"
	"restbend/draw"
	"restbend/formats"
	"restbend/store"
)

// The maps of a back that are filled in by tapping: the pelvic clock and the curves.

// clockHour is one hour of the clock as a button.
type clockHour struct {
	Hour, Level int
	Words       string // what it is now
}

// clockView is the pelvic clock of a client, today's and earlier ones.
type clockView struct {
	Client  store.Client
	Drawing template.HTML
	Hours   []clockHour
	Today   bool // something was tapped today
	Said    string
}

var clockWords = []string{"smooth", "hesitant", "jerky"}

// clockOf shows the client's clock: today's, or a smooth one to begin with, over
// what went before.
func (w *site) clockOf(k store.Client) clockView {
	today := w.Today().String()
	v := clockView{Client: k}
	var now draw.ClockFace
	var earlier []draw.ClockFace
	for _, c := range k.Client.Clock {
		var face draw.ClockFace
		copy(face[:], c.Hours)
		if c.On == today {
			now, v.Today = face, true
			continue
		}
		earlier = append(earlier, face)
	}
	var rough []string
	for i := range now {
		hour := (i+11)%12 + 1
		v.Hours = append(v.Hours, clockHour{hour, now[i], clockWords[now[i]]})
		if now[i] > 0 {
			rough = append(rough, fmt.Sprintf("%s at %d", clockWords[now[i]], hour))
		}
	}
	switch {
	case len(rough) > 0:
		v.Said = "Today " + strings.Join(rough, ", ") + "."
	case v.Today:
		v.Said = "Smooth all round today."
	case len(earlier) > 0:
		v.Said = "Not looked at today; the fainter rings are earlier days."
	default:
		v.Said = "Not looked at yet."
	}
	v.Drawing = template.HTML(draw.SVGClock(now, earlier, "Pelvic clock. "+v.Said, draw.Light))
	return v
}

// tapClock makes one hour of today's clock rougher, and from jerky smooth again.
func (w *site) tapClock(c *gin.Context) {
	hour, err := strconv.Atoi(c.PostForm("hour"))
	if err != nil {
		err = &formats.Invalid{Path: "hour", Want: fmt.Sprintf("expected 1 to 12, found %q", c.PostForm("hour"))}
	} else {
		err = w.TapClock(c.Request.Context(), c.Param("id"), hour)
	}
	w.backChanged(c, "clock", err)
}

// clearClock takes today's clock back.
func (w *site) clearClock(c *gin.Context) {
	w.backChanged(c, "clock", w.ClearClock(c.Request.Context(), c.Param("id")))
}

// curveView is the map of the curves with a place to tap for each.
type curveView struct {
	Client  store.Client
	Drawing template.HTML
	Spots   []curveSpot
}

// curveSpot is a place on the map: tapping it sets a curve to that side, or takes it
// away when it is there.
type curveSpot struct {
	Region, Side, Words string
	On                  bool
}

// curvesView is the map for a client with a curve of the spine.
func curvesView(k store.Client) *curveView {
	i := slices.IndexFunc(k.Client.Conditions, func(x limit.Condition) bool { return x.ID == "scoliosis" })
	if i < 0 {
		return nil
	}
	v := &curveView{Client: k, Drawing: template.HTML(draw.SVGBack(curvesOf(k.Client), draw.Light))}
	for _, region := range []string{"thoracic", "lumbar"} {
		for _, side := range []string{"left", "right"} {
			on := slices.ContainsFunc(
				k.Client.Conditions[i].Curves("curves"),
				func(c limit.Curve) bool { return c.Region == region && c.Convex == side },
			)
			words := map[string]string{"thoracic": "upper", "lumbar": "low"}[region] + " back bulges to the " + side
			v.Spots = append(v.Spots, curveSpot{region, side, words, on})
		}
	}
	return v
}

// tapCurve sets a curve to a side, or takes it away.
func (w *site) tapCurve(c *gin.Context) {
	region, side, _ := strings.Cut(c.PostForm("curve"), "-")
	w.backChanged(c, "curves", w.TapCurve(c.Request.Context(), c.Param("id"), region, side))
}

// backChanged answers a tap with the new map, or for a plain form with the page it
// stands on.
func (w *site) backChanged(c *gin.Context, shows string, err error) {
	if err != nil {
		w.refused(c, err)
		return
	}
	id := c.Param("id")
	if c.GetHeader("HX-Request") != "true" {
		to := map[string]string{"clock": "/screens#clock", "curves": ""}[shows]
		c.Redirect(http.StatusSeeOther, "/clients/"+id+to)
		return
	}
	row, err := w.Store.Client(c.Request.Context(), id)
	if err != nil {
		w.refused(c, err)
		return
	}
	if shows == "clock" {
		w.pages.render(c, http.StatusOK, "clock", w.clockOf(row))
		return
	}
	w.pages.render(c, http.StatusOK, "curves", curvesView(row))
}
