package web

import (
	"fmt"
	"net/http"
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/formats"
)

// Settings: how one person sees the pages, and what holds for the whole studio.

func (w *site) settings(c *gin.Context) {
	w.showSettings(c, http.StatusOK, w.House(c.Request.Context()), "")
}

func (w *site) showSettings(c *gin.Context, status int, h app.House, refusal string) {
	type day struct {
		N    int
		Name string
		Open bool
	}
	var days []day
	for n := 1; n <= 7; n++ { // Monday first
		d := time.Weekday(n % 7)
		days = append(days, day{n % 7, d.String(), len(h.Days) == 0 || slices.Contains(h.Days, d)})
	}
	type piece struct {
		Name  string
		There bool
	}
	var room []piece
	for _, e := range exercise.Equipment {
		room = append(room, piece{e, slices.Contains(h.Room, e)})
	}
	w.pages.render(c,
		status,
		"settings",
		gin.H{
			"Look":       visitorOf(c).Look,
			"House":      h,
			"Days":       days,
			"Refusal":    refusal,
			"Saved":      c.Query("saved"),
			"Equipment":  room,
			"Places":     exercise.Places,
			"Approaches": exercise.Approaches,
			"Keeps":      visitorOf(c).Keeps(),
			"Sees":       visitorOf(c).Sees(),
		},
	)
}

// setLook stores how the person who asks sees the pages.
func (w *site) setLook(c *gin.Context) {
	err := w.SetLook(
		c.Request.Context(),
		visitorOf(c).ID,
		app.Look{
			Scheme:  c.PostForm("scheme"),
			Text:    c.PostForm("text"),
			Units:   app.Units(c.PostForm("units")),
			Cues:    c.PostForm("cues"),
			Letters: c.PostForm("letters"),
		},
	)
	w.settingsSaved(c, w.House(c.Request.Context()), err)
}

// setHouse keeps what holds for the studio, all of it or nothing.
func (w *site) setHouse(c *gin.Context) {
	h := app.House{Name: c.PostForm("name"), From: c.PostForm("opens"), To: c.PostForm("closes"),
		Emergency: c.PostForm("emergency"), Zone: c.PostForm("zone"), Room: form(c)["room"],
		Place: exercise.Place(c.PostForm("place")), Approach: exercise.Approach(c.PostForm("approach"))}
	var err error
	for _, d := range form(c)["days"] {
		n, ok := readNumber(d)
		if !ok || n < 0 || n > 6 || n != float64(int(n)) {
			err = &formats.Invalid{Path: "days", Want: fmt.Sprintf("expected days of the week, found %q", d)}
		}
		h.Days = append(h.Days, time.Weekday(int(n)))
	}
	minutes, ok := readNumber(c.PostForm("minutes"))
	if !ok || minutes != float64(int(minutes)) {
		err = &formats.Invalid{Path: "minutes", Want: fmt.Sprintf("expected 5 to 120, found %q", c.PostForm("minutes"))}
	}
	if h.Minutes = int(minutes); err == nil {
		err = w.SetHouse(c.Request.Context(), h)
	}
	w.settingsSaved(c, h, err)
}

func (w *site) settingsSaved(c *gin.Context, h app.House, err error) {
	if err != nil {
		status, sentence := w.sentence(c, err)
		if status != http.StatusUnprocessableEntity {
			w.refused(c, err)
			return
		}
		w.showSettings(c, status, h, sentence+" Nothing was saved.")
		return
	}
	c.Redirect(http.StatusSeeOther, "/settings?saved=yes")
}
