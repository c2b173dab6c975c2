package exercise

import "sort"

// Rung is a variant's place on the ladder of its family.
type Rung struct {
	Variant *Variant
	Level   int    // steps from the lowest rung that leads here, by the longest way
	From    []Next // the steps that lead here; To holds the rung below
}

// Ladder orders a family from easiest to hardest: by how many steps lead to a
// rung, then by measured demand. The steps have no cycles.
func (f *Family) Ladder() []Rung {
	rungs := make([]Rung, len(f.Variants))
	at := map[string]*Rung{}
	for i, v := range f.Variants {
		rungs[i].Variant = v
		at[v.ID] = &rungs[i]
	}
	for _, v := range f.Variants {
		for _, n := range v.Next {
			if to := at[n.To]; to != nil {
				to.From = append(to.From, Next{To: v.ID, Changes: n.Changes, Though: n.Though})
			}
		}
	}
	var level func(r *Rung, depth int) int
	level = func(r *Rung, depth int) int {
		high := 0
		for _, n := range r.From {
			if depth < len(rungs) {
				high = max(high, 1+level(at[n.To], depth+1))
			}
		}
		return high
	}
	for i := range rungs {
		rungs[i].Level = level(&rungs[i], 0)
	}
	sort.SliceStable(rungs, func(i, j int) bool {
		if rungs[i].Level != rungs[j].Level {
			return rungs[i].Level < rungs[j].Level
		}
		return rungs[i].Variant.Plain().Measured.Demand() < rungs[j].Variant.Plain().Measured.Demand()
	})
	return rungs
}

// FirstRung says whether no step of the family leads to the variant.
func (f *Family) FirstRung(id string) bool {
	for _, v := range f.Variants {
		for _, n := range v.Next {
			if n.To == id {
				return false
			}
		}
	}
	return true
}

// Orientation is how the body stands to gravity: lying, seated or upright.
func (v *Variant) Orientation() string {
	switch v.Position {
	case "supine", "side_lying", "prone", "four_point":
		return "lying"
	case "floor_sit", "chair_sit":
		return "seated"
	}
	return "upright"
}

// Feedback is how much the surface tells the body where it is: much when the
// back or side lies on it, some when hands, a seat or a wall carry, little
// standing free.
func (v *Variant) Feedback() string {
	switch v.Position {
	case "supine", "side_lying", "prone":
		return "much"
	case "standing":
		return "little"
	}
	return "some"
}

// Effort is a word for the measured demand: gentle under 1.5, moderate under 4,
// and strong.
func (v *Variant) Effort() string {
	switch d := v.Plain().Measured.Demand(); {
	case d < 1.5:
		return "gentle"
	case d < 4:
		return "moderate"
	}
	return "strong"
}

// Efforts are the words of Effort, least first.
var Efforts = []string{"gentle", "moderate", "strong"}
