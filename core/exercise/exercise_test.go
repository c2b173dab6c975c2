package exercise

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/body"
)

func TestDoseSeconds(t *testing.T) {
	for _, c := range []struct {
		name       string
		dose       Dose
		sides      int
		breath     float64
		work, rest float64
	}{
		// Common practice: six ten-second holds on two sides are 120 s.
		{"six tens on two sides", Dose{Kind: HoldSeconds, Sets: 1, Repetitions: 6, Seconds: 10}, 2, 5, 120, 20},
		// Common practice: five breaths of 3 s are 15 s in the shape, 18 with moving in.
		{"five breaths of three seconds", Dose{Kind: HoldBreaths, Sets: 1, Breaths: 5}, 1, 3, 18, 0},
		{"the same on two sides", Dose{Kind: HoldBreaths, Sets: 1, Breaths: 5}, 2, 3, 36, 0},
		// Common practice: 6-4-2 of ten seconds on two sides is 240 s before rests.
		{"a descending pyramid", Dose{Kind: HoldSeconds, Sets: 3, RepetitionsBySet: []int{6, 4, 2}, Seconds: 10}, 2, 5, 240, 100},
		{"ten slow repetitions", Dose{Kind: Repetitions, Sets: 2, Repetitions: 10, Seconds: 6}, 1, 5, 120, 20},
		{"quiet breaths", Dose{Kind: Breaths, Sets: 1, Breaths: 6}, 0, 4.2, 25.2, 0},
		{"sides in turn", Dose{Kind: AlternatingSeconds, Sets: 3, Seconds: 30}, 1, 5, 90, 40},
	} {
		assert.InDelta(t, c.work, c.dose.Work(c.sides, c.breath), 1e-9, c.name)
		assert.InDelta(t, c.rest, resting(c.dose, c.sides), 1e-9, c.name)
	}
}

// resting is the seconds of rest of a dose at 20 s each.
func resting(d Dose, sides int) float64 {
	sets, turns := d.Rests(sides)
	return 20 * float64(sets+turns)
}

func TestDoseWords(t *testing.T) {
	for want, d := range map[string]Dose{
		"8 slowly each side":                        {Kind: Repetitions, Sets: 1, Repetitions: 8},
		"2 × 10 slowly each side":                   {Kind: Repetitions, Sets: 2, Repetitions: 10},
		"6, then 4, then 2 holds of 10 s each side": {Kind: HoldSeconds, Sets: 3, RepetitionsBySet: []int{6, 4, 2}, Seconds: 10},
		"hold a minute each side":                   {Kind: HoldSeconds, Sets: 1, Repetitions: 1, Seconds: 60},
		"5 breaths in the shape each side":          {Kind: HoldBreaths, Breaths: 5},
		"1.5 minutes, alternating sides":            {Kind: AlternatingSeconds, Seconds: 90},
	} {
		assert.Equal(t, want, d.Words(true))
	}
}

// bow is a small movement standing: bowing forward and arching back.
func bow() Movement {
	start := body.Pose{Base: body.Standing, Rest: []body.Part{"feet"}}
	for s := range start.Legs {
		start.Legs[s] = body.Limb{Upper: body.Vec{Z: -1}, Lower: body.Vec{Z: -1}, Pole: body.Vec{X: 1}}
		start.Arms[s] = body.Limb{Upper: body.Vec{Z: -1}, Lower: body.Vec{Z: -1}}
	}
	round, arch := start, start
	round.Lumbar, round.Thoracic = body.Bend{Flexion: 20, Turn: 4}, body.Bend{Flexion: 10, Turn: 12}
	arch.Lumbar = body.Bend{Flexion: -8}
	return Movement{
		Order: []string{"start", "round", "arch"},
		Poses: map[string]body.Pose{"start": start, "round": round, "arch": arch},
		Steps: []Step{
			{To: "round", Seconds: 2, Breath: "out"},
			{To: "start", Seconds: 2, Breath: "in"},
			{To: "arch", Seconds: 2, Breath: "in"},
			{To: "start", Seconds: 2, Breath: "out"},
		},
		Position:   "standing",
		Directions: map[string]string{"round": "rounding", "arch": "arching"},
		HoldsAt:    "round",
		Hold:       6,
	}
}

