package web

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"restbend/core/civil"
	"restbend/core/home"
	"restbend/formats"
	"restbend/store"
)

// The calendar: weeks with lessons, classes, home days and whom to ask.

// calendarWeeks is how many weeks are shown.
const calendarWeeks = 4

type calendarPage struct {
	Weeks         [][]calendarDay
	Title         string
	Before, After string // the first day of the pages beside this one
	Refusal       string
	Moved         *calendarEntry // what was just moved
	Back          string         // and the day it comes from
	From          string
}

type calendarDay struct {
	On, Words   string
	Today, Past bool
	Closed      bool // nothing is usually taught then
	Entries     []calendarEntry
	Clash       string
	Homes       []calendarEntry
	Ask         []calendarEntry
}

type calendarEntry struct {
	What, ID, Words, Link, Class string
	On, At                       string
	Client, Name                 string // whose plan it is
	Minutes                      int
	Before, After                string // days beside it, where it may be moved
	May                          bool
	Odd                          string // why it is at an odd time
}

func (w *site) calendar(c *gin.Context) {
	w.showCalendar(c, http.StatusOK, c.Query("from"), "", w.movedThere(c), c.Query("was"))
}

// movedThere is what a move that was just made has moved, so that it can be taken back.
func (w *site) movedThere(c *gin.Context) *calendarEntry {
	e := calendarEntry{What: c.Query("moved"), ID: c.Query("id")}
	switch e.What {
	case "plan":
		row, err := w.Store.Plan(c.Request.Context(), e.ID)
		if err != nil {
			return nil
		}
		e.Words, e.On = row.Client.Name, row.On
	case "class":
		k, err := w.Store.Class(c.Request.Context(), e.ID)
		if err != nil {
			return nil
		}
		e.Words, e.On = k.Name, k.On
	}
	if e.On == "" || c.Query("was") == "" || e.On == c.Query("was") {
		return nil
	}
	return &e
}

func (w *site) showCalendar(c *gin.Context, status int, from, refusal string, moved *calendarEntry, back string) {
	today := w.Today()
	start := today
	if d, err := civil.Parse(from); err == nil && d.Year() >= 2000 && d.Year() < 2100 {
		start = d
	}
	start = start.AddDate(0, 0, -(int(start.Weekday())+6)%7)
	end := start.AddDate(0, 0, 7*calendarWeeks-1)
	p := calendarPage{Title: start.Format("2 January") + " to " + end.Format("2 January 2006"), Refusal: refusal, Moved: moved,
		Back: back, From: start.String(),
		Before: start.AddDate(0, 0, -7*calendarWeeks).String(), After: end.AddDate(0, 0, 1).String()}
	bookings, err := w.Store.Bookings(c.Request.Context(), start.String(), end.String())
	if err != nil {
		w.refused(c, err)
		return
	}
	classes, err := w.Store.Classes(c.Request.Context(), start.String(), end.String())
	if err != nil {
		w.refused(c, err)
		return
	}
	homes, err := w.Store.HomesOpen(c.Request.Context())
	if err != nil {
		w.refused(c, err)
		return
	}
	open, err := w.ToFollowUp(c.Request.Context(), mostAsked)
	if err != nil {
		w.refused(c, err)
		return
	}
	house := w.House(c.Request.Context())
	for n := range calendarWeeks {
		var week []calendarDay
		for d := range 7 {
			on := start.AddDate(0, 0, 7*n+d)
			day := calendarDay{On: on.String(), Words: on.Format("Mon 2 Jan"), Today: on == today, Past: on.Before(today)}
			day.fill(bookings, classes)
			day.Closed = house.Closed(on, "") != ""
			for i, e := range day.Entries {
				if why := house.Closed(on, e.At); why != "" && e.May {
					day.Entries[i].Odd = why
				}
			}
			day.atHome(homes, on)
			if day.Today {
				for _, r := range open {
					day.Ask = append(day.Ask,
						calendarEntry{
							Words: "ask " + firstName(r.Name) + " how it settled",
							Link:  "/records/" + r.RecordID + "#follow-up",
							Class: "is-ask",
						},
					)
				}
			}
			week = append(week, day)
		}
		p.Weeks = append(p.Weeks, week)
	}
	w.pages.render(c, status, "calendar", p)
}

