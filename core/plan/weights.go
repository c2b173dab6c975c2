package plan

import (
	"restbend/core/limit"
	"restbend/core/optimize"
)

// The weights of the planner, all in one place. They are this product's own choice,
// in line with common practice; none is published. Limits are no weights: what is
// barred is never weighed.

// What a session is worth.
const (
	focusWeight  = 6.0   // of the purpose that the session is to serve above all
	goalWeight   = 4.0   // of a purpose that is a goal of the client
	freshWeight  = 1.0   // on top, of the goal that the last sessions trained least
	needWeight   = 2.0   // of one that a condition or a test wants
	otherWeight  = 0.45  // of any other
	secondShare  = 0.40  // what doing a purpose a second time adds to doing it once
	thirdShare   = 0.12  // and what any more adds
	weekShare    = 0.6   // of what another session of the week holds, as if it were done in this one
	weekCost     = 1.6   // of an exercise that another session of the week holds: their middles turn
	unmetCost    = 1.2   // of what was never done, in a course that has begun
	partShare    = 0.5   // of what answers a failed test only in part
	suitsBonus   = 0.3   // for needing no adaptation
	easeWeight   = 5.0   // of moving the back in the direction that eases it, which no session is to lack
	contraryCost = 2.0   // of moving it the other way
	rungBonus    = 0.8   // for being on record
	favourBonus  = 0.7   // for what the approach reaches for
	strangeCost  = 0.3   // of what another approach reaches for
	fillerCost   = 1.0   // of work that serves no goal and no need
	recentCost   = 0.3   // of what the last session held, unless it is a rung on record
	directionOne = 0.25  // of moving the spine in a direction at all, for balance
	themeWeight  = 9.0   // of what serves the theme of a pelvis session; more than two other positions for it cost
	quietBonus   = 2.0   // of breath and rest where a session opens and closes
	uprightCost  = 2.0   // of not settling lying down where there is room to: a session begins in the most supported position
	untriedCost  = 0.7   // of each rung below that could be done here and has not been yet
	doseBonus    = 0.6   // for the way of counting that the approach likes
	againCost    = 2.2   // of a second variant of one family
	lingerCost   = 1.8   // of a second item that only settles or closes, and of a fourth that only mobilises
	overCap      = 200.0 // of going once over what a whole session may hold of something: a bar, in effect
	dearer       = 100.0 // times that, where the minutes outbid it
	dearest      = 1e8
	mustBonus    = 300.0 // of what the instructor has fixed
	keepBonus    = 15.0  // of what is in the plan already when only the minutes are to be put right
)

// soreThings is how many things a phase may hold on a sore day, beside the quiet ones.
const soreThings = 3

// longestItem is the seconds that one exercise takes at most, where a smaller dose of it
// will do.
const longestItem = 300.0

// What the order of a session costs: to leave out a phase, and the first or last one
// (more than anything else, so that a session opens and closes quietly wherever it
// can), to change position, and to get down to or up from the floor. A phase that
// nothing can fill costs the same for every session, so that a limit more can never
// make the best one worth more.
const (
	skippedPhase   = 3.0
	skippedEnd     = 10000.0
	positionCost   = 1.1
	backCost       = 3.0 // of going back to a more supported position, on top
	transferCost   = 2.0
	minuteMissCost = 0.05 // per second away from the minutes asked
	outsideCost    = 1000.0
	missSlope      = 10.0 // and outside what is near enough: so much, and so much a second
)

// What it costs to begin one more exercise: fewer, done fully, teach better than many,
// most of all where nothing is hurried; and on top where the time is short, or the client
// sore or begins low.
const (
	shortSession = 20 * 60 // seconds up to which a session is short
	shortCost    = 3.0
	gentleCost   = 3.5
)

func (r Request) oneMore(target int) float64 {
	cost := 0.5
	switch r.Approach {
	case "sensing":
		cost = 1.2
	case "breath":
		cost = 0.8
	}
	switch {
	case r.Limits.Irritability > limit.Calm || r.Limits.FirstRungs:
		cost += gentleCost
	case target <= shortSession:
		cost += shortCost
	}
	return cost
}

// How long the planner searches: dynamic programs over the candidates, the share of a session's worth
// that it may miss, and about what half an hour is worth, below which shares say nothing.
var usual = optimize.Effort{Passes: 6000, Near: 0.01, Ordinary: ordinary}

// ordinary is about what half an hour is worth.
const ordinary = 20.0
