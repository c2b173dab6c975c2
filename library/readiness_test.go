package library

import (
	"encoding/csv"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// TestFreeTextIsReadAsClientsSayIt holds what is found in free text against what a person
// who reads it would ask about.
func TestFreeTextIsReadAsClientsSayIt(t *testing.T) {
	rules, err := ReadinessRules()
	require.NoError(t, err)
	f, err := os.Open("testdata/said.csv")
	require.NoError(t, err)
	defer f.Close()
	rows, err := csv.NewReader(f).ReadAll()
	require.NoError(t, err)
	require.GreaterOrEqual(t, len(rows)-1, 120)
	of := map[string]bool{}
	for n, row := range rows[1:] {
		var found []string
		for _, x := range rules.Read(row[0]) {
			found = append(found, x.Phrase.ID)
			of[x.Phrase.ID] = true
			assert.NotEmpty(t, x.Words)
		}
		var want []string
		if row[1] != "" {
			want = strings.Split(row[1], ";")
		}
		slices.Sort(found)
		slices.Sort(want)
		assert.Equal(t, want, found, "line %d: %q", n+2, row[0])
	}
	for _, p := range rules.Phrases {
		assert.True(t, of[p.ID], "%s is said by nobody in testdata/said.csv", p.ID)
	}
}

// TestAPartThatHurtsBarsWhatIsFeltThere holds what loads a part against the complaints: what
// is felt there must not be done while it hurts.
func TestAPartThatHurtsBarsWhatIsFeltThere(t *testing.T) {
	rules, err := ReadinessRules()
	require.NoError(t, err)
	var complaints []exercise.ComplaintRule
	text, err := embedded.ReadFile("complaints.yaml")
	require.NoError(t, err)
	require.NoError(t, decode("complaints.yaml", text, &complaints))
	l := load(t)
	for _, k := range complaints {
		var rows []limit.Limit
		for _, p := range rules.Parts {
			if p.Where == k.Where {
				rows = limit.RowsOf(p.Limits, "", true, limit.Reason{}, 168, 68)
			}
		}
		require.NotEmpty(t, rows, k.Where)
		set := limit.Limits{}.With(rows, nil)
		barred := 0
		for _, v := range l.Variants {
			m := v.Plain().Measured
			for _, w := range k.When {
				if m.Number(w.Quantity) >= w.From {
					barred++
					assert.NotEmpty(t, set.Breaks(m), "%s is felt in the %s (%s %g)", v.ID, k.Where, w.Quantity, m.Number(w.Quantity))
				}
			}
		}
		assert.Positive(t, barred, k.Where)
	}
	for _, p := range rules.Parts { // and leaves something
		set := limit.Limits{}.With(limit.RowsOf(p.Limits, "left", true, limit.Reason{}, 168, 68), nil)
		left := 0
		for _, v := range l.Variants {
			if len(set.Breaks(v.Plain().Measured)) == 0 {
				left++
			}
		}
		assert.Greater(t, left, 10, fmt.Sprint(p.Where))
		assert.Less(t, left, len(l.Variants), p.Where)
	}
}
