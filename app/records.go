package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"strings"
	"time"

	"restbend/core/civil"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/readiness"
	"restbend/formats"
	"restbend/store"
)

// What a user does with the record of a session: nothing of it is ever written over.

// AddRecord checks and saves what happened in a session. A plan has one record: saving
// it again gives back the one that is there, and another account of the same session is
// kept as a correction of it.
func (s *Studio) AddRecord(ctx context.Context, planID string, r lesson.Record) (string, error) {
	row, err := s.Store.Plan(ctx, planID)
	if err != nil {
		return "", err
	}
	if err := s.checkRecord(r, row.On); err != nil {
		return "", err
	}
	if row.Taught() {
		old, err := s.Store.RecordOfPlan(ctx, planID)
		if err != nil || sameAccount(old.Record, r) {
			return old.ID, err
		}
		r.On = old.On
		return old.ID, s.addToRecord(ctx,
			old.ID,
			"correction",
			store.Correction{Why: "a second, different wrap-up of the same session", Record: r},
		)
	}
	return s.Store.Make(ctx, func(t *store.Tx) (string, error) { return t.AddRecord(row, r, s.Now()) })
}

// After is what is settled at the end of a lesson beside the record: how well the wanted
// activity goes, 0 to 10, and the day of the next one; either may be left out.
type After struct {
	Activity *int
	NextOn   string
}

// WrapUp saves the record of a lesson, how well the wanted activity goes as a measure of
// today, and the next lesson, planned from what this one showed: all of it or nothing.
func (s *Studio) WrapUp(ctx context.Context, planID string, r lesson.Record, after After) (string, error) {
	var id string
	err := s.Store.Within(ctx, func(in *store.Store) error {
		s := s.withStore(in)
		if after.NextOn != "" {
			if err := s.checkNext(ctx, planID); err != nil {
				return err
			}
		}
		var err error
		if id, err = s.AddRecord(ctx, planID, r); err != nil {
			return err
		}
		rest := store.Sent(ctx, store.Form{}) // the form's key went with the record
		row, err := s.Store.Plan(rest, planID)
		if err != nil {
			return err
		}
		if after.Activity != nil {
			client, err := s.Store.Client(rest, row.ClientID)
			if err != nil {
				return err
			}
			goes := limit.Measure{ID: "specific_activity", Activity: client.Client.GoalText, Value: float64(*after.Activity)}
			if err := s.AddTests(rest, row.ClientID, Tests{Measures: []limit.Measure{goes}}); err != nil {
				return err
			}
		}
		if after.NextOn != "" {
			wish := WishOf(row.Plan)
			wish.PainNow = r.Pain.After
			_, err = s.AddPlan(rest, row.ClientID, wish, after.NextOn, "")
			err = nextRefused(err)
		}
		return err
	})
	return id, err
}

// checkNext refuses a plan for the next time where today says that nothing follows.
func (s *Studio) checkNext(ctx context.Context, planID string) error {
	row, err := s.Store.Plan(ctx, planID)
	if err != nil {
		return err
	}
	client, err := s.Store.Client(ctx, row.ClientID)
	if err != nil {
		return err
	}
	ready, err := s.ReadyFor(ctx, row.ClientID, client.Client, nil, s.Today(), readiness.Ahead)
	if err == nil && ready.Status() != limit.OK {
		err = nextRefused(&NotToday{ready.Readiness})
	}
	return err
}

// nextRefused says what to do with a record where no next session can be planned.
func nextRefused(err error) error {
	if errors.Is(err, ErrRefer) {
		return &formats.Invalid{Path: "next time",
			Want: "no session can be planned now: " + err.Error() + "; leave the day out, and save the record"}
	}
	return err
}

// checkRecord holds a record against the published schema and the clock, or the day it
// was planned for where the clock has gone back since.
func (s *Studio) checkRecord(r lesson.Record, planned string) error {
	b, err := json.Marshal(r)
	if err != nil {
		return err
	}
	on := s.Today()
	for _, date := range []string{planned, r.On} {
		if d, err := civil.Parse(date); err == nil && d.After(on) && d.Before(on.AddDate(1, 0, 0)) {
			on = d
		}
	}
	_, err = formats.ReadRecord(b, on)
	return err
}

// sameAccount says whether two records tell the same of a session.
func sameAccount(a, b lesson.Record) bool {
	a.FollowUp, b.FollowUp, a.On, b.On, a.Plan, b.Plan = nil, nil, "", "", "", ""
	return reflect.DeepEqual(a, b)
}

func (s *Studio) addToRecord(ctx context.Context, id, kind string, v any) error {
	return s.Store.Change(ctx, func(t *store.Tx) error { return t.AddToRecord(id, kind, v, s.Now()) })
}

// Correct puts a record right: what it said stays beside it, with who says otherwise and
// why.
func (s *Studio) Correct(ctx context.Context, recordID string, c store.Correction) error {
	c.By, c.Why = strings.TrimSpace(c.By), strings.TrimSpace(c.Why)
	for _, need := range []struct{ field, value string }{{"who corrects it", c.By}, {"why", c.Why}} {
		if need.value == "" || len(need.value) > 300 {
			return &formats.Invalid{Path: need.field, Want: "expected 1 to 300 characters"}
		}
	}
	old, err := s.Store.Record(ctx, recordID)
	if err != nil {
		return err
	}
	if err := s.checkRecord(c.Record, old.On); err != nil {
		return err
	}
	if sameAccount(old.Record, c.Record) {
		return &formats.Invalid{
			Path: "correction",
			Want: "nothing differs from what the record says already; expected at least one change",
		}
	}
	return s.addToRecord(ctx, recordID, "correction", c)
}

// AddNote adds a sentence to a record.
func (s *Studio) AddNote(ctx context.Context, recordID string, n store.Note) error {
	n.By, n.Text = strings.TrimSpace(n.By), strings.TrimSpace(n.Text)
	if n.Text == "" || len(n.Text) > 2000 {
		return &formats.Invalid{Path: "note", Want: "expected 1 to 2000 characters"}
	}
	if len(n.By) > 120 {
		return &formats.Invalid{Path: "who notes it", Want: "expected at most 120 characters"}
	}
	if _, err := s.Store.Record(ctx, recordID); err != nil {
		return err
	}
	return s.addToRecord(ctx, recordID, "note", n)
}

// FollowUp adds what the client says a day and a half later.
func (s *Studio) FollowUp(ctx context.Context, recordID string, f lesson.FollowUp) error {
	if f.HoursToSettle < 0 || f.HoursToSettle > 1000 {
		return &formats.Invalid{Path: "hours to settle", Want: "expected 0 to 1000"}
	}
	if f.PainNextDay != nil && (*f.PainNextDay < 0 || *f.PainNextDay > 10) {
		return &formats.Invalid{Path: "pain next day", Want: fmt.Sprintf("expected 0 to 10, found %d", *f.PainNextDay)}
	}
	if _, err := s.Store.Record(ctx, recordID); err != nil {
		return err
	}
	return s.addToRecord(ctx, recordID, "follow_up", f)
}

// SettleHours are the hours after which a client is asked how a session settled.
const SettleHours = 36

// ToFollowUp lists at most so many sessions of the last days that nobody has asked about
// yet, oldest first: from a day and a half after a session for ten days.
func (s *Studio) ToFollowUp(ctx context.Context, most int) ([]store.Unasked, error) {
	from, to := s.Today().AddDate(0, 0, -10), s.Today().AddDate(0, 0, -1)
	return s.Store.ToFollowUp(ctx, from.String(), to.String(), s.Now().Add(-SettleHours*time.Hour), s.Now(), most)
}
