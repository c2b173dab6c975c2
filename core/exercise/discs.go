package exercise

import (
	"math"

	"restbend/core/body"
)

// bearing is what the discs bear at an instant, as shares of body weight; twist, which turns what is
// above to the left, and side, which bends it to the left, as shares of weight × height.
type bearing struct{ lumbar, ribs, shear, twist, side float64 }

// bearingOf is what they bear of a body that lies on the side of its base, if it does. Of one that
// lies, only what is lifted bends or turns anything.
func bearingOf(l body.Loads, held body.Held, base body.Base) bearing {
	b := bearing{lumbar: l.Lumbar.With(held), shear: l.Lumbar.Shear, twist: l.Lumbar.Twist, side: -l.Lumbar.Side}
	if l.Lies {
		b.twist, b.side = 0, held.Side
		if base == body.SideRight {
			b.side = -held.Side
		}
	}
	held.Psoas = 0 // it begins lower down
	b.ribs = l.Thoracolumbar.With(held)
	return b
}

// keyPoses are the indices of the key poses that an instant lies between, or its own.
func keyPoses(frames []Frame, at int) (from, to int) {
	from, to = at, at
	for frames[from].Pose == "" {
		from--
	}
	for frames[to].Pose == "" {
		to++
	}
	return from, to
}

// toProp says whether an instant of a body that lies is on the way to or from a pose that props
// on an arm. The arm pushes on the way too, though the picture has it down at the end alone, so
// that what would be carried without it says nothing. Rising from a seat with the hands is no such
// way: there the hands do leave.
func toProp(m Movement, frames []Frame, loads []body.Loads, at int) bool {
	from, to := keyPoses(frames, at)
	return m.Position.Lying() && frames[at].Pose == "" && loads[from].Props != loads[to].Props
}

// widest are the peaks to the left and to the right with one more value, positive to the left.
func widest(peaks [2]float64, v float64) [2]float64 {
	return [2]float64{math.Max(peaks[0], v), math.Max(peaks[1], -v)}
}

// bear adds what the discs bear over a movement.
func (p *limbPeaks) bear(m Movement, frames []Frame, loads []body.Loads, discs []bearing) {
	for i, f := range frames {
		if f.Rolling || toProp(m, frames, loads, i) {
			continue
		}
		p.lumbar = math.Max(p.lumbar, discs[i].lumbar)
		p.ribs = math.Max(p.ribs, discs[i].ribs)
		p.shear = math.Max(p.shear, discs[i].shear)
		p.axial = widest(p.axial, discs[i].twist)
		p.moving = widest(p.moving, discs[i].side-discs[0].side)
	}
}
