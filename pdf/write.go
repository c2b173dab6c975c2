package pdf

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"html"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"io"
	"math"
	"strconv"
	"strings"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/vector"
)

// PDF writes the sheet.
func (s *Sheet) PDF(w io.Writer) error {
	doc := fpdf.NewCustom(&fpdf.InitType{UnitStr: "mm", Size: fpdf.SizeType{Wd: s.size.W, Ht: s.size.H}})
	doc.SetTitle(s.title, true)
	doc.SetCreator("Rest Bend", true)
	doc.SetLang("en-GB")
	doc.SetAutoPageBreak(false, 0)
	doc.SetLineJoinStyle("round")
	doc.SetLineCapStyle("round")
	doc.AddUTF8FontFromBytes("sheet", "", s.font.file)
	for _, page := range s.pages {
		doc.AddPage()
		for _, m := range page {
			m.pdf(doc)
		}
	}
	return doc.Output(w)
}

func (m mark) pdf(doc *fpdf.Fpdf) {
	if m.words != "" {
		doc.SetFont("sheet", "", m.high/pointMM)
		r, g, b := rgb(m.fill)
		doc.SetTextColor(r, g, b)
		doc.SetTextRenderingMode(0)
		if m.bold > 0 { // filled, and drawn along the edge
			doc.SetTextRenderingMode(2)
			doc.SetDrawColor(r, g, b)
			doc.SetLineWidth(m.bold * m.high)
		}
		doc.Text(m.at.x, m.at.y, m.words)
		return
	}
	style := ""
	if m.fill != "" {
		doc.SetFillColor(rgb(m.fill))
		style = "F"
	}
	if m.stroke != "" {
		doc.SetDrawColor(rgb(m.stroke))
		doc.SetLineWidth(m.width)
		style += "D"
	}
	if style == "" {
		return
	}
	for _, s := range m.path {
		switch s.op {
		case 'M':
			doc.MoveTo(s.to.x, s.to.y)
		case 'L':
			doc.LineTo(s.to.x, s.to.y)
		case 'Q':
			doc.CurveTo(s.by.x, s.by.y, s.to.x, s.to.y)
		case 'Z':
			doc.ClosePath()
		}
	}
	doc.DrawPath(style)
}

// Bytes is the sheet as a PDF file.
func (s *Sheet) Bytes() ([]byte, error) {
	var b bytes.Buffer
	if err := s.PDF(&b); err != nil {
		return nil, err
	}
	return b.Bytes(), nil
}

// SVG writes one page, counted from 0, as a drawing that brings its font with it.
func (s *Sheet) SVG(w io.Writer, page int) error {
	marks, err := s.page(page)
	if err != nil {
		return err
	}
	var b strings.Builder
	fmt.Fprintf(&b,
		`<svg xmlns="http://www.w3.org/2000/svg" width="%gmm" height="%gmm" viewBox="0 0 %g %g" `,
		s.size.W,
		s.size.H,
		s.size.W,
		s.size.H,
	)
	fmt.Fprintf(&b,
		`font-family="sheet" stroke-linejoin="round" stroke-linecap="round" style="background:#fff"><title>%s</title>`,
		html.EscapeString(s.title),
	)
	fmt.Fprintf(&b, `<style>@font-face{font-family:"sheet";src:url("data:font/ttf;base64,%s")}</style>`,
		base64.StdEncoding.EncodeToString(s.font.file))
	for _, m := range marks {
		m.svg(&b)
	}
	b.WriteString("</svg>\n")
	_, err = io.WriteString(w, b.String())
	return err
}

func (m mark) svg(b *strings.Builder) {
	if m.words != "" {
		fmt.Fprintf(b, `<text x="%.2f" y="%.2f" font-size="%.3f" fill="%s"`, m.at.x, m.at.y, m.high, m.fill)
		if m.bold > 0 {
			fmt.Fprintf(b, ` stroke="%s" stroke-width="%.3f"`, m.fill, m.bold*m.high)
		}
		fmt.Fprintf(b, ">%s</text>", html.EscapeString(m.words))
		return
	}
	b.WriteString(`<path d="`)
	for _, s := range m.path {
		switch s.op {
		case 'Z':
			b.WriteByte('Z')
		case 'Q':
			fmt.Fprintf(b, "Q%.2f %.2f %.2f %.2f", s.by.x, s.by.y, s.to.x, s.to.y)
		default:
			fmt.Fprintf(b, "%c%.2f %.2f", s.op, s.to.x, s.to.y)
		}
	}
	fill := m.fill
	if fill == "" {
		fill = "none"
	}
	fmt.Fprintf(b, `" fill="%s"`, fill)
	if m.stroke != "" {
		fmt.Fprintf(b, ` stroke="%s" stroke-width="%.3f"`, m.stroke, m.width)
	}
	b.WriteString("/>")
}

