package limit

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
)

// details are a condition's fields as the words that rules ask for, with
// sentences on the defaults that were used where the file was silent.
func (k Condition) details(c Client) (map[string]string, []string) {
	d := map[string]string{"side": k.Side, "strict": fmt.Sprint(c.Strict)}
	var assumed []string
	fill := func(field, given, byDefault, sentence string) {
		d[field] = given
		if given == "" {
			d[field] = byDefault
			assumed = append(assumed, sentence)
		}
	}
	flag := func(field string, given *bool, byDefault bool, sentence string) {
		d[field] = fmt.Sprint(byDefault)
		if given != nil {
			d[field] = fmt.Sprint(*given)
		} else {
			assumed = append(assumed, sentence)
		}
	}
	bothSides := func(what string) {
		if k.Side == "" {
			assumed = append(assumed, what+": no side was given, so both are guarded.")
		}
	}
	switch k.ID {
	case "low_back_pain":
		fill("stage", k.Stage, "acute", "Low back pain: no stage was given, so the most careful one, acute, is used.")
	case "disc_sciatica":
		fill("stage", k.Stage, "acute", "Disc: no stage was given, so the most careful one, acute, is used.")
		fill("eases", k.Eases, "unknown", "Disc: no direction of ease is recorded, so loaded and end-range bending forward stay shut and two-way movements keep to the middle.")
		flag("leg_symptoms", k.LegSymptoms, true, "Disc: leg symptoms are taken to be there still.")
		bothSides("Disc")
	case "extension_sensitive":
		fill("which", k.Which, "slip", "Extension sensitive: nothing was said of which, so the most careful one, a slip, is used.")
	case "osteoporosis":
		flag("vertebral_fracture", k.VertebralFracture, true, "Osteoporosis: nothing was said of a vertebral fracture, so one is assumed.")
	case "scoliosis":
		for _, curve := range k.Curves {
			d[curve.Region+"_convex"], d[curve.Region+"_concave"] = curve.Convex, otherSide(curve.Convex)
			if curve.CobbDeg >= 40 {
				d["large"] = "true"
			}
		}
		if len(k.Curves) == 0 {
			assumed = append(assumed, "Scoliosis: no curve was given, so nothing can be said of sides; neutral, even work is preferred.")
		}
	case "spinal_fusion":
		months := k.months()
		d["period"] = "later"
		switch {
		case months <= 6:
			d["period"] = "early"
		case months <= 12:
			d["period"] = "middle"
		}
		regions, ok := fusedRegions(k.Levels)
		if !ok {
			regions = []string{"cervical", "thoracic", "lumbar"}
			assumed = append(assumed, "Fusion: the levels were not given, so the whole spine is guarded.")
		}
		for _, r := range regions {
			d[r] = "true"
		}
	case "hip_replacement":
		fill("approach", k.Approach, "unknown", "Hip replacement: the approach was not given, so both sets of cautions hold.")
		d["recent"] = fmt.Sprint(k.MonthsSince == nil || *k.MonthsSince < 3)
		if k.MonthsSince == nil {
			assumed = append(assumed, "Hip replacement: no date was given, so it is taken to be within three months.")
		}
		bothSides("Hip replacement")
	case "shoulder_pain":
		resting := c.Pain.Now == nil || *c.Pain.Now >= 3
		flag("rest_pain", k.RestPain, resting, fmt.Sprintf("Shoulder: pain at rest was not asked, so it is taken from pain now: %s.", map[bool]string{true: "yes", false: "no"}[resting]))
		bothSides("Shoulder")
	case "raised_blood_pressure":
		given := k.Reading != "" || c.RestingPressure != ""
		d["controlled"] = fmt.Sprint(k.Controlled != nil && *k.Controlled && given)
		if !given {
			assumed = append(assumed, "Blood pressure: no reading was given. Please take one before the session; it is planned as not under control.")
		}
	case "wrist_pain", "knee_osteoarthritis", "hip_osteoarthritis":
		bothSides(map[string]string{"wrist_pain": "Wrist pain", "knee_osteoarthritis": "Knee", "hip_osteoarthritis": "Hip"}[k.ID])
	case "sacroiliac":
		d["painful"] = fmt.Sprint(c.Pain.Now == nil || *c.Pain.Now >= 3)
	}
	return d, assumed
}

// months is how long ago an operation was; when that was not said, no time at
// all.
func (k Condition) months() float64 {
	if k.MonthsSince == nil {
		return 0
	}
	return *k.MonthsSince
}

func otherSide(side string) string {
	if side == "left" {
		return "right"
	}
	return "left"
}

var levelName = regexp.MustCompile(`^\s*([CTLS])\s*(\d{1,2})\s*$`)

// KnownLevels says whether fused levels can be read.
func KnownLevels(levels string) bool {
	_, ok := fusedRegions(levels)
	return ok
}

// fusedRegions reads fused levels such as "L4-S1" or "T11-L2" and names the
// regions they belong to, with a neighbour when the fusion ends within two
// levels of it. ok is false when it cannot be read.
func fusedRegions(levels string) (regions []string, ok bool) {
	first := map[string]int{"C": 0, "T": 7, "L": 19, "S": 24}
	most := map[string]int{"C": 7, "T": 12, "L": 5, "S": 5}
	var ends []int
	for _, word := range strings.FieldsFunc(strings.ToUpper(levels), func(r rune) bool { return r == '-' || r == '–' || r == '/' || r == ',' || r == ' ' }) {
		m := levelName.FindStringSubmatch(word)
		if m == nil {
			return nil, false
		}
		n, _ := strconv.Atoi(m[2])
		if n < 1 || n > most[m[1]] {
			return nil, false
		}
		ends = append(ends, first[m[1]]+n-1)
	}
	if len(ends) == 0 {
		return nil, false
	}
	lo, hi := slices.Min(ends), slices.Max(ends)
	for i, r := range []struct {
		name     string
		from, to int
	}{{"cervical", 0, 6}, {"thoracic", 7, 18}, {"lumbar", 19, 23}} {
		// A fusion that reaches the sacrum ends in it: no region lies below.
		reach := 2
		if hi > 23 && i == 2 || lo <= r.to && hi >= r.from {
			reach = 0
		}
		if lo <= r.to+reach && hi >= r.from-reach {
			regions = append(regions, r.name)
		}
	}
	return regions, true
}
