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
	"time"

	"github.com/pressly/goose/v3"
	_ "modernc.org/sqlite" // the driver, in Go alone
)

//go:embed migrations/*.sql
var migrations embed.FS

// ErrUnusable is returned for a file that is there and must not be written to: it is
// damaged, or of a newer version of the program, or not a database of it at all.
var ErrUnusable = errors.New("the database was left as it is")

// ours is the file of a database in its folder.
const ours = "restbend.db"

// Open opens the database in a folder, making both if they are missing, and
// brings it up to date. An existing database is looked at first and copied beside itself
// before a migration changes it; one that is not fit is ErrUnusable and left untouched.
// What is made can be read by its owner only.
func Open(ctx context.Context, dir string) (*Store, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, fmt.Errorf("making the data folder: %w", err)
	}
	path := filepath.Join(dir, ours)
	info, err := os.Stat(path)
	existed := err == nil && info.Size() > 0
	if err := private(path); err != nil {
		return nil, err
	}
	if existed {
		if err := inspect(ctx, path); err != nil {
			return nil, err
		}
	}
	write, err := open(path, "immediate")
	if err != nil {
		return nil, err
	}
	write.SetMaxOpenConns(1)
	read, err := open(path, "deferred")
	if err != nil {
		return nil, errors.Join(err, write.Close())
	}
	read.SetMaxOpenConns(4)
	watch, err := open(path, "deferred")
	if err != nil {
		return nil, errors.Join(err, read.Close(), write.Close())
	}
	watch.SetMaxOpenConns(1)
	s := &Store{queries: parseQueries(queryFile), read: read, write: write, watch: watch}
	if err := migrate(ctx, write, path, existed); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	return s, nil
}

// OpenSessions opens the database of who is signed in, beside the studio's own, so that it is
// in no copy and no archive.
func OpenSessions(ctx context.Context, dir string) (*sql.DB, error) {
	path := filepath.Join(dir, "sessions.db")
	if err := private(path); err != nil {
		return nil, err
	}
	db, err := open(path, "immediate")
	if err != nil {
		return nil, err
	}
	db.SetMaxOpenConns(1)
	if _, err := db.ExecContext(ctx,
		"CREATE TABLE IF NOT EXISTS sessions (token TEXT PRIMARY KEY, data BLOB NOT NULL, expiry REAL NOT NULL)",
	); err != nil {
		return nil, errors.Join(fmt.Errorf("opening the sessions: %w", err), db.Close())
	}
	return db, nil
}

// private makes a file, if it is missing, and lets its owner alone read it. What SQLite
// puts beside a database may be read by the same.
func private(path string) error {
	f, err := os.OpenFile(path, os.O_CREATE|os.O_RDWR, 0o600)
	if err == nil {
		err = f.Close()
	}
	for _, beside := range []string{"", "-wal", "-shm"} {
		if err == nil {
			if err = os.Chmod(path+beside, 0o600); errors.Is(err, fs.ErrNotExist) {
				err = nil
			}
		}
	}
	if err != nil {
		return fmt.Errorf("making %s: %w", filepath.Base(path), err)
	}
	return nil
}

func dsn(path string, q url.Values) string {
	return "file:" + (&url.URL{Path: path}).EscapedPath() + "?" + q.Encode()
}

// open opens the file for work. What is saved is on disk before it is acknowledged.
func open(path, lock string) (*sql.DB, error) {
	q := url.Values{
		"_txlock": {lock},
		"_pragma": {"journal_mode(WAL)", "foreign_keys(1)", "busy_timeout(5000)", "synchronous(FULL)", "secure_delete(1)"},
	}
	db, err := sql.Open("sqlite", dsn(path, q))
	if err != nil {
		return nil, fmt.Errorf("opening the database: %w", err)
	}
	return db, nil
}

// inspect looks at a database without changing it.
func inspect(ctx context.Context, path string) error {
	unfit := func(format string, args ...any) error {
		return fmt.Errorf("%s %s; %w", path, fmt.Sprintf(format, args...), ErrUnusable)
	}
	db, err := sql.Open("sqlite", dsn(path, url.Values{"mode": {"ro"}, "_pragma": {"busy_timeout(5000)"}}))
	if err != nil {
		return fmt.Errorf("opening the database: %w", err)
	}
	defer db.Close()
	var sound string
	if err := db.QueryRowContext(ctx, "PRAGMA quick_check(1)").Scan(&sound); err != nil {
		return unfit(
			"cannot be read as a database (%v): it is damaged, or none; restore --aside brings the last good copy back beside it",
			err,
		)
	}
	if sound != "ok" {
		return unfit("is damaged (%s): restore --aside brings the last good copy back beside it", sound)
	}
	var tables, known int
	if err := db.QueryRowContext(ctx,
		"SELECT count(*), coalesce(sum(name = 'goose_db_version'), 0) FROM sqlite_schema WHERE type = 'table'",
	).Scan(&tables, &known); err != nil {
		return unfit(
			"cannot be read as a database (%v): it is damaged, or none; restore --aside brings the last good copy back beside it",
			err,
		)
	}
	if tables == 0 {
		return nil
	}
	if known == 0 {
		return unfit("is a database of another program")
	}
	var has int64
	if err := db.QueryRowContext(ctx, "SELECT max(version_id) FROM goose_db_version WHERE is_applied").Scan(&has); err != nil {
		return unfit("does not say its version (%v)", err)
	}
	if knows := SchemaKnown(); has > knows {
		return unfit("was made by a newer Rest Bend (its version is %d, this program knows up to %d): start that one", has, knows)
	}
	return nil
}

// SchemaKnown is the version that the migrations lead to.
func SchemaKnown() int64 {
	var out int64
	files, _ := fs.Glob(migrations, "migrations/*.sql") // the pattern is well formed
	for _, f := range files {
		if v, err := goose.NumericComponent(f); err == nil {
			out = max(out, v)
		}
	}
	return out
}

func migrate(ctx context.Context, db *sql.DB, path string, existed bool) error {
	dir, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectSQLite3, db, dir)
	if err != nil {
		return fmt.Errorf("reading the migrations: %w", err)
	}
	pending, err := provider.HasPending(ctx)
	if err != nil {
		return fmt.Errorf("looking at the database: %w", err)
	}
	if pending && existed {
		half := path + ".before.half"
		defer os.Remove(half)
		if err := os.Remove(half); err != nil && !errors.Is(err, fs.ErrNotExist) { // of a start that was cut short
			return fmt.Errorf("copying the database before changing it: %w", err)
		}
		if err := private(half); err != nil {
			return err
		}
		if _, err := db.ExecContext(ctx, "VACUUM INTO ?", half); err != nil {
			return fmt.Errorf("copying the database before changing it: %w", err)
		}
		if err := os.Rename(half, path+".before-"+time.Now().UTC().Format("20060102T150405.000")); err != nil {
			return fmt.Errorf("copying the database before changing it: %w", err)
		}
	}
	if _, err := provider.Up(ctx); err != nil {
		return fmt.Errorf("bringing the database up to date: %w", err)
	}
	return nil
}
