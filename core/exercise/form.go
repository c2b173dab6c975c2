package exercise

import (
	"iter"
	"slices"
	"sync"

	"restbend/core/body"
)

// Form is a variant as taught: plain, or with adaptations. It owns what was solved of
// its movement: whoever measures or draws it borrows the same figures, so that the
// picture and the verdict cannot differ and nothing is solved twice.
type Form struct {
	Adaptations []Adaptation
	Movement    Movement
	Measured    Measured // of an adapted form, once Adapted has handed it out
	Lost        float64  // share of the movement's range given up, for choosing

	once     sync.Once
	possible bool
	solved   [2]solution // as it is, and mirrored
}

// solution is the key poses of a movement, solved.
type solution struct {
	once    sync.Once
	figures map[string]body.Figure
	err     error
}

// NewForm is the plain form of a movement, checked and measured. With an error, which
// names the pose, it can still be drawn as far as it was solved.
func NewForm(m Movement) (*Form, error) {
	f := &Form{Movement: m}
	frames, err := f.Frames()
	if err != nil {
		return f, err
	}
	err = CheckFrames(m, frames)
	measured, measuring := MeasureFrames(m, frames)
	f.Measured = measured
	if err == nil {
		err = measuring
	}
	return f, err
}

// Figures are the key poses by name, solved once; mirrored with left and right swapped.
// They are shared: who borrows them does not change them.
func (f *Form) Figures(mirrored bool) (map[string]body.Figure, error) {
	m, s := f.Movement, &f.solved[0]
	if mirrored {
		m, s = m.Mirror(), &f.solved[1]
	}
	s.once.Do(func() { s.figures, s.err = m.Figures() })
	return s.figures, s.err
}

// Frames are the key poses and samples on the way between, for measuring.
func (f *Form) Frames() ([]Frame, error) { return f.Film(betweenKeys, false) }

// Film is Frames with so many samples from one key pose to the next.
func (f *Form) Film(samples int, mirrored bool) ([]Frame, error) {
	figures, err := f.Figures(mirrored)
	if err != nil {
		return nil, err
	}
	m := f.Movement
	if mirrored {
		m = m.Mirror()
	}
	return m.between(figures, samples), nil
}

// measure measures an adapted form the first time it is asked for, and says
// whether a body could take it.
func (f *Form) measure() bool {
	f.once.Do(func() {
		if f.Measured.Done() {
			f.possible = true
			return
		}
		frames, err := f.Frames()
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
