package app

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"restbend/core/civil"
	"restbend/core/class"
	"restbend/core/exercise"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/formats"
	"restbend/store"
)

// Attendee is one who comes to a class.
type Attendee struct {
	ID     string // so that nobody is named twice
	Client limit.Client
}

// ClassRequest is what is asked of a class of these clients.
func (j *Judge) ClassRequest(people []Attendee, place exercise.Place, minutes int, approach exercise.Approach,
	on civil.Day) (class.Request, error) {
	r := class.Request{Place: place, Minutes: minutes}
	if minutes < 5 || minutes > 120 {
		return r, &formats.Invalid{Path: "minutes", Want: fmt.Sprintf("expected 5 to 120, found %d", minutes)}
	}
	for _, p := range people {
		if p.Client.Name == "" {
			p.Client.Name = fmt.Sprintf("Client %d", len(r.People)+1)
		}
		q, _, err := j.Request(p.Client, Wish{Place: place, Minutes: minutes, Approach: approach}, on)
		if err != nil {
			return r, err
		}
		r.People = append(r.People, class.Person{ID: p.ID, Name: p.Client.Name, Request: q})
	}
	if err := r.Check(); err != nil {
		return r, &formats.Invalid{Path: "clients", Want: err.Error()}
	}
	return r, nil
}

// Class finds the class that was asked for.
func (j *Judge) Class(r class.Request) class.Class { return class.Best(r, j.planLibrary) }

// ClassWish is what is asked of a class.
type ClassWish struct {
	Name    string
	Clients []string // ids
	Place   exercise.Place
	Minutes int
	On, At  string
}

// longestName is how long the name of a class may be, in characters.
const longestName = 80

// checkClass refuses what no class can be made of.
func (s *Studio) checkClass(w ClassWish) error {
	switch {
	case len([]rune(w.Name)) > longestName:
		return &formats.Invalid{
			Path: "name",
			Want: fmt.Sprintf("is %d characters long; expected at most %d", len([]rune(w.Name)), longestName),
		}
	case w.On == "":
		return &formats.Invalid{Path: "day", Want: "is missing; expected the day of the class"}
	}
	if err := checkTime(w.At); err != nil {
		return err
	}
	return s.checkDay(w.On)
}

// classOf finds the class that is wished, with its people.
func (s *Studio) classOf(ctx context.Context, w ClassWish) (store.Class, []store.Client, error) {
	out := store.Class{Name: strings.TrimSpace(w.Name), On: w.On, At: w.At}
	if err := s.checkClass(w); err != nil {
		return out, nil, err
	}
	if out.Name == "" {
		out.Name = "Class"
	}
	r := class.Request{Place: w.Place, Minutes: w.Minutes}
	var clients []store.Client
	for _, id := range w.Clients {
		k, err := s.Store.Client(ctx, id)
		if err != nil {
			return out, nil, err
		}
		q, _, err := s.requestFor(ctx, id, k.Client, Wish{Place: w.Place, Minutes: w.Minutes}, w.On)
		if err != nil {
			return out, nil, err
		}
		r.People = append(r.People, class.Person{ID: id, Name: k.Client.Name, Request: q})
		clients = append(clients, k)
	}
	if err := r.Check(); err != nil {
		return out, nil, invalidClass(err)
	}
	out.Class = s.Class(r)
	if out.Class.Status != plan.Ready {
		return out, nil, &formats.Invalid{Path: "class", Want: strings.Join(out.Class.Notes, " ")}
	}
	return out, clients, nil
}

func invalidClass(err error) error {
	field, want, _ := strings.Cut(err.Error(), ": ")
	return &formats.Invalid{Path: field, Want: want}
}

// plans keeps a plan for everybody who takes part.
func (s *Studio) classPlans(t *store.Tx, c *store.Class, clients []store.Client) error {
	c.People = nil
	for i, m := range c.Class.People {
		p := store.ClassPerson{ClientID: clients[i].ID}
		if m.Status == plan.Ready {
			id, err := t.AddPlan(p.ClientID, c.On, c.At, m.Plan, clients[i].Client, s.Now())
			if err != nil {
				return err
			}
			p.PlanID = id
		}
		c.People = append(c.People, p)
	}
	return nil
}