func TestMeasure(t *testing.T) {
	m, err := Measure(bow())
	require.NoError(t, err)
	assert.InDelta(t, 20, m.Number("lumbar_flexion"), 1e-6)
	assert.InDelta(t, 8, m.Number("lumbar_extension"), 1e-6)
	assert.InDelta(t, 12, m.Number("thoracic_rotation_left"), 1e-6)
	assert.Zero(t, m.Number("thoracic_rotation_right"), "it has no sides, so only the side drawn")
	assert.InDelta(t, 20, m.Number("lumbar_flexion_held"), 1e-6, "held 6 s")
	assert.Greater(t, m.Number("lumbar_flexion_loaded"), 15.0, "bowing loads the low back")
	assert.Zero(t, m.Number("lumbar_flexion_fast"))
	assert.False(t, m.Flag("ballistic"))
	assert.False(t, m.Flag("head_lift"))
	assert.False(t, m.Flag("single_leg"))

	still := bow()
	still.Steps = []Step{{To: "start", Seconds: 2, Breath: "in"}}
	m, err = Measure(still)
	require.NoError(t, err)
	assert.False(t, m.Flag("loaded"), "standing still")
	still.Resistance = "light"
	m, err = Measure(still)
	require.NoError(t, err)
	assert.True(t, m.Flag("loaded"), "a band loads it")

	sided := bow()
	sided.Sided = true
	m, err = Measure(sided)
	require.NoError(t, err)
	assert.InDelta(t, 12, m.Number("thoracic_rotation_right"), 1e-6, "done on both sides")

	quick := bow()
	quick.Steps[0].Seconds = 0.2
	m, err = Measure(quick)
	require.NoError(t, err)
	assert.Positive(t, m.Number("lumbar_flexion_fast"))
	assert.True(t, m.Flag("ballistic"), "a trunk thrown forward")
	assert.InDelta(t, 100, NewtonMetres(0.1, 160, 63.71), 0.1)
}

func TestSafetyMeasureRefusesABodyThatWouldFall(t *testing.T) {
	m := bow()
	p := m.Poses["round"]
	p.Pelvis.Flexion = 90
	p.Arms[0].Upper, p.Arms[1].Upper = body.Vec{X: 1}, body.Vec{X: 1}
	m.Poses["round"] = p
	_, err := Measure(m)
	assert.ErrorContains(t, err, "pose round: the body is off balance")
}

func TestAdaptedForms(t *testing.T) {
	forms := Adaptations(bow(), []string{"smaller_range", "allowed_directions_only"})
	require.Len(t, forms, 5+6, "three ranges, two directions, and their pairs")
	for i := 1; i < 5; i++ {
		assert.GreaterOrEqual(t, forms[i].Lost, forms[i-1].Lost, "singles by range lost")
	}
	for _, f := range forms {
		m, err := Measure(f.Movement)
		require.NoError(t, err)
		if len(f.Adaptations) > 1 {
			continue
		}
		switch f.Adaptations[0].Text {
		case "smaller range, half":
			assert.InDelta(t, 10, m.Number("lumbar_flexion"), 1e-6)
		case "one direction only, no rounding":
			assert.Zero(t, m.Number("lumbar_flexion"))
			assert.InDelta(t, 4, f.Movement.Tempo(), 1e-9, "the way there and back is gone too")
		}
	}
	v := &Variant{Forms: append([]*Form{{Movement: bow()}}, forms...), Show: Show{Pose: "round"}}
	assert.Equal(t, "round", v.ShowPose(v.Plain()))
	only := v.FormOf([]Adaptation{{"allowed_directions_only", "one direction only, no rounding"}})
	assert.Equal(t, "arch", v.ShowPose(only))
	_, ok := Movement{Order: []string{"start", "a"}, Steps: []Step{{To: "a"}, {To: "start"}}}.Without("a")
	assert.False(t, ok, "nothing would be left")
}

func TestAdaptationsChangeWhatIsMeasured(t *testing.T) {
	form := func(m Movement, id string) Measured {
		t.Helper()
		forms := Adaptations(m, []string{id})
		require.NotEmpty(t, forms, id)
		measured, err := Measure(forms[len(forms)-1].Movement)
		require.NoError(t, err, id)
		return measured
	}
	m := bow()
	assert.Zero(t, form(m, "flat_back").Number("lumbar_flexion"))
	assert.Zero(t, form(m, "flat_back").Number("thoracic_flexion"))
	assert.InDelta(t, 8, form(m, "flat_back").Number("lumbar_extension"), 1e-6, "arching stays")

	m.Hold = 20
	assert.Len(t, Adaptations(m, []string{"shorter_hold"}), 2)
	assert.Equal(t, 5.0, form(m, "shorter_hold").Number("hold_seconds"))

	high := m.Poses["round"]
	high.Arms[0] = body.Limb{Upper: body.Vec{X: 0.3, Y: 0.5, Z: 0.8}, Lower: body.Vec{Z: 1}}
	m = m.posed(func(body.Pose) body.Pose { return high })
	plain, err := Measure(m)
	require.NoError(t, err)
	assert.Greater(t, plain.Number("shoulder_elevation_left"), 110.0)
	assert.Less(t, form(m, "arms_lower").Number("shoulder_elevation_left"), 95.0)
	high.Arms[0] = body.Limb{Upper: body.Vec{Z: 1}, Lower: body.Vec{Z: 1}}
	assert.Positive(t, lowered(high, highestArm).Arms[0].Upper.X, "from straight overhead it comes down in front")

	curled := body.Pose{
		Base:     body.Supine,
		Rest:     []body.Part{body.Seat},
		Thoracic: body.Bend{Flexion: 20},
		Cervical: body.Bend{Flexion: 20},
		Settle:   []body.Settle{{Vary: "pelvis.flexion", Range: [2]float64{-40, 14}, Until: "touch", Part: body.ChestPart}},
	}
	for s := range curled.Legs {
		curled.Legs[s] = body.Limb{
			Upper: body.Vec{X: 1, Z: -0.08},
			Lower: body.Vec{X: 1, Z: -0.03},
			Pole:  body.Vec{Z: 1},
			End:   body.Vec{Z: 1},
		}
		curled.Arms[s] = body.Limb{Upper: body.Vec{X: 1, Z: -0.1}, Lower: body.Vec{X: 1}}
	}
	lying := Movement{Order: []string{"start"}, Poses: map[string]body.Pose{"start": curled}, Position: "supine"}
	plain, err = Measure(lying)
	require.NoError(t, err)
	assert.True(t, plain.Flag("head_lift"))
	down := form(lying, "head_down")
	assert.False(t, down.Flag("head_lift"))
	assert.Zero(t, down.Number("thoracic_flexion"))
}

