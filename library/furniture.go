package library

import (
	"fmt"

	"restbend/core/body"
	"restbend/core/exercise"
)

// Sizes in body heights; a seat of 0.265 is 45 cm for a person of 170 cm.
const (
	seatHeight = 0.265
	backHeight = 0.530
	slab       = 0.022
	post       = 0.012
	// A table of 75 cm, and a wall at arm's length.
	tableHeight = 0.441
	wallAt      = 0.36
	behindAt    = -0.080
	footBar     = 0.375
)

// furnish puts the named furniture round the start pose, whose pelvis is above
// the origin.
//
//revive:disable-next-line:cyclomatic One case for each thing, which is a few lengths.
func furnish(m *exercise.Movement, names []string) error {
	solid := func(x0, y0, z0, x1, y1, z1 float64) exercise.Solid {
		return exercise.Solid{Min: body.Vec{X: x0, Y: y0, Z: z0}, Max: body.Vec{X: x1, Y: y1, Z: z1}}
	}
	rest := func(s exercise.Solid) {
		m.Scene.Boxes = append(m.Scene.Boxes, body.Box{Min: s.Min, Max: s.Max})
	}
	// chair stands with its back at x = back and its front edge toward dir.
	chair := func(back, dir float64) {
		front := back + dir*0.235
		seat := solid(min(back, front), -0.13, seatHeight-slab, max(back, front), 0.13, seatHeight)
		m.Solids = append(m.Solids, seat)
		rest(seat)
		for _, x := range []float64{back, front - dir*post} {
			for _, y := range []float64{-0.125, 0.125 - post} {
				top := seatHeight - slab
				if x == back {
					top = backHeight
				}
				m.Solids = append(m.Solids, solid(min(x, x+dir*post), y, 0, max(x, x+dir*post), y+post, top))
			}
		}
		m.Solids = append(m.Solids, solid(min(back, back+dir*post), -0.125, backHeight-0.10, max(back, back+dir*post), 0.125, backHeight))
		rest(solid(min(back, back+dir*post)-0.004, -0.125, 0, max(back, back+dir*post)+0.004, 0.125, backHeight))
	}
	soft := func(s exercise.Solid) {
		s.Soft = true
		m.Solids = append(m.Solids, s)
		if s.Max.Z > 0 {
			rest(s)
		}
	}
	hard := func(s exercise.Solid) {
		m.Solids = append(m.Solids, s)
		rest(s)
	}
	leg := func(x, y, top float64) { m.Solids = append(m.Solids, solid(x, y, 0, x+2*post, y+2*post, top)) }
	// shaped is a low rounded or sloping support.
	shaped := func(shape string, s exercise.Solid) {
		s.Shape, s.Soft = shape, true
		m.Solids = append(m.Solids, s)
		m.Scene.Boxes = append(m.Scene.Boxes, body.Box{Min: s.Min, Max: s.Max, Shape: shape})
	}
	for _, n := range names {
		switch n {
		case "mat":
			soft(solid(-0.60, -0.17, -0.012, 0.60, 0.17, 0))
		case "chair": // sat on, its back behind
			chair(-0.135, 1)
		case "armrests": // of the chair sat on, for the hands
			for _, y := range []float64{0.132, -0.168} {
				hard(solid(-0.12, y, 0.347, 0.12, y+0.036, 0.359))
				leg(0.09, y, 0.347)
			}
		case "stool": // a chair turned sideways or a stool, with nothing behind
			hard(solid(-0.135, -0.13, seatHeight-slab, 0.10, 0.13, seatHeight))
			for _, x := range []float64{-0.135, 0.10 - 2*post} {
				leg(x, -0.125, seatHeight-slab)
				leg(x, 0.101, seatHeight-slab)
			}
		case "chair_ahead": // its back toward the person, to hold on to
			chair(0.205, 1)
		case "seat_ahead": // its seat toward the person, its back beyond
			chair(0.235+0.22, -1)
		case "chair_for_legs": // its seat under the calves of someone on the back
			chair(0.315, -1)
		case "chair_behind": // to sit down to
			chair(-0.36, 1)
		case "rail": // at 90 cm, in front
			m.Solids = append(m.Solids, solid(0.205, -0.30, 0.515, 0.225, 0.30, 0.530))
			leg(0.203, -0.30, 0.515)
			leg(0.203, 0.28, 0.515)
		case "pillow": // under the head of someone lying on the side
			soft(solid(-0.62, -0.10, 0, -0.42, 0.10, 0.050))
		case "pillow_head": // under the head of someone lying on the back
			soft(solid(-0.62, -0.12, 0, -0.42, 0.12, 0.030))
		case "pillow_knees": // under the knees of someone lying on the back
			soft(solid(0.16, -0.14, 0, 0.30, 0.14, 0.075))
		case "pillow_belly": // under the belly of someone face down
			soft(solid(-0.06, -0.13, 0, 0.12, 0.13, 0.035))
		case "cushion_front": // under the knee of the top leg of someone on the side
			soft(solid(0.08, -0.28, 0, 0.28, -0.10, 0.072))
		case "cushion_back": // under the upper back of someone lying on the back
			soft(solid(-0.54, -0.13, 0, -0.20, 0.13, 0.045))
		case "towel": // under the forehead of someone lying face down
			soft(solid(0.35, -0.07, 0, 0.47, 0.07, 0.022))
		case "towel_roll": // under the heels of the hands, on all fours
			soft(solid(0.245, -0.16, 0, 0.285, 0.16, 0.014))
		case "table_ahead": // 75 cm high, its near edge in front of the hands
			hard(solid(0.30, -0.30, tableHeight-slab, 0.66, 0.30, tableHeight))
			leg(0.62, -0.28, tableHeight-slab)
			leg(0.62, 0.26, tableHeight-slab)
		case "table_lap": // for the forearms of someone sitting
			hard(solid(0.16, -0.30, tableHeight-slab, 0.52, 0.30, tableHeight))
			leg(0.48, -0.28, tableHeight-slab)
			leg(0.48, 0.26, tableHeight-slab)
		case "bench_ahead": // 45 cm high, for forearms and hands
			hard(solid(0.30, -0.26, seatHeight-slab, 0.56, 0.26, seatHeight))
			leg(0.52, -0.24, seatHeight-slab)
			leg(0.52, 0.22, seatHeight-slab)
			leg(0.31, -0.24, seatHeight-slab)
			leg(0.31, 0.22, seatHeight-slab)
		case "ball_ahead": // a large ball under the forearms, drawn as what is held
			rest(solid(0.30, -0.13, 0, 0.56, 0.13, seatHeight))
		case "bench_far": // the same, for elbows a long reach ahead
			hard(solid(0.41, -0.26, seatHeight-slab, 0.67, 0.26, seatHeight))
			leg(0.42, -0.24, seatHeight-slab)
			leg(0.42, 0.22, seatHeight-slab)
			leg(0.63, -0.24, seatHeight-slab)
			leg(0.63, 0.22, seatHeight-slab)
		case "blanket": // folded, under the seat of someone on the floor
			soft(solid(-0.13, -0.14, 0, 0.07, 0.14, 0.030))
		case "bench_side": // 45 cm high, beyond the head of someone on the side
			hard(solid(-0.66, -0.26, seatHeight-slab, -0.20, 0.26, seatHeight))
			leg(-0.65, -0.24, seatHeight-slab)
			leg(-0.65, 0.22, seatHeight-slab)
			leg(-0.235, -0.24, seatHeight-slab)
			leg(-0.235, 0.22, seatHeight-slab)
		case "bed": // sat on at its edge, lying room behind
			hard(solid(-0.62, -0.62, seatHeight-0.09, 0.10, 0.62, seatHeight))
			m.Solids = append(m.Solids, solid(-0.60, -0.60, 0, 0.06, 0.60, seatHeight-0.09))
		case "rail_side": // at 90 cm, along the right
			m.Solids = append(m.Solids, solid(-0.5, -0.285, 0.515, 0.7, -0.27, 0.530))
		case "wall_back": // a step behind, to turn to
			m.Solids = append(m.Solids, solid(-0.30, -0.5, 0, -0.28, 0.5, 1.1))
		case "chair_to_rise": // its seat within reach from hands and knees
			chair(0.312+0.235, -1)
		case "bed_side": // lain on along its edge, which is to the front of the body
			hard(solid(-0.66, -0.17, seatHeight-0.09, 0.62, 0.50, seatHeight))
			m.Solids = append(m.Solids, solid(-0.64, -0.13, 0, 0.60, 0.48, seatHeight-0.09))
		case "step_ahead": // a low step
			hard(solid(0.16, -0.16, 0, 0.36, 0.16, 0.075))
		case "step_under": // stood on, with room to step down in front
			hard(solid(-0.14, -0.16, 0, 0.075, 0.16, 0.075))
		case "wall":
			m.Scene.Wall = wallAt
			m.Solids = append(m.Solids, solid(wallAt, -0.4, 0, wallAt+0.02, 0.4, 1.1))
		case "wall_behind":
			m.Scene.Behind = behindAt
			m.Solids = append(m.Solids, solid(behindAt-0.02, -0.4, 0, behindAt, 0.4, 1.1))
		case "arc": // soft, under the ribs of someone lying on it
			shaped("arc", solid(-0.33, -0.15, 0, -0.09, 0.15, 0.085))
		case "arc_low":
			shaped("arc", solid(-0.32, -0.15, 0, -0.10, 0.15, 0.042))
		case "carriage": // lain on, with a bar for the feet beyond
			m.Solids = append(m.Solids, solid(-0.62, -0.16, -0.05, 0.10, 0.16, 0), solid(-0.75, -0.17, -0.09, 0.66, 0.17, -0.05))
			hard(solid(footBar, -0.16, 0.125, footBar+0.022, 0.16, 0.147))
			leg(footBar, -0.18, 0.147)
			leg(footBar, 0.16, 0.147)
		default:
			if grade, offset, ok := wedge(n); ok {
				from := -0.140 - offset
				shaped("wedge", solid(from-0.36, -0.15, 0, from, 0.15, 0.018*float64(grade)))
				continue
			}
			return fmt.Errorf("furniture: there is no piece %q; see library/furniture.go", n)
		}
	}
	return nil
}

// wedge reads wedge_1_easy to wedge_4_far: the grade is its height in steps of
// 3 cm, the offset how far up the back its top lies, in body heights.
func wedge(name string) (grade int, offset float64, ok bool) {
	var where string
	if n, _ := fmt.Sscanf(name, "wedge_%d_%s", &grade, &where); n != 2 || grade < 1 || grade > 4 {
		return 0, 0, false
	}
	switch where {
	case "easy":
		return grade, 0.05, true
	case "far":
		return grade, 0, true
	}
	return 0, 0, false
}
