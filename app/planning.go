package app

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/plan/edit"
	"restbend/formats"
)

// Planning for a client from a file, without a database.

// planOf plans and adds what was assumed to the notes.
func (j *Judge) planOf(r plan.Request, assumed []string) plan.Plan {
	p := plan.Best(r, j.PlanLibrary())
	if p.Status == plan.Ready || p.Status == plan.Infeasible {
		p.Notes = append(p.Notes, assumed...)
	}
	return p
}

// Plan finds a session for the client, with doses asked for in words, by exercise: each is
// put in where the plan has it not. A refusal is a *formats.Invalid that names the exercise.
func (j *Judge) Plan(c limit.Client, w Wish, doses map[string]string, on civil.Day) (plan.Plan, error) {
	r, assumed, err := j.Request(c, w, on)
	if err != nil {
		return plan.Plan{}, err
	}
	p, lib := j.planOf(r, assumed), j.PlanLibrary()
	for _, id := range slices.Sorted(maps.Keys(doses)) {
		refused := func(err error) (plan.Plan, error) {
			return plan.Plan{}, &formats.Invalid{
				Path: "--dose " + id,
				Want: strings.TrimPrefix(strings.TrimPrefix(err.Error(), "dose: "), "variant: "),
			}
		}
		if p.Status != plan.Ready {
			return refused(errors.New("there is no session to put it into"))
		}
		at := slices.IndexFunc(p.Items, func(it plan.Item) bool { return it.Variant == id })
		if at < 0 {
			if at, err = edit.Add(&p, r, lib, id); err != nil {
				return refused(err)
			}
		}
		if err := edit.SetDose(&p, r, lib, at, doses[id]); err != nil {
			return refused(err)
		}
		if err := edit.Lock(&p, slices.IndexFunc(p.Items, func(it plan.Item) bool { return it.Variant == id }), true); err != nil {
			return refused(err)
		}
	}
	if len(doses) > 0 {
		if err := edit.Fit(&p, r, lib); err != nil { // round what was asked for
			return plan.Plan{}, &formats.Invalid{Path: "--dose", Want: err.Error()}
		}
	}
	return p, nil
}

// Instead is what keeps the purpose of an exercise that a client is to avoid; nil where
// there is nothing safe for it in the client's place.
func (j *Judge) Instead(c limit.Client, variant string, on civil.Day) *exercise.Variant {
	r, _, err := j.Request(c, Wish{}, on)
	if err != nil {
		return nil
	}
	return j.Library.Variant(plan.Instead(r, j.PlanLibrary(), j.Library.Variant(variant), nil))
}

// PlanRest plans what is left of a session that a record tells of, for so many
// minutes.
func (j *Judge) PlanRest(c limit.Client, w Wish, done lesson.Record, minutes int, on civil.Day) (plan.Plan, error) {
	w.Marks = lesson.FeltIn(done)
	if p := done.Pain.During; p != nil && w.PainNow == nil && (c.Pain.Now == nil || *p > *c.Pain.Now) &&
		!slices.ContainsFunc(done.Items, func(d lesson.Done) bool { return d.Pain != nil }) {
		w.PainNow = p // sorer than planned, and nobody said where
	}
	r, assumed, err := j.Request(c, w, on)
	if err != nil {
		return plan.Plan{}, err
	}
	r.Minutes = minutes // fewer than a whole session may have
	for i, it := range done.Items {
		v := j.Library.Variant(it.Variant)
		if v == nil {
			return plan.Plan{}, &formats.Invalid{
				Path: fmt.Sprintf("items[%d].variant", i),
				Want: fmt.Sprintf("%q is not in the library; expected an exercise of it", it.Variant),
			}
		}
		if n := len(r.Done); it.Skipped || n > 0 && r.Done[n-1].Variant == it.Variant {
			continue // left out, or another run of sets, or the other side
		}
		r.Done = append(r.Done, r.AsDone(v, max(1, it.Sets)*it.Repetitions, it.Settings))
	}
	return j.planOf(r, assumed), nil
}
