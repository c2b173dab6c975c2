package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"restbend/core/civil"
	"restbend/core/limit"
	"restbend/formats"
	"restbend/store"
)

// What a user does to a client, each in one transaction: a new client or a changed one
// from the intake, the answers at the start of a visit, a rule loosened, a tap on a map
// of the back.

// Intake is a filled-in form: of a new client, or over the version of one that it was
// opened with. A draft that was kept of it goes when it is saved.
type Intake struct {
	Draft, ID string
	Version   int
	Client    limit.Client
}

// SaveIntake makes a client of an intake, or changes one, and returns the client's id. A
// refusal is a *formats.Invalid. What was changed in another window in the meantime stays
// where the form leaves it as it was; where both say something else it is a *Clash, and
// nothing is saved.
func (s *Studio) SaveIntake(ctx context.Context, in Intake) (string, error) {
	if in.ID == "" {
		return s.saveOver(ctx, in, nil)
	}
	row, err := s.Store.Client(ctx, in.ID)
	if err != nil {
		return "", err
	}
	if row.Version != in.Version {
		base, err := s.Store.ClientWas(ctx, in.ID, in.Version)
		if err != nil {
			return "", err
		}
		if in.Client, err = Merge(base, in.Client, row.Client); err != nil {
			return "", err
		}
	}
	return s.saveOver(ctx, in, &row)
}

// saveOver checks and saves an intake over the client as it was read, or as a new one
// where nothing was read. It returns store.ErrChanged if the client was changed since.
func (s *Studio) saveOver(ctx context.Context, in Intake, was *store.Client) (string, error) {
	var before *limit.Client
	if was != nil {
		before = &was.Client
		in.Client = keepWarnings(in.Client, was.Client)
	}
	if err := s.checkWhole(in.Client, before); err != nil {
		return "", err
	}
	in.Client.Conditions = slices.Clone(in.Client.Conditions)
	for i, k := range in.Client.Conditions { // so that time goes by by itself
		in.Client.Conditions[i] = s.Library.Conditions.Condition(k.ID).Dated(k, s.Today())
	}
	in.Client = s.dated(in.Client, was)
	return s.Store.Make(ctx, func(t *store.Tx) (id string, err error) {
		if in.Draft != "" {
			if err := t.DropIntake(in.Draft); err != nil {
				return "", err
			}
		}
		if was == nil {
			return t.AddClient(in.Client, s.Now())
		}
		return was.ID, t.ChangeClient(was.ID, was.Version, in.Client, s.Now())
	})
}

// AddClient checks and saves a new client. A refusal is a *formats.Invalid.
func (s *Studio) AddClient(ctx context.Context, c limit.Client) (string, error) {
	return s.SaveIntake(ctx, Intake{Client: c})
}

// ChangeClient checks and saves a client over the version that was read.
func (s *Studio) ChangeClient(ctx context.Context, id string, version int, c limit.Client) error {
	_, err := s.SaveIntake(ctx, Intake{ID: id, Version: version, Client: c})
	return err
}

// alter makes a change of the client as it stands now. Where somebody else was faster the
// change is made again on what they left, so that neither is lost.
func (s *Studio) alter(ctx context.Context, id string, change func(*limit.Client) error) error {
	for tried := 0; ; {
		row, err := s.Store.Client(ctx, id)
		if err != nil {
			return err
		}
		if row.Version == tried { // not changed since, but gone
			return store.ErrChanged
		}
		tried = row.Version
		c := row.Client
		if err := change(&c); err != nil {
			return err
		}
		if _, err = s.saveOver(ctx, Intake{ID: id, Client: c}, &row); !errors.Is(err, store.ErrChanged) {
			return err
		}
	}
}

// UndoClient takes the change of a client's file back that made a version, as long as it is
// the last one; the file as it was becomes a version of its own.
func (s *Studio) UndoClient(ctx context.Context, id string, version int) error {
	row, err := s.Store.Client(ctx, id)
	if err != nil {
		return err
	}
	if row.Version != version || version < 2 {
		return &formats.Invalid{Path: "version", Want: "the file was changed again since; expected the last change"}
	}
	was, err := s.Store.ClientWas(ctx, id, version-1)
	if err != nil {
		return err
	}
	return s.ChangeClient(ctx, id, version, was)
}

// TakeClientAway takes a client, with plans and records, off every list, or brings it
// back. Nothing is deleted.
func (s *Studio) TakeClientAway(ctx context.Context, id string, away bool) error {
	return s.Store.Change(ctx, func(t *store.Tx) error { return t.TakeClientAway(id, away, s.Now()) })
}

