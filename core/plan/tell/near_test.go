package tell

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestNear(t *testing.T) {
	for missed, says := range map[float64]string{0: "is better by what", 0.0004: "is better by what", 0.004: "one part in a hundred",
		0.0101: "more than 2 parts", 0.018: "more than 2 parts", 0.5: "more than 50 parts"} {
		assert.Contains(t, Near(missed), says)
	}
}
