package draw

import (
	"fmt"
	"math"
	"strings"
)

// Curve is one curve of a spine seen from behind: the side it bulges to and its
// angle, 0 when it was never measured.
type Curve struct {
	Region  string // cervical, thoracic or lumbar
	ToLeft  bool
	Degrees float64
}

// Where each region lies on the back of the map, from the top, in its own box.
var curveSpans = map[string][2]float64{"cervical": {40, 80}, "thoracic": {80, 215}, "lumbar": {215, 300}}

// unmeasured is the angle drawn for a curve that was never measured.
const unmeasured = 20.0

// SVGCurves draws a back from behind with the curves bent to side and size, the
// short side washed and both sides named, with the side to breathe into and to lie
// on. It is empty without curves.
func SVGCurves(curves []Curve, theme Theme) []byte {
	if len(curves) == 0 {
		return nil
	}
	return SVGBack(curves, theme)
}

// SVGBack is SVGCurves, drawn without curves as well, so that they can be set.
func SVGBack(curves []Curve, theme Theme) []byte {
	pal := palettes[theme]
	var b strings.Builder
	var said []string
	at := func(y float64) float64 { // sideways place of the spine, left negative
		x := 0.0
		for _, c := range curves {
			span := curveSpans[c.Region]
			if y <= span[0] || y >= span[1] {
				continue
			}
			t := (y - span[0]) / (span[1] - span[0])
			x += c.sign() * c.sway() * math.Sin(math.Pi*t)
		}
		return x
	}
	fmt.Fprintf(&b,
		`<path d="M110 62C96 66 60 70 52 92C46 128 62 170 66 214C62 250 58 282 64 320H156C162 282 158 250 154 214C158 170 174 128 168 `+
			`92C160 70 124 66 110 62Z" fill="%s" stroke="%s" stroke-width="2"/><circle cx="110" cy="34" r="22" fill="%s" stroke="%s" `+
			`stroke-width="2"/>`,
		pal.body,
		pal.ink,
		pal.body,
		pal.ink,
	)
	for _, c := range curves {
		span := curveSpans[c.Region]
		mid := (span[0] + span[1]) / 2
		short := 110 - c.sign()*34 // the hollow side
		fmt.Fprintf(&b,
			`<ellipse cx="%.0f" cy="%.0f" rx="17" ry="%.0f" fill="%s" opacity="0.85"/>`,
			short,
			mid,
			(span[1]-span[0])*0.36,
			pal.furniture,
		)
		anchor, x := "end", 40.0
		if short > 110 {
			anchor, x = "start", 180.0
		}
		long, far := "start", 180.0
		if short > 110 {
			long, far = "end", 40.0
		}
		degrees := ""
		if c.Degrees > 0 {
			degrees = fmt.Sprintf(" %.0f°", c.Degrees)
		}
		lines := func(x float64, anchor string, words ...string) {
			for i, w := range words {
				fmt.Fprintf(&b,
					`<text x="%.0f" y="%.0f" text-anchor="%s" font-size="15" fill="%s">%s</text>`,
					x,
					mid-6+17*float64(i),
					anchor,
					pal.ink,
					w,
				)
			}
		}
		lines(x, anchor, "short:", "breathe here")
		lines(far, long, "long"+degrees+":", "lie here", "to lengthen")
		said = append(said, c.words())
	}
	var d strings.Builder
	for y := 44.0; y <= 312; y += 4 {
		command := "L"
		if y == 44 {
			command = "M"
		}
		fmt.Fprintf(&d, "%s%.1f %.1f", command, 110+at(y), y)
	}
	fmt.Fprintf(&b, `<path d="%s" fill="none" stroke="%s" stroke-width="2"/>`, d.String(), pal.ink)
	for y := 48.0; y <= 308; y += 11 {
		fmt.Fprintf(&b, `<path d="M%.1f %.1fh13" stroke="%s" stroke-width="5"/>`, 103.5+at(y), y, pal.ink)
	}
	return []byte(
		fmt.Sprintf(
			`<svg class="curves" xmlns="http://www.w3.org/2000/svg" viewBox="-70 0 360 336" role="img" aria-label="%s" `+
				`font-family="inherit">%s</svg>`,
			strings.Join(append(said, "a back seen from behind"), "; "),
			b.String(),
		),
	)
}

func (c Curve) sign() float64 {
	if c.ToLeft {
		return -1
	}
	return 1
}

// sway is how far the middle of the curve is drawn to the side.
func (c Curve) sway() float64 {
	d := c.Degrees
	if d == 0 {
		d = unmeasured
	}
	return math.Min(34, 0.7*d)
}

func (c Curve) words() string {
	long, short := "right", "left"
	if c.ToLeft {
		long, short = short, long
	}
	size := ""
	if c.Degrees > 0 {
		size = fmt.Sprintf(" of %.0f degrees", c.Degrees)
	}
	return fmt.Sprintf(
		"%s curve%s to the %s: the %s side is short; lie on the %s to lengthen it, on the %s to strengthen the %s",
		c.Region,
		size,
		long,
		short,
		long,
		short,
		long,
	)
}
