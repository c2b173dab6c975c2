package library

import (
	"flag"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
	"restbend/core/limit"
)

var update = flag.Bool("update", false, "write docs/coverage.md anew")

func TestCoverageIsCurrent(t *testing.T) {
	const path = "../docs/coverage.md"
	now := load(t).Coverage(today)
	if *update {
		require.NoError(t, os.WriteFile(path, []byte(now), 0o644))
	}
	kept, err := os.ReadFile(path)
	require.NoError(t, err)
	assert.True(t, now == string(kept), "docs/coverage.md is not current: run go test ./library -run Coverage -update")
	for _, line := range strings.Split(now, "\n") {
		assert.False(t, strings.Contains(line, "to be filled"), "%s: a hole is filled, or anatomy is named as the reason", line)
	}
}

// What a condition wants, at least one safe variant must serve.
func TestEveryWishOfAConditionIsServed(t *testing.T) {
	l := load(t)
	for _, d := range l.Conditions {
		id := d.ID
		set := limit.For(coverageClient(d), l.Conditions, today)
		for _, n := range set.Needs {
			assert.Positive(t, l.Served(set, "mat", n.Purpose)+l.Served(set, "chair", n.Purpose), "%s wants %s", id, n.Purpose)
		}
	}
}

// Bed, table and chair have three quarters of an hour of safe work for anybody,
// with every phase filled.
func TestEveryPlaceFillsASession(t *testing.T) {
	l := load(t)
	for _, place := range []exercise.Place{"mat", "bed", "table", "chair"} {
		seconds, phases := 0.0, map[exercise.Phase]int{}
		for _, v := range l.Variants {
			if !place.Holds(v.Position) || !slices.Contains(v.Places, place) {
				continue
			}
			sides := 1
			if v.Sided() {
				sides = 2
			}
			seconds += v.Studio.Work(sides, limit.DefaultBreath)
			for _, p := range v.Phases {
				phases[p]++
			}
		}
		assert.GreaterOrEqual(t, seconds, 45*60.0, place)
		for _, p := range exercise.Phases {
			if p != "upright" || place == "mat" || place == "chair" {
				assert.Positive(t, phases[p], "%s %s", place, p)
			}
		}
	}
}
