package exchange

import (
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"

	"restbend/app"
	"restbend/core/civil"
	"restbend/core/course"
	"restbend/core/home"
	"restbend/store"
)

// Diary of days: sessions and home days as iCalendar (RFC 5545).

// Booked is what a calendar is made from: a client's plans, also those taken away, and
// programmes for home.
type Booked struct {
	Name  string
	Plans []store.Plan
	Homes []store.Home
}

var rruleDays = map[string]string{"mon": "MO", "tue": "TU", "wed": "WE", "thu": "TH", "fri": "FR", "sat": "SA", "sun": "SU"}

// Calendar writes sessions and home days. Times are those of the place; what was taken away
// is a cancellation. An event keeps its UID, and its sequence rises with its
// changes.
func Calendar(w io.Writer, all []Booked, place *time.Location) error {
	cal := ics.NewCalendarFor("Rest Bend")
	cal.SetMethod(ics.MethodPublish)
	for _, b := range all {
		for _, p := range b.Plans {
			if err := session(cal, b.Name, p, place); err != nil {
				return err
			}
		}
		for _, h := range b.Homes {
			homeDays(cal, b.Name, h)
		}
	}
	return cal.SerializeTo(w, ics.WithNewLineWindows)
}

func session(cal *ics.Calendar, name string, p store.Plan, place *time.Location) error {
	if p.On == "" {
		return nil // a draft has no day
	}
	e := cal.AddEvent(p.ID + "@restbend")
	stamp(e, p.Created, p.Updated)
	e.SetSequence(p.Revision - 1)
	e.SetSummary("Session with " + name)
	e.SetDescription(fmt.Sprintf("%s %s, %d exercises.", app.Clock(p.Plan.SecondsTotal)+" min", p.Plan.Place.Words(), len(p.Plan.Items)))
	if p.Gone != "" {
		e.SetStatus(ics.ObjectStatusCancelled)
	} else {
		e.SetStatus(ics.ObjectStatusConfirmed)
	}
	day, err := time.ParseInLocation(time.DateOnly, p.On, place)
	if err != nil {
		return fmt.Errorf("plan %s: %q is no day", p.ID, p.On)
	}
	if p.At == "" {
		e.SetAllDayStartAt(day)
		e.SetAllDayEndAt(day.AddDate(0, 0, 1))
		return nil
	}
	at, err := time.ParseInLocation("2006-01-02 15:04", p.On+" "+p.At, place)
	if err != nil {
		return fmt.Errorf("plan %s: %q is no time", p.ID, p.At)
	}
	e.SetStartAt(at.UTC())
	e.SetEndAt(at.Add(time.Duration(p.Plan.Target()) * time.Second).UTC())
	return nil
}

// stamp says when an event was made and changed last; a time that cannot be read says
// nothing.
func stamp(e *ics.VEvent, created, updated string) {
	if t, err := time.Parse(time.RFC3339, created); err == nil {
		e.SetCreatedTime(t)
		e.SetDtStampTime(t)
	}
	if t, err := time.Parse(time.RFC3339, updated); err == nil {
		e.SetModifiedAt(t)
		e.SetDtStampTime(t)
	}
}

// homeDays is a programme as one event a day until it is looked at again.
func homeDays(cal *ics.Calendar, name string, h store.Home) {
	var days []string
	for _, d := range home.Days {
		if slices.ContainsFunc(h.Programme.Items, func(it home.Item) bool { return slices.Contains(it.Days, d) }) {
			days = append(days, d)
		}
	}
	start, err := civil.Parse(h.On)
	until, err2 := civil.Parse(h.Programme.AskAgainOn)
	if err != nil || err2 != nil || len(days) == 0 {
		return
	}
	for !slices.Contains(days, home.Days[(int(start.Weekday())+6)%7]) {
		start = start.AddDate(0, 0, 1)
	}
	var by, lines []string
	for _, d := range days {
		by = append(by, rruleDays[d])
	}
	for _, it := range h.Programme.Items {
		lines = append(lines, it.Name+": "+app.DoseWords(it.Dose, it.Sides)+", "+app.HomeDays(it)+".")
	}
	e := cal.AddEvent(h.ID + "@restbend")
	stamp(e, h.On+"T00:00:00Z", "")
	e.SetSequence(h.Revision - 1)
	e.SetSummary("At home: " + name)
	e.SetDescription(strings.Join(lines, "\n"))
	e.SetAllDayStartAt(start.Time())
	e.SetAllDayEndAt(start.AddDate(0, 0, 1).Time())
	e.AddRrule("FREQ=WEEKLY;BYDAY=" + strings.Join(by, ",") + ";UNTIL=" + until.Format("20060102"))
	if h.Gone != "" {
		e.SetStatus(ics.ObjectStatusCancelled)
	}
}

// courseWords name the days of a course in a calendar.
var courseWords = map[string]string{
	course.Studio: "Lesson",
	course.Home:   "At home",
	course.Micro:  "Short bouts",
	course.Review: "Review, tests again",
}

// CourseCalendar writes the days of a course as whole-day events. A day keeps its UID as long
// as it is the same kind of day.
func CourseCalendar(w io.Writer, clientID string, c course.Course, made time.Time) error {
	cal := ics.NewCalendarFor("Rest Bend")
	cal.SetMethod(ics.MethodPublish)
	for _, week := range c.Weeks {
		for _, d := range week.Days {
			words := courseWords[d.Kind]
			on, err := civil.Parse(d.On)
			if words == "" || d.Missed || err != nil {
				continue
			}
			e := cal.AddEvent(fmt.Sprintf("%s-%s-%s@restbend", clientID, d.On, d.Kind))
			e.SetDtStampTime(made.UTC())
			e.SetAllDayStartAt(on.Time())
			e.SetAllDayEndAt(on.AddDate(0, 0, 1).Time())
			e.SetSummary(words)
			var lines []string
			for _, it := range d.Items {
				lines = append(lines, it.Name+": "+app.DoseWords(it.Dose, it.Sides))
			}
			if d.Minutes > 0 {
				lines = append([]string{fmt.Sprintf("About %d minutes, if all goes well until then.", d.Minutes)}, lines...)
			}
			e.SetDescription(strings.Join(lines, "\n"))
		}
	}
	return cal.SerializeTo(w, ics.WithNewLineWindows)
}
