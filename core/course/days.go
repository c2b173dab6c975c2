package course

import (
	"slices"

	"restbend/core/limit"
)

// layout says what each day of a week is: the lessons as far apart as can be, home days
// between them, short bouts on what is left, and one day of rest. The last lesson of the
// course is the review. Days that are over keep what is on record of them, and what was
// missed goes to the next free day of its week.
func (m *builder) layout(n int) []Day {
	kinds := make([]string, WeekDays)
	free := func(d int) bool {
		return kinds[d] == "" && !slices.Contains(m.Off, m.day(n, d).Weekday())
	}
	// A day that is wanted but off goes to the next that is not.
	put := func(d int, kind string) bool {
		for k := range WeekDays {
			if at := (d + k) % WeekDays; free(at) {
				kinds[at] = kind
				return true
			}
		}
		return false
	}
	for i := range m.Sessions {
		put(i*WeekDays/m.Sessions, Studio)
	}
	if n == m.Weeks {
		for d := WeekDays - 1; d >= 0; d-- {
			if kinds[d] == Studio {
				kinds[d] = Review
				break
			}
		}
	}
	for range m.HomeDays {
		if d := furthest(kinds); d >= 0 {
			kinds[d] = Home
		}
	}
	rested := m.Sessions+m.HomeDays >= WeekDays
	for d := WeekDays - 1; d >= 0; d-- {
		if kinds[d] != "" {
			continue
		}
		kinds[d] = Rest
		if rested && len(m.home.Micro) > 0 && m.HomeDays > 0 {
			kinds[d] = Micro
		}
		rested = true
	}
	var out []Day
	for d, kind := range kinds {
		out = append(out, Day{On: m.day(n, d).String(), Kind: kind})
	}
	m.moved(out)
	return out
}

// furthest is the free day with the most days to the next that holds something, the first of
// them; −1 where none is free. The week is a circle.
func furthest(kinds []string) int {
	best, most := -1, 0
	for d, kind := range kinds {
		if kind != "" {
			continue
		}
		near := WeekDays
		for e, other := range kinds {
			if other != "" {
				near = min(near, (d-e+WeekDays)%WeekDays, (e-d+WeekDays)%WeekDays)
			}
		}
		if near > most {
			best, most = d, near
		}
	}
	return best
}

// moved marks the days that are over, and gives a missed lesson the next free day of its
// week; where there is none it is left out.
func (m *builder) moved(days []Day) {
	today := m.Today.String()
	for i := range days {
		d := &days[i]
		if d.Taught = d.Kind != Home && m.recorded(d.On); d.Taught && d.Kind != Studio && d.Kind != Review {
			d.Kind = Studio // a lesson on another day than was planned
		}
	}
	for i := range days {
		d := &days[i]
		if d.Kind != Studio || d.Taught || d.On >= today {
			continue
		}
		d.Kind, d.Missed = Rest, true
		if slices.ContainsFunc(days, func(k Day) bool { return k.Taught && k.On > d.On && !k.Moved && wasExtra(days, k) }) {
			continue // made up for already
		}
		for k := i + 1; k < len(days); k++ {
			if t := &days[k]; t.On >= today && (t.Kind == Rest || t.Kind == Micro) && !t.Missed {
				t.Kind, t.Moved = Studio, true
				break
			}
		}
	}
}

// wasExtra says whether a lesson was taught on a day that was to hold none.
func wasExtra(days []Day, k Day) bool {
	n := 0
	for _, d := range days {
		if d.Kind == Studio || d.Missed {
			n++
		}
	}
	return k.Taught && n > 0
}

// wanted are the purposes that conditions want on so many days a week. Fragile bone: strength
// twice and balance on most days (Too Fit To Fracture consensus, Giangregorio 2014, from
// memory). Whoever may fall: balance three times (WHO guidelines on physical activity 2020,
// from memory), and strength twice, which that guideline wants of every adult.
var wanted = []struct {
	condition string
	days      map[string]int
}{
	{"osteoporosis", map[string]int{"leg_strength": 2, "back_extensor_endurance": 2, "balance": 4}},
	{"osteopenia", map[string]int{"leg_strength": 2, "balance": 3}},
	{"falls_risk", map[string]int{"balance": 3, "leg_strength": 2}},
	{"parkinsons", map[string]int{"balance": 3, "gait": 2}},
	{"deconditioned", map[string]int{"leg_strength": 2}},
}

// goalDays is how often a week a goal is wanted (common practice).
const goalDays = 2

// Wanted is how often a week each purpose is wanted for a client, by conditions and by goals.
func Wanted(c limit.Client) map[string]int {
	out := map[string]int{}
	for _, g := range c.Goals {
		out[string(g)] = goalDays
	}
	for _, k := range wanted {
		if !c.Has(k.condition) {
			continue
		}
		for p, n := range k.days {
			out[p] = max(out[p], n)
		}
	}
	return out
}
