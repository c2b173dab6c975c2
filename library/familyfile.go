package library

import (
	"errors"
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strings"

	"restbend/core/body"
	"restbend/core/exercise"
)

// familyFile is one file of the library. What a family's variants share is
// said once under "shared" and may be said anew by a variant.
type familyFile struct {
	Family   string        `yaml:"family"`
	Name     string        `yaml:"name"`
	Why      string        `yaml:"why"`
	Shared   variantFile   `yaml:"shared,omitempty"`
	Variants []variantFile `yaml:"variants"`
}

type variantFile struct {
	ID             string               `yaml:"id,omitempty"`
	Name           string               `yaml:"name,omitempty"`
	Like           string               `yaml:"like,omitempty"` // an earlier variant of the family that it takes over what it leaves out from
	Position       exercise.Position    `yaml:"position,omitempty"`
	EndPosition    exercise.Position    `yaml:"end_position,omitempty"`
	Places         []exercise.Place     `yaml:"places,omitempty"`
	Equipment      []string             `yaml:"equipment,omitempty"`
	EquipmentOneOf [][]string           `yaml:"equipment_one_of,omitempty"`
	Purposes       []exercise.Purpose   `yaml:"purposes,omitempty"`
	Phases         []exercise.Phase     `yaml:"phases,omitempty"`
	Left           string               `yaml:"left,omitempty"`         // what the left side means; sided when given
	Curve          string               `yaml:"curve,omitempty"`        // lengthen or strengthen
	ServesOther    bool                 `yaml:"serves_other,omitempty"` // the side that gains is the other one
	Chain          string               `yaml:"chain,omitempty"`
	Studio         *exercise.Dose       `yaml:"studio,omitempty"`
	Home           *exercise.Dose       `yaml:"home,omitempty"`
	SetUp          string               `yaml:"set_up,omitempty"`
	Cues           []string             `yaml:"cues,omitempty"`
	BreathCue      string               `yaml:"breath_cue,omitempty"`
	TouchCue       string               `yaml:"touch_cue,omitempty"`
	Image          string               `yaml:"image,omitempty"`
	Faults         []exercise.Fault     `yaml:"faults,omitempty"`
	Stop           []string             `yaml:"stop,omitempty"`
	Why            string               `yaml:"why,omitempty"`
	Earn           string               `yaml:"earn,omitempty"`
	Next           []exercise.Next      `yaml:"next,omitempty"`
	Settings       *exercise.Settings   `yaml:"settings,omitempty"`
	Favours        []exercise.Approach  `yaml:"favours,omitempty"`
	Swaps          []string             `yaml:"swaps,omitempty"`
	MayAdapt       []string             `yaml:"may_adapt,omitempty"`
	From           string               `yaml:"from,omitempty"`
	Poses          map[string]*poseFile `yaml:"poses,omitempty"`
	Steps          []stepFile           `yaml:"steps,omitempty"`
	HoldAt         string               `yaml:"hold_at,omitempty"`
	Furniture      []string             `yaml:"furniture,omitempty"`
	Touching       []body.Part          `yaml:"touching,omitempty"` // parts that are meant to lie against the body
	EyesClosed     bool                 `yaml:"eyes_closed,omitempty"`
	HandSupport    *bool                `yaml:"hand_support,omitempty"`
	Resistance     string               `yaml:"resistance,omitempty"`
	Directions     map[string]string    `yaml:"directions,omitempty"` // poses of a two-way movement, in words
	Held           []exercise.Held      `yaml:"held,omitempty"`
	Show           showFile             `yaml:"show,omitempty"`
}

// timed gives a counted dose the movement's own tempo.
func timed(d exercise.Dose, m exercise.Movement) exercise.Dose {
	if d.Seconds == 0 && (d.Kind == exercise.Repetitions || d.Kind == exercise.Circles) {
		d.Seconds = m.Tempo()
	}
	return d
}

// mistake is what is wrong with one variant.
type mistake struct {
	variant string
	err     error
}

func (m *mistake) Error() string { return fmt.Sprintf("variant %s: %v", m.variant, m.err) }
func (m *mistake) Unwrap() error { return m.err }

var namesPose = regexp.MustCompile(`^poses?[. ](\w+)`)

