package draw

import (
	"sort"
	"strings"

	"restbend/core/body"
)

// Prop is a solid drawn with the figure, in body heights: a chair's seat, a
// mat, a wall.
type Prop struct {
	Min, Max body.Vec
	Mat      bool // softer: no outline, a wash
	Front    bool // drawn over the body
}

// drawProps draws the floor line and every prop, far ones first.
func drawProps(b *strings.Builder, props []Prop, cam camera, pal palette, size Size, box *frame, front bool) {
	sorted := append([]Prop(nil), props...)
	mid := func(p Prop) float64 { return cam.depth(p.Min.Mix(p.Max, 0.5)) }
	sort.SliceStable(sorted, func(i, j int) bool { return mid(sorted[i]) < mid(sorted[j]) })
	for _, p := range sorted {
		hull := p.hull(cam)
		for _, q := range hull {
			box.point(q, 0)
		}
		if p.Front != front {
			continue
		}
		var d pen
		d.move(hull[0])
		for _, q := range hull[1:] {
			d.line(q)
		}
		d.close()
		stroke := tag(` stroke="%s" stroke-width="%g"`, pal.edge, size.stroke(size.Stroke*0.75))
		if p.Mat {
			stroke = ""
		}
		b.WriteString(tag(`<path d="%s" fill="%s"%s/>`, d.buf, pal.furniture, stroke))
	}
	if !front && cam.toward.Z < 0.3 {
		y := -cam.project(body.Vec{}).y * unit
		b.WriteString(tag(`<path d="M%.0f %.0fH%.0f" stroke="%s" stroke-width="%g"/>`,
			(box.lo.x-0.015)*unit, y, (box.hi.x+0.015)*unit, pal.edge, size.stroke(size.Stroke*0.7)))
	}
}

// hull is the outline of the box as seen, anticlockwise.
func (p Prop) hull(cam camera) []flat {
	var pts []flat
	for i := range 8 {
		v := p.Min
		if i&1 != 0 {
			v.X = p.Max.X
		}
		if i&2 != 0 {
			v.Y = p.Max.Y
		}
		if i&4 != 0 {
			v.Z = p.Max.Z
		}
		pts = append(pts, cam.project(v))
	}
	return convexHull(pts)
}

// convexHull is Andrew's monotone chain.
func convexHull(pts []flat) []flat {
	sort.Slice(pts, func(i, j int) bool {
		if pts[i].x != pts[j].x {
			return pts[i].x < pts[j].x
		}
		return pts[i].y < pts[j].y
	})
	turn := func(o, a, b flat) float64 { return (a.x-o.x)*(b.y-o.y) - (a.y-o.y)*(b.x-o.x) }
	var out []flat
	for range 2 {
		base := len(out)
		for _, p := range pts {
			for len(out) >= base+2 && turn(out[len(out)-2], out[len(out)-1], p) <= 1e-9 {
				out = out[:len(out)-1]
			}
			out = append(out, p)
		}
		out = out[:len(out)-1]
		for i, j := 0, len(pts)-1; i < j; i, j = i+1, j-1 {
			pts[i], pts[j] = pts[j], pts[i]
		}
	}
	return out
}

// drawStrap draws a strap from both hands round a foot.
func drawStrap(b *strings.Builder, s Subject, cam camera, pal palette, size Size) {
	if s.StrapFoot == nil {
		return
	}
	leg := s.Figure.Legs[*s.StrapFoot]
	sole := cam.project(leg.End.Along(leg.Tip, 0.055).Along(leg.Face, 0.036))
	for _, arm := range s.Figure.Arms {
		var d pen
		d.move(cam.project(arm.End.Along(arm.Tip, 0.04)))
		d.line(sole)
		b.WriteString(tag(`<path d="%s" stroke="%s" stroke-width="%g"/>`, d.buf, pal.edge, size.stroke(2)))
	}
}

// drawStick draws a stick that touches head, upper back and tail.
func drawStick(b *strings.Builder, s Subject, cam camera, pal palette, size Size) {
	if !s.Stick {
		return
	}
	f := s.Figure
	tail := f.Origin.Along(f.Pelvis.F, -0.088).Along(f.Pelvis.U, -0.06)
	head := f.Neck.Along(f.Head.F, -0.06).Along(f.Head.U, 0.13)
	var d pen
	d.move(cam.project(tail))
	d.line(cam.project(head))
	b.WriteString(tag(`<path d="%s" stroke="%s" stroke-width="%g"/>`, d.buf, pal.edge, size.stroke(size.Stroke*2.4)))
}
