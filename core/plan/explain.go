package plan

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// Explanation says why one exercise of a session is as it is, in sentences.
type Explanation struct {
	Rung  []string // why this rung of its ladder
	Point []string // why at this point of the session
	Sums  []Sum    // how its seconds add up
}

// Sum is one line of arithmetic and what it comes to.
type Sum struct {
	Words   string
	Seconds float64
}

// Explain explains item i of a plan.
func (p Plan) Explain(r Request, lib Library, i int) Explanation {
	r = r.from(lib)
	if p.has(i) != nil {
		return Explanation{}
	}
	return Explanation{Rung: append(r.whyRung(p.Items[i]), r.whySettings(p.Items[i])...), Point: p.whyPoint(i), Sums: p.sums(r, i)}
}

func (r Request) whyRung(it Item) []string {
	var out []string
	easier, harder := Neighbours(r.lib, it.Variant)
	v := r.find(it.Variant)
	switch {
	case v == nil:
		return []string{"It is no longer in the library; the plan keeps it as it was."}
	case r.Limits.Irritability > limit.Calm:
		out = append(out, "Pain today asks for a lower rung, shorter holds and nothing new.")
	case r.recorded(v):
		out = append(out, "It is the rung on record.")
	case len(easier) == 0:
		out = append(out, "It is where its ladder begins; no rung is on record yet.")
	default:
		out = append(out, "No rung is on record; this one is inside the limits and serves what is wanted.")
	}
	for _, id := range harder {
		w := r.find(id)
		switch {
		case w == nil:
		case !r.available(w):
			out = append(out, fmt.Sprintf("The next, %s, %s.", lower(w.Name), r.unavailable(w)))
		default:
			if j := r.judge(w); j.Verdict == exercise.Avoid {
				out = append(out, fmt.Sprintf("The next, %s, is barred: %s", lower(w.Name), j.Reasons[0].Text))
			} else if v.Earn.Words != "" {
				out = append(out, fmt.Sprintf("The next, %s, is earned by this: %s", lower(w.Name), v.Earn.Words))
			}
		}
	}
	return out
}

func lower(name string) string {
	if name == "" {
		return name
	}
	return strings.ToLower(name[:1]) + name[1:]
}

func (p Plan) whyPoint(i int) []string {
	it := p.Items[i]
	var out []string
	switch {
	case i == 0:
		out = append(out, "A session opens quietly, in a well supported position.")
	case it.Phase == "close":
		out = append(out, "A session ends quietly.")
	case it.Phase == "upright" && p.StandingFirst:
		out = append(out, "Work on two feet comes first, while the client is fresh.")
	case p.Items[i-1].Phase != it.Phase:
		out = append(out, map[exercise.Phase]string{"mobilise": "Easy movement comes before work.", "activate": "The deep muscles are woken before they carry.",
			"strengthen": "The work stands in the middle, when the body is ready for it.", "upright": "What was won lying is taken up to standing."}[it.Phase])
	}
	if i > 0 && p.Items[i-1].EndPosition == it.Position {
		out = append(out, "It goes on in the same position, so nothing is lost in moving.")
	} else if i > 0 {
		out = append(out, fmt.Sprintf("It changes from %s to %s, and all that is done so comes together.", p.Items[i-1].EndPosition.Words(), it.Position.Words()))
	}
	block, hardest := 0, true
	for k, other := range p.Items {
		if other.Phase == it.Phase && other.Position == it.Position {
			block++
			hardest = hardest && (k == i || other.Demand < it.Demand)
		}
	}
	if block > 2 && hardest && it.Demand > 2 {
		out = append(out, "It is the most demanding of its block, so it comes third or fourth.")
	}
	return slices.DeleteFunc(out, func(s string) bool { return s == "" })
}

// sums shows how work, rest and change of an item come about.
func (p Plan) sums(r Request, i int) []Sum {
	it := p.Items[i]
	out := []Sum{{workWords(it.Dose, it.Sides, p.Breath), it.SecondsWork}}
	if it.SecondsRest > 0 {
		words := "one reset breath"
		if sets, turns := rests(it.Phase, it.Dose, len(it.Sides)); sets+turns > 0 {
			between := map[bool]string{true: "sets and sides", false: "sets"}[turns > 0]
			words = fmt.Sprintf("%s of %s s between %s", times(sets+turns, "rest"), figure(it.SecondsRest/float64(sets+turns)), between)
		}
		out = append(out, Sum{words, it.SecondsRest})
	}
	from := standingPosition
	if i > 0 {
		from = p.Items[i-1].EndPosition
	}
	change := p.mover().change(from, it.Position)
	words := fmt.Sprintf("setting up, %d s", setUpSeconds)
	if from != it.Position {
		words += fmt.Sprintf(", and from %s to %s", from.Words(), it.Position.Words())
		if isFloor(p.Place, from) != isFloor(p.Place, it.Position) {
			words += fmt.Sprintf(", %d s of it for the floor", transferSeconds)
		}
	}
	if p.Slow && from != it.Position {
		words += ", half as long again for whoever is slow on their feet"
	}
	out = append(out, Sum{words, change})
	if n := len(it.Sides); n > 1 {
		out = append(out, Sum{"changing sides", SideSeconds * float64(n-1)})
	}
	if i == len(p.Items)-1 {
		if up := p.ComingUp(it.EndPosition); up > 0 {
			out = append(out, Sum{"coming up to standing", up})
		}
	}
	return out
}

