package plan_test

import (
	"flag"
	"fmt"
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/limit/limittest"
	"restbend/core/plan"
	"restbend/core/plan/edit"
	"restbend/core/readiness/readinesstest"
	"restbend/library"
)

// many runs the property test over far more cases: go test ./core/plan -many.
var many = flag.Bool("many", false, "run property tests over many more random clients")

var today = civil.Date(2026, 11, 24)

// The tests use the real library: what is to be safe is what is shipped.
var lib, planLib = func() (*library.Library, plan.Library) {
	l, err := library.Load()
	if err != nil {
		panic(err)
	}
	return l, plan.NewLibrary(l.Variants, l.Hash, l.StandIns)
}()

func request(c limit.Client, place exercise.Place, minutes int) plan.Request {
	c.Place = place
	return plan.Request{Client: c, Limits: readinesstest.Limits(c, lib.Days(), today), Place: place, Approach: "steady", Minutes: minutes}
}

func bothConditions() limit.Client {
	not := false
	return limit.Client{
		HeightCM:  163,
		MassKG:    66,
		Equipment: []string{"mat", "chair"},
		Conditions: []limit.Condition{
			limit.Condition{ID: "osteoporosis"}.With("vertebral_fracture", not),
			limit.Condition{ID: "disc_sciatica"}.With("stage", "subacute").With("side", "left").With("eases", "extension"),
		},
	}
}

func TestMinutesComeOut(t *testing.T) {
	for _, place := range []exercise.Place{"mat", "chair"} {
		for _, minutes := range []int{20, 30} {
			p := plan.Best(request(bothConditions(), place, minutes), planLib)
			assert.Equal(t, plan.Ready, p.Status)
			assert.InEpsilon(t, float64(minutes*60), p.SecondsTotal, 0.05, "%s %d", place, minutes)
			assert.Equal(t, exercise.Phase("settle"), p.Items[0].Phase)
			assert.Equal(t, exercise.Phase("close"), p.Items[len(p.Items)-1].Phase)
			if place == "chair" {
				assert.Zero(t, p.Transfers.Floor)
			} else {
				assert.Equal(t, 2, p.Transfers.Floor, "down once, up once")
			}
			if place == "mat" {
				assert.NotEmpty(t, p.LeftOut)
			}
		}
	}
}

// alone is the one side that an exercise is done on; empty for both or none.
func alone(it plan.Item) string {
	if len(it.Sides) == 1 {
		return it.Sides[0]
	}
	return ""
}

