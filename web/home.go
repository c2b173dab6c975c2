package web

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/home"
	"restbend/core/limit"
	"restbend/draw"
	"restbend/handout"
	"restbend/pdf"
	"restbend/store"
)

// What goes home: the programme, its sheet, its file, and the diary that comes back.

// homePage is a programme as it is looked at and changed.
type homePage struct {
	Client   store.Client
	Row      store.Home
	Items    []homeLine
	Micro    []homeLine
	Query    string
	Found    []homeFind
	Unserved []string
	Diaries  []homeDiary
	Refusal  string
	Cautions *cautions
}

type homeLine struct {
	home.Item
	Letter, Dose, Plain, With, Days string
	Start, Then                     Figure
	Checks                          []dayCheck
}

type dayCheck struct {
	ID, Letter string
	On         bool
}

type homeFind struct {
	Variant, Name, Why string
	Figure             Figure
	May                bool
}

type homeDiary struct {
	KeptAt, Words string
}

func homeLink(id string) string { return "/homes/" + url.PathEscape(id) }

func (w *site) addHome(c *gin.Context) {
	number := func(name string) int {
		n, err := strconv.Atoi(c.PostForm(name))
		if err != nil && c.PostForm(name) != "" {
			return -1 // refused by name
		}
		return n
	}
	id, err := w.idempotent(c, func(ctx context.Context) (string, error) {
		return w.AddHome(ctx, c.Param("id"), number("items"), number("days"))
	})
	if err != nil {
		k, missing := w.Store.Client(c.Request.Context(), c.Param("id"))
		if status, sentence := w.sentence(c, err); missing == nil && status == http.StatusUnprocessableEntity {
			w.showClient(c, status, k, sentence, nil)
			return
		}
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, homeLink(id))
}

func (w *site) home(c *gin.Context) { w.showHome(c, http.StatusOK, "") }

// homeAndClient finds a programme and whose it is; it has answered where one is missing.
func (w *site) homeAndClient(c *gin.Context) (store.Home, store.Client, bool) {
	row, err := w.Store.Home(c.Request.Context(), c.Param("id"))
	if err == nil {
		var k store.Client
		if k, err = w.Store.Client(c.Request.Context(), row.ClientID); err == nil {
			return row, k, true
		}
	}
	w.refused(c, err)
	return row, store.Client{}, false
}

func (w *site) homeLine(it home.Item, letter string, u app.Units) homeLine {
	words, _, _, _ := handout.Said(it, u)
	l := homeLine{
		Item:   it,
		Letter: letter,
		Dose:   words,
		Plain:  it.Dose.Words(len(it.Sides) > 0),
		With:   app.WithWords(it.Uses, it.Settings, u),
		Days:   app.HomeDays(it),
	}
	shape := want{variant: it.Variant, theme: draw.Light}
	if v := w.Library.Variant(it.Variant); v != nil && (len(it.Adaptations) > 0 || it.Share > 0) {
		shape.form = v.FormAt(it.Share, it.Adaptations)
	}
	start := shape
	start.pose = "start"
	l.Start, l.Then = w.figures.get(start), w.figures.get(shape)
	for i, d := range home.Days {
		l.Checks = append(l.Checks, dayCheck{d, "MTWTFSS"[i : i+1], slices.Contains(it.Days, d)})
	}
	return l
}

func (w *site) showHome(c *gin.Context, status int, refusal string) {
	row, k, ok := w.homeAndClient(c)
	if !ok {
		return
	}
	set := w.Limits(k.Client, w.Today())
	p := homePage{Client: k, Row: row, Refusal: refusal, Query: strings.TrimSpace(c.Query("q")), Cautions: w.cautions(set, true)}
	for i, it := range row.Programme.Items {
		p.Items = append(p.Items, w.homeLine(it, "ABCDEF"[i:i+1], visitorOf(c).Look.Units))
	}
	for _, it := range row.Programme.Micro {
		p.Micro = append(p.Micro, w.homeLine(it, "", visitorOf(c).Look.Units))
	}
	for _, g := range row.Programme.Unserved {
		p.Unserved = append(p.Unserved, g.Words())
	}
	if p.Query != "" {
		r, err := w.HomeRequest(c.Request.Context(), row.ClientID, 0, 0)
		if err != nil {
			w.refused(c, err)
			return
		}
		p.Found = w.homeFinds(r, p.Query)
	}
	diaries, err := w.Store.DiariesOf(c.Request.Context(), row.ID)
	if err != nil {
		w.refused(c, err)
		return
	}
	for _, d := range diaries {
		p.Diaries = append(p.Diaries,
			homeDiary{
				d.KeptAt,
				fmt.Sprintf(
					"%d days, from %s to %s",
					len(d.Diary.Entries),
					dateWords(d.Diary.Entries[0].On),
					dateWords(d.Diary.Entries[len(d.Diary.Entries)-1].On),
				),
			},
		)
	}
	w.pages.render(c, status, "home", p)
}

