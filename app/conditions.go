package app

import (
	"fmt"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"restbend/core/find"
	"restbend/core/limit"
)

// Choice is one answer to a question: its id and its words.
type Choice struct{ Value, Words string }

// Detail is one thing asked about a condition, as the form asks it.
type Detail struct {
	Name, Label string
	Kind        string // choice, yesno, number, date or text
	Choices     []Choice
}

// ConditionForm is a condition as it is asked about.
type ConditionForm struct {
	ID, Words, Also string // Also is the clinical word, or a remark
	Details         []Detail
	Common          bool   // asked about first
	Search          string // what people call it, in small letters
}

var (
	sideChoices = []Choice{{"left", "left"}, {"right", "right"}, {"both", "both"}}
	curveWays   = []Choice{{"left", "to the left"}, {"right", "to the right"}}
	curveLabels = map[string]string{"cervical": "Neck curve", "thoracic": "Upper back curve", "lumbar": "Low back curve"}
	// curveRegions are in the order in which they are asked: the neck, of which little
	// follows, last.
	curveRegions = []string{"thoracic", "lumbar", "cervical"}
)

// ConditionForms are all conditions in asking order, with the few details
// each needs.
func ConditionForms(conditions limit.Conditions, sayings []find.Saying) []ConditionForm {
	var out []ConditionForm
	for _, d := range conditions {
		f := ConditionForm{ID: d.ID, Words: d.Name, Also: d.Also, Common: d.Common}
		called := []string{d.Name, d.Also, strings.ReplaceAll(d.ID, "_", " ")}
		for _, s := range sayings {
			if slices.Contains(s.To, "condition "+d.ID) {
				called = append(called, s.Say...)
			}
		}
		f.Search = strings.ToLower(strings.Join(called, " · "))
		for _, field := range d.Fields {
			f.Details = append(f.Details, details(field)...)
		}
		out = append(out, f)
	}
	return out
}

// details are the inputs that a field is asked with.
func details(f limit.Field) []Detail {
	switch f.Kind {
	case limit.KindChoice:
		d := Detail{f.ID, f.Label, "choice", nil}
		for _, c := range f.Choices {
			d.Choices = append(d.Choices, Choice{c.ID, c.Words})
		}
		return []Detail{d}
	case limit.KindSide:
		return []Detail{{f.ID, f.Label, "choice", sideChoices}}
	case limit.KindYesNo:
		return []Detail{{f.ID, f.Label, "yesno", nil}}
	case limit.KindFigure:
		if f.Since != "" {
			return []Detail{
				{limit.DateField, "Day of the operation", "date", nil},
				{f.ID, "or " + strings.ToLower(f.Label), "number", nil},
			}
		}
		return []Detail{{f.ID, f.Label, "number", nil}}
	case limit.KindCurves:
		var out []Detail
		for _, region := range curveRegions {
			out = append(out,
				Detail{region, curveLabels[region], "choice", curveWays},
				Detail{region + "_cobb", "its degrees", "number", nil},
			)
		}
		return out
	}
	return []Detail{{f.ID, f.Label, "text", nil}}
}

// ReadConditions reads the ticked conditions of a form and the details under each.
// Figures are read by number, which is told the field and what was expected; what was
// typed is kept in values.
func ReadConditions(
	conditions limit.Conditions,
	form url.Values,
	number func(field, what string) *float64,
	values map[string]string,
) []limit.Condition {
	var out []limit.Condition
	for _, id := range form["conditions"] {
		k := limit.Condition{ID: id}
		word := func(name string) string {
			at := id + "." + name
			values[at] = strings.TrimSpace(form.Get(at))
			return values[at]
		}
		figure := func(name, what string) any {
			if v := number(id+"."+name, what); v != nil {
				return *v
			}
			return nil
		}
		d := conditions.Condition(id)
		if d == nil {
			out = append(out, k) // refused by name when the client is checked
			continue
		}
		for _, f := range d.Fields {
			switch f.Kind {
			case limit.KindYesNo:
				if answer := word(f.ID); answer != "" {
					k = k.With(f.ID, answer == "yes")
				}
			case limit.KindFigure:
				if f.Since != "" {
					k = k.With(limit.DateField, word(limit.DateField))
				}
				k = k.With(f.ID, figure(f.ID, f.Expects))
			case limit.KindCurves:
				var curves []limit.Curve
				for _, region := range curveRegions {
					degrees := figure(region+"_cobb", "degrees")
					if side := word(region); side != "" {
						curve := limit.Curve{Region: region, Convex: side}
						curve.CobbDeg, _ = degrees.(float64)
						curves = append(curves, curve)
					}
				}
				k = k.With(f.ID, curves)
			default:
				k = k.With(f.ID, word(f.ID))
			}
		}
		out = append(out, k)
	}
	return out
}

// ConditionValues writes the details of a client's conditions into the form's fields.
func ConditionValues(conditions limit.Conditions, c limit.Client) map[string]string {
	out := map[string]string{}
	for _, k := range c.Conditions {
		d := conditions.Condition(k.ID)
		if d == nil {
			continue
		}
		put := func(name, value string) { out[k.ID+"."+name] = value }
		for _, f := range d.Fields {
			switch f.Kind {
			case limit.KindYesNo:
				if yes, said := k.Yes(f.ID); said {
					put(f.ID, map[bool]string{true: "yes", false: "no"}[yes])
				}
			case limit.KindFigure:
				if f.Since != "" {
					put(limit.DateField, k.Word(limit.DateField))
				}
				if v, said := k.Figure(f.ID); said {
					put(f.ID, strconv.FormatFloat(v, 'g', -1, 64))
				}
			case limit.KindCurves:
				for _, curve := range k.Curves(f.ID) {
					put(curve.Region, curve.Convex)
					if curve.CobbDeg != 0 {
						put(curve.Region+"_cobb", strconv.FormatFloat(curve.CobbDeg, 'g', -1, 64))
					}
				}
			default:
				put(f.ID, k.Word(f.ID))
			}
		}
	}
	return out
}

// FormField is the form's name of what a path in a client file such as
// conditions[2].curves[0].convex speaks of.
func FormField(c limit.Client, path string) string {
	for i, k := range c.Conditions {
		rest, ok := strings.CutPrefix(path, fmt.Sprintf("conditions[%d].", i))
		if !ok {
			continue
		}
		for _, field := range k.Answered() {
			for n, curve := range k.Curves(field) {
				if in, ok := strings.CutPrefix(rest, fmt.Sprintf("%s[%d].", field, n)); ok {
					return k.ID + "." + curve.Region + map[string]string{"cobb_deg": "_cobb"}[in]
				}
			}
		}
		return k.ID + "." + rest
	}
	path = strings.TrimPrefix(path, "tolerates.")
	for i, m := range c.Measures {
		path = strings.Replace(path, fmt.Sprintf("measures[%d].value", i), m.ID, 1)
	}
	return path
}