// clients draws random clients of the known conditions.
func clients(t *rapid.T) limit.Client {
	flag := func(name string) *bool {
		switch rapid.IntRange(0, 2).Draw(t, name) {
		case 0:
			return nil
		case 1:
			b := true
			return &b
		}
		b := false
		return &b
	}
	pain := rapid.IntRange(0, 10).Draw(t, "pain")
	c := limit.Client{
		HeightCM: rapid.Float64Range(145, 200).Draw(t, "height"),
		MassKG:   rapid.Float64Range(40, 130).Draw(t, "mass"),
		Strict:   rapid.Bool().Draw(t, "strict"),
		Pain:     limit.Pain{Now: &pain},
		Tolerates: limit.Tolerates{
			Floor:      flag("floor"),
			Kneeling:   flag("kneeling"),
			WristLoad:  flag("wrists"),
			SupineFlat: flag("flat"),
			Prone:      flag("prone"),
		},
		BirthYear: rapid.IntRange(1935, 2005).Draw(t, "born"),
		Sex: rapid.SampledFrom([]string{"", "female", "male", "other"}).Draw(t,
			"sex"),
		Steroids:  limit.Steroids{Taken: rapid.Bool().Draw(t, "steroids")},
		Equipment: rapid.SliceOfDistinct(rapid.SampledFrom(exercise.Equipment), rapid.ID).Draw(t, "kit"),
		Goals:     rapid.SliceOfNDistinct(rapid.SampledFrom(exercise.Purposes), 0, 4, rapid.ID).Draw(t, "goals"),
	}
	c.Conditions = limittest.Conditions(t, lib.Conditions, 5)
	if rapid.Bool().Draw(t, "uneven") {
		for _, id := range []string{"thoracic_rotation_deg", "side_bend_cm", "single_leg_stance_s", "side_bridge_s"} {
			for _, side := range []string{"left", "right"} {
				c.Measures = append(c.Measures, limit.Measure{ID: id, Side: side, Value: rapid.Float64Range(5, 60).Draw(t, id+side)})
			}
		}
	}
	if rapid.Bool().Draw(t, "measured") {
		c.Measures = []limit.Measure{
			{ID: "breath_seconds", Value: rapid.Float64Range(2, 12).Draw(t, "breath")},
			{ID: "lumbar_flexion_deg", Value: rapid.Float64Range(5, 70).Draw(t, "bend")},
		}
	}
	if rapid.Bool().Draw(t, "settles") {
		hours := rapid.Float64Range(0, 60).Draw(t, "hours")
		c.Pain.SettlesHours = &hours
	}
	for _, v := range rapid.SliceOfNDistinct(rapid.SampledFrom(lib.Variants), 0, 5,
		func(v *exercise.Variant) string { return v.ID }).Draw(t, "rungs") {
		c.Rungs = append(c.Rungs,
			limit.Rung{
				Family:  v.Family,
				Variant: v.ID,
				Dose: &exercise.Dose{
					Kind:        v.Studio.Kind,
					Repetitions: rapid.IntRange(1, 15).Draw(t, "recorded"),
					Seconds:     rapid.Float64Range(1, 120).Draw(t, "recorded seconds"),
				},
			},
		)
	}
	if rapid.Bool().Draw(t, "instructed") {
		c.Instructions = []limit.Instruction{
			{
				Quantity: rapid.SampledFrom(
					[]string{
						"lumbar_extension",
						"lumbar_flexion",
						"thoracic_rotation_left",
						"knee_flexion",
						"lumbar_moment",
						"shoulder_elevation",
					},
				).Draw(t,
					"told",
				),
				Max: rapid.Float64Range(0, 120).Draw(t, "to"),
				By:  "surgeon",
				On:  "2026-10-01",
			},
		}
	}
	for _, test := range rapid.SliceOfNDistinct(rapid.SampledFrom(limit.ScreenTests), 0, 3,
		func(s limit.ScreenTest) string { return s.ID }).Draw(t, "tests") {
		c.Screens = append(c.Screens,
			limit.Screen{
				ID:        test.ID,
				Finding:   rapid.SampledFrom([]string{"able", "loses_neutral", "weak", "stiff", "painful"}).Draw(t, "finding"),
				Sensation: rapid.SampledFrom([]string{"none", "stretch", "solid_stop", "pinch", "pain"}).Draw(t, "felt"),
			},
		)
	}
	if rapid.Bool().Draw(t, "sizes known") {
		c.Owned = owned(t)
	}
	if rapid.IntRange(0, 9).Draw(t, "cleared") == 0 {
		c.Clearances = []limit.Clearance{{Rule: "osteoporosis.head_lift", By: "Dr Example", On: "2026-10-01"}}
	}
	return c
}