// mostFinds is how many exercises a search for home shows.
const mostFinds = 8

// homeFinds are exercises by words, those that may go home first, each with why not.
func (w *site) homeFinds(r home.Request, query string) []homeFind {
	var may, not []homeFind
	for _, v := range w.Library.Variants {
		if slices.ContainsFunc(
			strings.Fields(strings.ToLower(query)),
			func(word string) bool { return !strings.Contains(w.texts[v.ID], word) },
		) {
			continue
		}
		f := homeFind{Variant: v.ID, Name: v.Name, Figure: w.figures.thumb(v.ID)}
		if ok, why := r.Alone(v); !ok {
			f.Why = why
		} else if j := r.Limits.Judge(v, limit.KitOf(r.Client, home.Place(r.Client))); j.Verdict == exercise.Avoid && j.Free() == "" {
			f.Why = j.Reasons[0].Text
		} else {
			f.May = true
		}
		if f.May {
			may = append(may, f)
		} else {
			not = append(not, f)
		}
	}
	all := append(may, not...)
	return all[:min(len(all), mostFinds)]
}

func (w *site) editHome(c *gin.Context) {
	seen, _ := strconv.Atoi(c.PostForm("revision")) // one that is wrong is an older one
	days := form(c)["days"]
	err := w.idempotentOnly(c, func(ctx context.Context) error {
		return w.EditHome(ctx,
			c.Param("id"),
			seen,
			app.HomeEdit{Kind: c.PostForm("kind"), Variant: c.PostForm("variant"), Words: c.PostForm("dose"), Days: days},
		)
	})
	w.homeDone(c, err)
}

// homeDone goes back to the programme, or says there what was refused.
func (w *site) homeDone(c *gin.Context, err error) {
	if err == nil {
		c.Redirect(http.StatusSeeOther, homeLink(c.Param("id")))
		return
	}
	if status, sentence := w.sentence(c, err); status == http.StatusUnprocessableEntity || status == http.StatusConflict {
		w.showHome(c, status, sentence)
		return
	}
	w.refused(c, err)
}

func (w *site) undoHome(c *gin.Context) {
	seen, _ := strconv.Atoi(c.PostForm("revision"))
	w.homeDone(c, w.idempotentOnly(c, func(ctx context.Context) error { return w.UndoHome(ctx, c.Param("id"), seen) }))
}

// homeAway takes a programme off the list, or brings it back.
func (w *site) homeAway(c *gin.Context) {
	row, _, ok := w.homeAndClient(c)
	if !ok {
		return
	}
	gone := ""
	if c.PostForm("back") == "" {
		gone = w.Now().UTC().Format(time.RFC3339)
	}
	err := w.idempotentOnly(c, func(ctx context.Context) error {
		return w.Store.Change(ctx, func(t *store.Tx) error { return t.TakeHomeAway(row.ID, gone) })
	})
	if err == nil && gone != "" {
		c.Redirect(http.StatusSeeOther, "/clients/"+url.PathEscape(row.ClientID))
		return
	}
	w.homeDone(c, err)
}

// heading says who a sheet is for.
func (w *site) heading(c *gin.Context, row store.Home, k store.Client) handout.Heading {
	h := handout.Heading{
		ID:     row.ID,
		Client: k.Client.Name,
		Studio: w.Store.Setting(c.Request.Context(), "studio"),
		On:     longDate(row.On),
		Again:  longDate(row.Programme.AskAgainOn),
		Units:  visitorOf(c).Look.Units,
	}
	if c.Query("caution") != "" {
		h.Caution = app.Capital(w.Library.Conditions.Words(k.Client)) + "."
	}
	return h
}

