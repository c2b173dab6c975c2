package exercise

import (
	"slices"

	"restbend/core/body"
)

// Family groups variants of one exercise, easiest first.
type Family struct {
	ID, Name string
	Why      string
	Variants []*Variant
}

// Fault is what goes wrong and what to do about it.
type Fault struct {
	Fault      string  `yaml:"fault" json:"fault"`
	Correction string  `yaml:"correction" json:"correction"`
	Evidence   Purpose `yaml:"evidence,omitempty" json:"evidence,omitempty"` // the need it speaks of
}

// Variant is one rung of a family.
type Variant struct {
	ID             string     `yaml:"id" json:"id"`
	Name           string     `yaml:"name" json:"name"`
	Family         string     `yaml:"-" json:"family"`
	Position       Position   `yaml:"position" json:"position"`
	EndPosition    Position   `yaml:"end_position" json:"end_position"` // where the body is afterwards; Position unless the variant moves
	Places         []Place    `yaml:"places" json:"places"`
	Equipment      []string   `yaml:"equipment" json:"equipment"`               // all of these are needed
	EquipmentOneOf [][]string `yaml:"equipment_one_of" json:"equipment_one_of"` // and one of each of these
	Purposes       []Purpose  `yaml:"purposes" json:"purposes"`
	Phases         []Phase    `yaml:"phases" json:"phases"`
	SideMeans      string     `yaml:"left" json:"side_means"` // what "left" means, when Sided, such as "the arm that reaches"
	// the side that gains is the other one: the foot that stands, the waist underneath
	ServesOther bool `yaml:"serves_other" json:"serves_other"`
	// for a curve of the spine: "lengthen" or "strengthen" the side that left names; else empty
	Curve      string      `yaml:"curve" json:"curve"`
	Chain      string      `yaml:"chain" json:"chain"` // closed, open or semi_closed
	Studio     Dose        `yaml:"studio" json:"studio"`
	Home       Dose        `yaml:"home" json:"home"`
	SetUp      string      `yaml:"set_up" json:"set_up"`
	Cues       []string    `yaml:"cues" json:"cues"`
	Watched    bool        `yaml:"watched" json:"watched,omitempty"`   // wants somebody who watches: it does not go home
	Remember   string      `yaml:"remember" json:"remember,omitempty"` // the one thing, where it is not the first cue; see OneThing
	BreathCue  string      `yaml:"breath_cue" json:"breath_cue"`
	TouchCue   string      `yaml:"touch_cue" json:"touch_cue"`
	Image      string      `yaml:"image" json:"image"`
	Faults     []Fault     `yaml:"faults" json:"faults"`
	Stop       []string    `yaml:"stop" json:"stop"`
	Why        string      `yaml:"why" json:"why"`
	Earn       Earn        `yaml:"earn" json:"earn"` // what earns the rungs of Next
	Next       []Next      `yaml:"next" json:"next"`
	Settings   Settings    `yaml:"settings" json:"settings"`
	Favours    []Approach  `yaml:"favours" json:"favours"` // schools that reach for it first; none means all alike
	Swaps      []string    `yaml:"swaps" json:"swaps"`
	MayAdapt   []string    `yaml:"may_adapt" json:"may_adapt"`
	Show       Show        `yaml:"show" json:"show"`
	Complaints []Complaint `yaml:"-" json:"complaints,omitempty"` // what to try where it is felt in the wrong place
	Forms      []*Form     `yaml:"-" json:"-"`                    // the plain one first, then the adapted ones; see Adapted

	recalled *recalled // its forms, where they were kept; else Forms
	heights  *heights  // the variant on other surfaces; see At
	steps    *smallSteps
}

// Sided says whether the variant is done on one side and then on the other.
func (v *Variant) Sided() bool { return v.SideMeans != "" }

// ShownSide is the side that pictures show at work; "" where there are none. The other is
// its mirror image.
func (v *Variant) ShownSide() string {
	switch {
	case !v.Sided():
		return ""
	case v.Show.Mirror:
		return "right"
	}
	return "left"
}

// Made makes a variant that was read ready for use: its plain form is checked and
// measured, the adapted forms that it bears are listed, to be measured when they are
// first asked for. With an error, which names the pose, it can still be drawn.
func (v *Variant) Made(m Movement) error {
	plain, err := NewForm(m)
	v.Forms, v.heights, v.steps = plain.withAdaptations(v.MayAdapt), new(heights), new(smallSteps)
	return err
}

