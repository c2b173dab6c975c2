package web

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/plan/tell"
	"restbend/formats"
	"restbend/store"
)

// readWish reads the plan's controls: minutes, place, approach and pain today,
// with a step up or down when one of the step buttons was used.
func readWish(c *gin.Context, from app.Wish) (app.Wish, error) {
	number := func(field string, now int) (int, error) {
		v := strings.TrimSpace(c.PostForm(field))
		if v == "" {
			return now, nil
		}
		n, err := strconv.Atoi(v)
		if err != nil {
			return now, &formats.Invalid{Path: field, Want: fmt.Sprintf("expected a whole number, found %q", v)}
		}
		return n, nil
	}
	var err error
	if from.Minutes, err = number("minutes", from.Minutes); err != nil {
		return from, err
	}
	if from.Minutes < 5 || from.Minutes > 120 {
		return from, &formats.Invalid{Path: "minutes", Want: fmt.Sprintf("expected 5 to 120, found %d", from.Minutes)}
	}
	pain := 0
	if from.PainNow != nil {
		pain = *from.PainNow
	}
	if pain, err = number("pain", pain); err != nil {
		return from, err
	}
	switch c.PostForm("step") {
	case "fewer":
		from.Minutes = max(5, (from.Minutes-1)/5*5)
	case "more":
		from.Minutes = min(120, from.Minutes/5*5+5)
	case "less-pain":
		pain = max(0, pain-1)
	case "more-pain":
		pain = min(10, pain+1)
	}
	from.PainNow = &pain
	if v := c.PostForm("focus"); v != "" {
		from.Focus = exercise.Purpose(strings.TrimPrefix(v, "none"))
	}
	for field, into := range map[string]*bool{"standing_first": &from.StandingFirst, "home": &from.Home} {
		if v := c.PostForm(field); v != "" {
			*into = v == "yes"
		}
	}
	if v := c.PostForm("place"); v != "" {
		from.Place = exercise.Place(v)
	}
	if v := c.PostForm("approach"); v != "" {
		from.Approach = exercise.Approach(v)
	}
	return from, nil
}

// changed answers a change of a plan: the new builder, or for a plain form the
// way back to it.
func (w *site) changed(c *gin.Context, err error, item string) {
	id := c.Param("id")
	if err != nil {
		status, sentence := w.sentence(c, err)
		if status == http.StatusNotFound || status == http.StatusInternalServerError {
			fail(c, status, sentence)
			return
		}
		if errors.Is(err, store.ErrChanged) {
			sentence = "This plan was changed in another window in the meantime. Nothing was done now; here is how it stands."
		}
		w.showPlan(c, status, item, "", sentence)
		return
	}
	if c.GetHeader("HX-Request") == "true" {
		w.showPlan(c, http.StatusOK, item, "", "")
		return
	}
	to := "/plans/" + url.PathEscape(id)
	if item != "" {
		to += "?item=" + url.QueryEscape(item)
	}
	c.Redirect(http.StatusSeeOther, to)
}

func (w *site) revision(c *gin.Context) (int, error) {
	n, err := strconv.Atoi(c.PostForm("revision"))
	if err != nil {
		return 0, &formats.Invalid{Path: "revision", Want: "is missing; reload the page"}
	}
	return n, nil
}

// changePlan makes the plan again with other wishes.
func (w *site) changePlan(c *gin.Context) {
	revision, err := w.revision(c)
	if err == nil {
		row, e := w.Store.Plan(c.Request.Context(), c.Param("id"))
		wish := app.WishOf(row.Plan)
		if err = e; err == nil {
			wish, err = readWish(c, wish)
		}
		if err == nil {
			err = w.idempotentOnly(c, func(ctx context.Context) error { return w.Replan(ctx, row.ID, revision, wish) })
		}
	}
	w.changed(c, err, "")
}