// checkWhole holds a client against the published schema and then for sense,
// as a client file would be. What it held before, if anything, is not held against a
// clock that has gone back since.
func (s *Studio) checkWhole(c limit.Client, before *limit.Client) error {
	if strings.TrimSpace(c.Name) == "" {
		return &formats.Invalid{Path: "name", Want: "is needed, so that you can find the client again"}
	}
	b, err := json.Marshal(c)
	if err != nil {
		return err
	}
	if err := formats.Validate("client", b); err != nil {
		return err
	}
	on := s.Today()
	if before != nil {
		if last, err := civil.Parse(before.LatestDay()); err == nil && last.After(on) {
			on = last
		}
	}
	return s.Check(c, on)
}

// AsksPressure says whether a client's blood pressure is asked for at each visit: it
// matters to them, or a reading is kept that grows old.
func AsksPressure(k limit.Client) bool {
	return k.Has("raised_blood_pressure") || k.RestingPressure != ""
}

// withPressure is a client with the resting blood pressure of today. With none the
// session is planned as not under control, or on the reading before where the condition
// is not ticked.
func withPressure(k limit.Client, typed string) (limit.Client, error) {
	if p, ok := limit.ReadPressure(typed); typed != "" && (!ok || !p.Possible()) {
		return k, &formats.Invalid{Path: "blood pressure", Want: fmt.Sprintf("expected a reading such as 128/78, found %q", typed)}
	}
	if typed != "" || k.Has("raised_blood_pressure") {
		k.RestingPressure = typed
	}
	k.Conditions = slices.Clone(k.Conditions)
	for i := range k.Conditions {
		if k.Conditions[i].ID == "raised_blood_pressure" {
			k.Conditions[i] = k.Conditions[i].With("reading", typed)
		}
	}
	return k, nil
}

// Loosen takes one rule off a client on somebody's word, which is kept and shown ever
// after. Without a date it is today's.
func (s *Studio) Loosen(ctx context.Context, clientID string, word limit.Clearance) error {
	if word.By == "" {
		return &formats.Invalid{Path: "who cleared it", Want: "expected a name"}
	}
	if word.On == "" {
		word.On = s.Today().String()
	}
	return s.alter(ctx, clientID, func(c *limit.Client) error {
		c.Clearances = append(slices.Clone(c.Clearances), word)
		return nil
	})
}

// Tighten takes a clearance back.
func (s *Studio) Tighten(ctx context.Context, clientID, rule string) error {
	return s.alter(ctx, clientID, func(c *limit.Client) error {
		c.Clearances = slices.DeleteFunc(slices.Clone(c.Clearances), func(x limit.Clearance) bool { return x.Rule == rule })
		return nil
	})
}

// Instruct adds a clinician's own figure for a quantity, which tightens at once. Without
// a date it is today's. A looser one changes nothing, which the limits say.
func (s *Studio) Instruct(ctx context.Context, clientID string, in limit.Instruction) error {
	if in.By == "" {
		return &formats.Invalid{Path: "who said so", Want: "expected a name"}
	}
	if in.On == "" {
		in.On = s.Today().String()
	}
	return s.alter(ctx, clientID, func(c *limit.Client) error {
		c.Instructions = append(slices.Clone(c.Instructions), in)
		return nil
	})
}

// TakeBackInstruction takes one away, by its place in the list.
func (s *Studio) TakeBackInstruction(ctx context.Context, clientID string, n int) error {
	return s.alter(ctx, clientID, func(c *limit.Client) error {
		if n < 0 || n >= len(c.Instructions) {
			return &formats.Invalid{Path: "instruction", Want: "is not there any more; reload the page"}
		}
		c.Instructions = slices.Delete(slices.Clone(c.Instructions), n, n+1)
		return nil
	})
}

// AddSurface adds a height to the surfaces a client has to lean on, from which plans choose
// and on which they judge. One that is there already changes nothing.
func (s *Studio) AddSurface(ctx context.Context, clientID string, cm float64) error {
	if !(cm >= 10 && cm <= 200) {
		return &formats.Invalid{Path: "surface", Want: fmt.Sprintf("expected 10 to 200 cm, found %g", cm)}
	}
	return s.alter(ctx, clientID, func(c *limit.Client) error {
		if !slices.Contains(c.Owned.SurfaceCM, cm) {
			c.Owned.SurfaceCM = append(slices.Clone(c.Owned.SurfaceCM), cm)
			slices.Sort(c.Owned.SurfaceCM)
		}
		return nil
	})
}

// TapClock makes one hour of today's pelvic clock rougher, and from jerky smooth again.
func (s *Studio) TapClock(ctx context.Context, clientID string, hour int) error {
	if hour < 1 || hour > 12 {
		return &formats.Invalid{Path: "hour", Want: fmt.Sprintf("expected 1 to 12, found %d", hour)}
	}
	return s.alter(ctx, clientID, func(c *limit.Client) error {
		today := s.Today().String()
		c.Clock = slices.Clone(c.Clock)
		at := slices.IndexFunc(c.Clock, func(x limit.Clock) bool { return x.On == today })
		if at < 0 {
			at = len(c.Clock)
			c.Clock = append(c.Clock, limit.Clock{On: today, Hours: make([]int, 12)})
		}
		hours := slices.Clone(c.Clock[at].Hours)
		hours[hour%12] = (hours[hour%12] + 1) % 3
		c.Clock[at].Hours = hours
		return nil
	})
}

