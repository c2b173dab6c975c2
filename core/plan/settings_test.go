package plan_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/plan/edit"
	"restbend/core/plan/tell"
)

// owned draws heights, strengths and weights; some lists are not asked for.
func owned(t *rapid.T) limit.Owned {
	var o limit.Owned
	asked := func(name string) bool { return rapid.Bool().Draw(t, name+" asked") }
	some := func(name string, of []float64) []float64 {
		return rapid.SliceOfNDistinct(rapid.SampledFrom(of), 1, 3, rapid.ID).Draw(t, name)
	}
	if asked("heights") {
		o.SurfaceCM = some("heights", []float64{30, 40, 43, 47, 55, 70, 75, 90, 110})
	}
	if asked("bands") {
		o.Band = rapid.SliceOfNDistinct(rapid.SampledFrom(exercise.Strengths), 1, 3, rapid.ID).Draw(t, "bands")
	}
	if asked("weights") {
		o.WeightKG = some("weights", []float64{0.5, 1, 1.5, 2, 3, 5})
	}
	if asked("grades") {
		o.WedgeGrade = rapid.SliceOfNDistinct(rapid.IntRange(1, exercise.WedgeGrades), 1, 4, rapid.ID).Draw(t, "grades")
	}
	if asked("arcs") {
		o.Arc = rapid.SliceOfNDistinct(rapid.SampledFrom(exercise.Arcs), 1, 2, rapid.ID).Draw(t, "arcs")
	}
	if asked("pillows") {
		o.PillowCM = some("pillows", []float64{3, 6, 9, 14})
	}
	return o
}

// notOwned names a setting of an item that is not among what the client has, or that
// is heavier than the exercise is written for.
func notOwned(r plan.Request, v *exercise.Variant, it plan.Item) string {
	if r.Place == "studio" {
		return ""
	}
	o, s := r.Client.Owned, it.Settings
	strength := func(of string) int { return slices.Index(exercise.Strengths, of) }
	switch {
	case s.SurfaceCM > 0 && o.SurfaceCM != nil && (!slices.Contains(o.SurfaceCM, s.SurfaceCM) || it.SurfaceShare < v.SurfaceShare()-0.03):
		return "surface"
	case s.Band != "" && o.Band != nil && !slices.Contains(o.Band, s.Band), strength(s.Band) > strength(v.Settings.Band):
		return "band"
	case s.WeightKG > 0 && o.WeightKG != nil && !slices.Contains(o.WeightKG, s.WeightKG), s.WeightKG > v.Settings.WeightKG:
		return "weight"
	case s.WedgeGrade > 0 && o.WedgeGrade != nil && !slices.Contains(o.WedgeGrade, s.WedgeGrade), s.WedgeGrade != v.Settings.WedgeGrade:
		return "wedge"
	case s.Arc != "" && o.Arc != nil && !slices.Contains(o.Arc, s.Arc):
		return "arc"
	case s.PillowCM > 0 && o.PillowCM != nil && !slices.Contains(o.PillowCM, s.PillowCM):
		return "pillow"
	}
	return ""
}

// TestTheHeightOfASurfaceIsMeasured: the higher the hands, the less the low back and
// the arms carry.
func TestTheHeightOfASurfaceIsMeasured(t *testing.T) {
	v := lib.Variant("plank_sofa_toes")
	require.Equal(t, 45.0, v.Settings.SurfaceCM)
	last := 2.0
	for _, share := range []float64{0.235, 0.265, 0.325, 0.44} {
		there := v.At(share)
		require.NotNil(t, there, "%g", share)
		moment := there.Plain().Measured.Number("lumbar_moment")
		assert.Less(t, moment, last, "%g", share)
		last = moment
	}
	assert.InDelta(t, v.Plain().Measured.Number("lumbar_moment"), v.At(45.0/170).Plain().Measured.Number("lumbar_moment"), 0.0005)
	assert.Same(t, v.At(0.3201), v.At(0.3199), "measured once")
	assert.Same(t, v, v.At(0), "no height is given")
	assert.Same(t, lib.Variant("pelvic_tilt"), lib.Variant("pelvic_tilt").At(0.3), "what leans on nothing stays")
}

// TestSettingsComeFromWhatThereIs: the nearest of what the client has, never a
// heavier one, and nothing where none will do.
func TestSettingsComeFromWhatThereIs(t *testing.T) {
	with := func(o limit.Owned, id string) (exercise.Settings, error) {
		c := limit.Client{Equipment: exercise.Equipment, Owned: o}
		r := request(c, "mat", 30)
		p := plan.Plan{Place: "mat", MinutesAsked: 30}
		_, err := edit.Add(&p, r, planLib, id)
		if err != nil {
			return exercise.Settings{}, err
		}
		return p.Items[0].Settings, nil
	}
	for _, k := range []struct {
		id    string
		owned limit.Owned
		want  exercise.Settings
		says  string
	}{
		{"plank_sofa_toes", limit.Owned{}, exercise.Settings{SurfaceCM: 45}, ""},
		{"plank_sofa_toes", limit.Owned{SurfaceCM: []float64{72, 42, 90}}, exercise.Settings{SurfaceCM: 42}, ""},
		{"plank_sofa_toes", limit.Owned{SurfaceCM: []float64{38, 90}}, exercise.Settings{}, "wants a surface 39 to 75 cm high"},
		{"one_side_carry_march", limit.Owned{WeightKG: []float64{1, 1.5, 4}}, exercise.Settings{WeightKG: 1.5}, ""},
		{"one_side_carry_march", limit.Owned{WeightKG: []float64{4}}, exercise.Settings{}, "wants a weight of 2 kg or less"},
		{"band_row_standing", limit.Owned{Band: []string{"strong", "light"}}, exercise.Settings{Band: "light", AnchorCM: 100,
			Base: "usual"}, ""},
		{"band_row_standing", limit.Owned{Band: []string{"strong"}}, exercise.Settings{}, "wants a light band"},
		{"wedge_curl_2_easy", limit.Owned{WedgeGrade: []int{1, 3}}, exercise.Settings{}, "wants a wedge of grade 2"},
		{"arc_chest_open", limit.Owned{Arc: []string{"high"}}, exercise.Settings{}, "wants a low arc"},
		{"side_rest_pillow", limit.Owned{PillowCM: []float64{4, 12}}, exercise.Settings{PillowCM: 12}, ""},
	} {
		got, err := with(k.owned, k.id)
		if k.says != "" {
			assert.ErrorContains(t, err, k.says, k.id)
			continue
		}
		require.NoError(t, err, k.id)
		assert.Equal(t, k.want, got, k.id)
	}
}

