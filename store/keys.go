package store

import (
	"database/sql"
	"errors"
	"fmt"
	"time"
)

// ErrOtherForm is returned when a key was used before for something else.
var ErrOtherForm = errors.New("this form was saved before with other answers")

// Once runs do unless the form with the key was saved before, and gives back the id of
// what it made then or makes now. The digest stands for what the form says: another one
// under the same key is ErrOtherForm. Without a key do is simply run.
func (t *Tx) Once(key, digest string, now time.Time, do func() (string, error)) (string, error) {
	if key == "" {
		return do()
	}
	var before, made string
	err := t.tx.QueryRowContext(t.ctx, t.s.query("made_by"), key).Scan(&before, &made)
	switch {
	case err == nil && before == digest:
		return made, nil
	case err == nil:
		return made, ErrOtherForm
	case !errors.Is(err, sql.ErrNoRows):
		return "", fmt.Errorf("made_by: %w", err)
	}
	if made, err = do(); err != nil {
		return "", err
	}
	_, err = t.exec("keep_key", key, digest, made, stamp(now))
	return made, err
}
