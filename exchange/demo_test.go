package exchange_test

import (
	"bytes"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
	"restbend/demo"
	"restbend/exchange"
)

// TestTheDemoMovesWhole: everything a studio in use holds comes out and goes in.
func TestTheDemoMovesWhole(t *testing.T) {
	from, to := open(t), open(t)
	judge, err := app.NewJudge()
	require.NoError(t, err)
	require.NoError(t, demo.Fill(ctx, judge, from, time.Date(2026, 11, 24, 10, 0, 0, 0, time.UTC)))
	out := archive(t, from, "2026-11-25")
	r, err := take(t, to, out, exchange.Options{})
	require.NoError(t, err)
	assert.Empty(t, r.Refused)
	assert.True(t, bytes.Equal(out, archive(t, to, "2026-11-25")))
	assert.Greater(t, r.Taken, 100)
}
