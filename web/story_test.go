package web

import (
	"bytes"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/log"
	"github.com/chromedp/cdproto/runtime"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// screenshots refreshes the pictures: go test ./web -run Screenshots -screenshots ../docs/screenshots.
var screenshots = flag.String("screenshots", "", "folder to write a picture of every view to")

// browser is one headless Chromium tab of the given size.
type browser struct {
	t   *testing.T
	ctx context.Context
}

// chromium is started once; each test has a profile of its own in it.
var (
	chromium = sync.OnceValues(func() (context.Context, error) {
		options := []chromedp.ExecAllocatorOption{
			chromedp.WindowSize(1280, 800),
			chromedp.Flag("no-sandbox", true),
			chromedp.Flag("disable-gpu", true),
			chromedp.Flag("hide-scrollbars", true),
			chromedp.Flag("disable-background-networking", true),
			chromedp.Flag("disable-component-update", true),
			chromedp.Flag("disable-quic", true),
		}
		for _, path := range []string{"/usr/bin/chromium-headless-shell", "/usr/bin/chromium"} {
			if fileExists(path) {
				options = append(options, chromedp.ExecPath(path))
				break
			}
		}
		ctx, cancel := chromedp.NewContext(context.Background(), chromedp.WithAllocatorOptions(options...))
		endChromium = cancel
		_, err := chromedp.Run(ctx, chromedp.Evaluate[int]("1"))
		return ctx, err
	})
	endChromium = func() {}
)

func TestMain(m *testing.M) {
	code := m.Run()
	endChromium()
	os.Exit(code)
}

func newBrowser(t *testing.T, width, height int, limit ...time.Duration) *browser {
	t.Helper()
	if testing.Short() {
		t.Skip("it needs a browser")
	}
	all, err := chromium()
	require.NoError(t, err)
	ctx, cancel := chromedp.NewContext(all, chromedp.WithNewBrowserContext())
	t.Cleanup(cancel)
	most := 3 * time.Minute
	if len(limit) > 0 {
		most = limit[0]
	}
	ctx, stop := context.WithTimeout(ctx, most)
	t.Cleanup(stop)
	b := &browser{t, ctx}
	// What the browser complains of is a mistake in a page; that a request was refused is not.
	var mu sync.Mutex
	complaints := map[string]bool{}
	require.NoError(t, chromedp.Listen(ctx, func(ev any) {
		mu.Lock()
		defer mu.Unlock()
		switch ev := ev.(type) {
		case *log.EventEntryAdded:
			if ev.Entry.Level == log.EntryLevelError && ev.Entry.Source != log.EntrySourceNetwork {
				complaints[ev.Entry.Text] = true
			}
		case *runtime.EventExceptionThrown:
			complaints[ev.ExceptionDetails.Text] = true
		}
	}))
	t.Cleanup(func() {
		mu.Lock()
		defer mu.Unlock()
		for text := range complaints {
			assert.Fail(t, "the browser complains", text)
		}
	})
	b.do(chromedp.EmulateViewport(int64(width), int64(height)), func(ctx context.Context, t *chromedp.Target) (chromedp.Void, error) {
		_, err := cdp.Call(ctx, t, emulation.SetFocusEmulationEnabled, emulation.SetFocusEmulationEnabledParams{Enabled: true})
		return chromedp.Void{}, err
	})
	return b
}

func fileExists(p string) bool { _, err := os.Stat(p); return err == nil }

func (b *browser) do(steps ...chromedp.Action[chromedp.Void]) {
	b.t.Helper()
	require.NoError(b.t, chromedp.Do(b.ctx, steps...))
}

func (b *browser) open(address string) {
	b.t.Helper()
	err := chromedp.Do(b.ctx, chromedp.Navigate(address))
	if err != nil && strings.Contains(err.Error(), "ERR_ABORTED") { // the page before was still on its way elsewhere
		err = chromedp.Do(b.ctx, chromedp.Navigate(address))
	}
	require.NoError(b.t, err, address)
	b.do(chromedp.WaitReady("main"))
}

// press clicks a control wherever it is just then: a page may move under a mouse.
func (b *browser) press(selector string) {
	b.t.Helper()
	_ = read[any](b, "document.querySelector(`"+selector+"`).click(); 0")
}

// read evaluates an expression in the page.
func read[T any](b *browser, expression string) T {
	b.t.Helper()
	v, err := chromedp.Run(b.ctx, chromedp.Evaluate[T](expression))
	require.NoError(b.t, err, expression)
	return v
}

func (b *browser) text(selector string) string {
	b.t.Helper()
	return read[string](b, fmt.Sprintf("document.querySelector(%q)?.innerText ?? ''", selector))
}

// holds says whether an expression is true of a page that is there whole; half-way to another
// page nothing is.
func (b *browser) holds(expression string) bool {
	now, err := chromedp.Run(b.ctx, chromedp.Evaluate[bool](
		"(() => { try { return document.readyState !== 'loading' && !!("+expression+") } catch { return false } })()"))
	return err == nil && now
}

// glimpse is a text of a page that may be on its way to another; empty where it is.
func (b *browser) glimpse(expression string) string {
	text, err := chromedp.Run(b.ctx, chromedp.Evaluate[string](expression))
	if err != nil {
		return ""
	}
	return text
}

// until waits for an expression to become true.
func (b *browser) until(expression string) {
	b.t.Helper()
	for range 300 {
		now := b.holds(expression)
		require.NoError(b.t, b.ctx.Err(), expression)
		if now {
			return
		}
		time.Sleep(40 * time.Millisecond)
	}
	require.Fail(b.t, "never came true", "%s\n%s", expression, b.text("main"))
}

// axe puts axe-core into a page, once.
func (b *browser) axe() {
	b.t.Helper()
	if read[bool](b, `window.axe !== undefined`) {
		return
	}
	source, err := os.ReadFile("testdata/axe.min.js")
	require.NoError(b.t, err)
	_, err = chromedp.Run(b.ctx, chromedp.EvaluateAsDevTools[any](string(source)+";0"))
	require.NoError(b.t, err)
}

// accessible runs axe-core over the page and fails on what is serious.
func (b *browser) accessible(name string) {
	b.t.Helper()
	b.axe()
	found, err := chromedp.Run(
		b.ctx,
		chromedp.Evaluate[string](
			`axe.run(document, {resultTypes: ["violations"]}).then(r => JSON.stringify(r.violations.map(v => [v.impact, v.id, `+
				`v.nodes.slice(0, 3).map(n => n.target.join(" ") + " " + (n.any[0]?.message ?? ""))])))`,
			chromedp.EvalAwaitPromise,
		),
	)
	require.NoError(b.t, err)
	var violations [][]any
	require.NoError(b.t, json.Unmarshal([]byte(found), &violations))
	assert.Empty(b.t, violations, name)
}

// picture writes a PNG when the flag asks for it.
func (b *browser) picture(name string) {
	b.t.Helper()
	if *screenshots == "" {
		return
	}
	time.Sleep(150 * time.Millisecond)
	png, err := chromedp.Run(b.ctx, chromedp.CaptureScreenshot())
	require.NoError(b.t, err)
	require.NoError(b.t, os.WriteFile(filepath.Join(*screenshots, name+".png"), png, 0o644))
}

// TestStory goes the whole way as an instructor would: a new client, a plan, a
// swap, the printed view, teaching to the end, and the record.
func TestStory(t *testing.T) {
	t.Parallel()
	srv, _ := demoSite(t)
	b := newBrowser(t, 1280, 800)
	b.open(srv.URL + "/clients/new")
	b.do(
		chromedp.Click(`input[name=asked]`),
		chromedp.SendKeys(`input[name=name]`, "Isaura Fenwick-Test"),
		chromedp.SendKeys(`input[name=birth_year]`, "1954"),
		chromedp.Click(
			`input[name=conditions][value=osteoporosis]`,
		),
		chromedp.WaitVisible(`input[name="osteoporosis.t_score"]`),
		chromedp.SendKeys(`input[name="osteoporosis.t_score"]`, "-2.7"),
		chromedp.SetValue(`select[name="osteoporosis.vertebral_fracture"]`, "no"),
		chromedp.SendKeys(`input[name=pain_now]`, "2"),
		chromedp.SetValue(`select[name=place]`, "chair"),
		chromedp.Click(`form.intake .submit button`),
	)
	b.until(`document.querySelector("h1")?.innerText === "Isaura Fenwick-Test" && document.querySelector(".reach")`)
	assert.Contains(t, b.text(".client-not"), "Lifting the head when lying")
	b.do(chromedp.Click(`.chips summary`))
	assert.Contains(t, b.text(".chips details[open]"), "The head stays down when lying")
	assert.Contains(t,
		read[string](b, `document.querySelector(".reach").getAttribute("aria-label")`),
		"low back rounding to 20°, 10° under load",
	)

	b.do(chromedp.SetValue(`#minutes`, "20"), chromedp.Click(`.plan-wish button[type=submit]`))
	b.until(`document.querySelector(".rows")`)
	assert.Regexp(t, `(19:[0-5]\d|20:[0-3]\d) min`, b.text(".ribbon-sum"))
	rows := read[int](b, `document.querySelectorAll(".row-item").length`)
	assert.GreaterOrEqual(t, rows, 6)

	// Change the minutes: the plan answers at once, and undo takes it back.
	b.do(chromedp.Click(`button[value=more]`))
	b.until(`document.querySelector("#wish-minutes").value === "25" && document.querySelector(".undo")`)
	b.do(chromedp.Click(`.undo button`))
	b.until(`document.querySelector("#wish-minutes").value === "20"`)

	// Look at an exercise, and swap it for another.
	number := rows - 2
	name := b.text(fmt.Sprintf("#row-%d strong", number))
	require.NotEmpty(t, name)
	b.do(chromedp.Click(fmt.Sprintf("#row-%d", number)))
	b.until(
		fmt.Sprintf(
			`document.querySelector(".is-chosen strong")?.innerText === %q && document.querySelector(".tray h2").innerText === %q`,
			name,
			name,
		),
	)
	b.until(fmt.Sprintf(`location.search === "?item=%d"`, number))
	assert.Equal(t, 2, read[int](b, `document.querySelectorAll(".tray-reach .reach").length`), "two charts side by side")
	other := b.text(".alternative .alt-name strong")
	b.do(chromedp.Click(`.alternative .alt-use button`))
	b.until(fmt.Sprintf(`document.querySelector(".is-chosen strong")?.innerText === %q`, other))
	assert.Contains(t, b.text(".undo"), "was "+name)
	plan := read[string](b, `location.pathname`)

	b.open(srv.URL + plan + "/print")
	assert.Contains(t, b.text(".paper"), other)
	assert.Contains(t, b.text(".paper-foot"), "Keep away from")
	pdf, err := chromedp.Run(b.ctx, chromedp.PrintToPDF())
	require.NoError(t, err)
	pages := bytes.Count(pdf, []byte("/Type /Page")) - bytes.Count(pdf, []byte("/Type /Pages"))
	assert.LessOrEqual(t, pages, 2)
	assert.Positive(t, pages)

	// The check comes first: what is tapped says at once what follows.
	b.open(srv.URL + plan + "/check")
	b.do(chromedp.Click(`input[name=pain][value="6"]`), chromedp.Click(`input[name=asked]`))
	b.until(`document.querySelector("#verdict")?.innerText.includes("Begin gently")`)
	b.accessible("the check before a lesson")
	b.do(chromedp.Click(`input[name=pain][value="2"]`))
	b.until(`document.querySelector("#verdict")?.innerText.includes("as planned")`)
	b.do(chromedp.Click(`#verdict button`))
	b.until(`location.pathname.endsWith("/teach")`)
	// Teach with the keyboard: start, a mark, and on to the end.
	b.until(`document.getElementById("t-next").innerText !== "" && document.getElementById("teach").dataset.heard === "yes"`)
	first := b.text("#t-count")
	b.do(chromedp.KeyEvent(" "))
	b.until(fmt.Sprintf(`document.getElementById("t-count").innerText !== %q`, first))
	b.do(chromedp.KeyEvent(" "), chromedp.KeyEvent(kb.ArrowRight))
	b.until(`document.getElementById("t-place").innerText.includes(", 2 of ")`)
	second := b.text("#t-name")
	b.do(chromedp.KeyEvent("f"))
	b.until(`document.getElementById("t-mark").innerText.startsWith("Form broke: ")`)
	b.open(srv.URL + plan + "/teach") // a closed lid loses nothing
	b.until(`document.getElementById("teach").dataset.heard === "yes"`)
	b.until(`document.getElementById("t-place").innerText.match(/, [23] of /)`)
	for range 40 {
		path, err := chromedp.Run(b.ctx, chromedp.Evaluate[string](`location.pathname`))
		if err != nil { // on its way to another page
			time.Sleep(100 * time.Millisecond)
			continue
		}
		if strings.Contains(path, "wrap-up") {
			break
		}
		b.do(chromedp.KeyEvent(kb.ArrowRight))
		time.Sleep(30 * time.Millisecond)
	}
	b.until(`location.pathname.endsWith("wrap-up") && document.querySelector("form.wrap")?.dataset.ready === "yes"`)
	b.until(`document.querySelector(".wrap-items").innerText.includes("then form broke")`)
	_ = read[any](b, `document.querySelector("form.wrap select").value = "shaking"; 0`)
	b.press(`form.wrap button[type=submit]`)
	b.until(`document.querySelector(".refusal")?.innerText.includes("Pain after: is needed")`)
	assert.Equal(t, "shaking", read[string](b, `document.querySelector("form.wrap select").value`), "what was changed is still there")
	_ = read[any](b, `document.querySelector("form.wrap select").value = "as"; 0`)
	b.do(chromedp.SendKeys(`input[name=after]`, "1"), chromedp.SendKeys(`textarea[name=notes]`, "Stood well."))
	b.press(`form.wrap button[type=submit]`)
	b.until(`document.querySelector("table.done")`)
	assert.Contains(t, b.text("table.done"), "form broke")
	assert.Contains(t, b.text("table.done"), second)
	assert.Contains(t, b.text(".notes"), "Stood well.")

	b.open(srv.URL + "/clients")
	b.do(chromedp.Click(`a.client-row[href^="/clients/"]`))
	b.until(`document.querySelector(".client-not .record-link")`)
	b.open(srv.URL + "/records")
	assert.Contains(t, b.text("main"), "Isaura Fenwick-Test")
	b.open(srv.URL + plan)
	assert.Contains(t, b.text(".plan-head"), "taught; the plan stays as it was")
}

// TestTheFigureMoves: while repetitions are counted the figure runs through the
// stills of the movement; with reduced motion it only changes over.
func TestTheFigureMoves(t *testing.T) {
	srv, s := demoSite(t)
	plan := planned(t, s, "Odette")
	b := newBrowser(t, 1280, 800)
	b.open(srv.URL + "/plans/" + plan.ID + "/teach")
	beat := read[int](b,
		`JSON.parse(document.getElementById("lesson").textContent).beats.findIndex(b => b.unit === "repetitions" && b.n === 2)`,
	)
	beatItem := read[string](b, fmt.Sprintf(`JSON.parse(document.getElementById("lesson").textContent).beats[%d].id`, beat))
	b.open(srv.URL + "/clients")
	_ = read[any](b,
		fmt.Sprintf(
			`localStorage.setItem("restbend.lesson.%s", JSON.stringify({beat: %d, spent: 0, elapsed: 60, id: %q})); 0`,
			plan.ID,
			beat,
			beatItem,
		),
	)
	b.open(srv.URL + "/plans/" + plan.ID + "/teach")
	_ = read[any](b,
		`window.seen = new Set(); new MutationObserver(() => `+
			`seen.add(document.getElementById("t-figure").src)).observe(document.getElementById("t-figure"), {attributes: true}); 0`,
	)
	b.do(chromedp.KeyEvent(" "))
	b.until(`seen.size >= 6`)
	b.do(chromedp.KeyEvent(" "))
}

// TestLeverBench: the bench answers live as the surface is dragged, and refuses
// what a straight body cannot reach.
func TestLeverBench(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	b := newBrowser(t, 1280, 800)
	b.open(srv.URL + "/lever")
	assert.Contains(t, b.text(".lever-figure"), "0 cm")
	_ = read[any](b,
		`(() => { const r = document.querySelector("input[name=raise]"); r.value = 35; r.dispatchEvent(new Event("input", {bubbles: `+
			`true})); return 0 })()`,
	)
	b.until(`document.querySelector(".lever-figure figcaption")?.innerText.includes("35 cm")`)
	assert.Contains(t, b.text(".lever-loads"), "points less")
	_ = read[any](b,
		fmt.Sprintf(
			`(() => { const c = document.querySelector("select[name=client]"); c.value = %q; c.dispatchEvent(new Event("input", `+
				`{bubbles: true})); return 0 })()`,
			client(t, s, "Tobias"),
		),
	)
	b.until(`document.querySelector(".lever-loads").innerText.includes("cap")`)
	b.do(chromedp.Click(`input[value=knees] + span`))
	b.until(`document.querySelector(".lever-loads")?.innerText.includes("the knees")`)
	_ = read[any](b,
		`(() => { const r = document.querySelector("input[name=raise]"); r.value = 110; r.dispatchEvent(new Event("input", {bubbles: `+
			`true})); return 0 })()`,
	)
	b.until(`document.querySelector("#lever .refusal")?.innerText.includes("too high for a straight body")`)
	b.open(srv.URL + "/lever?raise=45")
	b.accessible("lever")
}

// TestNegativeStory: a barred exercise cannot be got into a plan, and what was
// typed survives a refusal.
func TestNegativeStory(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	plan := planned(t, s, "Marguerite")
	b := newBrowser(t, 1280, 800)
	b.open(srv.URL + "/plans/" + plan.ID)
	assert.Contains(t, b.text(".left-out"), "Small curl-up")
	// Forge the form: the answer is the sentence, and the plan stays.
	b.until(`document.querySelector(".alternative button[name=variant]")`)
	_ = read[any](b, `document.querySelector(".alternative button[name=variant]").value = "curl_up"; 0`)
	b.do(chromedp.Click(`.alternative .alt-use button`))
	b.until(`document.querySelector(".refusal")?.innerText.includes("is not for this client")`)
	after := planned(t, s, "Marguerite")
	assert.Equal(t, plan.Revision, after.Revision)

	b.open(srv.URL + "/clients/new")
	b.do(
		chromedp.SendKeys(`input[name=name]`, "Half Typed"),
		chromedp.SendKeys(`input[name=height_cm]`, "1.63"),
		chromedp.Click(`form.intake .submit button`),
	)
	b.until(`document.querySelector(".wrong")?.innerText.includes("looks like metres")`)
	b.until(`document.querySelector("input[name=name]")?.value === "Half Typed"`)
}

// TestTheDoorByKeys signs in, is covered and locked, and gets out again.
func TestTheDoorByKeys(t *testing.T) {
	t.Parallel()
	b := newBrowser(t, 390, 844)
	// The door, which nobody passes in the demo.
	x := newLocked(t)
	x.add("olive", "owner")
	for _, v := range []string{"/sign-in", "/clients"} {
		b.open(x.URL + v)
		b.accessible(v)
		assert.LessOrEqual(t, read[int](b, `document.documentElement.scrollWidth`), 392, v)
	}
	b.do(chromedp.SendKeys(`input[name=login]`, "olive"), chromedp.SendKeys(`input[name=password]`, secretWords+"\r"))
	b.until(`location.pathname === "/clients"`)
	b.open(x.URL + "/me")
	b.accessible("/me")
	assert.Equal(t,
		220,
		read[int](b, `document.querySelector("img[alt*=one-time]").naturalWidth`),
		"the picture for one-time codes is there",
	)
	// A page that nobody touches is covered; what was typed is there still after unlocking.
	b.open(x.URL + "/people")
	b.do(chromedp.SendKeys(`input[name=name]`, "Half typed"))
	_ = read[any](b, `document.body.dataset.idle = 0.005; dispatchEvent(new Event("pointerdown")); 0`)
	b.until(`document.querySelector("#cover:not([hidden])") && getComputedStyle(document.querySelector("main")).visibility === "hidden"`)
	b.accessible("covered")
	b.do(chromedp.SendKeys(`#cover input[name=code]`, "wrong\r"))
	b.until(`document.querySelector("#cover [role=status]").textContent.includes("neither")`)
	_ = read[any](b, `document.body.dataset.idle = 20; 0`)
	b.do(chromedp.SendKeys(`#cover input[name=code]`, secretWords+"\r"))
	b.until(`document.querySelector("#cover").hidden`)
	assert.Equal(t, "Half typed", read[string](b, `document.querySelector("input[name=name]").value`))
	b.open(x.URL + "/me")
	b.do(chromedp.Click(".me summary"), chromedp.Click(`button[form=lock]`))
	b.until(`location.pathname === "/locked"`)
	b.accessible("/locked")
	b.do(chromedp.SendKeys(`input[name=code]`, secretWords+"\r"))
	b.until(`location.pathname === "/me"`)
	b.do(chromedp.Click(".me summary"), chromedp.Click(`button[form=sign-out]`))
	b.until(`location.pathname === "/sign-in"`)
}

// TestScreenshots takes the pictures in docs/screenshots when asked to.
func TestScreenshots(t *testing.T) {
	if *screenshots == "" {
		t.Skip("no folder named with -screenshots")
	}
	srv, s := demoSite(t)
	odette, plan, mat := client(t, s, "Odette"), planned(t, s, "Odette"), planned(t, s, "Marguerite")
	held := planned(t, s, "Tobias")
	records, err := s.Store.RecordsOf(context.Background(), odette)
	require.NoError(t, err)
	atHome, err := s.AddHome(context.Background(), odette, 4, 7)
	require.NoError(t, err)
	class := theDemoClass(t, s.Store)
	b := newBrowser(t, 1280, 800)
	shots := []struct{ name, path string }{
		{"today", "/"},
		{"client", "/clients/" + odette},
		{"intake", "/clients/new"},
		{"plan-mat", "/plans/" + mat.ID + "?item=4"},
		{"print", "/plans/" + mat.ID + "/print"},
		{
			"wrap-up",
			"/plans/" + plan.ID + "/wrap-up",
		},
		{"lever-bench", "/lever?raise=45&client=" + client(t, s, "Tobias")},
		{"record", "/records/" + records[1].ID},
		{
			"library",
			"/library?purpose=anti_rotation&client=" + odette,
		},
		{"exercise", "/library/bird_dog_leg?client=" + client(t, s, "Tobias")},
		{"screens", "/clients/" + client(t, s, "Tobias") + "/screens"},
		{"home", homeLink(atHome)},
		{
			"class",
			classLink(class.ID) + "?item=5",
		},
		{"class-teach", classLink(class.ID) + "/teach"},
		{"weeks", "/clients/" + odette + "/weeks"},
		{"calendar", "/calendar"},
	}
	for _, shot := range shots {
		b.open(srv.URL + shot.path)
		b.until(`[...document.images].every(i => i.complete && i.naturalWidth > 0 || i.getBoundingClientRect().top > innerHeight)`)
		b.picture(shot.name)
	}
	// Put the lesson into the third hold of its first long hold.
	b.open(srv.URL + "/plans/" + held.ID + "/teach")
	beat := read[int](b,
		`JSON.parse(document.getElementById("lesson").textContent).beats.findIndex(b => b.unit === "holds" && b.n === 3)`,
	)
	beatItem := read[string](b, fmt.Sprintf(`JSON.parse(document.getElementById("lesson").textContent).beats[%d].id`, beat))
	b.open(srv.URL + "/clients")
	_ = read[any](b,
		fmt.Sprintf(
			`localStorage.setItem("restbend.lesson.%s", JSON.stringify({beat: %d, spent: 2.4, elapsed: 300, id: %q})); 0`,
			held.ID,
			beat,
			beatItem,
		),
	)
	b.open(srv.URL + "/plans/" + held.ID + "/teach")
	b.picture("teach")
	b.do(chromedp.EmulateViewport(390, 844))
	b.picture("phone-teach")
}
