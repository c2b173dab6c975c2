package web

import (
	"context"
	"errors"
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/readiness"
	"restbend/draw"
	"restbend/formats"
	"restbend/store"
)

type clientRow struct {
	store.Client
	Caution string
	Age     string
	Last    string
	Pain    string
	Refer   bool
}

// pageOfClients is how many clients a page of the list has.
const pageOfClients = 60

func (w *site) clients(c *gin.Context) {
	q := strings.TrimSpace(c.Query("q"))
	page, all, err := w.Store.ClientPage(c.Request.Context(), q, c.Query("after"), c.Query("id"), pageOfClients+1)
	if err != nil {
		w.refused(c, err)
		return
	}
	next := ""
	if len(page) > pageOfClients {
		page = page[:pageOfClients]
		last := page[pageOfClients-1]
		next = "/clients?" + url.Values{"q": {q}, "after": {last.Client.Client.Name}, "id": {last.ID}}.Encode()
	}
	var rows []clientRow
	for _, k := range page {
		row := clientRow{
			Client:  k.Client,
			Caution: w.Library.Conditions.Words(k.Client.Client),
			Age:     age(k.Client.Client.BirthYear, w.Today()),
			Refer:   w.Limits(k.Client.Client, w.Today()).Status() == limit.Refer,
		}
		if k.LastOn != "" {
			row.Last = ago(k.LastOn, w.Today())
		}
		rows = append(rows, row)
	}
	begun, err := w.Store.Intakes(c.Request.Context())
	if err != nil {
		w.refused(c, err)
		return
	}
	away, err := w.Store.Client(c.Request.Context(), c.Query("away"))
	if err != nil || away.Gone == "" {
		away = store.Client{} // nothing to bring back
	}
	w.pages.render(c,
		http.StatusOK,
		"clients",
		gin.H{
			"Clients": rows,
			"All":     all,
			"Next":    next,
			"Later":   c.Query("after") != "",
			"Q":       q,
			"Many":    all > 12 || q != "",
			"Begun":   begun,
			"Away":    away,
		},
	)
}

