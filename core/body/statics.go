package body

import (
	"math"
	"strings"
)

// Contact is a place where the body bears on a surface and the share of body
// weight it carries there.
type Contact struct {
	Part   Part
	At     Vec
	Share  float64
	above  bool // bears on the part of the body above the low back
	leg    bool // bears on a leg
	arm    bool // bears on an arm
	normal Vec  // square to the surface, toward the body
}

// LegMass is a leg's share of body mass: Winter, after Dempster (from memory).
const LegMass = massThigh + massShank + massFoot

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
	// TrunkLever is how far, level, the weight of everything above the low back
	// hangs out from it, and LegLevers each leg's weight from its hip; in heights.
	TrunkLever float64
	LegLevers  [2]float64
	// Flexors is the moment with which the flexors of each hip hold up a leg that bears
	// on nothing, as a share of body weight × height; 0 for a leg that bears, or that
	// hangs. The pull of those muscles is on the low back.
	Flexors [2]float64
	// Leg is what each leg carries, and Air whether nothing holds it but its hip.
	Leg [2]float64
	Air [2]bool
	// Curl is the moment, lying on the back, of what is lifted off the surface at the head's
	// end about the last place that still lies on it; 0 while the head lies down.
	Curl float64
	// Arms is the moment of each arm's weight about the lowest ribs where the arm bears
	// on nothing; 0 where it does.
	Arms [2]float64
	// Residual is how far the contacts fail to balance the body, as a share of
	// body weight: over about 0.02 the centre of mass is outside the base.
	Residual float64
}

// touching is how near a part must be to a surface to bear on it, in heights.
const touching = 0.009

// bearing lists the parts that can carry weight and where they belong.
var bearing = []struct {
	part       Part
	above, leg bool
}{
	{HeadPart, true, false},
	{ChestPart, true, false},
	{Waist, true, false},
	{"shoulder_left", true, false},
	{"shoulder_right", true, false},
	{"elbow_left", true, false},
	{"elbow_right", true, false},
	{"forearm_left", true, false},
	{"forearm_right", true, false},
	{"hand_left", true, false},
	{"hand_right", true, false},
	{
		Seat,
		false,
		false,
	},
	{"hip_left", false, false},
	{"hip_right", false, false},
	{"thigh_left", false, true},
	{"thigh_right", false, true},
	{"knee_left", false, true},
	{"knee_right", false, true},
	{"shin_left", false, true},
	{"shin_right", false, true},
	{"heel_left", false, true},
	{"heel_right", false, true},
	{"ball_left", false, true},
	{"ball_right", false, true},
	{"toes_left", false, true},
	{"toes_right", false, true},
}

// touches finds the places where the figure bears on a surface: of each part
// every ball that is down, or against a wall.
func (f *Figure) touches(s Scene) []Contact {
	var out []Contact
	skin := surface{f: f}
	var store [20]Ball
	for _, b := range bearing {
		arm := b.above && b.part != HeadPart && b.part != ChestPart && b.part != Waist && !strings.HasPrefix(string(b.part), "shoulder")
		for _, ball := range skin.balls(store[:0], b.part) {
			surface, gap := s.under(ball)
			if gap < touching {
				out = append(out,
					Contact{
						Part:   b.part,
						At:     Vec{ball.At.X, ball.At.Y, surface},
						above:  b.above,
						leg:    b.leg,
						arm:    arm,
						normal: Vec{0, 0, 1},
					},
				)
			}
			if s.Wall != 0 && s.Wall-ball.At.X-ball.Radius < touching {
				out = append(out,
					Contact{
						Part:   b.part,
						At:     Vec{s.Wall, ball.At.Y, ball.At.Z},
						above:  b.above,
						leg:    b.leg,
						arm:    arm,
						normal: Vec{-1, 0, 0},
					},
				)
			}
			if s.Behind != 0 && ball.At.X-ball.Radius-s.Behind < touching {
				out = append(out,
					Contact{
						Part:   b.part,
						At:     Vec{s.Behind, ball.At.Y, ball.At.Z},
						above:  b.above,
						leg:    b.leg,
						arm:    arm,
						normal: Vec{1, 0, 0},
					},
				)
			}
		}
	}
	return out
}

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

// push is one direction a contact can push in, scaled so that its share square
// to the surface is 1.
type push struct {
	contact int
	at, dir Vec
}

// friction is how far a push may lean away from square to its surface. A dry
// sole or palm; common practice.
const friction = 0.6

