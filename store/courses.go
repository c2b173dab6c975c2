package store

import (
	"context"
	"encoding/json"
	"fmt"
	"time"
)

// Course is what a client's weeks ahead were asked for with, as they were kept.
type Course struct {
	ID, ClientID string
	Doc          json.RawMessage
}

// CoursesOf are a client's kept courses, the newest first.
func (s *Store) CoursesOf(ctx context.Context, clientID string) ([]Course, error) {
	return list(ctx, s, func(r row) (c Course, err error) {
		var doc, gone string
		if err = r.Scan(&c.ID, &c.ClientID, &doc, &gone); err == nil && !json.Valid([]byte(doc)) {
			err = fmt.Errorf("course %s is damaged", c.ID)
		}
		c.Doc = json.RawMessage(doc)
		return c, err
	}, "courses_of", clientID)
}

// AddCourse keeps what a course was asked for with, and says its id.
func (t *Tx) AddCourse(clientID string, doc any, now time.Time) (string, error) {
	b, err := json.Marshal(doc)
	if err != nil {
		return "", err
	}
	id := NewID()
	_, err = t.exec("add_course", id, clientID, string(b), stamp(now))
	return id, err
}

// TakeCourseAway takes a course off the list, or brings it back.
func (t *Tx) TakeCourseAway(id string, away bool, now time.Time) error {
	return t.one("course_away", goneAt(away, now), id, goneAt(away, now))
}
