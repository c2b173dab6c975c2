package plan

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"restbend/core/exercise"
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
