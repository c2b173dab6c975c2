package library

import (
	"bytes"
	"flag"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
)

var writeSnapshot = flag.Bool("snapshot", false, "write the library as it is measured to snapshot.bin")

// TestSnapshotIsTheMeasuredLibrary reads and measures the library anew and holds what is
// kept against it. After a change: go generate ./library
func TestSnapshotIsTheMeasuredLibrary(t *testing.T) {
	anew, err := LoadFrom(embedded)
	require.NoError(t, err)
	b, err := anew.snapshot(embedded)
	require.NoError(t, err)
	if *writeSnapshot {
		require.NoError(t, os.WriteFile("snapshot.bin", b, 0o644))
		snapshotFile = b
	}
	l, err := restore(embedded, snapshotFile)
	require.NoError(t, err)
	require.NotNil(t, l, "snapshot.bin is behind the files: go generate ./library")
	require.Len(t, l.Variants, len(anew.Variants))
	assert.Equal(t, anew.Hash, l.Hash)
	assert.Equal(t, anew.StandIns, l.StandIns)
	assert.Equal(t, anew.Conditions, l.Conditions)
	for i, want := range anew.Variants {
		got := l.Variants[i]
		a, err := want.Snapshot()
		require.NoError(t, err)
		b, err := got.Snapshot()
		require.NoError(t, err)
		assert.Equal(t, a.Movement, b.Movement, want.ID)
		one, err := a.Plain.MarshalBinary()
		require.NoError(t, err)
		other, err := b.Plain.MarshalBinary()
		require.NoError(t, err)
		assert.True(t, bytes.Equal(one, other), "%s is measured otherwise than it was kept: go generate ./library", want.ID)
		if assert.Len(t, b.Adapted, len(a.Adapted), want.ID) {
			for k := range a.Adapted {
				assert.True(t,
					bytes.Equal(a.Adapted[k], b.Adapted[k]),
					"%s, adapted form %d is measured otherwise than it was kept: go generate ./library",
					want.ID,
					k+1,
				)
			}
		}
		assert.Equal(t, texts(want), texts(got), want.ID)
		assert.Same(t, got, l.Variant(got.ID))
	}
}

// texts is a variant without its forms.
func texts(v *exercise.Variant) exercise.Variant {
	plain := *v
	plain.Forms = nil
	plain.Restore(nil)
	return plain
}

// TestSnapshotOfOtherFilesIsNotUsed: the library is read anew then.
func TestSnapshotOfOtherFilesIsNotUsed(t *testing.T) {
	l, err := restore(os.DirFS("testdata"), snapshotFile)
	require.NoError(t, err)
	assert.Nil(t, l)
	for _, b := range [][]byte{nil, []byte("nonsense"), snapshotFile[:len(snapshotFile)/2]} {
		l, err = restore(embedded, b)
		require.NoError(t, err)
		assert.Nil(t, l)
	}
}