// line is where in the file the mistake is: at the pose it names, or else where
// the variant begins; 0 when it cannot be told.
func (m *mistake) line(text []byte) int {
	pose := namesPose.FindStringSubmatch(m.err.Error())
	at, inside := 0, false
	for i, l := range strings.Split(string(text), "\n") {
		l = strings.TrimSpace(l)
		if strings.HasPrefix(l, "- id: ") {
			inside = strings.TrimPrefix(l, "- id: ") == m.variant
			if inside {
				at = i + 1
			}
		}
		if inside && pose != nil && strings.HasPrefix(l, pose[1]+":") {
			return i + 1
		}
	}
	return at
}

func (f familyFile) build(poses map[string]body.Pose, limbs namedLimbs) (*exercise.Family, error) {
	if f.Family == "" || f.Name == "" {
		return nil, fmt.Errorf("family and name are needed")
	}
	out := &exercise.Family{ID: f.Family, Name: f.Name, Why: f.Why}
	var wrong []error
	written := map[string]variantFile{}
	for _, v := range f.Variants {
		written[v.ID] = v
	}
	for _, v := range f.Variants {
		v, err := v.resembling(written, f.Shared, 0)
		if err != nil {
			wrong = append(wrong, &mistake{v.ID, fmt.Errorf("like: %w", err)})
			continue
		}
		built, err := v.build(f, poses, limbs)
		if err != nil {
			wrong = append(wrong, &mistake{v.ID, err})
		}
		if built != nil {
			out.Variants = append(out.Variants, built)
		}
	}
	return out, errors.Join(wrong...)
}

