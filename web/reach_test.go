package web

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/draw"
)

func boneAndDisc() limit.Client {
	no := false
	return limit.Client{
		Conditions: []limit.Condition{
			limit.Condition{ID: "osteoporosis"}.With("vertebral_fracture", no),
			limit.Condition{ID: "disc_sciatica"}.With("stage", "subacute").With("side", "left").With("eases", "extension"),
		},
	}
}

func TestTheReachTellsWhatTheVerdictSays(t *testing.T) {
	set := limit.For(boneAndDisc(), judge.Library.Conditions, civil.Of(now))
	over := func(r reach) (out []string) {
		for _, b := range r.Blocks {
			for _, row := range b.Rows {
				for _, s := range []draw.ReachSide{row.Left, row.Right} {
					if s.Over() {
						out = append(out, b.Name+" "+row.Name)
					}
				}
			}
		}
		return out
	}
	barred := 0
	for _, v := range judge.Library.Variants {
		j := limit.Judge(set, v, limit.Kit{})
		if past := over(reachOf(set, j.Form.Measured, limit.Client{})); len(past) > 0 {
			barred++
			assert.Equal(t, exercise.Avoid, j.Verdict, "%s: %v is over, so the verdict must bar it", v.ID, past)
		}
	}
	assert.Greater(t, barred, 10)
	// The one that rounds the back is barred, and the small chart shows the region that says why.
	knees := judge.Library.Variant("knees_to_chest_both")
	r := reachOf(set, limit.Judge(set, knees, limit.Kit{}).Form.Measured, limit.Client{})
	assert.Contains(t, over(r), "low back hollow")
	assert.Contains(t, string(r.Tiny()), `aria-label="low back, more than it may do"`)
	assert.Contains(t, string(r.Tiny()), "url(#over)")
}

func TestTheReachInWords(t *testing.T) {
	set := limit.For(boneAndDisc(), judge.Library.Conditions, civil.Of(now))
	r := reachOf(set, exercise.Measured{}, limit.Client{Measures: []limit.Measure{{ID: "lumbar_flexion_deg", Value: 40}}})
	assert.Contains(t, r.Text, "upper back turning left to 15°, 5° under load")
	assert.True(t, r.Measured)
	assert.NotContains(t, r.Text, "Asked of it")
	free := reachOf(limit.Limits{}, exercise.AtRest().With("lumbar_extension", 9), limit.Client{})
	assert.Equal(t, "What the back may do: nothing limits it. Asked of it: low back hollowing 9°", free.Text)
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
