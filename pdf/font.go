package pdf

import (
	"fmt"
	"strings"
	"sync"

	"golang.org/x/image/font/sfnt"
	"golang.org/x/image/math/fixed"

	metrics "golang.org/x/image/font"
)

// font is a typeface; lengths are shares of its size.
type font struct {
	file           []byte // TrueType or OpenType
	outlines       *sfnt.Font
	units          int // of the font, in its size
	height, ascent float64

	mu     sync.Mutex
	buffer sfnt.Buffer
	widths map[rune]float64
}

var fonts sync.Map // by the address of their bytes: reading one takes its time

func fontOf(file []byte) (*font, error) {
	if len(file) == 0 {
		return nil, fmt.Errorf("it is empty; expected a TrueType or OpenType file")
	}
	key := &file[0]
	if f, ok := fonts.Load(key); ok {
		return f.(*font), nil
	}
	outlines, err := sfnt.Parse(file)
	if err != nil {
		return nil, err
	}
	f := &font{file: file, outlines: outlines, widths: map[rune]float64{}}
	f.units = int(f.outlines.UnitsPerEm())
	m, err := f.outlines.Metrics(&f.buffer, fixed.I(f.units), metrics.HintingNone)
	if err != nil {
		return nil, err
	}
	f.height, f.ascent = f.share(m.Height), f.share(m.Ascent)
	fonts.Store(key, f)
	return f, nil
}

func (f *font) share(v fixed.Int26_6) float64 { return float64(v) / 64 / float64(f.units) }

// width is how wide words are.
func (f *font) width(words string) (w float64) {
	f.mu.Lock()
	defer f.mu.Unlock()
	for _, r := range words {
		one, known := f.widths[r]
		if !known {
			if g, err := f.outlines.GlyphIndex(&f.buffer, r); err == nil {
				if a, err := f.outlines.GlyphAdvance(&f.buffer, g, fixed.I(f.units), metrics.HintingNone); err == nil {
					one = f.share(a)
				}
			}
			f.widths[r] = one
		}
		w += one
	}
	return w
}

// lines are words broken where they would be wider than a width.
func (f *font) lines(words string, width float64) []string {
	var out []string
	space := f.width(" ")
	for _, paragraph := range strings.Split(words, "\n") {
		line, wide := "", 0.0
		for _, word := range strings.Fields(paragraph) {
			w := f.width(word)
			if line != "" && wide+space+w > width {
				out = append(out, line)
				line, wide = "", 0
			}
			if line != "" {
				line, wide = line+" ", wide+space
			}
			line, wide = line+word, wide+w
		}
		out = append(out, line)
	}
	return out
}

// outline is a line of text as paths, from a place on its base line.
func (f *font) outline(words string, at point, size float64) (out [][]segment) {
	x := at.x
	for _, r := range words {
		f.mu.Lock()
		g, err := f.outlines.GlyphIndex(&f.buffer, r)
		var pieces sfnt.Segments
		if err == nil {
			pieces, err = f.outlines.LoadGlyph(&f.buffer, g, fixed.I(f.units), nil)
		}
		var path []segment
		place := func(p fixed.Point26_6) point { return point{x + f.share(p.X)*size, at.y + f.share(p.Y)*size} }
		for _, s := range pieces {
			switch s.Op {
			case sfnt.SegmentOpMoveTo:
				path = append(path, segment{op: 'M', to: place(s.Args[0])})
			case sfnt.SegmentOpLineTo:
				path = append(path, segment{op: 'L', to: place(s.Args[0])})
			case sfnt.SegmentOpQuadTo:
				path = append(path, segment{op: 'Q', by: place(s.Args[0]), to: place(s.Args[1])})
			case sfnt.SegmentOpCubeTo: // TrueType has none; its middle is near enough
				by := place(s.Args[0]).add(place(s.Args[1]))
				path = append(path, segment{op: 'Q', by: point{by.x / 2, by.y / 2}, to: place(s.Args[2])})
			}
		}
		f.mu.Unlock()
		if err == nil && len(path) > 0 {
			out = append(out, append(path, segment{op: 'Z'}))
		}
		x += f.width(string(r)) * size
	}
	return out
}
