package limit

import "slices"

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
)

// SessionCounts are all of them.
var SessionCounts = []string{ExtensionCycles, FlexionCycles, HeavySeconds, FloorTransfers, WristSeconds, CoreExercises}

// Where counting begins: common practice, figures of this product.
const (
	CycleDegrees = 10.0
	HeavyDemand  = 5.0
	WristShare   = 0.05 // of body weight on one wrist

	heavySore    = 60.0 // seconds of heavy work on a sore day
	WristsAtOnce = 90.0 // unbroken seconds on the wrists for anybody
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
func everySession(sore Irritability) caps {
	out := caps{{WristSeconds, WristsAtOnce, []Reason{{Rule: "session.wrists", Text: "Weight stays on the wrists for about a minute and a half at most, then the hands rest.", Source: ownSource}}}}
	if sore > Calm {
		out = append(out, SessionCap{HeavySeconds, heavySore, []Reason{{Rule: "session.sore", Text: "On a sore day heavy work adds up to a minute at most.", Source: ownSource}}})
	}
	return out
}
