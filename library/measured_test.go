package library

import (
	"encoding/csv"
	"flag"
	"fmt"
	"maps"
	"math"
	"os"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
)

var updateMeasured = flag.Bool("measured", false, "write what is measured now into testdata/measured.csv, to be read over")

// pinnedVariants are exercises of every position and kind of movement.
var pinnedVariants = []string{
	"rib_breath_supine",
	"bridge",
	"bug_opposite",
	"curl_up",
	"side_lying_cross_knee",
	"side_bridge_knees",
	"forearm_prop",
	"cat_cow",
	"bird_dog",
	"plank_forearms",
	"half_kneeling_press",
	"staff_sit",
	"cat_cow_seated",
	"sit_to_stand",
	"wall_chest_drop",
	"hinge_chair",
	"single_leg_eyes_closed",
	"lunge_turn",
	"plank_sofa_toes",
	"carriage_feet_parallel",
	"floor_to_stand_chair",
}

// TestWhatIsMeasuredNow holds every quantity of some exercises, plain and in every form
// they bear, against what was measured when somebody last looked. A difference is no
// fault in itself, but has to be looked at: go test ./library -run MeasuredNow -measured
func TestWhatIsMeasuredNow(t *testing.T) {
	const file = "testdata/measured.csv"
	now := [][]string{{"variant", "form", "quantity", "value"}}
	l := load(t)
	for _, id := range pinnedVariants {
		v := l.Variant(id)
		if !assert.NotNil(t, v, id) {
			continue
		}
		pin := func(f *exercise.Form, only []string) {
			var words []string
			for _, a := range f.Adaptations {
				words = append(words, a.Text)
			}
			q := f.Measured.For(170, 70)
			for _, name := range slices.Sorted(maps.Keys(q)) {
				if q[name] == 0.0 || q[name] == false || only != nil && !slices.Contains(only, name) {
					continue
				}
				now = append(now, []string{id, strings.Join(words, " + "), name, fmt.Sprint(q[name])})
			}
		}
		pin(v.Plain(), nil)
		var order []string
		for f := range v.Adapted() {
			var words []string
			for _, a := range f.Adaptations {
				words = append(words, a.Text)
			}
			order = append(order, strings.Join(words, " + "))
			if len(f.Adaptations) == 1 {
				now = append(now, []string{id, words[0], "given up", fmt.Sprintf("%.3f", f.Lost)})
				pin(
					f,
					[]string{
						"lumbar_moment",
						"demand",
						"lumbar_flexion",
						"thoracic_flexion",
						"lumbar_extension",
						"hold_seconds",
						"wrist_load",
						"forearm_load",
						"shoulder_elevation",
						"head_lift",
						"base_of_support",
						"pillow",
						"support_hand",
					},
				)
			}
		}
		now = append(now, []string{id, "", "forms in order", strings.Join(order, "; ")})
	}
	if *updateMeasured {
		writeCells(t, file, now)
		return
	}
	was := cells(t, file)
	at := func(row []string) string { return strings.Join(row[:3], "\x00") }
	before := map[string]string{}
	for _, row := range was {
		before[at(row)] = row[3]
	}
	for _, row := range now[1:] {
		old, known := before[at(row)]
		delete(before, at(row))
		x, err := strconv.ParseFloat(row[3], 64)
		y, err2 := strconv.ParseFloat(old, 64)
		// A tenth, or a hundredth of the figure: rounding on another machine.
		same := row[3] == old ||
			err == nil && err2 == nil && math.Abs(x-y) <= max(0.11, 0.01*math.Abs(y)) && (math.Abs(y) >= 1 || math.Abs(x-y) <= 0.006)
		assert.True(t, known && same, "%s: was %q", row, old)
	}
	assert.Empty(t, slices.Sorted(maps.Keys(before)), "measured no more")
}

func writeCells(t *testing.T, file string, rows [][]string) {
	t.Helper()
	f, err := os.Create(file)
	require.NoError(t, err)
	require.NoError(t, csv.NewWriter(f).WriteAll(rows))
	require.NoError(t, f.Close())
}

// plainFigures are what every exercise is held to, in the order of the columns.
var plainFigures = []string{
	"lumbar_flexion",
	"lumbar_extension",
	"lumbar_side_bend_left",
	"lumbar_rotation_left",
	"thoracic_flexion",
	"thoracic_extension",
	"thoracic_rotation_left",
	"cervical_flexion",
	"cervical_extension",
	"hip_flexion",
	"hip_extension",
	"hip_adduction",
	"hip_inward_turn",
	"knee_flexion",
	"shoulder_elevation",
	"straight_leg_raise",
	"lumbar_moment",
	"wrist_load",
	"forearm_load",
	"knee_load",
	"demand",
	"lumbar_compression",
	"axial_moment",
	"moving_side_moment",
	"trunk_lever_cm",
	"leg_lever_cm",
	"base_margin_cm",
	"hold_seconds",
	"end_range_held_seconds",
}

// TestEveryExerciseMeasuresAsBefore holds the main figures of all exercises, a line each,
// with whatever is true of it, so that a change in the model shows where it reaches.
func TestEveryExerciseMeasuresAsBefore(t *testing.T) {
	const file = "testdata/plain.csv"
	now := [][]string{append(append([]string{"variant"}, plainFigures...), "is")}
	l := load(t)
	for _, v := range l.Variants {
		q := v.Plain().Measured.For(170, 70)
		row := []string{v.ID}
		for _, name := range plainFigures {
			x, ok := q[name].(float64)
			require.True(t, ok || q[name] == nil, name)
			row = append(row, strconv.FormatFloat(x, 'g', -1, 64))
		}
		var is []string
		for _, name := range slices.Sorted(maps.Keys(q)) {
			if q[name] == true {
				is = append(is, name)
			} else if word, ok := q[name].(string); ok {
				is = append(is, word)
			}
		}
		now = append(now, append(row, strings.Join(is, " ")))
	}
	if *updateMeasured {
		writeCells(t, file, now)
		return
	}
	was := cells(t, file)
	require.Equal(t, len(now)-1, len(was), "exercises came or went: look, then write it anew")
	for i, row := range now[1:] {
		old := was[i]
		require.Equal(t, old[0], row[0])
		for j, name := range plainFigures {
			x, err := strconv.ParseFloat(row[j+1], 64)
			require.NoError(t, err)
			y, err := strconv.ParseFloat(old[j+1], 64)
			require.NoError(t, err)
			margin := max(0.11, 0.01*math.Abs(y))
			if math.Abs(y) < 1 {
				margin = 0.006
			}
			if strings.HasSuffix(name, "_load") {
				margin = 0.002
			}
			assert.InDelta(t, y, x, margin, "%s of %s", name, row[0])
		}
		assert.Equal(t, old[len(old)-1], row[len(row)-1], "what is true of %s", row[0])
	}
}
