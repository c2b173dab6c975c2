// Package exercise holds what can be taught: families and variants, their
// movements and doses, and the movement quantities measured from their poses.
// The ids are one vocabulary shared by library files, database, pages and
// command line.
package exercise

import "slices"

// Position is how the body rests, from most supported to least.
type Position string

// Positions in order, most supported first.
var Positions = []Position{"supine", "side_lying", "prone", "four_point", "kneeling", "half_kneeling",
	"floor_sit", "chair_sit", "standing_supported", "standing"}

// Rank is the position's place in Positions; −1 when unknown.
func (p Position) Rank() int { return slices.Index(Positions, p) }

// Level is how high the body is off the floor in the height ribbon, 0 lying to
// 1 standing.
func (p Position) Level() float64 { return levels[p] }

var levels = map[Position]float64{"supine": 0, "prone": 0.04, "side_lying": 0.13, "floor_sit": 0.26,
	"four_point": 0.38, "kneeling": 0.5, "half_kneeling": 0.56, "chair_sit": 0.64, "standing_supported": 0.92, "standing": 1}

// Lying says whether the whole trunk rests.
func (p Position) Lying() bool { return levels[p] < levels["floor_sit"] }

// OnFloor says whether the position is taken on the floor, so that going there
// from a chair or from standing is a floor transfer. On a bed or table it is
// not.
func (p Position) OnFloor() bool { return p.Rank() < Position("chair_sit").Rank() }

var positionWords = map[Position]string{
	"supine":             "lying on the back",
	"side_lying":         "lying on the side",
	"prone":              "lying face down",
	"four_point":         "on hands and knees",
	"kneeling":           "kneeling",
	"half_kneeling":      "half kneeling",
	"floor_sit":          "sitting on the floor",
	"chair_sit":          "sitting on a chair",
	"standing_supported": "standing with support",
	"standing":           "standing",
}

// Words is the position in an instructor's words.
func (p Position) Words() string { return positionWords[p] }

// Place is where a session happens.
type Place string

// Places in the order they are offered.
var Places = []Place{"mat", "bed", "table", "chair", "standing", "studio"}

var placeWords = map[Place]string{"mat": "on the mat", "bed": "on the bed", "table": "on the table", "chair": "on the chair",
	"standing": "standing", "studio": "in the studio"}

// Words is the place in an instructor's words.
func (p Place) Words() string { return placeWords[p] }

var placePositions = map[Place][]Position{
	"mat": {
		"supine",
		"side_lying",
		"prone",
		"four_point",
		"kneeling",
		"half_kneeling",
		"floor_sit",
		"standing_supported",
		"standing",
	},
	"bed":      {"supine", "side_lying", "prone", "floor_sit", "chair_sit"},
	"table":    {"supine", "side_lying", "prone", "floor_sit", "chair_sit", "four_point"},
	"chair":    {"chair_sit", "standing_supported"},
	"standing": {"standing_supported", "standing"},
	"studio":   Positions,
}

// Holds says whether the place offers the position.
func (p Place) Holds(pos Position) bool { return slices.Contains(placePositions[p], pos) }

// OwnEquipment is what a place brings with it.
func (p Place) OwnEquipment() []string {
	switch p {
	case "mat", "bed", "table", "chair":
		return []string{string(p)}
	case "studio":
		return Equipment
	}
	return nil
}

// Equipment ids.
var Equipment = []string{"mat", "pillow", "towel", "chair", "bed", "table", "wall", "rail", "bench", "stick", "band",
	"small_ball", "ball", "ring", "hand_weight", "step", "arc", "wedge", "carriage"}

// Purpose is why an exercise is done.
type Purpose string

// Purposes are all purposes.
var Purposes = []Purpose{"breath", "mobility_flexion_extension", "mobility_rotation", "mobility_side_bend", "hip_mobility",
	"shoulder_mobility", "ankle_mobility", "hamstring_length", "deep_core", "anti_extension", "anti_rotation", "lateral_stability",
	"trunk_flexor_endurance", "back_extensor_endurance", "hip_extension", "hip_abduction", "leg_strength", "calf_strength",
	"hip_hinge", "dissociation", "upper_back_posture", "balance", "gait", "coordination", "neck_mobility", "arm_loading",
	"transfers", "decompression", "relaxation"}

var purposeWords = map[Purpose]string{
	"breath":                     "breath",
	"mobility_flexion_extension": "bending the spine forward and back",
	"mobility_rotation":          "turning the spine",
	"mobility_side_bend":         "bending the spine sideways",
	"hip_mobility":               "looser hips",
	"shoulder_mobility":          "freer shoulders",
	"ankle_mobility":             "freer ankles",
	"hamstring_length":           "length in the back of the legs",
	"deep_core":                  "the deep core",
	"anti_extension":             "keeping the back from arching",
	"anti_rotation":              "keeping the trunk from turning",
	"lateral_stability":          "steadiness to the side",
	"trunk_flexor_endurance":     "lasting strength in the front of the trunk",
	"back_extensor_endurance":    "lasting strength in the back",
	"hip_extension":              "seat and back of the legs",
	"hip_abduction":              "side of the hip",
	"leg_strength":               "leg strength",
	"calf_strength":              "calf strength",
	"hip_hinge":                  "folding at the hips",
	"dissociation":               "hips moving while the spine stays",
	"upper_back_posture":         "the upper back",
	"balance":                    "balance",
	"gait":                       "walking",
	"coordination":               "coordination",
	"neck_mobility":              "a freer neck",
	"arm_loading":                "weight through the arms",
	"transfers":                  "getting down and up",
	"decompression":              "easing the back",
	"relaxation":                 "rest",
}

// Words is the purpose in an instructor's words.
func (p Purpose) Words() string { return purposeWords[p] }

// Phase is a stretch of a session.
type Phase string

// Phases in the order of a session.
var Phases = []Phase{"settle", "mobilise", "activate", "strengthen", "upright", "close"}

// Approach is a school of teaching.
type Approach string

// Approaches are all approaches.
var Approaches = []Approach{"steady", "segment", "breath", "sensing"}

// Verdict is the judgement on one variant for one client.
type Verdict string

const (
	Suits Verdict = "suits"
	Adapt Verdict = "adapt"
	Avoid Verdict = "avoid"
)

// Strengths of bands and springs, lightest first.
var Strengths = []string{"light", "medium", "strong"}

// Arcs by height.
var Arcs = []string{"low", "high"}

// WedgeGrades are the grades of wedge there are, from 1.
const WedgeGrades = 4
