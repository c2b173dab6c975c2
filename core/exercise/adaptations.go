package exercise

import (
	"fmt"
	"math"
	"slices"

	"restbend/core/body"
)

// Fists is the adaptation that spares the wrists alone.
const Fists = "fists"

// adapt carries out one adaptation on a movement: one form for each size it can
// have. They are not measured yet.
//
//revive:disable-next-line:cyclomatic One case for each adaptation.
func adapt(m Movement, id string) []*Form {
	form := func(words string, m Movement, lost float64) *Form {
		return &Form{Adaptations: []Adaptation{{id, words}}, Movement: m, Lost: lost}
	}
	var out []*Form
	switch id {
	case "smaller_range":
		for _, r := range smallerRanges {
			a := m
			a.Range = m.range01() * r.share
			out = append(out, form("smaller range, "+r.words, a, 1-r.share))
		}
	case "head_down":
		out = append(out, form("head down", m.posed(headDown), 0.3))
	case "flat_back":
		out = append(out, form("flat back instead of rounding", m.posed(flatBack), 0.2))
	case "arms_lower":
		out = append(out, form("arms no higher than the shoulders", m.armsLower(), 0.2))
	case "bent_lever":
		out = append(out, form("knees bent, a shorter lever", m.posed(bentLever), 0.2))
	case "one_limb":
		out = append(out, form("one limb at a time", m.oneLimb(), 0.3))
	case "pillow":
		if a, where := m.pillow(); where != "" {
			a.Pillow = true
			out = append(out, form("a pillow "+where, a, 0.05))
		}
	case "support_hand":
		out = append(out, form("a hand on a support", m.supportHand(), 0.1))
	case "hands_swapped":
		out = append(out, form("the hands the other way round", m.Mirror(), 0.02))
	case Fists:
		if m.FlatHands() {
			f := form("on fists, the wrists straight", m.onFists(), 0.15)
			f.For = "wrist_load" // that the hands stand higher is no reason for it
			out = append(out, f)
		}
	case "raise_surface":
		for _, cm := range []float64{15, 30} {
			if a, ok := m.raiseSurface(cm / figureCM); ok {
				out = append(out, form(fmt.Sprintf("the surface %g cm higher", cm), a, cm/100))
			}
		}
	case "higher_seat":
		if a, ok := m.higherSeat(seatRise); ok {
			out = append(out, form("a seat 8 cm higher", a, 0.15))
		}
	case "shorter_hold":
		for _, most := range shorterHolds {
			if m.Hold > most {
				a := m
				a.Hold, a.Stay = most, math.Min(a.Stay, most)
				out = append(out, form(fmt.Sprintf("holds of %g s at most", most), a, 0.1+0.3/most))
			}
		}
	case "allowed_directions_only":
		for _, pose := range m.Order[1:] {
			word, ok := m.Directions[pose]
			if !ok {
				continue
			}
			if a, ok := m.Without(pose); ok {
				out = append(out, form(fmt.Sprintf("one direction only, no %s", word), a, 0.5))
			}
		}
	}
	return out
}

// Without is the movement with one key pose left out and the steps to and from
// it joined. ok is false when nothing would be left to do.
func (m Movement) Without(pose string) (Movement, bool) {
	var steps []Step
	at := "start"
	for _, s := range m.Steps {
		if s.To == pose || s.To == at {
			continue
		}
		steps = append(steps, s)
		at = s.To
	}
	if len(steps) == 0 {
		return m, false
	}
	m.Steps = steps
	m.Order = slices.DeleteFunc(slices.Clone(m.Order), func(n string) bool { return n == pose })
	if m.HoldsAt == pose {
		m.HoldsAt = ""
	}
	return m, true
}

// shorterHolds are the caps tried on a hold, in seconds.
var shorterHolds = []float64{10, 5}

// posed is the movement with every pose changed.
func (m Movement) posed(change func(body.Pose) body.Pose) Movement {
	poses := make(map[string]body.Pose, len(m.Poses))
	for name, p := range m.Poses {
		poses[name] = change(p)
	}
	m.Poses = poses
	return m
}