// PNG writes one page, counted from 0, as a picture of so many pixels a millimetre.
func (s *Sheet) PNG(w io.Writer, page int, perMM float64) error {
	marks, err := s.page(page)
	if err != nil {
		return err
	}
	pic := image.NewRGBA(image.Rect(0, 0, int(math.Round(s.size.W*perMM)), int(math.Round(s.size.H*perMM))))
	draw.Draw(pic, pic.Bounds(), image.White, image.Point{}, draw.Src)
	for _, m := range marks {
		if m.words == "" {
			m.picture(pic, perMM)
			continue
		}
		for _, letter := range s.font.outline(m.words, m.at, m.high) {
			one := mark{path: letter, fill: m.fill}
			if m.bold > 0 {
				one.stroke, one.width = m.fill, m.bold*m.high
			}
			one.picture(pic, perMM)
		}
	}
	return png.Encode(w, pic)
}

// picture paints a path on a picture.
func (m mark) picture(pic *image.RGBA, perMM float64) {
	lines, closed := flat(m.path, 0.5/perMM)
	for _, l := range lines {
		for i := range l {
			l[i] = point{l[i].x * perMM, l[i].y * perMM}
		}
	}
	if m.fill != "" {
		paint(pic, lines, m.fill)
	}
	if m.stroke == "" {
		return
	}
	var pieces [][]point
	r := m.width * perMM / 2
	for n, l := range lines {
		if closed[n] {
			l = append(l, l[0])
		}
		for i, p := range l {
			pieces = append(pieces, disc(p, r))
			if i == 0 {
				continue
			}
			q := l[i-1]
			long := math.Hypot(p.x-q.x, p.y-q.y)
			if long == 0 {
				continue
			}
			dx, dy := r*(p.x-q.x)/long, r*(p.y-q.y)/long
			pieces = append(pieces, []point{{q.x + dy, q.y - dx}, {p.x + dy, p.y - dx}, {p.x - dy, p.y + dx}, {q.x - dy, q.y + dx}})
		}
	}
	paint(pic, pieces, m.stroke)
}

// disc is a round piece of a stroke, turned as the straight ones are.
func disc(c point, r float64) []point {
	const corners = 16
	out := make([]point, corners)
	for i := range out {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / corners)
		out[i] = point{c.x + r*cos, c.y + r*sin}
	}
	return out
}

// paint fills what pieces that turn the same way cover together.
func paint(pic *image.RGBA, pieces [][]point, colour string) {
	x0, y0, x1, y1 := math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)
	for _, piece := range pieces {
		for _, p := range piece {
			x0, y0, x1, y1 = math.Min(x0, p.x), math.Min(y0, p.y), math.Max(x1, p.x), math.Max(y1, p.y)
		}
	}
	where := image.Rect(int(math.Floor(x0)), int(math.Floor(y0)), int(math.Ceil(x1)), int(math.Ceil(y1))).Intersect(pic.Bounds())
	if where.Empty() {
		return
	}
	z := vector.NewRasterizer(where.Dx(), where.Dy())
	at := func(p point) (float32, float32) {
		return float32(p.x - float64(where.Min.X)), float32(p.y - float64(where.Min.Y))
	}
	for _, piece := range pieces {
		z.MoveTo(at(piece[0]))
		for _, p := range piece[1:] {
			z.LineTo(at(p))
		}
		z.ClosePath()
	}
	r, g, b := rgb(colour)
	z.Draw(pic, where, image.NewUniform(color.RGBA{uint8(r), uint8(g), uint8(b), 255}), image.Point{})
}

// rgb are the parts of a colour such as #1D2A3F, or #FFF; black for what is neither.
func rgb(colour string) (r, g, b int) {
	hex := strings.TrimPrefix(colour, "#")
	if len(hex) == 3 {
		hex = string([]byte{hex[0], hex[0], hex[1], hex[1], hex[2], hex[2]})
	}
	v, err := strconv.ParseUint(hex, 16, 32)
	if err != nil || len(hex) != 6 {
		return 0, 0, 0
	}
	return int(v >> 16), int(v >> 8 & 255), int(v & 255)
}