func (w *site) client(c *gin.Context) {
	k, err := w.Store.Client(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	w.showClient(c, http.StatusOK, k, "", nil)
}

// clientAway takes a client off every list, or brings it back.
func (w *site) clientAway(c *gin.Context) {
	away := c.PostForm("back") == ""
	err := w.idempotentOnly(c, func(ctx context.Context) error { return w.TakeClientAway(ctx, c.Param("id"), away) })
	if errors.Is(err, store.ErrChanged) { // it was so already, or there is none
		_, err = w.Store.Client(c.Request.Context(), c.Param("id"))
	}
	switch {
	case err != nil:
		w.refused(c, err)
	case away:
		c.Redirect(http.StatusSeeOther, "/clients?away="+url.QueryEscape(c.Param("id")))
	default:
		c.Redirect(http.StatusSeeOther, "/clients/"+url.PathEscape(c.Param("id")))
	}
}

// showClient writes the page of a client; twice is a plan of the day for which another was
// asked, nil for none.
func (w *site) showClient(c *gin.Context, status int, k store.Client, refusal string, twice *store.Plan) {
	set, err := w.ReadyFor(c.Request.Context(), k.ID, k.Client, nil, w.Today(), readiness.Plan)
	if err != nil {
		w.refused(c, err)
		return
	}
	day := w.clientDay(c, k, set.Readiness)
	set.Limits = w.Limits(k.Client, w.Today()).Limits // as they are: a verdict knows no gentle day
	records, err := w.Store.RecordsOf(c.Request.Context(), k.ID)
	if err != nil {
		w.refused(c, err)
		return
	}
	coming, err := w.Store.PlansComing(c.Request.Context(), k.ID, mostComing+1)
	if err != nil {
		w.refused(c, err)
		return
	}
	more := len(coming) > mostComing
	if more {
		coming = coming[:mostComing]
	}
	taught, _, err := w.Store.Taught(c.Request.Context(), k.ID)
	if err != nil {
		w.refused(c, err)
		return
	}
	templates, err := w.Store.Templates(c.Request.Context())
	if err != nil {
		w.refused(c, err)
		return
	}
	forgot, err := w.Store.Template(c.Request.Context(), c.Query("forgot"))
	if err != nil || slices.ContainsFunc(templates, func(t store.Template) bool { return t.ID == forgot.ID }) {
		forgot = store.Template{} // nothing to bring back
	}
	away, err := w.Store.Plan(c.Request.Context(), c.Query("away"))
	if err != nil || away.Gone == "" || away.ClientID != k.ID {
		away = store.Plan{} // nothing to bring back
	}
	if len(records) > 8 {
		records = records[len(records)-8:]
	}
	next, err := w.nextView(c.Request.Context(), k, records, visitorOf(c).Look.Units)
	if err != nil {
		w.refused(c, err)
		return
	}
	homes, err := w.Store.HomesOf(c.Request.Context(), k.ID)
	if err != nil {
		w.refused(c, err)
		return
	}
	wish := wishOf(k.Client)
	if next.PainNow != nil {
		wish.PainNow = next.PainNow
	}
	trends, err := w.trendsOf(c.Request.Context(), k)
	if err != nil {
		w.refused(c, err)
		return
	}
	w.pages.render(c, status, "client", gin.H{
		"Twice":      twice,
		"Client":     k,
		"Age":        age(k.Client.BirthYear, w.Today()),
		"Caution":    w.Library.Conditions.Words(k.Client),
		"Set":        set,
		"Day":        day,
		"Promises":   app.Promises(set.Limits),
		"NotNow":     app.NotNow(set.Limits),
		"Records":    records,
		"String":     template.HTML(draw.SVGPainString(painPoints(records), draw.Light)),
		"Coming":     coming,
		"MoreComing": more,
		"Wish":       wish,
		"Homes":      homes,
		"Works": app.WorksWith(k.Client.Equipment, k.Client.Owned,
			visitorOf(c).Look.Units),
		"Places":     exercise.Places,
		"Approaches": exercise.Approaches,
		"Today":      w.Today().String(),
		"Curves":     curvesView(k),
		"Clock":      w.clockOf(k),
		"Refusal":    refusal,
		"Rules":      w.ruleReasons(set.Limits),
		"Quantities": instructable(),
		"Session":    sessionLines(set.Limits),
		"Templates":  templates,
		"Forgot":     forgot,
		"Away":       away,
		"Next":       next,
		"Reach": reachOf(set.Limits,
			exercise.Measured{}, k.Client),
		"Trends": trendViews(trends),
		"Taught": taught > 0,
	})
}

// mostComing is how many planned sessions a client's page lists.
const mostComing = 40

// mostChoices is how many clients a list to choose from has.
const mostChoices = 150

// choices are the clients to choose from: those that were changed last, by name, and
// whoever is chosen already.
func (w *site) choices(ctx context.Context, chosen ...string) ([]store.Client, error) {
	out, err := w.Store.ClientsOfLate(ctx, mostChoices)
	for _, id := range chosen {
		if err != nil {
			break
		}
		if id == "" || slices.ContainsFunc(out, func(k store.Client) bool { return k.ID == id }) {
			continue
		}
		var k store.Client
		if k, err = w.Store.Client(ctx, id); errors.Is(err, store.ErrNotFound) {
			err = nil // told where it is used
			continue
		}
		out = append(out, k)
	}
	slices.SortFunc(out, func(a, b store.Client) int {
		return strings.Compare(strings.ToLower(a.Client.Name), strings.ToLower(b.Client.Name))
	})
	return out, err
}

// quantity is a movement quantity that a clinician may set a figure for.
type quantity struct{ ID, Words, Unit string }

// instructable are the quantities that a figure can be set for.
func instructable() []quantity {
	units := map[exercise.Unit]string{
		exercise.Degrees:  "degrees",
		exercise.Share:    "% of body weight",
		exercise.Moment:   "N·m",
		exercise.Standing: "times quiet standing",
		exercise.Newtons:  "N",
		exercise.Seconds:  "seconds",
		exercise.Points:   "of 10",
	}
	var out []quantity
	for _, q := range exercise.Registry {
		if unit := units[q.Unit]; q.Kind == exercise.Number && !q.Inner && unit != "" {
			out = append(out, quantity{q.ID, q.Words, unit})
		}
	}
	return out
}

// sessionLines say what a whole session may hold, beside what holds for everybody.
func sessionLines(set limit.Limits) []app.Promise {
	var out []app.Promise
	for _, k := range set.Session() {
		if k.Count != limit.WristSeconds {
			out = append(out, app.Promise{Text: plan.CountWords(k.Count, k.Max), Reasons: k.Reasons})
		}
	}
	return out
}

// ruleReasons are the rules that hold for a client, each once, for loosening.
func (w *site) ruleReasons(set limit.Limits) []limit.Reason {
	var out []limit.Reason
	for l := range set.Rows() {
		for _, r := range l.Reasons {
			known := slices.ContainsFunc(out, func(o limit.Reason) bool { return o.Rule == r.Rule })
			kind, _, _ := strings.Cut(r.Rule, ".")
			if !known && w.Library.Conditions.Condition(kind) != nil {
				out = append(out, r)
			}
		}
	}
	return out
}

func painPoints(records []store.Record) []draw.PainPoint {
	var out []draw.PainPoint
	for _, r := range records {
		p := draw.PainPoint{Label: shortDate(r.On), Before: r.Record.Pain.Before, After: r.Record.Pain.After}
		if f := r.Record.FollowUp; f != nil {
			p.Next = f.PainNextDay
		}
		out = append(out, p)
	}
	return out
}

// wishOf is what a plan for the client starts from.
func wishOf(c limit.Client) app.Wish {
	w := app.Wish{Minutes: c.Minutes, Place: c.Place, Approach: c.Approach, PainNow: c.Pain.Now}
	if w.Minutes == 0 {
		w.Minutes = limit.DefaultMinutes
	}
	if w.Place == "" {
		w.Place = "mat"
	}
	if w.Approach == "" {
		w.Approach = "steady"
	}
	if w.PainNow == nil {
		zero := 0
		w.PainNow = &zero
	}
	return w
}

func (w *site) addPlan(c *gin.Context) {
	k, err := w.Store.Client(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	wish, err := readWish(c, wishOf(k.Client))
	if p := k.Client.Pain.Now; c.PostForm("pain") == "" || p != nil && wish.PainNow != nil && *p == *wish.PainNow {
		wish.PainNow = nil // nobody said anything new
	}
	on := c.PostForm("on")
	if on == "" {
		on = w.Today().String()
	}
	if c.PostForm("draft") != "" {
		on = ""
	}
	var id string
	if err == nil {
		kind, from, _ := strings.Cut(c.PostForm("from"), ":")
		id, err = w.idempotent(c, func(ctx context.Context) (string, error) {
			if _, _, err := w.Request(k.Client, wish, w.Today()); err != nil {
				return "", err
			}
			other, err := w.plannedOn(ctx, k.ID, on, "")
			switch {
			case err != nil:
				return "", err
			case on != "" && other.ID != "" && c.PostForm("second") == "":
				return "", &twiceError{other}
			}
			switch kind {
			case "":
				return w.AddPlan(ctx, k.ID, wish, on, c.PostForm("at"))
			case "last":
				return w.CopyLast(ctx, k.ID, wish, on, c.PostForm("at"))
			case "template":
				return w.FromTemplate(ctx, k.ID, from, wish, on, c.PostForm("at"))
			}
			return "", &formats.Invalid{Path: "from", Want: fmt.Sprintf("%q is nothing to plan from; expected last or a template", kind)}
		})
	}
	var twice *twiceError
	if errors.As(err, &twice) {
		w.showClient(c, http.StatusConflict, k, "", &twice.other)
		return
	}
	var invalid *formats.Invalid
	if errors.As(err, &invalid) || errors.Is(err, app.ErrRefer) {
		status, sentence := w.sentence(c, err)
		w.showClient(c, status, k, sentence, nil)
		return
	}
	if err != nil {
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/plans/"+id)
}

// twiceError refuses a second plan of one day that nobody said is meant.
type twiceError struct{ other store.Plan }

func (*twiceError) Error() string { return "there is a plan for that day already" }

// plannedOn is another plan of a client on a day, not taught yet; none has no id.
func (w *site) plannedOn(ctx context.Context, clientID, on, except string) (store.Plan, error) {
	coming, err := w.Store.PlansComing(ctx, clientID, mostComing)
	if err != nil {
		return store.Plan{}, err
	}
	for _, p := range coming {
		if p.On == on && p.ID != except {
			return p, nil
		}
	}
	return store.Plan{}, nil
}

// forgetTemplate takes a template away, and offers to bring it back; plans made from
// it stay.
func (w *site) forgetTemplate(c *gin.Context) {
	w.template(c, true, "?forgot="+url.QueryEscape(c.Param("id")))
}

// keepTemplate brings back a template that was forgotten.
func (w *site) keepTemplate(c *gin.Context) { w.template(c, false, "") }

func (w *site) template(c *gin.Context, forgotten bool, query string) {
	if err := w.Store.Change(
		c.Request.Context(),
		func(t *store.Tx) error { return t.ForgetTemplate(c.Param("id"), forgotten) },
	); err != nil &&
		!errors.Is(err, store.ErrChanged) {
		w.refused(c, err)
		return
	}
	to := "/clients"
	if id := c.PostForm("client"); id != "" {
		to += "/" + url.PathEscape(id) + query
	}
	c.Redirect(http.StatusSeeOther, to)
}
