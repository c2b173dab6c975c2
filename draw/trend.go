package draw

import (
	"bytes"
	"fmt"
	"image/color"
	"regexp"
	"time"

	"gonum.org/v1/plot"
	"gonum.org/v1/plot/plotter"
	"gonum.org/v1/plot/vg"
	"gonum.org/v1/plot/vg/draw"
	"gonum.org/v1/plot/vg/vgsvg"
)

// TrendLine is one line of a chart over days.
type TrendLine struct {
	Words  string
	Days   []time.Time
	Values []float64
}

// trendInks are the colours of lines, in order: ink, strong and light body.
var trendInks = []color.Color{color.RGBA{0x1D, 0x2A, 0x3F, 255}, color.RGBA{0x64, 0x7B, 0xA5, 255}, color.RGBA{0xA9, 0x68, 0x00, 255}}

// SVGTrend draws values over days as a picture of its own, most being the end of the scale,
// or 0 where the values say it. Lines are told apart by shape as well as colour.
func SVGTrend(unit string, most float64, lines []TrendLine, width, height float64) ([]byte, error) {
	p := plot.New()
	p.BackgroundColor = color.Transparent
	p.Y.Label.Text, p.Y.Min = unit, 0
	second := color.RGBA{0x4B, 0x56, 0x6B, 255}
	for _, a := range []*plot.Axis{&p.X, &p.Y} {
		a.LineStyle.Color, a.Tick.LineStyle.Color, a.Tick.Label.Color, a.Label.TextStyle.Color = second, second, second, second
		a.Tick.Label.Font.Size, a.Label.TextStyle.Font.Size = 10, 10
	}
	p.Legend.TextStyle.Font.Size, p.Legend.TextStyle.Color, p.Legend.Top = 10, second, true
	p.X.Tick.Marker = plot.TimeTicks{Format: "2 Jan"}
	for i, l := range lines {
		points := make(plotter.XYs, len(l.Days))
		top := 0.0
		for n, d := range l.Days {
			points[n].X, points[n].Y = float64(d.Unix()), l.Values[n]
			top = max(top, l.Values[n])
		}
		if len(points) == 0 {
			continue
		}
		line, marks, err := plotter.NewLinePoints(points)
		if err != nil {
			return nil, fmt.Errorf("drawing a trend: %w", err)
		}
		ink := trendInks[i%len(trendInks)]
		line.Color, line.Width = ink, vg.Points(1.6)
		marks.Color, marks.Radius, marks.Shape = ink, vg.Points(3.2), []draw.GlyphDrawer{draw.CircleGlyph{}, draw.RingGlyph{}, draw.TriangleGlyph{}}[i%3]
		p.Add(line, marks)
		if l.Words != "" {
			p.Legend.Add(l.Words, line, marks)
		}
		p.Y.Max = max(p.Y.Max, top*1.1, most)
	}
	c := vgsvg.New(vg.Length(width), vg.Length(height))
	p.Draw(draw.New(c))
	var b bytes.Buffer
	if _, err := c.WriteTo(&b); err != nil {
		return nil, fmt.Errorf("drawing a trend: %w", err)
	}
	// A picture of its own has no fonts of the page: the machine's plain one is asked for.
	return fontFamily.ReplaceAll(b.Bytes(), []byte("font-family:sans-serif")), nil
}

var fontFamily = regexp.MustCompile(`font-family:[^;"]*`)
