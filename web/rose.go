package web

import (
	"fmt"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/draw"
)

// Ordinary ranges of the rose's six directions in degrees: low back forward,
// back and sideways, upper back turning. AAOS and AMA handbooks (from memory).
const (
	ordinaryForward = 60
	ordinaryBack    = 25
	ordinarySide    = 25
	ordinaryTurn    = 32
)

// clientRose is a rose with the words beside its petals.
type clientRose struct {
	draw.Rose
	Labels []roseLabel
}

type roseLabel struct{ Name, Figure, Class string }

// roseOf draws a client's limits and what a measured movement uses. Of the two
// regions of the back the stricter limit and the larger use are shown. A limit
// that only holds under load shows where the movement breaks it, and else in
// words alone.
func roseOf(set limit.Set, used exercise.Measured, c limit.Client) clientRose {
	loaded := map[string]float64{} // by direction
	petal := func(name string, ordinary float64, quantities []string) draw.Petal {
		p := draw.Petal{Ordinary: ordinary, Allowed: ordinary}
		loaded[name] = ordinary
		for l := range set.Rows() {
			figure, ok := l.Number()
			if !ok || l.With != nil || !slices.Contains(quantities, l.Quantity) {
				continue
			}
			broken := l.When != "any" && used.Number(l.Quantity+"_"+string(l.When)) > figure+0.05
			if l.When == "loaded" {
				loaded[name] = min(loaded[name], figure)
			}
			if l.When == "any" || broken {
				p.Allowed = min(p.Allowed, figure)
				p.Shut = p.Shut || l.Bar
			}
		}
		for _, q := range quantities {
			if v := used.Number(q); v > p.Used {
				p.Used = v
			}
		}
		return p
	}
	r := clientRose{Rose: draw.Rose{
		Forward:   petal("forward", ordinaryForward, []string{"lumbar_flexion", "thoracic_flexion"}),
		Back:      petal("back", ordinaryBack, []string{"lumbar_extension", "thoracic_extension"}),
		Left:      petal("bend left", ordinarySide, []string{"lumbar_side_bend_left", "thoracic_side_bend_left"}),
		Right:     petal("bend right", ordinarySide, []string{"lumbar_side_bend_right", "thoracic_side_bend_right"}),
		TurnLeft:  petal("turn left", ordinaryTurn, []string{"thoracic_rotation_left"}),
		TurnRight: petal("turn right", ordinaryTurn, []string{"thoracic_rotation_right"}),
	}}
	for _, m := range c.Measures {
		switch m.ID {
		case "lumbar_flexion_deg":
			r.Forward.Measured = m.Value
		case "lumbar_extension_deg":
			r.Back.Measured = m.Value
		}
	}
	for _, l := range []struct {
		name, class string
		p           draw.Petal
	}{{"forward", "forward", r.Forward}, {"back", "back", r.Back}, {"bend left", "left", r.Left}, {"bend right", "right", r.Right},
		{"turn left", "turn-left", r.TurnLeft}, {"turn right", "turn-right", r.TurnRight}} {
		figure := fmt.Sprintf("to %.0f°", l.p.Allowed)
		switch {
		case l.p.Shut:
			figure = fmt.Sprintf("shut past %.0f°", l.p.Allowed)
		case l.p.Allowed >= l.p.Ordinary:
			figure = "free"
		}
		if loaded[l.name] < l.p.Allowed && l.p.Used <= 0.5 {
			figure += fmt.Sprintf(", %.0f° loaded", loaded[l.name])
		}
		if l.p.Used > 0.5 {
			figure += fmt.Sprintf(", asks %.0f°", l.p.Used)
		}
		r.Labels = append(r.Labels, roseLabel{l.name, figure, l.class})
	}
	return r
}

// text says the whole rose in a sentence, for who cannot see it.
func (r clientRose) text() string {
	var out []string
	for _, l := range r.Labels {
		out = append(out, l.Name+" "+l.Figure)
	}
	return "What the back may do: " + strings.Join(out, "; ")
}
