package library

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// detail gives a client's condition one detail of the rules, in the way a client
// file would say it.
func detail(c *limit.Client, key, value string) {
	k := &c.Conditions[0]
	is, months := value == "true", map[string]float64{"early": 4, "middle": 9, "later": 14}
	switch key {
	case "stage":
		k.Stage = value
	case "eases":
		k.Eases = value
	case "which":
		k.Which = value
	case "approach":
		if k.Approach = value; value == "unknown" {
			k.Approach = ""
		}
	case "leg_symptoms":
		k.LegSymptoms = &is
	case "vertebral_fracture":
		k.VertebralFracture = &is
	case "rest_pain":
		k.RestPain = &is
	case "strict":
		c.Strict = is
	case "controlled":
		k.Controlled, k.Reading = &is, "128/78"
	case "painful":
		pain := map[bool]int{true: 4, false: 1}[is]
		c.Pain.Now = &pain
	case "recent":
		m := map[bool]float64{true: 1, false: 14}[is]
		k.MonthsSince = &m
	case "period":
		m := months[value]
		k.MonthsSince = &m
	case "cervical", "thoracic", "lumbar":
		levels := map[string]string{"cervical": "C3-C4", "thoracic": "T5-T6", "lumbar": "L3-L4"}
		if k.Levels = levels[key]; !is {
			k.Levels = levels[map[string]string{"cervical": "lumbar", "thoracic": "lumbar", "lumbar": "cervical"}[key]]
		}
	case "thoracic_convex", "lumbar_convex":
		if region, _, _ := strings.Cut(key, "_"); value != "" {
			k.Curves = append(k.Curves, limit.Curve{Region: region, Convex: value, CobbDeg: 20})
		}
	case "large":
		for i := range k.Curves {
			k.Curves[i].CobbDeg = map[bool]float64{true: 45, false: 20}[is]
		}
	default:
		panic("no way to say " + key)
	}
}

// others are values that a key may have beside those a rule names.
var others = map[string][]string{"stage": {"acute", "subacute", "later", "persistent"}, "eases": {"extension", "flexion", "neither"}, "which": {"stenosis", "facet", "slip"},
	"approach": {"posterior", "anterior"}, "period": {"early", "middle", "later"}, "thoracic_convex": {""}, "lumbar_convex": {""}}

func outside(key string, named []string) (string, bool) {
	values := others[key]
	if values == nil {
		values = []string{"true", "false"}
	}
	i := slices.IndexFunc(values, func(v string) bool { return !slices.Contains(named, v) })
	if i < 0 {
		return "", false
	}
	return values[i], true
}

// meets is a client with the rule's condition and every detail it asks for; but
// one key, if named, is answered so that the rule does not hold.
func meets(rule limit.Rule, but string) (limit.Client, bool) {
	calm := 1
	c := limit.Client{Pain: limit.Pain{Now: &calm}, Conditions: []limit.Condition{{ID: rule.Condition}}}
	keys := []string{}
	for key := range rule.If {
		keys = append(keys, key)
	}
	for key := range rule.Unless {
		keys = append(keys, key)
	}
	slices.Sort(keys)
	slices.SortStableFunc(keys, func(a, b string) int { // curves before their size
		return map[bool]int{true: 1}[a == "large"] - map[bool]int{true: 1}[b == "large"]
	})
	for _, key := range keys {
		value, ok := "", true
		if named, must := rule.If[key]; must {
			if value = named[0]; key == but {
				value, ok = outside(key, named)
			}
		} else if value, ok = outside(key, rule.Unless[key]); key == but {
			value, ok = rule.Unless[key][0], true
		}
		if !ok {
			return c, false
		}
		detail(&c, key, value)
	}
	return c, true
}

