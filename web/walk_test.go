package web

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"testing"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
)

// everyView are the addresses of all views of the demo.
func everyView(t *testing.T, s *app.Studio) []string {
	t.Helper()
	odette, plan, class := client(t, s, "Odette"), planned(t, s, "Odette"), theDemoClass(t, s.Store)
	records, err := s.Store.RecordsOf(context.Background(), odette)
	require.NoError(t, err)
	home, err := s.AddHome(context.Background(), odette, 4, 5)
	require.NoError(t, err)
	return []string{
		"/",
		"/homes/" + home,
		"/homes/" + home + "/diary",
		"/homes/" + home + "/mail",
		"/outbox",
		"/clients/" + odette + "/rungs/bridge",
		"/help/words",
		"/clients",
		"/clients/" + odette,
		"/clients/new",
		"/plans/" + plan.ID,
		"/plans/" + plan.ID + "/print",
		"/plans/" + planned(t,
			s,
			"Tobias",
		).ID + "/teach",
		"/plans/" + plan.ID + "/wrap-up",
		"/records",
		"/records/" + records[0].ID,
		"/lever",
		"/library?purpose=balance&client=" + odette,
		"/library/bird_dog?client=" + odette,
		"/clients/" + odette + "/screens",
		"/clients/" + odette + "/limits",
		"/clients/" + odette + "/report",
		"/clients/" + odette + "/report?for=referrer",
		"/records/" + records[0].ID + "/correct",
		"/records?mark=form",
		"/plans/" + plan.ID + "/check",
		"/plans/" + plan.ID + "/beside",
		"/classes",
		classLink(class.ID),
		classLink(class.ID) + "/teach",
		classLink(class.ID) + "/wall",
		classLink(class.ID) + "/grouping",
		"/calendar",
		"/clients/" + odette + "/weeks",
		"/plans/" + plan.ID + "?add=1&q=balance",
		"/plans/" + plan.ID + "/possible",
		"/clients/" + client(t, s, "Saffron"),
		"/clients/" + odette + "/rights",
		"/settings",
		"/me",
		"/search?q=hip",
		"/help/plan",
		"/people",
		"/trail",
		"/copies",
		"/exchange",
		"/nowhere",
	}
}

// overlaps are the words that lie upon other words, and the things to tap that lie upon
// others, of all that is seen: by their boxes, with a hair's breadth forgiven.
const overlaps = `(() => {
	const seen = (e) => { for (let p = e; p instanceof Element; p = p.parentElement) { const s = getComputedStyle(p); 
			if (s.visibility === "hidden" || s.display === "none" || p.classList.contains("visually-hidden") ||
				s.position === "sticky" || s.position === "fixed" || p.matches("dialog, .skip, .me > div")) return false; }
		return e.checkVisibility ? e.checkVisibility() : true; };
	const inside = (r, e) => { for (let p = e; p; p = p.parentElement) { const s = getComputedStyle(p); 
			if (s.overflowX !== "visible" || s.overflowY !== "visible") { const c = p.getBoundingClientRect();
				if (r.left >= c.right - 1 || r.right <= c.left + 1 || r.top >= c.bottom - 1 || r.bottom <= c.top + 1) return false; } }
		return true; };
	const words = [], targets = [];
	const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
	for (let n = walk.nextNode(); n; n = walk.nextNode()) {
		if (!n.data.trim() || !seen(n.parentElement) ||
				n.parentElement.closest("select, option, textarea, script, style, title, svg")) continue;
		const range = document.createRange(); range.selectNodeContents(n);
		const high = 0.36 * parseFloat(getComputedStyle(n.parentElement).fontSize); // of the letters themselves, from their middle
		for (const r of range.getClientRects()) if (r.width > 3 && r.height > 3 && inside(r, n.parentElement)) { 
					const y = (r.top + r.bottom) / 2;
					words.push({ r: { left: r.left, right: r.right, top: y - high, bottom: y + high },
						n, say: n.data.trim().slice(0, 40) }); }
	}
	for (const e of document.querySelectorAll("main a[href], main button, main select, main input:not([type=hidden]), main textarea")) {
		// a round one has empty corners
			if (!seen(e) || getComputedStyle(e).opacity === "0" || getComputedStyle(e).borderRadius === "50%") continue;
		for (const r of e.getClientRects()) if (r.width > 3 && r.height > 3 && inside(r, e))
					targets.push({ r, n: e, say: e.tagName + " " + (e.innerText || e.name || e.getAttribute("class") || "").slice(0, 40) });
	}
	const out = [];
	const over = (list, hair) => {
		list.sort((a, b) => a.r.top - b.r.top);
		for (let i = 0; i < list.length; i++) for (let j = i + 1; j < list.length && list[j].r.top < list[i].r.bottom - hair; j++) {
			const a = list[i], b = list[j];
			if (a.n === b.n || a.n.contains(b.n) || b.n.contains(a.n)) continue;
			if (Math.min(a.r.right, b.r.right) - Math.max(a.r.left, b.r.left) > hair &&
				Math.min(a.r.bottom, b.r.bottom) - Math.max(a.r.top, b.r.top) > hair)
					out.push("“" + a.say + "” and “" + b.say + "”");
		}
	};
	over(words, 3); over(targets, 2);
	return [...new Set(out)].slice(0, 4).join("; ");
})()`

