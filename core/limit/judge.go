package limit

import (
	"runtime"
	"slices"
	"strings"
	"sync"
	"sync/atomic"

	"restbend/core/exercise"
)

// Judgement is the verdict on one variant for one client.
type Judgement struct {
	Verdict     exercise.Verdict
	Form        *exercise.Form // the form to be taught; the plain one when it suits
	Adaptations []exercise.Adaptation
	Reasons     []Reason // what the plain form would break
}

// Judge says whether the variant suits as it is, needs adapting, or is to be
// avoided. Of the adapted forms it takes the one with the fewest adaptations
// that is inside every limit, then the one that loses least range, then the
// first listed. Every form was measured; nothing is assumed.
func Judge(s Set, v *exercise.Variant) Judgement {
	broken := s.Breaks(v.Plain().Measured)
	j := Judgement{Verdict: exercise.Suits, Form: v.Plain(), Reasons: broken}
	if len(broken) == 0 {
		return j
	}
	j.Verdict = exercise.Avoid
	for f := range v.Adapted() {
		if len(s.Breaks(f.Measured)) == 0 {
			return Judgement{exercise.Adapt, f, f.Adaptations, broken}
		}
	}
	return j
}

// JudgeAll is Judge for many variants, in their order. Forms that nobody asked for
// yet are measured on the way, so several variants are judged at once.
func JudgeAll(s Set, variants []*exercise.Variant) []Judgement {
	out := make([]Judgement, len(variants))
	var next atomic.Int64
	var working sync.WaitGroup
	for range min(len(variants), runtime.GOMAXPROCS(0)) {
		working.Go(func() {
			for i := next.Add(1) - 1; i < int64(len(variants)); i = next.Add(1) - 1 {
				out[i] = Judge(s, variants[i])
			}
		})
	}
	working.Wait()
	return out
}

// Breaks lists every limit that the measured quantities break, with value and
// limit.
func (s Set) Breaks(m exercise.Measured) []Reason {
	var out []Reason
	for _, l := range s.Limits {
		value, broken := l.breaks(m)
		if !broken {
			continue
		}
		limit := l.Max
		if l.Quantity == "lumbar_moment" {
			value = round(exercise.NewtonMetres(value.(float64), s.HeightCM, s.MassKG), 1)
		} else if v, ok := value.(float64); ok {
			value = round(v, 3)
		}
		if l.Allowed != nil {
			limit = *l.Allowed
		}
		for _, r := range l.Reasons {
			r.Quantity, r.Value, r.Limit = l.Quantity, value, limit
			out = append(out, r)
		}
	}
	return out
}

// slack forgives rounding: a published figure is rounded to a tenth.
const slack = 0.0001

func (l Limit) breaks(m exercise.Measured) (any, bool) {
	for _, n := range l.Needs {
		if m.Flags[n] {
			return nil, false
		}
	}
	switch max := l.Max.(type) {
	case string:
		words, v := wordsOf(l.Quantity), m.Words[l.Quantity]
		return v, slices.Index(words, v) > slices.Index(words, max)
	case float64:
		if l.Quantity == "lumbar_moment" {
			max = l.share
		}
		if l.With != nil {
			return l.together(m, max)
		}
		name := l.Quantity
		if l.When != "any" {
			name += "_" + l.When
		}
		v := worst(m.Numbers, name)
		return v, v > max+slack
	}
	v := m.Flags[l.Quantity]
	return v, v && l.Allowed != nil && !*l.Allowed
}

// together looks for an instant at which both quantities are over.
func (l Limit) together(m exercise.Measured, max float64) (any, bool) {
	for _, moment := range m.Moments {
		if v := moment.Worst(l.Quantity); v > max+slack && moment.Worst(l.With.Quantity) > l.With.Over {
			return v, true
		}
	}
	return 0.0, false
}

// worst is the value of a quantity, or of its worse side when only the sides
// are kept.
func worst(values map[string]float64, name string) float64 {
	if v, ok := values[name]; ok {
		return v
	}
	suffix := ""
	for _, s := range []string{"_loaded", "_held", "_fast"} {
		if cut, ok := strings.CutSuffix(name, s); ok {
			name, suffix = cut, s
		}
	}
	return max(values[name+"_left"+suffix], values[name+"_right"+suffix])
}
