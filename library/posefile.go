package library

import (
	"fmt"

	"restbend/core/body"
)

// poseFile is a pose as written: only what differs from the pose it builds on.
type poseFile struct {
	From     string        `yaml:"from,omitempty"` // a named pose, in the base poses file only
	Base     *body.Base    `yaml:"base,omitempty"`
	Pelvis   *body.Bend    `yaml:"pelvis,omitempty"`
	Lumbar   *body.Bend    `yaml:"lumbar,omitempty"`
	Thoracic *body.Bend    `yaml:"thoracic,omitempty"`
	Cervical *body.Bend    `yaml:"cervical,omitempty"`
	Arms     limbsFile     `yaml:"arms,omitempty"`
	Legs     limbsFile     `yaml:"legs,omitempty"`
	Girdle   *float64      `yaml:"girdle,omitempty"`
	Rest     []body.Part   `yaml:"rest,omitempty"`
	Lift     *float64      `yaml:"lift,omitempty"`
	Anchor   *body.Part    `yaml:"anchor,omitempty"`
	Settle   []body.Settle `yaml:"settle,omitempty"`
}

// limbsFile sets both limbs alike (written for the left, mirrored for the
// right), or each.
type limbsFile struct {
	Both  *body.Limb `yaml:"both,omitempty"`
	Left  *body.Limb `yaml:"left,omitempty"`
	Right *body.Limb `yaml:"right,omitempty"`
}

func (l limbsFile) over(limbs *[2]body.Limb) {
	if l.Both != nil {
		limbs[body.Left], limbs[body.Right] = *l.Both, l.Both.Mirror()
	}
	if l.Left != nil {
		limbs[body.Left] = *l.Left
	}
	if l.Right != nil {
		limbs[body.Right] = *l.Right
	}
}

// over lays what the file says over a pose.
func (p poseFile) over(under body.Pose) (body.Pose, error) {
	set(&under.Base, p.Base)
	set(&under.Pelvis, p.Pelvis)
	set(&under.Lumbar, p.Lumbar)
	set(&under.Thoracic, p.Thoracic)
	set(&under.Cervical, p.Cervical)
	set(&under.Girdle, p.Girdle)
	set(&under.Lift, p.Lift)
	set(&under.Anchor, p.Anchor)
	p.Arms.over(&under.Arms)
	p.Legs.over(&under.Legs)
	if p.Rest != nil {
		under.Rest = p.Rest
	}
	if p.Settle != nil {
		under.Settle = p.Settle
	}
	for i, r := range under.Rest {
		if err := body.CheckPart(r); err != nil {
			return under, fmt.Errorf("rest[%d]: %w", i, err)
		}
	}
	if under.Anchor != "" {
		if err := body.CheckPart(under.Anchor); err != nil {
			return under, fmt.Errorf("anchor: %w", err)
		}
	}
	return under, nil
}

func set[T any](to *T, from *T) {
	if from != nil {
		*to = *from
	}
}
