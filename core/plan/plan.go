// Package plan finds a session for a client: it chooses among the variants the
// client's limits allow, orders and doses them so that the minutes come out,
// and says why each is there and what was left out.
package plan

import (
	"slices"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/readiness"
)

// Statuses of a plan.
const (
	Ready      = "ready"
	Refer      = limit.Refer
	Infeasible = "infeasible"
	Stop       = string(readiness.Stop)
	Ask        = string(readiness.Ask)
)

// Plan is one session. Seconds count work, rest and change; the session starts
// and ends upright.
type Plan struct {
	Format string `json:"format"`
	Status string `json:"status"`
	// Readiness is what the day allowed when the plan was made; nil in plans made before it was asked.
	Readiness    *readiness.Readiness `json:"readiness,omitempty"`
	Place        exercise.Place       `json:"place"`
	Approach     exercise.Approach    `json:"approach"`
	MinutesAsked int                  `json:"minutes_asked"`
	// MinutesAdvised suit the day; 0 where that is no fewer than were asked.
	MinutesAdvised int        `json:"minutes_advised,omitempty"`
	Shortfall      *Shortfall `json:"shortfall,omitempty"` // where the plan stays well under the lesser of the two
	Unserved       []Unserved `json:"unserved"`            // goals that nothing in it serves
	SecondsTotal   float64    `json:"seconds_total"`
	Items          []Item     `json:"items"`
	Transfers      Transfers  `json:"transfers"`
	LeftOut        []LeftOut  `json:"left_out"`
	Notes          []string   `json:"notes"`
	Library        string     `json:"library,omitempty"` // hash of the library it was made from
	Breath         float64    `json:"breath_seconds"`
	PainNow        int        `json:"pain_now"` // 0 to 10, as the plan was made for
	// StandingFirst says that work on two feet comes before the floor.
	StandingFirst bool `json:"standing_first,omitempty"`
	// Home says that it is to be done at home, with what stands in for equipment.
	Home bool `json:"home,omitempty"`
	// Slow says that the client takes longer over moving about.
	Slow bool `json:"slow,omitempty"`
	// Missed is the share of its worth by which any other session could be better at most, as
	// is proved when it is found; it is not kept, since a change by hand makes it untrue.
	Missed float64 `json:"-"`
	// Focus is a purpose that this session is to serve above all.
	Focus exercise.Purpose `json:"focus,omitempty"`
}

// Item is one exercise of a session, with everything needed to teach it, as it
// was when the plan was made.
type Item struct {
	ID            string                `json:"id"` // stays the same as long as the exercise is in the plan
	Variant       string                `json:"variant"`
	Family        string                `json:"family"`
	Name          string                `json:"name"`
	Phase         exercise.Phase        `json:"phase"`
	Position      exercise.Position     `json:"position"`
	EndPosition   exercise.Position     `json:"end_position"`
	Sides         []string              `json:"sides"`
	SideMeans     string                `json:"side_means,omitempty"`
	OnlySide      string                `json:"only_side,omitempty"` // why it is done on one side alone
	Dose          exercise.Dose         `json:"dose"`
	SecondsWork   float64               `json:"seconds_work"`
	SecondsRest   float64               `json:"seconds_rest"`
	SecondsChange float64               `json:"seconds_change"`
	Adaptations   []exercise.Adaptation `json:"adaptations"`
	Verdict       exercise.Verdict      `json:"verdict"`
	Reasons       []limit.Reason        `json:"reasons,omitempty"` // what had to be adapted for
	Quantities    exercise.Quantities   `json:"quantities"`
	Demand        float64               `json:"demand"`
	Purposes      []exercise.Purpose    `json:"purposes"`
	Because       []string              `json:"because"`
	SetUp         string                `json:"set_up"`
	Cues          []string              `json:"cues"`
	BreathCue     string                `json:"breath_cue"`
	Faults        []exercise.Fault      `json:"faults"`
	Stop          []string              `json:"stop"`
	Steps         []Step                `json:"steps"`
	Settings      exercise.Settings     `json:"settings,omitzero"`
	// of the client's height, at which the surface stands where it is known
	SurfaceShare float64  `json:"surface_share,omitzero"`
	Uses         []string `json:"uses,omitempty"`   // equipment, of what the client has
	First        string   `json:"first,omitempty"`  // what to do before it begins
	Seat         bool     `json:"seat,omitempty"`   // put in to rest the legs; it goes when it is no longer needed
	Locked       bool     `json:"locked,omitempty"` // stays when the plan is made again
	// chosen or dosed by hand: it stays, where it may, when the rest is replanned
	ByHand bool `json:"by_hand,omitempty"`
}

// Step is one movement of a repetition, for teaching.
type Step struct {
	Seconds float64 `json:"seconds"`
	Breath  string  `json:"breath"`
}

// Target is the seconds that the plan is fitted to.
func (p Plan) Target() float64 {
	if p.MinutesAdvised > 0 {
		return float64(60 * p.MinutesAdvised)
	}
	return float64(60 * p.MinutesAsked)
}

