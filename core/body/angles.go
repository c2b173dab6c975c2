package body

import "math"

// Angles are the joint angles of one limb pair, in degrees, measured on a
// solved figure.
type Angles struct {
	HipFlexion    [2]float64 // negative is extension
	HipAbduction  [2]float64 // negative is adduction, across the midline
	HipRotation   [2]float64 // inward positive
	KneeFlexion   [2]float64
	ShoulderLift  [2]float64 // of the upper arm from hanging by the side
	ElbowFlexion  [2]float64
	WristBend     [2]float64 // of the hand from the forearm's line, any way
	AnkleLift     [2]float64 // the foot drawn up toward the shin; negative is pointed
	StraightRaise [2]float64 // how far the nerve behind a straight leg is drawn out; see nerve
}

// Angles measures the figure's limbs.
func (f *Figure) Angles() Angles {
	var a Angles
	for s := range f.Legs {
		leg, arm := f.Legs[s], f.Arms[s]
		t := leg.Upper()
		out := f.Pelvis.L.Scale(signed(s))
		a.HipFlexion[s] = degrees(math.Atan2(t.Dot(f.Pelvis.F), t.Dot(f.Pelvis.U.Scale(-1))))
		if a.HipFlexion[s] < -120 {
			a.HipFlexion[s] += 360
		}
		a.HipAbduction[s] = degrees(math.Asin(clamp(t.Dot(out), -1, 1)))
		// The kneecap's direction against where flexion and then abduction would
		// have carried it: the order of Grood and Suntay, also that of the
		// International Society of Biomechanics (Wu et al. 2002), from memory.
		sin, cos := math.Sincos(a.HipFlexion[s] * math.Pi / 180)
		swung := f.Pelvis.F.Scale(cos).Add(f.Pelvis.U.Scale(sin))
		knee := leg.Axis.Cross(t).Scale(-1) // in front of the thigh
		twist := degrees(math.Atan2(swung.Cross(knee).Dot(t), swung.Dot(knee)))
		a.HipRotation[s] = twist * signed(s)
		a.KneeFlexion[s] = t.AngleTo(leg.Lower())
		a.AnkleLift[s] = leg.Lower().AngleTo(leg.Tip) - 90
		a.StraightRaise[s] = nerve(a.HipFlexion[s], a.KneeFlexion[s], a.AnkleLift[s])
		a.ShoulderLift[s] = arm.Upper().AngleTo(f.Chest.U.Scale(-1))
		a.ElbowFlexion[s] = arm.Upper().AngleTo(arm.Lower())
		a.WristBend[s] = arm.Lower().AngleTo(arm.Tip)
	}
	return a
}

// softKnee is the bend in degrees up to which a knee still counts as straight.
const softKnee = 20

// nerve is how far a leg draws out the nerve behind it, as the degrees of a straight leg
// raised with the foot at rest. A knee that bends past softKnee slackens it two and a half
// times as fast as the hip draws it out; drawing the foot up adds half of its degrees, as
// in the test after Bragard, once the leg is raised at all (both common practice).
func nerve(hip, knee, ankle float64) float64 {
	raised := hip - 2.5*math.Max(0, knee-softKnee)
	if raised <= 0 {
		return 0
	}
	return raised + math.Max(0, math.Min(ankle, raised))/2
}

func clamp(x, lo, hi float64) float64 { return math.Max(lo, math.Min(hi, x)) }
