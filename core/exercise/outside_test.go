package exercise

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/body"
)

// reaching is a figure whose hands are so far apart, at a height, with the shoulders
// below or above them.
func reaching(apart, high, shoulders float64) body.Figure {
	var f body.Figure
	f.Chest.U, f.Neck = body.Vec{Z: 1}, body.Vec{Z: shoulders + 0.02}
	f.Head = body.Frame{F: body.Vec{X: 1}, L: body.Vec{Y: 1}, U: body.Vec{Z: 1}}
	for i, y := range []float64{1, -1} {
		f.Arms[i].Root = body.Vec{Y: y * 0.1, Z: shoulders}
		f.Arms[i].End = body.Vec{Y: y * apart / 2, Z: high}
		f.Legs[i].Mid = body.Vec{Y: y * 0.1, Z: 0.25}
	}
	return f
}

func pulling(h Held, with Settings, frames ...body.Figure) *outsides {
	all := make([]Frame, len(frames))
	for i, f := range frames {
		all[i].Figure = f
	}
	return outsideOf(Movement{Held: []Held{h}, With: with}, all)
}

// TestWhatThingsPullWith: a band is slack at 0.8 of its shortest length and has its
// newtons at twice that; a weight weighs; a ring pushes apart.
func TestWhatThingsPullWith(t *testing.T) {
	band := Held{Kind: "band", At: []body.Part{"hand_left", "hand_right"}}
	near, far := reaching(0.4, 0.8, 0.8), reaching(0.64, 0.8, 0.8)
	for strength, newtons := range map[string]float64{"": 20, "light": 20, "medium": 35, "strong": 55} {
		o := pulling(band, Settings{Band: strength}, near, far)
		assert.InDelta(t, newtons, o.newtons(0, &far), 1e-9, "0.64 is twice 0.32, %q", strength)
		assert.InDelta(t, newtons/4, o.newtons(0, &near), 1e-9, "0.4 is a quarter more than 0.32")
	}
	slack := reaching(0.3, 0.8, 0.8)
	o := pulling(band, Settings{}, near, far)
	assert.Zero(t, o.newtons(0, &slack), "a band does not push")
	assert.Empty(t, o.pulls(&slack))
	assert.Equal(t, []body.Pull{{Part: "hand_left", Other: "hand_right", Share: o.newtons(0, &far) / (68 * 9.81)}}, o.pulls(&far))

	anchor := body.Vec{X: 0.5, Z: 0.8}
	anchored := Held{Kind: "band", At: []body.Part{"hands"}, Anchor: &anchor}
	o = pulling(anchored, Settings{}, near)
	assert.InDelta(t, 20*0.25, o.newtons(0, &near), 1e-9)
	assert.Equal(t,
		[]body.Pull{
			{Part: "hand_left", To: &anchor, Share: 2.5 / (68 * 9.81)},
			{Part: "hand_right", To: &anchor, Share: 2.5 / (68 * 9.81)},
		},
		o.pulls(&near),
		"each hand has its half",
	)

	lone := Held{Kind: "band", At: []body.Part{"hand_left"}}
	o = pulling(lone, Settings{}, near)
	assert.InDelta(t, 20*0.25, o.newtons(0, &near), 1e-9, "its other end is out of the picture: it stays as long as it is")
	assert.Empty(t, o.pulls(&near), "and pulls nowhere known")
	assert.Zero(t, pulling(Held{Kind: "band"}, Settings{}).newtons(0, &near), "no frames, no length")

	weight := Held{Kind: "weight", At: []body.Part{"hand_left"}}
	assert.InDelta(t, 9.81, pulling(weight, Settings{}, near).newtons(0, &near), 1e-9, "a kilogram unless said")
	assert.Equal(t,
		[]body.Pull{{Part: "hand_left", Share: 2 * 9.81 / (68 * 9.81)}},
		pulling(weight, Settings{WeightKG: 2}, near).pulls(&near),
	)
	ring := pulling(Held{Kind: "ring", At: []body.Part{"knees"}}, Settings{}, near)
	assert.Equal(t, []body.Pull{{Part: "knee_left", Other: "knee_right", Share: -20 / (68 * 9.81)}}, ring.pulls(&near))
	assert.Empty(t,
		pulling(Held{Kind: "ball", At: []body.Part{"knees"}}, Settings{}, near).pulls(&near),
		"a soft ball is held, not squeezed",
	)
}

