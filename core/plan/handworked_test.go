package plan

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/optimize"
)

// Two sessions worked out with pencil and paper, held against what is computed.

// TestMinutesWorkedByHand adds up a short session of a client who breathes in 6 s.
func TestMinutesWorkedByHand(t *testing.T) {
	breath := limit.Measure{ID: "breath_seconds", Value: 6}
	r := Request{Place: "mat", Client: limit.Client{Measures: []limit.Measure{breath}}}
	both := []string{"left", "right"}
	p := Plan{Place: "mat", Breath: 6, Items: []Item{
		{Position: "supine", EndPosition: "supine", Dose: exercise.Dose{Kind: exercise.Breaths, Sets: 1, Breaths: 8}},
		{Position: "supine", EndPosition: "supine", Dose: exercise.Dose{Kind: exercise.Repetitions, Sets: 2, Repetitions: 8, Seconds: 7}},
		{
			Position:    "four_point",
			EndPosition: "four_point",
			Sides:       both,
			Dose:        exercise.Dose{Kind: exercise.HoldSeconds, Sets: 2, RepetitionsBySet: []int{6, 4}, Seconds: 10},
		},
		{
			Position:    "standing",
			EndPosition: "standing",
			Sides:       both,
			Dose:        exercise.Dose{Kind: exercise.HoldBreaths, Sets: 1, Breaths: 3},
		},
	}}
	p.Retime(r)
	for i, want := range []struct{ work, rest, change float64 }{
		// 8 breaths of 6 s. To the floor: 8 to set up, 10 to move, 22 for the whole height, 15 for the floor.
		{48, 0, 55},
		// 2 sets of 8 at 7 s, one rest of 20 between them; 8 to set up.
		{112, 20, 8},
		// 6 and 4 holds of 10 s on two sides; three rests between four sets; 8 + 10 + 22 × 0.38 for rising to hands and knees, and 6 to
		// change sides.
		{200, 60, 32},
		// 3 breaths and one to come into the shape, 6 s each, on two sides; one breath to end; 8 + 10 + 22 × 0.62 + 15 for getting up,
		// and 6 to change sides.
		{48, 6, 53},
	} {
		it := p.Items[i]
		assert.Equal(t,
			[]float64{want.work, want.rest, want.change},
			[]float64{it.SecondsWork, it.SecondsRest, it.SecondsChange},
			"exercise %d",
			i+1,
		)
	}
	assert.Equal(t, 642.0, p.SecondsTotal, "103 + 140 + 292 + 107: ten minutes and 42 seconds")
	assert.Equal(t, Transfers{Floor: 2, Positions: 3}, p.Transfers)
}

// TestAChoiceWorkedByHand: four exercises of 100 s for a client whose goal is the deep
// core. Breath opens (A) and rest closes (D), lying; B and C serve the goal, B lying and
// C on hands and knees.
func TestAChoiceWorkedByHand(t *testing.T) {
	r := Request{Place: "mat", Approach: "steady", Client: limit.Client{Goals: []exercise.Purpose{"deep_core"}}}
	var cs []candidate
	for _, k := range []struct {
		family  string
		phase   exercise.Phase
		at      exercise.Position
		purpose exercise.Purpose
	}{{"A", "settle", "supine", "breath"}, {"B", "strengthen", "supine", "deep_core"}, {"C", "strengthen", "four_point", "deep_core"},
		{"D", "close", "supine", "relaxation"}} {
		v := &exercise.Variant{
			ID:          k.family,
			Family:      k.family,
			Position:    k.at,
			EndPosition: k.at,
			Purposes:    []exercise.Purpose{k.purpose},
			Forms:       []*exercise.Form{{}},
		}
		cs = append(cs,
			candidate{
				variant: v,
				phase:   k.phase,
				judged:  limit.Judgement{Verdict: exercise.Suits, Form: v.Forms[0]},
				doses:   []option{{seconds: 100, returns: 1}},
			},
		)
	}
	best := func(seconds int) (names string, worth float64) {
		problem := r.problem(cs, r.newFrame(seconds))
		chosen, bound := problem.Best(optimize.Effort{Passes: 10000, Ordinary: ordinary})
		for _, x := range chosen {
			names += cs[x.Candidate].variant.ID
		}
		assert.InDelta(t, bound.Value, bound.Most, 1e-9, "proven")
		return names, bound.Value
	}
	// Each exercise suits and begins one more, which in so short a session costs 0.5 and
	// 3 more; breath and rest are quiet where they
	// stand, and are nobody's goal. Mobilise, activate and upright stay empty; the way
	// to the floor and up is paid once each.
	quiet := suitsBonus + quietBonus + otherWeight - 3.5
	first := suitsBonus + goalWeight - 3.5
	frame := 3*skippedPhase + 2*transferCost
	// A, B and D take 3 × 108 s and two ways of 47 s: 418.
	names, worth := best(418)
	assert.Equal(t, "ABD", names)
	assert.InDelta(t, quiet+first+quiet-frame, worth, 1e-9)
	// With C it is 108 s and two ways of 18 s more: 562. The goal a second time brings
	// two fifths of itself; hands and knees and back cost more than that, but the
	// minutes come first.
	names, worth = best(562)
	assert.Equal(t, "ABCD", names)
	second := suitsBonus + goalWeight*secondShare - 3.5
	assert.InDelta(t, quiet+first+second+quiet-frame-2*positionCost-backCost, worth, 1e-9)
	// 490 s nothing comes near enough to: A, B and D miss them by 72, all four are too
	// long, and A, C and D, 454 s with their ways, come nearest.
	names, worth = best(490)
	assert.Equal(t, "ACD", names)
	assert.InDelta(t, quiet+first+quiet-frame-2*positionCost-backCost-outsideCost-36*missSlope, worth, 1e-9)
	// 560 s are right to 2 s.
	names, worth = best(560)
	assert.Equal(t, "ABCD", names)
	assert.InDelta(t, quiet+first+second+quiet-frame-2*positionCost-backCost-2*minuteMissCost, worth, 1e-9)
}

func TestChangeOver(t *testing.T) {
	assert.Equal(t, 8.0, mover{place: "mat"}.change("supine", "supine"))
	assert.Equal(t, 55.0, mover{place: "mat"}.change("standing", "supine"), "8 + 10 + 22 and a way to the floor")
	assert.Equal(t, 40.0, mover{place: "bed"}.change("standing", "supine"), "a bed is no floor")
	assert.Equal(t, 0.0, mover{place: "mat"}.up("standing"))
	assert.Equal(t, 47.0, mover{place: "mat"}.up("supine"))
	assert.Equal(t, 79.0, mover{"mat", true}.change("standing", "supine"), "8 and half as much again of 47")
	assert.Equal(t, 8.0, mover{"mat", true}.change("supine", "supine"), "setting up takes no longer")
}
