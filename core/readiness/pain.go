package readiness

import (
	"fmt"
	"slices"

	"restbend/core/civil"
	"restbend/core/limit"
)

// Visit is what a session that is over says to the days after it.
type Visit struct {
	On     civil.Day
	Before *int     // pain before it, 0 to 10
	Flags  []string // warning signs that were said afterwards
	Refers string   // why what was said afterwards refers the client; empty where it does not
}

// Mark is something that was marked in the lesson of the day and still stands.
type Mark struct {
	Kind  string // pain, tingling, or another kind of lesson.Mark, which says nothing here
	Score *int   // of pain
	Where string // of exercise.ComplaintPlaces; empty where nobody said
	Side  string
}

// Figures that decide about pain (limits.md calls them cautious choices of this product; the
// scale is that of Thomeé, Phys Ther 1997, from memory).
const (
	gentlePain   = 6  // from which a day is gentle
	stopPain     = 8  // and from which nothing is done
	agreedPain   = 8  // up to which a clinician may have agreed to work
	mostUsual    = 5  // that pain may be and still count as usual
	usualVisits  = 6  // of which the usual pain is the median
	fewestVisits = 3  // that are enough for it
	usualRise    = 2  // of that median, which is asked about
	riseDays     = 28 // within which it is looked for
	stepBackPain = 3  // in a lesson, from which the rest of an exercise is offered a step easier
	lowUpper     = 90 // mmHg under which dizziness stops
	lowLower     = 60
	fastPulse    = 120 // beats a minute at rest over which nothing is done
)

// hurt is what hurts on the day.
type hurt struct {
	score int
	parts []Part // where it was said
}

// asOf makes the client that of the day: what was said on another day is history, and pain
// that is unknown is taken to be as usual, else as it was last.
func (k *assessment) asOf() {
	c := k.given
	on := k.day.String()
	if t := c.Today; t != nil && t.On != on { // of another day only a warning sign stays
		c.Today = nil
		if signs := t.Signs(); len(signs) > 0 && t.On < on {
			c.Today = &limit.Today{On: t.On, New: signs}
		}
	}
	if c.RestingPressureOn != "" && c.RestingPressureOn != on {
		if p, ok := limit.ReadPressure(c.RestingPressure); ok && p.High() {
			c = c.WithoutReading() // planned as not under control until it is taken again
			k.asks(
				"resting_pressure",
				p.String(),
				fmt.Sprintf("The pressure was %s on %s: what is it now?", p, k.given.RestingPressureOn),
			)
		}
	}
	last := c.Pain.Now
	if c.Pain.On != "" && c.Pain.On != on {
		c.Pain.Now, c.Pain.Worst24h = nil, nil
	}
	if c.Today != nil && c.Today.Pain != nil {
		c.Pain.Now = c.Today.Pain
	}
	usual, exists := k.usual(c)
	if c.UsualPain = nil; exists {
		c.UsualPain = &usual
	}
	k.known = c.Pain.Now != nil
	if !k.known {
		switch n := len(k.past); {
		case exists:
			c.Pain.Now = &usual
		case last != nil:
			c.Pain.Now = last
		case n > 0:
			c.Pain.Now = k.past[n-1].Before
		}
		if p := c.Pain.PlannedAs; p != nil && (c.Pain.Now == nil || *c.Pain.Now < *p) {
			c.Pain.Now = p
		}
		if c.Pain.Now == nil {
			k.asks("pain.now", "", "What is the pain now, 0 to 10?")
		} else {
			k.asks(
				"pain.now",
				fmt.Sprint(*c.Pain.Now),
				fmt.Sprintf("What is the pain now? Nobody has asked today; %d is used.", *c.Pain.Now),
			)
		}
	}
	if k.known {
		k.hurts.score = *c.Pain.Now
	}
	if t := c.Today; t != nil {
		for _, where := range t.Where {
			k.hurts.parts = append(k.hurts.parts, Part{where, t.Side})
		}
	}
	k.client = c
}

// limbSigns are what may be new in a limb.
var limbSigns = []string{"limb_pain", "numbness", "tingling", "weakness"}

// usual is the pain that most days have: as it was agreed at intake, else the median of the
// last befores. It does not exist where pain must not be taken for usual.
func (k *assessment) usual(c limit.Client) (int, bool) {
	if k.neverUsual(c) {
		return 0, false
	}
	if c.UsualPain != nil {
		return min(*c.UsualPain, mostUsual), true
	}
	return median(k.befores(len(k.past)))
}

// befores are the last pains before of the first n sessions.
func (k *assessment) befores(n int) []int {
	var out []int
	for i := n - 1; i >= 0 && len(out) < usualVisits; i-- {
		if b := k.past[i].Before; b != nil {
			out = append(out, *b)
		}
	}
	return out
}

// median is the middle of at least fewestVisits pains, the lower of two, at most mostUsual.
func median(pains []int) (int, bool) {
	if len(pains) < fewestVisits {
		return 0, false
	}
	slices.Sort(pains)
	return min(pains[(len(pains)-1)/2], mostUsual), true
}

// neverUsual says whether a client has what makes any pain a matter for asking: pain or
// numbness in a limb, a fresh operation, a fracture or cancer.
func (k *assessment) neverUsual(c limit.Client) bool {
	if t := c.Today; t != nil && (slices.ContainsFunc(t.Where, k.limb) ||
		slices.ContainsFunc(t.New, func(s string) bool { return slices.Contains(limbSigns, s) })) {
		return true
	}
	for _, one := range c.Conditions {
		if d := k.Conditions.Condition(one.ID); d == nil || d.PainIsNeverUsual(one, k.day) {
			return true
		}
	}
	return false
}

// rising looks for a usual pain that has risen within four weeks.
func (k *assessment) rising() {
	now, ok := median(k.befores(len(k.past)))
	if !ok || k.neverUsual(k.client) {
		return
	}
	for n := len(k.past) - 1; n >= fewestVisits; n-- {
		if k.day.Since(k.past[n].On) > riseDays {
			return
		}
		if before, ok := median(k.befores(n)); ok && now-before >= usualRise {
			k.asks("usual_pain", fmt.Sprintf("%d, then %d", before, now),
				fmt.Sprintf("The pain of most days went from %d to %d within four weeks: what has changed?", before, now))
			return
		}
	}
}
