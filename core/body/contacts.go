package body

import (
	"math"
	"slices"
	"strings"
)

// Contact is a place where the body bears on a surface and the share of body
// weight it carries there.
type Contact struct {
	Part   Part
	At     Vec
	Share  float64
	above  bool    // bears on the part of the body above the low back
	leg    bool    // bears on a leg
	arm    bool    // bears on an arm
	normal Vec     // square to the surface, toward the body
	firm   float64 // 1 where the part is down, falling to 0 as far away as still touches
}

// touching is how near a part must be to a surface to bear on it, in heights.
const touching = 0.009

// bearing lists the parts that can carry weight and where they belong.
var bearing = []struct {
	part            Part
	above, leg, arm bool
}{
	{part: HeadPart, above: true},
	{part: ChestPart, above: true},
	{part: Waist, above: true},
	{part: "shoulder_left", above: true},
	{part: "shoulder_right", above: true},
	{part: "elbow_left", above: true, arm: true},
	{part: "elbow_right", above: true, arm: true},
	{part: "forearm_left", above: true, arm: true},
	{part: "forearm_right", above: true, arm: true},
	{part: "hand_left", above: true, arm: true},
	{part: "hand_right", above: true, arm: true},
	{part: Seat},
	{part: "hip_left"},
	{part: "hip_right"},
	{part: "thigh_left", leg: true},
	{part: "thigh_right", leg: true},
	{part: "knee_left", leg: true},
	{part: "knee_right", leg: true},
	{part: "shin_left", leg: true},
	{part: "shin_right", leg: true},
	{part: "heel_left", leg: true},
	{part: "heel_right", leg: true},
	{part: "ball_left", leg: true},
	{part: "ball_right", leg: true},
	{part: "toes_left", leg: true},
	{part: "toes_right", leg: true},
}

// touches finds the places where the figure bears on a surface: of each part
// every ball that is down, or against a wall.
func (f *Figure) touches(s Scene) []Contact {
	var out []Contact
	skin := surface{f: f}
	var store [20]Ball
	for _, b := range bearing {
		for _, ball := range skin.balls(store[:0], b.part) {
			touch := func(gap float64, at, normal Vec) {
				if gap >= touching {
					return
				}
				near := 1 - math.Max(0, gap)/touching
				out = append(out, Contact{Part: b.part, At: at, above: b.above, leg: b.leg, arm: b.arm, normal: normal,
					firm: near * near * near})
			}
			square, gap := s.under(ball)
			touch(gap, ball.At.Along(square, -ball.Radius-gap), square)
			if s.Wall != 0 {
				touch(s.Wall-ball.At.X-ball.Radius, Vec{s.Wall, ball.At.Y, ball.At.Z}, Vec{-1, 0, 0})
			}
			if s.Behind != 0 {
				touch(ball.At.X-ball.Radius-s.Behind, Vec{s.Behind, ball.At.Y, ball.At.Z}, Vec{1, 0, 0})
			}
		}
	}
	f.oneEach(out)
	return out
}

const (
	palm      = 0.02 // heights past the wrist at which a hand bears: 3 cm
	nearElbow = 0.05 // heights from the elbow's joint up to which a contact is the elbow's
	steepens  = 20   // times as fast as its contact an arm comes to bear fully
)

// oneEach lets an arm bear at one place: under its elbow where that is down, else on the palm near
// the wrist. Forearm and fingers steady and carry little (common practice). A wrist that is posed a
// little above the surface then bears like one that touches it.
func (f *Figure) oneEach(contacts []Contact) {
	for side := Left; side <= Right; side++ {
		arm := &f.Arms[side]
		best, elbow := -1, false
		for i, c := range contacts {
			if !c.arm || sideOf(c.Part) != side {
				continue
			}
			hand := strings.HasPrefix(string(c.Part), "hand")
			down := !hand && c.At.Sub(arm.Mid).Len() < nearElbow
			if best < 0 || down && !elbow || down == elbow && c.firm > contacts[best].firm {
				best, elbow = i, down
			}
		}
		if best < 0 {
			continue
		}
		for i, c := range contacts {
			if c.arm && sideOf(c.Part) == side && i != best {
				contacts[i].firm = 0
			}
		}
		c := &contacts[best]
		c.firm = math.Min(1, steepens*c.firm)
		if elbow {
			continue
		}
		c.Part = Part("hand_" + side.String())
		at := arm.End.Along(arm.Tip.Perp(c.normal).Unit(), palm)
		c.At = at.Along(c.normal, c.At.Sub(at).Dot(c.normal))
	}
}

