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
	"restbend/core/plan"
	"restbend/core/plan/edit"
	"restbend/demo"
	"restbend/formats"
	"restbend/store"
)

var now = time.Date(2026, 11, 24, 8, 0, 0, 0, time.UTC)

var judge = func() *app.Judge {
	j, err := app.NewJudge()
	if err != nil {
		panic(err)
	}
	return j
}()

func studio(t *testing.T) *app.Studio {
	t.Helper()
	s, err := store.Open(context.Background(), t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	return &app.Studio{Judge: judge, Store: s, Now: func() time.Time { return now }}
}

func client(name string) limit.Client {
	no := false
	return limit.Client{Format: "restbend.client/1", Name: name, Place: "chair", Minutes: 20, Equipment: []string{"chair"},
		RedFlags:   []string{},
		Rungs:      []limit.Rung{{Family: "sit_and_squat", Variant: "sit_to_stand"}},
		Conditions: []limit.Condition{limit.Condition{ID: "osteoporosis"}.With("vertebral_fracture", no)}}
}

func TestTheWholeStory(t *testing.T) {
	ctx, s := context.Background(), studio(t)
	id, err := s.AddClient(ctx, client("Ada Test"))
	require.NoError(t, err)
	planID, err := s.AddPlan(ctx, id, app.Wish{}, "2026-11-24", "09:30")
	require.NoError(t, err)
	row, err := s.Store.Plan(ctx, planID)
	require.NoError(t, err)
	assert.Equal(t, plan.Ready, row.Plan.Status)
	assert.InEpsilon(t, 1200, row.Plan.SecondsTotal, 0.05)

	at := 0
	for i, it := range row.Plan.Items {
		if it.Variant == "sit_to_stand" {
			at = i
		}
	}
	_, err = s.EditPlan(ctx, planID, 1, app.Edit{Kind: "swap", Item: at, Variant: "heel_press_chair_both"})
	require.NoError(t, err)
	_, err = s.EditPlan(ctx, planID, 1, app.Edit{Kind: "swap", Item: at, Variant: "hinge_chair"})
	assert.ErrorIs(t, err, store.ErrChanged, "the revision has moved on")
	assert.Equal(t, fmt.Sprintf("%d was Sit to stand", at+1), s.Store.LastChange(ctx, planID, 2))
	require.NoError(t, s.Replan(ctx, planID, 2, app.Wish{Minutes: 30, Place: "chair", Approach: "steady"}))
	row, err = s.Store.Plan(ctx, planID)
	require.NoError(t, err)
	assert.Equal(t, 30, row.Plan.MinutesAsked)
	require.NoError(t, s.Undo(ctx, planID, 3))
	require.NoError(t, s.Undo(ctx, planID, 2))
	assert.Error(t, s.Undo(ctx, planID, 1), "nothing before the first")
	row, err = s.Store.Plan(ctx, planID)
	require.NoError(t, err)
	assert.Equal(t, "sit_to_stand", row.Plan.Items[at].Variant)

	two := 2
	told := lesson.Record{Format: "restbend.record/1", On: "2026-11-24", Pain: lesson.Pain{After: &two},
		Items: []lesson.Done{{Variant: "sit_to_stand", Ended: "form"}}}
	recordID, err := s.AddRecord(ctx, planID, told)
	require.NoError(t, err)
	again, err := s.AddRecord(ctx, planID, told)
	require.NoError(t, err)
	assert.Equal(t, recordID, again, "saving twice leads to the same record")
	told.Notes, told.Items = "she was tired", []lesson.Done{{Variant: "sit_to_stand", Ended: "pain"}}
	again, err = s.AddRecord(ctx, planID, told)
	require.NoError(t, err)
	assert.Equal(t, recordID, again)
	corrected, err := s.Store.Record(ctx, recordID)
	require.NoError(t, err)
	assert.Equal(t, "pain", corrected.Record.Items[0].Ended, "another account corrects the first")
	require.Len(t, corrected.Corrections, 1)
	assert.Equal(t, "form", corrected.Corrections[0].Was.Items[0].Ended, "which stays beside it")
	_, err = s.EditPlan(ctx, planID, 1, app.Edit{Kind: "swap", Item: 0, Variant: "hinge_chair"})
	assert.ErrorIs(t, err, app.ErrTaught)
	require.NoError(t, s.FollowUp(ctx, recordID, lesson.FollowUp{HoursToSettle: 5, Kind: "soreness"}))
	r, err := s.Store.Record(ctx, recordID)
	require.NoError(t, err)
	assert.Equal(t, 5.0, r.Record.FollowUp.HoursToSettle)
}

func TestHistoryIsNotRewritten(t *testing.T) {
	ctx, s := context.Background(), studio(t)
	id, err := s.AddClient(ctx, client("Ada Test"))
	require.NoError(t, err)
	planID, err := s.AddPlan(ctx, id, app.Wish{}, "2026-11-24", "")
	require.NoError(t, err)
	before, err := s.Store.Plan(ctx, planID)
	require.NoError(t, err)
	changed := client("Ada Renamed")
	changed.Conditions = []limit.Condition{{ID: "wrist_pain"}}
	require.NoError(t, s.ChangeClient(ctx, id, 1, changed))
	other := client("Ada Otherwise")
	var clash *app.Clash
	assert.ErrorAs(t, s.ChangeClient(ctx, id, 1, other), &clash)
	after, err := s.Store.Plan(ctx, planID)
	require.NoError(t, err)
	assert.Equal(t, before, after)
	assert.Equal(t, "osteoporosis", after.Client.Conditions[0].ID)
	assert.Equal(t, judge.Library.Hash, after.Plan.Library)
}

func TestRefusalsSaveNothing(t *testing.T) {
	ctx, s := context.Background(), studio(t)
	for says, change := range map[string]func(*limit.Client){
		"name: is needed":  func(c *limit.Client) { c.Name = " " },
		"birth_year: 2035": func(c *limit.Client) { c.BirthYear = 2035 },
		"mass_kg":          func(c *limit.Client) { c.MassKG = 3 },
		"conditions[0].levels: waist": func(c *limit.Client) {
			c.Conditions[0] = limit.Condition{ID: "spinal_fusion"}.With("levels",
				"waist")
		},
		"rungs[0].variant": func(c *limit.Client) { c.Rungs = []limit.Rung{{Family: "bridge", Variant: "clam"}} },
		"clearances[0].rule: made_up": func(c *limit.Client) {
			c.Clearances = []limit.Clearance{
				{Rule: "made_up", By: "x", On: "2026-01-01"}}
		},
	} {
		c := client("Bad")
		change(&c)
		_, err := s.AddClient(ctx, c)
		assert.ErrorContains(t, err, says)
	}
	all, err := s.Store.Clients(ctx)
	require.NoError(t, err)
	assert.Empty(t, all)

	flagged := client("Flag")
	flagged.RedFlags = []string{"saddle_numbness"}
	id, err := s.AddClient(ctx, flagged)
	require.NoError(t, err)
	_, err = s.AddPlan(ctx, id, app.Wish{}, "2026-11-24", "")
	assert.ErrorIs(t, err, app.ErrRefer)
	for says, w := range map[string]app.Wish{"minutes": {Minutes: 600}, "place": {Place: "moon"}, "approach": {Approach: "loud"}} {
		ok, err := s.AddClient(ctx, client("Ok "+says))
		require.NoError(t, err)
		_, err = s.AddPlan(ctx, ok, w, "2026-11-24", "")
		assert.ErrorContains(t, err, says)
		plans, err := s.Store.PlansOf(ctx, ok)
		require.NoError(t, err)
		assert.Empty(t, plans)
	}
	_, err = s.AddPlan(ctx, "nobody", app.Wish{}, "2026-11-24", "")
	assert.ErrorIs(t, err, store.ErrNotFound)
	assert.ErrorContains(t, s.FollowUp(ctx, "x", lesson.FollowUp{HoursToSettle: -1}), "hours to settle")
}

// TestWhatTheBookRefuses are mistakes that only the conditions' descriptions know.
func TestWhatTheBookRefuses(t *testing.T) {
	for _, row := range [][2]string{
		{`{"format":"restbend.client/1","conditions":[{"id":"scoliosis","curves":[` +
			`{"region":"lumbar","convex":"left"},{"region":"lumbar","convex":"right"}]}]}`,
			"conditions[0].curves[1].region: a second lumbar curve"},
		{`{"format":"restbend.client/1","conditions":[{"id":"spinal_fusion","levels":"L4 to X"}]}`,
			"conditions[0].levels: L4 to X cannot be read"},
		{`{"format":"restbend.client/1","conditions":[{"id":"wrist_pain"},{"id":"wrist_pain"}]}`,
			"conditions[1].id: wrist_pain is listed twice"},
		{`{"format":"restbend.client/1","conditions":[{"id":"osteoporosis","stage":"acute"}]}`,
			"conditions[0].stage: is not asked about osteoporosis; expected t_score, vertebral_fracture"},
		{`{"format":"restbend.client/1","conditions":[{"id":"neck_pain","side":"left"}]}`,
			"conditions[0].side: is not asked about neck_pain; expected nothing"},
		{`{"format":"restbend.client/1","conditions":[{"id":"disc_sciatica","stage":"persistent"}]}`,
			"conditions[0].stage: persistent is not known; expected one of acute, subacute, later"},
		{`{"format":"restbend.client/1","conditions":[{"id":"raised_blood_pressure","reading":"high"}]}`,
			"conditions[0].reading: expected a reading such as 128/78, found high"},
		{`{"format":"restbend.client/1","conditions":[{"id":"raised_blood_pressure","reading":"80/120"}]}`,
			"conditions[0].reading: expected a reading"},
		{`{"format":"restbend.client/1","conditions":[{"id":"scoliosis","curves":[` +
			`{"region":"lumbar","convex":"left"},{"region":"neck","convex":"left"}]}]}`,
			"conditions[0].curves[1].region"},
		{`{"format":"restbend.client/1","instructions":[{"quantity":"hip_moment","max":3,"by":"x","on":"2026-10-01"}]}`,
			"instructions[0].quantity"},
		{`{"format":"restbend.client/1","clearances":[{"rule":"osteoporosis.joy","by":"x","on":"2026-10-01"}]}`,
			"clearances[0].rule: osteoporosis.joy is not a rule"},
		{`{"format":"restbend.client/1","clearances":[{"rule":"spinal_fusion.weeks","by":"x","on":"2026-10-01"}]}`, "cannot be loosened"},
		{`{"format":"restbend.client/1","rungs":[{"family":"bird_dog","variant":"cat_cow"}]}`, "rungs[0].variant: cat_cow of bird_dog"},
	} {
		in, says := row[0], row[1]
		_, err := judge.Client([]byte(in), civil.Of(now))
		var invalid *formats.Invalid
		if assert.ErrorAs(t, err, &invalid, in) {
			assert.ErrorContains(t, err, says, in)
		}
	}
}

func TestDemoTellsTheSameStory(t *testing.T) {
	ctx := context.Background()
	tell := func() []string {
		s := studio(t)
		require.NoError(t, demo.Fill(ctx, judge, s.Store, now))
		clients, err := s.Store.Clients(ctx)
		require.NoError(t, err)
		assert.Len(t, clients, 8)
		var out []string
		for _, c := range clients {
			for _, k := range c.Client.Conditions {
				assert.NotNil(t, judge.Library.Conditions.Condition(k.ID))
			}
			records, err := s.Store.RecordsOf(ctx, c.ID)
			require.NoError(t, err)
			assert.NotEmpty(t, records, c.Client.Name)
			plans, err := s.Store.PlansOf(ctx, c.ID)
			require.NoError(t, err)
			for _, p := range plans {
				assert.Equal(t, plan.Ready, p.Plan.Status, c.Client.Name)
				if of, err := s.Store.ClassOfPlan(ctx, p.ID); of != "" || err != nil {
					require.NoError(t, err)
					continue // its minutes are the class's
				}
				assert.InEpsilon(t, p.Plan.Target(), p.Plan.SecondsTotal, 0.05, "%s %s", c.Client.Name, p.Plan.Notes)
				out = append(out, c.Client.Name+p.On+p.Plan.Items[1].Variant)
			}
		}
		today, err := s.Store.PlansOn(ctx, now.Format(time.DateOnly))
		require.NoError(t, err)
		assert.GreaterOrEqual(t, len(today), 2)
		open, err := s.ToFollowUp(ctx, 5)
		require.NoError(t, err)
		assert.NotEmpty(t, open)
		return out
	}
	assert.Equal(t, tell(), tell())
}

func TestWords(t *testing.T) {
	assert.Equal(t, "29:48", app.Clock(1788))
	assert.Equal(t,
		"Low back rounding forward: shut past 10° under load",
		app.LimitWords(limit.Limit{Quantity: "lumbar_flexion", Max: 10.0, When: "loaded", Bar: true}),
	)
	assert.Equal(t,
		"Weight on one wrist, right: to 15% of body weight",
		app.LimitWords(limit.Limit{Quantity: "wrist_load_right", Max: 0.15, When: "any", Bar: true}),
	)
	assert.Equal(t, "balance", app.BecauseWords("goal: balance"))
	assert.Equal(t, "to arrive", app.BecauseWords("phase: settle"))
	assert.Contains(t, app.ReasonWords(limit.Reason{Text: "No.", Quantity: "lumbar_flexion", Value: 28.0, Limit: 10.0}), "28°")
	for _, p := range exercise.Purposes {
		assert.NotEmpty(t, p.Words(), p)
	}
	assert.Equal(t,
		"chair, surface 47 cm high, light band, anchored at 90 cm",
		app.WithWords([]string{"mat", "chair"}, exercise.Settings{SurfaceCM: 47, Band: "light", AnchorCM: 90}, app.Metric),
	)
	assert.Equal(t,
		"surface 18 in high, 2.2 lb, pillow 3 in",
		app.WithWords(nil, exercise.Settings{SurfaceCM: 45.5, WeightKG: 1, PillowCM: 7.5}, app.Imperial),
	)
	assert.Equal(t,
		"Mat, hand weight, surfaces of 45, 62 and 75 cm, weights of 1.5 kg, pillows of 8 and 11 cm, wedge grades 1 and 2, light and "+
			"strong band, low arc",
		app.WorksWith(
			[]string{"mat", "hand_weight"},
			limit.Owned{
				SurfaceCM:  []float64{45, 62, 75},
				WeightKG:   []float64{1.5},
				PillowCM:   []float64{8, 11},
				WedgeGrade: []int{1, 2},
				Band:       []string{"light", "strong"},
				Arc:        []string{"low"},
			},
			app.Metric,
		),
	)
	assert.Equal(t,
		"Surfaces of 17.7 and 29.5 in, weights of 3.3 lb",
		app.WorksWith(nil, limit.Owned{SurfaceCM: []float64{45, 75}, WeightKG: []float64{1.5}}, app.Imperial),
	)
	assert.Empty(t, app.WorksWith(nil, limit.Owned{}, app.Metric))
}

// TestPlansFromElsewhere keeps a plan as a template, makes another client's from it,
// copies the last session, and schedules.
func TestPlansFromElsewhere(t *testing.T) {
	ctx, s := context.Background(), studio(t)
	id, err := s.AddClient(ctx, client("Ada Test"))
	require.NoError(t, err)
	_, err = s.CopyLast(ctx, id, app.Wish{}, "2026-11-24", "")
	assert.ErrorContains(t, err, "no taught session to copy from")
	planID, err := s.AddPlan(ctx, id, app.Wish{}, "", "")
	require.NoError(t, err)
	row, err := s.Store.Plan(ctx, planID)
	require.NoError(t, err)
	assert.Empty(t, row.On, "a draft has no day")
	require.NoError(t, s.Schedule(ctx, planID, "2026-11-25", "10:30"))
	assert.ErrorContains(t, s.Schedule(ctx, planID, "2026-11-25", "late"), "expected HH:MM")
	assert.ErrorContains(t, s.Schedule(ctx, planID, "soon", ""), "expected YYYY-MM-DD")
	row, err = s.Store.Plan(ctx, planID)
	require.NoError(t, err)
	assert.Equal(t, "2026-11-25 10:30", row.On+" "+row.At)

	require.NoError(t, s.SaveTemplate(ctx, planID, "Chair, short"))
	require.NoError(t, s.SaveTemplate(ctx, planID, "Chair, short"))
	assert.ErrorContains(t, s.SaveTemplate(ctx, planID, "  "), "1 to 80 characters")
	templates, err := s.Store.Templates(ctx)
	require.NoError(t, err)
	require.Len(t, templates, 1, "the same name is the same template")

	// For somebody whose limits bar some of it, that is left out and said.
	no := false
	other := client("Ben Test")
	other.Conditions = []limit.Condition{
		limit.Condition{ID: "wrist_pain"}.With("side", "both"),
		{ID: "falls_risk"},
		limit.Condition{ID: "extension_sensitive"}.With("which", "slip"),
	}
	other.Tolerates.WristLoad = &no
	otherID, err := s.AddClient(ctx, other)
	require.NoError(t, err)
	copyID, err := s.FromTemplate(ctx, otherID, templates[0].ID, app.Wish{}, "2026-11-24", "")
	require.NoError(t, err)
	copied, err := s.Store.Plan(ctx, copyID)
	require.NoError(t, err)
	shared := 0
	set := s.Limits(other, s.Today())
	for _, it := range copied.Plan.Items {
		assert.NotEqual(t, exercise.Avoid, limit.Judge(set.Limits, s.Library.Variant(it.Variant), limit.Kit{}).Verdict)
		for _, was := range row.Plan.Items {
			if was.Variant == it.Variant {
				shared++
			}
		}
	}
	assert.Greater(t, shared, len(row.Plan.Items)/2, "most of the template is there")
	_, err = s.FromTemplate(ctx, otherID, "nothing", app.Wish{}, "", "")
	assert.ErrorIs(t, err, store.ErrNotFound)

	// Like last time: what was taught comes again, and the next one knows of it.
	_, err = s.AddRecord(ctx, planID, lesson.Record{Format: "restbend.record/1", On: "2026-11-25", Items: []lesson.Done{}})
	require.NoError(t, err)
	againID, err := s.CopyLast(ctx, id, app.Wish{}, "2026-11-27", "")
	require.NoError(t, err)
	again, err := s.Store.Plan(ctx, againID)
	require.NoError(t, err)
	same := 0
	for _, it := range again.Plan.Items {
		for _, was := range row.Plan.Items {
			if was.Variant == it.Variant {
				same++
			}
		}
	}
	assert.GreaterOrEqual(t, same, len(row.Plan.Items)-2)
	r, err := s.RequestOf(ctx, again)
	require.NoError(t, err)
	assert.Equal(t, 1, r.History.Sessions)
	assert.Len(t, r.History.Recent, len(row.Plan.Items))
	assert.ErrorIs(t, s.Schedule(ctx, planID, "", ""), app.ErrTaught)
}

// TestEditsAreOneStepEach goes through every kind of change, each undone and made
// again.
func TestEditsAreOneStepEach(t *testing.T) {
	ctx, s := context.Background(), studio(t)
	id, err := s.AddClient(ctx, client("Ada Test"))
	require.NoError(t, err)
	planID, err := s.AddPlan(ctx, id, app.Wish{}, "2026-11-24", "")
	require.NoError(t, err)
	row := func() store.Plan {
		r, err := s.Store.Plan(ctx, planID)
		require.NoError(t, err)
		return r
	}
	first := row()
	r, err := s.RequestOf(ctx, first)
	require.NoError(t, err)
	doses := edit.Doses(first.Plan, r, s.PlanLibrary(), 2)
	sided := len(first.Plan.Items[2].Sides) > 0
	for _, e := range []app.Edit{{Kind: "move", Item: 2, To: 3}, {Kind: "lock", Item: 1}, {Kind: "remove", Item: 2},
		{Kind: "dose", Item: 2, Dose: doses[len(doses)-1].Words(sided)},
		{Kind: "fit"}, {Kind: "continue", Item: 3, Minutes: 8}} {
		before := row()
		_, err := s.EditPlan(ctx, planID, before.Revision, e)
		require.NoError(t, err, e.Kind)
		after := row()
		assert.Equal(t, before.Revision+1, after.Revision, e.Kind)
		assert.NotEmpty(t, s.Store.LastChange(ctx, planID, after.Revision), e.Kind)
		require.NoError(t, s.Undo(ctx, planID, after.Revision))
		assert.Equal(t, before.Plan, row().Plan, e.Kind)
		assert.NotEmpty(t, s.Store.NextChange(ctx, planID, before.Revision), e.Kind)
		require.NoError(t, s.Redo(ctx, planID, before.Revision))
		assert.Equal(t, after.Plan, row().Plan, e.Kind)
		require.NoError(t, s.Undo(ctx, planID, after.Revision))
	}
	_, err = s.EditPlan(ctx, planID, row().Revision, app.Edit{Kind: "continue", Item: 3, Minutes: 500})
	assert.ErrorContains(t, err, "expected 2 to 120")
	_, err = s.EditPlan(ctx, planID, row().Revision, app.Edit{Kind: "shuffle"})
	assert.ErrorContains(t, err, "is no change")
}
