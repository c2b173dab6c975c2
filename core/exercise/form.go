package exercise

import (
	"iter"
	"math"
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
	For         string   // the quantity for whose sake alone it is offered; empty for any

	kept     [][]byte // what was measured of it, where that was kept: one, empty when it is not possible
	plain    *Form    // that it is an adaptation of
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

// withAdaptations lists the form and every adapted form that the movement may have.
func (f *Form) withAdaptations(may []string) []*Form {
	all := append([]*Form{f}, Adaptations(f.Movement, may)...)
	for _, a := range all[1:] {
		a.plain = f
	}
	return all
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
		if f.kept != nil {
			f.possible = len(f.kept[0]) > 0 && f.Measured.UnmarshalBinary(f.kept[0]) == nil
			return
		}
		frames, err := f.Frames()
		if err != nil || CheckFrames(f.Movement, frames) != nil {
			return
		}
		f.Measured, err = MeasureFrames(f.Movement, frames)
		f.possible = err == nil && f.keepsPurpose()
	})
	return f.possible
}

// HeldFor is what is measured of the form when its longest hold is of so many seconds.
func (f *Form) HeldFor(seconds float64) (Measured, error) {
	if seconds == f.Movement.Hold {
		return f.Measured, nil
	}
	frames, err := f.Frames()
	if err != nil {
		return Measured{}, err
	}
	m := f.Movement
	m.Hold = seconds
	return MeasureFrames(m, frames)
}

// keepsPurpose says whether something of the plain form's movement is left: an adaptation
// that takes away what the exercise is for, such as the head down in a curl-up, is none.
func (f *Form) keepsPurpose() bool {
	if f.plain == nil {
		return true
	}
	still, now := true, f.travel()
	for i, was := range f.plain.travel() {
		if was > leastMove {
			if still = false; now[i] >= leastTravel*was {
				return true
			}
		}
	}
	return still
}

const (
	leastMove   = 5.0 // degrees from which a joint is said to move
	leastTravel = 0.2 // share of it that an adaptation has to leave in some joint
)

// Moves says whether some joint goes at least so many degrees from the start to another key
// pose, so that two pictures tell more than one.
func (f *Form) Moves(degrees float64) bool {
	for _, far := range f.travel() {
		if far >= degrees {
			return true
		}
	}
	return false
}

// travel is how far each joint goes from the start to any other key pose, in degrees: the
// three regions of the back, hips, knees and shoulders.
func (f *Form) travel() (most [15]float64) {
	figures, err := f.Figures(false)
	if err != nil {
		return
	}
	bends := func(f body.Figure) (out [15]float64) {
		a := f.Angles()
		for i, b := range []body.Bend{f.Pose.Lumbar, f.Pose.Thoracic, f.Pose.Cervical} {
			copy(out[3*i:], []float64{b.Flexion, b.Side, b.Turn})
		}
		copy(
			out[9:],
			[]float64{a.HipFlexion[0], a.HipFlexion[1], a.KneeFlexion[0], a.KneeFlexion[1], a.ShoulderLift[0], a.ShoulderLift[1]},
		)
		return
	}
	from := bends(figures["start"])
	for _, pose := range f.Movement.Order[1:] {
		for i, v := range bends(figures[pose]) {
			most[i] = math.Max(most[i], math.Abs(v-from[i]))
		}
	}
	return
}

// Plain is the variant's form without adaptations.
func (v *Variant) Plain() *Form { return v.forms()[0] }

// Adapted walks the adapted forms in order of preference. Each is measured when
// first reached and kept, since it is the same for every client; a form that no
// body could take is left out.
func (v *Variant) Adapted() iter.Seq[*Form] {
	return func(yield func(*Form) bool) {
		for _, f := range v.forms()[1:] {
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
	for _, f := range v.forms()[1:] {
		if slices.Equal(f.Adaptations, adaptations) && f.measure() {
			return f
		}
	}
	return v.Plain()
}
