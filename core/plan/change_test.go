package plan_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/plan/edit"
)

func names(p plan.Plan) []string {
	var out []string
	for _, it := range p.Items {
		out = append(out, it.Variant)
	}
	return out
}

func TestMoveRemoveAdd(t *testing.T) {
	r := request(bothConditions(), "mat", 30)
	p := plan.Best(r, planLib)
	before := names(p)
	require.NoError(t, edit.Remove(&p, r, planLib, 2))
	assert.Equal(t, slices.Delete(slices.Clone(before), 2, 3), names(p))
	at, err := edit.Add(&p, r, planLib, before[2])
	require.NoError(t, err)
	assert.Equal(t, before[2], p.Items[at].Variant)
	assert.ErrorContains(t, second(edit.Add(&p, r, planLib, before[2])), "in the plan already")
	assert.ErrorContains(t, second(edit.Add(&p, r, planLib, "headstand")), "not in the library")
	err = second(edit.Add(&p, r, planLib, "curl_up"))
	assert.ErrorContains(t, err, "is not for this client")
	assert.ErrorContains(t, err, "Nearest that is safe")

	first := p.Items[3].Variant
	require.NoError(t, edit.Move(&p, r, planLib, 3, 5))
	assert.Equal(t, first, p.Items[5].Variant)
	assert.ErrorContains(t, edit.Move(&p, r, planLib, 3, 99), "no exercise number 100")
	sum := 0.0
	for i, it := range p.Items {
		sum += it.Seconds()
		if i > 0 {
			assert.GreaterOrEqual(t, phase(it), phase(p.Items[i-1]), "what is moved takes the phase it stands in")
		}
	}
	assert.InDelta(t, sum, p.SecondsTotal, 0.1)
}

func second(_ int, err error) error { return err }

func TestAMoveThatCostsATripToTheFloorIsRefused(t *testing.T) {
	c := bothConditions()
	c.Conditions = append(c.Conditions, limit.Condition{ID: "falls_risk"})
	c.Goals = []exercise.Purpose{"balance"}
	r := request(c, "mat", 30)
	p := plan.Best(r, planLib)
	up := slices.IndexFunc(p.Items, func(it plan.Item) bool { return !it.Position.OnFloor() })
	require.Positive(t, up, "something upright after the floor")
	before := names(p)
	err := edit.Move(&p, r, planLib, up, 1)
	assert.ErrorContains(t, err, "4 ways to or from the floor, and 2 is the most here")
	assert.Equal(t, before, names(p), "the plan stays as it was")
}

func TestDosesAndFit(t *testing.T) {
	r := request(bothConditions(), "mat", 30)
	p := plan.Best(r, planLib)
	i := slices.IndexFunc(p.Items, func(it plan.Item) bool { return it.Phase == "strengthen" })
	require.GreaterOrEqual(t, i, 0)
	doses := edit.Doses(p, r, planLib, i)
	require.Greater(t, len(doses), 2)
	most := doses[len(doses)-1]
	require.NoError(t, edit.SetDose(&p, r, planLib, i, most.Words(len(p.Items[i].Sides) > 0)))
	assert.Equal(t, most, p.Items[i].Dose)
	assert.ErrorContains(t, edit.SetDose(&p, r, planLib, i, "a thousand"), "cannot be read")

	require.NoError(t, edit.Lock(&p, i, true))
	locked := p.Items[i]
	for range 2 { // far too short
		require.NoError(t, edit.Remove(&p, r, planLib, len(p.Items)-2))
	}
	edit.Fit(&p, r, planLib)
	assert.InEpsilon(t, 1800, p.SecondsTotal, 0.03)
	at := slices.Index(names(p), locked.Variant)
	require.GreaterOrEqual(t, at, 0)
	assert.Equal(t, locked.Dose, p.Items[at].Dose, "locked stays as it was")
	assert.True(t, p.Items[at].Locked)
}

func TestLockedStaysUnlessItCannot(t *testing.T) {
	c := bothConditions()
	r := request(c, "mat", 30)
	p := plan.Best(r, planLib)
	_, err := edit.Add(&p, r, planLib, "bird_dog_leg")
	require.NoError(t, err)
	require.NoError(t, edit.Lock(&p, slices.Index(names(p), "bird_dog_leg"), true))
	q := request(c, "mat", 20)
	q.Fixed = p.Locked()
	assert.Contains(t, names(plan.Best(q, planLib)), "bird_dog_leg")
	q = request(c, "chair", 20)
	q.Fixed = p.Locked()
	moved := plan.Best(q, planLib)
	assert.NotContains(t, names(moved), "bird_dog_leg")
	assert.Contains(t, strings.Join(moved.Notes, "\n"), "One leg reaching was locked and could not stay: it cannot be done on the chair")
}

