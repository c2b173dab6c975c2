package limit

import (
	"fmt"
	"slices"
	"strings"

	"restbend/core/civil"
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

// heightLostLately is the same since it was measured last (common practice).
const heightLostLately = 2.0

// lostHeight is what was lost in height if it is so much that somebody has to look at the
// spine: the centimetres, and since when in words; nothing else is.
func (c Client) lostHeight() (cm float64, since string) {
	h := c.heights()
	if h.now <= 0 {
		return 0, ""
	}
	if lost := h.tallest - h.now; h.tallest > 0 && lost >= heightLost {
		return lost, "at the tallest"
	}
	if lost := h.last - h.now; h.last > 0 && lost >= heightLostLately {
		return lost, "when last measured"
	}
	if lost := h.yearAgo - h.now; h.yearAgo > 0 && lost >= heightLostLately {
		return lost, "a year before"
	}
	return 0, ""
}

// heights are a client's height now and those that it is compared with, in centimetres; 0
// where one is not known.
type heights struct{ now, tallest, last, yearAgo float64 }

// heights reads the measured heights with their days, or where there are none the three
// undated ones. A height that somebody remembers as the tallest counts beside both.
func (c Client) heights() heights {
	if len(c.Heights) == 0 {
		return heights{now: c.HeightCM, tallest: c.TallestHeightCM, last: c.LastHeightCM}
	}
	all := slices.Clone(c.Heights)
	slices.SortStableFunc(all, func(a, b Height) int { return strings.Compare(a.On, b.On) })
	n := len(all) - 1
	h := heights{now: all[n].CM, tallest: c.TallestHeightCM}
	measured, err := civil.Parse(all[n].On)
	for i, x := range all {
		h.tallest = max(h.tallest, x.CM)
		if x.On < all[n].On || i < n && x.On == "" {
			h.last = x.CM
		}
		if before, err2 := civil.Parse(x.On); err == nil && err2 == nil && measured.Since(before) >= aYear {
			h.yearAgo = x.CM
		}
	}
	return h
}

// aYear is how many days back a height counts as that of a year before.
const aYear = 365

// implied are the conditions that follow from measures, age and the reading of today.
func implied(c Client, on civil.Day) []impliedCondition {
	var out []impliedCondition
	add := func(id, format string, args ...any) {
		if !c.Has(id) {
			out = append(out, impliedCondition{Condition{ID: id}, fmt.Sprintf(format, args...)})
		}
	}
	if because := fallsBecause(c, on); len(because) > 0 {
		add("falls_risk", "The rules for people who may fall hold: %s.", strings.Join(because, "; "))
	}
	if p, ok := ReadPressure(c.RestingPressure); ok && p.High() {
		add("raised_blood_pressure", "A resting pressure of %s is handled as not under control, whatever was ticked.", p)
	}
	if k, because := c.onSteroids(on); because != "" && !c.Has("osteoporosis") && !c.Has("osteopenia") {
		out = append(out, impliedCondition{k, because})
	}
	if lost, since := c.lostHeight(); since != "" {
		add(
			"osteoporosis",
			"%.3g cm shorter than %s: until a doctor has looked at the spine, work goes on as after a broken vertebra.",
			lost,
			since,
		)
	}
	return out
}

// Steroid tablets of at least steroidMonths and steroidMg thin the bone; from steroidMgMuch or the
// ages below, work goes on as with osteoporosis until a density is known (ACR guideline 2022, from
// memory).
const (
	steroidMonths  = 3.0
	steroidMg      = 2.5 // a day
	steroidMgMuch  = 7.5
	steroidAge     = 65
	menopauseAge   = 55
	steroidThinned = "Steroid tablets for months thin the bone: until a density is known, work goes on as with %s."
)

// onSteroids is what steroid tablets make of the bone; because is empty where they make nothing of
// it. How long and how much nobody knows counts as long and much.
func (c Client) onSteroids(on civil.Day) (k Condition, because string) {
	s := c.Steroids
	if !s.Taken || s.Months > 0 && s.Months < steroidMonths || s.MgDaily > 0 && s.MgDaily < steroidMg {
		return k, ""
	}
	age := c.age(on)
	if s.MgDaily == 0 || s.MgDaily >= steroidMgMuch || age == 0 || age > steroidAge || c.Sex != "male" && age >= menopauseAge {
		return Condition{ID: "osteoporosis"}.With("vertebral_fracture", false), fmt.Sprintf(steroidThinned, "fragile bone")
	}
	return Condition{ID: "osteopenia"}, fmt.Sprintf(steroidThinned, "low bone mass")
}

// fallsTest is what a test of balance or legs says of falling.
type fallsTest struct {
	Risk
	short string // as one of several, where it is under its mark
}

// fallsTests reads the tests against their published marks.
func fallsTests(c Client, on civil.Day) []fallsTest {
	var out []fallsTest
	add := func(id string, raised bool, source, short, text string, args ...any) {
		t := fallsTest{Risk{ID: id, Level: "usual", Because: fmt.Sprintf(text, args...), Source: source}, ""}
		if raised {
			t.Level, t.Within, t.short = "raised", "falls", short
		}
		out = append(out, t)
	}
	if v, _, n := c.measure("chair_stand_30s", ""); n > 0 {
		switch mark, known := chairStandFor(c.age(on), c.Sex); {
		case !known:
			add(
				"chair_stand",
				false,
				steadi,
				"",
				"%g chair stands in 30 seconds; the published figures begin at 60 and need age and sex.",
				v,
			)
		case v < float64(mark):
			add("chair_stand", true, steadi, fmt.Sprintf("%g chair stands, under %d", v, mark),
				"%g chair stands in 30 seconds, under %d for this age: below average, and falls are likelier.", v, mark)
		default:
			add("chair_stand", false, steadi, "", "%g chair stands in 30 seconds; %d or more is average or better for this age.", v, mark)
		}
	}
	if v, tried := c.stage(3); tried {
		add("tandem_stance", v < 10, steadi, fmt.Sprintf("heel to toe %g s, under 10", v), "Heel to toe was held %g s%s.", v,
			marked(v < 10, ": under 10 s raises the risk of falling", ", 10 s or more, as it should be"))
	}
	if v, tried := c.stage(4); tried {
		add("one_leg_stage", v < 5, steadi, fmt.Sprintf("on one leg %g s, under 5", v), "On one leg, the fourth stage, %g s%s.", v,
			marked(v < 5, ": under 5 s raises the risk of falling", ", 5 s or more, as it should be"))
	}
	if v, _, n := c.measure("timed_up_and_go_s", ""); n > 0 {
		add("timed_up_and_go", v >= 12, steadi, fmt.Sprintf("up and go %g s, 12 or more", v), "Up, three metres and back took %g s%s.", v,
			marked(v >= 12, ": 12 s or more raises the risk of falling", ", quicker than 12 s, as it should be"))
	}
	for _, side := range []string{"left", "right"} {
		if v, _, n := c.measure("single_leg_stance_s", side); n > 0 && v < 5 {
			add(
				"single_leg_"+side,
				true,
				"Vellas et al., J Am Geriatr Soc 1997 (from memory)",
				fmt.Sprintf("on the %s leg %g s, under 5", side, v),
				"On the %s leg %g s; under 5 s goes with injurious falls.",
				side,
				v,
			)
		}
	}
	return out
}

// marked says on which side of its mark a figure is.
func marked(raised bool, over, within string) string {
	if raised {
		return over
	}
	return within
}

// manyFalls is how many falls in a year speak of more (World guidelines for falls, Age and
// Ageing 2022, from memory).
const manyFalls = 2

// fallsBecause is what speaks for a risk of falling: an age, or a test under its mark.
func fallsBecause(c Client, on civil.Day) []string {
	var out []string
	if age := c.age(on); age >= fallsAge {
		out = append(out, fmt.Sprintf("%d years old", age))
	}
	if c.Sedatives {
		out = append(out, "takes tablets that make drowsy")
	}
	switch {
	case c.FallsThisYear >= manyFalls:
		out = append(out, fmt.Sprintf("%d falls in a year", c.FallsThisYear))
	case c.FallInjury:
		out = append(out, "a fall with an injury in a year")
	}
	for _, t := range fallsTests(c, on) {
		if t.short != "" {
			out = append(out, t.short)
		}
	}
	return out
}

// age in years, counted by calendar years; 0 when it is not known.
func (c Client) age(on civil.Day) int {
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