// headDown lays the head, and the upper back that carried it up, on the
// surface. It is for bodies that lie on their back.
func headDown(p body.Pose) body.Pose {
	p.Thoracic.Flexion = min(p.Thoracic.Flexion, 0)
	p.Cervical = body.Bend{}
	p.Settle = append(
		slices.Clone(p.Settle),
		body.Settle{Vary: "cervical.flexion", Range: [2]float64{-50, 50}, Until: "touch", Part: body.HeadPart},
	)
	return p
}

// flatBack takes the rounding out of the back; the hips still fold.
func flatBack(p body.Pose) body.Pose {
	p.Lumbar.Flexion, p.Thoracic.Flexion = min(p.Lumbar.Flexion, 0), min(p.Thoracic.Flexion, 0)
	return p
}

// highestArm is how far from hanging an arm that is not to go high may be
// raised, in degrees: a little below the shoulder.
const highestArm = 82

// lowArm is how far from hanging an arm begins that has nowhere left to go when it is
// lowered, in degrees.
const lowArm = 30

// armsLower brings free arms that go above the shoulder down to just below it. An arm that
// would then stay where it starts begins near the side instead, so that it still moves.
//
// Lying face down they lie along the sides, the palms up, and the head on the floor.
func (m Movement) armsLower() Movement {
	if m.Position == "prone" {
		return m.posed(armsAlong)
	}
	a := m.posed(func(p body.Pose) body.Pose { return lowered(p, highestArm) })
	for s := body.Left; s <= body.Right; s++ {
		moves := func(m Movement) bool {
			from := m.Poses["start"].Arms[s].Upper.Unit()
			return slices.ContainsFunc(m.Order[1:], func(pose string) bool {
				arm := m.Poses[pose].Arms[s]
				return arm.Pin == nil && from.AngleTo(arm.Upper.Unit()) > 25
			})
		}
		if start := m.Poses["start"]; moves(m) && !moves(a) {
			from := a.Poses["start"]
			from.Arms[s] = lowered(start, lowArm).Arms[s]
			a.Poses["start"] = from
		}
	}
	return a
}

// armsAlong lays free arms along the sides of a body that lies face down.
func armsAlong(p body.Pose) body.Pose {
	for s := range p.Arms {
		if arm := &p.Arms[s]; arm.Pin == nil && arm.Upper.X > -0.5 {
			side := float64(1 - 2*s)
			*arm = body.Limb{
				Upper: body.Vec{X: -0.97, Y: side * 0.22, Z: -0.12},
				Lower: body.Vec{X: -0.99, Y: side * 0.05, Z: -0.02},
				Palm:  body.Vec{Z: 1},
			}
		}
	}
	return p
}

// lowered brings free arms that are raised further than so many degrees down to there,
// straight, on the same side; an arm near straight overhead comes down in front.
func lowered(p body.Pose, most float64) body.Pose {
	for s, arm := range p.Arms {
		down, front := p.Hanging(arm.Frame)
		upper := arm.Upper.Unit()
		if arm.Pin != nil || upper == (body.Vec{}) || upper.AngleTo(down) <= most {
			continue
		}
		toward := upper.Perp(down)
		if toward.Len() < 0.35 || toward.Dot(front) < -0.1 { // overhead, or past it
			toward = front.Perp(down)
		}
		p.Arms[s].Upper = down.Turn(down.Cross(toward).Unit(), most)
		p.Arms[s].Lower = p.Arms[s].Upper
	}
	return p
}

// nearlyLong is the bend in degrees up to which a knee can be bent further as a help.
const nearlyLong = 40

// bentLever bends the knees of legs that reach out long and free, so that less
// of the leg is far from the hip.
func bentLever(p body.Pose) body.Pose {
	for s, leg := range p.Legs {
		upper, lower := leg.Upper.Unit(), leg.Lower.Unit()
		if leg.Pin != nil || upper == (body.Vec{}) || upper.AngleTo(lower) > nearlyLong || upper.Z < -0.7 && p.Base == body.Standing {
			continue
		}
		axis := upper.Cross(leg.Pole).Unit() // the knee bends away from where it points
		p.Legs[s].Lower = upper.Turn(axis, -75)
		p.Legs[s].End = body.Vec{}
	}
	return p
}

