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
// date. What the book of conditions knows is for limit.Book.CheckClient to say.
func CheckClient(c limit.Client, on civil.Day) error {
	bad := func(path, format string, args ...any) error { return &Invalid{path, fmt.Sprintf(format, args...)} }
	if c.BirthYear > on.Year() {
		return bad("birth_year", "%d is in the future; expected %d or earlier", c.BirthYear, on.Year())
	}
	if c.TallestHeightCM > 0 && c.HeightCM > c.TallestHeightCM+1 {
		return bad("tallest_height_cm", "%g is less than the height now, %g; expected at least that", c.TallestHeightCM, c.HeightCM)
	}
	if c.FallInjury && c.FallsThisYear == 0 {
		return bad("falls_this_year", "0 does not go with a fall that left an injury; expected 1 or more")
	}
	if c.Pain.Now != nil && c.Pain.Worst24h != nil && *c.Pain.Now > *c.Pain.Worst24h {
		return bad("pain.worst_24h", "%d is less than the pain now, %d; expected at least that", *c.Pain.Worst24h, *c.Pain.Now)
	}
	if m := limit.CheckFigures(c); m != nil {
		return &Invalid{m.Path, m.Want}
	}
	for i, m := range c.Measures {
		if err := checkDate(fmt.Sprintf("measures[%d].on", i), m.On, on); err != nil {
			return err
		}
	}
	for i, s := range c.Screens {
		if err := checkDate(fmt.Sprintf("screens[%d].on", i), s.On, on); err != nil {
			return err
		}
	}
	for i, k := range c.Clock {
		if err := checkDate(fmt.Sprintf("clock[%d].on", i), k.On, on); err != nil {
			return err
		}
	}
	for i, f := range c.FaultsSeen {
		if err := checkDate(fmt.Sprintf("faults_seen[%d].on", i), f.On, on); err != nil {
			return err
		}
	}
	for i, k := range c.Clearances {
		if err := checkDate(fmt.Sprintf("clearances[%d].on", i), k.On, on); err != nil {
			return err
		}
	}
	if c.Seen != nil {
		if err := checkDate("seen.on", c.Seen.On, on); err != nil {
			return err
		}
	}
	for i, in := range c.Instructions {
		if err := checkDate(fmt.Sprintf("instructions[%d].on", i), in.On, on); err != nil {
			return err
		}
	}
	return nil
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
