package draw

import (
	"fmt"
	"html"
	"math"
	"strings"

	"restbend/core/limit"
)

// ReachSide is one direction of a region: how far it may go, and what is used of it.
type ReachSide struct {
	Ordinary  float64 // degrees most people have
	Allowed   float64 // degrees; at least Ordinary means that nothing limits it
	Loaded    float64 // degrees under load; no less than Allowed means no other figure
	Shut      bool    // barred past Allowed
	Used      float64 // degrees an exercise or a plan uses
	UnderLoad float64 // of that under load
	Measured  float64 // degrees measured on the client; 0 when not measured
}

func (s ReachSide) limited() bool { return s.Allowed < s.Ordinary }

// reachSlack is how much over still passes, as the verdict has it, with what rounding adds.
const reachSlack = limit.DegreesSlack + 0.05

// Over says that more is used than is allowed, in all or under load.
func (s ReachSide) Over() bool {
	return s.limited() && s.Used > s.Allowed+reachSlack || s.less() && s.UnderLoad > s.Loaded+reachSlack
}
func (s ReachSide) less() bool { return s.Loaded < min(s.Allowed, s.Ordinary) }

// ReachRow is a row of the chart: the same movement to both sides, or the two ways of
// bending, hollow on the left and round on the right.
type ReachRow struct {
	Name        string
	Other       string // at the right end, where the two sides are two ways; empty for one way
	Left, Right ReachSide
}

// ReachBlock is a region of the spine.
type ReachBlock struct {
	Name string
	Rows []ReachRow
}

// reachSize are the measures of a chart, in pixels.
type reachSize struct {
	length, gap, bar, pitch, apart, post float64
	centre, top, width                   float64
	words                                bool
}

// ReachSize is how large a chart is drawn.
type ReachSize int

// Large has its words and is 525 pixels wide, Small has none and 190, Tiny is for one region
// and 84.
const (
	ReachLarge ReachSize = iota
	ReachSmall
	ReachTiny
)

var reachSizes = []reachSize{
	ReachLarge: {120, 15, 17, 26, 34, 3, 269, 56, 525, true},
	ReachSmall: {70, 8, 9, 13, 9, 2.2, 95, 22, 190, false},
	ReachTiny:  {30, 6, 8, 11, 0, 2, 42, 7, 84, false},
}

// SVGReach draws the reach chart: a spine from behind with a tongue to each side for every
// way it moves, pale where nothing limits it, navy to a post where something does; gold what
// is used, plum and hatched where that is too much. The text is for who cannot see it.
func SVGReach(blocks []ReachBlock, size ReachSize, theme Theme, text string) []byte {
	pal := palettes[theme]
	s := reachSizes[size]
	y := s.top
	var rows, names strings.Builder
	first, last := 0.0, 0.0
	for _, b := range blocks {
		if s.words {
			fmt.Fprintf(
				&names,
				`<text x="8" y="%.1f" font-size="16.5" font-weight="640" fill="%s">%s</text>`,
				y-11,
				pal.ink,
				html.EscapeString(b.Name),
			)
		}
		for _, r := range b.Rows {
			if first == 0 {
				first = y
			}
			if s.words {
				fmt.Fprintf(
					&names,
					`<text x="8" y="%.1f" font-size="15.5" fill="%s">%s</text>`,
					y+s.bar-4,
					pal.second,
					html.EscapeString(r.Name),
				)
			}
			if s.words && r.Other != "" {
				fmt.Fprintf(
					&names,
					`<text x="%.0f" y="%.1f" font-size="15.5" fill="%s" text-anchor="end">%s</text>`,
					s.width-2,
					y+s.bar-4,
					pal.second,
					html.EscapeString(r.Other),
				)
			}
			s.side(&rows, r.Left, -1, y, pal)
			s.side(&rows, r.Right, 1, y, pal)
			last = y + s.bar
			y += s.pitch
		}
		y += s.apart
	}
	height := last + map[ReachSize]float64{ReachLarge: 34, ReachSmall: 16, ReachTiny: 6}[size]
	var b strings.Builder
	fmt.Fprintf(&b,
		`<svg class="reach" viewBox="0 0 %.0f %.0f" width="%.0f" height="%.0f" role="img" aria-label="%s">`,
		s.width,
		height,
		s.width,
		height,
		html.EscapeString(text),
	)
	if strings.Contains(rows.String(), "url(#over)") {
		fmt.Fprintf(&b,
			`<defs><pattern id="over" width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><rect `+
				`width="4" height="4" fill="%s"/><path d="M0 0H4" stroke="%s" stroke-width="2.4"/></pattern></defs>`,
			pal.sheet,
			pal.plum,
		)
	}
	head := s.gap * 0.88
	if size == ReachTiny { // the spine goes on above and below
		first, last = first-3, last+3
	} else {
		fmt.Fprintf(&b,
			`<ellipse cx="%.1f" cy="%.1f" rx="%.1f" ry="%.1f" fill="%s"/>`,
			s.centre,
			first-s.bar-head*0.6,
			head,
			head*1.25,
			pal.body,
		)
	}
	step := s.bar / 2
	n := int((last - first + s.bar) / step)
	var marks strings.Builder // the vertebrae
	for i := range n {
		w := (s.gap - 4) * (0.5 + 0.5*float64(i)/float64(n)) * 2 / 2.4
		vy := first - s.bar*0.4 + float64(i)*step
		fmt.Fprintf(&marks, "M%.1f %.1fH%.1f", s.centre-w, vy, s.centre+w)
	}
	fmt.Fprintf(&b, `<path d="%s" stroke="%s" stroke-width="%.1f" stroke-linecap="round"/>`, marks.String(), pal.ink, s.bar/5)
	if px := s.gap * 2.2; size != ReachTiny {
		fmt.Fprintf(&b,
			`<path d="M%.1f %.1fQ%.1f %.1f %.1f %.1fQ%.1f %.1f %.1f %.1fQ%.1f %.1f %.1f %.1fZ" fill="%s"/>`,
			s.centre-px,
			last+4,
			s.centre,
			last+10,
			s.centre+px,
			last+4,
			s.centre+px*0.9,
			last+px*0.75,
			s.centre,
			last+px*0.8,
			s.centre-px*0.9,
			last+px*0.75,
			s.centre-px,
			last+4,
			pal.body,
		)
	}
	b.WriteString(names.String())
	b.WriteString(rows.String())
	b.WriteString(`</svg>`)
	return terse(b.String())
}

