package app

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"restbend/core/lesson"
	"restbend/core/plan"
	"restbend/formats"
	"restbend/store"
)

// MostMarks is how many marks one call may bring.
const MostMarks = 1000

// RefusedMark is a mark that was not kept: which of those sent, and why.
type RefusedMark struct {
	Index int    `json:"index"`
	ID    string `json:"id"`
	Field string `json:"field"`
	Want  string `json:"want"`
}

// KeepMarks keeps the marks of a plan's lesson, those that are as they should be, and gives
// back their ids once they are on disk. One sent again is kept once and named again. What
// comes after the wrap-up is added to the record as a correction.
func (s *Studio) KeepMarks(ctx context.Context, planID string, marks []lesson.Mark) (kept []string, refused []RefusedMark, err error) {
	if len(marks) > MostMarks {
		return nil, nil, &formats.Invalid{
			Path: "marks",
			Want: fmt.Sprintf("expected at most %d at once, found %d", MostMarks, len(marks)),
		}
	}
	row, plans, err := s.lessonOf(ctx, planID)
	if err != nil {
		return nil, nil, err
	}
	var items []string
	for _, p := range plans {
		for _, it := range p.Items {
			items = append(items, it.ID)
		}
	}
	kept = []string{}
	before, err := s.Store.Marks(ctx, planID)
	if err != nil {
		return nil, nil, err
	}
	known := map[string]bool{}
	for _, m := range before {
		known[m.ID] = true
	}
	// The sign goes to the client first: what is lost between the two is the mark, which is sent again.
	for _, m := range marks {
		if m.Kind != "warning" || known[m.ID] || m.Check(items, s.Now()) != nil {
			continue
		}
		if err := s.Warn(ctx, row.ClientID, m.Flag); err != nil {
			return nil, nil, err
		}
	}
	fresh := false
	err = s.Store.Change(ctx, func(t *store.Tx) error {
		for i, m := range marks {
			if wrong := m.Check(items, s.Now()); wrong != nil {
				refused = append(refused, RefusedMark{i, m.ID, wrong.Field, wrong.Want})
				continue
			}
			err := t.KeepMark(planID, m, s.Now())
			switch {
			case errors.Is(err, store.ErrOtherMark):
				refused = append(refused, RefusedMark{i, m.ID, "id", "another mark was kept under this id; expected a new one"})
				continue
			case err != nil:
				return err
			}
			kept = append(kept, m.ID)
			fresh = fresh || !known[m.ID]
		}
		return nil
	})
	if err != nil {
		return nil, nil, err
	}
	if row.Taught() && fresh {
		err = s.lateMarks(ctx, row, plans, before)
	}
	return kept, refused, err
}

// lessonOf is a plan with all its revisions, oldest first, the last as it stands.
func (s *Studio) lessonOf(ctx context.Context, planID string) (store.Plan, []plan.Plan, error) {
	row, err := s.Store.Plan(ctx, planID)
	if err != nil {
		return row, nil, err
	}
	plans, err := s.Store.Revisions(ctx, planID)
	return row, append(plans, row.Plan), err
}

// RecordNow is the record of a plan as it stands: folded from the marks while it is
// taught, and as it was saved and corrected once it is.
func (s *Studio) RecordNow(ctx context.Context, planID string) (lesson.Record, error) {
	row, plans, err := s.lessonOf(ctx, planID)
	if err != nil {
		return lesson.Record{}, err
	}
	if row.Taught() {
		r, err := s.Store.RecordOfPlan(ctx, planID)
		return r.Record, err
	}
	marks, err := s.Store.Marks(ctx, planID)
	r := s.folded(row, plans, marks)
	return r, err
}

func (s *Studio) folded(row store.Plan, plans []plan.Plan, marks []lesson.Mark) lesson.Record {
	r := lesson.Fold(plans, marks)
	r.Plan, r.On = row.ID, s.Today().String()
	return r
}

// lateMarks puts what marks say that came after the wrap-up into the record: the
// exercises they speak of, as a correction.
func (s *Studio) lateMarks(ctx context.Context, row store.Plan, plans []plan.Plan, before []lesson.Mark) error {
	old, err := s.Store.RecordOfPlan(ctx, row.ID)
	if err != nil {
		return err
	}
	now, err := s.Store.Marks(ctx, row.ID)
	if err != nil {
		return err
	}
	was, is := s.folded(row, plans, before), s.folded(row, plans, now)
	next := old.Record
	next.Items = slices.Clone(next.Items)
	for _, it := range row.Plan.Items {
		of := func(r lesson.Record) []lesson.Done {
			return slices.DeleteFunc(slices.Clone(r.Items), func(d lesson.Done) bool { return d.Item != it.ID })
		}
		if changed := of(is); !sameAccount(lesson.Record{Items: of(was)}, lesson.Record{Items: changed}) {
			at := slices.IndexFunc(next.Items, func(d lesson.Done) bool { return d.Item == it.ID })
			next.Items = slices.DeleteFunc(next.Items, func(d lesson.Done) bool { return d.Item == it.ID })
			next.Items = slices.Insert(next.Items, max(0, min(at, len(next.Items))), changed...)
		}
	}
	if p := is.Pain.During; p != nil && (next.Pain.During == nil || *p > *next.Pain.During) {
		next.Pain.During = p
	}
	next.SideChecks = is.SideChecks
	if sameAccount(old.Record, next) {
		return nil
	}
	return s.addToRecord(ctx, old.ID, "correction", store.Correction{Why: "marks that arrived after the wrap-up", Record: next})
}

// KeepSeries keeps what a device measured in a lesson.
func (s *Studio) KeepSeries(ctx context.Context, planID string, x store.Series) error {
	bad := func(field, want string) error { return &formats.Invalid{Path: field, Want: want} }
	switch {
	case x.ID == "" || len(x.ID) > 64:
		return bad("id", "expected 1 to 64 characters")
	case !slices.Contains([]string{"cuff", "belt", "grip"}, x.Device):
		return bad("device", fmt.Sprintf("%q is not known; expected cuff, belt or grip", x.Device))
	case !(x.Step >= 0.05 && x.Step <= 60):
		return bad("step_s", fmt.Sprintf("%g cannot be right; expected 0.05 to 60 seconds", x.Step))
	case len(x.Values) > 5000:
		return bad("values", fmt.Sprintf("expected at most 5000, found %d", len(x.Values)))
	}
	if _, err := s.Store.Plan(ctx, planID); err != nil {
		return err
	}
	return s.Store.Change(ctx, func(t *store.Tx) error { return t.KeepSeries(planID, x, s.Now()) })
}
