package web

import (
	"fmt"
	"html/template"
	"math"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/draw"
)

// ordinary ranges of the spine by region, in degrees, for one side: leaning, turning,
// hollowing and rounding. AAOS and AMA handbooks; turning of the low back: half of what
// White and Panjabi give for both sides together (all from memory).
var ordinary = map[string][4]float64{
	"cervical": {45, 80, 60, 50},
	"thoracic": {25, 32, 25, 35},
	"lumbar":   {25, 6.5, 25, 60},
}

var reachRegions = []struct{ id, words string }{{"cervical", "neck"}, {"thoracic", "upper back"}, {"lumbar", "low back"}}

// reach is a client's reach chart, with how much of it a movement uses.
type reach struct {
	Blocks []draw.ReachBlock
	Text   string
	// Measured says whether something of it was measured on the client.
	Measured bool
}

// Large draws it with its words.
func (r reach) Large() template.HTML { return r.draw(draw.ReachLarge) }

// Small draws all of it without words.
func (r reach) Small() template.HTML { return r.draw(draw.ReachSmall) }

func (r reach) draw(size draw.ReachSize) template.HTML {
	return template.HTML(draw.SVGReach(r.Blocks, size, draw.Light, r.Text))
}

// Tiny draws the region that tells most: where too much is used, else where most of what is
// allowed is used, else where least is allowed.
func (r reach) Tiny() template.HTML {
	tells := func(b draw.ReachBlock) float64 {
		most := 0.0
		for _, row := range b.Rows {
			for _, s := range []draw.ReachSide{row.Left, row.Right} {
				allowed := math.Max(1, math.Min(s.Allowed, s.Ordinary))
				says := 0.4 * (1 - allowed/s.Ordinary)
				if s.Used > 0.5 {
					says = math.Max(says, math.Min(1, s.Used/allowed))
				}
				if s.Over() {
					says = 10 + s.Used - s.Allowed
				}
				most = math.Max(most, says)
			}
		}
		return most
	}
	at := 2 // the low back, where all say the same
	for i, b := range r.Blocks {
		if tells(b) > tells(r.Blocks[at])+1e-9 {
			at = i
		}
	}
	says := "within what it may do"
	if slices.ContainsFunc(r.Blocks[at].Rows, func(row draw.ReachRow) bool { return row.Left.Over() || row.Right.Over() }) {
		says = "more than it may do"
	}
	return template.HTML(draw.SVGReach(r.Blocks[at:at+1], draw.ReachTiny, draw.Light, r.Blocks[at].Name+", "+says))
}

// reachOf is what a client's limits leave of each way the spine moves.
func reachOf(set limit.Limits, used exercise.Measured, c limit.Client) reach {
	var limits, asks []string
	side := func(quantity string, most float64, said string) draw.ReachSide {
		s := draw.ReachSide{
			Ordinary:  most,
			Allowed:   most,
			Loaded:    most,
			Used:      used.Number(quantity),
			UnderLoad: used.Number(quantity + "_loaded"),
		}
		for l := range set.Rows() {
			figure, ok := l.Number()
			if !ok || l.With != nil || l.Quantity != quantity {
				continue
			}
			switch l.When {
			case "any":
				s.Allowed, s.Shut = min(s.Allowed, figure), s.Shut || l.Bar
			case exercise.WhenLoaded:
				s.Loaded = min(s.Loaded, figure)
			}
		}
		switch {
		case s.Allowed < most && s.Loaded < s.Allowed:
			limits = append(limits, fmt.Sprintf("%s to %.0f°, %.0f° under load", said, s.Allowed, s.Loaded))
		case s.Allowed < most:
			limits = append(limits, fmt.Sprintf("%s to %.0f°", said, s.Allowed))
		case s.Loaded < most:
			limits = append(limits, fmt.Sprintf("%s to %.0f° under load", said, s.Loaded))
		}
		if s.Used > 0.5 {
			asks = append(asks, fmt.Sprintf("%s %.0f°", said, s.Used))
		}
		return s
	}
	var r reach
	for _, region := range reachRegions {
		most := ordinary[region.id]
		b := draw.ReachBlock{Name: region.words, Rows: []draw.ReachRow{
			{
				Name:  "lean",
				Left:  side(region.id+"_side_bend_left", most[0], region.words+" leaning left"),
				Right: side(region.id+"_side_bend_right", most[0], region.words+" leaning right"),
			},
			{
				Name:  "turn",
				Left:  side(region.id+"_rotation_left", most[1], region.words+" turning left"),
				Right: side(region.id+"_rotation_right", most[1], region.words+" turning right"),
			},
			{
				Name:  "hollow",
				Other: "round",
				Left:  side(region.id+"_extension", most[2], region.words+" hollowing"),
				Right: side(region.id+"_flexion", most[3], region.words+" rounding"),
			},
		}}
		if region.id == "lumbar" {
			for _, m := range c.Measures {
				switch m.ID {
				case "lumbar_flexion_deg":
					r.Measured = true
					b.Rows[2].Right.Measured = m.Value
				case "lumbar_extension_deg":
					r.Measured = true
					b.Rows[2].Left.Measured = m.Value
				}
			}
		}
		r.Blocks = append(r.Blocks, b)
	}
	r.Text = "What the back may do: "
	if limits == nil {
		r.Text += "nothing limits it"
	}
	r.Text += strings.Join(limits, "; ")
	if asks != nil {
		r.Text += ". Asked of it: " + strings.Join(asks, "; ")
	}
	return r
}
