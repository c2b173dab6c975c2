package library

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// condition draws one known condition with random details.
func condition(t *rapid.T, id string) limit.Condition {
	c := limit.Condition{ID: id}
	flag := func(name string) *bool {
		if rapid.Bool().Draw(t, name+" said") {
			b := rapid.Bool().Draw(t, name)
			return &b
		}
		return nil
	}
	switch id {
	case "osteoporosis":
		c.VertebralFracture = flag("fracture")
	case "disc_sciatica":
		c.Stage = rapid.SampledFrom([]string{"", "acute", "subacute", "later"}).Draw(t, "stage")
		c.Eases = rapid.SampledFrom([]string{"", "flexion", "extension", "neither"}).Draw(t, "eases")
		c.Side, c.LegSymptoms = rapid.SampledFrom([]string{"", "left", "right", "both"}).Draw(t, "side"), flag("leg")
	case "wrist_pain":
		c.Side = rapid.SampledFrom([]string{"", "left", "right", "both"}).Draw(t, "wrist")
	}
	return c
}

// TestAnotherConditionNeverLoosens: whatever is barred for a client stays barred
// when something more is known to be wrong, and a red flag always stops the
// plan.
func TestAnotherConditionNeverLoosens(t *testing.T) {
	l := load(t)
	rapid.Check(t, func(t *rapid.T) {
		var some, more limit.Client
		for _, id := range limit.Known {
			if !rapid.Bool().Draw(t, id) {
				continue
			}
			c := condition(t, id)
			more.Conditions = append(more.Conditions, c)
			if rapid.Bool().Draw(t, id+" in both") {
				some.Conditions = append(some.Conditions, c)
			}
		}
		few, all := limit.For(some, l.Rules, today), limit.For(more, l.Rules, today)
		for _, v := range l.Variants {
			for _, f := range v.Forms {
				m := v.FormOf(f.Adaptations).Measured
				if len(few.Breaks(m)) > 0 && len(all.Breaks(m)) == 0 {
					t.Fatalf("%s is barred for %v but not for %v", v.ID, some.Conditions, more.Conditions)
				}
			}
			// A verdict never calls safe what a limit bars.
			if j := limit.Judge(all, v); j.Verdict != exercise.Avoid && len(all.Breaks(j.Form.Measured)) > 0 {
				t.Fatalf("%s is called %s", v.ID, j.Verdict)
			}
		}
		more.RedFlags = []string{rapid.SampledFrom(limit.RedFlags).Draw(t, "flag").ID}
		if limit.For(more, l.Rules, today).Status != limit.Refer {
			t.Fatal("a red flag must stop the plan")
		}
	})
}

// TestWords looks over what is said to instructors and clients.
func TestWords(t *testing.T) {
	l := load(t)
	said := map[string]string{}
	for _, v := range l.Variants {
		assert.NotEmpty(t, v.Earn, v.ID)
		assert.NotEmpty(t, v.Image, v.ID)
		assert.NotEmpty(t, v.TouchCue, v.ID)
		assert.NotEmpty(t, v.Swaps, v.ID)
		assert.NotContains(t, v.Swaps, v.ID, "it is no swap for itself")
		for _, text := range append([]string{v.SetUp, v.Why, v.Image, v.BreathCue, v.TouchCue}, v.Cues...) {
			if text == "" {
				t.Errorf("%s: a text is missing", v.ID)
				continue
			}
			first := text[:1]
			assert.Equal(t, strings.ToUpper(first), first, "%s: %q begins with a capital", v.ID, text)
			assert.Regexp(t, `[.?]$`, text, "%s: %q ends as a sentence", v.ID, text)
			assert.NotContains(t, text, "!", v.ID)
			assert.NotContains(t, text, "_", "%s: no ids in words", v.ID)
		}
		for _, c := range v.Cues {
			if other, ok := said[c]; ok && l.Variant(other).Family != v.Family {
				assert.LessOrEqual(t, strings.Count(c, " "), 8, "%q is said by both %s and %s", c, other, v.ID)
			}
			said[c] = v.ID
		}
		for _, f := range v.Faults {
			assert.NotEmpty(t, f.Correction, v.ID)
		}
	}
}

// TestLaddersLeadUpward: each next rung is in the same family and exists, and
// no ladder leads back to where it began.
func TestLaddersLeadUpward(t *testing.T) {
	l := load(t)
	var climb func(id string, seen map[string]bool)
	climb = func(id string, seen map[string]bool) {
		assert.False(t, seen[id], "%s leads back to itself", id)
		if seen[id] {
			return
		}
		seen[id] = true
		for _, next := range l.Variant(id).NextIDs() {
			climb(next, seen)
		}
		delete(seen, id)
	}
	for _, v := range l.Variants {
		climb(v.ID, map[string]bool{})
		for _, n := range v.Next {
			to := l.Variant(n.To)
			assert.Equal(t, v.Family, to.Family, "%s to %s", v.ID, n.To)
			from, then := v.Plain().Measured.Demand, to.Plain().Measured.Demand
			if n.Though == "" {
				assert.GreaterOrEqual(t, then, from-0.05, "%s to %s: measured demand falls, and the step does not say why", v.ID, n.To)
			}
		}
	}
}

// A swap keeps the purpose: it serves at least one purpose of what it stands in
// for.
func TestSwapsKeepThePurpose(t *testing.T) {
	l := load(t)
	for _, v := range l.Variants {
		for _, id := range v.Swaps {
			shared := slices.ContainsFunc(l.Variant(id).Purposes, func(p exercise.Purpose) bool { return slices.Contains(v.Purposes, p) })
			assert.True(t, shared, "%s is swapped for %s, which does another job", v.ID, id)
		}
	}
}

func TestVocabularyHasWords(t *testing.T) {
	last := -1.0
	for _, p := range []exercise.Position{"supine", "prone", "side_lying", "floor_sit", "four_point", "kneeling", "half_kneeling", "chair_sit", "standing_supported", "standing"} {
		assert.NotEmpty(t, p.Words(), p)
		assert.Greater(t, p.Level(), last, "%s is higher", p)
		last = p.Level()
	}
	for _, p := range exercise.Places {
		assert.NotEmpty(t, p.Words(), p)
	}
	assert.Equal(t, -1, exercise.Position("hanging").Rank())
	assert.True(t, exercise.Place("studio").Holds("half_kneeling"))
	assert.Contains(t, exercise.Place("chair").OwnEquipment(), "chair")
	assert.Nil(t, exercise.Place("standing").OwnEquipment())
}

// Two of each position are the least that shows a position can be posed.
func TestEveryPositionIsPosed(t *testing.T) {
	count := map[exercise.Position]int{}
	for _, v := range load(t).Variants {
		count[v.Position]++
	}
	for _, p := range exercise.Positions {
		assert.GreaterOrEqual(t, count[p], 2, p)
	}
}
