package plan

import (
	"math"
	"slices"

	"restbend/core/limit"
)

// mostArranged is the longest block whose orders are all tried.
const mostArranged = 7

// arranged puts the exercises of each block, those of one phase in one position,
// into their best order: the most demanding third or fourth, no two heavy ones
// side by side, otherwise rising (common practice). The times do not change by it.
func arranged(items []Item) []Item {
	out := slices.Clone(items)
	for from := 0; from < len(out); {
		to := from + 1
		for to < len(out) && out[to].Phase == out[from].Phase && out[to].Position == out[from].Position && out[to-1].EndPosition == out[from].Position && out[to].EndPosition == out[from].Position {
			to++
		}
		if n := to - from; n > 2 && n <= mostArranged && out[from].EndPosition == out[from].Position {
			copy(out[from:to], bestOrder(out[from:to]))
		}
		from = to
	}
	return out
}

// bestOrder tries every order and keeps the first of the best.
func bestOrder(block []Item) []Item {
	best, least := slices.Clone(block), math.Inf(1)
	now := slices.Clone(block)
	var try func(k int)
	try = func(k int) {
		if k == len(now) {
			if c := unrest(now); c < least-1e-9 {
				best, least = slices.Clone(now), c
			}
			return
		}
		for i := k; i < len(now); i++ {
			now[k], now[i] = now[i], now[k]
			try(k + 1)
			now[k], now[i] = now[i], now[k]
		}
	}
	try(0)
	return best
}

// unrest is how far an order is from the one practice asks for.
func unrest(block []Item) float64 {
	hardest, sum := 0, 0.0
	for i, it := range block {
		if it.Demand > block[hardest].Demand {
			hardest = i
		}
		if i > 0 {
			if it.Demand >= limit.HeavyDemand && block[i-1].Demand >= limit.HeavyDemand {
				sum += 10
			}
			sum += 0.1 * math.Max(0, block[i-1].Demand-it.Demand) // a fall of load before the end
		}
	}
	// Only what is work has a hardest one worth placing.
	if block[hardest].Demand > 2 {
		switch want := min(2, len(block)-1); {
		case hardest < want:
			sum += float64(want - hardest)
		case hardest > 3:
			sum += float64(hardest - 3)
		}
	}
	return sum
}
