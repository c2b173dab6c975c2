package exercise

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/body"
)

// TestDosesInWordsAndFigures has a dose of every kind: how it is said, its sets, work and
// rest on two sides with a breath of five seconds and twenty between sets.
func TestDosesInWordsAndFigures(t *testing.T) {
	for says, c := range map[string]struct {
		dose       Dose
		sets       []int
		work, rest float64
	}{
		"8 slowly each side":      {Dose{Kind: Repetitions, Sets: 1, Repetitions: 8, Seconds: 4}, []int{8}, 64, 20},
		"2 × 12 slowly each side": {Dose{Kind: Repetitions, Sets: 2, Repetitions: 12, Seconds: 4}, []int{12, 12}, 192, 60},
		"6, then 4, then 2 slowly each side": {Dose{Kind: Repetitions, RepetitionsBySet: []int{6, 4, 2}, Seconds: 2}, []int{6, 4, 2}, 48,
			100},
		"6 holds of 10 s each side":  {Dose{Kind: HoldSeconds, Sets: 1, Repetitions: 6, Seconds: 10}, []int{6}, 120, 20},
		"hold 45 s each side":        {Dose{Kind: HoldSeconds, Sets: 1, Repetitions: 1, Seconds: 45}, []int{1}, 90, 20},
		"hold a minute each side":    {Dose{Kind: HoldSeconds, Repetitions: 1, Seconds: 60}, []int{1}, 120, 20},
		"hold 1.5 minutes each side": {Dose{Kind: HoldSeconds, Repetitions: 1, Seconds: 90}, []int{1}, 180, 20},
		"hold 70 s each side":        {Dose{Kind: HoldSeconds, Repetitions: 1, Seconds: 70}, []int{1}, 140, 20},
		"2 × hold 30 s each side":    {Dose{Kind: HoldSeconds, Sets: 2, Repetitions: 1, Seconds: 30}, []int{1, 1}, 120, 60},
		"6, then 4, then 2 holds of 10 s each " +
			"side": {Dose{Kind: HoldSeconds, RepetitionsBySet: []int{6, 4, 2}, Seconds: 10}, []int{6, 4, 2}, 240, 100},
		"2 × 3 holds growing 1, 2 and 3 s each " +
			"side": {Dose{Kind: HoldSeconds, Sets: 2, Repetitions: 3, SecondsByRepetition: []float64{1, 2, 3}}, []int{3, 3}, 24, 60},
		"5 breaths in the shape each side": {Dose{Kind: HoldBreaths, Sets: 1, Breaths: 5}, []int{1}, 60, 0},
		"10 slow breaths each side":        {Dose{Kind: Breaths, Sets: 1, Breaths: 10}, []int{1}, 100, 20},
		"8 slowly each side, staying 3 s":  {Dose{Kind: Repetitions, Repetitions: 8, Seconds: 4, StaySeconds: 3}, []int{8}, 112, 20},
		"2 × 8 slowly each side, alternating": {Dose{Kind: Repetitions, Sets: 2, Repetitions: 8, Seconds: 4, Alternating: true},
			[]int{8, 8}, 128, 20},
		"6 holds of 5 s each side, alternating": {Dose{Kind: HoldSeconds, Repetitions: 6, Seconds: 5, Alternating: true},
			[]int{6}, 60, 0},
		"30 s, alternating sides": {Dose{Kind: AlternatingSeconds, Sets: 1, Seconds: 30}, []int{1}, 30, 0},
		"6 circles each way each side": {Dose{Kind: Circles, Sets: 1, Repetitions: 6, Seconds: 5, BothDirections: true},
			[]int{6}, 120, 20},
		"6 circles each side": {Dose{Kind: Circles, Sets: 1, Repetitions: 6, Seconds: 5}, []int{6}, 60, 20},
		"1 slowly each side":  {Dose{Kind: Repetitions, Seconds: 3}, []int{1}, 6, 20},
	} {
		assert.Equal(t, says, c.dose.Words(true))
		assert.Equal(t, c.sets, c.dose.SetSizes(), says)
		assert.Equal(t, c.work, c.dose.Work(2, 5), says)
		assert.Equal(t, c.rest, resting(c.dose, 2), says)
	}
	assert.Equal(t, "8 slowly", Dose{Kind: Repetitions, Repetitions: 8}.Words(false))
	assert.Zero(t, resting(Dose{Kind: Repetitions, Repetitions: 8}, 1), "one set on one side has nothing to rest between")
	assert.Zero(t, resting(Dose{Kind: Repetitions, Repetitions: 8}, 0))
	uneven := Dose{Kind: Repetitions, Repetitions: 8}.Uneven("right")
	assert.Equal(t, map[string]int{"left": 8, "right": 12}, uneven.BySide)
	assert.Equal(t, "8 slowly left, 12 right", uneven.Words(true))
	hold := Dose{Kind: HoldSeconds, Repetitions: 2, Seconds: 10}.Uneven("left")
	assert.Equal(t, map[string]int{"left": 3, "right": 2}, hold.BySide, "of two holds one more")
}

