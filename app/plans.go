package app

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/plan/edit"
	"restbend/core/readiness"
	"restbend/formats"
	"restbend/store"
)

// dayOf reads a plan's date; a draft has none yet and counts as today.
func (s *Studio) dayOf(on string) (civil.Day, error) {
	if on == "" {
		return s.Today(), nil
	}
	day, err := civil.Parse(on)
	if err != nil {
		return day, &formats.Invalid{Path: "on", Want: fmt.Sprintf("%q is not a date; expected YYYY-MM-DD", on)}
	}
	return day, nil
}

// checkDay reads the date that a plan is to be given.
func (s *Studio) checkDay(on string) error {
	day, err := s.dayOf(on)
	if err != nil {
		return err
	}
	if first, last := s.Today().AddDate(-1, 0, 0), s.Today().AddDate(2, 0, 0); day.Before(first) || day.After(last) {
		return &formats.Invalid{Path: "on", Want: fmt.Sprintf("%s is too far away to plan for; expected %s to %s", on, first.String(),
			last.String())}
	}
	return nil
}

// AddPlan plans a session for a client on a date, or as a draft when there is
// none, and saves it.
func (s *Studio) AddPlan(ctx context.Context, clientID string, w Wish, on, at string) (string, error) {
	return s.addPlan(ctx, clientID, w, on, at, nil)
}

// addPlan saves a plan that takes over what it can of exercises from elsewhere.
func (s *Studio) addPlan(ctx context.Context, clientID string, w Wish, on, at string, from []plan.Item) (string, error) {
	row, err := s.Store.Client(ctx, clientID)
	if err != nil {
		return "", err
	}
	if err := checkTime(at); err != nil {
		return "", err
	}
	if err := s.checkDay(on); err != nil {
		return "", err
	}
	r, assumed, err := s.requestFor(ctx, clientID, row.Client, w, on)
	if err != nil {
		return "", err
	}
	r.Kept = from
	p := s.planOf(r, assumed)
	if r.Limits.Status() != limit.OK {
		return "", &NotToday{r.Limits.Readiness}
	}
	return s.Store.Make(ctx, func(t *store.Tx) (string, error) {
		return t.AddPlan(clientID, on, at, p, row.Client, s.Now())
	})
}

// TakePlanAway takes a plan that was not taught off every list, or brings it back.
func (s *Studio) TakePlanAway(ctx context.Context, id string, away bool) error {
	return s.Store.Change(ctx, func(t *store.Tx) error { return t.TakePlanAway(id, away, s.Now()) })
}

func checkTime(at string) error {
	if at == "" {
		return nil
	}
	if _, err := time.Parse("15:04", at); err != nil {
		return &formats.Invalid{Path: "at", Want: fmt.Sprintf("%q is not a time of day; expected HH:MM", at)}
	}
	return nil
}

// history is what the client's taught sessions say to a new one.
func (s *Studio) history(ctx context.Context, clientID string) (plan.History, error) {
	h := plan.History{Trained: map[exercise.Purpose]int{}, Worked: map[string][]string{}}
	rows, err := s.Store.PlansTaught(ctx, clientID, remembered) // newest first
	if err != nil {
		return h, err
	}
	for i, row := range rows {
		if i == 0 {
			for _, it := range row.Plan.Items {
				h.Recent = append(h.Recent, it.Variant)
			}
		}
		if err := s.remember(ctx, row, &h); err != nil {
			return h, err
		}
	}
	since := ""
	if h.Sessions, since, err = s.Store.Taught(ctx, clientID); err != nil {
		return h, err
	}
	if day, err := civil.Parse(since); err == nil {
		h.Days = max(h.Days, s.Today().Since(day))
	}
	return h, nil
}

// remembered is how many sessions are looked back at for what was trained and which cues
// worked.
const remembered = 3

