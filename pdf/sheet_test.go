package pdf

import (
	"bytes"
	"encoding/xml"
	"image/color"
	"image/png"
	"io"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func sheet(t *testing.T) *Sheet {
	b, err := os.ReadFile("../web/static/vendor/atkinson/latin.ttf")
	require.NoError(t, err)
	s, err := New("A sheet", Sizes["a4"], false, b)
	require.NoError(t, err)
	return s
}

// TestWordsAreBrokenToTheirColumn: none lost, none wider than the column that need not be.
func TestWordsAreBrokenToTheirColumn(t *testing.T) {
	f := sheet(t).font
	words := "Breathe all the way through; the breath is never held. ½ × 8°, “quoted” – and on"
	for _, width := range []float64{3, 8, 20, 100} {
		lines := f.lines(words, width)
		assert.Equal(t, words, strings.Join(lines, " "))
		for _, l := range lines {
			assert.True(t, f.width(l) <= width || !strings.Contains(l, " "), "%q in %g", l, width)
		}
	}
	assert.Equal(t, []string{"one", "", "two"}, f.lines("one\n\ntwo", 10))
	assert.InDelta(t, f.width("A")+f.width("b"), f.width("Ab"), 1e-9)
	assert.Positive(t, f.ascent)
	assert.Greater(t, f.height, f.ascent)
	_, err := New("", Sizes["a4"], false, nil)
	assert.ErrorContains(t, err, "font: it is empty")
	_, err = New("", Sizes["a4"], false, []byte("no font"))
	assert.ErrorContains(t, err, "font:")
}

// TestAPathIsReadAsItIsDrawn, by hand: relative, mirrored and left out commands.
func TestAPathIsReadAsItIsDrawn(t *testing.T) {
	got, err := readPath("M10-5h4v.5q1 1 2 0t2 0 2-1l-1-1zm1 1L0 0")
	require.NoError(t, err)
	want := []segment{{op: 'M', to: point{10, -5}}, {op: 'L', to: point{14, -5}}, {op: 'L', to: point{14, -4.5}},
		{op: 'Q', by: point{15, -3.5}, to: point{16, -4.5}}, {op: 'Q', by: point{17, -5.5}, to: point{18, -4.5}},
		{op: 'Q', by: point{19, -3.5}, to: point{20, -5.5}}, {op: 'L', to: point{19, -6.5}}, {op: 'Z', to: point{10, -5}},
		{op: 'M', to: point{11, -4}}, {op: 'L', to: point{0, 0}}}
	assert.Equal(t, want, got)
	for d, says := range map[string]string{"L1 1": "not read", "M1": "not read", "M1 1A3 3": "command 'A'", "M1 1z2 2": "command"} {
		_, err := readPath(d)
		assert.ErrorContains(t, err, says, d)
	}
}

const picture = `<svg viewBox="0 0 10 10"><defs><linearGradient id="b"><stop stop-color="#000000"/><stop ` +
	`stop-color="#FF0000"/></linearGradient></defs>` +
	`<path d="M0 0h10v10h-10z" fill="url(#b)"/><circle cx="5" cy="5" r="2" fill="#00F" stroke="#0F0" stroke-width="1"/></svg>`

// TestADrawingFillsItsBox in all three formats, with its colours.
func TestADrawingFillsItsBox(t *testing.T) {
	s := sheet(t)
	require.NoError(t, s.Figure(0, 0, 40, 20, []byte(picture)))
	least, most := bounds(s.pages[0])
	assert.InDelta(t, 20, most.y-least.y, 1e-6)
	assert.InDelta(t, margin+10, least.x, 1e-6, "in the middle")
	var b bytes.Buffer
	require.NoError(t, s.PNG(&b, 0, 4))
	pic, err := png.Decode(&b)
	require.NoError(t, err)
	at := func(x, y float64) color.Color { return pic.At(int(4*(margin+x)), int(4*(margin+y))) }
	assert.Equal(t, color.RGBA{255, 0, 0, 255}, at(11, 1), "the last colour of a run")
	assert.Equal(t, color.RGBA{0, 0, 255, 255}, at(20, 10))
	assert.Equal(t, color.RGBA{0, 255, 0, 255}, at(24, 10))
	assert.Equal(t, color.RGBA{255, 255, 255, 255}, at(9, 10))
	b.Reset()
	s.At(0, 30, 60, Strong, "Held < 5 s & “more”")
	require.NoError(t, s.SVG(&b, 0))
	texts := ""
	for d := xml.NewDecoder(&b); ; {
		tok, err := d.Token()
		if err == io.EOF {
			break
		}
		require.NoError(t, err)
		if c, is := tok.(xml.CharData); is {
			texts += string(c)
		}
	}
	assert.Contains(t, texts, "Held < 5 s & “more”")
	assert.ErrorContains(t, s.SVG(io.Discard, 1), "page: 1; expected 0 to 0")
	assert.ErrorContains(t, s.PNG(io.Discard, -1, 4), "page: -1")
	assert.ErrorContains(t, s.Figure(0, 0, 1, 1, []byte("<svg></svg>")), "no size")
	assert.ErrorContains(t, s.Figure(0, 0, 1, 1, []byte("<svg><ellipse/></svg>")), "<ellipse>")
	assert.ErrorContains(t, s.Figure(0, 0, 1, 1, []byte("<svg><path")), "figure:")
}
