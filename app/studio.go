package app

import (
	"errors"
	"time"

	"restbend/core/civil"

	"restbend/store"
)

// Studio is one instructor's practice: the library, the database and a clock.
type Studio struct {
	*Judge
	Store *store.Store
	Now   func() time.Time
}

// Today is the day by the studio's clock, in the zone that Now is in.
func (s *Studio) Today() civil.Day { return civil.Of(s.Now()) }

// ErrTaught is returned when a plan that was taught is to be changed.
var ErrTaught = errors.New("this session has been taught; its plan stays as it was")

// ErrRefer is returned when a plan is asked for a client who is to be referred.
var ErrRefer = errors.New("no session is planned for this client today")