// fistHeight is how much higher a wrist is over a fist than over a flat hand, in body
// heights.
const fistHeight = 0.029

// flat says whether a hand lies flat on the floor or a surface.
func flat(arm body.Limb) bool {
	return arm.Pin != nil && arm.Palm.Unit().Z < -0.7 && arm.Pin.Of != "pelvis_frame" && arm.Pin.Of != "chest_frame"
}

// FlatHands says whether hands lie flat on the floor or a surface in some pose, of a body
// that is not on its back.
func (m Movement) FlatHands() bool {
	for _, p := range m.Poses {
		if m.Position != "supine" && (flat(p.Arms[body.Left]) || flat(p.Arms[body.Right])) {
			return true
		}
	}
	return false
}

// onFists sets hands that lie flat on the floor or a surface on their knuckles, the wrist
// straight above.
func (m Movement) onFists() Movement {
	m.Fists = true
	return m.posed(func(p body.Pose) body.Pose {
		for s, arm := range p.Arms {
			if !flat(arm) {
				continue
			}
			pin := *arm.Pin
			if pin.Of != "start" { // there it is up already
				pin.At.Z += fistHeight
			}
			p.Arms[s].Pin, p.Arms[s].Fist = &pin, true
			p.Arms[s].End, p.Arms[s].Palm = body.Vec{Z: -1}, body.Vec{X: -1}
		}
		return p
	})
}

// oneLimb keeps the right arm and leg where the start pose has them.
func (m Movement) oneLimb() Movement {
	start := m.Poses["start"]
	return m.posed(func(p body.Pose) body.Pose {
		p.Arms[body.Right] = start.Arms[body.Right]
		p.Legs[body.Right] = start.Legs[body.Right]
		return p
	})
}

// with is the movement with one more thing in the scene.
func (m Movement) with(s Solid) Movement {
	m.Scene.Boxes = append(slices.Clone(m.Scene.Boxes), body.Box{Min: s.Min, Max: s.Max})
	m.Solids = append(slices.Clone(m.Solids), s)
	return m
}

// pillowHeight is that of a soft pillow under weight, in body heights: 5 cm.
const pillowHeight = 0.03

// pillow lays a pillow where the position wants one, and says where: under the
// head, under the belly, or between the knees.
func (m Movement) pillow() (Movement, string) {
	switch m.Position {
	case "supine":
		return m.with(
			Solid{Min: body.Vec{X: -0.62, Y: -0.13}, Max: body.Vec{X: -0.40, Y: 0.13, Z: pillowHeight}, Soft: true},
		), "under the head"
	case "prone":
		// A soft pillow fills the hollow under the belly; chest and thighs still lie on the floor.
		a := m
		a.Solids = append(slices.Clone(m.Solids), Solid{Min: body.Vec{X: -0.07, Y: -0.13}, Max: body.Vec{X: 0.10, Y: 0.13, Z: pillowHeight},
			Soft: true})
		return a.posed(func(p body.Pose) body.Pose {
			p.Lumbar.Flexion += 6
			return p
		}), "under the belly"
	case "side_lying":
		return m.posed(func(p body.Pose) body.Pose {
			top := body.Left
			if p.Base == body.SideLeft {
				top = body.Right
			}
			leg := &p.Legs[top]
			if leg.Pin == nil {
				straight := leg.Upper.Unit().AngleTo(leg.Lower.Unit()) < nearlyLong
				if leg.Upper.Z += 0.10 * leg.Upper.Len(); straight { // the whole leg lies higher
					leg.Lower.Z += 0.10 * leg.Lower.Len()
				}
			}
			return p
		}), "between the knees"
	}
	if m.Position == "kneeling" || m.Position == "four_point" || m.Position == "half_kneeling" {
		return m, "under the knees" // padding changes no angle
	}
	return m, ""
}