// lying says whether both ends of the trunk lie on something.
func lying(contacts []Contact) bool {
	upper, lower := false, false
	for _, c := range contacts {
		if c.normal.Z > 0 && !c.arm && !c.leg {
			upper, lower = upper || c.above, lower || !c.above
		}
	}
	return upper && lower
}

// push is one direction a contact can push in, scaled so that its share square
// to the surface is 1.
type push struct {
	contact int
	at, dir Vec
}

// friction is how far a push may lean away from square to its surface. A dry
// sole or palm; common practice.
const friction = 0.6

// leaning is how far an arm that props pushes toward its shoulder, from square to the surface
// (0) to along the arm (1): halfway, so that shoulder and surface share what is aslant. With
// it the hands' share falls with the height of the surface as it was measured (see docs/body.md).
const leaning = 0.5

// needed is the lean of an arm from which all friction there is may hold against it.
const needed = 0.05

// propping is how far, in heights, a shoulder is over what its arm rests on from where the arm
// props it; below, where the trunk lies too, the arm lies there with its own weight.
const propping = 0.12

// props says of each arm whether it props the shoulder.
func (f *Figure) props(contacts []Contact) (out [2]bool) {
	trunk := slices.ContainsFunc(contacts, func(c Contact) bool { return c.above && !c.arm && c.normal.Z > 0 })
	for _, c := range contacts {
		if side := sideOf(c.Part); c.arm && (!trunk || c.normal.Z == 0 || f.Arms[side].Root.Z-c.At.Z > propping) {
			out[side] = true
		}
	}
	return out
}

// pushes lists what each contact can do, of those that count. A hand or elbow that props the
// shoulder pushes between square to the surface and along the arm, as far as friction lets it;
// any other contact pushes straight, and at the edges of its cone of friction too when
// something has to be held against: an arm that pushes aslant, or a pull to the side.
func (f *Figure) pushes(contacts []Contact, counts func(Contact) bool, aslant bool) []push {
	dirs := make([]Vec, len(contacts))
	cone := 0.0 // how far others may lean against it
	if aslant {
		cone = friction
	}
	for i, c := range contacts {
		dirs[i] = c.normal
		if c.normal.Z < 0.9999 && !c.arm {
			cone = friction
		}
		if !c.arm || !counts(c) {
			continue
		}
		arm := f.Arms[sideOf(c.Part)]
		line := arm.Root.Sub(arm.Mid).Unit()
		if c.Part == "hand_left" || c.Part == "hand_right" {
			line = arm.Root.Sub(arm.End).Unit()
		}
		if along := line.Dot(c.normal); along > 0.2 {
			lean := line.Perp(c.normal).Scale(leaning / along)
			spine := f.Chest.U.Perp(c.normal).Unit() // sideways it would only twist the body
			lean = spine.Scale(lean.Dot(spine))
			if steep := lean.Len(); steep > friction {
				lean = lean.Scale(friction / steep)
			}
			dirs[i] = c.normal.Add(lean)
			cone = math.Max(cone, friction*math.Min(1, lean.Len()/needed))
		}
	}
	var out []push
	for i, c := range contacts {
		if !counts(c) {
			continue
		}
		if c.firm > 0 {
			out = append(out, push{i, c.At, dirs[i].Scale(c.firm)})
		}
		if cone == 0 || c.arm {
			continue
		}
		across := Vec{0, 1, 0}
		for _, lean := range []Vec{across, across.Cross(c.normal)} {
			for _, way := range []float64{cone, -cone} {
				out = append(out, push{i, c.At, c.normal.Along(lean, way).Scale(c.firm)})
			}
		}
	}
	return out
}

func sideOf(p Part) Side {
	if len(p) > 5 && p[len(p)-5:] == "right" {
		return Right
	}
	return Left
}