func TestEffortInWords(t *testing.T) {
	for demand, word := range map[float64]string{0: "gentle", 1.49: "gentle", 1.5: "moderate", 3.99: "moderate", 4: "strong",
		10: "strong"} {
		v := &Variant{Forms: []*Form{{Measured: AtRest().With("demand", demand)}}}
		assert.Equal(t, word, v.Effort(), "%g", demand)
	}
}

// TestDemandAddsUpAsItIsWrittenDown: each part alone, at its full and at half, and all
// together no more than ten.
func TestDemandAddsUpAsItIsWrittenDown(t *testing.T) {
	for _, c := range []struct {
		limbs        limbPeaks
		lift, single bool
		resistance   string
		demand       float64
	}{
		{limbPeaks{}, false, false, "", 0}, {limbPeaks{lowBack: 0.05}, false, false, "none", 2},
		{limbPeaks{lowBack: 0.10}, false, false, "", 4}, {limbPeaks{lowBack: 0.2}, false, false, "", 4},
		{limbPeaks{arm: 0.3}, false, false, "", 1.5}, {limbPeaks{arm: 0.9}, false, false, "", 3},
		{limbPeaks{hips: 0.06}, false, false, "", 1.5}, {limbPeaks{hips: 0.2}, false, false, "", 3},
		{limbPeaks{}, true, false, "", 0.5}, {limbPeaks{}, false, true, "", 1}, {limbPeaks{}, false, false, "light", 0.5},
		{limbPeaks{lowBack: 1, arm: 1, hips: 1}, true, true, "heavy", 10},
	} {
		assert.InDelta(t, c.demand, demand(Movement{Resistance: c.resistance}, c.limbs, c.lift, c.single), 1e-9, "%+v", c)
	}
}

// TestAdaptationsGiveUpWhatIsWrittenDown: the text and the share of the range that each
// gives up, by which they are chosen; of two together what both give up.
func TestAdaptationsGiveUpWhatIsWrittenDown(t *testing.T) {
	m := bow()
	m.Hold = 20
	for id, want := range map[string]map[string]float64{
		"smaller_range":           {"smaller range, three quarters": 0.25, "smaller range, half": 0.5, "smaller range, a quarter": 0.75},
		"head_down":               {"head down": 0.3},
		"flat_back":               {"flat back instead of rounding": 0.2},
		"arms_lower":              {"arms no higher than the shoulders": 0.2},
		"bent_lever":              {"knees bent, a shorter lever": 0.2},
		"one_limb":                {"one limb at a time": 0.3},
		"support_hand":            {"a hand on a support": 0.1},
		"shorter_hold":            {"holds of 10 s at most": 0.13, "holds of 5 s at most": 0.16},
		"allowed_directions_only": {"one direction only, no rounding": 0.5, "one direction only, no arching": 0.5},
		"pillow":                  {},
		"raise_surface":           {},
		"stand_on_the_head":       {},
	} {
		got := map[string]float64{}
		for _, f := range Adaptations(m, []string{id}) {
			require.Len(t, f.Adaptations, 1)
			assert.Equal(t, id, f.Adaptations[0].ID)
			got[f.Adaptations[0].Text] = f.Lost
		}
		require.Len(t, got, len(want), id)
		for text, lost := range want {
			assert.InDelta(t, lost, got[text], 1e-9, text)
		}
	}
	pairs := Adaptations(m, []string{"flat_back", "support_hand"})
	require.Len(t, pairs, 3)
	assert.Equal(t,
		[]Adaptation{{"flat_back", "flat back instead of rounding"}, {"support_hand", "a hand on a support"}},
		pairs[2].Adaptations,
	)
	assert.InDelta(t, 0.28, pairs[2].Lost, 1e-9, "a fifth, and a tenth of the rest")
	assert.Equal(t, "support_hand", pairs[0].Adaptations[0].ID, "the one that gives up least first")
	m.Position = "supine"
	lying := Adaptations(m, []string{"pillow"})
	assert.Equal(t, "a pillow under the head", lying[0].Adaptations[0].Text)
	assert.True(t, lying[0].Movement.Pillow)
	for position, where := range map[Position]string{"prone": "under the belly", "side_lying": "between the knees",
		"kneeling": "under the knees", "half_kneeling": "under the knees", "four_point": "under the knees", "chair_sit": ""} {
		m.Position = position
		_, got := m.pillow()
		assert.Equal(t, where, got, position)
	}
}

