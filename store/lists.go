package store

import (
	"context"
	"encoding/json"
	"maps"
	"math"
	"slices"
	"strings"
	"time"
	"unicode"
)

// What the lists show, a page at a time: each is one query that reads what it shows and no
// more, and goes on from where the page before ended.

// ClientLine is a client in a list.
type ClientLine struct {
	Client
	LastOn string // day of the last record, or empty
}

// like is a text as a pattern that finds it anywhere.
func like(text string) string {
	return "%" + strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(text) + "%"
}

// ClientPage lists at most so many clients with a text in their names, by name, after a
// name and id; and says how many there are in all.
func (s *Store) ClientPage(ctx context.Context, text, afterName, afterID string, most int) (page []ClientLine, all int, err error) {
	page, err = list(ctx, s, func(r row) (k ClientLine, err error) {
		var name, doc string
		if err = r.Scan(&k.ID, &k.Version, &name, &doc, &k.Created, &k.Updated, &k.Gone, &k.LastOn); err == nil {
			err = json.Unmarshal([]byte(doc), &k.Client.Client)
		}
		return k, err
	}, "client_page", afterName, afterID, like(text), viewer(ctx), viewer(ctx), most)
	if err == nil {
		all, err = single(ctx, s, scanCount, "client_count", like(text), viewer(ctx), viewer(ctx))
	}
	return page, all, err
}

func scanCount(r row) (n int, err error) { return n, r.Scan(&n) }

// NeverAsked lists at most so many clients, by name, whom nobody has asked about warning
// signs.
func (s *Store) NeverAsked(ctx context.Context, most int) ([]Client, error) {
	return list(ctx, s, scanClient, "never_asked", viewer(ctx), viewer(ctx), most)
}

// ClientsOfLate lists the clients that were changed last, at most so many.
func (s *Store) ClientsOfLate(ctx context.Context, most int) ([]Client, error) {
	return list(ctx, s, scanClient, "clients_of_late", viewer(ctx), viewer(ctx), most)
}

// PlansComing lists at most so many of a client's plans that are not taught yet, by day;
// drafts come first.
func (s *Store) PlansComing(ctx context.Context, clientID string, most int) ([]Plan, error) {
	return list(ctx, s, scanPlan, "plans_coming", clientID, most)
}

// PlansTaught lists at most so many of a client's taught plans, newest first.
func (s *Store) PlansTaught(ctx context.Context, clientID string, most int) ([]Plan, error) {
	return list(ctx, s, scanPlan, "plans_taught", clientID, most)
}

// Taught says how many of a client's plans were taught, and the day of the first; empty
// for none.
func (s *Store) Taught(ctx context.Context, clientID string) (n int, since string, err error) {
	since, err = single(ctx, s, func(r row) (since string, err error) { return since, r.Scan(&n, &since) }, "taught_count", clientID)
	return n, since, err
}

// PlanHead is a plan without its exercises.
type PlanHead struct {
	ID, ClientID string
	On, At       string
	Taught       bool
	Minutes      int
	Place        string
	Items        int
	Seconds      float64
	Created      string
}

// PlanHeadsOf lists the heads of at most so many of a client's plans, newest first.
func (s *Store) PlanHeadsOf(ctx context.Context, clientID string, most int) ([]PlanHead, error) {
	return list(ctx, s, func(r row) (h PlanHead, err error) {
		var state string
		err = r.Scan(&h.ID, &h.ClientID, &h.On, &h.At, &state, &h.Minutes, &h.Place, &h.Items, &h.Seconds, &h.Created)
		h.Taught = state == "taught"
		return h, err
	}, "plan_heads_of", clientID, most)
}

// Visit is a plan of a day with the client as stored now.
type Visit struct {
	Plan
	Now      Client
	RecordID string // empty until it was taught
}

