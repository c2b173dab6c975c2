package body

import (
	"fmt"
	"math"
)

// Vertebra is one bone of the drawn spine: its place, its frame, its region
// (0 lumbar, 1 thoracic, 2 cervical) and how far it is bent from neutral.
type Vertebra struct {
	At     Vec
	Frame  Frame
	Region int
	Bend   Bend
}

// LimbChain is a solved limb: Root is hip or shoulder, Mid knee or elbow, End
// ankle or wrist. Tip points along hand or foot, Axis is the hinge's axis
// (leftward on a standing body) and Face the palm's or sole's direction.
type LimbChain struct {
	Root, Mid, End  Vec
	Tip, Axis, Face Vec
	Toes            Vec // of a foot: direction of the toes, bent at the ball when the heel is up
	Pinned          bool
	Fist            bool // of a hand
}

// Upper and Lower are the unit directions of the limb's two long segments.
func (c LimbChain) Upper() Vec { return c.Mid.Sub(c.Root).Unit() }
func (c LimbChain) Lower() Vec { return c.End.Sub(c.Mid).Unit() }

// Figure is a solved pose: where every joint is, in body heights.
type Figure struct {
	Pose   Pose // as it was solved, with the pelvis rolled where the hips ask for it
	Origin Vec  // midpoint of the hips
	Pelvis Frame
	Chest  Frame // at the upper ribs, with the resting curve taken off
	Head   Frame
	Neck   Vec // top of the neck, where the head sits
	Spine  [vertebraCount]Vertebra
	Arms   [2]LimbChain
	Legs   [2]LimbChain
}

// Joints that loads are worked out about.
func (f *Figure) LowBack() Vec    { return f.Spine[1].At } // L4/5
func (f *Figure) LowestRibs() Vec { return f.Spine[lumbarCount].At }
func (f *Figure) NeckBase() Vec   { return f.Spine[lumbarCount+thoracicCount].At }

// Solve works out where every joint of the pose is in the scene. It fails when
// a pinned hand or foot cannot reach its pin, or a settled angle finds no
// place within its range.
//
// What rests is raised until it lies on its surface and not in it, and limbs are taken out of what
// they have sunk into.
func Solve(p Pose, s Scene) (Figure, error) {
	p, err := p.settled(s)
	if err != nil {
		return Figure{}, err
	}
	f, err := solve(p, s)
	if err != nil {
		return f, err
	}
	if up := f.raised(s); up > 0 && len(p.Rest) > 0 {
		p.Lift += up
		if f, err = solve(p, s); err != nil {
			return f, err
		}
	}
	f.limbsOut(s)
	return f, nil
}

// settled is the pose with its settled angles found.
func (p Pose) settled(s Scene) (Pose, error) {
	for _, st := range p.Settle {
		q, err := settle(p, s, st)
		if err != nil {
			return p, err
		}
		p = q
	}
	return p, nil
}

func solve(p Pose, s Scene) (Figure, error) {
	f, err := layOut(p, s)
	if err != nil {
		return f, err
	}
	if roll := f.hipRoll(); roll > 0.5 {
		p.Pelvis.Flexion -= roll
		p.Lumbar.Flexion += roll
		return layOut(p, s)
	}
	return f, nil
}

func layOut(p Pose, s Scene) (Figure, error) {
	base, ok := bases[p.Base]
	if !ok {
		return Figure{}, fmt.Errorf("base: %q is not one of standing, supine, prone, side_right, side_left", p.Base)
	}
	f := Figure{Pose: p, Pelvis: base.Bent(p.Pelvis)}
	f.chain()
	for side := range f.Legs {
		f.Legs[side].Root = f.Origin.Along(f.Pelvis.L, signed(side)*hipHalfWidth)
		f.free(&f.Legs[side], p.Legs[side], thighLength, shankLength)
		f.shoulder(Side(side), p.Arms[side].Upper.Unit())
		f.free(&f.Arms[side], p.Arms[side], upperArmLength, foreArmLength)
	}
	f.place(s)
	f.Shift(p.Move)
	var worst error
	for side := range f.Legs {
		if err := f.reach(&f.Legs[side], p.Legs[side], thighLength, shankLength, startLimb(s, true, side)); err != nil {
			worst = fmt.Errorf("%s leg: %w", Side(side), err)
		}
		if err := f.reachArm(Side(side), s); err != nil {
			worst = fmt.Errorf("%s arm: %w", Side(side), err)
		}
		f.foot(Side(side))
		f.hand(Side(side))
	}
	return f, worst
}

func signed(side int) float64 {
	if side == int(Left) {
		return 1
	}
	return -1
}

// Where the lowest lumbar joint sits from the hips' midpoint.
var lumbarBase = Vec{-0.022, 0, 0.046}

