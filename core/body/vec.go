package body

import (
	"fmt"
	"math"
)

// Vec is a point or direction in body heights. In the world, x is the way a
// standing person faces, y is that person's left and z is up.
type Vec struct{ X, Y, Z float64 }

func (a Vec) Add(b Vec) Vec              { return Vec{a.X + b.X, a.Y + b.Y, a.Z + b.Z} }
func (a Vec) Sub(b Vec) Vec              { return Vec{a.X - b.X, a.Y - b.Y, a.Z - b.Z} }
func (a Vec) Scale(s float64) Vec        { return Vec{a.X * s, a.Y * s, a.Z * s} }
func (a Vec) Dot(b Vec) float64          { return a.X*b.X + a.Y*b.Y + a.Z*b.Z }
func (a Vec) Len() float64               { return math.Sqrt(a.Dot(a)) }
func (a Vec) Along(d Vec, s float64) Vec { return a.Add(d.Scale(s)) }
func (a Vec) Mirror() Vec                { return Vec{a.X, -a.Y, a.Z} }

// Cross is the right-handed vector product a × b.
func (a Vec) Cross(b Vec) Vec {
	return Vec{a.Y*b.Z - a.Z*b.Y, a.Z*b.X - a.X*b.Z, a.X*b.Y - a.Y*b.X}
}

// axis is the component along x (0), y (1) or z (2).
func (a Vec) axis(i int) float64 { return [3]float64{a.X, a.Y, a.Z}[i] }

// Unit is a scaled to length 1; the zero vector stays zero.
func (a Vec) Unit() Vec {
	n := a.Len()
	if n < 1e-12 {
		return Vec{}
	}
	return a.Scale(1 / n)
}

// Perp is the part of a at right angles to the unit vector d.
func (a Vec) Perp(d Vec) Vec { return a.Along(d, -a.Dot(d)) }

// Mix goes from a (t = 0) to b (t = 1) in a straight line.
func (a Vec) Mix(b Vec, t float64) Vec { return a.Scale(1 - t).Add(b.Scale(t)) }

// Turn rotates a about the unit axis by degrees, right-handed (Rodrigues).
func (a Vec) Turn(axis Vec, degrees float64) Vec {
	s, c := math.Sincos(degrees * math.Pi / 180)
	return a.Scale(c).Add(axis.Cross(a).Scale(s)).Add(axis.Scale(axis.Dot(a) * (1 - c)))
}

// AngleTo is the angle between two directions in degrees, 0 to 180.
func (a Vec) AngleTo(b Vec) float64 {
	return degrees(math.Atan2(a.Cross(b).Len(), a.Dot(b)))
}

// toward turns the unit direction a into the unit direction b along the
// shortest way, as far as t says.
func (a Vec) toward(b Vec, t float64) Vec {
	angle := a.AngleTo(b)
	if angle < 1e-6 {
		return b
	}
	axis := a.Cross(b).Unit()
	if axis == (Vec{}) { // opposite: any axis at right angles will do
		axis = a.Cross(Vec{0, 0, 1}).Unit()
		if axis == (Vec{}) {
			axis = Vec{1, 0, 0}
		}
	}
	return a.Turn(axis, angle*t)
}

// Frame is a right-handed set of unit vectors fixed to a part of the body:
// F to its front, L to its left, U toward the head.
type Frame struct{ F, L, U Vec }

// Bent is the frame bent forward by flexion, to its left by side and turned to
// its left by turn, all in degrees about its own axes, turn first.
func (f Frame) Bent(b Bend) Frame {
	f = f.turned(f.U, b.Turn)
	f = f.turned(f.F.Scale(-1), b.Side)
	return f.turned(f.L, b.Flexion)
}

func (f Frame) turned(axis Vec, deg float64) Frame {
	if deg == 0 {
		return f
	}
	return Frame{f.F.Turn(axis, deg), f.L.Turn(axis, deg), f.U.Turn(axis, deg)}
}

// toward turns the frame the share t of the shortest way to g.
func (f Frame) toward(g Frame, t float64) Frame {
	// The turn from f to g has this axis and angle, by the trace and the skew
	// part of its matrix; of two opposite frames any axis across will do.
	axis := f.F.Cross(g.F).Add(f.L.Cross(g.L)).Add(f.U.Cross(g.U))
	angle := degrees(math.Acos(clamp((f.F.Dot(g.F)+f.L.Dot(g.L)+f.U.Dot(g.U)-1)/2, -1, 1)))
	if axis.Len() < 1e-6 {
		axis = f.F.Add(g.F)
		if axis.Len() < 1e-6 {
			axis = f.U
		}
	}
	return f.turned(axis.Unit(), angle*t)
}

// Local is a vector of the world in the frame's own terms; World undoes it.
func (f Frame) Local(v Vec) Vec { return Vec{v.Dot(f.F), v.Dot(f.L), v.Dot(f.U)} }

// World is the direction v, given as (front, left, up) in the frame, in world
// coordinates.
func (f Frame) World(v Vec) Vec {
	return f.F.Scale(v.X).Add(f.L.Scale(v.Y)).Add(f.U.Scale(v.Z))
}

func degrees(radians float64) float64 { return radians * 180 / math.Pi }

// UnmarshalYAML reads a vector written as [x, y, z].
func (a *Vec) UnmarshalYAML(unmarshal func(any) error) error {
	var v []float64
	if err := unmarshal(&v); err != nil {
		return err
	}
	if len(v) != 3 {
		return fmt.Errorf("a direction or place is three numbers, [x, y, z]; found %d", len(v))
	}
	*a = Vec{v[0], v[1], v[2]}
	return nil
}
