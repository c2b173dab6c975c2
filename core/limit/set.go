package limit

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"restbend/core/exercise"
)

// Reason is why a limit or a verdict is as it is.
type Reason struct {
	Rule     string `json:"rule"`
	Text     string `json:"text"`
	Quantity string `json:"quantity,omitempty"`
	Value    any    `json:"value,omitempty"`
	Limit    any    `json:"limit,omitempty"`
	Source   string `json:"source"`
	Urgent   bool   `json:"urgent,omitempty"`
}

// Limit is one row: what holds for one quantity, the strictest of all rules,
// with every rule's reason.
type Limit struct {
	Quantity string   `json:"quantity"`
	Max      any      `json:"max,omitempty"` // a number, or the most for an ordered word
	Allowed  *bool    `json:"allowed,omitempty"`
	When     string   `json:"when"`
	With     *With    `json:"with,omitempty"`
	Needs    []string `json:"needs,omitempty"` // adaptations, any of which makes the row harmless
	Reasons  []Reason `json:"reasons"`
	// Bar tells a shut direction from a cap, for drawings and sentences.
	Bar   bool    `json:"bar"`
	share float64 // of body weight × height, for lumbar_moment
}

// Number is the limit's figure; ok is false for flags and words.
func (l Limit) Number() (float64, bool) {
	v, ok := l.Max.(float64)
	return v, ok
}

// Risk is the result of comparing what was measured with a published figure.
type Risk struct {
	ID      string `json:"id"`
	Level   string `json:"level"` // usual or raised
	Because string `json:"because"`
	Source  string `json:"source"`
}

// Need is a purpose the client wants trained, and why.
type Need struct {
	Purpose exercise.Purpose `json:"purpose"`
	Because string           `json:"because"`
}

// Status of an answer.
const (
	OK    = "ok"
	Refer = "refer"
)

// Irritability is how much a session may ask today, from pain now and how long
// it takes to settle.
type Irritability int

const (
	Calm      Irritability = iota // full dose
	Irritable                     // shorter, no new rungs
	Flared                        // settle, breath and unloaded mobility only
)

// Set is everything that limits one client today.
type Set struct {
	Status       string
	Refer        []Reason // why there is no plan, most urgent first
	Limits       []Limit
	Risks        []Risk
	Needs        []Need
	Defaults     []string // sentences on what was assumed where nothing was said
	Cleared      []Clearance
	Irritability Irritability
	FirstRungs   bool // only the first rungs of ladders
	EvenRest     bool // rest as long as the work before it
	Slow         bool // takes longer over getting down, up and about
	Uneven       []Uneven
	Session      []SessionCap // what a whole session may hold
	Conflicts    []string     // where conditions pull in opposite directions
	HeightCM     float64
	MassKG       float64
}

const (
	painSource = "Thomeé, Phys Ther 1997, pain monitoring (from memory)"
	ownSource  = "common practice"
)

// For works out the client's limits on a date.
func For(c Client, rules Rules, on time.Time) Set {
	s := Set{Status: OK}
	s.HeightCM, s.MassKG = c.Size()
	s.assume(c)
	s.refer(c, on)
	for _, condition := range c.Conditions {
		if condition.ID == "osteopenia" && condition.TScore != nil && *condition.TScore <= -2.5 {
			s.Defaults = append(s.Defaults, "A T-score of −2.5 or less is treated as osteoporosis, though low bone mass was entered.")
			condition.ID = "osteoporosis"
		}
		details, assumed := condition.details(c)
		if condition.ID == "deconditioned" {
			s.FirstRungs, s.EvenRest = true, true
		}
		s.Defaults = append(s.Defaults, assumed...)
		if condition.TScore != nil {
			s.boneClass(*condition.TScore)
		}
		for _, r := range rules {
			if r.Condition != condition.ID || !r.holds(details) {
				continue
			}
			// A clinician's clearance loosens this rule for this client only; it
			// is kept and shown. Red flags are no rules and stay.
			if i := slices.IndexFunc(c.Clearances, func(k Clearance) bool { return k.Rule == r.ID }); i >= 0 {
				s.Cleared = append(s.Cleared, c.Clearances[i])
				continue
			}
			s.apply(r, condition, details)
		}
	}
	s.tolerance(c)
	s.measured(c)
	s.pain(c)
	s.everySession()
	s.instructed(c)
	s.heightLoss(c)
	s.risks(c, on)
	s.conflicts(c)
	s.screened(c)
	s.daily(c)
	for _, g := range c.Goals {
		s.Needs = append(s.Needs, Need{g, "a goal of the client"})
	}
	slices.SortStableFunc(s.Limits, func(a, b Limit) int { return strings.Compare(a.Quantity+a.When, b.Quantity+b.When) })
	return s
}

