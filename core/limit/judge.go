package limit

import (
	"math"
	"runtime"
	"slices"
	"sync"
	"sync/atomic"

	"restbend/core/exercise"
)

// Judgement is the verdict on one variant for one client, as it is done with what
// there is.
type Judgement struct {
	Verdict     exercise.Verdict
	Form        *exercise.Form // the form to be taught; the plain one when it suits
	Adaptations []exercise.Adaptation
	Reasons     []Reason // what the plain form would break
	// Sides are the verdicts on the two sides by themselves, where they differ: a sore
	// left shoulder does not bar lying on the right.
	Sides map[string]SideVerdict
	Only  string // the side that this is the judgement of, when it is of one alone
	Fit
}

// SideVerdict is the verdict on one side of a variant.
type SideVerdict struct {
	Verdict exercise.Verdict `json:"verdict"`
	Reasons []Reason         `json:"reasons"`
	form    *exercise.Form
}

// On is the judgement on one side alone, of those that Sides names.
func (j Judgement) On(side string) Judgement {
	s, ok := j.Sides[side]
	if !ok {
		return j
	}
	j.Verdict, j.Reasons, j.Form, j.Only, j.Sides = s.Verdict, s.Reasons, s.form, side, nil
	if j.Adaptations = nil; s.Verdict == exercise.Adapt {
		j.Adaptations = s.form.Adaptations
	}
	return j
}

// Free is the side that is less barred than the other; empty where there is none.
func (j Judgement) Free() string {
	left, right := j.Sides["left"].Verdict, j.Sides["right"].Verdict
	switch {
	case j.Sides == nil:
		return ""
	case worse(left, right):
		return "right"
	}
	return "left"
}

// Measured is what was measured of the form, on the one side where it is of one.
func (j Judgement) Measured() exercise.Measured { return j.Form.Measured.On(j.Only) }

// Judge is the one judge: whether the variant suits a client as it is, done with what
// there is, needs adapting, or is to be avoided. Of the adapted forms it takes the one
// with the fewest adaptations that is inside every limit, then the one that loses least
// range, then the first listed. Every form was measured; nothing is assumed.
func Judge(s Limits, v *exercise.Variant, kit Kit) Judgement {
	fit := Fit{Settings: v.Settings}
	j := s.onSurface(v, kit, &fit)
	kit.smallThings(v.Settings, &fit)
	j.Fit = fit
	return j
}

// judge is Judge for a variant as it is written.
func (s Limits) judge(v *exercise.Variant) Judgement {
	both := s.judgeSide(v, "")
	j := Judgement{Verdict: both.Verdict, Form: both.form, Reasons: both.Reasons}
	if both.Verdict == exercise.Adapt {
		j.Adaptations = both.form.Adaptations
	}
	if v.Sided() && both.Verdict != exercise.Suits {
		left, right := s.judgeSide(v, "left"), s.judgeSide(v, "right")
		if left.Verdict != right.Verdict {
			j.Sides = map[string]SideVerdict{"left": left, "right": right}
		}
	}
	return j
}

// judgeSide judges one side, or both together.
func (s Limits) judgeSide(v *exercise.Variant, side string) SideVerdict {
	broken := s.Breaks(v.Plain().Measured.On(side))
	out := SideVerdict{exercise.Suits, broken, v.Plain()}
	if len(broken) == 0 {
		return out
	}
	out.Verdict = exercise.Avoid
	for f := range v.Adapted() {
		if f.For != "" && !s.needsFists(v, f, side) {
			continue
		}
		if len(s.Breaks(f.Measured.On(side))) == 0 {
			return SideVerdict{exercise.Adapt, broken, f}
		}
	}
	return out
}

// needsFists says whether a form on fists is needed for what fists spare and for nothing else: with
// the hands flat, limits on that quantity alone are broken.
func (s Limits) needsFists(v *exercise.Variant, f *exercise.Form, side string) bool {
	rest := v.FormOf(slices.DeleteFunc(slices.Clone(f.Adaptations), func(a exercise.Adaptation) bool { return a.ID == exercise.Fists }))
	broken := s.Breaks(rest.Measured.On(side))
	return len(broken) > 0 && !slices.ContainsFunc(broken, func(r Reason) bool {
		q, _ := exercise.Split(r.Quantity)
		return q == nil || q.ID != f.For
	})
}

// JudgeAll is Judge for many variants, in their order. Forms that nobody asked for
// yet are measured on the way, so several variants are judged at once.
func JudgeAll(s Limits, variants []*exercise.Variant, kit Kit) []Judgement {
	out := make([]Judgement, len(variants))
	var next atomic.Int64
	var working sync.WaitGroup
	for range min(len(variants), runtime.GOMAXPROCS(0)) {
		working.Go(func() {
			for i := next.Add(1) - 1; i < int64(len(variants)); i = next.Add(1) - 1 {
				out[i] = Judge(s, variants[i], kit)
			}
		})
	}
	working.Wait()
	return out
}

// Breaks lists every limit that the measured quantities break, with value and
// limit.
func (s Limits) Breaks(m exercise.Measured) []Reason {
	var out []Reason
	for _, l := range s.rows {
		v, broken := l.breaks(m)
		if !broken {
			continue
		}
		value, limit := s.published(l.key.Quantity, v), l.Max
		if l.Allowed != nil {
			limit = *l.Allowed
		}
		for _, r := range l.Reasons {
			if math.IsNaN(v) {
				r.Text += " " + notMeasured
			}
			r.Quantity, r.Value, r.Limit = l.Quantity, value, limit
			out = append(out, r)
		}
	}
	return out
}

// notMeasured follows the reason of a limit on something that was not measured.
const notMeasured = "It was not measured of this form, so it counts as beyond the limit."

// published is a value as reasons give it; nil where it was not measured.
func (s Limits) published(q *exercise.Quantity, v float64) any {
	switch {
	case q == nil || math.IsNaN(v):
		return nil
	case q.Kind == exercise.Flag:
		return v == 1
	case q.Kind == exercise.Word:
		return q.Order[int(v)]
	case q.ID == "lumbar_moment":
		return round(exercise.NewtonMetres(v, s.HeightCM, s.MassKG), 1)
	}
	return round(v, 3)
}
