package limit

import (
	"fmt"
	"slices"
	"strings"

	"restbend/core/exercise"
)

// Rules is the rule book, read from files.
type Rules []Rule

// Rule says what follows from one condition.
type Rule struct {
	ID        string              `yaml:"id"` // condition.subject
	Condition string              `yaml:"condition"`
	If        map[string][]string `yaml:"if,omitempty"`     // every field must have one of the values
	Unless    map[string][]string `yaml:"unless,omitempty"` // and none of these fields one of its values
	Limits    []RuleLimit         `yaml:"limits,omitempty"`
	Session   []SessionCap        `yaml:"session,omitempty"` // of a whole session
	Wants     []exercise.Purpose  `yaml:"wants,omitempty"`
	Reason    string              `yaml:"reason"`
	Source    string              `yaml:"source"`
	Bar       bool                `yaml:"bar,omitempty"` // the direction is shut: the figure is for a body that is never perfectly still
}

// RuleLimit is one limit a rule sets.
type RuleLimit struct {
	Quantity string   `yaml:"quantity"`
	Max      *float64 `yaml:"max,omitempty"`
	Word     string   `yaml:"word,omitempty"`    // the most, for an ordered word
	Allowed  *bool    `yaml:"allowed,omitempty"` // false bars a true-or-false quantity
	When     string   `yaml:"when,omitempty"`    // any (or empty), loaded, held, fast
	With     *With    `yaml:"with,omitempty"`
	Sided    bool     `yaml:"sided,omitempty"` // only on the condition's side
	Needs    []string `yaml:"needs,omitempty"` // adaptations, any of which makes it harmless
}

// With makes a limit hold only while another quantity is over its figure.
type With struct {
	Quantity string  `yaml:"quantity" json:"quantity"`
	Over     float64 `yaml:"over" json:"over"`
}

// Known are the conditions, in the order they are asked about.
var Known = []string{"low_back_pain", "disc_sciatica", "extension_sensitive", "osteopenia", "osteoporosis", "scoliosis", "spinal_fusion",
	"sacroiliac", "hypermobility", "hip_replacement", "hip_osteoarthritis", "knee_osteoarthritis", "shoulder_pain", "wrist_pain", "neck_pain",
	"raised_blood_pressure", "falls_risk", "deconditioned", "desk_stiffness", "pregnant"}

var flags = []string{"side_lying", "split_stance", "hips_above_heart", "head_lift", "prone", "supine_flat", "kneeling", "floor_transfer", "single_leg", "eyes_closed",
	"head_below_heart", "breath_hold", "ballistic", "loaded"}

// springs are the ordered words of spring_load, least first.
var springs = []string{"none", "light", "moderate", "heavy"}

// bases are the ordered words of base_of_support, steadiest first.
var bases = []string{"lying", "wide", "seated", "feet_apart", "narrow", "single"}

// wordsOf are the ordered words of a quantity that is a word.
func wordsOf(quantity string) []string {
	if quantity == "base_of_support" {
		return bases
	}
	return springs
}

var directions = []string{"flexion", "extension", "side_bend_left", "side_bend_right", "rotation_left", "rotation_right"}

var plain = []string{"hip_inward_rotation", "hip_outward_rotation", "knee_flexion_loaded", "hip_flexion", "hip_extension", "knee_flexion", "shoulder_elevation", "hip_adduction", "hip_rotation",
	"straight_leg_raise", "wrist_load", "forearm_load", "knee_load"}

// NumberQuantity says whether the name is a quantity measured as a number.
func NumberQuantity(name string) bool {
	for _, region := range []string{"cervical", "thoracic", "lumbar"} {
		if rest, ok := strings.CutPrefix(name, region+"_"); ok {
			return slices.Contains(directions, rest) || rest == "rotation" || rest == "side_bend" || name == "lumbar_moment"
		}
	}
	if name == "hold_seconds" || name == "demand" || name == "hip_moment" {
		return true
	}
	for _, side := range []string{"", "_left", "_right"} {
		if slices.Contains(plain, strings.TrimSuffix(name, side)) {
			return true
		}
	}
	return false
}

// curved stands for either side in the name of a quantity that a curve decides.
var curved = strings.NewReplacer("{thoracic_concave}", "left", "{thoracic_convex}", "left", "{lumbar_concave}", "left", "{lumbar_convex}", "left")

// Check refuses rules that name what does not exist. Errors name the rule and
// the field.
func (r Rules) Check() error {
	seen := map[string]bool{}
	for _, rule := range r {
		bad := func(format string, args ...any) error {
			return fmt.Errorf("rule %s: %s", rule.ID, fmt.Sprintf(format, args...))
		}
		if !strings.HasPrefix(rule.ID, rule.Condition+".") {
			return bad("id: must begin with its condition, %q", rule.Condition+".")
		}
		if !slices.Contains(Known, rule.Condition) {
			return bad("condition: %q is not one of %v", rule.Condition, Known)
		}
		if seen[rule.ID] {
			return bad("id: is already taken")
		}
		seen[rule.ID] = true
		if rule.Reason == "" || rule.Source == "" {
			return bad("reason and source: both are needed")
		}
		for _, k := range rule.Session {
			if !slices.Contains(SessionCounts, k.Count) || k.Max <= 0 {
				return bad("session: %q with a max of %g; expected one of %v and a figure above 0", k.Count, k.Max, SessionCounts)
			}
		}
		for _, l := range rule.Limits {
			set := 0
			if l.Max != nil {
				set++
				if !NumberQuantity(curved.Replace(l.Quantity)) {
					return bad("limits.quantity: %q is not a quantity with a figure", l.Quantity)
				}
			}
			if l.Allowed != nil {
				set++
				if !slices.Contains(flags, l.Quantity) {
					return bad("limits.quantity: %q is not a true-or-false quantity", l.Quantity)
				}
			}
			if l.Word != "" {
				set++
				if l.Quantity != "spring_load" && l.Quantity != "base_of_support" || !slices.Contains(wordsOf(l.Quantity), l.Word) {
					return bad("limits.word: %q is not one of %v", l.Word, wordsOf(l.Quantity))
				}
			}
			for _, n := range l.Needs {
				if !slices.Contains(exercise.AdaptationIDs, n) {
					return bad("limits.needs: %q is not an adaptation", n)
				}
			}
			if set != 1 {
				return bad("limits: %s needs one of max, word and allowed", l.Quantity)
			}
			if !slices.Contains([]string{"", "any", "loaded", "held", "fast"}, l.When) {
				return bad("limits.when: %q is not any, loaded, held or fast", l.When)
			}
		}
	}
	return nil
}

func (r Rule) holds(details map[string]string) bool {
	for field, values := range r.If {
		if !slices.Contains(values, details[field]) {
			return false
		}
	}
	for field, values := range r.Unless {
		if slices.Contains(values, details[field]) {
			return false
		}
	}
	return true
}
