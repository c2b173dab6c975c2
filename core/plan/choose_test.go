package plan

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"restbend/core/exercise"
)

// value is what choose is to make greatest, worked out plainly for one given
// sequence; ok is false when the sequence is not allowed.
func value(place exercise.Place, cs []candidate, picked []int, doses []int, target int) (worth float64, seconds int, ok bool) {
	f := frameOf(place, target)
	index := func(i int) int { return slices.Index(exercise.Phases, cs[i].phase) }
	if len(picked) == 0 {
		return 0, 0, false
	}
	at, phase := standingPosition, -1
	skip := func(to int) {
		for p := phase + 1; p < to; p++ {
			if p == 0 || p == 5 {
				worth -= skippedEnd
			} else {
				worth -= skippedPhase
			}
		}
	}
	for n, i := range picked {
		v := cs[i].variant
		if n > 0 && isFloor(place, v.Position) && !isFloor(place, at) {
			return 0, 0, false
		}
		skip(index(i))
		phase = index(i)
		worth -= moveCost(place, at, v.Position)
		setUp := 8.0
		if cs[i].sided {
			setUp += sideSeconds
		}
		o := cs[i].doses[doses[n]]
		seconds += f.ticks(mover{place: place}.change(at, v.Position)-8) + f.ticks(o.seconds+setUp)
		worth += o.value - f.oneMore
		at = v.EndPosition
	}
	skip(len(exercise.Phases))
	worth -= moveCost(place, at, standingPosition)
	seconds += f.ticks(mover{place: place}.up(at))
	if seconds > int(float64(target)*1.02)/f.tick+1 {
		return 0, 0, false
	}
	miss := math.Abs(float64(seconds*f.tick - target))
	if miss > 0.02*float64(target) {
		worth -= 1000 + 10*miss
	}
	return worth - minuteMissCost*miss, seconds, true
}

// everySequence visits every choice of candidates, in order, with every dose.
func everySequence(cs []candidate, visit func(picked, doses []int)) {
	var try func(i int, picked, doses []int)
	try = func(i int, picked, doses []int) {
		if i == len(cs) {
			visit(picked, doses)
			return
		}
		try(i+1, picked, doses)
		for d := range cs[i].doses {
			try(i+1, append(slices.Clone(picked), i), append(slices.Clone(doses), d))
		}
	}
	try(0, nil, nil)
}

func frameOf(place exercise.Place, target int) frame { return Request{Place: place}.newFrame(target) }

func byPhase(cs []candidate) {
	slices.SortStableFunc(cs, func(a, b candidate) int {
		return slices.Index(exercise.Phases, a.phase) - slices.Index(exercise.Phases, b.phase)
	})
}

// TestChooseFindsTheOptimum compares the table with every possible sequence of
// small libraries.
func TestChooseFindsTheOptimum(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 6).Draw(t, "candidates")
		var cs []candidate
		for i := range n {
			position := rapid.SampledFrom([]exercise.Position{"supine", "four_point", "standing_supported", "standing"}).Draw(t, "position")
			c := candidate{phase: rapid.SampledFrom(exercise.Phases).Draw(t, "phase"),
				variant: &exercise.Variant{ID: string(rune('a' + i)), Position: position, EndPosition: position}, sided: rapid.Bool().Draw(t, "sided")}
			for range rapid.IntRange(1, 2).Draw(t, "doses") {
				c.doses = append(c.doses, option{seconds: float64(rapid.IntRange(20, 160).Draw(t, "seconds")), value: rapid.Float64Range(0, 6).Draw(t, "value")})
			}
			cs = append(cs, c)
		}
		byPhase(cs)
		target := rapid.IntRange(100, 700).Draw(t, "target")

		best, found := math.Inf(-1), false
		everySequence(cs, func(picked, doses []int) {
			if v, _, ok := value("mat", cs, picked, doses, target); ok && v > best {
				best, found = v, true
			}
		})

		got, top := newTable(frameOf("mat", target), cs).choose()
		if !found {
			assert.Empty(t, got)
			return
		}
		var picked, doses []int
		for _, c := range got {
			picked = append(picked, c.candidate)
			doses = append(doses, c.option)
		}
		v, _, ok := value("mat", cs, picked, doses, target)
		assert.True(t, ok)
		assert.InDelta(t, best, v, 1e-9)
		assert.InDelta(t, best, top, 1e-9)
	})
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
