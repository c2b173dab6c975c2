package library

import (
	"cmp"
	"errors"
	"fmt"
	"maps"
	"slices"

	"restbend/core/body"
	"restbend/core/exercise"
)

// familyFile is one file of the library. What a family's variants share is
// said once under "shared" and may be overridden by a variant.
type familyFile struct {
	Family   string    `yaml:"family"`
	Name     string    `yaml:"name"`
	Why      string    `yaml:"why"`
	Shared   written   `yaml:"shared,omitempty"`
	Variants []written `yaml:"variants"`
}

// variantFile is a whole variant as written: what an exercise.Variant holds, and how it
// is posed and moves.
type variantFile struct {
	exercise.Variant `yaml:",inline"`
	Like             string               `yaml:"like"` // an earlier variant of the family that it takes over what it leaves out from
	From             string               `yaml:"from"`
	Poses            map[string]*poseFile `yaml:"poses"`
	Steps            []stepFile           `yaml:"steps"`
	HoldAt           string               `yaml:"hold_at"`
	Furniture        []string             `yaml:"furniture"`
	Touching         []body.Part          `yaml:"touching"` // parts that are meant to lie against the body
	EyesClosed       bool                 `yaml:"eyes_closed"`
	HandSupport      bool                 `yaml:"hand_support"`
	Resistance       string               `yaml:"resistance"`
	Directions       map[string]string    `yaml:"directions"` // poses of a two-way movement, in words
	Held             []exercise.Held      `yaml:"held"`
}

// timed gives a counted dose the movement's own tempo.
func timed(d exercise.Dose, m exercise.Movement) exercise.Dose {
	if d.Seconds == 0 && (d.Kind == exercise.Repetitions || d.Kind == exercise.Circles) {
		d.Seconds = m.Tempo()
	}
	return d
}

// mistake is what is wrong with one variant, and the line where it is, if it is known.
type mistake struct {
	variant string
	at      int
	err     error
}

func (m *mistake) Error() string { return fmt.Sprintf("variant %s: %v", m.variant, m.err) }
func (m *mistake) Unwrap() error { return m.err }

func (f familyFile) build(poses map[string]body.Pose, limbs namedLimbs) (*exercise.Family, error) {
	if f.Family == "" || f.Name == "" {
		return nil, fmt.Errorf("family and name are needed")
	}
	out := &exercise.Family{ID: f.Family, Name: f.Name, Why: f.Why}
	var wrong []error
	for _, w := range f.Variants {
		whole, err := f.whole(w, 0)
		var built *exercise.Variant
		if err == nil {
			built, err = f.variant(whole, poses, limbs)
		}
		if err != nil {
			wrong = append(wrong, &mistake{w.word("id"), whole.line(err), err})
		}
		if built != nil {
			out.Variants = append(out.Variants, built)
		}
	}
	return out, errors.Join(wrong...)
}

// whole is a variant with what it takes over from the sibling it is like, and then from
// its family. Of a sibling the rungs above and the swaps are not taken.
func (f familyFile) whole(w written, depth int) (written, error) {
	if like := w.word("like"); like != "" {
		i := slices.IndexFunc(f.Variants, func(o written) bool { return o.word("id") == like })
		if i < 0 || depth > 4 {
			return w, fmt.Errorf("like: there is no %q in this family that stands on its own", like)
		}
		sibling, err := f.whole(f.Variants[i], depth+1)
		if err != nil {
			return w, err
		}
		w.inherit(sibling, "next", "swaps")
	}
	w.inherit(f.Shared)
	return w, nil
}

// variant builds a variant that is whole.
func (f familyFile) variant(w written, poses map[string]body.Pose, limbs namedLimbs) (*exercise.Variant, error) {
	var v variantFile
	id := w.field("id")
	if id == nil {
		return nil, fmt.Errorf("id: is missing")
	}
	if err := w.into(id, &v); err != nil {
		return nil, firstLine(err)
	}
	if err := v.checkWords(); err != nil {
		return nil, err
	}
	movement, err := v.movement(poses, limbs)
	if err != nil {
		return nil, err
	}
	out := &v.Variant
	out.Family, out.MayAdapt, out.Show.Held = f.Family, v.bears(movement), v.Held
	out.Earn.EachSide, out.Earn.Sessions = out.Sided(), cmp.Or(out.Earn.Sessions, exercise.UsualSessions)
	if len(out.Next) > 0 {
		if err := out.Earn.Check(v.Studio, v.Home); err != nil {
			return nil, err
		}
	}
	out.Studio, out.Home = timed(v.Studio, movement), timed(v.Home, movement)
	for _, d := range []exercise.Dose{out.Studio, out.Home} {
		if err := d.Fits(movement); err != nil {
			return nil, fmt.Errorf("dose %q: %w", d.Words(v.Sided()), err)
		}
	}
	if out.EndPosition == "" {
		out.EndPosition = out.Position
	}
	if len(out.Places) == 0 {
		for _, p := range exercise.Places {
			if p.Holds(out.Position) {
				out.Places = append(out.Places, p)
			}
		}
	}
	if out.Show.Pose == "" {
		out.Show.Pose = movement.Order[len(movement.Order)-1]
	}
	if out.Show.View == "" {
		out.Show.View = "side"
	}
	return out, out.Made(movement)
}

