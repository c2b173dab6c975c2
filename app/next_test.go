package app_test

import (
	"context"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/formats"
)

// BenchmarkNextOn200Records is the deciding alone, beyond the start of the program.
func BenchmarkNextOn200Records(b *testing.B) {
	on := civil.Date(2026, 11, 25)
	c := limit.Client{Format: "restbend.client/1", Place: "mat", Equipment: []string{"mat", "chair"}}
	p, err := judge.Plan(c, app.Wish{Minutes: 30}, nil, on)
	require.NoError(b, err)
	var records []lesson.Record
	two := 2
	for i := range 200 {
		r := lesson.AsPlanned(p)
		r.Plan, r.On, r.Pain.After = fmt.Sprint("p", i), on.AddDate(0, 0, -2*(200-i)).String(), &two
		r.FollowUp = &lesson.FollowUp{Kind: "none"}
		records = append(records, r)
	}
	for b.Loop() {
		_, err := judge.Next(c, records, on)
		require.NoError(b, err)
	}
}

// TestThePlanFollowsWhatWasDecided: what was clean twice steps up in the next plan, what
// hurt badly is left out with the reason, a rung that is not earned is refused with what
// earns it, and somebody's word with a reason lets it through.
func TestThePlanFollowsWhatWasDecided(t *testing.T) {
	ctx, s := context.Background(), studio(t)
	k := client("Ada Test")
	k.Conditions, k.Rungs, k.Place, k.Minutes = nil, nil, "mat", 45
	k.Equipment, k.Goals = []string{"mat", "chair"}, []exercise.Purpose{"anti_rotation", "deep_core"}
	id, err := s.AddClient(ctx, k)
	require.NoError(t, err)
	right := s.Now
	on := func(days int) { s.Now = func() time.Time { return right().AddDate(0, 0, days) } }
	family, hurtNext := "", false
	teach := func(day int, pain int) lesson.Record {
		on(day)
		planID, err := s.AddPlan(ctx, id, app.Wish{}, s.Today().String(), "")
		require.NoError(t, err)
		row, err := s.Store.Plan(ctx, planID)
		require.NoError(t, err)
		r := lesson.AsPlanned(row.Plan)
		r.On, r.Pain.Before, r.Pain.During, r.Pain.After = s.Today().String(), &pain, &pain, &pain
		if hurtNext {
			for i := range r.Items {
				if v := s.Library.Variant(r.Items[i].Variant); v.Family == family {
					r.Items[i].Ended, r.Items[i].Pain = "pain", &lesson.PainAt{Score: 7, Where: "hip"}
					seven := 7
					r.Pain.During = &seven
				}
			}
		}
		recordID, err := s.AddRecord(ctx, planID, r)
		require.NoError(t, err)
		on(day + 2)
		require.NoError(t, s.FollowUp(ctx, recordID, lesson.FollowUp{Kind: "none"}))
		return r
	}
	teach(-20, 1)
	second := teach(-16, 1)
	on(-12)
	row, err := s.Store.Client(ctx, id)
	require.NoError(t, err)
	next, err := s.NextFor(ctx, id, row.Client)
	require.NoError(t, err)
	up := 0
	for _, d := range next.Decisions {
		if d.Step == "step_up" {
			up++
			family = d.Family
		}
	}
	require.Positive(t, up, "%+v", next.Decisions)
	planID, err := s.AddPlan(ctx, id, app.Wish{}, s.Today().String(), "")
	require.NoError(t, err)
	plan, err := s.Store.Plan(ctx, planID)
	require.NoError(t, err)
	for _, it := range plan.Plan.Items {
		for _, d := range next.Decisions {
			if d.Family == it.Family && it.Phase != "settle" && it.Phase != "close" {
				target := s.Library.Variant(d.To.Variant)
				assert.False(t,
					it.Variant != target.ID && above(target, it.Variant, s),
					"%s is above what was decided, %s",
					it.Variant,
					target.ID,
				)
			}
		}
	}

	// A rung that is not earned is refused with what earns it.
	var held, beyond *exercise.Variant
	for _, d := range next.Decisions {
		at := s.Library.Variant(d.To.Variant)
		for _, n := range at.NextIDs() {
			v := s.Library.Variant(n)
			if limit.Judge(s.Limits(row.Client, s.Today()).Limits, v, limit.KitOf(row.Client, "mat")).Verdict != exercise.Avoid &&
				d.To.Variant != v.ID {
				held, beyond = at, v
			}
		}
	}
	require.NotNil(t, beyond)
	_, err = s.EditPlan(ctx, planID, 1, app.Edit{Kind: "add", Variant: beyond.ID})
	require.ErrorContains(t, err, "is not earned yet")
	assert.ErrorContains(t, err, held.Name)
	var invalid *formats.Invalid
	require.ErrorAs(t, s.Overrule(ctx, id, beyond.ID, "Maren", " "), &invalid)
	require.NoError(t, s.Overrule(ctx, id, beyond.ID, "Maren", "she did it for years"))
	planID, err = s.AddPlan(ctx, id, app.Wish{}, s.Today().String(), "")
	require.NoError(t, err)
	if _, err = s.EditPlan(ctx, planID, 1, app.Edit{Kind: "add", Variant: beyond.ID}); err != nil {
		assert.NotContains(t, err.Error(), "not earned", "her word stands")
	}

	// What hurt badly is left out until a session has settled.
	family, hurtNext = second.Items[len(second.Items)/2].Variant, true
	family = s.Library.Variant(family).Family
	on(-10)
	hurt := teach(-10, 2)
	on(-7)
	row, err = s.Store.Client(ctx, id)
	require.NoError(t, err)
	next, err = s.NextFor(ctx, id, row.Client)
	require.NoError(t, err)
	did := false
	for _, it := range hurt.Items {
		did = did || it.Ended == "pain"
	}
	if did {
		assert.NotEmpty(t, next.Client.Resting)
		planID, err = s.AddPlan(ctx, id, app.Wish{}, s.Today().String(), "")
		require.NoError(t, err)
		plan, err = s.Store.Plan(ctx, planID)
		require.NoError(t, err)
		for _, it := range plan.Plan.Items {
			assert.NotEqual(t, next.Client.Resting[0].Variant, it.Variant)
		}
	}
}

