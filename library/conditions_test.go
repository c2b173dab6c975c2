package library

import (
	"os"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
)

const goodCondition = `condition: knot
order: 1
name: Knot
fields:
  - id: stage
    label: Stage
    kind: choice
    choices: [{id: new, words: new}, {id: old, words: old}]
    unknown: new
rules:
  - id: knot.bend
    if: {stage: [new]}
    limits:
      - {quantity: lumbar_flexion, max: 5}
      - {quantity: lumbar_extension, when: loaded, max: 5}
    reason: "A reason."
    source: "common practice"
`

// TestMistakesInAConditionNameFileLineAndField: whoever slips in a name is told where.
func TestMistakesInAConditionNameFileLineAndField(t *testing.T) {
	read := func(name, text string) error {
		_, err := LoadFrom(
			fstest.MapFS{
				"limbs.yaml":         {Data: []byte(goodLimbs)},
				"poses.yaml":         {Data: []byte(goodPoses)},
				"families/f.yaml":    {Data: []byte(goodFamily)},
				"conditions/" + name: {Data: []byte(text)},
			},
		)
		return err
	}
	require.NoError(t, read("knot.yaml", goodCondition))
	change := func(old, new string) string {
		require.Contains(t, goodCondition, old)
		return strings.Replace(goodCondition, old, new, 1)
	}
	for says, text := range map[string]string{
		`conditions/knot.yaml:14: rules[0].limits[0].quantity: rule knot.bend: "lumbar_flex" is not a movement ` +
			`quantity`: change("lumbar_flexion", "lumbar_flex"),
		`conditions/knot.yaml:15: ` +
			`rules[0].limits[1].when`: change("when: loaded", "when: carried"),
		`conditions/knot.yaml:12: rules[0].if: rule knot.bend: "stagee" is not a ` +
			`fact`: change("if: {stage:", "if: {stagee:"),
		`conditions/knot.yaml:12: rules[0].if: rule knot.bend: stage is never ` +
			`"newish"`: change("[new]}", "[newish]}"),
		`conditions/knot.yaml:7: fields[0].kind: ` +
			`"guess"`: change("kind: choice", "kind: guess"),
		`condition: "knot" is not what the file is called`: "",
		`unknown field "limit"`:                            change("limits:", "limit:"),
		`conditions/knot.yaml:11: rules[0].id: rule tangle.bend: must begin with its condition`: change("knot.bend", "tangle.bend"),
	} {
		name := "knot.yaml"
		if text == "" {
			name, text = "other.yaml", goodCondition
		}
		assert.ErrorContains(t, read(name, text), says)
	}
}

// TestSpringsAreJudgedByTheirStrength: the strengths that springs are sold in are words
// of spring_load, so that a strong one is more than a light one allows.
func TestSpringsAreJudgedByTheirStrength(t *testing.T) {
	for _, strength := range exercise.Strengths {
		assert.Contains(t, exercise.Find("spring_load").Order, springLoads[strength])
	}
	l, err := LoadFrom(fstest.MapFS{"limbs.yaml": {Data: []byte(goodLimbs)}, "poses.yaml": {Data: []byte(goodPoses)},
		"families/f.yaml": {Data: []byte(goodFamily + "    settings: {spring: strong}\n")}})
	require.NoError(t, err)
	assert.Equal(t, "heavy", l.Variants[0].Plain().Measured.Word("spring_load"))
}

// TestTheReadersVerdictsAreTheSharedOnes holds our copy of the reader's verdicts against
// the one in the shared folder, where that lies beside the project.
func TestTheReadersVerdictsAreTheSharedOnes(t *testing.T) {
	shared, err := os.ReadFile("../../shared/verdicts.csv")
	if err != nil {
		t.Log("the shared folder is not beside the project: nothing to compare")
		return
	}
	own, err := os.ReadFile("testdata/verdicts.csv")
	require.NoError(t, err)
	assert.Equal(t, string(shared), string(own), "copy it anew and look at what differs")
}
