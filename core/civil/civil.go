// Package civil has days of the calendar, without a clock and without a time zone. Which
// day it is somewhere is for whoever holds the clock to say, once, with Of.
package civil

import (
	"fmt"
	"time"
)

// Day is a day of the calendar. Days compare with ==; the zero Day is no day.
type Day struct{ n int } // days since the last day before the year 1

const secondsADay = 24 * 60 * 60

// epoch is the day before the first that counts.
var epoch = time.Date(0, 12, 31, 0, 0, 0, 0, time.UTC)

// Date is a day by its figures; 31 November is 1 December, as in package time.
func Date(year int, month time.Month, day int) Day {
	return Day{int((time.Date(year, month, day, 0, 0, 0, 0, time.UTC).Unix() - epoch.Unix()) / secondsADay)}
}

// Of is the day that an instant falls on in its own time zone.
func Of(t time.Time) Day { return Date(t.Date()) }

// Parse reads a day written as YYYY-MM-DD.
func Parse(text string) (Day, error) {
	t, err := time.Parse(time.DateOnly, text)
	if err != nil || t.Year() < 1 {
		return Day{}, fmt.Errorf("%q is not a date; expected YYYY-MM-DD", text)
	}
	return Of(t), nil
}

// Time is midnight of the day in UTC, for formatting and for counting hours.
func (d Day) Time() time.Time { return epoch.AddDate(0, 0, d.n) }

// IsZero says whether it is no day.
func (d Day) IsZero() bool { return d.n == 0 }

// String is the day as YYYY-MM-DD; empty for no day.
func (d Day) String() string {
	if d.IsZero() {
		return ""
	}
	return d.Time().Format(time.DateOnly)
}

// Format writes the day by a layout of package time.
func (d Day) Format(layout string) string { return d.Time().Format(layout) }

// Year, Month and Weekday are parts of the date.
func (d Day) Year() int             { return d.Time().Year() }
func (d Day) Month() time.Month     { return d.Time().Month() }
func (d Day) Day() int              { return d.Time().Day() }
func (d Day) Weekday() time.Weekday { return d.Time().Weekday() }

// AddDate is the day so many years, months and days later.
func (d Day) AddDate(years, months, days int) Day { return Of(d.Time().AddDate(years, months, days)) }

// Since is how many days have passed since another day; negative where it is still to come.
func (d Day) Since(o Day) int { return d.n - o.n }

// Before and After compare days.
func (d Day) Before(o Day) bool { return d.n < o.n }
func (d Day) After(o Day) bool  { return d.n > o.n }

// Compare is negative, 0 or positive, as slices.SortFunc wants it.
func (d Day) Compare(o Day) int { return d.n - o.n }
