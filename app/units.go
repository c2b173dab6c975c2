package app

import (
	"math"
	"regexp"
	"strconv"
	"strings"
)

// Units are those in which somebody reads and writes lengths and weights; kept are
// centimetres and kilograms. Both ways of writing are understood at any time where the unit
// is said: 168, 168 cm, 5 ft 6, 5'6", 66 in; 68, 68 kg, 150 lb, 10 st 10.
type Units string

// Metric is the usual.
const (
	Metric   Units = ""
	Imperial Units = "imperial" // feet, inches and pounds
)

// International yard and pound agreement, 1959.
const (
	cmOfInch = 2.54
	kgOfLb   = 0.45359237
)

// How lengths and weights are written, smallest form last.
var (
	feetAndInches   = regexp.MustCompile(`^([0-9.]+) *(?:ft|feet|foot|'|’|′) *(?:([0-9.]+) *(?:in|inch|inches|"|”|″|'')?)?$`)
	stoneAndPounds  = regexp.MustCompile(`^([0-9.]+) *(?:st|stone) *(?:([0-9.]+) *(?:lb|lbs|pounds)?)?$`)
	figuresInWords  = regexp.MustCompile(`\b([0-9]+(?:\.[0-9]+)?)(?: to ([0-9]+(?:\.[0-9]+)?))? (cm|kg)\b`)
	numberWithUnits = regexp.MustCompile(`^([0-9.]+) *([a-z"”″]*)$`)
)

// ReadHeight reads how tall somebody is, in cm; below nine a bare number in imperial units is
// feet. ok is false for what is no height.
func (u Units) ReadHeight(text string) (cm float64, ok bool) {
	if n, plain := plainNumber(clean(text)); plain && u == Imperial && n < 9 {
		return halves(cmOfInch * 12 * n), true
	}
	return u.ReadLength(text)
}

// ReadLength reads how long or high a thing is, in cm. From other units it is taken to the
// half centimetre, or to the millimetre where it is written to the hundredth. ok is false for
// what is no length.
func (u Units) ReadLength(text string) (cm float64, ok bool) {
	text = clean(text)
	if m := feetAndInches.FindStringSubmatch(text); m != nil {
		feet, ok1 := plainNumber(m[1])
		inches, ok2 := 0.0, true
		if m[2] != "" {
			inches, ok2 = plainNumber(m[2])
		}
		return ofInches(12*feet+inches, m[2]), ok1 && ok2 && inches < 12
	}
	m := numberWithUnits.FindStringSubmatch(text)
	if m == nil {
		return 0, false
	}
	n, ok := plainNumber(m[1])
	switch unit := m[2]; {
	case unit == "cm", unit == "" && u != Imperial:
		return n, ok
	case unit == "m":
		return 100 * n, ok
	case unit == "", strings.HasPrefix("inches", unit) && len(unit) > 1, strings.Contains(`"”″`, unit):
		return ofInches(n, m[1]), ok
	}
	return 0, false
}

// ReadMass reads a weight, in kg. From other units it is taken to the tenth of a kilogram, or
// to the hundredth where it is written so. ok is false for what is none.
func (u Units) ReadMass(text string) (kg float64, ok bool) {
	text = clean(text)
	if m := stoneAndPounds.FindStringSubmatch(text); m != nil {
		stone, ok1 := plainNumber(m[1])
		pounds, ok2 := 0.0, true
		if m[2] != "" {
			pounds, ok2 = plainNumber(m[2])
		}
		return ofPounds(14*stone+pounds, m[2]), ok1 && ok2 && pounds < 14
	}
	m := numberWithUnits.FindStringSubmatch(text)
	if m == nil {
		return 0, false
	}
	n, ok := plainNumber(m[1])
	switch unit := m[2]; {
	case unit == "kg", unit == "" && u != Imperial:
		return n, ok
	case unit == "", unit == "lb", unit == "lbs", unit == "pounds":
		return ofPounds(n, m[1]), ok
	}
	return 0, false
}

