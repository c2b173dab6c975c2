package draw

import "fmt"

// Theme is a set of colours.
type Theme string

const (
	Light Theme = "light"
	Dark  Theme = "dark"
)

// palette holds every colour that drawings use, by its meaning.
type palette struct {
	paper, sheet, wash, hairline, edge string
	ink, second                        string
	body, far, working, medium         string
	allowed, gold, plum, plumGround    string
	furniture, ghost                   string
	fade                               string // colour of ribbon still to come
	pale                               string // what nothing limits, on the reach chart
}

var palettes = map[Theme]palette{
	Light: {
		paper: "#F2ECDF", sheet: "#FFFCF5", wash: "#E7DDCA", hairline: "#D5C9B2", edge: "#857A67",
		ink: "#1D2A3F", second: "#4B566B",
		body: "#B9C4D6", far: "#D9DEE7", working: "#647BA5", medium: "#8EA0C0",
		allowed: "#38507A", gold: "#E2A02C", plum: "#7D2548", plumGround: "#F5E3E7",
		furniture: "#EADFC9", ghost: "#F3F0E8", fade: "#E2E7F0", pale: "#D3DAE6",
	},
	Dark: {
		paper: "#12161D", sheet: "#1A2029", wash: "#262D38", hairline: "#333C49", edge: "#7C8798",
		ink: "#F3ECDF", second: "#B9C0CB",
		body: "#8698B6", far: "#4C5A73", working: "#D3DEEF", medium: "#A9BAD8",
		allowed: "#5570A5", gold: "#F0B248", plum: "#F0A3BB", plumGround: "#3B1F2B",
		furniture: "#333C49", ghost: "#1E2530", fade: "#2B3340", pale: "#333F52",
	},
}

// bendColour goes from ink by brown to gold as a vertebra leaves neutral; t is
// the share of the ordinary range, 0 to 1. In the dark the neutral spine is
// drawn in the dark ground colour, since it lies on a light body.
func (p palette) bendColour(t float64) string {
	neutral := p.ink
	if p.ink == palettes[Dark].ink {
		neutral = p.paper
	}
	switch {
	case t < 0.12:
		return neutral
	case t < 0.3:
		return "#7A5316"
	case t < 0.5:
		return "#B0761C"
	}
	return p.gold
}

// tag formats one SVG element.
func tag(format string, args ...any) string { return fmt.Sprintf(format, args...) }
