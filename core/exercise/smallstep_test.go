package exercise_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"restbend/core/exercise"
)

func TestASettingMovesFromWhereItIs(t *testing.T) {
	usual := exercise.Settings{SurfaceCM: 75}
	to, ok := exercise.Settings{SurfaceCM: 62}.Moved(usual, exercise.Settings{SurfaceCM: 70})
	assert.True(t, ok)
	assert.Equal(t, 57.0, to.SurfaceCM)
	_, ok = exercise.Settings{SurfaceCM: 22}.Moved(usual, exercise.Settings{SurfaceCM: 70})
	assert.False(t, ok, "no surface is so low")
	band := exercise.Settings{Band: exercise.Strengths[0]}
	to, ok = exercise.Settings{Band: exercise.Strengths[1]}.Moved(band, exercise.Settings{Band: exercise.Strengths[1]})
	assert.True(t, ok)
	assert.Equal(t, exercise.Strengths[2], to.Band)
	_, ok = exercise.Settings{Band: exercise.Strengths[2]}.Moved(band, exercise.Settings{Band: exercise.Strengths[1]})
	assert.False(t, ok, "there is none stronger")
	to, ok = exercise.Settings{WeightKG: 2}.Moved(exercise.Settings{WeightKG: 1}, exercise.Settings{WeightKG: 1.5})
	assert.True(t, ok)
	assert.Equal(t, 2.5, to.WeightKG)
	to, ok = exercise.Settings{SeatCM: 50}.Moved(exercise.Settings{SeatCM: 45}, exercise.Settings{SeatCM: 50})
	assert.True(t, ok)
	assert.Equal(t, 55.0, to.SeatCM)
	_, ok = exercise.Settings{SeatCM: 60}.Moved(exercise.Settings{SeatCM: 45}, exercise.Settings{SeatCM: 50})
	assert.False(t, ok, "it is a bar stool by then")
	to, ok = exercise.Settings{Base: "usual"}.Moved(exercise.Settings{Base: "usual"}, exercise.Settings{Base: "narrow"})
	assert.True(t, ok)
	assert.Equal(t, "narrow", to.Base)
	_, ok = to.Moved(exercise.Settings{Base: "usual"}, exercise.Settings{Base: "narrow"})
	assert.False(t, ok, "the feet are together")
	to, ok = exercise.Settings{}.Filled(exercise.Settings{Feet: "held", Band: "light"}).Moved(
		exercise.Settings{Feet: "held"},
		exercise.Settings{Feet: "free"},
	)
	assert.True(t, ok)
	assert.Equal(t, exercise.Settings{Feet: "free"}, to, "nothing else is filled in")
}
