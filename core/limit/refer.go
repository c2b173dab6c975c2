package limit

import (
	"slices"

	"restbend/core/civil"
)

// RedFlag is a warning sign: the question to the client, how a sentence names it, and
// whether it needs a doctor today.
type RedFlag struct {
	ID, Question, Name string
	Urgent             bool
}

// RedFlags are the warning signs in asking order, the urgent ones first.
var RedFlags = []RedFlag{
	{"saddle_numbness", "Any numbness between the legs, where a saddle would touch?", "numbness where a saddle would touch", true},
	{"bladder_bowel_change", "Any new trouble passing water or holding bladder or bowel?", "a change of bladder or bowel", true},
	{"sexual_dysfunction_new", "Any new loss of sexual feeling or function?", "a new loss of sexual feeling or function", true},
	{"progressive_leg_weakness", "Is a leg getting weaker?", "a leg that gets weaker", true},
	{"both_legs_symptoms", "Pain, tingling or numbness down both legs?", "symptoms down both legs", true},
	{"chest_pain_on_effort", "Chest pain or tightness on effort?", "chest pain on effort", true},
	{"breathless_at_rest", "Out of breath while sitting still?", "breathlessness while sitting still", true},
	{"calf_swollen_hot", "A calf that is swollen, hot or sore to touch?", "a calf that is swollen or hot", true},
	{"sudden_worst_headache", "A sudden headache, the worst ever?", "a sudden headache, the worst ever", true},
	{"neck_pain_with_head_signs", "Neck pain with double vision, faintness, or trouble swallowing or speaking?", "neck pain with double vision, faintness or trouble swallowing", true},
	{"new_foot_drop", "A foot that newly drops or drags?", "a foot that newly drops", true},
	{"dizziness_on_effort", "Dizziness or fainting on effort?", "dizziness on effort", false},
	{"significant_trauma", "A fall, crash or blow before this began?", "a fall, crash or blow", false},
	{"new_fracture_suspected", "A sudden pain as if something gave way, or a known new fracture?", "a new fracture suspected", false},
	{"history_of_cancer_new_pain", "A history of cancer, and this pain is new?", "new pain after cancer", false},
	{"unexplained_weight_loss", "Weight lost without trying?", "unexplained weight loss", false},
	{"fever_unwell", "Fever, chills or feeling ill with it?", "fever or feeling ill", false},
	{"infection_risk", "A recent infection, or a weakened immune system?", "infection risk", false},
	{"night_pain_unremitting", "Pain at night that nothing eases?", "pain at night that nothing eases", false},
	{"no_position_of_ease", "Is there no position at all that eases it?", "no position of ease", false},
	{"pain_increasing", "Is the pain growing steadily, week by week?", "pain that grows week by week", false},
	{"hand_clumsiness_or_gait_change", "Clumsy hands, or walking that has changed?", "clumsy hands or changed walking", false},
}

// youngest is the age from which this program plans for somebody.
const youngest = 16

// redFlags are the warning signs, the urgent ones first, and the age that is for
// others. Nothing takes them away but an answer that they are gone.
func redFlags(c Client, on civil.Day) []Reason {
	const source = "Finucane et al., JOSPT 2020, international framework for red flags (from memory)"
	var out []Reason
	for _, f := range RedFlags {
		if !slices.Contains(c.RedFlags, f.ID) {
			continue
		}
		text := "A warning sign was marked: " + f.Name + ". No session is planned; please contact a doctor."
		if f.Urgent {
			text = "A warning sign was marked: " + f.Name + ". This is urgent: a doctor or emergency service today. No session is planned."
		}
		out = append(out, Reason{Rule: "red_flag." + f.ID, Text: text, Source: source, Urgent: f.Urgent})
	}
	for _, id := range c.RedFlags { // which reading a client refuses
		if !slices.ContainsFunc(RedFlags, func(f RedFlag) bool { return f.ID == id }) {
			out = append(out, Reason{Rule: "red_flag." + id, Text: "A warning sign was marked that is not known here: " + id + ". No session is planned; please contact a doctor.", Source: source})
		}
	}
	if c.BirthYear > 0 && c.age(on) < youngest {
		out = append(out, Reason{Rule: "client.under_16", Text: "The client is under 16: this needs specialist care, and no session is planned.", Source: ownSource})
	}
	return out
}
