package exercise

import (
	"math"
	"slices"

	"restbend/core/body"
)

// How the body stands, and how hard that is to balance.

// balanceOn is how hard standing is by its base, in steps; a base that is not here needs
// no balance.
var balanceOn = map[string]int{"feet_apart": 1, "narrow": 2, "single": 3}

// balance is how hard a movement is to balance, in steps: its least steady base, and one
// more each with a heel up, eyes closed, the head turning, the feet moving, or the hands taken
// by what they hold; one less for hands that lean or hold on (common practice).
func (m Movement) balance(feet int, frames []Frame, single, heelUp, leaning, harder bool) int {
	base := byID["base_of_support"].Order[feet]
	if single {
		base = "single"
	}
	steps := balanceOn[base]
	if steps == 0 {
		return 0
	}
	turns := slices.ContainsFunc(frames, func(f Frame) bool { return math.Abs(f.Figure.Pose.Cervical.Turn) > headTurns })
	taken := slices.ContainsFunc(m.Held, func(h Held) bool {
		return h.Kind == "stick" || slices.Contains(h.At, handPart[0]) || slices.Contains(h.At, handPart[1])
	})
	for _, more := range []bool{heelUp && base != "narrow", m.EyesClosed, turns, taken, harder} {
		if more {
			steps++
		}
	}
	if m.Hands || leaning {
		steps--
	}
	return steps
}

const (
	headTurns = 20   // degrees from which a turning head makes standing harder
	leansOn   = 0.02 // share of body weight on the hands from which they steady
	heelDrop  = 0.25 // how far down a foot points, of its length, when its heel is up
)

// standsOnBall says whether a foot that carries has its heel up.
func standsOnBall(f *body.Figure, l body.Loads) bool {
	for s := body.Left; s <= body.Right; s++ {
		if l.Share(ballPart[s], toesPart[s]) > 0.05 && f.Legs[s].Tip.Z < -heelDrop {
			return true
		}
	}
	return false
}

// baseOrder is the place of a base in the order of base_of_support, steadiest first.
func baseOrder(base string) int { return slices.Index(byID["base_of_support"].Order, base) }

// base is what one posture stands on. A hand on a support or the back at a wall counts
// the feet as apart; so do feet side by side with the heels down.
func base(m Movement, f *body.Figure, l body.Loads, hands bool) string {
	switch m.Position {
	case "supine", "side_lying", "prone":
		return "lying"
	case "half_kneeling":
		if !hands {
			return "narrow"
		}
		return "wide"
	case "four_point", "kneeling":
		return "wide"
	case "floor_sit", "chair_sit":
		return "seated"
	}
	backAtWall := slices.ContainsFunc(l.Contacts, func(c body.Contact) bool { return m.Scene.Behind != 0 && c.At.X == m.Scene.Behind })
	if hands || backAtWall {
		return "feet_apart"
	}
	arms := l.Share(handPart[:]...) + l.Share(forearmPart[:]...)
	heels := l.Share(heelPart[0]) + l.Share(heelPart[1])
	apart := f.Legs[body.Left].End.Sub(f.Legs[body.Right].End)
	ahead := math.Abs(apart.Dot(f.Pelvis.F))
	if apart.Dot(f.Pelvis.L) < 0.05 && ahead < 0.3 ||
		arms < 0.02 && heels < 0.02 && l.Share(ballPart[:]...)+l.Share(toesPart[:]...) > 0.5 {
		return "narrow"
	}
	return "feet_apart"
}

// singleLeg is standing on one foot alone.
func singleLeg(m Movement, l body.Loads) bool {
	if m.Position != "standing" && m.Position != "standing_supported" {
		return false
	}
	on := 0
	for s := body.Left; s <= body.Right; s++ {
		if l.Share(heelPart[s], ballPart[s], toesPart[s]) > 0.01 {
			on++
		}
	}
	return on == 1
}

// movingBase says whether the feet step or turn while standing: a foot that comes down in
// another place, or pointing another way. It is harder to balance where they step sideways or
// turn. Walking straight ahead is not counted as harder: clients walk in.
func movingBase(m Movement, frames []Frame) (moves, harder bool) {
	if m.Position != "standing" && m.Position != "standing_supported" {
		return false, false
	}
	for s := body.Left; s <= body.Right; s++ {
		var was *[2]body.Vec
		for i := range frames {
			if frames[i].Pose == "" || frames[i].Figure.Gap(body.Part("foot_"+s.String()), m.Scene) > steppedOff {
				continue
			}
			foot := standsAt(frames[i].Figure.Legs[s])
			if was != nil {
				step := foot[0].Sub(was[0])
				turns := foot[1].AngleTo(was[1]) > turned
				aside := step.Perp(foot[1]).Len() > steps
				moves, harder = moves || turns || step.Len() > steps, harder || turns || aside
			}
			was = &foot
		}
	}
	return moves, harder
}

// standsAt is where the ball of a foot stands and which way it points, seen from above.
func standsAt(foot body.LimbChain) [2]body.Vec {
	ball, tip := foot.End.Along(foot.Tip, 0.1), foot.Tip
	ball.Z, tip.Z = 0, 0
	return [2]body.Vec{ball, tip.Unit()}
}

const (
	steps      = 0.12 // body heights from which a foot has stepped: 20 cm
	turned     = 30.0 // degrees from which it has turned
	steppedOff = 0.02 // body heights up to which it is down
)

// splitStance says whether the feet stand far apart from front to back, more
// than a step (0.35 of body height).
func splitStance(m Movement, frames []Frame) bool {
	if m.Position != "standing" && m.Position != "standing_supported" {
		return false
	}
	return slices.ContainsFunc(frames, func(f Frame) bool {
		legs := f.Figure.Legs
		return math.Abs(legs[0].End.Sub(legs[1].End).Dot(f.Figure.Pelvis.F)) > 0.35
	})
}
