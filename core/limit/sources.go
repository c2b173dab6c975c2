package limit

import (
	"fmt"
	"slices"
	"strings"

	"restbend/core/civil"
	"restbend/core/exercise"
)

// The sources of limits: each looks at the client and gives rows, and knows of no
// other. What becomes of them all is for merge to say.

var sizeAssumed = fmt.Sprintf(
	"Height or mass was not given: %d cm and %d kg are used where they are missing.",
	DefaultHeightCM,
	DefaultMassKG,
)

// spoken is what the conditions have to say about a client: the rules that hold, each with the
// condition and the facts that it holds for.
type spoken struct {
	rules   []spokenRule
	cleared []Clearance
	assumed []string
}

type spokenRule struct {
	Rule
	condition Condition
	facts     map[string]string
	loosened  bool // somebody has cleared it
	weeks     float64
	dated     bool // weeks are known
	ends      [2]float64
}

// speaking finds the rules that hold for a client. Of a condition that it
// does not know, which reading a client refuses, it can say nothing but that nobody is
// to be planned for.
func (b Conditions) speaking(c Client, on civil.Day) spoken {
	var out spoken
	for _, i := range implied(c, on) {
		if b.Condition(i.ID) != nil {
			c.Conditions = append(slices.Clone(c.Conditions), i.Condition)
			out.assumed = append(out.assumed, i.because)
		}
	}
	for _, k := range c.Conditions {
		d := b.Condition(k.ID)
		if d == nil {
			out.rules = append(out.rules, spokenRule{Rule: Rule{ID: k.ID + ".unknown", Refer: true, Source: ownSource,
				Reason: "The condition " + k.ID + " is not known here: please ask somebody who knows it. No session is planned."}})
			continue
		}
		facts, assumed := d.FactsOf(k, c, on)
		if d.Becomes != nil && allSo(d.Becomes.If, facts) {
			out.assumed = append(out.assumed, d.Becomes.Says)
			d = b.Condition(d.Becomes.Condition)
			facts, assumed = d.FactsOf(k, c, on)
		}
		out.assumed = append(out.assumed, assumed...)
		for _, r := range d.Rules {
			if !r.Holds(facts) {
				continue
			}
			said := spokenRule{Rule: r, condition: k, facts: facts}
			if said.weeks, said.dated = d.weeks(k, on); d.Operation != nil {
				said.ends = d.Operation.Phases
			}
			if i := slices.IndexFunc(c.Clearances, func(x Clearance) bool { return x.Rule == r.ID }); i >= 0 && !r.Refer {
				said.loosened = true
				out.cleared = append(out.cleared, c.Clearances[i])
			}
			out.rules = append(out.rules, said)
		}
	}
	return out
}

func (r spokenRule) because() Reason {
	return Reason{Rule: r.ID, Text: fillIn(r.Reason, r.facts), Source: r.Source, When: r.When}
}

// refers are the reasons against any session.
func (s spoken) refers() []Reason {
	var out []Reason
	for _, r := range s.rules {
		if !r.Refer {
			continue
		}
		why := r.because()
		if why.When == "" {
			why.When = BeforeNext
		}
		out = append(out, why)
	}
	return out
}

// limits are the rows that the rules set, but of those that somebody has cleared.
func (s spoken) limits(body size) []Limit {
	var out []Limit
	for _, r := range s.rules {
		if r.loosened {
			continue
		}
		for _, l := range r.Limits {
			if l.Weeks != nil {
				figure, holds := l.Weeks.at(r.weeks, r.dated, r.ends)
				if !holds {
					continue
				}
				figure = round(figure, 3)
				l.Max, l.Weeks = &figure, nil
			}
			if l.Segments {
				figure := freeRange(l.Quantity, r.condition.Word("levels"), *l.Max)
				l.Max = &figure
			}
			for _, quantity := range l.names(r.condition, r.facts) {
				row := body.row(quantity, l.when(), l.written(), r.because())
				row.With, row.Needs, row.Bar = l.With, l.Needs, r.Bar
				row.Protects = l.Protects
				out = append(out, row)
			}
		}
	}
	return out
}

