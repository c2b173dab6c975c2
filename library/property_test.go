package library

import (
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/limit/limittest"
)

// limited draws anything that limits a client: conditions, pain, measures, tests, what is
// not borne, and instructions.
func limited(t *rapid.T, l *Library) limit.Client {
	maybe := func(name string) *bool {
		if rapid.Bool().Draw(t, name+" said") {
			b := rapid.Bool().Draw(t, name)
			return &b
		}
		return nil
	}
	pain := rapid.IntRange(0, 8).Draw(t, "pain")
	return limit.Client{
		Conditions: limittest.Conditions(t, l.Conditions, 4),
		Pain:       limit.Pain{Now: &pain},
		Strict:     rapid.Bool().Draw(t, "strict"),
		Tolerates: limit.Tolerates{
			Floor:      maybe("floor"),
			Kneeling:   maybe("kneeling"),
			WristLoad:  maybe("wrists"),
			SupineFlat: maybe("flat"),
			Prone:      maybe("prone"),
		},
	}
}

// more is something else that may limit a client.
func more(t *rapid.T, l *Library, c limit.Client) (limit.Client, string) {
	kind := rapid.SampledFrom([]string{"condition", "measure", "screen", "instruction", "pain", "strict", "tolerates"}).Draw(t, "more")
	switch kind {
	case "condition":
		d := rapid.SampledFrom(l.Conditions).Draw(t, "further")
		if !c.Has(d.ID) {
			c.Conditions = append(slices.Clone(c.Conditions), limittest.Condition(t, d))
		}
	case "measure":
		m := limit.Measure{
			ID:    rapid.SampledFrom([]string{"lumbar_flexion_deg", "lumbar_extension_deg", "thoracic_rotation_deg"}).Draw(t, "measure"),
			Value: rapid.Float64Range(0, 60).Draw(t, "degrees"),
		}
		if m.ID == "thoracic_rotation_deg" {
			m.Side = rapid.SampledFrom([]string{"", "left", "right"}).Draw(t, "measured side")
		}
		c.Measures = append(slices.Clone(c.Measures), m)
	case "screen":
		c.Screens = append(
			slices.Clone(c.Screens),
			limit.Screen{ID: rapid.SampledFrom(limit.ScreenTests).Draw(t, "test").ID, Finding: "painful",
				Sensation: rapid.SampledFrom([]string{"pinch", "pain", "solid_stop", "stretch"}).Draw(t, "sensation")},
		)
	case "instruction":
		numbers := slices.DeleteFunc(slices.Clone(exercise.Registry), func(q exercise.Quantity) bool { return q.Kind != exercise.Number })
		c.Instructions = append(
			slices.Clone(c.Instructions),
			limit.Instruction{
				Quantity: rapid.SampledFrom(numbers).Draw(t, "quantity").ID,
				Max:      rapid.Float64Range(0, 90).Draw(t, "at most"),
			},
		)
	case "pain":
		worse := min(10, *c.Pain.Now+rapid.IntRange(1, 5).Draw(t, "worse by"))
		c.Pain.Now = &worse
	case "strict":
		c.Strict = true
	case "tolerates":
		no := false
		c.Tolerates = limit.Tolerates{Floor: &no, Kneeling: &no, WristLoad: &no, SupineFlat: &no, Prone: &no}
	}
	return c, kind
}