// mostAdaptations is how many adaptations a variant may bear.
const mostAdaptations = 6

// bears are the adaptations the variant names, padding under the knees of whatever
// kneels, a pillow between the knees of whoever lies on the side, and fists for the hands of whoever is on hands and knees.
func (v variantFile) bears(m exercise.Movement) []string {
	bears := slices.Clone(v.MayAdapt)
	padded := slices.Contains([]exercise.Position{"kneeling", "half_kneeling", "four_point", "side_lying"}, v.Position)
	add := func(id string, so bool) {
		if so && len(bears) < mostAdaptations && !slices.Contains(bears, id) {
			bears = append(bears, id)
		}
	}
	add("pillow", padded)
	add("fists", v.Position == "four_point" && m.FlatHands())
	return bears
}

//revive:disable-next-line:cyclomatic One check for each field, each with its own sentence.
func (v variantFile) checkWords() error {
	need := map[string]string{
		"id":         v.ID,
		"name":       v.Name,
		"set_up":     v.SetUp,
		"why":        v.Why,
		"breath_cue": v.BreathCue,
		"chain":      v.Chain,
		"from":       v.From,
	}
	for _, field := range slices.Sorted(maps.Keys(need)) {
		if need[field] == "" {
			return fmt.Errorf("%s: is missing", field)
		}
	}
	if v.Position.Rank() < 0 {
		return fmt.Errorf("position: %q is not one of %v", v.Position, exercise.Positions)
	}
	if v.Studio.Kind == "" || v.Home.Kind == "" {
		return fmt.Errorf("studio and home: both doses are needed")
	}
	if v.Curve != "" && (!v.Sided() || v.Curve != "lengthen" && v.Curve != "strengthen") {
		return fmt.Errorf("curve: expected lengthen or strengthen, on a variant with sides, found %q", v.Curve)
	}
	for field, d := range map[string]exercise.Dose{"studio": v.Studio, "home": v.Home} {
		if !slices.Contains(exercise.DoseKinds, d.Kind) {
			return fmt.Errorf("%s.kind: %q is not one of %v", field, d.Kind, exercise.DoseKinds)
		}
	}
	if err := known("may_adapt", v.MayAdapt, exercise.AdaptationIDs); err != nil {
		return err
	}
	if err := known("purposes", v.Purposes, exercise.Purposes); err != nil {
		return err
	}
	if err := known("phases", v.Phases, exercise.Phases); err != nil {
		return err
	}
	if err := known("favours", v.Favours, exercise.Approaches); err != nil {
		return err
	}
	for i, n := range v.Next {
		if err := known(fmt.Sprintf("next[%d].changes", i), n.Changes, exercise.StepChanges); err != nil {
			return err
		}
		if len(n.Changes) != 1 {
			return fmt.Errorf("next[%d].changes: a step changes one thing, found %d", i, len(n.Changes))
		}
	}
	for i, h := range v.Held {
		if err := known(fmt.Sprintf("held[%d].kind", i), []string{h.Kind}, exercise.HeldKinds); err != nil {
			return err
		}
		for _, p := range h.At {
			if err := body.CheckPart(p); err != nil {
				return fmt.Errorf("held[%d].at: %w", i, err)
			}
		}
	}
	if err := known("places", v.Places, exercise.Places); err != nil {
		return err
	}
	for _, e := range append(slices.Concat(v.EquipmentOneOf...), v.Equipment...) {
		if !slices.Contains(exercise.Equipment, e) {
			return fmt.Errorf("equipment: %q is not one of %v", e, exercise.Equipment)
		}
	}
	if err := knownSettings(v.Settings); err != nil {
		return err
	}
	if len(v.Purposes) == 0 || len(v.Phases) == 0 {
		return fmt.Errorf("purposes and phases: at least one of each is needed")
	}
	if len(v.Cues) < 2 || len(v.Cues) > 4 {
		return fmt.Errorf("cues: two to four are needed, found %d", len(v.Cues))
	}
	for i, c := range append(slices.Clone(v.Cues), v.BreathCue, v.TouchCue) {
		if len([]rune(c)) >= 90 {
			return fmt.Errorf("cues[%d]: must be under 90 characters, is %d", i, len([]rune(c)))
		}
	}
	return nil
}

// knownSettings refuses settings that no client could be asked about.
func knownSettings(s exercise.Settings) error {
	for _, k := range []struct {
		field, got string
		all        []string
	}{{"band", s.Band, exercise.Strengths}, {"spring", s.Spring, exercise.Strengths}, {"arc", s.Arc, exercise.Arcs},
		{"base", s.Base, exercise.Bases}, {"feet", s.Feet, exercise.FeetHeld}} {
		if k.got != "" && !slices.Contains(k.all, k.got) {
			return fmt.Errorf("settings.%s: %q is not one of %v", k.field, k.got, k.all)
		}
	}
	if s.WedgeGrade < 0 || s.WedgeGrade > exercise.WedgeGrades {
		return fmt.Errorf("settings.wedge_grade: expected 1 to %d, found %d", exercise.WedgeGrades, s.WedgeGrade)
	}
	return nil
}

func known[T ~string](field string, got, all []T) error {
	for i, g := range got {
		if !slices.Contains(all, g) {
			return fmt.Errorf("%s[%d]: %q is not one of %v", field, i, g, all)
		}
	}
	return nil
}
