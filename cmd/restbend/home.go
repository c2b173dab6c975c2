package main

import (
	"errors"
	"fmt"
	"io"
	"strings"

	"restbend/app"
	"restbend/core/civil"
	"restbend/core/home"
	"restbend/core/lesson"
	"restbend/formats"
)

type homeCommand struct {
	clientFile
	output
	Records []string `arg:"" optional:"" name:"record" help:"Record files (restbend.record/1): what was done clean may go home."`
	Items   int      `name:"items" help:"How many exercises, 2 to 6." default:"4"`
	Days    int      `name:"days" help:"Days a week, 1 to 7." default:"7"`
}

func (c homeCommand) Run(s streams) error {
	on, err := c.date()
	if err != nil {
		return err
	}
	records, err := readRecords(c.Records, c.Client == "-", s, on)
	if err != nil {
		return err
	}
	j, client, on, err := c.read(s)
	if err != nil {
		return err
	}
	if len(records) > 0 { // what was decided holds at home too
		next, err := j.Next(client, records, on)
		if err != nil {
			return err
		}
		client.Rungs, client.Resting = next.Client.Rungs, next.Client.Resting
	}
	r, err := j.Home(client, records, on, c.Items, c.Days)
	if err != nil {
		return err
	}
	p := j.WithCare(home.Make(r))
	if c.JSON {
		err = printJSON(s.out, p)
	} else {
		printReadiness(s.out, p.Readiness)
		printHome(s.out, p)
	}
	return referred(err, p.Status)
}

// readRecords reads record files; standard input may be named once.
func readRecords(names []string, stdin bool, s streams, on civil.Day) ([]lesson.Record, error) {
	var records []lesson.Record
	for _, name := range names {
		if name == "-" && stdin {
			return nil, &formats.Invalid{Path: "record", Want: "only one file can be read from standard input"}
		}
		stdin = stdin || name == "-"
		b, err := readFile(name, s.in)
		if err != nil {
			return nil, err
		}
		r, err := formats.ReadRecord(b, on)
		var invalid *formats.Invalid
		if errors.As(err, &invalid) {
			return nil, &formats.Invalid{Path: strings.TrimSuffix(name+": "+invalid.Path, ": "), Want: invalid.Want}
		}
		if err != nil {
			return nil, err
		}
		records = append(records, r)
	}
	return records, nil
}

func printHome(w io.Writer, p home.Programme) {
	for _, list := range []struct {
		title string
		items []home.Item
	}{{"At home, about " + fmt.Sprint(p.MinutesADay) + " minutes a day", p.Items}, {"Through the day", p.Micro}} {
		if len(list.items) == 0 {
			continue
		}
		fmt.Fprintln(w, list.title)
		for _, it := range list.items {
			fmt.Fprintf(w, "  %s: %s, %s\n", it.Name, app.DoseWords(it.Dose, it.Sides), app.HomeDays(it))
			fmt.Fprintf(w, "      %s\n      Remember: %s\n", it.SetUp, it.Remember)
			if it.Caution != "" {
				fmt.Fprintf(w, "      With care: %s\n", it.Caution)
			}
		}
	}
	for _, list := range []struct {
		title string
		lines []string
	}{{"Do", p.Do}, {"Not for now", p.DoNot}, {"When to stop", p.StopWhen}, {"When to call", p.CallWhen}, {"", p.Notes}} {
		for _, line := range list.lines {
			fmt.Fprintln(w, strings.TrimPrefix(list.title+": "+line, ": "))
		}
	}
	if p.Status == "ready" {
		fmt.Fprintf(w, "To be looked at again on %s.\n", p.AskAgainOn)
	}
}
