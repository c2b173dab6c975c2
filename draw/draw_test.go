package draw

import (
	"bytes"
	"compress/gzip"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"restbend/core/body"
	"restbend/core/exercise"
	"restbend/library"
)

var lib = func() *library.Library {
	l, err := library.Load()
	if err != nil {
		panic(err)
	}
	return l
}()

func wellFormed(t *testing.T, svg []byte, what string) {
	t.Helper()
	d := xml.NewDecoder(bytes.NewReader(svg))
	for {
		_, err := d.Token()
		if errors.Is(err, io.EOF) {
			break
		}
		require.NoError(t, err, what)
	}
	assert.NotContains(t, string(svg), "NaN", what)
	assert.NotContains(t, string(svg), "Inf", what)
	assert.NotContains(t, string(svg), "style=", "the policy allows no inline style")
	assert.NotContains(t, string(svg), "%!", what)
}

func zipped(t *testing.T, b []byte) int {
	t.Helper()
	var out bytes.Buffer
	z := gzip.NewWriter(&out)
	_, err := z.Write(b)
	require.NoError(t, err)
	require.NoError(t, z.Close())
	return out.Len()
}

func TestEveryVariantDraws(t *testing.T) {
	for _, v := range lib.Variants {
		small, err := Variant(v, nil, "", false, "", Thumb, Light)
		require.NoError(t, err, v.ID)
		wellFormed(t, small.SVG, v.ID)
		assert.Less(t, len(small.SVG), 10_000, v.ID)
		assert.Less(t, zipped(t, small.SVG), 3_500, v.ID)
		assert.Contains(t, string(small.SVG), fmt.Sprintf(` width="%.0f" height="%.0f"`, small.W, small.H), v.ID)
	}
	v := lib.Variant("sit_to_stand")
	large, err := Variant(v, nil, "rise", true, "", Large, Dark)
	require.NoError(t, err)
	wellFormed(t, large.SVG, "large")
	again, err := Variant(v, nil, "rise", true, "", Large, Dark)
	require.NoError(t, err)
	assert.Equal(t, large, again, "the same picture every time")
	assert.Contains(t, string(large.SVG), "stroke-dasharray", "the start is ghosted")
	for _, view := range Views {
		b, err := Variant(v, nil, "rise", false, view, Thumb, Light)
		require.NoError(t, err)
		wellFormed(t, b.SVG, string(view))
	}
	_, err = Variant(v, nil, "flying", false, "", Thumb, Light)
	assert.ErrorContains(t, err, "no pose")
}

func TestAdaptedFormIsDrawnAsAdapted(t *testing.T) {
	v := lib.Variant("cat_cow_seated")
	plain, err := Variant(v, nil, "", false, "", Thumb, Light)
	require.NoError(t, err)
	only := v.FormOf([]exercise.Adaptation{{ID: "allowed_directions_only", Text: "one direction only, no rounding"}})
	require.NotEmpty(t, only.Adaptations)
	adapted, err := Variant(v, only, "", false, "", Thumb, Light)
	require.NoError(t, err)
	assert.NotEqual(t, plain, adapted)
}

// TestAnotherHeightIsDrawn: what is judged on the client's own bench is what is shown.
func TestAnotherHeightIsDrawn(t *testing.T) {
	v := lib.Variant("plank_sofa_toes")
	usual, err := Variant(v, nil, "", false, "", Thumb, Light)
	require.NoError(t, err)
	same, err := Variant(v, v.FormAt(0, nil), "", false, "", Thumb, Light)
	require.NoError(t, err)
	assert.Equal(t, usual, same)
	high, err := Variant(v, v.FormAt(0.41, nil), "", false, "", Thumb, Light)
	require.NoError(t, err)
	assert.NotEqual(t, usual, high)
}

func TestMotionIsAFilmInOneFrame(t *testing.T) {
	stills, err := Motion(lib.Variant("sit_to_stand"), nil, "", Film, Light)
	require.NoError(t, err)
	assert.Len(t, stills, 1+4*stillsPerStep)
	frame := func(svg []byte) string { return string(svg[:bytes.Index(svg, []byte(" stroke-linejoin"))]) }
	size := 0
	seen := map[string]bool{}
	for i, s := range stills {
		wellFormed(t, s.SVG, "still")
		assert.Equal(t, frame(stills[0].SVG), frame(s.SVG), "nothing jumps")
		if i > 0 {
			assert.Greater(t, s.At, stills[i-1].At)
		}
		if !seen[string(s.SVG)] {
			seen[string(s.SVG)] = true
			size += zipped(t, s.SVG)
		}
	}
	assert.Less(t, size, 60_000, "a whole movement, compressed")
	assert.Less(t, len(seen), len(stills), "the way back is the way there")
}

