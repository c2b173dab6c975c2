package library

import (
	"fmt"
	"slices"
	"strings"

	"restbend/core/body"
	"restbend/core/exercise"
)

// stepFile is the way to one key pose.
type stepFile struct {
	To      string  `yaml:"to"`
	Seconds float64 `yaml:"seconds"`
	Breath  string  `yaml:"breath"`
}

// springLoads are the words of spring_load for the strengths that springs are sold in.
var springLoads = map[string]string{"light": "light", "medium": "moderate", "strong": "heavy"}

// movement builds the key poses: start upon the base pose, every other pose
// upon start.
//
//revive:disable-next-line:cyclomatic One check for each field, each with its own sentence.
func (v variantFile) movement(poses map[string]body.Pose, limbs namedLimbs) (exercise.Movement, error) {
	m := exercise.Movement{Poses: map[string]body.Pose{}, HoldsAt: v.HoldAt, Sided: v.Sided(), Resistance: v.Resistance,
		Hands: v.HandSupport, EyesClosed: v.EyesClosed, Touching: v.Touching, Directions: v.Directions, Position: v.Position,
		Pillow: slices.ContainsFunc(v.Furniture, func(f string) bool { return strings.HasPrefix(f, "pillow") }), Order: []string{"start"}}
	m.Held = v.Held
	m.With = v.Settings
	for _, h := range v.Held {
		for side := body.Left; side <= body.Right; side++ {
			if h.Kind == "strap" && slices.Contains(h.At, body.Part("foot_"+side.String())) {
				m.Scene.Strapped[side] = true
			}
		}
	}
	m.Spring = springLoads[v.Settings.Spring]
	under, ok := poses[v.From]
	if !ok {
		return m, fmt.Errorf("from: there is no base pose %q", v.From)
	}
	start := poseFile{}
	if p := v.Poses["start"]; p != nil {
		start = *p
	}
	first, err := start.over(under, limbs)
	if err != nil {
		return m, fmt.Errorf("poses.start: %w", err)
	}
	m.Poses["start"] = first
	for _, s := range v.Steps {
		if !slices.Contains(exercise.BreathWords, s.Breath) {
			return m, fmt.Errorf("steps: breath %q is not one of %v", s.Breath, exercise.BreathWords)
		}
		if s.Seconds <= 0 || s.Seconds > 60 {
			return m, fmt.Errorf("steps: seconds must be over 0 and at most 60, is %g", s.Seconds)
		}
		m.Steps = append(m.Steps, exercise.Step{To: s.To, Seconds: s.Seconds, Breath: s.Breath})
		if slices.Contains(m.Order, s.To) {
			continue
		}
		p := v.Poses[s.To]
		if p == nil {
			return m, fmt.Errorf("steps: there is no pose %q", s.To)
		}
		on := first
		if p.From != "" { // a new position altogether
			if on, ok = poses[p.From]; !ok {
				return m, fmt.Errorf("poses.%s: from: there is no base pose %q", s.To, p.From)
			}
		}
		pose, err := p.over(on, limbs)
		if err != nil {
			return m, fmt.Errorf("poses.%s: %w", s.To, err)
		}
		m.Order = append(m.Order, s.To)
		m.Poses[s.To] = pose
	}
	for name := range v.Poses {
		if !slices.Contains(m.Order, name) {
			return m, fmt.Errorf("poses.%s: no step goes there", name)
		}
	}
	if v.HoldAt == "none" { // for a variant whose sibling holds
		v.HoldAt, m.HoldsAt = "", ""
	}
	if v.HoldAt != "" && !slices.Contains(m.Order, v.HoldAt) {
		return m, fmt.Errorf("hold_at: there is no pose %q", v.HoldAt)
	}
	for _, d := range []exercise.Dose{v.Studio, v.Home} {
		m.Stay = max(m.Stay, d.StaySeconds)
		m.Hold = max(m.Hold, d.StaySeconds)
		switch d.Kind {
		case exercise.HoldSeconds:
			m.Hold = max(m.Hold, d.Seconds)
			for _, seconds := range d.SecondsByRepetition {
				m.Hold = max(m.Hold, seconds)
			}
		case exercise.HoldBreaths:
			m.Hold = max(m.Hold, float64(d.Breaths)*5)
		}
	}
	if v.Furniture == nil && v.Position.OnFloor() {
		v.Furniture = []string{"mat"}
	}
	if err := furnish(&m, v.Furniture); err != nil {
		return m, err
	}
	return m, nil
}
