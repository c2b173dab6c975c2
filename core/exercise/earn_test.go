package exercise

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// TestWhatIsEarnedCanBeReached with the doses there are.
func TestWhatIsEarnedCanBeReached(t *testing.T) {
	holds, reps, breaths := Dose{Kind: HoldSeconds}, Dose{Kind: Repetitions}, Dose{Kind: HoldBreaths}
	minute := Earn{Kind: HoldSeconds, Amount: 60, Sessions: 2, Words: "A minute."}
	assert.NoError(t, minute.Check(holds))
	assert.NoError(t, minute.Check(reps, holds), "one of its doses is enough")
	assert.NoError(t, Earn{Kind: Breaths, Amount: 15, Sessions: 1, Words: "w"}.Check(breaths))
	assert.NoError(t, Earn{Kind: Repetitions, Amount: 30, Sets: 6, Sessions: 6, Words: "w"}.Check(Dose{Kind: Circles}))
	for says, e := range map[string]Earn{
		"earn.kind: \"circles\"":   {Kind: Circles, Amount: 5, Sessions: 2, Words: "w"},
		"cannot be reached with":   {Kind: Repetitions, Amount: 5, Sessions: 2, Words: "w"},
		"earn.amount: 121":         {Kind: HoldSeconds, Amount: 121, Sessions: 2, Words: "w"},
		"earn.amount: 0":           {Kind: HoldSeconds, Sessions: 2, Words: "w"},
		"earn.repetitions: 31":     {Kind: HoldSeconds, Amount: 5, Repetitions: 31, Sessions: 2, Words: "w"},
		"earn.sets: 7":             {Kind: HoldSeconds, Amount: 5, Sets: 7, Sessions: 2, Words: "w"},
		"earn.sessions: 0":         {Kind: HoldSeconds, Amount: 5, Words: "w"},
		"earn.sessions: 7":         {Kind: HoldSeconds, Amount: 5, Sessions: 7, Words: "w"},
		"earn.words: is missing":   {Kind: HoldSeconds, Amount: 5, Sessions: 2, Words: " "},
		"earn.repetitions: 2; exp": {Kind: Breaths, Amount: 5, Repetitions: 2, Sessions: 2, Words: "w"},
	} {
		d := holds
		if e.Kind == Breaths {
			d = breaths
		}
		assert.ErrorContains(t, e.Check(d), says)
	}
}

func TestWhatIsEarnedIsMet(t *testing.T) {
	six := Earn{Kind: HoldSeconds, Amount: 10, Repetitions: 6}
	assert.True(t, six.Met(1, 6, 10))
	assert.False(t, six.Met(1, 5, 10))
	assert.False(t, six.Met(1, 6, 9))
	two := Earn{Kind: Repetitions, Amount: 8, Sets: 2}
	assert.True(t, two.Met(2, 0, 8))
	assert.False(t, two.Met(1, 0, 8))
	assert.False(t, two.Met(2, 0, 7))
	assert.True(t, Earn{Kind: HoldSeconds, Amount: 60}.Met(1, 1, 75), "a minute and more")
}
