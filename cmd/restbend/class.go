package main

import (
	"errors"
	"fmt"
	"io"
	"strings"

	"restbend/app"
	"restbend/core/civil"
	"restbend/core/class"
	"restbend/core/exercise"
	"restbend/formats"
)

type classCommand struct {
	Clients  []string `arg:"" name:"client" help:"Client files (restbend.client/1), two to twelve; - for standard input."`
	Minutes  int      `help:"Minutes, 5 to 120." default:"30"`
	Place    string   `help:"mat, bed, table, chair, standing or studio." default:"mat"`
	Approach string   `help:"steady, segment, breath or sensing; each client's own when left out."`
	day
	output
}

func (c classCommand) Run(s streams) error {
	on, err := c.date()
	if err != nil {
		return err
	}
	people, err := readClients(c.Clients, s, on)
	if err != nil {
		return err
	}
	j, err := loadJudge()
	if err != nil {
		return err
	}
	for i, p := range people {
		if err := j.Check(p.Client, on); err != nil {
			return inFile(c.Clients[i], err)
		}
	}
	r, err := j.ClassRequest(people, exercise.Place(c.Place), c.Minutes, exercise.Approach(c.Approach), on)
	if err != nil {
		return err
	}
	answer := j.Class(r)
	if c.JSON {
		return referred(printJSON(s.out, answer), answer.Status)
	}
	printClass(s.out, answer)
	fmt.Fprintln(s.out, app.WhenToStop, strings.Join(j.CallWhen(), " "))
	return referred(nil, answer.Status)
}

// inFile puts the name of a file before what is wrong in it.
func inFile(name string, err error) error {
	if invalid := (*formats.Invalid)(nil); errors.As(err, &invalid) {
		return &formats.Invalid{Path: strings.TrimSuffix(name+": "+invalid.Path, ": "), Want: invalid.Want}
	}
	return err
}

// readClients reads client files; standard input may be named once.
func readClients(names []string, s streams, on civil.Day) ([]app.Attendee, error) {
	var out []app.Attendee
	for i, name := range names {
		for _, before := range names[:i] {
			if name == before && name == "-" {
				return nil, &formats.Invalid{Path: "client", Want: "only one file can be read from standard input"}
			}
		}
		b, err := readFile(name, s.in)
		if err != nil {
			return nil, err
		}
		client, err := formats.ReadClient(b, on)
		if err != nil {
			return nil, inFile(name, err)
		}
		out = append(out, app.Attendee{ID: string(b), Client: client})
	}
	return out, nil
}

func printClass(w io.Writer, c class.Class) {
	if len(c.Items) > 0 {
		fmt.Fprintf(w, "%d minutes %s: %s\n", c.MinutesAsked, c.Place.Words(), app.Clock(c.SecondsTotal))
	}
	for _, m := range c.People {
		switch {
		case m.Status == "ready":
			fmt.Fprintf(w, "  %s: %.0f of 100 of a lesson alone\n", m.Name, 100*m.Share)
		default:
			fmt.Fprintf(w, "  %s: not in this class\n", m.Name)
			printReadiness(w, m.Readiness)
		}
		for _, b := range m.Because {
			fmt.Fprintf(w, "      %s\n", b)
		}
	}
	for i, it := range c.Items {
		fmt.Fprintf(w, "%2d  %s, %s\n", i+1, it.Thread, app.Clock(it.Seconds))
		for _, kind := range it.Kinds() {
			var names []string
			for _, v := range kind {
				names = append(names, c.People[v.Person].Name)
			}
			v := kind[0]
			as := ""
			switch {
			case v.Resting:
				as = " (rests)"
			case v.Instead:
				as = " (instead)"
			}
			fmt.Fprintf(w, "      %s%s: %s\n", v.Name, as, strings.Join(names, ", "))
			for _, v := range kind {
				fmt.Fprintf(w, "          %s: %s\n", c.People[v.Person].Name, app.DoseWords(v.Dose, v.Sides))
			}
		}
	}
	for _, n := range c.Notes {
		fmt.Fprintln(w, n)
	}
}