// remember adds to what earlier sessions say: the purposes that led their exercises, and the
// cues that were marked as working.
func (s *Studio) remember(ctx context.Context, row store.Plan, h *plan.History) error {
	variants := map[string]string{}
	for _, it := range row.Plan.Items {
		variants[it.ID] = it.Variant
		if len(it.Purposes) > 0 {
			h.Trained[it.Purposes[0]]++
		}
	}
	marks, err := s.Store.Marks(ctx, row.ID)
	if err != nil {
		return err
	}
	for _, m := range marks {
		if v := variants[m.Item]; m.Kind == "cue_worked" && v != "" && m.Cue != "" {
			h.Worked[v] = append(h.Worked[v], m.Cue)
		}
	}
	return nil
}

// RequestOf is the request that changes of a saved plan answer: for the client as known by
// now, with what was marked in its lesson so far.
func (s *Studio) RequestOf(ctx context.Context, row store.Plan) (plan.Request, error) {
	c, w, err := s.asKnown(ctx, row, WishOf(row.Plan))
	if err != nil {
		return plan.Request{}, err
	}
	r, _, err := s.requestFor(ctx, row.ClientID, c, w, row.On)
	return r, err
}

// asKnown is the client of a plan as known by now, with the wish brought up to date: what was
// said of the plan's day holds over the pain that it was planned with, and marks of a lesson
// that is under way go in. A plan that was taught stays as it was.
func (s *Studio) asKnown(ctx context.Context, row store.Plan, w Wish) (limit.Client, Wish, error) {
	if row.Taught() {
		return row.Client, w, nil
	}
	now, err := s.Store.Client(ctx, row.ClientID)
	if err != nil {
		return row.Client, w, err
	}
	if w.Marks, err = s.felt(ctx, row.ID); err != nil {
		return row.Client, w, err
	}
	on := row.On
	if on == "" {
		on = s.Today().String()
	}
	if p := now.Client.Pain; p.Now != nil && p.On == on {
		w.PainNow = nil
	}
	return now.Client, w, nil
}

// requestFor is a request for a client as of a plan's date, with what earlier
// sessions say to it.
func (s *Studio) requestFor(ctx context.Context, clientID string, c limit.Client, w Wish, on string) (plan.Request, []string, error) {
	day, err := s.dayOf(on)
	if err != nil {
		return plan.Request{}, nil, err
	}
	next, err := s.NextFor(ctx, clientID, c)
	if err != nil {
		return plan.Request{}, nil, err
	}
	records, err := s.past(ctx, clientID)
	if err != nil {
		return plan.Request{}, nil, err
	}
	if w.Past, err = s.visitsOf(c, records, s.Today()); err != nil {
		return plan.Request{}, nil, err
	}
	c.Rungs, c.Resting = next.Client.Rungs, next.Client.Resting // what was decided holds
	r, assumed, err := s.Request(c, w, day)
	if err != nil {
		return r, nil, err
	}
	r.History, err = s.history(ctx, clientID)
	r.History.First = r.History.Sessions == 0 && len(c.Rungs) == 0 && !w.Home
	return r, assumed, err
}

// WishOf is what a plan was asked for.
func WishOf(p plan.Plan) Wish {
	pain := p.PainNow
	return Wish{
		Minutes:       p.MinutesAsked,
		Place:         p.Place,
		Approach:      p.Approach,
		PainNow:       &pain,
		StandingFirst: p.StandingFirst,
		Home:          p.Home,
		Focus:         p.Focus,
	}
}

// Replan makes the plan again with other wishes, as one revision that can be
// undone. What is locked stays. Pain today, when given, is taken into the client
// the plan is for.
func (s *Studio) Replan(ctx context.Context, id string, revision int, w Wish) error {
	return s.changePlan(ctx, id, revision, nowhere, func(row store.Plan) (plan.Plan, string, error) {
		p, err := s.PlanAs(ctx, row, w)
		return p, fmt.Sprintf("%d minutes %s", p.MinutesAsked, p.Place.Words()), err
	})
}

