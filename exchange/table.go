package exchange

import (
	"bytes"
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"restbend/app"
	"restbend/core/civil"
	"restbend/core/limit"
	"restbend/formats"
	"restbend/library"
	"restbend/store"
)

// Tables for a spreadsheet (RFC 4180). Text that a spreadsheet would take for a formula
// begins with an apostrophe, which is taken off again on the way in.

// Table is one CSV file.
type Table struct {
	Name string
	Rows [][]string // the first holds the names of the columns
}

// Write writes the table.
func (t Table) Write(w io.Writer) error {
	c := csv.NewWriter(w)
	c.UseCRLF = true
	if err := c.WriteAll(t.Rows); err != nil {
		return err
	}
	return c.Error()
}

// safe is text that no spreadsheet takes for a formula.
func safe(s string) string {
	if s != "" && strings.ContainsRune("=+-@\t\r'", rune(s[0])) {
		return "'" + s
	}
	return s
}

func unsafe(s string) string { return strings.TrimPrefix(s, "'") }

func number(v float64) string {
	if v == 0 {
		return ""
	}
	return strconv.FormatFloat(v, 'f', -1, 64)
}

func whole0(v *int) string {
	if v == nil {
		return ""
	}
	return strconv.Itoa(*v)
}

// clientColumns are those that a table of clients has, and that are read back.
var clientColumns = []string{
	"id",
	"name",
	"birth_year",
	"sex",
	"height_cm",
	"mass_kg",
	"goal",
	"place",
	"minutes",
	"approach",
	"pain_now",
	"goals",
	"conditions",
}

// Clients is the table of clients.
func Clients(all []store.Client) Table {
	t := Table{"clients.csv", [][]string{clientColumns}}
	for _, k := range all {
		c := k.Client
		var goals, conditions []string
		for _, g := range c.Goals {
			goals = append(goals, string(g))
		}
		for _, d := range c.Conditions {
			conditions = append(conditions, d.ID)
		}
		t.Rows = append(t.Rows,
			[]string{
				k.ID,
				safe(c.Name),
				number(float64(c.BirthYear)),
				c.Sex,
				number(c.HeightCM),
				number(c.MassKG),
				safe(c.GoalText),
				string(c.Place),
				number(float64(c.Minutes)),
				string(c.Approach),
				whole0(c.Pain.Now),
				strings.Join(goals, " "),
				strings.Join(conditions, " "),
			},
		)
	}
	return t
}

// Measures is the table of what was measured.
func Measures(all []store.Client) Table {
	t := Table{"measures.csv", [][]string{{"client_id", "client", "on", "measure", "side", "stage", "variant", "value", "holds"}}}
	for _, k := range all {
		for _, m := range k.Client.Measures {
			t.Rows = append(t.Rows,
				[]string{
					k.ID,
					safe(k.Client.Name),
					m.On,
					m.ID,
					m.Side,
					number(float64(m.Stage)),
					m.Variant,
					strconv.FormatFloat(m.Value, 'f', -1, 64),
					number(float64(m.Holds)),
				},
			)
		}
	}
	return t
}

// Records is the table of what was done, one line for each exercise and side.
func Records(names map[string]string, all []store.Record) Table {
	t := Table{
		"records.csv",
		[][]string{
			{
				"client_id",
				"client",
				"on",
				"variant",
				"name",
				"side",
				"sets",
				"repetitions",
				"seconds",
				"best_hold",
				"ended",
				"pain",
				"tighter",
				"pain_before",
				"pain_during",
				"pain_after",
				"hours_to_settle",
			},
		},
	}
	for _, r := range all {
		for _, it := range r.Record.Items {
			pain, settled := "", ""
			if it.Pain != nil {
				pain = strconv.Itoa(it.Pain.Score)
			}
			if f := r.Record.FollowUp; f != nil {
				settled = strconv.FormatFloat(f.HoursToSettle, 'f', -1, 64)
			}
			ended := it.Ended
			if it.Skipped {
				ended = "skipped"
			}
			t.Rows = append(t.Rows,
				[]string{
					r.ClientID,
					safe(names[r.ClientID]),
					r.Record.On,
					it.Variant,
					safe(it.Name),
					it.Side,
					number(float64(it.Sets)),
					number(float64(it.Repetitions)),
					number(it.Seconds),
					number(it.BestHold),
					ended,
					pain,
					it.Tighter,
					whole0(r.Record.Pain.Before),
					whole0(r.Record.Pain.During),
					whole0(r.Record.Pain.After),
					settled,
				},
			)
		}
	}
	return t
}

