package body

import (
	"math"
	"strings"
)

// Limbs that nothing holds but their joint: which they are, and what they ask of the
// trunk.

// How near, in heights, a leg must be to a surface to rest on it, and a hand or the
// other leg to a leg to hold it.
const (
	legRests  = 0.02
	limbHolds = 0.07
)

// inTheAir says whether nothing holds a leg but its hip: no surface, no strap, no hand,
// and not the other leg unless that is in the air itself.
func (f *Figure) inTheAir(side Side, contacts []Contact, s Scene) bool {
	carried := func(side Side) bool {
		return s.Strapped[side] || f.legBears(side, contacts, s) || f.handHolds(side)
	}
	return !carried(side) && !(f.legsTouch() && carried(1-side))
}

// legBears says whether a leg lies on a surface far enough out to rest there: at the
// foot, at the shin or knee of a bent leg, or sitting at the thigh. Where a straight leg
// that is lifted lies near the hip it is not held up.
func (f *Figure) legBears(side Side, contacts []Contact, s Scene) bool {
	bent := f.Legs[side].Upper().AngleTo(f.Legs[side].Lower()) > bentKnee
	seated := f.Pelvis.U.Z > 0.5
	for _, c := range contacts {
		far := !strings.HasPrefix(string(c.Part), "thigh") && !strings.HasPrefix(string(c.Part), "knee")
		if c.leg && sideOf(c.Part) == side && (far || bent || seated) {
			return true
		}
	}
	parts := []string{"heel_", "ball_", "toes_"}
	if bent {
		parts = append(parts, "knee_", "shin_")
	}
	for _, part := range parts {
		if f.Gap(Part(part+side.String()), s) < legRests {
			return true
		}
	}
	return false
}

// bentKnee is the angle from which a leg rests on its knee or shin too.
const bentKnee = 45.0

// LegHeld says whether a hand or the other leg holds a leg up, if that is held itself.
func (f *Figure) LegHeld(side Side) bool {
	return f.handHolds(side) || f.legsTouch() && f.handHolds(1-side)
}

// handHolds says whether a hand is at a leg.
func (f *Figure) handHolds(side Side) bool {
	leg := f.Legs[side]
	for _, arm := range f.Arms {
		hand := arm.End.Along(arm.Tip, handLength/2)
		if math.Min(distance(hand, leg.Root.Mix(leg.Mid, 0.5), leg.Mid), distance(hand, leg.Mid, leg.End)) < limbHolds {
			return true
		}
	}
	return false
}

// legsTouch says whether an ankle lies against the other leg.
func (f *Figure) legsTouch() bool {
	for side := Left; side <= Right; side++ {
		end, other := f.Legs[side].End, f.Legs[1-side]
		if math.Min(distance(end, other.Root, other.Mid), distance(end, other.Mid, other.End)) <= limbHolds {
			return true
		}
	}
	return false
}

// armAloft is the moment of an arm that bears on nothing about the lowest ribs.
func (f *Figure) armAloft(side Side, contacts []Contact, s Scene, arm []mass) float64 {
	for _, c := range contacts {
		if c.arm && sideOf(c.Part) == side {
			return 0
		}
	}
	for _, part := range []string{"hand_", "elbow_", "forearm_"} {
		if f.Gap(Part(part+side.String()), s) < legRests {
			return 0
		}
	}
	if f.Pose.Arms[side].Pin != nil { // it holds on to something, or lies on the body
		return 0
	}
	sum := 0.0
	for _, m := range arm {
		away := m.at.Sub(f.LowestRibs())
		sum += m.share * math.Hypot(away.X, away.Y)
	}
	return sum
}

// headOnArm is how high, in heights, the head of a body on its side lies on an arm or a pillow.
const headOnArm = 0.10

// curled is the moment of head, ribs and arms that are lifted, about the place nearest the
// head where the trunk still lies: the front of the trunk holds them, or the back, whatever
// else the floor carries. The masses are those above the lowest ribs and those of the low back.
func (f *Figure) curled(contacts []Contact, ribs, lumbar []mass, s Scene) float64 {
	aside := math.Abs(f.Pelvis.L.Z) > 0.5 && math.Abs(f.Chest.L.Z) > 0.5
	if upright := !aside && math.Abs(f.Pelvis.F.Z) < 0.3 && math.Abs(f.Chest.F.Z) < 0.3; upright {
		return 0
	}
	if aside && f.Gap(HeadPart, s) < headOnArm {
		return 0
	}
	toHead := f.NeckBase().Sub(f.Origin)
	toHead = Vec{toHead.X, toHead.Y, 0}.Unit()
	last, highest := math.Inf(-1), 0.0
	for _, c := range contacts {
		switch {
		case c.Part == HeadPart:
			return 0
		case !c.arm && !c.leg:
			last, highest = math.Max(last, c.At.Dot(toHead)), math.Max(highest, c.At.Z)
		}
	}
	if skull := f.Skull(); aside && skull.At.Z-skull.Radius < highest { // it hangs over what is under it
		return 0
	}
	if math.IsInf(last, 0) {
		return 0
	}
	sum := 0.0
	for _, m := range append(append([]mass(nil), ribs...), lumbar...) {
		sum += m.share * math.Max(0, m.at.Dot(toHead)-last)
	}
	return sum
}

// distance is how far a point is from the piece between two others.
func distance(p, a, b Vec) float64 {
	along := b.Sub(a)
	t := clamp(p.Sub(a).Dot(along)/math.Max(1e-12, along.Dot(along)), 0, 1)
	return p.Sub(a.Along(along, t)).Len()
}

// flexors is the moment of a leg's weight that would let the hip extend.
func (f *Figure) flexors(side Side, leg []mass) float64 {
	hip := f.Legs[side].Root
	flexion := f.Angles().HipFlexion[side] * math.Pi / 180
	sin, cos := math.Sincos(flexion)
	ahead := f.Pelvis.F.Scale(cos).Add(f.Pelvis.U.Scale(sin)) // where more flexion would take the thigh
	along := f.Pelvis.F.Scale(sin).Add(f.Pelvis.U.Scale(-cos))
	sum := 0.0
	for _, m := range leg {
		out := m.at.Sub(hip)
		// Weight pulls along −z: its part across the thigh, times how far out it is, and
		// its part along, times how far ahead.
		sum += m.share * (ahead.Z*out.Dot(along) - along.Z*out.Dot(ahead))
	}
	return math.Max(0, sum)
}
