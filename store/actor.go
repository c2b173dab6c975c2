package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"errors"
	"fmt"
	"strings"
	"time"
)

// Actor is who reads and changes: what they may see, and what the trail says they did.
type Actor struct {
	Person string // id
	Name   string
	All    bool   // sees every client, not only those they work with
	Doing  string // in words; nothing is put into the trail without
	Client string // whom it is about, or empty
	At     time.Time
}

type actorKey struct{}

// As is a context in which somebody reads and changes.
func As(ctx context.Context, a Actor) context.Context { return context.WithValue(ctx, actorKey{}, a) }

// ActorOf is who reads and changes; nobody where the program does by itself, and sees all.
func ActorOf(ctx context.Context) Actor {
	a, ok := ctx.Value(actorKey{}).(Actor)
	if !ok {
		return Actor{All: true}
	}
	return a
}

// viewer is the person whose clients alone are seen; empty for all clients.
func viewer(ctx context.Context) string {
	if a := ActorOf(ctx); !a.All {
		return a.Person
	}
	return ""
}

// Line is one line of the trail.
type Line struct {
	Seq                            int64
	At, Person, Name, Client, What string
	Hash                           string
}

func (l Line) sealed(before string) string {
	sum := sha256.Sum256([]byte(strings.Join([]string{before, l.At, l.Person, l.Name, l.Client, l.What}, "\x1f")))
	return hex.EncodeToString(sum[:])
}

func scanLine(r row) (l Line, err error) {
	return l, r.Scan(&l.Seq, &l.At, &l.Person, &l.Name, &l.Client, &l.What, &l.Hash)
}

// note puts what an actor does at the end of the trail.
func (t *Tx) note(a Actor) error {
	var before string
	if err := t.tx.QueryRowContext(t.ctx, t.s.query("trail_end")).Scan(&before); err != nil && !errors.Is(err, sql.ErrNoRows) {
		return fmt.Errorf("the trail: %w", err)
	}
	l := Line{At: stamp(a.At), Person: a.Person, Name: a.Name, Client: a.Client, What: a.Doing}
	_, err := t.exec("add_line", l.At, l.Person, l.Name, l.Client, l.What, l.sealed(before))
	return err
}

// Note puts a line into the trail of what changes nothing: that somebody looked, or was not
// let in.
func (s *Store) Note(ctx context.Context, a Actor) error {
	return s.begin(
		As(ctx, Actor{All: true}),
		func(tx *sql.Tx) error { return (&Tx{ctx: context.WithoutCancel(ctx), s: s, tx: tx}).note(a) },
	)
}

// Trail lists at most so many lines before one, the newest first; of one client, or of all
// where none is named. Before 0 it begins with the last.
func (s *Store) Trail(ctx context.Context, clientID string, before int64, most int) ([]Line, error) {
	if before <= 0 {
		before = 1 << 62
	}
	if clientID == "" {
		return list(ctx, s, scanLine, "trail", before, most)
	}
	return list(ctx, s, scanLine, "trail_of", clientID, before, most)
}

// ErrTrail is returned where the trail was tampered with.
var ErrTrail = errors.New("the trail was changed from outside the program")

// CheckTrail goes through the whole trail and says how many lines it has and the seal of the
// last one; ErrTrail, with the number of the line, where one does not follow from those
// before.
func (s *Store) CheckTrail(ctx context.Context) (n int, seal string, err error) {
	rows, err := s.read.QueryContext(ctx, s.query("whole_trail"))
	if err != nil {
		return 0, "", fmt.Errorf("the trail: %w", err)
	}
	defer rows.Close()
	for rows.Next() {
		l, err := scanLine(rows)
		if err != nil {
			return n, seal, fmt.Errorf("the trail: %w", err)
		}
		if n++; l.Hash != l.sealed(seal) {
			return n, seal, fmt.Errorf("line %d: %w", l.Seq, ErrTrail)
		}
		seal = l.Hash
	}
	return n, seal, rows.Err()
}
