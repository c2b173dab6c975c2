package formats

import (
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"restbend/core/limit"
)

// MaxBytes is the largest file that is read.
const MaxBytes = 1 << 20

// ReadClient reads a client file (restbend.client/1) as of a date. A refusal is
// an *Invalid.
func ReadClient(b []byte, on time.Time) (limit.Client, error) {
	var c limit.Client
	if len(b) > MaxBytes {
		return c, &Invalid{"", fmt.Sprintf("the file is larger than %d KB", MaxBytes/1024)}
	}
	if err := Validate("client", b); err != nil {
		return c, err
	}
	if err := json.Unmarshal(b, &c); err != nil {
		return c, &Invalid{"", err.Error()}
	}
	return c, CheckClient(c, on)
}

// CheckClient looks for what a schema cannot say: values that cannot be true on the
// date. What the book of conditions knows is for limit.Book.CheckClient to say.
func CheckClient(c limit.Client, on time.Time) error {
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
	for i, m := range c.Measures {
		path := fmt.Sprintf("measures[%d]", i)
		if err := checkDate(path+".on", m.On, on); err != nil {
			return err
		}
		if lo, hi, ok := measureRange(m.ID); ok && (m.Value < lo || m.Value > hi) {
			return bad(path+".value", "%g cannot be right for %s; expected %g to %g", m.Value, m.ID, lo, hi)
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
	for i, in := range c.Instructions {
		if err := checkDate(fmt.Sprintf("instructions[%d].on", i), in.On, on); err != nil {
			return err
		}
	}
	return nil
}

func checkDate(path, date string, on time.Time) error {
	if date == "" {
		return nil
	}
	d, err := time.Parse(time.DateOnly, date)
	if err != nil {
		return &Invalid{path, fmt.Sprintf("%s is not a date; expected YYYY-MM-DD", date)}
	}
	if d.After(on) {
		return &Invalid{path, fmt.Sprintf("%s is in the future; expected %s or earlier", date, on.Format(time.DateOnly))}
	}
	return nil
}

// measureRange is what a measure can possibly be.
func measureRange(id string) (lo, hi float64, ok bool) {
	switch {
	case id == "breath_seconds":
		return 1, 30, true
	case strings.HasSuffix(id, "_deg"):
		return 0, 120, true
	case id == "chair_stand_30s":
		return 0, 60, true
	case id == "specific_activity":
		return 0, 10, true
	case strings.HasSuffix(id, "_s"):
		return 0, 600, true
	case id == "fingertip_floor_cm":
		return -30, 150, true
	case id == "side_bend_cm":
		return 0, 60, true
	}
	return 0, 0, false
}
