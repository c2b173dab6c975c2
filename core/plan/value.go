package plan

import (
	"math"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/optimize"
)

// The value of a session is a sum of features with falling returns, plus what
// each item is worth by itself, less what it costs to begin and to change. A
// feature is a purpose trained, a family used, a phase filled or a cap used up.
// Package optimize finds the best session by it.

// problem is what optimize is told: the candidates with what they are worth by themselves
// and hold of the features they share, and what the order and the minutes of the frame cost.
func (r Request) problem(cs []candidate, f frame) optimize.Problem {
	p := optimize.Problem{Ways: f.ways(), Time: f.time(), Skip: f.skips(), Begin: f.oneMore}
	v := &valuer{Request: r, index: map[string]int{}}
	starts := r.starts(cs)
	for i := range cs {
		c := &cs[i]
		k := optimize.Candidate{Group: f.phase(c.phase), Start: c.variant.Position.Rank(), End: c.variant.EndPosition.Rank(),
			Units: v.units(c.variant, c.judged.Form, c.phase), Must: c.must}
		for _, o := range c.doses {
			k.Options = append(k.Options, optimize.Option{Seconds: int(math.Round(o.seconds + c.setUp(o.dose))), Returns: o.returns,
				Uses: v.uses(c.variant.Position, c.judged.Form, c.phase, o.dose, len(r.sides(c.variant)))})
		}
		k.Own = r.own(c, r.off(*c, starts))
		k.Bonus = c.bonus
		p.Candidates = append(p.Candidates, k)
	}
	v.count(r.Done)
	v.heed(r.Week)
	p.Features = v.features
	return p
}

// valuer gives exercises their units of the features of a session.
type valuer struct {
	Request
	features []optimize.Feature
	index    map[string]int
}

func (v *valuer) feature(name string, slopes [3]float64) int {
	i, ok := v.index[name]
	if !ok {
		i = len(v.features)
		v.index[name] = i
		v.features = append(v.features, optimize.Feature{Slopes: slopes})
	}
	return i
}

// barring is the price of going over a cap.
func (v *valuer) barring() float64 { return max(v.bar, overCap) }

// units are what a full dose of a form holds of each feature.
func (v *valuer) units(of *exercise.Variant, form *exercise.Form, phase exercise.Phase) []optimize.Unit {
	var out []optimize.Unit
	add := func(name string, slopes [3]float64, amount float64, whole bool) {
		out = append(out, optimize.Unit{Feature: v.feature(name, slopes), Amount: amount, Whole: whole})
	}
	share := 1.0
	for _, p := range v.ranked(of) {
		w := v.weight(p)
		add("purpose "+string(p), [3]float64{w, w * secondShare, w * thirdShare}, share*v.answer(p, of), false)
		share /= 2
	}
	if t := v.theme(); t != "" && slices.Contains(of.Purposes, t) && !quietPhase(phase) { // the frame is no part of the theme
		add("theme", [3]float64{themeWeight, themeWeight * secondShare, themeWeight * thirdShare}, 1, true)
	}
	if v.eases(form.Measured) > 0 {
		add("ease", [3]float64{easeWeight, easeWeight * secondShare, easeWeight * thirdShare}, 1, true)
	}
	for _, d := range directions(form.Measured) {
		add("direction "+d, [3]float64{directionOne, directionOne * secondShare, 0}, 1, false)
	}
	add("family "+of.Family, [3]float64{0, -againCost, -againCost}, 1, true)
	slopes, one := [3]float64{}, 1.0
	switch {
	case quietPhase(phase):
		if of.ID != pelvisCheck && of.Family != "walking" { // what frames a session is no lingering
			slopes = [3]float64{0, -lingerCost, -2 * lingerCost}
		}
	case v.Limits.Irritability > limit.Calm: // three things a phase, and no more
		slopes, one = [3]float64{0, 0, -v.barring()}, 2.0/soreThings
	case phase == "mobilise", phase == "upright" && !upright(v.Place):
		slopes[2] = -lingerCost / 2
	}
	if slopes != ([3]float64{}) {
		add("phase "+string(phase), slopes, one, true)
	}
	return out
}

// uses are what a form done with a dose takes of what a whole session may hold.
func (v *valuer) uses(at exercise.Position, form *exercise.Form, phase exercise.Phase, d exercise.Dose, sides int) (out []optimize.Unit) {
	for _, u := range v.caps() {
		if amount := counted(u.Count, at, form, phase, d, sides); amount > 0 {
			i := v.feature("cap "+u.Count, [3]float64{0, -v.barring(), -v.barring()})
			v.features[i].Cap = true
			out = append(out, optimize.Unit{Feature: i, Amount: amount / u.Max, Whole: true})
		}
	}
	return out
}

// count counts what was done before, so that more of it adds less.
func (v *valuer) count(done []Item) {
	for _, it := range done {
		w := v.find(it.Variant)
		if w == nil {
			continue
		}
		form := formOf(w, it)
		for _, u := range append(v.units(w, form, it.Phase), v.uses(w.Position, form, it.Phase, it.Dose, len(it.Sides))...) {
			v.features[u.Feature].Had += u.Amount
		}
	}
}

// heed lets what other sessions of the week hold bring less here: purposes and directions,
// at a part of what they would be in one session.
func (v *valuer) heed(week []Item) {
	for _, it := range week {
		w := v.find(it.Variant)
		if w == nil || quietPhase(it.Phase) {
			continue
		}
		for _, u := range v.units(w, formOf(w, it), it.Phase) {
			if !u.Whole {
				v.features[u.Feature].Had += weekShare * u.Amount
			}
		}
	}
}