// VisitsOn lists at most so many sessions of a local date that belong to no class of it, in
// the order of their times, and says how many plans the day has in all.
func (s *Store) VisitsOn(ctx context.Context, date string, most int) (visits []Visit, all int, err error) {
	visits, err = list(ctx, s, func(r row) (v Visit, err error) {
		var doc, was, is string
		p := &v.Plan
		if err = r.Scan(
			&p.ID,
			&p.ClientID,
			&p.On,
			&p.At,
			&p.State,
			&p.Revision,
			&doc,
			&was,
			&p.Created,
			&p.Updated,
			&p.Gone,
			&v.Now.Version,
			&is,
			&v.RecordID,
		); err != nil {
			return v, err
		}
		v.Now.ID = p.ClientID
		if err = json.Unmarshal([]byte(doc), &p.Plan); err == nil {
			if err = json.Unmarshal([]byte(was), &p.Client); err == nil {
				err = json.Unmarshal([]byte(is), &v.Now.Client)
			}
		}
		return v, err
	}, "visits_on", date, viewer(ctx), viewer(ctx), most)
	if err == nil {
		all, err = single(ctx, s, scanCount, "count_on", date, viewer(ctx), viewer(ctx))
	}
	return visits, all, err
}

// Unasked is a session that nobody has asked about yet.
type Unasked struct {
	RecordID, ClientID, Name, On string
	PainAfter                    *int
}

// ToFollowUp lists at most so many sessions from one local date to another that nobody has
// asked about and that are not younger than a moment, oldest first.
func (s *Store) ToFollowUp(ctx context.Context, from, to string, until, now time.Time, most int) ([]Unasked, error) {
	return list(ctx, s, func(r row) (u Unasked, err error) {
		var pain int
		var created string
		if err = r.Scan(&u.RecordID, &u.ClientID, &u.Name, &u.On, &pain, &created); pain >= 0 {
			u.PainAfter = &pain
		}
		return u, err
	}, "to_follow_up", from, to, stamp(until), stamp(now), viewer(ctx), viewer(ctx), most)
}

// NamedRecord is a record with whose it is.
type NamedRecord struct {
	Record
	Name string
	hit  int64 // where it stands among the words
}

// RecordPage lists at most so many records from one day on that are older than a day and
// id, newest first.
func (s *Store) RecordPage(ctx context.Context, from, before, beforeID string, most int) ([]NamedRecord, error) {
	return s.named(ctx, "record_page", from, before, beforeID, viewer(ctx), viewer(ctx), most)
}

// RecordsWith lists at most so many records of the days from one to another that have each
// of the words, as beginnings of words, among the client's name, exercises, notes and, as
// "ended_…", how an exercise ended; also by words that were corrected since, so that one may
// come twice. What was written last comes first; where the search is to go on is the second
// answer, and what to begin with is 0.
func (s *Store) RecordsWith(ctx context.Context, words []string, from, to string, after int64, most int) ([]NamedRecord, int64, error) {
	var terms []string
	for _, w := range strings.FieldsFunc(strings.Join(words, " "),
		func(r rune) bool { return !unicode.In(r, unicode.L, unicode.N, unicode.M) && r != '_' }) {
		terms = append(terms, `"`+w+`"*`)
	}
	if len(terms) == 0 {
		return nil, 0, nil
	}
	if after == 0 {
		after = math.MaxInt64
	}
	page, err := s.named(ctx, "record_hits", strings.Join(terms, " AND "), after, from, to, viewer(ctx), viewer(ctx), most)
	if n := len(page); n > 0 {
		after = page[n-1].hit
	}
	return page, after, err
}

func (s *Store) named(ctx context.Context, query string, args ...any) ([]NamedRecord, error) {
	page, err := list(ctx, s, func(r row) (n NamedRecord, err error) {
		var doc string
		if err = r.Scan(&n.ID, &n.PlanID, &n.ClientID, &n.On, &doc, &n.Created, &n.Name, &n.hit); err == nil {
			err = json.Unmarshal([]byte(doc), &n.Record.Record)
		}
		return n, err
	}, query, args...)
	if err != nil {
		return nil, err
	}
	of := map[string]*Record{}
	for i := range page {
		of[page[i].ID] = &page[i].Record
	}
	return page, s.complete(ctx, slices.Collect(maps.Values(of))...)
}
