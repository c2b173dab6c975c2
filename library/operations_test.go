package library

import (
	"flag"
	"fmt"
	"os"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// operated is a client some weeks after an operation.
func operated(condition, details string, weeks float64, cleared string) limit.Client {
	k := limit.Condition{ID: condition}.With("weeks_since", weeks)
	for _, d := range strings.Fields(details) {
		field, answer, _ := strings.Cut(d, "=")
		k = k.With(field, answer)
	}
	if cleared != "unasked" {
		k = k.With("cleared_for_exercise", cleared == "yes")
	}
	one := 1
	return limit.Client{BirthYear: today.Year() - 60, Sex: "female", Conditions: []limit.Condition{k},
		Pain: limit.Pain{Now: &one}, Place: "mat", RedFlags: []string{},
		Equipment: []string{"mat", "chair", "pillow", "towel", "band", "wall", "rail"}}
}

// TestSafetyOperationsByWeek holds the rules against a table of operation, week and movement that
// was written down from the published scheme before the rules were.
func TestSafetyOperationsByWeek(t *testing.T) {
	l := load(t)
	for _, row := range cells(t, "testdata/operations.csv") {
		name := strings.Join(row, " ")
		weeks, err := strconv.ParseFloat(row[2], 64)
		require.NoError(t, err, name)
		set := limit.For(operated(row[0], row[1], weeks, row[3]), l.Conditions, today)
		if row[5] == "refer" {
			assert.Equal(t, limit.Refer, set.Status(), name)
			continue
		}
		require.Equal(t, limit.OK, set.Status(), name)
		v := l.Variant(row[4])
		require.NotNil(t, v, name)
		j := limit.Judge(set, v, limit.KitOf(operated(row[0], row[1], weeks, row[3]), "mat"))
		assert.Contains(t, agrees[row[5]], j.Verdict, "%s: %v %v", name, j.Reasons, j.Adaptations)
	}
}

// operations are the conditions that are operations, each with answers that leave nothing open.
var operations = [][2]string{
	{"hip_replacement", "side=left approach=posterior"}, {"hip_replacement", "side=left approach=anterior"},
	{"hip_replacement", "side=left approach=lateral"}, {"hip_fracture_fixed", "side=left"}, {"knee_replacement", "side=left"},
	{"spinal_fusion", "levels=L4-S1"}, {"discectomy_or_laminectomy", "which=discectomy"},
	{"discectomy_or_laminectomy", "which=decompression"}, {"rotator_cuff_repair", "side=left size=small"},
	{"shoulder_replacement", "side=left"}, {"abdominal_surgery_or_hernia", ""}, {"recent_heart_operation", ""},
	{"breast_surgery", "side=left"}, {"kyphoplasty", ""}, {"recent_fracture", "side=left bone=arm"},
	{"recent_fracture", "side=left bone=leg"}, {"recent_fracture", "side=left bone=vertebra"},
}

var strictness = []exercise.Verdict{exercise.Suits, exercise.Adapt, exercise.Avoid}

// TestSafetyWeeksOnlyLoosen: more weeks never make a verdict stricter, and whoever was not asked or
// is not cleared is never planned for more freely.
func TestSafetyWeeksOnlyLoosen(t *testing.T) {
	l := load(t)
	for _, op := range operations {
		before := make([]int, len(l.Variants))
		for i := range before {
			before[i] = len(strictness)
		}
		for _, weeks := range []float64{6, 9, 12, 13.5, 16, 18, 19.5, 23, 26, 28, 31, 40, 52, 55, 60} {
			set := limit.For(operated(op[0], op[1], weeks, "yes"), l.Conditions, today)
			if set.Status() == limit.Refer {
				assert.Less(t, weeks, 13.0, "%v", op)
				continue
			}
			for i, j := range limit.JudgeAll(set, l.Variants, limit.Kit{}) {
				now := slices.Index(strictness, j.Verdict)
				assert.LessOrEqual(t, now, before[i], "%v: %s at week %g", op, l.Variants[i].ID, weeks)
				before[i] = now
			}
			for _, cleared := range []string{"no", "unasked"} {
				other := limit.For(operated(op[0], op[1], weeks, cleared), l.Conditions, today)
				asked := cleared == "unasked" && !set.Tighter(other)
				assert.True(t, other.Status() == limit.Refer || asked, "%v: %s at week %g", op, cleared, weeks)
			}
		}
	}
}

// TestSafetyAFusedSegmentIsNeverFreer: one more fused level never gives a region more.
func TestSafetyAFusedSegmentIsNeverFreer(t *testing.T) {
	l := load(t)
	chain := []string{"L5-S1", "L4-S1", "L3-S1", "L2-S1", "L1-S1", "T12-S1", "T10-S1", "T8-S1", "T4-S1", "T2-S1"}
	for weeks := 14.0; weeks < 70; weeks += 9 {
		for i := 1; i < len(chain); i++ {
			fewer := limit.For(operated("spinal_fusion", "levels="+chain[i-1], weeks, "yes"), l.Conditions, today)
			more := limit.For(operated("spinal_fusion", "levels="+chain[i], weeks, "yes"), l.Conditions, today)
			assert.False(t, fewer.Tighter(more), "%s at week %g allows more than %s", chain[i], weeks, chain[i-1])
		}
	}
}

var updateWeeks = flag.Bool("weeks", false, "write how many exercises each operation allows by week into docs/safety.md")

// TestSafetyTheWeeksInSteps counts the exercises that each operation allows, week by week: once
// planning is allowed, no week frees more than fifteen in a hundred of the library but at the end
// of a phase. docs/safety.md has the counts.
func TestSafetyTheWeeksInSteps(t *testing.T) {
	l := load(t)
	shown := []float64{6, 8, 12, 13, 14, 16, 18, 20, 26, 28, 32, 40, 52, 60}
	var b strings.Builder
	b.WriteString("| operation |")
	for _, w := range shown {
		fmt.Fprintf(&b, " %g |", w)
	}
	b.WriteString("\n|---|" + strings.Repeat("---|", len(shown)) + "\n")
	for _, op := range operations {
		d := l.Conditions.Condition(op[0])
		ends := []float64{d.Operation.Refer, d.Operation.Cleared, d.Operation.Phases[0], d.Operation.Phases[1], 12, 16}
		was := -1
		name := strings.ToLower(d.Name)
		for _, detail := range strings.Fields(op[1]) {
			if _, answer, _ := strings.Cut(detail, "="); answer != "left" {
				name += ", " + answer
			}
		}
		fmt.Fprintf(&b, "| %s |", name)
		for w := 6.0; w <= 60; w++ {
			now := 0
			if set := limit.For(operated(op[0], op[1], w, "yes"), l.Conditions, today); set.Status() == limit.OK {
				for _, j := range limit.JudgeAll(set, l.Variants, limit.Kit{}) {
					if j.Verdict != exercise.Avoid {
						now++
					}
				}
			}
			if was > 0 && !slices.Contains(ends, w) {
				assert.LessOrEqual(t, now-was, len(l.Variants)*15/100, "%v: week %g frees %d exercises at once", op, w, now-was)
			}
			if was = now; slices.Contains(shown, w) {
				if now == 0 {
					b.WriteString(" – |")
				} else {
					fmt.Fprintf(&b, " %d |", now)
				}
			}
		}
		b.WriteString("\n")
	}
	const path, from, to = "../docs/safety.md", "<!-- weeks -->\n", "<!-- /weeks -->"
	text, err := os.ReadFile(path)
	require.NoError(t, err)
	head, rest, ok := strings.Cut(string(text), from)
	require.True(t, ok)
	table, tail, ok := strings.Cut(rest, to)
	require.True(t, ok)
	if *updateWeeks {
		require.NoError(t, os.WriteFile(path, []byte(head+from+b.String()+to+tail), 0o644))
		return
	}
	assert.Equal(t, table, b.String(), "go test ./library -run WeeksInSteps -weeks")
}
