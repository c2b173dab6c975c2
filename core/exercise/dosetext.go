package exercise

import (
	"errors"
	"fmt"
	"regexp"
	"strconv"
	"strings"
)

// ReadDose reads a dose as it is said: "2 × 8", "8, staying 3 s", "6 holds of 10 s", "6, then 4,
// then 2 holds of 10 s", "4 holds of 5, 6, 8 and 10 s" (they grow), "hold a minute", "15 breaths",
// "5 circles", "5 circles each way", "30 s, alternating", "6 holds of 5 s, alternating", and
// "8 left, 12 right" where the sides differ. Whatever Dose.Words says is read back as the same
// dose. The error says what was expected.
func ReadDose(text string) (Dose, error) {
	s := strings.ToLower(strings.Join(strings.Fields(text), " "))
	if m := bothSides.FindStringSubmatch(s); m != nil {
		left, right := m[1], m[3]
		if m[2] == "right" {
			left, right = right, left
		}
		return uneven(left, right)
	}
	s = strings.NewReplacer(
		" each side",
		"",
		" x ",
		" × ",
		"*",
		"×",
		" in the shape",
		"",
		" slow ",
		" ",
		"a minute",
		"60 s",
		"one minute",
		"60 s",
	).Replace(" " + s)
	d := Dose{Sets: 1}
	s, d.Alternating = cutLast(s, alternating)
	if m := staying.FindStringSubmatchIndex(s); m != nil {
		d.StaySeconds, s = seconds(s[m[2]:m[3]], s[m[4]:m[5]]), s[:m[0]]+s[m[1]:]
	}
	if !d.Alternating {
		s, d.Alternating = cutLast(s, alternating)
	}
	s, both := strings.CutSuffix(s, " each way")
	if m := times.FindStringSubmatch(strings.TrimSpace(s)); m != nil {
		d.Sets, s = atoi(m[1]), m[2]
	}
	s = strings.TrimSpace(s)
	if m := oneHold.FindStringSubmatch(s); m != nil && d.Sets > 1 && !strings.HasPrefix(s, "hold") { // 6 × 10 s are six holds
		d.Kind, d.Repetitions, d.Seconds, d.Sets = HoldSeconds, d.Sets, seconds(m[1], m[2]), 1
		return d, d.within()
	}
	if d.Sets < 1 || d.Sets > MostSets {
		return d, fmt.Errorf("%d sets; expected 1 to %d", d.Sets, MostSets)
	}
	switch {
	case d.Alternating && oneHold.MatchString(s) && !strings.HasPrefix(s, "hold"):
		m := oneHold.FindStringSubmatch(s)
		d.Kind, d.Alternating, d.Seconds = AlternatingSeconds, false, seconds(m[1], m[2])
	case oneHold.MatchString(s):
		m := oneHold.FindStringSubmatch(s)
		d.Kind, d.Repetitions, d.Seconds = HoldSeconds, 1, seconds(m[1], m[2])
	case holds.MatchString(s):
		m := holds.FindStringSubmatch(s)
		d.Kind = HoldSeconds
		d.sizes(numbers(m[1]))
		if lengths := numbers(m[2]); len(lengths) == 1 {
			d.Seconds = seconds(m[2], m[3])
		} else {
			for _, n := range lengths {
				d.SecondsByRepetition = append(d.SecondsByRepetition, float64(n))
			}
		}
	case breaths.MatchString(s):
		d.Kind, d.Breaths = Breaths, atoi(breaths.FindStringSubmatch(s)[1])
	case circles.MatchString(s):
		d.Kind, d.BothDirections = Circles, both
		d.sizes(numbers(circles.FindStringSubmatch(s)[1]))
	case counted.MatchString(s):
		d.Kind = Repetitions
		d.sizes(numbers(counted.FindStringSubmatch(s)[1]))
	default:
		return d, fmt.Errorf(
			"%q cannot be read; expected a dose such as 2 × 8, 6 holds of 10 s, 6, then 4, then 2 holds of 10 s, 15 breaths, "+
				"30 s, alternating or 5 circles",
			text,
		)
	}
	if both && d.Kind != Circles {
		return d, fmt.Errorf("%q cannot be read; expected circles where something goes each way", text)
	}
	return d, d.within()
}

