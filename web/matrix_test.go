package web

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"regexp"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
	"restbend/core/class"
	"restbend/core/home"
	"restbend/core/lesson"
	"restbend/core/plan"
	"restbend/core/readiness"
	"restbend/core/readiness/readinesstest"
	"restbend/store"
)

// cell is one signal at one door: a client who shows it, with a plan, a programme and a class
// that were made before it was there.
type cell struct {
	*testing.T
	srv    *httptest.Server
	s      *app.Studio
	signal readiness.Signal
	door   readiness.Door
	of     readinesstest.Case

	client, plan, home, class string
	row                       store.Plan
	name                      string
}

// before is what all cells have from the time before the signal.
type before struct {
	plan  plan.Plan
	home  home.Programme
	class class.Class
	plans []plan.Plan // of the class
	other string      // who else is in the class
}

var cells atomic.Int64

func newCell(t *testing.T, srv *httptest.Server, s *app.Studio, signal readiness.Signal, door readiness.Door,
	of readinesstest.Case, b before) *cell {
	ctx, today := context.Background(), s.Today()
	x := &cell{T: t, srv: srv, s: s, signal: signal, door: door, of: of}
	k := of.On(today)
	k.Name = fmt.Sprintf("Juniper %d", cells.Add(1))
	x.name = k.Name
	var err error
	require.NoError(t, s.Store.Change(ctx, func(tx *store.Tx) (err error) { x.client, err = tx.AddClient(k, s.Now()); return err }))
	add := func() (id string) {
		require.NoError(t, s.Store.Change(ctx, func(tx *store.Tx) (err error) {
			id, err = tx.AddPlan(x.client, today.String(), "", b.plan, k, s.Now())
			return err
		}))
		return id
	}
	x.plan = add()
	require.NoError(t, s.Store.Change(ctx, func(tx *store.Tx) (err error) {
		if x.home, err = tx.AddHome(x.client, today.String(), b.home, s.Now()); err != nil {
			return err
		}
		c := store.Class{Name: "Two of us", On: today.String(), Class: b.class}
		for i := range b.class.People {
			p := store.ClassPerson{ClientID: b.other}
			if i == 0 {
				p.ClientID = x.client
			}
			if p.PlanID, err = tx.AddPlan(p.ClientID, today.String(), "", b.plans[i], k, s.Now()); err != nil {
				return err
			}
			c.People = append(c.People, p)
		}
		x.class, err = tx.AddClass(c, s.Now())
		return err
	}))
	if _, has := of.Yesterday(today); has {
		old, err := s.Store.Plan(ctx, add())
		require.NoError(t, err)
		r := of.Record(today)
		r.Plan = old.ID
		require.NoError(t, s.Store.Change(ctx, func(tx *store.Tx) error { _, err := tx.AddRecord(old, r, s.Now()); return err }))
	}
	x.row, err = s.Store.Plan(ctx, x.plan)
	require.NoError(t, err)
	c, err := s.Store.Class(ctx, x.class)
	require.NoError(t, err)
	for n, m := range of.Marks {
		for i, id := range []string{x.plan, c.People[0].PlanID} {
			row, err := s.Store.Plan(ctx, id)
			require.NoError(t, err)
			mark := lesson.Mark{ID: fmt.Sprintf("0190d5a0-0000-7000-8000-%06d%02d%04d", cells.Load(), n, i), Item: row.Plan.Items[0].ID,
				Kind: m.Kind, Score: m.Score, Where: m.Where, At: s.Now().Format(time.RFC3339), ClockS: 30}
			_, refused, err := s.KeepMarks(ctx, id, []lesson.Mark{mark})
			require.NoError(t, err)
			require.Empty(t, refused)
		}
	}
	return x
}

// marksSeen are the doors that see what was marked in a lesson of today, which is not yet over.
func (x *cell) marksSeen() bool {
	switch x.door.ID {
	case "replan", "edit", "undo", "beside", "plan_page", "check", "teach", "within", "marks", "class_check", "class_teach", "class_page":
		return true
	}
	return false
}

// status is what the table says of the cell.
func (x *cell) status() readiness.Status {
	switch {
	case len(x.of.Marks) > 0 && !x.marksSeen(), x.door.ID == "import" && (len(x.of.Past)+len(x.of.Marks) > 0):
		return readiness.Ready
	}
	return x.signal.Expected(x.door.Act)
}

