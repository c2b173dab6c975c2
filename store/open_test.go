package store

import (
	"context"
	"database/sql"
	"errors"
	"io/fs"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/pressly/goose/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/plan"
)

// TestWhatIsNotFitIsLeftUntouched: a damaged file, one of a newer version and one of
// another program are refused, and not a byte of them changes.
func TestWhatIsNotFitIsLeftUntouched(t *testing.T) {
	change := func(statement string) func(*testing.T, string) {
		return func(t *testing.T, path string) {
			db, err := sql.Open("sqlite", path)
			require.NoError(t, err)
			_, err = db.Exec(statement)
			require.NoError(t, err)
			require.NoError(t, db.Close())
		}
	}
	for name, c := range map[string]struct {
		spoil func(t *testing.T, path string)
		says  string
	}{
		"newer": {change("INSERT INTO goose_db_version (version_id, is_applied) VALUES (999, 1)"), "made by a newer Rest Bend"},
		"text": {func(t *testing.T, path string) {
			require.NoError(t, os.WriteFile(path, []byte("my shopping list, and more of it"), 0o600))
		}, "cannot be read as a database"},
		"damaged": {func(t *testing.T, path string) {
			b, err := os.ReadFile(path)
			require.NoError(t, err)
			for i := 4096 * 2; i < len(b); i++ {
				b[i] ^= 0x5a
			}
			require.NoError(t, os.WriteFile(path, b, 0o600))
		}, "the database was left as it is"},
		"cut": {func(t *testing.T, path string) { require.NoError(t, os.Truncate(path, 5000)) }, "the database was left as it is"},
		"foreign": {func(t *testing.T, path string) {
			require.NoError(t, os.Remove(path))
			change("CREATE TABLE recipes (name TEXT)")(t, path)
		}, "a database of another program"},
	} {
		t.Run(name, func(t *testing.T) {
			dir := t.TempDir()
			require.NoError(t, open1(t, dir).Close())
			path := filepath.Join(dir, ours)
			c.spoil(t, path)
			before, err := os.ReadFile(path)
			require.NoError(t, err)
			_, err = Open(context.Background(), dir)
			require.ErrorIs(t, err, ErrUnusable)
			assert.ErrorContains(t, err, c.says)
			after, err := os.ReadFile(path)
			require.NoError(t, err)
			assert.Equal(t, before, after)
		})
	}
}

// TestFilesAreTheOwnersAlone, the copy made before a migration too.
func TestFilesAreTheOwnersAlone(t *testing.T) {
	ctx, dir := context.Background(), t.TempDir()
	path := filepath.Join(dir, ours)
	db, err := open(path, "immediate") // an older one, which anybody may read
	require.NoError(t, err)
	folder, err := fs.Sub(migrations, "migrations")
	require.NoError(t, err)
	provider, err := goose.NewProvider(goose.DialectSQLite3, db, folder)
	require.NoError(t, err)
	_, err = provider.UpTo(ctx, 5)
	require.NoError(t, err)
	require.NoError(t, db.Close())
	require.NoError(t, os.Chmod(path, 0o644))
	s := open1(t, dir)
	defer s.Close()
	require.NoError(t, s.Ping(ctx, at))
	files, err := filepath.Glob(filepath.Join(dir, "*"))
	require.NoError(t, err)
	require.GreaterOrEqual(t, len(files), 2, "the database and its copy")
	for _, f := range files {
		info, err := os.Stat(f)
		require.NoError(t, err)
		assert.Equal(t, os.FileMode(0o600), info.Mode().Perm(), f)
	}
}

// TestAWholeThatFailsLeavesNothing: what is made within one transaction is read in it,
// and gone when it fails.
func TestAWholeThatFailsLeavesNothing(t *testing.T) {
	ctx, s := context.Background(), open1(t, t.TempDir())
	defer s.Close()
	failed := errors.New("half-way")
	err := s.Within(ctx, func(s *Store) error {
		require.NoError(t, s.Change(ctx, func(tx *Tx) error { _, err := tx.AddClient(limit.Client{Name: "Ada"}, at); return err }))
		all, err := s.Clients(ctx)
		require.NoError(t, err)
		assert.Len(t, all, 1)
		return failed
	})
	assert.ErrorIs(t, err, failed)
	all, err := s.Clients(ctx)
	require.NoError(t, err)
	assert.Empty(t, all)
	assert.Panics(t, func() {
		_ = s.Change(ctx, func(*Tx) error { panic("slip") })
	})
	require.NoError(t, s.Ping(ctx, at), "a panic keeps nothing locked")
}

