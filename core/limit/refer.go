package limit

import (
	"slices"

	"restbend/core/civil"
)

// How soon somebody has to be asked.
const (
	Now        = "now"         // the emergency service
	SameDay    = "today"       // a doctor
	BeforeNext = "before_next" // before the next session
)

// RedFlag is a warning sign: the question to the client, how a sentence names it, how soon
// somebody has to look at it, and the signs with which it is an emergency.
type RedFlag struct {
	ID, Question, Name string
	When               string   // Now, SameDay or BeforeNext
	NowWith            []string // ids of other signs
}

// Urgent says whether the sign cannot wait until the next session.
func (f RedFlag) Urgent() bool { return f.When != BeforeNext }

// RedFlags are the warning signs in asking order, the urgent ones first (Finucane et al.,
// JOSPT 2020, and common practice; from memory).
var RedFlags = []RedFlag{
	{ID: "saddle_numbness", Question: "Any numbness between the legs, where a saddle would touch?",
		Name: "numbness where a saddle would touch", When: Now},
	{ID: "bladder_bowel_change", Question: "Any new trouble passing water or holding bladder or bowel?",
		Name: "a change of bladder or bowel", When: Now},
	{ID: "chest_pain_at_rest", Question: "Chest pain or tightness while resting?", Name: "chest pain at rest", When: Now},
	{ID: "breathless_at_rest", Question: "Out of breath while sitting still?", Name: "breathlessness while sitting still", When: Now},
	{ID: "stroke_signs", Question: "A drooping face, a weak arm, or speech that is suddenly hard?", Name: "signs of a stroke", When: Now},
	{ID: "sudden_worst_headache", Question: "A sudden headache, the worst ever?", Name: "a sudden headache, the worst ever", When: Now},
	{ID: "neck_pain_with_head_signs", Question: "Neck pain with double vision, faintness, or trouble swallowing or speaking?",
		Name: "neck pain with double vision, faintness or trouble swallowing", When: Now},
	{ID: "tearing_pain", Question: "A sudden tearing pain in back or belly, with faintness?",
		Name: "a tearing pain with faintness", When: Now},
	{ID: "sexual_dysfunction_new", Question: "Any new loss of sexual feeling or function?",
		Name: "a new loss of sexual feeling or function", When: SameDay, NowWith: []string{"saddle_numbness", "bladder_bowel_change"}},
	{ID: "progressive_leg_weakness", Question: "Is a leg getting weaker?", Name: "a leg that gets weaker", When: SameDay},
	{ID: "both_legs_symptoms", Question: "New or worse pain, tingling or numbness down both legs?",
		Name: "new symptoms down both legs", When: SameDay},
	{ID: "chest_pain_on_effort", Question: "Chest pain or tightness on effort?", Name: "chest pain on effort", When: SameDay},
	{ID: "calf_swollen_hot", Question: "A calf that is swollen, hot or sore to touch?", Name: "a calf that is swollen or hot",
		When: SameDay, NowWith: []string{"breathless_at_rest"}},
	{ID: "new_foot_drop", Question: "A foot that newly drops or drags?", Name: "a foot that newly drops", When: SameDay},
	{ID: "hand_clumsiness_or_gait_change", Question: "Clumsy hands, or walking that has changed?",
		Name: "clumsy hands or changed walking", When: SameDay},
	{ID: "fever_unwell", Question: "Fever, chills or feeling ill with it?", Name: "fever or feeling ill", When: SameDay},
	{ID: "wound_leaking", Question: "A wound that leaks, opens or smells?", Name: "a wound that leaks", When: SameDay},
	{ID: "limb_hot_red", Question: "An arm or leg that is hot, red and swollen?", Name: "a hot, red limb", When: SameDay},
	{ID: "new_fracture_suspected", Question: "A sudden pain as if something gave way, or a known new fracture?",
		Name: "a new fracture suspected", When: SameDay},
	{ID: "dizziness_on_effort", Question: "Dizziness or fainting on effort?", Name: "dizziness on effort", When: BeforeNext},
	{ID: "significant_trauma", Question: "A fall, crash or blow before this began?", Name: "a fall, crash or blow", When: BeforeNext},
	{ID: "history_of_cancer_new_pain", Question: "A history of cancer, and this pain is new?", Name: "new pain after cancer",
		When: BeforeNext},
	{ID: "unexplained_weight_loss", Question: "Weight lost without trying?", Name: "unexplained weight loss", When: BeforeNext},
	{ID: "infection_risk", Question: "A recent infection, or a weakened immune system?", Name: "infection risk", When: BeforeNext},
	{
		ID:       "night_pain_unremitting",
		Question: "Pain at night that nothing eases?",
		Name:     "pain at night that nothing eases",
		When:     BeforeNext,
	},
	{ID: "no_position_of_ease", Question: "Is there no position at all that eases it?", Name: "no position of ease", When: BeforeNext},
	{
		ID:       "pain_increasing",
		Question: "Is the pain growing steadily, week by week?",
		Name:     "pain that grows week by week",
		When:     BeforeNext,
	},
}

