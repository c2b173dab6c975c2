// Package demo fills a database with one invented studio, played through the
// ordinary calls, with dates counted from today. The same day gives the same
// story every time, but for ids.
package demo

import (
	"bytes"
	"cmp"
	"context"
	_ "embed"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"github.com/goccy/go-yaml"
	"github.com/google/uuid"

	"restbend/app"
	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/formats"
	"restbend/store"
)

//go:embed demo.yaml
var story []byte

type file struct {
	Studio    string       `yaml:"studio"`
	Emergency string       `yaml:"emergency"`
	Owner     string       `yaml:"owner"`
	Clients   []clientFile `yaml:"clients"`
	Classes   []classFile  `yaml:"classes"`
}

type classFile struct {
	Name    string         `yaml:"name"`
	Day     int            `yaml:"day"`
	At      string         `yaml:"at"`
	Minutes int            `yaml:"minutes"`
	Place   exercise.Place `yaml:"place"`
	People  []string       `yaml:"people"` // keys
}

type clientFile struct {
	Key      string         `yaml:"key"`
	Age      int            `yaml:"age"`
	Client   map[string]any `yaml:"client"`
	Measures []measureFile  `yaml:"measures"`
	Screens  []screenFile   `yaml:"screens"`
	Faults   []faultFile    `yaml:"faults"`
	Clock    []clockFile    `yaml:"clock"`
	Sessions []sessionFile  `yaml:"sessions"`
	Planned  []sessionFile  `yaml:"planned"`
}

type screenFile struct {
	ID        string `yaml:"id"`
	Finding   string `yaml:"finding"`
	Side      string `yaml:"side"`
	Sensation string `yaml:"sensation"`
	Moment    string `yaml:"moment"`
	Day       int    `yaml:"day"`
}

type faultFile struct {
	ID  string `yaml:"id"`
	Day int    `yaml:"day"`
}

type clockFile struct {
	Day   int   `yaml:"day"`
	Hours []int `yaml:"hours"` // twelve o'clock first
}

type measureFile struct {
	ID    string  `yaml:"id"`
	Side  string  `yaml:"side"`
	Stage int     `yaml:"stage"`
	Value float64 `yaml:"value"`
	Day   int     `yaml:"day"`
}

type sessionFile struct {
	Day     int               `yaml:"day"`
	At      string            `yaml:"at"`
	Minutes int               `yaml:"minutes"`
	Pain    [2]int            `yaml:"pain"`
	Ended   map[string]string `yaml:"ended"`
	Notes   string            `yaml:"notes"`
	Settled *settledFile      `yaml:"settled"`
	Hurt    *hurtFile         `yaml:"hurt"`    // on the hardest of it
	Tighter string            `yaml:"tighter"` // the side, on the first exercise with sides
}

type hurtFile struct {
	Score int    `yaml:"score"`
	Where string `yaml:"where"`
}

type settledFile struct {
	Hours float64 `yaml:"hours"`
	Kind  string  `yaml:"kind"`
	Next  int     `yaml:"next"`
}

// Fill plays the story into an empty database, all of it or nothing.
func Fill(ctx context.Context, judge *app.Judge, s *store.Store, now time.Time) error {
	return s.Within(ctx, func(s *store.Store) error {
		if err := Begin(ctx, judge, s, now); err != nil {
			return err
		}
		return FillInSteps(ctx, judge, s, now, func(string) {})
	})
}

func read() (f file, err error) {
	if err := yaml.NewDecoder(bytes.NewReader(story), yaml.Strict()).Decode(&f); err != nil {
		return f, fmt.Errorf("demo.yaml: %s", yaml.FormatError(err, false, true))
	}
	return f, nil
}

// Begin makes the studio and its owner, where nobody is there yet.
func Begin(ctx context.Context, judge *app.Judge, s *store.Store, now time.Time) error {
	f, err := read()
	if err != nil {
		return err
	}
	if people, err := s.People(ctx); err != nil || len(people) > 0 {
		return err
	}
	return s.Within(ctx, func(s *store.Store) error {
		if err := s.Change(ctx, func(t *store.Tx) error {
			if err := t.SetSetting("studio", f.Studio); err != nil {
				return err
			}
			// Nobody can sign in with this: no password has this hash.
			_, err := t.AddPerson(store.Person{Name: f.Owner, Login: "owner", Role: "owner", Password: "none"}, now)
			return err
		}); err != nil {
			return err
		}
		studio := app.NewStudio(ctx, judge, s, func() time.Time { return now })
		house := studio.House(ctx)
		house.Emergency = f.Emergency
		return studio.SetHouse(ctx, house)
	})
}

