package limit

import (
	"regexp"
	"slices"
	"strconv"
	"strings"

	"restbend/core/exercise"
)

func otherSide(side string) string {
	if side == "left" {
		return "right"
	}
	return "left"
}

var levelName = regexp.MustCompile(`^\s*([CTLS])\s*(\d{1,2})\s*$`)

// knownLevels says whether fused levels can be read.
func knownLevels(levels string) bool {
	_, ok := fusedRegions(levels)
	return ok
}

// segments are the motion segments of each region, by the vertebra above: C1 is 0, L5 is 23.
var segments = map[string][2]int{"cervical": {0, 6}, "thoracic": {7, 18}, "lumbar": {19, 23}}

const (
	leastFree = 5.0 // degrees that a region always has
	// besideFused is the share of the ordinary that the segments next to a fusion are given, since
	// they take over (common practice).
	besideFused = 0.8
)

// freeRange is the lesser of a figure in degrees and of what the segments of a region allow that no
// fusion holds: their share of the ordinary range, the neighbours of the fusion counting for less.
// Of levels that nobody knows no segment is free.
func freeRange(quantity, levels string, figure float64) float64 {
	region, _, _ := strings.Cut(quantity, "_")
	ordinary, known := exercise.OrdinaryRange(quantity)
	s, ok := segments[region]
	if !known || !ok {
		return figure
	}
	free := 0.0
	if lo, hi, read := fusedSpan(levels); read {
		for k := s[0]; k <= s[1]; k++ { // between vertebra k and k+1
			switch {
			case k >= lo && k < hi:
			case k == lo-1 || k == hi:
				free += besideFused
			default:
				free++
			}
		}
	}
	return min(figure, max(leastFree, round(free/float64(s[1]-s[0]+1)*ordinary, 1)))
}

// fusedSpan is the first and the last of the fused vertebrae.
func fusedSpan(levels string) (lo, hi int, ok bool) {
	ends, ok := fusedEnds(levels)
	if !ok {
		return 0, 0, false
	}
	return slices.Min(ends), slices.Max(ends), true
}

// fusedRegions reads fused levels such as "L4-S1" or "T11-L2" and names the
// regions they belong to, with a neighbour when the fusion ends within two
// levels of it. ok is false when it cannot be read.
func fusedRegions(levels string) (regions []string, ok bool) {
	lo, hi, ok := fusedSpan(levels)
	if !ok {
		return nil, false
	}
	if lo >= firstVertebra["S"] { // within the sacrum alone: the low back is free
		return nil, true
	}
	for _, r := range Regions {
		const reach = 2
		if lo <= segments[r][1]+reach && hi >= segments[r][0]-reach {
			regions = append(regions, r)
		}
	}
	return regions, true
}

var firstVertebra = map[string]int{"C": 0, "T": 7, "L": 19, "S": 24}

// fusedEnds are the vertebrae that levels name, C1 being 0.
func fusedEnds(levels string) (ends []int, ok bool) {
	most := map[string]int{"C": 7, "T": 12, "L": 5, "S": 5}
	for _, word := range strings.FieldsFunc(strings.ToUpper(levels), func(r rune) bool {
		return r == '-' || r == '–' || r == '/' ||
			r == ',' || r == ' '
	}) {
		m := levelName.FindStringSubmatch(word)
		if m == nil {
			return nil, false
		}
		n, _ := strconv.Atoi(m[2])
		if n < 1 || n > most[m[1]] {
			return nil, false
		}
		ends = append(ends, firstVertebra[m[1]]+n-1)
	}
	return ends, len(ends) > 0
}
