package main

import (
	"bytes"
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/plan"
	"restbend/formats"
	"restbend/store"
)

// call runs the program as from a shell, with a client on standard input.
func call(in string, args ...string) (status int, out, errs string) {
	var o, e bytes.Buffer
	status = run(args, streams{strings.NewReader(in), &o, &e})
	return status, o.String(), e.String()
}

const two = `{"format":"restbend.client/1","red_flags":[],"height_cm":163,"mass_kg":66,"equipment":["mat","chair"],
 "conditions":[{"id":"osteoporosis","vertebral_fracture":false},
{"id":"disc_sciatica","stage":"subacute","side":"left","eases":"extension"}]}`

func TestJSONAnswersKeepToTheirSchemas(t *testing.T) {
	for name, args := range map[string][]string{
		"catalog": {"catalog", "--json"},
		"limits":  {"limits", "-", "--json", "--on", "2026-11-24"},
		"check":   {"check", "-", "--json", "--on", "2026-11-24"},
		"lever":   {"lever", "--json", "--on", "forearms", "--from", "knees", "--raise-cm", "30"},
		"plan":    {"plan", "-", "--json", "--on", "2026-11-24", "--place", "chair", "--minutes", "20"},
	} {
		status, out, errs := call(two, args...)
		assert.Equal(t, exitDone, status, errs)
		assert.NoError(t, formats.Validate(name, []byte(out)), name)
	}
}

func TestPlansOnMatAndChair(t *testing.T) {
	for _, place := range []string{"mat", "chair"} {
		for _, minutes := range []string{"20", "30"} {
			status, out, errs := call(two, "plan", "-", "--json", "--place", place, "--minutes", minutes)
			require.Equal(t, exitDone, status, errs)
			var p plan.Plan
			require.NoError(t, json.Unmarshal([]byte(out), &p))
			assert.Equal(t, plan.Ready, p.Status)
			assert.InEpsilon(t, float64(p.MinutesAsked*60), p.SecondsTotal, 0.05)
		}
	}
}

func TestPlainAnswers(t *testing.T) {
	for says, args := range map[string][]string{
		"hands       67% of body weight":           {"lever"},
		"with chair":                               {"plan", "-", "--place", "chair", "--minutes", "20"},
		"7, then 5, then 3 slowly":                 {"plan", "-", "--place", "mat", "--dose", "bridge_low=7, 5 and 3"},
		"hold 12 s each side":                      {"plan", "-", "--place", "mat", "--minutes", "20", "--dose", "bird_dog_arm=hold 12 s"},
		"Rib breathing":                            {"catalog"},
		"Low back rounding forward: shut past 20°": {"limits", "-"},
		"avoid   Small curl-up":                    {"check", "-", "curl_up"},
		"Small curl-up":                            {"plan", "-", "--place", "mat"},
		"No place was named: the mat is used.":     {"plan", "-"},
	} {
		status, out, errs := call(two, args...)
		assert.Equal(t, exitDone, status, errs)
		assert.Contains(t, out, says)
	}
}

