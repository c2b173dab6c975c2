package exercise

import (
	"fmt"
	"slices"
)

// Complaint is what to do, in order, when an exercise is felt in a place where it should
// not be: a cue that resets, then sharing the load, a setting, an easier rung, and at
// last another exercise for the same purpose.
type Complaint struct {
	Where string          `json:"where"`
	Steps []ComplaintStep `json:"steps"`
}

// ComplaintStep is one thing to try.
type ComplaintStep struct {
	Do   string `json:"do"` // cue, adapt, setting, rung or swap
	Text string `json:"text"`
	To   string `json:"to,omitempty"` // the adaptation, or the exercise
}

// Places of the body that a complaint may be of.
var ComplaintPlaces = []string{
	"neck",
	"upper_back",
	"low_back",
	"seat",
	"hip",
	"groin",
	"thigh",
	"knee",
	"calf",
	"foot",
	"shoulder",
	"elbow",
	"wrist",
	"hand",
	"head",
	"chest",
}

// ComplaintRule is what is tried for one place, for the exercises that load it.
type ComplaintRule struct {
	Where string     `yaml:"where"`
	When  []Load     `yaml:"when"` // any of them
	Steps []PathStep `yaml:"steps"`
}

// Load is a quantity from which an exercise is felt in a place.
type Load struct {
	Quantity string  `yaml:"quantity"`
	From     float64 `yaml:"from"`
}

// PathStep is a step for the exercises that it fits: all where nothing is said. Of cues
// the first that fits is taken, so that the particular stand before the general.
type PathStep struct {
	Do        string     `yaml:"do"`
	Text      string     `yaml:"text"`
	With      string     `yaml:"with"`      // the adaptation
	Families  []string   `yaml:"families"`  // of these alone
	Positions []Position `yaml:"positions"` // likewise
	Surface   bool       `yaml:"surface"`   // only where hands lean on a surface that is set
}

// stepKinds are what a step may do, in the order that a path has them.
var stepKinds = []string{"cue", "adapt", "setting", "rung", "swap"}

// Check says what is wrong with a rule; the error names the field.
func (r ComplaintRule) Check(families []string) error {
	if !slices.Contains(ComplaintPlaces, r.Where) {
		return fmt.Errorf("where: %q is not one of %v", r.Where, ComplaintPlaces)
	}
	if len(r.When) == 0 {
		return fmt.Errorf("when: at least one quantity is needed")
	}
	for i, w := range r.When {
		if k, ok := KeyOf(w.Quantity); !ok || k.Quantity.Kind == Word {
			return fmt.Errorf("when[%d].quantity: %q is not measured", i, w.Quantity)
		} else if !(w.From > 0) {
			return fmt.Errorf("when[%d].from: expected above 0, found %g", i, w.From)
		}
	}
	last := 0
	for i, s := range r.Steps {
		at := func(field, format string, args ...any) error {
			return fmt.Errorf("steps[%d].%s: %s", i, field, fmt.Sprintf(format, args...))
		}
		kind := slices.Index(stepKinds, s.Do)
		switch {
		case kind < 0:
			return at("do", "%q is not one of %v", s.Do, stepKinds)
		case kind < last:
			return at("do", "%s comes before %s", s.Do, stepKinds[last])
		case (s.Do == "cue" || s.Do == "setting") && s.Text == "":
			return at("text", "is missing")
		case (s.Do == "adapt") != slices.Contains(AdaptationIDs, s.With):
			return at("with", "%q; expected one of %v, for adapt alone", s.With, AdaptationIDs)
		}
		for _, f := range s.Families {
			if !slices.Contains(families, f) {
				return at("families", "there is no family %q", f)
			}
		}
		for _, p := range s.Positions {
			if p.Rank() < 0 {
				return at("positions", "%q is not one of %v", p, Positions)
			}
		}
		last = kind
	}
	for _, must := range []string{"cue", "rung", "swap"} {
		if !slices.ContainsFunc(r.Steps, func(s PathStep) bool { return s.Do == must }) {
			return fmt.Errorf("steps: there is no %s", must)
		}
	}
	return nil
}

