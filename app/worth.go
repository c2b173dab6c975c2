package app

import (
	"context"
	"fmt"
	"reflect"
	"slices"
	"strings"

	"golang.org/x/sync/errgroup"

	"restbend/core/civil"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/readiness"
	"restbend/formats"
	"restbend/store"
)

// Worth is a test or measure with how much of the next plan its answer could change.
type Worth struct {
	limit.Probe
	Seconds float64 // of work that would be otherwise
}

// TestsWorth puts what could be tested of a client into the order of what it would change in
// the next plan, most first: each is taken to come out badly, the plan is made with that, and
// the two are compared. What was taken of late comes after what was not.
func (s *Studio) TestsWorth(ctx context.Context, k store.Client) ([]Worth, error) {
	r, before, err := s.nextPlan(ctx, k)
	if err != nil {
		return nil, err
	}
	tries := limit.Probes(k.Client, r.Limits.Limits, s.Today())
	out := make([]Worth, len(tries))
	g, _ := errgroup.WithContext(ctx)
	g.SetLimit(2)
	for i, t := range tries {
		g.Go(func() error {
			out[i].Probe = t
			for _, as := range t.As {
				_, after, changed := s.planWith(r, as, s.Today())
				if changed {
					out[i].Seconds = max(out[i].Seconds, plan.Differs(before, after).Seconds)
				}
			}
			return nil
		})
	}
	if err := g.Wait(); err != nil {
		return nil, err
	}
	slices.SortStableFunc(out, func(a, b Worth) int {
		switch {
		case a.Fresh != b.Fresh:
			return map[bool]int{true: 1, false: -1}[a.Fresh]
		case a.Seconds > b.Seconds:
			return -1
		case a.Seconds < b.Seconds:
			return 1
		}
		return 0
	})
	return out, nil
}

// nextPlan is the plan that the client would get today, with its request.
func (s *Studio) nextPlan(ctx context.Context, k store.Client) (plan.Request, plan.Plan, error) {
	r, _, err := s.requestFor(ctx, k.ID, k.Client, Wish{}, s.Today().String())
	if err != nil {
		return r, plan.Plan{}, err
	}
	return r, plan.Best(r, s.PlanLibrary()), nil
}

// planWith is the request and its plan for the client as another; changed is false where
// limits and needs are the same, and then nothing was planned.
func (j *Judge) planWith(r plan.Request, as limit.Client, on civil.Day) (set limit.Limits, p plan.Plan, changed bool) {
	c := r.Client
	c.Screens, c.Measures, c.FaultsSeen = as.Screens, as.Measures, as.FaultsSeen
	before := r.Limits.Limits
	r.Client, r.Limits = c, j.Ready(c, nil, nil, on, readiness.Plan)
	if reflect.DeepEqual(promised(before), promised(r.Limits.Limits)) && reflect.DeepEqual(before.Needs, r.Limits.Needs) &&
		reflect.DeepEqual(before.Uneven, r.Limits.Uneven) && before.Slow == r.Limits.Slow {
		return r.Limits.Limits, plan.Plan{}, false
	}
	return r.Limits.Limits, plan.Best(r, j.PlanLibrary()), true
}

// WouldChange says what tests would change, before they are kept: new limits, what would be
// looked for, and what comes into the next plan and goes out of it. The first line says it
// shortest.
func (s *Studio) WouldChange(ctx context.Context, k store.Client, tests Tests) ([]string, error) {
	c := k.Client
	s.taken(&c, tests)
	if m := limit.CheckFigures(c); m != nil {
		return nil, &formats.Invalid{Path: m.Path, Want: m.Want}
	}
	r, before, err := s.nextPlan(ctx, k)
	if err != nil {
		return nil, err
	}
	set, after, changed := s.planWith(r, c, s.Today())
	if set.Status() == limit.Refer {
		var lines []string
		for _, why := range set.Refer() {
			lines = append(lines, why.Text)
		}
		return lines, nil
	}
	if !changed {
		return []string{"Changes nothing in what is planned."}, nil
	}
	var out []string
	was := promised(r.Limits.Limits)
	for _, line := range promised(set) {
		if !slices.Contains(was, line) {
			out = append(out, line)
		}
	}
	var needs []string
	for _, n := range set.Needs {
		words := n.Purpose.Words()
		if !slices.ContainsFunc(r.Limits.Needs, func(o limit.Need) bool { return o.Purpose == n.Purpose }) &&
			!slices.Contains(needs, words) {
			needs = append(needs, words)
		}
	}
	if needs != nil {
		out = append(out, "Plans would look for "+listed(needs)+".")
	}
	for _, u := range set.Uneven {
		if !slices.ContainsFunc(r.Limits.Uneven, func(o limit.Uneven) bool { return o.Purpose == u.Purpose && o.Lesser == u.Lesser }) {
			out = append(out, fmt.Sprintf("For %s the %s side would get about half as much again.", u.Purpose.Words(), u.Lesser))
		}
	}
	d := plan.Differs(before, after)
	switch {
	case after.Status != plan.Ready && after.Status != plan.Infeasible:
		out = append(out, "There would be no session.")
	case len(d.In)+len(d.Out)+len(d.Redosed) == 0:
		out = append(out, "The next plan stays as it is.")
	default:
		if d.In != nil {
			out = append(out, "Into the next plan: "+s.names(d.In)+".")
		}
		if d.Out != nil {
			out = append(out, "Out of it: "+s.names(d.Out)+".")
		}
		if d.Redosed != nil {
			out = append(out, "With another dose or form: "+s.names(d.Redosed)+".")
		}
	}
	return out, nil
}

// promised are the limits of a set as sentences.
func promised(set limit.Limits) []string {
	var out []string
	for _, p := range Promises(set) {
		for _, promise := range p.Promises {
			out = append(out, p.Name+": "+promise.Text+".")
		}
	}
	for _, p := range NotNow(set) {
		out = append(out, "Not for now: "+strings.ToLower(p.Text[:1])+p.Text[1:]+".")
	}
	return out
}

// names are exercises by name, the first few of many.
func (j *Judge) names(variants []string) string {
	var out []string
	for i, id := range variants {
		if i == 4 && len(variants) > 5 {
			return strings.Join(out, ", ") + fmt.Sprintf(" and %d more", len(variants)-i)
		}
		if v := j.Library.Variant(id); v != nil {
			out = append(out, v.Name)
		}
	}
	return listed(out)
}