// FillInSteps plays the rest of the story, each client and each class all or nothing, and says
// before each what is next. What is there already is left as it is, so that a filling that was
// interrupted goes on.
func FillInSteps(ctx context.Context, judge *app.Judge, s *store.Store, now time.Time, say func(string)) error {
	f, err := read()
	if err != nil {
		return err
	}
	ids := map[string]string{}
	there, err := s.Clients(ctx)
	if err != nil {
		return err
	}
	for n, c := range f.Clients {
		name, _ := c.Client["name"].(string) // checked when it is read
		if i := slices.IndexFunc(there, func(k store.Client) bool { return k.Client.Name == name }); i >= 0 {
			ids[c.Key] = there[i].ID
			continue
		}
		say(fmt.Sprintf("%s comes next, client %d of %d.", name, n+1, len(f.Clients)))
		if err := s.Within(ctx, func(s *store.Store) error {
			clock := now
			studio := app.NewStudio(ctx, judge, s, func() time.Time { return clock })
			ids[c.Key], err = play(ctx, studio, &clock, now, c)
			return err
		}); err != nil {
			return fmt.Errorf("demo client %s: %w", c.Key, err)
		}
	}
	studio := app.NewStudio(ctx, judge, s, func() time.Time { return now })
	have, err := s.Classes(ctx, "0000-01-01", "9999-12-31")
	if err != nil {
		return err
	}
	for _, k := range f.Classes {
		if slices.ContainsFunc(have, func(c store.Class) bool { return c.Name == k.Name }) {
			continue
		}
		say(fmt.Sprintf("The class %s comes next.", k.Name))
		wish := app.ClassWish{Name: k.Name, Place: k.Place, Minutes: k.Minutes, On: day(now, k.Day), At: k.At}
		for _, key := range k.People {
			wish.Clients = append(wish.Clients, ids[key])
		}
		if _, err := studio.AddClass(ctx, wish); err != nil {
			return fmt.Errorf("demo class %s: %w", k.Name, err)
		}
	}
	return nil
}

func day(now time.Time, offset int) string { return now.AddDate(0, 0, offset).Format(time.DateOnly) }

func play(ctx context.Context, s *app.Studio, clock *time.Time, now time.Time, c clientFile) (string, error) {
	*clock = now
	client, err := c.build(now)
	if err != nil {
		return "", err
	}
	id, err := s.AddClient(ctx, client)
	if err != nil {
		return "", err
	}
	for _, v := range c.Sessions {
		*clock = now.AddDate(0, 0, v.Day)
		pain := v.Pain[0]
		planID, err := s.AddPlan(ctx, id, app.Wish{Minutes: v.Minutes, PainNow: &pain}, day(now, v.Day), v.At)
		if err != nil {
			return "", err
		}
		row, err := s.Store.Plan(ctx, planID)
		if err != nil {
			return "", err
		}
		if _, refused, err := s.KeepMarks(ctx, planID, v.marks(row.Plan, clock.Add(-time.Hour))); err != nil || len(refused) > 0 {
			return "", fmt.Errorf("marks: %w %v", err, refused)
		}
		r, err := s.RecordNow(ctx, planID)
		if err != nil {
			return "", err
		}
		r.On, r.Notes, r.Pain.After = day(now, v.Day), v.Notes, &v.Pain[1]
		recordID, err := s.AddRecord(ctx, planID, r)
		if err != nil {
			return "", err
		}
		if f := v.Settled; f != nil {
			if err := s.FollowUp(ctx, recordID, lesson.FollowUp{HoursToSettle: f.Hours, Kind: f.Kind, PainNextDay: &f.Next}); err != nil {
				return "", err
			}
		}
	}
	*clock = now
	for _, v := range c.Planned {
		if _, err := s.AddPlan(ctx, id, app.Wish{Minutes: v.Minutes}, day(now, v.Day), v.At); err != nil {
			return "", err
		}
	}
	return id, nil
}