// PlanAs makes a saved plan again with other wishes and does not save it.
func (s *Studio) PlanAs(ctx context.Context, row store.Plan, w Wish) (plan.Plan, error) {
	pain := w.PainNow
	c, w, err := s.asKnown(ctx, row, w)
	if err != nil {
		return plan.Plan{}, err
	}
	if pain != nil && *pain != row.Plan.PainNow {
		w.PainNow = pain // said just now
	}
	return s.planAs(ctx, row, c, w)
}

// planAs makes a saved plan again for the given client and does not save it.
func (s *Studio) planAs(ctx context.Context, row store.Plan, c limit.Client, w Wish) (plan.Plan, error) {
	r, assumed, err := s.requestFor(ctx, row.ClientID, c, w, row.On)
	if err != nil {
		return plan.Plan{}, err
	}
	r.Fixed = row.Plan.Locked()
	p := s.planOf(r, assumed)
	if r.Limits.Status() != limit.OK {
		err = &NotToday{r.Limits.Readiness}
	}
	return p, err
}

// Outside are the exercises of a plan that are not inside limits, by their place in it.
func (j *Judge) Outside(p plan.Plan, limits readiness.Limits) []int {
	var out []int
	for i, it := range p.Items {
		v := j.Library.Variant(it.Variant)
		if v == nil || len(limits.Breaks(measuredOf(v, it))) > 0 {
			out = append(out, i)
		}
	}
	return out
}

// measuredOf is what was measured of an exercise as a plan has it: on its surface, adapted,
// and on the one side where it is done on one alone.
func measuredOf(v *exercise.Variant, it plan.Item) exercise.Measured {
	m := v.FormAt(it.SurfaceShare, it.Adaptations).Measured
	if len(it.Sides) == 1 {
		m = m.On(it.Sides[0])
	}
	return m
}

// nowhere is where the change of a whole plan lands when the plan was changed since.
func nowhere(plan.Plan) bool { return false }

// Edit is one change of a plan by hand.
type Edit struct {
	Kind    string // one of Edits
	Item    int    // index of the exercise
	ID, Was string // its lasting id, and which exercise it was; they find it when the plan was changed since
	To      int    // move: its new index
	Variant string // swap and add
	Dose    string // dose: its words
	Minutes int    // continue: how many are left

	Teaching bool // in a lesson that is under way, which the day has to allow
}

// Edits are the kinds of change there are.
var Edits = []string{"swap", "add", "remove", "move", "dose", "lock", "unlock", "harder", "easier", "fit", "continue"}