// supportHand lays the right hand on a support at that side, hip-high, unless
// the hand already has something to hold.
func (m Movement) supportHand() Movement {
	top := 0.530
	if m.Position == "half_kneeling" {
		top = 0.330
	}
	a := m.with(Solid{Min: body.Vec{X: -0.12, Y: -0.29}, Max: body.Vec{X: 0.12, Y: -0.265, Z: top}})
	a.Hands = true
	return a.posed(func(p body.Pose) body.Pose {
		if pin := p.Arms[body.Right].Pin; pin == nil || pin.Of == "pelvis_frame" || pin.Of == "chest_frame" {
			p.Arms[body.Right] = body.Limb{Pin: &body.Pin{Of: "pelvis", At: body.Vec{X: 0.06, Y: -0.27, Z: top + 0.035}},
				Pole: body.Vec{X: -1, Y: -0.7, Z: -0.4}, End: body.Vec{X: 1, Z: -0.3}, Palm: body.Vec{Z: -1}}
		}
		return p
	})
}

// seatRise is how much a higher seat is higher, in body heights: 8 cm.
const seatRise = 0.047

// higherSeat lifts the seat that is sat on by so many body heights, or lowers it. Getting up
// from a higher one begins higher, with less lean. ok is false when nothing is sat on.
func (m Movement) higherSeat(by float64) (Movement, bool) {
	sat := func(min, max body.Vec) bool {
		return min.X < 0 && max.X > 0 && min.Y < 0 && max.Y > 0 && max.Z > 0.2 && max.Z < 0.35
	}
	found := false
	a := m
	a.RaisedSeat = true
	a.Scene.Boxes = slices.Clone(m.Scene.Boxes)
	for i, b := range a.Scene.Boxes {
		if sat(b.Min, b.Max) {
			a.Scene.Boxes[i].Max.Z += by
			a.Scene.Boxes[i].Max.X -= by // nearer its edge, since the thighs slope down
			found = true
		}
	}
	a.Solids = slices.Clone(m.Solids)
	for i, s := range a.Solids {
		switch {
		case sat(s.Min, s.Max):
			a.Solids[i].Max.Z += by
			a.Solids[i].Min.Z += by
			a.Solids[i].Max.X -= by
		case s.Min.Z == 0 && s.Max.Z > 0.2 && s.Max.Z < 0.3: // the legs under it
			a.Solids[i].Max.Z += by
			if s.Min.X > 0 {
				a.Solids[i].Min.X -= by
				a.Solids[i].Max.X -= by
			}
		}
	}
	sooner := 0.35 * by / seatRise // of the way up that the higher seat spares
	upright := body.Vec{X: 0.015, Y: 0.02, Z: -1}
	return a.posed(func(p body.Pose) body.Pose {
		if p.Anchor == "" || p.Pelvis.Flexion <= 0 { // sitting, or up already
			return p
		}
		p.Pelvis.Flexion *= 1 - sooner
		for s := range p.Legs {
			leg := &p.Legs[s]
			if leg.Upper != (body.Vec{}) {
				leg.Upper, leg.Lower = leg.Upper.Mix(upright, sooner), leg.Lower.Mix(upright, sooner)
			}
			if pin := p.Arms[s].Pin; pin != nil && pin.Of == "root" { // in front, as high as the rest
				higher := *pin
				higher.At.Z += by
				p.Arms[s].Pin = &higher
			}
		}
		return p
	}), found
}

// feetOut sets both feet of somebody who stands so many body heights further out, or in
// where that is negative.
func (m Movement) feetOut(by float64) Movement {
	if by == 0 {
		return m
	}
	const thighAndShank = 0.49 // of the body's height
	return m.posed(func(p body.Pose) body.Pose {
		for s := range p.Legs {
			out := float64(1-2*s) * by
			leg := &p.Legs[s]
			if leg.Upper != (body.Vec{}) {
				leg.Upper = leg.Upper.Unit().Add(body.Vec{Y: out / thighAndShank})
				leg.Lower = leg.Lower.Unit().Add(body.Vec{Y: out / thighAndShank})
			}
		}
		return p
	})
}

