package exercise

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

// Kind is what sort of value a quantity has.
type Kind string

const (
	Number Kind = "number"
	Flag   Kind = "flag" // true or false
	Word   Kind = "word" // one of an ordered list
)

// Unit is what a number is measured in.
type Unit string

const (
	Degrees  Unit = "degrees"
	Share    Unit = "share of body weight"
	Moment   Unit = "share of body weight × height"   // see NewtonMetres
	Heights  Unit = "share of height"                 // published in centimetres
	Weight   Unit = "share of body weight as a force" // published in newtons
	Newtons  Unit = "newtons"
	Standing Unit = "times quiet standing"
	Torque   Unit = "share of body weight × height, as it is"
	Seconds  Unit = "seconds"
	Points   Unit = "points of 10"
	Steps    Unit = "steps" // 1 on two feet, 2 narrow, 3 on one, and more as balancing is made harder
)

// Scope is when in a movement a quantity is looked at.
type Scope string

const (
	WhenAny    Scope = "any"    // at every instant
	WhenLoaded Scope = "loaded" // while load acts through it (contract)
	WhenHeld   Scope = "held"   // in a shape kept for heldSeconds or more
	WhenFast   Scope = "fast"   // while it changes by more than fastDegrees a second
)

// Quantity is one thing that is measured of every form. The list of them is the one
// place where a quantity is named: what is not in it can be neither measured nor
// limited, and what is in it has to be measured of every form.
type Quantity struct {
	ID     string
	Kind   Kind
	Unit   Unit     // of a number
	Sided  bool     // left and right are kept apart; the plain name means the worse
	Scopes []Scope  // in which it is measured; WhenAny is always the first
	Order  []string // of a word, least first
	Words  string   // in an instructor's words
	// Worse publishes the worse side under the plain name too.
	Worse bool
	// Moments says that it is known at each instant, so that a rule may speak of it
	// together with another.
	Moments bool
	// Aid marks a help that is part of a form, which can make a limit harmless.
	Aid bool
	// Inner is kept for judging and not published.
	Inner bool

	first int // slot of its first value
}

var (
	always    = []Scope{WhenAny}
	underLoad = []Scope{WhenAny, WhenLoaded}
	everyway  = []Scope{WhenAny, WhenLoaded, WhenHeld, WhenFast}
	unloaded  = []Scope{WhenAny, WhenHeld, WhenFast} // the neck's load is not worked out
)

// anglesAtRest are sided angles as they are where a movement begins or is held, for judging alone.
func anglesAtRest(of ...string) (out []Quantity) {
	for _, id := range of {
		out = append(out, Quantity{ID: id + "_resting", Kind: Number, Unit: Degrees, Sided: true, Worse: true, Scopes: always, Inner: true,
			Words: strings.ReplaceAll(id, "_", " ") + " at rest"})
	}
	return out
}

