package pdf

import (
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"math"
	"regexp"
	"strconv"
	"strings"
)

// point is a place in millimetres, or in the units of a drawing; y goes down.
type point struct{ x, y float64 }

func (p point) add(q point) point { return point{p.x + q.x, p.y + q.y} }

// segment is a piece of a path.
type segment struct {
	op byte  // M to begin, L for a line, Q for a curve, Z to close
	by point // what the curve bends towards
	to point
}

// box is a rectangle with rounded corners.
func box(x, y, w, h, r float64) []segment {
	at := func(dx, dy float64) point { return point{x + dx, y + dy} }
	if r == 0 {
		return []segment{{op: 'M', to: at(0, 0)}, {op: 'L', to: at(w, 0)}, {op: 'L', to: at(w, h)}, {op: 'L', to: at(0, h)}, {op: 'Z'}}
	}
	return []segment{{op: 'M', to: at(r, 0)},
		{op: 'L', to: at(w-r, 0)}, {op: 'Q', by: at(w, 0), to: at(w, r)},
		{op: 'L', to: at(w, h-r)}, {op: 'Q', by: at(w, h), to: at(w-r, h)},
		{op: 'L', to: at(r, h)}, {op: 'Q', by: at(0, h), to: at(0, h-r)},
		{op: 'L', to: at(0, r)}, {op: 'Q', by: at(0, 0), to: at(r, 0)}, {op: 'Z'}}
}

// circle is drawn as eight curves.
func circle(c point, r float64) []segment {
	const pieces = 8
	turn := func(share, radius float64) point {
		sin, cos := math.Sincos(2 * math.Pi * share / pieces)
		return point{c.x + radius*cos, c.y + radius*sin}
	}
	out := []segment{{op: 'M', to: turn(0, r)}}
	for i := range pieces {
		out = append(out, segment{op: 'Q', by: turn(float64(i)+0.5, r/math.Cos(math.Pi/pieces)), to: turn(float64(i)+1, r)})
	}
	return append(out, segment{op: 'Z'})
}

// flat are the lines of a path, curves in short pieces, and whether each is closed.
func flat(path []segment, piece float64) (lines [][]point, closed []bool) {
	var at point
	for _, s := range path {
		n := len(lines) - 1
		switch s.op {
		case 'M':
			lines, closed = append(lines, []point{s.to}), append(closed, false)
		case 'L':
			lines[n] = append(lines[n], s.to)
		case 'Q':
			long := math.Hypot(s.by.x-at.x, s.by.y-at.y) + math.Hypot(s.to.x-s.by.x, s.to.y-s.by.y)
			pieces := math.Ceil(math.Sqrt(long / piece))
			for i := 1.0; i <= pieces; i++ {
				t := i / pieces
				a, b, c := (1-t)*(1-t), 2*t*(1-t), t*t
				lines[n] = append(lines[n], point{a*at.x + b*s.by.x + c*s.to.x, a*at.y + b*s.by.y + c*s.to.y})
			}
		case 'Z':
			closed[n] = true
			continue
		}
		at = s.to
	}
	return lines, closed
}

// bounds are the corners of what marks draw, half of each stroke with it.
func bounds(marks []mark) (least, most point) {
	least, most = point{math.Inf(1), math.Inf(1)}, point{math.Inf(-1), math.Inf(-1)}
	for _, m := range marks {
		lines, _ := flat(m.path, 0.5)
		for _, l := range lines {
			for _, p := range l {
				r := 0.0
				if m.stroke != "" {
					r = m.width / 2
				}
				least = point{math.Min(least.x, p.x-r), math.Min(least.y, p.y-r)}
				most = point{math.Max(most.x, p.x+r), math.Max(most.y, p.y+r)}
			}
		}
	}
	return least, most
}