// directions are the directions of the spine in which a form moves it, beyond
// leastMoved degrees in low or upper back.
func directions(m exercise.Measured) []string {
	var out []string
	for _, d := range []string{"flexion", "extension", "side_bend_left", "side_bend_right", "rotation_left", "rotation_right"} {
		if math.Max(m.Number("lumbar_"+d), m.Number("thoracic_"+d)) > leastMoved {
			out = append(out, strings.TrimSuffix(strings.TrimSuffix(d, "_left"), "_right"))
		}
	}
	return slices.Compact(out)
}

const leastMoved = 8 // degrees

// answer is how much of a full dose's return a variant brings for a purpose: where a
// test has shown the need, what answers it only in part counts less.
func (r Request) answer(p exercise.Purpose, v *exercise.Variant) float64 {
	for _, t := range r.failed {
		if !slices.Contains(t.Needs, p) {
			continue
		}
		if level, _ := t.Answer(p, v); level == "part" {
			return partShare
		}
	}
	return 1
}

// upright says whether a place is for being upright, so that this phase may be
// long.
func upright(place exercise.Place) bool { return place == "chair" || place == "standing" }

// ranked are a variant's purposes, the one that counts most for this client
// first.
func (r Request) ranked(v *exercise.Variant) []exercise.Purpose {
	out := slices.Clone(v.Purposes)
	slices.SortStableFunc(out, func(a, b exercise.Purpose) int {
		switch x, y := r.weight(a), r.weight(b); {
		case x > y:
			return -1
		case x < y:
			return 1
		}
		return 0
	})
	return out
}

func (r Request) weight(p exercise.Purpose) float64 {
	if p == r.Focus {
		return focusWeight
	}
	if slices.Contains(r.Client.Goals, p) {
		if r.freshest(p) {
			return goalWeight + freshWeight
		}
		return goalWeight
	}
	if slices.ContainsFunc(r.Limits.Needs, func(n limit.Need) bool { return n.Purpose == p }) {
		return needWeight
	}
	return otherWeight
}

// freshest says whether a goal was trained less than another in the last sessions, and less
// than or as little as every other.
func (r Request) freshest(p exercise.Purpose) bool {
	least, most := r.History.Trained[p], r.History.Trained[p]
	for _, g := range r.Client.Goals {
		least, most = min(least, r.History.Trained[g]), max(most, r.History.Trained[g])
	}
	return least < most && r.History.Trained[p] == least
}

// own is what a candidate is worth by itself, whatever else is chosen, when it lies so
// many rungs from where the client may begin.
//
//revive:disable-next-line:cyclomatic One term of the value after the other, each with its reason.
func (r Request) own(c *candidate, off int) float64 {
	sum := 0.0
	switch {
	case c.must:
		// Worth this much whatever its dose.
		c.bonus = mustBonus / c.doses[0].returns
		return c.bonus
	case c.keep:
		c.bonus = keepBonus
		sum += keepBonus
	}
	if c.judged.Verdict == exercise.Suits {
		sum += suitsBonus
	}
	sum += contraryCost * min(0, r.eases(c.judged.Form.Measured))
	if quietPhase(c.phase) && quiet(c.variant) {
		sum += quietBonus
	}
	if len(r.Client.Goals)+len(r.Limits.Needs) > 0 && r.filler(*c) {
		sum -= fillerCost
	}
	if c.phase == "settle" && !c.variant.Position.Lying() && r.Place.Holds("supine") && !r.StandingFirst && !r.mayFall() {
		sum -= uprightCost
	}
	switch {
	case r.recorded(c.variant):
		sum += rungBonus
	case !r.onRecord(c.variant.Family) && !r.recent(c.variant):
		sum -= untriedCost * float64(off)
	}
	switch {
	case r.recorded(c.variant):
	case r.recent(c.variant) && !quietPhase(c.phase):
		sum -= recentCost
	}
	if !quietPhase(c.phase) && slices.ContainsFunc(r.Week, func(it Item) bool { return it.Variant == c.variant.ID }) {
		sum -= weekCost
	}
	if r.History.Met != nil && !r.History.Met[c.variant.ID] && !quietPhase(c.phase) {
		sum -= unmetCost
	}
	switch {
	case slices.Contains(c.variant.Favours, r.Approach):
		sum += favourBonus
	case len(c.variant.Favours) > 0:
		sum -= strangeCost
	}
	if slices.Contains(likes[r.Approach], c.doses[0].dose.Kind) {
		sum += doseBonus
	}
	return sum
}

// filler says whether an exercise of effort serves no goal and no need: it may fill the
// minutes, at its usual dose, after what is wanted.
func (r Request) filler(c candidate) bool {
	if r.wide || quietPhase(c.phase) || c.phase == "mobilise" || c.must || c.keep {
		return false
	}
	return !slices.ContainsFunc(c.variant.Purposes, func(p exercise.Purpose) bool { return r.weight(p) > otherWeight })
}

// eases is 1 for a form that moves the low back in the direction that eases it, −1
// for one that moves it the other way, 0 where none is recorded or both are used.
func (r Request) eases(m exercise.Measured) float64 {
	for _, k := range r.Client.Conditions {
		if k.ID != "disc_sciatica" || k.Word("eases") != "extension" && k.Word("eases") != "flexion" {
			continue
		}
		forward, back := m.Number("lumbar_flexion") > leastMoved, m.Number("lumbar_extension") > leastMoved
		if k.Word("eases") == "flexion" {
			forward, back = back, forward
		}
		switch {
		case back && !forward:
			return 1
		case forward && !back:
			return -1
		}
	}
	return 0
}

// quiet says whether a variant is for breath or rest before anything else.
func quiet(v *exercise.Variant) bool {
	return v.Purposes[0] == "breath" || v.Purposes[0] == "relaxation"
}
