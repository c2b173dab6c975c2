package app

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/readiness"
	"restbend/formats"
	"restbend/store"
)

// What is asked before a lesson, and what follows from the answers.

// Visit is what is asked at the start of a visit. Pressure is left out where nobody asks
// for it.
type Visit struct {
	Asked    bool // all warning signs were asked about
	RedFlags []string
	Pain     int
	Where    []string // of exercise.ComplaintPlaces
	Side     string
	New      []string // of limit.NewSigns
	Dizzy    bool
	Pulse    *int
	Pressure *string
}

// check refuses answers that cannot be or cannot all be right.
func (v Visit) check() error {
	bad := func(path, format string, args ...any) error {
		return &formats.Invalid{Path: path, Want: fmt.Sprintf(format, args...)}
	}
	if v.Pain < 0 || v.Pain > 10 {
		return bad("pain now", "expected a whole number from 0 to 10, found %d", v.Pain)
	}
	for _, id := range v.RedFlags {
		if _, known := limit.FindRedFlag(id); !known {
			return bad("warning signs", "%q is not known", id)
		}
	}
	for _, where := range v.Where {
		if !slices.Contains(exercise.ComplaintPlaces, where) {
			return bad("where it hurts", "%q is not one of %s", where, strings.Join(exercise.ComplaintPlaces, ", "))
		}
	}
	for _, sign := range v.New {
		if !slices.Contains(limit.NewSigns, sign) {
			return bad("what is new", "%q is not one of %s", sign, strings.Join(limit.NewSigns, ", "))
		}
	}
	if v.Side != "" && v.Side != "left" && v.Side != "right" {
		return bad("side", "%q; expected left, right or none", v.Side)
	}
	if v.Pulse != nil && (*v.Pulse < 20 || *v.Pulse > 250) {
		return bad("pulse", "expected 20 to 250 beats a minute, found %d", *v.Pulse)
	}
	if v.Asked && len(v.RedFlags) > 0 {
		first, _ := limit.FindRedFlag(v.RedFlags[0])
		return bad("warning signs", "“asked all, none” and %s are both marked: which of the two is right?", first.Name)
	}
	if !v.Asked && len(v.RedFlags) == 0 {
		return bad("warning signs", "nobody has said whether they were asked: ask all of them, and press “asked all, none”")
	}
	return nil
}

// answered is a client with the answers of a visit, as of today. A sign that stands is not
// taken away by not being marked again; one that was cleared and is there again stands again.
func (s *Studio) answered(k limit.Client, v Visit) (limit.Client, error) {
	if err := v.check(); err != nil {
		return k, err
	}
	var err error
	if v.Pressure != nil {
		if k, err = withPressure(k, *v.Pressure); err != nil {
			return k, err
		}
		k.RestingPressureOn = s.Today().String()
	}
	k = withSigns(k, v.RedFlags)
	k = painOn(k, v.Pain, s.Today())
	if k.Pain.Worst24h == nil || *k.Pain.Worst24h < v.Pain {
		k.Pain.Worst24h = &v.Pain
	}
	on := s.Today().String()
	t := limit.Today{On: on, Pain: &v.Pain, Where: v.Where, Side: v.Side, Dizzy: v.Dizzy, Pulse: v.Pulse,
		New: slices.Concat(v.New, v.RedFlags)}
	if old := k.Today; old != nil && old.On == on { // a sign said earlier today stands
		for _, sign := range old.New {
			if _, flag := limit.FindRedFlag(sign); flag && !slices.Contains(t.New, sign) &&
				slices.Contains(k.OpenFlags(s.Today()), sign) {
				t.New = append(t.New, sign)
			}
		}
	}
	k.Today = &t
	return k, nil
}

// madeFor are the limits that a plan was made inside of, with the pain of today.
func (s *Studio) madeFor(row store.Plan, pain int) limit.Limits {
	return s.Ready(painOn(row.Client, pain, s.Today()), nil, nil, s.Today(), readiness.Plan).Limits
}

// withSigns adds warning signs to a client who was asked about all of them.
func withSigns(k limit.Client, signs []string) limit.Client {
	k.RedFlags = append([]string{}, k.RedFlags...)
	k.FlagsCleared = slices.DeleteFunc(
		slices.Clone(k.FlagsCleared),
		func(c limit.FlagCleared) bool { return slices.Contains(signs, c.Flag) },
	)
	for _, id := range signs {
		if !slices.Contains(k.RedFlags, id) {
			k.RedFlags = append(k.RedFlags, id)
		}
	}
	return k
}

// What follows from a visit's answers.
const (
	GoOn        = "go on"
	PlannedAnew = "planned anew"
	Referred    = "refer"
)

// TryVisit says what the answers of a visit would lead to, without keeping them: what the day
// allows, and how many exercises of the plan stay inside it.
func (s *Studio) TryVisit(ctx context.Context, row store.Plan, client store.Client, v Visit) (readiness.Readiness, int, error) {
	k, err := s.answered(client.Client, v)
	if err != nil {
		return readiness.Readiness{}, 0, err
	}
	ready, err := s.ReadyFor(ctx, client.ID, k, nil, s.Today(), readiness.Teach)
	if err != nil {
		return readiness.Readiness{}, 0, err
	}
	return ready.Readiness, len(row.Plan.Items) - len(s.Outside(row.Plan, ready)), nil
}

// StartVisit keeps the answers given at the start of a visit. Where the day allows no lesson
// the client is sent on; where the plan is not inside what the day allows, or was made for
// another pain, it is made again. All of it is kept, or nothing.
func (s *Studio) StartVisit(ctx context.Context, planID string, v Visit) (string, error) {
	row, err := s.Store.Plan(ctx, planID)
	if err != nil {
		return "", err
	}
	client, err := s.Store.Client(ctx, row.ClientID)
	if err != nil {
		return "", err
	}
	k, err := s.answered(client.Client, v)
	if err != nil {
		return "", err
	}
	if err := s.checkWhole(k, &client.Client); err != nil {
		return "", err
	}
	marks, err := s.felt(ctx, planID)
	if err != nil {
		return "", err
	}
	ready, err := s.ReadyFor(ctx, client.ID, k, marks, s.Today(), readiness.Teach)
	if err != nil {
		return "", err
	}
	then, because := GoOn, fmt.Sprintf("pain today %d", v.Pain)
	switch {
	case ready.Status() != limit.OK:
		then = Referred
	case row.Taught():
	case v.Pain != row.Plan.PainNow:
		then = PlannedAnew
	case len(s.Outside(row.Plan, ready)) > 0, ready.Tighter(s.madeFor(row, v.Pain)):
		then, because = PlannedAnew, "today’s limits"
	}
	anew := row.Plan
	if then == PlannedAnew {
		wish := WishOf(row.Plan)
		wish.PainNow, wish.Marks = &v.Pain, marks
		if anew, err = s.planAs(ctx, row, k, wish); err != nil {
			return "", err
		}
	}
	return s.Store.Make(ctx, func(t *store.Tx) (string, error) {
		if err := t.ChangeClient(client.ID, client.Version, k, s.Now()); err != nil || then != PlannedAnew {
			return then, err
		}
		if err := t.PlanFor(row.ID, k); err != nil {
			return "", err
		}
		return then, t.ChangePlan(row.ID, row.Revision, anew, because, s.Now())
	})
}