func TestLoads(t *testing.T) {
	svg := SVGLoads(
		[]Load{
			{Name: "the <hands>", Words: "43%", Value: 0.43, Floor: 0.69, Full: 1},
			{Name: "back", Words: "80", Value: 80, Full: 100, Cap: 60},
		},
		Light,
	)
	wellFormed(t, svg, "loads")
	assert.Contains(t, string(svg), palettes[Light].plum, "over the cap")
	wellFormed(t, SVGLoads(nil, Dark), "no loads")
}

func TestConeDistanceIsExact(t *testing.T) {
	k := cone{flat{0, 0}, flat{1, 0}, 0.2, 0.1}
	assert.InDelta(t, -0.2, k.distance(flat{0, 0}), 1e-9)
	assert.InDelta(t, 0.1, k.distance(flat{-0.3, 0}), 1e-9)
	assert.InDelta(t, 0.2, k.distance(flat{1.3, 0}), 1e-9)
	// Beside the middle the edge runs along the tangent of both circles.
	sin := 0.1
	assert.InDelta(t, 0.5*math.Sqrt(1-sin*sin)-0.2+0.5*sin, k.distance(flat{0.5, 0.5}), 1e-9)
}

func TestOutlineOfACircle(t *testing.T) {
	s := shape{cones: []cone{{flat{0.3, 0.2}, flat{0.3, 0.2}, 0.1, 0.1}}}
	line := s.outline(0.005)
	require.NotEmpty(t, line)
	for _, p := range line {
		assert.InDelta(t, 0.1, p.sub(flat{0.3, 0.2}).len(), 0.0005)
	}
	spaced := evenly(line, 0.02)
	assert.InDelta(t, 2*math.Pi*0.1/0.02, len(spaced), 1)
	assert.InDelta(t, 0.1, smooth(spaced, 0.02, 0.02)[3].sub(flat{0.3, 0.2}).len(), 0.01)
	assert.Nil(t, shape{}.outline(0.005))
}

// TestALineIsWrittenWhereItIs reads paths back: however long a line is, each control point is
// where it belongs, to a unit and its own rounding, though most are not written.
func TestALineIsWrittenWhereItIs(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var line []flat
		at := flat{}
		for range rapid.IntRange(4, 120).Draw(t, "points") {
			at = at.add(flat{rapid.Float64Range(-0.03, 0.03).Draw(t, "x"), rapid.Float64Range(-0.03, 0.03).Draw(t, "y")})
			line = append(line, at)
		}
		closed := controls(t, closedPath(line))
		require.Len(t, closed, len(line))
		open := controls(t, openPath(line))
		require.Len(t, open, len(line)-2)
		for i, p := range line {
			found := []flat{closed[i]}
			if i > 0 && i < len(line)-1 {
				found = append(found, open[i-1])
			}
			for _, c := range found { // a unit, and half a one of the point's own rounding
				assert.InDelta(t, unit*p.x, c.x, 1.5)
				assert.InDelta(t, unit*p.y, c.y, 1.5)
			}
		}
	})
}

// controls are the control points of a path of smooth quadratic curves, y upward.
func controls(t require.TestingT, path string) []flat {
	var out []flat
	var at, control flat
	var command byte
	for path != "" {
		if c := path[0]; c >= 'A' {
			command, path = c, path[1:]
		}
		read := func() flat {
			var p [2]float64
			for i := range p {
				path = strings.TrimLeft(path, " ")
				end := 1
				for end < len(path) && path[end] >= '0' && path[end] <= '9' {
					end++
				}
				var err error
				p[i], err = strconv.ParseFloat(path[:end], 64)
				require.NoError(t, err)
				path = path[end:]
			}
			return flat{p[0], -p[1]}
		}
		switch command {
		case 'M':
			at = read()
		case 'l':
			at = at.add(read())
		case 'q':
			control = at.add(read())
			at = at.add(read())
			out = append(out, control)
		case 't':
			control = at.add(at.sub(control))
			at = at.add(read())
			out = append(out, control)
		}
	}
	return out
}

func TestRunsCutTheHiddenStretch(t *testing.T) {
	line := make([]flat, 10)
	for i := range line {
		line[i] = flat{float64(i), 0}
	}
	keep := []bool{true, true, true, false, false, true, true, true, true, true}
	cut := runs(line, keep)
	require.Len(t, cut, 1)
	assert.Equal(t, 5.0, cut[0][0].x)
	assert.Equal(t, 2.0, cut[0][len(cut[0])-1].x, "it goes on round the end")
	assert.Len(t, runs(line, []bool{true, true, true, true, true, true, true, true, true, true})[0], 10)
}

