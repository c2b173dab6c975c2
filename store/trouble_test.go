package store

import (
	"context"
	"os"
	"os/exec"
	"path/filepath"
	"testing"
	"time"

	"github.com/pressly/goose/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/limit"
)

// TestTroubleIsTold: a full disk, a folder that cannot be written to, another program's lock
// and a damaged file each have their sentence; nothing half saved, and work goes on after.
func TestTroubleIsTold(t *testing.T) {
	ctx, dir := context.Background(), t.TempDir()
	s := open1(t, dir)
	defer s.Close()
	add := func() error {
		return s.Change(ctx, func(tx *Tx) error {
			for range 400 {
				if _, err := tx.AddClient(limit.Client{Name: "Ada", GoalText: string(make([]byte, 300))}, at); err != nil {
					return err
				}
			}
			return nil
		})
	}
	pragma := func(q string) {
		_, err := s.write.ExecContext(ctx, q)
		require.NoError(t, err)
	}
	for _, c := range []struct{ name, on, off, says string }{
		{"full", "PRAGMA max_page_count = 1", "PRAGMA max_page_count = 4294967294", "The disk is full"},
		{"read only", "PRAGMA query_only = 1", "PRAGMA query_only = 0", "cannot be written to"},
	} {
		pragma(c.on)
		err := add()
		require.Error(t, err, c.name)
		assert.Contains(t, Trouble(err), c.says)
		pragma(c.off)
		all, err := s.Clients(ctx)
		require.NoError(t, err)
		assert.Empty(t, all, c.name)
	}
	other, err := open(filepath.Join(dir, ours), "exclusive")
	require.NoError(t, err)
	defer other.Close()
	tx, err := other.BeginTx(ctx, nil)
	require.NoError(t, err)
	pragma("PRAGMA busy_timeout = 20")
	err = add()
	assert.Contains(t, Trouble(err), "Another program holds the database")
	require.NoError(t, tx.Rollback())
	require.NoError(t, add(), "and then it goes on")

	require.NoError(t, s.Checkpoint(ctx))
	f, err := os.OpenFile(filepath.Join(dir, ours), os.O_RDWR, 0)
	require.NoError(t, err)
	info, err := f.Stat()
	require.NoError(t, err)
	_, err = f.WriteAt(make([]byte, info.Size()-8192), 8192)
	require.NoError(t, err)
	require.NoError(t, f.Close())
	fresh, err := open(filepath.Join(dir, ours), "deferred")
	require.NoError(t, err)
	defer fresh.Close()
	_, err = (&Store{read: fresh, queries: s.queries}).Clients(ctx)
	assert.Contains(t, Trouble(err), "The database is damaged")
	assert.Empty(t, Trouble(ErrNotFound))
}

// older makes a database as it was at a version, with a client in it.
func older(t *testing.T, dir string, version int64) {
	t.Helper()
	db, err := open(filepath.Join(dir, ours), "immediate")
	require.NoError(t, err)
	defer db.Close()
	folder, err := os.OpenRoot("migrations")
	require.NoError(t, err)
	defer folder.Close()
	provider, err := goose.NewProvider(goose.DialectSQLite3, db, folder.FS())
	require.NoError(t, err)
	_, err = provider.UpTo(context.Background(), version)
	require.NoError(t, err)
	_, err = db.Exec(
		`INSERT INTO clients (id, version, name, doc, created_at, updated_at) VALUES ('k', 1, 'Ada', '{"name":"Ada"}', '2026-11-01', ` +
			`'2026-11-01')`,
	)
	require.NoError(t, err)
}

// TestAPowerCutWhileItIsBroughtUpToDate: the program is killed at one moment after another
// while it changes an old database; the next start brings it to the end, with all in it.
func TestAPowerCutWhileItIsBroughtUpToDate(t *testing.T) {
	if dir := os.Getenv("RESTBEND_TEST_OPEN"); dir != "" { // the program that is killed
		s, err := Open(context.Background(), dir)
		require.NoError(t, err)
		s.Close()
		return
	}
	cut := 0
	for wait := 4 * time.Millisecond; wait < 60*time.Millisecond; wait += 7 * time.Millisecond {
		dir := t.TempDir()
		older(t, dir, 4)
		cmd := exec.Command(os.Args[0], "-test.run=TestAPowerCut")
		cmd.Env = append(os.Environ(), "RESTBEND_TEST_OPEN="+dir)
		require.NoError(t, cmd.Start())
		time.Sleep(wait)
		_ = cmd.Process.Kill() // it may have ended
		if cmd.Wait() != nil {
			cut++
		}
		s := open1(t, dir)
		all, err := s.Clients(context.Background())
		require.NoError(t, err)
		require.Len(t, all, 1)
		assert.Equal(t, "Ada", all[0].Client.Name)
		require.NoError(t, s.Close())
	}
	assert.Positive(t, cut, "it was killed at least once while it worked")
}
