package app

import (
	"context"
	"slices"

	"restbend/core/civil"
	"restbend/core/limit"
	"restbend/core/readiness"
	"restbend/formats"
	"restbend/store"
)

// What is asked before a class, of everybody at once, and what follows.

// ClassVisit is what a class said before it began: everybody was asked and has neither signs
// nor pain, but for those who are named.
type ClassVisit struct {
	Asked  bool                   // everybody who is here was asked about all warning signs
	Except map[string]ClassAnswer // by client
	Absent []string               // clients who are not here
}

// ClassAnswer is what one person of a class has said. What is left out is as it was said earlier
// on the day.
type ClassAnswer struct {
	Sign        string // a warning sign
	Pain        *int
	Where, Side string
}

// applyTo is what was said earlier on the day, with what this one says now.
func (w ClassAnswer) applyTo(said Visit) Visit {
	if w.Sign != "" {
		said.Asked, said.RedFlags = false, []string{w.Sign}
	}
	if w.Pain != nil {
		said.Pain, said.Where, said.Side = *w.Pain, nil, ""
	}
	if w.Where != "" {
		said.Where, said.Side = []string{w.Where}, w.Side
	}
	return said
}

// answersOn is what a client said earlier on a day, which a word to the room does not take back.
func answersOn(c limit.Client, day civil.Day) Visit {
	said, on := Visit{Asked: true}, day.String()
	if p := c.Pain; p.Now != nil && p.On == on {
		said.Pain = *p.Now
	}
	if t := c.Today; t != nil && t.On == on {
		said.Where, said.Side, said.Dizzy, said.Pulse = t.Where, t.Side, t.Dizzy, t.Pulse
		said.New = slices.DeleteFunc(slices.Clone(t.New), func(sign string) bool { return !slices.Contains(limit.NewSigns, sign) })
	}
	return said
}

// StartClass keeps what everybody said, by name, and replans the class where somebody may
// not take part, or not in what was planned. All of it is kept, or nothing.
func (s *Studio) StartClass(ctx context.Context, id string, seen int, v ClassVisit) (string, error) {
	c, err := s.Store.Class(ctx, id)
	if err != nil {
		return "", err
	}
	if c.Taught() {
		return "", ErrTaught
	}
	if !v.Asked {
		return "", &formats.Invalid{Path: "warning signs",
			Want: "nobody has said whether everybody was asked: say it to the room, and press “all asked”"}
	}
	then := GoOn
	var here []string
	err = s.Store.Within(ctx, func(in *store.Store) error {
		s := s.withStore(in)
		for _, p := range c.People {
			if slices.Contains(v.Absent, p.ClientID) {
				then = PlannedAnew
				continue
			}
			here = append(here, p.ClientID)
			changed, err := s.classVisit(ctx, p, v)
			if err != nil {
				return err
			}
			if changed {
				then = PlannedAnew
			}
			ctx = store.Sent(ctx, store.Form{}) // the form's key went with the first
		}
		if then == PlannedAnew {
			w := ClassWish{Name: c.Name, Clients: here, Place: c.Class.Place, Minutes: c.Class.MinutesAsked, On: c.On, At: c.At}
			return s.RemakeClass(ctx, id, seen, w)
		}
		return nil
	})
	return then, err
}

// classVisit keeps what one person said, and says whether what was planned for them does not
// hold any more.
func (s *Studio) classVisit(ctx context.Context, p store.ClassPerson, v ClassVisit) (changed bool, err error) {
	row, err := s.Store.Client(ctx, p.ClientID)
	if err != nil {
		return false, err
	}
	said := answersOn(row.Client, s.Today())
	if word, named := v.Except[p.ClientID]; named {
		said = word.applyTo(said)
	}
	k, err := s.answered(row.Client, said)
	if err != nil {
		return false, inName(row.Client.Name, err)
	}
	if err := s.checkWhole(k, &row.Client); err != nil {
		return false, inName(row.Client.Name, err)
	}
	if err := s.Store.Change(ctx, func(t *store.Tx) error { return t.ChangeClient(row.ID, row.Version, k, s.Now()) }); err != nil {
		return false, err
	}
	ready, err := s.ReadyFor(ctx, row.ID, k, nil, s.Today(), readiness.Teach)
	if err != nil {
		return false, err
	}
	if ready.Status() != limit.OK || p.PlanID == "" {
		return p.PlanID != "" || ready.Status() == limit.OK, nil
	}
	planned, err := s.Store.Plan(ctx, p.PlanID)
	if err != nil {
		return false, err
	}
	return said.Pain != planned.Plan.PainNow && (said.Pain >= 3 || planned.Plan.PainNow >= 3) ||
		len(s.Outside(planned.Plan, ready)) > 0, nil
}

// inName puts a person's name before what is wrong with what they said.
func inName(name string, err error) error {
	if invalid, ok := err.(*formats.Invalid); ok {
		return &formats.Invalid{Path: name + ", " + invalid.Path, Want: invalid.Want}
	}
	return err
}

// ClassReady is what the day allows each who takes part in a class, by person.
func (s *Studio) ClassReady(ctx context.Context, c store.Class, act readiness.Act) ([]readiness.Limits, error) {
	var out []readiness.Limits
	for _, p := range c.People {
		row, err := s.Store.Client(ctx, p.ClientID)
		if err != nil {
			return nil, err
		}
		marks, err := s.felt(ctx, p.PlanID)
		if err != nil {
			return nil, err
		}
		r, err := s.ReadyFor(ctx, p.ClientID, row.Client, marks, s.Today(), act)
		if err != nil {
			return nil, err
		}
		out = append(out, r)
	}
	return out, nil
}
