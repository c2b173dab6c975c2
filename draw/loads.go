package draw

import (
	"fmt"
	"strings"
)

// Load is one bar of the lever bench: a value with the value of the floor
// version and, when there is one, a cap.
type Load struct {
	Name, Words             string
	Value, Floor, Full, Cap float64
}

// SVGLoads draws loads as tongues: filled to the value, a dotted line where the
// floor version stands, a plum bar at the cap.
func SVGLoads(loads []Load, theme Theme) []byte {
	pal := palettes[theme]
	const width, row, left, long = 480.0, 62.0, 4.0, 380.0
	var b strings.Builder
	var said []string
	for _, l := range loads {
		said = append(said, l.Name+" "+l.Words)
	}
	fmt.Fprintf(&b,
		`<svg xmlns="http://www.w3.org/2000/svg" class="loads" viewBox="0 0 %.0f %.0f" role="img" aria-label="%s">`,
		width,
		row*float64(len(loads)),
		escape(strings.Join(said, "; ")),
	)
	tongue := func(y, length float64) string {
		r := min(15, length/2)
		return fmt.Sprintf("M%.1f %.1fH%.1fA%.1f 15 0 0 1 %.1f %.1fH%.1fZ", left, y, left+length-r, r, left+length-r, y+30, left)
	}
	for i, l := range loads {
		y := row * float64(i)
		at := func(v float64) float64 { return max(3, min(1, v/l.Full)*long) }
		colour := pal.working
		if l.Cap > 0 && l.Value > l.Cap {
			colour = pal.plum
		}
		fmt.Fprintf(&b, `<text x="%.0f" y="%.1f" font-size="15.5" fill="%s">%s</text>`, left, y+16, pal.second, escape(l.Name))
		fmt.Fprintf(&b,
			`<path d="%s" fill="%s"/><path d="%s" fill="%s"/>`,
			tongue(y+24, long),
			pal.wash,
			tongue(y+24, at(l.Value)),
			colour,
		)
		if l.Floor > 0 {
			x := left + at(l.Floor)
			fmt.Fprintf(&b, `<path d="M%.1f %.1fV%.1f" stroke="%s" stroke-width="2" stroke-dasharray="3 3"/>`, x, y+20, y+58, pal.ink)
		}
		if l.Cap > 0 && l.Cap < l.Full {
			x := left + at(l.Cap)
			fmt.Fprintf(&b, `<path d="M%.1f %.1fV%.1f" stroke="%s" stroke-width="5" stroke-linecap="round"/>`, x, y+20, y+58, pal.plum)
		}
		fmt.Fprintf(&b,
			`<text x="%.0f" y="%.1f" font-size="22" font-weight="640" fill="%s">%s</text>`,
			left+long+12,
			y+47,
			pal.ink,
			escape(l.Words),
		)
	}
	b.WriteString(`</svg>`)
	return []byte(b.String())
}
