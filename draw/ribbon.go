package draw

import (
	"fmt"
	"html"
	"math"
	"strconv"
	"strings"
	"unicode/utf8"
)

// RibbonPiece is one exercise on the height ribbon.
type RibbonPiece struct {
	Change, Stay float64 // seconds to get there, and there
	Level        float64 // 0 lying to 1 standing
	Load         float64 // 0 to 1
	Position     string
	FloorMove    int // −1 down to the floor, 1 up from it, 0 neither, on the way here
	Phase        string
	Number       int
	Figure       string // address of a figure; its drawn size follows
	FigureW      float64
	FigureH      float64
	Link         string
	Label        string // for who cannot see it
	Chosen       bool
}

// Ribbon is a session as a ribbon over time.
type Ribbon struct {
	Pieces []RibbonPiece
	End    float64 // seconds of coming up at the end
	EndUp  bool    // the end is a way up from the floor
	Width  float64 // pixels
	Tall   bool    // with numbers and phases below, as the plan builder shows it
	Done   float64 // seconds done, while teaching; negative hides the marker
	Posts  []RibbonPost
	Title  string
}

// RibbonPost is a mark that was made at a moment of a session.
type RibbonPost struct {
	At    float64 // seconds
	Shut  bool    // pain: in plum
	Label string
}

const (
	ribbonStep     = 58.0 // pixels between lying and standing
	ribbonLowest   = 27.0 // of the lowest level above the floor line
	ribbonShoulder = 30.0
	ribbonLeft     = 136.0
	figureScale    = 0.74 // of a thumbnail's own pixels
)

// SVGRibbon draws the ribbon. Its parts carry classes and links; colours are
// attributes, so that it needs no style of its own.
//
//revive:disable-next-line:cyclomatic One part of the drawing after the other; split, they would pass a dozen lengths on.
func SVGRibbon(r Ribbon) []byte {
	pal := palettes[Light]
	left := ribbonLeft
	top := 84.0
	if !r.Tall {
		left, top = 18, 80
	}
	floor := top + ribbonStep + ribbonLowest
	height := floor + 12
	if r.Tall {
		height = floor + 52
	}
	total := r.End
	for _, p := range r.Pieces {
		total += p.Change + p.Stay
	}
	if total == 0 {
		total = 1
	}
	scale := (r.Width - left - 20) / total
	y := func(level float64) float64 { return floor - ribbonLowest - ribbonStep*level }

	var b strings.Builder
	fmt.Fprintf(&b,
		`<svg xmlns="http://www.w3.org/2000/svg" class="ribbon" viewBox="0 0 %.0f %.0f" role="group" aria-label="%s">`,
		r.Width,
		height,
		escape(r.Title),
	)
	x := left
	type span struct{ from, to float64 }
	spans := make([]span, len(r.Pieces))
	start := make([]float64, len(r.Pieces))
	for i, p := range r.Pieces {
		start[i] = x
		x += p.Change * scale
		spans[i] = span{x, x + p.Stay*scale}
		if i > 0 && r.Pieces[i-1].Position == p.Position {
			spans[i].from = start[i] + 1
		}
		x += p.Stay * scale
	}
	for i, p := range r.Pieces {
		if p.Chosen {
			fmt.Fprintf(&b, `<rect class="ribbon-chosen" x="%.1f" y="2" width="%.1f" height="%.1f" rx="6" fill="%s"/>`,
				start[i]-4, math.Max(26, spans[i].to-start[i]+8), height-6, pal.sheet)
		}
	}
	if r.Tall {
		for _, l := range []struct {
			level float64
			word  string
		}{{0, "lying"}, {0.38, "hands and knees"}, {0.64, "sitting"}, {1, "standing"}} {
			fmt.Fprintf(&b,
				`<path d="M%.0f %.1fH%.0f" stroke="%s" stroke-dasharray="3 5"/><text x="%.0f" y="%.1f" text-anchor="end" `+
					`font-size="12.5" fill="%s">%s</text>`,
				left,
				y(l.level),
				r.Width-14,
				pal.hairline,
				left-8,
				y(l.level)+4,
				pal.second,
				l.word,
			)
		}
	}
	fmt.Fprintf(&b, `<path d="M%.0f %.1fH%.0f" stroke="%s" stroke-width="1.5"/>`, left, floor, r.Width-10, pal.edge)

	at, from := 1.0, left
	for i, p := range r.Pieces {
		same := i > 0 && r.Pieces[i-1].Position == p.Position
		if !same {
			thread(&b, from, y(at), spans[i].from, y(p.Level), p.FloorMove, floor, pal)
		}
		at, from = p.Level, spans[i].to
	}
	if len(r.Pieces) > 0 && r.End > 0 {
		move := 0
		if r.EndUp {
			move = 1
		}
		thread(&b, from, y(at), r.Width-20, y(1), move, floor, pal)
	}
	for i, p := range r.Pieces {
		belly(&b, r, i, spans[i].from, spans[i].to, y(p.Level), pal)
	}
	for i, p := range r.Pieces {
		s := spans[i]
		w, h := p.FigureW*figureScale, p.FigureH*figureScale
		mid := (s.from + s.to) / 2
		if p.Link != "" {
			fmt.Fprintf(&b, `<a href="%s" class="ribbon-piece" aria-label="%s">`, escape(p.Link), escape(p.Label))
			fmt.Fprintf(&b,
				`<rect x="%.1f" y="10" width="%.1f" height="%.1f" fill="transparent"/>`,
				start[i],
				math.Max(8, s.to-start[i]),
				height-14,
			)
		}
		if p.Figure != "" && w <= s.to-s.from+16 {
			fmt.Fprintf(&b,
				`<image href="%s" x="%.1f" y="%.1f" width="%.1f" height="%.1f"/>`,
				escape(p.Figure),
				mid-w/2,
				y(p.Level)-h+1.4,
				w,
				h,
			)
		}
		if r.Tall {
			number(&b, p, mid, floor+19, pal)
		}
		if p.Link != "" {
			b.WriteString(`</a>`)
		}
	}
	if r.Tall {
		phases(&b, r, start, func(i int) float64 { return spans[i].to }, floor+34, pal)
	}
	for _, p := range r.Posts {
		colour := pal.ink
		if p.Shut {
			colour = pal.plum
		}
		x := left + p.At*scale
		fmt.Fprintf(&b,
			`<g class="ribbon-post" role="img" aria-label="%s"><title>%s</title><path d="M%.1f %.1fV%.1f" stroke="%s" `+
				`stroke-width="2.5" fill="none"/><circle cx="%.1f" cy="%.1f" r="5" fill="%s" stroke="%s" stroke-width="1.5"/></g>`,
			html.EscapeString(p.Label),
			html.EscapeString(p.Label),
			x,
			top-18,
			floor-4,
			colour,
			x,
			top-20,
			colour,
			pal.sheet,
		)
	}
	if r.Done >= 0 && !r.Tall {
		fmt.Fprintf(&b,
			`<rect class="ribbon-now" x="%.1f" y="%.1f" width="6" height="%.1f" rx="3" fill="%s" stroke="%s"/>`,
			left+r.Done*scale-3,
			top-22,
			floor-top+26,
			pal.gold,
			pal.ink,
		)
	}
	b.WriteString(`</svg>`)
	return terse(b.String())
}