// side draws one tongue from the spine outwards.
func (s reachSize) side(b *strings.Builder, r ReachSide, way float64, y float64, pal palette) {
	at := func(x float64) float64 { return s.centre + way*(s.gap+x) }
	share := func(degrees float64) float64 {
		if degrees <= 0 || r.Ordinary <= 0 {
			return 0
		}
		return s.length * math.Pow(math.Min(1, degrees/r.Ordinary), 0.6)
	}
	// tongue is square at the spine and round at its end; from and to are from the spine.
	tongue := func(from, to, inset float64) string {
		top, bottom := y+inset, y+s.bar-inset
		radius := math.Min((bottom-top)/2, math.Max(0, to-from))
		sweep := map[bool]int{true: 1, false: 0}[way > 0]
		return fmt.Sprintf(
			"M%.1f %.1fH%.1fA%.1f %.1f 0 0 %d %.1f %.1fH%.1fZ",
			at(from),
			top,
			at(to-radius),
			radius,
			(bottom-top)/2,
			sweep,
			at(to-radius),
			bottom,
			at(from),
		)
	}
	if !r.limited() && !r.less() {
		fmt.Fprintf(b, `<path d="%s" fill="%s"/>`, tongue(0, s.length, 0), pal.pale)
	} else {
		fmt.Fprintf(b, `<path d="%s" fill="none" stroke="%s"/>`, tongue(0, s.length, 0), pal.hairline)
		to := share(math.Min(r.Allowed, r.Ordinary))
		to = math.Max(to, s.length*0.1)
		if r.less() {
			fmt.Fprintf(b, `<path d="%s" fill="%s"/>`, tongue(0, to, 0), pal.medium)
			to = math.Max(share(r.Loaded), s.length*0.06)
			fmt.Fprintf(b, `<path d="M%.1f %.1fH%.1fV%.1fH%.1fZ" fill="%s"/>`, at(0), y, at(to), y+s.bar, at(0), pal.allowed)
		} else {
			fmt.Fprintf(b, `<path d="%s" fill="%s"/>`, tongue(0, to, 0), pal.allowed)
		}
	}
	end := s.length
	if r.limited() {
		end = math.Max(share(r.Allowed), s.length*0.1) + 3
		fmt.Fprintf(b,
			`<path d="M%.1f %.1fV%.1f" stroke="%s" stroke-width="%.1f" stroke-linecap="round"/>`,
			at(end),
			y-2.5,
			y+s.bar+2.5,
			pal.plum,
			s.post,
		)
	}
	if r.Used > 0.5 {
		used := share(r.Used)
		fmt.Fprintf(b,
			`<path d="%s" fill="%s" stroke="%s" stroke-width="1"/>`,
			tongue(0, math.Min(used, end), s.bar*0.3),
			pal.gold,
			pal.ink,
		)
		if r.Over() {
			from := end
			if !(r.limited() && r.Used > r.Allowed+0.05) { // it is only under load that it is too much
				from = math.Max(share(r.Loaded), s.length*0.06)
			}
			over := math.Max(used, from+6)
			fmt.Fprintf(b, `<path d="%s" fill="url(#over)" stroke="%s"/>`, tongue(from, over, s.bar*0.22), pal.plum)
		}
	}
	if r.Measured > 0 && s.words {
		fmt.Fprintf(b,
			`<circle cx="%.1f" cy="%.1f" r="4.5" fill="%s" stroke="%s" stroke-width="2"/>`,
			at(share(r.Measured)),
			y+s.bar/2,
			pal.sheet,
			pal.ink,
		)
	}
	if figure := r.figure(); figure != "" && s.words {
		anchor := map[bool]string{true: "start", false: "end"}[way > 0]
		if end < s.length-18 && len(figure) < 6 { // it stands in the well
			fmt.Fprintf(b,
				`<text x="%.1f" y="%.1f" font-size="15.5" fill="%s" text-anchor="%s">%s</text>`,
				at(end+6),
				y+s.bar-4.5,
				pal.ink,
				anchor,
				figure,
			)
			return
		}
		fmt.Fprintf(b,
			`<text x="%.1f" y="%.1f" font-size="15.5" fill="%s" text-anchor="%s">%s</text>`,
			at(math.Max(end, s.length)+7),
			y+s.bar-4.5,
			pal.ink,
			anchor,
			figure,
		)
	}
}

// figure is what stands behind the post.
func (s ReachSide) figure() string {
	switch {
	case s.limited() && s.less():
		return fmt.Sprintf("%.0f, %.0f°", s.Loaded, s.Allowed)
	case s.limited():
		return fmt.Sprintf("%.0f°", s.Allowed)
	case s.less():
		return fmt.Sprintf("%.0f° loaded", s.Loaded)
	}
	return ""
}
