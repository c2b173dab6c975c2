package store

import (
	"context"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/plan"
)

func TestIntakesAreKeptInSteps(t *testing.T) {
	ctx := context.Background()
	s := open1(t, t.TempDir())
	defer s.Close()
	keep := func(step int, name string) {
		require.NoError(t, s.Change(ctx, func(tx *Tx) error { return tx.KeepIntake("i", "", step, url.Values{"name": {name}}, at) }))
	}
	_, err := s.Intake(ctx, "i")
	assert.ErrorIs(t, err, ErrNotFound)
	keep(1, "A")
	keep(2, "Ad")
	keep(3, "Ada")
	back := func() error { return s.Change(ctx, func(tx *Tx) error { return tx.StepBackIntake("i", at) }) }
	require.NoError(t, back())
	i, err := s.Intake(ctx, "i")
	require.NoError(t, err)
	assert.Equal(t, "Ad", i.Form.Get("name"))
	assert.Equal(t, 2, i.Step)
	keep(3, "Adam") // what was taken back is gone
	i, err = s.Intake(ctx, "i")
	require.NoError(t, err)
	assert.Equal(t, "Adam", i.Form.Get("name"))
	require.NoError(t, back())
	require.NoError(t, back())
	assert.ErrorIs(t, back(), ErrChanged, "nothing before the first")

	require.NoError(t, s.Change(ctx, func(tx *Tx) error { return tx.KeepIntake("j", "client", 1, url.Values{}, at) }))
	of, err := s.IntakeOf(ctx, "client")
	require.NoError(t, err)
	assert.Equal(t, "j", of.ID)
	all, err := s.Intakes(ctx)
	require.NoError(t, err)
	assert.Len(t, all, 2)
	for range 2 { // forgetting twice is no mistake
		require.NoError(t, s.Change(ctx, func(tx *Tx) error { return tx.DropIntake("i") }))
	}
	_, err = s.Intake(ctx, "i")
	assert.ErrorIs(t, err, ErrNotFound)
}

func TestPlansStepBothWaysAndTemplatesAreReplaced(t *testing.T) {
	ctx := context.Background()
	s := open1(t, t.TempDir())
	defer s.Close()
	var id string
	require.NoError(t, s.Change(ctx, func(tx *Tx) error {
		client, err := tx.AddClient(limit.Client{Name: "a"}, at)
		if err == nil {
			id, err = tx.AddPlan(client, "", "", plan.Plan{MinutesAsked: 10}, limit.Client{}, at)
		}
		return err
	}))
	require.NoError(t, s.Change(ctx, func(tx *Tx) error { return tx.ChangePlan(id, 1, plan.Plan{MinutesAsked: 20}, "longer", at) }))
	step := func(from, to int) error {
		return s.Change(ctx, func(tx *Tx) error { return tx.StepTo(id, from, to, at) })
	}
	require.NoError(t, step(2, 1))
	assert.Equal(t, "longer", s.NextChange(ctx, id, 1))
	require.NoError(t, step(1, 2))
	p, err := s.Plan(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, 20, p.Plan.MinutesAsked)
	assert.ErrorIs(t, step(2, 3), ErrNotFound)
	assert.ErrorIs(t, step(1, 2), ErrChanged, "somebody else has moved on")
	require.NoError(t, step(2, 1))
	require.NoError(t, s.Change(ctx, func(tx *Tx) error { return tx.ChangePlan(id, 1, plan.Plan{MinutesAsked: 5}, "shorter", at) }))
	assert.Equal(t, "", s.NextChange(ctx, id, 2), "a new change ends what could be made again")

	require.NoError(t, s.Change(ctx, func(tx *Tx) error { return tx.SchedulePlan(id, "2026-11-24", "09:00", at) }))
	day, err := s.PlansOn(ctx, "2026-11-24")
	require.NoError(t, err)
	assert.Len(t, day, 1)

	for _, minutes := range []int{10, 15} {
		require.NoError(t, s.Change(ctx, func(tx *Tx) error { return tx.AddTemplate("easy", plan.Plan{MinutesAsked: minutes}, at) }))
	}
	all, err := s.Templates(ctx)
	require.NoError(t, err)
	require.Len(t, all, 1)
	one, err := s.Template(ctx, all[0].ID)
	require.NoError(t, err)
	assert.Equal(t, 15, one.Plan.MinutesAsked)
	for _, forgotten := range []bool{true, false, true} {
		require.NoError(t, s.Change(ctx, func(tx *Tx) error { return tx.ForgetTemplate(one.ID, forgotten) }))
		all, err := s.Templates(ctx)
		require.NoError(t, err)
		assert.Equal(t, forgotten, len(all) == 0)
	}
	_, err = s.Template(ctx, one.ID)
	assert.NoError(t, err, "so that it can be brought back")
}

// TestStepsOfLongAgoGo: the steps of a plan that was taught go in time, its last state and all
// of an untaught one stay.
func TestStepsOfLongAgoGo(t *testing.T) {
	ctx, s := context.Background(), open1(t, t.TempDir())
	defer s.Close()
	var ids [2]string
	require.NoError(t, s.Change(ctx, func(tx *Tx) error {
		client, err := tx.AddClient(limit.Client{Name: "Ada"}, at)
		for i := range ids {
			if err == nil {
				ids[i], err = tx.AddPlan(client, "2026-11-24", "", plan.Plan{MinutesAsked: 20}, limit.Client{}, at)
			}
			if err == nil {
				err = tx.ChangePlan(ids[i], 1, plan.Plan{MinutesAsked: 30}, "30 minutes", at)
			}
		}
		return err
	}))
	row, err := s.Plan(ctx, ids[0])
	require.NoError(t, err)
	require.NoError(t, s.Change(ctx, func(tx *Tx) error { _, err := tx.AddRecord(row, lesson.Record{On: "2026-11-24"}, at); return err }))
	n, err := s.Prune(ctx, at)
	require.NoError(t, err)
	assert.Zero(t, n, "it was taught just now")
	n, err = s.Prune(ctx, at.AddDate(0, 1, 0))
	require.NoError(t, err)
	assert.EqualValues(t, 2, n)
	for i, want := range []int{0, 2} {
		steps, err := s.Revisions(ctx, ids[i])
		require.NoError(t, err)
		assert.Len(t, steps, want)
		row, err := s.Plan(ctx, ids[i])
		require.NoError(t, err)
		assert.Equal(t, 30, row.Plan.MinutesAsked)
	}
}
