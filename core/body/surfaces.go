package body

import "math"

// flesh is how deep soft parts press into what they rest on, in heights: just under half a centimetre.
const flesh = 0.0025

// push is the way out of the surfaces for a ball that lies deeper in one of them than flesh, by the
// deepest.
func (s Scene) push(ball Ball) Vec {
	worst, way := flesh, Vec{}
	note := func(depth float64, out Vec) {
		if depth > worst {
			worst, way = depth, out.Scale(depth-flesh)
		}
	}
	note(ball.Radius-ball.At.Z, Vec{Z: 1})
	if s.Wall != 0 {
		note(ball.At.X+ball.Radius-s.Wall, Vec{X: -1})
	}
	if s.Behind != 0 {
		note(s.Behind-ball.At.X+ball.Radius, Vec{X: 1})
	}
	for _, box := range s.Boxes {
		depth, out := box.wayOut(ball)
		note(depth, out)
	}
	return way
}

// wayOut is how far a ball reaches into the box, and the direction of the shortest way out.
func (b Box) wayOut(ball Ball) (float64, Vec) {
	if b.Shape != "" {
		if !b.covers(ball.At) {
			return 0, Vec{}
		}
		top, cos := b.top(ball.At.X)
		return math.Max(0, ball.Radius-(ball.At.Z-top)*cos), b.square(ball.At.X)
	}
	depth, way := math.Inf(1), Vec{}
	for axis, unit := range [3]Vec{{X: 1}, {Y: 1}, {Z: 1}} {
		lo, hi, at := b.Min.axis(axis), b.Max.axis(axis), ball.At.axis(axis)
		if d := at + ball.Radius - lo; d < depth {
			depth, way = d, unit.Scale(-1)
		}
		if d := hi - at + ball.Radius; d < depth {
			depth, way = d, unit
		}
	}
	return math.Max(0, depth), way
}

// raised is how far a body that rests on its named parts is raised, so that trunk and free thighs
// lie on the surface too and not in it.
func (f *Figure) raised(s Scene) float64 {
	parts := []Part{HeadPart, ChestPart, Waist, Seat}
	for side := Left; side <= Right; side++ {
		if f.Pose.Legs[side].Pin == nil {
			parts = append(parts, Part("thigh_"+side.String()))
		}
	}
	worst := 0.0
	for _, p := range parts {
		for _, ball := range f.balls(p) {
			worst = math.Max(worst, s.push(ball).Z)
		}
	}
	return worst
}

// limbsOut takes arms and legs out of the surfaces that they have sunk into: a knee or elbow swings
// out, and a hand or foot is lifted from its knee or elbow, or with its pin.
func (f *Figure) limbsOut(s Scene) {
	for side := Left; side <= Right; side++ {
		on := side.String()
		f.limbOut(s, &f.Arms[side], upperArmLength, foreArmLength, Part("elbow_"+on), Part("forearm_"+on), Part("hand_"+on))
		f.limbOut(s, &f.Legs[side], thighLength, shankLength, Part("knee_"+on), Part("shin_"+on), Part("foot_"+on))
	}
}

func (f *Figure) limbOut(s Scene, c *LimbChain, upper, lower float64, joint, shaft, end Part) {
	for range 10 { // what frees one part may bury another
		moved := false
		if out := f.deepest(s, joint); out != (Vec{}) {
			moved = true
			was := c.Mid
			if c.Pinned {
				c.Mid = swungOut(*c, out)
			} else {
				c.Mid = c.Root.Along(c.Mid.Add(out).Sub(c.Root).Unit(), upper)
				c.End = c.End.Add(c.Mid.Sub(was))
			}
		}
		if out := longest(f.deepest(s, shaft), f.deepest(s, end)); out != (Vec{}) {
			moved = true
			if c.Pinned || c.Lower().Dot(out.Unit()) < endOn {
				c.bendTo(c.End.Add(out), upper, lower)
			} else {
				c.End = c.Mid.Along(c.End.Add(out).Sub(c.Mid).Unit(), lower)
			}
		}
		if !moved {
			return
		}
	}
}

// left is how far the figure has to be raised for what limbs alone could not free.
func (f *Figure) left(s Scene) float64 {
	worst := 0.0
	for _, p := range SurfaceParts {
		worst = math.Max(worst, f.deepest(s, p).Z)
	}
	return worst
}

// deepest is the way out of the surfaces for the part of a limb that lies deepest in one.
func (f *Figure) deepest(s Scene, p Part) (out Vec) {
	for _, ball := range f.balls(p) {
		out = longest(out, s.push(ball))
	}
	return out
}

// endOn is the cosine from which a shank or forearm stands on its surface, so that it cannot turn
// out of it and the joint has to bend.
const endOn = -0.5

func longest(a, b Vec) Vec {
	if b.Len() > a.Len() {
		return b
	}
	return a
}

// swungOut is where the joint of a limb comes that is moved while both ends stay: it stays on its
// circle about the line between them.
func swungOut(c LimbChain, by Vec) Vec {
	along := c.End.Sub(c.Root).Unit()
	centre := c.Root.Along(along, c.Mid.Sub(c.Root).Dot(along))
	radius := c.Mid.Sub(centre).Len()
	return centre.Along(c.Mid.Add(by).Sub(centre).Perp(along).Unit(), radius)
}

// bendTo brings the limb's end to a place, as near as it reaches, its joint pointing where it does.
func (c *LimbChain) bendTo(end Vec, upper, lower float64) {
	to := end.Sub(c.Root)
	dist := math.Max(math.Abs(upper-lower)+1e-4, math.Min(to.Len(), upper+lower-1e-5))
	dir := to.Unit()
	bend := c.Mid.Sub(c.Root.Mix(c.End, 0.5)).Perp(dir).Unit()
	along := (upper*upper - lower*lower + dist*dist) / (2 * dist)
	out := math.Sqrt(math.Max(0, upper*upper-along*along))
	c.Mid, c.End = c.Root.Along(dir, along).Along(bend, out), c.Root.Along(dir, dist)
}
