// Package draw turns the core's types into SVG: the figure from a solved pose,
// the reach chart from a set of limits, the height ribbon from a plan. It holds
// no state; who calls it keeps what was drawn.
package draw

import (
	"fmt"
	"math"
	"sort"
	"strings"

	"restbend/core/body"
	"restbend/core/exercise"
)

// Limb names one of the four limbs, for marking the one that works.
type Limb struct {
	Leg  bool
	Side body.Side
}

// Subject is what one picture shows.
type Subject struct {
	Figure  *body.Figure
	Ghost   *body.Figure // an earlier posture, drawn as a dashed outline; may be nil
	Working []Limb
	Props   []Prop
	View    View
	Turn    float64 // extra turn and tilt of the camera, degrees
	Tilt    float64
	Around  []*body.Figure // further postures that the picture's frame must hold
	// Room are points that the frame must hold, so that pictures of a series keep
	// one scale.
	Room []body.Vec
	Held []exercise.Held // bands, balls, sticks
}

// Picture is a drawing and its own size in pixels.
type Picture struct {
	SVG  []byte
	W, H float64
}

// Size is a class of detail.
type Size struct {
	PixelsPerHeight float64 // what the picture is meant to be shown at
	Step            float64 // tracing grid, in body heights
	Spacing         float64 // between points of the outline
	Stroke          float64 // outline, in pixels
	Simple          bool    // three strokes for the spine, no face
}

// The sizes in use.
var (
	Thumb = Size{PixelsPerHeight: 88, Step: 0.006, Spacing: 0.020, Stroke: 1.05, Simple: true}
	Large = Size{PixelsPerHeight: 560, Step: 0.0045, Spacing: 0.014, Stroke: 2.1}
	Film  = Size{PixelsPerHeight: 560, Step: 0.006, Spacing: 0.018, Stroke: 2.1} // for stills that follow one another
)

// stroke is a width in pixels turned into drawing units.
func (s Size) stroke(px float64) float64 {
	return math.Round(px/s.PixelsPerHeight*unit*10) / 10
}

// part is one outline ready to be painted.
type part struct {
	seg      body.Segment
	side     body.Side
	shape    shape
	line     []flat
	depth    float64
	order    int // within one limb, from the trunk outward
	joint    body.Vec
	open     float64 // radius round the joint in which the outline may open
	parent   *part
	child    *part
	colour   string
	gradient string
}

// SVG draws the subject and returns the whole SVG file.
func SVG(s Subject, size Size, theme Theme) Picture {
	pal := palettes[theme]
	cam := cameraFor(s.View)
	if s.Turn != 0 || s.Tilt != 0 {
		cam = turned(s.View, s.Turn, s.Tilt)
	}
	box := newFrame()
	for _, f := range append([]*body.Figure{s.Figure, s.Ghost}, s.Around...) {
		if f != nil {
			box.hold(f, cam)
		}
	}
	for _, h := range s.Held {
		if h.Anchor != nil {
			box.point(cam.project(*h.Anchor), 0.01)
		}
	}
	for _, p := range s.Room {
		box.point(cam.project(p), 0)
	}
	var b strings.Builder
	var defs strings.Builder
	drawProps(&b, s.Props, cam, pal, size, box, false)
	if s.Ghost != nil {
		drawGhost(&b, s.Ghost, cam, pal, size)
	}
	parts := partsOf(s.Figure, cam, size)
	paint(&b, &defs, parts, s, cam, pal, size)
	for _, h := range s.Held {
		drawHeld(&b, h, s.Figure, cam, pal, size)
	}
	drawProps(&b, s.Props, cam, pal, size, box, true)
	return box.wrap(defs.String(), b.String(), size)
}

func turned(v View, turn, tilt float64) camera {
	switch v {
	case FrontView:
		return lookFrom(90+turn, tilt)
	case BackView:
		return lookFrom(-90+turn, tilt)
	}
	return lookFrom(turn, tilt)
}

// frame gathers the extent of a picture.
type frame struct{ lo, hi flat }

func newFrame() *frame {
	return &frame{flat{math.Inf(1), math.Inf(1)}, flat{math.Inf(-1), math.Inf(-1)}}
}

func (f *frame) point(p flat, r float64) {
	f.lo = flat{min(f.lo.x, p.x-r), min(f.lo.y, p.y-r)}
	f.hi = flat{max(f.hi.x, p.x+r), max(f.hi.y, p.y+r)}
}

func (f *frame) hold(fig *body.Figure, cam camera) {
	for _, seg := range []body.Segment{body.Torso, body.HeadSegment, body.UpperArm, body.ForeArm, body.Thigh, body.Shank, body.Foot} {
		for side := body.Left; side <= body.Right; side++ {
			for _, p := range fig.Pieces(seg, side) {
				f.point(cam.project(p.A.At), p.A.Radius)
				f.point(cam.project(p.B.At), p.B.Radius)
			}
		}
	}
}

