package limit

import (
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strings"

	"restbend/core/exercise"
)

// Conditions is every condition with its rules, in the order they are asked about.
type Conditions []Description

// Rule says what follows from one condition.
type Rule struct {
	ID      string              `yaml:"id"`               // condition.subject
	If      map[string][]string `yaml:"if,omitempty"`     // every fact must be one of the words
	Unless  map[string][]string `yaml:"unless,omitempty"` // and none of these facts one of its words
	Limits  []RuleLimit         `yaml:"limits,omitempty"`
	Session []SessionCap        `yaml:"session,omitempty"` // of a whole session
	Wants   []exercise.Purpose  `yaml:"wants,omitempty"`
	Manner  []string            `yaml:"manner,omitempty"` // of Manners
	Refer   bool                `yaml:"refer,omitempty"`  // no session; no clearance takes it away
	// how soon somebody has to be asked, of one that refers: before the next session where nothing is said
	When   string `yaml:"when,omitempty"`
	Reason string `yaml:"reason"` // a sentence; facts may stand in it in braces
	Source string `yaml:"source"`
	Bar    bool   `yaml:"bar,omitempty"` // the direction is shut: the figure is for a body that is never perfectly still
}

// Manners are ways of working that a rule may ask for.
var Manners = []string{"first_rungs", "even_rest"}

// RuleLimit is one limit a rule sets.
type RuleLimit struct {
	// Quantity may hold a fact of left and right in braces, for a side that a curve
	// decides.
	Quantity string         `yaml:"quantity"`
	Max      *float64       `yaml:"max,omitempty"`
	Weeks    *Phased        `yaml:"weeks,omitempty"`    // in place of Max, after an operation
	Segments bool           `yaml:"segments,omitempty"` // no more than the segments allow that no fusion holds
	Protects bool           `yaml:"protects,omitempty"` // a moving end stays MovingMargin away
	Word     string         `yaml:"word,omitempty"`     // the most, for an ordered word
	Allowed  *bool          `yaml:"allowed,omitempty"`  // false bars a true-or-false quantity
	When     exercise.Scope `yaml:"when,omitempty"`     // any when left out
	With     *With          `yaml:"with,omitempty"`
	Sided    bool           `yaml:"sided,omitempty"` // only on the condition's side
	Needs    []string       `yaml:"needs,omitempty"` // aids, any of which makes it harmless
}

// With makes a limit hold only while another quantity is over its figure.
type With struct {
	Quantity string  `yaml:"quantity" json:"quantity"`
	Over     float64 `yaml:"over" json:"over"`
}

// Condition finds a description by its id; nil when there is none.
func (b Conditions) Condition(id string) *Description {
	for i := range b {
		if b[i].ID == id {
			return &b[i]
		}
	}
	return nil
}

// Rule finds a rule by its id; nil when there is none.
func (b Conditions) Rule(id string) *Rule {
	for i := range b {
		for j := range b[i].Rules {
			if b[i].Rules[j].ID == id {
				return &b[i].Rules[j]
			}
		}
	}
	return nil
}

// Words says what a client has, in an instructor's words.
func (b Conditions) Words(c Client) string {
	var out []string
	for _, k := range c.Conditions {
		if d := b.Condition(k.ID); d != nil {
			out = append(out, d.Words(k))
		}
	}
	if len(out) == 0 {
		return "no condition noted"
	}
	return strings.Join(out, " · ")
}

// Mistake is what is wrong with a description: where, by its path in the file such as
// rules[3].limits[1].quantity, and what was expected.
type Mistake struct{ Path, Want string }

func (m *Mistake) Error() string { return m.Path + ": " + m.Want }

// mistake is a *Mistake at a path.
func mistake(path, format string, args ...any) *Mistake {
	return &Mistake{path, fmt.Sprintf(format, args...)}
}

// Check refuses a description that names what does not exist, as a *Mistake.
func (d *Description) Check() error {
	if d.ID == "" || d.Name == "" || d.Order <= 0 {
		return mistake("condition", "condition, name and order are all needed")
	}
	domain := d.domain()
	for _, check := range []func(map[string][]string) *Mistake{d.checkFields, d.checkFacts, d.checkWords, d.checkRules} {
		if m := check(domain); m != nil {
			return m
		}
	}
	return nil
}

