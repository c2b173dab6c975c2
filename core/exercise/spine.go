package exercise

import (
	"math"
	"slices"

	"restbend/core/body"
)

// Spine holds the spine's angles at one instant, in degrees, in the order of
// SpineNames.
type Spine [18]float64

var directions = [6]string{"flexion", "extension", "side_bend_left", "side_bend_right", "rotation_left", "rotation_right"}

var regions = [3]string{"lumbar", "thoracic", "cervical"}

// SpineNames are the movement quantities of a Spine.
var SpineNames = func() (names [18]string) {
	for r, region := range regions {
		for d, direction := range directions {
			names[6*r+d] = region + "_" + direction
		}
	}
	return
}()

var spineIndex = func() map[string]int {
	index := map[string]int{}
	for i, n := range SpineNames {
		index[n] = i
	}
	return index
}()

// spineOf reads the angles off a solved pose.
func spineOf(p body.Pose) Spine {
	var s Spine
	for r, b := range []body.Bend{p.Lumbar, p.Thoracic, p.Cervical} {
		for d, v := range [6]float64{b.Flexion, -b.Flexion, b.Side, -b.Side, b.Turn, -b.Turn} {
			s[6*r+d] = math.Max(0, v)
		}
	}
	return s
}

// mirrored swaps left and right.
func (s Spine) mirrored() Spine {
	for r := 0; r < len(s); r += 6 {
		s[r+2], s[r+3] = s[r+3], s[r+2]
		s[r+4], s[r+5] = s[r+5], s[r+4]
	}
	return s
}

// Worst is the angle of a quantity; a name without its side, such as
// lumbar_rotation, means the worse side. Of what is no angle of the spine it is not a
// number.
func (s Spine) Worst(name string) float64 {
	if i, ok := spineIndex[name]; ok {
		return s[i]
	}
	if i, ok := spineIndex[name+"_left"]; ok {
		return math.Max(s[i], s[i+1])
	}
	return math.NaN()
}

// spinePeaks gathers the peaks of the spine over a movement, in each scope. What
// never happens in a scope is 0 there.
type spinePeaks struct {
	peak     [4]Spine // any, loaded, held, fast
	quickest float64  // degrees a second, of any direction
	last     *Spine
	lastAt   float64
}

// take adds an instant; loaded says it of the low back, the upper back and the neck.
func (p *spinePeaks) take(s Spine, at float64, loaded [3]bool, held bool) {
	for i, v := range s {
		p.peak[0][i] = math.Max(p.peak[0][i], v)
		if loaded[i/6] {
			p.peak[1][i] = math.Max(p.peak[1][i], v)
		}
		if held {
			p.peak[2][i] = math.Max(p.peak[2][i], v)
		}
		if p.last == nil || at <= p.lastAt {
			continue
		}
		speed := math.Abs(v-p.last[i]) / (at - p.lastAt)
		if p.quickest = math.Max(p.quickest, speed); speed > fastDegrees {
			p.peak[3][i] = math.Max(p.peak[3][i], math.Max(v, p.last[i]))
		}
	}
	p.last, p.lastAt = &s, at
}

// spineKeys are where the peaks are kept, by scope; without a quantity where the scope
// is not measured.
var spineKeys = func() (out [4][18]Key) {
	for scope, name := range []Scope{WhenAny, WhenLoaded, WhenHeld, WhenFast} {
		for i, sided := range SpineNames {
			q, side := Split(sided)
			if slices.Contains(q.Scopes, name) {
				out[scope][i] = mustKey(q.ID, side, name)
			}
		}
	}
	return
}()

// into writes the peaks.
func (p *spinePeaks) into(m *Measured) {
	for scope, keys := range spineKeys {
		for i, k := range keys {
			if k.Quantity != nil {
				m.set(k, p.peak[scope][i])
			}
		}
	}
}
