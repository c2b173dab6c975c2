package app

import (
	"context"
	"fmt"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"restbend/core/civil"
	"restbend/formats"
	"restbend/store"
)

// What clients may ask for about their data.

// usualRetention is how many years records are kept after the last session where nobody has
// said otherwise. Common practice; local law comes first.
const usualRetention = 8

// RetentionYears is how long records are kept after the last session.
func (s *Studio) RetentionYears(ctx context.Context) int {
	n, err := strconv.Atoi(s.Store.Setting(ctx, "retention_years"))
	if err != nil || n < 1 || n > 40 {
		return usualRetention
	}
	return n
}

// KeptUntil is the local day until which a client's records are kept, counted from the last
// one, or from their first day where there is none.
func (s *Studio) KeptUntil(ctx context.Context, k store.Client) (string, error) {
	heads, err := s.Store.PlanHeadsOf(ctx, k.ID, 1)
	if err != nil {
		return "", err
	}
	last := k.Created[:min(len(k.Created), len(time.DateOnly))]
	if len(heads) > 0 && heads[0].On > last {
		last = heads[0].On
	}
	d, err := civil.Parse(last)
	if err != nil {
		return "", fmt.Errorf("client %s: %w", k.ID, err)
	}
	return d.AddDate(s.RetentionYears(ctx), 0, 0).String(), nil
}

// SetStudio sets after how many minutes a screen locks and how many years records are kept.
func (s *Studio) SetStudio(ctx context.Context, idle, years string) error {
	for _, x := range []struct {
		path, value string
		least, most int
	}{{"minutes until the screen locks", idle, 1, 240}, {"years that records are kept", years, 1, 40}} {
		if n, err := strconv.Atoi(strings.TrimSpace(x.value)); err != nil || n < x.least || n > x.most {
			return &formats.Invalid{
				Path: x.path,
				Want: fmt.Sprintf("expected a whole number from %d to %d, found %q", x.least, x.most, x.value),
			}
		}
	}
	return s.Store.Change(ctx, func(t *store.Tx) error {
		if err := t.SetSetting("idle_minutes", strings.TrimSpace(idle)); err != nil {
			return err
		}
		return t.SetSetting("retention_years", strings.TrimSpace(years))
	})
}

// NoteConsent keeps what a client agreed to, or took back.
func (s *Studio) NoteConsent(ctx context.Context, clientID string, c store.Consent) error {
	c.What, c.Note = strings.TrimSpace(c.What), strings.TrimSpace(c.Note)
	if n := utf8.RuneCountInString(c.What); n < 1 || n > 200 {
		return &formats.Invalid{Path: "what she agrees to", Want: "expected 1 to 200 characters"}
	}
	if utf8.RuneCountInString(c.Note) > 500 {
		return &formats.Invalid{Path: "note", Want: "expected at most 500 characters"}
	}
	d, err := civil.Parse(c.On)
	if err != nil || d.After(s.Today()) || d.Year() < 1990 {
		return &formats.Invalid{Path: "day", Want: fmt.Sprintf("expected a day up to today as YYYY-MM-DD, found %q", c.On)}
	}
	if _, err := s.Store.Client(ctx, clientID); err != nil {
		return err
	}
	return s.Store.Change(ctx, func(t *store.Tx) error { return t.AddConsent(clientID, c, s.Now()) })
}

// Restrict keeps a client's data unused, or lifts that.
func (s *Studio) Restrict(ctx context.Context, clientID string, on bool) error {
	return s.Store.Change(ctx, func(t *store.Tx) error { return t.Restrict(clientID, on, s.Now()) })
}

// Erase takes everything of a client from the database for good. The name has to be typed, so
// that it is meant, and why.
func (s *Studio) Erase(ctx context.Context, clientID, name, by, why string) error {
	k, err := s.Store.Client(ctx, clientID)
	if err != nil {
		return err
	}
	if !strings.EqualFold(strings.TrimSpace(name), k.Client.Name) {
		return &formats.Invalid{
			Path: "her name",
			Want: fmt.Sprintf("expected %q, written out, so that nobody else is erased", k.Client.Name),
		}
	}
	why = strings.TrimSpace(why)
	if n := utf8.RuneCountInString(why); n < 1 || n > 300 || strings.Contains(strings.ToLower(why), strings.ToLower(k.Client.Name)) {
		return &formats.Invalid{Path: "why", Want: "expected 1 to 300 characters that do not name her"}
	}
	if err := s.Store.Change(ctx, func(t *store.Tx) error { return t.Erase(clientID, by, why, s.Now()) }); err != nil {
		return err
	}
	return s.Store.Checkpoint(ctx)
}
