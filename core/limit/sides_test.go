package limit

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/body"
	"restbend/core/exercise"
)

// reach is a standing movement of the left arm, by side, to so many degrees.
func reach(t *testing.T, may ...string) *exercise.Variant {
	start := body.Pose{Base: body.Standing, Rest: []body.Part{"feet"}}
	for s, out := range [2]float64{1, -1} {
		start.Legs[s] = body.Limb{Upper: body.Vec{Z: -1}, Lower: body.Vec{Z: -1}, Pole: body.Vec{X: 1}}
		start.Arms[s] = body.Limb{Upper: body.Vec{Y: 0.2 * out, Z: -1}, Lower: body.Vec{Y: 0.1 * out, Z: -1}}
	}
	up := start
	up.Thoracic.Turn = 12
	up.Arms[body.Left] = body.Limb{Upper: body.Vec{X: 0.4, Z: 1}, Lower: body.Vec{X: 0.4, Z: 1}}
	v := &exercise.Variant{ID: "reach", SideMeans: "the arm that reaches", MayAdapt: may}
	require.NoError(t,
		v.Made(
			exercise.Movement{
				Order:    []string{"start", "up"},
				Poses:    map[string]body.Pose{"start": start, "up": up},
				Sided:    true,
				Position: "standing",
				Steps:    []exercise.Step{{To: "up", Seconds: 2, Breath: "in"}, {To: "start", Seconds: 2, Breath: "out"}},
			},
		),
	)
	return v
}

// TestEachSideHasItsOwnVerdict: what bars one arm leaves the other free; the verdict on
// both is the worse.
func TestEachSideHasItsOwnVerdict(t *testing.T) {
	sore := ofRow(body170.row("shoulder_elevation_left", exercise.WhenAny, 90.0, because("sore")))
	j := Judge(sore, reach(t), Kit{})
	assert.Equal(t, exercise.Avoid, j.Verdict)
	require.Len(t, j.Sides, 2)
	assert.Equal(t, exercise.Avoid, j.Sides["left"].Verdict)
	assert.Equal(t, "sore", j.Sides["left"].Reasons[0].Rule)
	assert.Equal(t, exercise.Suits, j.Sides["right"].Verdict)
	assert.Empty(t, j.Sides["right"].Reasons)
	assert.Equal(t, "right", j.Free())
	one := j.On("right")
	assert.Equal(t, exercise.Suits, one.Verdict)
	assert.Equal(t, "right", one.Only)
	assert.Empty(t, one.Reasons)
	assert.Less(t, one.Measured().Number("shoulder_elevation_left"), 20.0, "the sore arm hangs")
	assert.Greater(t, one.Measured().Number("shoulder_elevation_right"), 150.0)
	assert.Equal(t, 12.0, one.Measured().Number("thoracic_rotation_right"), "and the turn goes with it")
	assert.Zero(t, one.Measured().Number("thoracic_rotation_left"))
	assert.Greater(t, j.Measured().Number("shoulder_elevation_left"), 150.0, "of both together it is the worse")
	assert.Equal(t, j, j.On("up"), "there is no such side")

	adapted := Judge(sore, reach(t, "arms_lower"), Kit{})
	assert.Equal(t, exercise.Adapt, adapted.Verdict, "one form for both")
	assert.Equal(t, exercise.Adapt, adapted.Sides["left"].Verdict)
	assert.Equal(t, exercise.Suits, adapted.Sides["right"].Verdict)
	assert.Empty(t, adapted.On("right").Adaptations)
	assert.Equal(t, "arms_lower", adapted.On("left").Adaptations[0].ID)

	both := ofRow(body170.row("shoulder_elevation", exercise.WhenAny, 90.0, because("both")))
	assert.Nil(t, Judge(both, reach(t), Kit{}).Sides, "they do not differ")
	assert.Empty(t, Judge(both, reach(t), Kit{}).Free())
	assert.Nil(t, Judge(Limits{}, reach(t), Kit{}).Sides)
	turn := ofRow(body170.row("thoracic_rotation_left", exercise.WhenAny, 5.0, because("turn")))
	assert.Equal(t, "right", Judge(turn, reach(t), Kit{}).Free())
	with := body170.row("thoracic_rotation_right", exercise.WhenAny, 5.0, because("with"))
	with.With = &With{"thoracic_rotation", 5}
	assert.Equal(t, "left", Judge(ofRow(with), reach(t), Kit{}).Free(), "instants are by side too")
}