// The example client of the contract as printed there, which names conditions
// this version does not know yet.
const example = `{
  "format": "restbend.client/1",
  "name": "text", "birth_year": 1956, "sex": "female", "height_cm": 163, "mass_kg": 66,
  "conditions": [
    {"id": "osteoporosis", "vertebral_fracture": true, "t_score": -2.9},
    {"id": "disc_sciatica", "stage": "subacute", "side": "left", "eases": "extension"},
    {"id": "spinal_fusion", "levels": "L4-S1", "months_since": 14, "cleared_for_exercise": true},
    {"id": "scoliosis", "curves": [{"region": "thoracic", "convex": "right", "cobb_deg": 24}]}
  ],
  "red_flags": [],
  "tolerates": {"floor": true, "kneeling": true, "prone": true, "supine_flat": true, "wrist_load": true, "standing_minutes": 15},
  "pain": {"now": 2, "worst_24h": 4, "settles_hours": 3},
  "measures": [
    {"id": "chair_stand_30s", "value": 10, "on": "2026-11-02"},
    {"id": "single_leg_stance_s", "side": "left", "value": 7},
    {"id": "lumbar_flexion_deg", "value": 35},
    {"id": "thoracic_rotation_deg", "side": "right", "value": 30},
    {"id": "breath_seconds", "value": 4.2}
  ],
  "screens": [{"id": "half_squat", "finding": "loses_neutral", "sensation": "none", "moment": "before", "on": "2026-11-02"}],
  "goals": ["mobility_flexion_extension", "deep_core", "balance"],
  "place": "mat", "equipment": ["mat", "chair", "pillow"], "approach": "steady", "minutes": 30,
  "strict": false, "tallest_height_cm": 168, "steroids": false, "resting_pressure": "128/78",
  "rungs": [{"family": "bird_dog", "variant": "bird_dog_arm", "dose": {"kind": "hold_seconds", "repetitions": 6, "seconds": 5}}],
  "clearances": [{"rule": "osteoporosis.head_lift", "by": "Dr A. Example", "on": "2026-10-01", "note": "text"}],
  "instructions": [{"quantity": "lumbar_extension", "max": 15, "by": "surgeon", "on": "2026-10-01"}]
}`

func TestRefusals(t *testing.T) {
	missing := filepath.Join(t.TempDir(), "none.json")
	for _, c := range []struct {
		name, in string
		args     []string
		says     string
	}{
		{"no command", "", nil, "restbend --help"},
		{"unknown command", "", []string{"dance"}, "restbend --help"},
		{"unknown flag", two, []string{"plan", "-", "--loud"}, "--loud"},
		{"missing file", "", []string{"limits", missing}, "none.json: cannot be read"},
		{"broken JSON", "{", []string{"limits", "-"}, "not valid JSON"},
		{"unknown variant", two, []string{"check", "-", "headstand"}, `variant: "headstand" is not in the library`},
		{"zero minutes", two, []string{"plan", "-", "--minutes", "0"}, "--minutes: expected 5 to 120, found 0"},
		{"six hundred minutes", two, []string{"plan", "-", "--minutes", "600"}, "--minutes: expected 5 to 120, found 600"},
		{"minutes in words", two, []string{"plan", "-", "--minutes", "many"}, "--minutes"},
		{"unknown place", two, []string{"plan", "-", "--place", "moon"}, `place: "moon" is not known`},
		{"unknown approach", two, []string{"plan", "-", "--approach", "loud"}, "approach"},
		{"a lever on nothing", "", []string{"lever", "--on", "elbows"}, `on: "elbows" is not known`},
		{"a lever too high", "", []string{"lever", "--raise-cm", "111"}, "raise-cm: expected 0 to 110, found 111"},
		{"a lever too high for the knees", "", []string{"lever", "--from", "knees", "--raise-cm", "110"}, "too high for a straight " +
			"body on the knees"},
		{"a small person", "", []string{"lever", "--height-cm", "1.7"}, "height-cm: expected 100 to 230"},
		{"a dose of nothing", two, []string{"plan", "-", "--dose", "headstand=8"}, `--dose headstand: "headstand" is not in the library`},
		{"a dose that cannot be read", two, []string{"plan", "-", "--dose", "bridge_low=plenty"}, "--dose bridge_low: Low bridge: " +
			"\"plenty\" cannot be read"},
		{"a dose counted wrongly", two, []string{"plan", "-", "--dose", "heel_slide=hold 10 s"}, "it is not counted in hold seconds; " +
			"expected repetitions"},
		{"bad date", two, []string{"plan", "-", "--on", "soon"}, "--on"},
		{"a foreign address", "", []string{"serve", "--addr", "0.0.0.0:80", "--data", t.TempDir()}, "--addr"},
	} {
		status, out, errs := call(c.in, c.args...)
		assert.Equal(t, exitRefused, status, c.name)
		assert.Contains(t, errs, c.says, c.name)
		assert.Empty(t, out, c.name)
	}
}