func TestRangesNameTheJoint(t *testing.T) {
	for want, change := range map[string]func(*body.Pose){
		"pose round: lumbar flexion: 80°":            func(p *body.Pose) { p.Lumbar.Flexion = 80 },
		"pose round: thoracic rotation: 50°":         func(p *body.Pose) { p.Thoracic.Turn = 50 },
		"pose round: left knee: bends the wrong way": func(p *body.Pose) { p.Legs[0].Lower = body.Vec{X: 0.7, Z: -0.7} },
		"pose round: right hip flexion: -45°": func(p *body.Pose) {
			p.Legs[1].Upper, p.Legs[1].Lower = body.Vec{X: -1, Z: -1},
				body.Vec{X: -1, Z: -1}
		},
		"pose round: left elbow flexion: 170°": func(p *body.Pose) { p.Arms[0].Lower = body.Vec{X: 0.176, Z: 1} },
	} {
		m := bow()
		m.Steps = m.Steps[:1]
		p := m.Poses["round"]
		change(&p)
		m.Poses["round"] = p
		assert.ErrorContains(t, checkFigure(mustFigure(t, p)), want[len("pose round: "):])
		assert.Error(t, Check(m))
	}
	assert.NoError(t, Check(bow()))
}

func mustFigure(t *testing.T, p body.Pose) body.Figure {
	t.Helper()
	f, err := body.Solve(p, body.Scene{})
	require.NoError(t, err)
	return f
}

func TestPlaces(t *testing.T) {
	assert.False(t, Place("bed").Holds("four_point"), "no hands and knees on a soft bed")
	assert.True(t, Place("table").Holds("four_point"))
	assert.False(t, Place("mat").Holds("chair_sit"))
	assert.True(t, Position("supine").OnFloor())
	assert.False(t, Position("chair_sit").OnFloor())
}

func TestGrowingHolds(t *testing.T) {
	d := Dose{Kind: HoldSeconds, Repetitions: 6, SecondsByRepetition: []float64{1, 2, 3}}
	assert.Equal(t, 15.0, d.Work(1, 5), "1, 2, then 3 for the other four (common practice for beginners)")
	assert.Equal(t, 30.0, d.Work(2, 5))
	assert.Equal(t, "6 holds growing 1, 2 and 3 s each side", d.Words(true))
	assert.Equal(t, []int{3}, Dose{Kind: HoldSeconds, SecondsByRepetition: []float64{1, 2, 3}}.SetSizes())
	assert.Equal(t, 4.0, Dose{Seconds: 4}.Hold(7))
}

func TestUnevenDose(t *testing.T) {
	d := Dose{Kind: HoldSeconds, Sets: 1, Repetitions: 6, Seconds: 10}
	assert.Equal(t, 120.0, d.Work(2, 5))
	u := d.Uneven("right")
	assert.Equal(t, map[string]int{"left": 6, "right": 9}, u.BySide)
	assert.Equal(t, 150.0, u.Work(2, 5))
	assert.Equal(t, "6 holds of 10 s left, 9 right", u.Words(true))
	assert.Equal(t, 9, u.On("right").Repetitions)
	minute := Dose{Kind: HoldSeconds, Repetitions: 1, Seconds: 60}.Uneven("left")
	assert.Equal(t, 90.0, minute.On("left").Seconds, "half a minute more on a hold of one minute (common practice)")
	assert.Equal(t, 150.0, minute.Work(2, 5))
	breaths := Dose{Kind: HoldBreaths, Breaths: 4}.Uneven("left")
	assert.Equal(t, float64((7+5)*5), breaths.Work(2, 5), "six breaths and four, and one each to come into the shape")
	pyramid := Dose{Kind: HoldSeconds, RepetitionsBySet: []int{6, 4, 2}, Seconds: 10}
	assert.Equal(t, pyramid, pyramid.Uneven("left"), "descending sets stay as they are")
}
