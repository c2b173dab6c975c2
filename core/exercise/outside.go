package exercise

import (
	"math"
	"slices"
	"strings"

	"restbend/core/body"
)

// What things pull with. A band's newtons at twice its length, by its strength; a spring
// likewise; a ring or ball that is squeezed pushes back with what is asked of it. The
// figures are common practice, of bands and springs as they are sold for such work.
var bandNewtons = map[string]float64{"light": 20, "medium": 35, "strong": 55}

const (
	usualBand   = "light" // where nothing is said
	usualTaut   = 1.25    // times its slack length that a band is where it is shortest in a movement
	ringNewtons = 20.0
	usualKG     = 1.0 // of a weight where nothing is said
	// usualNewtons is the weight of the body that the shares are of. Somebody lighter
	// feels the same band more: a fifth of the weight more for a fifth less.
	usualNewtons = 68 * 9.81

	overheadKG      = 1.0  // from more than this over the shoulder
	overheadNewtons = 15.0 // or a pull of more
)

// outsides prepares the pulls of what is held over a movement: a band is slack a little
// short of its shortest length.
type outsides struct {
	m        Movement
	shortest []float64 // by held thing, in body heights
}

// outsideOf is ready for the frames of a movement.
func outsideOf(m Movement, frames []Frame) *outsides {
	o := &outsides{m, make([]float64, len(m.Held))}
	for i, h := range m.Held {
		o.shortest[i] = math.Inf(1)
		for j := range frames {
			o.shortest[i] = math.Min(o.shortest[i], length(h, &frames[j].Figure))
		}
	}
	return o
}

// length is how long a band is: from its anchor, or between the parts that hold it.
func length(h Held, f *body.Figure) float64 {
	parts := gripped(h.At)
	switch {
	case len(parts) == 0:
		return 1
	case h.Anchor != nil:
		return h.Anchor.Sub(f.Grip(parts[0])).Len()
	case len(parts) > 1:
		return f.Grip(parts[0]).Sub(f.Grip(parts[1])).Len()
	}
	return 1
}

// gripped are the parts as forces know them: knees is both.
func gripped(parts []body.Part) []body.Part {
	var out []body.Part
	for _, p := range parts {
		if name := strings.TrimSuffix(string(p), "s"); p == "knees" || p == "hands" || p == "feet" {
			if p == "feet" {
				name = "foot"
			}
			out = append(out, body.Part(name+"_left"), body.Part(name+"_right"))
			continue
		}
		out = append(out, p)
	}
	return out
}

// newtons is what a thing pulls with at an instant; negative where it pushes apart.
func (o *outsides) newtons(i int, f *body.Figure) float64 {
	h := o.m.Held[i]
	switch h.Kind {
	case "weight":
		kg := o.m.With.WeightKG
		if kg == 0 {
			kg = usualKG
		}
		return kg * 9.81
	case "band":
		strength := o.m.With.Band
		if strength == "" {
			strength = usualBand
		}
		taut := usualTaut
		if h.Taut > 0 {
			taut = h.Taut
		}
		slack := o.shortest[i] / taut
		if slack <= 0 || math.IsInf(slack, 0) {
			return 0
		}
		return bandNewtons[strength] * math.Max(0, length(h, f)/slack-1)
	case "ring":
		return -ringNewtons
	}
	return 0
}

// pulls are the outside forces at an instant. What is in the picture of one pose only is
// felt in all: it is in the hands throughout.
func (o *outsides) pulls(f *body.Figure) []body.Pull {
	var out []body.Pull
	for i, h := range o.m.Held {
		share, parts := o.newtons(i, f)/usualNewtons, gripped(h.At)
		if share == 0 || len(parts) == 0 {
			continue
		}
		switch {
		case h.Kind == "weight":
			for _, p := range parts {
				out = append(out, body.Pull{Part: p, Share: share})
			}
		case h.Anchor != nil:
			for _, p := range parts { // held with both hands, each has its half
				out = append(out, body.Pull{Part: p, To: h.Anchor, Share: share / float64(len(parts))})
			}
		case len(parts) > 1:
			out = append(out, body.Pull{Part: parts[0], Other: parts[1], Share: share})
		}
	}
	return out
}

// overhead says whether a hand above the top of the head holds more than little.
func (o *outsides) overhead(f *body.Figure) bool {
	for i, h := range o.m.Held {
		n := o.newtons(i, f)
		heavy := h.Kind == "weight" && n > overheadKG*9.81+1e-9 || h.Kind == "band" && n > overheadNewtons
		if heavy && slices.ContainsFunc(gripped(h.At), func(p body.Part) bool {
			return strings.HasPrefix(string(p), "hand") && f.Grip(p).Z > f.Skull().At.Z+f.Skull().Radius && f.Chest.U.Z > 0.5
		}) {
			return true
		}
	}
	return false
}
