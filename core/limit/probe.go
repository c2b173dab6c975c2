package limit

import (
	"slices"

	"restbend/core/civil"
)

// Probe is a movement test or a measure that could be taken now, with the answers that would
// ask for the most: a client as it would be if the test showed something.
type Probe struct {
	Test    string // id of a ScreenTest, or
	Measure string // id of a MeasureKind
	As      []Client
	// Fresh says that it was taken within FreshDays and is known.
	Fresh bool
}

// FreshDays is how long a test stands before it is worth taking again (common practice:
// about a month).
const FreshDays = 28

// short are figures that clearly miss what a measure is held against: the published mark
// where there is one (see risk.go and implied.go), about half of the ordinary range where it
// caps a direction (AAOS handbook, from memory). Measures that change nothing are not here.
var short = map[string]float64{
	"chair_stand_30s": 3, "balance_stage_s": 4, "single_leg_stance_s": 3, "timed_up_and_go_s": 15,
	"side_bridge_s": 10, "lumbar_flexion_deg": 25, "lumbar_extension_deg": 10, "thoracic_rotation_deg": 15, "side_bend_cm": 8,
	"straight_leg_raise_deg": 40,
}

// Probes are all tests that the limits let be done, and all measures that a plan follows, each
// with the answers that would ask for the most. A measure that a test gives is not there
// twice, and a measure whose test is barred not at all.
func Probes(c Client, s Limits, on civil.Day) []Probe {
	fresh := func(days ...string) bool {
		for _, d := range days {
			if taken, err := civil.Parse(d); err == nil && on.Since(taken) <= FreshDays {
				return true
			}
		}
		return false
	}
	var out []Probe
	given := map[string]string{}
	for _, t := range ScreenTests {
		barred := t.Barred(s) != ""
		if t.Timed != "" {
			given[t.Timed] = map[bool]string{true: "barred", false: "given"}[barred]
		}
		if barred {
			continue
		}
		try := Probe{Test: t.ID}
		var days []string
		for _, r := range c.Screens {
			if r.ID == t.ID {
				days = append(days, r.On)
			}
		}
		for _, finding := range []string{"loses_neutral", "able"} {
			as := c
			sensation := ""
			if testedDirections[t.ID].quantity != "" && finding != "able" {
				sensation = "solid_stop"
			}
			as.Screens = append(slices.Clone(c.Screens), Screen{ID: t.ID, Finding: finding, Sensation: sensation, On: on.String()})
			if figure, ok := short[t.Timed]; ok && finding != "able" {
				as.Measures = withMeasure(c.Measures, t.Timed, figure, on)
			}
			try.As = append(try.As, as)
		}
		try.Fresh = fresh(days...)
		out = append(out, try)
	}
	for _, k := range MeasureKinds {
		figure, ok := short[k.ID]
		if !ok || given[k.ID] != "" {
			continue
		}
		var days []string
		for _, m := range c.Measures {
			if m.ID == k.ID {
				days = append(days, m.On)
			}
		}
		as := c
		as.Measures = withMeasure(c.Measures, k.ID, figure, on)
		out = append(out, Probe{Measure: k.ID, As: []Client{as}, Fresh: fresh(days...)})
	}
	return out
}

// withMeasure adds a figure taken on a day: of a measure by side, on the left, where the
// right stays as it was or is an ordinary one.
func withMeasure(measures []Measure, id string, figure float64, on civil.Day) []Measure {
	k, _ := FindMeasure(id)
	m := Measure{ID: id, Value: figure, On: on.String()}
	if k.Staged {
		m.Stage = 3
	}
	if !k.Sided {
		return append(slices.Clone(measures), m)
	}
	m.Side = "left"
	out := append(slices.Clone(measures), m)
	if !slices.ContainsFunc(measures, func(o Measure) bool { return o.ID == id && o.Side == "right" }) {
		m.Side, m.Value = "right", 2*figure
		out = append(out, m)
	}
	return out
}
