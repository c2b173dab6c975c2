package body

import (
	"fmt"
	"math"
	"strings"
)

// Part names a piece of the body that can rest on something.
type Part string

const (
	HeadPart  Part = "head"
	ChestPart Part = "chest"
	Seat      Part = "seat"
)

var pairedParts = []string{"shoulder", "elbow", "forearm", "hand", "thigh", "knee", "shin", "heel", "ball", "toes", "foot", "side_foot", "hip"}

// Mirror swaps left and right.
func (p Part) Mirror() Part {
	s := string(p)
	switch {
	case strings.HasSuffix(s, "_left"):
		return Part(strings.TrimSuffix(s, "_left") + "_right")
	case strings.HasSuffix(s, "_right"):
		return Part(strings.TrimSuffix(s, "_right") + "_left")
	}
	return p
}

// CheckPart says whether the name is a part of the body.
func CheckPart(p Part) error {
	if p == HeadPart || p == ChestPart || p == Seat || p == "feet" || p == "knees" || p == "hands" {
		return nil
	}
	for _, n := range pairedParts {
		if string(p) == n+"_left" || string(p) == n+"_right" {
			return nil
		}
	}
	return fmt.Errorf("%q is not a part of the body; expected head, chest, seat, feet, knees, hands or one of %s with _left or _right",
		p, strings.Join(pairedParts, ", "))
}

// Ball is a round piece of the body's surface, in body heights.
type Ball struct {
	At     Vec
	Radius float64
}

// Segment is a piece of the body that is drawn in one outline.
type Segment int

const (
	Torso Segment = iota
	HeadSegment
	UpperArm
	ForeArm
	Thigh
	Shank
	Foot
)

// Piece is one tapered piece of a segment: the hull of two balls.
type Piece struct {
	A, B Ball
}

// Torso levels: half-width, half-depth and how far in front of the spine (or,
// for the pelvis, of the hips' midpoint), in body heights.
type level struct{ width, depth, ahead float64 }

var pelvisLevels = []struct {
	up float64
	level
}{
	{-0.036, level{0.078, 0.050, -0.004}},
	{0, level{0.091, 0.056, -0.004}},
	{0.038, level{0.086, 0.055, -0.002}},
}

// Vertebra index at which each level of the trunk sits.
var trunkLevels = []struct {
	at int
	level
}{
	{2, level{0.076, 0.052, 0.022}},
	{5, level{0.077, 0.056, 0.024}},
	{7, level{0.084, 0.060, 0.028}},
	{10, level{0.091, 0.065, 0.033}},
	{12, level{0.095, 0.066, 0.036}},
	{14, level{0.090, 0.061, 0.034}},
	{15, level{0.070, 0.047, 0.022}},
}

// pair gives the two balls, left and right, of a torso level.
func pair(centre Vec, left Vec, l level) [2]Ball {
	out := math.Max(0, l.width-l.depth)
	return [2]Ball{{centre.Along(left, out), l.depth}, {centre.Along(left, -out), l.depth}}
}

func (f *Figure) torsoRows() [][2]Ball {
	rows := make([][2]Ball, 0, len(pelvisLevels)+len(trunkLevels))
	for _, l := range pelvisLevels {
		rows = append(rows, pair(f.Origin.Add(f.Pelvis.World(Vec{l.ahead, 0, l.up})), f.Pelvis.L, l.level))
	}
	for _, l := range trunkLevels {
		v := f.Spine[l.at]
		rows = append(rows, pair(v.At.Along(v.Frame.F, l.ahead), v.Frame.L, l.level))
	}
	return rows
}

func (f *Figure) seatBalls() [2]Ball {
	return [2]Ball{
		{f.Origin.Add(f.Pelvis.World(Vec{-0.026, 0.040, -0.034})), 0.052},
		{f.Origin.Add(f.Pelvis.World(Vec{-0.026, -0.040, -0.034})), 0.052},
	}
}

