package web

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestNumbersAsPeopleWriteThem(t *testing.T) {
	for text, want := range map[string]float64{"164,5": 164.5, " 164.5 ": 164.5, "−2.8": -2.8, "-2,8": -2.8, "0": 0, "1e2": 100} {
		n, ok := readNumber(text)
		assert.True(t, ok, text)
		assert.Equal(t, want, n, text)
	}
	for _, text := range []string{"", "NaN", "Inf", "-inf", "0x1p4", "1_000", "1e999", "1.2.3", "1,2,3", "five", "12 cm"} {
		_, ok := readNumber(text)
		assert.False(t, ok, text)
	}
}
