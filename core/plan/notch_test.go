package plan

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"restbend/core/exercise"
	"restbend/core/limit"
)

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
