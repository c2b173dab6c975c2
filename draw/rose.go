package draw

import (
	"fmt"
	"math"
	"strings"
)

// Petal is one direction of the bend rose.
type Petal struct {
	Ordinary float64 // degrees most people have
	Allowed  float64 // degrees this client is allowed; at least Ordinary means free
	Used     float64 // degrees an exercise or session uses
	Shut     bool    // barred: Allowed is only for a body that is never perfectly still
	Measured float64 // degrees measured on the client; 0 when not measured
}

// Rose is what a spine may do and does, seen from above.
type Rose struct {
	Forward, Back, Left, Right, TurnLeft, TurnRight Petal
}

// Sizes of a rose by the pixels it is shown at, in units of its own box.
type roseSize struct {
	start               float64
	forward, side, back float64
	baseWidth, tipWidth float64
	ring, ringHalf      float64
	turnStart, turnSpan float64
	inset, bar, barHalf float64
	least               float64
	bead                float64
	centre              float64
}

func roseSizeFor(px float64) roseSize {
	switch {
	case px < 64:
		return roseSize{7, 70, 64, 56, 8, 18, 83.5, 11, 12, 132, 4.8, 11, 22, 0.17, 0, 5}
	case px < 150:
		return roseSize{14, 72, 66, 58, 8, 15.5, 84.5, 9.5, 11, 133, 3.6, 7.5, 20, 0.13, 0, 7}
	}
	return roseSize{19, 74, 68, 61, 8.5, 14, 86.5, 8, 10, 134, 2.6, 5.5, 19, 0.10, 4.2, 9}
}

// share is how much of a petal so many degrees fill.
func (p Petal) share(degrees float64) float64 {
	if degrees <= 0 || p.Ordinary <= 0 {
		return 0
	}
	return math.Pow(math.Min(1, degrees/p.Ordinary), 0.6)
}

// SVGRose draws the rose for the given width in pixels, with the background it
// lies on as the wells' colour. The text is for who cannot see it.
func SVGRose(r Rose, px float64, ground string, theme Theme, text string) []byte {
	pal := palettes[theme]
	s := roseSizeFor(px)
	if ground == "" {
		ground = pal.sheet
	}
	var b strings.Builder
	fmt.Fprintf(&b, `<svg xmlns="http://www.w3.org/2000/svg" class="rose" viewBox="-101 -112 202 214" width="%.0f" height="%.0f" role="img" aria-label="%s">`, px, px*214/202, escape(text))
	b.WriteString(`<defs><pattern id="hatch" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(35)"><path d="M0 0V7" stroke="` + pal.plum + `" stroke-width="4.4"/></pattern></defs>`)
	fmt.Fprintf(&b, `<path d="M-13 -97Q0 -112 13 -97Z" fill="%s"/><circle r="99" fill="%s"/>`, pal.wash, pal.wash)
	for _, t := range []struct {
		p     Petal
		tip   float64
		angle float64
	}{{r.Forward, s.forward, 0}, {r.Right, s.side, 90}, {r.Back, s.back, 180}, {r.Left, s.side, 270}} {
		fmt.Fprintf(&b, `<g transform="rotate(%.0f)">`, t.angle)
		tongue(&b, t.p, t.tip, s, pal, ground)
		b.WriteString(`</g>`)
	}
	turn(&b, r.TurnRight, 1, s, pal, ground)
	turn(&b, r.TurnLeft, -1, s, pal, ground)
	if px < 64 {
		fmt.Fprintf(&b, `<circle r="%g" fill="%s"/>`, s.centre, pal.ink)
	} else { // a vertebra from above: body to the front, arms and spine behind
		fmt.Fprintf(&b, `<g fill="%s" transform="scale(%.2f)"><ellipse cy="-4" rx="8" ry="6.4"/><path d="M-12 3L-4 1L-1.8 4L-1 13H1L1.8 4L4 1L12 3L11 6.5L4 6L2.6 7V14H-2.6V7L-4 6L-11 6.5Z" stroke="%s" stroke-width="1" stroke-linejoin="round"/></g>`, pal.ink, s.centre/9, pal.ink)
	}
	b.WriteString(`</svg>`)
	return []byte(b.String())
}

func escape(s string) string {
	return strings.NewReplacer("&", "&amp;", "<", "&lt;", `"`, "&#34;").Replace(s)
}