// Shelf is the table of the library.
func Shelf(l *library.Library) Table {
	t := Table{"library.csv", [][]string{{"variant", "name", "family", "position", "purposes", "equipment", "effort", "dose", "why"}}}
	for _, v := range l.Variants {
		var purposes []string
		for _, p := range v.Purposes {
			purposes = append(purposes, string(p))
		}
		t.Rows = append(t.Rows,
			[]string{
				v.ID,
				safe(v.Name),
				v.Family,
				string(v.Position),
				strings.Join(purposes, " "),
				strings.Join(v.Equipment, " "),
				strconv.FormatFloat(v.Plain().Measured.Demand(), 'f', 1, 64),
				app.DoseWords(v.Studio, nil),
				safe(v.Why),
			},
		)
	}
	return t
}

// Bounds of a table that is read.
const (
	mostTable     = 16 << 20
	mostTableRows = 20000
)

// ReadTable reads a CSV file: UTF-8, with or without a byte order mark, the names of the
// columns in the first line. A mistake is a *Bad with its line.
func ReadTable(name string, b []byte) ([][]string, error) {
	b = bytes.TrimPrefix(b, []byte("\xef\xbb\xbf"))
	switch {
	case len(b) > mostTable:
		return nil, &Bad{name, fmt.Sprintf("it is %d MB large; expected at most %d", len(b)>>20, mostTable>>20)}
	case bytes.HasPrefix(b, []byte("\xff\xfe")), bytes.HasPrefix(b, []byte("\xfe\xff")):
		return nil, &Bad{name, "it is written in UTF-16; expected UTF-8"}
	case !utf8.Valid(b):
		return nil, &Bad{name, "it is not written in UTF-8"}
	case bytes.ContainsRune(b, 0):
		return nil, &Bad{name, "it is no text"}
	}
	r := csv.NewReader(bytes.NewReader(b))
	r.FieldsPerRecord = -1
	var rows [][]string
	for {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		var at *csv.ParseError
		if errors.As(err, &at) {
			return nil, &Bad{
				name,
				fmt.Sprintf(
					"line %d: %s",
					at.Line,
					map[error]string{csv.ErrQuote: "a quotation mark stands alone", csv.ErrBareQuote: "a quotation mark stands within " +
						"a field"}[at.Err],
				),
			}
		}
		if err != nil {
			return nil, &Bad{name, "cannot be read as a table"}
		}
		if rows = append(rows, row); len(rows) > mostTableRows {
			return nil, &Bad{name, fmt.Sprintf("more than %d lines", mostTableRows)}
		}
	}
	if len(rows) < 2 {
		return nil, &Bad{name, "expected the names of the columns and at least one line below"}
	}
	return rows, nil
}

// clientOf reads one line of a table of clients.
func clientOf(columns, row []string, on civil.Day) (limit.Client, error) {
	c := limit.Client{Format: "restbend.client/1"}
	doc := map[string]any{}
	for i, column := range columns {
		if i >= len(row) || strings.TrimSpace(row[i]) == "" {
			continue
		}
		v := strings.TrimSpace(row[i])
		switch column {
		case "id":
		case "name":
			doc["name"] = unsafe(v)
		case "goal":
			doc["goal_text"] = unsafe(v)
		case "birth_year", "minutes", "pain_now":
			n, err := strconv.Atoi(v)
			if err != nil {
				return c, fmt.Errorf("%s: expected a whole number, found %q", column, v)
			}
			if column == "pain_now" {
				doc["pain"] = map[string]any{"now": n}
			} else {
				doc[column] = n
			}
		case "height_cm", "mass_kg":
			n, err := strconv.ParseFloat(strings.Replace(v, ",", ".", 1), 64)
			if err != nil {
				return c, fmt.Errorf("%s: expected a number, found %q", column, v)
			}
			doc[column] = n
		case "goals":
			doc["goals"] = strings.Fields(v)
		case "conditions":
			var all []map[string]any
			for _, id := range strings.Fields(v) {
				all = append(all, map[string]any{"id": id})
			}
			doc["conditions"] = all
		default:
			doc[column] = v
		}
	}
	if doc["name"] == nil {
		return c, errors.New("name: is missing; expected one")
	}
	doc["format"] = c.Format
	b, err := json.Marshal(doc)
	if err != nil {
		return c, err
	}
	if c, err = formats.ReadClient(b, on); err == nil {
		no := false
		c.Screened = &no // a table has no column for what keeps a client safe
	}
	return c, err
}

