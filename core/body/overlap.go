package body

import "math"

// SurfaceParts are the parts whose surfaces are held against floor, furniture
// and walls.
var SurfaceParts = []Part{
	HeadPart,
	ChestPart,
	Waist,
	Seat,
	"shoulder_left",
	"shoulder_right",
	"elbow_left",
	"elbow_right",
	"forearm_left",
	"forearm_right",
	"hand_left",
	"hand_right",
	"thigh_left",
	"thigh_right",
	"knee_left",
	"knee_right",
	"shin_left",
	"shin_right",
	"foot_left",
	"foot_right",
}

// Sunk is how deep a part lies in the floor, a box or the wall, in body
// heights, and in which.
func (f *Figure) Sunk(p Part, s Scene) (float64, string) {
	worst, where := 0.0, ""
	note := func(depth float64, name string) {
		if depth > worst {
			worst, where = depth, name
		}
	}
	for _, b := range f.balls(p) {
		note(b.Radius-b.At.Z, "the floor")
		if s.Wall != 0 {
			note(b.At.X+b.Radius-s.Wall, "the wall")
		}
		if s.Behind != 0 {
			note(s.Behind-b.At.X+b.Radius, "the wall")
		}
		for _, box := range s.Boxes {
			depth, _ := box.wayOut(b)
			note(depth, "the furniture")
		}
	}
	return worst, where
}

// Clear raises the figure until nothing is sunk: a body that rolls or rises from
// one position into another is lifted over, not dragged through.
func (f *Figure) Clear(s Scene) {
	worst := 0.0
	for _, p := range SurfaceParts {
		depth, _ := f.Sunk(p, s)
		worst = math.Max(worst, depth)
	}
	f.Shift(Vec{Z: worst})
}

// Gap is how far a part's lowest point is above what lies under it, in body
// heights.
func (f *Figure) Gap(p Part, s Scene) float64 {
	gap := math.Inf(1)
	for _, b := range f.balls(p) {
		gap = math.Min(gap, s.above(b))
	}
	return gap
}

// Overlap is a limb that lies inside the trunk or another limb.
type Overlap struct {
	Part  Part
	Other string
	Depth float64
}

// Overlaps lists how deep forearms, hands, shanks and feet lie in the trunk, in
// the thighs and in their opposites. Touching is not deep.
func (f *Figure) Overlaps() []Overlap {
	var out []Overlap
	deepest := func(p Part, other string, balls []Ball, pieces []Piece) {
		worst := 0.0
		for _, b := range balls {
			for _, piece := range pieces {
				worst = math.Max(worst, piece.depth(b))
			}
		}
		if worst > 0 {
			out = append(out, Overlap{p, other, worst})
		}
	}
	torso := f.torsoPieces()
	torso = torso[:len(torso)-3] // neck and shoulders belong to the arms as well
	for s := range f.Arms {
		side := Side(s)
		name := func(part string) Part { return Part(part + "_" + side.String()) }
		arm, leg := f.Arms[s], f.Legs[s]
		fore := []Ball{{arm.Mid.Mix(arm.End, 0.6), 0.02}, {arm.End, 0.0145}, {arm.End.Along(arm.Tip, 0.045), 0.012}}
		shank := []Ball{{leg.Mid.Mix(leg.End, 0.4), 0.03}, {leg.Mid.Mix(leg.End, 0.75), 0.024}, {leg.End, 0.0185}}
		deepest(name("hand"), "trunk", fore, torso)
		deepest(name("foot"), "trunk", shank, torso)
		for o := range f.Legs {
			thigh := f.Pieces(Thigh, Side(o))[1:]
			deepest(name("hand"), Side(o).String()+" thigh", fore, thigh)
		}
		other := side.Other()
		across := shankPieces(f.Legs[other])
		deepest(name("foot"), other.String()+" shank", shank, across[:])
		deepest(name("hand"), other.String()+" forearm", fore, foreArmPieces(f.Arms[other]))
	}
	return out
}

// depth is how far a ball lies in a tapered piece.
func (p Piece) depth(b Ball) float64 {
	axis := p.B.At.Sub(p.A.At)
	t := 0.0
	if l := axis.Dot(axis); l > 1e-12 {
		t = clamp(b.At.Sub(p.A.At).Dot(axis)/l, 0, 1)
	}
	radius := p.A.Radius + (p.B.Radius-p.A.Radius)*t
	return radius + b.Radius - b.At.Sub(p.A.At.Along(axis, t)).Len()
}
