package plan

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// Seats between stretches on two feet, for whoever bears only so long.

// onFeet says whether a position is on two feet.
func onFeet(p exercise.Position) bool { return p == standingPosition || p == "standing_supported" }

// unsteadyStanding is how many minutes on two feet at a stretch are enough for whoever may
// fall and has not said more (common practice).
const unsteadyStanding = 10.0

// standingMinutes are those that the client bears on two feet at a stretch; nil for as long
// as it takes.
func (r Request) standingMinutes() *float64 {
	if m := r.Client.Tolerates.StandingMinutes; m != nil || !r.mayFall() {
		return m
	}
	most := unsteadyStanding
	return &most
}

// seatSeconds is about how long a seat lasts, and shortestStretch is the fewest minutes on two
// feet that are worth a seat after them: who bears less does better in another place (common
// practice, both).
const (
	seatSeconds     = 60
	shortestStretch = 2
)

// seatFamilies hold what a seat is filled with: quiet breath or rest, the arms down.
var seatFamilies = []string{"rib_breathing", "rest"}

// seat is the exercise that is sat through between two stretches. It is nil where there is no
// chair or none of that kind is safe.
func (r Request) seat() *exercise.Variant {
	if !slices.Contains(slices.Concat(r.kit(), r.Place.OwnEquipment()), "chair") {
		return nil
	}
	for _, family := range seatFamilies {
		for _, v := range r.lib.Variants {
			if v.Family == family && v.Position == "chair_sit" && Available(v, "chair", r.kit()) && r.judge(v).Verdict != exercise.Avoid {
				return v
			}
		}
	}
	return nil
}

// withSeats are timed items with a seat wherever the time on two feet would otherwise be
// longer at a stretch than the client bears. Where there is nothing to sit on that is safe the
// words before the exercise ask for it.
func (r Request) withSeats(items []Item) []Item {
	if !r.maySit() {
		return items
	}
	var out []Item
	v, most, on := r.seat(), 60**r.standingMinutes(), standingAtEnd(r.Done)
	for _, it := range items {
		if on > 0 && onFeet(it.Position) && stands(on, it) > most {
			out = append(out, r.seatAt(v, out, it.Phase))
			on = 0
		}
		on = stands(on, it)
		out = append(out, it)
	}
	return out
}

func withoutSeats(items []Item) []Item {
	return slices.DeleteFunc(slices.Clone(items), func(it Item) bool { return it.Seat })
}

// seatAt is a seat after the items before it, or in the phase of what follows.
func (r Request) seatAt(v *exercise.Variant, before []Item, phase exercise.Phase) Item {
	if len(before) > 0 {
		phase = before[len(before)-1].Phase
	}
	d := Desk{r}
	j := r.judge(v)
	dose, err := d.Nearest(v, j, v.Phases[0], seatSeconds)
	if err != nil {
		dose = r.usual(v)
	}
	it := r.item(v, j, phase, dose)
	it.Seat = true
	return it
}

// stands is how many seconds somebody has been on two feet at the end of an item, who had
// been so for on before it. Getting up to it is not standing yet.
func stands(on float64, it Item) float64 {
	switch {
	case !onFeet(it.Position):
		return 0
	case it.SecondsWork == 0: // not timed
		return on + standingSeconds(it.Phase, it.Dose, len(it.Sides))
	case on == 0:
		return it.SecondsWork + it.SecondsRest + SideSeconds*float64(it.Dose.SideChanges(len(it.Sides)))
	}
	return on + it.Seconds()
}

// standingAtEnd is how long somebody has been on two feet at the end of these items.
func standingAtEnd(items []Item) (on float64) {
	for _, it := range items {
		on = stands(on, it)
	}
	return on
}

// longestStanding is the most seconds on two feet at a stretch.
func longestStanding(items []Item) (longest float64) {
	on := 0.0
	for _, it := range items {
		on = stands(on, it)
		longest = math.Max(longest, on)
	}
	return longest
}

// seatCost is about what a seat adds to a session: sitting down, the rest and getting up.
func (r Request) seatCost() int {
	m := mover{r.Place, r.Limits.Slow}
	return int(seatSeconds + m.change(standingPosition, "chair_sit") + m.up("chair_sit"))
}

// maySit says whether the request is one for seats between: the client bears only so long on
// two feet, but long enough to be worth one, and there is something to sit on.
func (r Request) maySit() bool {
	minutes := r.standingMinutes()
	return minutes != nil && *minutes >= shortestStretch && r.seat() != nil
}

// overStands says whether a plan holds more on two feet than may be without seats.
func (r Request) overStands(p Plan) bool {
	all := 0.0
	for _, it := range slices.Concat(r.Done, p.Items) {
		if onFeet(it.Position) {
			all += standingSeconds(it.Phase, it.Dose, len(it.Sides))
		}
	}
	return slices.ContainsFunc(r.caps(), func(k limit.SessionCap) bool { return k.Count == limit.StandingSeconds && all > k.Max+1e-6 })
}

// seatNotes say why there are seats in between, and where none would be wanted.
func (r Request) seatNotes(p Plan, target int) []string {
	n := p.Seats()
	if n == 0 {
		return nil
	}
	words := "A seat is put in between"
	if n > 1 {
		words = fmt.Sprintf("%d seats are put in between", n)
	}
	words += fmt.Sprintf(": %s on two feet at a stretch are the most.", limit.MinutesWords(*r.standingMinutes()))
	var places []string
	for _, place := range exercise.Places {
		if place == r.Place || place == "studio" || place == exercise.Place(standingPosition) {
			continue
		}
		there := r.filledAt(place, target)
		if there.fits(target) && there.Seats() == 0 {
			places = append(places, place.Words())
		}
	}
	if len(places) > 0 {
		words += " None is wanted " + strings.Join(places[:min(2, len(places))], " or ") + "."
	}
	return []string{words}
}

// takeSeats puts the seats in where they are needed, and the times right.
func (p *Plan) takeSeats(r Request, at exercise.Position) {
	p.Items = withoutSeats(p.Items)
	p.retimeFrom(r, at)
	if p.Items = r.withSeats(p.Items); p.Seats() > 0 {
		p.retimeFrom(r, at)
	}
}

// Seats is how many seats there are between stretches on two feet.
func (p Plan) Seats() (n int) {
	for _, it := range p.Items {
		if it.Seat {
			n++
		}
	}
	return n
}

// restFeet asks in words for a seat before an exercise that would make the time on two feet
// longer at a stretch than the client bears.
func (p *Plan) restFeet(r Request) {
	minutes := r.standingMinutes()
	if minutes == nil {
		return
	}
	most, on := 60**minutes, standingAtEnd(r.Done)
	for i := range p.Items {
		it := &p.Items[i]
		if it.Seat {
			it.First = strings.TrimSpace("Sit down and let the legs rest. " + it.First)
		}
		if on > 0 && onFeet(it.Position) && stands(on, *it) > most {
			it.First = strings.TrimSpace(it.First + " Sit down and rest the legs first.")
			on = 0
		}
		on = stands(on, *it)
	}
}