// written is the limit as it stands in the rule.
func (l RuleLimit) written() any {
	switch {
	case l.Max != nil:
		return *l.Max
	case l.Weeks != nil: // a surgeon's first word
		return l.Weeks.First
	case l.Word != "":
		return l.Word
	}
	return false
}

// names are the quantities that a limit speaks of, with their sides.
func (l RuleLimit) names(k Condition, facts map[string]string) []string {
	if strings.Contains(l.Quantity, "{") { // a side that a curve decides
		return []string{fillIn(l.Quantity, facts)}
	}
	if !l.Sided {
		return []string{l.Quantity}
	}
	if side := k.Word("side"); side == "left" || side == "right" {
		return []string{l.Quantity + "_" + side}
	}
	return []string{l.Quantity + "_left", l.Quantity + "_right"}
}

// session are the caps that the rules set on a whole session.
func (s spoken) session() caps {
	var out caps
	for _, r := range s.rules {
		for _, k := range r.Session {
			if !r.loosened {
				out = append(out, SessionCap{k.Count, k.Max, []Reason{r.because()}})
			}
		}
	}
	return out
}

// wants are the purposes that the conditions ask for; no clearance takes them away.
func (s spoken) wants() []Need {
	var out []Need
	for _, r := range s.rules {
		for _, p := range r.Wants {
			out = append(out, Need{p, r.because().Text})
		}
	}
	return out
}

// asks says whether a rule asks for a way of working.
func (s spoken) asks(manner string) bool {
	return slices.ContainsFunc(s.rules, func(r spokenRule) bool { return slices.Contains(r.Manner, manner) && !r.loosened })
}

// tolerated bars what the client does not bear, and where nobody has asked yet what nobody
// knows of.
func tolerated(c Client, body size) []Limit {
	var out []Limit
	unasked := c.Screened != nil && !*c.Screened
	bar := func(bears *bool, quantity string, most any, text string) {
		if bears == nil && unasked {
			text = "Nobody has asked yet: " + strings.ToLower(text[:1]) + text[1:]
		}
		if bears != nil && !*bears || bears == nil && unasked {
			row := body.row(
				quantity,
				exercise.WhenAny,
				most,
				Reason{Rule: "tolerates." + quantity, Text: text, Source: "the client's own word"},
			)
			row.Bar = true
			out = append(out, row)
		}
	}
	if c.Place != "bed" && c.Place != "table" {
		bar(c.Tolerates.Floor, "floor_transfer", false, "Getting down to the floor and up again is not for this client.")
	}
	bar(c.Tolerates.Kneeling, "kneeling", false, "Kneeling is not comfortable for this client.")
	bar(c.Tolerates.Prone, "prone", false, "Lying face down is not comfortable for this client.")
	bar(c.Tolerates.SupineFlat, "supine_flat", false, "Lying flat is not comfortable for this client.")
	bar(c.Tolerates.WristLoad, "wrist_load", 0.05, "Weight on the wrists is not comfortable for this client.")
	return out
}

// endShare is how much of a measured range is worked in: short of its end.
const endShare = 0.9

// measuredRanges are the measures of a range with the directions that they cap.
var measuredRanges = []struct{ measure, quantity string }{
	{
		"lumbar_flexion_deg",
		"lumbar_flexion",
	},
	{"lumbar_extension_deg", "lumbar_extension"},
	{"thoracic_rotation_deg", "thoracic_rotation"},
	{"straight_leg_raise_deg", "straight_leg_raise"},
}

