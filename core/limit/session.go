package limit

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
)

// SessionCap is the most of something that a whole session may hold, however it
// is spread over its exercises.
type SessionCap struct {
	Count   string   `json:"count" yaml:"count"`
	Max     float64  `json:"max" yaml:"max"`
	Reasons []Reason `json:"reasons" yaml:"-"`
}

// What a whole session is counted by.
const (
	ExtensionCycles = "extension_cycles" // times the low back arches more than CycleDegrees
	FlexionCycles   = "flexion_cycles"   // times it rounds more than that
	HeavySeconds    = "heavy_seconds"    // of work with a demand of HeavyDemand or more
	FloorTransfers  = "floor_transfers"  // ways down and up, each as one
	WristSeconds    = "wrist_seconds"    // on the wrists without a break
	CoreExercises   = "core_exercises"   // in the activate and strengthen phases
	Exercises       = "exercises"        // of all phases
	StandingSeconds = "standing_seconds" // on two feet at a stretch, work and rest between
	Minutes         = "minutes"          // that suit the day: advice, not a bar
)

// SessionCounts are all of them.
var SessionCounts = []string{ExtensionCycles, FlexionCycles, HeavySeconds, FloorTransfers, WristSeconds, CoreExercises,
	Exercises, StandingSeconds, Minutes}

// Where counting begins: common practice, figures of this product.
const (
	CycleDegrees = 10.0
	HeavyDemand  = 5.0
	WristShare   = 0.05 // of body weight on one wrist

	heavySore    = 60.0 // seconds of heavy work on a sore day
	WristsAtOnce = 90.0 // unbroken seconds on the wrists for anybody

	sorePain     = 3    // of 10, from which a day is sore
	usualMargin  = 1    // over the usual pain, up to which a day is calm all the same
	flaredPain   = 6    // and from which it is flared
	slowToSettle = 24.0 // hours over which pain is slow to settle

	soreMinutes   = 20.0 // that suit a sore day
	flaredMinutes = 15.0 // one with pain over 5, or slow to settle
	worstMinutes  = 12.0 // and one with worstPain or more
	worstPain     = 8    // of 10
)

// caps are the caps of several sources.
type caps []SessionCap

// merge leaves one cap of each count: of two the smaller holds, and both reasons are
// kept.
func (all caps) merge() []SessionCap {
	var out []SessionCap
	for _, k := range all {
		i := slices.IndexFunc(out, func(o SessionCap) bool { return o.Count == k.Count })
		if i < 0 {
			out = append(out, k)
			continue
		}
		out[i].Max = min(out[i].Max, k.Max)
		out[i].Reasons = append(out[i].Reasons, k.Reasons...)
	}
	return out
}

// everySession is what holds for everybody.
func everySession(sore Irritability, c Client) caps {
	out := caps{
		{
			WristSeconds,
			WristsAtOnce,
			[]Reason{
				{
					Rule:   "session.wrists",
					Text:   "Weight stays on the wrists for about a minute and a half at most, then the hands rest.",
					Source: ownSource,
				},
			},
		},
	}
	if m := c.Tolerates.StandingMinutes; m != nil {
		out = append(out, SessionCap{StandingSeconds, 60 * *m,
			[]Reason{{Rule: "tolerates.standing_minutes", Text: fmt.Sprintf("On two feet for at most %s at a stretch.", MinutesWords(*m)),
				Source: "the client's own word"}}})
	}
	if sore == Calm {
		return out
	}
	minutes := soreMinutes
	switch now := c.Pain.Now; {
	case now != nil && *now >= worstPain:
		minutes = worstMinutes
	case sore == Flared:
		minutes = flaredMinutes
	}
	return append(out,
		SessionCap{
			HeavySeconds,
			heavySore,
			[]Reason{{Rule: "session.sore", Text: "On a sore day heavy work adds up to a minute at most.", Source: ownSource}},
		},
		SessionCap{Minutes, minutes, []Reason{{Rule: "session.sore_minutes", Text: soreWords(c.Pain), Source: ownSource}}},
	)
}

// MinutesWords is a number of minutes in words.
func MinutesWords(m float64) string {
	if m == 1 {
		return "1 minute"
	}
	return strconv.FormatFloat(m, 'f', -1, 64) + " minutes"
}

// soreWords says why a day is sore.
func soreWords(pain Pain) string {
	var why []string
	end := ": little, and quietly."
	if pain.Now != nil && *pain.Now >= sorePain {
		why = append(why, fmt.Sprintf("pain today is %d of 10", *pain.Now))
		if *pain.Now >= flaredPain {
			end = fmt.Sprintf("; over %d, the clinician should hear of it.", flaredPain-1)
		}
	}
	if pain.Worst24h != nil && *pain.Worst24h >= worstPain {
		why = append(why, fmt.Sprintf("the worst of the last day was %d, so it is planned one level worse", *pain.Worst24h))
	}
	if pain.SettlesHours != nil && *pain.SettlesHours > slowToSettle {
		why = append(why, fmt.Sprintf("pain takes %.0f hours to settle", *pain.SettlesHours))
	}
	words := strings.Join(why, " and ") + end
	return strings.ToUpper(words[:1]) + words[1:]
}
