package main

import (
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/civil"
	"restbend/core/lesson"
	"restbend/core/readiness"
	"restbend/core/readiness/readinesstest"
)

// commandDoors are the doors of readiness that are commands: what is called, with the client's
// file for C, that of somebody else for O, yesterday's record for R and today's so far for D.
// Sees says what else than the client a command is told of.
var commandDoors = map[string]struct {
	args string
	sees string
}{
	"limits_command": {"limits C --json", ""},
	"check_command":  {"check C --json bridge_low", ""},
	"plan_command":   {"plan C --json --place mat --minutes 10", ""},
	"rest_command":   {"plan C --json --done D --minutes-left 8", "marks"},
	"class_command":  {"class C O --json --minutes 10", ""},
	"home_command":   {"home C R --json", "past"},
	"export_command": {"export C --as html --out X", ""},
	"course_command": {"course C R --json --weeks 1 --minutes 10", "past"},
	"next_command":   {"next C R --json", "past"},
}

// TestSafetyEverySignalAtEveryCommand tries each signal at each door that is a command: the status
// it answers with, and whether it ends with 3. A new one of either fails until it is covered.
func TestSafetyEverySignalAtEveryCommand(t *testing.T) {
	t.Parallel()
	day, err := civil.Parse("2026-11-24")
	require.NoError(t, err)
	dir := t.TempDir()
	write := func(name string, doc any) string {
		b, err := json.Marshal(doc)
		require.NoError(t, err)
		path := filepath.Join(dir, name)
		require.NoError(t, os.WriteFile(path, b, 0o600))
		return path
	}
	other := readinesstest.Base(day)
	other.Name = "Rowan Ashdale"
	o := write("other.json", other)
	for _, d := range readiness.Doors {
		if d.On != readiness.Command {
			continue
		}
		command, covered := commandDoors[d.ID]
		if !assert.True(t, covered, "nobody calls the door %s", d.ID) {
			continue
		}
		for _, signal := range readiness.Signals {
			of, covered := readinesstest.For(signal.ID)
			require.True(t, covered, signal.ID)
			soFar := lesson.Record{Format: "restbend.record/1", On: day.String(), Pain: lesson.Pain{Before: new(int)},
				Items: []lesson.Done{{Variant: "bridge_low", Sets: 1, Repetitions: 4, Ended: "choice"}}}
			for _, m := range of.Marks {
				soFar.Items[0].Ended = m.Kind
				if m.Kind == "pain" {
					soFar.Items[0].Pain = &lesson.PainAt{Score: *m.Score, Where: m.Where}
				}
			}
			files := strings.NewReplacer(
				" C", " "+write("client.json", of.On(day)), " O", " "+o,
				" R", " "+write("yesterday.json", of.Record(day)), " D", " "+write("today.json", soFar),
				" X", " "+filepath.Join(dir, d.ID+signal.ID+".html"))
			status, out, errs := call("", append(strings.Fields(files.Replace(command.args)), "--on", day.String())...)

			want := signal.Expected(d.Act)
			if len(of.Marks) > 0 && command.sees != "marks" || len(of.Past) > 0 && command.sees != "past" {
				want = readiness.Ready
			}
			exit := exitRefer
			if readinesstest.Gives(want, d.Act) {
				exit = exitDone
			}
			assert.Equal(t, exit, status, "%s, %s: %s", d.ID, signal.ID, errs)
			if d.ID == "export_command" {
				continue // a sheet, or none
			}
			var answer struct {
				Readiness *readiness.Readiness
				People    []struct{ Readiness *readiness.Readiness }
			}
			if !assert.NoError(t, json.Unmarshal([]byte(out), &answer), "%s, %s: %s", d.ID, signal.ID, errs) {
				continue
			}
			if len(answer.People) > 0 {
				answer.Readiness = answer.People[0].Readiness
			}
			if assert.NotNil(t, answer.Readiness, "%s, %s", d.ID, signal.ID) {
				assert.Equal(t, want, answer.Readiness.Status, "%s, %s", d.ID, signal.ID)
			}
		}
	}
}
