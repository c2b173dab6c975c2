package store

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"restbend/core/civil"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/plan"
)

// Client is a client's row.
type Client struct {
	ID      string
	Version int
	Client  limit.Client
	Created string
	Updated string
	Gone    string // the moment it was taken away; empty while it is there
}

func scanClient(r row) (Client, error) {
	var c Client
	var name, doc string
	if err := r.Scan(&c.ID, &c.Version, &name, &doc, &c.Created, &c.Updated, &c.Gone); err != nil {
		return c, err
	}
	if err := json.Unmarshal([]byte(doc), &c.Client); err != nil {
		return c, err
	}
	c.Client = stampDays(c.Client, c.Updated)
	return c, nil
}

// stampDays gives pain and pressure that were saved before they had days the day on which
// they were saved.
func stampDays(c limit.Client, updated string) limit.Client {
	t, err := time.Parse(time.RFC3339Nano, updated)
	if err != nil {
		return c
	}
	on := civil.Of(t.Local()).String()
	if c.Pain.Now != nil && c.Pain.On == "" {
		c.Pain.On = on
	}
	if c.RestingPressure != "" && c.RestingPressureOn == "" {
		c.RestingPressureOn = on
	}
	return c
}

// Clients lists all clients by name.
func (s *Store) Clients(ctx context.Context) ([]Client, error) {
	return list(ctx, s, scanClient, "clients", viewer(ctx), viewer(ctx))
}

// Client finds one client; ErrNotFound when there is none.
func (s *Store) Client(ctx context.Context, id string) (Client, error) {
	return single(ctx, s, scanClient, "client", id, viewer(ctx), viewer(ctx))
}

// AddClient saves a new client and returns its id.
func (t *Tx) AddClient(c limit.Client, now time.Time) (string, error) {
	doc, err := json.Marshal(c)
	if err != nil {
		return "", err
	}
	id := NewID()
	if _, err = t.exec("add_client", id, c.Name, string(doc), stamp(now), stamp(now)); err != nil {
		return "", err
	}
	if who := viewer(t.ctx); who != "" {
		err = t.WorkWith(who, id, true)
	}
	return id, err
}

// ChangeClient saves a client over the version it was read at and keeps that
// version; ErrChanged when someone else was faster.
func (t *Tx) ChangeClient(id string, version int, c limit.Client, now time.Time) error {
	doc, err := json.Marshal(c)
	if err != nil {
		return err
	}
	if err := t.one("keep_client_version", id); err != nil {
		return err
	}
	return t.one("change_client", c.Name, string(doc), stamp(now), id, version)
}

// ClientWas is a client as it stood at an earlier version, before it was changed.
func (s *Store) ClientWas(ctx context.Context, id string, version int) (limit.Client, error) {
	return single(ctx, s, func(r row) (c limit.Client, err error) {
		var doc string
		if err = r.Scan(&doc); err == nil {
			err = json.Unmarshal([]byte(doc), &c)
		}
		return c, err
	}, "client_version", id, version)
}

// TakeClientAway takes a client off every list, or brings it back; ErrChanged when it
// was so already.
func (t *Tx) TakeClientAway(id string, away bool, now time.Time) error {
	return t.one("take_client_away", goneAt(away, now), id, goneAt(away, now))
}

// TakePlanAway takes a plan that was not taught off every list, or brings it back;
// ErrChanged when it was so already.
func (t *Tx) TakePlanAway(id string, away bool, now time.Time) error {
	return t.one("take_plan_away", goneAt(away, now), id, goneAt(away, now))
}

func goneAt(away bool, now time.Time) string {
	if away {
		return stamp(now)
	}
	return ""
}

// Plan is a plan's row.
type Plan struct {
	ID       string
	ClientID string
	On       string // local date
	At       string // HH:MM, or empty
	State    string // planned or taught
	Revision int
	Plan     plan.Plan
	Client   limit.Client // as it was planned for
	Created  string
	Updated  string
	Gone     string // the moment it was taken away; empty while it is there
}

// Taught says whether the session has been held.
func (p Plan) Taught() bool { return p.State == "taught" }

func scanPlan(r row) (Plan, error) {
	var p Plan
	var doc, client string
	if err := r.Scan(
		&p.ID,
		&p.ClientID,
		&p.On,
		&p.At,
		&p.State,
		&p.Revision,
		&doc,
		&client,
		&p.Created,
		&p.Updated,
		&p.Gone,
	); err != nil {
		return p, err
	}
	if err := json.Unmarshal([]byte(doc), &p.Plan); err != nil {
		return p, fmt.Errorf("plan %s: %w", p.ID, err)
	}
	return p, json.Unmarshal([]byte(client), &p.Client)
}

// Plan finds one plan.
func (s *Store) Plan(ctx context.Context, id string) (Plan, error) {
	return single(ctx, s, scanPlan, "plan", id, viewer(ctx), viewer(ctx))
}

