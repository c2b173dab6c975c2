package lesson

import (
	"restbend/core/exercise"
	"restbend/core/plan"
)

// Beat is a stretch of a lesson in which one thing is counted.
type Beat struct {
	Item    int     `json:"item"` // index in the plan
	ID      string  `json:"id"`   // the item's lasting id
	Kind    string  `json:"kind"` // change, rest or work
	At      float64 `json:"at"`   // seconds from the beginning of the lesson
	Seconds float64 `json:"seconds"`
	Side    string  `json:"side"`
	Set     int     `json:"set"`  // from 1
	Sets    int     `json:"sets"` // on this side
	N       int     `json:"n"`    // which repetition, hold or breath, from 1
	Of      int     `json:"of"`   // how many of them in the set
	Unit    string  `json:"unit"` // repetitions, holds, breaths or seconds
	Label   string  `json:"label,omitempty"`
	Stay    float64 `json:"stay,omitempty"`     // seconds of a stay inside the repetition
	SetEnds bool    `json:"set_ends,omitempty"` // the last of its set
}

// Beats are the beats of a whole plan, one after the other; their seconds sum to the
// plan's.
func Beats(p plan.Plan) []Beat {
	var out []Beat
	for i, it := range p.Items {
		out = append(out, beatsOf(p, i, it)...)
	}
	at := 0.0
	for i := range out {
		out[i].At = at
		at += out[i].Seconds
	}
	return out
}

func beatsOf(p plan.Plan, i int, it plan.Item) []Beat {
	sides := SidesOf(it.Sides, it.Dose)
	rest, turn := it.Rests()
	change, end := it.SecondsChange, 0.0
	if turn > 0 { // which holds the changing over
		change -= plan.SideSeconds
	}
	if i == len(p.Items)-1 {
		end = p.ComingUp(it.EndPosition)
		change -= end
	}
	ready := Beat{Kind: "change", Label: "get ready", Seconds: change, Side: sides[0]}
	out := append([]Beat{ready}, Count(it.Dose, sides, p.Breath, rest, turn)...)
	if it.Dose.Kind == exercise.HoldBreaths {
		out = append(out, Beat{Kind: "rest", Label: "one reset breath", Seconds: p.Breath})
	}
	if end > 0 {
		out = append(out, Beat{Kind: "change", Label: "come up slowly, by the side", Seconds: end})
	}
	for n := range out {
		out[n].Item, out[n].ID = i, it.ID
	}
	return out
}

// Count are the beats of work of a dose on the given sides, with so many seconds of rest between
// sets and between sides; 0 for none. Alternating sides come lift by lift.
func Count(d exercise.Dose, sides []string, breath, rest, turn float64) (out []Beat) {
	pause := func(before Beat, label string, seconds float64) {
		if seconds > 0 {
			out = append(out, Beat{Kind: "rest", Label: label, Seconds: seconds, Side: before.Side, Set: before.Set, Sets: before.Sets})
		}
	}
	if d.Alternating {
		for set := range d.SetSizes() {
			var runs [][]Beat
			for _, side := range sides {
				runs = append(runs, setBeats(d, side, set, breath))
			}
			if set > 0 {
				pause(runs[0][0], "rest", rest)
			}
			for n := range runs[0] {
				for _, run := range runs {
					out = append(out, run[n])
				}
			}
		}
		return out
	}
	for s, side := range sides {
		on := d.On(side)
		for set := range on.SetSizes() {
			run := setBeats(on, side, set, breath)
			switch {
			case s > 0 && set == 0:
				pause(run[0], "change sides", turn)
			case set > 0:
				pause(run[0], "rest", rest)
			}
			out = append(out, run...)
		}
	}
	return out
}

// setBeats are the beats of work of one set, by its index, of a dose on one side.
func setBeats(d exercise.Dose, side string, set int, breath float64) (out []Beat) {
	sizes := d.SetSizes()
	b := Beat{Kind: "work", Side: side, Set: set + 1, Sets: len(sizes), Of: sizes[set], Stay: d.StaySeconds}
	seconds := func(int) float64 { return d.Seconds + d.StaySeconds }
	switch d.Kind {
	case exercise.Breaths:
		b.Unit, b.Of = "breaths", d.Breaths
		seconds = func(int) float64 { return breath }
	case exercise.HoldBreaths:
		b.Unit, b.Of = "breaths", d.Breaths+1
		seconds = func(int) float64 { return breath }
	case exercise.HoldSeconds:
		b.Unit, seconds = "holds", d.Hold
	case exercise.AlternatingSeconds:
		b.Unit, b.Of = "seconds", 1
	default:
		b.Unit = "repetitions"
	}
	ways := d.Ways()
	for way := range ways {
		if ways > 1 {
			b.Label = [2]string{"one way", "the other way"}[way]
		}
		for n := range b.Of {
			one := b
			one.N, one.Seconds, one.SetEnds = n+1, seconds(n), n == b.Of-1 && way == ways-1
			out = append(out, one)
		}
	}
	return out
}

// SidesOf are the sides that an exercise is counted on: one without a name where it has
// none, or where they alternate in one stretch of time.
func SidesOf(sides []string, d exercise.Dose) []string {
	if len(sides) == 0 || d.Kind == exercise.AlternatingSeconds {
		return []string{""}
	}
	return sides
}
