package web

import (
	"bytes"
	"context"
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/civil"
	"restbend/core/course"
	"restbend/core/exercise"
	"restbend/draw"
	"restbend/exchange"
	"restbend/formats"
	"restbend/store"
)

// Weeks ahead for a client: which day holds what, and what comes if all goes well.

type weeksPage struct {
	Client    store.Client
	Course    course.Course
	Weeks     []weekRow
	Chosen    dayView
	Query     string // of the wish, for links
	Wish      weeksForm
	Tally     []tallyRow
	TallyOf   string
	Loads     template.HTML
	LoadTable []loadRow
	Frame     []weekItem
	Refusal   string
	Kept      bool
	Goal      string
}

type weeksForm struct {
	Weeks, Sessions, Home, Minutes, From, At string
	Off, Walks                               []dayCheck
}

type weekRow struct {
	course.Week
	From  string
	Days  []dayView
	Comes string
}

type dayView struct {
	course.Day
	Words, Class, Link, Long string
	Chosen, Past             bool
	Items                    []weekItem
}

type weekItem struct {
	course.Item
	Figure Figure
	Words  string
}

type tallyRow struct {
	Purpose      string
	Done, Wanted int
	Beads        []string // class of each
}

type loadRow struct {
	On    string
	Load  string
	State string
}

var dayLetters = []string{"mon", "tue", "wed", "thu", "fri", "sat", "sun"}

// readWeeks is the wish that a query or form tells, else the last that was kept, else the
// usual.
func (w *site) readWeeks(c *gin.Context, form url.Values, clientID string) (app.CourseWish, error) {
	wish := app.CourseWish{Weeks: app.UsualWeeks, Sessions: app.UsualSessions, HomeDays: app.UsualHomeDays}
	if kept, err := w.LastCourse(c.Request.Context(), clientID); err != nil {
		return wish, err
	} else if kept != nil && form.Get("weeks") == "" {
		return kept.Wish, nil
	}
	for field, to := range map[string]*int{"weeks": &wish.Weeks, "sessions": &wish.Sessions, "home": &wish.HomeDays,
		"minutes": &wish.Minutes} {
		text := strings.TrimSpace(form.Get(field))
		if text == "" {
			continue
		}
		n, err := strconv.Atoi(text)
		if err != nil {
			n = -1 // refused by name
		}
		*to = n
	}
	if from := form.Get("from"); from != "" {
		day, err := civil.Parse(from)
		if err != nil {
			return wish, &formats.Invalid{Path: "from", Want: fmt.Sprintf("%q is not a date; expected YYYY-MM-DD", from)}
		}
		wish.From = day
	}
	days := func(field string) (out []time.Weekday) {
		for _, d := range form[field] {
			if i := slices.Index(dayLetters, d); i >= 0 {
				out = append(out, time.Weekday((i+1)%7))
			}
		}
		return out
	}
	wish.Off, wish.At = days("off"), form.Get("at")
	if walks := days("walks"); len(walks) > 0 {
		wish.Also = map[exercise.Purpose][]time.Weekday{"gait": walks}
	}
	return wish, nil
}