func TestWhatIsLockedGivesWayToPain(t *testing.T) {
	c := bothConditions()
	r := request(c, "mat", 30)
	p := plan.Best(r, planLib)
	at := slices.IndexFunc(p.Items, func(it plan.Item) bool { return it.Phase == "strengthen" })
	require.GreaterOrEqual(t, at, 0)
	require.NoError(t, edit.Lock(&p, at, true))
	c.Pain.Now = ptr(7)
	q := request(c, "mat", 15)
	q.Fixed = p.Locked()
	sore := plan.Best(q, planLib)
	assert.NotContains(t, names(sore), p.Items[at].Variant)
	assert.Contains(t, sore.Notes[len(sore.Notes)-1], p.Items[at].Name+" was locked and could not stay:")

	// A hold that is too long for today's limits is shortened, not kept.
	long := p.Items[at]
	long.Dose = exercise.Dose{Kind: exercise.HoldSeconds, Repetitions: 2, Seconds: 90}
	c = limit.Client{Equipment: []string{"mat", "chair"}, Conditions: []limit.Condition{{ID: "raised_blood_pressure"}}}
	held := plan.Best(
		request(limit.Client{Equipment: []string{"mat", "chair"}, Goals: []exercise.Purpose{"anti_extension"}}, "mat", 30),
		planLib,
	)
	i := slices.IndexFunc(held.Items, func(it plan.Item) bool {
		kept, _ := it.Quantities["hold_seconds_loaded"].(float64)
		return it.Dose.Kind == exercise.HoldSeconds && kept > 0
	})
	require.GreaterOrEqual(t, i, 0)
	fixed := held.Items[i]
	fixed.Dose.Seconds, fixed.Locked = 45, true
	r = request(c, "mat", 30)
	r.Fixed = []plan.Item{fixed}
	for _, it := range plan.Best(r, planLib).Items {
		if it.Variant == fixed.Variant {
			assert.LessOrEqual(t, plan.Held(it.Dose, 5), 10.0, "uncontrolled pressure: loaded holds of ten seconds at most")
		}
	}
}

// TestLockedBeyondTheMinutes: where the minutes do not hold all that is locked, as
// much of it as they hold stays, and the rest is named.
func TestLockedBeyondTheMinutes(t *testing.T) {
	c := bothConditions()
	p := plan.Best(request(c, "mat", 30), planLib)
	for i := range p.Items {
		require.NoError(t, edit.Lock(&p, i, true))
	}
	q := request(c, "mat", 10)
	q.Fixed = p.Locked()
	short, bound := plan.BestBounded(q, planLib)
	assert.LessOrEqual(t, short.SecondsTotal, 618.0)
	assert.NotEmpty(t, short.Items)
	kept := 0
	for _, it := range short.Items {
		if it.Locked {
			kept++
		}
	}
	assert.Greater(t, kept, 2)
	assert.Less(t, kept, len(p.Items))
	assert.Contains(t, strings.Join(short.Notes, " "), "was locked and could not stay: the minutes do not hold it.")
	assert.GreaterOrEqual(t, bound.Most, bound.Value)
}

func TestContinue(t *testing.T) {
	r := request(bothConditions(), "mat", 30)
	p := plan.Best(r, planLib)
	const done = 4
	next, err := edit.Continue(p, r, planLib, done, 10)
	require.NoError(t, err)
	assert.Equal(t, names(p)[:done], names(next)[:done], "what was done stays")
	rest := 0.0
	seen := map[string]bool{}
	for i, it := range next.Items {
		if i < done {
			seen[it.Variant] = true
			continue
		}
		rest += it.Seconds()
		assert.False(t, seen[it.Variant] && it.Phase != "close", "%s again", it.Variant)
		assert.GreaterOrEqual(t, phase(it), phase(next.Items[i-1]))
	}
	assert.InEpsilon(t, 600, rest, 0.04)
	assert.Equal(t, exercise.Phase("close"), next.Items[len(next.Items)-1].Phase)
	assert.LessOrEqual(t, next.Transfers.Floor, 2)
	_, err = edit.Continue(p, r, planLib, 99, 10)
	assert.ErrorContains(t, err, "expected 0 to")
}

func TestStandingFirst(t *testing.T) {
	c := bothConditions()
	c.Goals = []exercise.Purpose{"balance", "leg_strength"}
	r := request(c, "mat", 30)
	r.StandingFirst = true
	p := plan.Best(r, planLib)
	require.Equal(t, plan.Ready, p.Status)
	assert.Equal(t, exercise.Phase("upright"), p.Items[0].Phase)
	assert.Equal(t, exercise.Phase("close"), p.Items[len(p.Items)-1].Phase)
	assert.Equal(t, 2, p.Transfers.Floor, "down once and up once all the same")
	assert.InEpsilon(t, 1800, p.SecondsTotal, 0.03)
}

func TestTheLesserSideGetsMore(t *testing.T) {
	c := limit.Client{
		Equipment: []string{"mat", "chair", "pillow"},
		Goals:     []exercise.Purpose{"mobility_rotation", "lateral_stability"},
		Measures: []limit.Measure{
			{ID: "thoracic_rotation_deg", Side: "left", Value: 45}, {ID: "thoracic_rotation_deg", Side: "right", Value: 30},
			{ID: "side_bridge_s", Side: "left", Value: 20}, {ID: "side_bridge_s", Side: "right", Value: 40}},
	}
	p := plan.Best(request(c, "mat", 45), planLib)
	found := 0
	for _, it := range p.Items {
		switch {
		case len(it.Dose.BySide) == 0:
		case it.Family == "open_book":
			found++
			assert.Greater(t, it.Dose.BySide["right"], it.Dose.BySide["left"], "turning right is the lesser")
		case it.Family == "side_bridge":
			found++
			assert.Greater(t, it.Dose.BySide["right"], it.Dose.BySide["left"], "with the right side uppermost the left one works")
		}
	}
	assert.Positive(t, found, names(p))
}

func TestBlocksAreInTheirBestOrder(t *testing.T) {
	p := plan.Best(request(bothConditions(), "mat", 45), planLib)
	for i := 1; i < len(p.Items); i++ {
		a, b := p.Items[i-1], p.Items[i]
		if a.Phase == b.Phase && a.Position == b.Position && a.Demand >= limit.HeavyDemand {
			assert.Less(t, b.Demand, limit.HeavyDemand, "%s after %s", b.Variant, a.Variant)
		}
	}
}