func TestRibbon(t *testing.T) {
	r := Ribbon{Width: 1200, Tall: true, Done: -1, Title: "t", Pieces: []RibbonPiece{
		{
			Change:    40,
			Stay:      100,
			Level:     0,
			Position:  "supine",
			FloorMove: -1,
			Phase:     "settle",
			Number:    1,
			Figure:    "/f.svg",
			FigureW:   60,
			FigureH:   30,
			Link:      "/a",
			Label:     "one",
		},
		{Change: 8, Stay: 300, Level: 0, Load: 0.5, Position: "supine", Phase: "strengthen", Number: 2, Chosen: true},
		{
			Change:    60,
			Stay:      200,
			Level:     1,
			Load:      0.9,
			Position:  "standing",
			FloorMove: 1,
			Phase:     "upright",
			Number:    3,
			Figure:    "/g.svg",
			FigureW:   900,
			FigureH:   80,
		},
	}}
	svg := string(SVGRibbon(r))
	wellFormed(t, []byte(svg), "ribbon")
	assert.Contains(t, svg, ">down<")
	assert.Contains(t, svg, ">up<")
	assert.Contains(t, svg, "/f.svg")
	assert.NotContains(t, svg, "/g.svg", "a figure much wider than its piece is left out")
	assert.Contains(t, svg, "5 min")
	wellFormed(t, SVGRibbon(Ribbon{Width: 300}), "an empty session")
}

func TestHalfMinutes(t *testing.T) {
	for seconds, want := range map[float64]string{5: "½", 30: "½", 44: "½", 46: "1", 90: "1½", 119: "2", 600: "10"} {
		assert.Equal(t, want, HalfMinutes(seconds))
	}
}

func TestMarksAndPain(t *testing.T) {
	for _, v := range []string{"suits", "adapt", "avoid"} {
		wellFormed(t, SVGMark(v), v)
	}
	four, two := 4, 2
	svg := SVGPainString([]PainPoint{{Label: "3 Nov", Before: &four, After: &two}, {Label: "<b>"}}, Light)
	wellFormed(t, svg, "pain")
	assert.Contains(t, string(svg), "before 4, after 2")
	assert.Equal(t, "#808080", mixColour("#000000", "#FFFFFF", 0.5))
	assert.False(t, strings.Contains(palettes[Light].bendColour(0), palettes[Light].gold))
	assert.Equal(t, palettes[Light].gold, palettes[Light].bendColour(1))
}

func BenchmarkThumb(b *testing.B) {
	v := lib.Variant("bird_dog_leg")
	for b.Loop() {
		if _, err := Variant(v, nil, "", false, "", Thumb, Light); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkLarge(b *testing.B) {
	v := lib.Variant("bird_dog_leg")
	for b.Loop() {
		if _, err := Variant(v, nil, "", true, "", Large, Light); err != nil {
			b.Fatal(err)
		}
	}
}

func TestCamerasAreSquare(t *testing.T) {
	for _, v := range Views {
		c := cameraFor(v)
		for _, axis := range []float64{c.right.Len(), c.up.Len(), c.toward.Len()} {
			assert.InDelta(t, 1, axis, 1e-9, string(v))
		}
		assert.InDelta(t, 0, c.right.Dot(c.up), 1e-9, string(v))
		assert.InDelta(t, 0, c.up.Dot(c.toward), 1e-9, string(v))
		assert.InDelta(t, 1, c.right.Cross(c.up).Dot(c.toward), 1e-9, "right, up and toward the viewer are right-handed: %s", v)
	}
	// A standing person faces along x: the front view sees the front nearer.
	front := cameraFor(FrontView)
	assert.Greater(t, front.depth(body.Vec{X: 1}), front.depth(body.Vec{}))
	assert.Greater(t, front.project(body.Vec{Y: 1}).x, 0.0, "the person's left is on the viewer's right")
	assert.Less(t, cameraFor(BackView).project(body.Vec{Y: 1}).x, 0.0, "from behind, left is left")
}

func TestHullOfABox(t *testing.T) {
	p := Prop{Min: body.Vec{}, Max: body.Vec{X: 1, Y: 2, Z: 3}}
	assert.Len(t, p.hull(cameraFor(SideView)), 4, "square on it is a rectangle")
	assert.Len(t, p.hull(cameraFor(QuarterView)), 6)
}

func TestMirroredLimbIsMarkedOnTheOtherSide(t *testing.T) {
	plain := *lib.Variant("heel_slide")
	plain.Show.Mirror = false
	a, err := Variant(&plain, nil, "", false, SideView, Thumb, Light)
	require.NoError(t, err)
	b, err := Variant(lib.Variant("heel_slide"), nil, "", false, SideView, Thumb, Light)
	require.NoError(t, err)
	assert.NotEqual(t, a, b)
	assert.Contains(t, string(b.SVG), palettes[Light].working, "the near leg is the one that works")
}
