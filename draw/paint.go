package draw

import (
	"math"
	"regexp"
	"strings"

	"restbend/core/body"
)

// paint writes the outlines in their order, then the face and the spine.
func paint(b, defs *strings.Builder, parts []*part, s Subject, cam camera, pal palette, size Size) {
	f := s.Figure
	colourLimbs(defs, parts, s, cam, pal)
	width := size.stroke(size.Stroke)
	done := map[*part]bool{}
	for _, p := range parts {
		if len(p.line) == 0 {
			continue
		}
		fill := p.colour
		if p.gradient != "" {
			fill = "url(#" + p.gradient + ")"
		}
		keep := openings(p, done, cam)
		cut := runs(p.line, keep)
		switch {
		case len(cut) == 1 && len(cut[0]) == len(p.line):
			b.WriteString(tag(`<path d="%s" fill="%s" stroke="%s" stroke-width="%g"/>`, closedPath(p.line), fill, pal.outline(), width))
		case len(cut) == 1: // an unclosed path is filled as if closed
			b.WriteString(tag(`<path d="%s" fill="%s"/><path d="%s" fill="none" stroke="%s" stroke-width="%g"/>`,
				closedPath(p.line), fill, openPath(cut[0]), pal.outline(), width))
		default:
			b.WriteString(tag(`<path d="%s" fill="%s"/>`, closedPath(p.line), fill))
			for _, run := range cut {
				b.WriteString(tag(`<path d="%s" fill="none" stroke="%s" stroke-width="%g"/>`, openPath(run), pal.outline(), width))
			}
		}
		if p.seg == body.HeadSegment && !size.Simple {
			paintFace(b, defs, f, p, cam, pal, width)
		}
		done[p] = true
	}
	paintSpine(b, f, cam, pal, size)
}

// outline colour of the body: ink on light, the ground on dark.
func (p palette) outline() string {
	if p == palettes[Dark] {
		return "#0B0E13"
	}
	return p.ink
}

// openings says which points of an outline are stroked: not where the segment
// runs into a neighbour already painted, close to the joint they share.
func openings(p *part, done map[*part]bool, cam camera) []bool {
	keep := make([]bool, len(p.line))
	for i := range keep {
		keep[i] = true
	}
	open := func(n *part, joint body.Vec, radius float64) {
		if n == nil || !done[n] {
			return
		}
		j := cam.project(joint)
		for i, q := range p.line {
			if q.sub(j).len() < radius && n.shape.distance(q) < -0.0015 {
				keep[i] = false
			}
		}
	}
	open(p.parent, p.joint, p.open)
	if p.child != nil {
		open(p.child, p.child.joint, p.child.open)
	}
	if p.seg == body.Torso || p.seg == body.HeadSegment {
		for n := range done {
			if n.parent == p {
				open(n, n.joint, n.open)
			}
		}
	}
	return keep
}

// colourLimbs gives each segment its tone: the body's own, a lighter one for
// limbs on the far side, a darker one for the limb that works. The change of
// tone fades along the upper segment, so that no joint shows a seam.
func colourLimbs(defs *strings.Builder, parts []*part, s Subject, cam camera, pal palette) {
	works := map[Limb]bool{}
	for _, w := range s.Working {
		works[w] = true
	}
	id := 0
	for _, p := range parts {
		p.colour = pal.body
		if p.seg == body.Torso || p.seg == body.HeadSegment {
			continue
		}
		leg := p.seg == body.Thigh || p.seg == body.Shank || p.seg == body.Foot
		limb := Limb{leg, p.side}
		tone := pal.body
		chain := s.Figure.Arms[p.side]
		other := s.Figure.Arms[p.side.Other()]
		if leg {
			chain, other = s.Figure.Legs[p.side], s.Figure.Legs[p.side.Other()]
		}
		far := cam.depth(chain.Root) < cam.depth(other.Root)-0.03
		switch {
		case works[limb] && far:
			tone = mixColour(pal.working, pal.far, 0.25)
		case works[limb]:
			tone = pal.working
		case far:
			tone = pal.far
		}
		p.colour = tone
		if tone != pal.body && (p.seg == body.UpperArm || p.seg == body.Thigh) {
			id++
			p.gradient = string(rune('a' + id))
			a, z := cam.project(chain.Root), cam.project(chain.Mid)
			if z.sub(a).len() < 0.03 {
				p.gradient = ""
				continue
			}
			defs.WriteString(
				tag(
					`<linearGradient id="%s" gradientUnits="userSpaceOnUse" x1="%.0f" y1="%.0f" x2="%.0f" y2="%.0f"><stop offset=".3" `+
						`stop-color="%s"/><stop offset=".85" stop-color="%s"/></linearGradient>`,
					p.gradient,
					a.x*unit,
					-a.y*unit,
					z.x*unit,
					-z.y*unit,
					pal.body,
					tone,
				),
			)
		}
	}
}

