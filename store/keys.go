package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"time"
)

// ErrOtherForm is returned when a key was used before for something else.
var ErrOtherForm = errors.New("this form was saved before with other answers")

// Form is a form that was sent: its key tells it from every other, so that what it asks
// for is done once however often it is sent. The digest stands for what it says.
type Form struct{ Key, Digest string }

type formKey struct{}

// Sent is a context in which one change is made once for a form. A form without a key
// changes nothing.
func Sent(ctx context.Context, f Form) context.Context { return context.WithValue(ctx, formKey{}, f) }

// Made says what a form has made before; done is false when it has not been sent yet. A
// form with other answers under the same key is ErrOtherForm.
func (s *Store) Made(ctx context.Context, f Form) (made string, done bool, err error) {
	if f.Key == "" {
		return "", false, nil
	}
	return madeBy(ctx, s.read, s.query("made_by"), f)
}

func madeBy(ctx context.Context, r reader, query string, f Form) (made string, done bool, err error) {
	var before string
	err = r.QueryRowContext(ctx, query, f.Key).Scan(&before, &made)
	switch {
	case errors.Is(err, sql.ErrNoRows):
		return "", false, nil
	case err != nil:
		return "", false, fmt.Errorf("made_by: %w", err)
	case before != f.Digest:
		return made, false, ErrOtherForm
	}
	return made, true, nil
}

// once runs do unless the form of the context was sent before, and gives back the id of
// what it made then or makes now.
func (t *Tx) once(do func(*Tx) (string, error)) (string, error) {
	f, _ := t.ctx.Value(formKey{}).(Form)
	if f.Key == "" {
		return do(t)
	}
	made, done, err := madeBy(t.ctx, t.tx, t.s.query("made_by"), f)
	if done || err != nil {
		return made, err
	}
	if made, err = do(t); err != nil {
		return "", err
	}
	_, err = t.exec("keep_key", f.Key, f.Digest, made, stamp(time.Now()))
	return made, err
}
