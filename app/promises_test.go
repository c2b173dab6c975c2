package app_test

import (
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"restbend/app"
	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/limit"
)

// TestEveryLimitIsPromised: of every condition alone, as it is when nothing more is known,
// each row is found in a sentence with its figure and each reason stands under one of them.
func TestEveryLimitIsPromised(t *testing.T) {
	figures := regexp.MustCompile(`[0-9.]+`)
	for _, d := range judge.Library.Conditions {
		c := limit.Client{Format: "restbend.client/1", Name: "Ada Test", BirthYear: 1950, Conditions: []limit.Condition{{ID: d.ID}}}
		set := limit.For(c, judge.Library.Conditions, civil.Of(now))
		parts, barred := app.Promises(set), app.NotNow(set)
		reasons := map[string]bool{}
		said := map[string]bool{}
		for _, p := range append(parts, app.Part{Promises: barred}) {
			for _, promise := range p.Promises {
				sentence := p.Name + ": " + promise.Text
				assert.False(t, said[sentence], "%s: said twice: %s", d.ID, sentence)
				said[sentence] = true
				assert.NotContains(t, sentence, "_", d.ID)
				assert.NotContains(t, sentence, "%!", d.ID)
				assert.NotEmpty(t, promise.Reasons, sentence)
				for _, r := range promise.Reasons {
					reasons[r.Text] = true
				}
			}
		}
		for _, p := range parts {
			assert.NotContains(t, []string{"", "Also"}, p.Name, "%s: %+v", d.ID, p.Promises)
		}
		for l := range set.Rows() {
			for _, r := range l.Reasons {
				assert.True(t, reasons[r.Text], "%s: %s has lost %q", d.ID, l.Quantity, r.Text)
			}
			if figure, number := l.Number(); number && l.With == nil && l.Needs == nil && l.Quantity != "balance_steps" && figure > 0 {
				if tighter(set, l) {
					continue // the figure for any time says more
				}
				words := app.LimitWords(l)
				want := figures.FindAllString(words, -1)
				found := false
				for s := range said {
					found = found || len(want) > 0 && strings.Contains(s, want[0])
				}
				assert.True(t, found, "%s: nothing says %q", d.ID, words)
			}
		}
	}
}

// tighter says whether the same is limited further whenever it occurs.
func tighter(set limit.Limits, than limit.Limit) bool {
	figure, _ := than.Number()
	for l := range set.Rows() {
		most, number := l.Number()
		if number && l.Quantity == than.Quantity && l.When == exercise.WhenAny && l.When != than.When && l.With == nil && most < figure {
			return true
		}
	}
	return false
}

func TestPromisesReadPlainly(t *testing.T) {
	c := limit.Client{
		Name:      "Ada Test",
		BirthYear: 1950,
		Conditions: []limit.Condition{limit.Condition{ID: "osteoporosis"}.With("vertebral_fracture", "healed"), {ID: "disc_sciatica"},
			limit.Condition{ID: "wrist_pain"}.With("side", "right")},
	}
	set := limit.For(c, judge.Library.Conditions, civil.Of(now))
	said := map[string][]string{}
	for _, p := range app.Promises(set) {
		for _, promise := range p.Promises {
			said[p.Name] = append(said[p.Name], promise.Text)
		}
	}
	assert.Contains(t, said["Upper back"], "does not round past 10°, 10° under load too")
	assert.Contains(t, said["Low back"], "does not round past 10°, 10° under load too, not past 5° while it is turned past 5°")
	assert.Contains(t, said["Low back"], "does not lean to either side past 5°, 4° under load, 5° when held too")
	assert.Contains(t, said["Upper back"], "does not hollow past 12°")
	assert.Equal(t, []string{"each is raised straight to 30° at most"}, said["Legs"])
	assert.Equal(t,
		[]string{"bears more than 15% of body weight only with the hands on fists; bears 30% of body weight at most"},
		said["Right wrist"],
	)
	assert.Equal(t, []string{"lying face down, with a pillow in its place"}, said["Only with help"])
	var barred []string
	for _, p := range app.NotNow(set) {
		barred = append(barred, p.Text)
	}
	assert.Contains(t, barred, "Lifting the head when lying")
	assert.NotContains(t, barred, "Lying face down")
	bone := limit.For(
		limit.Client{Name: "Ada Test", BirthYear: 1950, Conditions: c.Conditions[:1]},
		judge.Library.Conditions,
		civil.Of(now),
	)
	assert.Equal(t, "Low back and upper back", app.Promises(bone)[0].Name, "the same for the same reasons is said once")
	assert.Empty(t, app.Promises(limit.Limits{}))
	assert.Empty(t, app.NotNow(limit.Limits{}))
}
