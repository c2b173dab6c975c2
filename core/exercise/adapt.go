package exercise

import (
	"cmp"
	"slices"
)

// Adaptation is one change that keeps the purpose.
type Adaptation struct {
	ID   string `json:"id"`
	Text string `json:"text"`
}

// AdaptationIDs are the adaptations that can be carried out on a movement.
var AdaptationIDs = []string{"smaller_range", "allowed_directions_only", "head_down", "flat_back", "arms_lower", "shorter_hold",
	"raise_surface", "higher_seat", "support_hand", "pillow", "bent_lever", "one_limb", "hands_swapped", "fists"}

// smallerRanges are the sizes tried, largest first.
var smallerRanges = []struct {
	share float64
	words string
}{{0.75, "three quarters"}, {0.5, "half"}, {0.25, "a quarter"}}

// Adaptations lists every adapted form of a movement, fewest adaptations first,
// then least range lost, then in the order the variant lists them.
func Adaptations(m Movement, may []string) []*Form {
	var singles, pairs []*Form
	for i, id := range may {
		for _, f := range adapt(m, id) {
			singles = append(singles, f)
			for _, second := range may[i+1:] {
				for _, g := range adapt(f.Movement, second) {
					pairs = append(pairs,
						&Form{
							Adaptations: append(slices.Clone(f.Adaptations), g.Adaptations...),
							Movement:    g.Movement,
							Lost:        1 - (1-f.Lost)*(1-g.Lost),
							For:         cmp.Or(f.For, g.For),
						},
					)
				}
			}
		}
	}
	byLoss := func(a, b *Form) int {
		switch {
		case a.Lost < b.Lost:
			return -1
		case a.Lost > b.Lost:
			return 1
		}
		return 0
	}
	slices.SortStableFunc(singles, byLoss)
	slices.SortStableFunc(pairs, byLoss)
	return append(singles, pairs...)
}
