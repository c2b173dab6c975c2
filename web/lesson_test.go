package web

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/lesson"
)

// fragile is a server that can be stopped and started again at its address.
type fragile struct {
	t       *testing.T
	handler http.Handler
	address string
	srv     *http.Server
}

func (f *fragile) start() {
	f.t.Helper()
	at := "127.0.0.1:0"
	if f.address != "" {
		at = strings.TrimPrefix(f.address, "http://")
	}
	l, err := net.Listen("tcp", at)
	require.NoError(f.t, err)
	f.address, f.srv = "http://"+l.Addr().String(), &http.Server{Handler: f.handler}
	go func() { _ = f.srv.Serve(l) }() // ends when it is closed
}

func (f *fragile) stop() { require.NoError(f.t, f.srv.Close()) }

// TestALessonLosesNothing is taught with the connection gone half-way, the page loaded
// again without one, the server started again, a second device, a slip taken back, a pain
// that stops it, and a wrap-up: the record says what happened.
func TestALessonLosesNothing(t *testing.T) {
	h, s := demoHandler(t)
	began := time.Now()
	s.Now = func() time.Time { return now.Add(time.Since(began)) }
	f := &fragile{t: t, handler: h}
	f.start()
	defer func() { f.stop() }()
	row := planned(t, s, "Odette")
	kept := func(kind string) (n int) {
		marks, err := s.Store.Marks(context.Background(), row.ID)
		require.NoError(t, err)
		for _, m := range marks {
			if m.Kind == kind {
				n++
			}
		}
		return n
	}
	eventually := func(kind string, n int) {
		t.Helper()
		require.Eventually(t, func() bool { return kept(kind) == n }, 15*time.Second, 50*time.Millisecond, "%s %d", kind, n)
	}
	ready := `document.getElementById("teach")?.dataset.ready === "yes"`
	heard := `document.getElementById("teach")?.dataset.heard === "yes"`
	b := newBrowser(t, 1024, 768)
	b.open(f.address + "/plans/" + row.ID + "/teach")
	b.until(ready + " && " + heard)
	assert.True(t,
		read[bool](b, `document.querySelector(".k-pain").getBoundingClientRect().bottom <= innerHeight`),
		"the pain key is in sight",
	)
	b.do(chromedp.KeyEvent(" "))
	eventually("begun", 1)
	b.do(chromedp.KeyEvent(" "))
	b.until(`navigator.serviceWorker.controller !== null`)
	time.Sleep(time.Second) // until the lesson is put by

	// A slip is taken back, and is as if it had not been.
	b.do(chromedp.KeyEvent("f"))
	eventually("form", 1)
	b.do(chromedp.KeyEvent("u"))
	eventually("corrected", 1)

	// The connection goes: marks are held here, also over a reload, and the line says so.
	f.stop()
	b.do(chromedp.KeyEvent(kb.ArrowRight))
	b.until(`document.getElementById("t-place").innerText.includes(", 2 of ")`)
	b.do(chromedp.KeyEvent("k"))
	b.until(`document.getElementById("t-unsent").innerText.includes("not sent yet")`)
	place := b.text("#t-place")
	b.do(chromedp.Reload())
	b.until(ready)
	assert.Equal(t, place, b.text("#t-place"))
	assert.Zero(t, kept("shaking"))

	// It comes back: all is sent, once.
	f.start()
	_ = read[any](b, `window.dispatchEvent(new Event("online")); 0`)
	eventually("shaking", 1)
	eventually("skipped", 1)
	b.until(`document.getElementById("t-unsent").innerText === ""`)

	// A second device adds a mark, which this page hears of.
	b.do(chromedp.Reload())
	b.until(ready + " && " + heard)
	m := lesson.Mark{ID: uuid.NewString(), Kind: "note", Text: "from the other room", At: now.Format(time.RFC3339), ClockS: 30}
	body, err := json.Marshal(map[string]any{"marks": []lesson.Mark{m}})
	require.NoError(t, err)
	resp, err := http.Post(f.address+"/plans/"+row.ID+"/marks", "application/json", strings.NewReader(string(body)))
	require.NoError(t, err)
	require.NoError(t, resp.Body.Close())
	require.Equal(t, http.StatusOK, resp.StatusCode)
	b.until(`document.getElementById("t-mark").innerText.includes("another screen")`)

	// An easier rung within the lesson, or why not; the complaint path; a pain over 5 stops it.
	b.do(chromedp.KeyEvent("m"))
	b.until(`!document.getElementById("t-drawer").hidden`)
	b.accessible("teach, more")
	_ = read[any](b, `[...document.querySelectorAll("[role=tab]")].find(x => x.innerText === "It hurts").click(); 0`)
	b.until(`document.querySelector("#t-drawer-body ol, #t-drawer-body p")`)
	if read[bool](b, `!!document.querySelector("#t-drawer-body ol button")`) {
		_ = read[any](b, `document.querySelector("#t-drawer-body ol button").click(); 0`)
		eventually("stepped", 1)
	}
	b.do(chromedp.KeyEvent(kb.Escape), chromedp.KeyEvent("p"))
	b.until(`document.getElementById("t-pain").open`)
	b.accessible("teach, pain")
	_ = read[any](b,
		`[...document.querySelectorAll("#t-where button")].find(x => x.innerText === "knee").click(); `+
			`document.querySelectorAll("#t-score button")[7].click(); 0`,
	)
	b.until(`document.getElementById("t-halt").open && document.getElementById("t-halt-why").innerText.includes("7 in the knee")`)
	b.accessible("teach, stopped")
	eventually("corrected", 2)

	// The wrap-up is saved without a connection, and sent when there is one.
	b.do(chromedp.Click(`#t-halt a`))
	b.until(`document.querySelector("form.wrap") && document.querySelector("[name=during]").value === "7"`)
	assert.Contains(t, b.text(".wrap-items"), "shaking")
	f.stop()
	b.do(chromedp.SendKeys(`input[name=after]`, "4"), chromedp.Click(`form.wrap button[type=submit]`))
	b.until(`document.getElementById("wrap-kept").innerText.includes("kept in this browser")`)
	f.start()
	_ = read[any](b, `window.dispatchEvent(new Event("online")); 0`)
	require.Eventually(t,
		func() bool { p, err := s.Store.Plan(context.Background(), row.ID); return err == nil && p.Taught() },
		15*time.Second,
		50*time.Millisecond,
	)
	r, err := s.Store.RecordOfPlan(context.Background(), row.ID)
	require.NoError(t, err)
	assert.Equal(t, []int{7, 4}, []int{*r.Record.Pain.During, *r.Record.Pain.After})
	assert.Contains(t, r.Record.Notes, "from the other room")
	ends := map[string]int{}
	for _, d := range r.Record.Items {
		ends[d.Ended]++
		if d.Pain != nil {
			assert.Equal(t, lesson.PainAt{Score: 7, Where: "knee", Side: d.Pain.Side}, *d.Pain)
		}
	}
	assert.Zero(t, ends["form"], "the slip")
	assert.Equal(t, []int{1, 1, 0}, []int{ends["shaking"], ends["pain"], ends["done"]})
}