// pushes lists what each contact can do. A hand or elbow that props the
// shoulder pushes along the arm, as far as friction lets it; any other contact
// pushes straight, and at the edges of its cone of friction too when something has to
// be held against: an arm that pushes aslant on a wall or a raised surface, or a pull
// to the side.
func (f *Figure) pushes(contacts []Contact, aslant bool) []push {
	dirs := make([]Vec, len(contacts))
	for i, c := range contacts {
		dirs[i] = c.normal
		aslant = aslant || c.normal.Z == 0 && !c.arm
		if !c.arm || c.normal.Z > 0 && c.At.Z < 0.02 {
			continue
		}
		line := f.Arms[sideOf(c.Part)].Root.Sub(c.At).Unit()
		along := line.Dot(c.normal)
		if along > 0.2 {
			lean := line.Perp(c.normal).Scale(1 / along)
			if steep := lean.Len(); steep > friction {
				lean = lean.Scale(friction / steep)
			}
			dirs[i] = c.normal.Add(lean)
			aslant = true
		}
	}
	var out []push
	for i, c := range contacts {
		out = append(out, push{i, c.At, dirs[i]})
		if !aslant || c.arm {
			continue
		}
		across := Vec{0, 1, 0}
		for _, lean := range []Vec{across, across.Cross(c.normal)} {
			out = append(out, push{i, c.At, c.normal.Along(lean, friction)}, push{i, c.At, c.normal.Along(lean, -friction)})
		}
	}
	return out
}

// The joints whose moments Carry keeps small, in the order of its rows.
const (
	neck = iota
	lowestRibs
	lowBack
	leftHip
	rightHip
)

// The rows of the equations that Carry solves: the balance of forces along x, y and z,
// the balance of moments about the centre of mass about each, and then for each joint
// the moment about x, y and z that is to be small.
const (
	forceRows = 0
	turnRows  = forceRows + 3
	jointRows = turnRows + 3
)

// rowsOf is the first of a joint's three rows.
func rowsOf(joint int) int { return jointRows + 3*joint }

