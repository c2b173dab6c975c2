package app_test

import (
	"context"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/store"
)

// TestBeatsSumToThePlan for every place and approach, with uneven doses too.
func TestBeatsSumToThePlan(t *testing.T) {
	for _, place := range exercise.Places {
		for _, approach := range exercise.Approaches {
			p, err := judge.Plan(client("Ada"), app.Wish{Place: place, Approach: approach, Minutes: 30}, nil, civil.Date(2026, 11, 25))
			require.NoError(t, err)
			beats := lesson.Beats(p)
			sum := 0.0
			for i, b := range beats {
				assert.InDelta(t, sum, b.At, 1e-6)
				assert.GreaterOrEqual(t, b.Seconds, 0.0, "%s %s beat %d", place, approach, i)
				sum += b.Seconds
			}
			assert.InDelta(t, p.SecondsTotal, sum, 0.01, "%s %s", place, approach)
		}
	}
}

// TestMarksAreKeptOnce: sent twice acknowledged twice; wrong ones refused by index and
// field beside the good ones; what comes after the wrap-up corrects the record.
func TestMarksAreKeptOnce(t *testing.T) {
	ctx, s := context.Background(), studio(t)
	id, err := s.AddClient(ctx, client("Ada Test"))
	require.NoError(t, err)
	planID, err := s.AddPlan(ctx, id, app.Wish{}, "2026-11-24", "")
	require.NoError(t, err)
	row, err := s.Store.Plan(ctx, planID)
	require.NoError(t, err)
	it := row.Plan.Items[0]
	mark := func(kind string) lesson.Mark {
		return lesson.Mark{ID: uuid.NewString(), Item: it.ID, Kind: kind, Set: 1, At: s.Now().Format(time.RFC3339), ClockS: 10}
	}
	good, bad := mark("set_done"), mark("joy")
	for range 2 {
		kept, refused, err := s.KeepMarks(ctx, planID, []lesson.Mark{bad, good})
		require.NoError(t, err)
		assert.Equal(t, []string{good.ID}, kept)
		require.Len(t, refused, 1)
		assert.Equal(t, []any{0, "kind"}, []any{refused[0].Index, refused[0].Field})
	}
	other := good
	other.ClockS = 11
	_, refused, err := s.KeepMarks(ctx, planID, []lesson.Mark{other})
	require.NoError(t, err)
	assert.Equal(t, "id", refused[0].Field)
	marks, err := s.Store.Marks(ctx, planID)
	require.NoError(t, err)
	assert.Len(t, marks, 1)
	_, _, err = s.KeepMarks(ctx, planID, make([]lesson.Mark, 10_000))
	assert.ErrorContains(t, err, "at most 1000 at once")

	r, err := s.RecordNow(ctx, planID)
	require.NoError(t, err)
	assert.Equal(t, "done", r.Items[0].Ended)
	one := 1
	r.Pain.After = &one
	_, err = s.AddRecord(ctx, planID, r)
	require.NoError(t, err)
	late := mark("pain")
	late.Set, late.ClockS, late.Score, late.Where = 2, 40, &one, "knee"
	_, _, err = s.KeepMarks(ctx, planID, []lesson.Mark{late})
	require.NoError(t, err)
	after, err := s.Store.RecordOfPlan(ctx, planID)
	require.NoError(t, err)
	require.Len(t, after.Corrections, 1)
	assert.Contains(t, after.Corrections[0].Why, "after the wrap-up")
	assert.Equal(t, "knee", after.Record.Items[1].Pain.Where)
	assert.Equal(t, 1, *after.Record.Pain.After, "what the wrap-up said stays")
}

