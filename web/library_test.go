package web

import (
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

func TestTheLibraryAnswersAFilter(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	_, all := get(t, srv.URL+"/library")
	assert.Contains(t, all, "Opposite arm and leg")
	assert.Contains(t, all, "Knee rolls")
	for _, c := range []struct{ query, shows, hides string }{
		{"words=knee+rolls", "Small knee rolls", "Opposite arm and leg"},
		{"purpose=balance&position=standing", "One leg, standing free", "Knee rolls"},
		{"place=bed", "Heel slide", "Plank on the hands"},
		{"effort=strong", "Plank on the hands", "Rest, knees bent"},
		{"kit=band", "Press against a band", "Heel slide"},
		{"kit=none&position=supine", "Heel slide", "Press against a band"},
		{"condition=osteoporosis", "Heel slide", "Both knees to the chest"},
		{"condition=osteoporosis&verdict=all", "Both knees to the chest", "verdict-none"},
		{"client=" + client(t, s, "Odette"), "suits", "Both knees to the chest"},
	} {
		status, body := get(t, srv.URL+"/library?"+c.query)
		assert.Equal(t, http.StatusOK, status, c.query)
		assert.Contains(t, body, c.shows, c.query)
		assert.NotContains(t, body, "<strong>"+c.hides+"</strong>", c.query)
	}
	kinds := map[string]string{"suits": "verdict-suits", "adapt": "verdict-adapt", "avoid": "verdict-avoid"}
	for asked := range kinds {
		_, body := get(t, srv.URL+"/library?condition=osteoporosis&verdict="+asked)
		body = between(body, `id="shelf"`, "</section>")
		for kind, class := range kinds {
			assert.Equal(t, kind == asked, strings.Contains(body, class), "asked for %s: %s", asked, kind)
		}
	}
	resp, refused := get(t, srv.URL+"/library?verdict=maybe")
	assert.Equal(t, http.StatusUnprocessableEntity, resp)
	assert.Contains(t, refused, "expected suits, adapt, avoid or all")
	_, none := get(t, srv.URL+"/library?words=somersault")
	assert.Contains(t, none, "Nothing in the library answers all of that")
	resp, refused = get(t, srv.URL+"/library?condition=boredom")
	assert.Equal(t, http.StatusUnprocessableEntity, resp)
	assert.Contains(t, refused, "boredom is not known")
	resp, _ = get(t, srv.URL+"/library?client=nobody")
	assert.Equal(t, http.StatusNotFound, resp)
}

func TestAnExercisePage(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	_, body := get(t, srv.URL+"/library/bird_dog_leg")
	for _, says := range []string{"One leg reaching", "From easiest to hardest", "Watch for", "Instead of it", "N·m",
		"Opposite arm and leg", "stay 6 s"} {
		assert.Contains(t, body, says)
	}
	_, body = get(t, srv.URL+"/library/knees_to_chest_both?client="+client(t, s, "Odette"))
	assert.Contains(t, body, "verdict-avoid")
	assert.Contains(t, body, "The back does not round")
	_, above := get(t, srv.URL+"/library/open_book?view=above")
	_, side := get(t, srv.URL+"/library/open_book?view=side")
	assert.NotEqual(t, between(above, `data-still="`, `"`), between(side, `data-still="`, `"`), "each view is a picture of its own")
	for path, status := range map[string]int{"/library/headstand": 404, "/library/open_book?view=below": 422,
		"/library/headstand/film": 404, "/library/open_book/film": 200} {
		resp, _ := get(t, srv.URL+path)
		assert.Equal(t, status, resp, path)
	}

	b := newBrowser(t, 1280, 800)
	b.open(srv.URL + "/library/bird_dog")
	still := read[string](b, `document.getElementById("x-figure").dataset.still`)
	b.until(`document.getElementById("x-figure").getAttribute("src") !== ` + "`" + still + "`")
	b.do(chromedp.Click("#x-still"))
	b.until(`document.getElementById("x-figure").getAttribute("src") === ` + "`" + still + "`")
	b.open(srv.URL + "/library")
	b.do(chromedp.SendKeys("input[name=words]", "wedge"))
	b.until(`document.querySelectorAll(".card-link").length === 8 && location.search.includes("wedge")`)
	// What was looked for is there again, until it is forgotten.
	b.open(srv.URL + "/clients")
	b.do(chromedp.Click(`nav a[href="/library"]`))
	b.until(`document.querySelectorAll(".card-link").length === 8 && document.querySelector("input[name=words]").value === "wedge"`)
	b.do(chromedp.Click(`a[href="/library?all=yes"]`))
	b.until(`document.querySelectorAll(".card-link").length > 200`)
	b.open(srv.URL + "/library")
	assert.Greater(t, read[int](b, `document.querySelectorAll(".card-link").length`), 200)
	// Folded on a telephone, and open again with a tap.
	b.do(chromedp.EmulateViewport(390, 844))
	b.open(srv.URL + "/library")
	b.until(`document.body.scrollHeight < 9000`)
	b.press(".shelf-family summary")
	b.until(`document.querySelector(".shelf-family .card-link").checkVisibility()`)
	b.open(srv.URL + "/clients/new")
	b.until(`document.body.scrollHeight < 4900`)
	b.open(srv.URL + "/clients/" + client(t, s, "Odette") + "/screens")
	b.until(`document.body.scrollHeight < 4450`)
}

func TestWhereAnExerciseIsUsed(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	plan := planned(t, s, "Odette")
	_, body := get(t, srv.URL+"/library/"+plan.Plan.Items[2].Variant)
	used := between(body, "Where it is used", "Instead of it")
	assert.Contains(t, used, `href="/plans/`+plan.ID+`"`)
	assert.Contains(t, used, "Odette")
	_, body = get(t, srv.URL+"/library/wedge_curl_4_far")
	assert.Contains(t, body, "In no plan of these weeks")
}

func between(s, from, to string) string {
	_, s, _ = strings.Cut(s, from)
	s, _, _ = strings.Cut(s, to)
	return s
}

// BenchmarkLibraryFilter is what the server does for one filter for a client.
func BenchmarkLibraryFilter(b *testing.B) {
	h, _ := demoHandler(b)
	r := httptest.NewRequest(http.MethodGet, "/library?condition=osteoporosis&condition=disc_sciatica&words=back", nil)
	r.Host, r.RemoteAddr = "127.0.0.1", "127.0.0.1:1"
	for b.Loop() {
		w := httptest.NewRecorder()
		h.ServeHTTP(w, r)
		if w.Code != http.StatusOK {
			b.Fatal(w.Code)
		}
	}
}
