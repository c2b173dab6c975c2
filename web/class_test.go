package web

import (
	"context"
	"net/http"
	"net/http/httptest"
	"net/url"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/readiness"
	"restbend/store"
)

// theDemoClass is the class of the story.
func theDemoClass(t *testing.T, s interface {
	Classes(context.Context, string, string) ([]store.Class, error)
}) store.Class {
	t.Helper()
	all, err := s.Classes(context.Background(), "", "9999")
	require.NoError(t, err)
	require.NotEmpty(t, all)
	return all[0]
}

// TestAClassIsBuiltTaughtAndKept: three are chosen on the page, the class is worked out and
// taught, two are marked, one leaves, and each has a record of her own that says so.
func TestAClassIsBuiltTaughtAndKept(t *testing.T) {
	t.Parallel()
	h, s := demoHandler(t)
	began := time.Now()
	s.Now = func() time.Time { return now.Add(time.Since(began)) }
	srv := httptest.NewServer(h)
	defer srv.Close()
	ctx := context.Background()
	b := newBrowser(t, 1280, 800)
	b.open(srv.URL + "/classes")
	b.accessible("classes")
	b.do(chromedp.SendKeys(`.class-form [name=name]`, "Noon"))
	for _, name := range []string{"Marguerite", "Ottilie", "Barnaby"} {
		b.press(`.class-people label:has(input[value="` + client(t, s, name) + `"])`)
	}
	b.press(".class-form .tongue")
	b.until(`document.querySelector("h1").innerText === "Noon"`)
	b.accessible("class")
	assert.Contains(t, b.text(".class-head"), "3 people")
	all, err := s.Store.Classes(ctx, "", "9999")
	require.NoError(t, err)
	k := all[0]
	require.Equal(t, "Noon", k.Name)
	require.Len(t, k.Class.Items[0].Versions, 3)

	b.press(`a[href="/classes/` + k.ID + `/check"]`) // everybody is asked first
	b.until(`document.querySelector(".asked-all")`)
	b.accessible("the check of a class")
	b.press(".asked-all")
	b.press(".begin")
	b.until(`document.getElementById("ct")?.dataset.ready === "yes"`)
	k, err = s.Store.Class(ctx, k.ID)
	require.NoError(t, err)
	b.accessible("class, taught")
	b.do(chromedp.KeyEvent(kb.ArrowRight)) // all have done the first
	name := func(who string) string {
		return `[...document.querySelectorAll(".ct-people button")].find((b) => b.innerText.startsWith("` + who + `"))`
	}
	tap := func(who string) { read[bool](b, name(who)+`.click() || true`) }
	tap("Ottilie") // two taps: who, and how much it hurts
	b.press(`#ct-scores button:nth-child(5)`)
	tap("Ottilie") // less by now, which is not what the record keeps
	b.press(`#ct-scores button:nth-child(2)`)
	assert.Contains(t, read[string](b, name("Ottilie")+".innerText"), "pain 5, pain 2")
	tap("Barnaby")
	b.press("#ct-skip")
	tap("Marguerite")
	b.press("#ct-skip")
	b.do(chromedp.KeyEvent("u")) // that was a slip
	b.until(`document.getElementById("ct-said").innerText === "Taken back."`)
	b.do(chromedp.KeyEvent(kb.ArrowRight))
	assert.Contains(t, read[string](b, name("Ottilie")+".innerText"), "pain 5", "it stays on the name")
	b.press("#ct-end button")
	b.until(`document.getElementById("ct-after").open`)
	b.accessible("the end of a class")
	_ = read[any](b,
		`[...document.querySelectorAll("#ct-after-names label")].find((l) => `+
			`l.innerText.includes("Barnaby")).querySelector("select").selectedIndex = 3; 0`,
	)
	b.press("#ct-as-before")
	b.until(`document.querySelector("h1")?.innerText === "Noon" && document.body.innerText.includes("it stays as it was")`)

	k, err = s.Store.Class(ctx, k.ID)
	require.NoError(t, err)
	assert.True(t, k.Taught())
	for _, p := range k.People {
		r, err := s.Store.RecordOfPlan(ctx, p.PlanID)
		require.NoError(t, err)
		row, err := s.Store.Plan(ctx, p.PlanID)
		require.NoError(t, err)
		first, second := row.Plan.Items[0].ID, row.Plan.Items[1].ID
		did := map[string]string{}
		for _, d := range r.Record.Items {
			how := d.Ended
			if d.Skipped {
				how = "skipped"
			}
			did[d.Item] = how
		}
		assert.Equal(t, "done", did[first])
		switch p.ClientID {
		case client(t, s, "Ottilie"):
			require.NotNil(t, r.Record.Pain.After)
			assert.Equal(t, 1, *r.Record.Pain.After, "as she said before")
			require.NotNil(t, r.Record.Pain.During)
			assert.Equal(t, 5, *r.Record.Pain.During)
		case client(t, s, "Barnaby"):
			assert.Equal(t, "skipped", did[second])
			assert.Equal(t, 2, *r.Record.Pain.After, "said by name")
		default:
			assert.Equal(t, "done", did[second], "the slip was taken back")
		}
		if len(row.Plan.Items) > 2 {
			assert.Equal(t, "skipped", did[row.Plan.Items[2].ID], "nobody came to the third")
		}
	}
}