// TestSafetyASignMarkedIsTheClients: the sign of a mark is on the client as soon as the mark is
// there; the mark sent again after a clinician has looked does not bring it back.
func TestSafetyASignMarkedIsTheClients(t *testing.T) {
	ctx, s := context.Background(), studio(t)
	id, err := s.AddClient(ctx, client("Ada Test"))
	require.NoError(t, err)
	planID, err := s.AddPlan(ctx, id, app.Wish{}, "2026-11-24", "")
	require.NoError(t, err)
	sign := lesson.Mark{ID: uuid.NewString(), Kind: "warning", Flag: "saddle_numbness", At: s.Now().Format(time.RFC3339), ClockS: 10}
	open := func() []string {
		k, err := s.Store.Client(ctx, id)
		require.NoError(t, err)
		return k.Client.OpenFlags(s.Today())
	}
	kept, refused, err := s.KeepMarks(ctx, planID, []lesson.Mark{sign})
	require.NoError(t, err)
	assert.Empty(t, refused)
	assert.Equal(t, []string{sign.ID}, kept)
	assert.Equal(t, []string{"saddle_numbness"}, open())
	require.NoError(t, s.ClearFlag(ctx, id, limit.FlagCleared{Flag: "saddle_numbness", By: "Dr Test", Said: "scan clear"}))
	assert.Empty(t, open())
	_, _, err = s.KeepMarks(ctx, planID, []lesson.Mark{sign})
	require.NoError(t, err)
	assert.Empty(t, open(), "sent again it changes nothing")
	wrong := sign
	wrong.ID, wrong.Flag = uuid.NewString(), "nothing_known"
	_, refused, err = s.KeepMarks(ctx, planID, []lesson.Mark{wrong})
	require.NoError(t, err)
	assert.Len(t, refused, 1)
}

// TestANotchIsJudgedAnew: a stronger band is measured, and back again; the place keeps its
// id and its dose, and where there is nothing to set it is said.
func TestANotchIsJudgedAnew(t *testing.T) {
	ctx, s := context.Background(), studio(t)
	k := client("Ada Test")
	k.Conditions, k.Rungs, k.Equipment, k.Place = nil, nil, []string{"mat", "chair", "band"}, "mat"
	id, err := s.AddClient(ctx, k)
	require.NoError(t, err)
	planID, err := s.AddPlan(ctx, id, app.Wish{Minutes: 30}, "2026-11-24", "")
	require.NoError(t, err)
	at, err := s.EditPlan(ctx, planID, 1, app.Edit{Kind: "add", Variant: "band_row_standing"})
	require.NoError(t, err)
	item := func() plan.Item {
		row, err := s.Store.Plan(ctx, planID)
		require.NoError(t, err)
		return row.Plan.Items[at]
	}
	before := item()
	_, err = s.EditPlan(ctx, planID, 2, app.Edit{Kind: "harder", Item: at})
	require.NoError(t, err)
	harder := item()
	assert.Equal(t, []string{"light", "medium"}, []string{before.Settings.Band, harder.Settings.Band})
	assert.Equal(t, []any{before.ID, before.Dose}, []any{harder.ID, harder.Dose})
	assert.NotEqual(t, before.Quantities, harder.Quantities, "measured with the other band")
	_, err = s.EditPlan(ctx, planID, 3, app.Edit{Kind: "easier", Item: at})
	require.NoError(t, err)
	assert.Equal(t, []string{"light", "usual"}, []string{item().Settings.Band, item().Settings.Base}, "what was changed comes back first")
	_, err = s.EditPlan(ctx, planID, 4, app.Edit{Kind: "remove", Item: at, ID: "gone", Was: "band_row_standing"})
	assert.ErrorIs(t, err, store.ErrChanged, "never another exercise than was meant")
	_, err = s.EditPlan(ctx, planID, 4, app.Edit{Kind: "easier", Item: at})
	require.NoError(t, err)
	assert.Equal(t, []string{"light", "wide"}, []string{item().Settings.Band, item().Settings.Base})
	_, err = s.EditPlan(ctx, planID, 5, app.Edit{Kind: "easier", Item: at})
	assert.ErrorContains(t, err, "there is nothing on")
}
