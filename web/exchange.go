package web

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"path/filepath"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"restbend/exchange"
	"restbend/formats"
	"restbend/store"
)

// In and out: the studio and its clients in open formats, and what comes from elsewhere,
// looked at before it is taken.

// uploads is where a file is sent to be looked at; it may be larger than a form.
const (
	uploads    = "/exchange/uploads"
	mostUpload = 64 << 20
	mostWait   = 3 // files that wait to be taken
)

// upload is a file that waits to be taken.
type upload struct {
	name  string
	body  []byte
	taken []string // ids of the clients it brought, once it was taken
}

// exchangePage is what can be written, and what was sent in.
type exchangePage struct {
	Clients []store.Client
	ID      string // of an upload
	Name    string
	Report  *exchange.Report
	Words   string
	Done    string // the upload that was taken in
	Brought int    // how many clients it brought
	Back    bool   // it was taken back
	Refusal string
}

func (w *site) exchange(c *gin.Context) {
	id := c.Query("upload")
	if id == "" {
		up, _ := w.waiting.Get(c.Query("done"))
		w.showExchange(c, http.StatusOK, exchangePage{Done: c.Query("done"), Brought: len(up.taken), Back: c.Query("back") != ""})
		return
	}
	up, ok := w.waiting.Get(id)
	if !ok || up.body == nil {
		w.showExchange(c,
			http.StatusNotFound,
			exchangePage{Refusal: "That file is not here any more: choose it once more. Nothing was taken."},
		)
		return
	}
	r, err := w.takeUpload(c.Request.Context(), up, exchange.Options{DryRun: true})
	if err != nil {
		w.exchangeRefused(c, err)
		return
	}
	w.showExchange(c, http.StatusOK, exchangePage{ID: id, Name: up.name, Report: &r, Words: r.Words()})
}

func (w *site) showExchange(c *gin.Context, status int, p exchangePage) {
	var err error
	if p.Clients, err = w.choices(c.Request.Context()); err != nil {
		w.refused(c, err)
		return
	}
	w.pages.render(c, status, "exchange", p)
}

func (w *site) exchangeRefused(c *gin.Context, err error) {
	var bad *exchange.Bad
	if errors.As(err, &bad) {
		w.showExchange(c, http.StatusUnprocessableEntity, exchangePage{Refusal: "Nothing was taken. " + bad.Error() + "."})
		return
	}
	if status, sentence := w.sentence(c, err); status == http.StatusUnprocessableEntity {
		w.showExchange(c, status, exchangePage{Refusal: sentence})
		return
	}
	w.refused(c, err)
}

// takeUpload reads a file by its ending.
func (w *site) takeUpload(ctx context.Context, up upload, o exchange.Options) (exchange.Report, error) {
	switch strings.ToLower(filepath.Ext(up.name)) {
	case ".zip":
		return exchange.TakeArchive(ctx, w.Store, bytes.NewReader(up.body), int64(len(up.body)), o)
	case ".csv":
		return exchange.TakeClients(ctx, w.Studio, up.name, up.body, o)
	case ".json":
		return exchange.TakeClientFile(ctx, w.Studio, up.name, up.body, o)
	}
	return exchange.Report{}, &exchange.Bad{File: up.name, Want: "its ending is not known; expected .zip, .csv or .json"}
}