// TestNothingMoreEverLoosens: whatever is barred for a client stays barred when
// something more is known to be wrong, whoever says it; a verdict never calls safe what
// a limit bars; and a red flag always stops the plan.
func TestNothingMoreEverLoosens(t *testing.T) {
	l := load(t)
	strictness := []exercise.Verdict{exercise.Suits, exercise.Adapt, exercise.Avoid}
	rapid.Check(t, func(t *rapid.T) {
		some := limited(t, l)
		all, kind := more(t, l, some)
		few, many := limit.For(some, l.Conditions, today), limit.For(all, l.Conditions, today)
		before, after := limit.JudgeAll(few, l.Variants, limit.Kit{}), limit.JudgeAll(many, l.Variants, limit.Kit{})
		for i, v := range l.Variants {
			if slices.Index(strictness, after[i].Verdict) < slices.Index(strictness, before[i].Verdict) {
				t.Fatalf("%s: %s became %s with one more %s", v.ID, before[i].Verdict, after[i].Verdict, kind)
			}
			if after[i].Verdict != exercise.Avoid && len(many.Breaks(after[i].Form.Measured)) > 0 {
				t.Fatalf("%s is called %s and breaks a limit", v.ID, after[i].Verdict)
			}
		}
		if few.Status() == limit.Refer && many.Status() != limit.Refer {
			t.Fatalf("one more %s and nobody needs to be asked any more", kind)
		}
		all.RedFlags = []string{rapid.SampledFrom(limit.RedFlags).Draw(t, "flag").ID}
		if limit.For(all, l.Conditions, today).Status() != limit.Refer {
			t.Fatal("a red flag must stop the plan")
		}
	})
}

// TestSafetyWhatWasNotMeasuredIsNeverSafe takes one value after the other out of what was
// measured: every limit on it must break then, and say why.
func TestSafetyWhatWasNotMeasuredIsNeverSafe(t *testing.T) {
	l := load(t)
	still := exercise.AtRest()
	seen := map[string]bool{}
	for _, d := range l.Conditions {
		for _, rule := range d.Rules {
			c, ok := meets(d, rule, "")
			require.True(t, ok, rule.ID)
			set := limit.For(c, l.Conditions, today)
			assert.Empty(t, set.Breaks(still), "%s: a body at rest is inside every limit", rule.ID)
			for row := range set.Rows() {
				if row.With != nil {
					nothing := still
					nothing.Moments = nil
					assert.NotEmpty(t, set.Breaks(nothing), rule.ID)
					continue
				}
				name := row.Quantity
				if row.When != exercise.WhenAny {
					name += "_" + string(row.When)
				}
				seen[name] = true
				broken := set.Breaks(still.Without(name))
				if assert.NotEmpty(t, broken, "%s: %s was not measured", rule.ID, name) {
					assert.Contains(t, broken[0].Text, "not measured")
					assert.Nil(t, broken[0].Value)
				}
				assert.NotEmpty(t, set.Breaks(exercise.Measured{}), rule.ID)
			}
		}
	}
	assert.Greater(t, len(seen), 40)
}

