// Package store keeps clients, plans and records in one SQLite file. Writes go
// through one connection and one immediate transaction each, at the level of
// what the user did.
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/pressly/goose/v3"
	_ "modernc.org/sqlite" // the driver, in Go alone
)

//go:embed migrations/*.sql
var migrations embed.FS

//go:embed queries.sql
var queryFile string

// ErrNotFound is returned for an id that is not in the database.
var ErrNotFound = errors.New("not found")

// ErrChanged is returned when a row was changed in between by someone else.
var ErrChanged = errors.New("changed in between")

// Store is an open database.
type Store struct {
	read    *sql.DB
	write   *sql.DB
	queries map[string]string
}

// Open opens the database in a folder, making both if they are missing, and
// brings it up to date. An existing database is copied beside itself before a
// migration changes it.
func Open(ctx context.Context, dir string) (*Store, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, fmt.Errorf("making the data folder: %w", err)
	}
	path := filepath.Join(dir, "restbend.db")
	_, statErr := os.Stat(path)
	s := &Store{queries: parseQueries(queryFile)}
	var err error
	if s.write, err = open(path, "immediate"); err != nil {
		return nil, err
	}
	s.write.SetMaxOpenConns(1)
	if s.read, err = open(path, "deferred"); err != nil {
		return nil, err
	}
	s.read.SetMaxOpenConns(4)
	if err := s.migrate(ctx, path, statErr == nil); err != nil {
		s.Close()
		return nil, err
	}
	return s, nil
}

func open(path, lock string) (*sql.DB, error) {
	q := url.Values{"_txlock": {lock}, "_pragma": {"journal_mode(WAL)", "foreign_keys(1)", "busy_timeout(5000)", "synchronous(NORMAL)"}}
	db, err := sql.Open("sqlite", "file:"+(&url.URL{Path: path}).EscapedPath()+"?"+q.Encode())
	if err != nil {
		return nil, fmt.Errorf("opening the database: %w", err)
	}
	return db, nil
}

func (s *Store) migrate(ctx context.Context, path string, existed bool) error {
	dir, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectSQLite3, s.write, dir)
	if err != nil {
		return fmt.Errorf("reading the migrations: %w", err)
	}
	pending, err := provider.HasPending(ctx)
	if err != nil {
		return fmt.Errorf("looking at the database: %w", err)
	}
	if pending && existed {
		copyTo := path + ".before-" + time.Now().UTC().Format("20060102T150405")
		if _, err := s.write.ExecContext(ctx, "VACUUM INTO ?", copyTo); err != nil {
			return fmt.Errorf("copying the database before changing it: %w", err)
		}
	}
	if _, err := provider.Up(ctx); err != nil {
		return fmt.Errorf("bringing the database up to date: %w", err)
	}
	return nil
}

// Close closes the database.
func (s *Store) Close() error { return errors.Join(s.read.Close(), s.write.Close()) }

// Ping says whether the database answers.
func (s *Store) Ping(ctx context.Context) error {
	var one int
	return s.read.QueryRowContext(ctx, "SELECT 1").Scan(&one)
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

// Change runs do in one transaction.
func (s *Store) Change(ctx context.Context, do func(*Tx) error) error {
	tx, err := s.write.BeginTx(ctx, nil)
	if err != nil {
		return fmt.Errorf("beginning a change: %w", err)
	}
	if err := do(&Tx{ctx, s, tx}); err != nil {
		return errors.Join(err, tx.Rollback())
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
