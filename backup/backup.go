// Package backup keeps copies of a studio's database: made while it is in use, opened and
// counted before they are believed, encrypted where there is a key, thinned as they grow old.
package backup

import (
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"

	"filippo.io/age"

	"restbend/store"
)

// Keeper makes and thins the copies of one studio.
type Keeper struct {
	Data  string              // folder of the database
	Dir   string              // folder of the copies
	Every time.Duration       // how often one is made
	Days  int                 // how long the oldest is kept
	Key   *age.X25519Identity // nil: they are not encrypted
	Now   func() time.Time

	mu   sync.Mutex
	last error // of the last try
}

// Copy is one copy in the folder.
type Copy struct {
	Name      string
	At        time.Time
	Bytes     int64
	Encrypted bool
}

const (
	before = "restbend-"
	stamp  = "20060102T150405Z"
	plain  = ".db"
	sealed = ".db.age"
)

// List lists the copies, the newest first. A folder that is not there has none.
func (k *Keeper) List() ([]Copy, error) {
	entries, err := os.ReadDir(k.Dir)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	if err != nil {
		return nil, fmt.Errorf("reading the folder of copies: %w", err)
	}
	var out []Copy
	for _, e := range entries {
		rest, ok := strings.CutPrefix(e.Name(), before)
		if !ok {
			continue
		}
		when, end, ok := strings.Cut(rest, ".")
		at, err := time.Parse(stamp, when)
		info, err2 := e.Info()
		if end = "." + end; !ok || err != nil || err2 != nil || end != plain && end != sealed {
			continue
		}
		out = append(out, Copy{e.Name(), at, info.Size(), end == sealed})
	}
	slices.SortFunc(out, func(a, b Copy) int { return b.At.Compare(a.At) })
	return out, nil
}

// Last is why the last try failed; nil where it did not.
func (k *Keeper) Last() error {
	k.mu.Lock()
	defer k.mu.Unlock()
	return k.last
}

// Make makes a copy, shows that it can be brought back, and thins those that are there.
func (k *Keeper) Make(ctx context.Context) (Copy, error) {
	k.mu.Lock()
	defer k.mu.Unlock()
	c, err := k.make(ctx)
	k.last = err
	return c, err
}

func (k *Keeper) make(ctx context.Context) (Copy, error) {
	if err := os.MkdirAll(k.Dir, 0o700); err != nil {
		return Copy{}, fmt.Errorf("making the folder of copies: %w", err)
	}
	work, err := os.MkdirTemp(k.Dir, ".half-")
	if err != nil {
		return Copy{}, fmt.Errorf("making a copy: %w", err)
	}
	defer os.RemoveAll(work)
	c := Copy{At: k.Now().UTC().Truncate(time.Second), Encrypted: k.Key != nil}
	c.Name = before + c.At.Format(stamp) + plain
	half := filepath.Join(work, c.Name)
	if err := store.Backup(ctx, k.Data, half); err != nil {
		return Copy{}, err
	}
	if k.Key != nil {
		open := half
		c.Name = strings.TrimSuffix(c.Name, plain) + sealed
		half = filepath.Join(work, c.Name)
		if err := Seal(open, half, k.Key.Recipient()); err != nil {
			return Copy{}, err
		}
	}
	if err := Proved(ctx, half, k.Key); err != nil {
		return Copy{}, err
	}
	info, err := os.Stat(half)
	if err != nil {
		return Copy{}, err
	}
	c.Bytes = info.Size()
	if err := os.Rename(half, filepath.Join(k.Dir, c.Name)); err != nil {
		return Copy{}, fmt.Errorf("keeping the copy: %w", err)
	}
	return c, k.thin()
}

// Proved brings a copy back into a folder of its own and opens it; it fails where that does
// not work.
func Proved(ctx context.Context, file string, key *age.X25519Identity) error {
	dir, err := os.MkdirTemp(filepath.Dir(file), ".proof-")
	if err != nil {
		return fmt.Errorf("proving the copy: %w", err)
	}
	defer os.RemoveAll(dir)
	if err := Restore(ctx, file, filepath.Join(dir, "data"), key); err != nil {
		return fmt.Errorf("the copy cannot be brought back: %w", err)
	}
	return nil
}

// Restore brings a copy back into a folder without a database; a sealed one needs its key.
func Restore(ctx context.Context, file, dir string, key *age.X25519Identity) error {
	if !strings.HasSuffix(file, ".age") {
		return store.Restore(ctx, file, dir)
	}
	if key == nil {
		return fmt.Errorf("%s is encrypted and needs its key: %w", filepath.Base(file), store.ErrUnusable)
	}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return fmt.Errorf("making the data folder: %w", err)
	}
	open, err := os.CreateTemp(dir, ".open-*.db")
	if err != nil {
		return fmt.Errorf("making the data folder: %w", err)
	}
	defer os.Remove(open.Name())
	if err := errors.Join(unseal(file, open, key), open.Close()); err != nil {
		return err
	}
	return store.Restore(ctx, open.Name(), dir)
}

