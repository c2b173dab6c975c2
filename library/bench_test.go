package library

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/body"
)

// TestTheBenchIsTheLibrarysPlank: the same plank at the same height loads the low back alike on the
// bench and in the library, as far up as either goes.
func TestTheBenchIsTheLibrarysPlank(t *testing.T) {
	l := load(t)
	for id, lean := range map[string]body.Lean{
		"plank_sofa_toes":          {On: body.OnForearms, From: body.FromToes},
		"plank_sofa_knees":         {On: body.OnForearms, From: body.FromKnees},
		"side_bridge_raised_feet":  {On: body.OnForearms, From: body.FromToes, Side: true},
		"side_bridge_raised_knees": {On: body.OnForearms, From: body.FromKnees, Side: true},
	} {
		for cm := 25.0; cm <= 60; cm += 5 {
			lean.Raise = cm / 170
			bench, err := lean.Work()
			require.NoError(t, err, id)
			v := l.Variant(id).At(lean.Raise)
			if assert.NotNil(t, v, "%s at %g cm", id, cm) {
				assert.InDelta(t, bench.LowBack, v.Plain().Measured.Number("lumbar_moment"), 0.002, "%s at %g cm", id, cm)
			}
		}
	}
}