const many = `(\d+(?:(?:, then |, ?| and | then |-)\d+)*)`

var (
	bothSides = regexp.MustCompile(`^(.+?) (left|right),? (?:and )?(.+?) (?:left|right)$`)
	times     = regexp.MustCompile(`^(\d+) ?× ?(.+)$`)
	// alternating is said at the end, also as "sides in turn".
	alternating = regexp.MustCompile(`,? (?:(?:sides )?in turn|alternating(?: sides)?|sides alternating)$`)
	staying     = regexp.MustCompile(`,? (?:staying(?: for)?|with a stay of) (\d+(?:\.\d+)?) ?(s|seconds)(?: each time)?`)
	oneHold     = regexp.MustCompile(`^(?:hold )?(?:of )?(\d+(?:\.\d+)?) ?(s|seconds|min|minutes?)$`)
	holds       = regexp.MustCompile(`^` + many + `(?: holds?)?(?: of| growing| ×|×) ?` + many + ` ?(s|seconds|min|minutes?)$`)
	breaths     = regexp.MustCompile(`^(\d+) breaths?$`)
	circles     = regexp.MustCompile(`^` + many + ` circles?$`)
	counted     = regexp.MustCompile(`^` + many + `(?: slowly| times| repetitions)?$`)
	eachOne     = regexp.MustCompile(`\d+`)
)

// uneven is a dose that differs from side to side by what is counted.
func uneven(left, right string) (Dose, error) {
	whole, part, more := left, right, "left"
	if len(right) > len(left) {
		whole, part, more = right, left, "right"
	}
	d, err := ReadDose(whole)
	if err != nil {
		return d, err
	}
	if len(d.RepetitionsBySet) > 0 || d.Kind == Breaths || d.Alternates() {
		return d, fmt.Errorf("%q left, %q right: expected repetitions, holds or breaths of a shape where the sides differ", left, right)
	}
	n := eachOne.FindAllString(part, -1)
	if len(n) != 1 && part != whole {
		return d, fmt.Errorf("%q: expected one number for the other side", part)
	}
	count := d.Repetitions
	if d.Kind == HoldSeconds && d.Repetitions <= 1 {
		count = int(d.Seconds)
	}
	other := map[string]string{"left": "right", "right": "left"}[more]
	d.BySide = map[string]int{more: count, other: atoi(n[0])}
	if part == whole {
		d.BySide = nil
	}
	return d, d.within()
}

// sizes sets the repetitions of sets that are given one by one.
func (d *Dose) sizes(n []int) {
	d.Repetitions = n[0]
	if len(n) > 1 {
		d.Sets, d.RepetitionsBySet = len(n), n
	}
}

// within holds a dose to what may be asked for at all.
func (d Dose) within() error {
	for _, side := range d.Sides(2) {
		sizes := side.SetSizes()
		if d.Kind == Repetitions || d.Kind == Circles || d.Kind == HoldSeconds {
			sizes = append(sizes, side.Repetitions)
		}
		for _, n := range sizes {
			if n < 1 || n > MostRepetitions {
				return fmt.Errorf("%d in a set; expected 1 to %d", n, MostRepetitions)
			}
			if side.Kind == HoldSeconds {
				for i := range n {
					if h := side.Hold(i); !(h >= 1 && h <= MostHold) {
						return fmt.Errorf("a hold of %g s; expected 1 to %d", h, MostHold)
					}
				}
			}
		}
		if err := side.parts(); err != nil {
			return err
		}
		if side.Kind == AlternatingSeconds && !(side.Seconds >= 5 && side.Seconds <= MostHold) {
			return fmt.Errorf("%g s, alternating; expected 5 to %d", side.Seconds, MostHold)
		}
		if (side.Kind == Breaths || side.Kind == HoldBreaths) && !(side.Breaths >= 1 && side.Breaths <= MostBreaths) {
			return fmt.Errorf("%d breaths; expected 1 to %d", side.Breaths, MostBreaths)
		}
	}
	if len(d.RepetitionsBySet) > MostSets {
		return fmt.Errorf("%d sets; expected 1 to %d", len(d.RepetitionsBySet), MostSets)
	}
	return nil
}