func TestTheContractsExampleIsPlanned(t *testing.T) {
	status, out, errs := call(example, "plan", "-", "--on", "2026-11-24", "--json")
	assert.Equal(t, exitDone, status, errs)
	assert.Contains(t, out, `"status": "ready"`)
	_, out, _ = call(example, "limits", "-", "--on", "2026-11-24")
	assert.Contains(t, out, "Instruction of surgeon")
}

func TestSafetyReferEndsWithThree(t *testing.T) {
	for _, k := range []string{`{"id":"pregnant"}`, `{"id":"spinal_fusion","levels":"L4-S1","months_since":10}`,
		`{"id":"spinal_fusion","levels":"L4-S1","months_since":2,"cleared_for_exercise":true}`, `{"id":"raised_blood_pressure",` +
			`"reading":"182/96"}`} {
		for _, command := range []string{"limits", "check", "plan"} {
			status, out, _ := call(`{"format":"restbend.client/1","red_flags":[],"conditions":[`+k+`]}`, command, "-", "--json")
			assert.Equal(t, exitRefer, status, "%s %s", command, k)
			assert.Contains(t, out, `"status": "refer"`)
		}
	}
	flagged := strings.Replace(two, `"red_flags":[]`, `"red_flags":["bladder_bowel_change"]`, 1)
	young := strings.Replace(two, `"equipment"`, `"birth_year":2015,"equipment"`, 1)
	for _, in := range []string{flagged, young} {
		for _, command := range []string{"limits", "check", "plan"} {
			status, out, errs := call(in, command, "-", "--json", "--on", "2026-11-24")
			assert.Equal(t, exitRefer, status, errs)
			assert.NoError(t, formats.Validate(command, []byte(out)))
			assert.Contains(t, out, `"status": "refer"`)
		}
	}
	_, out, _ := call(flagged, "plan", "-")
	assert.Contains(t, out, "emergency services now")
}

func TestHelpAndFiles(t *testing.T) {
	status, out, _ := call("", "--help")
	assert.Equal(t, exitDone, status)
	assert.Contains(t, out, "never diagnoses")
	file := filepath.Join(t.TempDir(), "c.json")
	require.NoError(t, os.WriteFile(file, []byte(two), 0o600))
	status, out, _ = call("", "check", file, "heel_slide", "cat_cow")
	assert.Equal(t, exitDone, status)
	assert.Contains(t, out, "suits   Heel slide")
}

func TestAFailureOfTheProgramEndsWithOne(t *testing.T) {
	file := filepath.Join(t.TempDir(), "file")
	require.NoError(t, os.WriteFile(file, nil, 0o600))
	status, _, errs := call("", "serve", "--addr", "127.0.0.1:0", "--data", file)
	assert.Equal(t, exitFailed, status)
	assert.Contains(t, errs, "data folder")
}

// TestNextOnTheCommandLine: a step up that the plan follows, a refusal of two accounts, and
// a referral with its status.
func TestNextOnTheCommandLine(t *testing.T) {
	dir := t.TempDir()
	file := func(name, on, ended, more string) string {
		path := filepath.Join(dir, name)
		item := func(side string) string {
			return `{"variant":"bird_dog_arm","side":"` + side + `","sets":1,"repetitions":6,"seconds":10,"best_hold":10,` +
				`"ended":"` + ended + `","planned":{"kind":"hold_seconds","sets":1,"repetitions":6,"seconds":10}}`
		}
		require.NoError(t,
			os.WriteFile(
				path,
				[]byte(
					`{"format":"restbend.record/1","plan":"p`+on+`","on":"`+on+`","pain":{"before":1,"during":1,"after":1},"items":[`+item(
						"left",
					)+`,`+item(
						"right",
					)+`],"follow_up":{"hours_to_settle":2,"kind":"none"`+more+`}}`,
				),
				0o600,
			),
		)
		return path
	}
	first, second := file("1.json", "2026-11-16", "done", ""), file("2.json", "2026-11-20", "done", "")
	plain := `{"format":"restbend.client/1","red_flags":[],"equipment":["mat","chair"],"goals":["anti_rotation"]}`
	status, out, errs := call(plain, "next", "-", second, first, "--json", "--on", "2026-11-24")
	require.Equal(t, exitDone, status, errs)
	require.NoError(t, formats.Validate("next", []byte(out)))
	var answer struct {
		Decisions []struct{ Step, Changed string }
		Client    json.RawMessage
	}
	require.NoError(t, json.Unmarshal([]byte(out), &answer))
	require.Len(t, answer.Decisions, 2)
	assert.Equal(t, "step_up", answer.Decisions[0].Step)
	status, out, errs = call(string(answer.Client), "plan", "-", "--json", "--on", "2026-11-24", "--minutes", "30", "--place", "mat")
	require.Equal(t, exitDone, status, errs)
	assert.Contains(t, out, `"variant": "bird_dog_leg"`)

	status, _, errs = call(plain, "next", "-", second, file("3.json", "2026-11-20", "form", ""), "--on", "2026-11-24")
	assert.Equal(t, exitRefused, status)
	assert.Contains(t, errs, "two accounts of one session")
	status, out, _ = call(
		plain,
		"next",
		"-",
		file("4.json", "2026-11-21", "done", `,"red_flags":["saddle_numbness"]`),
		"--on",
		"2026-11-24",
	)
	assert.Equal(t, exitRefer, status)
	assert.Contains(t, out, "Stop, and refer")
}