// The face lies on a ball about the middle of the head, in heights and degrees from straight ahead:
// to the sides, up to the brow and down to the chin; eyes and mouth lie on it too.
const (
	faceRadius, faceAhead, faceUp = 0.053, 0.022, 0.013

	faceWide, faceBrow, faceChin = 66.0, 48.0, -62.0
	eyeOut, eyeUp                = 24.0, 8.0
	mouthOut, mouthDown          = 11.0, -31.0
)

// onFace is a place on the face, so many degrees to the left and up, and how squarely it is seen.
func onFace(f *body.Figure, cam camera, left, up float64) (at flat, seen float64) {
	sl, cl := math.Sincos(left * math.Pi / 180)
	su, cu := math.Sincos(up * math.Pi / 180)
	out := f.Head.World(body.Vec{X: cu * cl, Y: cu * sl, Z: su})
	centre := f.Neck.Add(f.Head.World(body.Vec{X: faceAhead, Z: faceUp}))
	return cam.project(centre.Along(out, faceRadius)), out.Dot(cam.toward)
}

// paintFace shows which way the head looks: a paler face with eyes and mouth, clipped to the
// head's outline, and an ear on the side that is seen.
func paintFace(b, defs *strings.Builder, f *body.Figure, p *part, cam camera, pal palette, width float64) {
	pale := mixColour(pal.body, palettes[Light].sheet, 0.5)
	var pts []flat
	for up := faceChin; up <= faceBrow; up += 8 {
		// narrower toward the chin and the brow
		t := (up - (faceBrow+faceChin)/2) / ((faceBrow - faceChin) / 2)
		wide := faceWide * math.Sqrt(1-0.8*t*t)
		for left := -1.0; left <= 1; left += 0.125 {
			if at, seen := onFace(f, cam, left*wide, up); seen > 0 {
				pts = append(pts, at)
			}
		}
	}
	if len(pts) > 2 {
		defs.WriteString(tag(`<clipPath id="h"><path d="%s"/></clipPath>`, closedPath(p.line)))
		b.WriteString(tag(`<path clip-path="url(#h)" d="%s" fill="%s"/>`, closedPath(convexHull(pts)), pale))
		for _, side := range []float64{-1, 1} {
			if at, seen := onFace(f, cam, side*eyeOut, eyeUp); seen > 0.12 {
				b.WriteString(tag(`<circle cx="%.0f" cy="%.0f" r="4" fill="%s"/>`, at.x*unit, -at.y*unit, pal.outline()))
			}
		}
		if _, seen := onFace(f, cam, 0, mouthDown); seen > 0.1 {
			from, _ := onFace(f, cam, -mouthOut, mouthDown)
			to, _ := onFace(f, cam, mouthOut, mouthDown)
			b.WriteString(tag(`<path d="M%.0f %.0fL%.0f %.0f" stroke="%s" stroke-width="%.1f"/>`,
				from.x*unit, -from.y*unit, to.x*unit, -to.y*unit, pal.outline(), width*0.7))
		}
		b.WriteString(tag(`<path d="%s" fill="none" stroke="%s" stroke-width="%g"/>`, closedPath(p.line), pal.outline(), width))
	}
	for side := body.Left; side <= body.Right; side++ {
		out := 1.0
		if side == body.Right {
			out = -1
		}
		if f.Head.L.Scale(out).Dot(cam.toward) < 0.25 {
			continue
		}
		e := cam.project(f.Neck.Add(f.Head.World(body.Vec{X: 0.004, Y: out * 0.052, Z: 0.020})))
		up := cam.project(f.Head.U)
		angle := math.Atan2(-up.y, up.x) * 180 / math.Pi
		b.WriteString(
			tag(`<ellipse rx="14" ry="9" transform="translate(%.0f %.0f)rotate(%.0f)" fill="%s" stroke="%s" stroke-width="%.1f"/>`,
				e.x*unit, -e.y*unit, angle, pal.body, pal.outline(), width*0.7),
		)
	}
}