// EditPlan makes one change by hand, as a revision that can be undone, and returns
// the index of the exercise to look at next. What is not safe is refused with the
// reason, as a *formats.Invalid, and the plan stays as it was.
//
//revive:disable-next-line:cyclomatic One case for each kind of change.
func (s *Studio) EditPlan(ctx context.Context, id string, revision int, e Edit) (int, error) {
	at := e.Item
	ofItem := slices.Contains([]string{"swap", "remove", "dose", "lock", "unlock", "harder", "easier"}, e.Kind)
	lost := false // the exercise that the change is meant for is not there any more
	lands := func(p plan.Plan) bool {
		i := slices.IndexFunc(p.Items, func(it plan.Item) bool { return it.ID == e.ID && it.Variant == e.Was })
		if i >= 0 && e.Kind != "add" {
			e.Item, at = i, i
		}
		lost = e.ID != "" && i < 0 && (ofItem || e.Kind == "continue")
		return e.Kind == "add" || ofItem && i >= 0
	}
	err := s.changePlan(ctx, id, revision, lands, func(row store.Plan) (plan.Plan, string, error) {
		if lost {
			return plan.Plan{}, "", store.ErrChanged
		}
		r, err := s.RequestOf(ctx, row)
		if err != nil {
			return plan.Plan{}, "", err
		}
		if e.Teaching {
			now, err := s.Store.Client(ctx, row.ClientID)
			if err != nil {
				return plan.Plan{}, "", err
			}
			day, err := s.ReadyForPlan(ctx, row, now.Client, readiness.Teach)
			if err != nil {
				return plan.Plan{}, "", err
			}
			if day.Status() != limit.OK {
				return plan.Plan{}, "", &NotToday{day.Readiness}
			}
		}
		p, what := row.Plan, ""
		name := ""
		if e.Item >= 0 && e.Item < len(p.Items) {
			name = p.Items[e.Item].Name
		}
		lib := s.PlanLibrary()
		switch e.Kind {
		case "swap":
			what, err = fmt.Sprintf("%d was %s", e.Item+1, name), edit.Swap(&p, r, lib, e.Item, e.Variant)
		case "add":
			if at, err = edit.Add(&p, r, lib, e.Variant); err == nil {
				what = p.Items[at].Name + " added"
			}
		case "remove":
			what, err = name+" taken out", edit.Remove(&p, r, lib, e.Item)
			at = max(0, min(at, len(p.Items)-1))
		case "move":
			what, err = fmt.Sprintf("%s moved from %d to %d", name, e.Item+1, e.To+1), edit.Move(&p, r, lib, e.Item, e.To)
			at = e.To
		case "dose":
			what, err = name+", its dose", edit.SetDose(&p, r, lib, e.Item, e.Dose)
		case "harder", "easier":
			what, err = name+", a notch "+e.Kind, edit.Notch(&p, r, lib, e.Item, e.Kind == "harder")
		case "lock", "unlock":
			what, err = name+" "+e.Kind+"ed", edit.Lock(&p, e.Item, e.Kind == "lock")
		case "fit":
			what = fmt.Sprintf("fitted to %.0f minutes", p.Target()/60)
			err = edit.Fit(&p, r, lib)
			at = max(0, min(at, len(p.Items)-1))
		case "continue":
			if e.Minutes < 2 || e.Minutes > 120 {
				return p, "", &formats.Invalid{Path: "minutes left", Want: fmt.Sprintf("expected 2 to 120, found %d", e.Minutes)}
			}
			what = fmt.Sprintf("the rest for %d minutes", e.Minutes)
			from := e.Item
			if hurts, failed := s.hurtBy(ctx, row.ID); failed != nil {
				return p, "", failed
			} else if from < len(p.Items) && hurts[p.Items[from].ID] { // that one is over
				from++
			}
			p, err = edit.Continue(p, r, lib, from, e.Minutes)
		default:
			return p, "", &formats.Invalid{Path: "kind", Want: fmt.Sprintf("%q is no change; expected one of %v", e.Kind, Edits)}
		}
		if err != nil {
			return p, "", &formats.Invalid{Want: err.Error()}
		}
		if e.Kind == "swap" || e.Kind == "add" { // safe, and earned
			if err := s.earned(ctx, row, e.Variant); err != nil {
				return plan.Plan{}, "", err
			}
		}
		return p, what, nil
	})
	return at, err
}

// hurtBy are the items of a plan that hurt over what a lesson goes on with.
func (s *Studio) hurtBy(ctx context.Context, planID string) (map[string]bool, error) {
	marks, err := s.Store.Marks(ctx, planID)
	if err != nil {
		return nil, err
	}
	out := map[string]bool{}
	for _, m := range lesson.Settled(marks) {
		if m.Kind == "pain" && m.Score != nil && *m.Score >= s.MarkRules().Over {
			out[m.Item] = true
		}
	}
	return out, nil
}

// Undo takes back the plan's last change; Redo makes it again. What the plan was before has to
// be inside what the day allows by now.
func (s *Studio) Undo(ctx context.Context, id string, revision int) error {
	return s.stepTo(ctx, id, revision, revision-1)
}

