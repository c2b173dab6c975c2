package body

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// allFours is a body on hands and knees.
func allFours() Pose {
	p := Pose{
		Base:   Prone,
		Rest:   []Part{"knees"},
		Settle: []Settle{{Vary: "pelvis.flexion", Range: [2]float64{-60, 30}, Until: "level", Part: "shoulder_left", Z: 0.352}},
	}
	for s := range p.Legs {
		p.Legs[s] = Limb{Upper: Vec{0, 0, -1}, Lower: Vec{-1, 0, 0.005}, Pole: Vec{0, 0, -1}, End: Vec{-1, 0, -0.12}}
		p.Arms[s] = Limb{
			Pin:  &Pin{Of: "root", At: Vec{0, 0, 0.026}},
			Pole: Vec{-1, signed(s) * 0.55, 0.1},
			End:  Vec{1, 0, -0.12},
			Palm: Vec{0, 0, -1},
		}
	}
	return p
}

func TestAllFours(t *testing.T) {
	f := solved(t, allFours(), Scene{})
	level := f.Carry(Scene{})
	assert.Less(t, level.Residual, 0.01)
	assert.InDelta(t, level.Share("hand_left"), level.Share("hand_right"), 1e-3, "weight even")
	assert.Greater(t, level.Margin(), 0.03)
	// Rough value to expect: 0.012 of weight × height or less.
	assert.Less(t, level.LowBack, 0.013)

	reach := allFours()
	reach.Arms[Left] = Limb{Upper: Vec{1, 0.1, 0.1}, Lower: Vec{1, 0, 0}}
	f = solved(t, reach, Scene{})
	arm := f.Carry(Scene{})
	assert.Zero(t, arm.Share("hand_left"))
	assert.Greater(t, arm.Share("hand_right"), level.Share("hand_right"))
	assert.Greater(t, arm.LowBack, level.LowBack)

	kick := allFours()
	kick.Legs[Left] = Limb{Upper: Vec{-1, 0, -0.1}, Lower: Vec{-1, 0, -0.1}, Pole: Vec{0, 0, -1}}
	f = solved(t, kick, Scene{})
	leg := f.Carry(Scene{})
	assert.Zero(t, leg.Share("knee_left"))
	assert.Greater(t, leg.Lumbar.Compression, 1.3*level.Lumbar.Compression)
}

func TestLeaningOnAWall(t *testing.T) {
	// A body leaning 12° forward from the ankles, hands on a wall at shoulder height.
	p := Pose{Base: Standing, Pelvis: Bend{Flexion: 12}, Rest: []Part{"feet"}}
	for s := range p.Legs {
		p.Legs[s] = Limb{Upper: Vec{0, 0, -1}, Lower: Vec{0, 0, -1}, Pole: Vec{1, 0, 0}, Frame: "pelvis", End: Vec{0.98, 0, 0.2}}
		p.Arms[s] = Limb{Upper: Vec{1, 0, -0.05}, Lower: Vec{1, 0, 0}, End: Vec{0.3, 0, 1}, Palm: Vec{1, 0, 0}}
	}
	free := solved(t, p, Scene{})
	nearest := 0.0
	for _, b := range free.balls("hand_left") {
		nearest = max(nearest, b.At.X+b.Radius)
	}
	wall := Scene{Wall: nearest}
	without, with := free.Carry(Scene{}), free.Carry(wall)
	assert.Greater(t, without.Residual, 0.01, "without the wall it would fall")
	assert.Less(t, with.Residual, 0.01, "with it, it stands")
	pressed := with.Share("hand_left", "hand_right")
	assert.Greater(t, pressed, 0.02)
	assert.Less(t, pressed, 0.3, "a wall takes little")
}

func TestSunkGapAndOverlaps(t *testing.T) {
	f := solved(t, standing(), Scene{})
	depth, _ := f.Sunk("foot_left", Scene{})
	assert.InDelta(t, 0, depth, 1e-9)
	f.Shift(Vec{Z: -0.05})
	depth, where := f.Sunk("foot_left", Scene{})
	assert.InDelta(t, 0.05, depth, 1e-9)
	assert.Equal(t, "the floor", where)
	f.Shift(Vec{Z: 0.15})
	assert.InDelta(t, 0.10, f.Gap("feet", Scene{}), 1e-9)
	assert.InDelta(t, 0.05, f.Gap("feet", Scene{Boxes: []Box{{Min: Vec{-1, -1, 0}, Max: Vec{1, 1, 0.05}}}}), 1e-9)
	for _, o := range f.Overlaps() {
		assert.Less(t, o.Depth, 0.03, "%s in the %s", o.Part, o.Other)
	}
	ball := Ball{Vec{0.5, 0, 0}, 0.1}
	assert.InDelta(t, 0.05, Piece{Ball{Vec{0, 0.15, 0}, 0.1}, Ball{Vec{1, 0.15, 0}, 0.1}}.depth(ball), 1e-9)
}

func TestEveryPartHasASurface(t *testing.T) {
	f := solved(t, standing(), Scene{})
	for _, p := range SurfaceParts {
		assert.NotEmpty(t, f.balls(p), p)
		assert.NoError(t, CheckPart(p), p)
	}
	assert.Empty(t, f.balls("tail"))
	for _, seg := range []Segment{Torso, HeadSegment, UpperArm, ForeArm, Thigh, Shank, Foot} {
		for side := Left; side <= Right; side++ {
			for _, piece := range f.Pieces(seg, side) {
				assert.Positive(t, piece.A.Radius)
				assert.Positive(t, piece.B.Radius)
			}
		}
	}
}
