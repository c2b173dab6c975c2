package docs_test

import (
	"io/fs"
	"os"
	"path/filepath"
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

// TestEveryTestThatIsNamedIsThere: a document that says which test shows something is held to it.
func TestEveryTestThatIsNamedIsThere(t *testing.T) {
	there := map[string]bool{}
	require.NoError(t, filepath.WalkDir("..", func(path string, d fs.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(path, "_test.go") {
			return err
		}
		text, err := os.ReadFile(path)
		for _, m := range regexp.MustCompile(`(?m)^func (Test\w+)\(`).FindAllStringSubmatch(string(text), -1) {
			there[m[1]] = true
		}
		return err
	}))
	documents, err := filepath.Glob("*.md")
	require.NoError(t, err)
	named := 0
	for _, file := range append(documents, "../README.md", "../CONTRIBUTING.md") {
		text, err := os.ReadFile(file)
		require.NoError(t, err)
		for _, m := range regexp.MustCompile(`\b(Test[A-Z]\w+)(…?)`).FindAllStringSubmatch(string(text), -1) {
			named++
			found := there[m[1]]
			for name := range there {
				found = found || m[2] != "" && strings.HasPrefix(name, m[1])
			}
			assert.True(t, found, "%s names %s, which is nowhere", file, m[0])
		}
	}
	assert.Greater(t, named, 20)
}
