package app

import (
	"context"
	"fmt"
	"strings"
	"sync/atomic"

	"restbend/core/civil"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/progress"
	"restbend/core/readiness"
	"restbend/store"
)

// What a day allows, asked by everything that plans, teaches or judges.

// Ready are the limits of a client for an act on a day, after the sessions there were and
// with what was marked in the lesson of the day.
func (j *Judge) Ready(c limit.Client, past []readiness.Visit, marks []readiness.Mark, on civil.Day, act readiness.Act) readiness.Limits {
	return j.days.Load().Limits(c, past, marks, on, act)
}

// Limits are those that verdicts are given by, on a date.
func (j *Judge) Limits(c limit.Client, on civil.Day) readiness.Limits {
	return j.Ready(c, nil, nil, on, readiness.Judge)
}

// clone is a judge of the same library whose messages can name a number of its own.
func (j *Judge) clone() *Judge {
	own := *j
	own.days = &atomic.Pointer[readiness.Rules]{}
	own.days.Store(j.days.Load())
	return &own
}

// setNumber has messages name the number of the emergency service.
func (j *Judge) setNumber(number string) {
	days := *j.days.Load()
	days.Emergency = number
	j.days.Store(&days)
}

// MarkRules are the rules by which a page weighs marks by itself.
func (j *Judge) MarkRules() readiness.MarkRules { return j.days.Load().ForMarks() }

// Loaded are the parts of the body that an exercise of a plan loads for a client, and whether
// it is gentle enough for a day with pain.
func (j *Judge) Loaded(c limit.Client, it plan.Item) (parts []string, gentle bool) {
	v := j.Library.Variant(it.Variant)
	if v == nil {
		return nil, false
	}
	h, m := c.Size()
	days, of := j.days.Load(), measuredOf(v, it)
	return days.Loaded(of, h, m), days.GentleEnough(of, h, m)
}

// NotToday is why nothing is planned or taught on a day, with what to do instead.
type NotToday struct{ Readiness readiness.Readiness }

func (e *NotToday) Error() string {
	return ErrRefer.Error() + ": " + strings.Join(e.Readiness.Texts(), " ")
}

// Is says that it is an ErrRefer, whatever the status.
func (e *NotToday) Is(target error) bool { return target == ErrRefer }

// past are the records of a client.
func (s *Studio) past(ctx context.Context, clientID string) ([]lesson.Record, error) {
	rows, err := s.Store.RecordsOf(ctx, clientID)
	if err != nil {
		return nil, err
	}
	var records []lesson.Record
	for _, r := range rows {
		records = append(records, r.Record)
	}
	return records, nil
}

// ReadyFor is Ready for a client of the studio, with all that is on record.
func (s *Studio) ReadyFor(ctx context.Context, clientID string, c limit.Client, marks []readiness.Mark, on civil.Day,
	act readiness.Act) (readiness.Limits, error) {
	records, err := s.past(ctx, clientID)
	if err != nil {
		return readiness.Limits{}, err
	}
	visits, err := s.visitsOf(c, records, s.Today())
	if err != nil {
		return readiness.Limits{}, err
	}
	return s.Ready(c, visits, marks, on, act), nil
}

// ReadyForPlan is what the day of a plan allows its client, with what was marked in it: to
// teach it is always today.
func (s *Studio) ReadyForPlan(ctx context.Context, row store.Plan, c limit.Client, act readiness.Act) (readiness.Limits, error) {
	day, err := civil.Parse(row.On)
	if err != nil || act == readiness.Teach {
		day = s.Today()
	}
	var marks []readiness.Mark
	if day == s.Today() {
		if marks, err = s.felt(ctx, row.ID); err != nil {
			return readiness.Limits{}, err
		}
	}
	return s.ReadyFor(ctx, row.ClientID, c, marks, day, act)
}

// visitsOf are the sessions of a client as days ask about them, with what the rules of
// progress refer the client for.
func (j *Judge) visitsOf(c limit.Client, records []lesson.Record, on civil.Day) ([]readiness.Visit, error) {
	next, err := j.decided(c, records, latest(records, on))
	if err != nil {
		return nil, err
	}
	return afterSessions(records, next), nil
}

// afterSessions are the sessions, with what the rules of progress refer for in the last.
func afterSessions(records []lesson.Record, next progress.Answer) []readiness.Visit {
	visits := lesson.Visits(records)
	if n := len(visits); n > 0 && next.Status == limit.Refer && next.Readiness.Status != readiness.Refer {
		visits[n-1].Refers = strings.Join(next.Notes, " ")
	}
	return visits
}

// felt is what was marked in the lesson of a plan and still stands.
func (s *Studio) felt(ctx context.Context, planID string) ([]readiness.Mark, error) {
	if planID == "" {
		return nil, nil
	}
	marks, err := s.Store.Marks(ctx, planID)
	if err != nil {
		return nil, fmt.Errorf("the marks of the lesson: %w", err)
	}
	return lesson.Felt(marks), nil
}
