package exchange_test

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/exchange"
)

// TestTheDemoMovesWhole: everything a studio in use holds comes out and goes in.
func TestTheDemoMovesWhole(t *testing.T) {
	from, to := studio(t).Store, open(t)
	out := archive(t, from, "2026-11-25")
	r, err := take(t, to, out, exchange.Options{})
	require.NoError(t, err)
	assert.Empty(t, r.Refused)
	assert.True(t, bytes.Equal(out, archive(t, to, "2026-11-25")))
	assert.Greater(t, r.Taken, 100)
}
