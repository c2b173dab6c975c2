package progress

import (
	"slices"
	"strings"

	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/lesson"
	"restbend/core/limit"
)

// Trend is one thing followed over the sessions.
type Trend struct {
	ID, Words, Unit string
	Most            float64 // of the scale; 0 where there is none
	Lines           []TrendLine
}

// TrendLine is one line of a trend: a side, or a moment.
type TrendLine struct {
	Words  string
	Points []Point
}

// Point is a value on a day.
type Point struct {
	On    civil.Day
	Value float64
}

// most is how many exercises' holds are followed: those with the most sessions.
const mostHolds = 2

// Trends are what records and measures show over time, each with at least two days: pain,
// the wanted activity, clean holds by side, the hardest clean exercise, and sessions a
// week.
func Trends(c limit.Client, records []lesson.Record, variants []*exercise.Variant) []Trend {
	records = slices.Clone(records)
	slices.SortStableFunc(records, func(a, b lesson.Record) int { return strings.Compare(a.On, b.On) })
	find := func(id string) *exercise.Variant {
		i := slices.IndexFunc(variants, func(v *exercise.Variant) bool { return v.ID == id })
		if i < 0 {
			return nil
		}
		return variants[i]
	}
	day := func(on string) civil.Day { d, _ := civil.Parse(on); return d } // records are checked
	pain := Trend{
		ID:    "pain",
		Words: "Pain",
		Unit:  "of 10",
		Most:  10,
		Lines: []TrendLine{{Words: "before"}, {Words: "after"}, {Words: "next day"}},
	}
	demand := Trend{ID: "demand", Words: "The hardest exercise done clean", Unit: "of 10", Most: 10, Lines: []TrendLine{{}}}
	weeks := Trend{ID: "weeks", Words: "Sessions a week", Unit: "sessions", Lines: []TrendLine{{}}}
	type hold struct{ variant, side string }
	holds, sessions := map[hold][]Point{}, map[string]int{}
	for _, r := range records {
		on := day(r.On)
		add := func(line int, v *int) {
			if v != nil {
				pain.Lines[line].Points = append(pain.Lines[line].Points, Point{on, float64(*v)})
			}
		}
		add(0, r.Pain.Before)
		add(1, r.Pain.After)
		if r.FollowUp != nil {
			add(2, r.FollowUp.PainNextDay)
		}
		hardest := 0.0
		seen := map[hold]bool{}
		for _, d := range r.Items {
			v := find(d.Variant)
			if v == nil || d.Skipped {
				continue
			}
			if d.Ended == "done" {
				hardest = max(hardest, v.Plain().Measured.Demand())
			}
			k := hold{d.Variant, d.Side}
			if d.BestHold > 0 && !seen[k] {
				seen[k] = true
				holds[k] = append(holds[k], Point{on, d.BestHold})
				sessions[d.Variant]++
			}
		}
		if hardest > 0 {
			demand.Lines[0].Points = append(demand.Lines[0].Points, Point{on, hardest})
		}
		monday := on.AddDate(0, 0, -(int(on.Weekday())+6)%7)
		line := &weeks.Lines[0].Points
		for n := len(*line); n > 0 && (*line)[n-1].On.Before(monday.AddDate(0, 0, -7)); n = len(*line) { // weeks without any
			*line = append(*line, Point{(*line)[n-1].On.AddDate(0, 0, 7), 0})
		}
		if n := len(*line); n > 0 && (*line)[n-1].On == monday {
			(*line)[n-1].Value++
		} else {
			*line = append(*line, Point{monday, 1})
		}
	}
	activity := Trend{ID: "activity", Words: "The activity wanted back", Unit: "of 10", Most: 10, Lines: []TrendLine{{}}}
	for _, m := range c.Measures {
		if m.ID == "specific_activity" && m.On != "" {
			activity.Lines[0].Points = append(activity.Lines[0].Points, Point{day(m.On), m.Value})
		}
	}
	out := []Trend{pain, activity}
	var order []string
	for id := range sessions {
		order = append(order, id)
	}
	slices.SortFunc(order, func(a, b string) int {
		if sessions[a] != sessions[b] {
			return sessions[b] - sessions[a]
		}
		return strings.Compare(a, b)
	})
	for _, id := range order[:min(mostHolds, len(order))] {
		t := Trend{ID: "hold-" + id, Words: "Clean hold, " + find(id).Name, Unit: "seconds"}
		for _, side := range []string{"", "left", "right"} {
			if points := holds[hold{id, side}]; points != nil {
				t.Lines = append(t.Lines, TrendLine{side, points})
			}
		}
		out = append(out, t)
	}
	out = append(out, demand, weeks)
	return slices.DeleteFunc(out, func(t Trend) bool {
		return !slices.ContainsFunc(t.Lines, func(l TrendLine) bool { return len(l.Points) > 1 })
	})
}

// Real says whether what a trend changed counts as a real change, with the source; empty
// where nothing is published for it.
func (t Trend) Real() (said, source string) {
	var line []Point
	for _, l := range t.Lines {
		if t.ID != "pain" || l.Words == "after" {
			line = l.Points
		}
	}
	if len(line) < 2 {
		return "", ""
	}
	first, last := line[0].Value, line[len(line)-1].Value
	switch t.ID {
	case "pain":
		source = "Farrar et al., Pain 2001: 2 points or 30% (from memory)"
		switch fall := first - last; {
		case fall >= 2 || first > 0 && fall >= 0.3*first && fall >= 1:
			return "After the session it fell by enough to count as a real change.", source
		case fall <= -2:
			return "After the session it rose by enough to count as a real change.", source
		}
		return "After the session it has not changed by enough to count.", source
	case "activity":
		source = "Stratford et al. 1995: 3 points on one activity (from memory)"
		switch {
		case last-first >= 3:
			return "It goes better by enough to count as a real change.", source
		case last-first <= -3:
			return "It goes worse by enough to count as a real change.", source
		}
		return "It has not changed by enough to count.", source
	}
	return "", ""
}
