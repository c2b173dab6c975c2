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
	StraightRaise [2]float64 // hip flexion while the knee is nearly straight, else 0
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
		if a.KneeFlexion[s] < 20 {
			a.StraightRaise[s] = math.Max(0, a.HipFlexion[s])
		}
		a.ShoulderLift[s] = arm.Upper().AngleTo(f.Chest.U.Scale(-1))
		a.ElbowFlexion[s] = arm.Upper().AngleTo(arm.Lower())
	}
	return a
}

func clamp(x, lo, hi float64) float64 { return math.Max(lo, math.Min(hi, x)) }
