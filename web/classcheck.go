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
	"restbend/core/limit"
	"restbend/core/readiness"
	"restbend/formats"
	"restbend/store"
)

// The check before a class: one sentence to the room, exceptions by name.

// classCheck is the page of the check.
type classCheck struct {
	Row     store.Class
	People  []classAsked
	Places  []painPlace
	Flags   []limit.RedFlag
	Form    url.Values
	Refusal string
}

// classAsked is one person, with what was said of them so far.
type classAsked struct {
	ID, Name string
	Day      dayLine
	Pain     string
	Open     bool
	Out      bool // not in the class as it is planned
}

func (w *site) classCheck(c *gin.Context) {
	k, ok := w.theClass(c)
	if !ok {
		return
	}
	w.showClassCheck(c, http.StatusOK, k, url.Values{}, "")
}

func (w *site) showClassCheck(c *gin.Context, status int, k store.Class, form url.Values, refusal string) {
	if k.Gone != "" || k.Taught() {
		c.Redirect(http.StatusSeeOther, classLink(k.ID))
		return
	}
	days, err := w.ClassReady(c.Request.Context(), k, readiness.Plan)
	if err != nil {
		w.refused(c, err)
		return
	}
	p := classCheck{Row: k, Places: painPlaces, Flags: limit.RedFlags, Form: form, Refusal: refusal}
	for i, who := range k.People {
		a := classAsked{ID: who.ClientID, Name: k.Class.People[i].Name, Day: w.dayOf(days[i].Readiness),
			Pain: form.Get("pain." + who.ClientID), Out: who.PlanID == ""}
		a.Open = a.Pain != "" || form.Get("sign."+who.ClientID) != ""
		p.People = append(p.People, a)
	}
	w.pages.render(c, status, "classcheck", p)
}

// readClassVisit reads what was said of everybody; ask is the sentence where it cannot be
// read.
func readClassVisit(form url.Values, k store.Class) (v app.ClassVisit, ask string) {
	v = app.ClassVisit{Asked: form.Get("asked") == "yes", Absent: form["absent"], Except: map[string]app.ClassAnswer{}}
	for i, who := range k.People {
		pain, sign, where := strings.TrimSpace(
			form.Get("pain."+who.ClientID),
		), form.Get(
			"sign."+who.ClientID,
		), form.Get(
			"where."+who.ClientID,
		)
		if pain == "" && sign == "" && where == "" {
			continue
		}
		said := app.ClassAnswer{Sign: sign}
		if pain != "" {
			n, err := strconv.Atoi(pain)
			if err != nil || n < 0 || n > 10 {
				return v, fmt.Sprintf("Pain of %s: expected a whole number from 0 to 10, found %q.", k.Class.People[i].Name, pain)
			}
			said.Pain = &n
		}
		if where != "" {
			said.Where, said.Side, _ = strings.Cut(where, ":")
		}
		v.Except[who.ClientID] = said
	}
	return v, ""
}

func (w *site) keepClassCheck(c *gin.Context) {
	k, ok := w.theClass(c)
	if !ok {
		return
	}
	posted := form(c)
	v, ask := readClassVisit(posted, k)
	if ask != "" {
		w.showClassCheck(c, http.StatusUnprocessableEntity, k, posted, ask+" Nothing was saved yet.")
		return
	}
	then, err := w.idempotent(c, func(ctx context.Context) (string, error) { return w.StartClass(ctx, k.ID, k.Revision, v) })
	var invalid *formats.Invalid
	switch {
	case errors.As(err, &invalid):
		w.showClassCheck(c, http.StatusUnprocessableEntity, k, posted, app.Capital(invalid.Error())+". Nothing was saved yet.")
	case err != nil:
		w.refused(c, err)
	case then == app.PlannedAnew:
		c.Redirect(http.StatusSeeOther, classLink(k.ID))
	default:
		c.Redirect(http.StatusSeeOther, classLink(k.ID)+"/teach")
	}
}
