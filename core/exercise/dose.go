package exercise

import (
	"fmt"
	"math"
	"reflect"
	"strings"
)

// DoseKind says how a dose is counted.
type DoseKind string

const (
	Repetitions        DoseKind = "repetitions"
	HoldSeconds        DoseKind = "hold_seconds"
	HoldBreaths        DoseKind = "hold_breaths"
	AlternatingSeconds DoseKind = "alternating_seconds"
	Breaths            DoseKind = "breaths"
	Circles            DoseKind = "circles"
)

// DoseKinds are all kinds.
var DoseKinds = []DoseKind{Repetitions, HoldSeconds, HoldBreaths, AlternatingSeconds, Breaths, Circles}

// Dose is how much of a variant is done. Figures are per side.
type Dose struct {
	Kind             DoseKind `yaml:"kind" json:"kind"`
	Sets             int      `yaml:"sets,omitempty" json:"sets,omitempty"`
	Repetitions      int      `yaml:"repetitions,omitempty" json:"repetitions,omitempty"`
	RepetitionsBySet []int    `yaml:"repetitions_by_set,omitempty" json:"repetitions_by_set,omitempty"`
	Seconds          float64  `yaml:"seconds,omitempty" json:"seconds,omitempty"` // of one hold, of one repetition, or of the whole
	// SecondsByRepetition are holds that grow (1, 2, 3), the last kept for any more;
	// in place of Seconds.
	SecondsByRepetition []float64 `yaml:"seconds_by_repetition,omitempty" json:"seconds_by_repetition,omitempty"`
	Breaths             int       `yaml:"breaths,omitempty" json:"breaths,omitempty"`
	// BothDirections says of circles that as many go the one way as the other; figures are of one way.
	BothDirections bool `yaml:"both_directions,omitempty" json:"both_directions,omitempty"`
	// StaySeconds is a stay inside each repetition, in the pose that holds are kept in; the
	// tempo, in Seconds, is the way there and back.
	StaySeconds float64 `yaml:"stay_seconds,omitempty" json:"stay_seconds,omitempty"`
	// Alternating says of repetitions and holds that the sides alternate, lift by lift.
	Alternating bool `yaml:"alternating,omitempty" json:"alternating,omitempty"`
	// BySide is what is counted on each side where the sides differ: breaths of a
	// shape, seconds of a single hold, else repetitions.
	BySide map[string]int `yaml:"by_side,omitempty" json:"by_side,omitempty"`
}

// On is the dose as it is done on one side.
func (d Dose) On(side string) Dose {
	n, differs := d.BySide[side]
	d.BySide = nil
	if !differs {
		return d
	}
	switch {
	case d.Kind == HoldBreaths:
		d.Breaths = n
	case d.Kind == HoldSeconds && d.Repetitions <= 1 || d.Kind == AlternatingSeconds:
		d.Seconds = float64(n)
	default:
		d.Repetitions = n
	}
	return d
}

// Alternates says whether the sides alternate, so that both are done in one stretch.
func (d Dose) Alternates() bool { return d.Alternating || d.Kind == AlternatingSeconds }

// Same says whether two doses ask for the same; one set is the same as none named.
func (d Dose) Same(o Dose) bool {
	d.Sets, o.Sets = max(1, d.Sets), max(1, o.Sets)
	return reflect.DeepEqual(d, o)
}

// Hold is the seconds of the hold with the given index, from 0.
func (d Dose) Hold(i int) float64 {
	if n := len(d.SecondsByRepetition); n > 0 {
		return d.SecondsByRepetition[min(i, n-1)]
	}
	return d.Seconds
}

// Sides is the dose on each of so many sides, left first; no side counts as one.
func (d Dose) Sides(n int) []Dose {
	if n < 2 {
		return []Dose{d.On("")}
	}
	return []Dose{d.On("left"), d.On("right")}
}

// Uneven gives one side about half as much again (common practice). Descending
// sets and breath resets stay as they are.
func (d Dose) Uneven(side string) Dose {
	other := map[string]string{"left": "right", "right": "left"}[side]
	count := float64(d.Repetitions)
	switch {
	case len(d.RepetitionsBySet) > 0 || d.Kind == Breaths || d.Kind == AlternatingSeconds || other == "":
		return d
	case d.Kind == HoldBreaths:
		count = float64(d.Breaths)
	case d.Kind == HoldSeconds && d.Repetitions <= 1:
		count = d.Seconds
	}
	d.Alternating = false
	d.BySide = map[string]int{other: int(count), side: int(math.Round(1.5 * count))}
	return d
}

// Ways is in how many directions each repetition is done: 2 for circles that go both ways.
func (d Dose) Ways() int {
	if d.Kind == Circles && d.BothDirections {
		return 2
	}
	return 1
}

