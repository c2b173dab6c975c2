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
	sides := SidesOf(it)
	rest, turn := it.Rests()
	change, end := it.SecondsChange, 0.0
	if turn > 0 { // which holds the changing over
		change -= plan.SideSeconds
	}
	if i == len(p.Items)-1 {
		end = p.ComingUp(it.EndPosition)
		change -= end
	}
	base := Beat{Item: i, ID: it.ID}
	with := func(b Beat, kind, label string, seconds float64) Beat {
		b.Kind, b.Label, b.Seconds = kind, label, seconds
		return b
	}
	first := base
	first.Side = sides[0]
	out := []Beat{with(first, "change", "get ready", change)}
	for s, side := range sides {
		d := it.Dose.On(side)
		sizes := d.SetSizes()
		for set, size := range sizes {
			b := base
			b.Side, b.Set, b.Sets = side, set+1, len(sizes)
			switch {
			case s > 0 && set == 0 && turn > 0:
				out = append(out, with(b, "rest", "change sides", turn))
			case set > 0 && rest > 0:
				out = append(out, with(b, "rest", "rest", rest))
			}
			b.Kind, b.Of = "work", size
			seconds := func(int) float64 { return d.Seconds }
			switch d.Kind {
			case exercise.Breaths:
				b.Unit, b.Of = "breaths", d.Breaths
				seconds = func(int) float64 { return p.Breath }
			case exercise.HoldBreaths:
				b.Unit, b.Of = "breaths", d.Breaths+1
				seconds = func(int) float64 { return p.Breath }
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
		}
	}
	if it.Dose.Kind == exercise.HoldBreaths {
		out = append(out, with(base, "rest", "one reset breath", p.Breath))
	}
	if end > 0 {
		out = append(out, with(base, "change", "come up slowly, by the side", end))
	}
	return out
}

// SidesOf are the sides that an exercise is counted on: one without a name where it has
// none, or where they take turns in one stretch.
func SidesOf(it plan.Item) []string {
	if len(it.Sides) == 0 || it.Dose.Kind == exercise.AlternatingSeconds {
		return []string{""}
	}
	return it.Sides
}
