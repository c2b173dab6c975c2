package main

import (
	"fmt"
	"io"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/progress"
)

type nextCommand struct {
	clientFile
	output
	Records []string `arg:"" name:"record" help:"Record files (restbend.record/1), in any order; - for standard input."`
}

func (c nextCommand) Run(s streams) error {
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
	answer, err := j.Next(client, records, on)
	if err != nil {
		return err
	}
	if c.JSON {
		return referred(printJSON(s.out, answer), answer.Status)
	}
	printReadiness(s.out, answer.Readiness)
	printNext(s.out, answer, j)
	return referred(nil, answer.Status)
}

// stepWords name a step.
var stepWords = map[string]string{
	progress.StepUp:   "step up",
	progress.Hold:     "hold",
	progress.StepBack: "step back",
	progress.Refer:    "stop and refer",
}

func printNext(w io.Writer, a progress.Answer, j *app.Judge) {
	name := func(id string) string {
		if v := j.Library.Variant(id); v != nil {
			return v.Name
		}
		return id
	}
	for _, n := range a.Notes {
		fmt.Fprintln(w, n)
	}
	for _, d := range a.Decisions {
		of := name(d.Variant)
		if d.Side != "" {
			of += ", " + d.Side
		}
		fmt.Fprintf(w, "%-14s  %s\n", stepWords[d.Step], of)
		if d.To.Dose != nil && d.Step != progress.Refer {
			to := app.DoseWords(*d.To.Dose, nil)
			if with := app.WithWords(nil, d.To.Settings, app.Metric); with != "" && d.To.Settings != (exercise.Settings{}) {
				to += ", " + with
			}
			if d.To.Variant != d.Variant {
				to = name(d.To.Variant) + ", " + to
			}
			fmt.Fprintf(w, "                next %s\n", to)
		}
		for _, b := range d.Because {
			fmt.Fprintf(w, "                %s\n", b)
		}
		if d.WaitingFor != "" {
			fmt.Fprintf(w, "                waiting for %s\n", d.WaitingFor)
		}
	}
}
