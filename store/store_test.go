package store

import (
	"io/fs"

	"github.com/pressly/goose/v3"

	"context"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/plan"
)

var at = time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)

func open1(t *testing.T, dir string) *Store {
	t.Helper()
	s, err := Open(context.Background(), dir)
	require.NoError(t, err)
	return s
}

func TestRoundTrips(t *testing.T) {
	ctx, dir := context.Background(), t.TempDir()
	s := open1(t, dir)
	require.NoError(t, s.Ping(ctx, at))
	two := 2
	c := limit.Client{Name: "Øyvind O'Neil; DROP TABLE", Pain: limit.Pain{Now: &two}}
	var clientID, planID, recordID string
	require.NoError(t, s.Change(ctx, func(tx *Tx) (err error) {
		if clientID, err = tx.AddClient(c, at); err != nil {
			return err
		}
		if planID, err = tx.AddPlan(
			clientID,
			"2026-11-24",
			"09:30",
			plan.Plan{Status: plan.Ready, Notes: []string{"n"}},
			c,
			at,
		); err != nil {
			return err
		}
		return tx.SetSetting("studio", "Loft")
	}))
	assert.Equal(t, "Loft", s.Setting(ctx, "studio"))
	assert.Empty(t, s.Setting(ctx, "nothing"))
	require.NoError(t, s.Change(ctx, func(tx *Tx) error { return tx.ChangePlan(planID, 1, plan.Plan{Notes: []string{"m"}}, "what", at) }))
	p, err := s.Plan(ctx, planID)
	require.NoError(t, err)
	assert.Equal(t, 2, p.Revision)
	assert.Equal(t, []string{"m"}, p.Plan.Notes)
	assert.Equal(t, c, p.Client)
	require.NoError(t, s.Change(ctx, func(tx *Tx) error { return tx.StepTo(planID, 2, 1, at) }))
	p, err = s.Plan(ctx, planID)
	require.NoError(t, err)
	assert.Equal(t, []string{"n"}, p.Plan.Notes)
	require.NoError(t, s.Change(ctx, func(tx *Tx) (err error) {
		recordID, err = tx.AddRecord(p, lesson.Record{On: "2026-11-24", Notes: "first"}, at)
		return err
	}))
	require.NoError(t, s.Change(ctx, func(tx *Tx) error {
		if err := tx.AddToRecord(recordID, "note", Note{Text: "second"}, at); err != nil {
			return err
		}
		return tx.AddToRecord(recordID, "follow_up", lesson.FollowUp{HoursToSettle: 3}, at)
	}))
	require.NoError(t, s.Close())

	s = open1(t, dir) // and again from disk
	defer s.Close()
	r, err := s.Record(ctx, recordID)
	require.NoError(t, err)
	assert.Equal(t, "first", r.Record.Notes, "what was written first stays as it was")
	require.Len(t, r.Notes, 1)
	assert.Equal(t, "second", r.Notes[0].Text)
	assert.Equal(t, 3.0, r.Record.FollowUp.HoursToSettle)
	assert.Error(t, s.Change(ctx, func(tx *Tx) error { return tx.ChangePlan(planID, 1, plan.Plan{}, "late", at) }), "taught plans stay")
	between, err := s.RecordsBetween(ctx, "2026-11-01", "2026-11-30")
	require.NoError(t, err)
	assert.Len(t, between, 1)
	files, err := filepath.Glob(filepath.Join(dir, "*.before-*"))
	require.NoError(t, err)
	assert.Empty(t, files, "nothing was pending, so nothing was copied")
}

func TestAllOrNothing(t *testing.T) {
	ctx := context.Background()
	s := open1(t, t.TempDir())
	defer s.Close()
	err := s.Change(ctx, func(tx *Tx) error {
		if _, err := tx.AddClient(limit.Client{Name: "x"}, at); err != nil {
			return err
		}
		_, err := tx.AddPlan("nobody", "2026-11-24", "", plan.Plan{}, limit.Client{}, at)
		return err
	})
	assert.ErrorContains(t, err, "FOREIGN KEY", "a plan needs its client")
	all, err := s.Clients(ctx)
	require.NoError(t, err)
	assert.Empty(t, all)
	_, err = s.Client(ctx, "nobody")
	assert.ErrorIs(t, err, ErrNotFound)
}