func (d *Description) checkFields(domain map[string][]string) *Mistake {
	seen := map[string]bool{}
	for i, f := range d.Fields {
		if m := f.checkField(fmt.Sprintf("fields[%d]", i)); m != nil {
			return m
		}
		if seen[f.ID] {
			return mistake(fmt.Sprintf("fields[%d].id", i), "%s is already asked", f.ID)
		}
		seen[f.ID] = true
	}
	for i, f := range d.Fields {
		if f.UnknownAs != "" && domain[f.UnknownAs] == nil {
			return mistake(fmt.Sprintf("fields[%d].unknown_as", i), "%q is not a fact of this condition", f.UnknownAs)
		}
		if err := knownBraces(f.Assumed, domain); err != nil {
			return mistake(fmt.Sprintf("fields[%d].assumed", i), "%s", err)
		}
	}
	return nil
}

func (f *Field) checkField(path string) *Mistake {
	switch {
	case f.ID == "" || f.Label == "":
		return mistake(path, "id and label are both needed")
	case !slices.Contains(FieldKinds, f.Kind):
		return mistake(path+".kind", "%q is not one of %v", f.Kind, FieldKinds)
	case (f.Kind == KindChoice) != (len(f.Choices) > 0):
		return mistake(path+".choices", "a choice has choices, and nothing else has")
	case f.Kind == KindFigure && (f.Min == nil || f.Max == nil || f.Expects == ""):
		return mistake(path, "a figure needs min, max and expects")
	case f.Kind == KindYesNo && f.Unknown == "" && f.UnknownAs == "":
		return mistake(path+".unknown", "what holds when nothing was said is needed: true, false or another fact")
	case f.Kind == KindYesNo && f.Unknown != "" && f.Unknown != unasked && !slices.Contains(yesOrNo, f.Unknown):
		return mistake(path+".unknown", "%q is not true or false", f.Unknown)
	case f.Kind == KindChoice && f.Unknown == "":
		return mistake(path+".unknown", "what holds when nothing was said is needed")
	case f.Since != "" && (f.Kind != KindFigure || daysIn[f.Since] == 0):
		return mistake(path+".since", "%q is not months or weeks, of a figure", f.Since)
	case f.Kind == KindCurves && f.Large <= 0:
		return mistake(path+".large", "degrees above 0 are needed")
	}
	return nil
}

func (d *Description) checkFacts(domain map[string][]string) *Mistake {
	taken := map[string]bool{}
	for _, f := range d.Fields {
		taken[f.ID] = true
	}
	for i, f := range d.Facts {
		path := fmt.Sprintf("facts[%d]", i)
		if taken[f.ID] || f.ID == "" {
			return mistake(path+".id", "%q is taken or empty", f.ID)
		}
		taken[f.ID] = true
		field := d.Field(f.From)
		switch {
		case f.All != nil:
			if err := knownWords(domain, f.All); err != nil {
				return mistake(path+".all", "%s", err)
			}
		case (field == nil || field.Kind != KindFigure) && clientFigures[f.From] == nil:
			return mistake(path+".from", "%q is neither a field that is a figure nor one of %v", f.From,
				slices.Sorted(maps.Keys(clientFigures)))
		case f.Unknown == "" || len(f.Bands) == 0:
			return mistake(path, "bands, and what holds when unknown, are both needed")
		case f.Bands[len(f.Bands)-1].Under != nil || f.Bands[len(f.Bands)-1].To != nil:
			return mistake(path+".bands", "the last band must be without bounds, so that no figure is left out")
		}
	}
	return nil
}

// checkWords looks at what the condition becomes and at what contradicts it.
func (d *Description) checkWords(domain map[string][]string) *Mistake {
	if d.Becomes != nil {
		if err := knownWords(domain, d.Becomes.If); err != nil {
			return mistake("becomes.if", "%s", err)
		}
	}
	for i, x := range d.Contradictions {
		path := fmt.Sprintf("contradictions[%d]", i)
		if err := knownWords(domain, x.If); err != nil {
			return mistake(path+".if", "%s", err)
		}
		if d.Field(x.Field) == nil || x.Says == "" {
			return mistake(path+".field", "%q is not a field of this condition, or says is empty", x.Field)
		}
	}
	return nil
}

func (d *Description) checkRules(domain map[string][]string) *Mistake {
	ids := map[string]bool{}
	for i, r := range d.Rules {
		path := fmt.Sprintf("rules[%d]", i)
		if ids[r.ID] {
			return mistake(path+".id", "%s is already taken", r.ID)
		}
		ids[r.ID] = true
		if err := r.check(d.ID, domain); err != nil {
			return mistake(path+"."+err.Path, "rule %s: %s", r.ID, err.Want)
		}
	}
	return nil
}

