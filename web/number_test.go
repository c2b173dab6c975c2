package web

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"restbend/core/civil"
	"restbend/core/limit"
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

func TestRetestSaysWhatIsDue(t *testing.T) {
	today := civil.Date(2026, 11, 25)
	m := measureField{ID: "single_leg_stance_s"}
	m.retest(
		[]limit.Measure{
			{ID: m.ID, Side: "left", Value: 7, On: "2026-09-02"},
			{ID: m.ID, Side: "right", Value: 9, On: "2026-09-02"},
			{ID: m.ID, Side: "left", Value: 12, On: "2026-10-02"},
		},
		today,
	)
	assert.True(t, m.Again)
	assert.Equal(t, "left 7 to 12", m.Change)
	fresh := measureField{ID: "plank_hold_s"}
	fresh.retest([]limit.Measure{{ID: "plank_hold_s", Value: 7, On: "2026-11-02"}}, today)
	assert.False(t, fresh.Again)
	never := measureField{ID: "plank_hold_s"}
	never.retest(nil, today)
	assert.False(t, never.Again, "what was never measured is not due again")
}
