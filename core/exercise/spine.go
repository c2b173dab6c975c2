package exercise

import (
	"math"
	"strings"

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
// lumbar_rotation, means the worse side. Unknown names are 0.
func (s Spine) Worst(name string) float64 {
	if i, ok := spineIndex[name]; ok {
		return s[i]
	}
	if i, ok := spineIndex[name+"_left"]; ok {
		return math.Max(s[i], s[i+1])
	}
	return 0
}

// spinePeaks gathers the peaks of the spine over a movement.
type spinePeaks struct {
	any, loaded, held, fast Spine
	seen                    [4][18]bool
	last                    *Spine
	lastAt                  float64
}

// take adds an instant; loaded says it of the low back and the upper back.
func (p *spinePeaks) take(s Spine, at float64, loaded [3]bool, held bool) {
	note := func(kind int, peaks *Spine, i int, v float64) {
		peaks[i] = math.Max(peaks[i], v)
		p.seen[kind][i] = true
	}
	for i, v := range s {
		note(0, &p.any, i, v)
		if loaded[i/6] {
			note(1, &p.loaded, i, v)
		}
		if held {
			note(2, &p.held, i, v)
		}
		if p.last != nil && at > p.lastAt && math.Abs(v-p.last[i])/(at-p.lastAt) > fastDegrees {
			note(3, &p.fast, i, math.Max(v, p.last[i]))
		}
	}
	p.last, p.lastAt = &s, at
}

// into writes the peaks under their names.
func (p *spinePeaks) into(numbers map[string]float64) {
	for kind, peaks := range []*Spine{&p.any, &p.loaded, &p.held, &p.fast} {
		suffix := [4]string{"", "_loaded", "_held", "_fast"}[kind]
		for i, name := range SpineNames {
			if p.seen[kind][i] {
				numbers[name+suffix] = peaks[i]
			}
		}
	}
}

// swapSide is the name of the same quantity on the other side.
func swapSide(name string) string {
	for _, suffix := range []string{"", "_loaded", "_held", "_fast"} {
		for _, pair := range [][2]string{{"_left", "_right"}, {"_right", "_left"}} {
			if cut, ok := strings.CutSuffix(name, pair[0]+suffix); ok {
				return cut + pair[1] + suffix
			}
		}
	}
	return name
}
