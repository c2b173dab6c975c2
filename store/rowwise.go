package store

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
)

// Rows as they stand, for moving a whole studio from one place to another.

// Exported are the tables that hold what a studio knows, parents before their children.
// Keys of forms and the state of the database itself are no part of it.
var Exported = []string{
	"settings",
	"clients",
	"client_versions",
	"plans",
	"plan_revisions",
	"records",
	"record_additions",
	"templates",
	"intakes",
	"intake_steps",
	"marks",
	"series",
	"homes",
	"home_revisions",
	"diaries",
	"classes",
	"class_people",
	"courses",
	"consents",
}

// notMoved are settings of this database alone.
var notMoved = []string{"answered_at"}

// Row is one row by column; values are text, whole numbers, numbers or nil.
type Row map[string]any

// Verdicts on a row that is to be taken in.
const (
	Taken   = "taken"
	Same    = "same already"
	Refused = "refused"
)

type columns struct {
	names []string // all but counters that the database makes itself
	key   []string // what tells a row
}

// columnsOf are those of a table.
func columnsOf(ctx context.Context, db reader, table string) (columns, error) {
	var c columns
	rows, err := db.QueryContext(ctx, "SELECT name, type, pk FROM pragma_table_info(?) ORDER BY cid", table)
	if err != nil {
		return c, err
	}
	defer rows.Close()
	for rows.Next() {
		var name, kind string
		var pk int
		if err := rows.Scan(&name, &kind, &pk); err != nil {
			return c, err
		}
		if name == "seq" { // the order in which rows came, which a row keeps by its place in the file
			continue
		}
		c.names = append(c.names, name)
		if pk > 0 {
			c.key = append(c.key, name)
		}
	}
	if len(c.key) == 0 && slices.Contains(c.names, "id") {
		c.key = []string{"id"}
	}
	return c, rows.Err()
}

// Snapshot runs do on the database as it stands at one moment.
func (s *Store) Snapshot(ctx context.Context, do func(*Store) error) error {
	db, ok := s.read.(*sql.DB)
	if !ok {
		return do(s)
	}
	tx, err := db.BeginTx(ctx, &sql.TxOptions{ReadOnly: true})
	if err != nil {
		return fmt.Errorf("reading as a whole: %w", err)
	}
	defer tx.Rollback() // nothing was changed
	return do(&Store{read: tx, queries: s.queries})
}

// EachRow calls a function for the rows of one of Exported, oldest first.
func (s *Store) EachRow(ctx context.Context, table string, do func(Row) error) error {
	if !slices.Contains(Exported, table) {
		return fmt.Errorf("there is no table %q to be moved", table)
	}
	c, err := columnsOf(ctx, s.read, table)
	if err != nil {
		return err
	}
	rows, err := s.read.QueryContext(ctx, "SELECT "+strings.Join(c.names, ", ")+" FROM "+table+" ORDER BY rowid")
	if err != nil {
		return fmt.Errorf("%s: %w", table, err)
	}
	defer rows.Close()
	values := make([]any, len(c.names))
	into := make([]any, len(c.names))
	for i := range values {
		into[i] = &values[i]
	}
	for rows.Next() {
		if err := rows.Scan(into...); err != nil {
			return err
		}
		row := Row{}
		for i, name := range c.names {
			if b, ok := values[i].([]byte); ok {
				values[i] = string(b)
			}
			row[name] = values[i]
		}
		if table == "settings" && slices.Contains(notMoved, fmt.Sprint(row["key"])) {
			continue
		}
		if err := do(row); err != nil {
			return err
		}
	}
	return rows.Err()
}

// ErrKept ends a taking in that is to change nothing.
var ErrKept = errors.New("nothing was changed")

// Taker takes rows in, in one transaction.
type Taker struct {
	ctx     context.Context
	tx      *sql.Tx
	columns map[string]columns
}

// TakeIn runs do in one transaction that is kept only where do ends without an error.
func (s *Store) TakeIn(ctx context.Context, do func(*Taker) error) error {
	return s.begin(ctx, func(tx *sql.Tx) error { return do(&Taker{ctx, tx, map[string]columns{}}) })
}

