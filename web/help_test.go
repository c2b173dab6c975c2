package web

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestHelpIsShort: five lines for a page at most, and none for a page that there is not. That
// every page has some is seen in TestEveryViewAtFourWidthsAndThreeSchemes.
func TestHelpIsShort(t *testing.T) {
	helps, err := readHelp()
	require.NoError(t, err)
	for name, h := range helps {
		assert.LessOrEqual(t, len(h.How), 5, name)
		if name == "anywhere" || name == "words" {
			continue
		}
		_, err := templateFiles.Open("templates/" + name + ".html")
		assert.NoError(t, err, name)
	}
}
