package optimize

import "math/bits"

// Possible says whether there are ways for everybody in as many kinds as may be side by
// side.
func (o Option) Possible() bool {
	of := 0
	for _, ways := range o.Shares {
		for _, w := range ways {
			for _, u := range w.Units {
				of = max(of, u.Feature+1)
			}
		}
	}
	return o.Pick(make([]float64, of), &Choice{}) > none
}

// byKind is the best that each share has of each kind at some prices, and which way it is.
type byKind struct {
	worth [MostShares][MostKinds]float64
	way   [MostShares][MostKinds]uint8
}

// apart fills in what the ways of each share are worth at prices and gives each the one
// worth most, whatever the others take; it returns what they would be worth and all kinds
// there are. None where somebody has no way.
func (o *Option) apart(of []float64, k *byKind, x *Choice) (sum float64, all uint16) {
	kinds := uint16(0)
	for n, ways := range o.Shares {
		row := &k.worth[n]
		for i := range row {
			row[i] = none
		}
		best, at := none, 0
		for m := range ways {
			w := ways[m].Own
			for _, u := range ways[m].Units {
				w += of[u.Feature] * u.Amount
			}
			kind := ways[m].Kind
			all |= 1 << kind
			if w > row[kind] {
				row[kind], k.way[n][kind] = w, uint8(m)
			}
			if w > best {
				best, at = w, m
			}
		}
		if len(ways) == 0 {
			return none, 0
		}
		sum += best
		x.Picks[n], kinds = uint8(at), kinds|1<<ways[at].Kind
	}
	return sum, all
}

// Pick gives each share a way so that all together are worth most at the prices of the
// features, with no more kinds side by side than the option allows, and returns what they
// are worth; minus infinity where there is no such way for everybody.
func (o *Option) Pick(of []float64, x *Choice) float64 {
	return o.pickOver(of, none, x)
}

// pickOver is Pick where it is worth more than least; else it may be what would be worth as
// much at most.
func (o *Option) pickOver(of []float64, least float64, x *Choice) float64 {
	var k byKind
	sum, all := o.apart(of, &k, x)
	if sum <= least {
		return sum
	}
	switch n := o.Together(*x); {
	case n == 1, o.More == 0 && (o.Kinds == 0 || n <= o.Kinds):
		return sum - o.More*float64(n-1)
	}
	return o.pickAmong(&k, all, x)
}

// pickAmong looks at every set of kinds that may be side by side.
func (o *Option) pickAmong(k *byKind, all uint16, x *Choice) float64 {
	best, kept := none, uint16(0)
	for set := all; set != 0; set = (set - 1) & all { // every part of all
		n := bits.OnesCount16(set)
		if o.Kinds > 0 && n > o.Kinds {
			continue
		}
		sum := -o.More * float64(n-1)
		for s := range o.Shares {
			most := none
			for r := set; r != 0; r &= r - 1 {
				if w := k.worth[s][bits.TrailingZeros16(r)]; w > most {
					most = w
				}
			}
			sum += most
		}
		if sum > best {
			best, kept = sum, set
		}
	}
	if best == none {
		return none
	}
	for s := range o.Shares {
		most := none
		for r := kept; r != 0; r &= r - 1 {
			if kind := bits.TrailingZeros16(r); k.worth[s][kind] > most {
				most, x.Picks[s] = k.worth[s][kind], k.way[s][kind]
			}
		}
	}
	return best
}

// Together is how many kinds of ways are side by side in a choice.
func (o *Option) Together(x Choice) int {
	kinds := uint16(0)
	for n, ways := range o.Shares {
		kinds |= 1 << ways[x.Picks[n]].Kind
	}
	return bits.OnesCount16(kinds)
}

// apartness is what the kinds side by side in a choice cost.
func (o *Option) apartness(x Choice) float64 {
	if o.More == 0 || len(o.Shares) == 0 {
		return 0
	}
	return o.More * float64(o.Together(x)-1)
}
