package main

import (
	"encoding/json"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var updateOdd = flag.Bool("odd", false, "write the list of odd files and the sentence each gets anew, to be read by a person")

// oddClients are client files that are not as they should be, by what is odd about them;
// what stands for a file is put into an otherwise plain one where it begins with a quote.
var oddClients = [][2]string{
	{"nothing at all", ``},
	{"blanks", "  \n "},
	{"a word", `client`},
	{"a list", `[]`},
	{"a number", `7`},
	{"nothing said", `null`},
	{"no end", `{"format":"restbend.client/1"`},
	{"a comma too many", `{"format":"restbend.client/1",}`},
	{"a missing comma", "{\"format\":\"restbend.client/1\"\n\"name\":\"x\"}"},
	{"a missing colon", `{"format" "restbend.client/1"}`},
	{"single quotes", `{'format':'restbend.client/1'}`},
	{"a comment", "{\n// who\n\"format\":\"restbend.client/1\"}"},
	{"two values", `{"format":"restbend.client/1"} {}`},
	{"more after the end", `{"format":"restbend.client/1"} and so on`},
	{"no format", `{}`},
	{"another format", `{"format":"restbend.plan/1"}`},
	{"a later format", `{"format":"restbend.client/2"}`},
	{"the format twice", `{"format":"restbend.client/1","format":"restbend.client/1"}`},
	{
		"deep",
		strings.Repeat(`[`, 200) + strings.Repeat(`]`, 200),
	},
	{"deep in a field", `"conditions":` + strings.Repeat(`[`, 100) + strings.Repeat(`]`, 100)},
	{
		"bytes that are no text",
		"\"name\":\"a\xffb\"",
	},
	{"sixteen-bit text", "\xff\xfe{\x00}\x00"},
	{"a direction mark in the name", "\"name\":\"Ada\u202eneB\""},
	{"an isolate in a goal", "\"goal_text\":\"walk \u2067far\""},
	{
		"an unseen blank in the name",
		"\"name\":\"Ada\u200b\"",
	},
	{"a bell in the name", `"name":"Ada\u0007"`},
	{"half a surrogate", `"name":"\ud800"`},
	{"a direction mark in a field's name", "\"na\u202eme\":\"x\""},
	{"signs given twice", `"red_flags":["saddle_numbness"],"red_flags":[]`},
	{"pain given twice", `"pain":{"now":7,"now":1}`},
	{"a condition's detail twice", `"conditions":[{"id":"hip_replacement","side":"left","side":"right"}]`},
	{"a twin far down", `"instructions":[{"quantity":"lumbar_flexion","max":5,"max":50,"by":"x","on":"2026-01-01"}]`},
	{"an unknown field", `"colour":"red"`},
	{"a field in capitals", `"Name":"Ada"`},
	{"an unknown detail", `"conditions":[{"id":"osteoporosis","mood":"low"}]`},
	{"a detail of another", `"conditions":[{"id":"low_back_pain","t_score":-3}]`},
	{"a text for a number", `"mass_kg":"66"`},
	{"a number for a text", `"name":7`},
	{"a list for a text", `"name":["Ada"]`},
	{"a text for a list", `"goals":"balance"`},
	{"yes for true", `"steroids":"yes"`},
	{"one for true", `"strict":1`},
	{"half a year of birth", `"birth_year":1956.5`},
	{"a year with a point", `"birth_year":1956.0`},
	{"a year in words of powers", `"birth_year":1.956e3`},
	{"two figures of a year", `"birth_year":56`},
	{"born tomorrow", `"birth_year":2027`},
	{"born in 9999", `"birth_year":9999`},
	{"no weight", `"mass_kg":0`},
	{"less than none", `"mass_kg":-66`},
	{"out of all reach", `"mass_kg":1e400`},
	{"a ton", `"mass_kg":1000`},
	{"metres", `"height_cm":1.63`},
	{"feet", `"height_cm":5.4`},
	{"taller than ever", `"height_cm":170,"tallest_height_cm":160`},
	{"pain of eleven", `"pain":{"now":11}`},
	{"pain below nothing", `"pain":{"now":-1}`},
	{"half a pain", `"pain":{"now":2.5}`},
	{"settles before it came", `"pain":{"settles_hours":-2}`},
	{"an unknown condition", `"conditions":[{"id":"lumbago"}]`},
	{"a condition twice", `"conditions":[{"id":"osteoporosis"},{"id":"osteoporosis"}]`},
	{"a condition without a name", `"conditions":[{"side":"left"}]`},
	{"usual bone as fragile", `"conditions":[{"id":"osteoporosis","t_score":-0.5}]`},
	{"a lost minus sign", `"conditions":[{"id":"osteoporosis","t_score":2.8}]`},
	{"usual bone as low", `"conditions":[{"id":"osteopenia","t_score":0}]`},
	{"a score of thirty", `"conditions":[{"id":"osteoporosis","t_score":-30}]`},
	{"a fusion of nothing", `"conditions":[{"id":"spinal_fusion","levels":"L9-S4"}]`},
	{"fused in words", `"conditions":[{"id":"spinal_fusion","levels":"the lower ones"}]`},
	{"a sign cleared by nobody", `"red_flags":["fever_unwell"],"flags_cleared":[{"flag":"fever_unwell","on":"2026-11-01"}]`},
	{"operated tomorrow", `"conditions":[{"id":"hip_replacement","operated_on":"2026-12-24"}]`},
	{"operated in 9999", `"conditions":[{"id":"hip_replacement","operated_on":"9999-01-01"}]`},
	{"operated long ago", `"conditions":[{"id":"hip_replacement","operated_on":"0026-01-01"}]`},
	{"weeks below nothing", `"conditions":[{"id":"hip_replacement","weeks_since":-1}]`},
	{"an unknown side", `"conditions":[{"id":"hip_replacement","side":"front"}]`},
	{"a curve of nowhere", `"conditions":[{"id":"scoliosis","curves":[{"region":"sacral","convex":"left"}]}]`},
	{
		"a curve of a right angle and more",
		`"conditions":[{"id":"scoliosis","curves":[{"region":"thoracic","convex":"left","cobb_deg":240}]}]`,
	},
	{"grade of a stenosis", `"conditions":[{"id":"extension_sensitive","which":"stenosis","grade":1}]`},
	{"a pressure in words", `"resting_pressure":"high"`},
	{"the wrong way round", `"resting_pressure":"80/120"`},
	{"a pressure of nobody", `"resting_pressure":"400/20"`},
	{"half a pressure", `"resting_pressure":"128"`},
	{"the wrong way round, in a condition", `"conditions":[{"id":"raised_blood_pressure","reading":"80/120"}]`},
	{"an unknown warning sign", `"red_flags":["boredom"]`},
	{"a sign as a word", `"red_flags":true`},
	{"half a chair stand", `"measures":[{"id":"chair_stand_30s","value":10.5}]`},
	{"a side of a chair stand", `"measures":[{"id":"chair_stand_30s","side":"left","value":10}]`},
	{"a stage of a plank", `"measures":[{"id":"plank_hold_s","stage":2,"value":10}]`},
	{"both sides of one leg", `"measures":[{"id":"single_leg_stance_s","side":"both","value":10}]`},
	{
		"two values of one day",
		`"measures":[{"id":"chair_stand_30s","value":10,"on":"2026-11-02"},{"id":"chair_stand_30s","value":14,"on":"2026-11-02"}]`,
	},
	{
		"two findings of one day",
		`"screens":[{"id":"half_squat","finding":"able","on":"2026-11-02"},{"id":"half_squat","finding":"weak","on":"2026-11-02"}]`,
	},
	{"an hour on one leg", `"measures":[{"id":"single_leg_stance_s","value":3600}]`},
	{"an unknown measure", `"measures":[{"id":"grip_kg","value":30}]`},
	{"measured tomorrow", `"measures":[{"id":"breath_seconds","value":4,"on":"2026-11-26"}]`},
	{"measured in 9999", `"measures":[{"id":"breath_seconds","value":4,"on":"9999-12-31"}]`},
	{"a day that is none", `"measures":[{"id":"breath_seconds","value":4,"on":"2026-11-31"}]`},
	{"a day as it is spoken", `"measures":[{"id":"breath_seconds","value":4,"on":"2 Nov 2026"}]`},
	{"no breath", `"measures":[{"id":"breath_seconds","value":0}]`},
	{"a measure of nothing", `"measures":[{"id":"breath_seconds"}]`},
	{"an unknown test", `"screens":[{"id":"handstand","finding":"able"}]`},
	{"an unknown finding", `"screens":[{"id":"half_squat","finding":"fine"}]`},
	{"a goal of joy", `"goals":["joy"]`},
	{"a place of water", `"place":"pool"`},
	{"the hard way", `"approach":"hard"`},
	{"minutes of a day", `"minutes":600`},
	{"two minutes", `"minutes":2`},
	{"an unknown thing to work with", `"equipment":["trampoline"]`},
	{"a blue band", `"owned":{"band":["blue"]}`},
	{"a surface of a matchbox", `"owned":{"surface_cm":[4]}`},
	{"a rung of nothing", `"rungs":[{"family":"bird_dog","variant":"headstand"}]`},
	{"a rung of another family", `"rungs":[{"family":"clam","variant":"bird_dog_arm"}]`},
	{"cleared by nobody", `"clearances":[{"rule":"osteoporosis.head_lift","by":"","on":"2026-10-01"}]`},
	{"an unknown rule cleared", `"clearances":[{"rule":"osteoporosis.joy","by":"x","on":"2026-10-01"}]`},
	{"a warning cleared", `"clearances":[{"rule":"spinal_fusion.clearance","by":"x","on":"2026-10-01"}]`},
	{"cleared tomorrow", `"clearances":[{"rule":"osteoporosis.head_lift","by":"x","on":"2026-12-01"}]`},
	{"a figure for courage", `"instructions":[{"quantity":"courage","max":3,"by":"x","on":"2026-10-01"}]`},
	{"a figure for a yes or no", `"instructions":[{"quantity":"head_lift","max":3,"by":"x","on":"2026-10-01"}]`},
	{"less than nothing allowed", `"instructions":[{"quantity":"lumbar_flexion","max":-3,"by":"x","on":"2026-10-01"}]`},
	{"a fall hurt and none fallen", `"fall_injury":true`},
	{"a clock of eleven hours", `"clock":[{"on":"2026-11-01","hours":[0,0,0,0,0,0,0,0,0,0,0]}]`},
	{"a name of a page", `"name":"` + strings.Repeat("x", 200) + `"`},
	{"stands less than none", `"tolerates":{"standing_minutes":-1}`},
}

// oddRecords are records of the same kind.
var oddRecords = [][2]string{
	{"no exercises", `{"format":"restbend.record/1","on":"2026-11-24"}`},
	{"of tomorrow", `{"format":"restbend.record/1","on":"2026-11-26","items":[]}`},
	{"of 9999", `{"format":"restbend.record/1","on":"9999-01-01","items":[]}`},
	{"of no day", `{"format":"restbend.record/1","on":"today","items":[]}`},
	{"ended of itself", `{"format":"restbend.record/1","on":"2026-11-24","items":[{"variant":"bridge_low","ended":"tired"}]}`},
	{"an exercise of no library", `{"format":"restbend.record/1","on":"2026-11-24","items":[{"variant":"headstand","ended":"done"}]}`},
	{"pain of twelve", `{"format":"restbend.record/1","on":"2026-11-24","items":[],"pain":{"after":12}}`},
	{
		"none and done",
		`{"format":"restbend.record/1","on":"2026-11-24","items":[{"variant":"bridge_low","ended":"done","repetitions":0}]}`,
	},
	{"items twice", `{"format":"restbend.record/1","on":"2026-11-24","items":[],"items":[]}`},
	{
		"repetitions in halves",
		`{"format":"restbend.record/1","on":"2026-11-24","items":[{"variant":"bridge_low","ended":"done","repetitions":2.5}]}`,
	},
	{
		"repetitions with a point",
		`{"format":"restbend.record/1","on":"2026-11-24","items":[{"variant":"bridge_low","ended":"done","repetitions":8.0}]}`,
	},
}

// ofMachines are words that speak of how the program is made, not of what was given.
var ofMachines = regexp.MustCompile(
	`(^|: )json: |(?i:unmarshal|\bstruct\b|strconv|parse|golang|\bnil\b|interface|float64|\bint\b|goroutine|panic|decode|invalid ` +
		`character)|\bGo\b|\bEOF\b`,
)

// TestOddFilesGetASentence: every one is refused with status 2 and one sentence, which a
// person has read; the list stands in testdata/odd.txt.
func TestOddFilesGetASentence(t *testing.T) {
	var list strings.Builder
	fmt.Fprintln(&list, "# What odd files are told. Made by: go test ./cmd/restbend -run OddFiles -odd")
	refused := func(name, in string, args ...string) {
		status, out, errs := call(in, args...)
		assert.Equal(t, exitRefused, status, "%s: %s", name, in)
		assert.Empty(t, out, name)
		assert.Equal(t, 1, strings.Count(errs, "\n"), "%s: %s", name, errs)
		assert.NotRegexp(t, ofMachines, errs, name)
		errs = regexp.MustCompile(`expected one of [^\n]{90,}`).ReplaceAllStringFunc(errs, func(s string) string { return s[:80] + " …" })
		fmt.Fprintf(&list, "%s: %s", name, strings.TrimPrefix(errs, "restbend: "))
	}
	names := map[string]bool{}
	for _, c := range oddClients {
		name, in := c[0], c[1]
		require.False(t, names[name], name)
		names[name] = true
		if strings.HasPrefix(in, `"`) {
			in = `{"format":"restbend.client/1",` + in + `}`
		}
		refused(name, in, "limits", "-", "--on", "2026-11-25")
	}
	dir := t.TempDir()
	for i, r := range oddRecords {
		path := filepath.Join(dir, fmt.Sprintf("%d.json", i))
		require.NoError(t, os.WriteFile(path, []byte(r[1]), 0o600))
		refused(
			"record: "+r[0],
			`{"format":"restbend.client/1"}`,
			"plan",
			"-",
			"--done",
			path,
			"--minutes-left",
			"10",
			"--on",
			"2026-11-25",
		)
	}
	refused("call: a day in 9999", `{"format":"restbend.client/1"}`, "limits", "-", "--on", "9999-01-01")
	refused("call: a day of no month", `{"format":"restbend.client/1"}`, "limits", "-", "--on", "2026-13-01")
	refused("call: no such file", ``, "limits", filepath.Join("testdata", "none.json"))
	refused("call: a folder", ``, "limits", "testdata")
	assert.Greater(t, strings.Count(list.String(), "\n"), 110)

	const file = "testdata/odd.txt"
	if *updateOdd {
		require.NoError(t, os.MkdirAll("testdata", 0o755))
		require.NoError(t, os.WriteFile(file, []byte(list.String()), 0o644))
	}
	kept, err := os.ReadFile(file)
	require.NoError(t, err)
	assert.Equal(t, string(kept), list.String())
}

// TestPressureCountsWithoutACondition: a reading speaks for itself.
func TestPressureCountsWithoutACondition(t *testing.T) {
	status, out, _ := call(`{"format":"restbend.client/1","resting_pressure":"250/150"}`, "limits", "-", "--json")
	assert.Equal(t, exitRefer, status)
	var answer struct{ Status string }
	require.NoError(t, json.Unmarshal([]byte(out), &answer))
	assert.Equal(t, "refer", answer.Status)
}
