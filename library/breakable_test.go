package library

import (
	"maps"
	"os"
	"slices"
	"testing"

	"github.com/goccy/go-yaml"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/body"
	"restbend/core/exercise"
	"restbend/core/limit"
)

// witnesses are movements that a body can do and that nobody should be given: exercises
// of the library taken further, held longer, thrown or strapped to a heavy spring. They
// show that a limit which no exercise of the library goes beyond is not one on something
// that nothing measures.
func witnesses(t *testing.T, l *Library) map[string]exercise.Measured {
	t.Helper()
	from := func(id string, change func(*exercise.Movement)) exercise.Movement {
		m := l.Variant(id).Plain().Movement
		m.Poses, m.Steps, m.Order = maps.Clone(m.Poses), slices.Clone(m.Steps), slices.Clone(m.Order)
		change(&m)
		return m
	}
	// bent is the start of an exercise with its spine bent, held, against a band.
	bent := func(id string, lumbar, thoracic body.Bend) exercise.Movement {
		return from(id, func(m *exercise.Movement) {
			p := m.Poses["start"]
			p.Lumbar, p.Thoracic = lumbar, thoracic
			m.Poses["bent"], m.Order = p, append(m.Order[:1:1], "bent")
			m.Steps = []exercise.Step{{To: "bent", Seconds: 4, Breath: "out"}, {To: "start", Seconds: 4, Breath: "in"}}
			m.HoldsAt, m.Hold, m.Resistance, m.Directions = "bent", 10, "light", nil
			m.Touching = append(slices.Clone(m.Touching), "hand_left", "hand_right")
		})
	}
	out := map[string]exercise.Measured{}
	for name, m := range map[string]exercise.Movement{
		"rounded to the end":  bent("rib_breath_chair", body.Bend{Flexion: 56}, body.Bend{Flexion: 33}),
		"arched under a band": bent("rib_breath_chair", body.Bend{Flexion: -10}, body.Bend{}),
		"bent to the left":    bent("rib_breath_chair", body.Bend{Side: 24}, body.Bend{Side: 18}),
		"bent to the right":   bent("rib_breath_chair", body.Bend{Side: -24}, body.Bend{Side: -18}),
		"turned to the left":  bent("rib_breath_chair", body.Bend{Turn: 6.5, Flexion: 6}, body.Bend{Turn: 32}),
		"turned to the right": bent("rib_breath_chair", body.Bend{Turn: -6.5, Flexion: 6}, body.Bend{Turn: -32}),
		"head between the knees": from("rib_breath_chair", func(m *exercise.Movement) {
			p := m.Poses["start"]
			p.Pelvis.Flexion += 46
			p.Lumbar, p.Thoracic, p.Arms = body.Bend{Flexion: 45}, body.Bend{Flexion: 30},
				[2]body.Limb{{Upper: body.Vec{X: 1, Z: -1}, Lower: body.Vec{X: 1, Z: -0.6}},
					{Upper: body.Vec{X: 1, Z: -1}, Lower: body.Vec{X: 1, Z: -0.6}}}
			m.Poses["down"], m.Order = p, append(m.Order[:1:1], "down")
			m.Steps = []exercise.Step{{To: "down", Seconds: 4, Breath: "out"}, {To: "start", Seconds: 4, Breath: "in"}}
		}),
		"a bent knee across": from("rib_breath_supine", func(m *exercise.Movement) {
			p := m.Poses["start"]
			p.Legs[body.Left] = body.Limb{Upper: body.Vec{X: 0.2, Y: -0.3, Z: 1}, Lower: body.Vec{X: 1, Y: -0.1, Z: -0.3},
				Pole: body.Vec{X: -1, Z: 1}}
			m.Poses["across"], m.Order = p, append(m.Order[:1:1], "across")
			m.Steps = []exercise.Step{{To: "across", Seconds: 4, Breath: "out"}, {To: "start", Seconds: 4, Breath: "in"}}
			m.Touching, m.Sided = append(slices.Clone(m.Touching), "legs_crossed", "foot_left"), true
		}),
		"a knee drawn right in": from("knee_to_chest_one", func(m *exercise.Movement) {
			p := m.Poses[m.Order[1]]
			p.Legs[body.Left] = body.Limb{Upper: body.Vec{X: 0.92, Z: 0.39}, Lower: body.Vec{X: 0.3, Z: -0.95}, Frame: "pelvis"}
			m.Poses[m.Order[1]] = p
		}),
		"a head turned round": from("look_over_shoulder", func(m *exercise.Movement) {
			p := m.Poses[m.Order[1]]
			p.Cervical.Turn = 75
			m.Poses[m.Order[1]] = p
		}),
		"arms past the ears": from("rib_breath_supine", func(m *exercise.Movement) {
			p := m.Poses["start"]
			for s, y := range [2]float64{1, -1} {
				p.Arms[s] = body.Limb{Upper: body.Vec{X: -0.99, Y: 0.1 * y, Z: 0.02}, Lower: body.Vec{X: -1, Y: 0.05 * y}}
			}
			m.Touching = append(slices.Clone(m.Touching), "hand_left", "hand_right")
			m.Poses["over"], m.Order = p, append(m.Order[:1:1], "over")
			m.Steps = []exercise.Step{{To: "over", Seconds: 4, Breath: "out"}, {To: "start", Seconds: 4, Breath: "in"}}
		}),
		"a heavy load lifted": from("hinge_chair", func(m *exercise.Movement) {
			m.Held = []exercise.Held{{Kind: "weight", At: []body.Part{"hand_left"}}, {Kind: "weight", At: []body.Part{"hand_right"}}}
			m.With.WeightKG = 15
		}),
		"a long bridge":  from("bridge", func(m *exercise.Movement) { m.Hold, m.HoldsAt = 40, m.Steps[0].To }),
		"a heavy spring": from("bridge", func(m *exercise.Movement) { m.Spring = "heavy" }),
		"breath held":    from("bridge", func(m *exercise.Movement) { m.Steps[0].Breath = exercise.BreathHeld }),
		"thrown":         from("cat_cow", func(m *exercise.Movement) { m.Steps[0].Seconds = 0.2 }),
	} {
		measured, err := exercise.Measure(m)
		require.NoError(t, err, name)
		assert.NoError(t, exercise.Check(m), name)
		out[name] = measured
	}
	return out
}

