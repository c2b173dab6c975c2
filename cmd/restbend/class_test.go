package main

import (
	"encoding/json"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/formats"
)

// TestAClassOnTheCommandLine: a class as published, in which nobody does what is barred for
// her alone; who is named twice, alone or sent to a clinician is told.
func TestAClassOnTheCommandLine(t *testing.T) {
	dir := t.TempDir()
	file := func(name, text string) string {
		path := filepath.Join(dir, name)
		require.NoError(t, os.WriteFile(path, []byte(text), 0o600))
		return path
	}
	bone := file(
		"bone.json",
		`{"format":"restbend.client/1","red_flags":[],"name":"Ann","equipment":["mat","chair","pillow"],"goals":["balance"],`+
			`"conditions":[{"id":"osteoporosis","vertebral_fracture":true}]}`,
	)
	disc := file(
		"disc.json",
		`{"format":"restbend.client/1","red_flags":[],"name":"Bo","equipment":["mat","chair","pillow"],"goals":["deep_core"],`+
			`"conditions":[{"id":"disc_sciatica","stage":"subacute","side":"left","eases":"extension"}]}`,
	)
	sign := file("sign.json", `{"format":"restbend.client/1","name":"Cy","red_flags":["saddle_numbness"]}`)
	bent := file("bent.json", `{"format":"restbend.client/1","mass_kg":2}`)

	status, out, errs := call("", "class", bone, disc, sign, "--minutes", "20", "--json", "--on", "2026-11-24")
	require.Equal(t, exitDone, status, errs)
	require.NoError(t, formats.Validate("class", []byte(out)))
	var c struct {
		People []struct{ Status string }
		Items  []struct {
			Versions []struct {
				Person  int
				Variant string
			}
		}
	}
	require.NoError(t, json.Unmarshal([]byte(out), &c))
	assert.Equal(t, "refer", c.People[2].Status)
	require.NotEmpty(t, c.Items)
	checks := map[int][]string{0: {"check", bone, "--json", "--on", "2026-11-24"}, 1: {"check", disc, "--json", "--on", "2026-11-24"}}
	for _, it := range c.Items {
		require.Len(t, it.Versions, 2)
		for _, v := range it.Versions {
			checks[v.Person] = append(checks[v.Person], v.Variant)
		}
	}
	for _, args := range checks {
		status, out, errs = call("", args...)
		require.Equal(t, exitDone, status, errs)
		assert.NotContains(t, out, `"verdict": "avoid"`)
	}
	status, out, _ = call("", "class", bone, disc, "--minutes", "20", "--on", "2026-11-24")
	assert.Equal(t, exitDone, status)
	assert.Contains(t, out, "of 100 of a lesson alone")

	for says, args := range map[string][]string{
		"expected 2 to 12":    {bone},
		"named twice":         {bone, disc, bone},
		"bent.json: mass_kg":  {bone, bent},
		"minutes: expected 5": {bone, disc, "--minutes", "2"},
		"place: \"roof\"":     {bone, disc, "--place", "roof"},
		"no class":            {bone, sign},
		"nowhere.json":        {bone, filepath.Join(dir, "nowhere.json")},
		"one file can be":     {"-", "-"},
	} {
		status, out, errs := call(`{"format":"restbend.client/1"}`, append([]string{"class"}, args...)...)
		if says == "no class" {
			assert.Contains(t, out, says)
			continue
		}
		assert.NotEqual(t, exitDone, status, says)
		assert.Contains(t, errs, says)
	}
}

// TestWeeksOnTheCommandLine: a course as published; figures out of reach are named, and a
// warning sign refers.
func TestWeeksOnTheCommandLine(t *testing.T) {
	bone := `{"format":"restbend.client/1","red_flags":[],"name":"Ann","equipment":["mat","chair","pillow"],"goals":["balance"],` +
		`"conditions":[{"id":"osteoporosis","vertebral_fracture":true}]}`
	status, out, errs := call(bone, "course", "-", "--weeks", "3", "--json", "--on", "2026-11-23")
	require.Equal(t, exitDone, status, errs)
	require.NoError(t, formats.Validate("course", []byte(out)))
	status, out, _ = call(bone, "course", "-", "--weeks", "2", "--off", "sun,wed", "--on", "2026-11-23")
	assert.Equal(t, exitDone, status)
	assert.Contains(t, out, "Mon 23 Nov  studio")
	assert.Contains(t, out, "balance 4 of 4")
	assert.Contains(t, out, "Review on 2026-12-03")
	status, out, _ = call(
		bone,
		"course",
		"-",
		"--weeks",
		"2",
		"--home-days",
		"0",
		"--also",
		"balance=mon,tue,wed,thu,fri",
		"--on",
		"2026-11-23",
		"--json",
	)
	assert.Equal(t, exitDone, status)
	assert.Regexp(t, `"balance": [5-7]`, out, "what else is done counts")
	for says, args := range map[string][]string{"also: \"juggling\"": {"--also", "juggling=mon"},
		"--also: \"never\"": {"--also", "gait=never"}, "weeks: expected 1 to 26": {"--weeks", "40"},
		"sessions-per-week": {"--sessions-per-week", "9"}, "more than a week": {"--home-days", "6"},
		"--off: \"someday\"": {"--off", "someday"}, "--from": {"--from", "soon"}, "from: 2050": {"--from", "2050-01-01"}} {
		status, _, errs := call(bone, append([]string{"course", "-", "--on", "2026-11-23"}, args...)...)
		assert.Equal(t, exitRefused, status, says)
		assert.Contains(t, errs, says)
	}
	status, _, _ = call(`{"format":"restbend.client/1","red_flags":["saddle_numbness"]}`, "course", "-")
	assert.Equal(t, exitRefer, status)
}