// Registry holds every quantity. To add one, add a line here and measure it in
// MeasureFrames, which refuses to leave one out.
var Registry = register(
	spineQuantities("lumbar", "low back", everyway),
	spineQuantities("thoracic", "upper back", everyway),
	spineQuantities("cervical", "neck", unloaded),
	anglesAtRest("hip_flexion", "hip_extension", "hip_inward_turn", "hip_outward_turn", "shoulder_elevation"),
	[]Quantity{
		{ID: "lumbar_flexion_resting", Kind: Number, Unit: Degrees, Scopes: always, Inner: true, Words: "low back rounded at rest"},
		{ID: "lumbar_extension_resting", Kind: Number, Unit: Degrees, Scopes: always, Inner: true, Words: "low back arched at rest"},
		{ID: "hip_flexion", Kind: Number, Unit: Degrees, Sided: true, Worse: true, Scopes: always, Words: "hip bend"},
		{ID: "hip_extension", Kind: Number, Unit: Degrees, Sided: true, Worse: true, Scopes: always, Words: "hip stretch"},
		{ID: "hip_adduction", Kind: Number, Unit: Degrees, Sided: true, Worse: true, Scopes: always, Words: "leg across the middle"},
		{ID: "hip_rotation", Kind: Number, Unit: Degrees, Sided: true, Worse: true, Scopes: always, Words: "hip turn"},
		{ID: "hip_inward_turn", Kind: Number, Unit: Degrees, Sided: true, Worse: true, Scopes: always, Words: "hip turned in"},
		{ID: "hip_outward_turn", Kind: Number, Unit: Degrees, Sided: true, Worse: true, Scopes: always, Words: "hip turned out"},
		{ID: "hip_abduction_active", Kind: Number, Unit: Degrees, Sided: true, Worse: true, Scopes: always,
			Words: "leg lifted to the side"},
		{ID: "knee_flexion", Kind: Number, Unit: Degrees, Sided: true, Worse: true, Scopes: underLoad, Words: "knee bend"},
		{ID: "shoulder_elevation", Kind: Number, Unit: Degrees, Sided: true, Worse: true, Scopes: always, Words: "arm raised"},
		{ID: "shoulder_elevation_active", Kind: Number, Unit: Degrees, Sided: true, Worse: true, Scopes: always,
			Words: "arm lifted by itself"},
		{ID: "straight_leg_raise", Kind: Number, Unit: Degrees, Sided: true, Worse: true, Scopes: always, Words: "straight leg raised"},
		{ID: "wrist_load", Kind: Number, Unit: Share, Sided: true, Worse: true, Scopes: always, Words: "weight on one wrist"},
		{ID: "forearm_load", Kind: Number, Unit: Share, Sided: true, Worse: true, Scopes: always, Words: "weight on one forearm"},
		{ID: "knee_load", Kind: Number, Unit: Share, Sided: true, Worse: true, Scopes: always, Words: "weight on one knee"},
		{ID: "lumbar_moment", Kind: Number, Unit: Moment, Scopes: always, Words: "load on the low back"},
		{ID: "lumbar_compression", Kind: Number, Unit: Standing, Scopes: always, Words: "pressure on the low back"},
		{ID: "thoracolumbar_compression", Kind: Number, Unit: Standing, Scopes: always, Words: "pressure where ribs and low back meet"},
		{ID: "lumbar_compression_n", Kind: Number, Unit: Weight, Scopes: always, Words: "pressure on the low back, as a force"},
		{ID: "lumbar_shear_n", Kind: Number, Unit: Weight, Scopes: always, Words: "shear in the low back"},
		{ID: "axial_moment", Kind: Number, Unit: Torque, Sided: true, Worse: true, Scopes: always, Words: "twisting load on the low back"},
		{ID: "moving_side_moment", Kind: Number, Unit: Torque, Sided: true, Worse: true, Scopes: always,
			Words: "one-sided moving load on the low back"},
		{ID: "hand_force", Kind: Number, Unit: Newtons, Sided: true, Worse: true, Scopes: always, Words: "force on one arm"},
		{ID: "foot_force", Kind: Number, Unit: Newtons, Sided: true, Worse: true, Scopes: always, Words: "force on one leg"},
		{ID: "lowest_ribs_moment", Kind: Number, Unit: Moment, Scopes: always, Words: "load on the lowest ribs", Inner: true},
		{ID: "lying_leg_lever", Kind: Number, Unit: Moment, Scopes: always, Words: "lever of the legs in the air, lying", Inner: true},
		{ID: "hip_moment", Kind: Number, Unit: Moment, Scopes: always, Words: "load on one hip", Inner: true},
		{ID: "trunk_lever_cm", Kind: Number, Unit: Heights, Scopes: always, Words: "lever of the trunk"},
		{ID: "leg_lever_cm", Kind: Number, Unit: Heights, Scopes: always, Words: "lever of a leg"},
		{ID: "base_margin_cm", Kind: Number, Unit: Heights, Scopes: always, Words: "margin of the base"},
		{ID: "hold_seconds", Kind: Number, Unit: Seconds, Scopes: underLoad, Words: "hold"},
		{ID: "effort_held_seconds", Kind: Number, Unit: Seconds, Scopes: always, Words: "hold against effort"},
		{ID: "end_range_held_seconds", Kind: Number, Unit: Seconds, Scopes: always, Words: "hold at the end of a range"},
		{ID: "balance_steps", Kind: Number, Unit: Steps, Scopes: always, Words: "difficulty of balance"},
		{ID: "head_load", Kind: Number, Unit: Share, Scopes: always, Words: "weight on the head"},
		{ID: "demand", Kind: Number, Unit: Points, Scopes: always, Words: "effort, of 10"},

		{ID: "head_lift", Kind: Flag, Scopes: always, Words: "lifting the head when lying"},
		{ID: "prone", Kind: Flag, Scopes: always, Words: "lying face down"},
		{ID: "supine_flat", Kind: Flag, Scopes: always, Words: "lying flat on the back"},
		{ID: "side_lying", Kind: Flag, Scopes: always, Words: "lying on the side"},
		{ID: "floor_sit", Kind: Flag, Scopes: always, Words: "sitting on the floor"},
		{ID: "lies_on", Kind: Flag, Sided: true, Worse: true, Scopes: always, Words: "lying on the side"},
		{ID: "straight_leg_off_floor", Kind: Flag, Sided: true, Worse: true, Scopes: always, Words: "a straight leg carried by the hip"},
		{ID: "both_legs_off", Kind: Flag, Scopes: always, Words: "both legs off the floor when lying"},
		{ID: "crosses_while_flexed", Kind: Flag, Sided: true, Worse: true, Scopes: always, Words: "a bent hip across the middle"},
		{ID: "hand_behind_back", Kind: Flag, Sided: true, Worse: true, Scopes: always, Words: "a hand behind the back"},
		{ID: "overhead_load", Kind: Flag, Scopes: always, Words: "a load over the head"},
		{ID: "one_leg_bridge", Kind: Flag, Scopes: always, Words: "a bridge on one leg"},
		{ID: "kneeling", Kind: Flag, Scopes: always, Words: "kneeling"},
		{ID: "floor_transfer", Kind: Flag, Scopes: always, Words: "getting down to the floor"},
		{ID: "single_leg", Kind: Flag, Scopes: always, Words: "standing on one leg"},
		{ID: "split_stance", Kind: Flag, Scopes: always, Words: "a long split stance"},
		{ID: "moving_base", Kind: Flag, Scopes: always, Words: "stepping or turning on the feet"},
		{ID: "eyes_closed", Kind: Flag, Scopes: always, Words: "balance with the eyes closed"},
		{ID: "head_below_heart", Kind: Flag, Scopes: always, Words: "head below the heart"},
		{ID: "hips_above_heart", Kind: Flag, Scopes: always, Words: "hips above the heart"},
		{ID: "breath_hold", Kind: Flag, Scopes: always, Words: "holding the breath"},
		{ID: "ballistic", Kind: Flag, Scopes: always, Words: "jerks and bounces"},
		{ID: "loaded", Kind: Flag, Scopes: always, Words: "loaded work"},
		{ID: "pillow", Kind: Flag, Scopes: always, Words: "a pillow in its place", Aid: true},
		{ID: "raised_seat", Kind: Flag, Scopes: always, Words: "a raised seat", Aid: true},
		{ID: "fists", Kind: Flag, Scopes: always, Words: "the hands on fists", Aid: true},
		{ID: "support_hand", Kind: Flag, Scopes: always, Words: "a hand on a support", Aid: true},

		{ID: "base_of_support", Kind: Word, Scopes: always, Words: "base of support",
			Order: []string{"lying", "wide", "seated", "feet_apart", "narrow", "single"}},
		{ID: "spring_load", Kind: Word, Scopes: always, Words: "springs", Order: []string{"none", "light", "moderate", "heavy"}},
	},
)

