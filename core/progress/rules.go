// Package progress decides what follows from what happened: per exercise and side a step
// up, hold, a step back, or stop and refer, with its reasons. It is pure: records, client
// and day come in, decisions and the client brought up to date go out.
package progress

import (
	"fmt"
	"slices"
	"strings"
)

// Rule is one row of what decides: its figures, its reason and its source. A figure that a
// rule does not use is zero.
type Rule struct {
	ID            string  `yaml:"id"`
	Sessions      int     `yaml:"sessions,omitempty"`
	Pain          int     `yaml:"pain,omitempty"` // of 10
	Rise          int     `yaml:"rise,omitempty"`
	Share         float64 `yaml:"share,omitempty"` // of the dose
	Hours         float64 `yaml:"hours,omitempty"`
	PainHours     float64 `yaml:"pain_hours,omitempty"`
	SorenessHours float64 `yaml:"soreness_hours,omitempty"`
	Days          int     `yaml:"days,omitempty"`
	Demand        float64 `yaml:"demand,omitempty"`
	Reason        string  `yaml:"reason"`
	Source        string  `yaml:"source"`
}

// known are the rules that the decisions ask for.
var known = []string{
	"clean",
	"settled",
	"hold",
	"broke",
	"hurt",
	"unsettled",
	"left_out",
	"spread",
	"moved_down",
	"stays",
	"again",
	"rising",
	"mid_back",
	"red_flag",
	"leaving",
	"away",
	"long_away",
	"quiet",
}

// Rules are all rows, by id.
type Rules map[string]Rule

// NewRules checks rows: every one that is known is there once, with a reason and a source.
func NewRules(rows []Rule) (Rules, error) {
	out := Rules{}
	for i, r := range rows {
		_, twice := out[r.ID]
		switch {
		case !slices.Contains(known, r.ID):
			return nil, fmt.Errorf("rules[%d].id: %q is not a rule of progress; expected one of %s", i, r.ID, strings.Join(known, ", "))
		case twice:
			return nil, fmt.Errorf("rules[%d].id: %s stands twice", i, r.ID)
		case r.Reason == "" || r.Source == "":
			return nil, fmt.Errorf("rules[%d]: %s lacks a reason or a source", i, r.ID)
		}
		out[r.ID] = r
	}
	for _, id := range known {
		if _, ok := out[id]; !ok {
			return nil, fmt.Errorf("rules: %s is missing", id)
		}
	}
	return out, nil
}

// says is a rule's reason with figures: those of the rule, and more.
func (r Rule) says(more ...string) string {
	figures := append(
		slices.Clone(more),
		"{sessions}",
		words(r.Sessions),
		"{pain}",
		fmt.Sprint(r.Pain),
		"{pain_hours}",
		fmt.Sprintf("%g", r.PainHours),
		"{soreness_hours}",
		fmt.Sprintf("%g", r.SorenessHours),
	) // the first of two holds
	return strings.NewReplacer(figures...).Replace(r.Reason)
}

func words(n int) string {
	if n > 0 && n < 5 {
		return []string{"one", "two", "three", "four"}[n-1]
	}
	return fmt.Sprint(n)
}
