package library

import (
	"fmt"

	"restbend/core/body"
)

// poseFile is a pose as written: only what differs from the pose it builds on.
type poseFile struct {
	From     string        `yaml:"from,omitempty"` // a named pose; left out, a variant's pose builds on its start pose
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
	Move     *body.Vec     `yaml:"move,omitempty"`
	Settle   []body.Settle `yaml:"settle,omitempty"`
}

// limbsFile sets both limbs alike (written for the left, mirrored for the
// right), or each.
type limbsFile struct {
	Both  *limbFile `yaml:"both,omitempty"`
	Left  *limbFile `yaml:"left,omitempty"`
	Right *limbFile `yaml:"right,omitempty"`
}

// limbFile is a limb written out, or the name of one in the limbs file.
type limbFile struct {
	Named string
	Limb  body.Limb
}

// UnmarshalYAML reads a name or a limb.
func (l *limbFile) UnmarshalYAML(unmarshal func(any) error) error {
	if unmarshal(&l.Named) == nil {
		return nil
	}
	l.Named = ""
	return unmarshal(&l.Limb)
}

// namedLimbs are the arms and legs that many poses share, written for the left.
type namedLimbs map[string]body.Limb

// find is the limb for a side: one written out as it stands, a named one
// mirrored for the right.
func (n namedLimbs) find(l *limbFile, side body.Side) (body.Limb, error) {
	if l.Named == "" {
		return l.Limb, nil
	}
	limb, ok := n[l.Named]
	if !ok {
		return limb, fmt.Errorf("there is no limb %q in limbs.yaml", l.Named)
	}
	if side == body.Right {
		limb = limb.Mirror()
	}
	return limb, nil
}

func (l limbsFile) over(limbs *[2]body.Limb, named namedLimbs) (err error) {
	if l.Both != nil {
		if limbs[body.Left], err = named.find(l.Both, body.Left); err != nil {
			return fmt.Errorf("both: %w", err)
		}
		limbs[body.Right] = limbs[body.Left].Mirror()
	}
	for side, one := range []*limbFile{l.Left, l.Right} {
		if one == nil {
			continue
		}
		if limbs[side], err = named.find(one, body.Side(side)); err != nil {
			return fmt.Errorf("%s: %w", body.Side(side), err)
		}
	}
	return nil
}

// over lays what the file says over a pose.
func (p poseFile) over(under body.Pose, named namedLimbs) (body.Pose, error) {
	set(&under.Base, p.Base)
	set(&under.Pelvis, p.Pelvis)
	set(&under.Lumbar, p.Lumbar)
	set(&under.Thoracic, p.Thoracic)
	set(&under.Cervical, p.Cervical)
	set(&under.Girdle, p.Girdle)
	set(&under.Lift, p.Lift)
	set(&under.Anchor, p.Anchor)
	set(&under.Move, p.Move)
	if err := p.Arms.over(&under.Arms, named); err != nil {
		return under, fmt.Errorf("arms.%w", err)
	}
	if err := p.Legs.over(&under.Legs, named); err != nil {
		return under, fmt.Errorf("legs.%w", err)
	}
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