// AddClass plans a class and keeps it, with a plan for each who takes part.
func (s *Studio) AddClass(ctx context.Context, w ClassWish) (string, error) {
	c, clients, err := s.classOf(ctx, w)
	if err != nil {
		return "", err
	}
	return s.Store.Make(ctx, func(t *store.Tx) (string, error) {
		if err := s.classPlans(t, &c, clients); err != nil {
			return "", err
		}
		return t.AddClass(c, s.Now())
	})
}

// RemakeClass plans a class again with other wishes, on top of the revision that was seen;
// the plans it had are put away.
func (s *Studio) RemakeClass(ctx context.Context, id string, seen int, w ClassWish) error {
	old, err := s.Store.Class(ctx, id)
	if err != nil {
		return err
	}
	if old.Taught() {
		return ErrTaught
	}
	c, clients, err := s.classOf(ctx, w)
	if err != nil {
		return err
	}
	c.ID, c.Revision = id, seen
	return s.Store.Change(ctx, func(t *store.Tx) error {
		if err := s.putPlansAway(t, old, true); err != nil {
			return err
		}
		if err := s.classPlans(t, &c, clients); err != nil {
			return err
		}
		return t.ChangeClass(c)
	})
}

func (s *Studio) putPlansAway(t *store.Tx, c store.Class, away bool) error {
	for _, p := range c.People {
		if p.PlanID == "" {
			continue
		}
		if err := t.TakePlanAway(p.PlanID, away, s.Now()); err != nil && !errors.Is(err, store.ErrChanged) {
			return err
		}
	}
	return nil
}

// TakeClassAway takes a class that was not taught off every list, or brings it back.
func (s *Studio) TakeClassAway(ctx context.Context, id string, away bool) error {
	c, err := s.Store.Class(ctx, id)
	if err != nil {
		return err
	}
	if c.Taught() {
		return ErrTaught
	}
	return s.Store.Change(ctx, func(t *store.Tx) error {
		if err := s.putPlansAway(t, c, away); err != nil {
			return err
		}
		return t.TakeClassAway(id, away, s.Now())
	})
}

// FinishClass keeps the record of everybody who did anything, from the marks that were made;
// the plan of who was not there stays untaught. Pain after is as it was before where that was
// said of everybody, but for those named by their plan. All of it or nothing.
func (s *Studio) FinishClass(ctx context.Context, id string, after map[string]int, asBefore bool) error {
	c, err := s.Store.Class(ctx, id)
	if err != nil {
		return err
	}
	return s.Store.Within(ctx, func(in *store.Store) error {
		s := s.withStore(in)
		kept := 0
		for _, p := range c.People {
			if p.PlanID == "" {
				continue
			}
			r, err := s.RecordNow(ctx, p.PlanID)
			if err != nil {
				return err
			}
			if !done(r) && !p.Taught {
				continue
			}
			client, err := s.Store.Client(ctx, p.ClientID)
			if err != nil {
				return err
			}
			if pain := client.Client.Pain; pain.Now != nil && pain.On == s.Today().String() {
				r.Pain.Before = pain.Now
			}
			if n, named := after[p.PlanID]; named {
				r.Pain.After = &n
			} else if asBefore {
				r.Pain.After = r.Pain.Before
			}
			if _, err := s.AddRecord(ctx, p.PlanID, r); err != nil {
				return err
			}
			ctx = store.Sent(ctx, store.Form{}) // the form's key went with the first
			kept++
		}
		if kept == 0 {
			return &formats.Invalid{Path: "records", Want: "nothing was done yet by anybody; teach the class first"}
		}
		return nil
	})
}

// done says whether anything of a session was done.
func done(r lesson.Record) bool {
	return slices.ContainsFunc(r.Items, func(d lesson.Done) bool { return d.Ended == "done" || d.Repetitions > 0 || d.Sets > 0 })
}

// ScheduleClass gives a class that was not taught another day and time.
func (s *Studio) ScheduleClass(ctx context.Context, id, on, at string) error {
	c, err := s.Store.Class(ctx, id)
	if err != nil {
		return err
	}
	if c.Taught() {
		return ErrTaught
	}
	if err := s.checkClass(ClassWish{On: on, At: at}); err != nil {
		return err
	}
	return s.Store.Change(ctx, func(t *store.Tx) error { return t.ScheduleClass(c, on, at, s.Now()) })
}

// ClassRest is what is left of a class that has begun.
type ClassRest struct {
	Done    int      // items of the thread that are done
	Minutes int      // that are left
	Absent  []string // plans of those who are not here any more, or not yet
}

