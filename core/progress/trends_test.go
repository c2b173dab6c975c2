package progress_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/progress"
)

// TestTrends against figures worked out apart: the slope of the pain and the weeks by
// hand, and nothing shown of which there is but one day.
func TestTrends(t *testing.T) {
	var rs []lesson.Record
	for i, worst := range []int{4, 3, 3, 2} {
		rs = append(rs, session{ago: 28 - 7*i, before: worst + 1, worst: worst, follow: settled()}.record())
	}
	rs = append(rs, session{ago: 1, before: 2, worst: 1}.record())
	c := limit.Client{Measures: []limit.Measure{{ID: "specific_activity", Value: 4, On: "2026-11-01"}}}
	by := map[string]progress.Trend{}
	for _, x := range progress.Trends(c, rs, world(t, plain).Variants) {
		by[x.ID] = x
	}
	assert.NotContains(t, by, "activity", "one day shows nothing")
	after := by["pain"].Lines[1].Points
	var n, x, y, xx, xy float64
	for _, p := range after {
		day := float64(p.On.Since(after[0].On))
		n, x, y, xx, xy = n+1, x+day, y+p.Value, xx+day*day, xy+day*p.Value
	}
	slope := (xy - x*y/n) / (xx - x*x/n)
	assert.InDelta(t, -47.4/462.8, slope, 1e-6, "least squares over our points, against sums worked out by hand")
	assert.Empty(t, by["pain"].Lines[2].Points, "nobody said how the next day was")
	holds := by["hold-bird_dog_arm"]
	assert.Empty(t, holds.Lines, "no best hold was recorded, so none is made up")
	weeks := by["weeks"].Lines[0].Points
	sum := 0.0
	for i, w := range weeks {
		sum += w.Value
		assert.Equal(t, time.Monday, w.On.Weekday())
		if i > 0 {
			assert.Equal(t, 7, w.On.Since(weeks[i-1].On))
		}
	}
	assert.Equal(t, 5.0, sum)
	assert.NotEmpty(t, by["demand"].Lines[0].Points)
}

// TestRealChange: Farrar et al., Pain 2001 (2 points or 30%), and Stratford et al. 1995 (3
// points on one activity), both from memory.
func TestRealChange(t *testing.T) {
	at := func(id string, values ...float64) progress.Trend {
		line := progress.TrendLine{Words: map[string]string{"pain": "after"}[id]}
		for i, v := range values {
			line.Points = append(line.Points, progress.Point{On: today.AddDate(0, 0, i), Value: v})
		}
		return progress.Trend{ID: id, Lines: []progress.TrendLine{line}}
	}
	for says, of := range map[string][]progress.Trend{
		"fell by enough":            {at("pain", 5, 3), at("pain", 3, 2), at("pain", 8, 7, 5)},
		"has not changed by enough": {at("pain", 5, 4), at("pain", 2, 3), at("activity", 4, 6)},
		"rose by enough":            {at("pain", 2, 4)}, "goes better by enough": {at("activity", 4, 7)},
		"goes worse by enough": {at("activity", 7, 4)},
	} {
		for _, x := range of {
			said, source := x.Real()
			assert.Contains(t, said, says, "%v", x.Lines)
			assert.Contains(t, source, "from memory")
		}
	}
	said, _ := at("weeks", 1, 5).Real()
	assert.Empty(t, said)
}
