package store

import (
	"context"
	"encoding/json"
	"net/url"
	"time"
)

// Intake is a client form that is being filled in, as it was kept last.
type Intake struct {
	ID       string
	ClientID string // empty for a new client
	Step     int    // how often it was kept, less what was taken back
	Form     url.Values
	Updated  string
}

func scanIntake(r row) (Intake, error) {
	var i Intake
	var form string
	if err := r.Scan(&i.ID, &i.ClientID, &i.Step, &form, &i.Updated); err != nil {
		return i, err
	}
	return i, json.Unmarshal([]byte(form), &i.Form)
}

// Intakes lists those that were begun and not saved, the newest first.
func (s *Store) Intakes(ctx context.Context) ([]Intake, error) {
	return list(ctx, s, scanIntake, "intakes", viewer(ctx), viewer(ctx))
}

// Intake finds one; ErrNotFound when there is none.
func (s *Store) Intake(ctx context.Context, id string) (Intake, error) {
	return single(ctx, s, scanIntake, "intake", id)
}

// IntakeOf finds the one begun for a client; ErrNotFound when there is none.
func (s *Store) IntakeOf(ctx context.Context, clientID string) (Intake, error) {
	return single(ctx, s, scanIntake, "intake_of", clientID)
}

// KeepIntake keeps a form as the given step; later steps, taken back before, go.
func (t *Tx) KeepIntake(id, clientID string, step int, form url.Values, now time.Time) error {
	doc, err := json.Marshal(form)
	if err != nil {
		return err
	}
	if _, err := t.exec("keep_intake", id, clientID, step, stamp(now), ActorOf(t.ctx).Person); err != nil {
		return err
	}
	if _, err := t.exec("drop_later_intake_steps", id, step); err != nil {
		return err
	}
	_, err = t.exec("keep_intake_step", id, step, string(doc))
	return err
}

// StepBackIntake makes the form as it was kept before current again; ErrChanged
// when there is nothing before.
func (t *Tx) StepBackIntake(id string, now time.Time) error {
	return t.one("step_back_intake", stamp(now), id)
}

// DropIntake forgets one, if it is there.
func (t *Tx) DropIntake(id string) error {
	_, err := t.exec("drop_intake", id)
	return err
}