// TestMarksOverHTTP: as the contract says.
func TestMarksOverHTTP(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	row := planned(t, s, "Odette")
	at := srv.URL + "/plans/" + row.ID
	post := func(body string) (int, map[string]any) {
		resp, err := http.Post(at+"/marks", "application/json", strings.NewReader(body))
		require.NoError(t, err)
		defer resp.Body.Close()
		var answer map[string]any
		require.NoError(t, json.NewDecoder(resp.Body).Decode(&answer))
		return resp.StatusCode, answer
	}
	mark := func(id, more string) string {
		return `{"id":"` + id + `","item":"` + row.Plan.Items[0].ID + `","kind":"set_done","set":1,"at":"2026-11-24T08:15:00Z",` +
			`"clock_s":12` + more + `}`
	}
	good := uuid.NewString()
	for range 2 {
		status, answer := post(`{"marks":[` + mark(good, "") + `]}`)
		assert.Equal(t, 200, status)
		assert.Equal(t, []any{good}, answer["kept"])
	}
	other := uuid.NewString()
	status, answer := post(
		`{"marks":[` + mark(uuid.NewString(), `,"score":11`) + `,` + mark(other, "") + `,` + mark(uuid.NewString(), `,"mood":"x"`) + `]}`,
	)
	assert.Equal(t, 422, status)
	assert.Equal(t, []any{other}, answer["kept"])
	refused := answer["refused"].([]any)
	require.Len(t, refused, 2)
	fields := map[string]float64{}
	for _, r := range refused {
		fields[r.(map[string]any)["field"].(string)] = r.(map[string]any)["index"].(float64)
	}
	assert.Equal(t, map[string]float64{"mood": 2, "score": 0}, fields)
	status, _ = post(`{"marks":[`)
	assert.Equal(t, 422, status)
	status, _ = post(`{"marks":["` + strings.Repeat("x", maxMarks) + `"]}`)
	assert.Equal(t, 413, status)
	resp, body := ask(t, http.MethodGet, at+"/marks", nil, nil)
	assert.Equal(t, 200, resp.StatusCode)
	assert.Equal(t, 1, strings.Count(body, good))
	_, body = ask(t, http.MethodGet, at+"/record", nil, nil)
	var r lesson.Record
	require.NoError(t, json.Unmarshal([]byte(body), &r))
	assert.Equal(t, "done", r.Items[0].Ended)
	assert.True(t, r.Items[len(r.Items)-1].Skipped)
	resp, _ = ask(t, http.MethodGet, srv.URL+"/plans/nothing/marks", nil, nil)
	assert.Equal(t, 404, resp.StatusCode)
}

