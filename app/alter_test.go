package app_test

import (
	"context"
	"fmt"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/limit"
)

// TestChangesAtOnceAreAllKept: several people add to the same file at the same moment.
func TestChangesAtOnceAreAllKept(t *testing.T) {
	t.Parallel()
	s := studio(t)
	ctx := context.Background()
	id, err := s.AddClient(ctx, limit.Client{Format: "restbend.client/1", Name: "Hyacinth Overlander", RedFlags: []string{}})
	require.NoError(t, err)
	var all sync.WaitGroup
	for n := range 8 {
		all.Go(func() {
			assert.NoError(t,
				s.Instruct(ctx, id, limit.Instruction{Quantity: "lumbar_flexion", Max: 8, By: fmt.Sprintf("clinician %d", n)}),
			)
		})
	}
	all.Wait()
	k, err := s.Store.Client(ctx, id)
	require.NoError(t, err)
	assert.Len(t, k.Client.Instructions, 8)
	assert.Equal(t, 9, k.Version)
}
