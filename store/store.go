// Package store keeps clients, plans and records in one SQLite file. Writes go
// through one connection and one immediate transaction each, at the level of
// what the user did.
package store

import (
	"context"
	"database/sql"
	_ "embed"
	"errors"
	"fmt"
	"strconv"
	"strings"
	"time"

	"github.com/google/uuid"
)

//go:embed queries.sql
var queryFile string

// ErrNotFound is returned for an id that is not in the database.
var ErrNotFound = errors.New("not found")

// ErrChanged is returned when a row was changed in between by someone else.
var ErrChanged = errors.New("changed in between")

// Store is an open database, or one transaction of it that is seen as a whole.
type Store struct {
	read    reader
	write   *sql.DB
	watch   *sql.DB // one connection that only sees that others have changed something
	whole   *sql.Tx // of Within; nil outside
	queries map[string]string
}

type reader interface {
	QueryContext(context.Context, string, ...any) (*sql.Rows, error)
	QueryRowContext(context.Context, string, ...any) *sql.Row
}

// Close closes the database.
func (s *Store) Close() error {
	if db, ok := s.read.(*sql.DB); ok {
		return errors.Join(db.Close(), s.watch.Close(), s.write.Close())
	}
	return nil // a transaction is not closed by who works in it
}

// Version changes whenever anything in the database does, by whomever.
func (s *Store) Version(ctx context.Context) (string, error) {
	var n int64
	if err := s.watch.QueryRowContext(ctx, "PRAGMA data_version").Scan(&n); err != nil {
		return "", fmt.Errorf("looking for changes: %w", err)
	}
	return strconv.FormatInt(n, 10), nil
}

// Ping says whether the database answers and can be written to.
func (s *Store) Ping(ctx context.Context, now time.Time) error {
	return s.Change(ctx, func(t *Tx) error { return t.SetSetting("answered_at", stamp(now)) })
}

// parseQueries reads the named queries: each begins with a line
// "-- name: NAME".
func parseQueries(text string) map[string]string {
	out := map[string]string{}
	for _, part := range strings.Split(text, "-- name: ")[1:] {
		name, q, _ := strings.Cut(part, "\n")
		out[strings.TrimSpace(name)] = strings.TrimSpace(q)
	}
	return out
}

func (s *Store) query(name string) string {
	q, ok := s.queries[name]
	if !ok {
		panic("store: there is no query " + name)
	}
	return q
}

// Tx is one change: all of it happens or nothing.
type Tx struct {
	ctx context.Context
	s   *Store
	tx  *sql.Tx
}

// Change runs do in one transaction, once for the key of its context.
func (s *Store) Change(ctx context.Context, do func(*Tx) error) error {
	_, err := s.Make(ctx, func(t *Tx) (string, error) { return "", do(t) })
	return err
}

// Make is Change for what makes something, whose id it gives back.
func (s *Store) Make(ctx context.Context, do func(*Tx) (string, error)) (made string, err error) {
	err = s.begin(ctx, func(tx *sql.Tx) error {
		made, err = (&Tx{context.WithoutCancel(ctx), s, tx}).once(do)
		return err
	})
	return made, err
}

// Prune lets go of what only served work that is long done: the steps of plans that were
// taught before a moment, whose last state stays, and the keys of forms sent before it. It
// says how many rows went.
func (s *Store) Prune(ctx context.Context, before time.Time) (n int64, err error) {
	err = s.Change(ctx, func(t *Tx) error {
		for _, query := range []string{"thin_revisions", "thin_keys"} {
			gone, err := t.exec(query, stamp(before))
			if err != nil {
				return err
			}
			n += gone
		}
		return nil
	})
	return n, err
}

// Checkpoint puts all that was written from the log beside the database into it, so that what
// was erased is not in the log still.
func (s *Store) Checkpoint(ctx context.Context) error {
	if s.whole != nil {
		return nil // when the whole is done
	}
	if _, err := s.write.ExecContext(ctx, "PRAGMA wal_checkpoint(TRUNCATE)"); err != nil {
		return fmt.Errorf("settling the database: %w", err)
	}
	return nil
}

// Within runs do in one transaction, in which it reads and changes as it likes.
func (s *Store) Within(ctx context.Context, do func(*Store) error) error {
	return s.begin(ctx, func(tx *sql.Tx) error { return do(&Store{read: tx, whole: tx, queries: s.queries}) })
}

func (s *Store) begin(ctx context.Context, do func(*sql.Tx) error) error {
	if s.whole != nil {
		return do(s.whole)
	}
	// What was asked for is done, also when whoever asked has left: a page that is closed
	// sends its last words and does not wait.
	tx, err := s.write.BeginTx(context.WithoutCancel(ctx), nil)
	if err != nil {
		return fmt.Errorf("beginning a change: %w", err)
	}
	defer tx.Rollback() // does nothing after the commit; after a panic it frees the one connection
	changes := func() (n int64, err error) {
		return n, tx.QueryRowContext(context.WithoutCancel(ctx), "SELECT total_changes()").Scan(&n)
	}
	before, err := changes()
	if err == nil {
		err = do(tx)
	}
	if err != nil {
		return err
	}
	if a := ActorOf(ctx); a.Doing != "" {
		if after, err := changes(); err != nil {
			return fmt.Errorf("beginning a change: %w", err)
		} else if after != before {
			if err := (&Tx{context.WithoutCancel(ctx), s, tx}).note(a); err != nil {
				return err
			}
		}
	}
	if err := tx.Commit(); err != nil {
		return fmt.Errorf("saving: %w", err)
	}
	return nil
}

func (t *Tx) exec(name string, args ...any) (int64, error) {
	r, err := t.tx.ExecContext(t.ctx, t.s.query(name), args...)
	if err != nil {
		return 0, fmt.Errorf("%s: %w", name, err)
	}
	return r.RowsAffected()
}

// one runs a change that must touch exactly one row; none is ErrChanged.
func (t *Tx) one(name string, args ...any) error {
	n, err := t.exec(name, args...)
	if err == nil && n != 1 {
		return ErrChanged
	}
	return err
}

// NewID makes a text id that sorts by time (UUIDv7).
func NewID() string { return uuid.Must(uuid.NewV7()).String() }

func stamp(t time.Time) string { return t.UTC().Format(time.RFC3339Nano) }

type row interface{ Scan(...any) error }

func list[T any](ctx context.Context, s *Store, scan func(row) (T, error), name string, args ...any) ([]T, error) {
	rows, err := s.read.QueryContext(ctx, s.query(name), args...)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", name, err)
	}
	defer rows.Close()
	var out []T
	for rows.Next() {
		v, err := scan(rows)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", name, err)
		}
		out = append(out, v)
	}
	return out, rows.Err()
}

func single[T any](ctx context.Context, s *Store, scan func(row) (T, error), name string, args ...any) (T, error) {
	v, err := scan(s.read.QueryRowContext(ctx, s.query(name), args...))
	if errors.Is(err, sql.ErrNoRows) {
		return v, ErrNotFound
	}
	if err != nil {
		return v, fmt.Errorf("%s: %w", name, err)
	}
	return v, nil
}
