package draw

import (
	"encoding/xml"
	"fmt"
	"io"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestTheReachChartSaysWhatLimits: nothing limited has no post and no figure; a limit has a
// post, its figure behind it and a tongue as long as its share; what is used past a post
// turns plum; and it is one well-formed picture of its own size.
func TestTheReachChartSaysWhatLimits(t *testing.T) {
	free := ReachSide{Ordinary: 40, Allowed: 40, Loaded: 40}
	half := ReachSide{Ordinary: 40, Allowed: 10, Loaded: 10}
	less := ReachSide{Ordinary: 40, Allowed: 20, Loaded: 5, Used: 30}
	chart := func(left, right ReachSide, size ReachSize) string {
		svg := string(SVGReach([]ReachBlock{{"low back", []ReachRow{{Name: "turn", Left: left, Right: right}}}}, size, Light, "says"))
		d := xml.NewDecoder(strings.NewReader(svg))
		for {
			if _, err := d.Token(); err == io.EOF {
				break
			} else {
				require.NoError(t, err)
			}
		}
		return svg
	}
	plum, navy := palettes[Light].plum, palettes[Light].allowed
	assert.NotContains(t, chart(free, free, ReachLarge), plum)
	assert.NotContains(t, chart(free, free, ReachLarge), "°")
	one := chart(free, half, ReachLarge)
	assert.Equal(t, 1, strings.Count(one, `stroke="`+plum))
	assert.Contains(t, one, ">10°<")
	m := regexp.MustCompile(`d="M([\d.]+) [\d.]+H([\d.]+)A([\d.]+) [^"]*" fill="` + navy).FindStringSubmatch(one)
	require.NotNil(t, m)
	var x [4]float64
	for i := 1; i <= 3; i++ {
		v, err := strconv.ParseFloat(m[i], 64)
		require.NoError(t, err)
		x[i] = v
	}
	assert.InDelta(t, 120*0.4353, x[2]+x[3]-x[1], 0.2, "a quarter of the range fills 0.25^0.6 = 0.435 of it")
	both := chart(less, free, ReachLarge)
	assert.Contains(t, both, ">5, 20°<")
	assert.Equal(t, 1, strings.Count(both, fmt.Sprintf(`fill="url(#over)" stroke="%s"`, plum)), "past the post, and hatched")
	under := ReachSide{Ordinary: 40, Allowed: 20, Loaded: 5, Used: 12, UnderLoad: 12}
	assert.True(t, under.Over(), "inside what is allowed, and too much under load")
	assert.Contains(t, chart(under, free, ReachTiny), "url(#over)")
	assert.NotContains(t, chart(half, free, ReachTiny), "url(#over)")
	assert.NotContains(t, chart(half, free, ReachTiny), "<text")
	assert.NotContains(t, chart(less, half, ReachSmall), "<text")
}