// raiseSurface lifts a surface that hands or forearms lean on. ok is false when
// they lean on none that is off the floor.
func (m Movement) raiseSurface(by float64) (Movement, bool) {
	on := false
	high := slices.ContainsFunc(m.Scene.Boxes, func(b body.Box) bool { return b.Max.Z > leastSurface })
	a := m.posed(func(p body.Pose) body.Pose {
		for s, arm := range p.Arms {
			if arm.Pin != nil && arm.Pin.At.Z > leastSurface && (arm.Pin.Of == "root" || arm.Pin.Of == "pelvis" || arm.Pin.Of == "world") {
				pin := *arm.Pin
				pin.At.Z += by
				p.Arms[s].Pin = &pin
				on = true
			}
		}
		p.Settle = slices.Clone(p.Settle)
		for i, s := range p.Settle {
			if s.Until == "level" && s.Z > leastSurface {
				p.Settle[i].Z += by
				on = true
			}
			on = on || s.Until == "touch" && high // it settles on what is raised
		}
		return p
	})
	a.Scene.Boxes = raised(a.Scene.Boxes, 0, by)
	a.Solids = slices.Clone(a.Solids)
	for i := range a.Solids {
		if a.Solids[i].Max.Z > leastSurface {
			a.Solids[i].Max.Z += by
			if a.Solids[i].Min.Z > 0 {
				a.Solids[i].Min.Z += by
			}
		}
	}
	return a, on && a.turnArms(m, by)
}

// turnArms lets forearms that lean on a surface keep the angle of the upper arm to the trunk when the
// surface of a movement was raised, as the bench does: the steeper the body, the further ahead the
// elbows. ok is false when no body leans so high.
func (m Movement) turnArms(from Movement, by float64) (ok bool) {
	was, now := from.Poses["start"], m.Poses["start"]
	i := slices.IndexFunc(was.Settle, settlesElbow)
	if i < 0 {
		return true
	}
	before, err := body.Solve(was, from.Scene)
	if err != nil {
		return false
	}
	elbow := before.Place(was.Settle[i].Part)
	leans := [2]bool{}
	for s, arm := range before.Arms {
		leans[s] = was.Arms[s].Pin == nil && was.Arms[s].Frame == "" && math.Abs(arm.Mid.Z-elbow.Z) < 0.02
	}
	scene, along := from.Scene, 0.0 // how far the elbows, and the surface with them, come toward the head
	for up, again := 0.0, 0; again < 3; {
		up += math.Max(-littleHigher, math.Min(littleHigher, by-up))
		if up == by { // the arms turn with the trunk, which then is a little steeper again
			again++
		}
		scene.Boxes = raised(from.Scene.Boxes, along, up)
		now.Settle = slices.Clone(now.Settle)
		now.Settle[i].Z = was.Settle[i].Z + up
		f, err := body.Solve(now, scene)
		if err != nil {
			return false
		}
		for s := range leans {
			if leans[s] {
				now.Arms[s].Upper = f.Chest.World(before.Chest.Local(now.Arms[s].Upper))
			}
		}
		before, along = f, f.Place(was.Settle[i].Part).X-elbow.X
	}
	for name, p := range m.Poses {
		for s := range leans {
			if leans[s] && p.Arms[s].Upper == was.Arms[s].Upper {
				p.Arms[s].Upper = now.Arms[s].Upper
			}
		}
		m.Poses[name] = p
	}
	copy(m.Scene.Boxes, raised(m.Scene.Boxes, along, 0))
	for k := range m.Solids {
		if m.Solids[k].Max.Z > leastSurface {
			m.Solids[k].Min.X += along
			m.Solids[k].Max.X += along
		}
	}
	return true
}

// raised are the boxes with the surfaces to lean on moved along and up.
func raised(boxes []body.Box, along, up float64) []body.Box {
	out := slices.Clone(boxes)
	for k := range out {
		if out[k].Max.Z > leastSurface {
			out[k].Min, out[k].Max = out[k].Min.Add(body.Vec{X: along, Z: up}), out[k].Max.Add(body.Vec{X: along, Z: up})
		}
	}
	return out
}

// leastSurface is the height, in body heights, above which a box is a surface to lean on and can be
// raised.
const leastSurface = 0.15

// littleHigher is by how much, in body heights, a surface is raised at a time.
const littleHigher = 0.1

// settlesElbow says whether what settles brings an elbow down to a surface.
func settlesElbow(s body.Settle) bool { return s.Part == "elbow_left" || s.Part == "elbow_right" }