func TestTwoWindows(t *testing.T) {
	ctx := context.Background()
	s := open1(t, t.TempDir())
	defer s.Close()
	var id string
	require.NoError(t, s.Change(ctx, func(tx *Tx) (err error) { id, err = tx.AddClient(limit.Client{Name: "a"}, at); return err }))
	change := func(version int, name string) error {
		return s.Change(ctx, func(tx *Tx) error { return tx.ChangeClient(id, version, limit.Client{Name: name}, at) })
	}
	require.NoError(t, change(1, "b"))
	assert.ErrorIs(t, change(1, "c"), ErrChanged)
	c, err := s.Client(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, "b", c.Client.Name)
	assert.Equal(t, 2, c.Version)
}

// TestEverySchemaThereWasIsBroughtUpToDate opens a database of each version that was ever
// kept, with a client, a plan and a record in it, as it stood then.
func TestEverySchemaThereWasIsBroughtUpToDate(t *testing.T) {
	ctx := context.Background()
	migrations, err := fs.Sub(migrations, "migrations")
	require.NoError(t, err)
	for version := int64(1); version < SchemaKnown(); version++ {
		dir := t.TempDir()
		db, err := open(filepath.Join(dir, ours), "immediate")
		require.NoError(t, err)
		goes, err := goose.NewProvider(goose.DialectSQLite3, db, migrations)
		require.NoError(t, err)
		_, err = goes.UpTo(ctx, version)
		require.NoError(t, err)
		_, err = db.ExecContext(ctx, `
			INSERT INTO clients (id, version, name, doc, created_at, updated_at)
VALUES ('k', 1, 'Ada', '{"name":"Ada"}', '2026-11-01', '2026-11-01');
			INSERT INTO plans (id, client_id, on_date, state, revision, doc, client_doc, created_at, updated_at)
VALUES ('p', 'k', '2026-11-02', 'taught', 1,
	'{"minutes_asked":30,"place":"mat","items":[{"variant":"x"}]}', '{"name":"Ada"}', '2026-11-01', '2026-11-01');
			INSERT INTO plan_revisions VALUES ('p', 1, '{"minutes_asked":30}', 'planned', '2026-11-01');
			INSERT INTO records (id, plan_id, client_id, on_date, doc, created_at)
VALUES ('r', 'p', 'k', '2026-11-02',
	'{"on":"2026-11-02","notes":"quiet","items":[{"variant":"x","name":"Bridge","ended":"pain"}]}', '2026-11-02T10:00:00Z');
			INSERT INTO record_additions (id, record_id, kind, doc, at) VALUES ('a', 'r', 'note', '{"by":"B","text":"T"}', '2026-11-03')`)
		require.NoError(t, err)
		require.NoError(t, db.Close())

		s := open1(t, dir)
		heads, err := s.PlanHeadsOf(ctx, "k", 5)
		require.NoError(t, err)
		require.Len(t, heads, 1, "from version %d", version)
		assert.Equal(t,
			PlanHead{ID: "p", ClientID: "k", On: "2026-11-02", Taught: true, Minutes: 30, Place: "mat", Items: 1, Created: "2026-11-01"},
			heads[0],
		)
		for _, words := range [][]string{{"ada"}, {"bri", "quiet"}, {"ended_pain"}} {
			found, _, err := s.RecordsWith(ctx, words, "2026-01-01", "2027-01-01", 0, 5)
			require.NoError(t, err)
			require.Len(t, found, 1, "%v from version %d", words, version)
			assert.Equal(t, []Note{{By: "B", Text: "T", At: "2026-11-03"}}, found[0].Notes)
		}
		require.NoError(t, s.Close())
		copies, err := filepath.Glob(filepath.Join(dir, "*.before-*"))
		require.NoError(t, err)
		assert.Len(t, copies, 1, "copied before it is changed")
	}
}

func TestAFileIsNoDataFolder(t *testing.T) {
	dir := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(dir, "plain"), nil, 0o600))
	_, err := Open(context.Background(), filepath.Join(dir, "plain"))
	assert.ErrorContains(t, err, "making the data folder")
}