// Skull is the ball of the cranium; Face, Chin and Nose stand out from it.
func (f *Figure) Skull() Ball { return Ball{f.headAt(Vec{0.008, 0, 0.040}), 0.056} }
func (f *Figure) Face() Ball  { return Ball{f.headAt(Vec{0.028, 0, 0.012}), 0.045} }
func (f *Figure) Chin() Ball  { return Ball{f.headAt(Vec{0.044, 0, -0.022}), 0.023} }
func (f *Figure) Nose() Ball  { return Ball{f.headAt(Vec{0.073, 0, 0.010}), 0.0075} }

func (f *Figure) headAt(v Vec) Vec { return f.Neck.Add(f.Head.World(v)) }

// Pieces are the tapered pieces of one segment; side is ignored for torso and
// head.
func (f *Figure) Pieces(seg Segment, side Side) []Piece {
	switch seg {
	case Torso:
		return f.torsoPieces()
	case HeadSegment:
		return []Piece{{f.Skull(), f.Face()}, {f.Face(), f.Chin()}, {f.Nose(), Ball{f.Face().At, 0.03}}}
	case UpperArm:
		return armPieces(f.Arms[side])
	case ForeArm:
		return append(foreArmPieces(f.Arms[side]), handPieces(f.Arms[side], side)...)
	case Thigh:
		c := f.Legs[side]
		third := Ball{c.Root.Mix(c.Mid, 0.33), 0.0475}
		return []Piece{{Ball{c.Root, 0.0535}, third}, {third, Ball{c.Mid, 0.0305}}}
	case Shank:
		return shankPieces(f.Legs[side])
	case Foot:
		return footPieces(f.Legs[side])
	}
	return nil
}

func (f *Figure) torsoPieces() []Piece {
	rows := f.torsoRows()
	var out []Piece
	for i, r := range rows {
		out = append(out, Piece{r[0], r[1]})
		if i > 0 {
			out = append(out, Piece{rows[i-1][0], r[0]}, Piece{rows[i-1][1], r[1]}, Piece{rows[i-1][0], r[1]}, Piece{rows[i-1][1], r[0]})
		}
	}
	seat := f.seatBalls()
	out = append(out, Piece{seat[0], seat[0]}, Piece{seat[1], seat[1]})
	neck := f.Spine[lumbarCount+thoracicCount]
	low := Ball{neck.At.Along(neck.Frame.F, 0.010), 0.034}
	out = append(out, Piece{low, Ball{f.Neck.Along(f.Head.F, 0.008), 0.029}})
	for side := range f.Arms {
		out = append(out, Piece{low, Ball{f.Arms[side].Root.Mix(low.At, 0.12), 0.0265}})
	}
	return out
}

func armPieces(c LimbChain) []Piece {
	mid := Ball{c.Root.Mix(c.Mid, 0.35), 0.0300}
	return []Piece{{Ball{c.Root, 0.0340}, mid}, {mid, Ball{c.Mid, 0.0225}}}
}

func foreArmPieces(c LimbChain) []Piece {
	bulk := Ball{c.Mid.Mix(c.End, 0.25), 0.0240}
	return []Piece{{Ball{c.Mid, 0.0225}, bulk}, {bulk, Ball{c.End, 0.0145}}}
}

func handPieces(c LimbChain, side Side) []Piece {
	across := c.Tip.Cross(c.Face).Unit() // toward the thumb or away from it, by side
	if side == Left {
		across = across.Scale(-1)
	}
	at := func(along, out float64) Vec { return c.End.Along(c.Tip, along).Along(across, out) }
	wrist := Ball{c.End, 0.0145}
	k1, k2 := Ball{at(0.042, 0.011), 0.0125}, Ball{at(0.042, -0.012), 0.0120}
	t1, t2 := Ball{at(0.080, 0.007), 0.0085}, Ball{at(0.076, -0.009), 0.0078}
	thumb := Ball{at(0.016, 0.014), 0.0100}
	return []Piece{
		{wrist, k1}, {wrist, k2}, {k1, k2}, {k1, t1}, {k2, t2}, {t1, t2},
		{thumb, Ball{at(0.048, 0.030), 0.0072}},
	}
}

