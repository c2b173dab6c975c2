package class

import (
	"math"
	"math/bits"
	"slices"

	"restbend/core/plan"
)

// Grouping is the people of a list in two classes instead of one.
type Grouping struct {
	Groups  [2][]int // people of the request
	Classes [2]Class
}

// Least is the smallest share of anybody in either class.
func (g Grouping) Least() float64 { return math.Min(g.Classes[0].Least(), g.Classes[1].Least()) }

// Least is the smallest share of anybody who takes part, 0 for a class that is none.
func (c Class) Least() float64 {
	least := math.Inf(1)
	for _, m := range c.People {
		if m.Status == plan.Ready {
			least = math.Min(least, m.Share)
		}
	}
	if math.IsInf(least, 1) || c.Status != plan.Ready {
		return 0
	}
	return least
}

// Wishes are the things whose lack in a class is worth telling about.
var Wishes = []string{"chair", "band", "small_ball", "stick", "pillow"}

// More is what one thing more for everybody would change.
type More struct {
	Thing   string
	Lacking int // people who have none
	Least   float64
	Sum     float64 // of all shares
}

// Given plans the class again for each of the wishes that somebody lacks, as if everybody had
// one.
func Given(r Request, lib plan.Library) []More {
	var out []More
	for _, thing := range Wishes {
		q := Request{Place: r.Place, Minutes: r.Minutes}
		lacking := 0
		for _, p := range r.People {
			if !slices.Contains(p.Request.Client.Equipment, thing) && !slices.Contains(r.Place.OwnEquipment(), thing) {
				lacking++
				against := p.Request
				p.Against = &against // the gain is measured against what they could do without it
				p.Request.Client.Equipment = append(slices.Clone(p.Request.Client.Equipment), thing)
			}
			q.People = append(q.People, p)
		}
		if lacking == 0 {
			continue
		}
		c := Best(q, lib)
		m := More{Thing: thing, Lacking: lacking, Least: c.Least()}
		for _, who := range c.People {
			m.Sum += who.Share
		}
		out = append(out, m)
	}
	return out
}

// Split puts the people into two classes of those who go together best: who would do the
// same versions, weighed by what they bring each. All ways of dividing are looked at; not ok
// where there are fewer than four who can take part.
func Split(r Request, lib plan.Library) (g Grouping, ok bool) {
	var c Class
	s := gather(r, lib, &c)
	n := len(s.here)
	if n < 2*Few {
		return g, false
	}
	like := s.likeness()
	best, at := math.Inf(-1), 0
	for set := 1; set < 1<<(n-1); set++ { // the last is in the other group
		k := bits.OnesCount(uint(set))
		if k < Few || n-k < Few {
			continue
		}
		sum := 0.0
		for i := range n {
			for j := range i {
				if set>>i&1 == set>>j&1 {
					size := k
					if set>>i&1 == 0 {
						size = n - k
					}
					sum += like[i][j] / float64(size-1) // on average for each
				}
			}
		}
		if sum > best+1e-12 {
			best, at = sum, set
		}
	}
	for i, a := range s.here {
		g.Groups[1-at>>i&1] = append(g.Groups[1-at>>i&1], a.member)
	}
	for i := range g.Groups {
		slices.Sort(g.Groups[i])
		q := Request{Place: r.Place, Minutes: r.Minutes}
		for _, p := range g.Groups[i] {
			q.People = append(q.People, r.People[p])
		}
		g.Classes[i] = Best(q, lib)
	}
	return g, true
}

// likeness is how much of what serves two people they could do as one, 0 to 1.
func (s *seeking) likeness() [][]float64 {
	worth := make([]map[string]float64, len(s.here)) // of each version to each person
	for n, a := range s.here {
		worth[n] = map[string]float64{}
		for i := range a.menu.Offers {
			o := &a.menu.Offers[i]
			if w := a.worth(o) / a.brings; w > worth[n][kind(o)] {
				worth[n][kind(o)] = w
			}
		}
	}
	size := func(n int) float64 { return dot(worth[n], worth[n]) }
	out := make([][]float64, len(s.here))
	for i := range s.here {
		out[i] = make([]float64, len(s.here))
		for j := range i {
			if of := math.Sqrt(size(i) * size(j)); of > 0 {
				out[i][j] = dot(worth[i], worth[j]) / of
			}
		}
	}
	return out
}

// dot is the sum of products, added up in the order of the names so that it is always the
// same.
func dot(a, b map[string]float64) float64 {
	var names []string
	for k := range a {
		if _, ok := b[k]; ok {
			names = append(names, k)
		}
	}
	slices.Sort(names)
	sum := 0.0
	for _, k := range names {
		sum += a[k] * b[k]
	}
	return sum
}
