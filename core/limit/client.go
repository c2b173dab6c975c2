// Package limit turns what is known of a client into limits on movement
// quantities, each with its reasons, and judges variants against them. It shows
// the usual cautions; it does not diagnose, and an instruction of the client's
// own clinician overrides it.
package limit

import "restbend/core/exercise"

// Client is what is known of a client. Every field may be empty.
type Client struct {
	Format          string             `json:"format"`
	Name            string             `json:"name,omitempty"`
	BirthYear       int                `json:"birth_year,omitempty"`
	Sex             string             `json:"sex,omitempty"`
	HeightCM        float64            `json:"height_cm,omitempty"`
	MassKG          float64            `json:"mass_kg,omitempty"`
	Conditions      []Condition        `json:"conditions,omitempty"`
	RedFlags        []string           `json:"red_flags,omitempty"`
	Tolerates       Tolerates          `json:"tolerates,omitzero"`
	Pain            Pain               `json:"pain,omitzero"`
	Measures        []Measure          `json:"measures,omitempty"`
	Screens         []Screen           `json:"screens,omitempty"`
	Goals           []exercise.Purpose `json:"goals,omitempty"`
	GoalText        string             `json:"goal_text,omitempty"`
	Place           exercise.Place     `json:"place,omitempty"`
	Equipment       []string           `json:"equipment,omitempty"`
	Owned           Owned              `json:"owned,omitzero"`
	Approach        exercise.Approach  `json:"approach,omitempty"`
	Minutes         int                `json:"minutes,omitempty"`
	Strict          bool               `json:"strict,omitempty"`
	TallestHeightCM float64            `json:"tallest_height_cm,omitempty"`
	LastHeightCM    float64            `json:"last_height_cm,omitempty"` // when it was measured last, before now
	FallsThisYear   int                `json:"falls_this_year,omitempty"`
	FallInjury      bool               `json:"fall_injury,omitempty"` // one of them needed care or left a mark
	Steroids        bool               `json:"steroids,omitempty"`
	RestingPressure string             `json:"resting_pressure,omitempty"`
	Rungs           []Rung             `json:"rungs,omitempty"`
	Resting         []Resting          `json:"resting,omitempty"`
	Seen            *SeenBy            `json:"seen,omitempty"` // by a clinician, for what the records referred
	Clearances      []Clearance        `json:"clearances,omitempty"`
	Instructions    []Instruction      `json:"instructions,omitempty"`
	EasedBy         string             `json:"eased_by,omitempty"` // in the client's own words
	WorseBy         string             `json:"worse_by,omitempty"`
	Tasks           []string           `json:"tasks,omitempty"`       // ids of Tasks that are wanted back
	FaultsSeen      []Seen             `json:"faults_seen,omitempty"` // what was watched going wrong
	Clock           []Clock            `json:"clock,omitempty"`       // the pelvic clock, oldest first
}

// Owned are the heights, strengths and weights there are to work with, by setting;
// where nothing is said the usual ones are taken to be there.
type Owned struct {
	SurfaceCM  []float64 `json:"surface_cm,omitempty"` // of what can be leaned on
	Band       []string  `json:"band,omitempty"`       // of exercise.Strengths
	WeightKG   []float64 `json:"weight_kg,omitempty"`
	WedgeGrade []int     `json:"wedge_grade,omitempty"`
	Arc        []string  `json:"arc,omitempty"` // of exercise.Arcs
	PillowCM   []float64 `json:"pillow_cm,omitempty"`
}

// Tolerates says what the client bears; nil means not asked, taken as yes.
type Tolerates struct {
	Floor           *bool    `json:"floor,omitempty"`
	Kneeling        *bool    `json:"kneeling,omitempty"`
	Prone           *bool    `json:"prone,omitempty"`
	SupineFlat      *bool    `json:"supine_flat,omitempty"`
	WristLoad       *bool    `json:"wrist_load,omitempty"`
	StandingMinutes *float64 `json:"standing_minutes,omitempty"`
}

// Pain on the 0 to 10 scale.
type Pain struct {
	Now          *int     `json:"now,omitempty"`
	Worst24h     *int     `json:"worst_24h,omitempty"`
	SettlesHours *float64 `json:"settles_hours,omitempty"`
}

