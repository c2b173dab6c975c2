package store

import (
	"context"
	"time"
)

// What clients may ask for about their data.

// Consent is what a client agreed to, or took back.
type Consent struct {
	What  string
	Given bool
	On    string // local day
	Note  string
}

// Consents lists what a client agreed to and took back, the newest first.
func (s *Store) Consents(ctx context.Context, clientID string) ([]Consent, error) {
	return list(ctx,
		s,
		func(r row) (c Consent, err error) { return c, r.Scan(&c.What, &c.Given, &c.On, &c.Note) },
		"consents_of",
		clientID,
	)
}

// AddConsent keeps what a client agreed to, or took back.
func (t *Tx) AddConsent(clientID string, c Consent, now time.Time) error {
	_, err := t.exec("add_consent", NewID(), clientID, c.What, c.Given, c.On, c.Note, stamp(now))
	return err
}

// Restricted is since when a client's data is kept and not used; empty where it is.
func (s *Store) Restricted(ctx context.Context, clientID string) (string, error) {
	return single(ctx, s, scanText, "restricted", clientID)
}

// Restrict keeps a client's data unused from a moment on, or lifts that.
func (t *Tx) Restrict(clientID string, on bool, now time.Time) error {
	return t.one("restrict", goneAt(on, now), clientID)
}

// Erasure says that somebody was erased, and nothing about who it was.
type Erasure struct{ ClientID, At, By, Why string }

// Erasures lists those that were erased last, at most so many.
func (s *Store) Erasures(ctx context.Context, most int) ([]Erasure, error) {
	return list(ctx, s, func(r row) (e Erasure, err error) { return e, r.Scan(&e.ClientID, &e.At, &e.By, &e.Why) }, "erasures", most)
}

// Erase takes everything of a client out of the database: file, plans, records, programmes,
// diaries, their part in classes, and the search index. What stays is the audit trail, which
// names nobody, and the fact of the erasure.
func (t *Tx) Erase(clientID, by, why string, now time.Time) error {
	for _, query := range []string{"erase_words", "erase_classes", "erase_intakes"} {
		if _, err := t.exec(query, clientID); err != nil {
			return err
		}
	}
	if err := t.one("erase_client", clientID); err != nil {
		return err
	}
	_, err := t.exec("keep_erasure", clientID, stamp(now), by, why)
	return err
}
