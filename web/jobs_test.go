package web

import (
	"context"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// hand does a job with a finger or a mouse and counts: a tap, a choice in a list, and a field
// that is written into are one each; what is written is not counted.
type hand struct {
	*browser
	n int
}

func (h *hand) tap(selector string) {
	h.t.Helper()
	h.until(`document.readyState === "complete" && document.querySelector(` + "`" + selector + "`" + `)?.checkVisibility()`)
	h.press(selector)
	h.n++
}

func (h *hand) write(selector, words string) {
	h.t.Helper()
	h.until(`document.readyState === "complete" && document.querySelector(` + "`" + selector + "`" + `)?.checkVisibility()`)
	_ = read[any](
		h.browser,
		fmt.Sprintf(
			"(() => { const f = document.querySelector(`%s`); f.value = %q; for (const k of ['input', 'change']) f.dispatchEvent(new "+
				"Event(k, {bubbles: true})); return 0 })()",
			selector,
			words,
		),
	)
	h.n++
}

// says taps the first button in sight that says so.
func (h *hand) says(words string) {
	h.t.Helper()
	find := fmt.Sprintf(
		`[...document.querySelectorAll("main button")].find((x) => x.checkVisibility() && `+
			`x.innerText.toLowerCase().startsWith(%q.toLowerCase()))`,
		words,
	)
	h.until(find)
	_ = read[any](h.browser, find+`.click(); 0`)
	h.n++
}

// TestTheEightJobs goes through what an instructor does, from the page of the day, and says
// with how many taps.
func TestTheEightJobs(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	tobias := client(t, s, "Tobias")
	jobs := map[string]int{}
	on := func(b *browser, name string, most int, do func(h *hand)) {
		h := &hand{browser: b}
		b.open(srv.URL + "/")
		do(h)
		jobs[name] = h.n
		assert.LessOrEqual(t, h.n, most, name)
	}
	phone := newBrowser(t, 390, 844)
	on(phone, "a new client by telephone, and her plan", 12, func(h *hand) {
		h.tap(`a[href="/clients/new"]`)
		h.tap("input[name=asked]")
		h.write("input[name=name]", "Perpetua Winnow")
		h.write("input[name=birth_year]", "1956")
		h.tap("details.fold summary")
		h.tap(`input[name=conditions][value=osteoporosis]`)
		h.write(`input[name="osteoporosis.t_score"]`, "-2.6")
		h.write("input[name=pain_now]", "2")
		h.tap("form.intake .submit button")
		h.until(`document.querySelector("h1")?.innerText === "Perpetua Winnow"`)
		h.tap(".plan-wish button.tongue")
		h.until(`document.querySelectorAll(".row-item").length > 4`)
	})
	b := newBrowser(t, 1280, 800)
	on(b, "next week from last", 4, func(h *hand) {
		h.tap(fmt.Sprintf(`.visit-who a[href="/clients/%s"]`, tobias))
		h.until(`document.querySelector("#from")`)
		h.write("#on", s.Today().AddDate(0, 0, 7).String())
		h.write("#from", "last")
		h.tap(".plan-wish button.tongue")
		h.until(`document.querySelectorAll(".row-item").length > 4`)
	})
	on(b, "find for a condition", 3, func(h *hand) {
		h.tap("a[data-find]")
		h.write("#find-words", "osteoporosis")
		h.until(`document.querySelector("#find-list a")`)
		h.tap("#find-list a")
		h.until(`document.querySelectorAll(".card-link .verdict, .verdict").length > 4`)
	})
	on(b, "measure", 6, func(h *hand) {
		h.tap(fmt.Sprintf(`.visit-who a[href="/clients/%s"]`, tobias))
		h.tap(fmt.Sprintf(`.head-actions a[href="/clients/%s/screens"]`, tobias))
		h.tap(`.test-card .answers input[value=unsteady]`)
		h.until(`document.querySelector(".would li")`)
		h.tap(`.keep-bar button`)
		h.until(`document.querySelector(".matrix")`)
	})
	on(b, "correct a record", 8, func(h *hand) {
		h.tap(`nav a[href="/records"]`)
		h.tap(`a.client-row[href^="/records/"]`)
		h.tap(`a[href$="/correct"]`)
		h.write("input[name=after]", "3")
		h.write("input[name=why]", "written down too low")
		h.tap("form.correct button[type=submit]")
		h.until(`document.querySelector("main").innerText.includes("written down too low")`)
	})
	on(b, "from the bench to a plan", 7, func(h *hand) {
		h.tap(`nav a[href="/lever"]`)
		h.write(`.lever-form select[name=client]`, client(t, s, "Edmund"))
		h.until(`document.querySelector("#lever form button, #lever a[href^='/clients/']")`)
		h.write(`.lever-form input[name=raise]`, "62")
		h.until(`document.querySelector(".lever-figure figcaption")?.innerText.includes("62 cm")`)
		h.tap(`#lever form button`)
		h.until(`document.querySelector("#lever")?.innerText.includes("62 cm")`)
		h.tap(`#lever a[href^="/clients/"]`)
		h.tap(".plan-wish button.tongue")
		h.until(`document.querySelectorAll(".row-item").length > 4`)
	})
	on(b, "teach with pain, a swap and a late start", 26, func(h *hand) {
		plan := planned(t, s, "Odette")
		h.tap(fmt.Sprintf(`a.tongue[href="/plans/%s/check"]`, plan.ID))
		h.tap(fmt.Sprintf(`input[name=pain][value="%d"]`, plan.Plan.PainNow))
		h.tap("input[name=asked]")
		h.tap("#verdict button.tongue")
		h.until(`document.getElementById("teach")?.dataset.heard === "yes"`)
		h.tap("#k-more") // ten minutes late: the rest is planned anew
		h.says("Change it")
		h.write(`#t-drawer-body input[aria-label="Minutes left"]`, "10")
		h.says("Plan the rest anew")
		h.until(`document.querySelector("#t-mark").innerText.includes("10 minutes")`)
		h.says("Close")
		h.tap("#k-pause")
		h.tap("#k-pain")
		h.says("low back")
		h.says("3")
		h.until(`!document.getElementById("t-pain").open`)
		h.tap("#k-more")
		h.says("instead: ")
		h.until(`document.querySelector("#t-mark").innerText.startsWith("Now ")`)
		h.says("Close")
		for range 30 {
			if path, err := chromedp.Run(
				b.ctx,
				chromedp.Evaluate[string](`location.pathname`),
			); err == nil &&
				strings.HasSuffix(path, "wrap-up") {
				break
			}
			_, _ = chromedp.Run(b.ctx, chromedp.Evaluate[any](`document.getElementById("k-next")?.click(); 0`)) // the lesson goes on
			time.Sleep(40 * time.Millisecond)
		}
		h.until(`document.querySelector("form.wrap")?.dataset.ready === "yes"`)
		h.write("form.wrap input[name=after]", "2")
		h.tap("form.wrap button[type=submit]")
		h.until(`document.querySelector("table.done")`)
	})
	var table []string
	for name, n := range jobs {
		table = append(table, fmt.Sprintf("%s: %d", name, n))
	}
	t.Log(strings.Join(table, "; "))
}

// TestJobsByKeys does them without a mouse, in under thirty strokes each; a word
// that is written is one.
func TestJobsByKeys(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	b := newBrowser(t, 1280, 800)
	strokes := 0
	key := func(keys ...string) {
		for _, k := range keys {
			b.do(chromedp.KeyEvent(k))
			strokes++
		}
	}
	job := func(name string, do func()) {
		strokes = 0
		b.open(srv.URL + "/")
		do()
		t.Logf("%s: %d strokes", name, strokes)
		assert.Less(t, strokes, 30, name)
	}
	// tabTo goes on by Tab until the focus is where it should be.
	tabTo := func(selector string) {
		for range 30 {
			if read[bool](b, `document.activeElement?.matches(`+"`"+selector+"`"+`) ?? false`) {
				return
			}
			key(kb.Tab)
		}
		require.Fail(t, "Tab never came to "+selector)
	}
	// past goes past the menu, as whoever works by keys does on a page that is new.
	past := func() {
		_ = read[any](b, `document.querySelector("#main").tabIndex = -1; 0`)
		key(kb.Tab, kb.Enter)
	}
	find := func(words string) {
		key("/")
		_ = read[any](b, `document.getElementById("find-words").value = ""; 0`) // where a keyboard would not have typed the stroke
		key(words)
		b.until(`document.querySelector("#find-list a")`)
		key(kb.Enter)
	}
	part := func(n int) {
		for range n {
			b.do(chromedp.KeyEvent(kb.PageDown, chromedp.KeyModifiers(chromedp.ModifierAlt)))
			strokes++
		}
	}
	job("plan for somebody", func() {
		find("Edmund")
		b.until(`document.querySelector(".plan-wish")`)
		key("p")
		b.until(`document.querySelectorAll(".row-item").length > 4`)
	})
	job("a new client and her plan", func() {
		find("new client")
		b.until(`document.querySelector("form.intake")`)
		past()
		part(2) // past the warning signs
		key("Perpetua Winnow", kb.Tab, "1956")
		part(1)
		tabTo(`input[name=conditions][value=osteoporosis]`)
		key(" ", kb.Tab, "-2.6")
		part(1)
		key("2", kb.Enter)
		b.until(`document.querySelector("h1")?.innerText === "Perpetua Winnow"`)
		key("p")
		b.until(`document.querySelectorAll(".row-item").length > 4`)
	})
	job("next week from last", func() {
		find("Tobias")
		b.until(`document.querySelector(".plan-wish #from")`)
		past()
		tabTo("#on")
		_ = read[any](b, fmt.Sprintf(`document.getElementById("on").value = %q; 0`,
			s.Today().AddDate(0, 0, 7).String())) // a day is written as a word is
		strokes += 3
		tabTo("#from")
		key("l")
		tabTo(".plan-wish .tongue")
		key(kb.Enter)
		b.until(`document.querySelectorAll(".row-item").length > 4`)
	})
	job("find for a condition", func() {
		find("osteoporosis")
		b.until(`location.pathname === "/library" && document.querySelectorAll(".card-link").length > 20`)
	})
	job("correct a record", func() {
		find("records")
		b.until(`document.querySelector("a.client-row[href^='/records/']")`)
		past()
		tabTo(`a.client-row`)
		key(kb.Enter)
		b.until(`document.querySelector("a[href$='/correct']")`)
		key("c")
		b.until(`document.activeElement?.name === "before"`)
		tabTo("input[name=after]")
		key("3")
		part(2)
		tabTo("input[name=why]")
		key("written down too low", kb.Enter)
		b.until(`document.querySelector("main").innerText.includes("written down too low")`)
	})
	job("from the bench to a plan", func() {
		find("bench")
		b.until(`document.querySelector(".lever-form")`)
		past()
		tabTo(".lever-form input[name=raise]")
		key(kb.PageUp, kb.PageUp, kb.PageUp, kb.PageUp, kb.PageUp, kb.PageUp)
		tabTo(".lever-form select[name=client]")
		key("Ottilie")
		b.until(`document.querySelector("#lever a[href^='/clients/']")`)
		tabTo("#lever form button")
		key(kb.Enter)
		b.until(`!document.querySelector("#lever form button") && document.querySelector("#lever a[href^='/clients/']")`)
		key("p")
		b.until(`document.activeElement?.id === "minutes"`)
		key(kb.Enter)
		b.until(`document.querySelectorAll(".row-item").length > 4`)
	})
	job("swap an exercise and take it back", func() {
		b.open(srv.URL + "/plans/" + planned(t, s, "Odette").ID)
		key(kb.Tab, kb.Enter) // past the menu; arrows choose a row from anywhere on the page
		first := b.text(".is-chosen .row-name strong")
		key(kb.ArrowDown, kb.ArrowDown)
		b.until(`document.querySelector(".is-chosen") && document.activeElement?.matches(".is-chosen .row-link")`)
		assert.NotEqual(t, first, b.text(".is-chosen .row-name strong"))
		key(kb.Delete)
		b.until(`document.querySelector(".undo")`)
		b.until(`document.getElementById("aloud").textContent.startsWith("Changed: ")`)
		key("u")
		b.until(`!document.querySelector(".undo form, form.undo span")?.innerText.startsWith("changed")`)
	})
	job("open a client from the list", func() {
		b.open(srv.URL + "/clients")
		key(kb.Tab, kb.Enter)
		tabTo(".client-row")
		key(kb.ArrowDown, kb.ArrowDown)
		name := read[string](b, `document.activeElement.querySelector(".client-name").innerText`)
		key(kb.Enter)
		b.until(fmt.Sprintf(`document.querySelector("h1")?.innerText === %q`, name))
	})
	job("answer a test", func() {
		b.open(srv.URL + "/clients/" + client(t, s, "Tobias") + "/screens")
		key(kb.Tab, kb.Enter)
		tabTo(".test-card input[type=radio]")
		key(kb.ArrowLeft) // the last but one: unsteady
		b.until(`document.querySelector(".would li")`)
		tabTo(".keep-bar button")
		key(kb.Enter)
		b.until(`document.querySelector(".said-line")`)
		row, err := s.Store.Client(context.Background(), client(t, s, "Tobias"))
		require.NoError(t, err)
		assert.NotEmpty(t, row.Client.Screens[len(row.Client.Screens)-1].On, "kept, of today")
	})
	job("teach with pain, a swap and a late start", func() {
		key("t")
		b.until(`document.readyState === "complete" && document.querySelector(".check-form input[name=pain]")`)
		key("n")
		b.until(`document.querySelector("#verdict")?.innerText.includes("as planned")`)
		key("b")
		b.until(`document.getElementById("teach")?.dataset.heard === "yes"`)
		key("l") // she came ten minutes late
		_ = read[any](b, `document.activeElement.value = ""; 0`)
		key("10", kb.Enter)
		b.until(`document.querySelector("#t-mark").innerText.includes("10 minutes")`)
		key(" ", "p")
		b.until(`document.getElementById("t-pain").open`)
		key(kb.Tab, kb.Enter, "3")
		b.until(`!document.getElementById("t-pain").open`)
		if read[bool](b, `document.getElementById("t-ease").open`) { // no easier step: something else
			key(kb.Escape)
		}
		key("i")
		b.until(`document.querySelector("#t-mark").innerText.startsWith("Now ")`)
		for range 20 {
			if b.holds(`location.pathname.endsWith("wrap-up")`) {
				break
			}
			b.do(chromedp.KeyEvent(kb.ArrowRight)) // the lesson goes on by itself
			b.until(`document.readyState === "complete"`)
		}
		b.until(`document.querySelector("form.wrap")?.dataset.ready === "yes"`)
		b.until(`document.activeElement?.name === "after"`) // it stands there
		key("2", kb.Enter)
		b.until(`document.querySelector("table.done")`)
	})
}
