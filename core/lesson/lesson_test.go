package lesson

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"restbend/core/exercise"
	"restbend/core/plan"
)

var now = time.Date(2026, 11, 25, 10, 0, 0, 0, time.UTC)

// planned is a plan with a hold on two sides in three sets, repetitions, breaths and a
// shape of one side.
func planned() plan.Plan {
	return plan.Plan{Breath: 5, PainNow: 2, Items: []plan.Item{
		{
			ID:      "a",
			Variant: "bird_dog_arm",
			Name:    "Bird dog",
			Sides:   []string{"left", "right"},
			Dose:    exercise.Dose{Kind: exercise.HoldSeconds, Sets: 2, Repetitions: 3, Seconds: 10},
		},
		{
			ID:      "b",
			Variant: "sit_to_stand",
			Name:    "Sit to stand",
			Dose:    exercise.Dose{Kind: exercise.Repetitions, RepetitionsBySet: []int{6, 4}, Seconds: 4},
		},
		{ID: "c", Variant: "rib_breath", Name: "Breath", Dose: exercise.Dose{Kind: exercise.Breaths, Breaths: 6}},
	}}
}

func id(n int) string { return fmt.Sprintf("00000000-0000-4000-8000-%012d", n) }

func mark(n int, item, side string, set int, kind string) Mark {
	return Mark{
		ID:     id(n),
		Item:   item,
		Side:   side,
		Set:    set,
		Kind:   kind,
		At:     now.Add(time.Duration(n) * time.Second).Format(time.RFC3339),
		ClockS: float64(n),
	}
}

func score(n int) *int { return &n }

// TestAlternatingSidesAreCountedLiftByLift, each side with its own count, and a stay is a part
// of the repetition.
func TestAlternatingSidesAreCountedLiftByLift(t *testing.T) {
	d := exercise.Dose{Kind: exercise.Repetitions, Sets: 2, Repetitions: 2, Seconds: 4, StaySeconds: 3, Alternating: true}
	var got []string
	for _, b := range Count(d, []string{"left", "right"}, 5, 20, 0) {
		got = append(got, fmt.Sprintf("%s %d %s %d %g %t", b.Kind, b.Set, b.Side, b.N, b.Seconds, b.SetEnds))
	}
	assert.Equal(t, []string{
		"work 1 left 1 7 false", "work 1 right 1 7 false", "work 1 left 2 7 true", "work 1 right 2 7 true",
		"rest 2 left 0 20 false",
		"work 2 left 1 7 false", "work 2 right 1 7 false", "work 2 left 2 7 true", "work 2 right 2 7 true",
	}, got)
}

func TestFoldSaysWhatWasDone(t *testing.T) {
	pain := mark(4, "a", "right", 2, "pain")
	pain.Score, pain.Where, pain.Repetitions, pain.Seconds, pain.BestHold = score(4), "shoulder", 2, 10, 10
	tight := mark(5, "a", "right", 0, "tighter")
	swapped := mark(8, "b", "", 0, "swapped")
	swapped.To = "half_squat"
	ended := mark(9, "", "", 0, "ended")
	ended.Score, ended.Text = score(1), "steady"
	check := mark(7, "a", "", 0, "side_check")
	check.Moment, check.Less = "before", "right"
	first := planned()
	last := planned()
	last.Items[1].Variant, last.Items[1].Name = "half_squat", "Half squat"
	begun := mark(6, "b", "", 1, "set_done")
	r := Fold(
		[]plan.Plan{first, last},
		[]Mark{
			mark(0, "", "", 0, "begun"),
			mark(1, "a", "left", 1, "set_done"),
			mark(2, "a", "left", 2, "set_done"),
			mark(3, "a", "right", 1, "set_done"),
			pain,
			tight,
			begun,
			swapped,
			check,
			ended,
		},
	)

	assert.Equal(t, []any{2, 4, 1}, []any{*r.Pain.Before, *r.Pain.During, *r.Pain.After})
	assert.Equal(t, "steady", r.Notes)
	assert.Equal(t, []SideCheck{{"a", "bird_dog_arm", "Bird dog", "before", "right"}}, r.SideChecks)
	type line struct {
		variant, side, ended, notes string
		sets, repetitions           int
		seconds                     float64
		skipped                     bool
	}
	var got []line
	for _, d := range r.Items {
		got = append(got, line{d.Variant, d.Side, d.Ended, d.Notes, d.Sets, d.Repetitions, d.Seconds, d.Skipped})
	}
	assert.Equal(t, []line{
		{"bird_dog_arm", "left", "done", "", 2, 3, 10, false},
		{"bird_dog_arm", "right", "done", "", 1, 3, 10, false},
		{"bird_dog_arm", "right", "pain", "", 1, 2, 10, false},
		{"sit_to_stand", "", "done", "", 1, 6, 4, false}, // what was begun before the swap stays
		{"half_squat", "", "choice", "not reached", 0, 0, 0, true},
		{"rib_breath", "", "choice", "not reached", 0, 0, 0, true},
	}, got)
	hurt := r.Items[2]
	assert.Equal(t, &PainAt{4, "shoulder", "right"}, hurt.Pain)
	assert.Nil(t, r.Items[1].Pain, "said once")
	assert.Equal(t, []any{3, "right", "pain", 10.0}, []any{hurt.OddFrom, hurt.Tighter, hurt.Sensation, hurt.BestHold})
	assert.Equal(t, 3, hurt.Planned.Repetitions)
}

