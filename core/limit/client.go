// Package limit turns what is known of a client into limits on movement
// quantities, each with its reasons, and judges variants against them. It shows
// the usual cautions; it does not diagnose, and an instruction of the client's
// own clinician overrides it.
package limit

import (
	"fmt"
	"slices"

	"restbend/core/exercise"
)

// Client is what is known of a client. Every field may be empty.
type Client struct {
	Format     string      `json:"format"`
	Name       string      `json:"name,omitempty"`
	BirthYear  int         `json:"birth_year,omitempty"`
	Sex        string      `json:"sex,omitempty"`
	HeightCM   float64     `json:"height_cm,omitempty"`
	MassKG     float64     `json:"mass_kg,omitempty"`
	Conditions []Condition `json:"conditions,omitempty"`
	// RedFlags are the warning signs that were said to be there: nil where nobody was asked,
	// empty where all were asked about and none is there.
	RedFlags     []string      `json:"red_flags,omitzero"`
	FlagsCleared []FlagCleared `json:"flags_cleared,omitempty"`
	// OtherConditions are those without rules here, in words.
	OtherConditions   []OtherCondition   `json:"other_conditions,omitempty"`
	Tolerates         Tolerates          `json:"tolerates,omitzero"`
	Pain              Pain               `json:"pain,omitzero"`
	UsualPain         *int               `json:"usual_pain,omitempty"`   // 0 to 5, as agreed
	UsualAgreed       *Agreed            `json:"usual_agreed,omitempty"` // a clinician agreed to work at more
	Today             *Today             `json:"today,omitempty"`
	Measures          []Measure          `json:"measures,omitempty"`
	Screens           []Screen           `json:"screens,omitempty"`
	Goals             []exercise.Purpose `json:"goals,omitempty"`
	GoalText          string             `json:"goal_text,omitempty"`
	Place             exercise.Place     `json:"place,omitempty"`
	Equipment         []string           `json:"equipment,omitempty"`
	Owned             Owned              `json:"owned,omitzero"`
	Approach          exercise.Approach  `json:"approach,omitempty"`
	Minutes           int                `json:"minutes,omitempty"`
	Strict            bool               `json:"strict,omitempty"`
	TallestHeightCM   float64            `json:"tallest_height_cm,omitempty"`
	LastHeightCM      float64            `json:"last_height_cm,omitempty"` // when it was measured last, before now
	Heights           []Height           `json:"heights,omitempty"`        // with their days; they win over the three heights above
	FallsThisYear     int                `json:"falls_this_year,omitempty"`
	FallInjury        bool               `json:"fall_injury,omitempty"` // one of them needed care or left a mark
	Steroids          Steroids           `json:"steroids,omitzero"`
	BetaBlocker       bool               `json:"beta_blocker,omitempty"` // tablets that hold the pulse down
	Sedatives         bool               `json:"sedatives,omitempty"`    // tablets that make drowsy
	RestingPressure   string             `json:"resting_pressure,omitempty"`
	RestingPressureOn string             `json:"resting_pressure_on,omitempty"` // the day it was taken
	Rungs             []Rung             `json:"rungs,omitempty"`
	Resting           []Resting          `json:"resting,omitempty"`
	Seen              *SeenBy            `json:"seen,omitempty"` // by a clinician, for what the records referred
	Clearances        []Clearance        `json:"clearances,omitempty"`
	Instructions      []Instruction      `json:"instructions,omitempty"`
	EasedBy           string             `json:"eased_by,omitempty"` // in the client's own words
	WorseBy           string             `json:"worse_by,omitempty"`
	Tasks             []string           `json:"tasks,omitempty"`       // ids of Tasks that are wanted back
	FaultsSeen        []Seen             `json:"faults_seen,omitempty"` // what was watched going wrong
	Clock             []Clock            `json:"clock,omitempty"`       // the pelvic clock, oldest first
	Notes             string             `json:"notes,omitempty"`
	Answers           []Answer           `json:"answers,omitempty"`    // to what was found in free text
	Screened          *bool              `json:"screened,omitempty"`   // false where nobody has asked about what a table does not carry
	Pronouns          string             `json:"pronouns,omitempty"`   // she, he or they
	Favourites        []string           `json:"favourites,omitempty"` // ids of variants
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
	// On is the day of Now and Worst24h; without one they are of the day that is asked about.
	On string `json:"on,omitempty"`
	// PlannedAs is the least pain to plan for on a day when it is unknown, where
	// the session before it hurt or did not settle.
	PlannedAs *int `json:"planned_as,omitempty"`
}