// gives says whether the act of the door goes on with a status.
func (x *cell) gives() bool { return readinesstest.Gives(x.status(), x.door.Act) }

func (x *cell) get(path string) (int, string) {
	r, body := ask(x.T, http.MethodGet, x.srv.URL+path, nil, nil)
	return r.StatusCode, r.Header.Get("Location") + body
}

func (x *cell) post(path string, form url.Values) (int, string) {
	r, body := ask(x.T, http.MethodPost, x.srv.URL+path, form, nil)
	return r.StatusCode, r.Header.Get("Location") + body
}

var dayShown = regexp.MustCompile(`class="dayline is-([a-z]+)"`)

// says checks what a page says the day is.
func (x *cell) says(path string) string {
	status, body := x.get(path)
	assert.Equal(x, http.StatusOK, status, path)
	x.line(path, body)
	return body
}

func (x *cell) line(path, body string) {
	said := "ready"
	if m := dayShown.FindStringSubmatch(body); m != nil {
		said = m[1]
	}
	assert.Equal(x, string(x.status()), said, path)
}

// given checks that what is taken out is there, or refused with the reason.
func (x *cell) given(path string) {
	if x.gives() && strings.HasSuffix(path, ".pdf") && x.signal.ID != "pain_6" {
		return // that it is given on a day that gives something, one case shows
	}
	status, body := x.get(path)
	if x.gives() {
		assert.Equal(x, http.StatusOK, status, path)
		return
	}
	assert.Equal(x, http.StatusUnprocessableEntity, status, path)
	x.line(path, body)
}

// does checks that a change is made, or refused and nothing kept.
func (x *cell) does(path string, form url.Values, kept func() int) {
	had := kept()
	status, body := x.post(path, form)
	if x.gives() {
		assert.Less(x, status, 400, "%s: %.200s", path, body)
		return
	}
	assert.Equal(x, http.StatusUnprocessableEntity, status, path)
	assert.Equal(x, had, kept(), "%s: nothing is kept", path)
}

func (x *cell) revision() int {
	row, err := x.s.Store.Plan(context.Background(), x.plan)
	require.NoError(x, err)
	return row.Revision
}

func (x *cell) plans() int {
	all, err := x.s.Store.PlansOf(context.Background(), x.client)
	require.NoError(x, err)
	return len(all)
}

