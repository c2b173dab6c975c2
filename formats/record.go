package formats

import (
	"fmt"
	"time"

	"restbend/core/exercise"
)

// Record is restbend.record/1: what happened in one session.
type Record struct {
	Format   string       `json:"format"`
	Plan     string       `json:"plan,omitempty"`
	On       string       `json:"on"`
	Pain     RecordPain   `json:"pain,omitzero"`
	Items    []RecordItem `json:"items"`
	Notes    string       `json:"notes,omitempty"`
	FollowUp *FollowUp    `json:"follow_up,omitempty"`
}

// RecordPain is pain on the 0 to 10 scale; nil when it was not asked.
type RecordPain struct {
	Before *int `json:"before,omitempty"`
	During *int `json:"during,omitempty"`
	After  *int `json:"after,omitempty"`
}

// RecordItem is what was done of one exercise on one side.
type RecordItem struct {
	Variant     string  `json:"variant"`
	Name        string  `json:"name,omitempty"`
	Side        string  `json:"side,omitempty"`
	Sets        int     `json:"sets,omitempty"`
	Repetitions int     `json:"repetitions,omitempty"`
	Seconds     float64 `json:"seconds,omitempty"`
	BestHold    float64 `json:"best_hold,omitempty"`
	Ended       string  `json:"ended"`
	OddFrom     int     `json:"odd_from,omitempty"`
	Sensation   string  `json:"sensation,omitempty"`
	Tighter     string  `json:"tighter,omitempty"`
	Skipped     bool    `json:"skipped,omitempty"`
	Notes       string  `json:"notes,omitempty"`
	// Settings are part of the rung: without them a result says nothing.
	Settings exercise.Settings `json:"settings,omitzero"`
}

// FollowUp is what the client says a day and a half later.
type FollowUp struct {
	HoursToSettle float64 `json:"hours_to_settle"`
	Kind          string  `json:"kind,omitempty"`
	Spread        bool    `json:"spread,omitempty"`
	PainNextDay   *int    `json:"pain_next_day,omitempty"`
}

// ReadRecord reads a record file as of a date. A refusal is an *Invalid.
func ReadRecord(b []byte, on time.Time) (Record, error) {
	var r Record
	if err := read("record", b, &r); err != nil {
		return r, err
	}
	return r, CheckRecord(r, on)
}

// CheckRecord looks for what a schema cannot say.
func CheckRecord(r Record, on time.Time) error {
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
