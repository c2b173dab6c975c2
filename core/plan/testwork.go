package plan

import (
	"fmt"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// Sessions for a pelvis joint have a frame of their own: test, work, test again
// (common practice). The check of which side moves less opens and, after the work,
// comes once more; standing and walking end it. The middle has a theme that
// changes from session to session, and for the first week there is none.

const (
	pelvisCheck = "pelvis_side_check"
	firstWeek   = 7 // days
)

// themes of the changing middle, in turn.
var themes = []exercise.Purpose{"hip_mobility", "leg_strength", "hip_abduction", "deep_core", "hip_hinge"}

// testWorkTest says whether the session is framed by the pelvis check: where the
// client can lie and the check is allowed.
func (r Request) testWorkTest() bool {
	if !r.Client.Has("sacroiliac") {
		return false
	}
	v := r.find(pelvisCheck)
	return v != nil && r.available(v) && r.judge(v).Verdict != exercise.Avoid
}

func (r Request) isFirstWeek() bool { return r.History.Days < firstWeek }

// theme is the purpose of today's middle; none in the first week.
func (r Request) theme() exercise.Purpose {
	if !r.testWorkTest() || r.isFirstWeek() {
		return ""
	}
	return themes[r.History.Sessions%len(themes)]
}

// framed makes the check a must at both ends, lets walking close the session and
// keeps the first week to the easy movements.
func (r Request) framed(cs []candidate) []candidate {
	if !r.testWorkTest() {
		return cs
	}
	if r.isFirstWeek() {
		cs = slices.DeleteFunc(cs, func(c candidate) bool { return c.phase == "activate" || c.phase == "strengthen" })
	}
	for i := range cs {
		if cs[i].variant.ID == pelvisCheck {
			cs[i].must, cs[i].doses = true, cs[i].doses[:1]
		}
	}
	for _, c := range slices.Clone(cs) {
		if c.variant.Family == "walking" && slices.Contains(c.variant.Phases, "close") && c.phase != "close" {
			c.phase = "close"
			cs = append(cs, c)
		}
	}
	return cs
}

// frameNotes say how the session that holds the items is framed.
func (r Request) frameNotes(items []Item) []string {
	if !r.testWorkTest() {
		return nil
	}
	out := []string{"Test, work, test again: which side of the pelvis moves less is checked first, and once more after the work."}
	if t := r.theme(); t != "" {
		if !slices.ContainsFunc(items, func(it Item) bool { return slices.Contains(it.Purposes, t) }) {
			return append(out, fmt.Sprintf("The theme of the middle would be %s today, for which nothing here is safe.", t.Words()))
		}
		return append(out, fmt.Sprintf("The theme of the middle today is %s; it changes from session to session.", t.Words()))
	}
	return append(out, "For about the first week the middle keeps to the easy movements.")
}

// endNotes ask for what frames a session where no exercise does: the tests that failed
// before, again after work for what they need, and quiet ends where nothing quiet is for
// this client.
func (r Request) endNotes(items []Item) (out []string) {
	if len(items) == 0 {
		return nil
	}
	var again []string
	for _, t := range r.failed {
		worked := slices.ContainsFunc(items, func(it Item) bool {
			return slices.ContainsFunc(t.Needs, func(p exercise.Purpose) bool { return slices.Contains(it.Purposes, p) })
		})
		if name := lower(t.Name); worked && !slices.Contains(again, name) {
			again = append(again, name)
		}
	}
	if len(again) > 0 && r.Limits.Irritability == limit.Calm {
		out = append(out, "Test again after the work what failed before: "+strings.Join(again[:min(2, len(again))], " and ")+".")
	}
	switch opens, closes := quietPhase(items[0].Phase), items[len(items)-1].Phase == "close"; {
	case !opens && len(r.Done) == 0 && !closes:
		out = append(out,
			"Nothing quiet is for this client here: begin and end with a minute of easy breath in whatever shape is comfortable.",
		)
	case !closes:
		out = append(out,
			"Nothing quiet to close with is for this client here: end with a minute of easy breath in whatever shape is comfortable.",
		)
	case !opens && len(r.Done) == 0 && !r.StandingFirst:
		out = append(out,
			"Nothing quiet to open with is for this client here: begin with a minute of easy breath in whatever shape is comfortable.",
		)
	}
	return out
}
