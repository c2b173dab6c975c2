package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"

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
	File string `arg:"" help:"Where the copy goes; a file that is not there yet."`
	Data string `help:"Folder of the database." placeholder:"DIR"`
}

func (c backupCommand) Run(s streams) error {
	dir, err := dataFolder(c.Data)
	if err != nil {
		return err
	}
	if err := plainly("file", store.Backup(context.Background(), dir, c.File)); err != nil {
		return err
	}
	fmt.Fprintf(s.out, "Copied to %s.\n", c.File)
	return nil
}

type restoreCommand struct {
	File string `arg:"" help:"A copy made by backup."`
	Data string `required:"" help:"Folder to bring it back into; it must not hold a database." placeholder:"DIR"`
}

func (c restoreCommand) Run(s streams) error {
	if err := plainly("file", store.Restore(context.Background(), c.File, c.Data)); err != nil {
		return err
	}
	fmt.Fprintf(s.out, "Brought back into %s.\n", c.Data)
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