// read are the marks of a drawing of this program: paths and circles, a run of colours as the
// last of them. Lines have round ends and corners.
func read(drawing []byte) ([]mark, error) {
	d := xml.NewDecoder(strings.NewReader(string(drawing)))
	var out []mark
	runs, run := map[string]string{}, ""
	for {
		tok, err := d.Token()
		switch {
		case errors.Is(err, io.EOF):
			return out, nil
		case err != nil:
			return nil, err
		}
		e, begins := tok.(xml.StartElement)
		if !begins {
			continue
		}
		has := map[string]string{}
		for _, a := range e.Attr {
			has[a.Name.Local] = a.Value
		}
		switch e.Name.Local {
		case "svg", "defs", "title", "g":
		case "linearGradient":
			run = has["id"]
		case "stop":
			runs["url(#"+run+")"] = has["stop-color"]
		case "path", "circle":
			m, err := drawn(e.Name.Local, has, runs)
			if err != nil {
				return nil, err
			}
			out = append(out, m)
		default:
			return nil, fmt.Errorf("<%s> is none of path and circle", e.Name.Local)
		}
	}
}

// drawn is one path or circle with its colours.
func drawn(name string, has, runs map[string]string) (m mark, err error) {
	colour := func(attribute, usual string) string {
		c, said := has[attribute]
		if !said {
			c = usual
		}
		if of, is := runs[c]; is {
			return of
		}
		if c == "none" {
			return ""
		}
		return c
	}
	m.fill, m.stroke = colour("fill", ""), colour("stroke", "")
	number := func(attribute string) float64 {
		if has[attribute] == "" || err != nil {
			return 0
		}
		var v float64
		if v, err = strconv.ParseFloat(has[attribute], 64); err != nil {
			err = fmt.Errorf("%s: %w", attribute, err)
		}
		return v
	}
	if m.stroke != "" {
		m.width = number("stroke-width")
	}
	if name == "circle" {
		m.path = circle(point{number("cx"), number("cy")}, number("r"))
	} else if err == nil {
		m.path, err = readPath(has["d"])
	}
	return m, err
}

var words = regexp.MustCompile(`[A-Za-z]|-?(?:\d+\.?\d*|\.\d+)`)

// readPath reads the commands that drawings of this program are made of.
func readPath(d string) ([]segment, error) {
	var out []segment
	var at, begin, by point
	tokens := words.FindAllString(d, -1)
	number := func() (v float64, ok bool) {
		if len(tokens) == 0 {
			return 0, false
		}
		v, err := strconv.ParseFloat(tokens[0], 64)
		if err == nil {
			tokens = tokens[1:]
		}
		return v, err == nil
	}
	pair := func(from point) (point, bool) {
		x, one := number()
		y, two := number()
		return point{from.x + x, from.y + y}, one && two
	}
	op := byte(0)
	for len(tokens) > 0 {
		if c := tokens[0][0]; c >= 'A' { // else the last command goes on
			op, tokens = c, tokens[1:]
		}
		from := point{}
		if op >= 'a' {
			from = at
		}
		ok, s := true, segment{op: 'L', to: at}
		switch op {
		case 'M', 'm':
			s.op = 'M'
			s.to, ok = pair(from)
			begin = s.to
		case 'L', 'l':
			s.to, ok = pair(from)
		case 'H', 'h':
			s.to.x, ok = number()
			s.to.x += from.x
		case 'V', 'v':
			s.to.y, ok = number()
			s.to.y += from.y
		case 'Q', 'q', 'T', 't':
			s.op, s.by = 'Q', at
			if op == 'Q' || op == 'q' {
				s.by, ok = pair(from)
			} else if n := len(out); n > 0 && out[n-1].op == 'Q' { // mirrored
				s.by = point{2*at.x - by.x, 2*at.y - by.y}
			}
			var end bool
			s.to, end = pair(from)
			ok = ok && end
			by = s.by
		case 'Z', 'z':
			s.op, s.to = 'Z', begin
		default:
			return nil, fmt.Errorf("path: command %q is none of M, L, H, V, Q, T and Z", op)
		}
		if !ok || len(out) == 0 && s.op != 'M' {
			return nil, fmt.Errorf("path: %c with what follows it is not read in %.60q", op, d)
		}
		out, at = append(out, s), s.to
		switch op {
		case 'M':
			op = 'L'
		case 'm':
			op = 'l'
		case 'Z', 'z':
			op = 0
		}
	}
	return out, nil
}
