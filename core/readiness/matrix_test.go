package readiness_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/civil"
	"restbend/core/limit"
	"restbend/core/readiness"
	"restbend/core/readiness/readinesstest"
	"restbend/library"
)

var day, _ = civil.Parse("2026-11-24")

func rules(t testing.TB) *readiness.Rules {
	t.Helper()
	l, err := library.Load()
	require.NoError(t, err)
	return l.Days()
}

// TestSafetyEverySignalForEveryAct: each signal alone gives the status that the table says, for each
// act, says why, and leaves nothing open where nothing is to be done.
func TestSafetyEverySignalForEveryAct(t *testing.T) {
	r := rules(t)
	for _, act := range readiness.Acts {
		assert.Equal(t, readiness.Ready, r.For(readinesstest.Base(day), nil, nil, day, act).Status, "nothing is there, %s", act)
	}
	cases := map[string]readinesstest.Case{}
	for _, c := range readinesstest.Cases {
		assert.NotContains(t, cases, c.Signal, "twice")
		cases[c.Signal] = c
	}
	for _, s := range readiness.Signals {
		c, covered := cases[s.ID]
		if !assert.True(t, covered, "%s has no case in readinesstest", s.ID) {
			continue
		}
		delete(cases, s.ID)
		for _, act := range readiness.Acts {
			l := r.Limits(c.On(day), c.Visits(day), c.Marks, day, act)
			got := l.Readiness
			assert.Equal(t, s.Expected(act), got.Status, "%s, %s: %v", s.ID, act, got.Because)
			assert.Equal(t, readinesstest.Gives(got.Status, act), l.Status() == limit.OK, "%s, %s", s.ID, act)
			switch got.Status {
			case readiness.Refer:
				assert.NotEmpty(t, got.Tell, "%s: who hears of it", s.ID)
				fallthrough
			case readiness.Stop:
				assert.NotEmpty(t, got.Because, s.ID)
				assert.NotEmpty(t, got.Instead, "%s: what to do instead", s.ID)
			case readiness.Ask:
				assert.NotEmpty(t, got.Asks, "%s: what is asked", s.ID)
			}
		}
	}
	assert.Empty(t, cases, "cases without a signal")
}