// parts holds a stay and alternating sides to the doses that can have them.
func (d Dose) parts() error {
	if s := d.StaySeconds; s != 0 && (d.Kind != Repetitions || !(s >= 1 && s <= MostStay)) {
		return fmt.Errorf("a stay of %g s; expected 1 to %d, inside repetitions", s, MostStay)
	}
	if d.Alternating && d.Kind != Repetitions && d.Kind != HoldSeconds {
		return fmt.Errorf("alternating %s; expected repetitions, holds or seconds", strings.ReplaceAll(string(d.Kind), "_", " "))
	}
	return nil
}

// Fits says whether a movement can be done with a stay or with alternating sides, where the dose
// asks for it.
func (d Dose) Fits(m Movement) error {
	switch {
	case d.StaySeconds > 0 && m.HoldsAt == "":
		return errors.New("it has no shape to stay in; expected repetitions without a stay")
	case (d.Alternating || d.Kind == AlternatingSeconds && m.Sided) && !m.Alternates():
		return errors.New("its sides cannot alternate; expected one side after the other")
	}
	return nil
}

// Of is the dose as a variant of a usual dose can be given it: breaths in a shape where
// the shape is held, repetitions at the movement's own pace. The error says what it can be
// counted in.
func (d Dose) Of(usual Dose, m Movement, sided bool) (Dose, error) {
	held := m.HoldsAt != ""
	if err := d.Fits(m); err != nil && usual.Kind != AlternatingSeconds {
		return d, err
	}
	switch {
	case d.Kind == Breaths && held:
		d.Kind = HoldBreaths
	case d.Kind == Repetitions && usual.Kind == Circles:
		d.Kind = Circles
	}
	d.BothDirections = d.Kind == Circles && (d.BothDirections || usual.BothDirections)
	ok := map[DoseKind]bool{
		Repetitions:        (!held || d.StaySeconds > 0 || usual.Kind == Repetitions) && usual.Kind != Breaths,
		Circles:            usual.Kind == Circles,
		HoldSeconds:        held,
		HoldBreaths:        held,
		Breaths:            usual.Kind == Breaths,
		AlternatingSeconds: sided || usual.Kind == AlternatingSeconds,
	}
	if !ok[d.Kind] {
		var can []string
		for _, kind := range DoseKinds {
			if ok[kind] {
				can = append(can, strings.ReplaceAll(string(kind), "_", " "))
			}
		}
		return d, fmt.Errorf(
			"it is not counted in %s; expected %s",
			strings.ReplaceAll(string(d.Kind), "_", " "),
			strings.Join(can, " or "),
		)
	}
	if len(d.BySide) > 0 && !sided {
		return d, fmt.Errorf("it has no sides, so left and right cannot differ")
	}
	if d.Kind == Repetitions || d.Kind == Circles {
		d.Seconds = m.Tempo()
	}
	return d, nil
}

// cutLast takes what is said at the end away, and says whether it was.
func cutLast(s string, last *regexp.Regexp) (string, bool) {
	if at := last.FindStringIndex(s); at != nil {
		return s[:at[0]], true
	}
	return s, false
}

func atoi(s string) int { n, _ := strconv.Atoi(s); return n }

// numbers are those of a list such as "6, 4 and 2".
func numbers(s string) (out []int) {
	for _, n := range eachOne.FindAllString(s, -1) {
		out = append(out, atoi(n))
	}
	return
}

// seconds is a figure with its unit.
func seconds(n, unit string) float64 {
	v, _ := strconv.ParseFloat(n, 64)
	if strings.HasPrefix(unit, "min") {
		v *= 60
	}
	return v
}
