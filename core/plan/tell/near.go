package tell

import (
	"fmt"
	"math"
)

// Near says how near to the best a session is that was just found, by the share of its worth
// that any other could be better at most. What is proved is about what is weighed here; a
// teacher may weigh otherwise.
func Near(missed float64) string {
	const weighed = " by what is weighed here; that is proved."
	switch percent := 100 * missed; {
	case percent < 0.05:
		return "No other session of this library is better" + weighed
	case percent < 1:
		return "No other session of this library is better by as much as one part in a hundred" + weighed
	default:
		return fmt.Sprintf(
			"No other session of this library is better by more than %.0f parts in a hundred",
			math.Ceil(percent),
		) + weighed
	}
}
