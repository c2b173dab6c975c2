package store

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"restbend/core/home"
)

// Home is a client's programme for home as it stands.
type Home struct {
	ID, ClientID string
	Revision     int
	On           string // the day it was made
	Gone         string // when it was taken away
	What         string // the change that made it so
	Programme    home.Programme
}

func scanHome(r row) (Home, error) {
	var h Home
	var doc string
	if err := r.Scan(&h.ID, &h.ClientID, &h.Revision, &h.On, &h.Gone, &doc, &h.What); err != nil {
		return h, err
	}
	if err := json.Unmarshal([]byte(doc), &h.Programme); err != nil {
		return h, fmt.Errorf("programme %s: %w", h.ID, err)
	}
	return h, nil
}

// HomesOf lists a client's programmes, the newest first.
func (s *Store) HomesOf(ctx context.Context, clientID string) ([]Home, error) {
	return list(ctx, s, scanHome, "homes_of", clientID)
}

// Home finds one programme, also one that was taken away.
func (s *Store) Home(ctx context.Context, id string) (Home, error) {
	return single(ctx, s, scanHome, "home", id, viewer(ctx), viewer(ctx))
}

// AddHome keeps a new programme and says its id.
func (t *Tx) AddHome(clientID, on string, p home.Programme, now time.Time) (string, error) {
	id := NewID()
	if _, err := t.exec("add_home", id, clientID, on, stamp(now)); err != nil {
		return "", err
	}
	return id, t.homeRevision(id, 1, p, "", now)
}

func (t *Tx) homeRevision(id string, revision int, p home.Programme, what string, now time.Time) error {
	doc, err := json.Marshal(p)
	if err != nil {
		return err
	}
	_, err = t.exec("add_home_revision", id, revision, string(doc), what, stamp(now))
	return err
}

// ChangeHome keeps a programme as it was changed, on top of the revision that was seen;
// ErrChanged where there is a later one.
func (t *Tx) ChangeHome(id string, seen int, p home.Programme, what string, now time.Time) error {
	if err := t.one("move_home", seen+1, id, seen); err != nil {
		return err
	}
	if _, err := t.exec("drop_home_revisions", id, seen); err != nil {
		return err
	}
	return t.homeRevision(id, seen+1, p, what, now)
}

// UndoHome goes one revision back.
func (t *Tx) UndoHome(id string, seen int) error {
	if seen < 2 {
		return ErrChanged
	}
	return t.one("move_home", seen-1, id, seen)
}

// TakeHomeAway takes a programme off the list, or brings it back with an empty day.
func (t *Tx) TakeHomeAway(id, gone string) error { return t.one("home_away", gone, id, gone) }

// Diary is what came back from home, as it was sent.
type Diary struct {
	ID, HomeID, KeptAt string
	Diary              home.Diary
}

// AddDiary keeps a diary once: the same one again changes nothing.
func (t *Tx) AddDiary(homeID string, d home.Diary, now time.Time) error {
	doc, err := json.Marshal(d)
	if err != nil {
		return err
	}
	_, err = t.exec("add_diary", d.ID(), homeID, string(doc), stamp(now))
	return err
}

// DiariesOf are the diaries of a programme in the order they came.
func (s *Store) DiariesOf(ctx context.Context, homeID string) ([]Diary, error) {
	return list(ctx, s, func(r row) (Diary, error) {
		var d Diary
		var doc string
		if err := r.Scan(&d.ID, &d.HomeID, &doc, &d.KeptAt); err != nil {
			return d, err
		}
		return d, json.Unmarshal([]byte(doc), &d.Diary)
	}, "diaries_of", homeID)
}