// Carry works out how the posture is carried. Contacts only push; of all the
// ways of sharing the weight that keep the body in balance it takes the one
// with the smallest sum of squared moments about neck, lowest ribs, low back
// and hips.
func (f *Figure) Carry(s Scene) Loads {
	contacts := f.touches(s)
	arms, legs := f.limbMasses()
	for side := range arms {
		// A hand resting on hip or thigh leaves forearm and hand to the pelvis.
		if pin := f.Pose.Arms[side].Pin; pin != nil && pin.Of == "pelvis_frame" {
			arms[side] = arms[side][:1]
		}
	}
	lumbar, thorax := f.trunkMasses()
	head := []mass{f.headMass()}
	ribs := append(append(append(append([]mass(nil), thorax...), head...), arms[0]...), arms[1]...)
	upper := append(append([]mass(nil), lumbar[1:]...), ribs...)
	joints := []struct {
		at     Vec
		hang   []mass
		on     func(Contact) bool
		pulled func(outside) bool
	}{
		neck:       {f.NeckBase(), head, func(c Contact) bool { return c.Part == HeadPart }, func(outside) bool { return false }},
		lowestRibs: {f.LowestRibs(), ribs, func(c Contact) bool { return c.above }, func(o outside) bool { return o.arm }},
		lowBack:    {f.LowBack(), upper, func(c Contact) bool { return c.above }, func(o outside) bool { return o.arm }},
		leftHip: {
			f.Legs[Left].Root,
			legs[Left],
			func(c Contact) bool { return c.leg && sideOf(c.Part) == Left },
			func(o outside) bool { return o.leg && o.side == Left },
		},
		rightHip: {
			f.Legs[Right].Root,
			legs[Right],
			func(c Contact) bool { return c.leg && sideOf(c.Part) == Right },
			func(o outside) bool { return o.leg && o.side == Right },
		},
	}
	centre := f.CentreOfMass()
	outsides := f.outsides(s.Pulls)
	var pulled, turned Vec
	for _, o := range outsides {
		pulled = pulled.Add(o.force)
		turned = turned.Add(o.at.Sub(centre).Cross(o.force))
	}
	level := math.Hypot(pulled.X, pulled.Y) > 1e-9
	gens := f.pushes(contacts, level)
	sys := newSystem(len(gens))
	// forceRows and turnRows
	const balance = 300 // its weight against comfort
	for axis, want := range []float64{0, 0, 1} {
		sys.row(balance, want-pulled.axis(axis), func(i int) float64 { return gens[i].dir.axis(axis) })
	}
	for axis := range 3 {
		sys.row(balance, -turned.axis(axis), func(i int) float64 { return gens[i].at.Sub(centre).Cross(gens[i].dir).axis(axis) })
	}
	var levers [rightHip + 1]float64
	for k, j := range joints {
		var gravity Vec
		total := 0.0
		for _, m := range j.hang {
			gravity = gravity.Add(m.at.Sub(j.at).Cross(Vec{0, 0, -m.share}))
			total += m.share
		}
		levers[k] = gravity.Len() / total
		for _, o := range outsides {
			if j.pulled(o) {
				gravity = gravity.Add(o.at.Sub(j.at).Cross(o.force))
			}
		}
		for axis := range 3 {
			sys.row(1, -gravity.axis(axis), func(i int) float64 {
				if !j.on(contacts[gens[i].contact]) {
					return 0
				}
				return gens[i].at.Sub(j.at).Cross(gens[i].dir).axis(axis)
			})
		}
	}
	force := pushOnly(sys.rows, sys.want)

	out := Loads{Contacts: contacts, Centre: centre}
	for i, g := range gens {
		out.Contacts[g.contact].Share += force[i] * g.dir.Dot(contacts[g.contact].normal)
	}
	for r := forceRows; r < jointRows; r++ {
		out.Residual = math.Max(out.Residual, math.Abs(sys.miss(r, force))/balance)
	}
	moment := func(joint int) float64 {
		r := rowsOf(joint)
		return Vec{sys.miss(r, force), sys.miss(r+1, force), sys.miss(r+2, force)}.Len()
	}
	out.Neck, out.LowestRibs, out.LowBack = moment(neck), moment(lowestRibs), moment(lowBack)
	out.Hips = [2]float64{moment(leftHip), moment(rightHip)}
	out.TrunkLever, out.LegLevers = levers[lowBack], [2]float64{levers[leftHip], levers[rightHip]}
	for _, c := range out.Contacts {
		if c.leg {
			out.Leg[sideOf(c.Part)] += c.Share
		}
	}
	for side := Left; side <= Right; side++ {
		if out.Air[side] = f.inTheAir(side, contacts, s); out.Air[side] {
			out.Flexors[side] = f.flexors(side, legs[side])
		}
		out.Arms[side] = f.armAloft(side, contacts, s, arms[side])
	}
	out.Curl = f.curled(contacts, ribs, lumbar)
	return out
}

// system is a set of linear equations, each with its own weight.
type system struct {
	n    int
	rows [][]float64
	want []float64
}

func newSystem(n int) *system { return &system{n: n} }

func (s *system) row(weight, want float64, coefficient func(int) float64) {
	row := make([]float64, s.n)
	for i := range row {
		row[i] = weight * coefficient(i)
	}
	s.rows, s.want = append(s.rows, row), append(s.want, weight*want)
}

// miss is how far equation r is from being met by x.
func (s *system) miss(r int, x []float64) float64 {
	m := -s.want[r]
	for i, v := range x {
		m += s.rows[r][i] * v
	}
	return m
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

// Margin is how far the centre of mass stays inside the base of support, seen
// from above, in body heights; negative when it is outside. The base is the
// smallest outline round every contact from below. It is minus infinity when
// there is no such base: fewer than three contacts, or a wall that holds too.
func (l Loads) Margin() float64 {
	var base []Vec
	for _, c := range l.Contacts {
		if c.normal.Z == 0 && c.Share > 0.01 {
			return math.Inf(-1)
		}
		if c.normal.Z > 0 {
			base = append(base, Vec{X: c.At.X, Y: c.At.Y})
		}
	}
	if len(base) < 3 {
		return math.Inf(-1)
	}
	// Of all lines through two contacts that have every other contact on one
	// side, the one the centre is nearest to (or furthest beyond) decides.
	margin := math.Inf(1)
	centre := Vec{X: l.Centre.X, Y: l.Centre.Y}
	for i, a := range base {
		for j, b := range base {
			along := b.Sub(a)
			if i == j || along.Len() < 1e-9 {
				continue
			}
			inward := Vec{-along.Y, along.X, 0}.Unit()
			edge := true
			for _, c := range base {
				edge = edge && c.Sub(a).Dot(inward) > -1e-9
			}
			if edge {
				margin = math.Min(margin, centre.Sub(a).Dot(inward))
			}
		}
	}
	return margin
}
