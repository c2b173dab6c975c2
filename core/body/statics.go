package body

import (
	"math"
	"slices"
)

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
	// Curl is the moment, lying on the back, face down or on a side, of what is lifted off the surface at
	// the head's end about the last place that still lies on it; 0 while the head lies down or
	// an arm props.
	Curl float64
	// Arms is the moment of each arm's weight about the lowest ribs where the arm bears
	// on nothing; 0 where it does.
	Arms [2]float64
	// Lumbar is what the disc between L4 and L5 bears, Thoracolumbar that between T12 and L1.
	Lumbar, Thoracolumbar Disc
	// Upper is the weight of everything above the disc between L4 and L5.
	Upper float64
	// Hand and Foot are what is held, pushed or strapped on: outside forces on each arm and leg.
	Hand, Foot [2]float64
	// Props says whether an arm props the shoulder, with a share of the body's weight on it, rather
	// than lies there with its own.
	Props [2]bool
	// Lies says whether the trunk lies on something above and below the low back with no arm propped.
	// How the weight is shared out then says little: flesh spreads it.
	Lies bool
	// Residual is how far the contacts fail to balance the body, as a share of
	// body weight: over about 0.02 the centre of mass is outside the base.
	Residual float64
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

// joint is a joint whose moment is worked out: the masses that hang on it, on the side away from
// the pelvis, and what else bears or pulls there.
type joint struct {
	at     Vec
	hang   []mass
	on     func(Contact) bool
	pulled func(outside) bool
	weight float64 // of what hangs on it
	lever  float64 // how far, level, that weight hangs out
}

// balance is a posture with the forces that hold it.
type balance struct {
	contacts []Contact
	outsides []outside
	joints   [rightHip + 1]joint
	gens     []push
	force    []float64 // of each push
	sys      *system
	lies     [2]bool // arms that lie there with their own weight
}

// exact is how much more the balance of the body weighs than comfort.
const exact = 300

// Carry works out how the posture is carried. Contacts only push; of all the
// ways of sharing the weight that keep the body in balance it takes the one
// with the smallest sum of squared moments about neck, lowest ribs, low back
// and hips.
func (f *Figure) Carry(s Scene) Loads {
	b := balance{contacts: f.touches(s), outsides: f.outsides(s.Pulls)}
	props := f.props(b.contacts)
	for _, c := range b.contacts {
		if side := sideOf(c.Part); c.arm && !props[side] {
			b.lies[side] = !slices.ContainsFunc(b.outsides, func(o outside) bool { return o.arm && o.side == side })
		}
	}
	arms, legs := f.hanging(b.lies)
	lumbar, thorax := f.trunkMasses()
	ribs := slices.Concat(thorax, []mass{f.headMass()}, arms[0], arms[1])
	b.joints = f.jointsOf(ribs, lumbar, legs)
	b.solve(f)

	out := Loads{Contacts: b.contacts, Centre: f.CentreOfMass(), Upper: b.joints[lowBack].weight, Props: props}
	b.share(&out)
	trunk := lying(b.contacts) && !props[0] && !props[1]
	out.Lumbar = disc(f.Spine[1].Frame, b.above(lowBack), b.moment(lowBack), trunk, -f.Pose.Lumbar.Flexion)
	out.Thoracolumbar = disc(f.Spine[lumbarCount].Frame, b.above(lowestRibs), b.moment(lowestRibs), trunk, -f.Pose.Thoracic.Flexion)
	out.Neck, out.LowestRibs, out.LowBack = b.moment(neck).Len(), b.moment(lowestRibs).Len(), b.moment(lowBack).Len()
	// What is under a body that lies carries it, however a rigid one on few places would bend.
	level := math.Abs(f.Chest.U.Z) < 0.5
	out.Lies = level && trunk
	if out.Lies && len(b.outsides) == 0 {
		out.LowBack, out.LowestRibs = 0, 0
	}
	out.TrunkLever = b.joints[lowBack].lever
	for side := Left; side <= Right; side++ {
		hip := leftHip + int(side)
		out.Hips[side], out.LegLevers[side] = b.moment(hip).Len(), b.joints[hip].lever
		out.Hand[side] = b.pulls(func(o outside) bool { return o.arm && o.side == side })
		out.Foot[side] = b.pulls(func(o outside) bool { return o.leg && o.side == side })
		if out.Air[side] = f.inTheAir(side, b.contacts, s); out.Air[side] {
			out.Flexors[side] = f.flexors(side, legs[side])
		}
		out.Arms[side] = f.armAloft(side, b.contacts, s, arms[side])
	}
	if !props[0] && !props[1] {
		out.Curl = f.curled(b.contacts, ribs, lumbar, s)
	}
	return out
}

// hanging are the masses of the limbs as they hang on the trunk: none of an arm that lies there,
// and of an arm whose hand rests on hip or thigh the upper arm alone, since the pelvis has the rest.
func (f *Figure) hanging(lies [2]bool) (arms, legs [2][]mass) {
	arms, legs = f.limbMasses()
	for side := range arms {
		if lies[side] {
			arms[side] = nil
		} else if pin := f.Pose.Arms[side].Pin; pin != nil && pin.Of == "pelvis_frame" {
			arms[side] = arms[side][:1]
		}
	}
	return arms, legs
}