func spineQuantities(region, words string, scopes []Scope) []Quantity {
	q := func(direction, does string, sided bool) Quantity {
		return Quantity{
			ID:      region + "_" + direction,
			Kind:    Number,
			Unit:    Degrees,
			Sided:   sided,
			Scopes:  scopes,
			Words:   words + " " + does,
			Moments: true,
		}
	}
	return []Quantity{q("flexion", "rounding forward", false), q("extension", "arching back", false),
		q("side_bend", "bending sideways", true), q("rotation", "turning", true)}
}

// slots is how many values there are in all.
var slots int

var byID = map[string]*Quantity{}

// keys are all values under their published names.
var keys = map[string]Key{}

func register(lists ...[]Quantity) []Quantity {
	all := slices.Concat(lists...)
	for i := range all {
		q := &all[i]
		if byID[q.ID] != nil {
			panic("two quantities are called " + q.ID)
		}
		byID[q.ID], q.first = q, slots
		slots += len(q.Scopes) * len(q.sides())
		for _, scope := range q.Scopes {
			for _, side := range append(q.sides(), "") {
				k, _ := q.Key(side, scope)
				keys[k.Name()] = k
			}
		}
	}
	return all
}

func (q *Quantity) sides() []string {
	if q.Sided {
		return []string{"left", "right"}
	}
	return []string{""}
}