// EveryPlanOf lists a client's plans, also those that were taken away, by day.
func (s *Store) EveryPlanOf(ctx context.Context, clientID string) ([]Plan, error) {
	return list(ctx, s, scanPlan, "every_plan_of", clientID)
}

// PlansOn lists the plans of a local date in the order of their times.
func (s *Store) PlansOn(ctx context.Context, date string) ([]Plan, error) {
	return list(ctx, s, scanPlan, "plans_on", date)
}

// PlansOf lists a client's plans, newest first.
func (s *Store) PlansOf(ctx context.Context, clientID string) ([]Plan, error) {
	return list(ctx, s, scanPlan, "plans_of", clientID)
}

// AddPlan saves a new plan with its first revision and returns its id.
func (t *Tx) AddPlan(clientID, on, at string, p plan.Plan, c limit.Client, now time.Time) (string, error) {
	doc, err := json.Marshal(p)
	if err != nil {
		return "", err
	}
	client, err := json.Marshal(c)
	if err != nil {
		return "", err
	}
	id := NewID()
	if _, err := t.exec("add_plan", id, clientID, on, at, string(doc), string(client), stamp(now), stamp(now)); err != nil {
		return "", err
	}
	_, err = t.exec("keep_revision", id, 1, string(doc), "planned", stamp(now))
	return id, err
}

// ChangePlan saves a new revision after the one that was read; what names the
// change. ErrChanged when someone else was faster or the plan was taught.
func (t *Tx) ChangePlan(id string, revision int, p plan.Plan, what string, now time.Time) error {
	doc, err := json.Marshal(p)
	if err != nil {
		return err
	}
	if err := t.one("change_plan", revision+1, string(doc), stamp(now), id, revision); err != nil {
		return err
	}
	if _, err := t.exec("drop_later_revisions", id, revision); err != nil {
		return err
	}
	_, err = t.exec("keep_revision", id, revision+1, string(doc), what, stamp(now))
	return err
}

// PlanFor keeps with a plan the client as it is planned for from now on.
func (t *Tx) PlanFor(id string, c limit.Client) error {
	doc, err := json.Marshal(c)
	if err != nil {
		return err
	}
	return t.one("plan_for", string(doc), id)
}

// StepTo makes another revision current: the one before, to take a change back,
// or the one after, to make it again. ErrNotFound when there is none.
func (t *Tx) StepTo(id string, revision, to int, now time.Time) error {
	var doc, what string
	if err := t.tx.QueryRowContext(t.ctx, t.s.query("revision"), id, to).Scan(&doc, &what); err != nil {
		return ErrNotFound
	}
	return t.one("change_plan", to, doc, stamp(now), id, revision)
}

// SchedulePlan gives a plan its local date and time; both may be empty.
func (t *Tx) SchedulePlan(id, on, at string, now time.Time) error {
	return t.one("schedule_plan", on, at, stamp(now), id)
}

// Template is a plan kept under a name, for other days and clients.
type Template struct {
	ID, Name string
	Plan     plan.Plan
	Created  string
}

func scanTemplate(r row) (Template, error) {
	var t Template
	var doc string
	if err := r.Scan(&t.ID, &t.Name, &doc, &t.Created); err != nil {
		return t, err
	}
	return t, json.Unmarshal([]byte(doc), &t.Plan)
}

// Templates lists all templates by name.
func (s *Store) Templates(ctx context.Context) ([]Template, error) {
	return list(ctx, s, scanTemplate, "templates")
}

// Template finds one template, also one that was forgotten.
func (s *Store) Template(ctx context.Context, id string) (Template, error) {
	return single(ctx, s, scanTemplate, "template", id)
}

// AddTemplate keeps a plan under a name; a template of that name is replaced.
func (t *Tx) AddTemplate(name string, p plan.Plan, now time.Time) error {
	doc, err := json.Marshal(p)
	if err != nil {
		return err
	}
	_, err = t.exec("add_template", NewID(), name, string(doc), stamp(now))
	return err
}

// ForgetTemplate takes a template away from the list, or brings it back.
func (t *Tx) ForgetTemplate(id string, forgotten bool) error {
	return t.one("forget_template", forgotten, id)
}

// LastChange names the change that made the revision; empty for the first.
func (s *Store) LastChange(ctx context.Context, id string, revision int) string {
	var doc, what string
	if revision < 2 || s.read.QueryRowContext(ctx, s.query("revision"), id, revision).Scan(&doc, &what) != nil {
		return ""
	}
	return what
}

// NextChange names the change that could be made again; empty when there is none.
func (s *Store) NextChange(ctx context.Context, id string, revision int) string {
	return s.LastChange(ctx, id, revision+1)
}

// Record is a record's row with what was added later: corrections applied, and what they
// changed beside it.
type Record struct {
	ID          string
	PlanID      string
	ClientID    string
	On          string
	Record      lesson.Record // as it stands now
	Corrections []Correction  // in the order in which they came
	Notes       []Note
	Created     string
}

