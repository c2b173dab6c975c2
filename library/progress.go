package library

import (
	_ "embed"
	"sync"

	"restbend/core/progress"
)

//go:embed progress.yaml
var progressFile []byte

// ProgressRules are the rows that decide what follows a session, read and checked once. A
// mistake names its row.
var ProgressRules = sync.OnceValues(func() (progress.Rules, error) {
	var f struct {
		Rules []progress.Rule `yaml:"rules"`
	}
	if err := decode("progress.yaml", progressFile, &f); err != nil {
		return nil, err
	}
	return progress.NewRules(f.Rules)
})
