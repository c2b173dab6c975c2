package draw

import (
	"encoding/xml"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestTheClockShowsWhereItCatches(t *testing.T) {
	smooth := string(SVGClock(ClockFace{}, nil, "smooth", Light))
	gold := palettes[Light].gold
	assert.NotContains(t, smooth, gold, "gold means where it catches")
	rough := string(SVGClock(ClockFace{3: 2, 4: 1}, []ClockFace{{}, {5: 1}, {6: 1}, {7: 1}}, "rough", Light))
	assert.Equal(t, 2, strings.Count(rough, gold), "a bead for each hour that catches")
	assert.Contains(t, rough, `r="8.7"`, "jerky beads are larger")
	assert.Contains(t, rough, `r="6.1"`, "than hesitant ones")
	assert.Equal(t, 3, strings.Count(rough, `stroke-width="1.4"`), "three earlier days at most")
	for _, svg := range []string{smooth, rough} {
		assert.NoError(t, xml.Unmarshal([]byte(svg), new(struct{})), "it is well-formed")
		assert.Contains(t, svg, `role="img" aria-label=`)
	}
	x, y := hourAt(3, 10)
	assert.InDelta(t, 10, x, 1e-9, "three o'clock is on the right")
	assert.InDelta(t, 0, y, 1e-9)
	x, y = hourAt(0, 10)
	assert.InDelta(t, -10, y, 1e-9, "twelve is on top")
	assert.InDelta(t, 0, x, 1e-9)
}

func TestTheRingIsRoundWhereItIsSmooth(t *testing.T) {
	assert.NotEqual(t, ripple(ClockFace{}, 76), ripple(ClockFace{0: 1}, 76))
	assert.Equal(t, ripple(ClockFace{}, 76)[:9], "M0.0 -76.0"[:9])
}

func TestABackIsDrawnWithoutCurvesToSetThem(t *testing.T) {
	assert.Nil(t, SVGCurves(nil, Light))
	plain := string(SVGBack(nil, Light))
	assert.Contains(t, plain, "a back seen from behind")
	assert.NotContains(t, plain, "breathe here")
	assert.NoError(t, xml.Unmarshal([]byte(plain), new(struct{})))
	curved := string(SVGBack([]Curve{{Region: "thoracic", Degrees: 24}}, Light))
	assert.Contains(t, curved, "breathe here")
	assert.Contains(t, curved, "lie on the right to lengthen")
}
