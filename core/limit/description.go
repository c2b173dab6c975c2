package limit

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"restbend/core/civil"
)

// Description is everything the program knows of one condition: what is asked about
// it, what the answers mean, and the rules that follow. It is data, one file for each
// condition; the form, the reader of files, the checks and the words come from it.
type Description struct {
	ID      string   `yaml:"condition"`
	Order   int      `yaml:"order"`            // in which it is asked about
	Common  bool     `yaml:"common,omitempty"` // one of the ten that are asked about first
	Name    string   `yaml:"name"`
	Also    string   `yaml:"also,omitempty"` // the clinical word, or a remark
	Fields  []Field  `yaml:"fields,omitempty"`
	Facts   []Fact   `yaml:"facts,omitempty"`
	Becomes *Becomes `yaml:"becomes,omitempty"`
	// Contradictions are answers that cannot all be right.
	Contradictions []Contradiction `yaml:"contradictions,omitempty"`
	// NeverUsual says that pain with this condition never counts as usual.
	NeverUsual bool   `yaml:"never_usual,omitempty"`
	Rules      []Rule `yaml:"rules,omitempty"`
	// Operation says that it is one.
	Operation *Operation `yaml:"operation,omitempty"`
}

// Field is one thing that is asked about a condition.
type Field struct {
	ID      string   `yaml:"id"`
	Label   string   `yaml:"label"`
	Kind    string   `yaml:"kind"`              // one of FieldKinds
	Choices []Choice `yaml:"choices,omitempty"` // of a choice
	Expects string   `yaml:"expects,omitempty"` // what a figure is to be, in words
	Min     *float64 `yaml:"min,omitempty"`     // of a figure
	Max     *float64 `yaml:"max,omitempty"`
	// Unknown is the fact that is taken where nothing was said, UnknownAs another fact
	// that is taken in its place; Assumed is the sentence that says so, with facts in
	// braces.
	Unknown   string `yaml:"unknown,omitempty"`
	UnknownAs string `yaml:"unknown_as,omitempty"`
	Assumed   string `yaml:"assumed,omitempty"`
	// Says is what an answer adds to the name of the condition, {} standing for the
	// answer itself under the key "any".
	Says  map[string]string `yaml:"says,omitempty"`
	Large float64           `yaml:"large,omitempty"` // degrees from which a curve is large
	// NeverUsual says the same of a condition whose field is answered with yes, or not at all.
	NeverUsual bool `yaml:"never_usual,omitempty"`
	// Since has a figure count the months or weeks since a date, which is kept in place of
	// the figure under the name of DateField, so that time goes by by itself.
	Since string `yaml:"since,omitempty"` // months or weeks
}

// DateField is the field that a date is kept in for a figure that counts since one.
const DateField = "operated_on"

// ClearedBy and ClearedOn are who cleared an operation for exercise, and when, beside the
// answer that it is cleared.
const (
	ClearedBy = "cleared_by"
	ClearedOn = "cleared_on"
	cleared   = "cleared_for_exercise"
)

// daysIn are the days of what is counted since a date.
var daysIn = map[string]float64{"months": 30.44, "weeks": 7}

// figure is a field's figure on a date: as it was said, or counted since the date that
// is kept.
func (f *Field) figure(k Condition, on civil.Day) (float64, bool) {
	if f.Since != "" {
		if day, err := civil.Parse(k.Word(DateField)); err == nil {
			return float64(on.Since(day)) / daysIn[f.Since], true
		}
	}
	if v, said := k.Figure(f.ID); said || f.Since == "" {
		return v, said
	}
	for unit, field := range map[string]string{"weeks": weeksSince, "months": monthsSince} {
		if v, said := k.Figure(field); said && unit != f.Since {
			return v * daysIn[unit] / daysIn[f.Since], true
		}
	}
	return 0, false
}

// Dated is the condition with the date in place of a figure that counts since one.
func (d *Description) Dated(k Condition, on civil.Day) Condition {
	for _, f := range d.Fields {
		if f.Since == "" {
			continue
		}
		if v, said := f.figure(k, on); said && k.Word(DateField) == "" {
			k = k.With(DateField, on.AddDate(0, 0, -int(v*daysIn[f.Since]+0.5)).String())
		}
		if k.Word(DateField) != "" {
			k = k.With(weeksSince, nil).With(monthsSince, nil).With(f.ID, nil)
		}
	}
	return k
}

// Choice is one answer of a choice, with its words.
type Choice struct {
	ID    string `yaml:"id"`
	Words string `yaml:"words"`
}

// What can be asked. A side is left, right or both; levels are fused levels of the
// spine such as L4-S1; a pressure is a reading such as 128/78.
const (
	KindChoice   = "choice"
	KindSide     = "side"
	KindYesNo    = "yes_no"
	KindFigure   = "figure"
	KindLevels   = "levels"
	KindPressure = "pressure"
	KindCurves   = "curves"
)

// FieldKinds are all kinds of field.
var FieldKinds = []string{KindChoice, KindSide, KindYesNo, KindFigure, KindLevels, KindPressure, KindCurves}

