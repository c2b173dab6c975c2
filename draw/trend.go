package draw

import (
	"fmt"
	"html"
	"math"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"
)

// TrendLine is one line of a chart over days.
type TrendLine struct {
	Words  string
	Days   []time.Time
	Values []float64
}

// trendInks are the colours of lines, in order: ink, strong and light body.
var trendInks = []string{"#1D2A3F", "#647BA5", "#A96800"}

const (
	trendLeft, trendRight = 46.0, 12.0 // pixels beside the field
	trendTop, trendBottom = 12.0, 26.0
	trendQuiet            = "#4B566B"
)

// SVGTrend draws values over days as a picture of its own, most being the end of the scale,
// or 0 where the values say it. Lines are told apart by shape as well as colour.
func SVGTrend(unit string, most float64, lines []TrendLine, width, height float64) []byte {
	f := trendField{right: width - trendRight, bottom: height - trendBottom, upper: trendTop}
	top := most
	for _, l := range lines {
		if l.Words != "" && len(l.Days) > 0 {
			f.upper = trendTop + 14 // below the names
		}
		for i, d := range l.Days {
			if f.first.IsZero() || d.Before(f.first) {
				f.first = d
			}
			if d.After(f.last) {
				f.last = d
			}
			top = math.Max(top, 1.1*l.Values[i])
		}
	}
	if top <= 0 {
		top = 1
	}
	f.top = top
	var b strings.Builder
	fmt.Fprintf(&b, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %g %g" width="%g" height="%g" `, width, height, width, height)
	fmt.Fprintf(&b, `font-family="sans-serif" font-size="10" fill="%s">`, trendQuiet)
	f.axes(&b, unit)
	end := f.right
	for i, l := range lines {
		if len(l.Days) == 0 {
			continue
		}
		ink, shape := trendInks[i%len(trendInks)], i%3
		var at []string
		for n, d := range l.Days {
			x, y := f.at(d, l.Values[n])
			at = append(at, fmt.Sprintf("%.1f,%.1f", x, y))
		}
		fmt.Fprintf(&b,
			`<polyline points="%s" fill="none" stroke="%s" stroke-width="1.6" stroke-linejoin="round"/>`,
			strings.Join(at, " "),
			ink,
		)
		for n, d := range l.Days {
			x, y := f.at(d, l.Values[n])
			b.WriteString(trendMark(shape, x, y, ink))
		}
		if l.Words != "" {
			y := trendTop + 2.0
			fmt.Fprintf(&b, `<text x="%.1f" y="%.1f" text-anchor="end">%s</text>`, end, y+3.5, html.EscapeString(l.Words))
			end -= 7 * float64(utf8.RuneCountInString(l.Words))
			fmt.Fprintf(&b, `<path d="M%.1f %.1fh18" stroke="%s" stroke-width="1.6"/>`, end-18, y, ink)
			b.WriteString(trendMark(shape, end-9, y, ink))
			end -= 30
		}
	}
	b.WriteString("</svg>")
	return []byte(b.String())
}

// trendField is where the values of a chart are drawn.
type trendField struct {
	right, upper, bottom float64 // pixels
	first, last          time.Time
	top                  float64 // value
}

func (f trendField) at(d time.Time, v float64) (x, y float64) {
	share := 0.5 // of a single day
	if span := f.last.Sub(f.first); span > 0 {
		share = float64(d.Sub(f.first)) / float64(span)
	}
	return trendLeft + 6 + share*(f.right-trendLeft-12), f.bottom - v/f.top*(f.bottom-f.upper)
}

func (f trendField) axes(b *strings.Builder, unit string) {
	fmt.Fprintf(b, `<path d="M%g %gV%gH%g" fill="none" stroke="%s"/>`, trendLeft, f.upper, f.bottom, f.right, trendQuiet)
	step := niceStep(f.top / 4)
	for v := 0.0; v <= f.top+1e-9; v += step {
		_, y := f.at(f.first, v)
		fmt.Fprintf(b, `<path d="M%g %.1fh-4" stroke="%s"/>`, trendLeft, y, trendQuiet)
		fmt.Fprintf(b,
			`<text x="%g" y="%.1f" text-anchor="end">%s</text>`,
			trendLeft-7,
			y+3.5,
			strconv.FormatFloat(math.Round(v*1e6)/1e6, 'f', -1, 64),
		)
	}
	fmt.Fprintf(b,
		`<text transform="translate(11 %.1f) rotate(-90)" text-anchor="middle">%s</text>`,
		(f.upper+f.bottom)/2,
		html.EscapeString(unit),
	)
	if f.first.IsZero() {
		return
	}
	days := int(math.Round(f.last.Sub(f.first).Hours() / 24))
	every := max(1, (days+3)/4)
	for n := 0; n <= days; n += every {
		day := f.first.AddDate(0, 0, n)
		x, _ := f.at(day, 0)
		fmt.Fprintf(b, `<path d="M%.1f %gv4" stroke="%s"/><text x="%.1f" y="%g" text-anchor="middle">%s</text>`,
			x, f.bottom, trendQuiet, x, f.bottom+16, day.Format("2 Jan"))
	}
}

// niceStep is the next of 1, 2 or 5 times a power of ten.
func niceStep(v float64) float64 {
	power := math.Pow(10, math.Floor(math.Log10(v)))
	for _, n := range []float64{1, 2, 5} {
		if n*power >= v-1e-9 {
			return n * power
		}
	}
	return 10 * power
}

// trendMark is a disc, a ring or a triangle.
func trendMark(shape int, x, y float64, ink string) string {
	switch shape {
	case 0:
		return fmt.Sprintf(`<circle cx="%.1f" cy="%.1f" r="3.2" fill="%s"/>`, x, y, ink)
	case 1:
		return fmt.Sprintf(`<circle cx="%.1f" cy="%.1f" r="3" fill="#FFF" stroke="%s" stroke-width="1.6"/>`, x, y, ink)
	}
	return fmt.Sprintf(`<path d="M%.1f %.1fl3.6 6.2h-7.2z" fill="%s"/>`, x, y-4, ink)
}
