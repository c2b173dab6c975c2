package app

import (
	"context"
	"errors"
	"fmt"
	"time"

	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/progress"
	"restbend/formats"
	"restbend/library"
)

// Next says what follows from records of a client. Records that cannot be believed are a
// *formats.Invalid.
func (j *Judge) Next(c limit.Client, records []lesson.Record, on time.Time) (progress.Answer, error) {
	rules, err := library.ProgressRules()
	if err != nil {
		return progress.Answer{}, fmt.Errorf("the rules of progress: %w", err)
	}
	w := progress.World{Variants: j.Library.Variants, Rules: rules, Limits: j.Limits(c, on), Kit: limit.KitOf(c, c.Place)}
	a, err := progress.Decide(c, records, w, on)
	var wrong *progress.Contradiction
	if errors.As(err, &wrong) {
		return a, &formats.Invalid{Path: fmt.Sprintf("records[%d].%s", wrong.Record, wrong.Field), Want: wrong.Want}
	}
	return a, err
}

// NextFor is Next for a client of the book, from all that is on record.
func (s *Studio) NextFor(ctx context.Context, clientID string, c limit.Client) (progress.Answer, error) {
	rows, err := s.Store.RecordsOf(ctx, clientID)
	if err != nil {
		return progress.Answer{}, err
	}
	var records []lesson.Record
	on := s.Today()
	for _, r := range rows {
		records = append(records, r.Record)
		if d, err := time.Parse(time.DateOnly, r.Record.On); err == nil && d.After(on) {
			on = d // the clock has gone back
		}
	}
	return s.Next(c, records, on)
}
