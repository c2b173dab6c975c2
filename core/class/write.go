package class

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/plan"
)

// mostlyBusy is the share of the class below which a note says how much of it a person works.
const mostlyBusy = 0.7

func phaseOf(t thread) int { return slices.Index(exercise.Phases, t.phase) }

// write writes the result: the items of the class and everybody's own session.
func (s *seeking) write(c *Class) {
	items := make([][]plan.Item, len(s.here))
	at := s.base.Ways.From
	for i, x := range s.chosen {
		t, k := s.list[x.Candidate], s.of[x.Candidate][x.Option]
		seconds := float64(k.seconds + s.base.Ways.Seconds[at][t.start.Rank()])
		at = t.end.Rank()
		if i == len(s.chosen)-1 {
			seconds += float64(s.base.Ways.HomeSeconds[at])
		}
		it := Item{Thread: t.name, Phase: t.phase, Purpose: t.purpose, Seconds: seconds}
		for n, a := range s.here {
			w := k.ways[n][x.Picks[n]]
			own := a.menu.Item(w.offer, w.dose)
			items[n] = append(items[n], own)
			it.Versions = append(it.Versions, s.version(a, own, w, t))
		}
		slices.SortFunc(it.Versions, func(a, b Version) int { return a.Person - b.Person })
		name(&it)
		c.Items = append(c.Items, it)
		c.SecondsTotal += seconds
	}
	least := slices.Min(s.shares)
	who := slices.Index(s.shares, least)
	for n, a := range s.here {
		m := &c.People[a.member]
		m.Share = math.Round(1000*math.Max(0, math.Min(1, s.shares[n]/percent))) / 1000
		m.Plan = a.menu.Plan(items[n])
		if m.Plan.SecondsTotal < mostlyBusy*c.SecondsTotal {
			m.Because = append(m.Because,
				fmt.Sprintf(
					"Works for about %d of the %d minutes: what suits takes less time than the others need; the rest is rest.",
					int(math.Round(m.Plan.SecondsTotal/60)),
					int(math.Round(c.SecondsTotal/60)),
				),
			)
		}
		m.Because = append(m.Because, losses(c.Items, a.member)...)
		for _, u := range m.Plan.Unserved {
			m.Because = append(m.Because, u.Words())
		}
		lay(c.Equipment, m.Plan, a.place)
	}
	c.AtMost = math.Round(1000*math.Min(1, math.Max(least, s.atMost)/percent)) / 1000
	c.Notes = append(c.Notes,
		fmt.Sprintf("Nobody has less than %.0f of 100 of a lesson alone; %s has least.", math.Min(100, least), s.here[who].name),
	)
	if miss := c.SecondsTotal - float64(60*s.Minutes); math.Abs(miss) > 0.03*float64(60*s.Minutes) {
		c.Notes = append(c.Notes, fmt.Sprintf("What all can do comes to %d of the %d minutes.", int(c.SecondsTotal/60), s.Minutes))
	}
}

// name calls an item by the version that most people do; who does another exercise does it
// instead.
func name(it *Item) {
	for _, kind := range it.Kinds() {
		if kind[0].Resting {
			continue
		}
		it.Thread = kind[0].Name
		for i := range it.Versions {
			it.Versions[i].Instead = !it.Versions[i].Resting && it.Versions[i].Family != kind[0].Family
		}
		return
	}
}

// version is what a person does in an item, and why it is not what the thread is.
func (s *seeking) version(a *attending, own plan.Item, w way, t thread) Version {
	v := Version{
		Person:      a.member,
		Variant:     own.Variant,
		Name:        own.Name,
		Family:      own.Family,
		Position:    own.Position,
		Sides:       own.Sides,
		Dose:        own.Dose,
		Settings:    own.Settings,
		Adaptations: own.Adaptations,
		Verdict:     own.Verdict,
		Quantities:  own.Quantities,
		Instead:     w.instead,
		Resting:     w.resting,
		Because:     []string{},
	}
	if v.Sides == nil {
		v.Sides = []string{}
	}
	for _, why := range own.Reasons {
		v.Because = append(v.Because, why.Text)
	}
	if w.instead || w.resting {
		if why := s.whyNot(a, t); why != "" {
			v.Because = append(v.Because, why)
		}
	}
	v.Because = slices.Compact(v.Because)
	return v
}

// whyNot is why a person does not do what the thread is.
func (s *seeking) whyNot(a *attending, t thread) string {
	for _, v := range s.lib.Variants {
		if v.Family == t.family && v.Position == t.start && v.EndPosition == t.end {
			if why := a.menu.Barred(v); why != "" {
				return why
			}
		}
	}
	return ""
}

// losses say in how many items a person does something else, or rests.
func losses(items []Item, person int) []string {
	var other, rests []string
	for _, it := range items {
		for _, v := range it.Versions {
			switch {
			case v.Person != person:
			case v.Resting:
				rests = append(rests, it.Thread)
			case v.Instead:
				other = append(other, it.Thread)
			}
		}
	}
	var out []string
	if len(other) > 0 {
		out = append(out, "Does something else with the same purpose in: "+strings.Join(other, ", ")+".")
	}
	if len(rests) > 0 {
		out = append(out, "Rests and breathes in: "+strings.Join(rests, ", ")+".")
	}
	return out
}

// lay adds what one person needs to the equipment: of each thing the most that any one of
// their exercises takes.
func lay(equipment map[string]int, p plan.Plan, place exercise.Place) {
	mine := map[string]bool{}
	if slices.Contains([]exercise.Place{"mat", "chair", "bed", "table"}, place) {
		mine[string(place)] = true
	}
	for _, it := range p.Items {
		for _, e := range it.Uses {
			mine[e] = true
		}
	}
	for e := range mine {
		equipment[e]++
	}
}
