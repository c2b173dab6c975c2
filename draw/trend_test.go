package draw_test

import (
	"encoding/xml"
	"io"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/draw"
)

// TestATrendIsInsideItsPicture for one day, many, none, and high values; the names of its lines
// are in it, and it is well formed.
func TestATrendIsInsideItsPicture(t *testing.T) {
	day := time.Date(2026, 11, 2, 0, 0, 0, 0, time.UTC)
	days := func(n int) (out []time.Time) {
		for i := range n {
			out = append(out, day.AddDate(0, 0, 7*i))
		}
		return out
	}
	for name, lines := range map[string][]draw.TrendLine{
		"none": nil,
		"one":  {{Days: days(1), Values: []float64{3}}},
		"zero": {{Days: days(2), Values: []float64{0, 0}}},
		"three": {{Words: "before & after", Days: days(3), Values: []float64{1, 2, 3}},
			{Words: "right", Days: days(2), Values: []float64{40, 400}}, {}},
	} {
		svg := draw.SVGTrend("of <10>", 10, lines, 420, 180)
		d := xml.NewDecoder(strings.NewReader(string(svg)))
		marks, texts := 0, ""
		for {
			tok, err := d.Token()
			if err == io.EOF {
				break
			}
			require.NoError(t, err, name)
			switch x := tok.(type) {
			case xml.CharData:
				texts += string(x) + " "
			case xml.StartElement:
				if x.Name.Local == "circle" {
					marks++
					for _, a := range x.Attr {
						if a.Name.Local == "cy" {
							assert.Regexp(t, `^1?\d?\d\.\d$`, a.Value, name)
						}
					}
				}
			}
		}
		assert.Contains(t, texts, "of <10>", name)
		switch name {
		case "one":
			assert.Equal(t, 1, marks)
			assert.Contains(t, texts, "2 Nov")
		case "three":
			assert.Equal(t, 3+2+2, marks, "and one beside each name")
			assert.Contains(t, texts, "before & after")
			assert.Contains(t, texts, "400")
		}
	}
}