func (f *frame) wrap(defs, content string, size Size) Picture {
	const margin = 0.02
	x, y := (f.lo.x-margin)*unit, (-f.hi.y-margin)*unit
	w, h := (f.hi.x-f.lo.x+2*margin)*unit, (f.hi.y-f.lo.y+2*margin)*unit
	if defs != "" {
		defs = "<defs>" + defs + "</defs>"
	}
	k := size.PixelsPerHeight / unit
	wide, high := math.Round(w*k), math.Round(h*k)
	svg := fmt.Sprintf(
		`<svg xmlns="http://www.w3.org/2000/svg" viewBox="%.0f %.0f %.0f %.0f" width="%.0f" height="%.0f" stroke-linejoin="round" `+
			`stroke-linecap="round">%s%s</svg>`,
		x,
		y,
		w,
		h,
		wide,
		high,
		defs,
		content,
	)
	return Picture{[]byte(svg), wide, high}
}

// inFront is how much nearer than the trunk a limb must be to be drawn over it.
const inFront = -0.035

// partsOf builds the outlines of a figure in painting order.
func partsOf(f *body.Figure, cam camera, size Size) []*part {
	torso := &part{seg: body.Torso, shape: shape{conesOf(f.Pieces(body.Torso, 0), cam), 0.022}}
	head := &part{seg: body.HeadSegment, shape: shape{conesOf(f.Pieces(body.HeadSegment, 0), cam), 0.012}, parent: torso,
		joint: f.Neck, open: 0.034}
	chest, pelvis := cam.depth(f.Spine[12].At), cam.depth(f.Origin)
	var behind, front []*part
	for side := body.Left; side <= body.Right; side++ {
		arm, leg := f.Arms[side], f.Legs[side]
		upper := limbPart(f, cam, body.UpperArm, side, torso, arm.Root, 0.062, 0)
		fore := limbPart(f, cam, body.ForeArm, side, upper, arm.Mid, 0.034, 1)
		thigh := limbPart(f, cam, body.Thigh, side, torso, leg.Root, 0.105, 0)
		shank := limbPart(f, cam, body.Shank, side, thigh, leg.Mid, 0.044, 1)
		foot := limbPart(f, cam, body.Foot, side, shank, leg.End, 0.030, 2)
		upper.depth = cam.depth(arm.Root.Mix(arm.Mid, 0.5)) - chest
		fore.depth = cam.depth(arm.Mid.Mix(arm.End, 0.6)) - chest
		thigh.depth = cam.depth(leg.Root.Mix(leg.Mid, 0.4)) - pelvis
		shank.depth = cam.depth(leg.Mid.Mix(leg.End, 0.5)) - pelvis
		foot.depth = cam.depth(leg.End.Along(leg.Tip, 0.04)) - pelvis
		for _, p := range []*part{upper, fore, thigh, shank, foot} {
			if p.depth > inFront {
				front = append(front, p)
			} else {
				behind = append(behind, p)
			}
		}
		straighten(upper, fore)
		straighten(thigh, shank)
		straighten(shank, foot)
	}
	head.depth = cam.depth(f.Skull().At) - chest
	nearFirst := func(ps []*part) {
		sort.SliceStable(ps, func(i, j int) bool { return ps[i].depth+ps[i].tie() < ps[j].depth+ps[j].tie() })
	}
	nearFirst(behind)
	var order []*part
	if head.depth < -0.05 {
		order = append(behind, head, torso)
	} else {
		order = append(behind, torso, head)
	}
	nearFirst(front)
	order = append(order, front...)
	for _, p := range order {
		step := size.Step
		line := p.shape.outline(step)
		if len(line) < 8 {
			continue
		}
		spacing := size.Spacing
		switch p.seg {
		case body.ForeArm, body.Foot, body.HeadSegment:
			spacing *= 0.68
		}
		fine := evenly(line, 0.004)
		p.line = evenly(smooth(fine, 0.004, 0.0055), spacing)
	}
	return order
}

// tie keeps outer segments of a limb above inner ones when they are as deep.
func (p *part) tie() float64 { return 0.012 * float64(p.order) }

// straighten marks child as the neighbour of parent.
func straighten(parent, child *part) {
	child.parent = parent
	parent.child = child
}

func limbPart(f *body.Figure, cam camera, seg body.Segment, side body.Side, parent *part, joint body.Vec, open float64, order int) *part {
	return &part{seg: seg, side: side, shape: shape{cones: conesOf(f.Pieces(seg, side), cam), blend: blendOf(seg)},
		parent: parent, joint: joint, open: open, order: order}
}

func blendOf(seg body.Segment) float64 {
	switch seg {
	case body.ForeArm:
		return 0.004
	case body.Foot:
		return 0.010
	}
	return 0
}
