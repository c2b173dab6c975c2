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
var pinnedVariants = []string{"rib_breath_supine", "bridge", "bug_opposite", "curl_up", "side_lying_cross_knee", "side_bridge_knees", "forearm_prop", "cat_cow", "bird_dog", "plank_forearms",
	"half_kneeling_press", "staff_sit", "cat_cow_seated", "sit_to_stand", "wall_chest_drop", "hinge_chair", "single_leg_eyes_closed", "lunge_turn", "plank_sofa_toes", "carriage_feet_parallel", "floor_to_stand_chair"}

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
				pin(f, []string{"lumbar_moment", "demand", "lumbar_flexion", "thoracic_flexion", "lumbar_extension", "hold_seconds", "wrist_load", "forearm_load", "shoulder_elevation", "head_lift", "base_of_support", "pillow", "support_hand"})
			}
		}
		now = append(now, []string{id, "", "forms in order", strings.Join(order, "; ")})
	}
	if *updateMeasured {
		f, err := os.Create(file)
		require.NoError(t, err)
		require.NoError(t, csv.NewWriter(f).WriteAll(now))
		require.NoError(t, f.Close())
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
		same := row[3] == old || err == nil && err2 == nil && math.Abs(x-y) <= max(0.11, 0.01*math.Abs(y)) && (math.Abs(y) >= 1 || math.Abs(x-y) <= 0.006)
		assert.True(t, known && same, "%s: was %q", row, old)
	}
	assert.Empty(t, slices.Sorted(maps.Keys(before)), "measured no more")
}
