package plan

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// caps are those of the client's caps on a whole session that the choosing has to
// weigh, since they add up over exercises. Ways to the floor follow from the order,
// and the wrists are rested between sets and exercises. Time on two feet is capped in all,
// unless there are seats between.
func (r Request) caps() []limit.SessionCap {
	var out []limit.SessionCap
	for _, k := range r.Limits.Session() {
		switch k.Count {
		case limit.ExtensionCycles, limit.FlexionCycles, limit.HeavySeconds, limit.CoreExercises, limit.Exercises:
			out = append(out, k)
		}
	}
	said := r.Client.Tolerates.StandingMinutes != nil
	if m := r.standingMinutes(); m != nil && !r.seated && (said || r.maySit() && !r.shared) {
		out = append(out, limit.SessionCap{Count: limit.StandingSeconds, Max: 60 * *m})
	}
	return out
}

// counted is how much a form done with a dose adds to one of limit.SessionCounts.
func counted(count string, at exercise.Position, f *exercise.Form, phase exercise.Phase, d exercise.Dose, sides int) float64 {
	m := f.Measured
	switch count {
	case limit.ExtensionCycles:
		if m.Number("lumbar_extension") > limit.CycleDegrees {
			return cycles(d, sides)
		}
	case limit.FlexionCycles:
		if m.Number("lumbar_flexion") > limit.CycleDegrees {
			return cycles(d, sides)
		}
	case limit.HeavySeconds:
		if m.Demand() >= limit.HeavyDemand {
			return d.Work(sides, limit.DefaultBreath)
		}
	case limit.StandingSeconds:
		if onFeet(at) {
			return standingSeconds(phase, d, sides)
		}
	case limit.CoreExercises:
		if phase == "activate" || phase == "strengthen" {
			return 1
		}
	case limit.Exercises:
		return 1
	case limit.WristSeconds:
		if onWrists(f) {
			return longestSet(d)
		}
	}
	return 0
}

// standingSetUp is the most seconds that setting up an exercise on two feet takes after
// another, also for whoever is slow.
const standingSetUp = 30

// standingSeconds is the most that an exercise on two feet takes: setting up, work and the
// rests within it.
func standingSeconds(phase exercise.Phase, d exercise.Dose, sides int) float64 {
	sets, turns := rests(phase, d, sides)
	return standingSetUp + SideSeconds*float64(d.SideChanges(sides)) + d.Work(sides, limit.DefaultBreath) + math.Max(restSecondsSore,
		longestSet(d))*float64(sets+turns)
}

func onWrists(f *exercise.Form) bool { return f.Measured.Number("wrist_load") > limit.WristShare }

// cycles is how often the movement is made; a shape held for breaths, or worked
// at for a time, is one for each set.
func cycles(d exercise.Dose, sides int) float64 {
	n := 0
	for _, side := range d.Sides(sides) {
		for _, set := range side.SetSizes() {
			n += set
		}
	}
	return float64(n)
}

// longestSet is the seconds of the longest set without a rest: on one side, or on both where
// they alternate.
func longestSet(d exercise.Dose) float64 {
	longest := 0.0
	sides := 1
	if d.Alternating {
		sides = 2
	}
	for _, side := range d.Sides(2) {
		for _, n := range side.SetSizes() {
			one := side
			one.Sets, one.RepetitionsBySet = 1, nil
			if side.Kind != exercise.HoldBreaths && side.Kind != exercise.Breaths && side.Kind != exercise.AlternatingSeconds {
				one.Repetitions = n
			}
			longest = math.Max(longest, one.Work(sides, limit.DefaultBreath))
		}
	}
	return longest
}

// Use is what a whole session holds of everything that is capped for anybody.
func (p Plan) Use(lib Library) map[string]float64 {
	use := map[string]float64{limit.FloorTransfers: float64(p.Transfers.Floor)}
	for _, it := range p.Items {
		v := lib.variant(it.Variant)
		if v == nil {
			continue
		}
		for _, count := range limit.SessionCounts {
			n := counted(count, it.Position, formOf(v, it), it.Phase, it.Dose, len(it.Sides))
			switch {
			case count == limit.StandingSeconds: // at a stretch
			case count == limit.WristSeconds:
				use[count] = math.Max(use[count], n)
			case n > 0:
				use[count] += n
			}
		}
	}
	if on := longestStanding(p.Items); on > 0 {
		use[limit.StandingSeconds] = on
	}
	return use
}

