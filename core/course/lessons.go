package course

import (
	"slices"

	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/plan"
)

// The lessons of a week, planned one after another, each knowing what the others hold.

// lessons plans the lessons of a week: one after the other, and each once more when the
// others are known.
func (m *builder) lessons(w Week, minutes int) ([]plan.Plan, bool) {
	var plans []plan.Plan
	days := days(w, Studio)
	recent := m.recent
	for i, d := range days {
		p := plan.Best(m.lesson(d, i, minutes, plans, -1, w, recent), m.Library)
		if p.Status != plan.Ready || len(p.Items) == 0 {
			m.course.Notes = append(m.course.Notes, p.Notes...)
			return nil, false
		}
		if m.frame == nil {
			m.frame = framing(p)
		}
		plans, recent = append(plans, p), middle(p)
	}
	for i := range plans {
		if len(plans) == 1 {
			break
		}
		p := plan.Best(m.lesson(days[i], i, minutes, plans, i, w, m.recent), m.Library)
		if p.Status != plan.Ready || len(p.Items) == 0 {
			continue
		}
		other := slices.Clone(plans)
		if other[i] = p; m.worth(days, minutes, other, w) > m.worth(days, minutes, plans, w)+1e-9 {
			plans = other
		}
	}
	return plans, true
}

// lesson is the request for a lesson of a week in which others, but for the one at an index,
// are known.
func (m *builder) lesson(d Day, i, minutes int, plans []plan.Plan, but int, w Week, recent []string) plan.Request {
	r := m.Plan
	on, _ := civil.Parse(d.On)
	r.Client, r.Minutes = m.client, minutes
	r.Limits = m.Limits(m.client, on)
	r.History.Sessions, r.History.Recent = m.count+i, recent
	if len(m.course.Weeks) > 0 || len(m.Records) > 0 {
		r.History.Met = m.known
	}
	r.History.First = m.count+i == 0 && len(m.client.Rungs) == 0
	if m.first != "" {
		if began, err := civil.Parse(m.first); err == nil {
			r.History.Days = m.Plan.History.Days + on.Since(began)
		}
	}
	for k, p := range plans {
		if k != but {
			r.Week = append(r.Week, middleItems(p)...)
		}
	}
	r.Kept = m.frame
	r.Focus = m.lacking(w, plans, but)
	return r
}

// lacking is the purpose that is wanted in this week and furthest behind; empty for none.
func (m *builder) lacking(w Week, plans []plan.Plan, but int) exercise.Purpose {
	tally := m.also()
	for _, d := range w.Days {
		if d.Kind == Home {
			tallied(tally, m.home)
		}
	}
	for k, p := range plans {
		if k != but {
			lead(tally, p.Items)
		}
	}
	best, most := exercise.Purpose(""), 0
	for _, p := range exercise.Purposes {
		if short := w.Wanted[string(p)] - tally[string(p)]; short > most {
			best, most = p, short
		}
	}
	return best
}

// also counts what else the client does in a week.
func (m *builder) also() map[string]int {
	tally := map[string]int{}
	for p, days := range m.Also {
		tally[string(p)] = len(days)
	}
	return tally
}

// worth is what the lessons of a week are worth together: each beside the others.
func (m *builder) worth(days []Day, minutes int, plans []plan.Plan, w Week) float64 {
	sum := 0.0
	for i, p := range plans {
		r := m.lesson(days[i], i, minutes, plans, i, w, m.recent)
		r.Kept, r.Focus = nil, ""
		if p.MinutesAdvised > 0 {
			r.Minutes = p.MinutesAdvised
		}
		sum += plan.Worth(r, m.Library, p.Items)
	}
	return sum
}

// framing is what every lesson opens and closes with: what a first one does.
func framing(p plan.Plan) []plan.Item {
	var out []plan.Item
	for _, it := range p.Items {
		if quiet(it) {
			out = append(out, it)
		}
	}
	return out
}

func quiet(it plan.Item) bool { return it.Phase == "settle" || it.Phase == "close" }

func middleItems(p plan.Plan) []plan.Item {
	return slices.DeleteFunc(slices.Clone(p.Items), quiet)
}

func middle(p plan.Plan) (out []string) {
	for _, it := range middleItems(p) {
		out = append(out, it.Variant)
	}
	return out
}

// load is how hard the lessons of a week are on average: minutes of work times demand.
func load(plans []plan.Plan) float64 {
	sum := 0.0
	for _, p := range plans {
		for _, it := range p.Items {
			sum += it.SecondsWork / 60 * it.Demand
		}
	}
	if len(plans) == 0 {
		return 0
	}
	return float64(int(10*sum/float64(len(plans))+0.5)) / 10
}