// TestEveryRuleTriggersAndStopsJustOutside takes every rule of the book by itself:
// each of its figures is broken just beyond and kept just inside, and where one of
// the details it asks for is answered otherwise it says nothing at all.
func TestEveryRuleTriggersAndStopsJustOutside(t *testing.T) {
	l := load(t)
	for _, rule := range l.Rules {
		alone := limit.Rules{rule}
		c, _ := meets(rule, "")
		set := limit.For(c, alone, today)
		speaks := func(m exercise.Measured) bool {
			return slices.ContainsFunc(set.Breaks(m), func(r limit.Reason) bool { return r.Rule == rule.ID })
		}
		rows := 0
		for _, row := range set.Limits {
			if !slices.ContainsFunc(row.Reasons, func(r limit.Reason) bool { return r.Rule == rule.ID }) {
				continue
			}
			rows++
			edge(t, rule, row, speaks)
		}
		assert.GreaterOrEqual(t, rows, len(rule.Limits), "%s sets every limit it writes", rule.ID)
		for _, k := range rule.Session {
			assert.True(t, slices.ContainsFunc(set.Session, func(s limit.SessionCap) bool { return s.Count == k.Count && s.Max <= k.Max }), rule.ID)
		}
		for _, p := range rule.Wants {
			assert.True(t, slices.ContainsFunc(set.Needs, func(n limit.Need) bool { return n.Purpose == p }), rule.ID)
		}
		for _, key := range slices.Concat(keysOf(rule.If), keysOf(rule.Unless)) {
			other, ok := meets(rule, key)
			if !ok {
				continue // every answer is named
			}
			silent := limit.For(other, alone, today)
			for _, row := range silent.Limits {
				assert.False(t, slices.ContainsFunc(row.Reasons, func(r limit.Reason) bool { return r.Rule == rule.ID }), "%s speaks though %s is otherwise", rule.ID, key)
			}
			for _, n := range silent.Needs {
				assert.NotEqual(t, rule.Reason, n.Because, "%s wants though %s is otherwise", rule.ID, key)
			}
		}
	}
}

func keysOf(m map[string][]string) []string {
	var out []string
	for k := range m {
		out = append(out, k)
	}
	return out
}

// edge holds one limit against a value just inside and one just beyond.
func edge(t *testing.T, rule limit.Rule, row limit.Limit, speaks func(exercise.Measured) bool) {
	t.Helper()
	name := row.Quantity
	if row.When != "any" {
		name += "_" + row.When
	}
	most, number := row.Number()
	if row.Quantity == "lumbar_moment" { // rules say it as a share
		most = *rule.Limits[0].Max
	}
	one := func(v float64) exercise.Measured { return exercise.Measured{Numbers: map[string]float64{name: v}} }
	flag := func(flags ...string) exercise.Measured {
		m := exercise.Measured{Flags: map[string]bool{}}
		for _, f := range flags {
			m.Flags[f] = true
		}
		return m
	}
	switch word, isWord := row.Max.(string); {
	case row.With != nil:
		assert.False(t, speaks(exercise.Measured{Moments: []exercise.Spine{together(most-0.5, row.With.Over+1)}}), "%s inside", rule.ID)
		assert.False(t, speaks(exercise.Measured{Moments: []exercise.Spine{together(most+0.5, row.With.Over-0.5)}}), "%s without the other", rule.ID)
		assert.True(t, speaks(exercise.Measured{Moments: []exercise.Spine{together(most+0.5, row.With.Over+1)}}), "%s both", rule.ID)
	case number:
		assert.False(t, speaks(one(most)), "%s: %s of %g is inside", rule.ID, name, most)
		assert.True(t, speaks(one(most+max(0.001, most*0.02))), "%s: %s over %g", rule.ID, name, most)
	case isWord:
		words := map[string][]string{"base_of_support": {"lying", "wide", "seated", "feet_apart", "narrow", "single"}, "spring_load": {"none", "light", "moderate", "heavy"}}[row.Quantity]
		at := slices.Index(words, word)
		assert.False(t, speaks(exercise.Measured{Words: map[string]string{row.Quantity: words[at]}}), rule.ID)
		assert.True(t, speaks(exercise.Measured{Words: map[string]string{row.Quantity: words[at+1]}}), rule.ID)
	default:
		assert.True(t, speaks(flag(row.Quantity)), "%s: %s", rule.ID, row.Quantity)
		assert.False(t, speaks(flag()), rule.ID)
		for _, n := range row.Needs {
			assert.False(t, speaks(flag(row.Quantity, n)), "%s: harmless with %s", rule.ID, n)
		}
	}
}

// together is an instant with the low back rounded and turned so far.
func together(flexion, rotation float64) exercise.Spine {
	var s exercise.Spine
	s[slices.Index(exercise.SpineNames[:], "lumbar_flexion")] = flexion
	s[slices.Index(exercise.SpineNames[:], "lumbar_rotation_left")] = rotation
	return s
}