// Ordinary ranges that the spine's colour is measured against, in degrees for
// forward, back, side and turn of each region. AAOS and AMA handbooks and, for
// the turn of the low back, White and Panjabi (from memory).
var colourRanges = [3][4]float64{{60, 25, 25, 8}, {35, 25, 25, 32}, {50, 55, 45, 80}}

func bentShare(v body.Vertebra) float64 {
	r := colourRanges[v.Region]
	forward := v.Bend.Flexion / r[0]
	if v.Bend.Flexion < 0 {
		forward = -v.Bend.Flexion / r[1]
	}
	return math.Max(forward, math.Max(math.Abs(v.Bend.Side)/r[2], math.Abs(v.Bend.Turn)/r[3]))
}

// paintSpine draws the vertebrae last, as if seen through the body: a front-to-
// back and a side-to-side tick each, and the line they are strung on.
func paintSpine(b *strings.Builder, f *body.Figure, cam camera, pal palette, size Size) {
	skull, face := f.Skull(), f.Face()
	hidden := func(p body.Vec) bool {
		q := cam.project(p)
		return q.sub(cam.project(skull.At)).len() < skull.Radius+0.004 || q.sub(cam.project(face.At)).len() < face.Radius
	}
	region := 0
	var dots []flat
	flush := func() {
		if len(dots) > 2 && size.Simple {
			b.WriteString(tag(`<path d="%s" fill="none" stroke="%s" stroke-width="%g"/>`, openPath(dots),
				pal.bendColour(bentShare(vertebraOf(f, region))), size.stroke(2.1)))
		}
	}
	var ticks [3]pen
	for _, v := range f.Spine {
		if v.Region != region {
			if len(dots) > 0 {
				dots = append(dots, cam.project(v.At))
			}
			flush()
			dots, region = nil, v.Region
		}
		if hidden(v.At) {
			continue
		}
		dots = append(dots, cam.project(v.At))
		reach := [3]float64{0.0145, 0.0125, 0.0085}[v.Region]
		t := &ticks[v.Region]
		for _, d := range []body.Vec{v.Frame.F, v.Frame.L} {
			a, z := cam.project(v.At.Along(d, -reach)), cam.project(v.At.Along(d, reach))
			if z.sub(a).len() > 0.008 {
				t.move(a)
				t.line(z)
			}
		}
	}
	flush()
	if size.Simple {
		return
	}
	for r := range ticks {
		if len(ticks[r].buf) > 0 {
			b.WriteString(tag(`<path d="%s" stroke="%s" stroke-width="%g" stroke-linecap="butt"/>`, ticks[r].buf,
				pal.bendColour(bentShare(vertebraOf(f, r))), [3]float64{8.5, 6.5, 4.5}[r]))
		}
	}
}

func vertebraOf(f *body.Figure, region int) body.Vertebra {
	for _, v := range f.Spine {
		if v.Region == region {
			return v
		}
	}
	return body.Vertebra{}
}

// drawGhost draws the earlier posture as dashed, nearly empty outlines.
func drawGhost(b *strings.Builder, f *body.Figure, cam camera, pal palette, size Size) {
	coarse := size
	coarse.Spacing *= 1.4
	b.WriteString(tag(`<g fill="%s" stroke="%s" stroke-width="%g" stroke-dasharray="%g" stroke-opacity=".55" fill-opacity=".55">`,
		pal.ghost, pal.second, size.stroke(size.Stroke*0.7), size.stroke(5)))
	for _, p := range partsOf(f, cam, coarse) {
		if len(p.line) > 0 {
			b.WriteString(tag(`<path d="%s"/>`, closedPath(p.line)))
		}
	}
	b.WriteString(`</g>`)
}

// mixColour goes from colour a (t = 0) to b (t = 1), both as #rrggbb.
func mixColour(a, b string, t float64) string {
	var out [3]int
	for i := range out {
		x, y := hex(a[1+2*i:3+2*i]), hex(b[1+2*i:3+2*i])
		out[i] = int(math.Round(float64(x) + (float64(y)-float64(x))*t))
	}
	return tag("#%02X%02X%02X", out[0], out[1], out[2])
}

func hex(s string) int {
	n := 0
	for _, c := range strings.ToLower(s) {
		n *= 16
		if c >= 'a' {
			n += int(c-'a') + 10
		} else {
			n += int(c - '0')
		}
	}
	return n
}

// noughts are those behind the point of a whole number.
var noughts = regexp.MustCompile(`([0-9])\.0([^0-9])`)

// terse writes whole numbers of a drawing without a point.
func terse(svg string) []byte { return []byte(noughts.ReplaceAllString(svg, "$1$2")) }
