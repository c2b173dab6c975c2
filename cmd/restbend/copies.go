package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/gofrs/flock"

	"restbend/backup"
	"restbend/formats"
	"restbend/store"
)

// dataFolder is the named folder, or the user's own.
func dataFolder(named string) (string, error) {
	if named != "" {
		return named, nil
	}
	home, err := os.UserConfigDir()
	if err != nil {
		return "", fmt.Errorf("no configuration folder is known; name one with --data: %w", err)
	}
	return filepath.Join(home, "restbend"), nil
}

type backupCommand struct {
	File string `arg:"" help:"Where the copy goes; a file that is not there yet. With a key its name ends in .age."`
	Data string `help:"Folder of the database." placeholder:"DIR"`
	Key  string `help:"Key to encrypt it with; see new-key." placeholder:"FILE"`
}

func (c backupCommand) Run(s streams) error {
	dir, err := dataFolder(c.Data)
	if err != nil {
		return err
	}
	key, err := readKey(c.Key)
	if err != nil {
		return err
	}
	if sealed := strings.HasSuffix(c.File, ".age"); sealed != (key != nil) {
		return &formats.Invalid{Path: "file", Want: "a copy whose name ends in .age is encrypted with --key, and no other"}
	}
	ctx, plain := context.Background(), c.File
	if key != nil {
		work, err := os.MkdirTemp(filepath.Dir(c.File), ".half-")
		if err != nil {
			return fmt.Errorf("making the copy: %w", err)
		}
		defer os.RemoveAll(work)
		plain = filepath.Join(work, "copy.db")
	}
	if err := plainly("file", store.Backup(ctx, dir, plain)); err != nil {
		return err
	}
	if key != nil {
		if err := plainly("file", backup.Seal(plain, c.File, key.Recipient())); err != nil {
			return err
		}
	}
	if err := backup.Proved(ctx, c.File, key); err != nil {
		return err
	}
	fmt.Fprintf(s.out, "Copied to %s, and brought back from it to be sure.\n", c.File)
	return nil
}

type restoreCommand struct {
	File     string    `arg:"" optional:"" help:"A copy made by backup or by serve."`
	Data     string    `required:"" help:"Folder to bring it back into; it must not hold a database." placeholder:"DIR"`
	Key      string    `help:"Key of an encrypted copy." placeholder:"FILE"`
	Followed string    `help:"Folder or s3://BUCKET/PATH that serve --follow wrote to, in place of a copy." placeholder:"TARGET"`
	At       time.Time `help:"As it stood at this moment, such as 2026-11-25T14:00:00Z, of what was followed." placeholder:"TIME"`
	Aside    bool      `help:"Put the database that is there aside first, such as a damaged one; nothing of it is changed."`
}

func (c restoreCommand) Run(s streams) error {
	key, err := readKey(c.Key)
	if err != nil {
		return err
	}
	if (c.File == "") == (c.Followed == "") {
		return &formats.Invalid{Path: "file", Want: "expected a copy, or --followed and where to"}
	}
	restore := func(dir string) error {
		if c.Followed != "" {
			return plainly("--followed", backup.RestoreFollowed(context.Background(), c.Followed, c.At, dir))
		}
		return plainly("file", backup.Restore(context.Background(), c.File, dir, key))
	}
	if c.Aside {
		proof, err := os.MkdirTemp("", "restbend-proof-")
		if err != nil {
			return fmt.Errorf("proving the copy: %w", err)
		}
		defer os.RemoveAll(proof)
		if err := restore(filepath.Join(proof, "data")); err != nil { // before anything is moved
			return err
		}
		lock := flock.New(filepath.Join(c.Data, "restbend.lock"))
		if got, err := lock.TryLock(); err != nil || !got {
			return &formats.Invalid{Path: "--data", Want: "is being served; stop that first"}
		}
		defer lock.Unlock()
		to, err := store.Aside(c.Data, time.Now())
		if err != nil {
			return plainly("--data", err)
		}
		fmt.Fprintf(s.out, "What was there is now %s.\n", to)
	}
	if err := restore(c.Data); err != nil {
		return err
	}
	fmt.Fprintf(s.out, "Brought back into %s.\n", c.Data)
	return nil
}

type newKeyCommand struct {
	File string `arg:"" help:"Where the key goes; a file that is not there yet."`
}

func (c newKeyCommand) Run(s streams) error {
	who, err := backup.NewKey(c.File)
	if err := plainly("file", err); err != nil {
		return err
	}
	fmt.Fprintf(
		s.out,
		"The key is in %s; copies are encrypted for %s.\nWithout it they cannot be read: keep it apart from them, and more than once.\n",
		c.File,
		who,
	)
	return nil
}

// plainly turns what a user can mend into a refusal.
func plainly(path string, err error) error {
	for _, known := range []error{store.ErrUnusable, store.ErrInTheWay, store.ErrNotFound} {
		if errors.Is(err, known) {
			return &formats.Invalid{Path: path, Want: err.Error()}
		}
	}
	return err
}