// build makes a client of the file's text, as if a client file had been read.
func (c clientFile) build(now time.Time) (limit.Client, error) {
	c.Client["format"] = "restbend.client/1"
	c.Client["birth_year"] = now.Year() - c.Age
	if c.Client["red_flags"] == nil { // asked at intake, none
		c.Client["red_flags"] = []string{}
	}
	var measures []map[string]any
	for _, m := range c.Measures {
		x := map[string]any{"id": m.ID, "value": m.Value, "on": day(now, m.Day)}
		if m.Side != "" {
			x["side"] = m.Side
		}
		if m.Stage != 0 {
			x["stage"] = m.Stage
		}
		measures = append(measures, x)
	}
	var screens []map[string]any
	for _, s := range c.Screens {
		x := map[string]any{"id": s.ID, "finding": s.Finding, "on": day(now, s.Day)}
		for field, v := range map[string]string{"side": s.Side, "sensation": s.Sensation, "moment": s.Moment} {
			if v != "" {
				x[field] = v
			}
		}
		screens = append(screens, x)
	}
	var faults, clock []map[string]any
	for _, f := range c.Faults {
		faults = append(faults, map[string]any{"id": f.ID, "on": day(now, f.Day)})
	}
	for _, k := range c.Clock {
		clock = append(clock, map[string]any{"on": day(now, k.Day), "hours": k.Hours})
	}
	if faults != nil {
		c.Client["faults_seen"] = faults
	}
	if clock != nil {
		c.Client["clock"] = clock
	}
	if screens != nil {
		c.Client["screens"] = screens
	}
	if measures != nil {
		c.Client["measures"] = measures
	}
	if pain, ok := c.Client["pain"].(map[string]any); ok && len(c.Sessions) > 0 { // as it was at intake
		pain["on"] = day(now, c.Sessions[0].Day)
	}
	b, err := json.Marshal(c.Client)
	if err != nil {
		return limit.Client{}, err
	}
	return formats.ReadClient(b, civil.Of(now))
}

// hardestOf is the exercise of a plan that asks the most.
func hardestOf(p plan.Plan) plan.Item {
	return slices.MaxFunc(p.Items, func(a, b plan.Item) int { return cmp.Compare(a.Demand, b.Demand) })
}

// marks are what happened: everything done, but for what the story says of the last set of
// an exercise.
func (v sessionFile) marks(p plan.Plan, at time.Time) []lesson.Mark {
	out := lesson.AllDone(p)
	if len(v.Ended) > 0 && !slices.ContainsFunc(p.Items, func(it plan.Item) bool { return v.Ended[it.Variant] != "" }) {
		hardest := hardestOf(p)
		for _, how := range v.Ended { // the planner chose another exercise than the story knows
			v.Ended = map[string]string{hardest.Variant: how}
		}
	}
	for i := range out {
		m := &out[i]
		m.ID, m.At = uuid.NewString(), at.Add(time.Duration(m.ClockS)*time.Second).Format(time.RFC3339)
		it := p.Items[slices.IndexFunc(p.Items, func(it plan.Item) bool { return it.ID == m.Item })]
		d := it.Dose.On(m.Side)
		if how, ok := v.Ended[it.Variant]; ok && m.Side != "right" && m.Set == len(d.SetSizes()) {
			m.Kind, m.Repetitions, m.Seconds = how, max(1, d.SetSizes()[m.Set-1]/2), d.Hold(0)
			if how == "pain" {
				m.Score, m.Where = &v.Pain[1], "low_back"
			}
		}
		if v.Hurt != nil && it.ID == hardestOf(p).ID && m.Side != "right" && m.Set == len(d.SetSizes()) {
			m.Kind, m.Repetitions, m.Seconds, m.Score, m.Where = "pain", max(
				1,
				d.SetSizes()[m.Set-1]/2,
			), d.Hold(0), &v.Hurt.Score, v.Hurt.Where
		}
	}
	if i := slices.IndexFunc(out, func(m lesson.Mark) bool { return m.Side != "" }); i >= 0 && v.Tighter != "" {
		tight := out[i]
		tight.ID, tight.Kind, tight.Side, tight.Set, tight.Repetitions, tight.Seconds = uuid.NewString(), "tighter", v.Tighter, 0, 0, 0
		out = append(out, tight)
	}
	return out
}
