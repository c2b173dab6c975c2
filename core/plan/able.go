package plan

import (
	"math"
	"slices"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// strengths are the measures that show what a client can do already, with the purposes they
// speak of: from one figure on the client begins a rung further up a ladder, from
// another two (common practice; the figures are this product's own).
var strengths = []struct {
	measure  string
	purposes []exercise.Purpose
	one, two float64
}{
	{"plank_hold_s", []exercise.Purpose{"anti_extension", "trunk_flexor_endurance"}, 30, 60},
	{"trunk_flexor_hold_s", []exercise.Purpose{"trunk_flexor_endurance", "deep_core"}, 45, 90},
	{"back_extensor_hold_s", []exercise.Purpose{"back_extensor_endurance"}, 45, 90},
	{"side_bridge_s", []exercise.Purpose{"lateral_stability", "anti_rotation"}, 30, 60},
	{"single_leg_stance_s", []exercise.Purpose{"balance"}, 20, 45},
	{"chair_stand_30s", []exercise.Purpose{"leg_strength"}, 15, 20},
}

// headStarts are the rungs that measures allow to begin further up, by the purpose that
// leads an exercise; none for whoever is sore or begins low. Of two sides the lesser counts.
func (r Request) headStarts() map[exercise.Purpose]int {
	out := map[exercise.Purpose]int{}
	if r.Limits.Irritability > limit.Calm || r.Limits.FirstRungs {
		return out
	}
	for _, k := range strengths {
		bySide := map[string]float64{} // the latest
		for _, m := range r.Client.Measures {
			if m.ID == k.measure {
				bySide[m.Side] = m.Value
			}
		}
		least := math.Inf(1)
		for _, v := range bySide {
			least = math.Min(least, v)
		}
		rungs := 0
		switch {
		case math.IsInf(least, 1):
		case least >= k.two:
			rungs = 2
		case least >= k.one:
			rungs = 1
		}
		for _, p := range k.purposes {
			if slices.ContainsFunc(r.failed, func(t limit.ScreenTest) bool { return slices.Contains(t.Needs, p) }) {
				continue // seen to fail, however strong
			}
			out[p] = max(out[p], rungs)
		}
	}
	return out
}

// starts are the depths at which each family begins here, by the candidates there are.
func (r Request) starts(cs []candidate) map[string]int {
	out := map[string]int{}
	for _, c := range cs {
		if d, ok := out[c.variant.Family]; !ok || r.lib.depth(c.variant) < d {
			out[c.variant.Family] = r.lib.depth(c.variant)
		}
	}
	return out
}

// off is how many rungs a candidate lies from where the client may begin.
func (r Request) off(c candidate, starts map[string]int) int {
	from := starts[c.variant.Family] + r.heads[c.variant.Purposes[0]]
	return max(r.lib.depth(c.variant)-from, from-r.lib.depth(c.variant))
}
