package app_test

import (
	"context"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
	"restbend/core/civil"
	"restbend/core/limit"
	"restbend/formats"
	"restbend/store"
)

// TestAnIntakeSentTwiceIsSavedOnce: the same form, one after the other or at once, makes
// one client; the draft goes with it, or stays when nothing was saved.
func TestAnIntakeSentTwiceIsSavedOnce(t *testing.T) {
	ctx, s := context.Background(), studio(t)
	_, err := s.KeepIntake(ctx, "form-1", "", map[string][]string{"name": {"Ada Test"}})
	require.NoError(t, err)
	_, err = s.SaveIntake(form(ctx, "form-1"), app.Intake{Draft: "form-1", Client: limit.Client{Format: "restbend.client/1"}})
	var invalid *formats.Invalid
	require.ErrorAs(t, err, &invalid)
	_, err = s.Store.Intake(ctx, "form-1")
	require.NoError(t, err, "refused, so the draft is there still")

	ids := make([]string, 8)
	var sending sync.WaitGroup
	for i := range ids {
		sending.Go(func() {
			id, err := s.SaveIntake(form(ctx, "form-1"), app.Intake{Draft: "form-1", Client: client("Ada Test")})
			assert.NoError(t, err)
			ids[i] = id
		})
	}
	sending.Wait()
	for _, id := range ids {
		assert.Equal(t, ids[0], id)
	}
	all, err := s.Store.Clients(ctx)
	require.NoError(t, err)
	assert.Len(t, all, 1)
	_, err = s.Store.Intake(ctx, "form-1")
	assert.ErrorIs(t, err, store.ErrNotFound)

	_, err = s.SaveIntake(
		store.Sent(ctx, store.Form{Key: "form-1", Digest: "other answers"}),
		app.Intake{Draft: "form-1", Client: client("Another")},
	)
	assert.ErrorIs(t, err, store.ErrOtherForm)
	_, err = s.SaveIntake(form(ctx, "form-2"), app.Intake{Draft: "form-2", Client: client("Another")})
	require.NoError(t, err)

	// A change sent twice is made once, and is no conflict with itself.
	changed := client("Ada Test")
	changed.Minutes = 45
	for range 2 {
		id, err := s.SaveIntake(form(ctx, "form-3"), app.Intake{Draft: "form-3", ID: ids[0], Version: 1, Client: changed})
		require.NoError(t, err)
		assert.Equal(t, ids[0], id)
	}
	row, err := s.Store.Client(ctx, ids[0])
	require.NoError(t, err)
	assert.Equal(t, 2, row.Version)

	// Another window with the old version: what it leaves as it was stays as it is by now,
	// what it changes itself is taken, and where both changed one thing it is asked.
	other := client("Ada Test")
	other.MassKG = 61
	_, err = s.SaveIntake(form(ctx, "form-4"), app.Intake{ID: ids[0], Version: 1, Client: other})
	require.NoError(t, err)
	row, err = s.Store.Client(ctx, ids[0])
	require.NoError(t, err)
	assert.Equal(t, 45, row.Client.Minutes)
	assert.Equal(t, 61.0, row.Client.MassKG)
	other.Minutes, other.MassKG = 25, client("").MassKG
	_, err = s.KeepIntake(ctx, "form-5", ids[0], map[string][]string{"name": {"x"}})
	require.NoError(t, err)
	_, err = s.SaveIntake(form(ctx, "form-5"), app.Intake{Draft: "form-5", ID: ids[0], Version: 1, Client: other})
	var clash *app.Clash
	require.ErrorAs(t, err, &clash)
	assert.Equal(t, []app.ClashField{{Field: "minutes", Was: "20", Theirs: "45", Mine: "25"}}, clash.Fields)
	assert.Equal(t, 61.0, clash.Merged.MassKG, "theirs, which this window did not touch")
	assert.Equal(t, 25, clash.Merged.Minutes)
	_, err = s.Store.Intake(ctx, "form-5")
	assert.NoError(t, err, "nothing was saved, so the draft stays")
}

func form(ctx context.Context, key string) context.Context {
	return store.Sent(ctx, store.Form{Key: key, Digest: key})
}

