package app

import (
	"fmt"
	"math"
	"strings"

	"restbend/core/exercise"
	"restbend/core/home"
	"restbend/core/limit"
)

// Clock writes seconds as minutes and seconds, such as 29:48.
func Clock(seconds float64) string {
	s := int(seconds + 0.5)
	return fmt.Sprintf("%d:%02d", s/60, s%60)
}

// QuantityWords is a movement quantity in an instructor's words.
func QuantityWords(name string) string {
	q, side := exercise.Split(name)
	switch {
	case q == nil:
		return strings.ReplaceAll(name, "_", " ")
	case side == "":
		return q.Words
	case q.Moments: // "low back bending left"
		return strings.TrimSuffix(q.Words, " sideways") + " " + side
	}
	return q.Words + ", " + side
}

// unit writes a quantity's figure with its unit.
func unit(name string, v any) string {
	f, ok := v.(float64)
	if !ok {
		return fmt.Sprint(v)
	}
	q, _ := exercise.Split(name)
	if q == nil {
		return fmt.Sprintf("%g", f)
	}
	switch q.Unit {
	case exercise.Moment:
		if q.Inner { // kept as it is
			return fmt.Sprintf("%.3f of weight × height", f)
		}
		return fmt.Sprintf("%.0f N·m", f)
	case exercise.Points:
		return fmt.Sprintf("%.1f of 10", f)
	case exercise.Steps:
		return fmt.Sprintf("%.0f steps", f)
	case exercise.Share:
		return fmt.Sprintf("%.0f%% of body weight", f*100)
	case exercise.Seconds:
		return fmt.Sprintf("%.0f s", f)
	case exercise.Standing:
		return fmt.Sprintf("%.1f times quiet standing", f)
	case exercise.Weight:
		return fmt.Sprintf("%.1f times body weight", f)
	case exercise.Newtons:
		return fmt.Sprintf("%.0f N", f)
	case exercise.Torque:
		return fmt.Sprintf("%.3f of weight × height", f)
	case exercise.Heights:
		return fmt.Sprintf("%.0f%% of height", f*100)
	}
	return fmt.Sprintf("%.0f°", f)
}

// LimitWords is a limit as a short sentence, such as "Low back rounding
// forward: to 10° under load".
func LimitWords(l limit.Limit) string {
	s := Capital(QuantityWords(l.Quantity)) + ": "
	most, _ := l.Number()
	switch {
	case l.Quantity == "demand":
		return fmt.Sprintf("Effort: up to %g of 10", most) + scopeWords(l)
	case l.Quantity == "balance_steps":
		return "Balance: " + map[float64]string{1: "two feet apart and nothing harder", 2: "a narrow base and nothing harder",
			3: "one leg and nothing harder"}[math.Floor(most)]
	case l.Quantity == "base_of_support":
		return "Standing: " + map[any]string{"feet_apart": "on a narrow base or one leg only with a hand on a " +
			"support", "narrow": "on one leg only with a hand on a support"}[l.Max]
	case len(l.Needs) > 0:
		s += "only with " + QuantityWords(l.Needs[0])
	case l.Allowed != nil:
		s += "not for now"
	case l.Bar && !strings.HasPrefix(l.Quantity, "wrist_load"):
		s += "shut past " + unit(l.Quantity, l.Max)
	default:
		s += "to " + unit(l.Quantity, l.Max)
	}
	s += scopeWords(l)
	if l.With != nil {
		s += fmt.Sprintf(" while %s is over %g°", QuantityWords(l.With.Quantity), l.With.Over)
	}
	return s
}

// InstructionWords is a clinician's own figure as a sentence.
func InstructionWords(in limit.Instruction) string {
	return fmt.Sprintf("%s to %s, by %s on %s.", QuantityWords(in.Quantity), unit(in.Quantity, in.Max), in.By, in.On)
}

// scopeWords say when a limit holds, after its figure.
func scopeWords(l limit.Limit) string {
	q, _ := exercise.Split(l.Quantity)
	switch {
	case l.When == exercise.WhenLoaded && q != nil && !q.Moments && q.Unit == exercise.Degrees:
		return " while it carries"
	case l.When == exercise.WhenLoaded:
		return " under load"
	case l.When == exercise.WhenHeld:
		return " when held"
	case l.When == exercise.WhenFast:
		return " when fast"
	}
	return ""
}

// ReasonWords is why a variant is adapted or avoided, with value and limit.
func ReasonWords(r limit.Reason) string {
	if _, isFlag := r.Value.(bool); r.Quantity == "" || r.Value == nil || isFlag {
		return r.Text
	}
	return fmt.Sprintf(
		"%s Here %s comes to %s; the limit is %s.",
		r.Text,
		QuantityWords(r.Quantity),
		unit(r.Quantity, r.Value),
		unit(r.Quantity, r.Limit),
	)
}

