package library

import (
	_ "embed"
	"fmt"

	"github.com/goccy/go-yaml"

	"restbend/core/find"
)

//go:embed sayings.yaml
var sayings []byte

// Sayings are what people in the trade say, and where it leads.
func Sayings() ([]find.Saying, error) {
	var out []find.Saying
	if err := yaml.UnmarshalWithOptions(sayings, &out, yaml.Strict()); err != nil {
		return nil, fmt.Errorf("sayings.yaml: %s", yaml.FormatError(err, false, true))
	}
	return out, nil
}
