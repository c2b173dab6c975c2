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

// TestComplaintRulesAreHeldAgainstWhatThereIs: each slip is refused with its field.
func TestComplaintRulesAreHeldAgainstWhatThereIs(t *testing.T) {
	sound := func() ComplaintRule {
		return ComplaintRule{
			Where: "wrist",
			When:  []Load{{"wrist_load", 0.1}},
			Steps: []PathStep{{Do: "cue", Text: "c"}, {Do: "adapt", With: "fists"}, {Do: "rung"}, {Do: "swap"}},
		}
	}
	assert.NoError(t, sound().Check(nil))
	for says, spoil := range map[string]func(*ComplaintRule){
		`where: "tail"`:                    func(r *ComplaintRule) { r.Where = "tail" },
		"when: at least one":               func(r *ComplaintRule) { r.When = nil },
		`when[0].quantity: "wrist" is not`: func(r *ComplaintRule) { r.When[0].Quantity = "wrist" },
		`quantity: "base_of_support" is`:   func(r *ComplaintRule) { r.When[0].Quantity = "base_of_support" },
		"when[0].from: expected above 0":   func(r *ComplaintRule) { r.When[0].From = 0 },
		`steps[0].do: "hope"`:              func(r *ComplaintRule) { r.Steps[0].Do = "hope" },
		"steps[3].do: rung comes before":   func(r *ComplaintRule) { r.Steps[2], r.Steps[3] = r.Steps[3], r.Steps[2] },
		"steps[0].text: is missing":        func(r *ComplaintRule) { r.Steps[0].Text = "" },
		`steps[1].with: "wings"`:           func(r *ComplaintRule) { r.Steps[1].With = "wings" },
		`steps[2].with: "fists"`:           func(r *ComplaintRule) { r.Steps[2].With = "fists" },
		`steps[0].families: there is no`:   func(r *ComplaintRule) { r.Steps[0].Families = []string{"flying"} },
		`steps[0].positions: "hanging" is`: func(r *ComplaintRule) { r.Steps[0].Positions = []Position{"hanging"} },
		"steps: there is no swap":          func(r *ComplaintRule) { r.Steps = r.Steps[:3] },
		"steps: there is no cue":           func(r *ComplaintRule) { r.Steps = r.Steps[1:] },
	} {
		r := sound()
		spoil(&r)
		assert.ErrorContains(t, r.Check([]string{"bird_dog"}), says)
	}
}
