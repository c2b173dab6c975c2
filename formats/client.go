package formats

import (
	"fmt"

	"restbend/core/civil"
	"restbend/core/limit"
)

// ReadClient reads a client file (restbend.client/1) as of a date. A refusal is
// an *Invalid.
func ReadClient(b []byte, on civil.Day) (limit.Client, error) {
	var c limit.Client
	if err := read("client", b, &c); err != nil {
		return c, err
	}
	return c, CheckClient(c, on)
}

// CheckClient looks for what a schema cannot say: values that cannot be true on the
// date. Whether conditions and fields are known is for limit.Conditions.CheckClient to say.
func CheckClient(c limit.Client, on civil.Day) error {
	bad := func(path, format string, args ...any) error { return &Invalid{path, fmt.Sprintf(format, args...)} }
	if c.BirthYear > on.Year() {
		return bad("birth_year", "%d is in the future; expected %d or earlier", c.BirthYear, on.Year())
	}
	if len(c.Heights) == 0 && c.TallestHeightCM > 0 && c.HeightCM > c.TallestHeightCM+1 {
		return bad("tallest_height_cm", "%g is less than the height now, %g; expected at least that", c.TallestHeightCM, c.HeightCM)
	}
	if c.FallInjury && c.FallsThisYear == 0 {
		return bad("falls_this_year", "0 does not go with a fall that left an injury; expected 1 or more")
	}
	if m := limit.CheckFigures(c); m != nil {
		return &Invalid{m.Path, m.Want}
	}
	for _, d := range datesOf(c) {
		if err := checkDate(d.path, d.on, on); err != nil {
			return err
		}
	}
	return nil
}

// dated is a date of a client file with its path.
type dated struct{ path, on string }

// datesOf are the dates of a client file; none may lie in the future.
func datesOf(c limit.Client) []dated {
	out := []dated{{"pain.on", c.Pain.On}, {"resting_pressure_on", c.RestingPressureOn}}
	add := func(list string, i int, on string) { out = append(out, dated{fmt.Sprintf("%s[%d].on", list, i), on}) }
	for i, m := range c.Measures {
		add("measures", i, m.On)
	}
	for i, s := range c.Screens {
		add("screens", i, s.On)
	}
	for i, k := range c.Clock {
		add("clock", i, k.On)
	}
	for i, f := range c.FaultsSeen {
		add("faults_seen", i, f.On)
	}
	for i, k := range c.Clearances {
		add("clearances", i, k.On)
	}
	for i, in := range c.Instructions {
		add("instructions", i, in.On)
	}
	for i, h := range c.Heights {
		add("heights", i, h.On)
	}
	for i, f := range c.FlagsCleared {
		add("flags_cleared", i, f.On)
	}
	for i, a := range c.Answers {
		add("answers", i, a.On)
	}
	for i, o := range c.OtherConditions {
		if o.Agreed != nil {
			out = append(out, dated{fmt.Sprintf("other_conditions[%d].agreed.on", i), o.Agreed.On})
		}
	}
	if c.Seen != nil {
		out = append(out, dated{"seen.on", c.Seen.On})
	}
	if c.Today != nil {
		out = append(out, dated{"today.on", c.Today.On})
	}
	if c.UsualAgreed != nil {
		out = append(out, dated{"usual_agreed.on", c.UsualAgreed.On})
	}
	return out
}

func checkDate(path, date string, on civil.Day) error {
	if date == "" {
		return nil
	}
	d, err := civil.Parse(date)
	if err != nil || d.Year() < 1900 {
		return &Invalid{path, fmt.Sprintf("%s is not a date; expected YYYY-MM-DD", date)}
	}
	if d.After(on) {
		return &Invalid{path, fmt.Sprintf("%s is in the future; expected %s or earlier", date, on.String())}
	}
	return nil
}
