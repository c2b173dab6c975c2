package readiness

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// Rules are the data that days are decided by.
type Rules struct {
	Conditions limit.Conditions `yaml:"-"`
	Gentle     GentleRules      `yaml:"gentle"`
	Parts      []PartRule       `yaml:"parts"`
	Phrases    []Phrase         `yaml:"phrases"`
	Plain      []string         `yaml:"plain"` // words that say nothing to worry about
	Answers    AnswersToWords   `yaml:"answers"`
	// Emergency is the number of the emergency service, as the studio has set it.
	Emergency string `yaml:"-"`

	plain []pattern
}

// GentleRules are the limits of a gentle day.
type GentleRules struct {
	Limits     []limit.RuleLimit `yaml:"limits"`
	Demand     float64           `yaml:"demand"`
	SoreDemand float64           `yaml:"sore_demand"` // where pain makes the day gentle
	Reason     string            `yaml:"reason"`
	Source     string            `yaml:"source"`
}

// Kinds of parts of the body.
const (
	Limb  = "limb"  // its work is barred and the rest goes on
	Back  = "back"  // the whole session follows
	Alarm = "alarm" // pain there is a matter for a doctor
)

// PartRule is what loads a part of the body.
type PartRule struct {
	Where  string            `yaml:"where"`
	Kind   string            `yaml:"kind"`
	Limits []limit.RuleLimit `yaml:"limits"`
}

// Check refuses rules that name what does not exist or leave a part of the body out; the
// error names the row.
func (r *Rules) Check() error {
	check := func(at string, all []limit.RuleLimit) error {
		if len(all) == 0 {
			return fmt.Errorf("%s: at least one limit is needed", at)
		}
		for i, l := range all {
			if err := l.Check(); err != nil {
				return fmt.Errorf("%s.limits[%d].%w", at, i, err)
			}
		}
		return nil
	}
	if err := check("gentle", r.Gentle.Limits); err != nil {
		return err
	}
	if g := r.Gentle; g.Reason == "" || g.Source == "" || !(g.Demand > 0) || !(g.SoreDemand > 0) || g.SoreDemand > g.Demand {
		return fmt.Errorf("gentle: reason, source, demand and a lower sore_demand are all needed")
	}
	seen := map[string]bool{}
	for i, p := range r.Parts {
		at := fmt.Sprintf("parts[%d]", i)
		switch {
		case !slices.Contains(exercise.ComplaintPlaces, p.Where):
			return fmt.Errorf("%s.where: %q is not one of %v", at, p.Where, exercise.ComplaintPlaces)
		case seen[p.Where]:
			return fmt.Errorf("%s.where: %s stands twice", at, p.Where)
		case !slices.Contains([]string{Limb, Back, Alarm}, p.Kind):
			return fmt.Errorf("%s.kind: %q; expected %s, %s or %s", at, p.Kind, Limb, Back, Alarm)
		}
		seen[p.Where] = true
		if err := check(at, p.Limits); err != nil {
			return err
		}
	}
	for _, where := range exercise.ComplaintPlaces {
		if !seen[where] {
			return fmt.Errorf("parts: %s is missing", where)
		}
	}
	return r.compile()
}

// compile makes the phrases ready to be looked for.
func (r *Rules) compile() error {
	ids := map[string]bool{}
	for i := range r.Phrases {
		p := &r.Phrases[i]
		at := fmt.Sprintf("phrases[%d]", i)
		switch {
		case p.ID == "" || ids[p.ID]:
			return fmt.Errorf("%s.id: %q is empty or taken", at, p.ID)
		case p.Question == "" || len(p.Say) == 0:
			return fmt.Errorf("%s: question and say are both needed", at)
		case p.Holds != "yes" && p.Holds != "no":
			return fmt.Errorf("%s.holds: %q; expected yes or no, the answer that refers", at, p.Holds)
		}
		if p.Sign != "" {
			if _, known := limit.FindRedFlag(p.Sign); !known {
				return fmt.Errorf("%s.sign: %q is not a warning sign", at, p.Sign)
			}
		}
		ids[p.ID] = true
		p.find = nil
		for _, say := range p.Say {
			x, err := readPattern(say)
			if err != nil {
				return fmt.Errorf("%s.say: %q: %w", at, say, err)
			}
			p.find = append(p.find, x)
		}
	}
	if len(r.Answers.Yes) == 0 || len(r.Answers.No) == 0 {
		return fmt.Errorf("answers: words of yes and of no are both needed")
	}
	r.plain = nil
	for _, word := range r.Plain {
		x, err := readPattern(word)
		if err != nil {
			return fmt.Errorf("plain: %q: %w", word, err)
		}
		r.plain = append(r.plain, x)
	}
	return nil
}

// readPattern is a phrase to be looked for: its words in order, a star for any ending of a word
// and a tilde for up to four words between.
func readPattern(say string) (pattern, error) {
	var out strings.Builder
	longest := ""
	out.WriteString(`(?:^| )`)
	for i, word := range strings.Fields(say) {
		if word == "~" {
			out.WriteString(`(?: \S+){0,4}`)
			continue
		}
		if i > 0 {
			out.WriteString(" ")
		}
		stem, any := strings.CutSuffix(word, "*")
		if len(stem) > len(longest) {
			longest = stem
		}
		out.WriteString(regexp.QuoteMeta(stem))
		if any {
			out.WriteString(`\w*`)
		}
	}
	out.WriteString(`(?: |$)`)
	x, err := regexp.Compile(out.String())
	return pattern{longest, x}, err
}

// part is the rule of a place; nil for none.
func (r *Rules) part(where string) *PartRule {
	for i := range r.Parts {
		if r.Parts[i].Where == where {
			return &r.Parts[i]
		}
	}
	return nil
}

// limb says whether a place is one of a limb. What is not known is not.
func (r *Rules) limb(where string) bool {
	p := r.part(where)
	return p != nil && p.Kind == Limb
}