// addUpload keeps a file that was sent until it is taken or another pushes it out, and says
// where it can be looked at.
func (w *site) addUpload(c *gin.Context) {
	body, err := io.ReadAll(c.Request.Body)
	if err != nil {
		c.JSON(
			http.StatusRequestEntityTooLarge,
			gin.H{
				"error": fmt.Sprintf(
					"What was sent is larger than %d MB. Nothing was taken; use restbend import for it.",
					mostUpload>>20,
				),
			},
		)
		return
	}
	name := filepath.Base(strings.ReplaceAll(c.Query("name"), `\`, "/"))
	if wrong := formats.NotPlain(name); wrong != "" || len(name) > 200 {
		c.JSON(http.StatusUnprocessableEntity, gin.H{"error": "The name of the file " + wrong + ". Nothing was taken."})
		return
	}
	id := store.NewID()
	w.waiting.Add(id, upload{name: name, body: body})
	c.JSON(http.StatusOK, gin.H{"at": "/exchange?upload=" + id})
}

// takeIn takes a file that was looked at.
func (w *site) takeIn(c *gin.Context) {
	up, ok := w.waiting.Get(c.PostForm("upload"))
	if !ok || up.body == nil {
		w.showExchange(c,
			http.StatusNotFound,
			exchangePage{Refusal: "That file is not here any more: choose it once more. Nothing was taken."},
		)
		return
	}
	r, err := w.takeUpload(c.Request.Context(), up, exchange.Options{Partly: c.PostForm("partly") != ""})
	if err != nil {
		w.exchangeRefused(c, err)
		return
	}
	if len(r.Refused) > 0 && c.PostForm("partly") == "" {
		w.showExchange(c,
			http.StatusUnprocessableEntity,
			exchangePage{
				ID:      c.PostForm("upload"),
				Name:    up.name,
				Report:  &r,
				Words:   r.Words(),
				Refusal: "Nothing was taken, since not all could be.",
			},
		)
		return
	}
	w.waiting.Add(c.PostForm("upload"), upload{name: up.name, taken: r.New}) // so that it can be taken back
	c.Redirect(http.StatusSeeOther, "/exchange?done="+url.QueryEscape(c.PostForm("upload")))
}

// takeBackIn takes the clients off every list that a file has brought: nothing is deleted.
func (w *site) takeBackIn(c *gin.Context) {
	up, ok := w.waiting.Get(c.PostForm("upload"))
	if !ok || len(up.taken) == 0 {
		w.showExchange(c,
			http.StatusNotFound,
			exchangePage{
				Refusal: "It is not known any more what that file brought. Clients can be taken out one by one, on their pages.",
			},
		)
		return
	}
	err := w.idempotentOnly(c, func(ctx context.Context) error {
		return w.Store.Change(ctx, func(t *store.Tx) error {
			for _, id := range up.taken {
				if err := t.TakeClientAway(id, true, w.Now()); err != nil && !errors.Is(err, store.ErrChanged) {
					return err
				}
			}
			return nil
		})
	})
	if err != nil {
		w.refused(c, err)
		return
	}
	w.waiting.Remove(c.PostForm("upload"))
	c.Redirect(http.StatusSeeOther, "/exchange?back=yes")
}

// download writes a file whole before it sends any of it, so that a fault is said.
func (w *site) download(c *gin.Context, name, kind string, write func(io.Writer) error) {
	var b bytes.Buffer
	if err := write(&b); err != nil {
		w.refused(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="`+name+`"`)
	c.Data(http.StatusOK, kind, b.Bytes())
}

func (w *site) exportStudio(c *gin.Context) {
	day := w.Today().String()
	switch c.Param("what") {
	case "archive.zip":
		w.download(c,
			"rest-bend-"+day+".zip",
			"application/zip",
			func(to io.Writer) error { return exchange.Archive(c.Request.Context(), w.Store, to, day) },
		)
	case "tables.zip":
		w.download(c,
			"rest-bend-tables-"+day+".zip",
			"application/zip",
			func(to io.Writer) error { return exchange.Tables(c.Request.Context(), w.Studio, to) },
		)
	case "sessions.ics":
		w.download(c, "sessions.ics", "text/calendar; charset=utf-8", func(to io.Writer) error {
			all, err := w.Store.Clients(c.Request.Context())
			if err != nil {
				return err
			}
			return exchange.CalendarOf(c.Request.Context(), w.Store, to, all, time.Local)
		})
	default:
		fail(c, http.StatusNotFound, "There is nothing at this address. It may have been mistyped, or what it showed is gone.")
	}
}

func (w *site) exportClient(c *gin.Context) {
	k, err := w.Store.Client(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	switch c.Param("what") {
	case "client.json":
		w.download(c, "client.json", "application/json", func(to io.Writer) error { return exchange.ClientFile(to, k.Client) })
	case "whole.zip":
		w.download(c,
			"client.zip",
			"application/zip",
			func(to io.Writer) error { return exchange.Whole(c.Request.Context(), w.Studio, to, k) },
		)
	case "fhir.json":
		w.download(c,
			"fhir.json",
			"application/fhir+json",
			func(to io.Writer) error { return exchange.Bundle(c.Request.Context(), w.Studio, to, k) },
		)
	case "sessions.ics":
		w.download(c, "sessions.ics", "text/calendar; charset=utf-8", func(to io.Writer) error {
			return exchange.CalendarOf(c.Request.Context(), w.Store, to, []store.Client{k}, time.Local)
		})
	default:
		fail(c, http.StatusNotFound, "There is nothing at this address. It may have been mistyped, or what it showed is gone.")
	}
}

// track is a plan as a cue track.
func (w *site) track(c *gin.Context) {
	row, err := w.Store.Plan(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	w.download(c, "session.vtt", "text/vtt; charset=utf-8", func(to io.Writer) error { return exchange.Track(to, row.Plan) })
}