// walks go through each door that is a page.
var walks = map[string]func(x *cell){
	"client_page": func(x *cell) {
		for _, page := range []string{"", "/limits"} {
			x.says("/clients/" + x.client + page)
		}
	},
	"intake": func(x *cell) { x.says("/clients/" + x.client + "/edit") },
	"library": func(x *cell) {
		body := x.says("/library?client=" + x.client + "&words=bridge")
		assert.Equal(x, x.gives(), strings.Contains(body, "card-link\" href"), "what is listed")
		body = x.says("/library/bird_dog_arm?client=" + x.client)
		if !x.gives() {
			assert.Contains(x, body, "verdict-avoid")
		}
	},
	"tests": func(x *cell) { x.says("/clients/" + x.client + "/screens") },
	"bench": func(x *cell) { x.says("/lever?client=" + x.client) },
	"import": func(x *cell) {
		k := x.of.On(x.s.Today())
		k.Name = x.name + " again"
		b, err := json.Marshal(k)
		require.NoError(x, err)
		r, err := http.Post(x.srv.URL+"/exchange/uploads?name=client.json", "application/octet-stream", strings.NewReader(string(b)))
		require.NoError(x, err)
		defer r.Body.Close()
		var to struct{ At string }
		require.NoError(x, json.NewDecoder(r.Body).Decode(&to))
		status, body := x.post("/exchange/take", url.Values{"upload": {strings.TrimPrefix(to.At, "/exchange?upload=")}})
		require.Equal(x, http.StatusSeeOther, status, body)
		x.says("/clients/" + client(x.T, x.s, k.Name))
	},
	"plan": func(x *cell) {
		x.does("/clients/"+x.client+"/plans", url.Values{"minutes": {"10"}, "place": {"mat"}, "approach": {"steady"},
			"on": {x.s.Today().String()}, "second": {"yes"}}, x.plans)
	},
	"replan": func(x *cell) {
		x.does(
			"/plans/"+x.plan+"/change",
			url.Values{"minutes": {"10"}, "place": {"mat"}, "approach": {"steady"}, "revision": {"1"}},
			x.revision,
		)
	},
	"edit": func(x *cell) {
		x.does("/plans/"+x.plan+"/edit", url.Values{"kind": {"remove"}, "item": {"2"}, "revision": {"1"}}, x.revision)
	},
	"undo": func(x *cell) {
		p := x.row.Plan
		require.NoError(x, x.s.Store.Change(context.Background(),
			func(tx *store.Tx) error { return tx.ChangePlan(x.plan, 1, p, "nothing", x.s.Now()) }))
		if status, signal := x.status(), x.signal.ID; status == readiness.Gentle ||
			signal == "marked_6_limb" { // back to a plan that is not for such a day
			status, body := x.post("/plans/"+x.plan+"/undo", url.Values{"revision": {"2"}})
			assert.Equal(x, http.StatusUnprocessableEntity, status)
			assert.Contains(x, body, "is not for this client today")
			return
		}
		x.does("/plans/"+x.plan+"/undo", url.Values{"revision": {"2"}}, x.revision)
	},
	"beside": func(x *cell) {
		if x.gives() {
			x.says("/plans/" + x.plan + "/beside")
			return
		}
		x.given("/plans/" + x.plan + "/beside")
	},
	"plan_page": func(x *cell) {
		x.says("/plans/" + x.plan)
		for _, page := range []string{"/print", "/session.pdf", "/session.vtt"} {
			x.given("/plans/" + x.plan + page)
		}
	},
	"next_time": func(x *cell) { // the record is kept in any case, without a next time
		form := url.Values{"before": {"0"}, "after": {"0"}, "next": {x.s.Today().AddDate(0, 0, 7).String()}}
		x.does("/plans/"+x.plan+"/record", form, x.plans)
		if !x.gives() {
			form.Del("next")
			status, body := x.post("/plans/"+x.plan+"/record", form)
			assert.Equal(x, http.StatusSeeOther, status, "%.300s", body)
		}
	},
	"class_plan": func(x *cell) {
		x.does("/classes", url.Values{"name": {"Others"}, "on": {x.s.Today().String()}, "minutes": {"10"}, "place": {"mat"},
			"client": {x.client, client(x.T, x.s, "Marguerite")}}, x.plans)
	},
	"class_page": func(x *cell) { x.says("/classes/" + x.class); x.says("/classes/" + x.class + "/wall") },
	"check": func(x *cell) {
		switch x.signal.ID {
		case "pain_unknown", "never_asked", "old_high_pressure": // which the page itself asks
			_, body := x.get("/plans/" + x.plan + "/check")
			assert.Contains(x, body, "not asked yet")
			assert.NotRegexp(x, dayShown, body)
		default:
			x.says("/plans/" + x.plan + "/check")
		}
	},
	"teach": func(x *cell) {
		status, body := x.get("/plans/" + x.plan + "/teach")
		switch {
		case x.status() == readiness.Ask:
			assert.Equal(x, http.StatusSeeOther, status)
			assert.Contains(x, body, "/check")
		case x.gives(): // or what was planned is not for today
			assert.True(x, status == http.StatusOK || x.status() == readiness.Gentle && strings.Contains(body, "/check"), "%d", status)
		default:
			assert.Equal(x, http.StatusUnprocessableEntity, status)
			x.line("teach", body)
		}
		for _, page := range []string{"/screen", "/remote", "/lesson"} {
			x.given("/plans/" + x.plan + page)
		}
	},
	"within": func(x *cell) {
		it := x.row.Plan.Items[0]
		b, err := json.Marshal(map[string]any{"item": it.ID, "was": it.Variant, "kind": "continue", "minutes": 8})
		require.NoError(x, err)
		r, err := http.Post(x.srv.URL+"/plans/"+x.plan+"/within", "application/json", strings.NewReader(string(b)))
		require.NoError(x, err)
		defer r.Body.Close()
		assert.Equal(x, x.gives(), r.StatusCode == http.StatusOK, "%d", r.StatusCode)
		assert.Equal(x, x.gives(), x.revision() == 2)
	},
	"marks": func(x *cell) { // always kept, and heeded
		nine := 9
		_, refused, err := x.s.KeepMarks(context.Background(), x.plan,
			[]lesson.Mark{{ID: store.NewID(), Item: x.row.Plan.Items[0].ID, Kind: "pain", Where: "low_back", Score: &nine,
				At: x.s.Now().Format(time.RFC3339)}})
		require.NoError(x, err)
		assert.Empty(x, refused)
		status, _ := x.get("/plans/" + x.plan + "/teach")
		assert.NotEqual(x, http.StatusOK, status)
	},
	"class_check": func(x *cell) {
		_, body := x.get("/classes/" + x.class + "/check")
		m := regexp.MustCompile(`<span>Juniper Ashdale</span> <span class="is-([a-z]+)"`).FindStringSubmatch(body)
		require.NotNil(x, m)
		switch x.signal.ID {
		case "pain_unknown", "never_asked", "old_high_pressure": // which the page itself asks
			assert.Equal(x, string(x.signal.Expected(readiness.Plan)), m[1])
		default:
			assert.Equal(x, string(x.status()), m[1])
		}
	},
	"class_teach": func(x *cell) {
		status, body := x.get("/classes/" + x.class + "/teach")
		if x.status() == readiness.Ask {
			assert.Equal(x, http.StatusSeeOther, status)
			assert.Contains(x, body, "/check")
			return
		}
		assert.Equal(x, http.StatusOK, status)
		m := regexp.MustCompile(`"name":"Juniper".*?"out":"(.*?)"`).FindStringSubmatch(body)
		require.NotNil(x, m)
		assert.Equal(x, x.gives(), m[1] == "", "takes part")
	},
	"home": func(x *cell) {
		homes := func() int {
			all, err := x.s.Store.HomesOf(context.Background(), x.client)
			require.NoError(x, err)
			return len(all)
		}
		x.says("/homes/" + x.home)
		x.does("/clients/"+x.client+"/homes", url.Values{"items": {"3"}, "days": {"3"}}, homes)
	},
	"home_out": func(x *cell) {
		for _, page := range []string{"/sheet.pdf", "/at-home.html", "/mail"} {
			x.given("/homes/" + x.home + page)
		}
	},
	"weeks": func(x *cell) {
		x.says("/clients/" + x.client + "/weeks?weeks=2&sessions=1&minutes=10")
		x.given("/clients/" + x.client + "/weeks.ics?weeks=2&sessions=1&minutes=10")
	},
}