// homeSheet is the programme as PDF.
func (w *site) homeSheet(c *gin.Context) {
	row, k, ok := w.homeAndClient(c)
	if !ok {
		return
	}
	s, err := handout.Sheet(
		row.Programme,
		w.heading(c, row, k),
		w.Library,
		handout.Options{Size: c.Query("size"), Large: c.Query("large") != "", Font: SheetFont()},
	)
	w.sheet(c, s, err, "at-home.pdf")
}

// sheet sends a sheet that was set, or says what was wrong with what was asked.
func (w *site) sheet(c *gin.Context, s *pdf.Sheet, err error, name string) {
	if err != nil {
		fail(c, http.StatusUnprocessableEntity, app.Capital(err.Error())+".")
		return
	}
	b, err := s.Bytes()
	if err != nil {
		w.refused(c, err)
		return
	}
	c.Header("Content-Disposition", `inline; filename="`+name+`"`)
	c.Data(http.StatusOK, "application/pdf", b)
}

// homeFile is the programme as a page of its own, to be taken home.
func (w *site) homeFile(c *gin.Context) {
	row, k, ok := w.homeAndClient(c)
	if !ok {
		return
	}
	b, err := handout.File(row.Programme, w.heading(c, row, k), w.Library)
	if err != nil {
		w.refused(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="at-home.html"`)
	c.Data(http.StatusOK, "text/html; charset=utf-8", b)
}

// diaryPage is what came back, to be looked at before it is taken.
type diaryPage struct {
	Client  store.Client
	Row     store.Home
	Text    string
	Read    *home.Diary
	Lines   []diaryLine
	Refusal string
}

type diaryLine struct{ On, Done, Pain, More string }

func (w *site) diary(c *gin.Context) { w.showDiary(c, http.StatusOK, "", nil, "") }

func (w *site) showDiary(c *gin.Context, status int, text string, read *home.Diary, refusal string) {
	row, k, ok := w.homeAndClient(c)
	if !ok {
		return
	}
	p := diaryPage{Client: k, Row: row, Text: text, Read: read, Refusal: refusal}
	if read != nil {
		for _, e := range read.Entries {
			var names []string
			for _, id := range e.Done {
				if v := w.Library.Variant(id); v != nil {
					names = append(names, v.Name)
				}
			}
			l := diaryLine{On: e.On, Done: strings.Join(names, ", ")}
			if e.Pain != nil {
				l.Pain = fmt.Sprint(*e.Pain)
			}
			var more []string
			if e.Sore {
				more = append(more, "sore")
			}
			for _, s := range []string{strings.ReplaceAll(e.Where, "_", " "), e.Note} {
				if s != "" {
					more = append(more, s)
				}
			}
			l.More = strings.Join(more, "; ")
			p.Lines = append(p.Lines, l)
		}
	}
	w.pages.render(c, status, "diary", p)
}

// takeDiary reads a diary and shows it, or takes what was shown.
func (w *site) takeDiary(c *gin.Context) {
	text := c.PostForm("diary")
	d, err := w.ReadDiary(c.Request.Context(), c.Param("id"), []byte(text))
	if err == nil && c.PostForm("take") == "" {
		w.showDiary(c, http.StatusOK, text, &d, "")
		return
	}
	answered := ""
	if err == nil {
		answered, err = w.idempotent(c, func(ctx context.Context) (string, error) { return w.TakeDiary(ctx, c.Param("id"), d) })
	}
	if err != nil {
		if status, sentence := w.sentence(c, err); status == http.StatusUnprocessableEntity || status == http.StatusConflict {
			w.showDiary(c, status, text, nil, sentence)
			return
		}
		w.refused(c, err)
		return
	}
	if answered != "" {
		c.Redirect(http.StatusSeeOther, "/records/"+url.PathEscape(answered)+"#follow-up")
		return
	}
	c.Redirect(http.StatusSeeOther, homeLink(c.Param("id")))
}
