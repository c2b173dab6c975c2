package app_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"restbend/app"
	"restbend/core/civil"
	"restbend/core/limit"
)

// TestCautionsOnEveryPage: what bears on today is said once, what refers first.
func TestCautionsOnEveryPage(t *testing.T) {
	old := limit.Client{BirthYear: now.Year() - 82, HeightCM: 158, TallestHeightCM: 164, RedFlags: []string{"fever_unwell"},
		Conditions: []limit.Condition{limit.Condition{ID: "osteoporosis"}.With("t_score", -3.0), {ID: "extension_sensitive"}},
		Measures:   []limit.Measure{{ID: "timed_up_and_go_s", Value: 14}},
		Clearances: []limit.Clearance{{Rule: "osteoporosis.head_lift", By: "Dr A. Example", On: "2026-10-01"}}}
	said := judge.Limits(old, civil.Of(now)).Readiness.Cautions
	assert.Contains(t, said[0], "Warning sign")
	all := ""
	for i, line := range said {
		all += line + "\n"
		assert.NotContains(t, said[i+1:], line, "once")
	}
	for _, word := range []string{"Falls are likelier: 82 years old; up and go 14 s", "6 cm shorter", "Fragile bone wants the upper " +
		"back extended", "cleared by Dr A. Example on 2026-10-01", "The head stays down"} {
		assert.Contains(t, all, word)
	}
	assert.NotContains(t, all, "T-score", "the condition says it")
	assert.Empty(t, judge.Limits(limit.Client{RedFlags: []string{}}, civil.Of(now)).Readiness.Cautions)
	call := judge.CallWhen()
	assert.Len(t, call, 2, "two short lists")
	assert.Contains(t, call[0], "Emergency, now: numbness where a saddle would touch, a change of bladder or bowel,")
	assert.Contains(t, call[0], "neck pain with double vision")
	assert.Contains(t, call[1], "Doctor, today: a new loss of sexual feeling or function,")
	assert.NotContains(t, call[1], "saddle")
}

func TestInstructionsOnTheClient(t *testing.T) {
	assert.Equal(t,
		"low back arching back to 15°, by Dr A. Example on 2026-10-01.",
		app.InstructionWords(limit.Instruction{Quantity: "lumbar_extension", Max: 15, By: "Dr A. Example", On: "2026-10-01"}),
	)
	assert.Equal(t,
		"weight on one wrist to 20% of body weight, by x on y.",
		app.InstructionWords(limit.Instruction{Quantity: "wrist_load", Max: 0.2, By: "x", On: "y"}),
	)
}
