package body

import "math"

// Contact is a place where the body bears on a surface and the share of body
// weight it carries there.
type Contact struct {
	Part  Part
	At    Vec
	Share float64
	above bool // bears on the part of the body above the low back
}

// Loads is how one posture is carried: every contact with its share of body
// weight, and the net moments of gravity and contacts about the joints, as
// shares of body weight × height. Muscle forces, soft tissue and motion are
// left out: these are external moments of a rigid body at rest.
type Loads struct {
	Contacts   []Contact
	LowBack    float64 // magnitude at L4/5
	LowestRibs float64
	Neck       float64
	Hips       [2]float64
	Centre     Vec
	// Residual is how far the contacts fail to balance the body, as a share of
	// body weight: over about 0.02 the centre of mass is outside the base.
	Residual float64
}

// touching is how near a part must be to a surface to bear on it, in heights.
const touching = 0.009

// bearing lists the parts that can carry weight and whether they are above the
// low back.
var bearing = []struct {
	part  Part
	above bool
}{
	{HeadPart, true}, {ChestPart, true},
	{"shoulder_left", true}, {"shoulder_right", true}, {"elbow_left", true}, {"elbow_right", true},
	{"forearm_left", true}, {"forearm_right", true}, {"hand_left", true}, {"hand_right", true},
	{Seat, false}, {"hip_left", false}, {"hip_right", false}, {"thigh_left", false}, {"thigh_right", false},
	{"knee_left", false}, {"knee_right", false}, {"shin_left", false}, {"shin_right", false},
	{"heel_left", false}, {"heel_right", false}, {"ball_left", false}, {"ball_right", false},
	{"toes_left", false}, {"toes_right", false},
}

// touches finds the places where the figure bears on a surface: of each part
// every ball that is down.
func (f *Figure) touches(s Scene) []Contact {
	var out []Contact
	for _, b := range bearing {
		for _, ball := range f.balls(b.part) {
			surface := s.heightUnder(ball.At)
			if gap := ball.At.Z - ball.Radius - surface; gap < touching {
				out = append(out, Contact{Part: b.part, At: Vec{ball.At.X, ball.At.Y, surface}, above: b.above})
			}
		}
	}
	return out
}

// mass is a lump of the body: its share of body mass, its place and whether it
// hangs above each joint of interest.
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
	var c Vec
	total := 0.0
	for _, m := range f.masses() {
		c = c.Along(m.at, m.share)
		total += m.share
	}
	return c.Scale(1 / total)
}

func (f *Figure) masses() []mass {
	arms, legs := f.limbMasses()
	lumbar, thorax := f.trunkMasses()
	all := append(lumbar, thorax...)
	all = append(all, f.headMass(), mass{massPelvis, f.Origin})
	for side := range arms {
		all = append(append(all, arms[side]...), legs[side]...)
	}
	return all
}

// Carry works out how the posture is carried. Contacts only push, straight up;
// of all the ways of sharing the weight that keep the body in balance it takes
// the one with the smallest sum of squared moments about neck, lowest ribs,
// low back and hips.
func (f *Figure) Carry(s Scene) Loads {
	contacts := f.touches(s)
	arms, legs := f.limbMasses()
	lumbar, thorax := f.trunkMasses()
	head := []mass{f.headMass()}
	ribs := append(append(append(append([]mass(nil), thorax...), head...), arms[0]...), arms[1]...)
	upper := append(append([]mass(nil), lumbar[1:]...), ribs...)

	onHead := func(c Contact) bool { return c.Part == HeadPart }
	onUpper := func(c Contact) bool { return c.above }
	onLeg := func(side Side) func(Contact) bool {
		return func(c Contact) bool {
			return !c.above && c.Part != Seat && c.Part != "hip_left" && c.Part != "hip_right" && sideOf(c.Part) == side
		}
	}
	joints := []struct {
		at   Vec
		hang []mass
		on   func(Contact) bool
	}{
		{f.NeckBase(), head, onHead},
		{f.LowestRibs(), ribs, onUpper},
		{f.LowBack(), upper, onUpper},
		{f.Legs[Left].Root, legs[Left], onLeg(Left)},
		{f.Legs[Right].Root, legs[Right], onLeg(Right)},
	}

	centre := f.CentreOfMass()
	n := len(contacts)
	rows := make([][]float64, 0, 3+2*len(joints))
	want := make([]float64, 0, 3+2*len(joints))
	add := func(w, target float64, coefficient func(Contact) float64) {
		row := make([]float64, n)
		for i, c := range contacts {
			row[i] = w * coefficient(c)
		}
		rows, want = append(rows, row), append(want, w*target)
	}
	const balance = 300 // weight of equilibrium against comfort
	add(balance, 1, func(Contact) float64 { return 1 })
	add(balance, 0, func(c Contact) float64 { return c.At.X - centre.X })
	add(balance, 0, func(c Contact) float64 { return c.At.Y - centre.Y })
	for _, j := range joints {
		var gx, gy float64
		for _, m := range j.hang {
			gx += m.share * (m.at.X - j.at.X)
			gy += m.share * (m.at.Y - j.at.Y)
		}
		pick := func(d func(Vec) float64) func(Contact) float64 {
			return func(c Contact) float64 {
				if !j.on(c) {
					return 0
				}
				return d(c.At.Sub(j.at))
			}
		}
		add(1, gx, pick(func(v Vec) float64 { return v.X }))
		add(1, gy, pick(func(v Vec) float64 { return v.Y }))
	}
	force := pushOnly(rows, want)

	out := Loads{Contacts: contacts, Centre: centre}
	for i := range contacts {
		out.Contacts[i].Share = force[i]
	}
	for r := range 3 {
		miss := -want[r]
		for i := range force {
			miss += rows[r][i] * force[i]
		}
		out.Residual = math.Max(out.Residual, math.Abs(miss)/balance)
	}
	moment := func(k int) float64 {
		var m [2]float64
		for a := range m {
			r := 3 + 2*k + a
			m[a] = -want[r]
			for i := range force {
				m[a] += rows[r][i] * force[i]
			}
		}
		return math.Hypot(m[0], m[1])
	}
	out.Neck, out.LowestRibs, out.LowBack = moment(0), moment(1), moment(2)
	out.Hips = [2]float64{moment(3), moment(4)}
	return out
}

func sideOf(p Part) Side {
	if len(p) > 5 && p[len(p)-5:] == "right" {
		return Right
	}
	return Left
}

// Share sums what the named parts carry, as a share of body weight.
func (l Loads) Share(parts ...Part) float64 {
	sum := 0.0
	for _, c := range l.Contacts {
		for _, p := range parts {
			if c.Part == p {
				sum += c.Share
			}
		}
	}
	return sum
}
