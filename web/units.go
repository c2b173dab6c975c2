package web

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"
)

// Heights and weights are kept in centimetres and kilograms and are shown and read in the
// units of whoever looks. Both ways of writing are understood at any time where the unit is
// said: 168, 168 cm, 5 ft 6, 5'6", 66 in; 68, 68 kg, 150 lb, 10 st 10.

// International yard and pound agreement, 1959.
const (
	cmOfInch = 2.54
	kgOfLb   = 0.45359237
)

// lengthMarks and massMarks are the units as they are written, smallest form last.
var (
	feetAndInches   = regexp.MustCompile(`^([0-9.]+) *(?:ft|feet|foot|'|’|′) *(?:([0-9.]+) *(?:in|inch|inches|"|”|″|'')?)?$`)
	stoneAndPounds  = regexp.MustCompile(`^([0-9.]+) *(?:st|stone) *(?:([0-9.]+) *(?:lb|lbs|pounds)?)?$`)
	numberWithUnits = regexp.MustCompile(`^([0-9.]+) *([a-z"”″]*)$`)
)

// readLength reads a height; in centimetres, to the half. ok is false for what is none.
func readLength(text string, imperial bool) (cm float64, ok bool) {
	text = strings.ToLower(strings.ReplaceAll(strings.TrimSpace(text), ",", "."))
	if m := feetAndInches.FindStringSubmatch(text); m != nil {
		feet, ok1 := readNumber(m[1])
		inches, ok2 := 0.0, true
		if m[2] != "" {
			inches, ok2 = readNumber(m[2])
		}
		return halves(cmOfInch * (12*feet + inches)), ok1 && ok2 && inches < 12
	}
	m := numberWithUnits.FindStringSubmatch(text)
	if m == nil {
		return 0, false
	}
	n, ok := readNumber(m[1])
	switch m[2] {
	case "cm":
		return n, ok
	case "m":
		return 100 * n, ok
	case "in", "inch", "inches", `"`, "”", "″":
		return halves(cmOfInch * n), ok
	case "":
		switch {
		case !imperial:
			return n, ok
		case n < 9: // feet alone
			return halves(cmOfInch * 12 * n), ok
		}
		return halves(cmOfInch * n), ok
	}
	return 0, false
}

// readMass reads a weight; in kilograms, to the tenth. ok is false for what is none.
func readMass(text string, imperial bool) (kg float64, ok bool) {
	text = strings.ToLower(strings.ReplaceAll(strings.TrimSpace(text), ",", "."))
	if m := stoneAndPounds.FindStringSubmatch(text); m != nil {
		stone, ok1 := readNumber(m[1])
		pounds, ok2 := 0.0, true
		if m[2] != "" {
			pounds, ok2 = readNumber(m[2])
		}
		return tenths(kgOfLb * (14*stone + pounds)), ok1 && ok2 && pounds < 14
	}
	m := numberWithUnits.FindStringSubmatch(text)
	if m == nil {
		return 0, false
	}
	n, ok := readNumber(m[1])
	switch m[2] {
	case "kg":
		return n, ok
	case "lb", "lbs", "pounds":
		return tenths(kgOfLb * n), ok
	case "":
		if imperial {
			n = tenths(kgOfLb * n)
		}
		return n, ok
	}
	return 0, false
}

// lengthText writes a height so that reading it gives the same back, to the half centimetre.
func lengthText(cm float64, imperial bool) string {
	if !imperial {
		return strconv.FormatFloat(cm, 'g', -1, 64)
	}
	inches := math.Round(2*cm/cmOfInch) / 2
	if halves(inches*cmOfInch) != halves(cm) {
		inches = math.Round(10*cm/cmOfInch) / 10
	}
	feet := math.Floor(inches / 12)
	return fmt.Sprintf("%g ft %g", feet, tenths(inches-12*feet))
}

// massText writes a weight so that reading it gives the same back, to the tenth of a kilogram.
func massText(kg float64, imperial bool) string {
	if !imperial {
		return strconv.FormatFloat(kg, 'g', -1, 64)
	}
	pounds := math.Round(kg / kgOfLb)
	if tenths(pounds*kgOfLb) != tenths(kg) {
		pounds = tenths(kg / kgOfLb)
	}
	return fmt.Sprintf("%g", pounds)
}

func halves(n float64) float64 { return math.Round(2*n) / 2 }
func tenths(n float64) float64 { return math.Round(10*n) / 10 }
