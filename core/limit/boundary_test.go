package limit

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// TestTheWorstPainOfADayCountsFromEight: one level worse, with the caps of a sore day and the
// reason; 7 counts for nothing.
func TestTheWorstPainOfADayCountsFromEight(t *testing.T) {
	now := 1
	for worst, want := range map[int]Irritability{7: Calm, 8: Irritable, 9: Irritable} {
		c := Client{Pain: Pain{Now: &now, Worst24h: &worst}}
		assert.Equal(t, want, irritability(c), "worst %d", worst)
		caps := everySession(irritability(c), c)
		said := false
		for _, k := range caps {
			for _, r := range k.Reasons {
				said = said || r.Rule == "session.sore_minutes"
			}
		}
		assert.Equal(t, want > Calm, said, "worst %d", worst)
	}
	for pain, want := range map[int]float64{7: flaredMinutes, 8: worstMinutes} {
		c := Client{Pain: Pain{Now: &pain}}
		for _, k := range everySession(irritability(c), c) {
			if k.Count == Minutes {
				assert.Equal(t, want, k.Max, "pain %d now", pain)
			}
		}
	}
	eight := 8
	assert.Contains(t, soreWords(Pain{Now: &now, Worst24h: &eight}), "worst of the last day was 8")
	seven := 7
	assert.NotContains(t, soreWords(Pain{Now: &eight, Worst24h: &seven}), "worst of the last day")
}
