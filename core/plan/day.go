package plan

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/readiness"
)

// What suits the day: fewer minutes than were asked where the client is sore, out of
// training, fresh from an operation or here for the first time; what the rest of the
// time can be; and, where even that cannot be filled, how much is missing, why, and
// where more would suit.

// Minutes of work that are enough on a first visit, beside talk and tests (common
// practice).
const firstMinutes = 30

// near is how far under the minutes a plan may stay, as a share, before it has to
// explain itself.
const near = 0.05

// fewItems are so few that a plan is no session.
const fewItems = 2

// Shortfall is what a plan lacks of the lesser of the minutes asked and advised.
type Shortfall struct {
	Minutes int            `json:"minutes"`
	Because []string       `json:"because"` // sentences
	Places  []PlaceMinutes `json:"places"`  // where more would suit, the most first
}

// PlaceMinutes are the minutes that suit in one place.
type PlaceMinutes struct {
	Place   exercise.Place `json:"place"`
	Minutes int            `json:"minutes"`
}

// Why a goal is not served.
const (
	Barred   = "barred"    // what serves it here is not for this client
	NotHere  = "place"     // nothing serves it in this place
	TooSore  = "sore"      // not on a day like this
	Unowned  = "equipment" // it wants something that is not there
	TooFarUp = "rung"      // what serves it is too far up its ladder yet

	noMinutes = "" // something would serve it, but the minutes went to what counts more
)

// Unserved is a goal that nothing in the plan serves, and why.
type Unserved struct {
	Purpose exercise.Purpose `json:"purpose"`
	Because string           `json:"because"`
}

// Words say it in a sentence.
func (u Unserved) Words() string {
	return upper(
		u.Purpose.Words(),
	) + " " + map[string]string{Barred: "is not served: what there is for it here is not for this client.", NotHere: "is not served: " +
		"nothing does it in this place.",
		TooSore: "waits for a calmer day.", Unowned: "is not served: it wants equipment that is not " +
			"there.", TooFarUp: "waits: what serves it is further up its ladder.",
		noMinutes: "is not served in so few minutes."}[u.Because]
}

func upper(s string) string { return strings.ToUpper(s[:1]) + s[1:] }

func lower(name string) string {
	if name == "" {
		return name
	}
	return strings.ToLower(name[:1]) + name[1:]
}

// advised is how many minutes suit the day, at most those asked, with the reasons
// where they are fewer. A session that goes on is taken as it is asked.
func (r Request) advised() (int, []string) {
	minutes, because := r.Minutes, []string{}
	if len(r.Done) > 0 {
		return minutes, because
	}
	for _, k := range r.Limits.Session() {
		if k.Count == limit.Minutes && k.Max < float64(minutes) {
			minutes = int(k.Max)
			for _, why := range k.Reasons {
				because = append(because, why.Text)
			}
		}
	}
	if r.History.First && minutes > firstMinutes {
		minutes, because = firstMinutes, append(because, "It is a first visit: the talk and the tests have their time too.")
	}
	return minutes, because
}

// Advice is what the day asks for, and why; empty where it is what was asked. It is the
// first of the notes.
func (p Plan) Advice() string {
	if p.MinutesAdvised == 0 || len(p.Notes) == 0 {
		return ""
	}
	return p.Notes[0]
}

// adviceNote says what the day asks for, why, and what the rest of the time can be.
func (r Request) adviceNote(minutes int, because []string) string {
	rest := []string{"talk", "rest", "breath"}
	if r.Limits.Irritability < limit.Flared {
		rest = append(rest, "an easy walk")
	}
	if r.Limits.Irritability == limit.Calm {
		rest = append(rest, "the tests")
	}
	last := len(rest) - 1
	return fmt.Sprintf("Asked %d minutes, today %d. %s The other %d can be %s and %s.", r.Minutes, minutes, strings.Join(because, " "),
		r.Minutes-minutes, strings.Join(rest[:last], ", "), rest[last])
}

// short is what the plan lacks of its target, with its reasons; nil when it is near enough.
func (r Request) short(p Plan, target int) *Shortfall {
	miss := float64(target) - p.SecondsTotal
	if miss <= near*float64(target) {
		return nil
	}
	return &Shortfall{Minutes: max(1, int(math.Round(miss/60))), Because: r.whyShort(p), Places: []PlaceMinutes{}}
}

// elsewhere are the places where a minute more or better of the target would suit than in
// the plan, the most first.
func (r Request) elsewhere(p Plan, target int) []PlaceMinutes {
	out := []PlaceMinutes{}
	for _, place := range exercise.Places {
		if place == r.Place || place == "studio" {
			continue
		}
		there := r.filledAt(place, target)
		if len(there.Items) >= fewItems && there.SecondsTotal > p.SecondsTotal+60 {
			out = append(out, PlaceMinutes{place, int(there.SecondsTotal / 60)})
		}
	}
	slices.SortStableFunc(out, func(a, b PlaceMinutes) int { return b.Minutes - a.Minutes })
	return out
}

