package formats

import (
	"encoding/json"
	"fmt"

	"restbend/core/civil"
	"restbend/core/lesson"
)

// ReadRecord reads a record file as of a date. A refusal is an *Invalid.
func ReadRecord(b []byte, on civil.Day) (lesson.Record, error) {
	var r lesson.Record
	if err := read("record", b, &r); err != nil {
		return r, err
	}
	if err := noneDone(b); err != nil {
		return r, err
	}
	return r, CheckRecord(r, on)
}

// CheckRecord looks for what a schema cannot say.
func CheckRecord(r lesson.Record, on civil.Day) error {
	return checkDate("on", r.On, on)
}

// noneDone refuses what is said to be done with no repetition: a text says so where the
// record itself can no longer tell none from not said.
func noneDone(b []byte) error {
	var said struct {
		Items []struct {
			Repetitions *int   `json:"repetitions"`
			Ended       string `json:"ended"`
			Skipped     bool   `json:"skipped"`
		} `json:"items"`
	}
	if err := json.Unmarshal(b, &said); err != nil {
		return misfit(err)
	}
	for i, it := range said.Items {
		if it.Repetitions != nil && *it.Repetitions == 0 && it.Ended == "done" && !it.Skipped {
			return &Invalid{
				fmt.Sprintf("items[%d].repetitions", i),
				"0 and done cannot both be right; expected how many were done, or skipped",
			}
		}
	}
	return nil
}