// Take takes a row in, if there is none of its key; one that is there and differs is
// refused and stays as it is, with the field that differs.
func (t *Taker) Take(table string, row Row) (verdict, why string, err error) {
	c, known := t.columns[table]
	if !known {
		if !slices.Contains(Exported, table) {
			return Refused, fmt.Sprintf("there is no table %q", table), nil
		}
		if c, err = columnsOf(t.ctx, t.tx, table); err != nil {
			return "", "", err
		}
		t.columns[table] = c
	}
	for name := range row {
		if !slices.Contains(c.names, name) {
			return Refused, fmt.Sprintf("%s is no field of %s", name, table), nil
		}
	}
	args := make([]any, len(c.names))
	for i, name := range c.names {
		v, given := row[name]
		if !given {
			return Refused, fmt.Sprintf("%s is missing", name), nil
		}
		if args[i], err = plain(v); err != nil {
			return Refused, fmt.Sprintf("%s: %s", name, err), nil
		}
	}
	var where []string
	var key []any
	for _, name := range c.key {
		where = append(where, name+" = ?")
		key = append(key, args[slices.Index(c.names, name)])
	}
	there := make([]any, len(c.names))
	into := make([]any, len(c.names))
	for i := range there {
		into[i] = &there[i]
	}
	err = t.tx.QueryRowContext(
		t.ctx,
		"SELECT "+strings.Join(c.names, ", ")+" FROM "+table+" WHERE "+strings.Join(where, " AND "),
		key...).Scan(
		into...)
	switch {
	case err == nil:
		for i, name := range c.names {
			if b, ok := there[i].([]byte); ok {
				there[i] = string(b)
			}
			if fmt.Sprint(there[i]) != fmt.Sprint(args[i]) {
				return Refused, fmt.Sprintf("there is one with another %s, which stays as it is", name), nil
			}
		}
		return Same, "", nil
	case !errors.Is(err, sql.ErrNoRows):
		return "", "", fmt.Errorf("%s: %w", table, err)
	}
	marks := strings.TrimSuffix(strings.Repeat("?, ", len(args)), ", ")
	if _, err := t.tx.ExecContext(
		t.ctx,
		"INSERT INTO "+table+" ("+strings.Join(c.names, ", ")+") VALUES ("+marks+")",
		args...); err != nil {
		why := err.Error()
		switch {
		case strings.Contains(why, "FOREIGN KEY"):
			return Refused, "what it belongs to is not there", nil
		case strings.Contains(why, "constraint"), strings.Contains(why, "datatype"), strings.Contains(why, "cannot store"):
			return Refused, "it does not fit: " + why, nil
		}
		return "", "", fmt.Errorf("%s: %w", table, err)
	}
	return Taken, "", nil
}

// plain is a value as the database holds it.
func plain(v any) (any, error) {
	switch x := v.(type) {
	case nil, string, int64, float64:
		return x, nil
	case json.Number:
		if n, err := x.Int64(); err == nil {
			return n, nil
		}
		return x.Float64()
	}
	return nil, fmt.Errorf("expected text or a number, found %T", v)
}

// ReadRow reads one line as EachRow's rows are written in JSON.
func ReadRow(line []byte) (Row, error) {
	d := json.NewDecoder(bytes.NewReader(line))
	d.UseNumber()
	var row Row
	if err := d.Decode(&row); err != nil {
		return nil, errors.New("it is no JSON object")
	}
	if _, err := d.Token(); err != io.EOF {
		return nil, errors.New("there is more than one value on it")
	}
	if row == nil {
		return nil, errors.New("it is no JSON object")
	}
	return row, nil
}

// SchemaVersion is the newest change of schema that the database has had.
func (s *Store) SchemaVersion(ctx context.Context) (v int64, err error) {
	err = s.read.QueryRowContext(ctx, "SELECT max(version_id) FROM goose_db_version WHERE is_applied").Scan(&v)
	return v, err
}
