package body

import (
	"reflect"
	"slices"
)

// Side is a side of the body.
type Side int

const (
	Left Side = iota
	Right
)

func (s Side) String() string {
	if s == Left {
		return "left"
	}
	return "right"
}

// Other is the opposite side.
func (s Side) Other() Side { return 1 - s }

// Bend is a rotation in degrees away from neutral: Flexion forward (negative
// is extension), Side to the left, Turn to the left.
type Bend struct {
	Flexion float64 `yaml:"flexion,omitempty" json:"flexion,omitempty"`
	Side    float64 `yaml:"side,omitempty" json:"side,omitempty"`
	Turn    float64 `yaml:"turn,omitempty" json:"turn,omitempty"`
}

// Scale is the bend made t times as large.
func (b Bend) Scale(t float64) Bend { return Bend{b.Flexion * t, b.Side * t, b.Turn * t} }

// Mix goes from b (t = 0) to c (t = 1).
func (b Bend) Mix(c Bend, t float64) Bend {
	return Bend{b.Flexion + (c.Flexion-b.Flexion)*t, b.Side + (c.Side-b.Side)*t, b.Turn + (c.Turn-b.Turn)*t}
}

// Mirror swaps left and right.
func (b Bend) Mirror() Bend { return Bend{b.Flexion, -b.Side, -b.Turn} }

// Base names how the whole body lies in the world before any bending.
type Base string

const (
	Standing  Base = "standing"   // also sitting and kneeling upright
	Supine    Base = "supine"     // on the back, head toward −x
	Prone     Base = "prone"      // face down, head toward +x; also all fours
	SideRight Base = "side_right" // lying on the right side, head toward −x
	SideLeft  Base = "side_left"  // lying on the left side, head toward −x
)

// Bases are the frames of each base, front, left and up in world axes.
var bases = map[Base]Frame{
	Standing:  {Vec{1, 0, 0}, Vec{0, 1, 0}, Vec{0, 0, 1}},
	Supine:    {Vec{0, 0, 1}, Vec{0, 1, 0}, Vec{-1, 0, 0}},
	Prone:     {Vec{0, 0, -1}, Vec{0, 1, 0}, Vec{1, 0, 0}},
	SideRight: {Vec{0, -1, 0}, Vec{0, 0, 1}, Vec{-1, 0, 0}},
	SideLeft:  {Vec{0, 1, 0}, Vec{0, 0, -1}, Vec{-1, 0, 0}},
}

// Pin fixes the end of a limb, the wrist or the ankle, to a point.
type Pin struct {
	// Of says what At is measured from: "root" (the limb's own hip or
	// shoulder, with At.Z an absolute height), "pelvis" (with At.Z an absolute
	// height), "pelvis_frame" or "chest_frame" (At is front, left, up of that
	// part), or "start" (stay where the limb's end was in the start pose; At is
	// then added in world axes).
	Of string `yaml:"of" json:"of"`
	At Vec    `yaml:"at" json:"at"`
}

// Limb is one arm or leg. It is either free (Upper and Lower are directions)
// or pinned (Pin, with Pole saying where the elbow or knee points).
type Limb struct {
	Upper Vec  `yaml:"upper,omitempty" json:"upper,omitzero"`
	Lower Vec  `yaml:"lower,omitempty" json:"lower,omitzero"`
	Pin   *Pin `yaml:"pin,omitempty" json:"pin,omitempty"`
	Pole  Vec  `yaml:"pole,omitempty" json:"pole,omitzero"`
	// End is the direction of the fingers or toes; when left out a hand goes
	// on along the forearm and a foot stands at right angles to the shank.
	End Vec `yaml:"end,omitempty" json:"end,omitzero"`
	// Palm is the direction the palm faces, for arms.
	Palm Vec `yaml:"palm,omitempty" json:"palm,omitzero"`
	// Fist curls the fingers, for arms: the hand ends at its knuckles.
	Fist bool `yaml:"fist,omitempty" json:"fist,omitempty"`
	// Frame that Upper, Lower, Pole, End and Palm are given in: "world" (or
	// empty), "pelvis" or "chest", as front, left, up of that part.
	Frame string `yaml:"frame,omitempty" json:"frame,omitempty"`
}

