package store

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"restbend/core/home"
)

// Booking is a plan as a calendar shows it: no more of it than that.
type Booking struct {
	PlanID, ClientID, Name string
	On, At                 string
	Taught                 bool
	Minutes                int
	ClassID, RecordID      string // empty for none
}

// Bookings are the plans from one day to another, both of them in it.
func (s *Store) Bookings(ctx context.Context, from, to string) ([]Booking, error) {
	return list(ctx, s, scanBooking, "plans_between", from, to, viewer(ctx), viewer(ctx))
}

func scanBooking(r row) (b Booking, err error) {
	var state string
	err = r.Scan(&b.PlanID, &b.ClientID, &b.Name, &b.On, &b.At, &state, &b.Minutes, &b.ClassID, &b.RecordID)
	b.Taught = state == "taught"
	return b, err
}

// Using lists at most so many plans with an exercise in them, on the days from the first to
// the last.
func (s *Store) Using(ctx context.Context, variant, from, to string, most int) ([]Booking, error) {
	return list(ctx, s, scanBooking, "plans_using", from, to, variant, viewer(ctx), viewer(ctx), most)
}

// AtHome is a programme as a calendar shows it.
type AtHome struct {
	ID, ClientID, Name string
	On                 string // since
	Programme          home.Programme
}

// HomesOpen are the programmes that were not taken away.
func (s *Store) HomesOpen(ctx context.Context) ([]AtHome, error) {
	return list(ctx, s, func(r row) (h AtHome, err error) {
		var doc string
		if err := r.Scan(&h.ID, &h.ClientID, &h.Name, &h.On, &doc); err != nil {
			return h, err
		}
		if err := json.Unmarshal([]byte(doc), &h.Programme); err != nil {
			return h, fmt.Errorf("programme %s: %w", h.ID, err)
		}
		return h, nil
	}, "homes_open", viewer(ctx), viewer(ctx))
}

// ScheduleClass gives a class and everybody's plan for it a day and time.
func (t *Tx) ScheduleClass(c Class, on, at string, now time.Time) error {
	if err := t.one("schedule_class", on, at, c.ID); err != nil {
		return err
	}
	for _, p := range c.People {
		if p.PlanID == "" {
			continue
		}
		if err := t.SchedulePlan(p.PlanID, on, at, now); err != nil {
			return err
		}
	}
	return nil
}
