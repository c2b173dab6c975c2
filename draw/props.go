package draw

import (
	"math"
	"sort"
	"strings"

	"restbend/core/body"
	"restbend/core/exercise"
)

// Prop is a solid drawn with the figure, in body heights: a chair's seat, a
// mat, a wall.
type Prop struct {
	Min, Max body.Vec
	Mat      bool   // softer: no outline, a wash
	Front    bool   // drawn over the body
	Shape    string // "" for a box, "arc" for a half-round back, "wedge" for a ramp that rises along x
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
	if p.Shape != "" {
		for _, y := range []float64{p.Min.Y, p.Max.Y} {
			for i := range 13 {
				t := float64(i) / 12
				at := body.Vec{X: p.Min.X + (p.Max.X-p.Min.X)*t, Y: y, Z: p.Max.Z * math.Sqrt(1-(2*t-1)*(2*t-1))}
				if p.Shape == "wedge" {
					at.Z = p.Max.Z * t
				}
				pts = append(pts, cam.project(at))
			}
			if p.Shape == "wedge" {
				pts = append(pts, cam.project(body.Vec{X: p.Max.X, Y: y}))
			}
		}
		return convexHull(pts)
	}
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

// place is where a thing held at a part is drawn: in the palm, under the sole,
// or at the part itself.
func place(f *body.Figure, p body.Part) body.Vec {
	for s := body.Left; s <= body.Right; s++ {
		arm, leg := f.Arms[s], f.Legs[s]
		switch string(p) {
		case "hand_" + s.String():
			return arm.End.Along(arm.Tip, 0.045).Along(arm.Face, 0.012)
		case "foot_" + s.String():
			return leg.End.Along(leg.Tip, 0.055).Along(leg.Face, 0.036)
		}
	}
	return f.Place(p)
}

// drawHeld draws a band, strap, stick, ball, ring or weight.
func drawHeld(b *strings.Builder, h exercise.Held, f *body.Figure, cam camera, pal palette, size Size) {
	if h.Kind == "stick" && len(h.At) == 0 { // along the back, from tail to head
		tail := f.Origin.Along(f.Pelvis.F, -0.088).Along(f.Pelvis.U, -0.06)
		head := f.Neck.Along(f.Head.F, -0.06).Along(f.Head.U, 0.13)
		drawLine(b, []flat{cam.project(tail), cam.project(head)}, pal.edge, size.stroke(size.Stroke*2.4))
		return
	}
	var pts []flat
	if h.Anchor != nil {
		pts = append(pts, cam.project(*h.Anchor))
	}
	var mid body.Vec
	for _, p := range h.At {
		at := place(f, p)
		mid = mid.Along(at, 1/float64(len(h.At)))
		pts = append(pts, cam.project(at))
	}
	if len(h.At) == 0 && h.Anchor != nil { // it lies there by itself
		mid = *h.Anchor
	}
	centre := cam.project(mid)
	circle := func(c flat, r float64, fill string, width float64) {
		b.WriteString(
			tag(
				`<circle cx="%.0f" cy="%.0f" r="%.0f" fill="%s" stroke="%s" stroke-width="%g"/>`,
				c.x*unit,
				-c.y*unit,
				r*unit,
				fill,
				pal.edge,
				size.stroke(width),
			),
		)
	}
	switch h.Kind {
	case "band", "strap":
		drawLine(b, pts, pal.edge, size.stroke(2))
		if h.Anchor != nil {
			circle(pts[0], 0.008, pal.edge, 1)
		}
	case "stick":
		a, z := pts[0], pts[len(pts)-1]
		over := z.sub(a).scale(0.25)
		drawLine(b, []flat{a.sub(over), z.add(over)}, pal.edge, size.stroke(size.Stroke*2.4))
	case "ball":
		circle(centre, h.Radius, pal.furniture, size.Stroke*0.8)
	case "ring":
		r := h.Radius
		if r == 0 {
			r = pts[0].sub(pts[len(pts)-1]).len() / 2
		}
		circle(centre, max(r, 0.04), "none", size.Stroke*1.8)
	case "weight":
		for _, p := range pts {
			circle(p, 0.024, pal.furniture, size.Stroke)
		}
	}
}

func drawLine(b *strings.Builder, pts []flat, colour string, width float64) {
	var d pen
	d.move(pts[0])
	for _, p := range pts[1:] {
		d.line(p)
	}
	b.WriteString(tag(`<path d="%s" stroke="%s" stroke-width="%g" fill="none"/>`, d.buf, colour, width))
}
