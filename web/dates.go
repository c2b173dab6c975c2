package web

import (
	"regexp"
	"time"

	"restbend/core/civil"
)

// Dates as the studio writes them.

// dateAs writes a local date in a layout of package time; what is no date stays as it is.
func dateAs(on, layout string) string {
	d, err := civil.Parse(on)
	if err != nil {
		return on
	}
	return d.Format(layout)
}

// dateWords writes a local date as "Tue 24 Nov".
func dateWords(on string) string { return dateAs(on, "Mon 2 Jan") }

// shortDate writes it as "24 Nov", longDate as "24 November 2026", longDay as a heading.
func shortDate(on string) string { return dateAs(on, "2 Jan") }
func longDate(on string) string  { return dateAs(on, "2 January 2006") }
func longDay(on string) string   { return dateAs(on, "Monday 2 January") }

// momentWords writes a moment as "Tue 24 Nov, 14:05", by the clock of this machine.
func momentWords(at string) string {
	t, err := time.Parse(time.RFC3339Nano, at)
	if err != nil {
		return at
	}
	return t.Local().Format("Mon 2 Jan, 15:04")
}

var isoDate = regexp.MustCompile(`\b\d{4}-\d{2}-\d{2}\b`)

// plainDates writes the dates in a sentence as all others are.
func plainDates(text string) string { return isoDate.ReplaceAllStringFunc(text, dateWords) }

// ago says how many days back a date lies.
func ago(date string, today civil.Day) string {
	t, err := civil.Parse(date)
	if err != nil {
		return date
	}
	switch days := today.Since(t); days {
	case 0:
		return "today"
	case 1:
		return "yesterday"
	default:
		return dateWords(date)
	}
}