// Today is what was said on a day, before a session.
type Today struct {
	On    string   `json:"on"`
	Pain  *int     `json:"pain,omitempty"`
	Where Wheres   `json:"where,omitempty"`
	Side  string   `json:"side,omitempty"`
	Dizzy bool     `json:"dizzy,omitempty"`
	Pulse *int     `json:"pulse,omitempty"` // beats a minute at rest
	New   []string `json:"new,omitempty"`   // of NewSigns or the ids of warning signs
}

// Signs are the warning signs among what is new.
func (t Today) Signs() []string {
	return slices.DeleteFunc(slices.Clone(t.New), func(id string) bool { return slices.Contains(NewSigns, id) })
}

// NewSigns are what may be new beside the warning signs.
var NewSigns = []string{"blow", "night", "limb_pain", "numbness", "tingling", "weakness"}

// Wheres are places of the body, of exercise.ComplaintPlaces: in a file one word, or a list.
type Wheres []string

// FlagCleared is a clinician's word on a warning sign: it stays listed and refers no longer.
type FlagCleared struct {
	Flag string `json:"flag"`
	By   string `json:"by"`
	On   string `json:"on"`
	Said string `json:"said,omitempty"`
}

// OtherCondition is a condition in words, with who agreed to exercise with it.
type OtherCondition struct {
	Text   string  `json:"text"`
	Agreed *Agreed `json:"agreed,omitempty"`
}

// Agreed is somebody's word, and when.
type Agreed struct {
	By   string `json:"by"`
	On   string `json:"on"`
	Note string `json:"note,omitempty"`
}

// Height is a height as it was measured on a day.
type Height struct {
	CM float64 `json:"cm"`
	On string  `json:"on"`
}

// Answer settles what was found in a free text, as long as the text is there.
type Answer struct {
	Field  string `json:"field"`
	Found  string `json:"found"`
	Answer string `json:"answer"`
	By     string `json:"by,omitempty"`
	On     string `json:"on,omitempty"`
}

// Steroids are steroid tablets: in a file true, or for how long and how much.
type Steroids struct {
	Taken   bool
	Months  float64 // 0 where nobody said
	MgDaily float64
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
	for _, h := range c.Heights {
		last = max(last, h.On)
	}
	for _, f := range c.FlagsCleared {
		last = max(last, f.On)
	}
	for _, a := range c.Answers {
		last = max(last, a.On)
	}
	for _, o := range c.OtherConditions {
		if o.Agreed != nil {
			last = max(last, o.Agreed.On)
		}
	}
	if c.Seen != nil {
		last = max(last, c.Seen.On)
	}
	if c.Today != nil {
		last = max(last, c.Today.On)
	}
	if c.UsualAgreed != nil {
		last = max(last, c.UsualAgreed.On)
	}
	return max(last, c.Pain.On, c.RestingPressureOn)
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
	heightCM, massKG = c.heights().now, c.MassKG
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

// WithoutReading is the client without a reading of the pressure: whoever has none is
// handled as not under control.
func (c Client) WithoutReading() Client {
	c.RestingPressure = ""
	c.Conditions = slices.Clone(c.Conditions)
	for i, k := range c.Conditions {
		if k.ID == "raised_blood_pressure" {
			c.Conditions[i] = k.With("reading", nil)
		}
	}
	if !c.Has("raised_blood_pressure") {
		c.Conditions = append(c.Conditions, Condition{ID: "raised_blood_pressure"})
	}
	return c
}

// Texts are the free texts of a client, by field.
func (c Client) Texts() map[string]string {
	out := map[string]string{"goal_text": c.GoalText, "worse_by": c.WorseBy, "eased_by": c.EasedBy, "notes": c.Notes}
	for i, o := range c.OtherConditions {
		out[fmt.Sprintf("other_conditions[%d]", i)] = o.Text
	}
	return out
}
