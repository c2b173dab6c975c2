package web

import (
	_ "embed"
	"fmt"
	"net/http"

	"github.com/gin-gonic/gin"
	"github.com/goccy/go-yaml"
)

//go:embed help.yaml
var helpFile []byte

// helpOf is what is said of a page.
type helpOf struct {
	How  []string      `yaml:"how"`
	Keys yaml.MapSlice `yaml:"keys"`
	// Words explains words, of the page of words alone.
	Words yaml.MapSlice `yaml:"words"`
}

// readHelp reads what is said of the pages.
func readHelp() (map[string]helpOf, error) {
	out := map[string]helpOf{}
	if err := yaml.UnmarshalWithOptions(helpFile, &out, yaml.Strict()); err != nil {
		return nil, fmt.Errorf("help.yaml: %s", yaml.FormatError(err, false, true))
	}
	return out, nil
}

// help says how a page is used; of a page without words of its own only what holds anywhere.
func (w *site) help(c *gin.Context) {
	w.pages.render(c, http.StatusOK, "help", gin.H{"Page": w.helps[c.Param("name")], "Anywhere": w.helps["anywhere"]})
}
