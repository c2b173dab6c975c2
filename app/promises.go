package app

import (
	"fmt"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// Promise is one thing that the work keeps to for a client: a short sentence about the part
// of the body it stands under ("does not round past 10°, 10° under load too"), with all the
// reasons there are for it.
type Promise struct {
	Text    string
	Reasons []limit.Reason
}

// Part is a part of the body, or a side of work, with what is promised about it.
type Part struct {
	Name     string
	Promises []Promise
}

// Said is a part with all that is promised of it, as one sentence.
func (p Part) Said() string {
	var lines []string
	for _, promise := range p.Promises {
		lines = append(lines, promise.Text)
	}
	return p.Name + ": " + strings.Join(lines, "; ") + "."
}

// Promises are the limits of a client in plain sentences by part of the body, the back
// first, each said once: every scope of a limit is in the one sentence, and parts of which
// the same is promised for the same reasons stand together. What is not for now at all is
// in NotNow.
func Promises(set limit.Limits) []Part {
	var parts []*said
	for _, q := range exercise.Registry {
		for _, s := range sidesAlike(set, q) {
			part, text := s.sentence(q)
			parts = append(parts, &said{parts: []string{part}, Promise: Promise{text, reasonsOf(s.rows)}})
		}
	}
	var out []Part
	for i, p := range parts {
		if p.taken {
			continue
		}
		for _, o := range parts[i+1:] {
			if p.Text == o.Text && sameReasons(p.Reasons, o.Reasons) {
				p.parts, o.taken = append(p.parts, o.parts...), true
			}
		}
		name := Capital(listed(p.parts))
		at := slices.IndexFunc(out, func(o Part) bool { return o.Name == name })
		if at < 0 {
			at, out = len(out), append(out, Part{Name: name})
		}
		out[at].Promises = append(out[at].Promises, p.Promise)
	}
	return out
}

// NotNow are the things that are not for a client at all, in plain words, each once.
func NotNow(set limit.Limits) []Promise {
	var out []Promise
	for _, q := range exercise.Registry {
		if q.Kind != exercise.Flag {
			continue
		}
		sides := map[string][]limit.Limit{}
		for l := range set.Rows() {
			if of, side := exercise.Split(l.Quantity); of != nil && of.ID == q.ID && len(l.Needs) == 0 {
				sides[side] = append(sides[side], l)
			}
		}
		if left, right := sides["left"], sides["right"]; len(sides[""]) == 0 && left != nil && right != nil {
			sides = map[string][]limit.Limit{"": append(left, right...)}
		}
		for _, side := range []string{"", "left", "right"} {
			if rows := sides[side]; rows != nil {
				words := q.Words
				if side != "" {
					words = map[bool]string{true: "lying on the " + side + " side", false: words + ", " + side}[q.ID == "lies_on"]
				}
				out = append(out, Promise{Capital(words), reasonsOf(rows)})
			}
		}
	}
	return out
}

// said is a promise before those alike are put together.
type said struct {
	Promise
	parts []string
	taken bool
}

// sided are the rows on one quantity that read alike: of a side, or of both.
type sided struct {
	side string // empty for both and for what has no sides
	both bool
	rows []limit.Limit
}

// sidesAlike are the rows of a set on a quantity by side, both sides together where they
// say the same. What is barred outright is left out.
func sidesAlike(set limit.Limits, q exercise.Quantity) []sided {
	bySide := map[string][]limit.Limit{}
	for l := range set.Rows() {
		if of, side := exercise.Split(l.Quantity); of != nil && of.ID == q.ID && (l.Allowed == nil || len(l.Needs) > 0) {
			bySide[side] = append(bySide[side], l)
		}
	}
	if worse := bySide[""]; bySide["left"] != nil || bySide["right"] != nil { // what holds for both is said with each
		bySide["left"], bySide["right"] = append(bySide["left"], worse...), append(bySide["right"], worse...)
		delete(bySide, "")
	}
	left, right := bySide["left"], bySide["right"]
	alike := left != nil && len(left) == len(right)
	for i := range left {
		alike = alike && left[i].Max == right[i].Max && left[i].When == right[i].When && sameReasons(left[i].Reasons, right[i].Reasons) &&
			slices.Equal(
				left[i].Needs,
				right[i].Needs,
			) && (left[i].With == nil) == (right[i].With == nil) && (left[i].With == nil || *left[i].With == *right[i].With)
	}
	if alike {
		bySide["left"], bySide["right"] = left, nil
	}
	var out []sided
	for _, side := range []string{"", "left", "right"} {
		if rows := bySide[side]; len(rows) > 0 {
			s := sided{side: side, rows: rows, both: q.Sided && side == ""}
			if side == "left" && alike {
				s.side, s.both = "", true
			}
			out = append(out, s)
		}
	}
	return out
}

// ways are the directions of the spine as what a region does.
var ways = map[string]string{"flexion": "round", "extension": "hollow", "side_bend": "lean", "rotation": "turn"}

// limbs are the quantities of a part that has two sides: its name, more than one of them,
// and what it does, with a place for the figure.
var limbs = map[string][3]string{
	"hip_flexion":               {"hip", "hips", "bends to %s"},
	"hip_extension":             {"hip", "hips", "stretches back to %s"},
	"hip_adduction":             {"hip", "hips", "takes the leg across the middle to %s"},
	"hip_rotation":              {"hip", "hips", "turns to %s"},
	"hip_inward_turn":           {"hip", "hips", "turns in to %s"},
	"hip_outward_turn":          {"hip", "hips", "turns out to %s"},
	"hip_abduction_active":      {"hip", "hips", "lifts the leg to the side to %s"},
	"hand_force":                {"arm", "arms", "takes a pull of %s"},
	"foot_force":                {"leg", "legs", "takes a pull of %s"},
	"hip_moment":                {"hip", "hips", "takes a load of %s"},
	"straight_leg_raise":        {"leg", "legs", "is raised straight to %s"},
	"knee_flexion":              {"knee", "knees", "bends to %s"},
	"knee_load":                 {"knee", "knees", "bears %s"},
	"shoulder_elevation":        {"shoulder", "shoulders", "lets the arm up to %s"},
	"shoulder_elevation_active": {"shoulder", "shoulders", "lifts the arm by itself to %s"},
	"wrist_load":                {"wrist", "wrists", "bears %s"},
	"forearm_load":              {"forearm", "forearms", "bears %s"},
}

// others are the quantities without a limb: what they stand under, and how a figure is said.
var others = map[string][2]string{
	"lumbar_moment":             {"low back", "carries a load of %s at most"},
	"lumbar_compression":        {"low back", "is pressed by %s at most"},
	"thoracolumbar_compression": {"low back", "is pressed by %s at most where it meets the ribs"},
	"lumbar_compression_n":      {"low back", "is pressed by %s at most"},
	"lumbar_shear_n":            {"low back", "is sheared by %s at most"},
	"axial_moment":              {"low back", "is turned by a load of %s at most"},
	"moving_side_moment":        {"low back", "is pulled to a side by a moving load of %s at most"},
	"lowest_ribs_moment":        {"low back", "at the lowest ribs it carries %s at most"},
	"trunk_lever_cm":            {"loads", "the trunk reaches out by %s at most"},
	"leg_lever_cm":              {"loads", "a leg reaches out by %s at most"},
	"lying_leg_lever":           {"loads", "legs in the air, lying, weigh %s at most"},
	"spring_load":               {"loads", "springs no heavier than %s"},
	"hold_seconds":              {"effort", "what is held lasts %s at most"},
	"effort_held_seconds":       {"effort", "what is held against effort lasts %s at most"},
	"end_range_held_seconds":    {"effort", "the end of a range is held for %s at most"},
	"demand":                    {"effort", "stays at %s or under"},
	"head_load":                 {"head", "bears %s at most"},
	"balance_steps":             {"balance", ""},
	"base_of_support":           {"balance", ""},
}

// sentence says the rows: the part that it is about, and what is promised of it.
func (s sided) sentence(q exercise.Quantity) (part, text string) {
	if q.Moments {
		return s.ofTheSpine(q)
	}
	with := func(words, figure string) string {
		if strings.Contains(words, "%s") {
			return fmt.Sprintf(words, figure)
		}
		return words
	}
	var lines []string
	for _, l := range s.rows {
		figure := unit(l.Quantity, l.Max)
		limb, isLimb := limbs[q.ID]
		other, isOther := others[q.ID]
		scope := scopeWords(l)
		var line string
		switch {
		case isLimb:
			part = strings.TrimSpace(s.side + " " + limb[0])
			if s.both {
				part = limb[1]
			}
			if l.When == exercise.WhenLoaded && l.Max == 0.0 {
				line = strings.TrimSuffix(limb[2], " to %s") + " only" + scope
			} else if len(l.Needs) > 0 {
				line = with(limb[2], "more than "+figure) + " only with " + QuantityWords(l.Needs[0])
			} else {
				line = with(limb[2], figure) + " at most" + scope
			}
			if s.both {
				line = "each " + line
			}
		case isOther && other[1] == "":
			part = other[0]
			_, line, _ = strings.Cut(LimitWords(l), ": ")
		case isOther:
			part, line = other[0], with(other[1], figure)+scope
		case len(l.Needs) > 0:
			part, line = "only with help", q.Words+", with "+QuantityWords(l.Needs[0])+scope
		default:
			part, line = "also", q.Words+" to "+figure+scope
		}
		if !slices.Contains(lines, line) {
			lines = append(lines, line)
		}
	}
	return part, strings.Join(lines, "; ")
}

// ofTheSpine says the rows on one way that a region of the spine moves.
func (s sided) ofTheSpine(q exercise.Quantity) (part, text string) {
	var way string
	for direction, does := range ways {
		if region, ok := strings.CutSuffix(q.ID, "_"+direction); ok {
			part, way = regionOf(region), does
		}
	}
	if q.Sided {
		way += map[bool]string{true: " to either side", false: " to the " + s.side}[s.both]
	}
	at := map[exercise.Scope]*float64{}
	var together []string
	for _, l := range s.rows {
		figure, number := l.Number()
		switch {
		case !number:
		case l.With != nil:
			together = append(together,
				fmt.Sprintf(
					"not past %s while %s past %g°",
					unit(l.Quantity, l.Max),
					strings.Replace(QuantityWords(l.With.Quantity), part+" turning", "it is turned", 1),
					l.With.Over,
				),
			)
		case at[l.When] == nil || figure < *at[l.When]:
			at[l.When] = &figure
		}
	}
	past := func(figure float64) string {
		if figure <= 0 {
			return "at all"
		}
		return "past " + unit(q.ID, figure)
	}
	var lines []string
	always := at[exercise.WhenAny]
	if always != nil {
		lines = append(lines, "does not "+way+" "+past(*always))
	}
	for _, scope := range []exercise.Scope{exercise.WhenLoaded, exercise.WhenHeld, exercise.WhenFast} {
		figure := at[scope]
		words := map[exercise.Scope]string{exercise.WhenLoaded: "under load", exercise.WhenHeld: "when held",
			exercise.WhenFast: "when fast"}[scope]
		switch {
		case figure == nil || always != nil && *figure > *always:
		case always == nil && len(lines) == 0:
			lines = append(lines, "does not "+way+" "+past(*figure)+" "+words)
		case always != nil && *figure == *always && *figure > 0:
			lines = append(lines, unit(q.ID, *figure)+" "+words+" too")
		case *figure <= 0:
			lines = append(lines, "not at all "+words)
		default:
			lines = append(lines, unit(q.ID, *figure)+" "+words)
		}
	}
	if len(lines) == 0 && len(together) > 0 {
		return part, "does not " + way + strings.TrimPrefix(together[0], "not")
	}
	return part, strings.Join(append(lines, together...), ", ")
}

// regionOf is a region of the spine in words.
func regionOf(id string) string {
	return map[string]string{"lumbar": "low back", "thoracic": "upper back", "cervical": "neck"}[id]
}

// reasonsOf are the reasons of rows, each once.
func reasonsOf(rows []limit.Limit) []limit.Reason {
	var out []limit.Reason
	for _, l := range rows {
		for _, r := range l.Reasons {
			if !slices.ContainsFunc(out, func(o limit.Reason) bool { return o.Text == r.Text && o.Source == r.Source }) {
				out = append(out, r)
			}
		}
	}
	return out
}

// sameReasons says whether two promises are made for the same reasons.
func sameReasons(a, b []limit.Reason) bool {
	return slices.EqualFunc(a, b, func(a, b limit.Reason) bool { return a.Rule == b.Rule && a.Text == b.Text })
}

// listed joins names: "low back and upper back".
func listed(names []string) string {
	if len(names) < 2 {
		return strings.Join(names, "")
	}
	return strings.Join(names[:len(names)-1], ", ") + " and " + names[len(names)-1]
}