// Measure is one measurement; its unit is in its id.
type Measure struct {
	ID       string  `json:"id"`
	Side     string  `json:"side,omitempty"`
	Stage    int     `json:"stage,omitempty"`
	Activity string  `json:"activity,omitempty"`
	Variant  string  `json:"variant,omitempty"` // whose rung was tested
	Holds    int     `json:"holds,omitempty"`   // clean holds of so many seconds, in the test of a rung
	Value    float64 `json:"value"`
	On       string  `json:"on,omitempty"`
}

// Screen is the finding of one movement test.
type Screen struct {
	ID        string `json:"id"`
	Side      string `json:"side,omitempty"`
	Finding   string `json:"finding"`
	Sensation string `json:"sensation,omitempty"`
	Moment    string `json:"moment,omitempty"`
	On        string `json:"on,omitempty"`
}

// Rung is what the client has reached in a family.
type Rung struct {
	Family   string            `json:"family"`
	Variant  string            `json:"variant"`
	Side     string            `json:"side,omitempty"` // where the sides differ
	Dose     *exercise.Dose    `json:"dose,omitempty"`
	Settings exercise.Settings `json:"settings,omitzero"`
	// Overruled is whose word the rung stands on, against what the record says.
	Overruled *Overrule `json:"overruled,omitempty"`
}

// Overrule is somebody's word against a decision, and why.
type Overrule struct {
	By     string `json:"by"`
	Reason string `json:"reason"`
	On     string `json:"on"`
}

// SeenBy is a clinician's look at what happened up to a day: it does not refer again.
type SeenBy struct {
	By   string `json:"by"`
	On   string `json:"on"`
	Note string `json:"note,omitempty"`
}

// Resting is an exercise that is left out until a session has settled.
type Resting struct {
	Family  string `json:"family"`
	Variant string `json:"variant"`
	Since   string `json:"since"`
	Because string `json:"because"`
}

// Clearance loosens one rule for one client on somebody's word.
type Clearance struct {
	Rule string `json:"rule"`
	By   string `json:"by"`
	On   string `json:"on"`
	Note string `json:"note,omitempty"`
}

// Instruction is a clinician's own figure for a quantity.
type Instruction struct {
	Quantity string  `json:"quantity"`
	Max      float64 `json:"max"`
	By       string  `json:"by"`
	On       string  `json:"on"`
}

// LatestDay is the newest date that the client holds, as YYYY-MM-DD; empty for none.
func (c Client) LatestDay() string {
	last := ""
	for _, m := range c.Measures {
		last = max(last, m.On)
	}
	for _, s := range c.Screens {
		last = max(last, s.On)
	}
	for _, k := range c.Clearances {
		last = max(last, k.On)
	}
	for _, in := range c.Instructions {
		last = max(last, in.On)
	}
	for _, f := range c.FaultsSeen {
		last = max(last, f.On)
	}
	for _, k := range c.Clock {
		last = max(last, k.On)
	}
	for _, k := range c.Conditions {
		last = max(last, k.Word(DateField))
	}
	if c.Seen != nil {
		last = max(last, c.Seen.On)
	}
	return last
}

// Defaults used where the client file is silent.
const (
	DefaultHeightCM = 168
	DefaultMassKG   = 68
	DefaultBreath   = 5.0
	DefaultMinutes  = 30
)

// BreathSeconds is the client's measured breath, the latest one given, or the
// default.
func (c Client) BreathSeconds() float64 {
	for i := len(c.Measures) - 1; i >= 0; i-- {
		if c.Measures[i].ID == "breath_seconds" {
			return c.Measures[i].Value
		}
	}
	return DefaultBreath
}

// Size is the client's height in cm and mass in kg, or the defaults.
func (c Client) Size() (heightCM, massKG float64) {
	heightCM, massKG = c.HeightCM, c.MassKG
	if heightCM == 0 {
		heightCM = DefaultHeightCM
	}
	if massKG == 0 {
		massKG = DefaultMassKG
	}
	return
}

// Convex is the side to which all the client's curves bulge; empty when there is
// none or they bulge to both.
func (c Client) Convex() string {
	side := ""
	for _, k := range c.Conditions {
		for _, curve := range k.Curves("curves") {
			if side != "" && curve.Convex != side {
				return ""
			}
			side = curve.Convex
		}
	}
	return side
}

// Has says whether the client has the condition.
func (c Client) Has(id string) bool {
	for _, k := range c.Conditions {
		if k.ID == id {
			return true
		}
	}
	return false
}