// TestAHigherSurfaceMaySuit: where the nearest height is too heavy, a higher one that
// there is takes its place, and the sentence beside it says so.
func TestAHigherSurfaceMaySuit(t *testing.T) {
	v := lib.Variant("plank_sofa_toes")
	low, high := v.At(45.0/168).Plain().Measured.For(168, 68)["lumbar_moment"].(float64),
		v.At(70.0/168).Plain().Measured.For(168, 68)["lumbar_moment"].(float64)
	c := limit.Client{Equipment: exercise.Equipment, Owned: limit.Owned{SurfaceCM: []float64{45, 70}},
		Instructions: []limit.Instruction{{Quantity: "lumbar_moment", Max: (low + high) / 2, By: "surgeon", On: "2026-10-01"}}}
	r := request(c, "mat", 30)
	p := plan.Plan{Place: "mat", MinutesAsked: 30}
	_, err := edit.Add(&p, r, planLib, v.ID)
	require.NoError(t, err)
	assert.Equal(t, 70.0, p.Items[0].Settings.SurfaceCM)
	assert.Equal(t, exercise.Suits, p.Items[0].Verdict)
	assert.InDelta(t, high, p.Items[0].Quantities["lumbar_moment"], 0.06, "what is shown is measured there")
	assert.Contains(t,
		tell.Explain(p, r, planLib, 0).Rung,
		"Of the surfaces there are, the one of 70 cm is used: higher than usual for this client’s height, which makes it lighter. The "+
			"movement is measured and judged there.",
	)
}

// TestASurfaceIsHighOrLowForTheBody: the same bench asks more of a tall back than of a
// short one, and only for the short one is it nearer than another.
func TestASurfaceIsHighOrLowForTheBody(t *testing.T) {
	on := func(heightCM float64, owned ...float64) plan.Item {
		c := limit.Client{HeightCM: heightCM, MassKG: 70, Equipment: exercise.Equipment, Owned: limit.Owned{SurfaceCM: owned}}
		p := plan.Plan{Place: "mat", MinutesAsked: 30}
		_, err := edit.Add(&p, request(c, "mat", 30), planLib, "plank_sofa_toes")
		require.NoError(t, err)
		return p.Items[0]
	}
	share := func(it plan.Item) float64 {
		return lib.Variant(it.Variant).FormAt(it.SurfaceShare, it.Adaptations).Measured.Number("lumbar_moment")
	}
	assert.Greater(t, share(on(188, 46)), share(on(150, 46)), "of weight times height")
	assert.Equal(t, 40.0, on(150, 40, 50).Settings.SurfaceCM)
	assert.Equal(t, 50.0, on(188, 40, 50).Settings.SurfaceCM)
}

// TestWhatWasDecidedIsSet: band, weight, seat, base and feet that the record has come to
// are used and measured, where they are at hand and not barred today.
func TestWhatWasDecidedIsSet(t *testing.T) {
	set := func(id string, decided exercise.Settings, c limit.Client) plan.Item {
		c.Equipment = exercise.Equipment
		c.Rungs = []limit.Rung{{Family: lib.Variant(id).Family, Variant: id, Settings: decided}}
		r := request(c, "studio", 30)
		p := plan.Plan{Status: plan.Ready, Place: r.Place, Approach: r.Approach}
		i, err := edit.Add(&p, r, planLib, id)
		require.NoError(t, err, id)
		return p.Items[i]
	}
	usual := set("band_row_standing", exercise.Settings{}, limit.Client{})
	assert.Equal(t, "light", usual.Settings.Band)
	medium := set("band_row_standing", exercise.Settings{Band: "medium", Base: "narrow"}, limit.Client{})
	assert.Equal(t, []string{"medium", "narrow"}, []string{medium.Settings.Band, medium.Settings.Base})
	assert.NotEqual(t, usual.Quantities["lumbar_moment"], medium.Quantities["lumbar_moment"], "measured so")
	assert.Equal(t, 1.0, set("one_side_carry_march", exercise.Settings{WeightKG: 1}, limit.Client{}).Settings.WeightKG)
	assert.Equal(t, 50.0, set("sit_to_stand", exercise.Settings{SeatCM: 50}, limit.Client{}).Settings.SeatCM)
	assert.Equal(t, "free", set("wedge_curl_2_easy", exercise.Settings{Feet: "free"}, limit.Client{}).Settings.Feet)
	moment := usual.Quantities["lumbar_moment"].(float64)
	told := limit.Client{
		Instructions: []limit.Instruction{{Quantity: "lumbar_moment", Max: moment + 0.1, By: "surgeon", On: "2026-10-01"}},
	}
	assert.Equal(t, "light", set("band_row_standing", exercise.Settings{Band: "strong"}, told).Settings.Band, "barred by now")
}