func (w *site) weeks(c *gin.Context) {
	k, err := w.Store.Client(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	w.showWeeks(c, http.StatusOK, k, c.Request.URL.Query(), "")
}

func (w *site) showWeeks(c *gin.Context, status int, k store.Client, form url.Values, refusal string) {
	wish, err := w.readWeeks(c, form, k.ID)
	p := weeksPage{Client: k, Refusal: refusal, Goal: k.Client.GoalText}
	var made course.Course
	if err == nil {
		made, err = w.CourseFor(c.Request.Context(), k.ID, wish)
	}
	if err != nil && refusal == "" {
		if status, p.Refusal = w.sentence(c, err); status != http.StatusUnprocessableEntity {
			w.refused(c, err)
			return
		}
	}
	if wish.From.IsZero() {
		wish.From = w.Today()
	}
	p.Course = made
	p.fillForm(wish)
	if kept, err := w.LastCourse(c.Request.Context(), k.ID); err == nil {
		p.Kept = kept != nil
	}
	w.fillWeeks(&p, c.Query("day"))
	w.pages.render(c, status, "weeks", p)
}

// fillForm shows a wish in the form, and as a query for links.
func (p *weeksPage) fillForm(wish app.CourseWish) {
	number := func(n int) string {
		if n < 0 {
			return ""
		}
		return strconv.Itoa(n)
	}
	p.Wish = weeksForm{Weeks: number(wish.Weeks), Sessions: number(wish.Sessions), Home: number(wish.HomeDays), From: wish.From.String()}
	q := url.Values{"weeks": {p.Wish.Weeks}, "sessions": {p.Wish.Sessions}, "home": {p.Wish.Home}, "from": {p.Wish.From}}
	if wish.Minutes > 0 {
		p.Wish.Minutes = number(wish.Minutes)
		q.Set("minutes", p.Wish.Minutes)
	}
	if p.Wish.At = wish.At; wish.At != "" {
		q.Set("at", wish.At)
	}
	for i, d := range dayLetters {
		day := time.Weekday((i + 1) % 7)
		off, walks := slices.Contains(wish.Off, day), slices.Contains(wish.Also["gait"], day)
		p.Wish.Off = append(p.Wish.Off, dayCheck{d, strings.ToUpper(d[:1]), off})
		p.Wish.Walks = append(p.Wish.Walks, dayCheck{d, strings.ToUpper(d[:1]), walks})
		if off {
			q.Add("off", d)
		}
		if walks {
			q.Add("walks", d)
		}
	}
	p.Query = q.Encode()
}

// dayWords say what a day is.
var dayWords = map[string]string{
	course.Studio: "lesson",
	course.Home:   "home",
	course.Micro:  "short bouts",
	course.Review: "review",
	course.Rest:   "",
}

func (w *site) fillWeeks(p *weeksPage, chosen string) {
	today := w.Today().String()
	var loads []draw.Hard
	for _, week := range p.Course.Weeks {
		row := weekRow{Week: week, From: shortDate(week.Days[0].On)}
		for _, d := range week.Days {
			v := dayView{Day: d, Words: dayWords[d.Kind], Class: "is-" + d.Kind, Past: d.On < today, Long: dateWords(d.On)}
			if d.Kind == course.Studio && week.Easy {
				v.Class += " is-easy"
			}
			switch {
			case d.Missed:
				v.Words, v.Class = "missed", "is-missed"
			case d.Taught:
				v.Words = "taught"
			}
			v.Link = fmt.Sprintf("/clients/%s/weeks?%s&day=%s", p.Client.ID, p.Query, d.On)
			if chosen == "" && d.On >= today && d.Kind == course.Studio {
				chosen = d.On
			}
			if v.Chosen = d.On == chosen; v.Chosen {
				for _, it := range d.Items {
					v.Items = append(v.Items, w.weekItem(it))
				}
				p.Chosen = v
				p.tally(week)
			}
			row.Days = append(row.Days, v)
			if d.Kind == course.Studio && !d.Missed {
				l := draw.Hard{Value: week.Load, Taught: d.Taught, Easy: week.Easy}
				for _, it := range d.Plan.Items {
					if it.ID == d.Plan.Items[0].ID {
						l.Value = 0
					}
					l.Value += it.SecondsWork / 60 * it.Demand
				}
				loads = append(loads, l)
				p.LoadTable = append(p.LoadTable,
					loadRow{
						dateWords(d.On),
						fmt.Sprintf("%.0f", l.Value),
						map[bool]string{true: "taught", false: "if all goes well"}[d.Taught],
					},
				)
			}
		}
		var comes []string
		for _, s := range week.Comes {
			words := s.Name
			if s.Words != "" {
				words += ": " + s.Words
			}
			comes = append(comes, words)
		}
		switch {
		case week.Easy:
			row.Comes = "an easy week: what was won settles"
		case len(comes) > 2:
			row.Comes = strings.Join(comes[:2], "; ") + fmt.Sprintf("; and %d more", len(comes)-2)
		case len(comes) > 0:
			row.Comes = strings.Join(comes, "; ")
		case week.Week == 1:
			row.Comes = "as now"
		}
		p.Weeks = append(p.Weeks, row)
	}
	if len(p.Course.Weeks) > 0 {
		if p.TallyOf == "" {
			p.tally(p.Course.Weeks[0])
		}
		p.Loads = template.HTML(
			draw.SVGHard(loads, "How hard each lesson is: minutes of work times demand. The table beneath has the figures."),
		)
		p.Frame = w.sameIn(p.Course)
	}
}

// tally is done of wanted in a week.
func (p *weeksPage) tally(week course.Week) {
	p.Tally, p.TallyOf = nil, shortDate(week.Days[0].On)
	for _, purpose := range exercise.Purposes {
		n, of := week.Tally[string(purpose)], week.Wanted[string(purpose)]
		if of == 0 {
			continue
		}
		r := tallyRow{Purpose: purpose.Words(), Done: n, Wanted: of}
		for i := range max(n, of) {
			r.Beads = append(r.Beads, map[bool]string{true: "is-done", false: "is-open"}[i < n])
		}
		p.Tally = append(p.Tally, r)
	}
}

func (w *site) weekItem(it course.Item) weekItem {
	return weekItem{it, w.figures.get(want{variant: it.Variant, theme: draw.Light}), app.DoseWords(it.Dose, it.Sides)}
}

// sameIn are the exercises that every lesson to come holds.
func (w *site) sameIn(c course.Course) []weekItem {
	var out []course.Item
	first := true
	for _, week := range c.Weeks {
		for _, d := range week.Days {
			if d.Kind != course.Studio || len(d.Items) == 0 {
				continue
			}
			if first {
				out, first = slices.Clone(d.Items), false
				continue
			}
			out = slices.DeleteFunc(out, func(it course.Item) bool {
				return !slices.ContainsFunc(d.Items, func(k course.Item) bool { return k.Variant == it.Variant })
			})
		}
	}
	var shown []weekItem
	for _, it := range out {
		shown = append(shown, w.weekItem(it))
	}
	return shown
}

func (w *site) keepWeeks(c *gin.Context) {
	k, err := w.Store.Client(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	wish, err := w.readWeeks(c, c.Request.PostForm, k.ID)
	if err == nil {
		_, err = w.idempotent(c, func(ctx context.Context) (string, error) { return w.KeepCourse(ctx, k.ID, wish) })
	}
	if err != nil {
		if status, sentence := w.sentence(c, err); status == http.StatusUnprocessableEntity {
			w.showWeeks(c, status, k, c.Request.PostForm, sentence)
			return
		}
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/clients/"+url.PathEscape(k.ID)+"/weeks")
}

func (w *site) undoWeeks(c *gin.Context) {
	if err := w.idempotentOnly(c, func(ctx context.Context) error { return w.UndoCourse(ctx, c.Param("id")) }); err != nil {
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/clients/"+url.PathEscape(c.Param("id"))+"/weeks")
}

// weeksCalendar is the course as a calendar file.
func (w *site) weeksCalendar(c *gin.Context) {
	wish, err := w.readWeeks(c, c.Request.URL.Query(), c.Param("id"))
	var made course.Course
	if err == nil {
		made, err = w.CourseFor(c.Request.Context(), c.Param("id"), wish)
	}
	var b bytes.Buffer
	if err == nil {
		err = exchange.CourseCalendar(&b, c.Param("id"), made, w.Now())
	}
	if err != nil {
		w.refused(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="weeks.ics"`)
	c.Data(http.StatusOK, "text/calendar; charset=utf-8", b.Bytes())
}
