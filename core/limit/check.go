package limit

import (
	"fmt"
	"slices"
	"strings"

	"restbend/core/civil"
	"restbend/core/exercise"
)

// CheckClient looks for what a client's data says that is not known here:
// conditions, fields and answers, clearances of no rule, instructions on no quantity.
// The mistake's path is that of the client file.
//
//revive:disable-next-line:cyclomatic One check for each field, each with its own sentence.
func (b Conditions) CheckClient(c Client, on civil.Day) *Mistake {
	seen := map[string]bool{}
	for i, k := range c.Conditions {
		path := fmt.Sprintf("conditions[%d]", i)
		d := b.Condition(k.ID)
		if d == nil {
			var ids []string
			for _, d := range b {
				ids = append(ids, d.ID)
			}
			return &Mistake{path + ".id", fmt.Sprintf("%s is not known; expected one of %s", k.ID, strings.Join(ids, ", "))}
		}
		if seen[k.ID] {
			return &Mistake{path + ".id", k.ID + " is listed twice; expected each condition once"}
		}
		seen[k.ID] = true
		for _, field := range k.Answered() {
			f := d.Field(field)
			if field == DateField && slices.ContainsFunc(d.Fields, func(f Field) bool { return f.Since != "" }) {
				if day, err := civil.Parse(k.Word(field)); err != nil || day.After(on) || day.Year() < 1900 {
					return &Mistake{
						path + "." + field,
						fmt.Sprintf("expected the day of the operation as YYYY-MM-DD, today or earlier, found %v", k.details[field]),
					}
				}
				continue
			}
			if (field == ClearedBy || field == ClearedOn) && d.Field(cleared) != nil {
				if err := checkClearing(k, field); err != "" {
					return &Mistake{path + "." + field, err}
				}
				continue
			}
			if d.counts(field) && f == nil {
				if v, ok := k.details[field].(float64); !ok || !(v >= 0 && v <= mostWeeks) {
					return &Mistake{path + "." + field, fmt.Sprintf("expected %s, from 0 to %d, found %v",
						strings.TrimSuffix(field, "_since"), mostWeeks, k.details[field])}
				}
				continue
			}
			if f == nil {
				var asked []string
				for _, f := range d.Fields {
					asked = append(asked, f.ID)
				}
				if asked == nil {
					asked = []string{"nothing"}
				}
				return &Mistake{path + "." + field, fmt.Sprintf("is not asked about %s; expected %s", k.ID, strings.Join(asked, ", "))}
			}
			if err := f.check(k); err != nil {
				return &Mistake{path + "." + field + err.Path, err.Want}
			}
		}
		facts, _ := d.FactsOf(k, c, on)
		for _, x := range d.Contradictions {
			if allSo(x.If, facts) {
				return &Mistake{path + "." + x.Field, x.Says}
			}
		}
	}
	for i, k := range c.Clearances {
		switch r := b.Rule(k.Rule); {
		case r == nil:
			return &Mistake{fmt.Sprintf("clearances[%d].rule", i), k.Rule + " is not a rule"}
		case r.Refer:
			return &Mistake{
				fmt.Sprintf("clearances[%d].rule", i),
				k.Rule + " sends the client to somebody else and cannot be loosened; expected a rule that sets limits",
			}
		}
	}
	for i, in := range c.Instructions {
		if q, _ := exercise.Split(in.Quantity); q == nil || q.Kind != exercise.Number || q.Inner {
			return &Mistake{fmt.Sprintf("instructions[%d].quantity", i), in.Quantity + " is not a movement quantity with a figure"}
		}
	}
	return nil
}

// mostWeeks is the most that the time since an operation may be said as.
const mostWeeks = 5200

// checkClearing says what is wrong with who cleared an operation, or when; empty for nothing.
func checkClearing(k Condition, field string) string {
	if field == ClearedBy {
		if k.Word(field) == "" {
			return fmt.Sprintf("expected a name, found %v", k.details[field])
		}
		return ""
	}
	if day, err := civil.Parse(k.Word(field)); err != nil || day.Year() < 1900 {
		return fmt.Sprintf("expected the day as YYYY-MM-DD, found %v", k.details[field])
	}
	return ""
}

// check holds an answer against its field. The mistake's path follows the field's.
//
//revive:disable-next-line:cyclomatic One case for each kind of field.
func (f *Field) check(k Condition) *Mistake {
	bad := func(path, format string, args ...any) *Mistake { return &Mistake{path, fmt.Sprintf(format, args...)} }
	answer := k.details[f.ID]
	switch f.Kind {
	case KindChoice, KindSide:
		word, ok := answer.(string)
		if known := append(f.answers(), f.Unknown); !ok || !slices.Contains(known, word) || word == "" {
			return bad("", "%v is not known; expected one of %s", answer, strings.Join(f.answers(), ", "))
		}
	case KindYesNo:
		if _, ok := answer.(bool); !ok {
			return bad("", "expected true or false, found %v", answer)
		}
	case KindFigure:
		v, ok := answer.(float64)
		if !ok || !(v >= *f.Min && v <= *f.Max) {
			return bad("", "expected %s, from %g to %g, found %v", f.Expects, *f.Min, *f.Max, answer)
		}
	case KindLevels:
		if word, ok := answer.(string); !ok || !knownLevels(word) {
			return bad("", "%v cannot be read; expected levels such as L4-S1 or T11-L2", answer)
		}
	case KindPressure:
		word, _ := answer.(string)
		if p, ok := ReadPressure(word); !ok || !p.Possible() {
			return bad("", "expected a reading such as 128/78, found %v", answer)
		}
	case KindCurves:
		curves, ok := answer.([]Curve)
		if !ok {
			return bad("", "expected a list of curves, found %v", answer)
		}
		seen := map[string]bool{}
		for i, curve := range curves {
			at := fmt.Sprintf("[%d]", i)
			switch {
			case !slices.Contains(Regions, curve.Region):
				return bad(at+".region", "%q is not one of %s", curve.Region, strings.Join(Regions, ", "))
			case seen[curve.Region]:
				return bad(at+".region", "a second %s curve; expected one for each region", curve.Region)
			case curve.Convex != "left" && curve.Convex != "right":
				return bad(at+".convex", "%q is not left or right", curve.Convex)
			case !(curve.CobbDeg >= 0 && curve.CobbDeg <= 150):
				return bad(at+".cobb_deg", "expected degrees from 0 to 150, found %g", curve.CobbDeg)
			}
			seen[curve.Region] = true
		}
	}
	return nil
}
