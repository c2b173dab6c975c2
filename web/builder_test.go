package web

import (
	"context"
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
	"restbend/store"
)

// TestBuilder bends a plan to an instructor's will: moves by key and by drag, keeps,
// takes out, re-doses, adds, is refused, takes back and makes again, fits the
// minutes, plans the rest anew and keeps it as a template.
func TestBuilder(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	row := planned(t, s, "Marguerite")
	b := newBrowser(t, 1280, 800)
	b.open(srv.URL + "/plans/" + row.ID + "?item=4")
	name := func(n int) string { return b.text(fmt.Sprintf("#row-%d .row-name strong", n)) }
	fourth, fifth := name(4), name(5)

	// By key: down one place, and back by undo; then again by redo.
	b.until(`document.activeElement === document.body || true`)
	b.do(chromedp.Focus("#row-4"), chromedp.KeyEvent(kb.ArrowDown, chromedp.KeyModifiers(1)))
	b.until(fmt.Sprintf(`document.querySelector("#row-5 .row-name strong").innerText === %q`, fourth))
	assert.Contains(t, b.text(".undo"), fourth+" moved from 4 to 5")
	b.do(chromedp.Click(`[data-key="u"]`))
	b.until(fmt.Sprintf(`document.querySelector("#row-4 .row-name strong").innerText === %q`, fourth))
	b.do(chromedp.Click(`[data-key="r"]`))
	b.until(fmt.Sprintf(`document.querySelector("#row-4 .row-name strong").innerText === %q`, fifth))
	b.do(chromedp.Click(`[data-key="u"]`))
	b.until(fmt.Sprintf(`document.querySelector("#row-4 .row-name strong").innerText === %q`, fourth))
	assert.True(t, read[bool](b, `!!Sortable.get(document.querySelector(".rows"))`), "rows can be dragged")

	// The arithmetic of the chosen one is there, and comes to its minutes.
	assert.Contains(t, b.text(".tray-why"), "how its")
	total := read[string](b, `document.querySelector(".tray-why tr.sum td").innerText`)
	assert.Contains(t, b.text(".tray-why summary"), total)

	// Keep it, and change the minutes: it stays.
	b.do(chromedp.Click("#row-4"))
	b.until(`document.querySelector("#row-4[aria-current]")`)
	b.do(chromedp.Click(`[data-key="k"]`))
	b.until(`document.querySelector(".is-chosen .row-lock button").getAttribute("aria-pressed") === "true"`)
	b.do(chromedp.Click(`button[value=more]`))
	b.until(`document.querySelector("#wish-minutes").value === "35"`)
	assert.Contains(t, b.text(".rows"), fourth)

	// Take one out: the minutes no longer fit, and a button says so and mends it.
	b.do(chromedp.Click("#row-3"))
	b.until(`document.querySelector("#row-3[aria-current]")`)
	third := name(3)
	b.do(chromedp.Click(`[data-key="Delete"]`))
	b.until(fmt.Sprintf(`document.querySelector(".undo")?.innerText.includes(%q)`, third+" taken out"))
	if read[bool](b, `!!document.querySelector('[data-key="f"]')`) {
		assert.Contains(t, b.text(".plan-tools"), "too short: fit to 35 min")
		b.do(chromedp.Click(`[data-key="f"]`))
		b.until(`!document.querySelector('[data-key="f"]')`)
	}

	// Add one by words; what is barred says why and offers what is safe.
	b.do(chromedp.Click(`[data-key="a"]`))
	b.until(`document.querySelector("#add-q")`)
	b.do(chromedp.SendKeys("#add-q", "curl-up"))
	b.until(`[...document.querySelectorAll(".alternative .verdict-avoid")].length > 0`)
	barred := read[string](b, `[...document.querySelectorAll(".alternative")].find(a => a.querySelector(".verdict-avoid")).innerText`)
	assert.Contains(t, barred, "head")
	b.open(srv.URL + "/plans/" + row.ID + "?add=1&q=look+over")
	before := read[int](b, `document.querySelectorAll(".row-item").length`)
	b.do(chromedp.Click(`.alternative .alt-use button`))
	b.until(fmt.Sprintf(`document.querySelectorAll(".row-item").length === %d`, before+1))

	// What the page does not offer is refused all the same, and nothing is lost.
	_ = read[any](b,
		`(() => { const f = document.querySelector("form#tool"); f.insertAdjacentHTML("beforeend", '<input type=hidden name=kind `+
			`value=add><input type=hidden name=variant value=curl_up>'); f.requestSubmit(); return 0 })()`,
	)
	b.until(`document.querySelector(".refusal")?.innerText.includes("is not for this client")`)
	assert.Contains(t, b.text(".refusal"), "Nearest that is safe")
	assert.Equal(t, before+1, read[int](b, `document.querySelectorAll(".row-item").length`))

	// Half-way through she is late: the rest for ten minutes.
	b.open(srv.URL + "/plans/" + row.ID + "?item=6")
	kept := []string{name(1), name(2), name(3), name(4), name(5)}
	_ = read[any](b, `document.querySelectorAll(".tray-why")[1].open = true; 0`)
	b.do(chromedp.Click(`.tray-why form button`))
	b.until(`document.querySelector(".undo")?.innerText.includes("the rest for 10 minutes")`)
	for i, n := range kept {
		assert.Equal(t, n, name(i+1))
	}
	assert.Equal(t, "close", read[string](b, `[...document.querySelectorAll(".row-phase")].at(-1).innerText`))

	// Keep it as a template, and make it a draft.
	_ = read[any](b, `document.querySelector(".tool-box").open = true; 0`)
	b.accessible("builder with its sheet open")
	b.do(chromedp.SetValue(`.tool-sheet input[name=name]`, "Easy Tuesday"), chromedp.Click(`.tool-sheet form:last-child button`))
	b.until(`document.querySelector("#builder") && !document.querySelector(".tool-box").open`)
	templates, err := s.Store.Templates(context.Background())
	require.NoError(t, err)
	require.Len(t, templates, 1)
	assert.Equal(t, "Easy Tuesday", templates[0].Name)

	// Another client after the template, and two plans side by side.
	b.open(srv.URL + "/clients/" + client(t, s, "Tobias"))
	b.do(chromedp.SetValue("#from", "template:"+templates[0].ID), chromedp.Click(`.plan-wish button[name=draft]`))
	b.until(`document.querySelector(".rows")`)
	assert.Contains(t, b.text(".plan-tools"), "No day yet")
	b.do(chromedp.Click(`.plan-tools a[href$="/beside"]`))
	b.until(`document.querySelectorAll(".beside section").length === 2`)
	b.accessible("side by side")
	b.do(chromedp.Click(`.beside-head form button`))
	b.until(`document.querySelector(".rows")`)
	assert.Contains(t, b.text(".undo"), "changed:")
	b.open(srv.URL + "/plans/" + row.ID + "/possible")
	assert.NotEmpty(t, b.text("#main"))
}