// TestTheLessonClockDoesNotDrift: half an hour of uneven frames on a clock of the test's
// own ends where it should, to a fifth of a second.
func TestTheLessonClockDoesNotDrift(t *testing.T) {
	srv, s := demoSite(t)
	row := planned(t, s, "Marguerite")
	b := newBrowser(t, 1280, 800)
	b.open(srv.URL + "/plans/" + row.ID + "/teach")
	b.until(`document.getElementById("teach").dataset.ready === "yes"`)
	_ = read[any](b,
		`window.fake = 1000; window.due = []; performance.now = () => fake; window.requestAnimationFrame = (f) => due.push(f); 0`,
	)
	b.do(chromedp.KeyEvent(" "))
	passed := read[float64](b,
		fmt.Sprintf(
			`(() => { let sum = 0, i = 0; const end = Math.min(1795, %g - 5); while (sum < end && due.length) { const by = 0.01 + `+
				`(i++ * 7919 %% 997) / 997; fake += by * 1000; sum += by; for (const f of due.splice(0)) f(fake); } return sum })()`,
			row.Plan.SecondsTotal,
		),
	)
	assert.Greater(t, passed, 1500.0)
	b.do(chromedp.KeyEvent(" "))
	elapsed := read[float64](b, fmt.Sprintf(`JSON.parse(localStorage.getItem("restbend.lesson.%s")).elapsed`, row.ID))
	assert.InDelta(t, passed, elapsed, 0.2)
	left := read[string](b, `document.getElementById("t-left").innerText`)
	m, sec, _ := strings.Cut(left, ":")
	minutes, err := strconv.Atoi(m)
	require.NoError(t, err)
	seconds, err := strconv.Atoi(sec)
	require.NoError(t, err)
	assert.InDelta(t, row.Plan.SecondsTotal-passed, float64(60*minutes+seconds), 1)
}

