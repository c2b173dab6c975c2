package exercise

import (
	"testing"

	"restbend/core/body"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestDosesAreReadAsTheyAreSaid(t *testing.T) {
	for text, want := range map[string]Dose{
		"8":                             {Kind: Repetitions, Sets: 1, Repetitions: 8},
		"2 × 8 slowly":                  {Kind: Repetitions, Sets: 2, Repetitions: 8},
		"2 x 8":                         {Kind: Repetitions, Sets: 2, Repetitions: 8},
		"6, 4 and 2":                    {Kind: Repetitions, Sets: 3, Repetitions: 6, RepetitionsBySet: []int{6, 4, 2}},
		"6 holds of 10 s":               {Kind: HoldSeconds, Sets: 1, Repetitions: 6, Seconds: 10},
		"2 × hold 10 s":                 {Kind: HoldSeconds, Sets: 2, Repetitions: 1, Seconds: 10},
		"6 × 10 s":                      {Kind: HoldSeconds, Sets: 1, Repetitions: 6, Seconds: 10},
		"2 × 6 holds of 10 s":           {Kind: HoldSeconds, Sets: 2, Repetitions: 6, Seconds: 10},
		"6, 4 and 2 holds of 10 s":      {Kind: HoldSeconds, Sets: 3, Repetitions: 6, RepetitionsBySet: []int{6, 4, 2}, Seconds: 10},
		"6-4-2 holds of 10 seconds":     {Kind: HoldSeconds, Sets: 3, Repetitions: 6, RepetitionsBySet: []int{6, 4, 2}, Seconds: 10},
		"3 holds of 1, 2 and 3 s":       {Kind: HoldSeconds, Sets: 1, Repetitions: 3, SecondsByRepetition: []float64{1, 2, 3}},
		"6 holds growing 1, 2 and 3 s":  {Kind: HoldSeconds, Sets: 1, Repetitions: 6, SecondsByRepetition: []float64{1, 2, 3}},
		"hold a minute":                 {Kind: HoldSeconds, Sets: 1, Repetitions: 1, Seconds: 60},
		"hold 2 minutes":                {Kind: HoldSeconds, Sets: 1, Repetitions: 1, Seconds: 120},
		"15 breaths":                    {Kind: Breaths, Sets: 1, Breaths: 15},
		"2 × 5 breaths in the shape":    {Kind: Breaths, Sets: 2, Breaths: 5},
		"8, staying 3 s":                {Kind: Repetitions, Sets: 1, Repetitions: 8, StaySeconds: 3},
		"2 × 8 with a stay of 2 s":      {Kind: Repetitions, Sets: 2, Repetitions: 8, StaySeconds: 2},
		"8, alternating":                {Kind: Repetitions, Sets: 1, Repetitions: 8, Alternating: true},
		"8 staying 2 s, alternating":    {Kind: Repetitions, Sets: 1, Repetitions: 8, StaySeconds: 2, Alternating: true},
		"6 holds of 5 s, sides in turn": {Kind: HoldSeconds, Sets: 1, Repetitions: 6, Seconds: 5, Alternating: true},
		"30 s, alternating":             {Kind: AlternatingSeconds, Sets: 1, Seconds: 30},
		"30 s in turn":                  {Kind: AlternatingSeconds, Sets: 1, Seconds: 30},
		"1.5 minutes, sides in turn":    {Kind: AlternatingSeconds, Sets: 1, Seconds: 90},
		"5 circles each side":           {Kind: Circles, Sets: 1, Repetitions: 5},
		"5 circles each way each side":  {Kind: Circles, Sets: 1, Repetitions: 5, BothDirections: true},
		"8 left, 12 right":              {Kind: Repetitions, Sets: 1, Repetitions: 12, BySide: map[string]int{"left": 8, "right": 12}},
		"9 holds of 5 s left, 6 right": {Kind: HoldSeconds, Sets: 1, Repetitions: 9, Seconds: 5,
			BySide: map[string]int{"left": 9, "right": 6}},
	} {
		got, err := ReadDose(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, got, text)
	}
	for text, says := range map[string]string{
		"": "cannot be read", "a lot": "cannot be read", "31": "31 in a set; expected 1 to 30", "0": "0 in a set",
		"7 × 8":      "7 sets; expected 1 to 6",
		"hold 121 s": "a hold of 121 s; expected 1 to 120", "6 holds of 0 s": "a hold of 0 s", "21 breaths": "21 breaths; expected 1 " +
			"to 20", "4 s in turn": "4 s, alternating; expected 5 to 120",
		"2 holds of 5 and 500 s": "a hold of 500 s", "8 left, some right": "cannot be read",
		"5 breaths left, 6 right": "where the sides differ",
		"1, 1, 1, 1, 1, 1 and 1":  "7 sets",
		"8, staying 11 s":         "a stay of 11 s; expected 1 to 10", "6 holds of 5 s, staying 2 s": "inside repetitions",
		"5 circles, alternating": "alternating circles; expected repetitions, holds or seconds",
	} {
		_, err := ReadDose(text)
		assert.ErrorContains(t, err, says, text)
	}
}

// TestADoseFitsItsExercise: what is held is counted in seconds or breaths, what moves in
// repetitions, or seconds with the sides in turn.
func TestADoseFitsItsExercise(t *testing.T) {
	held := Movement{HoldsAt: "up", Steps: []Step{{To: "up", Seconds: 2}}}
	moves := Movement{Steps: []Step{{To: "up", Seconds: 2}, {To: "start", Seconds: 3}}}
	of := func(text string, usual DoseKind, m Movement, sided bool) (Dose, error) {
		d, err := ReadDose(text)
		require.NoError(t, err)
		return d.Of(Dose{Kind: usual}, m, sided)
	}
	d, err := of("15 breaths", HoldSeconds, held, false)
	require.NoError(t, err)
	assert.Equal(t, HoldBreaths, d.Kind)
	d, err = of("2 × 8", Repetitions, moves, false)
	require.NoError(t, err)
	assert.Equal(t, 5.0, d.Seconds, "two seconds there and three back")
	d, err = of("5", Circles, moves, true)
	require.NoError(t, err)
	assert.Equal(t, Circles, d.Kind)
	_, err = of("30 s in turn", Repetitions, moves, true)
	assert.NoError(t, err)
	for _, c := range []struct {
		text  string
		usual DoseKind
		m     Movement
		sided bool
		says  string
	}{
		{"8", HoldSeconds, held, false, "it is not counted in repetitions; expected hold seconds or hold breaths"},
		{"30 s in turn", Repetitions, moves, false, "it is not counted in alternating seconds; expected repetitions"},
		{"hold 10 s", Repetitions, moves, false, "not counted in hold seconds"},
		{"5 circles", Repetitions, moves, true, "not counted in circles"},
		{"8", Breaths, moves, false, "expected breaths"},
		{"8 left, 12 right", Repetitions, moves, false, "has no sides"},
	} {
		_, err := of(c.text, c.usual, c.m, c.sided)
		assert.ErrorContains(t, err, c.says, c.text)
	}
}

// TestWhoseSidesAlternate: only movements that begin and end in one symmetric pose, with nothing
// held on one side; and a stay needs a shape to stay in.
func TestWhoseSidesAlternate(t *testing.T) {
	even := Movement{Sided: true, Poses: map[string]body.Pose{"start": {}}, Steps: []Step{{To: "up"}, {To: "start"}}}
	for name, c := range map[string]struct {
		change func(*Movement)
		want   bool
	}{
		"symmetric":         {func(*Movement) {}, true},
		"without sides":     {func(m *Movement) { m.Sided = false }, false},
		"ends elsewhere":    {func(m *Movement) { m.Steps = m.Steps[:1] }, false},
		"lies on one side":  {func(m *Movement) { m.Poses = map[string]body.Pose{"start": {Base: body.SideLeft}} }, false},
		"a weight":          {func(m *Movement) { m.Held = []Held{{Kind: "weight", At: []body.Part{"hand_left"}}} }, false},
		"a ball in between": {func(m *Movement) { m.Held = []Held{{Kind: "ball", At: []body.Part{"knee_right", "knee_left"}}} }, true},
		"a strap":           {func(m *Movement) { m.Scene.Strapped[0] = true }, false},
	} {
		m := even
		c.change(&m)
		assert.Equal(t, c.want, m.Alternates(), name)
		assert.Equal(t, c.want, Dose{Kind: Repetitions, Alternating: true}.Fits(m) == nil, name)
		stay := Dose{Kind: Repetitions, StaySeconds: 2}
		assert.EqualError(t, stay.Fits(m), "it has no shape to stay in; expected repetitions without a stay")
	}
}
