package exercise

import (
	"fmt"
	"slices"
	"strings"
)

// Earn is what earns the rungs that follow: so much done cleanly, in so many sessions one
// after the other. Figures are per side.
type Earn struct {
	Kind        DoseKind `yaml:"kind,omitempty" json:"kind"`                         // repetitions, hold_seconds or breaths
	Amount      float64  `yaml:"amount,omitempty" json:"amount"`                     // of one set, of one hold in seconds, or of a shape
	Repetitions int      `yaml:"repetitions,omitempty" json:"repetitions,omitempty"` // of holds; 0 counts as 1
	Sets        int      `yaml:"sets,omitempty" json:"sets,omitempty"`               // 0 counts as 1
	Sessions    int      `yaml:"sessions,omitempty" json:"sessions"`                 // UsualSessions where nothing is said
	EachSide    bool     `yaml:"-" json:"each_side"`
	Words       string   `yaml:"words" json:"words"`
}

// UsualSessions are the sessions in which a rung has to be clean before the next
// (contract).
const UsualSessions = 2

// earnKinds are the doses that an earned step is counted in, for each kind of earning.
var earnKinds = map[DoseKind][]DoseKind{
	Repetitions: {Repetitions, Circles, AlternatingSeconds},
	HoldSeconds: {HoldSeconds, AlternatingSeconds},
	Breaths:     {Breaths, HoldBreaths},
}

// Most a dose may be asked for, whatever the client bears: common practice.
const (
	MostSets        = 6
	MostRepetitions = 30  // of one set
	MostHold        = 120 // seconds of one hold, or of sides in turn
	MostStay        = 10  // seconds inside a repetition
	MostBreaths     = 20
)

// Check says what is wrong with what is to be earned by a variant of these doses; the
// error names the field.
func (e Earn) Check(doses ...Dose) error {
	counted, ok := earnKinds[e.Kind]
	if !ok {
		return fmt.Errorf("earn.kind: %q is not one of %s, %s, %s", e.Kind, Repetitions, HoldSeconds, Breaths)
	}
	if !slices.ContainsFunc(doses, func(d Dose) bool { return slices.Contains(counted, d.Kind) }) {
		return fmt.Errorf("earn.kind: %s cannot be reached with a dose counted in %s", e.Kind, doses[0].Kind)
	}
	most := map[DoseKind]float64{Repetitions: MostRepetitions, HoldSeconds: MostHold, Breaths: MostBreaths}[e.Kind]
	switch {
	case !(e.Amount > 0 && e.Amount <= most):
		return fmt.Errorf("earn.amount: %g cannot be reached; expected above 0, to %g", e.Amount, most)
	case e.Repetitions < 0 || e.Repetitions > MostRepetitions || e.Repetitions > 0 && e.Kind != HoldSeconds:
		return fmt.Errorf("earn.repetitions: %d; expected 1 to %d, of holds alone", e.Repetitions, MostRepetitions)
	case e.Sets < 0 || e.Sets > MostSets:
		return fmt.Errorf("earn.sets: %d; expected 1 to %d", e.Sets, MostSets)
	case e.Sessions < 1 || e.Sessions > 6:
		return fmt.Errorf("earn.sessions: %d; expected 1 to 6", e.Sessions)
	case strings.TrimSpace(e.Words) == "":
		return fmt.Errorf("earn.words: is missing")
	}
	return nil
}

// Met says whether so much, done on one side in one session, is enough: the repetitions
// of a set or the breaths of a shape, or clean holds of so many seconds.
func (e Earn) Met(sets, repetitions int, amount float64) bool {
	if sets < max(1, e.Sets) {
		return false
	}
	return amount >= e.Amount && (e.Kind != HoldSeconds || repetitions >= max(1, e.Repetitions))
}
