package app

import (
	"context"
	"fmt"
	"strings"
	"time"

	"restbend/core/course"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/formats"
	"restbend/library"
)

// CourseWish is what is asked of weeks ahead; zero fields take the usual.
type CourseWish struct {
	Weeks, Sessions, HomeDays int
	From                      time.Time // the first day; today for none
	Off                       []time.Weekday
	Minutes                   int
}

// The usual course.
const (
	UsualWeeks    = 6
	UsualSessions = 2
	UsualHomeDays = 3
)

// Course plans weeks ahead for a client from the records there are.
func (j *Judge) Course(c limit.Client, records []lesson.Record, w CourseWish, on time.Time) (course.Course, error) {
	rules, err := library.ProgressRules()
	if err != nil {
		return course.Course{}, fmt.Errorf("the rules of progress: %w", err)
	}
	if w.From.IsZero() {
		w.From = on
	}
	if first, last := on.AddDate(-1, 0, 0), on.AddDate(1, 0, 0); w.From.Before(first) || w.From.After(last) {
		return course.Course{}, &formats.Invalid{Path: "from", Want: fmt.Sprintf("%s is too far away; expected %s to %s", w.From.Format(time.DateOnly), first.Format(time.DateOnly), last.Format(time.DateOnly))}
	}
	r, _, err := j.Request(c, Wish{Minutes: w.Minutes}, w.From)
	if err != nil {
		return course.Course{}, err
	}
	r.History = plan.History{Sessions: len(records)}
	if len(records) > 0 {
		r.History.Days = int(on.Sub(firstOf(records, on)).Hours() / 24)
	}
	q := course.Request{Plan: r, Library: j.planLibrary, Limits: j.Limits, Rules: rules, Records: records, From: w.From, Today: on, Weeks: w.Weeks, Sessions: w.Sessions, HomeDays: w.HomeDays, Off: w.Off}
	if err := q.Check(); err != nil {
		field, want, _ := strings.Cut(err.Error(), ": ")
		return course.Course{}, &formats.Invalid{Path: field, Want: want}
	}
	return course.Make(q), nil
}

// firstOf is the day of the first record.
func firstOf(records []lesson.Record, on time.Time) time.Time {
	for _, r := range records {
		if d, err := time.Parse(time.DateOnly, r.On); err == nil && d.Before(on) {
			on = d
		}
	}
	return on
}

// CourseFor is Course for a client of the book.
func (s *Studio) CourseFor(ctx context.Context, clientID string, w CourseWish) (course.Course, error) {
	k, err := s.Store.Client(ctx, clientID)
	if err != nil {
		return course.Course{}, err
	}
	rows, err := s.Store.RecordsOf(ctx, clientID)
	if err != nil {
		return course.Course{}, err
	}
	var records []lesson.Record
	for _, r := range rows {
		records = append(records, r.Record)
	}
	return s.Course(k.Client, records, w, s.Today())
}
