package library

import (
	_ "embed"
	"sync"

	"restbend/core/readiness"
)

//go:embed readiness.yaml
var readinessFile []byte

// ReadinessRules are what days are decided by, without the conditions, read and
// checked once. A mistake names its row.
var ReadinessRules = sync.OnceValues(func() (*readiness.Rules, error) {
	var r readiness.Rules
	if err := decode("readiness.yaml", readinessFile, &r); err != nil {
		return nil, err
	}
	return &r, r.Check()
})

// Days are the rules that days are decided by, with the library's conditions. The built-in
// rules are checked by a test and when the program starts; here a mistake in them leaves
// rules that allow nothing.
func (l *Library) Days() *readiness.Rules {
	r, err := ReadinessRules()
	if err != nil {
		return &readiness.Rules{}
	}
	with := *r
	with.Conditions = l.Conditions
	return &with
}