// ContinueClass replans the rest of a class for those who are here, from where they
// are; what was done stays as it was. Somebody who hurts gets what suits that.
func (s *Studio) ContinueClass(ctx context.Context, id string, rest ClassRest) error {
	c, err := s.Store.Class(ctx, id)
	if err != nil {
		return err
	}
	switch {
	case c.Taught():
		return ErrTaught
	case rest.Done < 0 || rest.Done > len(c.Class.Items):
		return &formats.Invalid{Path: "done", Want: fmt.Sprintf("expected 0 to %d exercises, found %d", len(c.Class.Items), rest.Done)}
	case rest.Minutes < leastLeft || rest.Minutes > 120:
		return &formats.Invalid{Path: "minutes", Want: fmt.Sprintf("expected %d to 120 that are left, found %d", leastLeft, rest.Minutes)}
	}
	r := class.Request{Place: c.Class.Place, Minutes: rest.Minutes}
	var rows []store.Plan
	var people []int // of the class
	for person, who := range c.People {
		if who.PlanID == "" || slices.Contains(rest.Absent, who.PlanID) {
			continue
		}
		row, err := s.Store.Plan(ctx, who.PlanID)
		if err != nil {
			return err
		}
		wish := Wish{Place: c.Class.Place, Minutes: rest.Minutes, Approach: row.Plan.Approach}
		client, wish, err := s.asKnown(ctx, row, wish) // with what was marked so far
		if err != nil {
			return err
		}
		q, _, err := s.requestFor(ctx, who.ClientID, client, wish, c.On)
		if err != nil {
			return err
		}
		q.Done = slices.Clone(row.Plan.Items[:min(rest.Done, len(row.Plan.Items))])
		r.People = append(r.People, class.Person{ID: who.PlanID, Name: c.Class.People[person].Name, Request: q})
		rows, people = append(rows, row), append(people, person)
	}
	if err := r.Check(); err != nil {
		return invalidClass(err)
	}
	next := s.Class(r)
	if next.Status != plan.Ready {
		return &formats.Invalid{Path: "class", Want: strings.Join(next.Notes, " ")}
	}
	c.Class.Items = slices.Clone(c.Class.Items[:rest.Done])
	c.Class.SecondsTotal = 0
	for _, it := range next.Items {
		it.Versions = slices.Clone(it.Versions)
		for i := range it.Versions {
			it.Versions[i].Person = people[it.Versions[i].Person]
		}
		c.Class.Items = append(c.Class.Items, it)
	}
	for _, it := range c.Class.Items {
		c.Class.SecondsTotal += it.Seconds
	}
	return s.Store.Change(ctx, func(t *store.Tx) error {
		for i, m := range next.People {
			if m.Status != plan.Ready {
				continue
			}
			items := slices.Clone(rows[i].Plan.Items[:min(rest.Done, len(rows[i].Plan.Items))])
			for _, it := range m.Plan.Items {
				it.ID = "" // a place of its own in the whole
				items = append(items, it)
			}
			p := plan.DeskOf(r.People[i].Request, s.PlanLibrary()).Whole(rows[i].Plan, items)
			if err := t.ChangePlan(rows[i].ID, rows[i].Revision, p, "the rest of the class, planned anew", s.Now()); err != nil {
				return err
			}
		}
		return t.ChangeClass(c)
	})
}

// leastLeft is the fewest minutes that the rest of a class is planned for.
const leastLeft = 3

// Otherwise is how a class might be instead.
type Otherwise struct {
	Two      class.Grouping
	Possible bool // they are enough for two
	More     []class.More
}

// ClassOtherwise puts the people of a class into two classes of those who go together best,
// and says what one thing more for everybody would change.
func (s *Studio) ClassOtherwise(ctx context.Context, c store.Class) (o Otherwise, err error) {
	r := class.Request{Place: c.Class.Place, Minutes: c.Class.MinutesAsked}
	for _, p := range c.People {
		k, err := s.Store.Client(ctx, p.ClientID)
		if err != nil {
			return o, err
		}
		q, _, err := s.requestFor(ctx, p.ClientID, k.Client, Wish{Place: r.Place, Minutes: r.Minutes}, c.On)
		if err != nil {
			return o, err
		}
		r.People = append(r.People, class.Person{ID: p.ClientID, Name: k.Client.Name, Request: q})
	}
	o.Two, o.Possible = class.Split(r, s.PlanLibrary())
	o.More = class.Given(r, s.PlanLibrary())
	return o, nil
}
