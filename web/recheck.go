package web

import (
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/limit"
	"restbend/store"
)

// recheck opens a visit: the warning signs again, briefly, and pain today.
type recheck struct {
	Row     store.Plan
	Client  store.Client
	Pain    string
	Refusal string
	// Pressure is asked of whoever has raised blood pressure.
	AskPressure bool
	Pressure    string
}

func (w *site) recheck(c *gin.Context) {
	row, client, ok := w.planAndClient(c)
	if !ok {
		return
	}
	w.showRecheck(c, http.StatusOK, recheck{Row: row, Client: client, Pain: strconv.Itoa(row.Plan.PainNow), AskPressure: client.Client.Has("raised_blood_pressure")})
}

func (w *site) showRecheck(c *gin.Context, status int, r recheck) {
	w.pages.render(c, status, "recheck", gin.H{"Check": r, "Flags": limit.RedFlags})
}

// keepRecheck keeps what was answered. A warning sign stops the session; another
// pain than the plan was made for plans it anew, to be looked over.
func (w *site) keepRecheck(c *gin.Context) {
	row, client, ok := w.planAndClient(c)
	if !ok {
		return
	}
	typed, pressure := strings.TrimSpace(c.PostForm("pain")), strings.TrimSpace(c.PostForm("pressure"))
	asks := client.Client.Has("raised_blood_pressure")
	pain, err := strconv.Atoi(typed)
	if err != nil || pain < 0 || pain > 10 {
		w.showRecheck(c, http.StatusUnprocessableEntity, recheck{row, client, typed, fmt.Sprintf("Pain now: expected a whole number from 0 to 10, found %q. Nothing was saved yet.", typed), asks, pressure})
		return
	}
	k := client.Client
	if asks {
		var refusal string
		if k, refusal = withPressure(k, pressure); refusal != "" {
			w.showRecheck(c, http.StatusUnprocessableEntity, recheck{row, client, typed, refusal, asks, pressure})
			return
		}
	}
	k.RedFlags, k.Pain.Now = c.PostFormArray("red_flags"), &pain
	if k.Pain.Worst24h != nil && *k.Pain.Worst24h < pain {
		k.Pain.Worst24h = &pain
	}
	if err := w.ChangeClient(c, client.ID, client.Version, k); err != nil {
		w.refused(c, err)
		return
	}
	switch {
	case len(k.RedFlags) > 0:
		c.Redirect(http.StatusSeeOther, "/clients/"+client.ID)
	case w.Limits(k, w.Today()).Status() == limit.Refer:
		c.Redirect(http.StatusSeeOther, "/clients/"+client.ID)
	case pain != row.Plan.PainNow && !row.Taught():
		wish := app.WishOf(row.Plan)
		wish.PainNow = &pain
		if err := w.Replan(c, row.ID, row.Revision, wish); err != nil {
			w.refused(c, err)
			return
		}
		c.Redirect(http.StatusSeeOther, "/plans/"+row.ID)
	default:
		c.Redirect(http.StatusSeeOther, "/plans/"+row.ID+"/teach")
	}
}

// withPressure is a client with the resting blood pressure of today; none leaves the
// session planned as not under control.
func withPressure(k limit.Client, typed string) (with limit.Client, refusal string) {
	var upper, lower int
	if n, _ := fmt.Sscanf(typed, "%d/%d", &upper, &lower); typed != "" && (n != 2 || upper < 60 || upper > 280 || lower < 30 || lower >= upper) {
		return k, fmt.Sprintf("Blood pressure: expected a reading such as 128/78, found %q. Nothing was saved yet.", typed)
	}
	k.RestingPressure = typed
	k.Conditions = slices.Clone(k.Conditions)
	for i := range k.Conditions {
		if k.Conditions[i].ID == "raised_blood_pressure" {
			k.Conditions[i] = k.Conditions[i].With("reading", typed)
		}
	}
	return k, ""
}

// addClearance loosens one rule on a clinician's word, which is kept and shown
// ever after; removeClearance takes that back.
func (w *site) addClearance(c *gin.Context) {
	w.changeClearances(c, func(k limit.Client) limit.Client {
		on := c.PostForm("on")
		if on == "" {
			on = w.Today().Format(time.DateOnly)
		}
		k.Clearances = append(slices.Clone(k.Clearances), limit.Clearance{Rule: c.PostForm("rule"), By: strings.TrimSpace(c.PostForm("by")), On: on,
			Note: strings.TrimSpace(c.PostForm("note"))})
		return k
	})
}

func (w *site) removeClearance(c *gin.Context) {
	w.changeClearances(c, func(k limit.Client) limit.Client {
		k.Clearances = slices.DeleteFunc(slices.Clone(k.Clearances), func(x limit.Clearance) bool { return x.Rule == c.PostForm("rule") })
		return k
	})
}

func (w *site) changeClearances(c *gin.Context, change func(limit.Client) limit.Client) {
	row, err := w.Store.Client(c, c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	if err := w.ChangeClient(c, row.ID, row.Version, change(row.Client)); err != nil {
		status, sentence := w.sentence(c, err)
		if status != http.StatusUnprocessableEntity {
			fail(c, status, sentence)
			return
		}
		w.showClient(c, status, row, sentence+" Nothing was loosened.")
		return
	}
	c.Redirect(http.StatusSeeOther, "/clients/"+row.ID+"#limits")
}
