package body

import (
	"fmt"
	"math"
)

// Box is a solid the body may rest on, in body heights: a chair seat, a mat.
type Box struct {
	Min, Max Vec
	// Shape of the top: "" is flat, "back" a ramp from Max.Z at Min.X down to the floor at
	// Max.X, "wedge" one from Max.Z at Max.X down to the floor at Min.X, "arc" a half-round back.
	Shape string
}

// top is the height of the box's surface at a place it covers, and the cosine of
// how steep it is there.
func (b Box) top(x float64) (height, cosine float64) {
	long := b.Max.X - b.Min.X
	t := (x - b.Min.X) / long
	switch b.Shape {
	case "back":
		return b.Max.Z * (1 - t), long / math.Hypot(long, b.Max.Z)
	case "wedge":
		return b.Max.Z * t, long / math.Hypot(long, b.Max.Z)
	case "arc":
		u := clamp(2*t-1, -0.98, 0.98)
		round := math.Sqrt(1 - u*u)
		return b.Max.Z * round, 1 / math.Hypot(1, b.Max.Z*2/long*u/round)
	}
	return b.Max.Z, 1
}

// square is the direction square to the box's surface at a place it covers.
func (b Box) square(x float64) Vec {
	const step = 1e-4
	before, _ := b.top(x - step)
	after, _ := b.top(x + step)
	return Vec{-(after - before) / (2 * step), 0, 1}.Unit()
}

// Scene is what the body is posed in. The floor is always there at height 0.
type Scene struct {
	Boxes  []Box
	Wall   float64 // x of a wall in front of the body, facing it; 0 for none
	Behind float64 // x of a wall behind the body, facing it; 0 for none
	Start  *Figure // the variant's start pose, once solved, for pins and anchors

	Strapped [2]bool // a strap or a hand holds that leg up
	Pulls    []Pull  // of bands, weights and helpers
}

// above is how far a ball is over the highest surface at its place, square to
// that surface: where a part would come to rest if let down from high up.
func (s Scene) above(ball Ball) float64 {
	h, cos := 0.0, 1.0
	for _, b := range s.Boxes {
		if b.covers(ball.At) {
			if top, c := b.top(ball.At.X); top > h {
				h, cos = top, c
			}
		}
	}
	return (ball.At.Z-h)*cos - ball.Radius
}

// under is the direction square to the highest surface that the ball's middle is above,
// and how far the ball is over it, in that direction.
func (s Scene) under(ball Ball) (square Vec, gap float64) {
	height, cos := 0.0, 1.0
	square = Vec{0, 0, 1}
	for _, b := range s.Boxes {
		if !b.covers(ball.At) || ball.At.Z <= (b.Min.Z+b.Max.Z)/2 && b.Shape == "" {
			continue
		}
		if top, c := b.top(ball.At.X); top > height {
			height, cos, square = top, c, b.square(ball.At.X)
		}
	}
	return square, (ball.At.Z-height)*cos - ball.Radius
}

func (b Box) covers(p Vec) bool {
	return p.X >= b.Min.X && p.X <= b.Max.X && p.Y >= b.Min.Y && p.Y <= b.Max.Y
}

// settledTo is how near, in body heights, a settled part has to come.
const settledTo = 1e-5

// settle searches one angle of the pose until its condition holds.
func settle(p Pose, s Scene, st Settle) (Pose, error) {
	field, err := angle(&p, st.Vary)
	if err != nil {
		return p, err
	}
	miss := func(v float64) float64 {
		*field = v
		f, _ := solve(p, s)
		low := math.Inf(1)
		for _, b := range f.balls(st.Part) {
			if st.Until == "level" {
				low = math.Min(low, b.At.Z-st.Z)
			} else {
				low = math.Min(low, s.above(b))
			}
		}
		return low
	}
	lo, hi := st.Range[0], st.Range[1]
	a, b := miss(lo), miss(hi)
	if a*b > 0 {
		return p, fmt.Errorf(
			"settle: %s finds no place between %g and %g degrees for %s (it is off by %.3f and %.3f of body height there)",
			st.Vary,
			lo,
			hi,
			st.Part,
			a,
			b,
		)
	}
	// False position, with the Illinois rule against a stuck end.
	at := lo
	for range 40 {
		at = (lo*b - hi*a) / (b - a)
		m := miss(at)
		if math.Abs(m) < settledTo || hi-lo < 1e-6 {
			break
		}
		if m*a > 0 {
			if lo, a = at, m; m*b < 0 && math.Abs(b) > 2*math.Abs(m) {
				b /= 2
			}
		} else {
			if hi, b = at, m; m*a < 0 && math.Abs(a) > 2*math.Abs(m) {
				a /= 2
			}
		}
	}
	*field = at
	return p, nil
}

func angle(p *Pose, name string) (*float64, error) {
	regions := map[string]*Bend{"pelvis": &p.Pelvis, "lumbar": &p.Lumbar, "thoracic": &p.Thoracic, "cervical": &p.Cervical}
	for region, b := range regions {
		switch name {
		case region + ".flexion":
			return &b.Flexion, nil
		case region + ".side":
			return &b.Side, nil
		case region + ".turn":
			return &b.Turn, nil
		}
	}
	return nil, fmt.Errorf("settle.vary: %q is not pelvis, lumbar, thoracic or cervical with .flexion, .side or .turn", name)
}
