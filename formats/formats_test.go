package formats

import (
	"encoding/json"
	"strings"
	"testing"

	"restbend/core/civil"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var today = civil.Date(2026, 11, 24)

func TestClientRefusalsNameTheField(t *testing.T) {
	for _, row := range [][2]string{
		{`{`, "not valid JSON at line 1"},
		{`{}`, "format: is missing"},
		{`{"format":"restbend.client/2"}`, "format: expected restbend.client/1"},
		{`[]`, "expected an object in braces, found a list"},
		{`{"format":"restbend.client/1","colour":"red"}`, "colour: is not a field"},
		{`{"format":"restbend.client/1","mass_kg":0}`, "mass_kg: must be at least 25, found 0"},
		{`{"format":"restbend.client/1","height_cm":1.63}`, "height_cm: 1.63 looks like metres; expected centimetres, such as 163"},
		{`{"format":"restbend.client/1","pain":{"now":11}}`, "pain.now: must be at most 10"},
		{`{"format":"restbend.client/1","pain":{"now":"much"}}`, "pain.now: expected a whole number, found a text"},
		{`{"format":"restbend.client/1","birth_year":2030}`, "birth_year: 2030 is in the future"},
		{`{"format":"restbend.client/1","conditions":[{"id":"lumbago"}]}`, "conditions[0].id: lumbago is not known; expected one of"},
		{`{"format":"restbend.client/1","goals":["joy"]}`, "goals[0]: joy is not known"},
		{`{"format":"restbend.client/1","measures":[{"id":"breath_seconds","value":0}]}`, "measures[0].value: 0 cannot be right"},
		{`{"format":"restbend.client/1","measures":[{"id":"single_leg_stance_s","value":900}]}`,
			"measures[0].value: 900 cannot be right"},
		{`{"format":"restbend.client/1","measures":[{"id":"breath_seconds","value":5,"on":"24.11.2026"}]}`,
			"measures[0].on: expected a date"},
		{`{"format":"restbend.client/1","measures":[{"id":"breath_seconds","value":5,"on":"2026-11-31"}]}`,
			"measures[0].on: 2026-11-31 is not a date"},
		{`{"format":"restbend.client/1","measures":[{"id":"breath_seconds","value":5,"on":"2027-01-01"}]}`, "is in the future"},
		{`{"format":"restbend.client/1","owned":{"surface_cm":[45,4]}}`, "owned.surface_cm[1]: must be at least 10, found 4"},
		{`{"format":"restbend.client/1","owned":{"band":["blue"]}}`, "owned.band[0]: blue is not known; expected one of"},
		{`{"format":"restbend.client/1","minutes":600}`, "minutes: must be at most 120"},
		{`{"format":"restbend.client/1","height_cm":170,"tallest_height_cm":160}`, "tallest_height_cm: 160 is less than the height now"},
		{`{"format":"restbend.client/1","resting_pressure":"high"}`, "resting_pressure: expected a reading such as 128/78"},
		{`{"format":"restbend.client/1","instructions":[{"quantity":"courage","max":3}]}`, "instructions[0].quantity: courage"},
		{`{"format":"restbend.client/1","clearances":[{"rule":"a","by":"","on":"2026-01-01"}]}`, "clearances[0].by: must not be empty"},
		{`{"format":"restbend.client/1","name":"` + strings.Repeat("x", 200) + `"}`, "name: must be at most 120 characters"},
		{`{"format":"restbend.client/1","red_flags":["boredom"]}`, "red_flags[0]: boredom is not known"},
	} {
		in, says := row[0], row[1]
		_, err := ReadClient([]byte(in), today)
		var invalid *Invalid
		if assert.ErrorAs(t, err, &invalid, in) {
			assert.ErrorContains(t, err, says, in)
		}
	}
	_, err := ReadClient(make([]byte, MaxBytes+1), today)
	assert.ErrorContains(t, err, "larger than 1024 KB")
}

func TestClientRoundTrip(t *testing.T) {
	in := `{"format":"restbend.client/1","name":"Odd","birth_year":1956,
"conditions":[{"id":"osteoporosis","vertebral_fracture":true,"t_score":-2.9}],
	 "tolerates":{"floor":false},"pain":{"now":0,"worst_24h":4,"settles_hours":3},"measures":[{"id":"breath_seconds","value":4.2}],
	 "rungs":[{"family":"bridge","variant":"bridge_low","dose":{"kind":"repetitions","repetitions":8,"seconds":6}}]}`
	c, err := ReadClient([]byte(in), today)
	require.NoError(t, err)
	out, err := json.Marshal(c)
	require.NoError(t, err)
	assert.JSONEq(t, in, string(out))
	assert.Equal(t, 4.2, c.BreathSeconds())
}

func TestRecordRefusals(t *testing.T) {
	for in, says := range map[string]string{
		`{"format":"restbend.record/1","on":"2026-11-24"}`:                                           "items: is missing",
		`{"format":"restbend.record/1","on":"2026-11-24","items":[{"variant":"a"}]}`:                 "items[0].ended: is missing",
		`{"format":"restbend.record/1","on":"2026-11-24","items":[{"variant":"a","ended":"tired"}]}`: "items[0].ended: tired is not known",
		`{"format":"restbend.record/1","on":"2026-11-24","items":[],"pain":{"after":12}}`:            "pain.after: must be at most 10",
	} {
		_, err := ReadRecord([]byte(in), today)
		assert.ErrorContains(t, err, says)
	}
	r, err := ReadRecord(
		[]byte(
			`{"format":"restbend.record/1","on":"2026-11-24","items":[{"variant":"a","ended":"form","side":"left"}],`+
				`"pain":{"before":3,"after":0}}`,
		),
		today,
	)
	require.NoError(t, err)
	assert.Equal(t, 0, *r.Pain.After)
}

func TestEverySchemaCompiles(t *testing.T) {
	for _, name := range []string{"client", "plan", "limits", "check", "catalog", "record", "lever", "next", "home", "diary", "class",
		"course"} {
		_, err := compile(name)
		assert.NoError(t, err, name)
	}
	_, err := compile("poem")
	assert.Error(t, err)
}
