package library

import (
	"encoding/csv"
	"fmt"
	"os"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// profiles are the clients a rehabilitation reader judged the exercises for,
// without looking at the rules; each is otherwise healthy, on the mat.
func profiles() map[string]limit.Client {
	yes, no, one := true, false, 1
	t := -2.8
	client := func(age int, k limit.Condition) limit.Client {
		return limit.Client{BirthYear: today.Year() - age, Sex: "female", Conditions: []limit.Condition{k}, Pain: limit.Pain{Now: &one},
			Place: "mat", Equipment: []string{"mat", "chair", "pillow", "towel", "band", "wall"}}
	}
	return map[string]limit.Client{
		"bone":         client(70, limit.Condition{ID: "osteoporosis"}.With("t_score", t).With("vertebral_fracture", no)),
		"bone_fx":      client(74, limit.Condition{ID: "osteoporosis"}.With("vertebral_fracture", yes)),
		"disc_acute":   client(55, limit.Condition{ID: "disc_sciatica"}.With("stage", "acute").With("side", "left").With("eases", "extension")),
		"disc_sub":     client(55, limit.Condition{ID: "disc_sciatica"}.With("stage", "subacute").With("side", "left")),
		"stenosis":     client(68, limit.Condition{ID: "extension_sensitive"}.With("which", "stenosis")),
		"fusion":       client(55, limit.Condition{ID: "spinal_fusion"}.With("levels", "L4-S1").With("months_since", 14).With("cleared_for_exercise", yes)),
		"fusion_early": client(55, limit.Condition{ID: "spinal_fusion"}.With("levels", "L4-S1").With("months_since", 5).With("cleared_for_exercise", yes)),
		"scoliosis":    client(55, limit.Condition{ID: "scoliosis"}.With("curves", []limit.Curve{{Region: "thoracic", Convex: "right", CobbDeg: 24}})),
		"wrist":        client(55, limit.Condition{ID: "wrist_pain"}.With("side", "right")),
		"shoulder":     client(55, limit.Condition{ID: "shoulder_pain"}.With("side", "left")),
		"neck":         client(55, limit.Condition{ID: "neck_pain"}),
		"hip_post":     client(55, limit.Condition{ID: "hip_replacement"}.With("side", "right").With("approach", "posterior").With("months_since", 2)),
		"knee":         client(55, limit.Condition{ID: "knee_osteoarthritis"}.With("side", "right")),
		"falls":        client(78, limit.Condition{ID: "falls_risk"}),
		"bp":           client(55, limit.Condition{ID: "raised_blood_pressure"}.With("controlled", no)),
	}
}

var agrees = map[string][]exercise.Verdict{
	"suits": {exercise.Suits}, "adapt": {exercise.Adapt}, "avoid": {exercise.Avoid},
	"not_suits": {exercise.Adapt, exercise.Avoid}, "not_avoid": {exercise.Suits, exercise.Adapt},
}

// TestASecondOpinion keeps what the rules and the reader agree on agreed. The
// cells that differ are named, each with the reason why the rule stands.
func TestASecondOpinion(t *testing.T) {
	file, err := os.Open("testdata/second_opinion.csv")
	require.NoError(t, err)
	defer file.Close()
	cells, err := csv.NewReader(file).ReadAll()
	require.NoError(t, err)
	l, who := load(t), profiles()
	sets := map[string]limit.Set{}
	for name, c := range who {
		sets[name] = limit.For(c, l.Book, today)
		assert.Equal(t, limit.OK, sets[name].Status(), name)
	}
	agree, open := 0, map[string]bool{}
	for _, cell := range cells[1:] {
		variant, profile, expected, why := cell[0], cell[1], cell[2], cell[3]
		v := l.Variant(variant)
		require.NotNil(t, v, variant)
		j := limit.Judge(sets[profile], v, limit.Kit{})
		id := variant + " " + profile
		if slices.Contains(agrees[expected], j.Verdict) {
			agree++
			continue
		}
		open[id] = true
		assert.NotEmpty(t, whyItStands[id], "%s: the reader says %s (%s), the rules say %s", id, expected, why, j.Verdict)
		if os.Getenv("OPINION") != "" {
			first := ""
			for _, r := range j.Reasons {
				first += fmt.Sprintf(" %s=%v>%v", r.Quantity, r.Value, r.Limit)
			}
			fmt.Printf("%-26s %-12s %-9s got %-6s (%s)%s\n", variant, profile, expected, j.Verdict, why, first)
		}
	}
	t.Logf("%d of %d cells agree", agree, len(cells)-1)
	for id := range whyItStands {
		assert.True(t, open[id], "%s agrees by now: take it off the list", id)
	}
}

// whyItStands names the cells where the reader and the rules differ, and why.
var whyItStands = map[string]string{
	"curl_shoulder_blades fusion":      "rounds the low back past the 20° that a fusion is given",
	"bridge neck":                      "the model's neck bends with the whole lift; a folded towel under the head is not modelled",
	"curl_up disc_acute":               "the rigid model carries a small curl on the ribs and sees little load",
	"curl_up fusion_early":             "the rigid model carries a small curl on the ribs and sees little load",
	"wedge_curl_1_easy disc_acute":     "in half its range the curl is inside 10°; the reader would rather not begin",
	"knee_to_chest_one disc_sub":       "rounds 12°, inside the 20° allowed; the reader fears the pull at the end",
	"knees_to_chest_both fusion":       "rounds 32°, and its smaller range is left to the one-knee rung",
	"open_book scoliosis":              "the arm's weight loads the ribs a little, so the turn into the curve is made smaller",
	"side_both_legs_lift bone":         "the model lets the floor under the hip carry the legs and sees no load on the side",
	"side_both_legs_lift bone_fx":      "the model lets the floor under the hip carry the legs and sees no load on the side",
	"side_both_legs_lift disc_acute":   "the model lets the floor under the hip carry the legs and sees no load on the side",
	"side_both_legs_lift fusion_early": "the model lets the floor under the hip carry the legs and sees no load on the side",
	"side_bridge_knees knee":           "kneeling is barred without padding, and padding is not an adaptation of a side bridge yet",
	"side_bridge_knees bp":             "its measured demand is over what is held with an uncontrolled pressure",
	"one_side_carry_march disc_acute":  "a weight in the hand is not part of the measured moment",
	"plank_hands disc_sub":             "87 N·m against a cap of 73; raised planks are rungs of their own",
	"hover disc_sub":                   "80 N·m against a cap of 73",
	"hover fusion_early":               "80 N·m against a cap of 73",
	"cow_only stenosis":                "in half its range it arches 7°, inside 10°",
	"opposite_limb_lift disc_acute":    "lying on the belly the model sees only the moment of the limbs, not the squeeze of the muscles",
	"opposite_limb_lift fusion_early":  "lying on the belly the model sees only the moment of the limbs, not the squeeze of the muscles",
	"single_leg_eyes_closed stenosis":  "nothing is recorded of feeling in the legs",
	"floor_to_stand_chair disc_acute":  "the lean over the front foot is over the acute cap; the log roll remains",
	"floor_to_stand_chair wrist":       "hands and knees put a fifth of the body on each wrist; fists are not measured apart",
	"floor_to_stand_chair knee":        "the front knee bends past a right angle while it carries",
	"hinge_stick shoulder":             "the stick's upper hand is not posed",
	"lunge_turn disc_sub":              "turning is not limited in the subacute stage by itself",
	"lunge_turn scoliosis":             "it bears no smaller form: it is for the unlimited",
	"arc_lengthen_side disc_acute":     "the arc carries the side, so the bend is not loaded",
	"arc_lengthen_side scoliosis":      "done on both sides it would also bend into the curve; one side alone is the indicated one",
	"arc_lengthen_side shoulder":       "lying on the sore side its arm is overhead; the other side remains",
}
