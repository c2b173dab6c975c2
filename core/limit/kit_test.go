package limit

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"restbend/core/exercise"
)

// done is an exercise that is done with so much of everything.
func done(s exercise.Settings) *exercise.Variant {
	return &exercise.Variant{Settings: s, Forms: []*exercise.Form{{Measured: exercise.AtRest()}}}
}

// TestASurfaceOfAnotherHeight: as written it is 51 cm for a figure of 170 cm, 0.30 of the
// height; from 0.27 to 0.48 it is the same exercise. Of a client of 160 cm that is 43.2
// to 76.8 cm, and 48 cm is the nearest to what is written.
func TestASurfaceOfAnotherHeight(t *testing.T) {
	set := For(Client{HeightCM: 160}, conditions, today)
	for name, c := range map[string]struct {
		has   []float64
		gets  float64
		lacks bool
	}{
		"its own height": {[]float64{48}, 48, false}, "the nearest": {[]float64{70, 50, 44}, 50, false},
		"as low as goes":  {[]float64{43.3}, 43.3, false},
		"too low":         {[]float64{43}, 51, true},
		"as high as goes": {[]float64{76.7}, 76.7, false}, "too high": {[]float64{77}, 51, true},
		"nothing there": {[]float64{}, 51, true}, "nobody asked": {nil, 51, false},
	} {
		j := Judge(set, done(exercise.Settings{SurfaceCM: 51}), Kit{Owned{SurfaceCM: c.has}})
		assert.InDelta(t, c.gets, j.Settings.SurfaceCM, 1e-9, name)
		assert.Equal(t, c.lacks, j.Lacks != "", name)
		if c.lacks {
			assert.Equal(t, "a surface 43 to 77 cm high", j.Lacks, name)
		} else if c.has != nil {
			assert.InDelta(t, c.gets/160, j.Share, 1e-9, name)
		}
	}
	floor := Judge(set, done(exercise.Settings{}), Kit{Owned{SurfaceCM: []float64{45}}})
	assert.Zero(t, floor.Settings.SurfaceCM, "it leans on nothing")
}

// TestSmallThingsAreFittedToWhatIsThere: the nearest of what there is, never a heavier
// one; what is not asked about is taken to be as usual.
func TestSmallThingsAreFittedToWhatIsThere(t *testing.T) {
	set := For(Client{}, conditions, today)
	for name, c := range map[string]struct {
		wants exercise.Settings
		owned Owned
		gets  exercise.Settings
		lacks string
	}{
		"nothing asked about": {exercise.Settings{Band: "medium", WeightKG: 2, PillowCM: 8, Arc: "low", WedgeGrade: 2}, Owned{},
			exercise.Settings{Band: "medium", WeightKG: 2, PillowCM: 8, Arc: "low", WedgeGrade: 2}, ""},
		"the band itself": {exercise.Settings{Band: "medium"}, Owned{Band: []string{"strong", "medium", "light"}},
			exercise.Settings{Band: "medium"}, ""},
		"a lighter band": {exercise.Settings{Band: "strong"}, Owned{Band: []string{"light"}}, exercise.Settings{Band: "light"},
			""},
		"no heavier band": {exercise.Settings{Band: "light"}, Owned{Band: []string{"medium"}}, exercise.Settings{},
			"a light band"},
		"the weight itself": {exercise.Settings{WeightKG: 2}, Owned{WeightKG: []float64{3, 2, 1}}, exercise.Settings{WeightKG: 2},
			""},
		"the next lighter weight": {exercise.Settings{WeightKG: 2}, Owned{WeightKG: []float64{0.5, 1.5, 3}},
			exercise.Settings{WeightKG: 1.5}, ""},
		"no heavier weight": {exercise.Settings{WeightKG: 2}, Owned{WeightKG: []float64{3}}, exercise.Settings{},
			"a weight of 2 kg or less"},
		"half a kilogram": {exercise.Settings{WeightKG: 0.5}, Owned{WeightKG: []float64{0.5}}, exercise.Settings{WeightKG: 0.5},
			""},
		"the first wedge": {exercise.Settings{WedgeGrade: 1}, Owned{WedgeGrade: []int{2}}, exercise.Settings{WedgeGrade: 1},
			"a wedge of grade 1"},
		"the wedge": {exercise.Settings{WedgeGrade: 2}, Owned{WedgeGrade: []int{1, 2}}, exercise.Settings{WedgeGrade: 2},
			""},
		"no other wedge": {exercise.Settings{WedgeGrade: 2}, Owned{WedgeGrade: []int{1}}, exercise.Settings{WedgeGrade: 2},
			"a wedge of grade 2"},
		"the arc": {exercise.Settings{Arc: "low"}, Owned{Arc: []string{"low"}}, exercise.Settings{Arc: "low"}, ""},
		"no other arc": {exercise.Settings{Arc: "low"}, Owned{Arc: []string{"high"}}, exercise.Settings{Arc: "low"},
			"a low arc"},
		"the nearest pillow": {exercise.Settings{PillowCM: 8}, Owned{PillowCM: []float64{4, 10, 20}},
			exercise.Settings{PillowCM: 10}, ""},
		"the one pillow there is":  {exercise.Settings{PillowCM: 8}, Owned{PillowCM: []float64{5}}, exercise.Settings{PillowCM: 5}, ""},
		"a pillow nobody asks for": {exercise.Settings{}, Owned{PillowCM: []float64{4}}, exercise.Settings{}, ""},
		"no band asked for": {exercise.Settings{}, Owned{Band: []string{"strong"}, WeightKG: []float64{3}, WedgeGrade: []int{1},
			Arc: []string{"low"}}, exercise.Settings{}, ""},
	} {
		j := Judge(set, done(c.wants), Kit{c.owned})
		assert.Equal(t, c.gets, j.Settings, name)
		assert.Equal(t, c.lacks, j.Lacks, name)
		assert.Equal(t, exercise.Suits, j.Verdict, name)
		assert.Zero(t, j.Share, name)
	}
	owner := Client{Owned: Owned{Band: []string{"light"}}}
	assert.Equal(t, owner.Owned, KitOf(owner, "mat").Owned)
	assert.Equal(t, Kit{}, KitOf(owner, "studio"), "a studio has everything")
}