//revive:disable-next-line:cyclomatic One check for each thing that a plan must hold.
func TestSafetyNoPlanBreaksALimit(t *testing.T) {
	var gaps []float64
	check := func(t *rapid.T) {
		c := clients(t)
		place := rapid.SampledFrom(exercise.Places).Draw(t, "place")
		minutes := rapid.IntRange(5, 75).Draw(t, "minutes")
		r := request(c, place, minutes)
		r.Approach = rapid.SampledFrom(exercise.Approaches).Draw(t, "approach")
		r.StandingFirst, r.Home = rapid.Bool().Draw(t, "standing first"), rapid.Bool().Draw(t, "home")
		r.History = plan.History{Sessions: rapid.IntRange(0, 20).Draw(t, "sessions"), Days: rapid.IntRange(0, 30).Draw(t, "days")}
		p, bound := plan.BestBounded(r, planLib)
		if p.Status == plan.Refer {
			if len(p.Items) != 0 || len(r.Limits.Refer()) == 0 {
				t.Fatalf("refers with %d items and %d reasons", len(p.Items), len(r.Limits.Refer()))
			}
			return
		}
		if p.Status == plan.Infeasible {
			if len(p.Items) != 0 || len(p.Notes) == 0 {
				t.Fatalf("infeasible with %d items and %d notes", len(p.Items), len(p.Notes))
			}
			return
		}
		gaps = append(gaps, 100*bound.Gap())
		sum := 0.0
		for _, it := range p.Items {
			v := lib.Variant(it.Variant)
			form := v.FormAt(it.SurfaceShare, it.Adaptations)
			if wrong := notOwned(r, v, it); wrong != "" {
				t.Fatalf("%s is done with a %s, of %+v", it.Variant, wrong, c.Owned)
			}
			if broken := r.Limits.Breaks(form.Measured.On(alone(it))); len(broken) > 0 {
				t.Fatalf("%s breaks %s", it.Variant, broken[0].Rule)
			}
			if (it.Verdict == exercise.Suits) != (len(it.Adaptations) == 0) || it.Verdict == exercise.Avoid {
				t.Fatalf("%s is %s with %v", it.Variant, it.Verdict, it.Adaptations)
			}
			if !offered(r, v, it) {
				t.Fatalf("%s is not available %s with %v", it.Variant, place, c.Equipment)
			}
			for l := range r.Limits.Rows() {
				if most, ok := l.Number(); ok && l.Quantity == "hold_seconds" && plan.Held(it.Dose, p.Breath) > most &&
					(l.When == "any" || form.Measured.Number("hold_seconds_"+string(l.When)) > 0) {
					t.Fatalf("%s is held %g s of %g", it.Variant, plan.Held(it.Dose, p.Breath), most)
				}
			}
			sum += it.Seconds()
		}
		if math.Abs(sum-p.SecondsTotal) > 0.11 {
			t.Fatalf("total %g, items sum to %g", p.SecondsTotal, sum)
		}
		if p.SecondsTotal > float64(minutes*60)*1.03 {
			t.Fatalf("%g seconds for %d minutes", p.SecondsTotal, minutes)
		}
		use := p.Use(planLib)
		for _, k := range r.Limits.Session() {
			if use[k.Count] > k.Max {
				t.Fatalf("%g of %s, and %g is the most", use[k.Count], k.Count, k.Max)
			}
		}
		for i := 1; i < len(p.Items); i++ {
			if !r.StandingFirst && phase(p.Items[i]) < phase(p.Items[i-1]) {
				t.Fatalf("phase %s after %s", p.Items[i].Phase, p.Items[i-1].Phase)
			}
		}
	}
	rounds := 2 // of a hundred clients
	if *many {
		rounds = 1000
	}
	for range rounds {
		rapid.Check(t, check)
	}
	slices.Sort(gaps)
	at := func(share float64) float64 { return gaps[int(share*float64(len(gaps)-1))] }
	t.Logf(
		"%d plans; gap to the bound: half within %.2f%%, nine in ten %.2f%%, 99 in a hundred %.2f%%",
		len(gaps),
		at(0.5),
		at(0.9),
		at(0.99),
	)
}

func phase(it plan.Item) int {
	for i, p := range exercise.Phases {
		if p == it.Phase {
			return i
		}
	}
	return -1
}

func TestTheSamePlanEveryTime(t *testing.T) {
	r := request(bothConditions(), "mat", 30)
	assert.Equal(t, plan.Best(r, planLib), plan.Best(r, planLib))
}

func TestReferAndInfeasible(t *testing.T) {
	c := bothConditions()
	c.RedFlags = []string{"saddle_numbness"}
	p := plan.Best(request(c, "mat", 30), planLib)
	assert.Equal(t, plan.Refer, p.Status)
	assert.Empty(t, p.Items)
	assert.Contains(t, p.Notes[0], "emergency")

	not := false
	p = plan.Best(request(limit.Client{Tolerates: limit.Tolerates{SupineFlat: &not}, Equipment: nil,
		Conditions: []limit.Condition{{ID: "osteoporosis"}}, Pain: limit.Pain{Now: ptr(7)}}, "standing", 120), planLib)
	assert.NotEqual(t, plan.Refer, p.Status)
	assert.NotEmpty(t, p.Notes, "what is missing is said")
}

func ptr(v int) *int { return &v }

