package exercise

import (
	"iter"
	"slices"
	"sync"
)

// Adaptation is one change that keeps the purpose.
type Adaptation struct {
	ID   string `json:"id"`
	Text string `json:"text"`
}

// AdaptationIDs are the adaptations that can be carried out on a movement.
var AdaptationIDs = []string{"smaller_range", "allowed_directions_only", "head_down", "flat_back", "arms_lower", "shorter_hold",
	"raise_surface", "support_hand", "pillow", "bent_lever", "one_limb"}

// Form is a variant as taught: plain, or with adaptations.
type Form struct {
	Adaptations []Adaptation
	Movement    Movement
	Measured    Measured // of an adapted form, once Adapted has handed it out
	Lost        float64  // share of the movement's range given up, for choosing
	once        sync.Once
	possible    bool
}

// measure measures an adapted form the first time it is asked for, and says
// whether a body could take it.
func (f *Form) measure() bool {
	f.once.Do(func() {
		if f.Measured.Done() {
			f.possible = true
			return
		}
		frames, err := f.Movement.Frames()
		if err != nil || CheckFrames(f.Movement, frames) != nil {
			return
		}
		f.Measured, err = MeasureFrames(f.Movement, frames)
		f.possible = err == nil
	})
	return f.possible
}

// Plain is the variant's form without adaptations.
func (v *Variant) Plain() *Form { return v.Forms[0] }

// Adapted walks the adapted forms in order of preference. Each is measured when
// first reached and kept, since it is the same for every client; a form that no
// body could take is left out.
func (v *Variant) Adapted() iter.Seq[*Form] {
	return func(yield func(*Form) bool) {
		for _, f := range v.Forms[1:] {
			if f.measure() && !yield(f) {
				return
			}
		}
	}
}

// ShowPose is the pose that stands for a form: the variant's own, or the last
// one left when that was taken out.
func (v *Variant) ShowPose(f *Form) string {
	if slices.Contains(f.Movement.Order, v.Show.Pose) {
		return v.Show.Pose
	}
	return f.Movement.Order[len(f.Movement.Order)-1]
}

// FormOf finds the form with the given adaptations; the plain one when there
// is none.
func (v *Variant) FormOf(adaptations []Adaptation) *Form {
	for _, f := range v.Forms[1:] {
		if slices.Equal(f.Adaptations, adaptations) && f.measure() {
			return f
		}
	}
	return v.Plain()
}

// smallerRanges are the sizes tried, largest first.
var smallerRanges = []struct {
	share float64
	words string
}{{0.75, "three quarters"}, {0.5, "half"}, {0.25, "a quarter"}}

// Adaptations lists every adapted form of a movement, fewest adaptations first,
// then least range lost, then in the order the variant lists them.
func Adaptations(m Movement, may []string) []*Form {
	var singles, pairs []*Form
	for i, id := range may {
		for _, f := range adapt(m, id) {
			singles = append(singles, f)
			for _, second := range may[i+1:] {
				for _, g := range adapt(f.Movement, second) {
					pairs = append(pairs, &Form{Adaptations: append(slices.Clone(f.Adaptations), g.Adaptations...), Movement: g.Movement, Lost: 1 - (1-f.Lost)*(1-g.Lost)})
				}
			}
		}
	}
	byLoss := func(a, b *Form) int {
		switch {
		case a.Lost < b.Lost:
			return -1
		case a.Lost > b.Lost:
			return 1
		}
		return 0
	}
	slices.SortStableFunc(singles, byLoss)
	slices.SortStableFunc(pairs, byLoss)
	return append(singles, pairs...)
}
