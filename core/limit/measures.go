package limit

import (
	"fmt"
	"math"
)

// MeasureKind is what a measure can possibly be; its unit is in its id.
type MeasureKind struct {
	ID            string
	Lowest, Most  float64
	Sided, Staged bool // may speak of one side; is done at a stage, 1 to 4
	Whole         bool // is counted
	Rung          bool // is the test of a rung, of a variant that has to be named
}

// RungTest is the measure of a rung tried on its own: its value is the clean repetitions or
// breaths, or the seconds of a clean hold, as the variant's earn counts them.
const RungTest = "rung"

// MeasureKinds are all measures there are.
var MeasureKinds = []MeasureKind{
	{ID: "chair_stand_30s", Most: 60, Whole: true},
	{ID: "balance_stage_s", Most: 600, Staged: true},
	{ID: "single_leg_stance_s", Most: 600, Sided: true},
	{ID: "timed_up_and_go_s", Most: 600},
	{ID: "side_bridge_s", Most: 600, Sided: true},
	{ID: "back_extensor_hold_s", Most: 600},
	{ID: "trunk_flexor_hold_s", Most: 600},
	{ID: "plank_hold_s", Most: 600},
	{ID: "lumbar_flexion_deg", Most: 120},
	{ID: "lumbar_extension_deg", Most: 120},
	{ID: "fingertip_floor_cm", Lowest: -30, Most: 150},
	{ID: "side_bend_cm", Most: 60, Sided: true},
	{ID: "thoracic_rotation_deg", Most: 120, Sided: true},
	{ID: "straight_leg_raise_deg", Most: 130, Sided: true},
	{ID: "trunk_rotation_angle_deg", Most: 60},
	{ID: "breath_seconds", Lowest: 1, Most: 30},
	{ID: "specific_activity", Most: 10, Whole: true},
	{ID: RungTest, Most: 600, Sided: true, Rung: true},
}

// FindMeasure finds a kind by its id.
func FindMeasure(id string) (MeasureKind, bool) {
	for _, k := range MeasureKinds {
		if k.ID == id {
			return k, true
		}
	}
	return MeasureKind{}, false
}

// CheckFigures looks for readings, measures and findings that cannot be.
func CheckFigures(c Client) *Mistake {
	if p, ok := ReadPressure(c.RestingPressure); c.RestingPressure != "" && (!ok || !p.Possible()) {
		return &Mistake{
			"resting_pressure",
			fmt.Sprintf("%q cannot be right; expected a reading with the upper figure first, such as 128/78", c.RestingPressure),
		}
	}
	if m := checkMeasures(c.Measures); m != nil {
		return m
	}
	return checkScreens(c.Screens)
}

// checkMeasures looks for measures that cannot be, and for two of one test on one day.
func checkMeasures(measures []Measure) *Mistake {
	type once struct{ id, side, activity, on string }
	first := map[once]float64{}
	for i, m := range measures {
		path := fmt.Sprintf("measures[%d]", i)
		k, ok := FindMeasure(m.ID)
		if !ok {
			return &Mistake{path + ".id", m.ID + " is not a measure"}
		}
		if !(m.Value >= k.Lowest && m.Value <= k.Most) {
			return &Mistake{path + ".value", fmt.Sprintf("%g cannot be right for %s; expected %g to %g", m.Value, m.ID, k.Lowest, k.Most)}
		}
		if k.Whole && m.Value != math.Trunc(m.Value) {
			return &Mistake{path + ".value", fmt.Sprintf("%g of %s is no whole number; expected one", m.Value, m.ID)}
		}
		if m.Side != "" && !k.Sided {
			return &Mistake{path + ".side", fmt.Sprintf("%s has no sides, and %s is given; expected none", m.ID, m.Side)}
		}
		if m.Stage != 0 && !k.Staged {
			return &Mistake{path + ".stage", fmt.Sprintf("%s has no stages, and %d is given; expected none", m.ID, m.Stage)}
		}
		switch {
		case k.Rung && m.Variant == "":
			return &Mistake{path + ".variant", "the test of a step speaks of an exercise; expected its id"}
		case !k.Rung && m.Variant != "":
			return &Mistake{path + ".variant", fmt.Sprintf("%s speaks of no exercise, and %s is given; expected none", m.ID, m.Variant)}
		case m.Holds != 0 && !k.Rung:
			return &Mistake{path + ".holds", fmt.Sprintf("%s counts no holds, and %d is given; expected none", m.ID, m.Holds)}
		}
		at := once{fmt.Sprint(m.ID, m.Stage, m.Variant), m.Side, m.Activity, m.On}
		if before, twice := first[at]; twice && m.On != "" && before != m.Value {
			return &Mistake{
				path + ".value",
				fmt.Sprintf("%s is given twice for %s, as %g and as %g; expected one value a day", m.ID, m.On, before, m.Value),
			}
		}
		first[at] = m.Value
	}
	return nil
}

// checkScreens looks for two findings of one test on one day and side.
func checkScreens(screens []Screen) *Mistake {
	type once struct{ id, side, moment, on string }
	first := map[once]string{}
	for i, s := range screens {
		at := once{s.ID, s.Side, s.Moment, s.On}
		if before, twice := first[at]; twice && s.On != "" && before != s.Finding {
			return &Mistake{
				fmt.Sprintf("screens[%d].finding", i),
				fmt.Sprintf("%s is given twice for %s, as %s and as %s; expected one finding a day", s.ID, s.On, before, s.Finding),
			}
		}
		first[at] = s.Finding
	}
	return nil
}