func knownWords(domain map[string][]string, words map[string]string) error {
	for _, fact := range slices.Sorted(maps.Keys(words)) {
		if err := knownWord(domain, fact, words[fact]); err != nil {
			return err
		}
	}
	return nil
}

func knownWord(domain map[string][]string, fact, word string) error {
	words, ok := domain[fact]
	if !ok {
		return fmt.Errorf("%q is not a fact of this condition; expected one of %v", fact, slices.Sorted(maps.Keys(domain)))
	}
	if !slices.Contains(words, word) {
		return fmt.Errorf("%s is never %q; expected one of %v", fact, word, words)
	}
	return nil
}

var braces = regexp.MustCompile(`\{(\w+)\}`)

func knownBraces(sentence string, domain map[string][]string) error {
	for _, m := range braces.FindAllStringSubmatch(sentence, -1) {
		if _, ok := domain[m[1]]; !ok {
			return fmt.Errorf("{%s} is not a fact of this condition", m[1])
		}
	}
	return nil
}

// check looks at one rule of a condition whose facts are given.
//
//revive:disable-next-line:cyclomatic One check for each field, each with its own sentence.
func (r Rule) check(condition string, domain map[string][]string) *Mistake {
	at := func(path string, format string, args ...any) *Mistake {
		return &Mistake{path, fmt.Sprintf(format, args...)}
	}
	if !strings.HasPrefix(r.ID, condition+".") {
		return at("id", "must begin with its condition, %s", condition)
	}
	if r.Reason == "" || r.Source == "" {
		return at("reason", "reason and source are both needed")
	}
	if err := knownBraces(r.Reason, domain); err != nil {
		return at("reason", "%s", err)
	}
	for field, facts := range map[string]map[string][]string{"if": r.If, "unless": r.Unless} {
		for _, fact := range slices.Sorted(maps.Keys(facts)) {
			if len(facts[fact]) == 0 {
				return at(field+"."+fact, "at least one word is needed")
			}
			for _, word := range facts[fact] {
				if err := knownWord(domain, fact, word); err != nil {
					return at(field, "%s", err)
				}
			}
		}
	}
	for i, p := range r.Wants {
		if !slices.Contains(exercise.Purposes, p) {
			return at(fmt.Sprintf("wants[%d]", i), "%q is not one of %v", p, exercise.Purposes)
		}
	}
	for i, m := range r.Manner {
		if !slices.Contains(Manners, m) {
			return at(fmt.Sprintf("manner[%d]", i), "%q is not one of %v", m, Manners)
		}
	}
	for i, k := range r.Session {
		if !slices.Contains(SessionCounts, k.Count) || !(k.Max > 0) {
			return at(
				fmt.Sprintf("session[%d]", i),
				"%q with a max of %g; expected one of %v and a figure above 0",
				k.Count,
				k.Max,
				SessionCounts,
			)
		}
	}
	for i, l := range r.Limits {
		if l.Weeks != nil && !slices.Contains(domain["phase"], "first") {
			return at(fmt.Sprintf("limits[%d].weeks", i), "a figure that follows the weeks is of an operation")
		}
		if err := l.check(domain); err != nil {
			return at(fmt.Sprintf("limits[%d].%s", i, err.Path), "%s", err.Want)
		}
	}
	if len(r.Limits)+len(r.Session)+len(r.Wants)+len(r.Manner) == 0 && !r.Refer {
		return at("id", "it says nothing: limits, session, wants, manner or refer is needed")
	}
	if r.When != "" && (!r.Refer || soonness(r.When) < 0) {
		return at("when", "%q; expected %s, %s or %s, of a rule that refers", r.When, Now, SameDay, BeforeNext)
	}
	if r.Refer && len(r.Limits)+len(r.Session) > 0 {
		return at("refer", "a rule that refers sets no limits, since there is no session")
	}
	return nil
}

