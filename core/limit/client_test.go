package limit

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// TestLatestDayIsTheNewestOfWhateverHasADay: every kind of entry counts, wherever the
// newest stands in its list.
func TestLatestDayIsTheNewestOfWhateverHasADay(t *testing.T) {
	const old, last = "2026-02-03", "2026-10-09"
	assert.Empty(t, Client{}.LatestDay())
	for what, c := range map[string]Client{
		"measures":     {Measures: []Measure{{On: last}, {On: old}}},
		"screens":      {Screens: []Screen{{On: last}, {On: old}}},
		"clearances":   {Clearances: []Clearance{{On: last}, {On: old}}},
		"instructions": {Instructions: []Instruction{{On: last}, {On: old}}},
		"faults":       {FaultsSeen: []Seen{{On: last}, {On: old}}},
		"clock":        {Clock: []Clock{{On: old}, {On: last}}},
		"conditions":   {Conditions: []Condition{Condition{ID: "a"}.With(DateField, last), Condition{ID: "b"}.With(DateField, old)}},
		"seen":         {Seen: &SeenBy{On: last}, Measures: []Measure{{On: old}}},
	} {
		assert.Equal(t, last, c.LatestDay(), what)
	}
}
