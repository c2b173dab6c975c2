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

// capped adds a cap of a whole session; of two the smaller counts, and both
// reasons are kept.
func (s *Set) capped(count string, most float64, because Reason) {
	i := slices.IndexFunc(s.Session, func(k SessionCap) bool { return k.Count == count })
	if i < 0 {
		s.Session = append(s.Session, SessionCap{count, most, []Reason{because}})
		return
	}
	s.Session[i].Max = min(s.Session[i].Max, most)
	s.Session[i].Reasons = append(s.Session[i].Reasons, because)
}

// everySession adds what holds for everybody.
func (s *Set) everySession() {
	s.capped(WristSeconds, WristsAtOnce, Reason{Rule: "session.wrists", Text: "Weight stays on the wrists for about a minute and a half at most, then the hands rest.", Source: ownSource})
	if s.Irritability > Calm {
		s.capped(HeavySeconds, heavySore, Reason{Rule: "session.sore", Text: "On a sore day heavy work adds up to a minute at most.", Source: ownSource})
	}
}
