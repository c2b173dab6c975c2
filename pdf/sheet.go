// Package pdf sets sheets for print: text in lines that can be searched and copied, in the
// order in which it is read, and figures as vectors. A sheet is written as PDF, and each of its
// pages as SVG or PNG. It knows paper and nothing of exercises.
package pdf

import (
	"fmt"
	"math"
)

// Size is a paper size in millimetres.
type Size struct{ W, H float64 }

// Sizes that a sheet can have.
var Sizes = map[string]Size{"a4": {210, 297}, "letter": {215.9, 279.4}}

const (
	margin = 16.0
	rule   = 0.25
)

// Colours of the house on white paper.
const (
	ink    = "#1D2A3F"
	second = "#4B566B"
	line   = "#B9AE98"
	adapt  = "#744700"
	shade  = "#EFEADF"
	white  = "#FFFFFF"
)

// Sheet is a document that is being set, from top to bottom.
type Sheet struct {
	size  Size
	scale float64 // of the text
	font  *font
	pages [][]mark
	y     float64 // millimetres from the top of the current page
	title string
}

// mark is a path or a line of text on a page, in millimetres from its top left.
type mark struct {
	path   []segment
	fill   string // colour; empty for none
	stroke string
	width  float64 // of the stroke

	words string
	at    point   // where the text begins, on its base line
	high  float64 // size of the text
	bold  float64 // how much the letters are thickened, as a share of their size
}

// New begins a sheet of a size; large print is a third larger. typeface is an OpenType or WOFF2
// file.
func New(title string, size Size, large bool, typeface []byte) (*Sheet, error) {
	f, err := fontOf(typeface)
	if err != nil {
		return nil, fmt.Errorf("font: %w", err)
	}
	s := &Sheet{size: size, scale: 1, font: f, title: title}
	if large {
		s.scale = 4.0 / 3
	}
	s.turn()
	return s, nil
}

// turn begins a new page.
func (s *Sheet) turn() {
	s.pages = append(s.pages, nil)
	s.y = margin
}

func (s *Sheet) put(m mark) {
	n := len(s.pages) - 1
	s.pages[n] = append(s.pages[n], m)
}

// Room turns the page where there are not so many millimetres left.
func (s *Sheet) Room(mm float64) {
	if s.y+mm > s.size.H-margin {
		s.turn()
	}
}

// Width is that of the text, in millimetres.
func (s *Sheet) Width() float64 { return s.size.W - 2*margin }

// Scale is how much larger than usual the print is.
func (s *Sheet) Scale() float64 { return s.scale }

// Pages is how many there are.
func (s *Sheet) Pages() int { return len(s.pages) }

// Kind is how text looks.
type Kind int

// The kinds of text.
const (
	Title Kind = iota
	Heading
	Strong
	Body
	Quiet
	Care
)

const (
	pointMM    = 25.4 / 72
	boldShare  = 0.02
	linesClose = 0.98 // how near lines stand to the font's own distance
)

// face is how a kind of text is set: its size in millimetres, its colour and how bold it is.
func (s *Sheet) face(k Kind) (size float64, colour string, bold float64) {
	size, colour = 10.5, ink
	switch k {
	case Title:
		size, bold = 20, boldShare
	case Heading:
		size, bold = 12.5, boldShare
	case Strong:
		bold = boldShare
	case Quiet:
		size, colour = 9.5, second
	case Care:
		colour = adapt
	}
	return size * s.scale * pointMM, colour, bold
}

// Height is how high words stand in a column of a width.
func (s *Sheet) Height(width float64, k Kind, words string) float64 {
	if words == "" {
		return 0
	}
	size, _, _ := s.face(k)
	return float64(len(s.font.lines(words, width/size))) * s.font.height * size * linesClose
}

// At sets words in a column at x and so far below where the sheet stands, and says how high
// they are.
func (s *Sheet) At(x, below, width float64, k Kind, words string) float64 {
	if words == "" {
		return 0
	}
	size, colour, bold := s.face(k)
	high := s.font.height * size * linesClose
	lines := s.font.lines(words, width/size)
	for i, l := range lines {
		s.put(
			mark{
				words: l,
				at:    point{margin + x, s.y + below + s.font.ascent*size + float64(i)*high},
				high:  size,
				fill:  colour,
				bold:  bold,
			},
		)
	}
	return float64(len(lines)) * high
}

// Line sets words over the whole width and moves on below them.
func (s *Sheet) Line(k Kind, words string) {
	h := s.Height(s.Width(), k, words)
	s.Room(h)
	s.At(0, 0, s.Width(), k, words)
	s.Skip(h + 0.8)
}

// Skip moves on so many millimetres.
func (s *Sheet) Skip(mm float64) { s.y += mm }

// Rule draws a line across.
func (s *Sheet) Rule() {
	s.put(mark{path: box(margin, s.y-rule, s.Width(), rule, 0), fill: line})
	s.Skip(2)
}

// Box draws a box to tick at x and so far below, open or shaded where nothing is to be done.
func (s *Sheet) Box(x, below, size float64, open bool) {
	m := mark{path: box(margin+x, s.y+below, size, size, 0.8), fill: white, stroke: ink, width: 0.3}
	if !open {
		m.fill, m.stroke = shade, line
	}
	s.put(m)
}

// Figure draws an SVG of this program into a box of so many millimetres at x and so far below,
// as large as it fits, standing on the bottom of the box. It returns an error for what it
// cannot draw.
func (s *Sheet) Figure(x, below, w, h float64, drawing []byte) error {
	marks, err := read(drawing)
	if err != nil {
		return fmt.Errorf("figure: %w", err)
	}
	least, most := bounds(marks)
	wide, tall := most.x-least.x, most.y-least.y
	if !(wide > 0 && tall > 0) {
		return fmt.Errorf("figure: it has no size")
	}
	scale := math.Min(w/wide, h/tall)
	left, top := margin+x+(w-scale*wide)/2, s.y+below+h-scale*tall
	for _, m := range marks {
		for i := range m.path {
			for _, p := range []*point{&m.path[i].by, &m.path[i].to} {
				*p = point{left + scale*(p.x-least.x), top + scale*(p.y-least.y)}
			}
		}
		m.width *= scale
		s.put(m)
	}
	return nil
}

// page refuses a page that is not there.
func (s *Sheet) page(n int) ([]mark, error) {
	if n < 0 || n >= len(s.pages) {
		return nil, fmt.Errorf("page: %d; expected 0 to %d", n, len(s.pages)-1)
	}
	return s.pages[n], nil
}
