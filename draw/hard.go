package draw

import (
	"fmt"
	"html"
	"strings"
)

// Hard is how hard one lesson is, taught or to come.
type Hard struct {
	Value  float64
	Taught bool
	Easy   bool
}

// SVGHard are lessons side by side, as high as they are hard: taught ones solid, those to
// come in dashes.
func SVGHard(loads []Hard, label string) string {
	const wide, high, base = 336.0, 120.0, 96.0
	most := 1.0
	for _, l := range loads {
		most = max(most, l.Value)
	}
	pitch := wide / float64(max(8, len(loads)))
	var b strings.Builder
	fmt.Fprintf(&b,
		`<svg class="loads" viewBox="0 0 %.0f %.0f" role="img" aria-label="%s"><path d="M0 %.1fH%.0f" stroke="#1D2A3F" `+
			`stroke-width="1.5"/>`,
		wide,
		high,
		html.EscapeString(label),
		base,
		wide,
	)
	taught := 0
	for i, l := range loads {
		h := 84 * l.Value / most
		x := float64(i)*pitch + 0.14*pitch
		switch {
		case l.Taught:
			taught++
			fmt.Fprintf(&b, `<rect x="%.1f" y="%.1f" width="%.1f" height="%.1f" fill="#38507A"/>`, x, base-h, 0.72*pitch, h)
		default:
			fill := "none"
			if l.Easy {
				fill = "#D5DBE6"
			}
			fmt.Fprintf(
				&b,
				`<rect x="%.1f" y="%.1f" width="%.1f" height="%.1f" fill="%s" stroke="#38507A" stroke-width="1.6" stroke-dasharray="3 3"/>`,
				x,
				base-h,
				0.72*pitch,
				h,
				fill,
			)
		}
	}
	if taught > 0 {
		b.WriteString(`<text x="4" y="113" font-size="12.5" fill="#4B566B">taught</text>`)
	}
	if taught < len(loads) {
		fmt.Fprintf(&b,
			`<text x="%.0f" y="113" text-anchor="end" font-size="12.5" fill="#4B566B">to come, if all goes well</text>`,
			wide-4,
		)
	}
	b.WriteString("</svg>")
	return b.String()
}
