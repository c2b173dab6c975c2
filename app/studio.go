package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"restbend/formats"
	"restbend/store"
)

// Studio is one instructor's practice: the library, the database and a clock.
type Studio struct {
	*Judge
	Store *store.Store
	Now   func() time.Time
}

// Today is the local date as midnight UTC, for counting days.
func (s *Studio) Today() time.Time {
	n := s.Now()
	return time.Date(n.Year(), n.Month(), n.Day(), 0, 0, 0, 0, time.UTC)
}

// ErrTaught is returned when a plan that was taught is to be changed.
var ErrTaught = errors.New("this session has been taught; its plan stays as it was")

// ErrRefer is returned when a plan is asked for a client who is to be referred.
var ErrRefer = errors.New("no session is planned for this client today")

// AddRecord checks and saves what happened in a session. A plan has one record;
// saving it again returns the one that is there.
func (s *Studio) AddRecord(ctx context.Context, planID string, r formats.Record) (string, error) {
	row, err := s.Store.Plan(ctx, planID)
	if err != nil {
		return "", err
	}
	if row.Taught() {
		old, err := s.Store.RecordOfPlan(ctx, planID)
		return old.ID, err
	}
	b, err := json.Marshal(r)
	if err != nil {
		return "", err
	}
	if _, err := formats.ReadRecord(b); err != nil {
		return "", err
	}
	var id string
	err = s.Store.Change(ctx, func(t *store.Tx) (err error) {
		id, err = t.AddRecord(row, r, s.Now())
		return err
	})
	return id, err
}

// FollowUp adds what the client says a day and a half later.
func (s *Studio) FollowUp(ctx context.Context, recordID string, f formats.FollowUp) error {
	if f.HoursToSettle < 0 || f.HoursToSettle > 1000 {
		return &formats.Invalid{Path: "hours to settle", Want: "expected 0 to 1000"}
	}
	if f.PainNextDay != nil && (*f.PainNextDay < 0 || *f.PainNextDay > 10) {
		return &formats.Invalid{Path: "pain next day", Want: fmt.Sprintf("expected 0 to 10, found %d", *f.PainNextDay)}
	}
	if _, err := s.Store.Record(ctx, recordID); err != nil {
		return err
	}
	return s.Store.Change(ctx, func(t *store.Tx) error { return t.AddToRecord(recordID, "follow_up", f, s.Now()) })
}

// ToFollowUp lists the records of the last days that nobody has asked about
// yet, oldest first: from the day after a session for a week.
func (s *Studio) ToFollowUp(ctx context.Context) ([]store.Record, error) {
	from, to := s.Today().AddDate(0, 0, -7), s.Today().AddDate(0, 0, -1)
	all, err := s.Store.RecordsBetween(ctx, from.Format(time.DateOnly), to.Format(time.DateOnly))
	if err != nil {
		return nil, err
	}
	open := slices.DeleteFunc(all, func(r store.Record) bool { return r.Record.FollowUp != nil })
	slices.Reverse(open)
	return open, nil
}
