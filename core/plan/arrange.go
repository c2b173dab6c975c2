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
		for to < len(out) && out[to].Phase == out[from].Phase && out[to].Position == out[from].Position &&
			out[to-1].EndPosition == out[from].Position && out[to].EndPosition == out[from].Position {
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

// mostBlocks is the most blocks of one phase whose orders are all tried.
const mostBlocks = 5

// reordered puts the blocks of each phase into the order in which the least is lost on moving
// about, which the choosing, with its one order of positions, does not see. It is taken where
// the minutes come out as well as before.
func (p *Plan) reordered(r Request, f frame, target int) {
	for phase := range f.phases {
		from := slices.IndexFunc(p.Items, func(it Item) bool { return f.phase(it.Phase) == phase })
		if from < 0 {
			continue
		}
		to := from
		for to < len(p.Items) && f.phase(p.Items[to].Phase) == phase {
			to++
		}
		best := *p
		least := p.moving(f)
		everyOrder(blocksOf(p.Items[from:to]), func(middle []Item) {
			next := *p
			next.Items = slices.Concat(p.Items[:from], middle, p.Items[to:])
			if !f.mayFollow(next.Items) {
				return
			}
			if cost := next.moving(f); cost < least-1e-9 {
				next.retimeFrom(r, f.from)
				if near := math.Abs(next.SecondsTotal - float64(target)); near <= math.Max(
					math.Abs(p.SecondsTotal-float64(target)),
					nearMinutes*float64(target),
				) {
					best, least = next, cost
				}
			}
		})
		*p = best
	}
}

// moving is what the ways of a session cost.
func (p *Plan) moving(f frame) float64 {
	at, cost := f.from, 0.0
	for _, it := range p.Items {
		cost += moveCost(f.place, at, it.Position)
		at = it.EndPosition
	}
	return cost + moveCost(f.place, at, standingPosition)
}

// mayFollow says whether nobody is sent down to the floor again once up.
func (f frame) mayFollow(items []Item) bool {
	at := f.from
	for i, it := range items {
		down := isFloor(f.place, it.Position) && !isFloor(f.place, at)
		if down && (i == 0 && f.stayUp || i > 0 && !(f.standing && f.phase(items[i-1].Phase) == 0)) {
			return false
		}
		at = it.EndPosition
	}
	return true
}

// blocksOf are the runs of items that start in one position.
func blocksOf(items []Item) (out [][]Item) {
	for _, it := range items {
		if n := len(out); n > 0 && out[n-1][0].Position == it.Position {
			out[n-1] = append(out[n-1], it)
			continue
		}
		out = append(out, []Item{it})
	}
	return out
}

// everyOrder visits the blocks in every order, as one list, where they are not too many.
func everyOrder(blocks [][]Item, visit func([]Item)) {
	if len(blocks) < 2 || len(blocks) > mostBlocks {
		return
	}
	var try func(k int)
	try = func(k int) {
		if k == len(blocks) {
			visit(slices.Concat(blocks...))
			return
		}
		for i := k; i < len(blocks); i++ {
			blocks[k], blocks[i] = blocks[i], blocks[k]
			try(k + 1)
			blocks[k], blocks[i] = blocks[i], blocks[k]
		}
	}
	try(0)
}
