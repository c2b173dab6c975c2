package app

import (
	"fmt"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// Clock writes seconds as minutes and seconds, such as 29:48.
func Clock(seconds float64) string {
	s := int(seconds + 0.5)
	return fmt.Sprintf("%d:%02d", s/60, s%60)
}

var quantityNames = map[string]string{
	"wrist_load": "weight on one wrist", "forearm_load": "weight on one forearm", "knee_load": "weight on one knee",
	"lumbar_moment": "load on the low back", "straight_leg_raise": "straight leg raised", "hip_flexion": "hip bend",
	"hip_extension": "hip stretch", "knee_flexion": "knee bend", "shoulder_elevation": "arm raised", "hip_adduction": "leg across the middle",
	"hip_rotation": "hip turn", "hold_seconds": "hold", "head_lift": "lifting the head when lying", "prone": "lying face down",
	"supine_flat": "lying flat on the back", "kneeling": "kneeling", "floor_transfer": "getting down to the floor",
	"single_leg": "standing on one leg", "eyes_closed": "balance with the eyes closed", "head_below_heart": "head below the heart",
	"demand": "effort, of 10", "hip_moment": "load on one hip", "hip_inward_rotation": "hip turned in", "hip_outward_rotation": "hip turned out",
	"knee_flexion_loaded": "knee bend while it carries", "side_lying": "lying on the side", "split_stance": "a long split stance",
	"hips_above_heart": "hips held above the heart", "base_of_support": "base of support",
	"breath_hold": "holding the breath", "ballistic": "jerks and bounces", "loaded": "loaded work", "spring_load": "springs",
}

// needWords name the adaptations that make a limit harmless.
var needWords = map[string]string{"pillow": "a pillow in its place", "support_hand": "a hand on a support"}

var regionNames = map[string]string{"cervical": "neck", "thoracic": "upper back", "lumbar": "low back"}

var directionNames = map[string]string{"flexion": "rounding forward", "extension": "arching back", "side_bend": "bending sideways",
	"side_bend_left": "bending left", "side_bend_right": "bending right", "rotation": "turning",
	"rotation_left": "turning left", "rotation_right": "turning right"}

// QuantityWords is a movement quantity in an instructor's words.
func QuantityWords(q string) string {
	if n, ok := quantityNames[q]; ok {
		return n
	}
	for _, side := range []string{"_left", "_right"} {
		if base, ok := strings.CutSuffix(q, side); ok {
			if n, ok := quantityNames[base]; ok {
				return n + ", " + side[1:]
			}
		}
	}
	region, direction, _ := strings.Cut(q, "_")
	if r, ok := regionNames[region]; ok {
		return r + " " + directionNames[direction]
	}
	return strings.ReplaceAll(q, "_", " ")
}

// QuantitiesWords names several quantities, with the regions of one direction
// put together: "low back and upper back rounding forward".
func QuantitiesWords(quantities []string) string {
	var order []string
	regions := map[string][]string{}
	for _, q := range quantities {
		region, direction, _ := strings.Cut(q, "_")
		name, known := regionNames[region]
		if _, spine := directionNames[direction]; !known || !spine {
			name, direction = QuantityWords(q), ""
			order = append(order, name)
			continue
		}
		if regions[direction] == nil {
			order = append(order, "_"+direction)
		}
		regions[direction] = append(regions[direction], name)
	}
	for i, o := range order {
		if direction, ok := strings.CutPrefix(o, "_"); ok {
			order[i] = strings.Join(regions[direction], " and ") + " " + directionNames[direction]
		}
	}
	return strings.Join(order, ", ")
}

// unit writes a quantity's figure with its unit.
func unit(q string, v any) string {
	f, ok := v.(float64)
	if !ok {
		return fmt.Sprint(v)
	}
	switch {
	case q == "lumbar_moment":
		return fmt.Sprintf("%.0f N·m", f)
	case q == "demand":
		return fmt.Sprintf("%.1f of 10", f)
	case q == "hip_moment":
		return fmt.Sprintf("%.3f of weight × height", f)
	case strings.HasPrefix(q, "wrist_load"), strings.HasPrefix(q, "forearm_load"), strings.HasPrefix(q, "knee_load"):
		return fmt.Sprintf("%.0f%% of body weight", f*100)
	case q == "hold_seconds":
		return fmt.Sprintf("%.0f s", f)
	}
	return fmt.Sprintf("%.0f°", f)
}

// LimitWords is a limit as a short sentence, such as "Low back rounding
// forward: to 10° under load". A name, when given, stands for its quantity.
func LimitWords(l limit.Limit, name string) string {
	if name == "" {
		name = QuantityWords(l.Quantity)
	}
	s := Capital(name) + ": "
	switch {
	case l.Quantity == "base_of_support":
		return "Standing: " + map[any]string{"feet_apart": "on a narrow base or one leg only with a hand on a support", "narrow": "on one leg only with a hand on a support"}[l.Max]
	case len(l.Needs) > 0:
		s += "only with " + needWords[l.Needs[0]]
	case l.Allowed != nil:
		s += "not for now"
	case l.Bar && !strings.HasPrefix(l.Quantity, "wrist_load"):
		s += "shut past " + unit(l.Quantity, l.Max)
	default:
		s += "to " + unit(l.Quantity, l.Max)
	}
	switch l.When {
	case "loaded":
		s += " under load"
	case "held":
		s += " when held"
	case "fast":
		s += " when fast"
	}
	if l.With != nil {
		s += fmt.Sprintf(" while %s is over %g°", QuantityWords(l.With.Quantity), l.With.Over)
	}
	return s
}

// ReasonWords is why a variant is adapted or avoided, with value and limit.
func ReasonWords(r limit.Reason) string {
	if _, isFlag := r.Value.(bool); r.Quantity == "" || isFlag {
		return r.Text
	}
	return fmt.Sprintf("%s Here %s comes to %s; the limit is %s.", r.Text, QuantityWords(r.Quantity), unit(r.Quantity, r.Value), unit(r.Quantity, r.Limit))
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
func Capital(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}

// WithWords says what an exercise is done with and at which settings.
func WithWords(uses []string, s exercise.Settings) string {
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
	add(s.SurfaceCM > 0, "surface %g cm high", s.SurfaceCM)
	add(s.Band != "", "%s band", s.Band)
	add(s.AnchorCM > 0, "anchored at %g cm", s.AnchorCM)
	add(s.WeightKG > 0, "%g kg", s.WeightKG)
	add(s.Spring != "", "%s spring", s.Spring)
	add(s.WedgeGrade > 0, "wedge grade %d", s.WedgeGrade)
	add(s.WedgeOffset != "", "placed %s", s.WedgeOffset)
	add(s.Arc != "", "%s arc", s.Arc)
	add(s.PillowCM > 0, "pillow %g cm", s.PillowCM)
	return strings.Join(out, ", ")
}

// WorksWith says what a client has to work with, and how high, strong and heavy it is;
// empty when nothing is.
func WorksWith(equipment []string, o limit.Owned) string {
	var out []string
	for _, e := range equipment {
		out = append(out, strings.ReplaceAll(e, "_", " "))
	}
	add := func(before, after string, of []float64) {
		if len(of) > 0 {
			out = append(out, before+list(of)+after)
		}
	}
	add("surfaces of ", " cm", o.SurfaceCM)
	add("weights of ", " kg", o.WeightKG)
	add("pillows of ", " cm", o.PillowCM)
	var grades []float64
	for _, g := range o.WedgeGrade {
		grades = append(grades, float64(g))
	}
	add("wedge grades ", "", grades)
	if len(o.Band) > 0 {
		out = append(out, strings.Join(o.Band, " and ")+" band")
	}
	if len(o.Arc) > 0 {
		out = append(out, strings.Join(o.Arc, " and ")+" arc")
	}
	return Capital(strings.Join(out, ", "))
}

// list is figures in a row: 45, 62 and 75.
func list(of []float64) string {
	var words []string
	for _, n := range of {
		words = append(words, fmt.Sprintf("%g", n))
	}
	if last := len(words) - 1; last > 0 {
		return strings.Join(words[:last], ", ") + " and " + words[last]
	}
	return strings.Join(words, "")
}