// stepTo is a plan as another of its revisions, if that holds today.
func (s *Studio) stepTo(ctx context.Context, id string, revision, to int) error {
	row, err := s.Store.Plan(ctx, id)
	if err != nil {
		return err
	}
	r, err := s.RequestOf(ctx, row)
	if err != nil {
		return err
	}
	if r.Limits.Status() != limit.OK {
		return &NotToday{r.Limits.Readiness}
	}
	was, err := s.Store.Revision(ctx, id, to)
	if err != nil {
		return err
	}
	if out := s.Outside(was, r.Limits); len(out) > 0 {
		return &formats.Invalid{
			Path: "undo",
			Want: fmt.Sprintf("%s is not for this client today; plan it anew instead", was.Items[out[0]].Name),
		}
	}
	return s.Store.Change(ctx, func(t *store.Tx) error { return t.StepTo(id, revision, to, s.Now()) })
}

// Redo makes the change again that was taken back last.
func (s *Studio) Redo(ctx context.Context, id string, revision int) error {
	return s.stepTo(ctx, id, revision, revision+1)
}

// changePlan changes a plan as it was at a revision, or, where the change lands on the
// same exercise still, as it stands by now.
func (s *Studio) changePlan(
	ctx context.Context,
	id string,
	revision int,
	lands func(plan.Plan) bool,
	change func(store.Plan) (plan.Plan, string, error),
) error {
	row, err := s.Store.Plan(ctx, id)
	if err != nil {
		return err
	}
	if row.Taught() {
		return ErrTaught
	}
	if found := lands(row.Plan); row.Gone != "" || row.Revision != revision && (revision > row.Revision || !found) {
		return store.ErrChanged
	}
	p, what, err := change(row)
	if err != nil {
		return err
	}
	return s.Store.Change(ctx, func(t *store.Tx) error { return t.ChangePlan(id, row.Revision, p, what, s.Now()) })
}

// Schedule gives a plan its day and time; an empty day makes it a draft again.
func (s *Studio) Schedule(ctx context.Context, id, on, at string) error {
	row, err := s.Store.Plan(ctx, id)
	if err != nil {
		return err
	}
	if row.Taught() {
		return ErrTaught
	}
	if err := s.checkDay(on); err != nil {
		return err
	}
	if err := checkTime(at); err != nil {
		return err
	}
	return s.Store.Change(ctx, func(t *store.Tx) error { return t.SchedulePlan(id, on, at, s.Now()) })
}

// CopyLast plans a session like the client's last taught one: its exercises are
// kept where they are still safe and fit, and the rest is filled.
func (s *Studio) CopyLast(ctx context.Context, clientID string, w Wish, on, at string) (string, error) {
	rows, err := s.Store.PlansTaught(ctx, clientID, 1)
	if err != nil {
		return "", err
	}
	if len(rows) == 0 {
		return "", &formats.Invalid{Path: "copy", Want: "there is no taught session to copy from yet"}
	}
	return s.addPlan(ctx, clientID, w, on, at, unlocked(rows[0].Plan.Items))
}

// SaveTemplate keeps a plan's exercises under a name.
func (s *Studio) SaveTemplate(ctx context.Context, planID, name string) error {
	name = strings.TrimSpace(name)
	if name == "" || len(name) > 80 {
		return &formats.Invalid{Path: "name of the template", Want: "expected 1 to 80 characters"}
	}
	row, err := s.Store.Plan(ctx, planID)
	if err != nil {
		return err
	}
	return s.Store.Change(ctx, func(t *store.Tx) error { return t.AddTemplate(name, row.Plan, s.Now()) })
}

// FromTemplate plans a session after a template: what is not safe for the client
// is left out, and said.
func (s *Studio) FromTemplate(ctx context.Context, clientID, templateID string, w Wish, on, at string) (string, error) {
	t, err := s.Store.Template(ctx, templateID)
	if err != nil {
		return "", err
	}
	return s.addPlan(ctx, clientID, w, on, at, unlocked(t.Plan.Items))
}

func unlocked(items []plan.Item) []plan.Item {
	out := slices.Clone(items)
	for i := range out {
		out[i].Locked = false
	}
	return out
}
