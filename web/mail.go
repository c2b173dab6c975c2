package web

import (
	"bytes"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/exchange"
	"restbend/handout"
	"restbend/mail"
	"restbend/store"
)

// Post is where letters go: kept in a folder, and sent by a server only where somebody has
// set one up. The zero Post has none.
type Post struct {
	Folder mail.Folder
	Server mail.Sender // nil: nothing is sent
	From   string      // the studio's address
}

// noAddress stands for the studio's where none was set: nothing can be sent from it.
const noAddress = "studio@restbend.invalid"

// mailPage is a letter before it is written.
type mailPage struct {
	Client                store.Client
	Row                   store.Home
	To, Subject, Text     string
	Sheet, File, Calendar bool
	Sends                 bool
	Refusal               string
}

func (w *site) mail(c *gin.Context) {
	row, k, ok := w.homeAndClient(c)
	if !ok {
		return
	}
	w.pages.render(c,
		http.StatusOK,
		"mail",
		mailPage{
			Client:  k,
			Row:     row,
			Subject: "Your exercises at home",
			Sheet:   true,
			File:    true,
			Sends:   w.post.Server != nil,
			Text: fmt.Sprintf(
				"Here is what we agreed on for home, about %d minutes a day. The sheet is for paper; the file opens in a browser, "+
					"works without a connection and keeps a diary that you can send back.\n\nStop at sharp pain, tingling or "+
					"dizziness, and tell me.",
				row.Programme.MinutesADay,
			),
		},
	)
}

// sendMail writes a letter with what goes home.
func (w *site) sendMail(c *gin.Context) {
	row, k, ok := w.homeAndClient(c)
	if !ok {
		return
	}
	p := mailPage{
		Client:   k,
		Row:      row,
		To:       strings.TrimSpace(c.PostForm("to")),
		Subject:  strings.TrimSpace(c.PostForm("subject")),
		Text:     c.PostForm("text"),
		Sheet:    c.PostForm("sheet") != "",
		File:     c.PostForm("file") != "",
		Calendar: c.PostForm("calendar") != "",
		Sends:    w.post.Server != nil,
	}
	refuse := func(status int, sentence string) {
		p.Refusal = sentence
		w.pages.render(c, status, "mail", p)
	}
	if w.post.Folder.Dir == "" {
		refuse(http.StatusUnprocessableEntity, "Letters are not set up here. Nothing was written.")
		return
	}
	files, err := w.attached(c, row, k, p)
	if err != nil {
		w.refused(c, err)
		return
	}
	from := w.post.From
	if from == "" {
		from = noAddress
	}
	id := c.PostForm("key") // of the form, so that a letter is written once
	if id == "" {
		id = store.NewID()
	}
	l := mail.Letter{
		FromName: w.Store.Setting(c.Request.Context(), "studio"),
		From:     from,
		To:       p.To,
		Subject:  p.Subject,
		Text:     p.Text,
		ID:       id,
		Date:     w.Now(),
		Files:    files,
	}
	var sender mail.Sender = w.post.Folder
	if w.post.Server != nil && c.PostForm("send") != "" {
		sender = w.post.Server
	}
	_, err = sender.Send(c.Request.Context(), l)
	var wrong *mail.Wrong
	switch {
	case errors.As(err, &wrong):
		refuse(http.StatusUnprocessableEntity, app.Capital(wrong.Error())+". Nothing was written.")
	case err != nil && sender == w.post.Server:
		refuse(http.StatusBadGateway, app.Capital(err.Error())+". Nothing was sent; it can be tried again.")
	case err != nil:
		w.refused(c, err)
	default:
		c.Redirect(http.StatusSeeOther, "/outbox")
	}
}

// attached is what was chosen to go with a letter.
func (w *site) attached(c *gin.Context, row store.Home, k store.Client, p mailPage) ([]mail.File, error) {
	var out []mail.File
	h := w.heading(c, row, k)
	if p.Sheet {
		s, err := handout.Sheet(row.Programme, h, w.Library, handout.Options{Font: SheetFont()})
		if err != nil {
			return nil, err
		}
		b, err := s.Bytes()
		if err != nil {
			return nil, err
		}
		out = append(out, mail.File{Name: "at-home.pdf", Type: "application/pdf", Body: b})
	}
	if p.File {
		b, err := handout.File(row.Programme, h, w.Library)
		if err != nil {
			return nil, err
		}
		out = append(out, mail.File{Name: "at-home.html", Type: "text/html", Body: b})
	}
	if p.Calendar {
		var b bytes.Buffer
		if err := exchange.CalendarOf(c.Request.Context(), w.Store, &b, []store.Client{k}, time.Local); err != nil {
			return nil, err
		}
		out = append(out, mail.File{Name: "sessions.ics", Type: "text/calendar", Body: b.Bytes()})
	}
	return out, nil
}

// outbox lists the letters that were written.
func (w *site) outbox(c *gin.Context) {
	kept, err := w.post.Folder.List()
	if err != nil {
		w.refused(c, err)
		return
	}
	w.pages.render(c, http.StatusOK, "outbox", gin.H{"Kept": kept, "On": w.post.Folder.Dir != "", "Sends": w.post.Server != nil})
}

func (w *site) letter(c *gin.Context) {
	b, err := w.post.Folder.Read(c.Param("name"))
	if err != nil || w.post.Folder.Dir == "" {
		fail(c, http.StatusNotFound, "There is no such letter.")
		return
	}
	c.Header("Content-Disposition", `attachment; filename="`+url.PathEscape(c.Param("name"))+`"`)
	c.Data(http.StatusOK, "message/rfc822", b)
}