// TestSafetyEverySignalAtEveryDoor tries each signal at each door that is a page. A new one of
// either fails until it is covered.
func TestSafetyEverySignalAtEveryDoor(t *testing.T) {
	t.Parallel()
	_, s := demoSite(t)
	ctx := context.Background()
	// What is there before the signal, the same at every door.
	id, err := s.AddClient(ctx, readinesstest.Base(s.Today()))
	require.NoError(t, err)
	other := readinesstest.Base(s.Today())
	other.Name = "Rowan Ashdale"
	b := before{}
	b.other, err = s.AddClient(ctx, other)
	require.NoError(t, err)
	planID, err := s.AddPlan(ctx, id, app.Wish{Minutes: 10, Place: "mat"}, s.Today().String(), "")
	require.NoError(t, err)
	row, err := s.Store.Plan(ctx, planID)
	require.NoError(t, err)
	b.plan = row.Plan
	homeID, err := s.AddHome(ctx, id, 3, 3)
	require.NoError(t, err)
	h, err := s.Store.Home(ctx, homeID)
	require.NoError(t, err)
	b.home = h.Programme
	classID, err := s.AddClass(ctx, app.ClassWish{Name: "Two", Clients: []string{id, b.other}, Place: "mat", Minutes: 10,
		On: s.Today().String()})
	require.NoError(t, err)
	k, err := s.Store.Class(ctx, classID)
	require.NoError(t, err)
	b.class = k.Class
	for _, p := range k.People {
		row, err := s.Store.Plan(ctx, p.PlanID)
		require.NoError(t, err)
		b.plans = append(b.plans, row.Plan)
	}

	for _, d := range readiness.Doors {
		if d.On != readiness.Page {
			continue
		}
		walk, covered := walks[d.ID]
		if !assert.True(t, covered, "nobody walks through the door %s", d.ID) {
			continue
		}
		t.Run(d.ID, func(t *testing.T) {
			t.Parallel()
			srv, s := demoSite(t) // its own, so that lists stay short
			b := b
			var err error
			b.other, err = s.AddClient(ctx, other)
			require.NoError(t, err)
			for _, signal := range readiness.Signals {
				of, covered := readinesstest.For(signal.ID)
				require.True(t, covered, signal.ID)
				t.Run(signal.ID, func(t *testing.T) { walk(newCell(t, srv, s, signal, d, of, b)) })
			}
		})
	}
}