// lacks says what a table does not carry of its clients, and what follows from that.
func lacks(columns []string, clients []limit.Client) []string {
	if len(clients) == 0 {
		return nil
	}
	out := []string{
		"A table does not carry warning signs, what is borne (floor, kneeling, face down, flat, wrists), details of conditions, " +
			"operations, medicines, tests and measures. Each client in it is kept as “not asked”: nothing is taught until the intake " +
			"has been gone through, and what is not known to be borne is left out. An archive or a client file carries everything.",
	}
	for _, of := range []struct{ column, words string }{{"birth_year", "the year of birth"}, {"conditions", "conditions"},
		{"pain_now", "pain"}, {"height_cm", "the height"}, {"mass_kg", "the weight"}} {
		if !slices.Contains(columns, of.column) {
			out = append(out, "It has no column for "+of.words+" ("+of.column+").")
		}
	}
	var named []string
	for _, c := range clients {
		if len(c.Conditions) > 0 {
			named = append(named, c.Name)
		}
	}
	if len(named) > 0 {
		out = append(out, "Without details, so at their strictest: the conditions of "+strings.Join(named, ", ")+".")
	}
	return out
}

// TakeClients adds the clients of a table; one of the same name and year of birth is there
// already. Where a line is refused nothing is taken, unless Partly.
func TakeClients(ctx context.Context, s *app.Studio, name string, b []byte, o Options) (Report, error) {
	var r Report
	rows, err := ReadTable(name, b)
	if err != nil {
		return r, err
	}
	columns := rows[0]
	for i, c := range columns {
		columns[i] = strings.ToLower(strings.TrimSpace(c))
		if !slices.Contains(clientColumns, columns[i]) {
			return r, &Bad{name, fmt.Sprintf("line 1: there is no column %q; expected some of %s", c, strings.Join(clientColumns, ", "))}
		}
		if slices.Contains(columns[:i], columns[i]) {
			return r, &Bad{name, fmt.Sprintf("line 1: the column %s is there twice", columns[i])}
		}
	}
	all, err := s.Store.Clients(ctx)
	if err != nil {
		return r, err
	}
	type person struct {
		name string
		born int
	}
	there := map[person]bool{}
	for _, k := range all {
		there[person{k.Client.Name, k.Client.BirthYear}] = true
	}
	var clients []limit.Client
	for i, row := range rows[1:] {
		line := i + 2
		if len(row) == 1 && strings.TrimSpace(row[0]) == "" {
			continue
		}
		if len(row) > len(columns) {
			r.refuse(name, line, fmt.Sprintf("%d fields; expected at most %d", len(row), len(columns)))
			continue
		}
		c, err := clientOf(columns, row, s.Today())
		if err == nil {
			err = s.Check(c, s.Today())
		}
		if err != nil {
			var invalid *formats.Invalid
			if errors.As(err, &invalid) {
				err = fmt.Errorf("%s: %s", invalid.Path, invalid.Want)
			}
			r.refuse(name, line, err.Error())
			continue
		}
		who := person{c.Name, c.BirthYear}
		if there[who] {
			r.Same++
			continue
		}
		there[who] = true
		r.Taken++
		clients = append(clients, c)
	}
	r.Lacks = lacks(columns, clients)
	if o.DryRun || len(r.Refused) > 0 && !o.Partly {
		return r, nil
	}
	err = s.Store.Change(ctx, func(t *store.Tx) error {
		for _, c := range clients {
			id, err := t.AddClient(c, s.Now())
			if err != nil {
				return err
			}
			r.New = append(r.New, id)
		}
		return nil
	})
	return r, err
}
