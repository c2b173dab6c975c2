package main

import (
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	"restbend/app"
	"restbend/core/civil"
	"restbend/core/course"
	"restbend/core/exercise"
	"restbend/formats"
)

type courseCommand struct {
	clientFile
	output
	Records  []string          `arg:"" optional:"" name:"record" help:"Record files, from which the weeks begin."`
	Weeks    int               `help:"How many weeks, 1 to 26." default:"6"`
	Sessions int               `name:"sessions-per-week" help:"Lessons a week, 1 to 7." default:"2"`
	HomeDays int               `name:"home-days" help:"Home days a week, 0 to 7." default:"3"`
	From     string            `help:"The first day, YYYY-MM-DD; today when left out." placeholder:"DATE"`
	Off      []string          `help:"Days of the week without anything, such as --off sun,wed."`
	Also     map[string]string `help:"What else is done, such as --also 'gait=mon,wed,fri'." placeholder:"PURPOSE=DAYS" mapsep:";"`
	Minutes  int               `help:"Minutes of a lesson, 5 to 120; the client's own when left out."`
}

func (c courseCommand) Run(s streams) error {
	on, err := c.date()
	if err != nil {
		return err
	}
	wish := app.CourseWish{Weeks: c.Weeks, Sessions: c.Sessions, HomeDays: c.HomeDays, Minutes: c.Minutes}
	if c.From != "" {
		if wish.From, err = civil.Parse(c.From); err != nil {
			return &formats.Invalid{Path: "--from", Want: fmt.Sprintf("%q is not a date; expected YYYY-MM-DD", c.From)}
		}
	}
	if wish.Off, err = weekdays("--off", c.Off); err != nil {
		return err
	}
	wish.Also = map[exercise.Purpose][]time.Weekday{}
	for purpose, days := range c.Also {
		if wish.Also[exercise.Purpose(purpose)], err = weekdays("--also", strings.Split(days, ",")); err != nil {
			return err
		}
	}
	records, err := readRecords(c.Records, c.Client == "-", s, on)
	if err != nil {
		return err
	}
	j, client, on, err := c.read(s)
	if err != nil {
		return err
	}
	answer, err := j.Course(client, records, wish, on)
	if err != nil {
		return err
	}
	if c.JSON {
		return referred(printJSON(s.out, answer), answer.Status)
	}
	printReadiness(s.out, answer.Readiness)
	printCourse(s.out, answer)
	return referred(nil, answer.Status)
}

// weekdays reads names of days, such as sun.
func weekdays(flag string, names []string) ([]time.Weekday, error) {
	var out []time.Weekday
	for _, name := range names {
		i := slices.IndexFunc(
			[]string{"sun", "mon", "tue", "wed", "thu", "fri", "sat"},
			func(d string) bool { return strings.HasPrefix(strings.ToLower(strings.TrimSpace(name)), d) },
		)
		if i < 0 {
			return nil, &formats.Invalid{Path: flag, Want: fmt.Sprintf("%q is no day of the week; expected mon to sun", name)}
		}
		out = append(out, time.Weekday(i))
	}
	return out, nil
}

func printCourse(w io.Writer, c course.Course) {
	for _, week := range c.Weeks {
		easy := ""
		if week.Easy {
			easy = ", an easy one"
		}
		fmt.Fprintf(w, "Week %d%s, load %.0f a lesson\n", week.Week, easy, week.Load)
		for _, d := range week.Days {
			on, _ := civil.Parse(d.On)
			line := fmt.Sprintf("  %s  %s", on.Format("Mon 2 Jan"), d.Kind)
			switch {
			case d.Missed:
				line += ", missed"
			case d.Moved:
				line += ", moved here"
			case d.Taught:
				line += ", taught"
			}
			if d.Minutes > 0 {
				line += fmt.Sprintf(", %d min", d.Minutes)
			}
			fmt.Fprintln(w, line)
			for _, it := range d.Items {
				fresh := ""
				if it.New {
					fresh = ", new"
				}
				fmt.Fprintf(w, "      %s, %s%s\n", it.Name, app.DoseWords(it.Dose, it.Sides), fresh)
			}
		}
		for _, p := range slices.Sorted(keys(week.Wanted)) {
			fmt.Fprintf(w, "  %s %d of %d\n", strings.ReplaceAll(p, "_", " "), week.Tally[p], week.Wanted[p])
		}
		for _, step := range week.Comes {
			what := step.Name
			if step.Words != "" {
				what += ", " + step.Words
			}
			fmt.Fprintf(w, "  comes, %s: %s\n", step.If, what)
		}
	}
	if c.ReviewOn != "" {
		fmt.Fprintf(w, "Review on %s.\n", c.ReviewOn)
	}
	for _, n := range c.Notes {
		fmt.Fprintln(w, n)
	}
}

// keys are those of a count, in no order.
func keys(of map[string]int) func(func(string) bool) {
	return func(yield func(string) bool) {
		for k := range of {
			if !yield(k) {
				return
			}
		}
	}
}