// Correction is what somebody put right in a record afterwards, with the record as they
// left it.
type Correction struct {
	By     string        `json:"by"`
	Why    string        `json:"why"`
	Record lesson.Record `json:"record"`
	Was    lesson.Record `json:"-"` // before it
	At     string        `json:"-"`
}

// Note is a sentence added to a record afterwards.
type Note struct {
	By   string `json:"by"`
	Text string `json:"text"`
	At   string `json:"-"`
}

func scanRecord(r row) (Record, error) {
	var out Record
	var doc string
	if err := r.Scan(&out.ID, &out.PlanID, &out.ClientID, &out.On, &doc, &out.Created); err != nil {
		return out, err
	}
	return out, json.Unmarshal([]byte(doc), &out.Record)
}

// Record finds one record.
func (s *Store) Record(ctx context.Context, id string) (Record, error) {
	r, err := single(ctx, s, scanRecord, "record", id, viewer(ctx), viewer(ctx))
	if err != nil {
		return r, err
	}
	return r, s.complete(ctx, &r)
}

// RecordOfPlan finds the record of a plan.
func (s *Store) RecordOfPlan(ctx context.Context, planID string) (Record, error) {
	r, err := single(ctx, s, scanRecord, "record_of_plan", planID)
	if err != nil {
		return r, err
	}
	return r, s.complete(ctx, &r)
}

// RecordsOf lists a client's records, oldest first.
func (s *Store) RecordsOf(ctx context.Context, clientID string) ([]Record, error) {
	return s.completed(ctx, "records_of", clientID)
}

// RecordsBetween lists all records from one local date to another, newest
// first.
func (s *Store) RecordsBetween(ctx context.Context, from, to string) ([]Record, error) {
	return s.completed(ctx, "records_between", from, to)
}

func (s *Store) completed(ctx context.Context, name string, args ...any) ([]Record, error) {
	records, err := list(ctx, s, scanRecord, name, args...)
	if err != nil {
		return nil, err
	}
	of := make([]*Record, len(records))
	for i := range records {
		of[i] = &records[i]
	}
	return records, s.complete(ctx, of...)
}

// complete lays what was added over records, in the order in which it came.
func (s *Store) complete(ctx context.Context, records ...*Record) error {
	at := map[string]*Record{}
	ids := make([]string, len(records))
	for i, r := range records {
		at[r.ID], ids[i] = r, r.ID
	}
	which, err := json.Marshal(ids)
	if err != nil || len(ids) == 0 {
		return err
	}
	type addition struct{ of, kind, doc, at string }
	added, err := list(ctx, s, func(r row) (addition, error) {
		var a addition
		return a, r.Scan(&a.of, &a.kind, &a.doc, &a.at)
	}, "additions_of", string(which))
	if err != nil {
		return err
	}
	for _, a := range added {
		if err := at[a.of].add(a.kind, a.doc, a.at); err != nil {
			return fmt.Errorf("record %s: %w", a.of, err)
		}
	}
	return nil
}

// add lays one addition over a record.
func (r *Record) add(kind, doc, at string) (err error) {
	switch kind {
	case "follow_up":
		r.Record.FollowUp = &lesson.FollowUp{}
		err = json.Unmarshal([]byte(doc), r.Record.FollowUp)
	case "note":
		n := Note{At: at}
		err = json.Unmarshal([]byte(doc), &n)
		r.Notes = append(r.Notes, n)
	case "correction":
		k := Correction{At: at, Was: r.Record}
		err = json.Unmarshal([]byte(doc), &k)
		k.Record.FollowUp = r.Record.FollowUp
		r.Record, r.Corrections = k.Record, append(r.Corrections, k)
	}
	return err
}

// AddRecord saves what happened in a planned session and marks it taught.
func (t *Tx) AddRecord(p Plan, r lesson.Record, now time.Time) (string, error) {
	doc, err := json.Marshal(r)
	if err != nil {
		return "", err
	}
	if err := t.one("teach_plan", stamp(now), p.ID); err != nil {
		return "", err
	}
	id := NewID()
	_, err = t.exec("add_record", id, p.ID, p.ClientID, r.On, string(doc), stamp(now))
	return id, err
}

// AddToRecord adds a follow_up (lesson.FollowUp), a note (Note) or a correction
// (Correction) to a record.
func (t *Tx) AddToRecord(recordID, kind string, v any, now time.Time) error {
	doc, err := json.Marshal(v)
	if err != nil {
		return err
	}
	_, err = t.exec("add_to_record", NewID(), recordID, kind, string(doc), stamp(now))
	return err
}

// Setting reads a setting; empty when it was never set.
func (s *Store) Setting(ctx context.Context, key string) string {
	var v string
	_ = s.read.QueryRowContext(ctx, s.query("setting"), key).Scan(&v) // a setting never made is empty
	return v
}

// SetSetting saves a setting.
func (t *Tx) SetSetting(key, value string) error {
	_, err := t.exec("set_setting", key, value)
	return err
}
