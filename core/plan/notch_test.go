package plan

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"restbend/core/exercise"
	"restbend/core/limit"
)

func TestNotchedMovesFromWhereItIs(t *testing.T) {
	usual := exercise.Settings{SurfaceCM: 75}
	to, ok := notched(exercise.Settings{SurfaceCM: 62}, usual, exercise.Settings{SurfaceCM: 70})
	assert.True(t, ok)
	assert.Equal(t, 57.0, to.SurfaceCM)
	_, ok = notched(exercise.Settings{SurfaceCM: 22}, usual, exercise.Settings{SurfaceCM: 70})
	assert.False(t, ok, "no surface is so low")
	band := exercise.Settings{Band: exercise.Strengths[0]}
	to, ok = notched(exercise.Settings{Band: exercise.Strengths[1]}, band, exercise.Settings{Band: exercise.Strengths[1]})
	assert.True(t, ok)
	assert.Equal(t, exercise.Strengths[2], to.Band)
	_, ok = notched(exercise.Settings{Band: exercise.Strengths[2]}, band, exercise.Settings{Band: exercise.Strengths[1]})
	assert.False(t, ok, "there is none stronger")
	to, ok = notched(exercise.Settings{WeightKG: 2}, exercise.Settings{WeightKG: 1}, exercise.Settings{WeightKG: 1.5})
	assert.True(t, ok)
	assert.Equal(t, 2.5, to.WeightKG)
}

func TestADecidedHeightIsTriedFirst(t *testing.T) {
	v := &exercise.Variant{ID: "lean"}
	r := Request{Client: limit.Client{Rungs: []limit.Rung{{Variant: "lean", Settings: exercise.Settings{SurfaceCM: 62}}}}}
	assert.Equal(t, 62.0, r.decidedHeight(v))
	r.Client.Owned.SurfaceCM = []float64{45, 75}
	assert.Zero(t, r.decidedHeight(v), "it is there no more")
	r.Client.Owned.SurfaceCM = []float64{45, 62}
	assert.Equal(t, 62.0, r.decidedHeight(v))
	assert.Zero(t, r.decidedHeight(&exercise.Variant{ID: "other"}))
}
