package app

import (
	"context"
	"errors"
	"net/url"
	"reflect"

	"restbend/core/limit"
	"restbend/formats"
	"restbend/store"
)

// CheckClient says what is wrong with a client's data, as saving it would over what was
// there before, if anything; a refusal is a *formats.Invalid.
func (s *Studio) CheckClient(c limit.Client, before *limit.Client) error {
	return s.checkWhole(c, before)
}

// KeepIntake keeps the form of an intake as it stands and returns how often it was
// kept. The same form twice is one step.
func (s *Studio) KeepIntake(ctx context.Context, id, clientID string, form url.Values) (int, error) {
	if id == "" || len(id) > 64 {
		return 0, &formats.Invalid{Path: "intake", Want: "is missing; reload the page"}
	}
	now, err := s.Store.Intake(ctx, id)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return 0, err
	}
	if reflect.DeepEqual(now.Form, form) {
		return now.Step, nil
	}
	step := now.Step + 1
	return step, s.Store.Change(ctx, func(t *store.Tx) error { return t.KeepIntake(id, clientID, step, form, s.Now()) })
}

// UndoIntake takes an intake back to how it was kept before.
func (s *Studio) UndoIntake(ctx context.Context, id string) error {
	err := s.Store.Change(ctx, func(t *store.Tx) error { return t.StepBackIntake(id, s.Now()) })
	if errors.Is(err, store.ErrChanged) {
		return store.ErrNotFound
	}
	return err
}

// DropIntake forgets an intake.
func (s *Studio) DropIntake(ctx context.Context, id string) error {
	return s.Store.Change(ctx, func(t *store.Tx) error { return t.DropIntake(id) })
}
