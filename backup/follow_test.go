package backup

import (
	"context"
	"fmt"
	"io"
	"log/slog"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/limit"
	"restbend/store"
)

var quiet = slog.New(slog.NewTextHandler(io.Discard, nil))

// TestAFollowerHasItAll: what was written is in a folder within moments, and comes back from there.
func TestAFollowerHasItAll(t *testing.T) {
	hasItAll(t, filepath.Join(t.TempDir(), "far"))
	err := RestoreFollowed(ctx, filepath.Join(t.TempDir(), "none"), time.Time{}, filepath.Join(t.TempDir(), "new"))
	assert.ErrorIs(t, err, store.ErrNotFound)
	_, err = Follow(ctx, t.TempDir(), "gopher://hole", quiet)
	assert.ErrorIs(t, err, store.ErrUnusable)
	if !buckets {
		_, err = Follow(ctx, t.TempDir(), "s3://studio/loft", quiet)
		assert.ErrorContains(t, err, "build with -tags s3")
	}
}

// hasItAll follows a studio to a place and brings it back from there.
func hasItAll(t *testing.T, where string) {
	t.Helper()
	data := t.TempDir()
	s := filled(t, data, "Ada")
	f, err := Follow(ctx, data, where, quiet)
	require.NoError(t, err)
	want := []string{"Ada"}
	for i := range 5 {
		name := fmt.Sprintf("Bea %d", i)
		require.NoError(t, s.Change(ctx, func(tx *store.Tx) error { _, err := tx.AddClient(limit.Client{Name: name}, at); return err }))
		want = append(want, name)
	}
	waiting, cancel := context.WithTimeout(ctx, 10*time.Second)
	require.NoError(t, f.CatchUp(waiting), where)
	cancel()
	behind, err := f.Behind(ctx)
	require.NoError(t, err)
	assert.False(t, behind)
	assert.WithinDuration(t, time.Now(), f.Last(), 5*time.Second)
	to := filepath.Join(t.TempDir(), "new")
	require.NoError(t, RestoreFollowed(ctx, where, time.Time{}, to), where)
	assert.Equal(t, want, names(t, to))
	require.NoError(t, f.Close())
	require.NoError(t, s.Close())
}
