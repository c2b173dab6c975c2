package web

import (
	"context"
	"errors"
	"net/http"
	"net/url"
	"slices"
	"strconv"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/store"
)

// offeredGoals are the purposes that the library of this version serves.
func (w *site) offeredGoals() []exercise.Purpose {
	var out []exercise.Purpose
	for _, p := range exercise.Purposes {
		if slices.ContainsFunc(w.Library.Variants, func(v *exercise.Variant) bool { return slices.Contains(v.Purposes, p) }) {
			out = append(out, p)
		}
	}
	return out
}

func (w *site) showIntake(c *gin.Context, status int, f intake) {
	if f.Wrong == nil {
		f.Wrong = map[string]string{}
	}
	w.pages.render(c, status, "intake", gin.H{
		"Form":       f,
		"Flags":      flagBoxes(f.Client.RedFlags),
		"Goals":      w.offeredGoals(),
		"Places":     exercise.Places,
		"Approaches": exercise.Approaches,
		"Equipment":  exercise.Equipment,
		"Strengths":  exercise.Strengths,
		"Arcs":       exercise.Arcs,
		"Conditions": w.Conditions,
		"Tasks":      limit.Tasks,
		"Kept":       w.kept(f),
		"Units":      f.units(visitorOf(c).Look),
	})
}

func (w *site) newClient(c *gin.Context) {
	h := w.House(c.Request.Context())
	w.showIntake(c,
		http.StatusOK,
		intake{Draft: store.NewID(), Client: limit.Client{Place: h.Place, Approach: h.Approach, Minutes: h.Minutes,
			Equipment: h.Room}, Values: map[string]string{}},
	)
}