// smallWords are the words of drawings that come out smaller than twelve pixels.
const smallWords = `[...document.querySelectorAll("main svg text")].filter((e) => { const r = e.getBoundingClientRect(), m = ` +
	`e.getScreenCTM(); return r.width && e.textContent.trim() && e.checkVisibility() && parseFloat(getComputedStyle(e).fontSize) * ` +
	`m.d < 11.95; }).map((e) => e.textContent + " " + (parseFloat(getComputedStyle(e).fontSize) * ` +
	`e.getScreenCTM().d).toFixed(1)).slice(0, 4).join("; ")`

// contrast runs only axe-core's rule of contrast, which is what a scheme can break.
func (b *browser) contrast(name string) {
	b.t.Helper()
	b.axe()
	found, err := chromedp.Run(
		b.ctx,
		chromedp.Evaluate[string](
			`axe.run(document, {runOnly: ["color-contrast"], resultTypes: ["violations"]}).then(r => `+
				`JSON.stringify(r.violations.flatMap(v => v.nodes.slice(0, 4).map(n => n.target.join(" ") + " " + (n.any[0]?.message `+
				`?? "")))))`,
			chromedp.EvalAwaitPromise,
		),
	)
	require.NoError(b.t, err)
	var violations []string
	require.NoError(b.t, json.Unmarshal([]byte(found), &violations))
	assert.Empty(b.t, violations, name)
}

// media has the browser ask for a scheme, as a system would.
func (b *browser) media(features ...[2]string) {
	b.t.Helper()
	p := emulation.SetEmulatedMediaParams{}
	for _, f := range features {
		p.Features = append(p.Features, &emulation.MediaFeature{Name: f[0], Value: f[1]})
	}
	b.do(func(ctx context.Context, t *chromedp.Target) (chromedp.Void, error) {
		_, err := cdp.Call(ctx, t, emulation.SetEmulatedMedia, p)
		return chromedp.Void{}, err
	})
}

// TestEveryViewAtFourWidthsAndThreeSchemes, in two halves: names, contrast and the like by axe-core, nothing
// that sticks out, nothing that lies upon something else, no word too small in a drawing, a help
// that says how the page is used, and
// (by newBrowser) no complaint of the browser.
func TestEveryViewAtFourWidthsAndThreeSchemes(t *testing.T) {
	t.Parallel()
	for half := range 2 {
		t.Run(fmt.Sprint(half+1), func(t *testing.T) {
			t.Parallel()
			srv, s := demoSite(t)
			b := newBrowser(t, 1280, 800, 4*time.Minute)
			helps := map[string]string{} // by address, of which view
			for i, v := range everyView(t, s) {
				if i%2 == half {
					b.walk(srv.URL, v)
					if help := read[string](b,
						`document.querySelector("a[data-help]")?.getAttribute("href") ?? ""`,
					); help != "" { // a lesson and its like have no menu
						helps[help] = v
					}
				}
			}
			assert.Greater(t, len(helps), 12)
			for help, v := range helps {
				status, said := get(t, srv.URL+help)
				require.Equal(t, http.StatusOK, status, help)
				if help != "/help/help" {
					assert.Contains(t, said, "How it is used", "%s, of %s", help, v)
				}
			}
		})
	}
}

// walk looks at one view.
func (b *browser) walk(site, v string) {
	t := b.t
	b.media([2]string{"prefers-color-scheme", "light"})
	b.do(chromedp.EmulateViewport(1280, 800))
	b.open(site + v)
	b.accessible(v)
	assert.Empty(t, b.small(), "%s: too small in a drawing", v)
	assert.Empty(t, b.laid(), "%s at 1280", v)
	b.media([2]string{"prefers-color-scheme", "dark"})
	b.contrast(v + " in the dark")
	b.media([2]string{"forced-colors", "active"})
	assert.Empty(t, b.laid(), "%s with forced colours", v)
	b.media([2]string{"prefers-color-scheme", "light"})
	for _, width := range []int{1024, 512, 390} {
		b.do(chromedp.EmulateViewport(int64(width), 844))
		assert.LessOrEqual(t, read[int](b, `document.documentElement.scrollWidth`), width+2, "%s sticks out at %d", v, width)
		assert.Empty(t, b.laid(), "%s at %d", v, width)
		assert.Empty(t, b.small(), "%s at %d: too small in a drawing", v, width)
	}
}