func TestSoreDaysAskLess(t *testing.T) {
	c := bothConditions()
	c.Pain.Now = ptr(4)
	for _, it := range plan.Best(request(c, "mat", 20), planLib).Items {
		assert.LessOrEqual(t, len(it.Dose.SetSizes()), 2, it.Variant)
		if it.Dose.Kind == exercise.Repetitions {
			assert.LessOrEqual(t, it.Dose.Repetitions, lib.Variant(it.Variant).Studio.Repetitions, it.Variant)
		}
		if it.Dose.Kind == exercise.HoldSeconds {
			assert.LessOrEqual(t, it.Dose.Seconds, max(5, lib.Variant(it.Variant).Studio.Seconds/2), it.Variant)
		}
	}
	c.Pain.Now = ptr(7)
	p := plan.Best(request(c, "mat", 10), planLib)
	require.NotEmpty(t, p.Items)
	for _, it := range p.Items {
		assert.Contains(t, []exercise.Phase{"settle", "mobilise", "close"}, it.Phase)
		assert.False(t, it.Quantities["loaded"].(bool), it.Variant)
	}
}

func TestRecordedRungIsPreferred(t *testing.T) {
	c := limit.Client{
		Equipment: []string{"mat", "chair"},
		Rungs:     []limit.Rung{{Family: "bridge", Variant: "bridge"}, {Family: "bird_dog", Variant: "bird_dog_leg"}},
	}
	has := map[string]bool{}
	for _, it := range plan.Best(request(c, "mat", 30), planLib).Items {
		has[it.Variant] = true
	}
	assert.True(t, has["bird_dog_leg"])
	assert.False(t, has["bird_dog_arm"], "one rung of a family")
}

func TestSwap(t *testing.T) {
	c := bothConditions()
	c.Rungs = []limit.Rung{{Family: "sit_and_squat", Variant: "sit_to_stand"}}
	r := request(c, "chair", 20)
	p := plan.Best(r, planLib)
	at := -1
	for i, it := range p.Items {
		if it.Variant == "sit_to_stand" {
			at = i
		}
	}
	require.GreaterOrEqual(t, at, 0)
	before := p.Items[at].Seconds()
	alternatives := edit.Alternatives(r, planLib, p.Items[at])
	require.NotEmpty(t, alternatives)
	assert.NotEqual(t, exercise.Avoid, alternatives[0].Judged.Verdict, "safe ones first")

	require.NoError(t, edit.Swap(&p, r, planLib, at, "heel_press_chair_both"))
	assert.Equal(t, "heel_press_chair_both", p.Items[at].Variant)
	assert.InDelta(t, before, p.Items[at].Seconds(), 60)
	sum := 0.0
	for _, it := range p.Items {
		sum += it.Seconds()
	}
	assert.InDelta(t, sum, p.SecondsTotal, 0.1)

	for says, id := range map[string]string{"not in the library": "headstand", "cannot be done on the chair": "curl_up"} {
		assert.ErrorContains(t, edit.Swap(&p, r, planLib, at, id), says)
	}
	assert.ErrorContains(t, edit.Swap(&p, r, planLib, 99, "hinge_chair"), "no exercise number 100")
	mat := request(bothConditions(), "mat", 20)
	q := plan.Best(mat, planLib)
	assert.ErrorContains(t, edit.Swap(&q, mat, planLib, 1, "curl_up"), "is not for this client")
}

func TestBedIsNoFloor(t *testing.T) {
	c := bothConditions()
	c.Equipment = []string{"bed"}
	p := plan.Best(request(c, "bed", 15), planLib)
	require.NotEmpty(t, p.Items)
	assert.Zero(t, p.Transfers.Floor)
}

func BenchmarkBest(b *testing.B) {
	for _, minutes := range []int{15, 30, 60, 120} {
		b.Run(fmt.Sprintf("%dmin", minutes), func(b *testing.B) { benchmarkBest(b, planLib, minutes) })
	}
}

// BenchmarkBestByLibrary plans 30 minutes from parts of the library.
func BenchmarkBestByLibrary(b *testing.B) {
	for _, share := range []int{4, 2, 1} {
		var some []*exercise.Variant
		for i, v := range planLib.Variants {
			if i%share == 0 {
				some = append(some, v)
			}
		}
		part := plan.NewLibrary(some, "", nil)
		b.Run(fmt.Sprintf("%dvariants", len(part.Variants)), func(b *testing.B) { benchmarkBest(b, part, 30) })
	}
}

func benchmarkBest(b *testing.B, of plan.Library, minutes int) {
	r := request(bothConditions(), "mat", minutes)
	plan.Best(r, of) // adapted forms are measured once and kept
	for b.Loop() {
		plan.Best(r, of)
	}
}
