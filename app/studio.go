package app

import (
	"context"
	"errors"
	"sync/atomic"
	"time"

	"restbend/core/civil"
	"restbend/store"
)

// Studio is one instructor's practice: the library, the database and a clock.
type Studio struct {
	*Judge
	Store *store.Store
	Now   func() time.Time
	zone  *atomic.Pointer[time.Location] // in which Now is read; nil for the clock's own
}

// NewStudio is a practice over a database. Its clock is read in the time zone that was set for
// it, and its messages name the emergency number that was set.
func NewStudio(ctx context.Context, j *Judge, st *store.Store, clock func() time.Time) *Studio {
	s := &Studio{Judge: j.clone(), Store: st, zone: &atomic.Pointer[time.Location]{}}
	s.Now = func() time.Time {
		if zone := s.zone.Load(); zone != nil {
			return clock().In(zone)
		}
		return clock()
	}
	s.apply(s.House(ctx))
	return s
}

// apply makes what was set for the studio hold.
func (s *Studio) apply(h House) {
	s.setNumber(h.Emergency)
	if s.zone != nil {
		zone, err := zoneOf(h.Zone)
		if err != nil {
			zone = nil // not known on this machine: the machine's own
		}
		s.zone.Store(zone)
	}
}

// Today is the day by the studio's clock, in the zone that Now is in.
func (s *Studio) Today() civil.Day { return civil.Of(s.Now()) }

// ErrTaught is returned when a plan that was taught is to be changed.
var ErrTaught = errors.New("this session has been taught; its plan stays as it was")

// ErrRefer is returned when a plan is asked for a client who is to be referred.
var ErrRefer = errors.New("no session is planned for this client today")

// withStore is the same studio over another store, such as one transaction.
func (s *Studio) withStore(st *store.Store) *Studio {
	own := *s
	own.Store = st
	return &own
}
