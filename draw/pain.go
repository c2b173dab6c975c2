package draw

import (
	"fmt"
	"strings"
)

// PainPoint is pain at one session, 0 to 10: before, after, and the next day.
type PainPoint struct {
	Label               string
	Before, After, Next *int
}

// SVGPainString draws sessions as strings of three beads, before open, after
// grey, next day ink, at their height on the 0 to 10 scale.
func SVGPainString(points []PainPoint, theme Theme) []byte {
	pal := palettes[theme]
	const left, step, top, tall = 40.0, 76.0, 14.0, 108.0
	width := left + step*float64(max(4, len(points))) + 6
	y := func(v int) float64 { return top + tall*(1-float64(v)/10) }
	var b strings.Builder
	said := []string{}
	for _, p := range points {
		said = append(said, p.Label+" "+painWords(p))
	}
	fmt.Fprintf(&b,
		`<svg xmlns="http://www.w3.org/2000/svg" class="pain" viewBox="0 0 %.0f 150" width="%.0f" height="150" role="img" `+
			`aria-label="Pain, 0 to 10. %s">`,
		width,
		width,
		escape(strings.Join(said, "; ")),
	)
	for _, v := range []int{0, 5, 10} {
		fmt.Fprintf(&b,
			`<path d="M%.0f %.1fH%.0f" stroke="%s" stroke-dasharray="3 5"/><text x="%.0f" y="%.1f" text-anchor="end" font-size="12.5" `+
				`fill="%s">%d</text>`,
			left,
			y(v),
			width,
			pal.hairline,
			left-10,
			y(v)+4,
			pal.second,
			v,
		)
	}
	for i, p := range points {
		x := left + 20 + step*float64(i)
		type bead struct {
			v    *int
			fill string
		}
		var line []string
		var beads strings.Builder
		for k, d := range []bead{{p.Before, pal.sheet}, {p.After, pal.body}, {p.Next, pal.ink}} {
			if d.v == nil {
				continue
			}
			bx := x + 14*float64(k)
			line = append(line, fmt.Sprintf("%.1f %.1f", bx, y(*d.v)))
			fmt.Fprintf(
				&beads,
				`<circle cx="%.1f" cy="%.1f" r="5" fill="%s" stroke="%s" stroke-width="2"/>`,
				bx,
				y(*d.v),
				d.fill,
				pal.ink,
			)
		}
		if len(line) > 1 {
			fmt.Fprintf(&b, `<path d="M%s" fill="none" stroke="%s" stroke-width="2"/>`, strings.Join(line, "L"), pal.allowed)
		}
		b.WriteString(beads.String())
		fmt.Fprintf(&b,
			`<text x="%.1f" y="144" text-anchor="middle" font-size="12.5" fill="%s">%s</text>`,
			x+14,
			pal.second,
			escape(p.Label),
		)
	}
	b.WriteString(`</svg>`)
	return []byte(b.String())
}

func painWords(p PainPoint) string {
	var out []string
	for _, v := range []struct {
		word string
		n    *int
	}{{"before", p.Before}, {"after", p.After}, {"next day", p.Next}} {
		if v.n != nil {
			out = append(out, fmt.Sprintf("%s %d", v.word, *v.n))
		}
	}
	return strings.Join(out, ", ")
}

func escape(s string) string {
	return strings.NewReplacer("&", "&amp;", "<", "&lt;", `"`, "&#34;").Replace(s)
}
