package web

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
	"restbend/core/limit"
)

func boneAndDisc() limit.Client {
	no := false
	return limit.Client{Conditions: []limit.Condition{limit.Condition{ID: "osteoporosis"}.With("vertebral_fracture", no), limit.Condition{ID: "disc_sciatica"}.With("stage", "subacute").With("side", "left").With("eases", "extension")}}
}

func label(r clientRose, name string) string {
	for _, l := range r.Labels {
		if l.Name == name {
			return l.Figure
		}
	}
	return ""
}

func TestTheRoseTellsWhatTheVerdictSays(t *testing.T) {
	set := limit.For(boneAndDisc(), judge.Library.Book, now)
	for _, v := range judge.Library.Variants {
		j := limit.Judge(set, v, limit.Kit{})
		r := roseOf(set, j.Form.Measured, limit.Client{})
		over := false
		for _, p := range []struct{ used, allowed float64 }{{r.Forward.Used, r.Forward.Allowed}, {r.Back.Used, r.Back.Allowed}, {r.Left.Used, r.Left.Allowed},
			{r.Right.Used, r.Right.Allowed}, {r.TurnLeft.Used, r.TurnLeft.Allowed}, {r.TurnRight.Used, r.TurnRight.Allowed}} {
			over = over || p.used > p.allowed+0.05
		}
		if over {
			assert.Equal(t, exercise.Avoid, j.Verdict, "%s: a petal is over, so the verdict must bar it", v.ID)
		}
	}
	// The one that rounds the back is barred, and its rose shows where.
	knees := judge.Library.Variant("knees_to_chest_both")
	r := roseOf(set, limit.Judge(set, knees, limit.Kit{}).Form.Measured, limit.Client{})
	assert.Greater(t, r.Forward.Used, r.Forward.Allowed)
	assert.True(t, r.Forward.Shut)
}

func TestRoseLabels(t *testing.T) {
	set := limit.For(boneAndDisc(), judge.Library.Book, now)
	r := roseOf(set, exercise.Measured{}, limit.Client{Measures: []limit.Measure{{ID: "lumbar_flexion_deg", Value: 40}}})
	assert.Equal(t, "free", label(r, "back"))
	assert.Equal(t, "to 15°, 5° loaded", label(r, "turn left"))
	assert.Equal(t, 40.0, r.Forward.Measured)
	assert.Contains(t, r.text(), "forward shut past 20°")
	free := roseOf(limit.Set{}, exercise.AtRest().With("lumbar_extension", 9), limit.Client{})
	assert.Equal(t, "free, asks 9°", label(free, "back"))
}

func TestLimitLinesReadAsSentences(t *testing.T) {
	lines := limitLines(limit.For(boneAndDisc(), judge.Library.Book, now))
	require.NotEmpty(t, lines)
	var rules []string
	for _, l := range lines {
		rules = append(rules, l.Rule)
		assert.NotEmpty(t, l.Reasons)
		assert.NotContains(t, l.Rule, "_")
	}
	assert.Contains(t, rules, "Lifting the head when lying: not for now")
	assert.Contains(t, rules, "Upper back turning, upper back bending sideways: to 15°")
	assert.Contains(t, rules[0], "rounding forward", "the directions of the back come first")
	seen := map[string]bool{}
	for _, r := range rules {
		assert.False(t, seen[r], "said twice: %s", r)
		seen[r] = true
	}
}

// TestOrdinaryRangesAreAsPublished: AAOS and AMA handbooks, White and Panjabi (from memory).
func TestOrdinaryRangesAreAsPublished(t *testing.T) {
	within := func(region string, i int, from, to float64) {
		assert.GreaterOrEqual(t, ordinary[region][i], from, region)
		assert.LessOrEqual(t, ordinary[region][i], to, region)
	}
	for i, is := range []float64{25, 0, 25, 60} { // lumbar side bend, extension, flexion
		if is > 0 {
			assert.Equal(t, is, ordinary["lumbar"][i])
		}
	}
	within("lumbar", 1, 2.5, 6.5)
	within("thoracic", 1, 30, 35)
	assert.Equal(t, [4]float64{25, 32, 25, 35}, ordinary["thoracic"])
	within("cervical", 3, 45, 50)
	within("cervical", 2, 45, 60)
	assert.Equal(t, []float64{45, 80}, ordinaryOf("cervical")[:2])
}

func ordinaryOf(region string) []float64 { o := ordinary[region]; return o[:] }