// Settle turns one named angle until a condition holds, so that a file need
// not carry numbers found by trial.
type Settle struct {
	Vary  string     `yaml:"vary" json:"vary"`   // such as "cervical.flexion" or "pelvis.flexion"
	Range [2]float64 `yaml:"range" json:"range"` // degrees searched, from and to
	// Until is "touch" (the lowest point of Part comes down to the surface) or
	// "level" (Part's joint comes to the height Z).
	Until string  `yaml:"until" json:"until"`
	Part  Part    `yaml:"part" json:"part"`
	Z     float64 `yaml:"z,omitempty" json:"z,omitempty"`
}

// Pose is one posture of the body, in anatomical terms and degrees. It holds
// no sizes: a solved pose is in body heights.
type Pose struct {
	Base     Base
	Pelvis   Bend // of the whole body at the hips' midpoint, against the base
	Lumbar   Bend
	Thoracic Bend
	Cervical Bend
	Arms     [2]Limb
	Legs     [2]Limb
	Girdle   float64 // how far the shoulders push away to the front, in heights
	Rest     []Part  // parts lowered together until the first touches its surface
	Lift     float64 // then raised by this much, in heights
	Anchor   Part    // stays at its horizontal place of the start pose
	Move     Vec     // then moved by this much, in heights
	Settle   []Settle
}

// Hanging is the direction in which an arm hangs along the trunk, and the
// trunk's front, in a limb's frame: of the part it is given in, or of the bent
// chest in the world.
func (p Pose) Hanging(frame string) (down, front Vec) {
	if frame == "chest" || frame == "pelvis" {
		return Vec{Z: -1}, Vec{X: 1}
	}
	chest := bases[p.Base].Bent(p.Pelvis).Bent(p.Lumbar).Bent(p.Thoracic)
	return chest.U.Scale(-1), chest.F
}

// Mirror is the same pose with left and right swapped.
func (p Pose) Mirror() Pose {
	q := p
	q.Pelvis, q.Lumbar = p.Pelvis.Mirror(), p.Lumbar.Mirror()
	q.Thoracic, q.Cervical = p.Thoracic.Mirror(), p.Cervical.Mirror()
	switch p.Base {
	case SideRight, SideLeft:
		q.Base = SideLeft
		if p.Base == SideLeft {
			q.Base = SideRight
		}
	}
	for s := range p.Arms {
		q.Arms[s] = p.Arms[1-s].Mirror()
		q.Legs[s] = p.Legs[1-s].Mirror()
	}
	q.Rest = make([]Part, len(p.Rest))
	for i, r := range p.Rest {
		q.Rest[i] = r.Mirror()
	}
	q.Anchor, q.Move = p.Anchor.Mirror(), p.Move.Mirror()
	q.Settle = make([]Settle, len(p.Settle))
	for i, s := range p.Settle {
		s.Part = s.Part.Mirror()
		q.Settle[i] = s
	}
	return q
}

// Symmetric says whether left and right do the same. Where the pose is anchored and which of two
// like parts comes to its height make no difference then.
func (p Pose) Symmetric() bool {
	m := p.Mirror()
	for _, part := range p.Rest {
		if !slices.Contains(m.Rest, part) {
			return false
		}
	}
	p.Rest, m.Rest, p.Settle, m.Settle, p.Anchor, m.Anchor = nil, nil, nil, nil, "", ""
	return reflect.DeepEqual(p, m)
}

// Mirror is the limb reflected in the body's middle plane. Lying on one side
// with the head at the same end, that is a change of sign along y in the world
// and along a part's own left in its frame alike.
func (l Limb) Mirror() Limb {
	l.Upper, l.Lower, l.Pole = l.Upper.Mirror(), l.Lower.Mirror(), l.Pole.Mirror()
	l.End, l.Palm = l.End.Mirror(), l.Palm.Mirror()
	if l.Pin != nil {
		p := *l.Pin
		p.At = p.At.Mirror()
		l.Pin = &p
	}
	return l
}
