package store

import (
	"context"
	"time"
)

// Person is somebody who works in the studio. Password, Once and Short never leave the
// program.
type Person struct {
	ID, Name, Login, Role string
	Password              string // hash
	Once                  string // secret of the one-time codes; empty for none
	Short                 string // hash of the short code; empty for none
	Epoch                 int    // sessions of another do not hold
	Gone                  string
	Clients               int // whom they work with
}

func scanPerson(r row) (p Person, err error) {
	return p, r.Scan(&p.ID, &p.Name, &p.Login, &p.Role, &p.Password, &p.Once, &p.Short, &p.Epoch, &p.Gone, &p.Clients)
}

// People lists everybody, also those who left, by name.
func (s *Store) People(ctx context.Context) ([]Person, error) {
	return list(ctx, s, scanPerson, "people")
}

// Person finds one; ErrNotFound where there is none.
func (s *Store) Person(ctx context.Context, id string) (Person, error) {
	return single(ctx, s, scanPerson, "person", id)
}

// PersonNamed finds a person by sign-in name; ErrNotFound where there is none.
func (s *Store) PersonNamed(ctx context.Context, login string) (Person, error) {
	return single(ctx, s, scanPerson, "person_named", login)
}

// Owners says how many owners there are who have not left.
func (s *Store) Owners(ctx context.Context) (int, error) {
	return single(ctx, s, scanCount, "owners")
}

// AddPerson stores a new person and returns the id.
func (t *Tx) AddPerson(p Person, now time.Time) (string, error) {
	id := NewID()
	_, err := t.exec("add_person", id, p.Name, p.Login, p.Role, p.Password, stamp(now))
	return id, err
}

// ChangePerson stores a changed person; sessions from before hold no longer where
// the epoch is another. ErrChanged where there is none.
func (t *Tx) ChangePerson(p Person) error {
	return t.one("change_person", p.Name, p.Login, p.Role, p.Password, p.Once, p.Short, p.Epoch, p.Gone, p.ID)
}

// WorkWith assigns a client to a person, or takes the client away.
func (t *Tx) WorkWith(personID, clientID string, does bool) error {
	query := "works_not_with"
	if does {
		query = "works_with"
	}
	_, err := t.exec(query, clientID, personID)
	return err
}

// WorkingWith lists the ids of the people who work with a client.
func (s *Store) WorkingWith(ctx context.Context, clientID string) ([]string, error) {
	return list(ctx, s, scanText, "working_with", clientID)
}

func scanText(r row) (text string, err error) { return text, r.Scan(&text) }

// About are the clients that something of the database is about, each once; ErrNotFound
// where it is not there, or is about somebody whom the actor does not see. Kinds are clients,
// plans, records, homes, classes and intakes; an intake that is not there yet is about nobody.
func (s *Store) About(ctx context.Context, kind, id string) ([]string, error) {
	type seen struct {
		client string
		may    bool
	}
	who := viewer(ctx)
	all, err := list(ctx, s, func(r row) (x seen, err error) { return x, r.Scan(&x.client, &x.may) }, "about_"+kind, who, who, id)
	if err != nil {
		return nil, err
	}
	if len(all) == 0 && kind != "intakes" { // one of those is kept for the first time
		return nil, ErrNotFound
	}
	var out []string
	for _, x := range all {
		if !x.may {
			return nil, ErrNotFound
		}
		if x.client != "" {
			out = append(out, x.client)
		}
	}
	return out, nil
}