// Find finds a quantity by its id; nil when there is none.
func Find(id string) *Quantity { return byID[id] }

// Key names one value: a quantity, on a side (empty for a quantity without sides and
// for the worse of both) and in a scope.
type Key struct {
	Quantity *Quantity
	Side     string
	Scope    Scope
	slot     int // of the value, or of the left side for the worse of both
	both     bool
}

// Key is the quantity on a side and in a scope. The error says what there is.
func (q *Quantity) Key(side string, scope Scope) (Key, error) {
	s := slices.Index(q.Scopes, scope)
	if s < 0 {
		return Key{}, fmt.Errorf("%s is not measured when %q; expected one of %v", q.ID, scope, q.Scopes)
	}
	k := Key{Quantity: q, Side: side, Scope: scope, slot: q.first + s*len(q.sides())}
	switch {
	case side == "":
		k.both = q.Sided
	case !slices.Contains(q.sides(), side):
		return Key{}, fmt.Errorf("%s has no side %q", q.ID, side)
	case side == "right":
		k.slot++
	}
	return k, nil
}

// Split takes a name such as hip_flexion_left apart into the quantity and its side;
// nil when there is no such quantity.
func Split(name string) (q *Quantity, side string) {
	if len(Registry) == 0 { // named here, so that what is set up with a name waits for it
		return nil, ""
	}
	if q := byID[name]; q != nil {
		return q, ""
	}
	for _, side := range []string{"left", "right"} {
		if base, ok := strings.CutSuffix(name, "_"+side); ok && byID[base] != nil && byID[base].Sided {
			return byID[base], side
		}
	}
	return nil, ""
}

// KeyOf finds a value by its published name, such as lumbar_rotation_left_loaded.
func KeyOf(name string) (Key, bool) {
	k, ok := keys[name]
	return k, ok && len(Registry) > 0
}

// mustKey is a key that the measuring itself needs.
func mustKey(id, side string, scope Scope) Key {
	if q, _ := Split(id); q != nil {
		if k, err := q.Key(side, scope); err == nil {
			return k
		}
	}
	panic("no quantity is called " + id)
}

// SidedName is the quantity with its side and without its scope.
func (k Key) SidedName() string {
	if k.Side == "" {
		return k.Quantity.ID
	}
	return k.Quantity.ID + "_" + k.Side
}

// Name is the name under which the value is published.
func (k Key) Name() string {
	if k.Scope == WhenAny {
		return k.SidedName()
	}
	return k.SidedName() + "_" + string(k.Scope)
}

// Scale turns a limit as it is written into the scale that values are kept on: a
// number as it is, true or false as 1 or 0, a word as its place in the order. The
// error says what was expected.
func (q *Quantity) Scale(written any) (float64, error) {
	switch v := written.(type) {
	case float64:
		if q.Kind == Number && !math.IsNaN(v) {
			return v, nil
		}
	case bool:
		if q.Kind == Flag {
			return map[bool]float64{true: 1}[v], nil
		}
	case string:
		if i := slices.Index(q.Order, v); i >= 0 {
			return float64(i), nil
		}
		if q.Kind == Word {
			return 0, fmt.Errorf("%q is not one of %v", v, q.Order)
		}
	}
	return 0, fmt.Errorf("%s is a %s and cannot be %v", q.ID, q.Kind, written)
}
