package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"restbend/core/civil"
	"restbend/core/course"
	"restbend/core/exercise"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/readiness"
	"restbend/formats"
	"restbend/library"
	"restbend/store"
)

// CourseWish is what is asked of weeks ahead; zero fields take the usual.
type CourseWish struct {
	Weeks, Sessions, HomeDays int
	From                      civil.Day // the first day; today for none
	Off                       []time.Weekday
	Minutes                   int
	At                        string                              // the time of day of lessons that are kept; may be empty
	Also                      map[exercise.Purpose][]time.Weekday // what else is done that serves a purpose, such as walking
}

// The usual course.
const (
	UsualWeeks    = 6
	UsualSessions = 2
	UsualHomeDays = 3
)

// Course plans weeks ahead for a client from the records there are.
func (j *Judge) Course(c limit.Client, records []lesson.Record, w CourseWish, on civil.Day) (course.Course, error) {
	rules, err := library.ProgressRules()
	if err != nil {
		return course.Course{}, fmt.Errorf("the rules of progress: %w", err)
	}
	if w.From.IsZero() {
		w.From = on
	}
	if first, last := on.AddDate(-1, 0, 0), on.AddDate(1, 0, 0); w.From.Before(first) || w.From.After(last) {
		return course.Course{}, &formats.Invalid{Path: "from",
			Want: fmt.Sprintf("%s is too far away; expected %s to %s", w.From.String(), first.String(), last.String())}
	}
	for p := range w.Also {
		if err := known("also", p, exercise.Purposes); err != nil {
			return course.Course{}, err
		}
	}
	if err := checkTime(w.At); err != nil {
		return course.Course{}, err
	}
	visits, err := j.visitsOf(c, records, on)
	if err != nil {
		return course.Course{}, err
	}
	now := j.Ready(c, visits, nil, on, readiness.Ahead)
	if now.Readiness.Status == readiness.Stop && !w.From.After(on) {
		w.From = on.AddDate(0, 0, 1) // not today
	}
	r, _, err := j.Request(c, Wish{Minutes: w.Minutes, Past: visits}, w.From)
	if err != nil {
		return course.Course{}, err
	}
	r.History = plan.History{Sessions: len(records)}
	if len(records) > 0 {
		r.History.Days = on.Since(firstOf(records, on))
	}
	q := course.Request{Plan: r, Now: now, Library: j.planLibrary, Limits: func(c limit.Client, day civil.Day) readiness.Limits {
		return j.Ready(c, visits, nil, day, readiness.Ahead)
	}, Rules: rules, Records: records, From: w.From, Today: on, Weeks: w.Weeks, Sessions: w.Sessions, HomeDays: w.HomeDays, Off: w.Off,
		Also: w.Also}
	if err := q.Check(); err != nil {
		field, want, _ := strings.Cut(err.Error(), ": ")
		return course.Course{}, &formats.Invalid{Path: field, Want: want}
	}
	return course.Make(q), nil
}

// firstOf is the day of the first record.
func firstOf(records []lesson.Record, on civil.Day) civil.Day {
	for _, r := range records {
		if d, err := civil.Parse(r.On); err == nil && d.Before(on) {
			on = d
		}
	}
	return on
}

// CourseFor is Course for a client of the database.
func (s *Studio) CourseFor(ctx context.Context, clientID string, w CourseWish) (course.Course, error) {
	k, err := s.Store.Client(ctx, clientID)
	if err != nil {
		return course.Course{}, err
	}
	records, err := s.past(ctx, clientID)
	if err != nil {
		return course.Course{}, err
	}
	return s.Course(k.Client, records, w, s.Today())
}

// KeptCourse is what was kept of weeks ahead: what they were asked for with, and the lessons
// that were planned.
type KeptCourse struct {
	Wish  CourseWish `json:"wish"`
	Plans []string   `json:"plans"`
}

// KeepCourse plans the lessons to come of a course, each from what is earned today, and
// remembers what the weeks were asked for with. A day that holds a lesson already keeps it.
// All of it or nothing.
func (s *Studio) KeepCourse(ctx context.Context, clientID string, w CourseWish) (string, error) {
	if w.From.IsZero() {
		w.From = s.Today()
	}
	c, err := s.CourseFor(ctx, clientID, w)
	if err != nil {
		return "", err
	}
	if c.Status != plan.Ready {
		return "", &formats.Invalid{Path: "weeks", Want: strings.Join(c.Notes, " ")}
	}
	taken := map[string]bool{}
	plans, err := s.Store.PlanHeadsOf(ctx, clientID, -1)
	if err != nil {
		return "", err
	}
	for _, p := range plans {
		taken[p.On] = true
	}
	var id string
	err = s.Store.Within(ctx, func(in *store.Store) error {
		s := s.withStore(in)
		kept := KeptCourse{Wish: w}
		rest := store.Sent(ctx, store.Form{}) // the form's key goes with the course
		for _, week := range c.Weeks {
			for _, d := range week.Days {
				if d.Kind != course.Studio || d.Taught || taken[d.On] || d.On < s.Today().String() {
					continue
				}
				planID, err := s.AddPlan(rest, clientID, Wish{Minutes: d.Minutes}, d.On, w.At)
				if err != nil {
					return err
				}
				kept.Plans = append(kept.Plans, planID)
			}
		}
		var err error
		id, err = s.Store.Make(ctx, func(t *store.Tx) (string, error) { return t.AddCourse(clientID, kept, s.Now()) })
		return err
	})
	return id, err
}

// UndoCourse takes the last kept course of a client back, with those of its lessons that
// were not taught.
func (s *Studio) UndoCourse(ctx context.Context, clientID string) error {
	all, err := s.Store.CoursesOf(ctx, clientID)
	if err != nil {
		return err
	}
	if len(all) == 0 {
		return store.ErrNotFound
	}
	var kept KeptCourse
	if err := json.Unmarshal(all[0].Doc, &kept); err != nil {
		return err
	}
	return s.Store.Change(ctx, func(t *store.Tx) error {
		for _, id := range kept.Plans {
			if err := t.TakePlanAway(id, true, s.Now()); err != nil && !errors.Is(err, store.ErrChanged) {
				return err
			}
		}
		return t.TakeCourseAway(all[0].ID, true, s.Now())
	})
}

// LastCourse is what the client's weeks were last kept with; nil for none.
func (s *Studio) LastCourse(ctx context.Context, clientID string) (*KeptCourse, error) {
	all, err := s.Store.CoursesOf(ctx, clientID)
	if err != nil || len(all) == 0 {
		return nil, err
	}
	var kept KeptCourse
	return &kept, json.Unmarshal(all[0].Doc, &kept)
}
