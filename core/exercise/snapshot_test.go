package exercise

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestWhatWasMeasuredComesBackAsItWas(t *testing.T) {
	for _, m := range []Measured{unmeasured(), AtRest().With("demand", 4.25).With("head_lift", true),
		{values: AtRest().values, one: [2][]float64{AtRest().values, unmeasured().values}, Moments: []Spine{{1, -2}, {17: 0.1}}}} {
		b, err := m.MarshalBinary()
		require.NoError(t, err)
		var back Measured
		require.NoError(t, back.UnmarshalBinary(b))
		again, err := back.MarshalBinary()
		require.NoError(t, err)
		assert.Equal(t, b, again)
		assert.Equal(t, m.one[0] == nil, back.one[0] == nil)
		assert.Equal(t, len(m.Moments), len(back.Moments))
		for cut := range len(b) {
			assert.Error(t, back.UnmarshalBinary(b[:cut]))
		}
		assert.Error(t, back.UnmarshalBinary(append(b, 0)))
	}
}

// TestARecalledVariantIsReadOnce and what was kept as impossible stays so.
func TestARecalledVariantIsReadOnce(t *testing.T) {
	made := &Variant{MayAdapt: []string{"smaller_range"}, Show: Show{Pose: "round"}}
	require.NoError(t, made.Made(bow()))
	k, err := made.Snapshot()
	require.NoError(t, err)
	require.Len(t, k.Adapted, 3)
	k.Adapted[1] = nil
	v, reads := &Variant{MayAdapt: made.MayAdapt, Show: made.Show}, 0
	v.Restore(func() Snapshot { reads++; return k })
	assert.Zero(t, reads, "not before it is wanted")
	n := 0
	for f := range v.Adapted() {
		assert.True(t, f.Measured.Done())
		n++
	}
	assert.Equal(t, 2, n)
	assert.Equal(t, made.Plain().Measured.Number("lumbar_flexion"), v.Plain().Measured.Number("lumbar_flexion"))
	assert.Equal(t, 1, reads)
}
