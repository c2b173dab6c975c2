package draw

import (
	"math"
	"strconv"
)

// evenly returns points on a closed line, about the given spacing apart.
func evenly(line []flat, spacing float64) []flat {
	total := 0.0
	for i := range line {
		total += line[(i+1)%len(line)].sub(line[i]).len()
	}
	n := max(8, int(math.Round(total/spacing)))
	gap := total / float64(n)
	out := make([]flat, 0, n)
	walked, want := 0.0, 0.0
	for i := range line {
		a, b := line[i], line[(i+1)%len(line)]
		l := b.sub(a).len()
		for len(out) < n && want <= walked+l {
			t := 0.0
			if l > 0 {
				t = (want - walked) / l
			}
			out = append(out, a.mix(b, t))
			want += gap
		}
		walked += l
	}
	return out
}

// smooth blurs an evenly spaced closed line along itself.
func smooth(line []flat, spacing, width float64) []flat {
	reach := int(math.Ceil(2.5 * width / spacing))
	weights := make([]float64, 2*reach+1)
	sum := 0.0
	for i := range weights {
		d := float64(i-reach) * spacing / width
		weights[i] = math.Exp(-d * d / 2)
		sum += weights[i]
	}
	n := len(line)
	out := make([]flat, n)
	for i := range line {
		var p flat
		for j, w := range weights {
			p = p.add(line[((i+j-reach)%n+n)%n].scale(w / sum))
		}
		out[i] = p
	}
	return out
}

// pen writes path data as relative whole numbers at 1000 to a body height, y
// downward, each step from where the rounded line really stands.
type pen struct {
	buf    []byte
	x, y   int
	cx, cy int // the control point of the last curve
	last   byte
}

const unit = 1000

func (p *pen) grid(q flat) (int, int) {
	return int(math.Round(q.x * unit)), int(math.Round(-q.y * unit))
}

func (p *pen) number(n int) {
	if n >= 0 && len(p.buf) > 0 {
		if c := p.buf[len(p.buf)-1]; c >= '0' && c <= '9' {
			p.buf = append(p.buf, ' ')
		}
	}
	p.buf = strconv.AppendInt(p.buf, int64(n), 10)
}

func (p *pen) command(c byte) {
	if p.last != c {
		p.buf = append(p.buf, c)
		p.last = c
	}
}

func (p *pen) move(q flat) {
	p.last = 0
	p.command('M')
	p.x, p.y = p.grid(q)
	p.number(p.x)
	p.number(p.y)
	p.last = 'M'
}

func (p *pen) line(q flat) {
	x, y := p.grid(q)
	p.command('l')
	p.number(x - p.x)
	p.number(y - p.y)
	p.x, p.y = x, y
}

func (p *pen) curve(control, to flat) {
	cx, cy := p.grid(control)
	x, y := p.grid(to)
	p.command('q')
	p.number(cx - p.x)
	p.number(cy - p.y)
	p.number(x - p.x)
	p.number(y - p.y)
	p.x, p.y, p.cx, p.cy = x, y, cx, cy
}

// on goes on from a curve half-way towards the control point of the next. That of its own is
// the last one mirrored, so it need not be written; halves are rounded so that each is at most
// one unit from where it belongs, however many follow.
func (p *pen) on(next flat) {
	cx, cy := 2*p.x-p.cx, 2*p.y-p.cy
	nx, ny := p.grid(next)
	x, y := half(cx+nx), half(cy+ny)
	p.command('t')
	p.number(x - p.x)
	p.number(y - p.y)
	p.x, p.y, p.cx, p.cy = x, y, cx, cy
}

// half rounds towards the even side, so that lines do not wander.
func half(n int) int { return int(math.RoundToEven(float64(n) / 2)) }

func (p *pen) close() {
	p.command('z')
}

// closedPath draws a closed line as quadratic curves whose control points are
// the line's own points.
func closedPath(line []flat) string {
	var p pen
	n := len(line)
	p.move(line[n-1].mix(line[0], 0.5))
	p.curve(line[0], line[0].mix(line[1%n], 0.5))
	for i := 1; i < n; i++ {
		p.on(line[(i+1)%n])
	}
	p.close()
	return string(p.buf)
}

// openPath draws a line from end to end in the same way.
func openPath(line []flat) string {
	var p pen
	p.move(line[0])
	for i := 1; i < len(line)-1; i++ {
		if i == 1 {
			p.curve(line[i], line[i].mix(line[i+1], 0.5))
		} else {
			p.on(line[i+1])
		}
	}
	p.line(line[len(line)-1])
	return string(p.buf)
}

// runs cuts a closed line into the stretches for which keep is true. One run
// of the whole length means that nothing was cut.
func runs(line []flat, keep []bool) [][]flat {
	n := len(line)
	first := -1
	for i := range line {
		if !keep[i] {
			first = i
			break
		}
	}
	if first < 0 {
		return [][]flat{line}
	}
	var out [][]flat
	var run []flat
	for i := 1; i <= n; i++ {
		k := (first + i) % n
		if keep[k] {
			run = append(run, line[k])
			continue
		}
		if len(run) > 2 {
			out = append(out, run)
		}
		run = nil
	}
	return out
}
