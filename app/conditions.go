package app

import (
	"fmt"
	"strings"

	"restbend/core/limit"
)

// Choice is one answer to a question: its id and its words.
type Choice struct{ Value, Words string }

// Detail is one thing asked about a condition.
type Detail struct {
	Name, Label string
	Kind        string // choice, yesno, number or text
	Choices     []Choice
}

// ConditionForm is a condition as it is asked about.
type ConditionForm struct {
	ID, Words, Also string // Also is the clinical word, or a remark
	Details         []Detail
}

var (
	sides     = []Choice{{"left", "left"}, {"right", "right"}, {"both", "both"}}
	sideAsked = Detail{"side", "Side", "choice", sides}
)

// ConditionForms are all conditions in asking order, with the few details each
// needs.
var ConditionForms = []ConditionForm{
	{"low_back_pain", "Low back pain", "without a named cause", []Detail{
		{"stage", "Stage", "choice", []Choice{{"acute", "acute, days to weeks"}, {"persistent", "persistent, months"}}}}},
	{"disc_sciatica", "Sore disc or sciatica", "", []Detail{
		{"stage", "Stage", "choice", []Choice{{"acute", "acute"}, {"subacute", "subacute"}, {"later", "later"}}}, sideAsked,
		{"eases", "Eased by", "choice", []Choice{{"extension", "bending back"}, {"flexion", "bending forward"}, {"neither", "neither"}}},
		{"leg_symptoms", "Leg symptoms still?", "yesno", nil}}},
	{"extension_sensitive", "Bending back hurts", "stenosis, facet joints, a slip", []Detail{
		{"which", "Which", "choice", []Choice{{"stenosis", "stenosis"}, {"facet", "facet joints"}, {"slip", "a slip"}}}}},
	{"osteopenia", "Low bone mass", "osteopenia", []Detail{{"t_score", "T-score", "number", nil}}},
	{"osteoporosis", "Fragile bone", "osteoporosis", []Detail{
		{"t_score", "T-score", "number", nil}, {"vertebral_fracture", "A vertebra ever broken?", "yesno", nil}}},
	{"scoliosis", "Scoliosis", "the side each curve bulges to", []Detail{
		{"thoracic", "Upper back curve", "choice", []Choice{{"left", "to the left"}, {"right", "to the right"}}}, {"thoracic_cobb", "its degrees", "number", nil},
		{"lumbar", "Low back curve", "choice", []Choice{{"left", "to the left"}, {"right", "to the right"}}}, {"lumbar_cobb", "its degrees", "number", nil}}},
	{"spinal_fusion", "Fused spine", "", []Detail{
		{"levels", "Levels, such as L4-S1", "text", nil}, {"months_since", "Months since", "number", nil}, {"cleared_for_exercise", "Cleared for exercise?", "yesno", nil}}},
	{"sacroiliac", "Pelvis joint", "sacroiliac", []Detail{sideAsked}},
	{"hypermobility", "Very mobile joints", "hypermobility", nil},
	{"hip_replacement", "Replaced hip", "", []Detail{sideAsked,
		{"approach", "Approach", "choice", []Choice{{"posterior", "from behind"}, {"anterior", "from the front"}}}, {"months_since", "Months since", "number", nil}}},
	{"hip_osteoarthritis", "Worn hip", "osteoarthritis", []Detail{sideAsked}},
	{"knee_osteoarthritis", "Worn knee", "osteoarthritis", []Detail{sideAsked}},
	{"shoulder_pain", "Sore shoulder", "", []Detail{sideAsked, {"rest_pain", "At rest or at night too?", "yesno", nil}}},
	{"wrist_pain", "Sore wrist", "", []Detail{sideAsked}},
	{"neck_pain", "Sore neck", "", nil},
	{"raised_blood_pressure", "Raised blood pressure", "", []Detail{
		{"reading", "Reading today, such as 128/78", "text", nil}, {"controlled", "Under control?", "yesno", nil}}},
	{"falls_risk", "Falls, or fear of them", "", nil},
	{"deconditioned", "Long out of training", "", nil},
	{"desk_stiffness", "Stiff from sitting", "", nil},
	{"pregnant", "Pregnant", "outside what is planned for here", nil},
}

// ConditionWords says what a client has, in an instructor's words.
func ConditionWords(c limit.Client) string {
	var out []string
	for _, k := range c.Conditions {
		word := k.ID
		for _, f := range ConditionForms {
			if f.ID == k.ID {
				word = strings.ToLower(f.Words)
			}
		}
		switch {
		case k.ID == "osteoporosis" && k.VertebralFracture != nil && *k.VertebralFracture:
			word += " with a healed fracture"
		case k.Stage != "":
			word += ", " + k.Stage
		case k.ID == "wrist_pain" && k.Side == "both":
			word = "sore wrists"
		case k.Side == "left" || k.Side == "right":
			word += ", " + k.Side
		case k.Levels != "":
			word += ", " + k.Levels
		}
		if k.ID == "scoliosis" && len(k.Curves) > 0 {
			for _, curve := range k.Curves {
				word += fmt.Sprintf(", %s to the %s", map[string]string{"thoracic": "upper", "lumbar": "low", "cervical": "neck"}[curve.Region], curve.Convex)
			}
		}
		out = append(out, word)
	}
	if len(out) == 0 {
		return "no condition noted"
	}
	return strings.Join(out, " · ")
}