// Regions of the spine, from the top.
var Regions = []string{"cervical", "thoracic", "lumbar"}

// Fact is a word that rules ask for and that follows from the answers: from a figure
// by bands, or from other facts taken together.
type Fact struct {
	ID      string            `yaml:"id"`
	From    string            `yaml:"from,omitempty"` // a field that is a figure, or one of clientFigures
	Bands   []Band            `yaml:"bands,omitempty"`
	All     map[string]string `yaml:"all,omitempty"` // true when all of these facts are so, else false
	Unknown string            `yaml:"unknown,omitempty"`
}

// Band is a stretch of figures with its word; the first that holds counts, and one
// without bounds holds always.
type Band struct {
	Under *float64 `yaml:"under,omitempty"`
	To    *float64 `yaml:"to,omitempty"`
	Is    string   `yaml:"is"`
}

// Becomes has a condition handled as another where a fact is so.
type Becomes struct {
	Condition string            `yaml:"condition"`
	If        map[string]string `yaml:"if"`
	Says      string            `yaml:"says"`
}

// Contradiction is a set of facts that cannot all be so, with the field to look at
// again and a sentence that follows its name.
type Contradiction struct {
	If    map[string]string `yaml:"if"`
	Field string            `yaml:"field"`
	Says  string            `yaml:"says"`
}

// clientFigures are figures of the client as a whole that facts may come from.
var clientFigures = map[string]func(Client) (float64, bool){
	"pain_now": func(c Client) (float64, bool) {
		if c.Pain.Now == nil {
			return 0, false
		}
		return float64(*c.Pain.Now), true
	},
}

// clientFacts are facts of the client as a whole, with their words.
var clientFacts = map[string]func(Client) string{"strict": func(c Client) string { return fmt.Sprint(c.Strict) }}

var yesOrNo = []string{"true", "false"}

// Field finds a field by its id; nil when there is none.
func (d *Description) Field(id string) *Field {
	for i := range d.Fields {
		if d.Fields[i].ID == id {
			return &d.Fields[i]
		}
	}
	return nil
}

// answers are the words that a field may be answered with; nil where it is free.
func (f *Field) answers() []string {
	switch f.Kind {
	case KindChoice:
		var out []string
		for _, c := range f.Choices {
			out = append(out, c.ID)
		}
		return out
	case KindSide:
		return []string{"left", "right", "both"}
	}
	return nil
}

// facts are what the field's answer amounts to in words, by fact.
func (f *Field) facts(k Condition, c Client, on civil.Day, out map[string]string) (said bool) {
	switch f.Kind {
	case KindChoice, KindSide:
		word := k.Word(f.ID)
		out[f.ID] = word
		return slices.Contains(f.answers(), word)
	case KindYesNo:
		yes, said := k.Yes(f.ID)
		if out[f.ID] = ""; said {
			out[f.ID] = fmt.Sprint(yes)
		}
		return said
	case KindFigure:
		_, said := f.figure(k, on)
		return said
	case KindLevels:
		regions, ok := fusedRegions(k.Word(f.ID))
		if !ok {
			regions = Regions
		}
		for _, r := range Regions {
			out[r] = fmt.Sprint(slices.Contains(regions, r))
		}
		return ok
	case KindPressure:
		worst, ok := worstPressure(k.Word(f.ID), c.RestingPressure)
		out[f.ID], out[f.ID+"_level"], out[f.ID+"_taken"] = worst.String(), worst.level(), fmt.Sprint(ok)
		out[f.ID+"_high"] = fmt.Sprint(worst.High())
		return ok
	case KindCurves:
		curves := k.Curves(f.ID)
		out["large"] = "false"
		for _, r := range Regions {
			out[r+"_convex"], out[r+"_concave"] = "none", "none"
		}
		for _, curve := range curves {
			out[curve.Region+"_convex"], out[curve.Region+"_concave"] = curve.Convex, otherSide(curve.Convex)
			if curve.CobbDeg >= f.Large {
				out["large"] = "true"
			}
		}
		return len(curves) > 0
	}
	return false
}

// domain is every fact that rules of the condition may ask for, with its words. A fact
// without words, such as a reading, can only be spoken of in a reason.
func (d *Description) domain() map[string][]string {
	out := map[string][]string{}
	for id := range clientFacts {
		out[id] = yesOrNo
	}
	for _, f := range d.Fields {
		switch f.Kind {
		case KindChoice, KindSide:
			out[f.ID] = f.answers()
			if f.Unknown != "" && !slices.Contains(out[f.ID], f.Unknown) {
				out[f.ID] = append(out[f.ID], f.Unknown)
			}
		case KindYesNo:
			out[f.ID] = yesOrNo
			if f.Unknown == unasked {
				out[f.ID] = []string{"true", "false", unasked}
			}
		case KindLevels:
			for _, r := range Regions {
				out[r] = yesOrNo
			}
		case KindPressure:
			out[f.ID], out[f.ID+"_level"], out[f.ID+"_taken"], out[f.ID+"_high"] = nil, pressureLevels, yesOrNo, yesOrNo
		case KindCurves:
			out["large"] = yesOrNo
			for _, r := range Regions {
				out[r+"_convex"], out[r+"_concave"] = []string{"left", "right", "none"}, []string{"left", "right", "none"}
			}
		}
	}
	for _, f := range d.Facts {
		words := slices.Clone(yesOrNo)
		if f.All == nil {
			words = nil
			for _, b := range append(slices.Clone(f.Bands), Band{Is: f.Unknown}) {
				if !slices.Contains(words, b.Is) {
					words = append(words, b.Is)
				}
			}
		}
		out[f.ID] = words
	}
	return out
}