// TestSafetyPainInAClassStays: what one says hurts bears on all that is left for this one, a warning
// sign takes somebody out, and the others go on with everything.
func TestSafetyPainInAClassStays(t *testing.T) {
	t.Parallel()
	h, s := demoHandler(t)
	began := time.Now()
	s.Now = func() time.Time { return now.Add(time.Since(began)) }
	srv := httptest.NewServer(h)
	defer srv.Close()
	ctx := context.Background()
	k := theDemoClass(t, s.Store)
	b := newBrowser(t, 1280, 800)
	b.open(srv.URL + "/classes/" + k.ID + "/teach")
	b.until(`document.getElementById("ct")?.dataset.ready === "yes"`)
	tap := func(who string) {
		_ = read[any](b, `[...document.querySelectorAll(".ct-people button")].find((b) => b.innerText.startsWith("`+who+`")).click(); 0`)
	}
	tap("Ottilie")
	_ = read[any](b, `document.getElementById("ct-where").value = "wrist"; 0`)
	b.press(`#ct-scores button:nth-child(7)`)
	tap("Odette")
	_ = read[any](b,
		`{ const f = document.getElementById("ct-sign"); f.value = "chest_pain_at_rest"; f.dispatchEvent(new Event("change")) } 0`,
	)
	b.until(`document.getElementById("ct-halt").open`)
	assert.Contains(t, b.text("#ct-halt"), "112")
	b.press("#ct-halt-close")
	for range k.Class.Items {
		b.do(chromedp.KeyEvent(kb.ArrowRight), chromedp.Sleep(30*time.Millisecond))
	}
	b.press("#ct-end button")
	b.until(`document.getElementById("ct-after").open`)
	b.press("#ct-as-before")
	b.until(`!location.pathname.endsWith("/teach")`)
	for _, p := range k.People {
		row, err := s.Store.Plan(ctx, p.PlanID)
		require.NoError(t, err)
		marks, err := s.Store.Marks(ctx, p.PlanID)
		require.NoError(t, err)
		done := map[string]bool{}
		for _, m := range marks {
			done[m.Item] = done[m.Item] || m.Kind == "set_done"
		}
		who, err := s.Store.Client(ctx, p.ClientID)
		require.NoError(t, err)
		switch p.ClientID {
		case client(t, s, "Odette"):
			assert.Equal(t, []string{"chest_pain_at_rest"}, who.Client.OpenFlags(s.Today()))
			for _, it := range row.Plan.Items {
				assert.False(t, done[it.ID], it.Name)
			}
		case client(t, s, "Ottilie"):
			ready, err := s.ReadyFor(ctx, who.ID, who.Client, lesson.Felt(marks), s.Today(), readiness.Teach)
			require.NoError(t, err)
			require.Equal(t, limit.OK, ready.Status())
			barred, some := s.Outside(row.Plan, ready), false
			for i, it := range row.Plan.Items {
				if slices.Contains(barred, i) || i == 0 {
					assert.False(t, done[it.ID], "%s is not for a wrist that hurts", it.Name)
					continue
				}
				some = some || done[it.ID]
			}
			for i, it := range row.Plan.Items {
				t.Log(i, it.Name, slices.Contains(barred, i), done[it.ID])
			}
			assert.True(t, some)
			r, err := s.Store.RecordOfPlan(ctx, p.PlanID)
			require.NoError(t, err)
			assert.Equal(t, 7, *r.Record.Pain.During)
		default:
			for _, it := range row.Plan.Items {
				assert.True(t, done[it.ID], "%s goes on", who.Client.Name)
			}
		}
	}
}

