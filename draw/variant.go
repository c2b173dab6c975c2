package draw

import (
	"fmt"
	"slices"

	"restbend/core/body"
	"restbend/core/exercise"
)

// Variant draws one pose of a form of a variant (nil for the plain one), or the
// pose that stands for it when pose is empty. With ghost, the start pose is
// shown behind it.
func Variant(v *exercise.Variant, form *exercise.Form, pose string, ghost bool, view View, size Size, theme Theme) (Picture, error) {
	if form == nil {
		form = v.Plain()
	}
	if pose == "" {
		pose = v.ShowPose(form)
	}
	figures, err := form.Figures(v.Show.Mirror)
	if err != nil {
		return Picture{}, err
	}
	main, ok := figures[pose]
	if !ok {
		return Picture{}, fmt.Errorf("variant %s has no pose %q", v.ID, pose)
	}
	s := subject(v, form.Movement, view)
	s.Figure = &main
	start := figures["start"]
	if ghost && pose != "start" {
		s.Ghost = &start
	}
	s.Held = slices.DeleteFunc(s.Held, func(h exercise.Held) bool { return h.Pose != "" && h.Pose != pose })
	if size.Simple { // a mat is a smudge at that size
		s.Props = slices.DeleteFunc(s.Props, func(p Prop) bool { return p.Mat })
	}
	return SVG(s, size, theme), nil
}

// sideLyingTilt is how far from above, in degrees, somebody who lies on the side is seen from the
// side: from the level one limb hides the other.
const sideLyingTilt = 26

// subject is what every picture of a variant has in common: the view, the
// working limbs, furniture, strap and stick.
func subject(v *exercise.Variant, m exercise.Movement, view View) Subject {
	s := Subject{View: view}
	if view == "" {
		s.View, s.Turn, s.Tilt = View(v.Show.View), v.Show.Turn, v.Show.Tilt
	} else if base := m.Poses["start"].Base; view == SideView && (base == body.SideLeft || base == body.SideRight) {
		s.Tilt = sideLyingTilt
	}
	side := func(right bool) body.Side {
		if right != v.Show.Mirror {
			return body.Right
		}
		return body.Left
	}
	for _, name := range v.Show.Limbs {
		s.Working = append(s.Working, Limb{Leg: name[:3] == "leg", Side: side(name[4:] == "right")})
	}
	for _, solid := range m.Solids {
		s.Props = append(s.Props, Prop{Min: solid.Min, Max: solid.Max, Mat: solid.Soft, Shape: solid.Shape})
	}
	for _, h := range v.Show.Held {
		if v.Show.Mirror {
			h = h.Mirror()
		}
		s.Held = append(s.Held, h)
	}
	return s
}

// Still is one picture of a movement and the second it belongs to.
type Still struct {
	At float64
	Picture
}

// Motion draws a form of a variant, from the given view or its own, as stills over one repetition, all in the
// same frame, to be shown one after the other.
func Motion(v *exercise.Variant, form *exercise.Form, view View, size Size, theme Theme) ([]Still, error) {
	if form == nil {
		form = v.Plain()
	}
	frames, err := form.Film(stillsPerStep, v.Show.Mirror)
	if err != nil {
		return nil, err
	}
	var around []*body.Figure
	for i := range frames {
		around = append(around, &frames[i].Figure)
	}
	out := make([]Still, len(frames))
	for i, f := range frames {
		s := subject(v, form.Movement, view)
		s.Held = slices.DeleteFunc(s.Held, func(h exercise.Held) bool { return h.Pose == "start" || h.Pose != "" && f.Pose == "start" })
		s.Figure, s.Around = &f.Figure, around
		out[i] = Still{f.Seconds, SVG(s, size, theme)}
	}
	return out, nil
}

// stillsPerStep is how many pictures show one step of a movement.
const stillsPerStep = 9
