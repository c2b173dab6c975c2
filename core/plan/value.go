package plan

import (
	"math"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// The value of a session is a sum of features with falling returns, plus what
// each item is worth by itself, less what it costs to begin and to change. A
// feature is a purpose trained, a family used or a phase filled. Since every
// return is concave, putting a price on each feature splits the value into the
// items again, so that the walk of chain finds the best sequence for those
// prices; and by weak duality that sequence's worth plus what the prices leave
// over is a proven upper bound for the whole.

// feature is one concave return: the first unit is worth the first slope, the
// second the second, any more the third.
type feature struct {
	slopes [3]float64
	had    float64 // what earlier parts of the session have done of it
}

// worth is what so much adds to what was done already.
func (f feature) worth(amount float64) float64 {
	if f.had > 0 {
		return f.total(f.had+amount) - f.total(f.had)
	}
	return f.total(amount)
}

func (f feature) total(amount float64) float64 {
	switch {
	case amount <= 1:
		return f.slopes[0] * amount
	case amount <= 2:
		return f.slopes[0] + f.slopes[1]*(amount-1)
	}
	return f.slopes[0] + f.slopes[1] + f.slopes[2]*(amount-2)
}

// most of any feature that one session can hold.
const mostOfOne = 40

// corners are the amounts at which the return bends, from none on.
func (f feature) corners() []corner {
	out := []corner{{}}
	for _, y := range []float64{1 - f.had, 2 - f.had, mostOfOne} {
		if y > 0 {
			out = append(out, corner{y, f.worth(y)})
		}
	}
	return out
}

// steep is the price of so much at which no more and no less of it would be better,
// the nearest to the given one where it bends there.
func (f feature) steep(amount, price float64) float64 {
	const bend = 1e-9
	switch a := amount + f.had; {
	case a < 1-bend:
		return f.slopes[0]
	case a <= 1+bend:
		return max(f.slopes[1], min(f.slopes[0], price))
	case a < 2-bend:
		return f.slopes[1]
	case a <= 2+bend:
		return max(f.slopes[2], min(f.slopes[1], price))
	}
	return f.slopes[2]
}

// start is the price that the search begins with: half-way down, and none for
// what is only a cap.
func (f feature) start() float64 {
	if f.slopes[0] == 0 && f.slopes[1] <= -overCap {
		return 0
	}
	return (f.slopes[0] + f.slopes[1]) / 2
}

// unit is how much of a feature a full dose of a candidate holds; whole ones
// count the item itself, whatever its dose.
type unit struct {
	feature int
	amount  float64
	whole   bool
}

// valued are the candidates of a request with the features they share.
type valued struct {
	features []feature
	cs       []candidate
}

// value gives candidates their units and their worth by itself.
func (r Request) value(cs []candidate) valued {
	v := valued{cs: cs}
	index := map[string]int{}
	caps, bar := r.caps(), max(r.bar, overCap)
	feat := func(name string, slopes [3]float64) int {
		i, ok := index[name]
		if !ok {
			i = len(v.features)
			index[name] = i
			v.features = append(v.features, feature{slopes: slopes})
		}
		return i
	}
	units := func(v *exercise.Variant, form *exercise.Form, phase exercise.Phase) []unit {
		var out []unit
		share := 1.0
		for _, p := range r.ranked(v) {
			w := r.weight(p)
			out = append(out, unit{feat("purpose "+string(p), [3]float64{w, w * secondShare, w * thirdShare}), share * r.answer(p, v), false})
			share /= 2
		}
		if t := r.theme(); t != "" && slices.Contains(v.Purposes, t) && !quietPhase(phase) { // the frame is no part of the theme
			out = append(out, unit{feat("theme", [3]float64{themeWeight, themeWeight * secondShare, themeWeight * thirdShare}), 1, true})
		}
		if r.eases(form.Measured) > 0 {
			out = append(out, unit{feat("ease", [3]float64{easeWeight, easeWeight * secondShare, easeWeight * thirdShare}), 1, true})
		}
		for _, d := range directions(form.Measured) {
			out = append(out, unit{feat("direction "+d, [3]float64{directionOne, directionOne * secondShare, 0}), 1, false})
		}
		out = append(out, unit{feat("family "+v.Family, [3]float64{0, -againCost, -againCost}), 1, true})
		slopes, one := [3]float64{}, 1.0
		switch {
		case quietPhase(phase):
			if v.ID != pelvisCheck && v.Family != "walking" { // what frames a session is no lingering
				slopes = [3]float64{0, -lingerCost, -2 * lingerCost}
			}
		case r.Limits.Irritability > limit.Calm: // three things a phase, and no more
			slopes, one = [3]float64{0, 0, -bar}, 2.0/soreThings
		case phase == "mobilise", phase == "upright" && !upright(r.Place):
			slopes[2] = -lingerCost / 2
		}
		if slopes != ([3]float64{}) {
			out = append(out, unit{feat("phase "+string(phase), slopes), one, true})
		}
		return out
	}
	starts := r.starts(cs)
	for i := range cs {
		c := &v.cs[i]
		c.units = units(c.variant, c.judged.Form, c.phase)
		for k := range c.doses {
			c.doses[k].uses = nil
			for _, u := range caps {
				if amount := counted(u.Count, c.judged.Form, c.phase, c.doses[k].dose, len(r.sides(c.variant))); amount > 0 {
					c.doses[k].uses = append(c.doses[k].uses, unit{feat("cap "+u.Count, [3]float64{0, -bar, -bar}), amount / u.Max, true})
				}
			}
		}
		c.own = r.own(c, r.off(*c, starts))
	}
	for _, it := range r.Done {
		w := r.find(it.Variant)
		if w == nil {
			continue
		}
		for _, u := range units(w, formOf(w, it), it.Phase) {
			v.features[u.feature].had += u.amount
		}
		for _, u := range caps {
			if amount := counted(u.Count, formOf(w, it), it.Phase, it.Dose, len(it.Sides)); amount > 0 {
				v.features[feat("cap "+u.Count, [3]float64{0, -bar, -bar})].had += amount / u.Max
			}
		}
	}
	return v
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

// add adds how much of each feature a choice holds.
func (v valued) add(to []float64, chosen []choice) {
	for _, k := range chosen {
		c := &v.cs[k.candidate]
		o := &c.doses[k.option]
		for _, u := range c.units {
			if u.whole {
				to[u.feature] += u.amount
			} else {
				to[u.feature] += u.amount * o.returns
			}
		}
		for _, u := range o.uses {
			to[u.feature] += u.amount
		}
	}
}