// Show says how the variant is best drawn.
type Show struct {
	View   string   `yaml:"view"`    // side, front, back, above or three_quarter
	Turn   float64  `yaml:"turn"`    // of the camera, degrees
	Tilt   float64  `yaml:"tilt"`    // likewise
	Pose   string   `yaml:"pose"`    // the pose that stands for the exercise
	Limbs  []string `yaml:"working"` // working limbs, such as leg_left
	Mirror bool     `yaml:"mirror"`  // drawn with left and right swapped, so that the working limb is near
	Held   []Held   `yaml:"-"`       // what is held or strapped on
}

// HeldKinds are the things that can be drawn in the hands.
var HeldKinds = []string{"band", "strap", "stick", "ball", "ring", "weight"}

// Held is a thing drawn between parts of the body: a band from an anchor to the
// hands, a ball between the knees.
type Held struct {
	Kind   string      `yaml:"kind"`
	At     []body.Part `yaml:"at,omitempty"`     // parts it runs along or lies between
	Anchor *body.Vec   `yaml:"anchor,omitempty"` // a fixed end, in body heights
	Radius float64     `yaml:"radius,omitempty"` // of a ball, in body heights
	Pose   string      `yaml:"pose,omitempty"`   // the only pose it is in the picture; empty for all
	Taut   float64     `yaml:"taut,omitempty"`   // how often its slack length a band is where it is shortest; 0 for usualTaut
}

// Mirror swaps left and right.
func (h Held) Mirror() Held {
	at := make([]body.Part, len(h.At))
	for i, p := range h.At {
		at[i] = p.Mirror()
	}
	h.At = at
	if h.Anchor != nil {
		a := h.Anchor.Mirror()
		h.Anchor = &a
	}
	return h
}

// same says whether two are one and the same thing, whichever end is named first.
func (h Held) same(o Held) bool {
	anchored := h.Anchor == nil && o.Anchor == nil || h.Anchor != nil && o.Anchor != nil && *h.Anchor == *o.Anchor
	return anchored && h.Kind == o.Kind && h.Radius == o.Radius && h.Taut == o.Taut && h.Pose == o.Pose && len(h.At) == len(o.At) &&
		!slices.ContainsFunc(h.At, func(p body.Part) bool { return !slices.Contains(o.At, p) })
}

// Settings are part of the rung: without them a result says nothing.
type Settings struct {
	SurfaceCM   float64 `yaml:"surface_cm,omitempty" json:"surface_cm,omitempty"`
	Band        string  `yaml:"band,omitempty" json:"band,omitempty"`
	AnchorCM    float64 `yaml:"anchor_cm,omitempty" json:"anchor_cm,omitempty"`
	WeightKG    float64 `yaml:"weight_kg,omitempty" json:"weight_kg,omitempty"`
	Spring      string  `yaml:"spring,omitempty" json:"spring,omitempty"`
	WedgeGrade  int     `yaml:"wedge_grade,omitempty" json:"wedge_grade,omitempty"`
	WedgeOffset string  `yaml:"wedge_offset,omitempty" json:"wedge_offset,omitempty"`
	Arc         string  `yaml:"arc,omitempty" json:"arc,omitempty"`
	PillowCM    float64 `yaml:"pillow_cm,omitempty" json:"pillow_cm,omitempty"`
	SeatCM      float64 `yaml:"seat_cm,omitempty" json:"seat_cm,omitempty"`
	Base        string  `yaml:"base,omitempty" json:"base,omitempty"` // one of Bases
	Feet        string  `yaml:"feet,omitempty" json:"feet,omitempty"` // one of FeetHeld
}

// Bases are how far apart the feet stand, steadiest first; FeetHeld whether something firm
// holds the feet down, easier first.
var (
	Bases    = []string{"wide", "usual", "narrow"}
	FeetHeld = []string{"held", "free"}
)

// Next is a step up from one rung to another: what changes, and why the measured
// demand may fall all the same.
type Next struct {
	To      string   `yaml:"to" json:"to"`
	Changes []string `yaml:"changes" json:"changes"` // one of StepChanges
	Though  string   `yaml:"though,omitempty" json:"though,omitempty"`
}