// TestAClassOnItsPages: the story's class is shown, printed, made anew for others, taken away
// and brought back; what cannot be is refused with what was sent still there.
func TestAClassOnItsPages(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	k := theDemoClass(t, s.Store)
	ctx := context.Background()
	get := func(path string) string {
		r, body := ask(t, http.MethodGet, srv.URL+path, nil, nil)
		require.Equal(t, http.StatusOK, r.StatusCode, path)
		return body
	}
	page := get("/classes/" + k.ID)
	for _, who := range []string{"Odette", "Edmund", "The room", "Paper for the wall"} {
		assert.Contains(t, page, who)
	}
	assert.Equal(t, len(k.Class.Items), strings.Count(page, `class="class-item"`))
	assert.Contains(t, get("/classes/"+k.ID+"/wall"), k.Class.Items[0].Thread)
	assert.Contains(t, get("/classes"), k.Name)
	groups := get("/classes/" + k.ID + "/grouping")
	assert.Equal(t, 2, strings.Count(groups, "Make it a class of its own"))
	for _, m := range k.Class.People {
		assert.Equal(t, 1, strings.Count(groups, `<th scope="row">`+m.Name), m.Name)
	}
	post := func(path string, form url.Values) (int, string) {
		r, body := ask(t, http.MethodPost, srv.URL+path, form, nil)
		return r.StatusCode, body
	}
	status := func(path string, form url.Values) int { code, _ := post(path, form); return code }
	says := func(path string, form url.Values) string { _, body := post(path, form); return body }
	wish := url.Values{"name": {"Two of us"}, "on": {k.On}, "at": {"10:00"}, "minutes": {"20"}, "place": {"chair"}, "revision": {"1"},
		"client": {client(t, s, "Odette"), client(t, s, "Edmund")}}
	for field, bad := range map[string]string{"minutes": "soon", "on": "", "at": "25:00", "place": "roof"} {
		form := url.Values{}
		for f, v := range wish {
			form[f] = v
		}
		form.Set(field, bad)
		code, body := post("/classes", form)
		assert.Equal(t, http.StatusUnprocessableEntity, code, field)
		assert.Contains(t, body, "Two of us", field)
	}
	one := url.Values{}
	for f, v := range wish {
		one[f] = v
	}
	one["client"] = one["client"][:1]
	assert.Contains(t, says("/classes", one), "expected 2 to 12")
	twice := url.Values{}
	for f, v := range wish {
		twice[f] = v
	}
	twice["client"] = append(twice["client"], client(t, s, "Odette"))
	assert.Contains(t, says("/classes", twice), "named twice")

	require.Equal(t, http.StatusSeeOther, status("/classes/"+k.ID, wish))
	anew, err := s.Store.Class(ctx, k.ID)
	require.NoError(t, err)
	assert.Len(t, anew.People, 2)
	assert.Equal(t, 2, anew.Revision)
	for _, p := range k.People { // the plans it had are put away
		row, err := s.Store.Plan(ctx, p.PlanID)
		require.NoError(t, err)
		assert.NotEmpty(t, row.Gone)
		assert.Equal(t, plan.Ready, row.Plan.Status)
	}
	assert.Equal(t, http.StatusConflict, status("/classes/"+k.ID, wish), "it was changed since")
	assert.Equal(t, http.StatusUnprocessableEntity, status("/classes/"+k.ID+"/records", url.Values{}), "nothing was done yet")
	require.Equal(t, http.StatusSeeOther, status("/classes/"+k.ID+"/away", url.Values{}))
	assert.NotContains(t, get("/classes"), "Two of us")
	assert.Contains(t, get("/classes/"+k.ID), "was taken away")
	require.Equal(t, http.StatusSeeOther, status("/classes/"+k.ID+"/away", url.Values{"back": {"yes"}}))
	assert.Contains(t, get("/classes"), "Two of us")
}