func TestBackupAndRestoreOnTheCommandLine(t *testing.T) {
	dir := t.TempDir()
	file := filepath.Join(dir, "copy.db")
	status, _, errs := call("", "backup", file, "--data", dir)
	assert.Equal(t, exitRefused, status)
	assert.Contains(t, errs, "there is no database")
	require.NoError(t, os.MkdirAll(filepath.Join(dir, "own"), 0o700))
	db, err := store.Open(t.Context(), filepath.Join(dir, "own"))
	require.NoError(t, err)
	defer db.Close()
	status, out, errs := call("", "backup", file, "--data", filepath.Join(dir, "own"))
	require.Equal(t, exitDone, status, errs)
	assert.Contains(t, out, "Copied to")
	status, _, errs = call("", "restore", file, "--data", filepath.Join(dir, "own"))
	assert.Equal(t, exitRefused, status)
	assert.Contains(t, errs, "nothing is written over")
	status, _, errs = call("", "restore", file, "--data", filepath.Join(dir, "new"))
	assert.Equal(t, exitDone, status, errs)
}

// TestHomeOnTheCommandLine: a programme as published, whose exercises are not barred; figures
// out of reach are named, and a warning sign refers.
func TestHomeOnTheCommandLine(t *testing.T) {
	bone := `{"format":"restbend.client/1","red_flags":[],"equipment":["mat","chair","band"],"goals":["upper_back_posture"],` +
		`"place":"chair","conditions":[{"id":"osteoporosis","vertebral_fracture":true}]}`
	status, out, errs := call(bone, "home", "-", "--json", "--on", "2026-11-24")
	require.Equal(t, exitDone, status, errs)
	require.NoError(t, formats.Validate("home", []byte(out)))
	var p struct {
		Items []struct{ Variant string }
	}
	require.NoError(t, json.Unmarshal([]byte(out), &p))
	require.NotEmpty(t, p.Items)
	args := []string{"check", "-", "--json", "--on", "2026-11-24"}
	for _, it := range p.Items {
		args = append(args, it.Variant)
	}
	status, out, _ = call(bone, args...)
	require.Equal(t, exitDone, status)
	assert.NotContains(t, out, `"verdict": "avoid"`)
	status, out, _ = call(bone, "home", "-", "--on", "2026-11-24")
	assert.Equal(t, exitDone, status)
	assert.Contains(t, out, "When to stop: Stop at sharp pain")
	for flag, says := range map[string]string{"--items=9": "items", "--days=8": "days"} {
		status, _, errs = call(bone, "home", "-", flag)
		assert.Equal(t, exitRefused, status)
		assert.Contains(t, errs, says)
	}
	status, _, _ = call(`{"format":"restbend.client/1","red_flags":["saddle_numbness"]}`, "home", "-")
	assert.Equal(t, exitRefer, status)
}