// chain lays the spine up from the pelvis, and chest and head upon it.
func (f *Figure) chain() {
	p := f.Pose
	at := f.Origin.Add(f.Pelvis.World(lumbarBase))
	fr := f.Pelvis.Bent(Bend{Flexion: sacrumRest})
	rest := sacrumRest
	i := 0
	region := func(n int, length, restCurve float64, b Bend, index int) {
		step := b.Scale(1 / float64(n))
		step.Flexion += restCurve / float64(n)
		for range n {
			fr = fr.Bent(step)
			f.Spine[i] = Vertebra{At: at, Frame: fr, Region: index, Bend: b}
			at = at.Along(fr.U, length/float64(n))
			rest += restCurve / float64(n)
			i++
			if i == lumbarCount+10 { // upper ribs, about T3
				f.Chest = fr.Bent(Bend{Flexion: -rest})
			}
		}
	}
	region(lumbarCount, lumbarLength, lumbarRest, p.Lumbar, 0)
	region(thoracicCount, thoracicLength, thoracicRest, p.Thoracic, 1)
	region(cervicalCount, cervicalLength, cervicalRest, p.Cervical, 2)
	f.Neck = at
	f.Head = fr.Bent(Bend{Flexion: -rest})
}

// shoulder places one shoulder joint for an arm pointing along upper. As the
// arm goes forward or up the joint moves forward, up and in; pushing the floor
// away moves it forward again.
func (f *Figure) shoulder(side Side, upper Vec) {
	if upper == (Vec{}) {
		upper = f.Chest.U.Scale(-1)
	}
	lift := (1 - upper.Dot(f.Chest.U.Scale(-1))) / 2 // 0 hanging, 1 overhead
	ahead := math.Max(0, upper.Dot(f.Chest.F))
	at := f.Spine[lumbarCount+9].At
	f.Arms[side].Root = at.Add(f.Chest.World(Vec{
		0.022 + 0.022*ahead + f.Pose.Girdle,
		signed(int(side)) * (shoulderHalf - 0.016*lift),
		-0.006 + 0.030*lift,
	}))
}

func (f *Figure) frameOf(name string) Frame {
	switch name {
	case "pelvis":
		return f.Pelvis
	case "chest":
		return f.Chest
	}
	return bases[Standing]
}

// free lays out a limb by its directions; a pinned one gets a provisional
// place, for the parts that rest on it to be known later.
func (f *Figure) free(c *LimbChain, l Limb, upper, lower float64) {
	fr := f.frameOf(l.Frame)
	u, d := fr.World(l.Upper).Unit(), fr.World(l.Lower).Unit()
	if u == (Vec{}) {
		u = f.Pelvis.U.Scale(-1)
	}
	if d == (Vec{}) {
		d = u
	}
	c.Mid = c.Root.Along(u, upper)
	c.End = c.Mid.Along(d, lower)
}

// place sets the body down on its surfaces and at its anchor.
func (f *Figure) place(s Scene) {
	if len(f.Pose.Rest) > 0 {
		for side := range f.Legs { // hands and feet count when parts rest
			f.foot(Side(side))
			f.hand(Side(side))
		}
		if s.Start != nil && f.Pose.Anchor != "" {
			f.anchor(s)
		}
		gap := math.Inf(1)
		for _, part := range f.Pose.Rest {
			for _, b := range f.balls(part) {
				gap = math.Min(gap, s.above(b))
			}
		}
		f.Shift(Vec{0, 0, f.Pose.Lift - gap})
		return
	}
	if s.Start != nil && f.Pose.Anchor != "" {
		f.anchor(s)
	}
}

func (f *Figure) anchor(s Scene) {
	d := s.Start.partCentre(f.Pose.Anchor).Sub(f.partCentre(f.Pose.Anchor))
	f.Shift(Vec{d.X, d.Y, 0})
}

// Shift moves the whole figure.
func (f *Figure) Shift(d Vec) {
	f.Origin = f.Origin.Add(d)
	f.Neck = f.Neck.Add(d)
	for i := range f.Spine {
		f.Spine[i].At = f.Spine[i].At.Add(d)
	}
	for i := range f.Arms {
		for _, c := range []*LimbChain{&f.Arms[i], &f.Legs[i]} {
			c.Root, c.Mid, c.End = c.Root.Add(d), c.Mid.Add(d), c.End.Add(d)
		}
	}
}

func startLimb(s Scene, leg bool, side int) *LimbChain {
	switch {
	case s.Start == nil:
		return nil
	case leg:
		return &s.Start.Legs[side]
	}
	return &s.Start.Arms[side]
}

// reachArm solves a pinned arm twice over, since the shoulder itself moves
// with the direction the arm ends up in.
func (f *Figure) reachArm(side Side, s Scene) error {
	c, l := &f.Arms[side], f.Pose.Arms[side]
	if l.Pin == nil {
		fr := f.frameOf(l.Frame)
		f.shoulder(side, fr.World(l.Upper).Unit())
		f.free(c, l, upperArmLength, foreArmLength)
		return f.reach(c, l, upperArmLength, foreArmLength, nil)
	}
	var err error
	for range 3 {
		err = f.reach(c, l, upperArmLength, foreArmLength, startLimb(s, false, int(side)))
		f.shoulder(side, c.Upper())
	}
	if e := f.reach(c, l, upperArmLength, foreArmLength, startLimb(s, false, int(side))); e != nil {
		return e
	}
	return err
}