//revive:disable-next-line:cyclomatic One check for each field, each with its own sentence.
func (l RuleLimit) check(domain map[string][]string) *Mistake {
	at := func(path string, format string, args ...any) *Mistake {
		return &Mistake{path, fmt.Sprintf(format, args...)}
	}
	for _, m := range braces.FindAllStringSubmatch(l.Quantity, -1) {
		if !slices.Contains(domain[m[1]], "left") {
			return at("quantity", "{%s} is not a side of this condition", m[1])
		}
	}
	q, side := exercise.Split(braces.ReplaceAllString(l.Quantity, "left"))
	if q == nil {
		return at("quantity", "%q is not a movement quantity", l.Quantity)
	}
	if l.Sided && (!q.Sided || side != "" || domain["side"] == nil) {
		return at("sided", "%s is not a quantity with a side left open, or the condition asks for no side", l.Quantity)
	}
	if _, err := q.Key(side, l.when()); err != nil {
		return at("when", "%s", err)
	}
	given, value := 0, any(nil)
	if l.Max != nil {
		given, value = given+1, *l.Max
	}
	if l.Weeks != nil {
		if wrong := l.Weeks.check(); wrong != "" {
			return at("weeks", "%s", wrong)
		}
		given, value = given+1, l.Weeks.First
	}
	if l.Protects && (exercise.Find(q.ID+"_resting") == nil || l.when() != exercise.WhenAny || l.With != nil) {
		return at("protects", "expected an angle that is measured at rest too, by itself and at any time, found %s", q.ID)
	}
	if _, known := exercise.OrdinaryRange(q.ID); l.Segments && (!known || l.Max == nil && l.Weeks == nil) {
		return at("segments", "expected a figure for a range of the spine, found %s", q.ID)
	}
	if l.Word != "" {
		given, value = given+1, l.Word
	}
	if l.Allowed != nil {
		given, value = given+1, *l.Allowed
	}
	if given != 1 {
		return at("quantity", "%s needs exactly one of max, weeks, word and allowed", l.Quantity)
	}
	most, err := q.Scale(value)
	switch {
	case err != nil:
		return at("quantity", "%s", err)
	case q.Kind == exercise.Flag && most != 0:
		return at("allowed", "true limits nothing; expected false, or no row at all")
	case q.Kind == exercise.Number && most < 0:
		return at("max", "%g lies below what can be measured; expected 0 or more", most)
	case q.Kind == exercise.Word && int(most) == len(q.Order)-1:
		return at("word", "%s is the most there is and limits nothing", l.Word)
	}
	for i, n := range l.Needs {
		if aid := exercise.Find(n); aid == nil || !aid.Aid {
			return at(fmt.Sprintf("needs[%d]", i), "%q is not an aid that a form can have; expected one of %v", n, aids())
		}
	}
	if l.With == nil {
		return nil
	}
	with, _ := exercise.Split(l.With.Quantity)
	switch {
	case with == nil || !with.Moments:
		return at("with.quantity", "%q is not known at each instant; expected an angle of the spine", l.With.Quantity)
	case !q.Moments || l.when() != exercise.WhenAny:
		return at("with", "only an angle of the spine, whenever it occurs, can be limited together with another")
	case l.With.Over < 0:
		return at("with.over", "expected 0 or more, found %g", l.With.Over)
	}
	return nil
}

// Check refuses a limit that speaks of no quantity as it is measured, as a *Mistake. It
// stands by itself, without a condition; what is sided may be asked for on either side.
func (l RuleLimit) Check() error {
	if err := l.check(map[string][]string{"side": {"left", "right", "both"}}); err != nil {
		return err
	}
	return nil
}

func (l RuleLimit) when() exercise.Scope {
	if l.When == "" {
		return exercise.WhenAny
	}
	return l.When
}

func aids() []string {
	var out []string
	for _, q := range exercise.Registry {
		if q.Aid {
			out = append(out, q.ID)
		}
	}
	return out
}

// Check looks at all conditions: that every description is sound and no two share a
// condition, a place in the order or the id of a rule. Its mistakes are of the
// description with the index.
func (b Conditions) Check() (index int, err error) {
	orders := map[int]string{}
	for i := range b {
		d := &b[i]
		if err := d.Check(); err != nil {
			return i, err
		}
		if b.Condition(d.ID) != d {
			return i, &Mistake{"condition", fmt.Sprintf("%s is described twice", d.ID)}
		}
		if other, taken := orders[d.Order]; taken {
			return i, &Mistake{"order", fmt.Sprintf("%d is taken by %s", d.Order, other)}
		}
		orders[d.Order] = d.ID
		if d.Becomes != nil && b.Condition(d.Becomes.Condition) == nil {
			return i, &Mistake{"becomes.condition", fmt.Sprintf("there is no %q", d.Becomes.Condition)}
		}
	}
	return -1, nil
}

// Holds says whether the rule speaks where the facts are so.
func (r Rule) Holds(facts map[string]string) bool {
	for fact, words := range r.If {
		if !slices.Contains(words, facts[fact]) {
			return false
		}
	}
	for fact, words := range r.Unless {
		if slices.Contains(words, facts[fact]) {
			return false
		}
	}
	return true
}