// TestOtherScreensFollow: what the client sees runs with the lesson, and a remote control
// moves it; the frames come without a gap.
func TestOtherScreensFollow(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	row := planned(t, s, "Odette")
	teach, screen := newBrowser(t, 1280, 800), newBrowser(t, 1024, 768)
	teach.open(srv.URL + "/plans/" + row.ID + "/teach")
	teach.until(`document.getElementById("teach").dataset.heard === "yes"`)
	screen.open(srv.URL + "/plans/" + row.ID + "/screen")
	screen.until(`document.getElementById("s-state").innerText === "Pause."`)
	screen.accessible("the client’s screen")
	assert.NotContains(t, read[string](screen, `document.getElementById("lesson").textContent`), `"marks":[{`)
	order := func(do string) {
		resp, err := http.Post(srv.URL+"/plans/"+row.ID+"/order", "application/json", strings.NewReader(`{"do":"`+do+`"}`))
		require.NoError(t, err)
		require.NoError(t, resp.Body.Close())
		require.Equal(t, http.StatusNoContent, resp.StatusCode)
	}
	order("toggle")
	teach.until(`document.getElementById("k-pause").innerText.startsWith("Pause")`)
	screen.until(`document.getElementById("s-state").innerText === ""`)
	_ = read[any](
		teach,
		`window.late = -1; new Promise((done) => { let n = 0, late = 0, last = performance.now(); const f = (now) => { if (now - last `+
			`> 34) late++; last = now; if (++n < 120) requestAnimationFrame(f); else done(late / n); }; requestAnimationFrame(f); `+
			`}).then((x) => { window.late = x; }); 0`,
	)
	teach.until(`window.late >= 0`)
	late := read[float64](teach, `window.late`)
	t.Logf("%.1f%% of the frames came late", 100*late)
	order("next")
	teach.until(`document.getElementById("t-place").innerText.includes(", 2 of ")`)
	screen.until(`document.getElementById("t-figure").alt === ` + strconv.Quote(row.Plan.Items[1].Name))
	resp, err := http.Post(srv.URL+"/plans/"+row.ID+"/order", "application/json", strings.NewReader(`{"do":"dance"}`))
	require.NoError(t, err)
	require.NoError(t, resp.Body.Close())
	assert.Equal(t, 422, resp.StatusCode)
	screen.open(srv.URL + "/plans/" + row.ID + "/remote")
	screen.accessible("the remote control")

	// A simulated device is said to be one, and its series is kept with the lesson.
	teach.do(chromedp.KeyEvent("m"))
	_ = read[any](
		teach,
		`[...document.querySelectorAll("[role=tab]")].find(x => x.innerText === "Tools").click(); `+
			`[...document.querySelectorAll("#t-drawer-body button")].find(x => x.innerText.includes("Pressure cuff")).click(); 0`,
	)
	teach.until(`document.getElementById("t-gauge").innerText.includes("simulated: ")`)
	require.Eventually(t, func() bool {
		series, err := s.Store.SeriesOf(context.Background(), row.ID)
		return err == nil && len(series) == 1 && len(series[0].Values) >= 10
	}, 20*time.Second, 100*time.Millisecond)
}

// TestAChangeWithinALesson keeps the place's id and the marks made on it, is refused with
// the reason where it is barred, and never lands on another exercise than was meant.
func TestAChangeWithinALesson(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	row := planned(t, s, "Odette")
	at := srv.URL + "/plans/" + row.ID
	post := func(path, body string) (int, string) {
		resp, err := http.Post(at+path, "application/json", strings.NewReader(body))
		require.NoError(t, err)
		defer resp.Body.Close()
		b, err := io.ReadAll(resp.Body)
		require.NoError(t, err)
		return resp.StatusCode, string(b)
	}
	_, body := get(t, at+"/lesson")
	var l teaching
	require.NoError(t, json.Unmarshal([]byte(body), &l))
	n := slices.IndexFunc(l.Items, func(it teachItem) bool { return len(it.Swaps) > 0 && len(it.Sides) == 0 })
	require.GreaterOrEqual(t, n, 0)
	it, to := l.Items[n], l.Items[n].Swaps[0]
	id := uuid.NewString()
	status, body := post(
		"/marks",
		fmt.Sprintf(
			`{"marks":[{"id":%q,"item":%q,"variant":%q,"set":1,"kind":"set_done","at":"2026-11-24T08:15:00Z","clock_s":5}]}`,
			id,
			it.ID,
			it.Variant,
		),
	)
	require.Equal(t, 200, status, body)
	ask := func(was, variant string) string {
		return fmt.Sprintf(`{"kind":"swap","item":%q,"was":%q,"variant":%q}`, it.ID, was, variant)
	}
	status, body = post("/within", ask(it.Variant, "curl_up"))
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "cannot be done on the chair")
	status, body = post("/within", ask(it.Variant, to.ID))
	require.Equal(t, 200, status, body)
	require.NoError(t, json.Unmarshal([]byte(body), &l))
	assert.Equal(t, []string{it.ID, to.ID}, []string{l.Items[n].ID, l.Items[n].Variant})
	status, _ = post("/within", ask(it.Variant, to.ID))
	assert.Equal(t, 409, status, "it is another by now")
	status, _ = post("/within", `{"kind":"remove","item":"","was":""}`)
	assert.Equal(t, 422, status)
	_, body = get(t, at+"/record")
	var r lesson.Record
	require.NoError(t, json.Unmarshal([]byte(body), &r))
	done := map[string]string{}
	for _, d := range r.Items {
		if d.Item == it.ID {
			done[d.Variant] = d.Ended
		}
	}
	assert.Equal(t, map[string]string{it.Variant: "done", to.ID: "choice"}, done)
}