func (v variantFile) build(f familyFile, poses map[string]body.Pose, limbs namedLimbs) (*exercise.Variant, error) {
	v.inherit(f.Shared)
	if err := v.checkWords(); err != nil {
		return nil, err
	}
	if v.Curve != "" && (v.Left == "" || v.Curve != "lengthen" && v.Curve != "strengthen") {
		return nil, fmt.Errorf("curve: expected lengthen or strengthen, on a variant with sides, found %q", v.Curve)
	}
	movement, err := v.movement(poses, limbs)
	if err != nil {
		return nil, err
	}
	v.MayAdapt = v.bears()
	out := &exercise.Variant{
		ID: v.ID, Name: v.Name, Family: f.Family, Position: v.Position, EndPosition: v.EndPosition,
		Places: v.Places, Equipment: v.Equipment, EquipmentOneOf: v.EquipmentOneOf,
		Purposes: v.Purposes, Phases: v.Phases, Sided: v.Left != "", SideMeans: v.Left, Chain: v.Chain,
		Studio: timed(*v.Studio, movement), Home: timed(*v.Home, movement), SetUp: v.SetUp, Cues: v.Cues, BreathCue: v.BreathCue, TouchCue: v.TouchCue,
		Image: v.Image, Faults: v.Faults, Stop: v.Stop, Why: v.Why, Earn: v.Earn, Next: v.Next, Swaps: v.Swaps,
		MayAdapt: v.MayAdapt,
		Show:    exercise.Show{View: v.Show.View, Turn: v.Show.Turn, Tilt: v.Show.Tilt, Pose: v.Show.Pose, Limbs: v.Show.Working, Mirror: v.Show.Mirror, Held: v.Held},
		Favours: v.Favours, ServesOther: v.ServesOther, Curve: v.Curve,
	}
	if v.Settings != nil {
		out.Settings = *v.Settings
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

// resembling fills in what a variant takes over from the sibling it is like.
func (v variantFile) resembling(written map[string]variantFile, shared variantFile, depth int) (variantFile, error) {
	if v.Like == "" {
		return v, nil
	}
	sibling, ok := written[v.Like]
	if !ok || depth > 4 {
		return v, fmt.Errorf("there is no %q in this family that stands on its own", v.Like)
	}
	sibling, err := sibling.resembling(written, shared, depth+1)
	if err != nil {
		return v, err
	}
	sibling.ID, sibling.Name, sibling.Next, sibling.Swaps = "", "", nil, nil
	sibling.inherit(shared)
	v.inherit(sibling)
	return v, nil
}

// inherit fills in what the variant leaves to its family.
func (v *variantFile) inherit(s variantFile) {
	fill(&v.Position, s.Position)
	if v.Left == "" { // what side means and whom it serves go together
		v.Left, v.ServesOther, v.Curve = s.Left, s.ServesOther, s.Curve
	}
	fill(&v.Chain, s.Chain)
	fill(&v.SetUp, s.SetUp)
	fill(&v.BreathCue, s.BreathCue)
	fill(&v.TouchCue, s.TouchCue)
	fill(&v.Image, s.Image)
	fill(&v.Why, s.Why)
	fill(&v.Earn, s.Earn)
	fill(&v.From, s.From)
	fill(&v.Studio, s.Studio)
	fill(&v.Home, s.Home)
	list(&v.Places, s.Places)
	list(&v.Equipment, s.Equipment)
	list(&v.EquipmentOneOf, s.EquipmentOneOf)
	list(&v.Purposes, s.Purposes)
	list(&v.Phases, s.Phases)
	list(&v.Cues, s.Cues)
	list(&v.Faults, s.Faults)
	list(&v.Stop, s.Stop)
	list(&v.Swaps, s.Swaps)
	list(&v.MayAdapt, s.MayAdapt)
	list(&v.Furniture, s.Furniture)
	list(&v.Steps, s.Steps)
	list(&v.Touching, s.Touching)
	list(&v.Favours, s.Favours)
	list(&v.Held, s.Held)
	fill(&v.HoldAt, s.HoldAt)
	fill(&v.Resistance, s.Resistance)
	fill(&v.EndPosition, s.EndPosition)
	fill(&v.Settings, s.Settings)
	fill(&v.Show.View, s.Show.View)
	fill(&v.Show.Turn, s.Show.Turn)
	fill(&v.Show.Tilt, s.Show.Tilt)
	fill(&v.Show.Pose, s.Show.Pose)
	list(&v.Show.Working, s.Show.Working)
	fill(&v.HandSupport, s.HandSupport)
	v.Show.Mirror = v.Show.Mirror || s.Show.Mirror
	if v.Directions == nil {
		v.Directions = s.Directions
	}
	for name, p := range s.Poses {
		if v.Poses[name] == nil && v.goesTo(name) {
			if v.Poses == nil {
				v.Poses = map[string]*poseFile{}
			} else {
				v.Poses = maps.Clone(v.Poses)
			}
			v.Poses[name] = p
		}
	}
}

// mostAdaptations is how many adaptations a variant may bear.
const mostAdaptations = 6

// bears are the adaptations the variant names, and padding under the knees of
// whatever kneels.
func (v variantFile) bears() []string {
	kneels := v.Position == "kneeling" || v.Position == "half_kneeling" || v.Position == "four_point"
	if kneels && len(v.MayAdapt) < mostAdaptations && !slices.Contains(v.MayAdapt, "pillow") {
		return append(slices.Clone(v.MayAdapt), "pillow")
	}
	return v.MayAdapt
}

// goesTo says whether the movement has a pose of that name.
func (v *variantFile) goesTo(pose string) bool {
	return pose == "start" || slices.ContainsFunc(v.Steps, func(s stepFile) bool { return s.To == pose })
}

func fill[T comparable](to *T, from T) {
	var zero T
	if *to == zero {
		*to = from
	}
}

func list[T any](to *[]T, from []T) {
	if *to == nil {
		*to = from
	}
}

func (v variantFile) checkWords() error {
	need := map[string]string{"id": v.ID, "name": v.Name, "set_up": v.SetUp, "why": v.Why, "breath_cue": v.BreathCue, "chain": v.Chain, "from": v.From}
	for _, field := range slices.Sorted(maps.Keys(need)) {
		if need[field] == "" {
			return fmt.Errorf("%s: is missing", field)
		}
	}
	if v.Position.Rank() < 0 {
		return fmt.Errorf("position: %q is not one of %v", v.Position, exercise.Positions)
	}
	if v.Studio == nil || v.Home == nil {
		return fmt.Errorf("studio and home: both doses are needed")
	}
	for field, d := range map[string]*exercise.Dose{"studio": v.Studio, "home": v.Home} {
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
		if len(n.Changes) < 1 || len(n.Changes) > 2 {
			return fmt.Errorf("next[%d].changes: a step changes one or two things, found %d", i, len(n.Changes))
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
func knownSettings(s *exercise.Settings) error {
	if s == nil {
		return nil
	}
	for _, k := range []struct {
		field, got string
		all        []string
	}{{"band", s.Band, exercise.Strengths}, {"spring", s.Spring, exercise.Strengths}, {"arc", s.Arc, exercise.Arcs}} {
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
