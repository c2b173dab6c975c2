package exercise

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/body"
)

// TestEveryQuantityIsMeasured: nothing of the registry is left out, and a value that is
// missing is named.
func TestEveryQuantityIsMeasured(t *testing.T) {
	m, err := Measure(bow())
	require.NoError(t, err)
	require.NoError(t, m.missing())
	sided := bow()
	sided.Sided = true
	two, err := Measure(sided)
	require.NoError(t, err)
	for _, side := range []string{"left", "right", ""} {
		assert.NoError(t, two.On(side).missing(), "of one side alone nothing is missing either")
	}
	for name, k := range keys {
		assert.False(t, math.IsNaN(m.At(k)), name)
		assert.Equal(t, name, k.Name())
		assert.True(t, math.IsNaN(m.Without(name).At(k)), name)
		assert.ErrorContains(t, m.Without(name).missing(), "not measured: "+k.Quantity.ID)
		assert.NotEmpty(t, k.Quantity.Words, name)
	}
	assert.Equal(t, unmeasured().missing().Error(), Measured{}.missing().Error())
	assert.False(t, Measured{}.Done())
	assert.NoError(t, AtRest().missing())
}

func TestKeysOfQuantities(t *testing.T) {
	for name, c := range map[string]struct {
		id, side string
		scope    Scope
	}{"lumbar_flexion": {"lumbar_flexion", "", WhenAny}, "lumbar_rotation_left_loaded": {"lumbar_rotation", "left", WhenLoaded},
		"knee_flexion_right_loaded": {"knee_flexion", "right", WhenLoaded},
		"hip_flexion":               {"hip_flexion", "", WhenAny}, "cervical_flexion_held": {"cervical_flexion", "", WhenHeld},
		"hold_seconds_loaded": {"hold_seconds", "", WhenLoaded}} {
		k, ok := KeyOf(name)
		require.True(t, ok, name)
		assert.Equal(t, c.id, k.Quantity.ID)
		assert.Equal(t, c.side, k.Side)
		assert.Equal(t, c.scope, k.Scope)
	}
	for _, bad := range []string{"", "courage", "lumbar_flexion_left", "cervical_flexion_loaded", "hip_flexion_held", "head_lift_loaded",
		"left"} {
		_, ok := KeyOf(bad)
		assert.False(t, ok, bad)
	}
	q, side := Split("hip_flexion_left")
	assert.Equal(t, "hip_flexion", q.ID)
	assert.Equal(t, "left", side)
	q, _ = Split("prone_left")
	assert.Nil(t, q)
	_, err := Find("hip_flexion").Key("up", WhenAny)
	assert.ErrorContains(t, err, "no side")
	_, err = Find("hip_flexion").Key("left", WhenHeld)
	assert.ErrorContains(t, err, "expected one of [any]")
	assert.Panics(t, func() { register([]Quantity{{ID: "prone", Kind: Flag, Scopes: always}}) }, "two of one name")
	assert.Panics(t, func() { mustKey("courage", "", WhenAny) })
	assert.Panics(t, func() { mustKey("prone", "left", WhenAny) })
}

func TestValuesAreKeptOnOneScale(t *testing.T) {
	rest := AtRest()
	m := rest.With(
		"hip_flexion_left",
		40,
	).With(
		"hip_flexion_right",
		60.0,
	).With(
		"head_lift",
		true,
	).With(
		"spring_load",
		"moderate",
	).With(
		"demand",
		3.24,
	)
	assert.Equal(t, 40.0, m.Number("hip_flexion_left"))
	assert.Equal(t, 60.0, m.Number("hip_flexion"), "the worse side")
	assert.Equal(t, 0.0, rest.Number("hip_flexion"), "With makes a copy")
	assert.True(t, m.Flag("head_lift"))
	assert.Equal(t, 1.0, m.Number("head_lift"))
	assert.Equal(t, "moderate", m.Word("spring_load"))
	assert.Equal(t, "none", rest.Word("spring_load"))
	assert.Equal(t, 3.24, m.Demand())
	assert.Equal(t, 12.0, rest.With("hip_flexion", 12).Number("hip_flexion_right"), "a plain name is both sides")
	assert.True(t, math.IsNaN(m.Without("hip_flexion_left").Number("hip_flexion")), "half measured is not measured")
	assert.True(t, math.IsNaN(m.Without("hip_flexion_right").Number("hip_flexion")))
	assert.Empty(t, Measured{}.Word("spring_load"))
	assert.False(t, Measured{}.Flag("head_lift"))
	assert.True(t, math.IsNaN(m.Number("courage")))
	for name, value := range map[string]any{"courage": 1, "head_lift": 2.0, "spring_load": "gentle", "hip_flexion": "far",
		"lumbar_flexion": math.NaN()} {
		assert.Panics(t, func() { rest.With(name, value) }, name)
	}
	assert.Panics(t, func() { m.put("courage", 1) })
}

