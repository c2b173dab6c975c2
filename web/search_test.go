package web

import (
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
)

// forty are searches as an instructor would type them, and what should come first. Common
// practice.
var forty = [][2]string{
	{
		"sciatica",
		"Sore disc or sciatica",
	},
	{"osteoporosis", "Fragile bone"},
	{"new hip", "Replaced hip"},
	{"piriformis", "Figure four, foot on the floor"},
	{"tight hips", "Looser hips"},
	{
		"sit-to-stand",
		"Half squat to a chair",
	},
	{"stenosis", "Bending back hurts"},
	{"scoliosis", "Scoliosis"},
	{"osteopenia", "Low bone mass"},
	{"slipped disc", "Sore disc or sciatica"},
	{
		"hypertension",
		"Raised blood pressure",
	},
	{"spinal fusion", "Fused spine"},
	{"parkinson", "Parkinson’s"},
	{"stroke", "Stroke"},
	{"glaucoma", "Eye pressure, or an eye operation"},
	{"cat cow", "Cat and cow"},
	{"bird dog", "Opposite arm and leg"},
	{"bridge", "Bridge"},
	{"clam", "Clam"},
	{"open book", "Open book"},
	{
		"pelvic tilt",
		"Pelvic tilt",
	},
	{"side plank", "Side bridge"},
	{"curl up", "Curl-up"},
	{"hamstring stretch", "Length in the back of the legs"},
	{"balance", "Balance"},
	{
		"breathing",
		"Breath",
	},
	{"core", "The deep core"},
	{"posture", "The upper back"},
	{"neck stretch", "A freer neck"},
	{"calf stretch", "Calf stretch"},
	{
		"odette",
		"Odette Brambling",
	},
	{"saffron", "Saffron Eberlight"},
	{"calendar", "Calendar"},
	{"backup", "Copies"},
	{"password", "How you sign in"},
	{
		"osteoporsis",
		"Fragile bone",
	},
	{"scolosis", "Scoliosis"},
	{"brigde", "Bridge"},
	{"pelvic clock", "Clock"},
	{"heel raise", "Calf strength"},
}

// TestFortySearches: the first that is found is what is meant; Chiar and stretch find what
// they mean too.
func TestFortySearches(t *testing.T) {
	h, _ := demoHandler(t)
	firstOf := regexp.MustCompile(`<li><a href="[^"]*"><strong>([^<]*)</strong>`)
	hit := 0
	for _, s := range forty {
		_, body, _ := strings.Cut(page(t, h, "/search?q="+url.QueryEscape(s[0])), `id="find-hits"`)
		m := firstOf.FindStringSubmatch(body)
		if assert.NotNil(t, m, s[0]) && assert.True(t, strings.HasPrefix(m[1], s[1]), "%s: %s before %s", s[0], m[1], s[1]) {
			hit++
		}
	}
	t.Logf("%d of %d", hit, len(forty))
	assert.Contains(t, page(t, h, "/search?q=chiar"), "Looked for “chair”")
	assert.Contains(t, page(t, h, "/search?q=stretch"), "Calf stretch")
	assert.Contains(t, page(t, h, "/search?q=zzzzzz"), "Nothing is found for")
	assert.Contains(t, page(t, h, "/search?q=bridge"), "/records/")
}

// TestTheSlashFinds: one key opens the search from anywhere, arrows and Enter lead on.
func TestTheSlashFinds(t *testing.T) {
	t.Parallel()
	srv, _ := demoSite(t)
	b := newBrowser(t, 1280, 800)
	b.open(srv.URL + "/records")
	b.do(chromedp.KeyEvent("?"))
	b.until(`document.querySelector("#help[open]")?.innerText.includes("A correction stands beside")`)
	b.accessible("the help")
	b.do(chromedp.KeyEvent(kb.Escape))
	b.until(`!document.querySelector("#help[open]")`)
	b.do(chromedp.KeyEvent("/"))
	b.until(`document.querySelector("#find[open]") && document.activeElement.id === "find-words"`)
	b.do(chromedp.SendKeys("#find-words", "sciat"))
	b.until(`document.querySelector("#find-list a")?.innerText.includes("Sore disc")`)
	b.accessible("the search")
	b.do(chromedp.KeyEvent(kb.ArrowDown))
	b.until(`document.activeElement.innerText.includes("Sore disc")`)
	b.do(chromedp.KeyEvent(kb.Enter))
	b.until(`location.pathname === "/library" && location.search.includes("disc_sciatica")`)
}