// Seal encrypts a file into another that is not there yet.
func Seal(from, to string, for_ age.Recipient) error {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := os.OpenFile(to, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		if errors.Is(err, fs.ErrExist) {
			return fmt.Errorf("%s: %w", to, store.ErrInTheWay)
		}
		return fmt.Errorf("encrypting the copy: %w", err)
	}
	w, err := age.Encrypt(out, for_)
	if err == nil {
		_, err = io.Copy(w, in)
		err = errors.Join(err, w.Close())
	}
	if err = errors.Join(err, out.Sync(), out.Close()); err != nil {
		os.Remove(to) // nothing half written
		return fmt.Errorf("encrypting the copy: %w", err)
	}
	return nil
}

func unseal(file string, to io.Writer, key *age.X25519Identity) error {
	in, err := os.Open(file)
	if err != nil {
		return fmt.Errorf("%s: %w", file, store.ErrNotFound)
	}
	defer in.Close()
	r, err := age.Decrypt(in, key)
	if err == nil {
		_, err = io.Copy(to, r)
	}
	if err != nil {
		return fmt.Errorf("%s cannot be decrypted with this key (%v): %w", filepath.Base(file), err, store.ErrUnusable)
	}
	return nil
}

// NewKey writes a new key into a file that is not there yet and says what is encrypted for
// it.
func NewKey(file string) (string, error) {
	key, err := age.GenerateX25519Identity()
	if err != nil {
		return "", err
	}
	out, err := os.OpenFile(file, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if errors.Is(err, fs.ErrExist) {
		return "", fmt.Errorf("%s: %w", file, store.ErrInTheWay)
	}
	if err != nil {
		return "", err
	}
	_, err = fmt.Fprintf(out, "# The key of the copies. Without it they cannot be read: keep it apart from them.\n%s\n", key)
	return key.Recipient().String(), errors.Join(err, out.Close())
}

// ReadKey reads a key from its file.
func ReadKey(file string) (*age.X25519Identity, error) {
	b, err := os.ReadFile(file)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", file, store.ErrNotFound)
	}
	for line := range strings.Lines(string(b)) {
		if line = strings.TrimSpace(line); line == "" || strings.HasPrefix(line, "#") {
			continue
		}
		if key, err := age.ParseX25519Identity(line); err == nil {
			return key, nil
		}
		break
	}
	return nil, fmt.Errorf("%s holds no key; expected a line that begins with AGE-SECRET-KEY-: %w", file, store.ErrUnusable)
}

// thin takes away what is older than the oldest is to be, and of what is older than two days
// all but the last of each day, and of what is older than two weeks all but the last of each
// week. The newest stays in any case.
func (k *Keeper) thin() error {
	all, err := k.List()
	if err != nil {
		return err
	}
	now := k.Now()
	had := map[string]bool{}
	var failed error
	for i, c := range all {
		age := now.Sub(c.At)
		of := ""
		switch {
		case age > 14*24*time.Hour:
			year, week := c.At.ISOWeek()
			of = fmt.Sprint("week ", year, week)
		case age > 2*24*time.Hour:
			of = c.At.Format("day 2006-01-02")
		}
		stays := i == 0 || age <= time.Duration(k.Days)*24*time.Hour && (of == "" || !had[of])
		had[of] = true
		if !stays {
			failed = errors.Join(failed, os.Remove(filepath.Join(k.Dir, c.Name)))
		}
	}
	return failed
}

// Due says when the next copy is to be made.
func (k *Keeper) Due() (time.Time, error) {
	all, err := k.List()
	if err != nil || len(all) == 0 {
		return k.Now(), err
	}
	if all[0].At.After(k.Now()) { // the clock has gone back
		return k.Now(), nil
	}
	return all[0].At.Add(k.Every), nil
}

// Run makes copies as they fall due, until the context ends.
func (k *Keeper) Run(ctx context.Context, log *slog.Logger) {
	for {
		due, err := k.Due()
		wait := due.Sub(k.Now())
		if err == nil && wait <= 0 {
			if _, err = k.Make(ctx); err == nil {
				continue
			}
		}
		if err != nil {
			log.Error("copy", "cause", err)
			wait = 10 * time.Minute
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(min(wait, time.Hour)):
		}
	}
}
