package backup

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/benbjohnson/litestream"
	_ "github.com/benbjohnson/litestream/file" // registers file://

	"restbend/store"
)

// Follower writes every change to another place within a second or so of its being made: a
// folder, or a bucket that speaks as S3 does.
type Follower struct {
	Target string
	db     *litestream.DB
	all    *litestream.Store
}

// buckets says whether this build writes to object stores; the client of one is many packages,
// so that only builds with the tag s3 have it, those of scripts/release among them.
var buckets = false

// target is a folder, or an address such as s3://bucket/path?endpoint=host&region=r, as its
// client.
func target(where string) (litestream.ReplicaClient, error) {
	address := where
	if !strings.Contains(where, "://") {
		at, err := filepath.Abs(where)
		if err != nil {
			return nil, err
		}
		address = "file://" + filepath.ToSlash(at)
	}
	if strings.HasPrefix(address, "s3://") && !buckets {
		return nil, fmt.Errorf(
			"%s: this build follows to folders only; use a released program, or build with -tags s3: %w",
			where,
			store.ErrUnusable,
		)
	}
	client, err := litestream.NewReplicaClientFromURL(address)
	if err != nil {
		return nil, fmt.Errorf(
			"%s is no place to follow to (%v); expected a folder or s3://BUCKET/PATH: %w",
			where,
			err,
			store.ErrUnusable,
		)
	}
	return client, nil
}

// Follow begins to follow the database of a folder to a target, until Close.
func Follow(ctx context.Context, data, where string, log *slog.Logger) (*Follower, error) {
	client, err := target(where)
	if err != nil {
		return nil, err
	}
	db := litestream.NewDB(filepath.Join(data, "restbend.db"))
	db.SetLogger(log.With("part", "follower"))
	db.MonitorInterval = 250 * time.Millisecond
	db.Replica = litestream.NewReplicaWithClient(db, client)
	db.Replica.SyncInterval = 500 * time.Millisecond
	f := &Follower{
		Target: where,
		db:     db,
		all: litestream.NewStore(
			[]*litestream.DB{db},
			litestream.CompactionLevels{{Level: 0}, {Level: 1, Interval: 30 * time.Second}, {Level: 2, Interval: 5 * time.Minute}},
		),
	}
	f.all.SnapshotInterval, f.all.SnapshotRetention = 24*time.Hour, 72*time.Hour
	f.all.SetShutdownSyncTimeout(5 * time.Second)
	if err := f.all.Open(ctx); err != nil {
		return nil, fmt.Errorf("following: %w", err)
	}
	return f, nil
}

// Last is when what had been written last was there too; zero where nothing was yet.
func (f *Follower) Last() time.Time { return f.db.LastSuccessfulSyncAt() }

// Behind says that what was written is not at the target yet, and why where that is known.
func (f *Follower) Behind(ctx context.Context) (bool, error) {
	s, err := f.db.SyncStatus(ctx)
	return !s.InSync, err
}

// CatchUp waits until all that was written is at the target.
func (f *Follower) CatchUp(ctx context.Context) error { return f.db.SyncAndWait(ctx) }

// Close catches up and ends following.
func (f *Follower) Close() error {
	ctx, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	defer cancel()
	return f.all.Close(ctx)
}

// RestoreFollowed brings back what a follower wrote, as it stood at a moment, or last where
// the moment is zero, into a folder without a database.
func RestoreFollowed(ctx context.Context, where string, at time.Time, dir string) error {
	client, err := target(where)
	if err != nil {
		return err
	}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return fmt.Errorf("making the data folder: %w", err)
	}
	work, err := os.MkdirTemp(dir, ".followed-")
	if err != nil {
		return fmt.Errorf("making the data folder: %w", err)
	}
	defer os.RemoveAll(work)
	opt := litestream.NewRestoreOptions()
	opt.OutputPath, opt.Timestamp = filepath.Join(work, "copy.db"), at
	if err := litestream.NewReplicaWithClient(nil, client).Restore(ctx, opt); err != nil {
		if errors.Is(err, litestream.ErrTxNotAvailable) || errors.Is(err, litestream.ErrNoSnapshots) ||
			strings.Contains(err.Error(), "no matching") {
			return fmt.Errorf("nothing was followed to %s: %w", where, store.ErrNotFound)
		}
		return fmt.Errorf("reading what was followed to %s: %w", where, err)
	}
	return store.Restore(ctx, opt.OutputPath, dir)
}

// Under is a place of its own within a target.
func Under(where, name string) string {
	if at, query, ok := strings.Cut(where, "?"); ok {
		return strings.TrimSuffix(at, "/") + "/" + name + "?" + query
	}
	return strings.TrimSuffix(where, "/") + "/" + name
}
