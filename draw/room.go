package draw

import (
	"fmt"
	"html"
	"strings"
)

// Spot is where one person is in a room: on a mat or a chair, at the wall where they need it.
type Spot struct {
	Name   string
	Chair  bool
	AtWall bool
}

// Sizes of the room, in units of the drawing.
const (
	roomWide = 300
	roomLane = 66 // of one row
	roomMost = 4  // spots in a row
)

// SVGRoom is the room from above: a wall, those who need it along it, the others before
// them. It is as high as it has rows.
func SVGRoom(spots []Spot) string {
	var wall, rest []Spot
	for _, s := range spots {
		if s.AtWall || s.Chair {
			wall = append(wall, s)
		} else {
			rest = append(rest, s)
		}
	}
	var rows [][]Spot
	for _, list := range [][]Spot{wall, rest} {
		for len(list) > 0 {
			n := min(roomMost, len(list))
			rows = append(rows, list[:n])
			list = list[n:]
		}
	}
	var b strings.Builder
	high := 34 + roomLane*len(rows)
	fmt.Fprintf(&b,
		`<svg class="room" viewBox="0 0 %d %d" role="img" aria-label="%s">`,
		roomWide,
		high,
		html.EscapeString(roomWords(spots)),
	)
	fmt.Fprintf(&b,
		`<rect x="1" y="2" width="%d" height="%d" fill="#FFFCF5" stroke="#857A67" stroke-width="1.5"/><path d="M1 3H%d" `+
			`stroke="#1D2A3F" stroke-width="4"/>`,
		roomWide-2,
		high-4,
		roomWide-1,
	)
	fmt.Fprintf(&b, `<text x="%d" y="19" text-anchor="middle" font-size="12" fill="#4B566B">wall</text>`, roomWide/2)
	for r, row := range rows {
		y := 28 + r*roomLane
		for i, s := range row {
			x := (2*i + 1) * roomWide / (2 * len(row))
			if s.Chair {
				fmt.Fprintf(&b,
					`<rect x="%d" y="%d" width="20" height="20" rx="3" fill="#E7DDCA" stroke="#1D2A3F" stroke-width="1.4"/>`,
					x-10,
					y+4,
				)
			} else {
				fmt.Fprintf(&b,
					`<rect x="%d" y="%d" width="52" height="14" rx="3" fill="#B9C4D6" stroke="#1D2A3F" stroke-width="1.4"/>`,
					x-26,
					y+8,
				)
			}
			fmt.Fprintf(&b,
				`<text x="%d" y="%d" text-anchor="middle" font-size="12.5" fill="#1D2A3F">%s</text>`,
				x,
				y+40,
				html.EscapeString(shortName(s.Name)),
			)
		}
	}
	b.WriteString("</svg>")
	return b.String()
}

// shortName is a first name, cut where it would run into the next.
func shortName(name string) string {
	first, _, _ := strings.Cut(name, " ")
	if r := []rune(first); len(r) > 10 {
		return string(r[:9]) + "…"
	}
	return first
}

func roomWords(spots []Spot) string {
	var out []string
	for _, s := range spots {
		words := shortName(s.Name) + " on a mat"
		if s.Chair {
			words = shortName(s.Name) + " on a chair"
		}
		if s.AtWall {
			words += " at the wall"
		}
		out = append(out, words)
	}
	return "The room: " + strings.Join(out, ", ")
}
