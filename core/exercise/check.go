package exercise

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"restbend/core/body"
)

// Anatomical ranges in degrees that no pose may leave: AAOS and AMA handbooks
// (from memory), with a margin for how positions differ.
var spineRanges = [3]struct{ forward, back, side, turn float64 }{{65, 30, 28, 8}, {45, 28, 28, 38}, {55, 60, 48, 85}}

// Check refuses a movement that no body could do: a joint beyond its range, a
// part sunk into a surface or passed through the trunk, a limb or furniture, a
// support that floats, left and right mixed up. The error names the pose, the
// part and the figure.
func Check(m Movement) error {
	frames, err := m.Frames()
	if err != nil {
		return err
	}
	return CheckFrames(m, frames)
}

// CheckFrames is Check for a movement that has been solved.
func CheckFrames(m Movement, frames []Frame) error {
	frames = slices.Clone(frames)
	// Key poses first: the mistake is theirs, what lies between follows.
	slices.SortStableFunc(frames, func(a, b Frame) int {
		return strings.Compare(between(a), between(b))
	})
	for _, f := range frames {
		if f.Same >= 0 {
			continue // looked at before
		}
		name := f.Pose
		if name == "" {
			name = fmt.Sprintf("at %.1f s", f.Seconds)
		}
		for _, wrong := range []error{checkFigure(f.Figure), checkSolid(f.Figure, m), checkSupport(f, m), checkSides(f.Figure, m)} {
			if wrong != nil {
				return fmt.Errorf("pose %s: %w", name, wrong)
			}
		}
	}
	return nil
}

func between(f Frame) string {
	if f.Pose == "" {
		return "between"
	}
	return ""
}

func checkFigure(f body.Figure) error {
	within := func(joint string, v, lo, hi float64) error {
		if v < lo || v > hi {
			return fmt.Errorf("%s: %.0f° is beyond its range of %.0f° to %.0f°", joint, v, lo, hi)
		}
		return nil
	}
	for i, b := range []body.Bend{f.Pose.Lumbar, f.Pose.Thoracic, f.Pose.Cervical} {
		r := spineRanges[i]
		for _, e := range []error{
			within(regions[i]+" flexion", b.Flexion, -r.back, r.forward),
			within(regions[i]+" side bend", b.Side, -r.side, r.side),
			within(regions[i]+" rotation", b.Turn, -r.turn, r.turn),
		} {
			if e != nil {
				return e
			}
		}
	}
	a := f.Angles()
	for s, arm := range f.Arms {
		u, on, out := arm.Upper(), body.Side(s).String(), f.Chest.L
		if body.Side(s) == body.Right {
			out = out.Scale(-1)
		}
		ahead, up := u.Dot(f.Chest.F), u.Dot(f.Chest.U)
		degrees := func(sine float64) float64 { return math.Asin(math.Max(-1, math.Min(1, sine))) * 180 / math.Pi }
		behind := 0.0
		if up < 0.3 {
			behind = degrees(-ahead)
		}
		overhead := 0.0 // past upright
		if up > 0.6 {
			overhead = degrees(-ahead)
		}
		for _, e := range []error{
			within(on+" shoulder extension", behind, -180, 65),
			within(on+" shoulder flexion", 180+overhead, 0, 205),
			within(on+" shoulder across the chest", degrees(-u.Dot(out)), -90, 50),
		} {
			if e != nil {
				return e
			}
		}
	}
	for s := body.Left; s <= body.Right; s++ {
		on := s.String() + " "
		// A knee bends backward: the shank may not swing in front of the thigh,
		// seen along the hinge that the pelvis and the hip's turn allow.
		leg := f.Legs[s]
		if a.KneeFlexion[s] > 12 && leg.Axis.Dot(f.Pelvis.L) < -0.3 && a.HipAbduction[s] < 45 {
			return fmt.Errorf("%sknee: bends the wrong way by %.0f°", on, a.KneeFlexion[s])
		}
		for _, e := range []error{
			within(on+"hip flexion", a.HipFlexion[s], -28, 125),
			within(on+"hip abduction", a.HipAbduction[s], -30, 60),
			within(on+"hip rotation", a.HipRotation[s], -60, 50),
			within(on+"knee flexion", a.KneeFlexion[s], 0, 155),
			within(on+"elbow flexion", a.ElbowFlexion[s], 0, 155),
			within(on+"wrist bend", a.WristBend[s], 0, 90),
			within(on+"ankle", a.AnkleLift[s], -70, 40),
		} {
			if e != nil {
				return e
			}
		}
	}
	return nil
}

// Depths in body heights: 0.003 is half a centimetre for a person of 170 cm, 0.006 one.
const (
	mostSunk    = 0.003
	mostOverlap = 0.006
	mostFloat   = 0.015
)

// checkSolid looks for parts that pass through a surface, the trunk or another
// limb. Contacts named in Touching are excepted.
func checkSolid(f body.Figure, m Movement) error {
	for _, part := range body.SurfaceParts {
		if depth, surface := f.Sunk(part, m.Scene); depth > mostSunk {
			return fmt.Errorf("%s: is sunk %.3f of body height into %s; at most %.3f", part, depth, surface, mostSunk)
		}
	}
	for _, o := range f.Overlaps() {
		if o.Depth > mostOverlap && !slices.Contains(m.Touching, o.Part) {
			return fmt.Errorf(
				"%s: passes %.3f of body height through the %s; name it under touching if it is meant to lie there",
				o.Part,
				o.Depth,
				o.Other,
			)
		}
	}
	return nil
}

// checkSupport looks for parts that are to rest on something and float.
func checkSupport(f Frame, m Movement) error {
	if f.Pose == "" {
		return nil
	}
	for _, part := range f.Figure.Pose.Rest {
		if gap := f.Figure.Gap(part, m.Scene); gap > mostFloat {
			return fmt.Errorf("%s: floats %.3f of body height above what it is to rest on", part, gap)
		}
	}
	return nil
}

// checkSides looks for legs that have changed sides.
func checkSides(f body.Figure, m Movement) error {
	apart := f.Legs[body.Left].End.Sub(f.Legs[body.Right].End)
	if crossed := -apart.Dot(f.Pelvis.L); crossed > 0.04 && !slices.Contains(m.Touching, "legs_crossed") {
		return fmt.Errorf(
			"legs: the left foot is %.3f of body height to the right of the right one; left and right are mixed up, or name "+
				"legs_crossed under touching",
			crossed,
		)
	}
	return nil
}