func times(n int, word string) string {
	if n == 1 {
		return "one " + word
	}
	return fmt.Sprintf("%d %ss", n, word)
}

func figure(v float64) string { return fmt.Sprintf("%g", math.Round(v*10)/10) }

// workWords writes the work of a dose as a product.
func workWords(d exercise.Dose, sides []string, breath float64) string {
	var parts []string
	for n, side := range d.Sides(len(sides)) {
		if n > 0 && len(d.BySide) == 0 {
			break
		}
		words := ""
		switch side.Kind {
		case exercise.HoldBreaths:
			words = fmt.Sprintf("(%d breaths + 1 to come into the shape) × %s s", side.Breaths, figure(breath))
		case exercise.Breaths:
			words = fmt.Sprintf("%d breaths × %s s", side.Breaths, figure(breath))
		case exercise.AlternatingSeconds:
			words = figure(side.Seconds) + " s"
		default:
			total := 0
			var sets []string
			for _, k := range side.SetSizes() {
				total += k
				sets = append(sets, fmt.Sprint(k))
			}
			count := sets[0]
			if len(sets) > 1 {
				count = "(" + strings.Join(sets, " + ") + ")"
			}
			what := "times"
			if side.Kind == exercise.HoldSeconds {
				what = "holds"
			}
			if len(side.SecondsByRepetition) > 1 {
				parts = append(parts, fmt.Sprintf("%s holds, growing", count))
				continue
			}
			words = fmt.Sprintf("%s %s × %s s", count, what, figure(side.Seconds))
			parts = append(parts, words)
			continue
		}
		if sets := len(side.SetSizes()); sets > 1 {
			words = fmt.Sprintf("%d × %s", sets, words)
		}
		parts = append(parts, words)
	}
	if len(d.BySide) > 0 {
		return "left " + parts[0] + ", right " + parts[1]
	}
	if len(sides) > 1 {
		return parts[0] + " × 2 sides"
	}
	return parts[0]
}

// Possibility is a change that would make more possible, and what.
type Possibility struct {
	Change string   // "with a chair"
	Gains  []string // names of exercises, the ones that count most for this client first
	More   int      // how many in all
}

// askedFor is the equipment whose lack is worth telling about.
var askedFor = []string{"chair", "pillow", "band", "stick", "rail", "bench"}

const mostGains = 4

// Possible says what would become possible with a chair, ten more minutes or a
// clearance: each change alone, and the exercises it would open.
func (p Plan) Possible(r Request, lib Library) []Possibility {
	r = r.from(lib)
	var out []Possibility
	add := func(change string, gained []*exercise.Variant) {
		slices.SortStableFunc(gained, func(a, b *exercise.Variant) int {
			x, y := r.weight(r.ranked(a)[0]), r.weight(r.ranked(b)[0])
			switch {
			case x > y:
				return -1
			case x < y:
				return 1
			}
			return 0
		})
		o := Possibility{Change: change, More: len(gained)}
		seen := map[string]bool{}
		for _, v := range gained {
			if len(o.Gains) < mostGains && !seen[v.Family] {
				seen[v.Family] = true
				o.Gains = append(o.Gains, v.Name)
			}
		}
		if o.More > 0 {
			out = append(out, o)
		}
	}
	kit := r.kit()
	for _, e := range askedFor {
		if slices.Contains(kit, e) || slices.Contains(r.Place.OwnEquipment(), e) {
			continue
		}
		var gained []*exercise.Variant
		for _, v := range lib.Variants {
			if !Available(v, r.Place, kit) && Available(v, r.Place, append(slices.Clone(kit), e)) && r.judge(v).Verdict != exercise.Avoid && r.judge(v).Lacks == "" {
				gained = append(gained, v)
			}
		}
		add("with a "+strings.ReplaceAll(e, "_", " "), gained)
	}
	if r.Minutes <= 110 {
		longer := r
		longer.Minutes += 10
		var gained []*exercise.Variant
		for _, it := range Best(longer, lib).Items {
			if !slices.ContainsFunc(p.Items, func(k Item) bool { return k.Family == it.Family }) {
				if v := r.find(it.Variant); v != nil {
					gained = append(gained, v)
				}
			}
		}
		if add("with ten more minutes", gained); len(gained) == 0 {
			out = append(out, Possibility{Change: "with ten more minutes", Gains: []string{"fuller doses of what is there"}, More: 1})
		}
	}
	r.cleared(add)
	return out
}

// cleared adds what one clinician's word on one rule would open: variants that
// break that rule and no other.
func (r Request) cleared(add func(string, []*exercise.Variant)) {
	by := map[string][]*exercise.Variant{}
	text := map[string]string{}
	var rules []string
	for _, v := range r.lib.Variants {
		if !r.available(v) {
			continue
		}
		j := r.judge(v)
		if j.Verdict != exercise.Avoid {
			continue
		}
		rule := j.Reasons[0].Rule
		if slices.ContainsFunc(j.Reasons, func(k limit.Reason) bool { return k.Rule != rule }) || strings.HasPrefix(rule, "tolerates.") || strings.HasPrefix(rule, "pain.") {
			continue
		}
		if by[rule] == nil {
			rules = append(rules, rule)
		}
		by[rule], text[rule] = append(by[rule], v), j.Reasons[0].Text
	}
	slices.SortStableFunc(rules, func(a, b string) int { return len(by[b]) - len(by[a]) })
	for _, rule := range rules[:min(2, len(rules))] {
		add(fmt.Sprintf("if the clinician loosened this: “%s”", text[rule]), by[rule])
	}
}
