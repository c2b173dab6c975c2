package store

import (
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
		if planID, err = tx.AddPlan(clientID, "2026-11-24", "09:30", plan.Plan{Status: plan.Ready, Notes: []string{"n"}}, c, at); err != nil {
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

func TestAnOldDatabaseIsCopiedBeforeItIsChanged(t *testing.T) {
	ctx, dir := context.Background(), t.TempDir()
	s := open1(t, dir)
	_, err := s.write.ExecContext(ctx, "DELETE FROM goose_db_version WHERE version_id > 0; DROP TABLE class_people; DROP TABLE classes; DROP TABLE courses; DROP TABLE diaries; DROP TABLE home_revisions; DROP TABLE homes; DROP TABLE marks; DROP TABLE series; DROP TABLE form_keys; DROP TABLE templates; DROP TABLE intake_steps; DROP TABLE intakes; DROP TABLE record_additions; DROP TABLE records; DROP TABLE plan_revisions; DROP TABLE plans; DROP TABLE client_versions; DROP TABLE clients; DROP TABLE settings")
	require.NoError(t, err)
	require.NoError(t, s.Close())
	s = open1(t, dir)
	defer s.Close()
	files, err := filepath.Glob(filepath.Join(dir, "*.before-*"))
	require.NoError(t, err)
	assert.Len(t, files, 1)
	require.NoError(t, os.WriteFile(filepath.Join(dir, "plain"), nil, 0o600))
	_, err = Open(ctx, filepath.Join(dir, "plain"))
	assert.ErrorContains(t, err, "making the data folder")
}
