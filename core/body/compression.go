package body

import (
	"math"
	"sync"
)

// The single equivalent muscle of each direction, by its lever arm about the disc as a share of
// height; for 1.75 m: extensors 7.5 cm (McGill and Norman 1987, who found that one muscle so far
// out gives the compression of a detailed model), flexors 9 cm and those of one side 8 cm (McGill
// 1996), those that twist 7 cm, and psoas about the hip 4 cm. All from memory. There is no
// antagonist: what muscles do against each other is left out, and so is the pressure in the
// belly, which the authors count for heavy lifts.
const (
	leverExtensor = 0.043
	leverFlexor   = 0.052
	leverSide     = 0.046
	leverTwist    = 0.040
	leverPsoas    = 0.023
)

const (
	// tone is the share of body weight with which resting muscles and ligaments press on any disc
	// (Nachemson 1960, from memory).
	tone = 0.20

	psoasShare = 0.4 // of what lifts a leg that is psoas and pulls on the low back (common practice)
	// hung is the share of weight × height that facets and ligaments carry for each degree that a
	// back hangs in (after McGill 1994, from memory).
	hung = 0.0015
)

// Disc is what one disc bears, as shares of body weight.
type Disc struct {
	Compression float64
	Shear       float64 // of what is above, forward on what is below, or back
	Twist       float64 // moment about the spine, as a share of weight × height, to the left
	Side        float64 // moment toward the right
	Flex        float64 // moment forward
}

// disc works out what a disc bears: the force and the moment of everything above, outside
// forces included, are balanced by one muscle in each direction. The muscles of a body that lies
// rest, whatever a rigid one would need; what is lifted is for With. A back that is let hang, by
// so many degrees, is carried by its joints first.
func disc(at Frame, force, moment Vec, lies bool, arched float64) Disc {
	d := Disc{Shear: math.Abs(force.Dot(at.F)), Twist: moment.Dot(at.U), Side: moment.Dot(at.F), Flex: moment.Dot(at.L)}
	d.Compression = tone + math.Max(0, -force.Dot(at.U))
	if lies {
		return d
	}
	d.Compression += math.Abs(d.Side)/leverSide + math.Abs(d.Twist)/leverTwist
	if d.Flex > 0 {
		d.Compression += d.Flex / leverExtensor
	} else {
		d.Compression += math.Max(0, -d.Flex-hung*math.Max(0, arched)) / leverFlexor
	}
	return d
}

// Held are moments about the low back that muscles hold beside what the balance of the body
// tells, as shares of weight × height: the floor carries a body that lies, yet a head, a trunk or
// a leg that is lifted from it is held by muscle.
type Held struct {
	Front, Back, Side float64 // by the muscles in front, behind and of one side
	Psoas             float64 // by what lifts the legs
}

// Sum is all of it.
func (h Held) Sum() float64 { return h.Front + h.Back + h.Side + h.Psoas }

// With is the disc's compression with what muscles hold besides.
func (d Disc) With(h Held) float64 {
	return d.Compression + h.Front/leverFlexor + h.Back/leverExtensor + h.Side/leverSide + h.Psoas*psoasShare/leverPsoas
}

// QuietStanding is how quiet standing is carried, which compression is counted in.
var QuietStanding = sync.OnceValue(func() Loads {
	p := Pose{Base: Standing, Rest: []Part{"feet"}}
	for side := range p.Legs {
		out := signed(side)
		ahead := Vec{1, 0.12 * out, 0}
		p.Legs[side] = Limb{Upper: Vec{-0.045, 0.02 * out, -1}, Lower: Vec{-0.085, 0, -1}, Pole: ahead, End: ahead}
		p.Arms[side] = Limb{Upper: Vec{-0.05, 0.14 * out, -1}, Lower: Vec{0.16, 0.02 * out, -1}}
	}
	f, err := Solve(p, Scene{})
	if err != nil {
		panic(err) // a fixed pose
	}
	return f.Carry(Scene{})
})
