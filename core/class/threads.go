package class

import (
	"fmt"
	"slices"

	"restbend/core/exercise"
	"restbend/core/optimize"
	"restbend/core/plan"
)

// thread is one exercise that a class may do together: a family in a phase, from one
// position to another. Those beside on a chair do what comes nearest there.
type thread struct {
	family     string
	phase      exercise.Phase
	start, end exercise.Position
	purpose    exercise.Purpose // that leads it
	name       string
}

// way is how one person may take part in an item of so many seconds.
type way struct {
	offer, dose int // of the person's menu
	kind        uint8
	instead     bool
	resting     bool
	own         float64 // what it is worth in itself to the person
	units       []optimize.Unit
}

// slot is a thread with so many seconds.
type slot struct {
	seconds int
	ways    [][]way // by person
}

// lengths are the seconds an item may have (this product's own choice).
var lengths = []int{60, 90, 120, 150, 180, 240}

// What is chosen from: at most so many rungs and versions for one person in a thread, and about
// so many threads in all, those that serve most people, with at least a few of each phase and
// starting position. The bound is about classes of these.
const (
	mostWays    = 5
	mostThreads = 56
	fewThreads  = 4
)

// What it costs a person to wait and to do another exercise than the others, and what each
// version beyond the first costs the class, which shares its teacher; on the scale of package
// plan's weights.
const (
	idleCost  = 2.0
	otherCost = 0.7
	moreCost  = 0.4
)

// threads are all that the class may do, in session order.
func (s *seeking) threads() []thread {
	var out []thread
	votes := map[thread]map[string]int{}
	for _, a := range s.here {
		if a.beside {
			continue
		}
		for _, o := range a.menu.Offers {
			t := thread{family: o.Variant.Family, phase: o.Phase, start: o.Variant.Position, end: o.Variant.EndPosition}
			if votes[t] == nil {
				votes[t] = map[string]int{}
				out = append(out, t)
			}
			votes[t][o.Variant.ID]++
		}
	}
	phase := func(t thread) int { return slices.Index(exercise.Phases, t.phase) }
	slices.SortStableFunc(out, func(a, b thread) int {
		if x := phase(a) - phase(b); x != 0 {
			return x
		}
		return a.start.Rank() - b.start.Rank()
	})
	for i, t := range out {
		most := 0
		for _, v := range s.lib.Variants { // in the order of the library, so that ties are settled
			if n := votes[t][v.ID]; n > most {
				most, out[i].purpose, out[i].name = n, v.Purposes[0], v.Name
			}
		}
	}
	return out
}

// slots are the lengths in which a thread may be done, each with everybody's ways, and
// what it could bring at most; none where somebody has no way.
func (s *seeking) slots(t thread) (out []slot, worth float64) {
	fits := make([][]int, len(s.here)) // offers
	for n, a := range s.here {
		if fits[n] = s.fitting(a, t); len(fits[n]) == 0 {
			return nil, 0
		}
	}
	kinds, worth := s.kinds(t, fits)
	for _, seconds := range lengths {
		now := slot{seconds: seconds}
		together := false
		for n, a := range s.here {
			var ways []way
			for _, i := range fits[n] {
				o := &a.menu.Offers[i]
				k := slices.Index(kinds, kind(o))
				d := dosed(o, seconds)
				if d < 0 || k < 0 {
					continue
				}
				w := a.way(i, d, t)
				w.kind = uint8(k)
				together = together || !w.resting && !w.instead
				ways = append(ways, w)
			}
			if len(ways) == 0 {
				break
			}
			now.ways = append(now.ways, ways)
		}
		if len(now.ways) == len(s.here) && together && (len(out) == 0 || !same(out[len(out)-1], now)) && now.option().Possible() {
			out = append(out, now)
		}
	}
	return out, worth
}

// kind names what is seen of an offer.
func kind(o *plan.Offer) string {
	var adapted []exercise.Adaptation
	if o.Judged.Form != nil {
		adapted = o.Judged.Form.Adaptations
	}
	return kindOf(o.Variant.ID, adapted)
}

// kinds are the versions of a thread that may be taught side by side, chosen greedily by how
// much they help, as many as optimize can take; and what they could bring together.
func (s *seeking) kinds(t thread, fits [][]int) (out []string, worth float64) {
	const nothing = -100.0
	have := slices.Repeat([]float64{nothing}, len(s.here))
	of := make([]map[string]float64, len(s.here))
	var all []string
	for n, a := range s.here {
		of[n] = map[string]float64{}
		for _, i := range fits[n] {
			o := &a.menu.Offers[i]
			k := kind(o)
			if !slices.Contains(all, k) {
				all = append(all, k)
			}
			w := -idleCost
			if !rests(o, t) {
				w = a.worth(o)
			}
			if had, ok := of[n][k]; !ok || w > had {
				of[n][k] = w / a.brings
			}
		}
	}
	for len(out) < optimize.MostKinds {
		best, at := 0.0, ""
		for _, k := range all {
			gain := 0.0
			for n := range s.here {
				if w, ok := of[n][k]; ok {
					gain += max(0, w-have[n])
				}
			}
			if gain > best+1e-12 {
				best, at = gain, k
			}
		}
		if at == "" {
			break
		}
		out = append(out, at)
		for n := range s.here {
			if w, ok := of[n][at]; ok {
				have[n] = max(have[n], w)
			}
		}
	}
	for _, w := range have {
		worth += max(0, w)
	}
	return out, worth
}

