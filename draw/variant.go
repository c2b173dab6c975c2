package draw

import (
	"fmt"

	"restbend/core/body"
	"restbend/core/exercise"
)

// Variant draws one pose of a form of a variant (nil for the plain one), or the
// pose that stands for it when pose is empty. With ghost, the start pose is
// shown behind it.
func Variant(v *exercise.Variant, form *exercise.Form, pose string, ghost bool, view View, size Size, theme Theme) ([]byte, error) {
	if form == nil {
		form = v.Plain()
	}
	m := form.Movement
	if pose == "" {
		pose = v.ShowPose(form)
	}
	mirrored := v.Show.Mirror
	if mirrored {
		m = m.Mirror()
	}
	figures, err := m.Figures()
	if err != nil {
		return nil, err
	}
	main, ok := figures[pose]
	if !ok {
		return nil, fmt.Errorf("variant %s has no pose %q", v.ID, pose)
	}
	s := Subject{Figure: &main, View: view}
	if view == "" {
		s.View, s.Turn, s.Tilt = View(v.Show.View), v.Show.Turn, v.Show.Tilt
	}
	start := figures["start"]
	if ghost && pose != "start" {
		s.Ghost = &start
	}
	for _, name := range v.Show.Limbs {
		l := Limb{Leg: name[:3] == "leg"}
		if right := name[4:] == "right"; right != mirrored {
			l.Side = body.Right
		}
		s.Working = append(s.Working, l)
	}
	for _, solid := range m.Solids {
		if solid.Soft && size.Simple {
			continue // a mat is a smudge at that size
		}
		s.Props = append(s.Props, Prop{Min: solid.Min, Max: solid.Max, Mat: solid.Soft})
	}
	s.Stick = v.Show.Stick
	if v.Show.StrapFoot != "" && pose != "start" {
		side := body.Left
		if (v.Show.StrapFoot == "right") != mirrored {
			side = body.Right
		}
		s.StrapFoot = &side
	}
	return SVG(s, size, theme), nil
}