func TestWhatIsAssumedIsSaid(t *testing.T) {
	said := For(Client{}, conditions, today).Defaults
	assert.Equal(t,
		[]string{
			"Height or mass was not given: 168 cm and 68 kg are used where they are missing.",
			"Pain now was not given: 0 is used.",
			"The breath was not measured: 5 seconds are used.",
		},
		said,
	)
	known := Client{HeightCM: 150, MassKG: 50, Pain: Pain{Now: whole(0)}, Measures: []Measure{{ID: "breath_seconds", Value: 4}}}
	assert.Empty(t, For(known, conditions, today).Defaults)
	tall := known
	tall.HeightCM = 0
	assert.EqualValues(t, DefaultHeightCM, For(tall, conditions, today).HeightCM)
	known.MassKG = 0
	assert.Equal(t, said[:1], For(known, conditions, today).Defaults)
	set := For(known, conditions, today)
	assert.Equal(t, 150.0, set.HeightCM)
	assert.Equal(t, 68.0, set.MassKG)
	assert.Equal(t, 4.0, known.BreathSeconds())
}

// TestReasonsSayValueAndLimit: as they are published, degrees and shares to a
// thousandth, the moment in N·m, flags and words as they are.
func TestReasonsSayValueAndLimit(t *testing.T) {
	d := disc("acute")
	d.Conditions = append(d.Conditions, Condition{ID: "osteoporosis"})
	set := For(d, conditions, today)
	got := map[string]Reason{}
	for _, r := range set.Breaks(exercise.AtRest().With("lumbar_flexion", 12.34567).With("lumbar_moment", 0.05).With("head_lift",
		true).With("spring_load", "heavy").With("straight_leg_raise_left", 50)) {
		got[r.Quantity] = r
	}
	assert.Equal(t, 12.346, got["lumbar_flexion"].Value)
	assert.Equal(t, 10.0, got["lumbar_flexion"].Limit)
	assert.Equal(t, 58.4, got["lumbar_moment"].Value, "0.05 × 70 kg × 9.81 × 1.70 m")
	assert.Equal(t, 46.7, got["lumbar_moment"].Limit)
	assert.Equal(t, true, got["head_lift"].Value)
	assert.Equal(t, false, got["head_lift"].Limit)
	assert.Equal(t, "heavy", got["spring_load"].Value)
	assert.Equal(t, "light", got["spring_load"].Limit)
	assert.Equal(t, 50.0, got["straight_leg_raise_left"].Value)
	assert.Len(t, got, 5)
}