// BecauseWords turns a plan's reason line ("goal: balance") into words.
func BecauseWords(line string) string {
	kind, id, _ := strings.Cut(line, ": ")
	switch kind {
	case "goal", "need", "focus":
		return exercise.Purpose(id).Words()
	case "phase":
		return map[string]string{"settle": "to arrive", "mobilise": "to get moving", "activate": "to wake the muscles",
			"strengthen": "to build strength", "upright": "to stand well", "close": "to leave rested"}[id]
	}
	return line
}

// Capital is the text with its first letter a capital.
func Capital(s string) string { return limit.Capital(s) }

// DoseWords says a dose as it is done on the given sides.
func DoseWords(d exercise.Dose, sides []string) string {
	if len(sides) == 1 {
		return d.Words(false) + ", " + sides[0] + " only"
	}
	return d.Words(len(sides) > 0)
}

// WithWords says what an exercise is done with and at which settings.
func WithWords(uses []string, s exercise.Settings, u Units) string {
	var out []string
	for _, u := range uses {
		if u != "mat" && u != "wall" {
			out = append(out, strings.ReplaceAll(u, "_", " "))
		}
	}
	add := func(given bool, format string, args ...any) {
		if given {
			out = append(out, fmt.Sprintf(format, args...))
		}
	}
	add(s.SurfaceCM > 0, "surface %s high", u.Length(s.SurfaceCM))
	add(s.Band != "", "%s band", s.Band)
	add(s.AnchorCM > 0, "anchored at %s", u.Length(s.AnchorCM))
	add(s.WeightKG > 0, "%s", u.Mass(s.WeightKG))
	add(s.Spring != "", "%s spring", s.Spring)
	add(s.WedgeGrade > 0, "wedge grade %d", s.WedgeGrade)
	add(s.WedgeOffset != "", "placed %s", s.WedgeOffset)
	add(s.Arc != "", "%s arc", s.Arc)
	add(s.PillowCM > 0, "pillow %s", u.Length(s.PillowCM))
	add(s.SeatCM > 0, "seat %s high", u.Length(s.SeatCM))
	add(s.Base != "" && s.Base != "usual", "feet %s", s.Base)
	add(s.Feet != "", "feet %s", s.Feet)
	return strings.Join(out, ", ")
}

// WorksWith says what a client has to work with, and how high, strong and heavy it is;
// empty when nothing is.
func WorksWith(equipment []string, o limit.Owned, u Units) string {
	var out []string
	for _, e := range equipment {
		out = append(out, strings.ReplaceAll(e, "_", " "))
	}
	add := func(before, unit string, of []float64, figure func(float64) string) {
		if len(of) > 0 {
			out = append(out, strings.TrimSpace(before+list(of, figure)+" "+unit))
		}
	}
	add("surfaces of ", u.LengthUnit(), o.SurfaceCM, u.LengthFigure)
	add("weights of ", u.MassUnit(), o.WeightKG, u.MassFigure)
	add("pillows of ", u.LengthUnit(), o.PillowCM, u.LengthFigure)
	var grades []float64
	for _, g := range o.WedgeGrade {
		grades = append(grades, float64(g))
	}
	add("wedge grades ", "", grades, plain)
	if len(o.Band) > 0 {
		out = append(out, strings.Join(o.Band, " and ")+" band")
	}
	if len(o.Arc) > 0 {
		out = append(out, strings.Join(o.Arc, " and ")+" arc")
	}
	return Capital(strings.Join(out, ", "))
}

// list is figures in a row: 45, 62 and 75.
func list(of []float64, figure func(float64) string) string {
	var words []string
	for _, n := range of {
		words = append(words, figure(n))
	}
	if last := len(words) - 1; last > 0 {
		return strings.Join(words[:last], ", ") + " and " + words[last]
	}
	return strings.Join(words, "")
}

// dayWords are the days of the week in full.
var dayWords = map[string]string{
	"mon": "Monday",
	"tue": "Tuesday",
	"wed": "Wednesday",
	"thu": "Thursday",
	"fri": "Friday",
	"sat": "Saturday",
	"sun": "Sunday",
}

// HomeDays says on which days and how often an exercise is done at home.
func HomeDays(it home.Item) string {
	var days []string
	for _, d := range it.Days {
		days = append(days, dayWords[d])
	}
	words := "every day"
	if n := len(days); n < len(home.Days) {
		words = "on " + strings.Join(days[:n-1], ", ") + map[bool]string{true: " and "}[n > 1] + days[n-1]
	}
	switch {
	case it.When != "":
		words = it.When + ", " + words
	case it.TimesADay > 1:
		words = fmt.Sprintf("%d times, %s", it.TimesADay, words)
	}
	return words
}

// VerdictWords is a verdict as it is said to an instructor.
func VerdictWords(v exercise.Verdict) string {
	switch v {
	case exercise.Adapt:
		return "with a change"
	case exercise.Avoid:
		return "not for now"
	}
	return string(v)
}