// ClearClock takes today's clock back.
func (s *Studio) ClearClock(ctx context.Context, clientID string) error {
	return s.alter(ctx, clientID, func(c *limit.Client) error {
		today := s.Today().String()
		c.Clock = slices.DeleteFunc(slices.Clone(c.Clock), func(x limit.Clock) bool { return x.On == today })
		return nil
	})
}

// TapCurve sets a curve of the spine to a side, or takes it away when it is there.
func (s *Studio) TapCurve(ctx context.Context, clientID, region, side string) error {
	if !slices.Contains(limit.Regions, region) || side != "left" && side != "right" {
		return &formats.Invalid{
			Path: "curve",
			Want: fmt.Sprintf("expected %s and a side, found %q", strings.Join(limit.Regions, " or "), region+"-"+side),
		}
	}
	return s.alter(ctx, clientID, func(c *limit.Client) error {
		c.Conditions = slices.Clone(c.Conditions)
		for i, k := range c.Conditions {
			if k.ID != "scoliosis" {
				continue
			}
			curves := k.Curves("curves")
			at := slices.IndexFunc(curves, func(x limit.Curve) bool { return x.Region == region })
			switch {
			case at < 0:
				curves = append(curves, limit.Curve{Region: region, Convex: side})
			case curves[at].Convex == side:
				curves = slices.Delete(curves, at, at+1)
			default:
				curves[at].Convex = side
			}
			c.Conditions[i] = k.With("curves", curves)
		}
		return nil
	})
}

// Tests is what was tested and seen at one time. Were are the faults that the form showed
// as seen; what is no longer of Seen is taken off, what is new is dated today.
type Tests struct {
	Screens    []limit.Screen
	Measures   []limit.Measure
	Were, Seen []string
}

// AddTests adds tests to a client as it stands now, all or none, and dates them today.
func (s *Studio) AddTests(ctx context.Context, clientID string, tests Tests) error {
	return s.alter(ctx, clientID, func(c *limit.Client) error { s.taken(c, tests); return nil })
}

// taken puts tests of today into a client.
func (s *Studio) taken(c *limit.Client, tests Tests) {
	on := s.Today().String()
	c.Screens = slices.Clone(c.Screens)
	for _, x := range tests.Screens {
		x.On = on
		c.Screens = slices.DeleteFunc(c.Screens, func(o limit.Screen) bool {
			return o.ID == x.ID && o.Side == x.Side && o.Moment == x.Moment && o.On == on
		})
		c.Screens = append(c.Screens, x)
	}
	addMeasures(c, tests.Measures, on)
	c.FaultsSeen = slices.DeleteFunc(slices.Clone(c.FaultsSeen), func(f limit.Seen) bool {
		return slices.Contains(tests.Were, f.ID) && !slices.Contains(tests.Seen, f.ID)
	})
	for _, id := range tests.Seen {
		if !slices.ContainsFunc(c.FaultsSeen, func(f limit.Seen) bool { return f.ID == id }) {
			c.FaultsSeen = append(c.FaultsSeen, limit.Seen{ID: id, On: on})
		}
	}
}

// addMeasures adds measures of a day; measured again on that day is a correction: the
// version before keeps the other.
func addMeasures(c *limit.Client, measures []limit.Measure, on string) {
	c.Measures = slices.Clone(c.Measures)
	for _, m := range measures {
		m.On = on
		c.Measures = slices.DeleteFunc(c.Measures, func(o limit.Measure) bool {
			return o.ID == m.ID && o.Side == m.Side && o.Stage == m.Stage && o.Activity == m.Activity && o.Variant == m.Variant &&
				o.On == on
		})
		c.Measures = append(c.Measures, m)
	}
}

// AddMeasures adds measures alone, dated today.
func (s *Studio) AddMeasures(ctx context.Context, clientID string, measures []limit.Measure) error {
	return s.alter(ctx, clientID, func(c *limit.Client) error {
		addMeasures(c, measures, s.Today().String())
		return nil
	})
}

// TakeBackTests takes out the tests and measures entered today, so that a slip can be
// mended.
func (s *Studio) TakeBackTests(ctx context.Context, clientID string) error {
	return s.alter(ctx, clientID, func(c *limit.Client) error {
		today := s.Today().String()
		c.Screens = slices.DeleteFunc(slices.Clone(c.Screens), func(x limit.Screen) bool { return x.On == today })
		c.Measures = slices.DeleteFunc(slices.Clone(c.Measures), func(m limit.Measure) bool { return m.On == today })
		return nil
	})
}