// TestSafetyEveryRowCanBeBroken: each row of each condition is broken by an exercise of the
// library or, where it guards against what is not in it, by a witness. What nothing can
// break would be a limit on nothing.
func TestSafetyEveryRowCanBeBroken(t *testing.T) {
	l := load(t)
	text, err := os.ReadFile("testdata/figures.yaml")
	require.NoError(t, err)
	var table []expected
	require.NoError(t, yaml.UnmarshalWithOptions(text, &table, yaml.Strict()))
	var forms []exercise.Measured
	for _, v := range l.Variants {
		forms = append(forms, v.Plain().Measured)
		for f := range v.Adapted() {
			forms = append(forms, f.Measured)
		}
	}
	further := slices.Collect(maps.Values(witnesses(t, l)))
	rows, guards := 0, map[string]bool{}
	for _, e := range table {
		for row := range limit.For(e.client(t), l.Conditions, today).Rows() {
			rows++
			if slices.ContainsFunc(forms, row.BrokenBy) {
				continue
			}
			guards[line(row)] = true
			assert.True(t, slices.ContainsFunc(further, row.BrokenBy), "%s: nothing that is measured can break %s", e.Why, line(row))
		}
	}
	t.Logf("of %d rows %d kinds are broken by no exercise of the library: %v", rows, len(guards), slices.Sorted(maps.Keys(guards)))
}
