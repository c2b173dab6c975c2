// Package paper sets sheets for print as PDF: text in lines that can be searched and copied,
// in the order in which it is read, and figures as vectors. It knows paper and nothing of
// exercises.
package paper

import (
	"bytes"
	"fmt"
	"image/png"
	"io"
	"math"
	"regexp"
	"strings"
	"sync"

	"github.com/tdewolff/canvas"
	"github.com/tdewolff/canvas/renderers/pdf"
	"github.com/tdewolff/canvas/renderers/rasterizer"
	"github.com/tdewolff/canvas/renderers/svg"
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
var (
	ink    = canvas.Hex("#1D2A3F")
	second = canvas.Hex("#4B566B")
	line   = canvas.Hex("#B9AE98")
	adapt  = canvas.Hex("#744700")
)

// Sheet is a document that is being set, from top to bottom.
type Sheet struct {
	size   Size
	scale  float64 // of the text
	family *canvas.FontFamily
	pages  []*canvas.Canvas
	y      float64 // millimetres from the top of the current page
	title  string
}

func init() { canvas.Precision = 5 } // hundredths of a millimetre are fine enough

var fonts sync.Map // families by the address of their bytes: loading one takes its time

// New begins a sheet of a size; large print is a third larger. font is an OpenType or WOFF2
// file.
func New(title string, size Size, large bool, font []byte) (*Sheet, error) {
	key := &font[0]
	family, ok := fonts.Load(key)
	if !ok {
		f := canvas.NewFontFamily("sheet")
		if err := f.LoadFont(font, 0, canvas.FontRegular); err != nil {
			return nil, fmt.Errorf("font: %w", err)
		}
		fonts.Store(key, f)
		family = f
	}
	s := &Sheet{size: size, scale: 1, family: family.(*canvas.FontFamily), title: title}
	if large {
		s.scale = 4.0 / 3
	}
	s.turn()
	return s, nil
}

// turn begins a new page.
func (s *Sheet) turn() {
	s.pages = append(s.pages, canvas.New(s.size.W, s.size.H))
	s.y = margin
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

func (s *Sheet) face(k Kind) *canvas.FontFace {
	size, colour, bold := 10.5, ink, 0.0
	switch k {
	case Title:
		size, bold = 20, 0.02
	case Heading:
		size, bold = 12.5, 0.02
	case Strong:
		bold = 0.02
	case Quiet:
		size, colour = 9.5, second
	case Care:
		colour = adapt
	}
	face := s.family.Face(size*s.scale, colour, canvas.FontRegular, canvas.FontNormal)
	face.FauxBold = bold
	return face
}

// Text sets words in a column from x, millimetres from the left of the text, and says how
// high they stand. It moves nothing on.
func (s *Sheet) text(x, width float64, k Kind, words string) (box *canvas.Text, height float64) {
	face := s.face(k)
	box = canvas.NewTextBox(face, words, width, 0, canvas.Left, canvas.Top, nil)
	lines := math.Max(1, math.Round(box.Bounds().H()/face.LineHeight()))
	return box, math.Max(box.Bounds().H(), lines*face.LineHeight()*0.98)
}

// Height is how high words stand in a column of a width.
func (s *Sheet) Height(width float64, k Kind, words string) float64 {
	if words == "" {
		return 0
	}
	_, h := s.text(0, width, k, words)
	return h
}

// At sets words in a column at x and so far below where the sheet stands, and says how high
// they are.
func (s *Sheet) At(x, below, width float64, k Kind, words string) float64 {
	if words == "" {
		return 0
	}
	box, h := s.text(x, width, k, words)
	s.page().RenderText(box, canvas.Identity.Translate(margin+x, s.size.H-s.y-below))
	return h
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

func (s *Sheet) page() *canvas.Canvas { return s.pages[len(s.pages)-1] }

// Rule draws a line across.
func (s *Sheet) Rule() {
	ctx := canvas.NewContext(s.page())
	ctx.SetFillColor(line)
	ctx.DrawPath(margin, s.size.H-s.y, canvas.Rectangle(s.Width(), rule))
	s.Skip(2)
}

// Box draws a box to tick at x and so far below, open or shaded where nothing is to be done.
func (s *Sheet) Box(x, below, size float64, open bool) {
	ctx := canvas.NewContext(s.page())
	ctx.SetStrokeWidth(0.3)
	ctx.SetStrokeColor(ink)
	ctx.SetFillColor(canvas.White)
	if !open {
		ctx.SetStrokeColor(line)
		ctx.SetFillColor(canvas.Hex("#EFEADF"))
	}
	ctx.DrawPath(margin+x, s.size.H-s.y-below-size, canvas.RoundedRectangle(size, size, 0.8))
}

var (
	gradients = regexp.MustCompile(`<linearGradient id="(\w+)".*?</linearGradient>`)
	viewBox   = regexp.MustCompile(`viewBox="([-0-9.]+) ([-0-9.]+) ([0-9.]+) ([0-9.]+)" width="[0-9.]+" height="[0-9.]+"`)
	stops     = regexp.MustCompile(`stop-color="(#[0-9A-Fa-f]+)"`)
)

// flat is a drawing with one colour in the place of each run of colours, the last of it, and
// its size in the units it is drawn in: rounded to pixels, it would be stretched.
func flat(drawing []byte) string {
	text := string(drawing)
	for _, g := range gradients.FindAllStringSubmatch(text, -1) {
		if all := stops.FindAllStringSubmatch(g[0], -1); len(all) > 0 {
			text = strings.ReplaceAll(text, "url(#"+g[1]+")", all[len(all)-1][1])
		}
	}
	text = strings.ReplaceAll(text, ` stroke="`, ` stroke-linejoin="round" stroke-linecap="round" stroke="`) // as the whole drawing says it
	return viewBox.ReplaceAllStringFunc(gradients.ReplaceAllString(text, ""), func(box string) string {
		var x, y, w, h float64
		if _, err := fmt.Sscanf(box, `viewBox="%f %f %f %f"`, &x, &y, &w, &h); err != nil {
			return box
		}
		// The reader of drawings takes the last two figures for the far corner.
		return fmt.Sprintf(`viewBox="%g %g %g %g" width="%g" height="%g"`, x, y, x+w, y+h, w, h)
	})
}

// Figure draws an SVG into a box of so many millimetres at x and so far below, as large as
// it fits, standing on the bottom of the box.
func (s *Sheet) Figure(x, below, w, h float64, drawing []byte) error {
	c, err := canvas.ParseSVG(strings.NewReader(flat(drawing)))
	if err != nil {
		return fmt.Errorf("figure: %w", err)
	}
	if c.W <= 0 || c.H <= 0 {
		return fmt.Errorf("figure: it has no size")
	}
	c.Fit(0)
	scale := math.Min(w/c.W, h/c.H)
	c.RenderViewTo(s.page(), canvas.Identity.Translate(margin+x+(w-scale*c.W)/2, s.size.H-s.y-below-h).Scale(scale, scale))
	return nil
}

// PDF writes the sheet.
func (s *Sheet) PDF(w io.Writer) error {
	doc := pdf.New(w, s.size.W, s.size.H, &pdf.Options{Compress: true, SubsetFonts: true})
	doc.SetInfo(s.title, "", "", "", "Rest Bend")
	doc.SetLang("en-GB")
	for i, p := range s.pages {
		if i > 0 {
			doc.NewPage(s.size.W, s.size.H)
		}
		p.RenderTo(doc)
	}
	return doc.Close()
}

// PNG writes one page, counted from 0, as a picture of so many pixels a millimetre.
func (s *Sheet) PNG(w io.Writer, page int, perMM float64) error {
	if page < 0 || page >= len(s.pages) {
		return fmt.Errorf("page: %d; expected 0 to %d", page, len(s.pages)-1)
	}
	c := canvas.New(s.size.W, s.size.H)
	ctx := canvas.NewContext(c)
	ctx.SetFillColor(canvas.White)
	ctx.DrawPath(0, 0, canvas.Rectangle(s.size.W, s.size.H))
	s.pages[page].RenderTo(c)
	return png.Encode(w, rasterizer.Draw(c, canvas.DPMM(perMM), canvas.DefaultColorSpace))
}

// SVG writes one page, counted from 0, as a drawing.
func (s *Sheet) SVG(w io.Writer, page int) error {
	if page < 0 || page >= len(s.pages) {
		return fmt.Errorf("page: %d; expected 0 to %d", page, len(s.pages)-1)
	}
	doc := svg.New(w, s.size.W, s.size.H, &svg.Options{SubsetFonts: true, EmbedFonts: true})
	s.pages[page].RenderTo(doc)
	return doc.Close()
}

// Bytes is the sheet as a PDF file.
func (s *Sheet) Bytes() ([]byte, error) {
	var b bytes.Buffer
	if err := s.PDF(&b); err != nil {
		return nil, err
	}
	return b.Bytes(), nil
}