// FactsOf are what the answers amount to, as the words that rules ask for, with
// sentences on what was assumed where nothing was said.
func (d *Description) FactsOf(k Condition, c Client, on civil.Day) (out map[string]string, assumed []string) {
	out = map[string]string{}
	for id, of := range clientFacts {
		out[id] = of(c)
	}
	silent := make([]bool, len(d.Fields))
	for i := range d.Fields {
		f := &d.Fields[i]
		if silent[i] = !f.facts(k, c, on, out); silent[i] && f.Unknown != "" {
			out[f.ID] = f.Unknown
		}
	}
	for _, together := range []bool{false, true} { // facts that are others taken together come last
		for _, f := range d.Facts {
			if (f.All != nil) == together {
				out[f.ID] = f.of(d, k, c, on, out)
			}
		}
	}
	for i, f := range d.Fields {
		if !silent[i] {
			continue
		}
		if f.UnknownAs != "" {
			out[f.ID] = out[f.UnknownAs]
		}
		if f.Assumed != "" {
			assumed = append(assumed, fillIn(f.Assumed, out))
		}
	}
	if yes, _ := k.Yes(cleared); yes && d.Field(cleared) != nil && k.Word(ClearedBy) == "" {
		assumed = append(assumed, d.Name+": cleared for exercise, but nobody wrote down who cleared it.")
	}
	if d.clearanceOpen(out) {
		assumed = append(assumed, d.Name+": nobody has said that the surgeon cleared it for exercise; ask.")
	}
	return out, assumed
}

func (f Fact) of(d *Description, k Condition, c Client, on civil.Day, so map[string]string) string {
	if f.All != nil {
		return fmt.Sprint(allSo(f.All, so))
	}
	var v float64
	var said bool
	if field := d.Field(f.From); field != nil {
		v, said = field.figure(k, on)
	}
	if of := clientFigures[f.From]; of != nil {
		v, said = of(c)
	}
	if said {
		for _, b := range f.Bands {
			if b.holds(v) {
				return b.Is
			}
		}
	}
	return f.Unknown
}

func allSo(all, facts map[string]string) bool {
	for id, word := range all {
		if facts[id] != word {
			return false
		}
	}
	return true
}

func (b Band) holds(v float64) bool {
	return (b.Under == nil || v < *b.Under) && (b.To == nil || v <= *b.To)
}

// fillIn puts facts in the place of their names in braces, true and false as yes and
// no.
func fillIn(sentence string, facts map[string]string) string {
	if !strings.Contains(sentence, "{") {
		return sentence
	}
	for _, id := range slices.Sorted(maps.Keys(facts)) {
		word := facts[id]
		switch word {
		case "true":
			word = "yes"
		case "false":
			word = "no"
		}
		sentence = strings.ReplaceAll(sentence, "{"+id+"}", word)
	}
	return sentence
}

// usualWeeks are the weeks after an operation within which no pain counts as usual.
const usualWeeks = 26

// PainIsNeverUsual says whether a condition, as it was answered, makes any pain a matter for
// asking: a fresh operation, or one whose day nobody knows, a fracture, a nerve or cancer.
func (d *Description) PainIsNeverUsual(k Condition, on civil.Day) bool {
	if d.NeverUsual {
		return true
	}
	for i := range d.Fields {
		f := &d.Fields[i]
		if f.NeverUsual {
			if yes, said := k.Yes(f.ID); yes || !said {
				return true
			}
		}
		if f.Since != "" {
			if since, said := f.figure(k, on); !said || since*daysIn[f.Since] < usualWeeks*daysIn["weeks"] {
				return true
			}
		}
	}
	return false
}

// Words is the condition in an instructor's words, with what tells it from others of
// its name: the first field that has something to say, and every curve.
func (d *Description) Words(k Condition) string {
	name := strings.ToLower(d.Name)
	for _, f := range d.Fields {
		if f.Kind == KindCurves {
			for _, curve := range k.Curves(f.ID) {
				name += strings.ReplaceAll(f.Says[curve.Region], "{}", curve.Convex)
			}
			continue
		}
		answer := k.Word(f.ID)
		if yes, said := k.Yes(f.ID); said {
			answer = fmt.Sprint(yes)
		}
		if says := f.Says[answer]; says != "" {
			return name + says
		}
		if says := f.Says["any"]; says != "" && answer != "" {
			return name + strings.ReplaceAll(says, "{}", answer)
		}
	}
	return name
}
