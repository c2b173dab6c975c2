package limit

import (
	"fmt"
	"slices"
	"strings"

	"restbend/core/exercise"
)

// What a client wants back in daily life, what was seen going wrong and where the
// pelvis catches all speak of purposes to train (common practice).

// Task is something of daily life with the purposes that bring it back.
type Task struct {
	ID, Words string
	Purposes  []exercise.Purpose
	Hears     []string // words of a client that speak of it
}

// Tasks are the daily tasks that are asked about.
var Tasks = []Task{
	{
		"chairs",
		"chairs, the car, the toilet",
		[]exercise.Purpose{"leg_strength", "transfers"},
		[]string{"chair", "sofa", "car ", "toilet", "stand up", "getting up"},
	},
	{
		"picking_up",
		"picking things up",
		[]exercise.Purpose{"hip_hinge", "leg_strength"},
		[]string{"pick", "lift", "bend", "shoe", "sock", "daughter", "son ", "grand"},
	},
	{
		"floor",
		"down to the floor and up",
		[]exercise.Purpose{"transfers", "leg_strength"},
		[]string{"floor", "kneel", "garden", "play", "weed"},
	},
	{
		"shelves",
		"high shelves, hair, hanging washing",
		[]exercise.Purpose{"upper_back_posture", "shoulder_mobility"},
		[]string{"shelf", "shelves", "hair", "washing", "reach", "cupboard"},
	},
	{
		"stairs",
		"stairs and kerbs",
		[]exercise.Purpose{"balance", "leg_strength", "hip_abduction"},
		[]string{"stair", "step", "flight", "hill", "kerb"},
	},
	{"walking", "walking further", []exercise.Purpose{"gait", "hip_extension", "calf_strength"}, []string{"walk", "hike", "dog", "shop"}},
	{
		"carrying",
		"carrying",
		[]exercise.Purpose{"lateral_stability", "anti_rotation", "arm_loading"},
		[]string{"carry", "bag", "shopping", "suitcase", "child"},
	},
	{
		"sitting_long",
		"long drives and desks",
		[]exercise.Purpose{"mobility_flexion_extension", "mobility_rotation", "upper_back_posture"},
		[]string{"drive", "desk", "wheel", "sit", "computer", "potter"},
	},
	{
		"lasting",
		"lasting to the end of the day",
		[]exercise.Purpose{"back_extensor_endurance", "trunk_flexor_endurance"},
		[]string{"day", "evening", "match", "tired", "long"},
	},
	{
		"bed",
		"turning over and getting out of bed",
		[]exercise.Purpose{"transfers", "mobility_rotation"},
		[]string{"bed", "sleep", "turn over"},
	},
}

// FindTask finds a task by its id.
func FindTask(id string) (Task, bool) {
	i := slices.IndexFunc(Tasks, func(t Task) bool { return t.ID == id })
	if i < 0 {
		return Task{}, false
	}
	return Tasks[i], true
}

// Heard are the tasks that a client's own words may speak of.
func Heard(words string) []Task {
	words = " " + strings.ToLower(words) + " "
	var out []Task
	for _, t := range Tasks {
		if slices.ContainsFunc(t.Hears, func(h string) bool { return strings.Contains(words, " "+h) }) {
			out = append(out, t)
		}
	}
	return out
}

// SeenFault is a fault that was watched, with what it speaks of.
type SeenFault struct {
	ID, Words string
	Needs     []exercise.Purpose
}

// SeenFaults are the faults that are asked about.
var SeenFaults = []SeenFault{
	{"tucks_under", "the tail tucks under in a deep bend", []exercise.Purpose{"dissociation", "hip_mobility"}},
	{"feet_turn", "feet turn out or knees fall in", []exercise.Purpose{"hip_abduction", "leg_strength"}},
	{"arches_lifting_arm", "the back arches when an arm lifts", []exercise.Purpose{"shoulder_mobility", "anti_extension"}},
	{"ribs_flare", "the low ribs flare", []exercise.Purpose{"deep_core", "breath"}},
	{"rolls_back", "rolls back when lying on the side", []exercise.Purpose{"lateral_stability"}},
	{"hips_drop", "a hip drops on one leg", []exercise.Purpose{"hip_abduction", "balance"}},
	{"belly_domes", "the belly domes under effort", []exercise.Purpose{"deep_core"}},
	{"holds_breath", "holds the breath when it gets hard", []exercise.Purpose{"breath"}},
	{"feet_roll", "feet roll while balancing", []exercise.Purpose{"calf_strength", "balance"}},
	{"chin_pokes", "the chin pokes forward", []exercise.Purpose{"upper_back_posture", "neck_mobility"}},
}

// Seen is a fault as it was seen on a date.
type Seen struct {
	ID string `json:"id"`
	On string `json:"on,omitempty"`
}

// Clock is how smoothly the pelvis passed the twelve hours on a date, twelve
// o'clock first: 0 smooth, 1 hesitant, 2 jerky.
type Clock struct {
	On    string `json:"on"`
	Hours []int  `json:"hours"`
}

// Rough are the hours of the clock that were not smooth, 1 to 12, the jerkiest
// first.
func (c Clock) Rough() []int {
	var out []int
	for level := 2; level > 0; level-- {
		for i, v := range c.Hours {
			if v == level {
				out = append(out, (i+11)%12+1)
			}
		}
	}
	return out
}

// daily turns tasks, faults seen and the last clock into needs.
func (s *Limits) daily(c Client) {
	for _, id := range c.Tasks {
		t, ok := FindTask(id)
		if !ok {
			continue
		}
		for _, p := range t.Purposes {
			s.Needs = append(s.Needs, Need{p, "wanted back: " + t.Words})
		}
	}
	for _, seen := range c.FaultsSeen {
		for _, f := range SeenFaults {
			if f.ID != seen.ID {
				continue
			}
			for _, p := range f.Needs {
				s.Needs = append(s.Needs, Need{p, "seen: " + f.Words})
			}
		}
	}
	if n := len(c.Clock); n > 0 {
		if rough := c.Clock[n-1].Rough(); len(rough) > 0 {
			s.Needs = append(s.Needs,
				Need{"coordination", fmt.Sprintf("the pelvis catches at %s o'clock: extra practice there", hours(rough))},
			)
		}
	}
}

func hours(list []int) string {
	words := make([]string, len(list))
	for i, h := range list {
		words[i] = fmt.Sprint(h)
	}
	if n := len(words); n > 1 {
		return strings.Join(words[:n-1], ", ") + " and " + words[n-1]
	}
	return words[0]
}