// TestWhatAdaptationsDoToAPose, limb by limb.
func TestWhatAdaptationsDoToAPose(t *testing.T) {
	p := bow().Poses["round"]
	p.Arms[body.Left], p.Legs[body.Left] = body.Limb{
		Upper: body.Vec{X: 1},
		Lower: body.Vec{X: 1},
	}, body.Limb{
		Upper: body.Vec{X: 1},
		Lower: body.Vec{X: 1},
		Pole:  body.Vec{Z: 1},
	}
	p.Arms[body.Right] = p.Arms[body.Left]
	m := bow()
	m.Poses = map[string]body.Pose{"start": m.Poses["start"], "round": p}
	one := m.oneLimb().Poses["round"]
	assert.Equal(t, p.Arms[body.Left], one.Arms[body.Left], "the left goes")
	assert.Equal(t, m.Poses["start"].Arms[body.Right], one.Arms[body.Right], "the right stays where it starts")
	assert.Equal(t, m.Poses["start"].Legs[body.Right], one.Legs[body.Right])

	bent := bentLever(p)
	assert.Less(t, bent.Legs[body.Left].Lower.X, 0.3, "the shank no longer reaches out")
	assert.Less(t, bent.Legs[body.Left].Lower.Z, -0.9, "it hangs")
	assert.Equal(t, p.Legs[body.Right], bent.Legs[body.Right], "a leg that stands stays")

	hand := m.supportHand()
	assert.True(t, hand.Hands)
	assert.Len(t, hand.Solids, 1)
	pin := hand.Poses["round"].Arms[body.Right].Pin
	require.NotNil(t, pin)
	assert.InDelta(t, 0, pin.At.Sub(body.Vec{X: 0.06, Y: -0.27, Z: 0.565}).Len(), 1e-9, "hip-high, on the right")
	assert.Equal(t, p.Arms[body.Left], hand.Poses["round"].Arms[body.Left])
	m.Position = "half_kneeling"
	assert.InDelta(t, 0.365, m.supportHand().Poses["round"].Arms[body.Right].Pin.At.Z, 1e-9, "lower when half kneeling")

	side := Movement{
		Position: "side_lying",
		Order:    []string{"start"},
		Poses: map[string]body.Pose{
			"start": {Base: body.SideLeft, Legs: [2]body.Limb{{Upper: body.Vec{X: 1}}, {Upper: body.Vec{X: 1}}}},
		},
	}
	padded, _ := side.pillow()
	assert.Equal(t, 0.10, padded.Poses["start"].Legs[body.Right].Upper.Z, "lying on the left the right thigh is raised")
	assert.Zero(t, padded.Poses["start"].Legs[body.Left].Upper.Z)
	prone := Movement{Position: "prone", Order: []string{"start"}, Poses: map[string]body.Pose{"start": {}}}
	padded, _ = prone.pillow()
	assert.Equal(t, 6.0, padded.Poses["start"].Lumbar.Flexion)

	lean := Movement{
		Order: []string{"start"},
		Poses: map[string]body.Pose{
			"start": {
				Arms: [2]body.Limb{
					{Pin: &body.Pin{Of: "world", At: body.Vec{Z: 0.4}}},
					{Pin: &body.Pin{Of: "head", At: body.Vec{Z: 0.4}}},
				},
				Settle: []body.Settle{{Until: "level", Z: 0.5}, {Until: "level", Z: 0.1}},
			},
		},
		Scene: body.Scene{
			Boxes: []body.Box{{Max: body.Vec{Z: 0.4}}, {Max: body.Vec{Z: 0.05}}},
		},
		Solids: []Solid{{Min: body.Vec{Z: 0.35}, Max: body.Vec{Z: 0.4}}, {Max: body.Vec{Z: 0.4}}, {Max: body.Vec{Z: 0.05}}},
	}
	up, ok := lean.raiseSurface(0.1)
	require.True(t, ok)
	s := up.Poses["start"]
	assert.InDelta(t, 0.5, s.Arms[0].Pin.At.Z, 1e-9)
	assert.InDelta(t, 0.4, s.Arms[1].Pin.At.Z, 1e-9, "a hand on the head stays there")
	assert.InDelta(t, 0.6, s.Settle[0].Z, 1e-9)
	assert.InDelta(t, 0.1, s.Settle[1].Z, 1e-9, "what is near the floor stays")
	assert.InDelta(t, 0.5, up.Scene.Boxes[0].Max.Z, 1e-9)
	assert.InDelta(t, 0.1, up.Scene.Boxes[0].Min.Z, 1e-9)
	assert.InDelta(t, 0.05, up.Scene.Boxes[1].Max.Z, 1e-9)
	assert.Equal(t,
		[]float64{0.45, 0.5, 0, 0.5, 0, 0.05},
		[]float64{
			round9(up.Solids[0].Min.Z),
			round9(up.Solids[0].Max.Z),
			up.Solids[1].Min.Z,
			round9(up.Solids[1].Max.Z),
			up.Solids[2].Min.Z,
			up.Solids[2].Max.Z,
		},
	)
	assert.InDelta(t, 0.4, lean.Poses["start"].Arms[0].Pin.At.Z, 1e-9, "what it was made from is as it was")
	_, ok = Movement{
		Order: []string{"start"},
		Poses: map[string]body.Pose{"start": {Settle: []body.Settle{{Until: "touch"}}}},
	}.raiseSurface(0.1)
	assert.False(t, ok, "nothing is off the floor")
	_, ok = Movement{
		Order: []string{"start"},
		Poses: map[string]body.Pose{"start": {Settle: []body.Settle{{Until: "touch"}}}},
		Scene: body.Scene{Boxes: []body.Box{{Max: body.Vec{Z: 0.4}}}},
	}.raiseSurface(0.1)
	assert.True(t, ok, "it settles on what is raised")
}

