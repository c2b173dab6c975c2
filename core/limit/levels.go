package limit

import (
	"regexp"
	"slices"
	"strconv"
	"strings"
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

// fusedRegions reads fused levels such as "L4-S1" or "T11-L2" and names the
// regions they belong to, with a neighbour when the fusion ends within two
// levels of it. ok is false when it cannot be read.
func fusedRegions(levels string) (regions []string, ok bool) {
	first := map[string]int{"C": 0, "T": 7, "L": 19, "S": 24}
	most := map[string]int{"C": 7, "T": 12, "L": 5, "S": 5}
	var ends []int
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
		ends = append(ends, first[m[1]]+n-1)
	}
	if len(ends) == 0 {
		return nil, false
	}
	lo, hi := slices.Min(ends), slices.Max(ends)
	if lo >= first["S"] { // within the sacrum alone: the low back is free
		return nil, true
	}
	for _, r := range []struct {
		name     string
		from, to int
	}{{"cervical", 0, 6}, {"thoracic", 7, 18}, {"lumbar", 19, 23}} {
		const reach = 2
		if lo <= r.to+reach && hi >= r.from-reach {
			regions = append(regions, r.name)
		}
	}
	return regions, true
}
