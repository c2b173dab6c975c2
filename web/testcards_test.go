package web

import (
	"context"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/limit"
)

// TestThreeCardsSayWhatTheyChange answers a card by touch, reads what it would change before
// anything is kept, leaves the page and finds the answer again, and keeps it.
func TestThreeCardsSayWhatTheyChange(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	id := client(t, s, "Tobias")
	address := srv.URL + "/clients/" + id + "/screens"
	b := newBrowser(t, 1280, 900)
	b.open(address)
	require.Equal(t, 3, read[int](b, `document.querySelectorAll(".test-card").length`))
	assert.True(t,
		read[bool](b,
			`[...document.querySelectorAll(".test-card")].every(c => c.querySelector("img") && c.querySelector("input") && `+
				`c.querySelector(".would").innerText)`,
		),
	)
	card := read[string](b, `document.querySelector(".test-card .answers").closest("li").id`)
	test := strings.TrimPrefix(card, "card-")
	b.do(chromedp.Click(`[name="`+test+`.finding"][value="unsteady"]`), chromedp.Click(`[name="`+test+`.side"][value="left"]`))
	b.until(`document.querySelector("#would-` + test + `").innerText.includes("lan")`)
	before, err := s.Store.Client(context.Background(), id)
	require.NoError(t, err)
	b.open(srv.URL + "/clients/" + id) // left without keeping
	b.open(address)
	b.until(`document.querySelector(".draft-said") !== null`)
	assert.True(t, read[bool](b, `document.querySelector('[name="`+test+`.finding"][value="unsteady"]').checked`))
	b.until(`document.querySelector("#would-` + test + `").innerText.includes("lan")`)
	b.accessible("tests")
	now, err := s.Store.Client(context.Background(), id)
	require.NoError(t, err)
	assert.Equal(t, before.Version, now.Version, "nothing was kept by asking")
	b.do(chromedp.Click(".keep-bar button"))
	b.until(
		`document.querySelector(".matrix") !== null && document.querySelector(".draft-said") === null && document.readyState === ` +
			`"complete"`,
	)
	now, err = s.Store.Client(context.Background(), id)
	require.NoError(t, err)
	last := now.Client.Screens[len(now.Client.Screens)-1]
	assert.Equal(t, limit.Screen{ID: test, Finding: "unsteady", Side: "left", On: last.On}, last)
	b.open(address)
	assert.False(t, read[bool](b, `document.querySelector(".draft-said") !== null`), "what was kept is no draft any more")
}

func TestTestsBeforeAndAfterTheWork(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	id := client(t, s, "Tobias")
	address := srv.URL + "/clients/" + id + "/screens"
	resp, _ := ask(t,
		http.MethodPost,
		address,
		url.Values{"moment": {"before"}, "heel_raise.finding": {"weak"}, "heel_raise.side": {"left"}},
		nil,
	)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	_, page := get(t, address)
	cards := page[strings.Index(page, "test-cards"):strings.Index(page, "The other tests")]
	assert.Equal(t,
		0,
		strings.Index(cards[strings.Index(cards, `id="card-`):], `id="card-heel_raise"`),
		"what was taken before the work comes first until it is taken again",
	)
	assert.Contains(t, cards, "left: strength gave out, before the work")
	assert.Contains(t, page, `value="after" checked`)
	_, said := get(t, address+"/would?m.lumbar_flexion_deg=x")
	assert.Contains(t, said, "expected a number, found")
	_, said = get(t, address+"/would?m.lumbar_flexion_deg=900")
	assert.Contains(t, said, "expected 0 to 120")
	_, said = get(t, address+"/would?m.straight_leg_raise_deg.left=40")
	assert.Contains(t, said, "Left leg: is raised straight to 36° at most", "nine tenths of what was measured")
	_, page = get(t, srv.URL+"/clients/"+client(t, s, "Odette")+"/screens")
	barred := page[strings.Index(page, `class="barred"`):strings.Index(page, "The other tests")]
	assert.Contains(t, barred, "too.", "another test answers the same question")
	assert.NotContains(t, barred, "<input")
}