// HeightFigure writes how tall somebody is so that ReadHeight gives the same back: 168, 5 ft 6.
func (u Units) HeightFigure(cm float64) string {
	if u != Imperial {
		return plain(cm)
	}
	inches := round(cm/cmOfInch, 100)
	feet := math.Floor(inches / 12)
	inches -= 12 * feet
	for _, to := range []float64{2, 10} {
		if text := feetText(feet, plain(round(inches, to))); reads(u.ReadHeight, text, cm) {
			return text
		}
	}
	return feetText(feet, strconv.FormatFloat(inches, 'f', 2, 64))
}

func feetText(feet float64, inches string) string { return plain(feet) + " ft " + inches }

// LengthFigure writes a length without its unit so that ReadLength gives the same back.
func (u Units) LengthFigure(cm float64) string {
	if u != Imperial {
		return plain(cm)
	}
	return shortest(u.ReadLength, cm, cmOfInch, 1, 2, 10)
}

// MassFigure writes a weight without its unit so that ReadMass gives the same back.
func (u Units) MassFigure(kg float64) string {
	if u != Imperial {
		return plain(kg)
	}
	return shortest(u.ReadMass, kg, kgOfLb, 1, 10)
}

// Length is a length in words: 45 cm, 17.7 in.
func (u Units) Length(cm float64) string { return u.LengthFigure(cm) + " " + u.LengthUnit() }

// Mass is a weight in words: 1.5 kg, 3.3 lb.
func (u Units) Mass(kg float64) string { return u.MassFigure(kg) + " " + u.MassUnit() }

// Height is how tall somebody is in words: 168 cm, 5 ft 6.
func (u Units) Height(cm float64) string {
	if u == Imperial {
		return u.HeightFigure(cm)
	}
	return u.Length(cm)
}

// Say writes the lengths and weights in a sentence of the program's own in these units.
func (u Units) Say(text string) string {
	if u == Metric {
		return text
	}
	return figuresInWords.ReplaceAllStringFunc(text, func(found string) string {
		m := figuresInWords.FindStringSubmatch(found)
		figure, unit := u.LengthFigure, u.LengthUnit()
		if m[3] == "kg" {
			figure, unit = u.MassFigure, u.MassUnit()
		}
		first, _ := plainNumber(m[1])
		out := figure(first)
		if m[2] != "" {
			last, _ := plainNumber(m[2])
			out += " to " + figure(last)
		}
		return out + " " + unit
	})
}

// LengthUnit is the unit of lengths as it is written.
func (u Units) LengthUnit() string {
	if u == Imperial {
		return "in"
	}
	return "cm"
}

// MassUnit is the unit of weights as it is written.
func (u Units) MassUnit() string {
	if u == Imperial {
		return "lb"
	}
	return "kg"
}

// shortest writes a figure kept in a unit that holds per of the kept one, in the first of the
// parts that gives the same when it is read, and in hundredths where none does.
func shortest(read func(string) (float64, bool), kept, per float64, parts ...float64) string {
	for _, to := range parts {
		if text := plain(round(kept/per, to)); reads(read, text, kept) {
			return text
		}
	}
	return strconv.FormatFloat(kept/per, 'f', 2, 64)
}

func reads(read func(string) (float64, bool), text string, as float64) bool {
	n, ok := read(text)
	return ok && math.Abs(n-as) < 1e-9
}

// ofInches and ofPounds keep as much as was written.
func ofInches(n float64, written string) float64 {
	if places(written) > 1 {
		return round(cmOfInch*n, 10)
	}
	return halves(cmOfInch * n)
}

func ofPounds(n float64, written string) float64 {
	if places(written) > 1 {
		return round(kgOfLb*n, 100)
	}
	return round(kgOfLb*n, 10)
}

func places(written string) int {
	_, after, _ := strings.Cut(written, ".")
	return len(after)
}

func clean(text string) string {
	return strings.ToLower(strings.ReplaceAll(strings.TrimSpace(text), ",", "."))
}

// plainNumber reads digits with at most one point.
func plainNumber(text string) (float64, bool) {
	if strings.Trim(text, "0123456789.") != "" {
		return 0, false
	}
	n, err := strconv.ParseFloat(text, 64)
	return n, err == nil
}

func plain(n float64) string      { return strconv.FormatFloat(n, 'g', -1, 64) }
func round(n, to float64) float64 { return math.Round(to*n) / to }
func halves(n float64) float64    { return round(n, 2) }
