package library

import (
	"iter"
	"maps"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// answers are ways to answer a field: all there are of a finite kind, and figures at and
// beside every bound that a fact of the description has.
func answers(d limit.Description, f limit.Field) []any {
	out := []any{nil}
	switch f.Kind {
	case limit.KindChoice:
		for _, c := range f.Choices {
			out = append(out, c.ID)
		}
	case limit.KindSide:
		out = append(out, "left", "right", "both")
	case limit.KindYesNo:
		out = append(out, true, false)
	case limit.KindFigure:
		for _, fact := range d.Facts {
			for _, b := range fact.Bands {
				for _, bound := range []*float64{b.Under, b.To} {
					if bound != nil && fact.From == f.ID {
						out = append(out, *bound-0.5, *bound, *bound+0.5)
					}
				}
			}
		}
	case limit.KindLevels:
		out = append(out, "C3-C4", "T5-T6", "L3-L4", "T11-L2")
	case limit.KindPressure:
		out = append(out, "128/78", "148/92", "165/95", "185/95")
	case limit.KindCurves:
		for _, cobb := range []float64{20, 45} {
			for _, side := range []string{"left", "right"} {
				for _, region := range limit.Regions {
					out = append(out, []limit.Curve{{Region: region, Convex: side, CobbDeg: cobb}})
				}
			}
		}
	}
	return out
}

// everybody walks clients with the condition, in all the ways it can be answered about.
func everybody(d limit.Description) iter.Seq2[limit.Client, map[string]string] {
	return func(yield func(limit.Client, map[string]string) bool) {
		var walk func(c limit.Client, k limit.Condition, left []limit.Field) bool
		walk = func(c limit.Client, k limit.Condition, left []limit.Field) bool {
			if len(left) == 0 {
				c.Conditions = []limit.Condition{k}
				facts, _ := d.FactsOf(k, c, today)
				return yield(c, facts)
			}
			for _, a := range answers(d, left[0]) {
				if !walk(c, k.With(left[0].ID, a), left[1:]) {
					return false
				}
			}
			return true
		}
		for _, pain := range []int{1, 4} {
			for _, strict := range []bool{false, true} {
				if !walk(limit.Client{Pain: limit.Pain{Now: &pain}, Strict: strict}, limit.Condition{ID: d.ID}, d.Fields) {
					return
				}
			}
		}
	}
}

// meets is a client with the rule's condition for whom it holds; but where one fact is
// named, one for whom every fact is right but that.
func meets(d limit.Description, rule limit.Rule, but string) (limit.Client, bool) {
	want := rule
	want.If, want.Unless = maps.Clone(rule.If), maps.Clone(rule.Unless)
	delete(want.If, but)
	delete(want.Unless, but)
	for c, facts := range everybody(d) {
		if want.Holds(facts) && rule.Holds(facts) == (but == "") {
			return c, true
		}
	}
	return limit.Client{}, false
}

// alone is one condition with one rule.
func alone(d limit.Description, rule limit.Rule) limit.Conditions {
	d.Rules, d.Becomes = []limit.Rule{rule}, nil
	return limit.Conditions{d}
}

// TestSafetyEveryRuleTriggersAndStopsJustOutside takes every rule by itself:
// each of its figures is broken just beyond and kept just inside, and where one of
// the facts it asks for is otherwise it says nothing at all.
func TestSafetyEveryRuleTriggersAndStopsJustOutside(t *testing.T) {
	l := load(t)
	for _, d := range l.Conditions {
		for _, rule := range d.Rules {
			c, ok := meets(d, rule, "")
			require.True(t, ok, "%s can hold for nobody", rule.ID)
			set := limit.For(c, alone(d, rule), today)
			speaks := func(m exercise.Measured) bool {
				return slices.ContainsFunc(set.Breaks(m), func(r limit.Reason) bool { return r.Rule == rule.ID })
			}
			rows := rowsOf(set, rule.ID)
			for _, row := range rows {
				edge(t, rule, row, speaks)
			}
			assert.GreaterOrEqual(t, len(rows), len(rule.Limits), "%s sets every limit it writes", rule.ID)
			assert.Equal(t, rule.Refer, slices.ContainsFunc(set.Refer(), func(r limit.Reason) bool { return r.Rule == rule.ID }), rule.ID)
			for _, k := range rule.Session {
				assert.True(t,
					slices.ContainsFunc(set.Session(), func(s limit.SessionCap) bool { return s.Count == k.Count && s.Max == k.Max }),
					rule.ID,
				)
			}
			for _, p := range rule.Wants {
				assert.True(t, slices.ContainsFunc(set.Needs, func(n limit.Need) bool { return n.Purpose == p }), rule.ID)
			}
			assert.Equal(t, slices.Contains(rule.Manner, "first_rungs"), set.FirstRungs, rule.ID)
			assert.Equal(t, slices.Contains(rule.Manner, "even_rest"), set.EvenRest, rule.ID)
			for _, fact := range append(slices.Collect(maps.Keys(rule.If)), slices.Collect(maps.Keys(rule.Unless))...) {
				other, ok := meets(d, rule, fact)
				if !ok {
					continue // every answer is named
				}
				silent := limit.For(other, alone(d, rule), today)
				assert.Empty(t, rowsOf(silent, rule.ID), "%s speaks though %s is otherwise", rule.ID, fact)
				assert.Empty(t, silent.Refer(), "%s refers though %s is otherwise", rule.ID, fact)
				for _, n := range silent.Needs {
					assert.NotEqual(t, rule.Reason, n.Because, "%s wants though %s is otherwise", rule.ID, fact)
				}
			}
		}
	}
}

// rowsOf are the rows that a rule has a part in.
func rowsOf(set limit.Limits, rule string) []limit.Limit {
	var out []limit.Limit
	for row := range set.Rows() {
		if slices.ContainsFunc(row.Reasons, func(r limit.Reason) bool { return r.Rule == rule }) {
			out = append(out, row)
		}
	}
	return out
}

// edge holds one limit against a value just inside and one just beyond.
func edge(t *testing.T, rule limit.Rule, row limit.Limit, speaks func(exercise.Measured) bool) {
	t.Helper()
	name := row.Quantity
	if row.When != exercise.WhenAny {
		name += "_" + string(row.When)
	}
	most, number := row.Number()
	if row.Quantity == "lumbar_moment" { // rules say it as a share
		for _, l := range rule.Limits {
			if l.Quantity == "lumbar_moment" {
				if most = 0; l.Weeks != nil {
					most = l.Weeks.First
				} else {
					most = *l.Max
				}
			}
		}
	}
	over := max(0.001, most*0.02)
	if q, _ := exercise.Split(row.Quantity); q.Unit == exercise.Degrees { // half a degree passes
		over = 0.6
	}
	at := func(name string, v any) exercise.Measured { return exercise.AtRest().With(name, v) }
	moment := func(flexion, rotation float64) exercise.Measured {
		m := exercise.AtRest()
		m.Moments = []exercise.Spine{together(flexion, rotation)}
		return m
	}
	q, _ := exercise.Split(row.Quantity)
	switch word, isWord := row.Max.(string); {
	case row.With != nil:
		assert.False(t, speaks(moment(most-0.5, row.With.Over+1)), "%s inside", rule.ID)
		assert.False(t, speaks(moment(most+0.5, row.With.Over-0.5)), "%s without the other", rule.ID)
		assert.True(t, speaks(moment(most+over, row.With.Over+1)), "%s both", rule.ID)
	case number && row.Protects: // a moving end stays away, a resting one does not
		q, side := exercise.Split(row.Quantity)
		still := q.ID + "_resting"
		if side != "" {
			still += "_" + side
		}
		assert.False(t, speaks(at(name, most-limit.MovingMargin)), "%s: %s moving inside %g", rule.ID, name, most)
		assert.True(t, speaks(at(name, most-limit.MovingMargin+over+0.5)), "%s: %s moving near %g", rule.ID, name, most)
		assert.False(t, speaks(at(name, most).With(still, most)), "%s: %s resting at %g", rule.ID, name, most)
		assert.True(t, speaks(at(name, most+over).With(still, most+over)), "%s: %s resting over %g", rule.ID, name, most)
	case number:
		assert.False(t, speaks(at(name, most)), "%s: %s of %g is inside", rule.ID, name, most)
		assert.True(t, speaks(at(name, most+over)), "%s: %s over %g", rule.ID, name, most)
	case isWord:
		i := slices.Index(q.Order, word)
		assert.False(t, speaks(at(row.Quantity, q.Order[i])), rule.ID)
		assert.True(t, speaks(at(row.Quantity, q.Order[i+1])), rule.ID)
	default:
		assert.True(t, speaks(at(row.Quantity, true)), "%s: %s", rule.ID, row.Quantity)
		assert.False(t, speaks(exercise.AtRest()), rule.ID)
		for _, n := range row.Needs {
			assert.False(t, speaks(at(row.Quantity, true).With(n, true)), "%s: harmless with %s", rule.ID, n)
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