// TestTheLookIsKept sets dark and larger text, which then hold on every page, in a lesson too.
func TestTheLookIsKept(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	b := newBrowser(t, 1280, 800)
	b.open(srv.URL + "/settings")
	before := read[float64](b, `parseFloat(getComputedStyle(document.querySelector("h1")).fontSize)`)
	b.do(
		chromedp.Click(`input[name=scheme][value=dark]`),
		chromedp.Click(`input[name=text][value=larger]`),
		chromedp.Click(`input[name=units][value=imperial]`),
		chromedp.Click(`input[name=letters][value=off]`),
		chromedp.Click(`form[action="/settings/look"] .tongue`),
	)
	b.until(`document.documentElement.dataset.scheme === "dark" && document.querySelector("[role=status]")`)
	assert.InDelta(t, 1.375*before, read[float64](b, `parseFloat(getComputedStyle(document.querySelector("h1")).fontSize)`), 0.5)
	assert.Equal(t, "rgb(18, 22, 29)", read[string](b, `getComputedStyle(document.body).backgroundColor`))
	b.accessible("settings in the dark, larger")
	for _, v := range []string{"/", "/clients/" + client(t, s, "Odette"), "/clients/" + client(t, s, "Tobias") + "/screens"} {
		b.open(srv.URL + v)
		b.contrast(v)
		assert.Empty(t, b.laid(), "%s with larger text", v)
		assert.LessOrEqual(t, read[int](b, `document.documentElement.scrollWidth`), 1282, v)
	}
	b.open(srv.URL + "/clients/" + client(t, s, "Odette"))
	b.do(chromedp.KeyEvent("t"), chromedp.KeyEvent("/")) // letters press nothing any more
	assert.True(t, read[bool](b, `location.pathname.startsWith("/clients/") && !document.querySelector("dialog[open]")`))
	b.open(srv.URL + "/plans/" + planned(t, s, "Odette").ID + "/teach")
	b.until(`document.querySelector(".teach.is-dark") !== null`)
	b.open(srv.URL + "/clients/" + client(t, s, "Odette") + "/edit")
	assert.Contains(t, read[string](b, `document.querySelector("input[name=height_cm]").value`), " ft ")
	b.open(srv.URL + "/settings")
	b.do(chromedp.Click(`input[name=scheme][value=""]`), chromedp.Click(`form[action="/settings/look"] .tongue`))
	b.until(`document.documentElement.dataset.scheme === undefined`)
}

func TestTheStudioHasDaysAndHours(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	day := map[string][]string{
		"name":     {"Lantern Loft"},
		"days":     {"1", "2", "3", "4", "5"},
		"opens":    {"09:00"},
		"closes":   {"16:00"},
		"room":     {"mat", "chair", "band"},
		"place":    {"chair"},
		"approach": {"sensing"},
		"minutes":  {"45"},
	}
	resp, _ := ask(t, "POST", srv.URL+"/settings/house", day, nil)
	require.Equal(t, 303, resp.StatusCode)
	_, page := get(t, srv.URL+"/clients/new")
	assert.Contains(t, page, `value="band" checked`)
	assert.Contains(t, page, `value="45"`)
	_, page = get(t, srv.URL+"/calendar")
	assert.Contains(t, page, "The studio closes at 16:00.", "Saffron comes later than that")
	assert.Contains(t, page, "is-closed")
	for field, wrong := range map[string]string{"name": "", "opens": "25:00", "closes": "08:00", "room": "trapeze", "place": "moon",
		"approach": "fast", "minutes": "3", "days": "9"} {
		form := map[string][]string{}
		for k, v := range day {
			form[k] = v
		}
		form[field] = []string{wrong}
		resp, page := ask(t, "POST", srv.URL+"/settings/house", form, nil)
		assert.Equal(t, 422, resp.StatusCode, field)
		assert.Contains(t, page, "Nothing was saved.", field)
	}
	assert.Equal(t, "Lantern Loft", s.House(context.Background()).Name)
	resp, _ = ask(t, "POST", srv.URL+"/settings/look", map[string][]string{"scheme": {"sepia"}}, nil)
	assert.Equal(t, 422, resp.StatusCode)
}

// laid says what lies upon something else.
func (b *browser) laid() string { return read[string](b, overlaps) }

// small says which words of drawings are too small.
func (b *browser) small() string { return read[string](b, smallWords) }
