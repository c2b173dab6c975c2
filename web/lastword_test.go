package web

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestTheLastWordCounts: where answers come slowly, what was asked for last is what is shown,
// and what was answered last is what is kept.
func TestTheLastWordCounts(t *testing.T) {
	t.Parallel()
	h, s := demoHandler(t)
	srv := httptest.NewServer(http.HandlerFunc(func(out http.ResponseWriter, r *http.Request) {
		if r.Header.Get("HX-Request") == "true" {
			time.Sleep(400 * time.Millisecond)
		}
		h.ServeHTTP(out, r)
	}))
	t.Cleanup(srv.Close)
	b := newBrowser(t, 1280, 800)
	const set = `(() => { const f = document.querySelector(%q); f.value = %q; for (const k of ["input", "change"]) ` +
		`f.dispatchEvent(new Event(k, {bubbles: true})); return 0 })()`
	b.open(srv.URL + "/lever")
	for _, cm := range []string{"20", "40", "60", "80"} {
		_ = read[any](b, fmt.Sprintf(set, ".lever-form input[name=raise]", cm))
		time.Sleep(120 * time.Millisecond) // longer than the page waits, shorter than an answer takes
	}
	b.until(`document.querySelector(".lever-figure figcaption").innerText.includes("80 cm")`)
	time.Sleep(600 * time.Millisecond) // nothing that was asked for earlier comes after it
	assert.Contains(t, b.text(".lever-figure figcaption"), "80 cm")

	b.open(srv.URL + "/plans/" + planned(t, s, "Odette").ID)
	for range 3 {
		_ = read[any](b, `document.querySelector("button[name=step][value=more]").click(); 0`)
		time.Sleep(100 * time.Millisecond)
	}
	b.until(
		`document.getElementById("wish-minutes").value === "35" && document.querySelector(".undo")?.innerText.includes("35")`,
	) // three times five more than 20

	assert.Empty(t,
		read[string](b, `document.querySelector("form.sentence button").name`),
		"the first button is what Enter presses, and that takes no step",
	)

	b.open(srv.URL + "/clients/" + client(t, s, "Odette") + "/edit")
	for _, words := range []string{"sitting", "sitting long", "sitting long, and the evening"} {
		_ = read[any](b, fmt.Sprintf(set, "form.intake input[name=worse_by]", words))
		time.Sleep(330 * time.Millisecond)
	}
	id := read[string](b, `document.querySelector("form.intake input[name=key]").value`)
	require.Eventually(t, func() bool {
		_, page := get(t, srv.URL+"/intakes/"+id)
		return strings.Contains(page, "sitting long, and the evening")
	}, 5*time.Second, 100*time.Millisecond)
	b.until(`document.querySelector("#kept button")`) // takes the last answer back, and is not what Enter presses
	_ = read[any](b, `document.querySelector("form.intake input[name=worse_by]").focus(); 0`)
	b.do(chromedp.KeyEvent("\r"))
	b.until(`location.pathname === "/clients/` + client(t, s, "Odette") + `"`)
}

// TestANoteStaysAsTheLessonGoesOn: what is being typed is not lost when the page draws itself
// anew, when it is loaded again, or when the lesson ends before the note was kept.
func TestANoteStaysAsTheLessonGoesOn(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	b := newBrowser(t, 1280, 800)
	b.open(srv.URL + "/plans/" + planned(t, s, "Odette").ID + "/teach")
	heard := `document.getElementById("teach")?.dataset.heard === "yes"`
	b.until(heard)
	b.do(chromedp.KeyEvent("m"))
	_ = read[any](b, `document.querySelector("#t-drawer-body textarea").focus(); 0`)
	b.do(chromedp.KeyEvent("her left hand first"))
	name := b.text("#t-name")
	for range 3 {
		_ = read[any](b, `document.getElementById("k-next").click(); 0`)
	}
	b.until(fmt.Sprintf(`document.getElementById("t-name").textContent !== %q`, name))
	b.do(chromedp.KeyEvent(", and slowly"))
	const whole = "her left hand first, and slowly"
	assert.Equal(t, whole, read[string](b, `document.activeElement.value`), "the hand goes on where it was")
	b.open(srv.URL + "/plans/" + planned(t, s, "Odette").ID + "/teach")
	b.until(heard)
	b.do(chromedp.KeyEvent("m"))
	assert.Equal(t, whole, read[string](b, `document.querySelector("#t-drawer-body textarea").value`))
	_ = read[any](b, `document.getElementById("k-done").click(); 0`)
	b.until(`document.querySelector("form.wrap")?.dataset.ready === "yes"`)
	assert.Contains(t, read[string](b, `document.querySelector("form.wrap textarea[name=notes]").value`), whole)
}