// TestLaterIsWhatCameLater, whatever the clock says; and what was taken away is on no
// list until it is brought back.
func TestLaterIsWhatCameLater(t *testing.T) {
	ctx, s := context.Background(), open1(t, t.TempDir())
	defer s.Close()
	var clientID, planID, recordID string
	require.NoError(t, s.Change(ctx, func(tx *Tx) (err error) {
		if clientID, err = tx.AddClient(limit.Client{Name: "Ada"}, at); err != nil {
			return err
		}
		planID, err = tx.AddPlan(clientID, "2026-11-24", "", plan.Plan{}, limit.Client{}, at)
		return err
	}))
	row, err := s.Plan(ctx, planID)
	require.NoError(t, err)
	require.NoError(t, s.Change(ctx, func(tx *Tx) (err error) {
		recordID, err = tx.AddRecord(row, lesson.Record{On: "2026-11-24"}, at)
		return err
	}))
	for i, hours := range []float64{3, 50} { // the clock goes back between the two
		require.NoError(t, s.Change(ctx, func(tx *Tx) error {
			return tx.AddToRecord(recordID, "follow_up", lesson.FollowUp{HoursToSettle: hours}, at.Add(-time.Duration(i)*48*time.Hour))
		}))
	}
	r, err := s.Record(ctx, recordID)
	require.NoError(t, err)
	assert.Equal(t, 50.0, r.Record.FollowUp.HoursToSettle)

	assert.ErrorIs(t, s.Change(ctx, func(tx *Tx) error { return tx.TakePlanAway(planID, true, at) }), ErrChanged, "it was taught")
	for _, away := range []bool{true, false} {
		require.NoError(t, s.Change(ctx, func(tx *Tx) error { return tx.TakeClientAway(clientID, away, at) }))
		clients, err := s.Clients(ctx)
		require.NoError(t, err)
		today, err := s.PlansOn(ctx, "2026-11-24")
		require.NoError(t, err)
		records, err := s.RecordsBetween(ctx, "2026-11-01", "2026-11-30")
		require.NoError(t, err)
		assert.Equal(t, []bool{away, away, away}, []bool{len(clients) == 0, len(today) == 0, len(records) == 0})
		assert.ErrorIs(t, s.Change(ctx, func(tx *Tx) error { return tx.TakeClientAway(clientID, away, at) }), ErrChanged)
	}
}

// TestACopyIsWholeAndWritesOverNothing: made while the database is in use, it brings back
// what was there then; what is in the way, or not fit, is left alone.
func TestACopyIsWholeAndWritesOverNothing(t *testing.T) {
	ctx, dir, to := context.Background(), t.TempDir(), t.TempDir()
	s := open1(t, dir)
	defer s.Close()
	add := func(name string) {
		require.NoError(t, s.Change(ctx, func(tx *Tx) error { _, err := tx.AddClient(limit.Client{Name: name}, at); return err }))
	}
	add("Ada")
	file := filepath.Join(to, "copy.db")
	require.NoError(t, Backup(ctx, dir, file))
	add("Bertha")
	assert.ErrorIs(t, Backup(ctx, dir, file), ErrInTheWay)
	assert.ErrorIs(t, Backup(ctx, t.TempDir(), filepath.Join(to, "other.db")), ErrNotFound)
	info, err := os.Stat(file)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm())

	back := filepath.Join(to, "back")
	require.NoError(t, Restore(ctx, file, back))
	assert.ErrorIs(t, Restore(ctx, file, back), ErrInTheWay)
	restored := open1(t, back)
	defer restored.Close()
	all, err := restored.Clients(ctx)
	require.NoError(t, err)
	require.Len(t, all, 1)
	assert.Equal(t, "Ada", all[0].Client.Name)

	require.NoError(t, os.WriteFile(file, []byte("no database, but long enough to be one"), 0o600))
	empty := filepath.Join(to, "empty")
	assert.ErrorIs(t, Restore(ctx, file, empty), ErrUnusable)
	_, err = os.Stat(filepath.Join(empty, ours))
	assert.ErrorIs(t, err, os.ErrNotExist)
	left, err := filepath.Glob(filepath.Join(to, "*.half"))
	require.NoError(t, err)
	assert.Empty(t, left)
}
