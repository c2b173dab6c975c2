package app

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"restbend/core/civil"
	"restbend/core/home"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/readiness"
	"restbend/formats"
	"restbend/store"
)

// What goes home with a client, and what comes back from there.

// Home is the request for a programme for a client with so much on record.
func (j *Judge) Home(c limit.Client, records []lesson.Record, on civil.Day, items, days int) (home.Request, error) {
	switch {
	case items != 0 && (items < home.FewestItems || items > home.MostItems):
		return home.Request{}, &formats.Invalid{
			Path: "items",
			Want: fmt.Sprintf("%d; expected %d to %d", items, home.FewestItems, home.MostItems),
		}
	case days != 0 && (days < home.FewestDays || days > home.MostDays):
		return home.Request{}, &formats.Invalid{
			Path: "days",
			Want: fmt.Sprintf("%d; expected %d to %d a week", days, home.FewestDays, home.MostDays),
		}
	}
	visits, err := j.visitsOf(c, records, on)
	if err != nil {
		return home.Request{}, err
	}
	return home.Request{Client: c, Limits: j.Ready(c, visits, nil, on, readiness.Ahead), Library: j.planLibrary, Items: items,
		Days: days, Recorded: len(records) > 0, Clean: home.Clean(records), On: on}, nil
}

// WithCare puts the sentences on a programme that stand on everything that goes home.
func (j *Judge) WithCare(p home.Programme) home.Programme {
	p.StopWhen, p.CallWhen = []string{WhenToStop}, j.CallWhen()
	return p
}

// HomeRequest is Home for a client of the database, with the progress of their records.
func (s *Studio) HomeRequest(ctx context.Context, clientID string, items, days int) (home.Request, error) {
	k, err := s.Store.Client(ctx, clientID)
	if err != nil {
		return home.Request{}, err
	}
	next, err := s.NextFor(ctx, k.ID, k.Client)
	if err != nil {
		return home.Request{}, err
	}
	records, err := s.past(ctx, clientID)
	if err != nil {
		return home.Request{}, err
	}
	c := k.Client
	c.Rungs, c.Resting = next.Client.Rungs, next.Client.Resting
	return s.Judge.Home(c, records, s.Today(), items, days)
}

// AddHome makes a programme for a client and says its id; ErrRefer where somebody has to be
// asked first, a *formats.Invalid where nothing can go home.
func (s *Studio) AddHome(ctx context.Context, clientID string, items, days int) (id string, err error) {
	r, err := s.HomeRequest(ctx, clientID, items, days)
	if err != nil {
		return "", err
	}
	p := s.WithCare(home.Make(r))
	switch p.Status {
	case "refer", "stop", "ask":
		return "", &NotToday{p.Readiness}
	case "infeasible":
		return "", &formats.Invalid{Path: "home", Want: strings.Join(p.Notes, " ")}
	}
	err = s.Store.Change(ctx, func(t *store.Tx) (err error) {
		id, err = t.AddHome(clientID, s.Today().String(), p, s.Now())
		return err
	})
	return id, err
}

// HomeEdit is one change of a programme by hand.
type HomeEdit struct {
	Kind    string // add, remove or dose
	Variant string
	Words   string   // of a dose
	Days    []string // of a dose
}

// EditHome changes a programme on top of the revision that was seen; what may not be is a
// *formats.Invalid and changes nothing.
func (s *Studio) EditHome(ctx context.Context, id string, seen int, e HomeEdit) error {
	row, err := s.Store.Home(ctx, id)
	if err != nil {
		return err
	}
	r, err := s.HomeRequest(ctx, row.ClientID, 0, 0)
	if err != nil {
		return err
	}
	p := row.Programme
	name := e.Variant
	if v := s.Library.Variant(e.Variant); v != nil {
		name = v.Name
	}
	what := ""
	switch e.Kind {
	case "add":
		err, what = r.Add(&p, e.Variant), name+" added"
	case "remove":
		err, what = r.Remove(&p, e.Variant), name+" taken out"
	case "dose":
		err, what = r.SetDose(&p, e.Variant, e.Words, e.Days), name+": dose and days"
	default:
		err = fmt.Errorf("kind: %q is no change; expected add, remove or dose", e.Kind)
	}
	if err != nil {
		field, want, _ := strings.Cut(err.Error(), ": ")
		return &formats.Invalid{Path: field, Want: want}
	}
	return s.Store.Change(ctx, func(t *store.Tx) error { return t.ChangeHome(id, seen, s.WithCare(p), what, s.Now()) })
}

