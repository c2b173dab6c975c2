// Package tell explains a session: why this rung, why at this point, how the seconds come
// about, and what would become possible.
package tell

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
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
func Explain(p plan.Plan, r plan.Request, lib plan.Library, i int) Explanation {
	d := plan.DeskOf(r, lib)
	if i < 0 || i >= len(p.Items) {
		return Explanation{}
	}
	return Explanation{Rung: append(whyRung(d, p.Items[i]), whySettings(d, p.Items[i])...), Point: whyPoint(p, i), Sums: sums(p, i)}
}

func whyRung(d plan.Desk, it plan.Item) []string {
	var out []string
	easier, harder := plan.Neighbours(d.Library(), it.Variant)
	v := d.Find(it.Variant)
	switch {
	case v == nil:
		return []string{"It is no longer in the library; the plan keeps it as it was."}
	case d.Limits.Irritability > limit.Calm:
		out = append(out, "Pain today asks for an easier step, shorter holds and nothing new.")
	case d.Recorded(v):
		out = append(out, "It is the step on record.")
	case len(easier) == 0:
		out = append(out, "It is where its ladder begins; no step is on record yet.")
	default:
		out = append(out, "No step is on record; this one is inside the limits and serves what is wanted.")
	}
	for _, id := range harder {
		w := d.Find(id)
		switch {
		case w == nil:
		case !d.Available(w):
			out = append(out, fmt.Sprintf("The next, %s, %s.", lower(w.Name), d.Unavailable(w)))
		default:
			if j := d.Judge(w); j.Verdict == exercise.Avoid {
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

func whyPoint(p plan.Plan, i int) []string {
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
		out = append(out,
			map[exercise.Phase]string{"mobilise": "Easy movement comes before work.", "activate": "The deep muscles are woken before " +
				"they carry.",
				"strengthen": "The work stands in the middle, when the body is ready for it.", "upright": "What was won lying is " +
					"taken up to standing."}[it.Phase],
		)
	}
	if i > 0 && p.Items[i-1].EndPosition == it.Position {
		out = append(out, "It goes on in the same position, so nothing is lost in moving.")
	} else if i > 0 {
		out = append(out,
			fmt.Sprintf(
				"It changes from %s to %s, and all that is done so comes together.",
				p.Items[i-1].EndPosition.Words(),
				it.Position.Words(),
			),
		)
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
func sums(p plan.Plan, i int) []Sum {
	it := p.Items[i]
	out := []Sum{{workWords(it.Dose, it.Sides, p.Breath), it.SecondsWork}}
	if it.SecondsRest > 0 {
		words := "one reset breath"
		if sets, turns := it.RestsBetween(); sets+turns > 0 {
			between := map[bool]string{true: "sets and sides", false: "sets"}[turns > 0]
			words = fmt.Sprintf("%s of %s s between %s", times(sets+turns, "rest"), figure(it.SecondsRest/float64(sets+turns)), between)
		}
		out = append(out, Sum{words, it.SecondsRest})
	}
	from := plan.Standing
	if i > 0 {
		from = p.Items[i-1].EndPosition
	}
	change := p.Change(from, it.Position)
	words := fmt.Sprintf("setting up, %d s", plan.SetUpSeconds)
	if from != it.Position {
		words += fmt.Sprintf(", and from %s to %s", from.Words(), it.Position.Words())
		if plan.OnFloor(p.Place, from) != plan.OnFloor(p.Place, it.Position) {
			words += fmt.Sprintf(", %d s of it for the floor", plan.TransferSeconds)
		}
	}
	if p.Slow && from != it.Position {
		words += ", half as long again for whoever is slow on their feet"
	}
	out = append(out, Sum{words, change})
	if n := it.Dose.SideChanges(len(it.Sides)); n > 0 {
		out = append(out, Sum{"changing sides", plan.SideSeconds * float64(n)})
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
			each := figure(side.Seconds) + " s"
			if side.StaySeconds > 0 {
				each = fmt.Sprintf("(%s + a stay of %s s)", figure(side.Seconds), figure(side.StaySeconds))
			}
			words = fmt.Sprintf("%s %s × %s", count, what, each)
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
func Possible(p plan.Plan, r plan.Request, lib plan.Library) []Possibility {
	d := plan.DeskOf(r, lib)
	var out []Possibility
	add := func(change string, gained []*exercise.Variant) {
		slices.SortStableFunc(gained, func(a, b *exercise.Variant) int {
			x, y := d.Weight(d.Ranked(a)[0]), d.Weight(d.Ranked(b)[0])
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
	kit := d.Kit()
	for _, e := range askedFor {
		if slices.Contains(kit, e) || slices.Contains(r.Place.OwnEquipment(), e) {
			continue
		}
		var gained []*exercise.Variant
		for _, v := range lib.Variants {
			if !plan.Available(v, r.Place, kit) && plan.Available(v, r.Place, append(slices.Clone(kit), e)) &&
				d.Judge(v).Verdict != exercise.Avoid &&
				d.Judge(v).Lacks == "" {
				gained = append(gained, v)
			}
		}
		add("with a "+strings.ReplaceAll(e, "_", " "), gained)
	}
	if r.Minutes <= 110 {
		longer := r
		longer.Minutes += 10
		var gained []*exercise.Variant
		for _, it := range plan.Best(longer, lib).Items {
			if !slices.ContainsFunc(p.Items, func(k plan.Item) bool { return k.Family == it.Family }) {
				if v := d.Find(it.Variant); v != nil {
					gained = append(gained, v)
				}
			}
		}
		if add("with ten more minutes", gained); len(gained) == 0 {
			out = append(out, Possibility{Change: "with ten more minutes", Gains: []string{"fuller doses of what is there"}, More: 1})
		}
	}
	cleared(d, add)
	return out
}

// cleared adds what one clinician's word on one rule would open: variants that
// break that rule and no other.
func cleared(d plan.Desk, add func(string, []*exercise.Variant)) {
	by := map[string][]*exercise.Variant{}
	text := map[string]string{}
	var rules []string
	for _, v := range d.Library().Variants {
		if !d.Available(v) {
			continue
		}
		j := d.Judge(v)
		if j.Verdict != exercise.Avoid {
			continue
		}
		rule := j.Reasons[0].Rule
		if slices.ContainsFunc(j.Reasons, func(k limit.Reason) bool { return k.Rule != rule }) || strings.HasPrefix(rule, "tolerates.") ||
			strings.HasPrefix(rule, "pain.") {
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

// whySettings says which of the heights there are is used and what follows from it.
func whySettings(d plan.Desk, it plan.Item) []string {
	v := d.Find(it.Variant)
	if v == nil {
		return nil
	}
	var out []string
	if it.SurfaceShare > 0 {
		by := "as usual for this client’s height"
		switch is, usual := it.SurfaceShare, v.SurfaceShare(); {
		case is > usual+limit.SurfaceSame/2:
			by = "higher than usual for this client’s height, which makes it lighter"
		case is < usual-limit.SurfaceSame/2:
			by = "lower than usual for this client’s height, which makes it harder"
		}
		out = append(out,
			fmt.Sprintf(
				"Of the surfaces there are, the one of %g cm is used: %s. The movement is measured and judged there.",
				it.Settings.SurfaceCM,
				by,
			),
		)
	}
	var changed []string
	if it.Settings.Band != v.Settings.Band {
		changed = append(changed, it.Settings.Band+" band")
	}
	if it.Settings.WeightKG != v.Settings.WeightKG {
		changed = append(changed, fmt.Sprintf("weight of %g kg", it.Settings.WeightKG))
	}
	if it.Settings.PillowCM != v.Settings.PillowCM {
		changed = append(changed, fmt.Sprintf("pillow of %g cm", it.Settings.PillowCM))
	}
	if len(changed) > 0 {
		out = append(out, "Of what there is, the "+strings.Join(changed, " and the ")+" comes nearest.")
	}
	return out
}