// above says whether an exercise lies above another on its ladder.
func above(low *exercise.Variant, id string, s *app.Studio) bool {
	open, seen := low.NextIDs(), map[string]bool{}
	for len(open) > 0 {
		if open[0] == id {
			return true
		}
		if v := s.Library.Variant(open[0]); v != nil && !seen[v.ID] {
			seen[v.ID] = true
			open = append(open, v.NextIDs()...)
		}
		open = open[1:]
	}
	return false
}

// TestAReferralEndsWhenAClinicianHasLooked: until then no session is planned; the name is
// asked for.
func TestAReferralEndsWhenAClinicianHasLooked(t *testing.T) {
	ctx, s := context.Background(), studio(t)
	k := client("Ada Test")
	k.Conditions, k.Rungs = nil, nil
	id, err := s.AddClient(ctx, k)
	require.NoError(t, err)
	right, six := s.Now, 6
	for _, day := range []int{-8, -4} {
		s.Now = func() time.Time { return right().AddDate(0, 0, day) }
		on := s.Today().String()
		planID, err := s.AddPlan(ctx, id, app.Wish{}, on, "")
		require.NoError(t, err)
		row, err := s.Store.Plan(ctx, planID)
		require.NoError(t, err)
		r := lesson.AsPlanned(row.Plan)
		r.On, r.Pain.During, r.Pain.After = on, &six, &six
		_, err = s.AddRecord(ctx, planID, r)
		require.NoError(t, err)
	}
	s.Now = right
	_, err = s.AddPlan(ctx, id, app.Wish{}, s.Today().String(), "")
	require.ErrorIs(t, err, app.ErrRefer)
	var invalid *formats.Invalid
	require.ErrorAs(t, s.SeenByClinician(ctx, id, limit.SeenBy{By: " "}), &invalid)
	require.NoError(t, s.SeenByClinician(ctx, id, limit.SeenBy{By: "Dr Fennel", Note: "muscular; go on gently"}))
	_, err = s.AddPlan(ctx, id, app.Wish{}, s.Today().String(), "")
	require.NoError(t, err)
}