// FindRedFlag finds a warning sign by its id.
func FindRedFlag(id string) (RedFlag, bool) {
	i := slices.IndexFunc(RedFlags, func(f RedFlag) bool { return f.ID == id })
	if i < 0 {
		return RedFlag{}, false
	}
	return RedFlags[i], true
}

// youngest is the age from which this program plans for somebody.
const youngest = 16

// flagSource is where the warning signs are from.
const flagSource = "Finucane et al., JOSPT 2020, international framework for red flags (from memory)"

// OpenFlags are the warning signs that stand: those that were said to be there and that no
// clinician has cleared, and those that were said again on the day, in asking order; what
// is not known here last.
func (c Client) OpenFlags(on civil.Day) []string {
	said := slices.DeleteFunc(slices.Clone(c.RedFlags), func(id string) bool {
		return slices.ContainsFunc(c.FlagsCleared, func(k FlagCleared) bool { return k.Flag == id })
	})
	if t := c.Today; t != nil && t.On <= on.String() {
		for _, id := range t.Signs() {
			later := slices.ContainsFunc(c.FlagsCleared, func(k FlagCleared) bool { return k.Flag == id && k.On >= t.On })
			if (t.On == on.String() || !later) && !slices.Contains(said, id) {
				said = append(said, id)
			}
		}
	}
	var out []string
	for _, f := range RedFlags {
		if slices.Contains(said, f.ID) {
			out = append(out, f.ID)
		}
	}
	for _, id := range said {
		if !slices.Contains(out, id) {
			out = append(out, id)
		}
	}
	return out
}

// urgency is how soon a sign has to be looked at beside the others that stand.
func urgency(id string, open []string) string {
	f, known := FindRedFlag(id)
	switch {
	case !known:
		return SameDay
	case slices.ContainsFunc(f.NowWith, func(other string) bool { return slices.Contains(open, other) }):
		return Now
	}
	return f.When
}

// emergencies are the signs that make a very high pressure an emergency.
var emergencies = []string{"chest_pain_at_rest", "chest_pain_on_effort", "breathless_at_rest", "stroke_signs",
	"sudden_worst_headache", "neck_pain_with_head_signs", "dizziness_on_effort"}

// redFlags are the warning signs, the urgent ones first, and the age that is for
// others. Nothing takes them away but a clinician's word, which is kept.
func redFlags(c Client, on civil.Day) []Reason {
	var out []Reason
	open := c.OpenFlags(on)
	for _, id := range open {
		f, known := FindRedFlag(id)
		if !known { // which reading a client refuses
			f.Name = id + ", which is not known here"
		}
		out = append(out, Reason{Rule: "red_flag." + id,
			Text: "Warning sign: " + f.Name + ". " + whenWords[urgency(id,
				open)] + " No session is planned.", Source: flagSource, When: urgency(id, open)})
	}
	if c.BirthYear > 0 && c.age(on) < youngest {
		out = append(out, Reason{Rule: "client.under_16",
			Text: "The client is under 16: this needs specialist care, and no session is planned.", Source: ownSource, When: BeforeNext})
	}
	slices.SortStableFunc(out, func(a, b Reason) int { return soonness(a.When) - soonness(b.When) })
	return out
}

// whenWords say how soon somebody has to be asked.
var whenWords = map[string]string{Now: "This is an emergency: emergency services now.",
	SameDay: "A doctor has to see it today.", BeforeNext: "A doctor has to look at it before the next session."}

// soonness orders how soon somebody has to be asked.
func soonness(when string) int { return slices.Index([]string{Now, SameDay, BeforeNext}, when) }

// emergencyPressure says whether a pressure is an emergency: 180/120 and over, with signs
// (ESC and ESH guidelines, from memory).
func (p Pressure) emergency(open []string) bool {
	return (p.Upper >= 180 || p.Lower >= 120) &&
		slices.ContainsFunc(emergencies, func(id string) bool { return slices.Contains(open, id) })
}