// TestTheRestOfAClassIsPlannedAnew: after the first exercise one has left and one hurts; what
// was done stays, the rest is for those who are here, and the marks made before still count.
func TestTheRestOfAClassIsPlannedAnew(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	ctx := context.Background()
	k := theDemoClass(t, s.Store)
	plans := map[string]string{}
	for _, p := range k.People {
		plans[p.ClientID] = p.PlanID
	}
	left, hurt := client(t, s, "Barnaby"), client(t, s, "Ottilie")
	first := k.Class.Items[0]
	score := 6
	hers, err := s.Store.Plan(ctx, plans[hurt])
	require.NoError(t, err)
	_, refused, err := s.KeepMarks(ctx, plans[hurt], []lesson.Mark{{ID: "0190d5a0-0000-7000-8000-000000000002",
		Item: hers.Plan.Items[0].ID, Kind: "pain", Where: "knee", Score: &score, At: now.Format(time.RFC3339), ClockS: 60}})
	require.NoError(t, err)
	require.Empty(t, refused)
	r, body := ask(t, http.MethodPost, srv.URL+"/classes/"+k.ID+"/rest",
		url.Values{"done": {"1"}, "minutes": {"15"}, "absent": {plans[left]}}, nil)
	require.Equal(t, http.StatusSeeOther, r.StatusCode, body)
	k, err = s.Store.Class(ctx, k.ID)
	require.NoError(t, err)
	assert.Equal(t, first, k.Class.Items[0], "what was done stays")
	rest := 0.0
	for _, it := range k.Class.Items[1:] {
		assert.Len(t, it.Versions, len(k.People)-1)
		rest += it.Seconds
	}
	assert.InDelta(t, 900, rest, 60)
	for _, p := range k.People {
		row, err := s.Store.Plan(ctx, p.PlanID)
		require.NoError(t, err)
		if p.ClientID == left {
			assert.Equal(t, 1, row.Revision, "hers is as it was")
			continue
		}
		assert.Len(t, row.Plan.Items, len(k.Class.Items))
		if p.ClientID == hurt {
			who, err := s.Store.Client(ctx, hurt)
			require.NoError(t, err)
			ready, err := s.ReadyFor(ctx, hurt, who.Client, []readiness.Mark{{Kind: "pain", Score: &score, Where: "knee"}}, s.Today(),
				readiness.Teach)
			require.NoError(t, err)
			for i, it := range row.Plan.Items[1:] {
				assert.NotContains(t, s.Outside(row.Plan, ready), i+1, "%s loads the knee", it.Name)
			}
		}
		ids := map[string]bool{}
		for _, it := range row.Plan.Items {
			assert.False(t, ids[it.ID], it.ID)
			ids[it.ID] = true
		}
	}
	_, page := ask(t, http.MethodGet, srv.URL+"/classes/"+k.ID+"/teach", nil, nil)
	assert.Contains(t, page, k.Class.Items[1].Thread)
	for says, form := range map[string]url.Values{"Done: expected": {"done": {"90"}, "minutes": {"10"}},
		"Minutes: expected": {"done": {"1"}, "minutes": {"soon"}},
		"expected 2 to 12": {"done": {"1"}, "minutes": {"10"},
			"absent": {plans[left], plans[hurt], plans[client(t, s, "Odette")], plans[client(t, s, "Tobias")],
				plans[client(t, s, "Anselm")], plans[client(t, s, "Edmund")], plans[client(t, s, "Saffron")]}}} {
		r, body := ask(t, http.MethodPost, srv.URL+"/classes/"+k.ID+"/rest", form, nil)
		assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode, says)
		assert.Contains(t, body, says)
	}
}