// TestHeightsKeepTheirDays: 2.5 cm less a day later speaks of the spine, whatever else is
// changed on other days; on the same day by the studio's own clock it was a slip of the pen.
func TestHeightsKeepTheirDays(t *testing.T) {
	ctx, s := context.Background(), studio(t)
	k := client("Ada Test")
	k.HeightCM = 165
	id, err := s.AddClient(ctx, k)
	require.NoError(t, err)
	version := 1
	change := func(cm float64) limit.Client {
		k.HeightCM = cm
		require.NoError(t, s.ChangeClient(ctx, id, version, k))
		version++
		row, err := s.Store.Client(ctx, id)
		require.NoError(t, err)
		return row.Client
	}
	assert.Equal(t, []limit.Height{{CM: 164, On: "2026-11-24"}}, change(164).Heights, "the same day")
	later, now := s.Now(), s.Now
	s.Now = func() time.Time { return later.AddDate(0, 0, 1) }
	defer func() { s.Now = now }()
	lost := change(161.5)
	assert.Equal(t, []limit.Height{{CM: 164, On: "2026-11-24"}, {CM: 161.5, On: "2026-11-25"}}, lost.Heights)
	assert.Contains(t, s.Limits(lost, s.Today()).Risks[0].Because, "2.5 cm shorter than when last measured")
	k = lost // an ordinary visit hides nothing
	k.GoalText = "an hour in the garden"
	s.Now = func() time.Time { return later.AddDate(0, 0, 9) }
	assert.Contains(t, s.Limits(change(161.5), s.Today()).Risks[0].Because, "2.5 cm shorter than when last measured")
	// A year of small steps, and the far side of the date line: ten minutes later is the same day.
	east := time.FixedZone("far east", 13*3600)
	s.Now = func() time.Time { return time.Date(2027, 11, 26, 23, 55, 0, 0, time.UTC).In(east) }
	k = change(160)
	s.Now = func() time.Time { return time.Date(2027, 11, 27, 0, 5, 0, 0, time.UTC).In(east) }
	slip := change(140)
	assert.Equal(t, []limit.Height{{CM: 164, On: "2026-11-24"}, {CM: 161.5, On: "2026-11-25"}, {CM: 140, On: "2027-11-27"}},
		slip.Heights, "a slip that is put right leaves nothing")
	k = slip
	assert.Contains(t, s.Limits(change(159.4), s.Today()).Risks[0].Because, "4.6 cm shorter than at the tallest")
}

// TestTheStartOfAVisitIsKeptWholeOrNotAtAll.
func TestTheStartOfAVisitIsKeptWholeOrNotAtAll(t *testing.T) {
	ctx, s := context.Background(), studio(t)
	c := client("Ada Test")
	c.Conditions = append(c.Conditions, limit.Condition{ID: "raised_blood_pressure"}.With("controlled", true))
	id, err := s.AddClient(ctx, c)
	require.NoError(t, err)
	planID, err := s.AddPlan(ctx, id, app.Wish{}, "2026-11-24", "")
	require.NoError(t, err)
	at := func() (store.Client, store.Plan) {
		k, err := s.Store.Client(ctx, id)
		require.NoError(t, err)
		p, err := s.Store.Plan(ctx, planID)
		require.NoError(t, err)
		return k, p
	}
	usual, high, slip := "128/78", "184/96", "78/128"
	for _, v := range []app.Visit{{Asked: true, Pain: 11}, {Asked: true, Pain: -1}, {Asked: true, Pain: 2, Pressure: &slip},
		{RedFlags: []string{"boredom"}}, {Pain: 2}, {Asked: true, RedFlags: []string{"fever_unwell"}}} {
		_, err := s.StartVisit(ctx, planID, v)
		var invalid *formats.Invalid
		assert.ErrorAs(t, err, &invalid)
	}
	k, p := at()
	assert.Equal(t, 1, k.Version)
	assert.Equal(t, 1, p.Revision)

	then, err := s.StartVisit(ctx, planID, app.Visit{Asked: true, Pain: 0, Pressure: &usual})
	require.NoError(t, err)
	assert.Equal(t, app.GoOn, then)
	k, p = at()
	assert.Equal(t, "128/78", k.Client.RestingPressure)
	assert.Equal(t, "128/78", k.Client.Conditions[1].Word("reading"))
	assert.Equal(t, 1, p.Revision)

	then, err = s.StartVisit(ctx, planID, app.Visit{Asked: true, Pain: 4})
	require.NoError(t, err)
	assert.Equal(t, app.PlannedAnew, then)
	k, p = at()
	assert.Equal(t, 4, *k.Client.Pain.Now)
	assert.Equal(t, 4, p.Plan.PainNow)
	assert.Equal(t, 2, p.Revision)

	risen := "165/98"
	then, err = s.StartVisit(ctx, planID, app.Visit{Asked: true, Pain: 4, Pressure: &risen})
	require.NoError(t, err)
	assert.Equal(t, app.PlannedAnew, then, "it is not under control today")
	k, p = at()
	assert.Equal(t, 3, p.Revision)
	assert.Equal(t, k.Client, p.Client, "and changes by hand are judged for today")
	for _, it := range p.Plan.Items {
		verdict := limit.Judge(s.Limits(k.Client, civil.Of(now)).Limits, s.Library.Variant(it.Variant), limit.Kit{}).Verdict
		assert.True(t, verdict != "avoid" || it.OnlySide != "", it.Variant)
	}
	none := ""
	then, err = s.StartVisit(ctx, planID, app.Visit{Asked: true, Pain: 4, Pressure: &none})
	require.NoError(t, err)
	assert.Equal(t, app.GoOn, then, "without a reading it stays so")

	then, err = s.StartVisit(ctx, planID, app.Visit{Asked: true, Pain: 6, Pressure: &high})
	require.NoError(t, err)
	assert.Equal(t, app.Referred, then)
	k, p = at()
	assert.Equal(t, "184/96", k.Client.RestingPressure, "kept, so that the referral can be seen")
	assert.Equal(t, 3, p.Revision, "and nothing is planned")
	_, err = s.StartVisit(ctx, "nothing", app.Visit{})
	assert.ErrorIs(t, err, store.ErrNotFound)
}

