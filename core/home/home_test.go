package home_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/home"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/readiness/readinesstest"
	"restbend/library"
)

var today = civil.Date(2026, 11, 25)

var lib, planLib = func() (*library.Library, plan.Library) {
	l, err := library.Load()
	if err != nil {
		panic(err)
	}
	return l, plan.NewLibrary(l.Variants, l.Hash, l.StandIns)
}()

func request(c limit.Client) home.Request {
	return home.Request{Client: c, Limits: readinesstest.Limits(c, lib.Days(), today), Library: planLib, On: today}
}

func names(items []home.Item) (out []string) {
	for _, it := range items {
		out = append(out, it.Variant)
	}
	return
}

// safe holds a programme against the client's limits and what may be done alone.
func safe(t require.TestingT, r home.Request, p home.Programme) {
	if p.Status != "ready" {
		assert.Empty(t, p.Items)
		assert.NotEmpty(t, p.Notes)
		return
	}
	most := r.Items
	if most == 0 {
		most = home.UsualItems
	}
	assert.GreaterOrEqual(t, len(p.Items), home.FewestItems)
	assert.LessOrEqual(t, len(p.Items), most)
	assert.LessOrEqual(t, len(p.Micro), 3)
	for _, it := range slices.Concat(p.Items, p.Micro) {
		v := lib.Variant(it.Variant)
		j := limit.Judge(r.Limits.Limits, v, limit.KitOf(r.Client, p.Place))
		assert.False(t, j.Verdict == exercise.Avoid && j.Free() == "", "%s is barred", it.Variant)
		assert.False(t, v.Watched, it.Variant)
		assert.NotEmpty(t, it.Days)
		assert.NotEmpty(t, it.Remember)
		if !slices.Contains(names(p.Micro), it.Variant) {
			ok, why := r.Alone(v)
			assert.True(t, ok, "%s: %s", it.Variant, why)
		}
	}
}

// TestSafetyAnyClientsProgrammeIsSafe: whoever the client is, what goes home is inside the limits
// and may be done alone, or it is said that nothing may.
func TestSafetyAnyClientsProgrammeIsSafe(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := limit.Client{
			Place:     rapid.SampledFrom([]exercise.Place{"mat", "bed", "chair", "standing", "studio"}).Draw(t, "place"),
			Equipment: rapid.SliceOfDistinct(rapid.SampledFrom(exercise.Equipment), rapid.ID).Draw(t, "kit"),
			BirthYear: rapid.IntRange(1930, 2000).Draw(t,
				"born",
			),
			Goals: rapid.SliceOfN(rapid.SampledFrom(exercise.Purposes), 0, 3).Draw(t, "goals"),
		}
		pain := rapid.IntRange(0, 8).Draw(t, "pain")
		c.Pain.Now = &pain
		for _, id := range rapid.SliceOfNDistinct(rapid.SampledFrom([]string{"osteoporosis", "disc_sciatica", "falls_risk",
			"desk_stiffness", "shoulder_pain", "hypermobility", "deconditioned"}), 0, 3, rapid.ID).Draw(t, "conditions") {
			c.Conditions = append(c.Conditions, limit.Condition{ID: id})
		}
		r := request(c)
		r.Items, r.Days = rapid.IntRange(2, 6).Draw(t, "items"), rapid.IntRange(1, 7).Draw(t, "days")
		safe(t, r, home.Make(r))
	})
}