// fill puts lessons and classes into a day, and says what clashes.
func (d *calendarDay) fill(bookings []store.Booking, classes []store.Class) {
	add := func(e calendarEntry, taught bool) {
		if e.May = !taught; taught {
			e.Class += " is-taught"
		}
		if on, err := civil.Parse(e.On); err == nil {
			e.Before, e.After = on.AddDate(0, 0, -1).String(), on.AddDate(0, 0, 1).String()
		}
		if e.At != "" {
			e.Words = e.At + " " + e.Words
		}
		d.Entries = append(d.Entries, e)
	}
	for _, k := range classes {
		if k.On == d.On {
			add(
				calendarEntry{
					What:    "class",
					ID:      k.ID,
					Words:   k.Name,
					Link:    classLink(k.ID),
					Class:   "is-class",
					On:      k.On,
					At:      k.At,
					Minutes: k.Class.MinutesAsked,
				},
				k.Taught(),
			)
		}
	}
	for _, b := range bookings {
		if b.On != d.On || b.ClassID != "" {
			continue
		}
		link := "/plans/" + b.PlanID
		if b.RecordID != "" {
			link = "/records/" + b.RecordID
		}
		add(
			calendarEntry{
				What:    "plan",
				ID:      b.PlanID,
				Client:  b.ClientID,
				Name:    firstName(b.Name),
				Words:   firstName(b.Name),
				Link:    link,
				On:      b.On,
				At:      b.At,
				Minutes: b.Minutes,
			},
			b.Taught,
		)
	}
	slices.SortStableFunc(d.Entries, func(a, b calendarEntry) int {
		switch {
		case a.At == b.At:
			return 0
		case a.At == "" || b.At != "" && a.At > b.At:
			return 1
		}
		return -1
	})
	for i, a := range d.Entries {
		for _, b := range d.Entries[:i] {
			if overlap(a, b) && a.May && b.May {
				d.Clash = fmt.Sprintf("%s and %s at once", b.Words, a.Words)
			} else if d.Clash == "" && a.Client != "" && a.Client == b.Client && a.May && b.May {
				d.Clash = a.Name + " comes twice"
			}
		}
	}
}

// overlap says whether two entries take place at once, as far as their times are known.
func overlap(a, b calendarEntry) bool {
	x, err := time.Parse("15:04", a.At)
	y, err2 := time.Parse("15:04", b.At)
	if err != nil || err2 != nil {
		return false
	}
	return x.Before(y.Add(time.Duration(b.Minutes)*time.Minute)) && y.Before(x.Add(time.Duration(a.Minutes)*time.Minute))
}

// atHome puts the home days of clients into a day: as long as a programme runs.
func (d *calendarDay) atHome(homes []store.AtHome, on civil.Day) {
	weekday := home.Days[(int(on.Weekday())+6)%7]
	latest := map[string]bool{}
	for i := len(homes) - 1; i >= 0; i-- { // the newest of each client
		h := homes[i]
		if latest[h.ClientID] {
			continue
		}
		latest[h.ClientID] = true
		if d.On < h.On || d.On > h.Programme.AskAgainOn {
			continue
		}
		if slices.ContainsFunc(h.Programme.Items, func(it home.Item) bool { return slices.Contains(it.Days, weekday) }) {
			d.Homes = append(d.Homes, calendarEntry{Words: firstName(h.Name) + " at home", Link: homeLink(h.ID), Class: "is-home"})
		}
	}
}

// moveBooking gives a lesson or class another day, and keeps its time.
func (w *site) moveBooking(c *gin.Context) {
	what, id, on := c.PostForm("what"), c.PostForm("id"), c.PostForm("on")
	back := ""
	err := w.idempotentOnly(c, func(ctx context.Context) error {
		if on == "" {
			return &formats.Invalid{Path: "day", Want: "is missing; expected the day to move it to"}
		}
		switch what {
		case "plan":
			row, err := w.Store.Plan(ctx, id)
			if err != nil {
				return err
			}
			back = row.On
			return w.Schedule(ctx, id, on, row.At)
		case "class":
			k, err := w.Store.Class(ctx, id)
			if err != nil {
				return err
			}
			back = k.On
			return w.ScheduleClass(ctx, id, on, k.At)
		}
		return &formats.Invalid{Path: "what", Want: fmt.Sprintf("%q cannot be moved; expected plan or class", what)}
	})
	if err != nil {
		if status, sentence := w.sentence(c, err); status == http.StatusUnprocessableEntity || status == http.StatusConflict {
			w.showCalendar(c, status, c.PostForm("from"), sentence, nil, "")
			return
		}
		w.refused(c, err)
		return
	}
	c.Redirect(
		http.StatusSeeOther,
		"/calendar?"+url.Values{"from": {c.PostForm("from")}, "moved": {what}, "id": {id}, "was": {back}}.Encode()+"#"+url.PathEscape(id),
	)
}
