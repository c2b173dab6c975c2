package docs_test

import (
	"os"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestEveryDependencyHasItsReason: each module that go.mod requires directly is in
// dependencies.md, and nothing else is.
func TestEveryDependencyHasItsReason(t *testing.T) {
	mod, err := os.ReadFile("../go.mod")
	require.NoError(t, err)
	list, err := os.ReadFile("dependencies.md")
	require.NoError(t, err)
	named := map[string]bool{}
	for _, row := range regexp.MustCompile(`(?m)^\| ([a-z][^|]*\.[^|]*) \|`).FindAllStringSubmatch(string(list), -1) {
		for _, m := range strings.Split(row[1], ", ") {
			named[m] = true
		}
	}
	require.NotEmpty(t, named)
	for _, m := range regexp.MustCompile(`(?m)^\t(\S+) v\S+$`).FindAllStringSubmatch(string(mod), -1) {
		found := ""
		for n := range named {
			if m[1] == n || strings.HasSuffix(m[1], "/"+n) {
				found = n
			}
		}
		assert.NotEmpty(t, found, "%s has no line in dependencies.md", m[1])
		delete(named, found)
	}
	assert.Empty(t, named, "these are not required any more")
}
