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
)

// furnish puts the named furniture round the start pose, whose pelvis is above
// the origin.
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
	for _, n := range names {
		switch n {
		case "mat":
			s := solid(-0.60, -0.17, -0.012, 0.60, 0.17, 0)
			s.Soft = true
			m.Solids = append(m.Solids, s)
		case "chair": // sat on, its back behind
			chair(-0.135, 1)
		case "chair_ahead": // its back toward the person, to hold on to
			chair(0.205, 1)
		case "pillow":
			// under the head of someone lying on the side
			s := solid(-0.62, -0.10, 0, -0.42, 0.10, 0.050)
			s.Soft = true
			m.Solids = append(m.Solids, s)
			rest(s)
		case "table_ahead": // 75 cm high, its near edge in front of the hands
			top := solid(0.30, -0.30, tableHeight-slab, 0.66, 0.30, tableHeight)
			m.Solids = append(m.Solids, top, solid(0.62, -0.28, 0, 0.62+2*post, -0.28+2*post, tableHeight-slab), solid(0.62, 0.26, 0, 0.62+2*post, 0.26+2*post, tableHeight-slab))
			rest(top)
		case "wall":
			m.Scene.Wall = wallAt
			m.Solids = append(m.Solids, solid(wallAt, -0.4, 0, wallAt+0.02, 0.4, 1.1))
		case "towel": // under the forehead of someone lying face down
			s := solid(0.33, -0.07, 0, 0.45, 0.07, 0.022)
			s.Soft = true
			m.Solids = append(m.Solids, s)
			rest(s)
		default:
			return fmt.Errorf("furniture: %q is not one of mat, chair, chair_ahead, pillow, table_ahead, wall, towel", n)
		}
	}
	return nil
}
