package readiness_test

import (
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/readiness"
)

// matrix is the table of docs/safety.md: signals down, acts across, and the doors of each act.
func matrix() string {
	var b strings.Builder
	b.WriteString("| Signal |")
	for _, a := range readiness.Acts {
		fmt.Fprintf(&b, " %s |", a)
	}
	b.WriteString("\n|---|" + strings.Repeat("---|", len(readiness.Acts)) + "\n")
	for _, s := range readiness.Signals {
		fmt.Fprintf(&b, "| %s |", s.Words)
		for _, a := range readiness.Acts {
			fmt.Fprintf(&b, " %s |", s.Expected(a))
		}
		b.WriteString("\n")
	}
	b.WriteString("\n| Act | Doors |\n|---|---|\n")
	for _, a := range readiness.Acts {
		var doors []string
		for _, d := range readiness.Doors {
			if d.Act == a {
				doors = append(doors, d.Words)
			}
		}
		fmt.Fprintf(&b, "| %s | %s |\n", a, strings.Join(doors, "; "))
	}
	return b.String()
}

// TestSafetyTheTableOfSafetyIsTrue: the table in docs/safety.md is the one the code has.
func TestSafetyTheTableOfSafetyIsTrue(t *testing.T) {
	doc, err := os.ReadFile("../../docs/safety.md")
	require.NoError(t, err)
	assert.Contains(t, string(doc), matrix(), "docs/safety.md should have this table:\n%s", matrix())
}
