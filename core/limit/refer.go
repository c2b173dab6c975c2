package limit

import (
	"slices"
	"strings"
	"time"
)

// urgentFlags need a doctor today.
var urgentFlags = []string{"saddle_numbness", "bladder_bowel_change", "sexual_dysfunction_new", "progressive_leg_weakness", "both_legs_symptoms", "chest_pain_on_effort",
	"breathless_at_rest", "calf_swollen_hot", "sudden_worst_headache", "neck_pain_with_head_signs", "new_foot_drop"}

// RedFlags are the warning signs as questions to the client, in asking order.
var RedFlags = []struct{ ID, Question string }{
	{"saddle_numbness", "Any numbness between the legs, where a saddle would touch?"},
	{"bladder_bowel_change", "Any new trouble passing water or holding bladder or bowel?"},
	{"sexual_dysfunction_new", "Any new loss of sexual feeling or function?"},
	{"progressive_leg_weakness", "Is a leg getting weaker?"},
	{"both_legs_symptoms", "Pain, tingling or numbness down both legs?"},
	{"chest_pain_on_effort", "Chest pain or tightness on effort?"},
	{"breathless_at_rest", "Out of breath while sitting still?"},
	{"calf_swollen_hot", "A calf that is swollen, hot or sore to touch?"},
	{"sudden_worst_headache", "A sudden headache, the worst ever?"},
	{"neck_pain_with_head_signs", "Neck pain with double vision, faintness, or trouble swallowing or speaking?"},
	{"new_foot_drop", "A foot that newly drops or drags?"},
	{"dizziness_on_effort", "Dizziness or fainting on effort?"},
	{"significant_trauma", "A fall, crash or blow before this began?"},
	{"new_fracture_suspected", "A sudden pain as if something gave way, or a known new fracture?"},
	{"history_of_cancer_new_pain", "A history of cancer, and this pain is new?"},
	{"unexplained_weight_loss", "Weight lost without trying?"},
	{"fever_unwell", "Fever, chills or feeling ill with it?"},
	{"infection_risk", "A recent infection, or a weakened immune system?"},
	{"night_pain_unremitting", "Pain at night that nothing eases?"},
	{"no_position_of_ease", "Is there no position at all that eases it?"},
	{"pain_increasing", "Is the pain growing steadily, week by week?"},
	{"hand_clumsiness_or_gait_change", "Clumsy hands, or walking that has changed?"},
}

// youngest is the age from which this program plans for somebody.
const youngest = 16

// redFlags are the warning signs, the urgent ones first, and the age that is for
// others. Nothing takes them away but an answer that they are gone.
func redFlags(c Client, on time.Time) []Reason {
	const source = "Finucane et al., JOSPT 2020, international framework for red flags (from memory)"
	var out []Reason
	for _, urgent := range []bool{true, false} {
		for _, f := range c.RedFlags {
			if slices.Contains(urgentFlags, f) != urgent {
				continue
			}
			text := "A warning sign was marked: " + flagWords(f) + ". No session is planned; please contact a doctor."
			if urgent {
				text = "A warning sign was marked: " + flagWords(f) + ". This is urgent: a doctor or emergency service today. No session is planned."
			}
			out = append(out, Reason{Rule: "red_flag." + f, Text: text, Source: source, Urgent: urgent})
		}
	}
	if c.BirthYear > 0 && on.Year()-c.BirthYear < youngest {
		out = append(out, Reason{Rule: "client.under_16", Text: "The client is under 16: this needs specialist care, and no session is planned.", Source: ownSource})
	}
	return out
}

// flagNames are warning signs that read badly by their ids.
var flagNames = map[string]string{"bladder_bowel_change": "a change of bladder or bowel", "sexual_dysfunction_new": "a new loss of sexual feeling or function",
	"progressive_leg_weakness": "a leg that gets weaker", "both_legs_symptoms": "symptoms down both legs", "saddle_numbness": "numbness where a saddle would touch",
	"night_pain_unremitting": "pain at night that nothing eases", "fever_unwell": "fever or feeling ill", "history_of_cancer_new_pain": "new pain after cancer",
	"significant_trauma": "a fall, crash or blow", "new_fracture_suspected": "a new fracture suspected", "hand_clumsiness_or_gait_change": "clumsy hands or changed walking", "pain_increasing": "pain that grows week by week",
	"breathless_at_rest": "breathless while sitting still", "calf_swollen_hot": "a calf that is swollen or hot", "sudden_worst_headache": "a sudden headache, the worst ever",
	"neck_pain_with_head_signs": "neck pain with signs of the head", "new_foot_drop": "a foot that newly drops"}

func flagWords(id string) string {
	if name, ok := flagNames[id]; ok {
		return name
	}
	return strings.ReplaceAll(id, "_", " ")
}