func shankPieces(c LimbChain) []Piece {
	back := c.Lower().Cross(c.Axis).Unit() // away from the kneecap
	calf := Ball{c.Mid.Mix(c.End, 0.30).Along(back, 0.007), 0.0325}
	return []Piece{{Ball{c.Mid, 0.0305}, calf}, {calf, Ball{c.End, 0.0185}}}
}

func footPieces(c LimbChain) []Piece {
	at := func(along, down float64) Vec { return c.End.Along(c.Tip, along).Along(c.Face, down) }
	heel := Ball{at(-0.024, ankleHeight-0.0185), 0.0185}
	ankle := Ball{c.End, 0.0185}
	instep := Ball{at(0.022, 0.012), 0.0205}
	ball := Ball{at(0.074, ankleHeight-0.0150), 0.0150}
	toe := Ball{ball.At.Along(c.Toes, 0.030).Along(c.Face, 0.004), 0.0110}
	if c.Toes != c.Tip { // bent at the ball: toes and ball on one level
		toe.At = ball.At.Along(c.Toes, 0.030).Add(Vec{Z: -0.004})
	}
	return []Piece{{ankle, heel}, {ankle, instep}, {heel, ball}, {instep, ball}, {ball, toe}}
}

// balls are the round surfaces of one named part.
func (f *Figure) balls(p Part) []Ball {
	switch p {
	case HeadPart:
		return []Ball{f.Skull(), f.Face()}
	case ChestPart:
		var out []Ball
		for _, r := range f.torsoRows()[len(pelvisLevels)+1:] {
			out = append(out, r[0], r[1])
		}
		return out
	case Seat:
		s := f.seatBalls()
		out := s[:]
		for _, r := range f.torsoRows()[:len(pelvisLevels)] {
			out = append(out, r[0], r[1])
		}
		return out
	case "feet":
		return append(f.balls("foot_left"), f.balls("foot_right")...)
	case "knees":
		return append(f.balls("knee_left"), f.balls("knee_right")...)
	case "hands":
		return append(f.balls("hand_left"), f.balls("hand_right")...)
	}
	name, side, ok := strings.Cut(string(p), "_")
	if !ok {
		return nil
	}
	s := Left
	if side == "right" {
		s = Right
	}
	arm, leg := f.Arms[s], f.Legs[s]
	foot := footPieces(leg)
	heel, ball, toe := foot[0].B, foot[2].B, foot[4].B
	switch name {
	case "shoulder":
		return []Ball{{arm.Root, 0.034}}
	case "elbow":
		return []Ball{{arm.Mid, 0.0225}}
	case "forearm":
		return []Ball{{arm.Mid, 0.0225}, {arm.End, 0.0145}}
	case "hand":
		h := handPieces(arm, s)
		return []Ball{h[0].A, h[0].B, h[1].B, h[3].B}
	case "hip":
		return []Ball{f.torsoRows()[1][s]}
	case "thigh":
		return []Ball{{leg.Root.Mix(leg.Mid, 0.33), 0.0475}, {leg.Root.Mix(leg.Mid, 0.6), 0.0405}}
	case "knee":
		return []Ball{{leg.Mid, 0.0305}}
	case "shin":
		return []Ball{shankPieces(leg)[0].B, {leg.End, 0.0185}}
	case "heel":
		return []Ball{heel}
	case "ball":
		return []Ball{ball}
	case "toes":
		return []Ball{toe}
	case "foot":
		return []Ball{heel, ball, toe}
	case "side_foot": // the outer edge, for a side bridge on the feet
		return []Ball{foot[1].B, ball}
	}
	return nil
}

func (f *Figure) partCentre(p Part) Vec {
	b := f.balls(p)
	var c Vec
	for _, x := range b {
		c = c.Add(x.At)
	}
	return c.Scale(1 / float64(max(1, len(b))))
}