// load is how much a variant asks of the place: the largest share of what it is felt from.
func (r ComplaintRule) load(v *Variant) float64 {
	most := 0.0
	for _, w := range r.When {
		most = max(most, v.Plain().Measured.Number(w.Quantity)/w.From)
	}
	return most
}

func (s PathStep) fits(v *Variant) bool {
	return (len(s.Families) == 0 || slices.Contains(s.Families, v.Family)) && (len(s.Positions) == 0 || slices.Contains(s.Positions,
		v.Position)) &&
		(!s.Surface || v.Settings.SurfaceCM > 0) &&
		(s.With == "" || slices.Contains(v.MayAdapt, s.With))
}

// Path is what to try when a variant is felt in the place; ok is false where it does not
// load it. An easier rung asks less of the place; what stands in for it asks less than
// is felt at all, or at the least less than it, and keeps its first purpose.
func (r ComplaintRule) Path(v *Variant, all []*Variant) (c Complaint, ok bool) {
	load := r.load(v)
	if load < 1 {
		return c, false
	}
	c.Where = r.Where
	cued := false
	for _, s := range r.Steps {
		if !s.fits(v) {
			continue
		}
		switch s.Do {
		case "cue":
			if !cued {
				c.Steps = append(c.Steps, ComplaintStep{Do: "cue", Text: s.Text})
			}
			cued = true
		case "adapt":
			text := s.Text
			if text == "" {
				text = adaptedWords[s.With].cue
			}
			c.Steps = append(c.Steps, ComplaintStep{Do: "adapt", Text: text, To: s.With})
		case "setting":
			c.Steps = append(c.Steps, ComplaintStep{Do: "setting", Text: s.Text})
		case "rung":
			if w := r.lighter(v, all, load, func(w *Variant) bool { return w.Family == v.Family }); w != nil {
				c.Steps = append(c.Steps, ComplaintStep{Do: "rung", Text: "Easier: " + w.Name + ".", To: w.ID})
			}
		case "swap":
			if w := r.lighter(v, all, load, func(w *Variant) bool { return w.Family != v.Family }); w != nil {
				c.Steps = append(c.Steps, ComplaintStep{Do: "swap", Text: w.Name + " instead, " + w.Position.Words() + ".", To: w.ID})
			}
		}
	}
	return c, true
}

// lighter is the variant, of those allowed, that keeps the first purpose and asks less of
// the place: first of all one that leads here, or that the variant names as its swap; then
// one in which the place is not felt, in another position, for as many of the same
// purposes and with a like demand.
func (r ComplaintRule) lighter(v *Variant, all []*Variant, load float64, allowed func(*Variant) bool) *Variant {
	var best *Variant
	var bestRank []float64
	for _, w := range all {
		their := r.load(w)
		if w == v || !allowed(w) || their >= load || !slices.Contains(w.Purposes, v.Purposes[0]) {
			continue
		}
		not := func(b bool) float64 { return map[bool]float64{false: 1}[b] }
		near := slices.Contains(w.NextIDs(), v.ID) || slices.Contains(v.Swaps, w.ID)
		shared := 0.0
		for _, p := range w.Purposes {
			if slices.Contains(v.Purposes, p) {
				shared++
			}
		}
		apart := v.Plain().Measured.Demand() - w.Plain().Measured.Demand()
		rank := []float64{
			not(their < 1),
			not(near),
			not(w.Position != v.Position || w.Family == v.Family),
			-shared,
			max(apart, -2*apart),
			their,
		}
		if best == nil || slices.Compare(rank, bestRank) < 0 {
			best, bestRank = w, rank
		}
	}
	return best
}

// Complaints are the paths of a variant by the rules, in their order.
func Complaints(rules []ComplaintRule, v *Variant, all []*Variant) []Complaint {
	var out []Complaint
	for _, r := range rules {
		if c, ok := r.Path(v, all); ok {
			out = append(out, c)
		}
	}
	return out
}
