package app_test

import (
	"context"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
	"restbend/core/civil"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/store"
)

// kept is a client of the database.
func kept(t testing.TB, s *app.Studio, c limit.Client) store.Client {
	t.Helper()
	id, err := s.AddClient(context.Background(), c)
	require.NoError(t, err)
	k, err := s.Store.Client(context.Background(), id)
	require.NoError(t, err)
	return k
}

func TestTheTestsThatWouldChangeMostComeFirst(t *testing.T) {
	ctx, s := context.Background(), studio(t)
	c := client("Ada Test")
	c.BirthYear, c.Sex = 1955, "female"
	k := kept(t, s, c)
	worth, err := s.TestsWorth(ctx, k)
	require.NoError(t, err)
	require.Greater(t, len(worth), 10)
	assert.Greater(t, worth[0].Seconds, 60.0, "some test changes more than a minute of the session")
	for i, w := range worth[1:] {
		assert.GreaterOrEqual(t, worth[i].Seconds, w.Seconds, "most first")
		assert.NotEqual(t, w.Test == "", w.Measure == "", "either a test or a measure")
	}
	// What has just been taken stands behind all that was not.
	first := worth[0]
	var tests app.Tests
	if first.Test != "" {
		tests.Screens = []limit.Screen{{ID: first.Test, Finding: "able"}}
	} else {
		tests.Measures = []limit.Measure{{ID: first.Measure, Value: 20}}
	}
	require.NoError(t, s.AddTests(ctx, k.ID, tests))
	k, err = s.Store.Client(ctx, k.ID)
	require.NoError(t, err)
	again, err := s.TestsWorth(ctx, k)
	require.NoError(t, err)
	assert.True(t, again[len(again)-1].Fresh)
	assert.Equal(t, first.Test+first.Measure, again[len(again)-1].Test+again[len(again)-1].Measure)
}

func TestABarredTestIsNotProposed(t *testing.T) {
	c := client("Ada Test")
	no := false
	c.Tolerates.SupineFlat = &no
	set := judge.Limits(c, civil.Of(now)).Limits
	for _, try := range limit.Probes(c, set, civil.Of(now)) {
		if test, ok := limit.FindScreenTest(try.Test); ok {
			assert.Empty(t, test.Barred(set), try.Test)
		}
	}
	leg, _ := limit.FindScreenTest("leg_lower")
	assert.NotEmpty(t, leg.Barred(set), "or this says nothing")
}

func TestWhatATestWouldChangeIsWhatItChanges(t *testing.T) {
	ctx, s := context.Background(), studio(t)
	k := kept(t, s, client("Ada Test"))
	tests := app.Tests{
		Screens: []limit.Screen{
			{ID: "backward_bend_ease", Finding: "painful", Sensation: "pinch"},
			{ID: "single_leg_stance", Finding: "unsteady", Side: "left"},
		},
	}
	lines, err := s.WouldChange(ctx, k, tests)
	require.NoError(t, err)
	said := strings.Join(lines, "\n")
	assert.Contains(t, said, "Low back: does not hollow past 12°")
	assert.Contains(t, said, "side of the hip", "what a test of one leg looks for beside balance, which is a goal already")
	require.NoError(t, s.AddTests(ctx, k.ID, tests))
	k, err = s.Store.Client(ctx, k.ID)
	require.NoError(t, err)
	p, err := s.AddPlan(ctx, k.ID, app.Wish{}, "2026-11-24", "09:30")
	require.NoError(t, err)
	row, err := s.Store.Plan(ctx, p)
	require.NoError(t, err)
	for _, line := range lines {
		names, comes := strings.CutPrefix(line, "Into the next plan: ")
		if !comes || strings.Contains(line, " more.") {
			continue
		}
		for _, name := range strings.Split(strings.ReplaceAll(strings.TrimSuffix(names, "."), " and ", ", "), ", ") {
			in := false
			for _, it := range row.Plan.Items {
				in = in || strings.Contains(it.Name, name)
			}
			assert.True(t, in, "%q is not in the plan that was made", name)
		}
	}
	// Kept already: nothing more would change.
	lines, err = s.WouldChange(ctx, k, tests)
	require.NoError(t, err)
	assert.Equal(t, []string{"Changes nothing in what is planned."}, lines)
	_, err = s.WouldChange(ctx, k, app.Tests{Measures: []limit.Measure{{ID: "lumbar_flexion_deg", Value: 900}}})
	assert.ErrorContains(t, err, "expected 0 to 120")
}

func TestDiffers(t *testing.T) {
	p := judgePlan(t, client("Ada Test"))
	assert.Equal(t, plan.Otherwise{}, plan.Differs(p, p))
	q := p
	q.Items = append([]plan.Item(nil), p.Items[1:]...)
	d := plan.Differs(p, q)
	assert.Equal(t, []string{p.Items[0].Variant}, d.Out)
	assert.Empty(t, d.In)
	assert.InDelta(t, p.Items[0].Seconds(), d.Seconds, 1e-9)
	assert.Equal(t, d.Out, plan.Differs(q, p).In)
	q.Items = append(append([]plan.Item(nil), p.Items[:1]...), p.Items[1:]...)
	q.Items[0].Variant = "another"
	assert.InDelta(t, p.Items[0].Seconds(), plan.Differs(p, q).Seconds, 1e-9, "one put for another counts once")
}

func judgePlan(t testing.TB, c limit.Client) plan.Plan {
	t.Helper()
	p, err := judge.Plan(c, app.Wish{}, nil, civil.Of(now))
	require.NoError(t, err)
	require.Equal(t, plan.Ready, p.Status)
	return p
}

func BenchmarkTestsWorth(b *testing.B) {
	ctx := context.Background()
	st, err := store.Open(ctx, b.TempDir())
	require.NoError(b, err)
	s := &app.Studio{Judge: judge, Store: st, Now: func() time.Time { return now }}
	defer st.Close()
	k := kept(b, s, client("Ada Test"))
	for b.Loop() {
		if _, err := s.TestsWorth(ctx, k); err != nil {
			b.Fatal(err)
		}
	}
}