// editPlan makes one change by hand.
func (w *site) editPlan(c *gin.Context) {
	kind, item := wanted(c)
	e := app.Edit{Kind: kind, ID: c.PostForm("at"), Was: c.PostForm("was"), Variant: c.PostForm("variant"), Dose: c.PostForm("dose")}
	revision, err := w.revision(c)
	for _, field := range []struct {
		name, typed string
		into        *int
		base        int
	}{{"item", item, &e.Item, 1}, {"to", c.PostForm("to"), &e.To, 1}, {"minutes", c.PostForm("minutes"), &e.Minutes, 0}} {
		if field.typed = strings.TrimSpace(field.typed); field.typed == "" || err != nil {
			continue
		}
		n, bad := strconv.Atoi(field.typed)
		if bad != nil {
			err = &formats.Invalid{Path: field.name, Want: fmt.Sprintf("expected a whole number, found %q", field.typed)}
		}
		*field.into = n - field.base
	}
	if err == nil {
		var at string
		at, err = w.idempotent(c, func(ctx context.Context) (string, error) {
			at, err := w.EditPlan(ctx, c.Param("id"), revision, e)
			return strconv.Itoa(at + 1), err
		})
		if err == nil && at != "" {
			item = at
		}
	}
	w.changed(c, err, item)
}

// wanted is what a change of an exercise asks for, and of which: some buttons say only how it
// is to be, or which is to be kept.
func wanted(c *gin.Context) (kind, item string) {
	for _, kind := range []string{"lock", "unlock"} {
		if item := c.PostForm(kind); item != "" {
			return kind, item
		}
	}
	switch kind = c.PostForm("kind"); {
	case kind != "":
	case c.PostForm("to") != "":
		kind = "move"
	case c.PostForm("dose") != "":
		kind = "dose"
	}
	return kind, c.PostForm("item")
}

func (w *site) undo(c *gin.Context) { w.step(c, w.Undo) }

func (w *site) redo(c *gin.Context) { w.step(c, w.Redo) }

func (w *site) step(c *gin.Context, by func(ctx context.Context, id string, revision int) error) {
	revision, err := w.revision(c)
	if err == nil {
		err = w.idempotentOnly(c, func(ctx context.Context) error { return by(ctx, c.Param("id"), revision) })
	}
	w.changed(c, err, c.PostForm("item"))
}

// schedule gives a plan its day and time, or makes it a draft.
func (w *site) schedule(c *gin.Context) {
	on := c.PostForm("on")
	if c.PostForm("draft") != "" {
		on = ""
	}
	err := w.idempotentOnly(c, func(ctx context.Context) error {
		if row, err := w.Store.Plan(ctx, c.Param("id")); err == nil && on != "" && on != row.On && c.PostForm("second") == "" {
			other, err := w.plannedOn(ctx, row.ClientID, on, row.ID)
			if err != nil {
				return err
			}
			if other.ID != "" {
				return &formats.Invalid{
					Path: "day",
					Want: fmt.Sprintf(
						"%s has another plan on %s already; tick “a second one that day” if that is meant",
						row.Client.Name,
						dateWords(on),
					),
				}
			}
		}
		return w.Schedule(ctx, c.Param("id"), on, c.PostForm("at"))
	})
	w.changed(c, err, c.PostForm("item"))
}

// saveTemplate keeps the plan's exercises under a name.
func (w *site) saveTemplate(c *gin.Context) {
	err := w.idempotentOnly(c, func(ctx context.Context) error { return w.SaveTemplate(ctx, c.Param("id"), c.PostForm("name")) })
	w.changed(c, err, c.PostForm("item"))
}

// planAway takes a plan away, and offers to bring it back.
func (w *site) planAway(c *gin.Context) {
	row, _, ok := w.planAndClient(c)
	if !ok {
		return
	}
	away := c.PostForm("back") == ""
	err := w.idempotentOnly(c, func(ctx context.Context) error { return w.TakePlanAway(ctx, row.ID, away) })
	switch {
	case errors.Is(err, store.ErrChanged) && row.Taught():
		w.refused(c, app.ErrTaught)
	case err != nil && !errors.Is(err, store.ErrChanged): // twice is once
		w.refused(c, err)
	case away:
		c.Redirect(http.StatusSeeOther, "/clients/"+row.ClientID+"?away="+row.ID)
	default:
		c.Redirect(http.StatusSeeOther, "/plans/"+row.ID)
	}
}

// possible says what would become possible with a chair, more minutes or a
// clearance.
func (w *site) possible(c *gin.Context) {
	row, _, r, ok := w.planAndRequest(c)
	if !ok {
		return
	}
	w.pages.render(c, http.StatusOK, "possible", gin.H{"Row": row, "Possible": tell.Possible(row.Plan, r, w.PlanLibrary())})
}