// assume names the defaults used for the client as a whole.
func (s *Set) assume(c Client) {
	if c.HeightCM == 0 || c.MassKG == 0 {
		s.Defaults = append(s.Defaults, fmt.Sprintf("Height or mass was not given: %d cm and %d kg are used where they are missing.", DefaultHeightCM, DefaultMassKG))
	}
	if c.Pain.Now == nil {
		s.Defaults = append(s.Defaults, "Pain now was not given: 0 is used.")
	}
	if !slices.ContainsFunc(c.Measures, func(m Measure) bool { return m.ID == "breath_seconds" }) {
		s.Defaults = append(s.Defaults, "The breath was not measured: 5 seconds are used.")
	}
}

// urgentFlags need a doctor today.
var urgentFlags = []string{"saddle_numbness", "bladder_bowel_change", "sexual_dysfunction_new", "progressive_leg_weakness", "both_legs_symptoms", "chest_pain_on_effort"}

// RedFlags are the warning signs as questions to the client, in asking order.
var RedFlags = []struct{ ID, Question string }{
	{"saddle_numbness", "Any numbness between the legs, where a saddle would touch?"},
	{"bladder_bowel_change", "Any new trouble passing water or holding bladder or bowel?"},
	{"sexual_dysfunction_new", "Any new loss of sexual feeling or function?"},
	{"progressive_leg_weakness", "Is a leg getting weaker?"},
	{"both_legs_symptoms", "Pain, tingling or numbness down both legs?"},
	{"chest_pain_on_effort", "Chest pain or tightness on effort?"},
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

func (s *Set) refer(c Client, on time.Time) {
	const source = "Finucane et al., JOSPT 2020, international framework for red flags (from memory)"
	for _, urgent := range []bool{true, false} {
		for _, f := range c.RedFlags {
			if slices.Contains(urgentFlags, f) != urgent {
				continue
			}
			text := "A warning sign was marked: " + flagWords(f) + ". No session is planned; please contact a doctor."
			if urgent {
				text = "A warning sign was marked: " + flagWords(f) + ". This is urgent: a doctor or emergency service today. No session is planned."
			}
			s.Refer = append(s.Refer, Reason{Rule: "red_flag." + f, Text: text, Source: source, Urgent: urgent})
		}
	}
	if c.BirthYear > 0 && on.Year()-c.BirthYear < 16 {
		s.Refer = append(s.Refer, Reason{Rule: "client.under_16", Text: "The client is under 16: this needs specialist care, and no session is planned.", Source: ownSource})
	}
	for _, k := range c.Conditions {
		s.referCondition(k, c)
	}
	if len(s.Refer) > 0 {
		s.Status = Refer
	}
}

// referCondition adds what in a condition itself stands against a session.
func (s *Set) referCondition(k Condition, c Client) {
	refer := func(rule, text string) {
		s.Refer = append(s.Refer, Reason{Rule: rule, Text: text, Source: ownSource})
	}
	switch k.ID {
	case "pregnant":
		refer("pregnant.scope", "Pregnancy is outside what this program plans for: please work with somebody trained in it.")
	case "spinal_fusion":
		switch {
		case k.Cleared == nil || !*k.Cleared:
			refer("spinal_fusion.clearance", "The fusion is not cleared for exercise: the surgeon's or physiotherapist's word comes first. No session is planned.")
		case k.months() < twelveWeeks:
			refer("spinal_fusion.weeks", "The fusion is less than twelve weeks old: no session is planned; the surgeon's own programme holds.")
		}
	case "raised_blood_pressure":
		for _, reading := range []string{k.Reading, c.RestingPressure} {
			var upper, lower int
			if n, _ := fmt.Sscanf(reading, "%d/%d", &upper, &lower); n == 2 && (upper >= 180 || lower >= 110) {
				refer("raised_blood_pressure.today", fmt.Sprintf("The resting blood pressure of %s is too high for a session today: please contact the doctor.", reading))
				return
			}
		}
	}
}

// twelveWeeks in months.
const twelveWeeks = 2.76

// flagNames are warning signs that read badly by their ids.
var flagNames = map[string]string{"bladder_bowel_change": "a change of bladder or bowel", "sexual_dysfunction_new": "a new loss of sexual feeling or function",
	"progressive_leg_weakness": "a leg that gets weaker", "both_legs_symptoms": "symptoms down both legs", "saddle_numbness": "numbness where a saddle would touch",
	"night_pain_unremitting": "pain at night that nothing eases", "fever_unwell": "fever or feeling ill", "history_of_cancer_new_pain": "new pain after cancer",
	"significant_trauma": "a fall, crash or blow", "new_fracture_suspected": "a new fracture suspected", "hand_clumsiness_or_gait_change": "clumsy hands or changed walking", "pain_increasing": "pain that grows week by week"}

func flagWords(id string) string {
	if name, ok := flagNames[id]; ok {
		return name
	}
	return strings.ReplaceAll(id, "_", " ")
}

// boneClass reports the class of a T-score.
func (s *Set) boneClass(t float64) {
	level, word := "usual", "in the ordinary class"
	switch {
	case t <= -2.5:
		level, word = "raised", "in the class of osteoporosis (−2.5 or less)"
	case t < -1:
		level, word = "raised", "in the class of low bone mass (below −1)"
	}
	s.Risks = append(s.Risks, Risk{"bone_density", level, fmt.Sprintf("A T-score of %s is %s.", signed(t), word), "WHO 1994 (from memory)"})
}

func signed(v float64) string { return strings.Replace(fmt.Sprintf("%g", v), "-", "−", 1) }

// heightLoss reports height lost since the tallest.
func (s *Set) heightLoss(c Client) {
	if c.TallestHeightCM == 0 || c.HeightCM == 0 {
		return
	}
	lost := c.TallestHeightCM - c.HeightCM
	if lost >= 4 {
		s.Risks = append(s.Risks, Risk{"height_loss", "raised",
			fmt.Sprintf("%g cm shorter than at the tallest: ask the doctor to look at the spine.", lost), ownSource})
	}
}

// apply adds what a rule sets.
func (s *Set) apply(r Rule, condition Condition, details map[string]string) {
	for _, p := range r.Wants {
		s.Needs = append(s.Needs, Need{p, r.Reason})
	}
	for _, k := range r.Session {
		s.capped(k.Count, k.Max, Reason{Rule: r.ID, Text: r.Reason, Source: r.Source})
	}
	for _, l := range r.Limits {
		for _, quantity := range sidedNames(l, condition.Side, details) {
			row := Limit{Quantity: quantity, When: l.When, With: l.With, Bar: r.Bar, Needs: l.Needs}
			if row.When == "" {
				row.When = "any"
			}
			reason := Reason{Rule: r.ID, Text: r.Reason, Source: r.Source}
			switch {
			case l.Max != nil && quantity == "lumbar_moment":
				row.share = *l.Max
				row.Max = round(exercise.NewtonMetres(*l.Max, s.HeightCM, s.MassKG), 1)
			case l.Max != nil:
				row.Max = *l.Max
			case l.Word != "":
				row.Max = l.Word
			default:
				allowed := false
				row.Allowed = &allowed
			}
			row.Reasons = []Reason{reason}
			s.add(row)
		}
	}
}

func sidedNames(l RuleLimit, side string, details map[string]string) []string {
	if before, rest, ok := strings.Cut(l.Quantity, "{"); ok { // a side that the curve decides
		name, after, _ := strings.Cut(rest, "}")
		return []string{before + details[name] + after}
	}
	if !l.Sided {
		return []string{l.Quantity}
	}
	if side == "left" || side == "right" {
		return []string{l.Quantity + "_" + side}
	}
	return []string{l.Quantity + "_left", l.Quantity + "_right"}
}

// add merges a limit into the set: the strictest figure wins and all reasons
// are kept.
func (s *Set) add(n Limit) {
	for i := range s.Limits {
		l := &s.Limits[i]
		if l.Quantity != n.Quantity || l.When != n.When || (l.With == nil) != (n.With == nil) || l.With != nil && *l.With != *n.With || !slices.Equal(l.Needs, n.Needs) {
			continue
		}
		l.Reasons = append(l.Reasons, n.Reasons...)
		l.Bar = l.Bar || n.Bar
		if stricter(n, *l) {
			l.Max, l.share = n.Max, n.share
		}
		return
	}
	s.Limits = append(s.Limits, n)
}

func stricter(a, b Limit) bool {
	x, ok := a.Number()
	y, ok2 := b.Number()
	if ok && ok2 {
		return x < y
	}
	v, ok := a.Max.(string)
	w, ok2 := b.Max.(string)
	words := wordsOf(a.Quantity)
	return ok && ok2 && slices.Index(words, v) < slices.Index(words, w)
}

func (s *Set) tolerance(c Client) {
	bar := func(bears *bool, quantity, text string) {
		if bears != nil && !*bears {
			no := false
			s.add(Limit{Quantity: quantity, When: "any", Allowed: &no, Bar: true,
				Reasons: []Reason{{Rule: "tolerates." + quantity, Text: text, Source: "the client's own word"}}})
		}
	}
	if c.Place != "bed" && c.Place != "table" {
		bar(c.Tolerates.Floor, "floor_transfer", "Getting down to the floor and up again is not for this client.")
	}
	bar(c.Tolerates.Kneeling, "kneeling", "Kneeling is not comfortable for this client.")
	bar(c.Tolerates.Prone, "prone", "Lying face down is not comfortable for this client.")
	bar(c.Tolerates.SupineFlat, "supine_flat", "Lying flat is not comfortable for this client.")
	if c.Tolerates.WristLoad != nil && !*c.Tolerates.WristLoad {
		s.add(Limit{Quantity: "wrist_load", When: "any", Max: 0.05, Bar: true,
			Reasons: []Reason{{Rule: "tolerates.wrist_load", Text: "Weight on the wrists is not comfortable for this client.", Source: "the client's own word"}}})
	}
}

// measured caps a direction at nine tenths of what was measured.
func (s *Set) measured(c Client) {
	for i, m := range c.Measures {
		if m.ID != "lumbar_flexion_deg" && m.ID != "lumbar_extension_deg" && m.ID != "thoracic_rotation_deg" {
			continue
		}
		if slices.ContainsFunc(c.Measures[i+1:], func(later Measure) bool { return later.ID == m.ID && later.Side == m.Side }) {
			continue // measured again since
		}
		quantities := []string{strings.TrimSuffix(m.ID, "_deg")}
		if m.ID == "thoracic_rotation_deg" {
			quantities = []string{"thoracic_rotation_left", "thoracic_rotation_right"}
			if m.Side == "left" || m.Side == "right" {
				quantities = []string{"thoracic_rotation_" + m.Side}
			}
		}
		for _, q := range quantities {
			s.add(Limit{Quantity: q, When: "any", Max: round(0.9*m.Value, 1), Reasons: []Reason{{Rule: "measure." + m.ID,
				Text: fmt.Sprintf("Measured at %g°: work stays short of the end, at nine tenths.", m.Value), Source: ownSource}}})
		}
	}
}

func (s *Set) pain(c Client) {
	now := 0
	if c.Pain.Now != nil {
		now = *c.Pain.Now
	}
	switch {
	case now > 5:
		s.Irritability = Flared
	case now >= 3:
		s.Irritability = Irritable
	}
	if c.Pain.SettlesHours != nil && *c.Pain.SettlesHours > 24 && s.Irritability < Flared {
		s.Irritability++
	}
	if s.Irritability == Flared {
		no := false
		s.add(Limit{Quantity: "loaded", When: "any", Allowed: &no, Bar: true, Reasons: []Reason{{Rule: "pain.flared",
			Text: "Pain today is high or slow to settle: quiet breath and easy, unloaded movement only, and a word with the clinician.", Source: painSource}}})
	}
}

// instructed lets a clinician's own figure override the defaults, either way.
func (s *Set) instructed(c Client) {
	for _, in := range c.Instructions {
		s.Limits = slices.DeleteFunc(s.Limits, func(l Limit) bool { return l.Quantity == in.Quantity && l.With == nil })
		by := in.By
		if by == "" {
			by = "the clinician"
		}
		l := Limit{Quantity: in.Quantity, When: "any", Max: in.Max, Reasons: []Reason{{Rule: "instruction." + in.Quantity,
			Text: strings.TrimSpace(fmt.Sprintf("Instruction of %s, %s.", by, in.On)), Source: "the client's own clinician"}}}
		if in.Quantity == "lumbar_moment" {
			l.share = in.Max / exercise.NewtonMetres(1, s.HeightCM, s.MassKG)
		}
		s.Limits = append(s.Limits, l)
	}
}

func round(v float64, digits int) float64 {
	p := math.Pow(10, float64(digits))
	return math.Round(v*p) / p
}
