package exercise

import (
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
	Fault      string `yaml:"fault" json:"fault"`
	Correction string `yaml:"correction" json:"correction"`
}

// Variant is one rung of a family.
type Variant struct {
	ID, Name, Family string
	Position         Position
	EndPosition      Position // where the body is afterwards; Position unless the variant moves
	Places           []Place
	Equipment        []string   // all of these are needed
	EquipmentOneOf   [][]string // and one of each of these
	Purposes         []Purpose
	Phases           []Phase
	Sided            bool
	SideMeans        string // what "left" means, when Sided, such as "the arm that reaches"
	Chain            string // closed, open or semi_closed
	Studio, Home     Dose
	SetUp            string
	Cues             []string
	BreathCue        string
	TouchCue         string
	Image            string
	Faults           []Fault
	Stop             []string
	Why              string
	Earn             string // what earns the next rung
	Next             []string
	Swaps            []string
	MayAdapt         []string
	Show             Show
	Forms            []Form // the plain one first, then the adapted ones
}

// Show says how the variant is best drawn.
type Show struct {
	View      string  // side, front, back, above or three_quarter
	Turn      float64 // of the camera, degrees
	Tilt      float64
	Pose      string   // the pose that stands for the exercise
	Limbs     []string // working limbs, such as leg_left
	Mirror    bool     // drawn with left and right swapped, so that the working limb is near
	Stick     bool     // a stick is held along the back
	StrapFoot string   // left or right: a strap runs from the hands round that foot
}

// Movement is a variant's key poses and the way through them.
type Movement struct {
	Order  []string // names of the poses, "start" first
	Poses  map[string]body.Pose
	Steps  []Step
	Scene  body.Scene
	Solids []Solid // furniture to draw
	Sided  bool
	// Resistance is outside resistance acting through the trunk: none, light,
	// moderate or heavy.
	Resistance string
	HoldsAt    string // the pose that holds are kept in; "" when none is
	EyesClosed bool
	Ballistic  bool
	BreathHold bool
	Hands      bool // a hand on a support counts the feet as apart
	Position   Position
	// Directions names the poses of a two-way movement that can be left out.
	Directions map[string]string
	// Touching names parts that may lie against trunk or limbs, such as hand_left
	// under the back, or legs_crossed.
	Touching []body.Part
	// Range is the share of the way from the start pose to every other that is
	// gone; 0 means all of it.
	Range float64
	Hold  float64 // longest hold of any dose, seconds
}

// Solid is a piece of furniture as drawn.
type Solid struct {
	Min, Max body.Vec
	Soft     bool
}

// Step moves to a pose.
type Step struct {
	To      string
	Seconds float64
	Breath  string // in, out or free
}

// Tempo is the seconds of one repetition.
func (m Movement) Tempo() float64 {
	t := 0.0
	for _, s := range m.Steps {
		t += s.Seconds
	}
	return t
}

// Mirror is the movement with left and right swapped. Furniture stands
// symmetrically and stays.
func (m Movement) Mirror() Movement {
	poses := make(map[string]body.Pose, len(m.Poses))
	for name, p := range m.Poses {
		poses[name] = p.Mirror()
	}
	m.Poses = poses
	return m
}

func (m Movement) range01() float64 {
	if m.Range == 0 {
		return 1
	}
	return m.Range
}
