package draw

import (
	"fmt"
	"math"
	"strings"
)

// ClockFace is how smoothly a pelvis passed the twelve hours, twelve o'clock first:
// 0 smooth, 1 hesitant, 2 jerky.
type ClockFace [12]int

// SVGClock draws the pelvis as a clock seen from the front of somebody lying down,
// twelve toward the ribs: a ring that ripples where movement catches and beads that
// grow with how much. Earlier dates are fainter rings inside, the oldest innermost.
func SVGClock(now ClockFace, earlier []ClockFace, label string, theme Theme) []byte {
	pal := palettes[theme]
	var b strings.Builder
	fmt.Fprintf(&b, `<circle r="92" fill="%s"/>`, pal.wash)
	// The pelvis: two wings, the sacrum between them.
	for _, side := range []int{1, -1} {
		fmt.Fprintf(&b,
			`<path transform="scale(%d 1)" d="M-9 -22C-24 -42 -54 -40 -58 -16C-59 2 -42 8 -33 20C-26 31 -13 38 -3 35V22C-15 17 -20 0 `+
				`-9 -22Z" fill="%s" stroke="%s" stroke-width="1.8" stroke-linejoin="round"/>`,
			side,
			pal.body,
			pal.ink,
		)
	}
	fmt.Fprintf(&b,
		`<path d="M-9 -24H9L4 8Q0 14 -4 8Z" fill="%s" stroke="%s" stroke-width="1.8" stroke-linejoin="round"/>`,
		pal.far,
		pal.ink,
	)
	const most = 3
	if len(earlier) > most {
		earlier = earlier[len(earlier)-most:]
	}
	for i, face := range earlier {
		back := len(earlier) - i // how long ago
		fmt.Fprintf(&b,
			`<path d="%s" fill="none" stroke="%s" stroke-width="1.4" opacity="%.2f"/>`,
			ripple(face, 74-float64(back)*7),
			pal.ink,
			0.65-0.17*float64(back),
		)
	}
	fmt.Fprintf(&b, `<path d="%s" fill="none" stroke="%s" stroke-width="2.6"/>`, ripple(now, 76), pal.ink)
	for hour, level := range now {
		x, y := hourAt(float64(hour), 76)
		if level > 0 {
			fmt.Fprintf(&b,
				`<circle cx="%.1f" cy="%.1f" r="%g" fill="%s" stroke="%s" stroke-width="2"/>`,
				x,
				y,
				3.5+2.6*float64(level),
				pal.gold,
				pal.ink,
			)
		} else {
			fmt.Fprintf(&b, `<circle cx="%.1f" cy="%.1f" r="3" fill="%s"/>`, x, y, pal.ink)
		}
	}
	for hour, name := range []string{"12", "3", "6", "9"} {
		x, y := hourAt(float64(3*hour), 106)
		fmt.Fprintf(&b,
			`<text x="%.1f" y="%.1f" text-anchor="middle" dominant-baseline="central" font-size="17.5" font-weight="560" `+
				`fill="%s">%s</text>`,
			x,
			y,
			pal.ink,
			name,
		)
	}
	return []byte(
		fmt.Sprintf(
			`<svg class="clock" xmlns="http://www.w3.org/2000/svg" viewBox="-122 -122 244 244" role="img" aria-label="%s" `+
				`font-family="inherit">%s</svg>`,
			label,
			b.String(),
		),
	)
}

// hourAt is the place of an hour; three o'clock is the client's left hip, drawn on
// the right.
func hourAt(hour, radius float64) (x, y float64) {
	a := hour * math.Pi / 6
	return radius * math.Sin(a), -radius * math.Cos(a)
}

// ripple is a ring with waves as high as each hour is rough.
func ripple(face ClockFace, radius float64) string {
	var d strings.Builder
	const steps = 360
	for i := range steps + 1 {
		hour := float64(i) * 12 / steps
		at := int(math.Round(hour)) % 12
		// The wave dies out half-way to the next hour.
		near := math.Cos(math.Pi * (hour - math.Round(hour)))
		wave := 3.2 * float64(face[at]) * near * near * math.Sin(hour*4*math.Pi)
		x, y := hourAt(hour, radius+wave)
		command := "L"
		if i == 0 {
			command = "M"
		}
		fmt.Fprintf(&d, "%s%.1f %.1f", command, x, y)
	}
	return d.String() + "Z"
}
