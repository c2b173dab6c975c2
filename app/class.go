package app

import (
	"fmt"
	"time"

	"restbend/core/class"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/formats"
)

// Attendee is one who comes to a class.
type Attendee struct {
	ID     string // so that nobody is named twice
	Client limit.Client
}

// ClassRequest is what is asked of a class of these clients.
func (j *Judge) ClassRequest(people []Attendee, place exercise.Place, minutes int, approach exercise.Approach, on time.Time) (class.Request, error) {
	r := class.Request{Place: place, Minutes: minutes}
	if minutes < 5 || minutes > 120 {
		return r, &formats.Invalid{Path: "minutes", Want: fmt.Sprintf("expected 5 to 120, found %d", minutes)}
	}
	for _, p := range people {
		if p.Client.Name == "" {
			p.Client.Name = fmt.Sprintf("Client %d", len(r.People)+1)
		}
		q, _, err := j.Request(p.Client, Wish{Place: place, Minutes: minutes, Approach: approach}, on)
		if err != nil {
			return r, err
		}
		r.People = append(r.People, class.Person{ID: p.ID, Name: p.Client.Name, Request: q})
	}
	if err := r.Check(); err != nil {
		return r, &formats.Invalid{Path: "clients", Want: err.Error()}
	}
	return r, nil
}

// Class finds the class that was asked for.
func (j *Judge) Class(r class.Request) class.Class { return class.Best(r, j.planLibrary) }
