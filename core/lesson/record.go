// Package lesson is what happens while a session is taught: the clock that counts it
// (beats), the marks that are made, and the record that they fold into. It knows no
// clock of its own, no page and no database.
package lesson

import "restbend/core/exercise"

// Record is restbend.record/1: what happened in one session.
type Record struct {
	Format     string      `json:"format"`
	Plan       string      `json:"plan,omitempty"`
	On         string      `json:"on"`
	Pain       Pain        `json:"pain,omitzero"`
	Items      []Done      `json:"items"`
	SideChecks []SideCheck `json:"side_checks,omitempty"`
	Notes      string      `json:"notes,omitempty"`
	FollowUp   *FollowUp   `json:"follow_up,omitempty"`
}

// Pain is pain on the 0 to 10 scale; nil when it was not asked.
type Pain struct {
	Before *int `json:"before,omitempty"`
	During *int `json:"during,omitempty"`
	After  *int `json:"after,omitempty"`
}

// Done is what was done of one exercise on one side: a run of sets that went alike.
type Done struct {
	Variant     string  `json:"variant"`
	Name        string  `json:"name,omitempty"`
	Item        string  `json:"item,omitempty"` // the plan item's lasting id
	Side        string  `json:"side,omitempty"`
	Sets        int     `json:"sets,omitempty"`
	Repetitions int     `json:"repetitions,omitempty"` // of each set; breaths where it is counted in breaths
	Seconds     float64 `json:"seconds,omitempty"`     // of each repetition or hold
	BestHold    float64 `json:"best_hold,omitempty"`   // seconds, clean
	Ended       string  `json:"ended"`                 // one of Ends
	OddFrom     int     `json:"odd_from,omitempty"`    // the first repetition that felt odd
	Sensation   string  `json:"sensation,omitempty"`
	Tighter     string  `json:"tighter,omitempty"`
	Skipped     bool    `json:"skipped,omitempty"`
	Notes       string  `json:"notes,omitempty"`
	// Settings are part of the rung: without them a result says nothing.
	Settings exercise.Settings `json:"settings,omitzero"`
	Planned  *exercise.Dose    `json:"planned,omitempty"` // the dose that was planned
	Pain     *PainAt           `json:"pain,omitempty"`    // the worst on it
	Stepped  []string          `json:"stepped,omitempty"` // steps of a complaint path that were taken
}

// PainAt is a pain on one exercise.
type PainAt struct {
	Score int    `json:"score"`
	Where string `json:"where,omitempty"` // one of exercise.ComplaintPlaces
	Side  string `json:"side,omitempty"`
}

// SideCheck is which side moved less: left, right or equal.
type SideCheck struct {
	Item    string `json:"item,omitempty"`
	Variant string `json:"variant,omitempty"`
	Name    string `json:"name,omitempty"`
	Moment  string `json:"moment"` // before or after
	Less    string `json:"less"`
}

// FollowUp is what the client says a day and a half later.
type FollowUp struct {
	HoursToSettle float64   `json:"hours_to_settle"`
	Kind          string    `json:"kind,omitempty"` // none, soreness or pain
	Spread        bool      `json:"spread,omitempty"`
	PainNextDay   *int      `json:"pain_next_day,omitempty"`
	RedFlags      []string  `json:"red_flags,omitempty"`
	Symptoms      []Symptom `json:"symptoms,omitempty"`
}

// Symptom is something felt away from the session.
type Symptom struct {
	Where  string `json:"where"`
	Side   string `json:"side,omitempty"`
	Kind   string `json:"kind"`             // pain, tingling or numbness
	Change string `json:"change,omitempty"` // new, down, leaving, stays or gone
}

// Ends are how a set ended.
var Ends = []string{"done", "form", "pain", "shaking", "soreness", "tingling", "cramp", "choice"}
