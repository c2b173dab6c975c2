package class

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"sync"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
)

// attending is a participant, with what they may be given and what their own best session is
// worth to them.
type attending struct {
	request plan.Request
	member  int // of the class
	name    string
	place   exercise.Place // where they work
	beside  bool           // on a chair beside the others, who are on the floor
	menu    plan.Menu
	own     float64   // less what it costs to begin, to move about and to leave out
	brings  float64   // before that
	alone   plan.Plan // that session
	first   int       // index of their first feature
}

// worthLeast is the least that a session of their own is taken to bring: a share of almost
// nothing would say nothing.
const worthLeast = 5.0

// share is a person's share, in percent, of a class that is worth so much to them: 100 less
// what is lost against what their own best session brings.
func (a *attending) share(worth float64) float64 { return percent * (1 - (a.own-worth)/a.brings) }

// gather looks at each person alone. Those who must see a clinician first are left out and
// named, as are those for whom nothing here is safe. Those who cannot get down sit beside the
// others.
func gather(r Request, lib plan.Library, c *Class) *seeking {
	s := &seeking{Request: r, lib: lib}
	all := make([]*attending, len(r.People))
	s.inOrder = byName(r.People)
	var done sync.WaitGroup
	for i, p := range r.People {
		done.Add(1)
		go func() { // each alone, so that the order of answers does not matter
			defer done.Done()
			all[i] = attend(i, p, r, lib)
		}()
	}
	done.Wait()
	for i, a := range all {
		m := Member{Person: i, Name: r.People[i].Name, Status: plan.Ready, Place: r.Place, Because: []string{},
			Readiness: r.People[i].Request.Limits.Readiness}
		switch limits := r.People[i].Request.Limits; {
		case limits.Status() != limit.OK:
			m.Status, m.Because = limits.Status(), append(m.Because, limits.Readiness.Texts()...)
			c.Notes = append(c.Notes, fmt.Sprintf("%s is left out: %s", m.Name, m.Because[0]))
		case a == nil:
			m.Status = plan.Infeasible
			m.Because = append(m.Because, alone(r.People[i].Request, lib)...)
			c.Notes = append(c.Notes, fmt.Sprintf("%s is left out: nothing safe fits %s with what is at hand.", m.Name, r.Place.Words()))
		default:
			m.Place = a.place
			if a.beside {
				m.Because = append(m.Because, besideWords)
			}
			if a.menu.Minutes < r.Minutes {
				m.Because = append(m.Because,
					fmt.Sprintf("Today %d minutes of work are enough: %s", a.menu.Minutes, strings.Join(a.menu.Because, " ")),
				)
			}
		}
		c.People = append(c.People, m)
	}
	for _, i := range s.inOrder {
		if all[i] != nil {
			s.here = append(s.here, all[i])
		}
	}
	return s
}

// byName puts people into an order of their own, so that it does not matter in which they
// were named.
func byName(people []Person) []int {
	order, key := []int{}, []string{}
	for i, p := range people {
		order = append(order, i)
		client, _ := json.Marshal(p.Request.Client) // plain data
		key = append(key, p.Name+"\n"+p.ID+"\n"+string(client))
	}
	slices.SortStableFunc(order, func(a, b int) int { return strings.Compare(key[a], key[b]) })
	return order
}

// attend is how a person can take part; nil where nothing suits them.
func attend(i int, p Person, r Request, lib plan.Library) *attending {
	if p.Request.Limits.Status() != limit.OK {
		return nil
	}
	a := &attending{member: i, name: p.Name, place: r.Place}
	q := p.Request
	q.Place, q.Minutes = r.Place, r.Minutes
	a.menu = plan.MenuOf(q, lib)
	down := slices.ContainsFunc(a.menu.Offers, func(o plan.Offer) bool { return o.Variant.Position.OnFloor() })
	if a.request = q; onFloor(r.Place) && !down {
		a.sit(lib)
	}
	if !a.measure() {
		return nil
	}
	if p.Against != nil {
		alone := *p.Against
		alone.Place, alone.Minutes = a.place, r.Minutes
		_, bound := plan.BestBounded(alone, lib)
		a.own, a.brings = bound.Value+bound.Unfilled, max(worthLeast, bound.Brought)
	}
	return a
}

// sit puts a person on a chair beside the others.
func (a *attending) sit(lib plan.Library) {
	a.request.Place, a.place, a.beside = "chair", "chair", true
	a.menu = plan.MenuOf(a.request, lib)
}

// measure finds their own best session; false where there is none.
func (a *attending) measure() bool {
	best, bound := a.menu.Best()
	a.own, a.brings, a.alone = bound.Value+bound.Unfilled, max(worthLeast, bound.Brought), best
	return len(a.menu.Offers) > 0 && len(best.Items) > 0
}

// seated looks for those whom the class that was found would send down and up more often
// than their limits allow, and sits them beside the others; false where there are none.
func (s *seeking) seated(c *Class) (again bool) {
	for n, a := range s.here {
		var items []plan.Item
		for _, x := range s.chosen {
			w := s.of[x.Candidate][x.Option].ways[n][x.Picks[n]]
			items = append(items, a.menu.Item(w.offer, w.dose))
		}
		if a.beside || a.menu.Over(a.menu.Plan(items)) == nil {
			continue
		}
		again = true
		a.sit(s.lib)
		m := &c.People[a.member]
		m.Place = a.place
		m.Because = append(m.Because, besideWords)
		if !a.measure() {
			m.Status = plan.Infeasible
			s.here[n] = nil
		}
	}
	s.here = slices.DeleteFunc(s.here, func(a *attending) bool { return a == nil })
	return again
}

const besideWords = "Works on a chair beside the others: the floor is out."

// onFloor says whether a class in a place goes down to the floor.
func onFloor(p exercise.Place) bool { return p == "mat" || p == "studio" }

// alone is what a person could do instead of the class: where there would be a session.
func alone(r plan.Request, lib plan.Library) []string {
	for _, place := range exercise.Places {
		q := r
		q.Place = place
		if p := plan.Best(q, lib); p.Status == plan.Ready {
			return []string{fmt.Sprintf("A lesson alone %s would hold %d minutes.", place.Words(), int(p.SecondsTotal/60))}
		}
	}
	return []string{"Nothing in the library is inside the limits anywhere; please ask the clinician which of them may be loosened."}
}