// tongue draws a bend petal pointing up.
func tongue(b *strings.Builder, p Petal, tip float64, s roseSize, pal palette, ground string) {
	path := func(length, inset float64) string {
		w0, end := s.baseWidth-inset, s.start+length-inset
		w1 := s.baseWidth + (s.tipWidth-s.baseWidth)*length/(tip-s.start) - inset
		w0, w1 = math.Max(w0, 1.5), math.Max(w1, 1.5)
		neck := math.Max(s.start+inset*0.6, end-w1)
		return fmt.Sprintf("M%.1f %.1fL%.1f %.1fA%.1f %.1f 0 0 1 %.1f %.1fL%.1f %.1fZ",
			-w0, -s.start-inset*0.6, -w1, -neck, w1, math.Min(w1, end-neck+0.01), w1, -neck, w0, -s.start-inset*0.6)
	}
	whole := tip - s.start
	fmt.Fprintf(b, `<path d="%s" fill="%s"/>`, path(whole, 0), ground)
	allowed := math.Max(p.share(p.Allowed), s.least) * whole
	over := p.Used > p.Allowed+0.05
	colour := pal.allowed
	if over {
		colour = pal.plum
		used := math.Max(p.share(p.Used)*whole, allowed+14)
		fmt.Fprintf(b, `<path d="%s" fill="%s"/><path d="%s" fill="url(#hatch)" stroke="%s" stroke-width="1.4"/>`, path(used, 0), ground, path(used, 0), pal.plum)
	}
	fmt.Fprintf(b, `<path d="%s" fill="%s"/>`, path(allowed, 0), colour)
	if used := p.share(p.Used) * whole; p.Used > 0.5 && !over {
		used = math.Max(used, s.least*whole)
		fmt.Fprintf(b, `<path d="%s" fill="%s"/>`, path(math.Min(used, allowed), s.inset), pal.gold)
	}
	if p.Shut {
		y := -(s.start + allowed + s.bar*0.9)
		fmt.Fprintf(b, `<path d="M%.1f %.1fH%.1f" stroke="%s" stroke-width="%.1f" stroke-linecap="round"/><path d="M%.1f %.1fH%.1f" stroke="%s" stroke-width="%.1f" stroke-linecap="round"/>`,
			-s.barHalf, y, s.barHalf, ground, s.bar+4, -s.barHalf, y, s.barHalf, pal.plum, s.bar)
	}
	if s.bead > 0 && p.Measured > 0 {
		y := -(s.start + p.share(p.Measured)*whole - s.bead)
		fmt.Fprintf(b, `<circle cy="%.1f" r="%.1f" fill="%s" stroke="%s" stroke-width="2"/>`, y, s.bead, ground, pal.ink)
	}
}

// turn draws a turn petal round the rim, to the right (1) or to the left (−1)
// of the nose.
func turn(b *strings.Builder, p Petal, dir float64, s roseSize, pal palette, ground string) {
	arc := func(share, half, trim float64, colour string, round string) {
		at := func(deg float64) (float64, float64) {
			sin, cos := math.Sincos(deg * math.Pi / 180)
			return dir * s.ring * sin, -s.ring * cos
		}
		from, to := s.turnStart+trim, s.turnStart+math.Max(share*s.turnSpan, 4)-trim
		if to < from+1 {
			to = from + 1
		}
		x0, y0 := at(from)
		x1, y1 := at(to)
		sweep, large := 1, 0
		if dir < 0 {
			sweep = 0
		}
		if to-from > 180 {
			large = 1
		}
		fmt.Fprintf(b, `<path d="M%.1f %.1fA%g %g 0 %d %d %.1f %.1f" fill="none" stroke="%s" stroke-width="%.1f" stroke-linecap="%s"/>`,
			x0, y0, s.ring, s.ring, large, sweep, x1, y1, colour, 2*half, round)
	}
	arc(1, s.ringHalf, 0, ground, "round")
	allowed := math.Max(p.share(p.Allowed), s.least)
	over := p.Used > p.Allowed+0.05
	colour := pal.allowed
	if over {
		colour = pal.plum
		arc(math.Max(p.share(p.Used), allowed+0.1), s.ringHalf, 0, "url(#hatch)", "butt")
	}
	arc(allowed, s.ringHalf, 0, colour, "butt")
	if p.Used > 0.5 && !over {
		arc(math.Min(math.Max(p.share(p.Used), s.least), allowed), s.ringHalf-s.inset, s.inset*0.7, pal.gold, "butt")
	}
	if p.Shut {
		deg := s.turnStart + allowed*s.turnSpan + 4
		fmt.Fprintf(b, `<path transform="rotate(%.1f)" d="M0 %.1fV%.1f" stroke="%s" stroke-width="%.1f" stroke-linecap="round"/>`,
			dir*deg, -s.ring-s.ringHalf-2, -s.ring+s.ringHalf+2, pal.plum, s.bar)
	}
}
