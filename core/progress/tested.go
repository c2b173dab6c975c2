package progress

import (
	"fmt"
	"slices"

	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/limit"
)

// Tests of a rung, and what records say of the standard measures.

// testStands is how many days the test of a rung counts (common practice: as long as a
// measure, about a month).
const testStands = 28

// Shown says whether the test of a rung, done on one side, is enough for what follows it.
func Shown(v *exercise.Variant, m limit.Measure) bool {
	return v.Earn.Met(max(1, v.Earn.Sets), max(1, m.Holds), m.Value)
}

// RungTests are the newest tests of a rung, one for each side that was tested, not older on
// a day than they count.
func RungTests(c limit.Client, variant string, on civil.Day) []limit.Measure {
	var out []limit.Measure
	for i := len(c.Measures) - 1; i >= 0; i-- {
		m := c.Measures[i]
		day, err := civil.Parse(m.On)
		if m.ID != limit.RungTest || m.Variant != variant || err == nil && on.Since(day) > testStands {
			continue
		}
		if !slices.ContainsFunc(out, func(o limit.Measure) bool { return o.Side == m.Side }) {
			out = append(out, m)
		}
	}
	return out
}

// tested says whether a rung was shown on its own, on the side or sides that are asked for.
func (d *decider) tested(t thread) bool {
	shown := map[string]bool{}
	for _, m := range RungTests(d.client, t.variant.ID, d.on) {
		shown[m.Side] = Shown(t.variant, m)
	}
	switch {
	case !t.variant.Sided() || shown[""]:
		return shown[""]
	case t.side != "":
		return shown[t.side]
	}
	return shown["left"] && shown["right"]
}

// standard are the exercises that are a standard measure when they are held to the end of
// their form.
var standard = map[string]string{
	"single_leg":       "single_leg_stance_s",
	"plank_forearms":   "plank_hold_s",
	"side_bridge_feet": "side_bridge_s",
}

// measures takes from the records what they say of the standard measures: a hold that ended
// for its form is as long as it could be, and one that is longer than was ever measured is
// more. What stopped at its dose says nothing.
func (d *decider) measures() {
	c := &d.answer.Client
	for _, r := range d.records {
		for _, it := range r.Items {
			id := standard[it.Variant]
			if id == "" || it.BestHold <= 0 || it.Skipped {
				continue
			}
			kind, _ := limit.FindMeasure(id)
			m := limit.Measure{ID: id, Value: round(it.BestHold), On: r.On}
			if kind.Sided {
				if m.Side = it.Side; m.Side == "" {
					continue
				}
			}
			same := func(o limit.Measure) bool { return o.ID == m.ID && o.Side == m.Side }
			before, known := 0.0, false
			for _, o := range c.Measures {
				if same(o) && o.On <= m.On {
					before, known = o.Value, true
				}
			}
			if slices.ContainsFunc(c.Measures, func(o limit.Measure) bool { return same(o) && o.On >= m.On }) {
				continue // measured since
			}
			atEnd := it.Ended == "form" || it.Ended == "shaking"
			if !atEnd && !(known && m.Value > before) {
				continue
			}
			c.Measures = append(slices.Clone(c.Measures), m)
			d.answer.Measures = append(d.answer.Measures, m)
		}
	}
	if n := len(d.answer.Measures); n > 0 {
		d.note("%s taken from the records as measures: holds that ended for their form, or were longer than ever measured.", counted(n))
	}
}

func counted(n int) string {
	if n == 1 {
		return "One hold is"
	}
	return fmt.Sprintf("%d holds are", n)
}