// thread joins two levels: an S for a change of position, stairs with an arrow
// for a way to or from the floor.
func thread(b *strings.Builder, x0, y0, x1, y1 float64, floorMove int, floor float64, pal palette) {
	if floorMove == 0 {
		m := (x0 + x1) / 2
		fmt.Fprintf(b,
			`<path d="M%.1f %.1fC%.1f %.1f %.1f %.1f %.1f %.1f" fill="none" stroke="%s" stroke-width="2.6" stroke-linecap="round"/>`,
			x0,
			y0,
			m,
			y0,
			m,
			y1,
			x1,
			y1,
			pal.ink,
		)
		return
	}
	const steps = 4
	var d strings.Builder
	fmt.Fprintf(&d, "M%.1f %.1f", x0, y0)
	for i := 1; i <= steps; i++ {
		t := float64(i) / steps
		fmt.Fprintf(&d, "H%.1fV%.1f", x0+(x1-x0)*(t-0.5/steps), y0+(y1-y0)*t)
	}
	fmt.Fprintf(&d, "H%.1f", x1)
	word, tip, tail := "down", floor-4, floor-32
	if floorMove > 0 {
		word, tip, tail = "up", floor-32, floor-4
	}
	head := 6.0
	if tip > tail {
		head = -6
	}
	x := (x0+x1)/2 - 2
	fmt.Fprintf(b,
		`<path d="%s" fill="none" stroke="%s" stroke-width="2.6"/><path d="M%.1f %.1fV%.1fM%.1f %.1fL%.1f %.1fL%.1f %.1f" fill="none" `+
			`stroke="%s" stroke-width="2"/><text x="%.1f" y="%.1f" font-size="12.5" font-weight="560" fill="%s">%s</text>`,
		d.String(),
		pal.ink,
		x,
		tail,
		tip,
		x-5,
		tip+head,
		x,
		tip,
		x+5,
		tip+head,
		pal.ink,
		x+9,
		floor-4,
		pal.ink,
		word,
	)
}

