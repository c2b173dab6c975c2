package backup

import (
	"bytes"
	"context"
	"fmt"
	"os"
	"path/filepath"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/limit"
	"restbend/store"
)

var (
	ctx = context.Background()
	at  = time.Date(2026, 11, 25, 9, 0, 0, 0, time.UTC)
)

func filled(t *testing.T, dir string, names ...string) *store.Store {
	t.Helper()
	s, err := store.Open(ctx, dir)
	require.NoError(t, err)
	for _, n := range names {
		require.NoError(t, s.Change(ctx, func(tx *store.Tx) error { _, err := tx.AddClient(limit.Client{Name: n}, at); return err }))
	}
	return s
}

func names(t *testing.T, dir string) (out []string) {
	t.Helper()
	s, err := store.Open(ctx, dir)
	require.NoError(t, err)
	defer s.Close()
	all, err := s.Clients(ctx)
	require.NoError(t, err)
	for _, k := range all {
		out = append(out, k.Client.Name)
	}
	return out
}

// TestACopyComesBack, plain and encrypted; an encrypted one with its key alone, and one that
// was changed not at all.
func TestACopyComesBack(t *testing.T) {
	data := t.TempDir()
	s := filled(t, data, "Ada Weatherfield", "Bea")
	defer s.Close()
	file := filepath.Join(t.TempDir(), "key")
	_, err := NewKey(file)
	require.NoError(t, err)
	_, err = NewKey(file)
	require.ErrorIs(t, err, store.ErrInTheWay, "a key is not written over")
	key, err := ReadKey(file)
	require.NoError(t, err)
	_, err = ReadKey(filepath.Join(data, "restbend.db"))
	require.ErrorIs(t, err, store.ErrUnusable)

	for _, k := range []*Keeper{{Key: nil}, {Key: key}} {
		k.Data, k.Dir, k.Every, k.Days, k.Now = data, filepath.Join(t.TempDir(), "copies"), time.Hour, 30, func() time.Time { return at }
		c, err := k.Make(ctx)
		require.NoError(t, err)
		assert.Equal(t, k.Key != nil, c.Encrypted)
		path := filepath.Join(k.Dir, c.Name)
		b, err := os.ReadFile(path)
		require.NoError(t, err)
		assert.Equal(t, k.Key != nil, !bytes.Contains(b, []byte("Ada Weatherfield")))
		all, err := k.List()
		require.NoError(t, err)
		assert.Equal(t, []Copy{c}, all)
		left, err := os.ReadDir(k.Dir)
		require.NoError(t, err)
		assert.Len(t, left, 1, "nothing half made stays")

		to := filepath.Join(t.TempDir(), "new")
		require.NoError(t, Restore(ctx, path, to, k.Key))
		assert.Equal(t, []string{"Ada Weatherfield", "Bea"}, names(t, to))
		b[len(b)/2] ^= 1
		b[len(b)/2+5000] ^= 0xff
		broken := filepath.Join(k.Dir, "broken"+path[len(path)-4:])
		require.NoError(t, os.WriteFile(broken, b, 0o600))
		if k.Key != nil {
			assert.ErrorIs(t, Restore(ctx, broken, filepath.Join(t.TempDir(), "new"), k.Key), store.ErrUnusable)
			assert.ErrorContains(t, Restore(ctx, path, filepath.Join(t.TempDir(), "new"), nil), "needs its key")
			other := filepath.Join(t.TempDir(), "other")
			_, err := NewKey(other)
			require.NoError(t, err)
			wrong, err := ReadKey(other)
			require.NoError(t, err)
			assert.ErrorContains(t, Restore(ctx, path, filepath.Join(t.TempDir(), "new"), wrong), "cannot be decrypted")
		}
	}
}

// TestCopiesGrowOld: after a hundred days of one every six hours there are all of the last
// two days, one of each day of two weeks, one of each week, and none older than is wanted.
func TestCopiesGrowOld(t *testing.T) {
	dir := t.TempDir()
	now := at
	k := &Keeper{Dir: dir, Every: 6 * time.Hour, Days: 60, Now: func() time.Time { return now }}
	for range 400 {
		now = now.Add(6 * time.Hour)
		require.NoError(t, os.WriteFile(filepath.Join(dir, before+now.Format(stamp)+plain), nil, 0o600))
		require.NoError(t, k.thin())
	}
	all, err := k.List()
	require.NoError(t, err)
	count := map[string]int{}
	for _, c := range all {
		switch age := now.Sub(c.At); {
		case age <= 48*time.Hour:
			count["new"]++
		case age <= 14*24*time.Hour:
			count["days"]++
		default:
			count["weeks"]++
		}
		assert.LessOrEqual(t, now.Sub(c.At), 61*24*time.Hour)
	}
	assert.Equal(t, 9, count["new"], fmt.Sprint(count))
	assert.InDelta(t, 12, count["days"], 1, fmt.Sprint(count))
	assert.InDelta(t, 7, count["weeks"], 1, fmt.Sprint(count))
	now = now.AddDate(1, 0, 0)
	require.NoError(t, k.thin())
	all, err = k.List()
	require.NoError(t, err)
	assert.Len(t, all, 1, "the last one stays however old it is")
	due, err := k.Due()
	require.NoError(t, err)
	assert.True(t, due.Before(now))
	now = at // the clock has gone back
	due, err = k.Due()
	require.NoError(t, err)
	assert.Equal(t, now, due)
}

// TestNoRoomForACopy is told, and leaves nothing half made.
func TestNoRoomForACopy(t *testing.T) {
	data := t.TempDir()
	s := filled(t, data, "Ada")
	defer s.Close()
	file := filepath.Join(t.TempDir(), "file")
	require.NoError(t, os.WriteFile(file, nil, 0o600))
	k := &Keeper{Data: data, Dir: filepath.Join(file, "copies"), Every: time.Hour, Days: 30, Now: time.Now}
	_, err := k.Make(ctx)
	require.ErrorContains(t, err, "making the folder of copies")
	assert.Equal(t, err, k.Last())
}

// TestACopyUnderLoad: while clients are added, a copy is made; it holds all that were
// acknowledged before it was begun, and a beginning of those that came after.
func TestACopyUnderLoad(t *testing.T) {
	data := t.TempDir()
	s := filled(t, data)
	defer s.Close()
	var acknowledged atomic.Int64
	stop, ended := make(chan struct{}), make(chan struct{})
	go func() {
		defer close(ended)
		for i := 0; ; i++ {
			select {
			case <-stop:
				return
			default:
			}
			err := s.Change(ctx, func(tx *store.Tx) error {
				_, err := tx.AddClient(limit.Client{Name: fmt.Sprintf("%06d", i)}, at)
				return err
			})
			if !assert.NoError(t, err) {
				return
			}
			acknowledged.Add(1)
		}
	}()
	k := &Keeper{Data: data, Dir: filepath.Join(t.TempDir(), "copies"), Every: time.Hour, Days: 30, Now: time.Now}
	for range 3 {
		time.Sleep(40 * time.Millisecond)
		before := acknowledged.Load()
		c, err := k.Make(ctx)
		require.NoError(t, err)
		to := filepath.Join(t.TempDir(), "new")
		require.NoError(t, Restore(ctx, filepath.Join(k.Dir, c.Name), to, nil))
		all := names(t, to)
		assert.GreaterOrEqual(t, int64(len(all)), before)
		for i, n := range all {
			require.Equal(t, fmt.Sprintf("%06d", i), n)
		}
		k.Now = func() time.Time { return time.Now().Add(time.Minute) } // another name
	}
	close(stop)
	<-ended
}