func round9(v float64) float64 { return float64(int(v*1e9+0.5)) / 1e9 }

// TestAFormOwnsWhatWasSolved: who measures, films or draws it borrows the same figures.
func TestAFormOwnsWhatWasSolved(t *testing.T) {
	f, err := NewForm(bow())
	require.NoError(t, err)
	once, err := f.Figures(false)
	require.NoError(t, err)
	again, _ := f.Figures(false)
	once["start"] = body.Figure{Neck: body.Vec{Z: 7}} // seen by whoever asks next
	assert.Equal(t, 7.0, again["start"].Neck.Z)
	film, err := f.Film(9, false)
	require.NoError(t, err)
	assert.Len(t, film, 1+4*9)
	assert.Equal(t, 7.0, film[0].Figure.Neck.Z)
	mirrored, err := f.Figures(true)
	require.NoError(t, err)
	assert.NotEqual(t, 7.0, mirrored["start"].Neck.Z, "the mirrored ones are their own")
	assert.InDelta(t, -4, mirrored["round"].Pose.Lumbar.Turn, 1e-9)
	assert.InDelta(t, 4, again["round"].Pose.Lumbar.Turn, 1e-9)
	assert.True(t, f.Measured.Done())
	other, _ := NewForm(bow())
	assert.Equal(t, other.Measured, f.Measured)
	bad := bow()
	p := bad.Poses["round"]
	p.Lumbar.Flexion = 80
	bad.Poses["round"] = p
	broken, err := NewForm(bad)
	assert.ErrorContains(t, err, "lumbar flexion")
	still, err := broken.Figures(false)
	assert.NoError(t, err, "it can still be drawn")
	assert.Len(t, still, 3)
}
