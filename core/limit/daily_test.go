package limit

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"restbend/core/exercise"
)

func needs(c Client) []exercise.Purpose {
	var out []exercise.Purpose
	for _, n := range For(c, nil, time.Date(2026, 11, 24, 0, 0, 0, 0, time.UTC)).Needs {
		out = append(out, n.Purpose)
	}
	return out
}

func TestDailyLifeSpeaksOfPurposes(t *testing.T) {
	assert.Contains(t, needs(Client{Tasks: []string{"chairs"}}), exercise.Purpose("leg_strength"), "toilet, car and sofa: leg strength (common practice)")
	assert.Contains(t, needs(Client{Tasks: []string{"picking_up"}}), exercise.Purpose("hip_hinge"))
	assert.Contains(t, needs(Client{FaultsSeen: []Seen{{ID: "tucks_under"}}}), exercise.Purpose("dissociation"))
	assert.Contains(t, needs(Client{FaultsSeen: []Seen{{ID: "feet_turn"}}}), exercise.Purpose("hip_abduction"))
	assert.Empty(t, needs(Client{Tasks: []string{"flying"}, FaultsSeen: []Seen{{ID: "none"}}}))
	for _, task := range Tasks {
		for _, p := range task.Purposes {
			assert.Contains(t, exercise.Purposes, p, task.ID)
		}
	}
	for _, f := range SeenFaults {
		for _, p := range f.Needs {
			assert.Contains(t, exercise.Purposes, p, f.ID)
		}
	}
}

func TestAClientsWordsAreHeard(t *testing.T) {
	heard := func(words string) []string {
		var out []string
		for _, task := range Heard(words) {
			out = append(out, task.ID)
		}
		slices.Sort(out)
		return out
	}
	assert.Equal(t, []string{"carrying", "stairs", "walking"}, heard("to carry the shopping up two flights"))
	assert.Equal(t, []string{"floor"}, heard("an hour in the Garden"))
	assert.Empty(t, heard("to sing"))
}

func TestTheClockAsksForPracticeWhereItCatches(t *testing.T) {
	smooth := Clock{Hours: make([]int, 12)}
	assert.Empty(t, smooth.Rough())
	assert.Empty(t, needs(Client{Clock: []Clock{smooth}}))
	rough := Clock{Hours: []int{0, 0, 1, 2, 0, 0, 0, 0, 0, 0, 0, 1}}
	assert.Equal(t, []int{3, 2, 11}, rough.Rough(), "twelve o'clock first, the jerkiest first")
	assert.Contains(t, needs(Client{Clock: []Clock{smooth, rough}}), exercise.Purpose("coordination"))
	assert.Empty(t, needs(Client{Clock: []Clock{rough, smooth}}), "the last one counts")
}
