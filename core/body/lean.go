package body

import (
	"fmt"
	"math"
)

// Support is what a leaning shape rests its arms on.
type Support string

// Pivot is what it rests its legs on.
type Pivot string

const (
	OnHands    Support = "hands"
	OnForearms Support = "forearms"
	FromToes   Pivot   = "toes"
	FromKnees  Pivot   = "knees"
)

// Lean describes a straight body leaning on its arms: a plank, facing down, or
// a side bridge. Raise is the height of the surface under the arms, in body
// heights; below 0 the toes are raised by so much and the hands are on the floor.
type Lean struct {
	On    Support
	From  Pivot
	Side  bool
	Raise float64
}

// Pose builds the leaning shape: legs and trunk in one line, turned up about
// the toes or knees until the arms come down on the surface. On the floor the
// upper arms stand upright; on a raised surface they keep the angle to the
// trunk that they have there. It fails when no such slope exists.
func (l Lean) Pose() (Pose, Scene, error) {
	floor, err := l.slope(func(deg float64) float64 { return deg }, 0)
	if err != nil || l.Raise == 0 {
		return l.shape(floor, floor), Scene{}, err
	}
	deg, err := l.slope(func(float64) float64 { return floor }, l.Raise)
	if err != nil {
		return Pose{}, Scene{}, err
	}
	p := l.shape(deg, floor)
	f, err := solve(p, Scene{})
	if err != nil {
		return p, Scene{}, err
	}
	if l.Raise < 0 { // a box under the feet, and the floor under the arms
		foot := f.Place("foot_right").X
		return p, Scene{Boxes: []Box{{Min: Vec{foot - 0.3, -0.5, 0}, Max: Vec{foot + 0.06, 0.5, -l.Raise}}}}, nil
	}
	// The surface reaches from just before the arm to well beyond the body.
	arm := f.Arms[Right]
	surface := Box{
		Min: Vec{math.Min(arm.Mid.X, arm.End.X) - 0.05, -0.5, math.Max(0, l.Raise-0.022)},
		Max: Vec{arm.End.X + 0.35, 0.5, l.Raise},
	}
	if l.Side { // the head is to the left, and the surface with it
		surface.Min.X, surface.Max.X = arm.Mid.X-0.35, math.Max(arm.Mid.X, arm.End.X)+0.05
	}
	return p, Scene{Boxes: []Box{surface}}, nil
}

// slope finds the degrees by which the straight body is turned up when its
// arm comes down at the height. armAt gives the slope at which the arm would
// be upright, for a slope of the body.
func (l Lean) slope(armAt func(float64) float64, height float64) (float64, error) {
	part := Part("hand_right")
	if l.On == OnForearms {
		part = "elbow_right"
	}
	gap := func(deg float64) float64 {
		f, err := solve(l.shape(deg, armAt(deg)), Scene{})
		if err != nil {
			return math.NaN()
		}
		lowest := math.Inf(1)
		for _, b := range f.balls(part) {
			lowest = math.Min(lowest, b.At.Z-b.Radius)
		}
		return lowest - height
	}
	lo, hi := -25.0, 85.0
	if !(gap(lo) < 0 && gap(hi) > 0) {
		return 0, fmt.Errorf("raise: no straight body leans on a surface at %.2f of its height", height)
	}
	for range 30 {
		if mid := (lo + hi) / 2; gap(mid) < 0 {
			lo = mid
		} else {
			hi = mid
		}
	}
	return hi, nil
}

// shape is the straight body turned up by so many degrees, with the arms as
// they would be upright at the slope armAt.
func (l Lean) shape(deg, armAt float64) Pose {
	sin, cos := math.Sincos(armAt * math.Pi / 180)
	level, levelCos := math.Sincos(deg * math.Pi / 180)
	p := Pose{Base: Prone, Rest: []Part{"feet"}, Pelvis: Bend{Flexion: -deg}}
	upper, ahead := Vec{cos, 0, -sin}, Vec{level, 0, levelCos} // in the chest's frame
	if l.Side {
		p.Base, p.Rest, p.Pelvis = SideRight, []Part{"foot_right"}, Bend{Side: deg}
		upper, ahead = Vec{0, -cos, -sin}, Vec{1, 0, 0}
	}
	for s := range p.Legs {
		p.Legs[s] = Limb{Upper: Vec{0, signed(s) * 0.02, -1}, Lower: Vec{0, signed(s) * 0.02, -1}, Pole: Vec{1, 0, 0}, Frame: "pelvis"}
		if l.From == FromKnees {
			p.Legs[s].Lower, p.Legs[s].End = Vec{-1, 0, -0.3}, Vec{-1, 0, -0.4}
		}
		p.Arms[s] = Limb{Upper: upper, Lower: upper, End: ahead, Palm: upper, Frame: "chest"}
		if l.On == OnForearms {
			p.Arms[s].Lower = ahead
		}
	}
	if l.From == FromKnees {
		p.Rest = []Part{"knees"}
	}
	if l.Side {
		p.Arms[Left] = Limb{Upper: Vec{0.05, 0.16, -1}, Lower: Vec{0.2, -0.05, -1}, Frame: "chest"}
		if l.From == FromKnees {
			p.Rest = []Part{"knee_right"}
		}
	}
	return p
}

// Lever is what a leaning shape asks: shares of body weight, which sum to 1,
// and the moment about the low back as a share of body weight × height.
type Lever struct {
	Hands, Forearms, Toes, Knees float64
	LowBack                      float64
	Compression                  float64 // of the disc between L4 and L5, as a share of body weight
	TrunkDegrees                 float64 // of the trunk from level
	Figure                       Figure
	Scene                        Scene
}

// Work works out the leaning shape.
func (l Lean) Work() (Lever, error) {
	p, scene, err := l.Pose()
	if err != nil {
		return Lever{}, err
	}
	if p, err = p.settled(scene); err != nil {
		return Lever{}, err
	}
	f, err := solve(p, scene)
	if err != nil {
		return Lever{}, err
	}
	loads := f.Carry(scene)
	out := Lever{LowBack: loads.LowBack, Compression: loads.Lumbar.Compression, Figure: f, Scene: scene,
		TrunkDegrees: degrees(math.Asin(clamp(f.Chest.U.Z, -1, 1)))}
	for _, c := range loads.Contacts {
		switch {
		case c.above && l.On == OnForearms:
			out.Forearms += c.Share
		case c.above:
			out.Hands += c.Share
		case l.From == FromKnees:
			out.Knees += c.Share
		default:
			out.Toes += c.Share
		}
	}
	total := out.Hands + out.Forearms + out.Toes + out.Knees
	if total < 0.9 || loads.Residual > 0.02 {
		return out, fmt.Errorf("raise: the shape does not balance on its supports")
	}
	for _, v := range []*float64{&out.Hands, &out.Forearms, &out.Toes, &out.Knees} {
		*v /= total
	}
	return out, nil
}