func formOf(v *exercise.Variant, it Item) *exercise.Form {
	return v.FormAt(it.SurfaceShare, it.Adaptations)
}

// over names the first cap of a whole session that the plan goes beyond, and by
// how much; nil when it is inside all.
func (p Plan) over(r Request) (*limit.SessionCap, float64) {
	use := p.Use(r.lib)
	for count, n := range (Plan{Items: r.Done}).Use(r.lib) {
		switch count {
		case limit.WristSeconds: // the hands have rested since
		case limit.StandingSeconds: // the legs have not
			use[count] = longestStanding(slices.Concat(r.Done, p.Items))
		default:
			use[count] += n
		}
	}
	for _, k := range r.Limits.Session() {
		if excess := use[k.Count] - k.Max; excess > 1e-6 {
			return &k, excess
		}
	}
	return nil, 0
}

// trim leaves out the exercise that holds most of it until the session is inside every cap:
// where the minutes asked cannot be filled, nearness to them must not buy more
// than is safe. What is locked goes last.
func (p *Plan) trim(r Request) {
	for {
		over, _ := p.over(r)
		if over == nil {
			return
		}
		worst, most := -1, 0.0
		for i, it := range p.Items {
			n := counted(over.Count, it.Position, formOf(r.find(it.Variant), it), it.Phase, it.Dose, len(it.Sides))
			if it.Locked {
				n /= 1000
			}
			if n > most {
				worst, most = i, n
			}
		}
		if worst < 0 {
			return // ways to the floor follow from the order
		}
		p.Items = slices.Delete(p.Items, worst, worst+1)
		p.takeSeats(r, r.newFrame(0).from)
	}
}

// CountWords says what is counted in a whole session.
func CountWords(count string, n float64) string {
	words := map[string]string{
		limit.ExtensionCycles: "times arching the low back",
		limit.FlexionCycles:   "times rounding the low back",
		limit.HeavySeconds:    "seconds of heavy work",
		limit.FloorTransfers:  "ways to or from the floor",
		limit.WristSeconds:    "seconds on the wrists at once",
		limit.CoreExercises:   "exercises of core work",
		limit.Exercises:       "exercises",
		limit.StandingSeconds: "seconds on two feet at a stretch",
		limit.Minutes:         "minutes",
	}
	return fmt.Sprintf("%.0f %s", n, words[count])
}

// restingHands is how the hands rest where the body is.
func restingHands(p exercise.Position) string {
	switch {
	case p.Lying():
		return "Lie down and let the hands rest first."
	case p == "four_point":
		return "Take the weight back and let the hands rest first."
	case p == "floor_sit" || p == "chair_sit":
		return "Let the hands rest in the lap first."
	case p.OnFloor():
		return "Come upright and let the hands rest first."
	}
	return "Stand up tall and shake the hands out first."
}

// restWrists asks for the hands to be rested before an exercise that would make
// the time on the wrists too long.
func (p *Plan) restWrists(lib Library) {
	on := 0.0
	for i := range p.Items {
		it := &p.Items[i]
		it.First = ""
		v := lib.variant(it.Variant)
		if v == nil || !onWrists(formOf(v, *it)) {
			on = 0
			continue
		}
		long := longestSet(it.Dose)
		if i > 0 && on > 0 && on+long > limit.WristsAtOnce {
			it.First = restingHands(it.Position)
			on = 0
		}
		on += long
		if len(it.Dose.SetSizes())*len(it.Sides) > 1 {
			on = long // rested between sets and sides
		}
	}
}

// steady asks for support in reach wherever somebody who may fall stands free.
func (p *Plan) steady(r Request) {
	if !r.wantsSupport() {
		return
	}
	for i := range p.Items {
		if it := &p.Items[i]; it.Position == standingPosition {
			it.First = strings.TrimSpace(it.First + " A chair back or a rail stays in reach.")
		}
	}
}

// wantsSupport says whether a limit on balance asks for support in reach, whichever condition or
// measure it comes from.
func (r Request) wantsSupport() bool {
	if r.mayFall() {
		return true
	}
	for l := range r.Limits.Rows() {
		if l.Quantity == "balance_steps" || l.Quantity == "base_of_support" {
			return true
		}
	}
	return false
}

// mayFall says whether the client's falls risk is raised, by a condition or by measures.
func (r Request) mayFall() bool {
	return r.Client.Has("falls_risk") ||
		slices.ContainsFunc(r.Limits.Risks, func(k limit.Risk) bool { return k.ID == "falls" && k.Level == "raised" })
}