// belly draws one piece: a flat top on which the figure rests, and a weight
// hanging below it, deeper and darker the heavier the work.
func belly(b *strings.Builder, r Ribbon, i int, x0, x1, y float64, pal palette) {
	p := r.Pieces[i]
	if x1-x0 < 1 {
		return
	}
	depth := 5 + 19*p.Load
	soft := math.Min(ribbonShoulder, (x1-x0)/2)
	joinLeft := i > 0 && r.Pieces[i-1].Position == p.Position
	joinRight := i+1 < len(r.Pieces) && r.Pieces[i+1].Position == p.Position
	tone := pal.body
	switch {
	case p.Load > 0.66:
		tone = pal.working
	case p.Load > 0.33:
		tone = pal.medium
	}
	var d strings.Builder
	fmt.Fprintf(&d, "M%.1f %.1fH%.1f", x0, y, x1)
	if joinRight {
		fmt.Fprintf(&d, "V%.1fH%.1f", y+depth, x0+soft)
	} else {
		fmt.Fprintf(&d, "C%.1f %.1f %.1f %.1f %.1f %.1fH%.1f", x1-soft/2, y, x1-soft/2, y+depth, x1-soft, y+depth, x0+soft)
	}
	if joinLeft {
		fmt.Fprintf(&d, "H%.1fV%.1fZ", x0, y)
	} else {
		fmt.Fprintf(&d, "C%.1f %.1f %.1f %.1f %.1f %.1fZ", x0+soft/2, y+depth, x0+soft/2, y, x0, y)
	}
	fmt.Fprintf(b, `<path class="ribbon-belly" d="%s" fill="%s" stroke="%s" stroke-width="0.8"/>`, d.String(), tone, pal.allowed)
	width := 1.5
	if p.Chosen {
		width = 2.6
	}
	fmt.Fprintf(b, `<path d="M%.1f %.1fH%.1f" stroke="%s" stroke-width="%g" stroke-linecap="round"/>`, x0, y, x1, pal.ink, width+1)
}

func number(b *strings.Builder, p RibbonPiece, x, y float64, pal palette) {
	fill := pal.ink
	if p.Chosen {
		fmt.Fprintf(b, `<rect x="%.1f" y="%.1f" width="22" height="18" rx="4" fill="%s"/>`, x-11, y-14, pal.ink)
		fill = pal.sheet
	}
	fmt.Fprintf(b,
		`<text x="%.1f" y="%.1f" text-anchor="middle" font-size="12.5" font-weight="640" fill="%s">%d</text>`,
		x,
		y,
		fill,
		p.Number,
	)
}

// letterWidth is about that of a letter in the ribbon's words, in pixels, and mostGrown how
// much larger they get where the ribbon is shown smaller.
const (
	letterWidth = 6.6
	mostGrown   = 1.25
)

// phases draws a bracket with minutes under every phase.
func phases(b *strings.Builder, r Ribbon, start []float64, end func(int) float64, y float64, pal palette) {
	for i := 0; i < len(r.Pieces); {
		j, seconds := i, 0.0
		for j < len(r.Pieces) && r.Pieces[j].Phase == r.Pieces[i].Phase {
			seconds += r.Pieces[j].Change + r.Pieces[j].Stay
			j++
		}
		x0, x1 := start[i]+3, end(j-1)-3
		if i == 0 {
			x0 = end(-1+j) - (end(j-1) - start[0]) + 3
		}
		fmt.Fprintf(b, `<path d="M%.1f %.1fV%.1fH%.1fV%.1f" fill="none" stroke="%s"/>`, x0, y-6, y-1, x1, y-6, pal.edge)
		label := r.Pieces[i].Phase
		name := letterWidth * float64(len(label))
		minutes := HalfMinutes(seconds) + " min"
		whole := name + 5 + letterWidth*float64(utf8.RuneCountInString(minutes))
		// Where the drawing is shown smaller its words grow; what has no room then is tight.
		tight := func(needs float64) string {
			if x1-x0 < needs*mostGrown {
				return ` class="tight"`
			}
			return ""
		}
		if x1-x0 > whole {
			label += fmt.Sprintf(`</tspan><tspan dx="5" font-weight="400" fill="%s"%s>%s`, pal.second, tight(whole), minutes)
		}
		if x1-x0 > name {
			fmt.Fprintf(b,
				`<text x="%.1f" y="%.1f" text-anchor="middle" font-size="12.5" font-weight="560" fill="%s"%s><tspan>%s</tspan></text>`,
				(x0+x1)/2,
				y+13,
				pal.ink,
				tight(name),
				label,
			)
		}
		i = j
	}
}

// HalfMinutes writes seconds as minutes to the nearest half, such as 3½, and
// at least ½.
func HalfMinutes(seconds float64) string {
	n := max(1, int(math.Round(seconds/30)))
	s := ""
	if n > 1 {
		s = strconv.Itoa(n / 2)
	}
	if n%2 == 1 {
		s += "½"
	}
	return s
}
