package web

import (
	"context"
	"errors"
	"net/http"
	"net/url"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/backup"
	"restbend/formats"
	"restbend/store"
)

// What clients may ask for about their data, and the backups that keep it for a while.

func (w *site) rights(c *gin.Context) { w.showRights(c, http.StatusOK, "") }

func (w *site) showRights(c *gin.Context, status int, refusal string) {
	k, err := w.Store.Client(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	consents, err := w.Store.Consents(c.Request.Context(), k.ID)
	if err != nil {
		w.refused(c, err)
		return
	}
	since, err := w.Store.Restricted(c.Request.Context(), k.ID)
	if err != nil {
		w.refused(c, err)
		return
	}
	lines, err := w.Store.Trail(c.Request.Context(), k.ID, 0, 25)
	if err != nil {
		w.refused(c, err)
		return
	}
	until, err := w.KeptUntil(c.Request.Context(), k)
	if err != nil {
		w.refused(c, err)
		return
	}
	page := gin.H{"Client": k, "Consents": consents, "Since": since, "Lines": lines, "Refusal": refusal, "Done": c.Query("done"),
		"Today": w.Today().String(),
		"Owner": visitorOf(c).Role.May(app.Keep), "Until": until, "Years": w.RetentionYears(c.Request.Context())}
	if w.setup.Copies != nil {
		page["CopyDays"] = w.setup.Copies.Days
	}
	w.pages.render(c, status, "rights", page)
}

func (w *site) changeRights(c *gin.Context) {
	id := c.Param("id")
	err := w.idempotentOnly(c, func(ctx context.Context) error {
		switch c.Param("what") {
		case "consent":
			if given := c.PostForm("given"); given != "yes" && given != "no" {
				return &formats.Invalid{Path: "she", Want: "expected that she agrees to it, or takes it back"}
			}
			return w.NoteConsent(ctx,
				id,
				store.Consent{
					What:  c.PostForm("consent"),
					Given: c.PostForm("given") == "yes",
					On:    c.PostForm("on"),
					Note:  c.PostForm("note"),
				},
			)
		case "restrict":
			return w.Restrict(ctx, id, c.PostForm("lift") == "")
		}
		return store.ErrNotFound
	})
	w.afterRights(c, err, "/clients/"+url.PathEscape(id)+"/rights?done="+url.QueryEscape(c.Param("what")))
}

func (w *site) erase(c *gin.Context) {
	err := w.idempotentOnly(c, func(ctx context.Context) error {
		return w.Erase(ctx, c.Param("id"), c.PostForm("name"), visitorOf(c).Name, c.PostForm("why"))
	})
	if err == nil {
		forgetAll(c)
	}
	w.afterRights(c, err, "/copies?erased=yes")
}

func (w *site) afterRights(c *gin.Context, err error, to string) {
	var invalid *formats.Invalid
	switch {
	case errors.As(err, &invalid):
		_, sentence := w.sentence(c, err)
		w.showRights(c, http.StatusUnprocessableEntity, sentence)
	case err != nil:
		w.refused(c, err)
	default:
		c.Redirect(http.StatusSeeOther, to)
	}
}

// copyRow is a copy as it is listed.
type copyRow struct {
	backup.Copy
	When string
	MB   float64
}

// copies shows when the last good copy was made, and warns.
func (w *site) copies(c *gin.Context) { w.showCopies(c, http.StatusOK, "") }

func (w *site) showCopies(c *gin.Context, status int, refusal string) {
	erased, err := w.Store.Erasures(c.Request.Context(), 20)
	if err != nil {
		w.refused(c, err)
		return
	}
	_, seal, err := w.Store.CheckTrail(c.Request.Context())
	if err != nil && !errors.Is(err, store.ErrTrail) {
		w.refused(c, err)
		return
	}
	page := gin.H{
		"Refusal":  refusal,
		"Erased":   c.Query("erased") != "",
		"Made":     c.Query("made"),
		"Erasures": erased,
		"Seal":     seal[:min(len(seal), 16)],
		"Idle":     w.idleMinutes(c.Request.Context()),
		"Years":    w.RetentionYears(c.Request.Context()),
	}
	if k := w.setup.Copies; k != nil {
		all, err := k.List()
		if err != nil {
			w.refused(c, err)
			return
		}
		var rows []copyRow
		for _, x := range all {
			rows = append(rows, copyRow{x, momentWords(x.At.Format(time.RFC3339)), float64(x.Bytes) / 1e6})
		}
		page["On"], page["Copies"], page["Dir"], page["Every"], page["Days"], page["Key"] = true, rows, k.Dir, everyWords(
			k.Every,
		), k.Days, k.Key != nil
		page["Inside"] = strings.HasPrefix(
			filepath.Clean(k.Dir)+string(filepath.Separator),
			filepath.Clean(k.Data)+string(filepath.Separator),
		)
		page["Late"] = len(all) == 0 || w.Now().Sub(all[0].At) > 2*k.Every
		if err := k.Last(); err != nil {
			page["Failed"] = app.Capital(err.Error())
		}
		if len(erased) > 0 { // any copy from before may hold who was erased
			page["HeldUntil"] = heldUntil(all, erased[0], k.Days)
		}
	}
	if f := w.setup.Follower; f != nil {
		behind, err := f.Behind(c.Request.Context())
		page["Follows"], page["Followed"], page["Behind"] = f.Target, f.Last().Local().Format(
			"Mon 2 Jan, 15:04:05",
		), behind && w.Now().Sub(f.Last()) > time.Minute ||
			err != nil
	}
	w.pages.render(c, status, "copies", page)
}

// heldUntil is the day on which the last copy goes that was made before somebody was erased;
// empty where there is none such.
func heldUntil(all []backup.Copy, e store.Erasure, days int) string {
	at, err := time.Parse(time.RFC3339Nano, e.At)
	if err != nil {
		return ""
	}
	i := slices.IndexFunc(all, func(x backup.Copy) bool { return !x.At.After(at) }) // the newest of them
	if i < 0 {
		return ""
	}
	return all[i].At.AddDate(0, 0, days+1).Format(time.DateOnly)
}

func everyWords(d time.Duration) string {
	if d == 24*time.Hour {
		return "every day"
	}
	return "every " + strings.TrimSuffix(strings.TrimSuffix(d.String(), "0s"), "0m")
}

func (w *site) copyNow(c *gin.Context) {
	if c.PostForm("idle") != "" { // the studio's own settings
		err := w.idempotentOnly(c, func(ctx context.Context) error { return w.SetStudio(ctx, c.PostForm("idle"), c.PostForm("years")) })
		if err != nil {
			if status, sentence := w.sentence(c, err); status == http.StatusUnprocessableEntity {
				w.showCopies(c, status, sentence)
				return
			}
			w.refused(c, err)
			return
		}
		c.Redirect(http.StatusSeeOther, "/copies?made=settings")
		return
	}
	if w.setup.Copies == nil {
		w.showCopies(c, http.StatusUnprocessableEntity, "No copies are made of this studio.")
		return
	}
	if _, err := w.setup.Copies.Make(c.Request.Context()); err != nil {
		w.log.Error("copy", "request", c.GetString("request"), "cause", err)
		w.showCopies(c, http.StatusInternalServerError, "No copy was made: "+err.Error()+".")
		return
	}
	if err := w.Store.Note(
		c.Request.Context(),
		store.Actor{Person: visitorOf(c).ID, Name: visitorOf(c).Name, Doing: "made a copy of the studio", At: w.Now()},
	); err != nil {
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/copies?made=copy")
}
