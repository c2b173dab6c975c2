package readiness

import (
	"fmt"
	"slices"
	"strings"

	"restbend/core/limit"
)

const (
	ownSource  = "common practice"
	painSource = "Thomeé, Phys Ther 1997, pain monitoring (from memory); figures are cautious choices of this product"
)

// tighten puts what the day allows into the limits of a session, and says it as caps. A
// verdict knows neither.
func (k *assessment) tighten() {
	h, m := k.set.HeightCM, k.set.MassKG
	var rows []limit.Limit
	if k.gentle() {
		because := limit.Reason{Rule: "readiness.gentle", Text: k.Gentle.Reason, Source: k.Gentle.Source}
		demand := k.Gentle.Demand
		if k.sore() {
			demand = k.Gentle.SoreDemand
		}
		k.out.Caps.Demand = &demand
		rows = append(rows, limit.RowsOf(k.Gentle.Limits, "", true, because, h, m)...)
		rows = append(rows, limit.RowsOf([]limit.RuleLimit{{Quantity: "demand", Max: &demand}}, "", false, because, h, m)...)
	}
	for _, p := range k.out.BarredParts {
		rule := k.part(p.Where)
		if rule == nil {
			continue
		}
		because := limit.Reason{Rule: "readiness.part", Source: painSource,
			Text: fmt.Sprintf("The %s hurts: nothing loads it for the rest of the day.", p.Words())}
		rows = append(rows, limit.RowsOf(rule.Limits, p.Side, true, because, h, m)...)
	}
	for _, most := range k.set.Session() {
		switch most.Count {
		case limit.StandingSeconds:
			k.out.Caps.StandingSeconds = &most.Max
		case limit.Minutes:
			k.out.Caps.Minutes = &most.Max
		}
	}
	if k.act != Judge {
		k.set = k.set.With(rows, nil)
	}
}

// Words name a part with its side.
func (p Part) Words() string {
	return strings.TrimSpace(p.Side + " " + strings.ReplaceAll(p.Where, "_", " "))
}

// gentle says whether the gentle limits hold: on a gentle day, and wherever the day is no
// better than that, so that what is given all the same stays inside them.
func (k *assessment) gentle() bool {
	if k.act == Ahead && k.out.Status == Stop { // it begins another day
		return false
	}
	return slices.Index(Statuses, k.out.Status) <= slices.Index(Statuses, Gentle)
}

// sore says whether it is pain that makes the day gentle.
func (k *assessment) sore() bool {
	return k.hurts.score >= gentlePain || slices.ContainsFunc(k.marks,
		func(m Mark) bool { return m.Kind == "pain" && m.Score != nil && *m.Score >= gentlePain })
}

// bar adds a part that nothing may load.
func (k *assessment) bar(p Part) {
	if p.Where != "" && !slices.Contains(k.out.BarredParts, p) {
		k.out.BarredParts = append(k.out.BarredParts, p)
	}
}

// cautions are what bears on the client whatever is done, the most important first: what
// refers or stops, raised risks, conditions that pull two ways, what somebody cleared.
func (k *assessment) cautions() {
	say := func(text string) {
		if text != "" && !slices.Contains(k.out.Cautions, text) {
			k.out.Cautions = append(k.out.Cautions, text)
		}
	}
	for _, b := range k.out.Because {
		say(b.Text)
	}
	for _, r := range k.set.Risks {
		if r.Level == "raised" && r.Within == "" {
			say(r.Because)
		}
	}
	for _, text := range k.set.Conflicts {
		say(text)
	}
	for _, f := range k.client.FlagsCleared {
		if flag, known := limit.FindRedFlag(f.Flag); known && slices.Contains(k.client.RedFlags, f.Flag) {
			said := ""
			if f.Said != "" {
				said = ": “" + f.Said + "”"
			}
			say(fmt.Sprintf("Warning sign, cleared by %s on %s%s: %s. If it comes back, stop.", f.By, f.On, said, flag.Name))
		}
	}
	for _, x := range k.set.Cleared {
		why := x.Rule
		if r := k.Conditions.Rule(x.Rule); r != nil {
			why = r.Reason
		}
		say(fmt.Sprintf("Loosened: “%s”, cleared by %s on %s.", why, x.By, x.On))
	}
}

// tellOf says who has to hear of a sign.
func (k *assessment) tellOf(when, name string) {
	switch when {
	case limit.Now:
		k.tell("emergency", "now", fmt.Sprintf("Ring %s now, and say: %s. Stay with the client until help is there.", k.number(), name))
	case limit.SameDay:
		k.tell("doctor", "today", fmt.Sprintf("A doctor has to see it today: %s.", name))
	default:
		k.tell("doctor", "before_next", fmt.Sprintf("A doctor looks at it before the next session: %s.", name))
	}
}

func (k *assessment) number() string {
	if k.Emergency == "" {
		return "the emergency number"
	}
	return "the emergency number, " + k.Emergency + ","
}
