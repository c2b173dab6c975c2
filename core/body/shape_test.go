package body

import (
	"bytes"
	"flag"
	"fmt"
	"math"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var updateShape = flag.Bool("shape", false, "write what the body is made of now into testdata/shape.txt, to be read over")

// TestTheShapeOfTheBodyNow holds every piece that is drawn and touched, and the surfaces
// that leaning shapes get, in a few postures. The proportions are of this product, so
// this says only that they were looked at: go test ./core/body -run Shape -shape
func TestTheShapeOfTheBodyNow(t *testing.T) {
	const file = "testdata/shape.txt"
	type posed struct {
		name  string
		f     Figure
		scene Scene
	}
	bodies := []posed{{"standing", solved(t, standing(), Scene{}), Scene{}}, {"crooked", solved(t, crooked(), Scene{}), Scene{}}}
	for _, lean := range []Lean{{On: OnHands, From: FromToes}, {On: OnForearms, From: FromKnees},
		{On: OnHands, From: FromToes, Raise: 0.3}, {On: OnForearms, From: FromKnees, Side: true},
		{On: OnForearms, From: FromToes, Side: true, Raise: 0.2}} {
		p, scene, err := lean.Pose()
		require.NoError(t, err)
		f := solved(t, p, scene)
		bodies = append(bodies, posed{fmt.Sprintf("lean %+v", lean), f, scene})
	}
	var now bytes.Buffer
	row := func(name string, x ...float64) {
		fmt.Fprintf(&now, "%s:", name)
		for _, v := range x {
			fmt.Fprintf(&now, " %.4f", v)
		}
		now.WriteByte('\n')
	}
	for _, b := range bodies {
		fmt.Fprintln(&now, "#", b.name)
		for _, box := range b.scene.Boxes {
			row("surface", box.Min.X, box.Min.Y, box.Min.Z, box.Max.X, box.Max.Y, box.Max.Z)
		}
		for seg := Torso; seg <= Foot; seg++ {
			for _, side := range []Side{Left, Right} {
				if side == Right && (seg == Torso || seg == HeadSegment) {
					continue
				}
				for i, p := range b.f.Pieces(seg, side) {
					row(
						fmt.Sprintf("%d %d %d", seg, side, i),
						p.A.At.X,
						p.A.At.Y,
						p.A.At.Z,
						p.A.Radius,
						p.B.At.X,
						p.B.At.Y,
						p.B.At.Z,
						p.B.Radius,
					)
				}
			}
		}
	}
	if *updateShape {
		require.NoError(t, os.MkdirAll("testdata", 0o755))
		require.NoError(t, os.WriteFile(file, now.Bytes(), 0o644))
		return
	}
	was, err := os.ReadFile(file)
	require.NoError(t, err)
	before, after := strings.Split(string(was), "\n"), strings.Split(now.String(), "\n")
	require.Len(t, after, len(before))
	for i := range after {
		if strings.HasPrefix(before[i], "#") {
			require.Equal(t, before[i], after[i])
			continue
		}
		name, figures, _ := strings.Cut(after[i], ":")
		old, oldFigures, _ := strings.Cut(before[i], ":")
		require.Equal(t, old, name)
		x, y := strings.Fields(figures), strings.Fields(oldFigures)
		require.Len(t, x, len(y))
		for j := range x {
			var a, b float64
			_, err := fmt.Sscan(x[j]+" "+y[j], &a, &b)
			require.NoError(t, err)
			if math.Abs(a-b) > 0.0003 { // of body height: half a millimetre
				assert.Fail(t, "the shape moved", "%s: is %s, was %s", name, after[i], before[i])
				break
			}
		}
	}
}