// StepChanges are what a step may change.
var StepChanges = []string{"lever", "base", "range", "height", "load", "time", "support", "control"}

// NextIDs are the rungs that follow.
func (v *Variant) NextIDs() []string {
	ids := make([]string, len(v.Next))
	for i, n := range v.Next {
		ids[i] = n.To
	}
	return ids
}

// Notch says whether another rung is the same shape at another height or load: a setting
// rather than a rung, though the library has it as one.
func (v *Variant) Notch(o *Variant) bool {
	between := func(a, b *Variant) bool {
		for _, n := range a.Next {
			if n.To == b.ID {
				return !slices.ContainsFunc(n.Changes, func(c string) bool { return c != "height" && c != "load" })
			}
		}
		return false
	}
	return v.Settings != o.Settings && (between(v, o) || between(o, v))
}

// Movement is a variant's key poses and the way through them.
type Movement struct {
	Order  []string // names of the poses, "start" first
	Poses  map[string]body.Pose
	Steps  []Step
	Scene  body.Scene
	Solids []Solid // furniture to draw
	Held   []Held  // bands, weights and the like, whose forces are measured
	With   Settings
	Sided  bool
	// Resistance is outside resistance acting through the trunk: none, light,
	// moderate or heavy.
	Resistance string
	Spring     string // how strong a spring is, if any: light, moderate or heavy
	HoldsAt    string // the pose that holds are kept in; "" when none is
	EyesClosed bool
	Pillow     bool // a pillow lies where it is wanted
	Hands      bool // a hand on a support counts the feet as apart
	RaisedSeat bool // the seat is higher than a chair's
	Fists      bool // hands that bear are fists, so that no wrist is bent back
	Position   Position
	// Directions names the poses of a two-way movement that can be left out.
	Directions map[string]string
	// Touching names parts that may lie against trunk or limbs, such as hand_left
	// under the back, or legs_crossed.
	Touching []body.Part
	// Range is the share of the way from the start pose to every other that is
	// gone; 0 means all of it.
	Range float64
	Hold  float64 // longest hold or stay of any dose, seconds
	Stay  float64 // seconds at HoldsAt inside each repetition
}

// Solid is a piece of furniture as drawn.
type Solid struct {
	Min, Max body.Vec
	Soft     bool
	Shape    string // "" for a box, "arc" or "wedge"
}

// Step moves to a pose.
type Step struct {
	To      string
	Seconds float64
	Breath  string // one of BreathWords
}

// BreathHeld is a step on which the breath is held.
const BreathHeld = "hold"

// BreathWords are how the breath goes with a step.
var BreathWords = []string{"in", "out", "free", BreathHeld}

// Tempo is the seconds of one repetition, without a stay.
func (m Movement) Tempo() float64 {
	t := 0.0
	for _, s := range m.Steps {
		t += s.Seconds
	}
	return t
}

// Alternates says whether the sides can alternate from one repetition to the next: each begins
// and ends in the same symmetric pose, and nothing is held on one side.
func (m Movement) Alternates() bool {
	if !m.Sided || len(m.Steps) == 0 || m.Steps[len(m.Steps)-1].To != "start" {
		return false
	}
	for _, h := range m.Held {
		mirrored := h.Mirror()
		if !slices.ContainsFunc(m.Held, func(o Held) bool { return o.same(mirrored) }) {
			return false
		}
	}
	return m.Scene.Strapped[0] == m.Scene.Strapped[1] && m.Poses["start"].Symmetric()
}

// Mirror is the movement with left and right swapped. Furniture stands
// symmetrically and stays.
func (m Movement) Mirror() Movement {
	poses := make(map[string]body.Pose, len(m.Poses))
	for name, p := range m.Poses {
		poses[name] = p.Mirror()
	}
	m.Poses = poses
	m.Scene.Strapped[0], m.Scene.Strapped[1] = m.Scene.Strapped[1], m.Scene.Strapped[0]
	m.Held = slices.Clone(m.Held)
	for i, h := range m.Held {
		m.Held[i] = h.Mirror()
	}
	return m
}

func (m Movement) range01() float64 {
	if m.Range == 0 {
		return 1
	}
	return m.Range
}