// TestWords looks over what is said to instructors and clients.
func TestWords(t *testing.T) {
	l := load(t)
	said := map[string]string{}
	for _, v := range l.Variants {
		assert.NotEmpty(t, v.Earn.Words, v.ID)
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
			from, then := v.Plain().Measured.Demand(), to.Plain().Measured.Demand()
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
	for _, p := range []exercise.Position{"supine", "prone", "side_lying", "floor_sit", "four_point", "kneeling", "half_kneeling",
		"chair_sit", "standing_supported", "standing"} {
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

// TestNoTwoExercisesSayTheSame: each has cues of its own.
func TestNoTwoExercisesSayTheSame(t *testing.T) {
	said := map[string]string{}
	for _, v := range load(t).Variants {
		words := strings.Join(v.Cues, " ")
		assert.Empty(t, said[words], "%s says the same as %s", v.ID, said[words])
		assert.NotEmpty(t, v.OneThing(), v.ID)
		said[words] = v.ID
	}
}

// TestWordsAndThingsAgree: what is spoken of is there, and what is needed is spoken of.
func TestWordsAndThingsAgree(t *testing.T) {
	things := map[string]*regexp.Regexp{
		"band": regexp.MustCompile(
			`\b(band|strap)s?\b`,
		),
		"stick": regexp.MustCompile(`\bstick\b`),
		"ring":  regexp.MustCompile(`\bring\b`),
		"hand_weight": regexp.MustCompile(
			`\b(weights? (held|hanging)|light weight|light bag)`,
		),
		"wedge":    regexp.MustCompile(`\bwedge\b`),
		"carriage": regexp.MustCompile(`\bcarriage\b`),
	}
	standsIn := map[string][]string{"ring": {"ring", "small_ball", "pillow"}, "band": {"band"}}
	for _, v := range load(t).Variants {
		has := slices.Clone(v.Equipment)
		for _, any := range v.EquipmentOneOf {
			has = append(has, any...)
		}
		words := strings.ToLower(v.SetUp + " " + v.Name + " " + strings.Join(v.Cues, " "))
		for thing, spoken := range things {
			needed := slices.Contains(v.Equipment, thing)
			there := slices.ContainsFunc(append(standsIn[thing], thing), func(e string) bool { return slices.Contains(has, e) })
			held := slices.ContainsFunc(v.Show.Held, func(h exercise.Held) bool {
				return h.Kind == thing || h.Kind == "strap" || thing == "hand_weight" && h.Kind == "weight"
			})
			if spoken.MatchString(words) {
				assert.True(t, there || held || thing == "carriage", "%s speaks of a %s that it does not ask for", v.ID, thing)
			}
			if needed {
				assert.Regexp(t,
					spoken.String()+`|`+strings.ReplaceAll(thing, "hand_weight", "weight"),
					words,
					"%s asks for a %s and does not speak of it",
					v.ID,
					thing,
				)
			}
		}
		if v.Sided() {
			continue
		}
		assert.NotRegexp(t,
			`\b(your|the) (left|right) (hand|foot|leg|knee|arm|side)\b`,
			strings.ToLower(strings.Join(v.Cues, " ")),
			"%s has no sides",
			v.ID,
		)
	}
}

// TestEveryComplaintHasAWayOut: it begins with a cue, ends at a rung or another exercise
// that keeps the purpose, asks less of the place and is open to a client without limits,
// and the adaptations on the way are ones that the exercise bears.
func TestEveryComplaintHasAWayOut(t *testing.T) {
	l := load(t)
	plain := limit.For(limit.Client{}, l.Conditions, today)
	paths := 0
	for _, v := range l.Variants {
		for _, c := range v.Complaints {
			paths++
			says := v.ID + " " + c.Where
			assert.Equal(t, "cue", c.Steps[0].Do, says)
			last := c.Steps[len(c.Steps)-1]
			if !assert.Contains(t, []string{"rung", "swap"}, last.Do, says) {
				continue
			}
			for _, s := range c.Steps {
				assert.NotEmpty(t, s.Text, says)
				switch w := l.Variant(s.To); s.Do {
				case "rung", "swap":
					assert.Contains(t, w.Purposes, v.Purposes[0], says)
					assert.Equal(t, s.Do == "rung", w.Family == v.Family, says)
					assert.NotEqual(t, exercise.Avoid, limit.Judge(plain, w, limit.Kit{}).Verdict, says)
				case "adapt":
					assert.Contains(t, v.MayAdapt, s.To, says)
				default:
					assert.Empty(t, s.To, says)
				}
			}
		}
	}
	assert.Greater(t, paths, 300)
	of := func(id, where string) (does []string) {
		for _, c := range l.Variant(id).Complaints {
			if c.Where == where {
				for _, s := range c.Steps {
					does = append(does, strings.TrimSuffix(s.Do+" "+s.To, " "))
				}
			}
		}
		return
	}
	assert.Equal(t,
		[]string{"cue", "adapt fists", "setting", "rung bird_dog_leg_slide", "swap bridge_march"},
		of("bird_dog_leg", "wrist"),
	)
	assert.Empty(t, of("rib_breath_supine", "wrist"), "nothing leans on it")
	assert.Equal(t, "adapt head_down", of("pumps_one_hand_head", "neck")[1])
}