// jointsOf are the joints in the order of the rows.
func (f *Figure) jointsOf(ribs, lumbar []mass, legs [2][]mass) (out [rightHip + 1]joint) {
	above, byArm := func(c Contact) bool { return c.above }, func(o outside) bool { return o.arm }
	out[neck] = joint{at: f.NeckBase(), hang: []mass{f.headMass()},
		on: func(c Contact) bool { return c.Part == HeadPart }, pulled: func(outside) bool { return false }}
	out[lowestRibs] = joint{at: f.LowestRibs(), hang: ribs, on: above, pulled: byArm}
	out[lowBack] = joint{at: f.LowBack(), hang: slices.Concat(lumbar[1:], ribs), on: above, pulled: byArm}
	for side := Left; side <= Right; side++ {
		out[leftHip+int(side)] = joint{at: f.Legs[side].Root, hang: legs[side],
			on:     func(c Contact) bool { return c.leg && sideOf(c.Part) == side },
			pulled: func(o outside) bool { return o.leg && o.side == side }}
	}
	return out
}

// solve finds the pushes.
func (b *balance) solve(f *Figure) {
	centre, weight := f.carried(b.lies)
	var pulled, turned Vec
	for _, o := range b.outsides {
		pulled = pulled.Add(o.force)
		turned = turned.Add(o.at.Sub(centre).Cross(o.force))
	}
	counts := func(c Contact) bool { return !c.arm || !b.lies[sideOf(c.Part)] }
	b.gens = f.pushes(b.contacts, counts, math.Hypot(pulled.X, pulled.Y) > 1e-9)
	b.sys = newSystem(len(b.gens))
	for axis, want := range []float64{0, 0, weight} { // forceRows
		b.sys.row(exact, want-pulled.axis(axis), func(i int) float64 { return b.gens[i].dir.axis(axis) })
	}
	for axis := range 3 { // turnRows
		b.sys.row(exact, -turned.axis(axis), func(i int) float64 { return b.gens[i].at.Sub(centre).Cross(b.gens[i].dir).axis(axis) })
	}
	for k := range b.joints { // jointRows
		j := &b.joints[k]
		var moment Vec
		for _, m := range j.hang {
			moment = moment.Add(m.at.Sub(j.at).Cross(Vec{0, 0, -m.share}))
			j.weight += m.share
		}
		j.lever = moment.Len() / j.weight
		for _, o := range b.outsides {
			if j.pulled(o) {
				moment = moment.Add(o.at.Sub(j.at).Cross(o.force))
			}
		}
		for axis := range 3 {
			b.sys.row(1, -moment.axis(axis), func(i int) float64 {
				if !j.on(b.contacts[b.gens[i].contact]) {
					return 0
				}
				return b.gens[i].at.Sub(j.at).Cross(b.gens[i].dir).axis(axis)
			})
		}
	}
	b.force = pushOnly(b.sys.rows, b.sys.want)
}

// share writes what each contact carries, and how far the balance is missed.
func (b *balance) share(out *Loads) {
	for i, g := range b.gens {
		out.Contacts[g.contact].Share += b.force[i] * g.dir.Dot(b.contacts[g.contact].normal)
	}
	for side := Left; side <= Right; side++ {
		if b.lies[side] {
			out.rest(side)
		}
	}
	for r := forceRows; r < jointRows; r++ {
		out.Residual = math.Max(out.Residual, math.Abs(b.sys.miss(r, b.force))/exact)
	}
	for _, c := range out.Contacts {
		if c.leg {
			out.Leg[sideOf(c.Part)] += c.Share
		}
	}
}

// moment is the net moment about a joint, as a share of weight × height.
func (b *balance) moment(joint int) Vec {
	r := rowsOf(joint)
	return Vec{b.sys.miss(r, b.force), b.sys.miss(r+1, b.force), b.sys.miss(r+2, b.force)}
}

// above is the force of everything that hangs on a joint: weight, contacts and pulls.
func (b *balance) above(joint int) Vec {
	j := &b.joints[joint]
	sum := Vec{0, 0, -j.weight}
	for i, g := range b.gens {
		if j.on(b.contacts[g.contact]) {
			sum = sum.Add(g.dir.Scale(b.force[i]))
		}
	}
	for _, o := range b.outsides {
		if j.pulled(o) {
			sum = sum.Add(o.force)
		}
	}
	return sum
}

// pulls is how strong the outside forces on some part are together.
func (b *balance) pulls(on func(outside) bool) float64 {
	var sum Vec
	for _, o := range b.outsides {
		if on(o) {
			sum = sum.Add(o.force)
		}
	}
	return sum.Len()
}

// rest gives the places where an arm lies its own weight.
func (l *Loads) rest(side Side) {
	var at []int
	for i, c := range l.Contacts {
		if c.arm && sideOf(c.Part) == side {
			at = append(at, i)
		}
	}
	for _, i := range at {
		l.Contacts[i].Share = (massUpperArm + massForeArm + massHand) / float64(len(at))
	}
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