// TestWhatGoesHome: with a record only what was done clean, without one only first rungs;
// resistance twice a week for fragile bone; hourly at the desk.
func TestWhatGoesHome(t *testing.T) {
	c := limit.Client{Place: "mat", Equipment: []string{"mat", "chair", "band"}, Goals: []exercise.Purpose{"deep_core", "balance"}}
	r := request(c)
	p := home.Make(r)
	require.Equal(t, "ready", p.Status, p.Notes)
	safe(t, r, p)
	assert.Contains(t, p.Notes[len(p.Notes)-1], "no lesson on record")
	assert.Equal(t, "2026-12-09", p.AskAgainOn)
	assert.Equal(t, p, home.Make(r), "the same again")

	r.Recorded, r.Clean = true, map[string]bool{"bird_dog_arm": true, "heel_slide": true}
	p = home.Make(r)
	require.Equal(t, "ready", p.Status, p.Notes)
	for _, it := range p.Items {
		v := lib.Variant(it.Variant)
		assert.True(t, r.Clean[it.Variant] || slices.Contains([]exercise.Purpose{"breath", "relaxation"}, v.Purposes[0]), it.Variant)
	}
	assert.Contains(t, names(p.Items), "heel_slide")

	bone := limit.Client{
		Place:      "chair",
		Equipment:  []string{"chair", "band"},
		Goals:      []exercise.Purpose{"upper_back_posture"},
		Conditions: []limit.Condition{{ID: "osteoporosis"}},
	}
	r = request(bone)
	r.Recorded, r.Clean = true, map[string]bool{"chair_band_row": true, "chair_arm_lifts": true}
	p = home.Make(r)
	require.NoError(t, func() error {
		if slices.Contains(names(p.Items), "chair_band_row") {
			return nil
		}
		return r.Add(&p, "chair_band_row")
	}())
	row := p.Items[slices.IndexFunc(p.Items, func(it home.Item) bool { return it.Variant == "chair_band_row" })]
	assert.Equal(t, []string{"mon", "thu"}, row.Days)
	assert.Contains(t, p.DoNot, "Lifting the head when lying.")

	desk := home.Make(
		request(limit.Client{Place: "chair", Equipment: []string{"chair"}, Conditions: []limit.Condition{{ID: "desk_stiffness"}}}),
	)
	require.NotEmpty(t, desk.Micro)
	assert.Equal(t, 6, desk.Micro[0].TimesADay)
	assert.Contains(t, desk.Micro[0].When, "hour")

	flagged := limit.Client{Place: "mat", RedFlags: []string{"saddle_numbness"}}
	p = home.Make(request(flagged))
	assert.Equal(t, "refer", p.Status)
	assert.Empty(t, p.Items)
}

// TestChangedByHandIsChecked: what may not be done alone, is barred or twice there is
// refused and nothing is changed; a dose and days are taken.
func TestChangedByHandIsChecked(t *testing.T) {
	c := limit.Client{
		Place:      "mat",
		Equipment:  []string{"mat", "chair"},
		Goals:      []exercise.Purpose{"deep_core"},
		Conditions: []limit.Condition{{ID: "osteoporosis"}},
	}
	r := request(c)
	p := home.Make(r)
	require.Equal(t, "ready", p.Status)
	before := names(p.Items)
	for variant, says := range map[string]string{"curl_up": "does not go home", "pelvis_side_check": "somebody who watches",
		"no_such": "is not in the library", before[0]: "twice"} {
		assert.ErrorContains(t, r.Add(&p, variant), says, variant)
		assert.Equal(t, before, names(p.Items), "nothing is changed")
	}
	first := p.Items[0].Variant
	assert.ErrorContains(t, r.SetDose(&p, first, "lots", []string{"mon"}), "dose")
	assert.ErrorContains(t, r.SetDose(&p, first, "5 breaths", []string{"someday"}), "days")
	assert.ErrorContains(t, r.SetDose(&p, first, "5 breaths", nil), "days")
	require.Equal(t, exercise.Repetitions, p.Items[0].Dose.Kind, first)
	require.NoError(t, r.SetDose(&p, first, "5 times", []string{"fri", "mon"}))
	assert.Equal(t, []string{"mon", "fri"}, p.Items[0].Days)
	assert.Equal(t, 5, p.Items[0].Dose.Repetitions)
	for len(p.Items) > home.FewestItems {
		require.NoError(t, r.Remove(&p, p.Items[0].Variant))
	}
	assert.ErrorContains(t, r.Remove(&p, p.Items[0].Variant), "expected 2 to 6")
}
