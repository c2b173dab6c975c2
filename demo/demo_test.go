package demo_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
	"restbend/demo"
	"restbend/store"
)

// TestAFillingThatWasInterruptedGoesOn: nobody is there twice, and nobody is missing.
func TestAFillingThatWasInterruptedGoesOn(t *testing.T) {
	judge, err := app.NewJudge()
	require.NoError(t, err)
	now := time.Date(2026, 11, 24, 10, 0, 0, 0, time.UTC)
	ctx, stop := context.WithCancel(context.Background())
	s, err := store.Open(ctx, t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	require.NoError(t, demo.Begin(ctx, judge, s, now))
	require.NoError(t, demo.Begin(ctx, judge, s, now), "a second time it changes nothing")
	var said []string
	err = demo.FillInSteps(ctx, judge, s, now, func(next string) {
		if said = append(said, next); len(said) == 3 {
			stop()
		}
	})
	require.ErrorIs(t, err, context.Canceled)
	assert.Contains(t, said[1], "client 2 of 8")

	ctx = context.Background()
	before, err := s.Clients(ctx)
	require.NoError(t, err)
	assert.Len(t, before, 2)
	require.NoError(t, demo.FillInSteps(ctx, judge, s, now, func(string) {}))
	after, err := s.Clients(ctx)
	require.NoError(t, err)
	assert.Len(t, after, 8)
	said = nil
	require.NoError(t, demo.FillInSteps(ctx, judge, s, now, func(next string) { said = append(said, next) }))
	assert.Empty(t, said, "all is there")
	people, err := s.People(ctx)
	require.NoError(t, err)
	assert.Len(t, people, 1)
}