func (w *site) editClient(c *gin.Context) {
	k, err := w.Store.Client(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	draft, err := w.Store.IntakeOf(c.Request.Context(), k.ID)
	switch {
	case err == nil:
		c.Redirect(http.StatusSeeOther, "/intakes/"+draft.ID)
		return
	case !errors.Is(err, store.ErrNotFound):
		w.refused(c, err)
		return
	}
	w.showIntake(c,
		http.StatusOK,
		intake{
			ID:      k.ID,
			Draft:   store.NewID(),
			Version: strconv.Itoa(k.Version),
			Client:  k.Client,
			Values:  valuesOf(w.Library.Conditions, k.Client, visitorOf(c).Look.Units),
		},
	)
}

// form is what was posted; plain has read it.
func form(c *gin.Context) url.Values { return c.Request.PostForm }

// keepIntake keeps the form as it stands, right or wrong, and answers with what
// follows from it so far. Nothing of it is a client's yet.
func (w *site) keepIntake(c *gin.Context) {
	id, posted := c.Param("id"), form(c)
	if !posted.Has("name") {
		fail(c, http.StatusBadRequest, "What was sent is no client form. Nothing was saved; what was kept before is there still.")
		return
	}
	posted.Del("key")
	f, err := w.readDraft(c, posted)
	if err == nil {
		f.Step, err = w.KeepIntake(c.Request.Context(), id, f.ID, posted)
	}
	if err != nil {
		w.refused(c, err)
		return
	}
	f.Draft = id
	if c.GetHeader("HX-Request") != "true" {
		c.Redirect(http.StatusSeeOther, "/intakes/"+id)
		return
	}
	w.pages.render(c, http.StatusOK, "kept", w.kept(f))
}

// readDraft reads a posted form into the client it is about, which what the form
// does not show stays of.
func (w *site) readDraft(c *gin.Context, posted url.Values) (intake, error) {
	into := limit.Client{Format: "restbend.client/1"}
	var before *limit.Client
	id := posted.Get("client")
	if id != "" {
		k, err := w.Store.Client(c.Request.Context(), id)
		if err != nil {
			return intake{}, err
		}
		if into, before = k.Client, &k.Client; posted.Get("version") != strconv.Itoa(k.Version) {
			version, _ := strconv.Atoi(posted.Get("version")) // none is refused when it is saved
			if was, err := w.Store.ClientWas(c.Request.Context(), id, version); err == nil {
				into = was
			}
		}
	}
	f := readIntake(w.Library.Conditions, posted, into, w.Today().Year())
	f.ID, f.Version = id, posted.Get("version")
	f.idle(w.Conditions, posted, before)
	if len(f.Wrong) == 0 && f.Client.Name != "" {
		f.take(w.CheckClient(f.Client, before))
	}
	return f, nil
}

// kept says what follows from an intake as far as it goes.
type kept struct {
	Form    intake
	At      string
	Refer   []limit.Reason
	Count   map[string]int
	Limits  int
	Unknown []string
	Heard   []limit.Task
	Wrong   []string
}

func (w *site) kept(f intake) kept {
	set, kit := w.Limits(f.Client, w.Today()), limit.KitOf(f.Client, f.Client.Place)
	k := kept{
		Form:    f,
		At:      w.Now().Format("15:04"),
		Refer:   set.Refer(),
		Limits:  len(slices.Collect(set.Rows())),
		Unknown: set.Defaults,
		Count:   map[string]int{},
	}
	for _, v := range w.Library.Variants {
		k.Count[string(limit.Judge(set.Limits, v, kit).Verdict)]++
	}
	for _, t := range limit.Heard(f.Client.GoalText) {
		if !slices.Contains(f.Client.Tasks, t.ID) {
			k.Heard = append(k.Heard, t)
		}
	}
	for _, sentence := range f.Wrong {
		k.Wrong = append(k.Wrong, sentence)
	}
	slices.Sort(k.Wrong)
	return k
}

// resumeIntake shows an intake that was begun earlier, or steps back in it.
func (w *site) resumeIntake(c *gin.Context) {
	draft, err := w.Store.Intake(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	f, err := w.readDraft(c, draft.Form)
	if err != nil {
		w.refused(c, err)
		return
	}
	f.Draft, f.Step, f.Resumed, f.Refusal = draft.ID, draft.Step, true, ""
	w.showIntake(c, http.StatusOK, f)
}

func (w *site) undoIntake(c *gin.Context) {
	if err := w.UndoIntake(c.Request.Context(), c.Param("id")); err != nil && !errors.Is(err, store.ErrNotFound) {
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/intakes/"+url.PathEscape(c.Param("id")))
}

// dropIntake forgets an intake that was begun; a client it would have changed stays
// as it is.
func (w *site) dropIntake(c *gin.Context) {
	if err := w.DropIntake(c.Request.Context(), c.Param("id")); err != nil {
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/clients")
}

// saveIntake makes a client of the form: a new one, or a changed one.
func (w *site) saveIntake(c *gin.Context, id string) {
	posted := form(c)
	posted.Set("client", id)
	f, err := w.readDraft(c, posted)
	if err != nil {
		w.refused(c, err)
		return
	}
	f.Draft = posted.Get("key")
	if f.Draft == "" {
		f.Draft = store.NewID()
	}
	version, err := strconv.Atoi(f.Version)
	if id != "" && err != nil {
		f.Wrong["version"] = "The form is incomplete; reload the page."
	}
	if len(f.Wrong) == 0 {
		made, err := w.idempotent(c, func(ctx context.Context) (string, error) {
			return w.SaveIntake(ctx, app.Intake{Draft: f.Draft, ID: id, Version: version, Client: f.Client})
		})
		if err == nil {
			c.Redirect(http.StatusSeeOther, "/clients/"+made)
			return
		}
		var clash *app.Clash
		switch {
		case f.take(err):
		case errors.As(err, &clash):
			w.showClash(c, f, id, clash)
			return
		case errors.Is(err, store.ErrOtherForm) && made != "":
			w.showClash(c, f, made, nil)
			return
		default:
			w.refused(c, err)
			return
		}
	}
	w.showIntake(c, http.StatusUnprocessableEntity, f)
}

// showClash shows a form again, filled, with what was changed of the client in the
// meantime; saved again, it wins. Without a clash the form itself was saved
// before, with other answers.
func (w *site) showClash(c *gin.Context, f intake, id string, clash *app.Clash) {
	now, err := w.Store.Client(c.Request.Context(), id)
	if err != nil {
		w.refused(c, err)
		return
	}
	f.ID, f.Version, f.Draft = id, strconv.Itoa(now.Version), store.NewID()
	f.Refusal = "This form was saved before, with other answers. What you changed since stands below, not saved yet: save it to keep it."
	if clash != nil {
		f.Client, f.Values = clash.Merged, valuesOf(w.Library.Conditions, clash.Merged, f.units(visitorOf(c).Look))
		f.Refusal = app.Capital(clash.Error()) + ". What you typed stands below, not saved yet: change it, or save it to keep it."
	}
	w.showIntake(c, http.StatusConflict, f)
}

func (w *site) addClient(c *gin.Context) { w.saveIntake(c, "") }

func (w *site) changeClient(c *gin.Context) { w.saveIntake(c, c.Param("id")) }
