package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"time"
)

// ErrInTheWay is returned where a copy would be written over something that is there.
var ErrInTheWay = errors.New("something is there already, and nothing is written over")

// Backup writes a consistent copy of the database of a folder to a file that is not there
// yet, while the database may be in use. The copy is looked at before it is named.
func Backup(ctx context.Context, dir, file string) error {
	path := filepath.Join(dir, ours)
	if _, err := os.Stat(path); err != nil {
		return fmt.Errorf("there is no database in %s: %w", dir, ErrNotFound)
	}
	if err := inspect(ctx, path); err != nil {
		return err
	}
	if _, err := os.Lstat(file); !errors.Is(err, fs.ErrNotExist) {
		return fmt.Errorf("%s: %w", file, ErrInTheWay)
	}
	db, err := sql.Open("sqlite", dsn(path, url.Values{"mode": {"ro"}, "_pragma": {"busy_timeout(10000)"}}))
	if err != nil {
		return fmt.Errorf("opening the database: %w", err)
	}
	defer db.Close()
	half := file + ".half"
	defer os.Remove(half) // gone when all went well
	if err := os.Remove(half); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return fmt.Errorf("making the copy: %w", err)
	}
	if err := private(half); err != nil {
		return err
	}
	if _, err := db.ExecContext(ctx, "VACUUM INTO ?", half); err != nil {
		return fmt.Errorf("copying the database: %w", err)
	}
	if err := inspect(ctx, half); err != nil {
		return err
	}
	return settle(half, file)
}

// Restore brings a copy back into a folder that has no database, bringing it up to date.
// A copy that is not fit is ErrUnusable, and the folder stays as it was.
func Restore(ctx context.Context, file, dir string) error {
	if _, err := os.Stat(file); err != nil {
		return fmt.Errorf("%s: %w", file, ErrNotFound)
	}
	if err := inspect(ctx, file); err != nil {
		return err
	}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return fmt.Errorf("making the data folder: %w", err)
	}
	path := filepath.Join(dir, ours)
	for _, beside := range []string{"", "-wal"} {
		if _, err := os.Lstat(path + beside); !errors.Is(err, fs.ErrNotExist) {
			return fmt.Errorf("%s: %w", path+beside, ErrInTheWay)
		}
	}
	half := path + ".half"
	defer os.Remove(half)
	if err := copyFile(file, half); err != nil {
		return err
	}
	if err := settle(half, path); err != nil {
		return err
	}
	s, err := Open(ctx, dir)
	if err != nil {
		return err
	}
	return s.Close()
}

// Aside puts the database of a folder aside, under a name that tells when, and says which;
// ErrNotFound where there is none.
func Aside(dir string, now time.Time) (string, error) {
	path := filepath.Join(dir, ours)
	if _, err := os.Stat(path); err != nil {
		return "", fmt.Errorf("there is no database in %s: %w", dir, ErrNotFound)
	}
	to := path + ".aside-" + now.UTC().Format("20060102T150405.000")
	for _, beside := range []string{"-wal", "-shm", ""} { // the log goes with it, and first
		if err := os.Rename(path+beside, to+beside); err != nil && !(beside != "" && errors.Is(err, fs.ErrNotExist)) {
			return "", fmt.Errorf("putting the database aside: %w", err)
		}
	}
	return to, nil
}

func copyFile(from, to string) error {
	in, err := os.Open(from)
	if err != nil {
		return fmt.Errorf("reading the copy: %w", err)
	}
	defer in.Close()
	if err := private(to); err != nil {
		return err
	}
	out, err := os.OpenFile(to, os.O_WRONLY|os.O_TRUNC, 0o600)
	if err != nil {
		return fmt.Errorf("writing the copy: %w", err)
	}
	if _, err := io.Copy(out, in); err != nil {
		return errors.Join(fmt.Errorf("writing the copy: %w", err), out.Close())
	}
	return out.Close()
}

// settle gives a finished file its name, once it is on disk.
func settle(half, file string) error {
	f, err := os.Open(half)
	if err != nil {
		return fmt.Errorf("writing the copy: %w", err)
	}
	if err := errors.Join(f.Sync(), f.Close()); err != nil {
		return fmt.Errorf("writing the copy: %w", err)
	}
	if err := os.Link(half, file); err != nil { // never over another
		if errors.Is(err, fs.ErrExist) {
			return fmt.Errorf("%s: %w", file, ErrInTheWay)
		}
		if err := os.Rename(half, file); err != nil { // a disk without links
			return fmt.Errorf("writing the copy: %w", err)
		}
	}
	return nil
}
