package web

import (
	"math"
	"strconv"
	"strings"
)

// readNumber reads a figure as people write it, with a point or a comma and with
// either minus sign; false for anything else, also for what only computers call a
// number.
func readNumber(text string) (float64, bool) {
	text = strings.NewReplacer("−", "-", ",", ".").Replace(strings.TrimSpace(text))
	if strings.ContainsAny(text, "xXpP_") {
		return 0, false
	}
	n, err := strconv.ParseFloat(text, 64)
	return n, err == nil && !math.IsNaN(n) && !math.IsInf(n, 0)
}
