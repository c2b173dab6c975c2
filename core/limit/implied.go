package limit

import (
	"fmt"
	"strings"
	"time"
)

// impliedCondition is a condition that nobody ticked and that what was measured speaks
// of: its rules hold all the same.
type impliedCondition struct {
	Condition
	because string
}

// fallsAge is the age from which everybody has support in reach (common practice).
const fallsAge = 80

// heightLost is so many centimetres lost since the tallest that a broken vertebra is
// likely until somebody has looked (common practice).
const heightLost = 4.0

// implied are the conditions that follow from measures, age and the reading of today.
func implied(c Client, on time.Time) []impliedCondition {
	var out []impliedCondition
	add := func(id, format string, args ...any) {
		if !c.Has(id) {
			out = append(out, impliedCondition{Condition{ID: id}, fmt.Sprintf(format, args...)})
		}
	}
	if because := fallsBecause(c, on); len(because) > 0 {
		add("falls_risk", "The rules for people who may fall hold: %s.", strings.Join(because, "; "))
	}
	if p, ok := ReadPressure(c.RestingPressure); ok && p.high() {
		add("raised_blood_pressure", "A resting pressure of %s is handled as not under control, whatever was ticked.", p)
	}
	if c.TallestHeightCM > 0 && c.HeightCM > 0 && c.TallestHeightCM-c.HeightCM >= heightLost && !c.Has("osteopenia") {
		add("osteoporosis", "%g cm were lost since the tallest: until a doctor has looked at the spine, work goes on as after a broken vertebra.", c.TallestHeightCM-c.HeightCM)
	}
	return out
}

// fallsBecause is what speaks for a risk of falling: an age, or a test under its mark.
func fallsBecause(c Client, on time.Time) []string {
	var out []string
	say := func(yes bool, format string, args ...any) {
		if yes {
			out = append(out, fmt.Sprintf(format, args...))
		}
	}
	age := c.age(on)
	say(age >= fallsAge, "%d years old", age)
	if v, _, n := c.measure("chair_stand_30s", ""); n > 0 {
		mark, known := chairStandFor(age, c.Sex)
		say(known && v < float64(mark), "%g chair stands, under %d", v, mark)
	}
	if v, tried := c.stage(3); tried {
		say(v < 10, "heel to toe %g s, under 10", v)
	}
	if v, tried := c.stage(4); tried {
		say(v < 5, "on one leg %g s, under 5", v)
	}
	if v, _, n := c.measure("timed_up_and_go_s", ""); n > 0 {
		say(v >= 12, "up and go %g s, 12 or more", v)
	}
	for _, side := range []string{"left", "right"} {
		if v, _, n := c.measure("single_leg_stance_s", side); n > 0 {
			say(v < 5, "on the %s leg %g s, under 5", side, v)
		}
	}
	return out
}

// age in years, counted by calendar years; 0 when it is not known.
func (c Client) age(on time.Time) int {
	if c.BirthYear <= 0 {
		return 0
	}
	return on.Year() - c.BirthYear
}

// stage is the last time of a stage of the four-stage balance test.
func (c Client) stage(n int) (seconds float64, tried bool) {
	for _, m := range c.Measures {
		if m.ID == "balance_stage_s" && m.Stage == n {
			seconds, tried = m.Value, true
		}
	}
	return
}
