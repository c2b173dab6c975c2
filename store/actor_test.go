package store

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/limit"
)

// TestTheTrailHasALineForEachChange: one for a change, none where nothing was changed, and none
// of a change that failed.
func TestTheTrailHasALineForEachChange(t *testing.T) {
	s := open1(t, t.TempDir())
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	ctx := As(context.Background(), Actor{All: true, Person: "p", Name: "Olive", Doing: "changed something", At: at})
	lines := func() int {
		all, err := s.Trail(context.Background(), "", 0, 100)
		require.NoError(t, err)
		return len(all)
	}
	require.NoError(t, s.Change(ctx, func(*Tx) error { return nil }))
	assert.Zero(t, lines(), "nothing was changed")
	require.NoError(t, s.Within(ctx, func(s *Store) error { _, err := s.Clients(ctx); return err }))
	assert.Zero(t, lines(), "it was only looked at")
	require.NoError(t, s.Change(ctx, func(tx *Tx) error { _, err := tx.AddClient(limit.Client{Name: "Ada"}, at); return err }))
	assert.Equal(t, 1, lines())
	require.Error(t, s.Change(ctx, func(tx *Tx) error {
		if _, err := tx.AddClient(limit.Client{Name: "Bea"}, at); err != nil {
			return err
		}
		return ErrNotFound
	}))
	assert.Equal(t, 1, lines(), "it was taken back")
	n, _, err := s.CheckTrail(context.Background())
	require.NoError(t, err)
	assert.Equal(t, 1, n)
}