// TestUnevenSidesAreTaughtAsPlanned: where one side gets more, the lesson counts it
// so, and its time is the plan's.
func TestUnevenSidesAreTaughtAsPlanned(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	row := planned(t, s, "Marguerite")
	p := row.Plan
	uneven := false
	for _, it := range p.Items {
		uneven = uneven || len(it.Dose.BySide) > 0
	}
	if !uneven {
		for i, it := range p.Items {
			if len(it.Sides) == 2 && it.Dose.Kind == exercise.Repetitions {
				p.Items[i].Dose = it.Dose.Uneven("left")
				uneven = true
				break
			}
		}
		require.True(t, uneven)
		r, err := s.RequestOf(context.Background(), row)
		require.NoError(t, err)
		p.Retime(r)
		require.NoError(t, s.Store.Change(context.Background(), func(tx *store.Tx) error {
			return tx.ChangePlan(row.ID, row.Revision, p, "uneven", s.Now())
		}))
	}
	b := newBrowser(t, 1280, 800)
	b.open(srv.URL + "/plans/" + row.ID + "/teach")
	total := read[float64](b, `JSON.parse(document.getElementById("lesson").textContent).beats.reduce((s, b) => s + b.seconds, 0)`)
	assert.InDelta(t, p.SecondsTotal, total, 2)
	today, err := s.Store.PlansOn(context.Background(), s.Today().String())
	require.NoError(t, err)
	for _, other := range today {
		if other.Taught() {
			continue
		}
		b.open(srv.URL + "/plans/" + other.ID + "/teach")
		assert.InDelta(t,
			other.Plan.SecondsTotal,
			read[float64](b, `JSON.parse(document.getElementById("lesson").textContent).beats.reduce((s, b) => s + b.seconds, 0)`),
			2,
			other.On,
		)
	}
}
