package app

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/progress"
	"restbend/core/readiness"
	"restbend/formats"
	"restbend/library"
	"restbend/store"
)

// Next says what follows from records of a client. Records that cannot be believed are a
// *formats.Invalid.
func (j *Judge) Next(c limit.Client, records []lesson.Record, on civil.Day) (progress.Answer, error) {
	a, err := j.decided(c, records, on)
	if err == nil && a.Status == limit.Refer { // the day hears of it as well
		a.Readiness = j.Ready(c, afterSessions(records, a), nil, on, readiness.Ahead).Readiness
	}
	return a, err
}

// decided is Next with the readiness of the day before what the records say.
func (j *Judge) decided(c limit.Client, records []lesson.Record, on civil.Day) (progress.Answer, error) {
	rules, err := library.ProgressRules()
	if err != nil {
		return progress.Answer{}, fmt.Errorf("the rules of progress: %w", err)
	}
	w := progress.World{Variants: j.Library.Variants, Rules: rules,
		Limits: j.Ready(c, lesson.Visits(records), nil, on, readiness.Ahead), Kit: limit.KitOf(c, c.Place)}
	a, err := progress.Decide(c, records, w, on)
	var wrong *progress.Contradiction
	if errors.As(err, &wrong) {
		return a, &formats.Invalid{Path: fmt.Sprintf("records[%d].%s", wrong.Record, wrong.Field), Want: wrong.Want}
	}
	return a, err
}

// NextFor is Next for a client of the database, from all that is on record.
func (s *Studio) NextFor(ctx context.Context, clientID string, c limit.Client) (progress.Answer, error) {
	records, err := s.past(ctx, clientID)
	if err != nil {
		return progress.Answer{}, err
	}
	return s.Next(c, records, latest(records, s.Today()))
}

// latest is a day, or that of the last record where the clock has gone back.
func latest(records []lesson.Record, on civil.Day) civil.Day {
	for _, r := range records {
		if d, err := civil.Parse(r.On); err == nil && d.After(on) {
			on = d
		}
	}
	return on
}

// earned refuses a rung that the record has not earned, with what would earn it; a rung
// on somebody's word is let through.
func (s *Studio) earned(ctx context.Context, row store.Plan, variant string) error {
	v := s.Library.Variant(variant)
	if v == nil {
		return nil // refused by name elsewhere
	}
	next, err := s.NextFor(ctx, row.ClientID, row.Client)
	if err != nil {
		return err
	}
	for _, k := range next.Client.Rungs {
		if k.Overruled != nil && k.Variant == variant {
			return nil
		}
	}
	for _, d := range next.Decisions {
		at := s.Library.Variant(d.To.Variant)
		if d.Family != v.Family || at == nil || !s.above(at, v) {
			continue
		}
		why := d.WaitingFor
		if why == "" && len(d.Because) > 0 {
			why = d.Because[0]
		}
		return &formats.Invalid{
			Path: "variant",
			Want: fmt.Sprintf(
				"%s is not earned yet: %s comes first (%s). What earns it: %s Overrule it on the client’s page, with a reason, if you "+
					"know better",
				v.Name,
				at.Name,
				strings.TrimSuffix(why, "."),
				at.Earn.Words,
			),
		}
	}
	return nil
}

// above says whether a rung lies above another on its ladder.
func (j *Judge) above(low, v *exercise.Variant) bool {
	reached := map[string]bool{low.ID: true}
	open := []string{low.ID}
	for len(open) > 0 {
		from := j.Library.Variant(open[0])
		open = open[1:]
		if from == nil {
			continue
		}
		for _, id := range from.NextIDs() {
			if !reached[id] {
				reached[id] = true
				open = append(open, id)
			}
		}
	}
	return v.ID != low.ID && reached[v.ID]
}

// SeenByClinician notes that a clinician has looked at what the records referred: what
// happened up to that day, today without one, does not refer again. Warning signs stay
// until they are taken out.
func (s *Studio) SeenByClinician(ctx context.Context, clientID string, seen limit.SeenBy) error {
	if seen.By = strings.TrimSpace(seen.By); seen.By == "" {
		return &formats.Invalid{Path: "who looked at it", Want: "expected a name"}
	}
	if seen.On == "" {
		seen.On = s.Today().String()
	}
	return s.alter(ctx, clientID, func(c *limit.Client) error {
		c.Seen = &seen
		return nil
	})
}

// Overrule sets a rung on somebody's word, against what the record says; it stands until
// it has been tried, and is shown with its reason.
func (s *Studio) Overrule(ctx context.Context, clientID, variant, by, reason string) error {
	by, reason = strings.TrimSpace(by), strings.TrimSpace(reason)
	for _, need := range []struct{ field, value string }{{"who overrules it", by}, {"why", reason}} {
		if need.value == "" || len(need.value) > 300 {
			return &formats.Invalid{Path: need.field, Want: "expected 1 to 300 characters"}
		}
	}
	v := s.Library.Variant(variant)
	if v == nil {
		return &formats.Invalid{Path: "exercise", Want: fmt.Sprintf("%q is not in the library", variant)}
	}
	return s.alter(ctx, clientID, func(c *limit.Client) error {
		if j := s.Limits(*c, s.Today()).Judge(v, limit.KitOf(*c, c.Place)); j.Verdict == exercise.Avoid {
			return &formats.Invalid{
				Path: "exercise",
				Want: v.Name + " is barred, and no word on progress changes that: " + j.Reasons[0].Text,
			}
		}
		c.Rungs = slices.DeleteFunc(slices.Clone(c.Rungs), func(r limit.Rung) bool { return r.Family == v.Family })
		c.Rungs = append(c.Rungs, limit.Rung{Family: v.Family, Variant: v.ID,
			Overruled: &limit.Overrule{By: by, Reason: reason, On: s.Today().String()}})
		c.Resting = slices.DeleteFunc(slices.Clone(c.Resting), func(r limit.Resting) bool { return r.Family == v.Family })
		return nil
	})
}