// UndoHome takes the last change of a programme back.
func (s *Studio) UndoHome(ctx context.Context, id string, seen int) error {
	return s.Store.Change(ctx, func(t *store.Tx) error { return t.UndoHome(id, seen) })
}

// ReadDiary reads what came back from home, a file or a code that was read out, and checks
// it against the programme it was noted for.
func (s *Studio) ReadDiary(ctx context.Context, homeID string, text []byte) (home.Diary, error) {
	row, err := s.Store.Home(ctx, homeID)
	if err != nil {
		return home.Diary{}, err
	}
	var d home.Diary
	words := strings.TrimSpace(string(text))
	if strings.HasPrefix(words, "{") {
		if d, err = formats.ReadDiary(text); err != nil {
			return d, err
		}
		if d.Home != homeID {
			return d, &formats.Invalid{Path: "home", Want: "this diary was noted for another programme"}
		}
	} else if d, err = home.Decode(words, homeID, row.Programme); err != nil {
		_, want, _ := strings.Cut(err.Error(), ": ")
		return d, &formats.Invalid{Path: "code", Want: want}
	}
	if err := d.Check(row.Programme, s.Today()); err != nil {
		field, want, _ := strings.Cut(err.Error(), ": ")
		return d, &formats.Invalid{Path: field, Want: want}
	}
	return d, nil
}

// TakeDiary keeps a diary that was read, and answers a follow-up that nobody has asked yet
// from it: the pain of the two days after the last session.
func (s *Studio) TakeDiary(ctx context.Context, homeID string, d home.Diary) (answered string, err error) {
	row, err := s.Store.Home(ctx, homeID)
	if err != nil {
		return "", err
	}
	records, err := s.Store.RecordsOf(ctx, row.ClientID)
	if err != nil {
		return "", err
	}
	err = s.Store.Within(ctx, func(in *store.Store) error {
		s := s.withStore(in)
		if err := s.Store.Change(ctx, func(t *store.Tx) error { return t.AddDiary(homeID, d, s.Now()) }); err != nil {
			return err
		}
		rest := store.Sent(ctx, store.Form{}) // the form's key went with the diary
		if len(records) == 0 {
			return nil
		}
		last := records[len(records)-1]
		f, ok := followUpFrom(d, last.Record)
		if !ok {
			return nil
		}
		answered = last.ID
		return s.FollowUp(rest, last.ID, f)
	})
	return answered, err
}

// followUpFrom is what a diary says of how a session settled; ok is false where it was
// asked already or the diary has nothing of the two days after.
func followUpFrom(d home.Diary, r lesson.Record) (f lesson.FollowUp, ok bool) {
	if r.FollowUp != nil {
		return f, false
	}
	worst, ok := d.Worst(r.On, 2)
	if !ok {
		return f, false
	}
	day, err := civil.Parse(r.On)
	if err != nil {
		return f, false
	}
	at := func(n int) *home.Entry {
		on := day.AddDate(0, 0, n).String()
		if i := slices.IndexFunc(d.Entries, func(e home.Entry) bool { return e.On == on }); i >= 0 {
			return &d.Entries[i]
		}
		return nil
	}
	if next := at(1); next != nil && next.Pain != nil {
		f.PainNextDay = next.Pain
	}
	before := 0
	if r.Pain.Before != nil {
		before = *r.Pain.Before
	}
	sore := false
	for n := 1; n <= 2; n++ {
		if e := at(n); e != nil {
			sore = sore || e.Sore
		}
	}
	switch second := at(2); {
	case worst <= before && !sore:
		f.Kind = "none"
	case sore && worst <= before+1:
		f.Kind, f.HoursToSettle = "soreness", 30
	case second != nil && second.Pain != nil && *second.Pain > before:
		f.Kind, f.HoursToSettle = "pain", 48
	default:
		f.Kind, f.HoursToSettle = "pain", 24
	}
	return f, true
}
