package body

import "strings"

// Pull is an outside force on a part of the body, as a share of body weight: a weight
// hangs from a hand, a band or a helper's hand pulls toward a point, a band between two
// parts pulls both together, a ring or a ball pushes them apart (a negative share).
type Pull struct {
	Part  Part    // a hand, foot, knee or hip, with its side
	To    *Vec    // a fixed point that it pulls to, in body heights
	Other Part    // or the part that it pulls to, and that is pulled back
	Share float64 // down where neither is given
}

// Mirror swaps left and right.
func (p Pull) Mirror() Pull {
	p.Part, p.Other = p.Part.Mirror(), p.Other.Mirror()
	if p.To != nil {
		to := p.To.Mirror()
		p.To = &to
	}
	return p
}

// outside is a force at a place, and which part of the body it acts on.
type outside struct {
	at, force Vec
	arm, leg  bool
	side      Side
}

// outsides are the forces of all pulls on the figure as it stands.
func (f *Figure) outsides(pulls []Pull) []outside {
	var out []outside
	add := func(p Part, force Vec) {
		on := outside{at: f.Grip(p), force: force, side: sideOf(p)}
		on.arm = strings.HasPrefix(string(p), "hand") || strings.HasPrefix(string(p), "elbow")
		on.leg = !on.arm && !strings.HasPrefix(string(p), "hip")
		out = append(out, on)
	}
	for _, p := range pulls {
		switch {
		case p.To != nil:
			add(p.Part, p.To.Sub(f.Grip(p.Part)).Unit().Scale(p.Share))
		case p.Other != "":
			toward := f.Grip(p.Other).Sub(f.Grip(p.Part)).Unit()
			add(p.Part, toward.Scale(p.Share))
			add(p.Other, toward.Scale(-p.Share))
		default:
			add(p.Part, Vec{0, 0, -p.Share})
		}
	}
	return out
}

// Grip is where something held or strapped on acts on a part: the middle of a hand, an
// ankle, a knee, the side of a hip.
func (f *Figure) Grip(p Part) Vec {
	side := sideOf(p)
	name, _, _ := strings.Cut(string(p), "_")
	switch name {
	case "hand":
		return f.Arms[side].End.Along(f.Arms[side].Tip, handLength/2)
	case "elbow", "forearm":
		return f.Arms[side].Mid
	case "knee", "thigh":
		return f.Legs[side].Mid
	case "hip":
		return f.Legs[side].Root
	}
	return f.Legs[side].End
}