// filledAt is a plan of the same request in another place.
func (r Request) filledAt(place exercise.Place, target int) Plan {
	r.Place, r.Fixed, r.Kept = place, nil, nil
	r = r.from(r.lib)
	there := Plan{Place: place, Approach: r.Approach, Breath: r.Client.BreathSeconds(), Slow: r.Limits.Slow, Home: r.Home}
	there.fillEither(r, target)
	return there
}

// whyShort are the reasons why no more is on offer, the one that takes the most first.
func (r Request) whyShort(p Plan) []string {
	barred, of, lacking := map[string]int{}, 0, 0
	text := map[string]string{}
	for _, v := range r.lib.Variants {
		if !r.Place.Holds(v.Position) || !slices.Contains(v.Places, r.Place) {
			continue
		}
		of++
		if !r.available(v) {
			lacking++
			continue
		}
		if j := r.judge(v); j.Verdict == exercise.Avoid {
			barred[j.Reasons[0].Rule]++
			text[j.Reasons[0].Rule] = j.Reasons[0].Text
		}
	}
	var out []string
	most, n := "", 0
	for rule, k := range barred {
		if k > n || k == n && rule < most {
			most, n = rule, k
		}
	}
	if n*4 > of {
		out = append(out, text[most])
	}
	switch {
	case r.Limits.Irritability == limit.Flared:
		out = append(out, "Pain today leaves only quiet breath and easy movement.")
	case r.Limits.Irritability > limit.Calm:
		out = append(out, "On a sore day there is nothing new and nothing above the usual dose.")
	}
	if r.Limits.FirstRungs {
		out = append(out, "Only the first steps of the ladders are for this client yet.")
	}
	if lacking*3 > of {
		out = append(out, fmt.Sprintf("Of the %d exercises of this place %d want equipment that is not there.", of, lacking))
	}
	if len(out) == 0 {
		out = append(out, fmt.Sprintf("There is no more %s that suits.", r.Place.Words()))
	}
	return slices.Compact(out)
}

// shortNote says a shortfall in a sentence.
func (r Request) shortNote(p Plan, target int, s *Shortfall) string {
	of := "asked"
	if p.MinutesAdvised > 0 {
		of = "that suit today"
	}
	words := fmt.Sprintf(
		"What is safe %s comes to %s of the %d minutes %s.",
		r.Place.Words(),
		minutesWords(p.SecondsTotal),
		target/60,
		of,
	)
	if s == nil {
		return words
	}
	words += " " + strings.Join(s.Because, " ")
	for _, w := range s.Places[:min(2, len(s.Places))] {
		words += fmt.Sprintf(" %s: %d minutes.", upper(w.Place.Words()), w.Minutes)
	}
	return words
}

// goals looks for the goals that no exercise of the plan serves: those that nothing can
// serve here, and a note on each, first on those.
func (r Request) goals(p Plan) (unserved []Unserved, notes []string) {
	unserved = []Unserved{}
	var later []string
	for _, goal := range r.Client.Goals {
		serves := func(it Item) bool { return slices.Contains(it.Purposes, goal) }
		if slices.ContainsFunc(p.Items, serves) || slices.ContainsFunc(r.Done, serves) {
			continue
		}
		u := Unserved{goal, r.whyNot(goal)}
		if u.Because == noMinutes {
			later = append(later, u.Words())
			continue
		}
		unserved, notes = append(unserved, u), append(notes, u.Words())
	}
	return unserved, append(notes, later...)
}

// whyNot is the first thing that keeps every exercise of a purpose out.
func (r Request) whyNot(goal exercise.Purpose) string {
	here, owned, safe, today, low := false, false, false, false, false
	for _, v := range r.lib.Variants {
		if !slices.Contains(v.Purposes, goal) || !r.Place.Holds(v.Position) || !slices.Contains(v.Places, r.Place) {
			continue
		}
		here = true
		if !r.available(v) {
			continue
		}
		owned = true
		if r.judge(v).Verdict == exercise.Avoid {
			continue
		}
		safe = true
		if !slices.ContainsFunc(phasesOf(v), r.bears) {
			continue
		}
		today = true
		low = low || !r.Limits.FirstRungs || r.firstHere(v)
	}
	switch {
	case !here:
		return NotHere
	case !owned:
		return Unowned
	case !safe && r.Limits.Readiness.Status == readiness.Gentle && r.Limits.Irritability == limit.Flared:
		return TooSore
	case !safe:
		return Barred
	case !today:
		return TooSore
	case !low:
		return TooFarUp
	case !slices.ContainsFunc(r.candidates(true), func(c candidate) bool { return slices.Contains(c.variant.Purposes, goal) }):
		if r.Limits.Irritability > limit.Calm {
			return TooSore
		}
		return TooFarUp
	}
	return noMinutes
}
