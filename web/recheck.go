package web

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/limit"
	"restbend/core/readiness"
	"restbend/formats"
	"restbend/store"
)

// recheck opens a visit: pain today and where, and the warning signs again, in five groups
// that open.
type recheck struct {
	Row     store.Plan
	Client  store.Client
	Refusal string
	Last    string // what the last session says, in words
	Form    url.Values
	// AskPressure is whether blood pressure is asked for.
	AskPressure bool
	Groups      []signGroup
	Places      []painPlace
	New         []app.Choice
	Verdict     checkVerdict
}

// signGroup is some warning signs under the words that they are asked with.
type signGroup struct {
	Words  string
	Flags  []flagBox
	Marked bool
}

// painPlace is where it may hurt: a place, with its side after a colon for a limb.
type painPlace struct {
	Value, Words string
	Marked       bool
}

// checkVerdict is what follows from the answers so far.
type checkVerdict struct {
	Day     dayLine
	Says    string // on the way to the lesson
	Refusal string
	Begins  bool
}

// signGroups are the words that signs are asked with before a lesson, most urgent first.
var signGroups = []struct {
	words string
	ids   []string
}{
	{"Saddle numbness, bladder, bowel, both legs", []string{"saddle_numbness", "bladder_bowel_change", "sexual_dysfunction_new",
		"both_legs_symptoms"}},
	{"Weaker leg, dragging foot, clumsy hands", []string{"progressive_leg_weakness", "new_foot_drop", "hand_clumsiness_or_gait_change"}},
	{"Chest, breath, a hot calf, faint", []string{"chest_pain_at_rest", "breathless_at_rest", "tearing_pain",
		"chest_pain_on_effort", "calf_swollen_hot", "limb_hot_red", "dizziness_on_effort"}},
	{"Worst headache, double vision, speech", []string{"stroke_signs", "sudden_worst_headache", "neck_pain_with_head_signs"}},
	{"A fall or blow, fever, weight loss, night pain",
		[]string{"new_fracture_suspected", "significant_trauma", "fever_unwell", "wound_leaking", "infection_risk",
			"history_of_cancer_new_pain", "unexplained_weight_loss", "night_pain_unremitting", "no_position_of_ease", "pain_increasing"}},
}

// painPlaces are where it may hurt, as they are asked.
var painPlaces = []painPlace{{"neck", "neck", false}, {"shoulder", "shoulder, arm", false}, {"upper_back", "upper back", false},
	{"hip", "hip, groin", false},
	{"low_back", "low back", false}, {"knee", "knee", false}, {"thigh:left", "left leg", false}, {"thigh:right", "right leg", false}}

// newChoices are what may be new with pain.
var newChoices = []app.Choice{{Value: "blow", Words: "after a fall or blow"}, {Value: "night", Words: "at night"},
	{Value: "limb_pain", Words: "down an arm or leg"},
	{Value: "numbness", Words: "numbness"}, {Value: "tingling", Words: "tingling"}, {Value: "weakness", Words: "weakness"}}

func (w *site) recheck(c *gin.Context) {
	row, client, ok := w.planAndClient(c)
	if !ok {
		return
	}
	form := url.Values{}
	today := w.Today().String()
	if p := client.Client.Pain; p.Now != nil && p.On == today { // asked already today
		form.Set("pain", strconv.Itoa(*p.Now))
	}
	if t := client.Client.Today; t != nil && t.On == today {
		for _, where := range t.Where {
			form.Add("where", strings.TrimSuffix(where+":"+t.Side, ":"))
		}
	}
	w.showRecheck(c, http.StatusOK, row, client, form, "")
}

func (w *site) showRecheck(c *gin.Context, status int, row store.Plan, client store.Client, form url.Values, refusal string) {
	r := recheck{Row: row, Client: client, Refusal: refusal, Form: form, AskPressure: app.AsksPressure(client.Client),
		New: newChoices, Last: w.lastPain(c, client)}
	for _, g := range signGroups {
		group := signGroup{Words: g.words}
		for _, id := range g.ids {
			f, _ := limit.FindRedFlag(id)
			box := flagBox{f, contains(form["red_flags"], id)}
			group.Flags, group.Marked = append(group.Flags, box), group.Marked || box.Marked
		}
		r.Groups = append(r.Groups, group)
	}
	for _, p := range painPlaces {
		p.Marked = contains(form["where"], p.Value)
		r.Places = append(r.Places, p)
	}
	r.Verdict = w.verdictOf(c, row, client, form)
	w.pages.render(c, status, "recheck", r)
}

func contains(list []string, value string) bool {
	for _, v := range list {
		if v == value {
			return true
		}
	}
	return false
}

// lastPain says what pain the last session was begun with, and when.
func (w *site) lastPain(c *gin.Context, k store.Client) string {
	rows, err := w.Store.RecordsOf(c.Request.Context(), k.ID)
	if err != nil || len(rows) == 0 {
		return ""
	}
	last := rows[len(rows)-1].Record
	if last.Pain.Before == nil {
		return ""
	}
	return fmt.Sprintf("last time %d, %s", *last.Pain.Before, ago(last.On, w.Today()))
}

