package exercise

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/body"
)

// wrong is a standing movement whose second pose is spoilt by change.
func wrong(change func(*body.Pose, *Movement)) Movement {
	m := bow()
	m.Steps = m.Steps[:1]
	m.Order = m.Order[:2]
	p := m.Poses["start"]
	change(&p, &m)
	m.Poses = map[string]body.Pose{"start": m.Poses["start"], "round": p}
	return m
}

// TestEachCheckCatchesItsWrongPose has one deliberately wrong pose for every
// check, and one just right beside it where a line is drawn.
func TestEachCheckCatchesItsWrongPose(t *testing.T) {
	for says, change := range map[string]func(*body.Pose, *Movement){
		"foot_left: is sunk": func(p *body.Pose, _ *Movement) {
			p.Lift = -0.02
		},
		"into the wall": func(p *body.Pose, m *Movement) {
			m.Scene.Wall = 0.3
			p.Arms[0] = body.Limb{Upper: body.Vec{X: 1}, Lower: body.Vec{X: 1}}
		},
		"into the furniture": func(p *body.Pose, m *Movement) {
			m.Scene.Boxes = []body.Box{{Min: body.Vec{X: 0.15, Y: -0.5, Z: 0.55}, Max: body.Vec{X: 0.9, Y: 0.5, Z: 0.9}}}
			p.Move.X += 0.1
		},
		"hand_left: passes": func(p *body.Pose, _ *Movement) {
			p.Arms[0] = body.Limb{Pin: &body.Pin{Of: "chest_frame", At: body.Vec{X: 0.03, Z: -0.03}}, Pole: body.Vec{Y: 1, Z: -1}}
		},
		"foot_left: passes": func(p *body.Pose, _ *Movement) {
			p.Legs[0] = body.Limb{Upper: body.Vec{X: 0.3, Y: -0.1, Z: -1}, Lower: body.Vec{X: -0.3, Y: -0.32, Z: -1}, Pole: body.Vec{X: 1}}
			p.Rest = []body.Part{"foot_right"}
		},
		"knee_left: floats": func(p *body.Pose, _ *Movement) { p.Rest = []body.Part{"feet", "knee_left"} },
		"left and right are mixed up": func(p *body.Pose, _ *Movement) {
			p.Legs[0] = body.Limb{Upper: body.Vec{X: 0.25, Y: -0.42, Z: -1}, Lower: body.Vec{X: 0.2, Y: -0.42, Z: -1}, Pole: body.Vec{X: 1}}
			p.Rest = []body.Part{"foot_right"}
		},
		"left shoulder extension": func(p *body.Pose, _ *Movement) {
			p.Arms[0] = body.Limb{Upper: body.Vec{X: -1, Z: -0.2}, Lower: body.Vec{X: -1, Z: -0.2}}
		},
		"left shoulder across the chest": func(p *body.Pose, _ *Movement) {
			p.Arms[0] = body.Limb{Upper: body.Vec{X: 0.3, Y: -1}, Lower: body.Vec{X: 1, Y: -1}}
		},
		"left shoulder flexion": func(p *body.Pose, _ *Movement) {
			p.Arms[0] = body.Limb{Upper: body.Vec{X: -0.65, Z: 1}, Lower: body.Vec{X: -0.65, Z: 1}}
		},
		"right hip abduction": func(p *body.Pose, _ *Movement) {
			p.Legs[1] = body.Limb{Upper: body.Vec{Y: -1, Z: -0.2}, Lower: body.Vec{Y: -1, Z: -0.2}, Pole: body.Vec{X: 1}}
			p.Rest = []body.Part{"foot_left"}
		},
		"left hip rotation": func(p *body.Pose, _ *Movement) {
			p.Legs[0] = body.Limb{Upper: body.Vec{Z: -1}, Lower: body.Vec{Y: -1, Z: -0.1}}
			p.Rest = []body.Part{"foot_right"}
		},
		"cervical rotation": func(p *body.Pose, _ *Movement) { p.Cervical.Turn = 95 },
	} {
		err := Check(wrong(change))
		assert.ErrorContains(t, err, says, says)
		assert.ErrorContains(t, err, "pose round", says)
	}
	assert.NoError(t, Check(wrong(func(*body.Pose, *Movement) {})), "the pose they spoil is right")
}

func TestWhatIsMeantToTouchMay(t *testing.T) {
	m := wrong(func(p *body.Pose, m *Movement) {
		p.Arms[0] = body.Limb{Pin: &body.Pin{Of: "chest_frame", At: body.Vec{X: 0.03, Z: -0.03}}, Pole: body.Vec{Y: 1, Z: -1}}
	})
	require.Error(t, Check(m))
	m.Touching = []body.Part{"hand_left"}
	assert.NoError(t, Check(m))
}
