package draw

import (
	"math"

	"restbend/core/body"
)

// cone is the picture of one tapered piece: the hull of two circles.
type cone struct {
	a, b   flat
	ra, rb float64
}

func conesOf(pieces []body.Piece, c camera) []cone {
	out := make([]cone, 0, len(pieces))
	for _, p := range pieces {
		k := cone{c.project(p.A.At), c.project(p.B.At), p.A.Radius, p.B.Radius}
		if k.b.sub(k.a).len() <= math.Abs(k.ra-k.rb) { // one circle holds the other
			if k.rb > k.ra {
				k.a, k.ra = k.b, k.rb
			}
			k.b, k.rb = k.a, k.ra
		}
		out = append(out, k)
	}
	return out
}

// distance is how far p lies outside the cone; negative inside. Exact.
func (k cone) distance(p flat) float64 {
	ba, pa := k.b.sub(k.a), p.sub(k.a)
	l2 := ba.dot(ba)
	if l2 < 1e-9 {
		return pa.len() - k.ra
	}
	rr := k.ra - k.rb
	a2 := l2 - rr*rr
	y := pa.dot(ba)
	z := y - l2
	xv := pa.scale(l2).sub(ba.scale(y))
	x2 := xv.dot(xv)
	y2, z2 := y*y*l2, z*z*l2
	s := math.Copysign(1, rr) * rr * rr * x2
	if rr == 0 {
		s = 0
	}
	switch {
	case math.Copysign(1, z)*a2*z2 > s:
		return math.Sqrt(x2+z2)/l2 - k.rb
	case math.Copysign(1, y)*a2*y2 < s:
		return math.Sqrt(x2+y2)/l2 - k.ra
	}
	return (math.Sqrt(x2*a2/l2)+y*rr)/l2 - k.ra
}

// shape is the union of cones, blended over a width k (0 joins plainly).
type shape struct {
	cones []cone
	blend float64
}

func (s shape) distance(p flat) float64 {
	d := math.Inf(1)
	for _, k := range s.cones {
		d = union(d, k.distance(p), s.blend)
	}
	return d
}

// union is the smooth minimum of two distances over the width k.
func union(a, b, k float64) float64 {
	if k == 0 || math.IsInf(a, 1) || math.Abs(a-b) >= k {
		return math.Min(a, b)
	}
	h := k - math.Abs(a-b)
	return math.Min(a, b) - h*h/(4*k)
}

// outline traces the longest edge of the shape on a grid of the given step
// and returns it as a closed line, anticlockwise or clockwise.
func (s shape) outline(step float64) []flat {
	if len(s.cones) == 0 {
		return nil
	}
	lo, hi := flat{math.Inf(1), math.Inf(1)}, flat{math.Inf(-1), math.Inf(-1)}
	for _, k := range s.cones {
		r := math.Max(k.ra, k.rb)
		lo = flat{min(lo.x, k.a.x-r, k.b.x-r), min(lo.y, k.a.y-r, k.b.y-r)}
		hi = flat{max(hi.x, k.a.x+r, k.b.x+r), max(hi.y, k.a.y+r, k.b.y+r)}
	}
	margin := s.blend + 2*step
	lo, hi = flat{lo.x - margin, lo.y - margin}, flat{hi.x + margin, hi.y + margin}
	w, h := int((hi.x-lo.x)/step)+2, int((hi.y-lo.y)/step)+2
	d := make([]float64, w*h)
	for i := range d {
		d[i] = math.Inf(1)
	}
	// Each cone only touches the grid near itself: further out it cannot move
	// the edge, not even through the blend.
	reach := s.blend + 2.5*step
	for _, k := range s.cones {
		r := math.Max(k.ra, k.rb) + reach
		x0, x1 := span(min(k.a.x, k.b.x)-r-lo.x, max(k.a.x, k.b.x)+r-lo.x, step, w)
		y0, y1 := span(min(k.a.y, k.b.y)-r-lo.y, max(k.a.y, k.b.y)+r-lo.y, step, h)
		for j := y0; j <= y1; j++ {
			for i := x0; i <= x1; i++ {
				n := j*w + i
				if d[n] < -2*step { // inside already, and further from the edge than a cell
					continue
				}
				d[n] = union(d[n], k.distance(flat{lo.x + float64(i)*step, lo.y + float64(j)*step}), s.blend)
			}
		}
	}
	for i := range d {
		d[i] = math.Min(d[i], 1)
	}
	return longest(trace(d, w, h), lo, step)
}

func span(from, to, step float64, n int) (int, int) {
	return max(0, int(from/step)), min(n-1, int(to/step)+1)
}

// trace joins the edge crossings of a marching-squares grid into closed loops,
// in grid units.
func trace(d []float64, w, h int) [][]flat {
	// An edge is named by its cell corner and whether it runs across or up.
	across := func(i, j int) int { return 2 * (j*w + i) }
	upward := func(i, j int) int { return 2*(j*w+i) + 1 }
	next := make([]int32, 2*w*h)
	for i := range next {
		next[i] = -1
	}
	for j := range h - 1 {
		for i := range w - 1 {
			a, b := d[j*w+i] < 0, d[j*w+i+1] < 0
			c, e := d[(j+1)*w+i+1] < 0, d[(j+1)*w+i] < 0
			bottom, right, top, left := across(i, j), upward(i+1, j), across(i, j+1), upward(i, j)
			link := func(from, to int) { next[from] = int32(to) }
			// Keep the inside on the left of the direction of travel.
			switch code(a, b, c, e) {
			case 1:
				link(bottom, left)
			case 2:
				link(right, bottom)
			case 3:
				link(right, left)
			case 4:
				link(top, right)
			case 5:
				link(bottom, left)
				link(top, right)
			case 6:
				link(top, bottom)
			case 7:
				link(top, left)
			case 8:
				link(left, top)
			case 9:
				link(bottom, top)
			case 10:
				link(right, bottom)
				link(left, top)
			case 11:
				link(right, top)
			case 12:
				link(left, right)
			case 13:
				link(bottom, right)
			case 14:
				link(left, bottom)
			}
		}
	}
	point := func(edge int) flat {
		k := edge / 2
		i, j := k%w, k/w
		if edge%2 == 0 {
			return flat{float64(i) + zero(d[k], d[k+1]), float64(j)}
		}
		return flat{float64(i), float64(j) + zero(d[k], d[k+w])}
	}
	var loops [][]flat
	for start := range next {
		if next[start] < 0 {
			continue
		}
		var loop []flat
		for e := start; next[e] >= 0; {
			loop = append(loop, point(e))
			e, next[e] = int(next[e]), -1
		}
		loops = append(loops, loop)
	}
	return loops
}

func code(bits ...bool) int {
	n := 0
	for i, b := range bits {
		if b {
			n |= 1 << i
		}
	}
	return n
}

// zero is where between two values of opposite sign the line through them
// crosses zero.
func zero(a, b float64) float64 {
	if a == b {
		return 0.5
	}
	return a / (a - b)
}

func longest(loops [][]flat, lo flat, step float64) []flat {
	var best []flat
	for _, l := range loops {
		if len(l) > len(best) {
			best = l
		}
	}
	out := make([]flat, len(best))
	for i, p := range best {
		out[i] = flat{lo.x + p.x*step, lo.y + p.y*step}
	}
	return out
}