// readVisit reads the answers of a check; ask is the sentence where they cannot be read.
func readVisit(form url.Values, asksPressure bool) (v app.Visit, ask string) {
	typed := strings.TrimSpace(form.Get("pain"))
	pain, err := strconv.Atoi(typed)
	if typed == "" {
		return v, "Pain now: ask, and tap a figure."
	}
	if err != nil || pain < 0 || pain > 10 {
		return v, fmt.Sprintf("Pain now: expected a whole number from 0 to 10, found %q.", typed)
	}
	v = app.Visit{Asked: form.Get("asked") == "yes", RedFlags: form["red_flags"], Pain: pain, New: form["new"],
		Dizzy: form.Get("dizzy") == "yes"}
	sides := map[string]bool{}
	for _, where := range form["where"] {
		place, side, _ := strings.Cut(where, ":")
		v.Where = append(v.Where, place)
		sides[side] = true
	}
	if len(v.Where) == 2 && v.Where[0] == v.Where[1] { // both legs are two parts
		v.Where[1] = "calf"
	}
	for side := range sides {
		if v.Side = side; len(sides) > 1 {
			v.Side = ""
		}
	}
	if asksPressure {
		pressure := strings.TrimSpace(form.Get("pressure"))
		v.Pressure = &pressure
	}
	if typed := strings.TrimSpace(form.Get("pulse")); typed != "" {
		n, err := strconv.Atoi(typed)
		if err != nil {
			return v, fmt.Sprintf("Pulse: expected beats a minute as a whole number, found %q.", typed)
		}
		v.Pulse = &n
	}
	return v, ""
}

// verdictOf says what the answers so far lead to, without keeping them.
func (w *site) verdictOf(c *gin.Context, row store.Plan, client store.Client, form url.Values) checkVerdict {
	v, ask := readVisit(form, app.AsksPressure(client.Client))
	if ask != "" || !v.Asked && len(v.RedFlags) == 0 {
		return w.unanswered(c, row, client)
	}
	r, stay, err := w.TryVisit(c.Request.Context(), row, client, v)
	var invalid *formats.Invalid
	switch {
	case errors.As(err, &invalid):
		return checkVerdict{Refusal: app.Capital(invalid.Error()) + "."}
	case err != nil:
		w.log.Error("check", "request", c.GetString("request"), "cause", err)
		return checkVerdict{Says: "not asked yet"}
	}
	out := checkVerdict{Day: w.dayOf(r), Begins: r.Gives(), Says: "as planned"}
	switch n := len(row.Plan.Items); {
	case !r.Gives():
		out.Says = "what to do instead"
	case stay < n:
		out.Says = fmt.Sprintf("%d of %d stay", stay, n)
	case v.Pain != row.Plan.PainNow:
		out.Says = "planned anew for this pain"
	}
	return out
}

// unanswered is the verdict before anything was answered: what the client's file says already,
// but for what the page itself asks.
func (w *site) unanswered(c *gin.Context, row store.Plan, client store.Client) checkVerdict {
	out := checkVerdict{Says: "not asked yet"}
	day, err := w.ReadyForPlan(c.Request.Context(), row, client.Client, readiness.Teach)
	if err != nil {
		w.log.Error("check", "request", c.GetString("request"), "cause", err)
		return out
	}
	for _, why := range day.Readiness.Because {
		if !slices.Contains(askedBefore, why.Rule) {
			out.Day = w.dayOf(day.Readiness)
		}
	}
	return out
}

// askedBefore are the questions that the check of a lesson asks.
var askedBefore = []string{"pain.unknown", "client.never_asked", "pressure.again"}

// keepRecheck keeps what was answered. Where the day allows no lesson the client is sent on;
// a plan that does not fit the day is made again, to be looked over.
func (w *site) keepRecheck(c *gin.Context) {
	row, client, ok := w.planAndClient(c)
	if !ok {
		return
	}
	posted := form(c)
	if c.GetHeader("HX-Request") == "true" && posted.Get("begin") == "" { // what would follow
		w.pages.render(c, http.StatusOK, "verdict", w.verdictOf(c, row, client, posted))
		return
	}
	v, ask := readVisit(posted, app.AsksPressure(client.Client))
	if ask != "" {
		w.showRecheck(c, http.StatusUnprocessableEntity, row, client, posted, ask+" Nothing was saved yet.")
		return
	}
	then, err := w.idempotent(c, func(ctx context.Context) (string, error) { return w.StartVisit(ctx, row.ID, v) })
	var invalid *formats.Invalid
	switch {
	case errors.As(err, &invalid):
		w.showRecheck(c, http.StatusUnprocessableEntity, row, client, posted, app.Capital(invalid.Error())+". Nothing was saved yet.")
	case err != nil:
		w.refused(c, err)
	case then == app.Referred:
		c.Redirect(http.StatusSeeOther, "/clients/"+client.ID)
	case then == app.PlannedAnew:
		c.Redirect(http.StatusSeeOther, "/plans/"+row.ID)
	default:
		c.Redirect(http.StatusSeeOther, "/plans/"+row.ID+"/teach")
	}
}
