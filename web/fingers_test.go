package web

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// lower are the things to tap that are lower than a fingertip, 44 pixels; a link within a
// sentence is not one of them.
const lower = `[...document.querySelectorAll("main button, main a[href], main select, main input:not([type=hidden]), main summary," +
	" main textarea")].filter((e) => {
	const r = e.getBoundingClientRect(), style = getComputedStyle(e);
	if (!r.width || !r.height || style.visibility === "hidden" || e.closest(".visually-hidden") || style.display === "inline") return false;
	const label = e.type === "checkbox" || e.type === "radio" ? e.closest("label") : null;
	return Math.max(r.height, label ? label.getBoundingClientRect().height : 0) < 43.5;
}).map((e) => e.tagName + " " + (e.innerText || e.name || e.className)).join("; ")`

// TestFingersHitTheirTargets on a telephone, where one teaches, wraps up, asks and plans.
func TestFingersHitTheirTargets(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	plan := "/plans/" + planned(t, s, "Odette").ID
	b := newBrowser(t, 390, 844)
	for _, path := range []string{plan, plan + "/check", plan + "/teach", plan + "/wrap-up", "/clients/new",
		"/clients/" + client(t, s, "Odette") + "/screens", "/"} {
		b.open(srv.URL + path)
		assert.Empty(t, read[string](b, lower), path)
	}
}
