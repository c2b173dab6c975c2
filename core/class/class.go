// Package class finds one session for several clients in one room: one thread of
// exercises on one clock, and for each person a version that their own limits allow.
//
// Package plan says what a session is worth to a person. A person's share is what the class is
// worth to them, as a part of what their own best plan of the same minutes is worth. First the
// smallest share is made as large as possible, then the sum. Whatever weights the people are given, no class can have a smallest
// share above the weighted mean of the class that is best for those weights, which package
// optimize bounds; the weights are moved until that bound is low.
package class

import (
	"fmt"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/optimize"
	"restbend/core/plan"
	"restbend/core/readiness"
)

// Few and Many are the fewest and the most people that make a class.
const (
	Few  = 2
	Many = optimize.MostShares
)

// Versions is how many different versions a teacher can show in one item (common practice).
const Versions = 3

// Person is one participant, with the request for a session of their own.
type Person struct {
	ID      string // so that nobody comes twice; may be empty
	Name    string
	Request plan.Request
	Against *plan.Request // the request whose best session the share is measured by, where it is not Request
}

// Request is what is asked of a class: everybody's place and minutes are those of the class.
type Request struct {
	People  []Person
	Place   exercise.Place
	Minutes int
}

// Class is one session for several.
type Class struct {
	Format       string         `json:"format"`
	Status       string         `json:"status"` // of package plan
	Place        exercise.Place `json:"place"`
	MinutesAsked int            `json:"minutes_asked"`
	SecondsTotal float64        `json:"seconds_total"` // the sum of those of the items
	People       []Member       `json:"people"`
	Items        []Item         `json:"items"`
	Equipment    map[string]int `json:"equipment"` // what must be laid out
	Notes        []string       `json:"notes"`
	// AtMost is the smallest share, 0 to 1, that no class of these people and minutes can
	// be above, as is proven.
	AtMost  float64 `json:"at_most"`
	Library string  `json:"library,omitempty"`
}

// Member is what the class is to one person.
type Member struct {
	Person    int                 `json:"person"`
	Name      string              `json:"name"`
	Status    string              `json:"status"`
	Share     float64             `json:"share"` // of the own best plan, 0 to 1
	Place     exercise.Place      `json:"place"` // where they work, if it is not the place of the class
	Because   []string            `json:"because"`
	Plan      plan.Plan           `json:"-"` // their own session, as they do it in the class
	Readiness readiness.Readiness `json:"readiness"`
}

// Item is one exercise of the thread.
type Item struct {
	Thread   string           `json:"thread"`
	Phase    exercise.Phase   `json:"phase"`
	Purpose  exercise.Purpose `json:"purpose"`
	Seconds  float64          `json:"seconds"` // changes, rests and what is over included
	Versions []Version        `json:"versions"`
}

// Version is what one person does in an item.
type Version struct {
	Person      int                   `json:"person"`
	Variant     string                `json:"variant"`
	Name        string                `json:"name"`
	Family      string                `json:"family"`
	Position    exercise.Position     `json:"position"`
	Sides       []string              `json:"sides"`
	Dose        exercise.Dose         `json:"dose"`
	Settings    exercise.Settings     `json:"settings"`
	Adaptations []exercise.Adaptation `json:"adaptations"`
	Verdict     exercise.Verdict      `json:"verdict"`
	Quantities  exercise.Quantities   `json:"quantities"`
	Instead     bool                  `json:"instead"` // another exercise than the thread's
	Resting     bool                  `json:"resting"` // rests and breathes while the others work
	Because     []string              `json:"because"`
}

// Kind names what is seen of a version: who has the same kind does the same.
func (v Version) Kind() string { return kindOf(v.Variant, v.Adaptations) }

func kindOf(variant string, adapted []exercise.Adaptation) string {
	for _, a := range adapted {
		variant += "+" + a.ID
	}
	return variant
}

// Kinds are the versions on show in an item, the one that most people do first, each with
// those who do it.
func (it Item) Kinds() [][]Version {
	var out [][]Version
	for _, v := range it.Versions {
		i := slices.IndexFunc(out, func(k []Version) bool { return k[0].Kind() == v.Kind() })
		if i < 0 {
			i, out = len(out), append(out, nil)
		}
		out[i] = append(out[i], v)
	}
	slices.SortFunc(out, func(a, b []Version) int {
		if n := len(b) - len(a); n != 0 {
			return n
		}
		return strings.Compare(a[0].Kind(), b[0].Kind())
	})
	return out
}

// Check refuses a request with too few people, too many, or the same person twice.
func (r Request) Check() error {
	if n := len(r.People); n < Few || n > Many {
		return fmt.Errorf("clients: expected %d to %d for a class, found %d", Few, Many, n)
	}
	for i, p := range r.People {
		for _, q := range r.People[:i] {
			if p.ID != "" && p.ID == q.ID {
				return fmt.Errorf("clients: %s is named twice; expected everybody once", p.Name)
			}
		}
	}
	return nil
}

// Best finds the class; the same request always gives the same one.
func Best(r Request, lib plan.Library) Class {
	c := Class{Format: "restbend.class/1", Status: plan.Ready, Place: r.Place, MinutesAsked: r.Minutes, People: []Member{},
		Items: []Item{}, Equipment: map[string]int{}, Notes: []string{}, Library: lib.Hash}
	s := gather(r, lib, &c)
	if len(s.here) > 0 && !slices.ContainsFunc(s.here, func(a *attending) bool { return !a.beside }) {
		r.Place = "chair"
		seated := Best(r, lib)
		seated.Notes = append([]string{"Nobody here gets down to the floor: all work on chairs."}, seated.Notes...)
		return seated
	}
	for again := true; again; { // whoever would get down and up too often sits beside the others instead
		if len(s.here) < Few {
			c.Status = plan.Infeasible
			for _, status := range []string{plan.Ask, plan.Stop, plan.Refer} { // the strictest of those who are left out
				if slices.ContainsFunc(c.People, func(m Member) bool { return m.Status == status }) {
					c.Status = status
				}
			}
			c.Notes = append(c.Notes, "That leaves fewer than two people, which is no class.")
			return c
		}
		if !s.search() {
			c.Status = plan.Infeasible
			c.Notes = append(c.Notes, s.nothing())
			return c
		}
		again = s.seated(&c)
	}
	s.write(&c)
	return c
}
