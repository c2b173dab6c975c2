package exercise

import (
	"fmt"
	"slices"
	"strings"

	"restbend/core/body"
)

// Anatomical ranges in degrees that no pose may leave: AAOS and AMA handbooks
// (from memory), with a margin for how positions differ.
var spineRanges = [3]struct{ forward, back, side, turn float64 }{{65, 30, 28, 8}, {45, 28, 28, 38}, {55, 60, 48, 85}}

// CheckRanges refuses a movement in which a joint goes beyond its anatomical
// range. The error names pose, joint, value and range.
func CheckRanges(m Movement) error {
	frames, err := m.Frames()
	if err != nil {
		return err
	}
	// Key poses first: the mistake is theirs, what lies between follows.
	slices.SortStableFunc(frames, func(a, b Frame) int {
		return strings.Compare(between(a), between(b))
	})
	for _, f := range frames {
		name := f.Pose
		if name == "" {
			name = fmt.Sprintf("at %.1f s", f.Seconds)
		}
		if err := checkFigure(f.Figure); err != nil {
			return fmt.Errorf("pose %s: %w", name, err)
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
	for s := body.Left; s <= body.Right; s++ {
		on := s.String() + " "
		// A knee bends backward: the shank may not swing in front of the thigh,
		// seen along the hinge that the pelvis and the hip's turn allow.
		leg := f.Legs[s]
		if a.KneeFlexion[s] > 12 && leg.Axis.Dot(f.Pelvis.L) < -0.3 && a.HipAbduction[s] < 45 {
			return fmt.Errorf("%sknee: bends the wrong way by %.0f°", on, a.KneeFlexion[s])
		}
		for _, e := range []error{
			within(on+"hip flexion", a.HipFlexion[s], -28, 130),
			within(on+"hip abduction", a.HipAbduction[s], -30, 60),
			within(on+"hip rotation", a.HipRotation[s], -60, 50),
			within(on+"knee flexion", a.KneeFlexion[s], 0, 155),
			within(on+"elbow flexion", a.ElbowFlexion[s], 0, 155),
		} {
			if e != nil {
				return e
			}
		}
	}
	return nil
}
