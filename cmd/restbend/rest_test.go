package main

import (
	"encoding/json"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/plan"
	"restbend/formats"
)

// TestTheRestOfASession plans what is left after a record, and refuses what does
// not go together.
func TestTheRestOfASession(t *testing.T) {
	record := filepath.Join(t.TempDir(), "done.json")
	write := func(text string) { require.NoError(t, os.WriteFile(record, []byte(text), 0o600)) }
	write(
		`{"format":"restbend.record/1","on":"2026-11-24","items":[{"variant":"belly_hand_breath","ended":"done"},
{"variant":"pelvic_tilt","repetitions":10,"ended":"done"},
		{"variant":"bird_dog_arm","side":"left","repetitions":6,"ended":"done"},
		{"variant":"bird_dog_arm","side":"right","repetitions":6,"ended":"form"},
{"variant":"heel_slide","ended":"choice","skipped":true}]}`,
	)
	status, out, errs := call(two, "plan", "-", "--json", "--on", "2026-11-24", "--done", record, "--minutes-left", "10")
	require.Equal(t, exitDone, status, errs)
	require.NoError(t, formats.Validate("plan", []byte(out)))
	var p plan.Plan
	require.NoError(t, json.Unmarshal([]byte(out), &p))
	assert.InEpsilon(t, 600, p.SecondsTotal, 0.04)
	sum := 0.0
	for _, it := range p.Items {
		sum += it.Seconds()
		assert.NotContains(t, []string{"pelvic_tilt", "bird_dog_arm"}, it.Variant, "done already")
		assert.NotContains(t,
			[]string{"settle", "mobilise", "activate"},
			string(it.Phase),
			"all fours was strengthening: nothing goes back before it",
		)
	}
	assert.InDelta(t, sum, p.SecondsTotal, 0.2)
	assert.Equal(t, "close", string(p.Items[len(p.Items)-1].Phase))

	sore := `{"format":"restbend.record/1","on":"2026-11-24","pain":{"before":1,"during":7},"items":[{"variant":"belly_hand_breath",` +
		`"ended":"pain"}]}`
	write(sore)
	_, out, _ = call(two, "plan", "-", "--json", "--done", record, "--minutes-left", "8")
	require.NoError(t, json.Unmarshal([]byte(out), &p))
	assert.Equal(t, 7, p.PainNow, "sorer than planned")
	for _, it := range p.Items {
		assert.NotEqual(t, "strengthen", string(it.Phase))
	}

	write(`{"format":"restbend.record/1","on":"2026-11-24","items":[{"variant":"headstand","ended":"done"}]}`)
	for says, args := range map[string][]string{
		"items[0].variant: \"headstand\" is not in the library": {"--done", record, "--minutes-left", "8"},
		"--done: goes with --minutes-left":                      {"--done", record},
		"--minutes-left: goes with --done":                      {"--minutes-left", "8"},
		"--minutes-left: expected 2 to 120, found 0":            {"--done", record, "--minutes-left", "0"},
		"--minutes: does not go with --done":                    {"--done", record, "--minutes-left", "8", "--minutes", "30"},
		"--done: client and record cannot both be read from":    {"--done", "-", "--minutes-left", "8"},
		"cannot be read": {"--done", record + "x", "--minutes-left", "8"},
	} {
		status, _, errs := call(two, append([]string{"plan", "-"}, args...)...)
		assert.Equal(t, exitRefused, status, says)
		assert.Contains(t, errs, says)
	}
}

func TestStandingFirstAndHome(t *testing.T) {
	status, out, errs := call(two, "plan", "-", "--json", "--standing-first", "--home", "--minutes", "30")
	require.Equal(t, exitDone, status, errs)
	require.NoError(t, formats.Validate("plan", []byte(out)))
	var p plan.Plan
	require.NoError(t, json.Unmarshal([]byte(out), &p))
	assert.True(t, p.StandingFirst)
	assert.True(t, p.Home)
	assert.Equal(t, "upright", string(p.Items[0].Phase))
}