func TestTapsOnTheBack(t *testing.T) {
	ctx, s := context.Background(), studio(t)
	c := client("Ada Test")
	c.Conditions = []limit.Condition{{ID: "scoliosis"}, {ID: "neck_pain"}}
	id, err := s.AddClient(ctx, c)
	require.NoError(t, err)
	now := func() limit.Client {
		k, err := s.Store.Client(ctx, id)
		require.NoError(t, err)
		return k.Client
	}
	for _, want := range []string{"left", "right", ""} {
		side := want
		if want == "" {
			side = "right" // a second tap takes it away
		}
		require.NoError(t, s.TapCurve(ctx, id, "thoracic", side))
		if curves := now().Conditions[0].Curves("curves"); want == "" {
			assert.Empty(t, curves)
		} else {
			assert.Equal(t, []limit.Curve{{Region: "thoracic", Convex: want}}, curves)
		}
	}
	assert.ErrorContains(t, s.TapCurve(ctx, id, "waist", "left"), "curve: expected")
	assert.ErrorContains(t, s.TapCurve(ctx, id, "lumbar", "up"), "curve: expected")
	for _, level := range []int{1, 2, 0} {
		require.NoError(t, s.TapClock(ctx, id, 12))
		assert.Equal(t, level, now().Clock[0].Hours[0])
	}
	require.NoError(t, s.TapClock(ctx, id, 5))
	assert.Equal(t, 1, now().Clock[0].Hours[5])
	require.NoError(t, s.ClearClock(ctx, id))
	assert.Empty(t, now().Clock)
	assert.ErrorContains(t, s.TapClock(ctx, id, 13), "hour: expected 1 to 12")
	require.NoError(t, s.Loosen(ctx, id, limit.Clearance{Rule: "neck_pain.head_lift", By: "Dr A. Example"}))
	assert.Equal(t, "2026-11-24", now().Clearances[0].On, "today")
	assert.ErrorContains(t, s.Loosen(ctx, id, limit.Clearance{Rule: "neck_pain.joy", By: "x"}), "is not a rule")
	assert.ErrorContains(t, s.Loosen(ctx, id, limit.Clearance{Rule: "neck_pain.range"}), "who cleared it: expected a name")
	require.NoError(t, s.Instruct(ctx, id, limit.Instruction{Quantity: "lumbar_extension", Max: 12, By: "the surgeon"}))
	assert.Equal(t, "2026-11-24", now().Instructions[0].On)
	assert.ErrorContains(t, s.Instruct(ctx, id, limit.Instruction{Quantity: "courage", Max: 12, By: "x"}), "instructions[1].quantity")
	assert.ErrorContains(t, s.TakeBackInstruction(ctx, id, 1), "not there any more")
	require.NoError(t, s.TakeBackInstruction(ctx, id, 0))
	assert.Empty(t, now().Instructions)
	require.NoError(t, s.Tighten(ctx, id, "neck_pain.head_lift"))
	assert.Empty(t, now().Clearances)
	assert.ErrorIs(t, s.Tighten(ctx, "nobody", "x"), store.ErrNotFound)
}

// TestAClockThatGoesBackBlocksNoWarning: what was tested on a day that is by now to come
// does not stand in the way of a warning sign, and a date to come that is new is refused.
func TestAClockThatGoesBackBlocksNoWarning(t *testing.T) {
	ctx, s := context.Background(), studio(t)
	id, err := s.AddClient(ctx, client("Ada Test"))
	require.NoError(t, err)
	planID, err := s.AddPlan(ctx, id, app.Wish{}, s.Today().String(), "")
	require.NoError(t, err)
	require.NoError(t, s.AddTests(ctx, id, app.Tests{Measures: []limit.Measure{{ID: "breath_seconds", Value: 4}}, Seen: nil}))
	right := s.Now
	s.Now = func() time.Time { return right().AddDate(0, 0, -2) }
	then, err := s.StartVisit(ctx, planID, app.Visit{RedFlags: []string{"saddle_numbness"}, Pain: 3})
	require.NoError(t, err)
	assert.Equal(t, app.Referred, then)
	row, err := s.Store.Client(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, []string{"saddle_numbness"}, row.Client.RedFlags)
	late := row.Client
	late.Measures = append(late.Measures,
		limit.Measure{ID: "plank_hold_s", Value: 20, On: right().AddDate(0, 0, 1).Format(time.DateOnly)},
	)
	assert.ErrorContains(t, s.ChangeClient(ctx, id, row.Version, late), "in the future")
}
