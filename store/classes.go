package store

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"restbend/core/class"
)

// Class is a session for several as it stands.
type Class struct {
	ID, Name string
	On, At   string // local day, and HH:MM or empty
	Revision int
	Gone     string // when it was taken away
	Class    class.Class
	People   []ClassPerson // in the order of the class's own
}

// ClassPerson is one of a class; PlanID is empty for who is left out.
type ClassPerson struct {
	ClientID, PlanID string
	Taught           bool
}

// Taught says whether any record of it is kept.
func (c Class) Taught() bool {
	for _, p := range c.People {
		if p.Taught {
			return true
		}
	}
	return false
}

func scanClass(r row) (Class, error) {
	var c Class
	var doc string
	if err := r.Scan(&c.ID, &c.Name, &c.On, &c.At, &c.Revision, &doc, &c.Gone); err != nil {
		return c, err
	}
	if err := json.Unmarshal([]byte(doc), &c.Class); err != nil {
		return c, fmt.Errorf("class %s: %w", c.ID, err)
	}
	return c, nil
}

// Class finds one class with its people, also one that was taken away.
func (s *Store) Class(ctx context.Context, id string) (Class, error) {
	c, err := single(ctx, s, scanClass, "class", id, viewer(ctx), viewer(ctx))
	if err != nil {
		return c, err
	}
	return s.withPeople(ctx, c)
}

func (s *Store) withPeople(ctx context.Context, c Class) (Class, error) {
	people, err := list(ctx, s, func(r row) (p ClassPerson, err error) {
		var person int
		var state string
		err = r.Scan(&person, &p.ClientID, &p.PlanID, &state)
		p.Taught = state == "taught"
		return p, err
	}, "class_people", c.ID)
	c.People = people
	return c, err
}

// Classes are those from one day to another, the next first, at most 200.
func (s *Store) Classes(ctx context.Context, from, to string) ([]Class, error) {
	return s.classes(ctx, "classes", from, to)
}

// ClassesBefore are the last ones before a day, the newest first.
func (s *Store) ClassesBefore(ctx context.Context, day string) ([]Class, error) {
	return s.classes(ctx, "classes_before", day)
}

func (s *Store) classes(ctx context.Context, query string, days ...any) ([]Class, error) {
	all, err := list(ctx, s, scanClass, query, append(days, viewer(ctx), viewer(ctx))...)
	for i := range all {
		if err == nil {
			all[i], err = s.withPeople(ctx, all[i])
		}
	}
	return all, err
}

// ClassOfPlan is the class that a plan is part of; empty for none.
func (s *Store) ClassOfPlan(ctx context.Context, planID string) (string, error) {
	ids, err := list(ctx, s, func(r row) (id string, err error) { return id, r.Scan(&id) }, "class_of_plan", planID)
	if err != nil || len(ids) == 0 {
		return "", err
	}
	return ids[0], nil
}

// AddClass keeps a new class and says its id.
func (t *Tx) AddClass(c Class, now time.Time) (string, error) {
	doc, err := json.Marshal(c.Class)
	if err != nil {
		return "", err
	}
	c.ID = NewID()
	if _, err := t.exec("add_class", c.ID, c.Name, c.On, c.At, string(doc), stamp(now)); err != nil {
		return "", err
	}
	return c.ID, t.classPeople(c)
}

func (t *Tx) classPeople(c Class) error {
	if _, err := t.exec("drop_class_people", c.ID); err != nil {
		return err
	}
	for i, p := range c.People {
		if _, err := t.exec("add_class_person", c.ID, i, p.ClientID, p.PlanID); err != nil {
			return err
		}
	}
	return nil
}

// ChangeClass keeps a class as it was changed, on top of the revision that was seen;
// ErrChanged where there is a later one.
func (t *Tx) ChangeClass(c Class) error {
	doc, err := json.Marshal(c.Class)
	if err != nil {
		return err
	}
	if err := t.one("change_class", c.Name, c.On, c.At, string(doc), c.ID, c.Revision); err != nil {
		return err
	}
	return t.classPeople(c)
}

// TakeClassAway takes a class off the list, or brings it back.
func (t *Tx) TakeClassAway(id string, away bool, now time.Time) error {
	return t.one("class_away", goneAt(away, now), id, goneAt(away, now))
}