// SetSizes are the repetitions of each set.
func (d Dose) SetSizes() []int {
	if len(d.RepetitionsBySet) > 0 {
		return d.RepetitionsBySet
	}
	n := max(d.Repetitions, len(d.SecondsByRepetition))
	if d.Kind == HoldBreaths || d.Kind == Breaths || d.Kind == AlternatingSeconds {
		n = 1
	}
	sizes := make([]int, max(1, d.Sets))
	for i := range sizes {
		sizes[i] = max(1, n)
	}
	return sizes
}

// Work is the seconds of work of the dose on so many sides with the client's
// breath, as contract and common practice define it: repetitions × tempo, or
// the sum of all holds, times sides; breath holds sides × (breaths + 1) ×
// breath, one breath more to come into the shape. Six ten-second holds on two
// sides are 120 s.
func (d Dose) Work(sides int, breathSeconds float64) float64 {
	if d.Kind == AlternatingSeconds { // both sides share them
		return d.Seconds * float64(len(d.SetSizes()))
	}
	sum := 0.0
	for _, side := range d.Sides(sides) {
		total := 0
		for _, n := range side.SetSizes() {
			total += n
		}
		each := side.Seconds + side.StaySeconds
		switch d.Kind {
		case HoldSeconds:
			for _, n := range side.SetSizes() {
				for i := range n {
					sum += side.Hold(i)
				}
			}
			continue
		case HoldBreaths:
			each = float64(side.Breaths+1) * breathSeconds
		case Breaths:
			each = float64(side.Breaths) * breathSeconds
		}
		sum += float64(total*side.Ways()) * each
	}
	return sum
}

// Rests are how often a dose rests between the sets of one side, and between the sides.
// Alternating sides are one stretch, and a breath-counted shape has none: it ends with
// one reset breath.
func (d Dose) Rests(sides int) (sets, turns int) {
	if d.Kind == HoldBreaths {
		return 0, 0
	}
	if sides = max(1, sides); d.Alternates() {
		sides = 1
	}
	return sides * (len(d.SetSizes()) - 1), sides - 1
}

// SideChanges are how often the sides are changed: not at all where they alternate, which is
// part of the movement.
func (d Dose) SideChanges(sides int) int {
	if d.Alternates() {
		return 0
	}
	return max(0, sides-1)
}

// Words says the dose as an instructor would.
func (d Dose) Words(sided bool) string {
	if len(d.BySide) > 0 {
		more, less := "right", "left"
		if d.BySide["left"] > d.BySide["right"] {
			more, less = less, more
		}
		return fmt.Sprintf("%s %s, %d %s", d.On(less).Words(false), less, d.BySide[more], more)
	}
	each := ""
	if sided {
		each = " each side"
	}
	if d.StaySeconds > 0 {
		each += fmt.Sprintf(", staying %s", secondsWords(d.StaySeconds))
	}
	if d.Alternating && sided {
		each += ", alternating"
	}
	sizes := d.SetSizes()
	sets := ""
	if len(sizes) > 1 {
		sets = fmt.Sprintf("%d × ", len(sizes))
	}
	count := fmt.Sprint(sizes[0])
	if len(d.RepetitionsBySet) > 1 {
		sets = ""
		parts := make([]string, len(sizes))
		for i, n := range sizes {
			parts[i] = fmt.Sprint(n)
		}
		count = strings.Join(parts, ", then ")
	}
	switch d.Kind {
	case HoldSeconds:
		if n := len(d.SecondsByRepetition); n > 1 {
			var lengths []string
			for _, s := range d.SecondsByRepetition {
				lengths = append(lengths, fmt.Sprintf("%g", s))
			}
			return fmt.Sprintf("%s%s holds growing %s and %s s%s", sets, count, strings.Join(lengths[:n-1], ", "), lengths[n-1], each)
		}
		if sizes[0] == 1 && len(d.RepetitionsBySet) == 0 {
			return fmt.Sprintf("%shold %s%s", sets, secondsWords(d.Seconds), each)
		}
		return fmt.Sprintf("%s%s holds of %s%s", sets, count, secondsWords(d.Seconds), each)
	case HoldBreaths:
		return fmt.Sprintf("%s%d breaths in the shape%s", sets, d.Breaths, each)
	case Breaths:
		return fmt.Sprintf("%s%d slow breaths%s", sets, d.Breaths, each)
	case AlternatingSeconds:
		return fmt.Sprintf("%s%s, alternating sides", sets, secondsWords(d.Seconds))
	case Circles:
		if d.BothDirections {
			count += " circles each way"
		} else {
			count += " circles"
		}
		return sets + count + each
	}
	return fmt.Sprintf("%s%s slowly%s", sets, count, each)
}

func secondsWords(s float64) string {
	if s >= 60 && math.Mod(s, 30) == 0 {
		if s == 60 {
			return "a minute"
		}
		return fmt.Sprintf("%g minutes", s/60)
	}
	return fmt.Sprintf("%g s", s)
}