func TestCorrectionsAndUndo(t *testing.T) {
	wrong := mark(1, "c", "", 1, "pain")
	wrong.Score = score(8)
	less := mark(2, "", "", 0, "corrected")
	less.Of, less.Values, less.By = wrong.ID, json.RawMessage(`{"score":2,"where":"neck"}`), "Maren"
	slip := mark(3, "b", "", 1, "form")
	undone := mark(4, "", "", 0, "corrected")
	undone.Of, undone.Void = slip.ID, true
	r := Fold([]plan.Plan{planned()}, []Mark{undone, less, slip, wrong})
	assert.Equal(t, 2, *r.Pain.During)
	assert.Equal(t, &PainAt{2, "neck", ""}, r.Items[len(r.Items)-1].Pain)
	assert.Equal(t, "not reached", r.Items[2].Notes, "a slip that was taken back never was")
}

// TestAnyOrderAndRepetitionGiveOneRecord, and what a beginning of the marks says was done
// the whole says too.
func TestAnyOrderAndRepetitionGiveOneRecord(t *testing.T) {
	p := planned()
	rapid.Check(t, func(t *rapid.T) {
		var marks []Mark
		for n := range rapid.IntRange(0, 25).Draw(t, "marks") {
			it := p.Items[rapid.IntRange(0, 2).Draw(t, "item")]
			m := mark(
				n+1,
				it.ID,
				"",
				rapid.IntRange(1, 3).Draw(t, "set"),
				rapid.SampledFrom(
					[]string{"set_done", "set_done", "form", "pain", "shaking", "skipped", "tighter", "note", "stepped"},
				).Draw(t,
					"kind",
				),
			)
			if len(it.Sides) > 0 {
				m.Side = rapid.SampledFrom(it.Sides).Draw(t, "side")
			}
			if m.Kind == "tighter" {
				m.Side = "left"
			}
			m.Repetitions, m.Text, m.Which = rapid.IntRange(0, 6).Draw(t, "repetitions"), "x", "a cue"
			if rapid.Bool().Draw(t, "scored") {
				m.Score = score(rapid.IntRange(0, 10).Draw(t, "score"))
			}
			require.Nil(t, m.Check([]string{"a", "b", "c"}, now.Add(time.Hour)))
			marks = append(marks, m)
		}
		whole := Fold([]plan.Plan{p}, marks)
		mixed := append(slices.Clone(marks), marks[:len(marks)/2]...)
		rand.New(rand.NewPCG(rapid.Uint64().Draw(t, "seed"), 1)).Shuffle(
			len(mixed),
			func(i, j int) { mixed[i], mixed[j] = mixed[j], mixed[i] },
		)
		assert.Equal(t, whole, Fold([]plan.Plan{p}, mixed))
		done := func(r Record) map[string]int {
			out := map[string]int{}
			for _, d := range r.Items {
				if d.Ended == "done" {
					out[d.Item+d.Side] += d.Sets
				}
			}
			return out
		}
		cut := rapid.IntRange(0, len(marks)).Draw(t, "cut")
		for key, n := range done(Fold([]plan.Plan{p}, marks[:cut])) {
			assert.LessOrEqual(t, n, done(whole)[key], key)
		}
	})
}

func TestWrongMarksAreNamed(t *testing.T) {
	for field, change := range map[string]func(*Mark){
		"id": func(m *Mark) { m.ID = "7" }, "kind": func(m *Mark) { m.Kind = "joy" }, "item": func(m *Mark) { m.Item = "z" },
		"at":   func(m *Mark) { m.At = now.Add(time.Hour).Format(time.RFC3339) },
		"side": func(m *Mark) { m.Side = "front" }, "where": func(m *Mark) { m.Where = "soul" },
		"score": func(m *Mark) { m.Score = score(11) }, "clock_s": func(m *Mark) { m.ClockS = -1 },
		"set": func(m *Mark) { m.Set = 99 }, "repetitions": func(m *Mark) { m.Repetitions = -2 },
		"less": func(m *Mark) { m.Kind, m.Moment = "side_check", "before" }, "text": func(m *Mark) { m.Kind = "note" },
		"to": func(m *Mark) { m.Kind = "swapped" }, "of": func(m *Mark) { m.Kind, m.Void = "corrected", true },
		"values":       func(m *Mark) { m.Kind, m.Of = "corrected", id(9) },
		"values.score": func(m *Mark) { m.Kind, m.Of, m.Values = "corrected", id(9), json.RawMessage(`{"score":12}`) },
	} {
		m := mark(1, "a", "left", 1, "pain")
		require.Nil(t, m.Check([]string{"a"}, now))
		change(&m)
		if wrong := m.Check([]string{"a"}, now); assert.NotNil(t, wrong, field) {
			assert.Equal(t, field, wrong.Field)
		}
	}
}