func TestWhoHoldsIt(t *testing.T) {
	assert.Equal(t,
		[]body.Part{"foot_left", "foot_right", "hand_left", "hand_right", "knee_left", "knee_right", "elbow_left"},
		gripped([]body.Part{"feet", "hands", "knees", "elbow_left"}),
	)
}

// TestALoadOverTheHead: more than a kilogram, or more than 15 N, above the head of an
// upright chest.
func TestALoadOverTheHead(t *testing.T) {
	up, down := reaching(0.4, 0.98, 0.8), reaching(0.4, 0.9, 0.8)
	lying := up
	lying.Chest.U = body.Vec{X: 1}
	weight := func(kg float64) *outsides {
		return pulling(Held{Kind: "weight", At: []body.Part{"hand_right"}}, Settings{WeightKG: kg}, up)
	}
	assert.True(t, weight(1.5).overhead(&up))
	assert.False(t, weight(1).overhead(&up), "a kilogram is little")
	assert.False(t, weight(1.5).overhead(&down))
	assert.False(t, weight(1.5).overhead(&lying), "lying it is ahead, not overhead")
	onlyRight := down
	onlyRight.Arms[body.Right].End.Z = 0.98
	assert.True(t, weight(1.5).overhead(&onlyRight), "by the hand that holds it")
	assert.False(t, pulling(Held{Kind: "weight", At: []body.Part{"knees"}}, Settings{WeightKG: 5}, up).overhead(&up), "not in a hand")
	wide := reaching(0.6, 0.98, 0.8)
	band := Held{Kind: "band", At: []body.Part{"hands"}}
	assert.True(t, pulling(band, Settings{}, up, wide).overhead(&wide), "17.5 N")
	assert.False(t, pulling(band, Settings{}, up, wide).overhead(&up), "5 N")
	assert.False(t,
		pulling(Held{Kind: "ring", At: []body.Part{"hands"}}, Settings{}, up).overhead(&up),
		"a ring pushes the hands, and hangs from neither",
	)
}

// TestLoadsToASideAreOfThatSide: a band from the left turns whoever holds it in front to the left,
// a weight taken out to the right bends to the right, and the mirror image the other way.
func TestLoadsToASideAreOfThatSide(t *testing.T) {
	m := bow()
	ahead := m.Poses["start"]
	out := ahead
	for s, y := range [2]float64{1, -1} {
		ahead.Arms[s] = body.Limb{Upper: body.Vec{X: 1, Y: -0.2 * y}, Lower: body.Vec{X: 1, Y: -0.2 * y}}
	}
	out.Arms[1] = body.Limb{Upper: body.Vec{Y: -1}, Lower: body.Vec{Y: -1}}
	m.Order, m.Poses = []string{"start", "there"}, map[string]body.Pose{"start": m.Poses["start"], "there": ahead}
	m.Steps = []Step{{To: "there", Seconds: 2, Breath: "out"}, {To: "start", Seconds: 2, Breath: "in"}}
	anchor := body.Vec{X: 0.3, Y: 0.6, Z: 0.75}
	m.HoldsAt, m.Directions, m.Touching = "", nil, []body.Part{"hand_left", "hand_right", "forearm_left", "forearm_right"}
	m.Held = []Held{{Kind: "band", Taut: 2, At: []body.Part{"hand_left", "hand_right"}, Anchor: &anchor}}
	q, err := Measure(m)
	require.NoError(t, err)
	assert.Greater(t, q.Number("axial_moment_left"), 0.005)
	assert.Less(t, q.Number("axial_moment_right"), 0.002)

	m.Poses["there"], m.Held = out, []Held{{Kind: "weight", At: []body.Part{"hand_right"}}}
	q, err = Measure(m)
	require.NoError(t, err)
	assert.Greater(t, q.Number("moving_side_moment_right"), 0.005)
	assert.Zero(t, q.Number("moving_side_moment_left"))
	q, err = Measure(m.Mirror())
	require.NoError(t, err)
	assert.Greater(t, q.Number("moving_side_moment_left"), 0.005)
	assert.Zero(t, q.Number("moving_side_moment_right"))
}
