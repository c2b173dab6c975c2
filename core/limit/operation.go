package limit

import (
	"fmt"
	"slices"
	"strings"

	"restbend/core/civil"
)

// Operation is what all operations have in common, in weeks: until when nobody plans, until when
// only somebody who is cleared is planned for, and when its two phases end. Complete writes
// the questions, facts and rules that follow from it.
type Operation struct {
	Refer   float64    `yaml:"refer"`
	Cleared float64    `yaml:"cleared"`
	Phases  [2]float64 `yaml:"phases"`
	// Of is what a sentence calls it, such as "the hip replacement".
	Of string `yaml:"of"`
}

// Names of what Complete adds.
const (
	weeksSince  = "weeks_since"
	monthsSince = "months_since"
	complicated = "complicated"
	unasked     = "unasked"
)

// loosenWeeks is how many weeks a figure takes, after its phase, to come to that of the next.
const loosenWeeks = 6.0

const operationSource = "common practice: surgeons' leaflets; the weeks are a cautious choice of this product"

// Phased is a figure that follows the weeks since an operation: it holds to the end of its phase
// and then loosens to the next.
type Phased struct {
	First float64  `yaml:"first"`
	Next  *float64 `yaml:"next,omitempty"`  // none: no figure in the second phase
	Stays *float64 `yaml:"stays,omitempty"` // for good; none: no figure
	Free  float64  `yaml:"free,omitempty"`  // what it loosens to before it goes, where there is no figure
}

// at is the figure so many weeks after an operation; ok is false where there is none any more. A
// figure of unknown weeks is that of the first phase.
func (p Phased) at(weeks float64, known bool, ends [2]float64) (figure float64, ok bool) {
	or := func(v *float64) (float64, bool) {
		if v == nil {
			return p.Free, false
		}
		return *v, true
	}
	next, second := or(p.Next)
	if p.Next == nil && p.Stays != nil {
		next, second = *p.Stays, true
	}
	stays, always := or(p.Stays)
	toward := func(from, to, since float64) float64 {
		return from + (to-from)*min(1, max(0, since/loosenWeeks))
	}
	switch {
	case !known || weeks < ends[0]:
		return p.First, true
	case weeks < ends[1]:
		return toward(p.First, next, weeks-ends[0]), second || weeks < ends[0]+loosenWeeks
	}
	from := toward(p.First, next, ends[1]-ends[0])
	return toward(from, stays, weeks-ends[1]), always || second && weeks < ends[1]+loosenWeeks || weeks < ends[0]+loosenWeeks
}

// check says what is wrong with a figure that follows the weeks.
func (p Phased) check() string {
	last := p.First
	for _, v := range []*float64{p.Next, p.Stays} {
		if v == nil {
			continue
		}
		if *v < last {
			return fmt.Sprintf("%g after %g: what comes later is never stricter", *v, last)
		}
		last = *v
	}
	if p.Stays == nil && p.Free < last {
		return fmt.Sprintf("free %g: expected what it loosens to, %g or more", p.Free, last)
	}
	return ""
}

// Complete adds to the description of an operation what all of them ask and what follows. Of
// other conditions it changes nothing.
func (d *Description) Complete() {
	op := d.Operation
	if op == nil {
		return
	}
	zero, most := 0.0, float64(mostWeeks)
	add := func(f Field) {
		if d.Field(f.ID) == nil {
			d.Fields = append(d.Fields, f)
		}
	}
	add(Field{ID: weeksSince, Label: "Weeks since", Kind: KindFigure, Since: "weeks", Expects: "weeks", Min: &zero, Max: &most,
		Assumed: d.Name + ": no date was given, so it is taken to be just done."})
	add(Field{ID: cleared, Label: "Cleared for exercise?", Kind: KindYesNo, Unknown: unasked})
	add(Field{ID: complicated, Label: "Done again, out of joint or infected?", Kind: KindYesNo, Unknown: "false"})
	band := func(id string, under float64) Fact {
		return Fact{ID: id, From: weeksSince, Unknown: "true", Bands: []Band{{Under: &under, Is: "true"}, {Is: "false"}}}
	}
	d.Facts = append(d.Facts, band("fresh", op.Refer), band("early", op.Cleared),
		Fact{ID: "phase", From: weeksSince, Unknown: "first",
			Bands: []Band{{Under: &op.Phases[0], Is: "first"}, {Under: &op.Phases[1], Is: "next"}, {Is: "later"}}})
	of := op.Of
	refer := func(subject, reason string, so map[string][]string) Rule {
		return Rule{ID: d.ID + "." + subject, Refer: true, If: so, Reason: reason + " No session is planned.", Source: operationSource}
	}
	d.Rules = append(d.Rules,
		refer("weeks", fmt.Sprintf("%s: less than %s ago, or nobody knows when; the surgeon's own programme holds.", Capital(of),
			weeksWords(op.Refer)), map[string][]string{"fresh": {"true"}}),
		refer("clearance", fmt.Sprintf("%s: nobody has said that the surgeon allows exercise, which is needed in the first %s.",
			Capital(of), weeksWords(op.Cleared)), map[string][]string{"fresh": {"false"}, "early": {"true"}, cleared: {unasked}}),
		refer("not_cleared", fmt.Sprintf("%s: not cleared for exercise; the surgeon's word comes first.", Capital(of)),
			map[string][]string{cleared: {"false"}}),
		refer("complicated", fmt.Sprintf("%s: done again, out of joint or infected; the surgeon's programme only.", Capital(of)),
			map[string][]string{complicated: {"true"}}),
	)
}

func weeksWords(weeks float64) string {
	if weeks == 1 {
		return "a week"
	}
	return fmt.Sprintf("%g weeks", weeks)
}

// Capital is the text with its first letter a capital.
func Capital(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}

// Unasked is the question that stays open about an operation long past that nobody has cleared;
// empty where there is none.
func (d *Description) Unasked(k Condition, c Client, on civil.Day) string {
	if facts, _ := d.FactsOf(k, c, on); !d.clearanceOpen(facts) {
		return ""
	}
	return fmt.Sprintf("%s: has the surgeon cleared exercise without limits?", Capital(d.Operation.Of))
}

// clearanceOpen says whether an operation is long past and nobody has said that it was cleared.
func (d *Description) clearanceOpen(facts map[string]string) bool {
	return d.Operation != nil && facts["early"] == "false" && facts[cleared] == unasked
}

// weeks are the weeks since the operation.
func (d *Description) weeks(k Condition, on civil.Day) (float64, bool) {
	if f := d.Field(weeksSince); f != nil && d.Operation != nil {
		return f.figure(k, on)
	}
	return 0, false
}

// counts says whether a field of the client file counts the time since the day of a condition.
func (d *Description) counts(field string) bool {
	return (field == weeksSince || field == monthsSince) && slices.ContainsFunc(d.Fields, func(f Field) bool { return f.Since != "" })
}
