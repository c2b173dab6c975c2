package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"restbend/core/lesson"
	"restbend/core/plan"
)

// ErrOtherMark is returned when another mark was kept under the same id.
var ErrOtherMark = errors.New("another mark was kept under this id")

// Marks are all marks of a plan's lesson, in the order in which they came.
func (s *Store) Marks(ctx context.Context, planID string) ([]lesson.Mark, error) {
	return list(ctx, s, func(r row) (m lesson.Mark, err error) {
		var doc string
		if err = r.Scan(&doc); err == nil {
			err = json.Unmarshal([]byte(doc), &m)
		}
		return m, err
	}, "marks", planID)
}

// KeepMark keeps a mark of a plan's lesson; one that was kept before, as it is, is kept
// once. Another under its id is ErrOtherMark.
func (t *Tx) KeepMark(planID string, m lesson.Mark, now time.Time) error {
	doc, err := json.Marshal(m)
	if err != nil {
		return err
	}
	var of, before string
	err = t.tx.QueryRowContext(t.ctx, t.s.query("mark"), m.ID).Scan(&of, &before)
	switch {
	case err == nil && of == planID && before == string(doc):
		return nil
	case err == nil:
		return ErrOtherMark
	case !errors.Is(err, sql.ErrNoRows):
		return fmt.Errorf("mark: %w", err)
	}
	_, err = t.exec("keep_mark", m.ID, planID, string(doc), stamp(now))
	return err
}

// Revisions are all revisions of a plan, oldest first.
func (s *Store) Revisions(ctx context.Context, planID string) ([]plan.Plan, error) {
	return list(ctx, s, func(r row) (p plan.Plan, err error) {
		var doc string
		if err = r.Scan(&doc); err == nil {
			err = json.Unmarshal([]byte(doc), &p)
		}
		return p, err
	}, "revisions", planID)
}

// Series is what a device measured in a lesson: values a fixed time apart.
type Series struct {
	ID      string    `json:"id"`
	Device  string    `json:"device"`
	Unit    string    `json:"unit"`
	Began   float64   `json:"began_s"` // on the lesson's clock
	Step    float64   `json:"step_s"`  // seconds between two values
	Values  []float64 `json:"values"`
	Low     float64   `json:"low"` // the band to stay in
	High    float64   `json:"high"`
	Variant string    `json:"variant,omitempty"`
}

// KeepSeries keeps what a device has measured so far; the same series again is the longer.
func (t *Tx) KeepSeries(planID string, s Series, now time.Time) error {
	doc, err := json.Marshal(s)
	if err != nil {
		return err
	}
	_, err = t.exec("keep_series", s.ID, planID, string(doc), stamp(now))
	return err
}

// SeriesOf are the series of a lesson.
func (s *Store) SeriesOf(ctx context.Context, planID string) ([]Series, error) {
	return list(ctx, s, func(r row) (x Series, err error) {
		var doc string
		if err = r.Scan(&doc); err == nil {
			err = json.Unmarshal([]byte(doc), &x)
		}
		return x, err
	}, "series", planID)
}

// Revision is a plan as one of its revisions; ErrNotFound where there is none.
func (s *Store) Revision(ctx context.Context, planID string, revision int) (plan.Plan, error) {
	return single(ctx, s, func(r row) (p plan.Plan, err error) {
		var doc, what string
		if err = r.Scan(&doc, &what); err == nil {
			err = json.Unmarshal([]byte(doc), &p)
		}
		return p, err
	}, "revision", planID, revision)
}