// worth is about what a full dose of an offer brings a person, if nothing else does.
func (a *attending) worth(o *plan.Offer) float64 {
	sum := o.Own
	for _, u := range o.Units {
		sum += u.Amount * a.menu.Features[u.Feature].Slopes[0]
	}
	return sum
}

// rests says whether an offer is a rest in a thread that works.
func rests(o *plan.Offer, t thread) bool { return quiet(o.Phase) && t.phase != o.Phase }

func quiet(p exercise.Phase) bool { return p == "settle" || p == "close" }

// same says whether a longer item gives nobody another dose.
func same(a, b slot) bool {
	for n := range a.ways {
		if !slices.EqualFunc(a.ways[n], b.ways[n], func(v, w way) bool { return v.offer == w.offer && (v.dose == w.dose || v.resting) }) {
			return false
		}
	}
	return true
}

// dosed is the best dose of an offer within so many seconds; −1 for none.
func dosed(o *plan.Offer, seconds int) int {
	best := -1
	for d, k := range o.Doses {
		if k.Seconds <= seconds && (best < 0 || k.Returns > o.Doses[best].Returns) {
			best = d
		}
	}
	return best
}

// fitting are the offers with which a person can take part in a thread: their rungs of its
// family, what serves the same purpose in the same position, and rest.
func (s *seeking) fitting(a *attending, t thread) []int {
	var own, other, rest []int
	for i, o := range a.menu.Offers {
		v := o.Variant
		if !a.beside && (v.Position != t.start || v.EndPosition != t.end) {
			continue
		}
		switch {
		case v.Family == t.family && o.Phase == t.phase:
			own = append(own, i)
		case slices.Contains(v.Purposes[:min(2, len(v.Purposes))], t.purpose) && (o.Phase == t.phase || !quiet(o.Phase) && !quiet(t.phase)):
			other = append(other, i)
		case quiet(o.Phase) && v.Position == v.EndPosition && slices.Contains([]exercise.Purpose{"breath", "relaxation"}, v.Purposes[0]):
			rest = append(rest, i)
		}
	}
	better := func(i, j int) int {
		switch x, y := a.worth(&a.menu.Offers[i]), a.worth(&a.menu.Offers[j]); {
		case x > y:
			return -1
		case x < y:
			return 1
		}
		return i - j
	}
	slices.SortStableFunc(other, better)
	own = own[:min(mostWays, len(own))]
	out := append(own, other[:min(mostWays-len(own), 2, len(other))]...)
	if !quiet(t.phase) || len(out) == 0 {
		out = append(out, rest[:min(1, len(rest))]...)
	}
	return out
}

// way is an offer in one of its doses, as it counts for a person in a thread.
func (a *attending) way(offer, dose int, t thread) way {
	o := &a.menu.Offers[offer]
	d := &o.Doses[dose]
	w := way{offer: offer, dose: dose, instead: o.Variant.Family != t.family}
	if rests(o, t) {
		w.resting, w.own = true, -idleCost
		w.units = a.uses(d) // who rests on two feet stands all the same
		return w
	}
	if w.own = o.Own*d.Returns - a.menu.Begin; w.instead && !a.beside {
		w.own -= otherCost
	}
	for _, u := range o.Units {
		amount := u.Amount
		if !u.Whole {
			amount *= d.Returns
		}
		w.units = append(w.units, optimize.Unit{Feature: a.first + u.Feature, Amount: amount, Whole: true})
	}
	w.units = append(w.units, a.uses(d)...)
	if enough := 60 * a.menu.Minutes; a.menu.Minutes > 0 { // what suits the day is a cap like the others
		w.units = append(w.units,
			optimize.Unit{Feature: a.first + len(a.menu.Features), Amount: float64(d.Seconds) / float64(enough), Whole: true},
		)
	}
	return w
}

// uses are what a dose takes of what the person's whole session may hold.
func (a *attending) uses(d *plan.Dosed) (out []optimize.Unit) {
	for _, u := range d.Uses {
		out = append(out, optimize.Unit{Feature: a.first + u.Feature, Amount: u.Amount, Whole: true})
	}
	return out
}

// option is a slot as an option of optimize, before people have weights.
func (k slot) option() optimize.Option {
	o := optimize.Option{Seconds: k.seconds, Kinds: Versions, More: moreCost}
	for _, ways := range k.ways {
		var list []optimize.Way
		for _, w := range ways {
			list = append(list, optimize.Way{Own: w.own, Units: w.units, Kind: w.kind})
		}
		o.Shares = append(o.Shares, list)
	}
	return o
}

// nothing says why there is no class.
func (s *seeking) nothing() string {
	return fmt.Sprintf("There is no thread of exercises %s in %d minutes in which everybody has a version.", s.Place.Words(), s.Minutes)
}
