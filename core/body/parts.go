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
	Waist     Part = "waist"
)

var pairedParts = []string{"shoulder", "elbow", "forearm", "hand", "thigh", "knee", "shin", "heel", "ball", "toes", "foot", "hip"}

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
	if p == HeadPart || p == ChestPart || p == Seat || p == Waist || p == "feet" || p == "knees" || p == "hands" {
		return nil
	}
	for _, n := range pairedParts {
		if string(p) == n+"_left" || string(p) == n+"_right" {
			return nil
		}
	}
	return fmt.Errorf(
		"%q is not a part of the body; expected head, chest, waist, seat, feet, knees, hands or one of %s with _left or _right",
		p,
		strings.Join(pairedParts, ", "),
	)
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
		hand := handPieces(f.Arms[side], side)
		return append(foreArmPieces(f.Arms[side]), hand[:]...)
	case Thigh:
		c := f.Legs[side]
		third := Ball{c.Root.Mix(c.Mid, 0.33), 0.0475}
		return []Piece{{Ball{c.Root, hipRadius}, third}, {third, Ball{c.Mid, 0.0305}}}
	case Shank:
		p := shankPieces(f.Legs[side])
		return p[:]
	case Foot:
		p := footPieces(f.Legs[side])
		return p[:]
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

func handPieces(c LimbChain, side Side) [7]Piece {
	across := c.Tip.Cross(c.Face).Unit() // toward the thumb or away from it, by side
	if side == Left {
		across = across.Scale(-1)
	}
	at := func(along, out float64) Vec { return c.End.Along(c.Tip, along).Along(across, out) }
	wrist := Ball{c.End, 0.0145}
	k1, k2 := Ball{at(0.042, 0.011), 0.0125}, Ball{at(0.042, -0.012), 0.0120}
	t1, t2 := Ball{at(0.080, 0.007), 0.0085}, Ball{at(0.076, -0.009), 0.0078}
	thumb := Ball{at(0.016, 0.014), 0.0100}
	if c.Fist { // the fingers turn back into the palm
		curled := func(b Ball) Ball { return Ball{b.At.Along(c.Face, 0.020), 0.0105} }
		t1, t2 = curled(Ball{at(0.032, 0.009), 0}), curled(Ball{at(0.032, -0.010), 0})
		return [7]Piece{{wrist, k1}, {wrist, k2}, {k1, k2}, {k1, t1}, {k2, t2}, {t1, t2}, {thumb, Ball{at(0.034, 0.016), 0.0082}}}
	}
	return [7]Piece{
		{wrist, k1}, {wrist, k2}, {k1, k2}, {k1, t1}, {k2, t2}, {t1, t2},
		{thumb, Ball{at(0.048, 0.030), 0.0072}},
	}
}

func shankPieces(c LimbChain) [2]Piece {
	back := c.Lower().Cross(c.Axis).Unit() // away from the kneecap
	calf := Ball{c.Mid.Mix(c.End, 0.30).Along(back, 0.007), 0.0325}
	return [2]Piece{{Ball{c.Mid, 0.0305}, calf}, {calf, Ball{c.End, 0.0185}}}
}

func footPieces(c LimbChain) [5]Piece {
	at := func(along, down float64) Vec { return c.End.Along(c.Tip, along).Along(c.Face, down) }
	heel := Ball{at(-0.024, ankleHeight-0.0185), 0.0185}
	ankle := Ball{c.End, 0.0185}
	instep := Ball{at(0.022, 0.012), 0.0205}
	ball := Ball{at(0.074, ankleHeight-0.0150), 0.0150}
	toe := Ball{ball.At.Along(c.Toes, 0.030).Along(c.Face, 0.004), 0.0110}
	if c.Toes != c.Tip { // bent at the ball: toes and ball on one level
		toe.At = ball.At.Along(c.Toes, 0.030).Add(Vec{Z: -0.004})
	}
	return [5]Piece{{ankle, heel}, {ankle, instep}, {heel, ball}, {instep, ball}, {ball, toe}}
}

// surface finds the balls of a figure's named parts, working out what several
// parts share only once.
type surface struct {
	f    *Figure
	rows [][2]Ball
}

func (s *surface) trunk() [][2]Ball {
	if s.rows == nil {
		s.rows = s.f.torsoRows()
	}
	return s.rows
}

// balls are the round surfaces of one named part.
func (f *Figure) balls(p Part) []Ball { return (&surface{f: f}).balls(nil, p) }

// hipRadius is how far the top of the thigh stands out from the hip's joint, in heights: hips are a
// fifth of the height wide.
const hipRadius = 0.0535

// balls appends the round surfaces of one named part.
func (s *surface) balls(to []Ball, p Part) []Ball {
	f := s.f
	switch p {
	case HeadPart:
		return append(to, f.Skull(), f.Face())
	case ChestPart:
		for _, r := range s.trunk()[len(pelvisLevels)+1:] {
			to = append(to, r[0], r[1])
		}
		return to
	case Waist:
		r := s.trunk()[len(pelvisLevels)]
		return append(to, r[0], r[1])
	case Seat:
		seat := f.seatBalls()
		to = append(to, seat[0], seat[1])
		for _, r := range s.trunk()[:len(pelvisLevels)] {
			to = append(to, r[0], r[1])
		}
		return to
	case "feet", "knees", "hands":
		one := map[Part]Part{"feet": "foot", "knees": "knee", "hands": "hand"}[p]
		return s.balls(s.balls(to, one+"_left"), one+"_right")
	}
	name, on := string(p), Left
	if cut, ok := strings.CutSuffix(name, "_left"); ok {
		name = cut
	} else if cut, ok := strings.CutSuffix(name, "_right"); ok {
		name, on = cut, Right
	} else {
		return to
	}
	arm, leg := &f.Arms[on], &f.Legs[on]
	switch name {
	case "shoulder":
		return append(to, Ball{arm.Root, 0.034})
	case "elbow":
		return append(to, Ball{arm.Mid, 0.0225})
	case "forearm":
		return append(to, Ball{arm.Mid, 0.0225}, Ball{arm.End, 0.0145})
	case "hand":
		h := handPieces(*arm, on)
		return append(to, h[0].A, h[0].B, h[1].B, h[3].B)
	case "hip":
		return append(to, s.trunk()[1][on], Ball{leg.Root, hipRadius})
	case "thigh":
		return append(to, Ball{leg.Root.Mix(leg.Mid, 0.33), 0.0475}, Ball{leg.Root.Mix(leg.Mid, 0.6), 0.0405})
	case "knee":
		return append(to, Ball{leg.Mid, 0.0305})
	case "shin":
		return append(to, shankPieces(*leg)[0].B, Ball{leg.End, 0.0185})
	}
	foot := footPieces(*leg)
	heel, ball, toe := foot[0].B, foot[2].B, foot[4].B
	switch name {
	case "heel":
		return append(to, heel)
	case "ball":
		return append(to, ball)
	case "toes":
		return append(to, toe)
	case "foot":
		return append(to, heel, ball, toe)
	}
	return to
}

// Place is the middle of a part.
func (f *Figure) Place(p Part) Vec { return f.partCentre(p) }

func (f *Figure) partCentre(p Part) Vec {
	b := f.balls(p)
	var c Vec
	for _, x := range b {
		c = c.Add(x.At)
	}
	return c.Scale(1 / float64(max(1, len(b))))
}