// Seconds is the item's whole time.
func (i Item) Seconds() float64 { return i.SecondsWork + i.SecondsRest + i.SecondsChange }

// Transfers counts ways down or up, each as one, and changes of position.
type Transfers struct {
	Floor     int `json:"floor"`
	Positions int `json:"positions"`
}

// LeftOut is a variant that fits the place but not the client.
type LeftOut struct {
	Variant string           `json:"variant"`
	Name    string           `json:"name"`
	Verdict exercise.Verdict `json:"verdict"`
	Reasons []limit.Reason   `json:"reasons"`
	Instead string           `json:"instead,omitempty"`
}

// Barring is one reason and the variants that it leaves out.
type Barring struct {
	Because string
	Of      []LeftOut
}

// Barrings are what was left out by its first reason, each said once, the one that leaves
// out the most first.
func (p Plan) Barrings() []Barring {
	var out []Barring
	for _, l := range p.LeftOut {
		why := l.Reasons[0].Text
		i := slices.IndexFunc(out, func(b Barring) bool { return b.Because == why })
		if i < 0 {
			i, out = len(out), append(out, Barring{Because: why})
		}
		out[i].Of = append(out[i].Of, l)
	}
	slices.SortStableFunc(out, func(a, b Barring) int { return len(b.Of) - len(a.Of) })
	return out
}

// Request is what is asked of the planner.
type Request struct {
	Client        limit.Client
	Limits        readiness.Limits
	Place         exercise.Place
	Approach      exercise.Approach
	Minutes       int
	StandingFirst bool // work on two feet comes before the floor, while the client is fresh
	Home          bool // for home: home doses, and everyday things instead of equipment
	Focus         exercise.Purpose
	History       History
	Fixed         []Item // exercises the instructor has locked: they stay, with their doses
	Kept          []Item // exercises to be kept where possible, with doses that may change
	Done          []Item // what has been done of a session that goes on
	Week          []Item // what other sessions of the same week hold
	lib           Library
	fits          map[*exercise.Variant]limit.Judgement // of this answer, each worked out once
	atHand        []string                              // equipment, of this answer
	failed        []limit.ScreenTest                    // tests that showed a need
	heads         map[exercise.Purpose]int              // rungs behind the client, by measures
	wide          bool                                  // what is wanted does not fill the minutes: anything may
	shared        bool                                  // chosen from with others: every rung is on offer
	seated        bool                                  // there are seats between stretches on two feet, so that only each is capped
	bar           float64                               // of going over a cap, where the usual one was outbid
}

// History is what earlier sessions say to a new one.
type History struct {
	Sessions int                      // taught so far
	First    bool                     // none was taught: this is a first visit
	Days     int                      // since the first
	Recent   []string                 // variants of the last session
	Trained  map[exercise.Purpose]int // how often a purpose led an exercise in the last sessions
	Met      map[string]bool          // variants that were done before, where that is to count; nil where it is not
	Worked   map[string][]string      // cues that worked, by variant, the newest first
}

// Library is what the planner chooses from.
type Library struct {
	Variants []*exercise.Variant
	Hash     string
	StandIns map[string][]string // everyday things that stand in for equipment, in words

	depths map[string]int
}

// NewLibrary is a library with the depth of every rung worked out: how many steps of
// its ladder lie below it.
func NewLibrary(variants []*exercise.Variant, hash string, standIns map[string][]string) Library {
	l := Library{Variants: variants, Hash: hash, StandIns: standIns, depths: map[string]int{}}
	for range variants { // no ladder is longer than the library, and most are short
		moved := false
		for _, v := range variants {
			for _, n := range v.Next {
				if d := l.depths[v.ID] + 1; d > l.depths[n.To] {
					l.depths[n.To], moved = d, true
				}
			}
		}
		if !moved {
			break
		}
	}
	return l
}

// depth is how many steps of its ladder lie below a variant.
func (l Library) depth(v *exercise.Variant) int { return l.depths[v.ID] }

// from is the request as it is answered from a library.
func (r Request) from(lib Library) Request {
	r.lib, r.fits = lib, make(map[*exercise.Variant]limit.Judgement, len(lib.Variants))
	r.atHand = r.allKit()
	r.failed = nil
	for _, s := range limit.FailedScreens(r.Client) {
		if t, ok := limit.FindScreenTest(s.ID); ok {
			r.failed = append(r.failed, t)
		}
	}
	r.heads = r.headStarts()
	r.Fixed, r.Kept = withoutSeats(r.Fixed), withoutSeats(r.Kept)
	return r
}

// find is a variant of the library the request is answered from.
func (r Request) find(id string) *exercise.Variant { return r.lib.variant(id) }

func (l Library) variant(id string) *exercise.Variant {
	for _, v := range l.Variants {
		if v.ID == id {
			return v
		}
	}
	return nil
}
