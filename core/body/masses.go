package body

// LegMass is a leg's share of body mass: Winter, after Dempster (from memory).
const LegMass = massThigh + massShank + massFoot

// mass is a lump of the body: its share of body mass and its place.
type mass struct {
	share float64
	at    Vec
}

// How far in front of the spine the mass of trunk slices lies, in heights.
const trunkMassAhead = 0.028

func (f *Figure) limbMasses() (arms, legs [2][]mass) {
	for side := range f.Arms {
		a, l := f.Arms[side], f.Legs[side]
		arms[side] = []mass{
			{massUpperArm, a.Root.Mix(a.Mid, centreUpperArm)},
			{massForeArm, a.Mid.Mix(a.End, centreForeArm)},
			{massHand, a.End.Along(a.Tip, handLength*centreHand)},
		}
		legs[side] = []mass{
			{massThigh, l.Root.Mix(l.Mid, centreThigh)},
			{massShank, l.Mid.Mix(l.End, centreShank)},
			{massFoot, l.End.Along(l.Tip, 0.04).Along(l.Face, ankleHeight*centreFoot)},
		}
	}
	return
}

func (f *Figure) headMass() mass { return mass{massHead, f.Skull().At} }

func (f *Figure) trunkMasses() (lumbar, thorax []mass) {
	for i, v := range f.Spine[:lumbarCount+thoracicCount] {
		at := v.At.Along(v.Frame.F, trunkMassAhead)
		if i < lumbarCount {
			lumbar = append(lumbar, mass{massAbdomen / lumbarCount, at})
		} else {
			thorax = append(thorax, mass{massThorax / thoracicCount, at})
		}
	}
	return
}

// CentreOfMass is the whole body's, in body heights.
func (f *Figure) CentreOfMass() Vec {
	c, _ := f.carried([2]bool{})
	return c
}

// carried is the centre of mass and the weight of the body without the arms that lie on
// something by themselves.
func (f *Figure) carried(lies [2]bool) (centre Vec, weight float64) {
	for _, m := range f.masses(lies) {
		centre = centre.Along(m.at, m.share)
		weight += m.share
	}
	return centre.Scale(1 / weight), weight
}

func (f *Figure) masses(without [2]bool) []mass {
	arms, legs := f.limbMasses()
	for side := range arms {
		if without[side] {
			arms[side] = nil
		}
	}
	lumbar, thorax := f.trunkMasses()
	all := append(lumbar, thorax...)
	all = append(all, f.headMass(), mass{massPelvis, f.Origin})
	for side := range arms {
		all = append(append(all, arms[side]...), legs[side]...)
	}
	return all
}
