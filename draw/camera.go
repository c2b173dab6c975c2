package draw

import (
	"math"

	"restbend/core/body"
)

// View names a direction of sight.
type View string

const (
	SideView    View = "side"
	FrontView   View = "front"
	BackView    View = "back"
	AboveView   View = "above"
	QuarterView View = "three_quarter"
)

// Views are all the directions of sight, in the order they are offered.
var Views = []View{SideView, FrontView, BackView, AboveView, QuarterView}

// camera is an orthographic camera: a point's picture is its share along right
// and up; toward grows as the point comes nearer to the viewer.
type camera struct{ right, up, toward body.Vec }

// lookFrom is the camera of the given direction. Turn is the angle about the
// vertical from a square side view (x to the right), tilt how far from above,
// both in degrees.
func lookFrom(turn, tilt float64) camera {
	ts, tc := math.Sincos(turn * math.Pi / 180)
	ps, pc := math.Sincos(tilt * math.Pi / 180)
	flat := body.Vec{X: ts, Y: -tc} // from the body toward the viewer, level
	toward := flat.Scale(pc).Add(body.Vec{Z: ps})
	right := body.Vec{X: tc, Y: ts}
	return camera{right: right, up: toward.Cross(right), toward: toward}
}

// cameraFor is the camera of a view. Front and back are meant of a standing or
// sitting body, which faces along x.
func cameraFor(v View) camera {
	switch v {
	case FrontView:
		return lookFrom(90, 8)
	case BackView:
		return lookFrom(-90, 8)
	case AboveView:
		return lookFrom(0, 62)
	case QuarterView:
		return lookFrom(32, 14)
	}
	return lookFrom(0, 0)
}

// flat is a point of the picture, in body heights, y upward.
type flat struct{ x, y float64 }

func (c camera) project(v body.Vec) flat { return flat{v.Dot(c.right), v.Dot(c.up)} }

func (c camera) depth(v body.Vec) float64 { return v.Dot(c.toward) }

func (a flat) add(b flat) flat            { return flat{a.x + b.x, a.y + b.y} }
func (a flat) sub(b flat) flat            { return flat{a.x - b.x, a.y - b.y} }
func (a flat) scale(s float64) flat       { return flat{a.x * s, a.y * s} }
func (a flat) dot(b flat) float64         { return a.x*b.x + a.y*b.y }
func (a flat) len() float64               { return math.Hypot(a.x, a.y) }
func (a flat) mix(b flat, t float64) flat { return a.scale(1 - t).add(b.scale(t)) }
