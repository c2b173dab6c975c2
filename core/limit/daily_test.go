package limit

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"

	"restbend/core/civil"
	"restbend/core/exercise"
)

func needs(c Client) []exercise.Purpose {
	var out []exercise.Purpose
	for _, n := range For(c, nil, civil.Date(2026, 11, 24)).Needs {
		out = append(out, n.Purpose)
	}
	return out
}

func TestDailyLifeSpeaksOfPurposes(t *testing.T) {
	assert.Contains(t,
		needs(Client{Tasks: []string{"chairs"}}),
		exercise.Purpose("leg_strength"),
		"toilet, car and sofa: leg strength (common practice)",
	)
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

var day = civil.Date(2026, 11, 24)

func TestWhoIsGivenTime(t *testing.T) {
	slow := func(c Client) bool { return For(c, nil, day).Slow }
	assert.False(t, slow(Client{BirthYear: 1966}))
	assert.True(t, slow(Client{BirthYear: 1950}), "well on in years")
	assert.True(t, slow(Client{Conditions: []Condition{{ID: "falls_risk"}}}))
	assert.True(t, slow(Client{Conditions: []Condition{{ID: "deconditioned"}}}))
	assert.True(t, slow(Client{Measures: []Measure{{ID: "timed_up_and_go_s", Value: 13}}}), "CDC STEADI: 12 s or more (from memory)")
	assert.False(t, slow(Client{Measures: []Measure{{ID: "timed_up_and_go_s", Value: 9}}}))
}

func TestCurvesToOneSide(t *testing.T) {
	with := func(sides ...string) Client {
		k := Condition{ID: "scoliosis"}
		for i, s := range sides {
			k = k.With("curves", append(k.Curves("curves"), Curve{Region: []string{"thoracic", "lumbar"}[i], Convex: s}))
		}
		return Client{Conditions: []Condition{k}}
	}
	assert.Equal(t, "", Client{}.Convex())
	assert.Equal(t, "right", with("right").Convex())
	assert.Equal(t, "left", with("left", "left").Convex())
	assert.Equal(t, "", with("right", "left").Convex(), "two ways: neither side is the long one")
}

func TestWarningSignsReadAsSentences(t *testing.T) {
	late := false // past the urgent ones
	for _, f := range RedFlags {
		s := For(Client{RedFlags: []string{f.ID}}, nil, day)
		assert.Equal(t, Refer, s.Status(), f.ID)
		assert.NotContains(t, s.Refer()[0].Text, "_", f.ID)
		assert.Equal(t, f.When, s.Refer()[0].When, f.ID)
		assert.False(t, f.Urgent() && late, "%s is urgent and asked late", f.ID)
		late = late || !f.Urgent()
	}
	assert.Contains(t, For(Client{RedFlags: []string{"saddle_numbness"}}, nil, day).Refer()[0].Text,
		"numbness where a saddle would touch. This is an emergency: emergency services now.")
	assert.Equal(t, Refer, For(Client{RedFlags: []string{"odd"}}, nil, day).Status(), "one that is not known refers too")
}

func TestSessionCapsKeepTheSmallestAndAllReasons(t *testing.T) {
	all := caps{
		{FloorTransfers, 4, []Reason{{Rule: "a"}}},
		{FloorTransfers, 2, []Reason{{Rule: "b"}}},
		{FloorTransfers, 6, []Reason{{Rule: "c"}}},
		{HeavySeconds, 9, nil},
	}.merge()
	assert.Len(t, all, 2)
	assert.Equal(t, 2.0, all[0].Max)
	assert.Len(t, all[0].Reasons, 3)
}

// TestWhereASessionsCountsBegin: figures of this product, held by another hand.
func TestWhereASessionsCountsBegin(t *testing.T) {
	assert.Equal(t, []float64{10, 5, 0.05, 60, 90}, []float64{CycleDegrees, HeavyDemand, WristShare, heavySore, WristsAtOnce})
	assert.Equal(t, []float64{0.03, 0.18, 0.018}, []float64{surfaceLower, surfaceHigher, SurfaceSame})
}

// TestFiguresAreRoundedOnce: to a tenth, as they are shown.
func TestFiguresAreRoundedOnce(t *testing.T) {
	c := disc("acute")
	c.MassKG = 61.3
	assert.Equal(t, 40.9, find(For(c, conditions, day), "lumbar_moment", "any").Max, "0.04 × 61.3 kg × 9.81 × 1.70 m = 40.89")
	measured := Client{Measures: []Measure{{ID: "thoracic_rotation_deg", Side: "left", Value: 37.3}}}
	assert.Equal(t, 33.6, find(For(measured, conditions, day), "thoracic_rotation_left", "any").Max, "nine tenths of 37.3 are 33.57")
}
