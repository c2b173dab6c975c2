package formats

import (
	"fmt"
	"time"

	"restbend/core/lesson"
)

// ReadRecord reads a record file as of a date. A refusal is an *Invalid.
func ReadRecord(b []byte, on time.Time) (lesson.Record, error) {
	var r lesson.Record
	if err := read("record", b, &r); err != nil {
		return r, err
	}
	return r, CheckRecord(r, on)
}

// CheckRecord looks for what a schema cannot say.
func CheckRecord(r lesson.Record, on time.Time) error {
	if err := checkDate("on", r.On, on); err != nil {
		return err
	}
	for i, it := range r.Items {
		if it.Skipped && it.Repetitions+it.Sets > 0 {
			return &Invalid{fmt.Sprintf("items[%d].skipped", i), "what was skipped has no sets or repetitions; expected one of the two"}
		}
	}
	return nil
}