// measured caps a direction at nine tenths of what was measured last on each side.
func measured(c Client, body size) []Limit {
	var out []Limit
	for _, r := range measuredRanges {
		q, _ := exercise.Split(r.quantity)
		for i, m := range c.Measures {
			later := func(o Measure) bool { return o.ID == m.ID && o.Side == m.Side }
			if m.ID != r.measure || slices.ContainsFunc(c.Measures[i+1:], later) {
				continue
			}
			because := Reason{
				Rule:   "measure." + m.ID,
				Text:   fmt.Sprintf("Measured at %g°: work stays short of the end, at nine tenths.", m.Value),
				Source: ownSource,
			}
			for _, name := range sidesOf(q, m.Side) {
				out = append(out, body.row(name, exercise.WhenAny, round(endShare*m.Value, 1), because))
			}
		}
	}
	return out
}

// sidesOf names a quantity on the given side, or on both of its sides when none is
// given.
func sidesOf(q *exercise.Quantity, side string) []string {
	switch {
	case !q.Sided:
		return []string{q.ID}
	case side == "left" || side == "right":
		return []string{q.ID + "_" + side}
	}
	return []string{q.ID + "_left", q.ID + "_right"}
}

// irritability is how sore the client is today: by pain now, and by how long pain
// takes to settle.
func irritability(c Client) Irritability {
	now, level := 0, Calm
	if c.Pain.Now != nil {
		now = *c.Pain.Now
	}
	switch {
	case now >= flaredPain:
		level = Flared
	case c.UsualPain != nil && now <= *c.UsualPain+usualMargin: // no more than most days
	case now >= sorePain:
		level = Irritable
	}
	if c.Pain.SettlesHours != nil && *c.Pain.SettlesHours > slowToSettle && level < Flared {
		level++
	}
	if c.Pain.Worst24h != nil && *c.Pain.Worst24h >= worstPain && level < Flared {
		level++
	}
	return level
}

// sore bars loaded work while pain is high.
func sore(level Irritability, body size) []Limit {
	if level < Flared {
		return nil
	}
	row := body.row("loaded", exercise.WhenAny, false, Reason{Rule: "pain.flared", Source: painSource,
		Text: "Pain today is high or slow to settle: quiet breath and easy, unloaded movement only, and a word with the clinician."})
	row.Bar = true
	return []Limit{row}
}

// instructed are the figures of the client's own clinicians. They tighten at once; one
// that is looser than what holds anyway changes nothing (see tooLoose).
func instructed(c Client, body size) []Limit {
	var out []Limit
	for _, in := range c.Instructions {
		because := Reason{Rule: "instruction." + in.Quantity, Source: "the client's own clinician",
			Text: strings.TrimSpace(fmt.Sprintf("Instruction of %s, %s.", in.author(), in.On))}
		q, side := exercise.Split(in.Quantity)
		if q == nil {
			out = append(out, body.row(in.Quantity, exercise.WhenAny, in.Max, because))
			continue
		}
		most := in.Max
		if q.Unit == exercise.Moment { // written in N·m
			most /= body.newtonMetres(1)
		}
		names := []string{in.Quantity}
		if q.Moments {
			names = sidesOf(q, side)
		}
		for _, name := range names {
			out = append(out, body.row(name, exercise.WhenAny, most, because))
		}
	}
	return out
}

func (in Instruction) author() string {
	if in.By == "" {
		return "the clinician"
	}
	return in.By
}

// tooLoose says of each instruction that a stricter row holds all the same.
func (s Limits) tooLoose(c Client) []string {
	var out []string
	for _, in := range c.Instructions {
		rule := "instruction." + in.Quantity
		for _, l := range s.rows {
			most, number := l.Number()
			named := slices.ContainsFunc(l.Reasons, func(r Reason) bool { return r.Rule == rule })
			if number && named && most < in.Max-slack {
				out = append(out,
					fmt.Sprintf(
						"The instruction of %s allows more (%g) than the usual caution (%g), which stays. To loosen it, enter a "+
							"clearance of the rule.",
						in.author(),
						in.Max,
						most,
					),
				)
				break
			}
		}
	}
	return out
}