// TestPublishedQuantities: tenths, loads to a thousandth, N·m and centimetres for the
// client's own body; nothing of what never happened in a scope, nor of what is kept for
// judging alone.
func TestPublishedQuantities(t *testing.T) {
	m := AtRest().With(
		"lumbar_flexion",
		12.34,
	).With(
		"lumbar_flexion_loaded",
		4.56,
	).With(
		"wrist_load_left",
		0.12345,
	).With(
		"lumbar_moment",
		0.03,
	).
		With(
			"hip_moment",
			0.05,
		).With(
		"trunk_lever_cm",
		0.2,
	).With(
		"base_margin_cm",
		math.Inf(1),
	).With(
		"kneeling",
		true,
	).With(
		"base_of_support",
		"seated",
	)
	q := m.For(170, 70)
	assert.Equal(t, 12.3, q["lumbar_flexion"])
	assert.Equal(t, 4.6, q["lumbar_flexion_loaded"])
	assert.Equal(t, 0.123, q["wrist_load_left"])
	assert.Equal(t, 0.123, q["wrist_load"])
	assert.Equal(t, 0.0, q["wrist_load_right"])
	assert.Equal(t, 35.0, q["lumbar_moment"], "0.03 × 70 kg × 9.81 × 1.70 m")
	assert.Equal(t, 34.0, q["trunk_lever_cm"])
	assert.Equal(t, true, q["kneeling"])
	assert.Equal(t, false, q["prone"])
	assert.Equal(t, "seated", q["base_of_support"])
	for _, name := range []string{"hip_moment", "lowest_ribs_moment", "base_margin_cm", "lumbar_flexion_held", "hold_seconds",
		"hold_seconds_loaded", "lumbar_rotation"} {
		assert.NotContains(t, q, name)
	}
	assert.Contains(t, q, "lumbar_rotation_left")
	assert.Equal(t, 12.0, AtRest().With("hold_seconds", 12).For(170, 70)["hold_seconds"])
	assert.Empty(t, Measured{}.For(170, 70))
}

func TestBothSidesAreTheWorseOfTheTwo(t *testing.T) {
	m := AtRest().With(
		"lumbar_rotation_left",
		4,
	).With(
		"lumbar_rotation_right",
		9,
	).With(
		"thoracic_side_bend_left_held",
		7,
	).With(
		"lumbar_flexion",
		3,
	).With(
		"wrist_load_right",
		0.4,
	)
	m.Moments = []Spine{spineOf(body.Pose{Lumbar: body.Bend{Turn: -9, Side: 2}})}
	m.mirror()
	for name, v := range map[string]float64{"lumbar_rotation_left": 9, "lumbar_rotation_right": 9, "thoracic_side_bend_right_held": 7,
		"lumbar_flexion": 3, "wrist_load_left": 0.4, "thoracic_rotation_left": 0} {
		assert.Equal(t, v, m.Number(name), name)
	}
	require.Len(t, m.Moments, 2)
	assert.Equal(t, 9.0, m.Moments[0].Worst("lumbar_rotation_right"))
	assert.Equal(t, 9.0, m.Moments[1].Worst("lumbar_rotation_left"))
	assert.Equal(t, 9.0, m.Moments[1].Worst("lumbar_rotation"))
	assert.Equal(t, 2.0, m.Moments[1].Worst("lumbar_side_bend_right"))
	assert.True(t, math.IsNaN(m.Moments[0].Worst("wrist_load")), "no angle of the spine")
}

// TestManner: a held breath is a step that says so; a jerk is a trunk or limb that is
// thrown.
func TestManner(t *testing.T) {
	held := bow()
	held.Steps[0].Breath = BreathHeld
	m, err := Measure(held)
	require.NoError(t, err)
	assert.True(t, m.Flag("breath_hold"))
	assert.False(t, m.Flag("ballistic"))

	swing := bow()
	up := swing.Poses["start"]
	up.Arms[0], up.Arms[1] = body.Limb{
		Upper: body.Vec{X: 1},
		Lower: body.Vec{X: 1},
	}, body.Limb{
		Upper: body.Vec{X: 1},
		Lower: body.Vec{X: 1},
	}
	swing.Poses["up"], swing.Order = up, append(swing.Order, "up")
	for seconds, thrown := range map[float64]bool{2: false, 0.2: true} {
		swing.Steps = []Step{{To: "up", Seconds: seconds, Breath: "in"}, {To: "start", Seconds: 2, Breath: "out"}}
		m, err := Measure(swing)
		require.NoError(t, err)
		assert.Equal(t, thrown, m.Flag("ballistic"), "an arm raised to level in %g s", seconds)
		assert.False(t, m.Flag("breath_hold"))
	}
	swing.Spring = "gentle"
	_, err = Measure(swing)
	assert.ErrorContains(t, err, "spring")
}