// TestTestsWithASupport: who may fall has one in reach for the tests on less than two
// flat feet (CDC STEADI, from memory).
func TestTestsWithASupport(t *testing.T) {
	var balance, rounds, timed []string
	for _, s := range ScreenTests {
		if s.Balance {
			balance = append(balance, s.ID)
		}
		if s.Asks["lumbar_flexion"] != nil {
			rounds = append(rounds, s.ID)
		}
		if s.Timed != "" {
			timed = append(timed, s.ID+" "+s.Timed)
		}
		assert.NotEmpty(t, s.Needs, s.ID)
	}
	assert.Equal(t, []string{"heel_raise", "single_leg_stance"}, balance)
	assert.Equal(t,
		[]string{
			"single_leg_stance single_leg_stance_s",
			"seated_reach thoracic_rotation_deg",
			"forward_bend_ease lumbar_flexion_deg",
			"backward_bend_ease lumbar_extension_deg",
		},
		timed,
	)
	assert.Contains(t, rounds, "forward_bend_ease")
	assert.Contains(t, rounds, "full_squat")
}

// TestATestThatIsBarredNamesAnother: each condition below bars the tests beside it, and the
// other is one that speaks of the same need and may be done.
func TestATestThatIsBarredNamesAnother(t *testing.T) {
	for _, c := range []struct {
		of      string
		most    any
		barred  string
		instead string
		need    exercise.Purpose
	}{
		{"lumbar_flexion", 20.0, "full_squat", "Half squat", "leg_strength"},
		{"lumbar_flexion", 20.0, "forward_bend_ease", "Bending back, a few times", "mobility_flexion_extension"},
		{"lumbar_extension", 10.0, "backward_bend_ease", "Bending forward, a few times", "mobility_flexion_extension"},
		{"shoulder_elevation_left", 90.0, "goalpost_wall", "Sitting tall, legs long", "upper_back_posture"},
		{"floor_sit", false, "long_sit", "Goalpost at the wall", "upper_back_posture"},
		{"thoracic_rotation_right", 15.0, "seated_reach", "", ""},
		{"single_leg", false, "single_leg_stance", "Heel raise", "balance"},
		{"supine_flat", false, "leg_lower", "", ""},
	} {
		test, _ := FindScreenTest(c.barred)
		set := Limits{rows: []Limit{size{170, 68}.row(c.of, exercise.WhenAny, c.most, Reason{Text: "So it is."})}}
		assert.Contains(t, test.Barred(set), "So it is.", c.barred)
		name, need := test.Instead(set)
		assert.Equal(t, c.instead, name, c.barred)
		assert.Equal(t, c.need, need, c.barred)
		assert.Empty(t, test.Barred(Limits{}), c.barred)
	}
}

// TestWhatEachTestAsks, as a usual try comes to (common practice), written by hand.
func TestWhatEachTestAsks(t *testing.T) {
	asks := map[string]map[string]any{
		"half_squat":         {"hip_flexion": 75, "knee_flexion_loaded": 60, "lumbar_moment": 0.06, "base_of_support": "feet_apart"},
		"full_squat":         {"lumbar_flexion": 30, "hip_flexion": 110, "knee_flexion_loaded": 110, "support_hand": true},
		"heel_raise":         {"base_of_support": "feet_apart", "support_hand": true},
		"goalpost_wall":      {"shoulder_elevation": 140},
		"long_sit":           {"floor_sit": true, "lumbar_flexion": 15, "straight_leg_raise": 70},
		"single_leg_stance":  {"single_leg": true, "hip_moment": 0.05, "support_hand": true},
		"seated_reach":       {"thoracic_rotation": 20, "thoracic_side_bend": 15},
		"leg_lower":          {"supine_flat": true, "hip_flexion": 89, "lumbar_moment": 0.03},
		"forward_bend_ease":  {"lumbar_flexion": 50, "thoracic_flexion": 25},
		"backward_bend_ease": {"lumbar_extension": 15},
	}
	assert.Len(t, ScreenTests, len(asks))
	for _, test := range ScreenTests {
		assert.Equal(t, asks[test.ID], test.Asks, test.ID)
	}
}
