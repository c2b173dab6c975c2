package limit

import (
	"fmt"
	"regexp"
	"strconv"
)

// Pressure is a resting blood pressure, in mmHg.
type Pressure struct{ Upper, Lower int }

var written = regexp.MustCompile(`^\s*(\d{2,3})\s*/\s*(\d{2,3})\s*$`)

// ReadPressure reads a reading such as 128/78; ok is false for what is not written so.
func ReadPressure(text string) (p Pressure, ok bool) {
	m := written.FindStringSubmatch(text)
	if m == nil {
		return p, false
	}
	p.Upper, _ = strconv.Atoi(m[1]) // the pattern holds digits only
	p.Lower, _ = strconv.Atoi(m[2])
	return p, true
}

// Possible says whether a body can have such a pressure, and the figures stand the
// right way round.
func (p Pressure) Possible() bool {
	return p.Upper >= 60 && p.Upper <= 280 && p.Lower >= 30 && p.Lower < p.Upper
}

// String is the reading as it is written; empty for none.
func (p Pressure) String() string {
	if p == (Pressure{}) {
		return ""
	}
	return fmt.Sprintf("%d/%d", p.Upper, p.Lower)
}

// pressureLevels are how high a reading is, lowest first.
var pressureLevels = []string{"unknown", "usual", "raised", "high", "very_high"}

// level compares a reading with 140/90, 160/100 and 180/110 mmHg (ESC and ESH grades
// of hypertension, from memory; stopping at the last is common practice).
func (p Pressure) level() string {
	switch {
	case p == (Pressure{}):
		return "unknown"
	case p.Upper >= 180 || p.Lower >= 110:
		return "very_high"
	case p.Upper >= 160 || p.Lower >= 100:
		return "high"
	case p.Upper >= 140 || p.Lower >= 90:
		return "raised"
	}
	return "usual"
}

// High says whether a reading is one that nobody has under control today.
func (p Pressure) High() bool { return p.level() == "high" || p.level() == "very_high" }

// worstPressure is the highest of several readings; ok is false when there is none.
// What cannot be read is no reading.
func worstPressure(texts ...string) (worst Pressure, ok bool) {
	rank := func(p Pressure) float64 { return max(float64(p.Upper)/180, float64(p.Lower)/110) }
	for _, text := range texts {
		if p, read := ReadPressure(text); read {
			if !ok || rank(p) > rank(worst) {
				worst = p
			}
			ok = true
		}
	}
	return
}
