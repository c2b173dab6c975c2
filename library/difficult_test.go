package library

import (
	"encoding/json"
	"os"
	"testing"

	"github.com/goccy/go-yaml"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// TestSafetyDifficultClients holds the verdicts on twenty difficult clients against what a careful
// clinician would say of each.
func TestSafetyDifficultClients(t *testing.T) {
	l := load(t)
	text, err := os.ReadFile("testdata/difficult.yaml")
	require.NoError(t, err)
	var table []struct {
		Who, Clinician  string
		Age             int
		Pain            int
		Steroids, Refer bool
		Conditions      []map[string]any
		Allowed, Barred []string
		NotSimply       []string `yaml:"not_simply"` // at least adapted
	}
	require.NoError(t, yaml.UnmarshalWithOptions(text, &table, yaml.Strict()))
	assert.GreaterOrEqual(t, len(table), 20)
	for _, e := range table {
		b, err := json.Marshal(map[string]any{"birth_year": today.Year() - e.Age, "sex": "female", "red_flags": []string{},
			"pain": map[string]int{"now": max(1, e.Pain)}, "conditions": e.Conditions, "steroids": e.Steroids, "place": "mat",
			"equipment": []string{"mat", "chair", "pillow", "towel", "band", "wall", "rail"}})
		require.NoError(t, err)
		var c limit.Client
		require.NoError(t, json.Unmarshal(b, &c), e.Who)
		require.Nil(t, l.Conditions.CheckClient(c, today), e.Who)
		set := limit.For(c, l.Conditions, today)
		assert.Equal(t, e.Refer, set.Status() == limit.Refer, e.Who)
		assert.NotEmpty(t, e.Clinician, e.Who)
		counts := map[exercise.Verdict]int{}
		for _, j := range limit.JudgeAll(set, l.Variants, limit.KitOf(c, "mat")) {
			counts[j.Verdict]++
		}
		t.Logf("%s: %v", e.Who, counts)
		verdict := func(id string) limit.Judgement {
			require.NotNil(t, l.Variant(id), id)
			return limit.Judge(set, l.Variant(id), limit.KitOf(c, "mat"))
		}
		for _, id := range e.Allowed {
			j := verdict(id)
			assert.NotEqual(t, exercise.Avoid, j.Verdict, "%s: %s %v", e.Who, id, j.Reasons)
		}
		for _, id := range e.NotSimply {
			assert.NotEqual(t, exercise.Suits, verdict(id).Verdict, "%s: %s", e.Who, id)
		}
		for _, id := range e.Barred {
			assert.Equal(t, exercise.Avoid, verdict(id).Verdict, "%s: %s", e.Who, id)
		}
	}
}