// reachSlack is how far past the limb's length a pin may lie before the pose
// is refused, in heights; pins within it are reached with a straight limb.
const reachSlack = 0.006

// reach bends a limb so that its end lies on its pin (two-bone reach), and
// finds the hinge's axis for free limbs.
func (f *Figure) reach(c *LimbChain, l Limb, upper, lower float64, start *LimbChain) error {
	fr := f.frameOf(l.Frame)
	pole := fr.World(l.Pole).Unit()
	var missed error
	if l.Pin != nil {
		c.Pinned = true
		target, err := f.target(c.Root, *l.Pin, start)
		if err != nil {
			return err
		}
		to := target.Sub(c.Root)
		dist := to.Len()
		if dist > upper+lower+reachSlack {
			missed = fmt.Errorf("pin: out of reach by %.3f of body height", dist-upper-lower)
		}
		dist = math.Max(math.Abs(upper-lower)+1e-4, math.Min(dist, upper+lower-1e-5))
		dir := to.Unit()
		along := (upper*upper - lower*lower + dist*dist) / (2 * dist)
		out := math.Sqrt(math.Max(0, upper*upper-along*along))
		bend := pole.Perp(dir).Unit()
		if bend == (Vec{}) {
			bend = f.Pelvis.F.Perp(dir).Unit()
		}
		c.Mid = c.Root.Along(dir, along).Along(bend, out)
		c.End = c.Root.Along(dir, dist)
	}
	if pole == (Vec{}) {
		pole = f.Pelvis.F
		if upper == upperArmLength {
			pole = f.Chest.F.Scale(-1)
		}
	}
	axis := c.Upper().Cross(c.Lower())
	if axis.Len() < 0.06 { // nearly straight: the pole says where the hinge points
		axis = pole.Cross(c.Upper())
	}
	c.Axis = axis.Unit()
	c.Tip, c.Face, c.Fist = fr.World(l.End).Unit(), fr.World(l.Palm).Unit(), l.Fist
	return missed
}

func (f *Figure) target(root Vec, p Pin, start *LimbChain) (Vec, error) {
	switch p.Of {
	case "root":
		return Vec{root.X + p.At.X, root.Y + p.At.Y, p.At.Z}, nil
	case "pelvis":
		return Vec{f.Origin.X + p.At.X, f.Origin.Y + p.At.Y, p.At.Z}, nil
	case "pelvis_frame":
		return f.Origin.Add(f.Pelvis.World(p.At)), nil
	case "chest_frame":
		return f.Spine[lumbarCount+7].At.Add(f.Chest.World(p.At)), nil
	case "start":
		if start == nil {
			return Vec{}, fmt.Errorf("pin.of: start can only be used in poses after the start pose")
		}
		return start.End.Add(p.At), nil
	case "world":
		return p.At, nil
	}
	return Vec{}, fmt.Errorf("pin.of: %q is not one of root, pelvis, pelvis_frame, chest_frame, start, world", p.Of)
}

// foot fills in where toes and sole point.
func (f *Figure) foot(side Side) {
	c := &f.Legs[side]
	axis := c.Axis
	if axis == (Vec{}) {
		axis = f.Pelvis.L
	}
	tip := c.Tip
	if tip == (Vec{}) {
		tip = f.frameOf(f.Pose.Legs[side].Frame).World(f.Pose.Legs[side].End).Unit()
	}
	if tip == (Vec{}) {
		tip = c.Lower().Cross(axis)
	}
	c.Tip = tip.Unit()
	c.Face = axis.Perp(c.Tip).Unit().Cross(c.Tip).Unit()
	c.bendToes()
}

// bendToes keeps the toes level when the sole faces down and the heel is up.
func (c *LimbChain) bendToes() {
	c.Toes = c.Tip
	switch {
	case c.Tip.Z < -0.6 && math.Abs(c.Face.Z) < 0.8: // standing on the ball, as in a plank
		c.Toes = Vec{-c.Face.X, -c.Face.Y, 0}.Unit()
	case c.Tip.Z < -0.12 && c.Face.Z < -0.5:
		c.Toes = Vec{c.Tip.X, c.Tip.Y, 0}.Unit()
	}
}

// hand fills in where fingers and palm point: on along the forearm, palm to
// the body's middle, unless the pose says otherwise.
func (f *Figure) hand(side Side) {
	c := &f.Arms[side]
	if c.Tip == (Vec{}) {
		c.Tip = c.Lower()
	}
	if c.Face == (Vec{}) {
		c.Face = f.Chest.L.Scale(-signed(int(side)))
	}
	face := c.Face.Perp(c.Tip).Unit()
	if face == (Vec{}) {
		face = f.Chest.F.Perp(c.Tip).Unit()
	}
	c.Face = face
}
