package exercise

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"
)

// Measured holds what was measured of a form: the peaks of every quantity of the
// Registry over the whole movement, and over both sides when it has sides. All are
// kept on one scale: numbers in their unit, flags as 0 or 1, words as their place in
// the order. What was not measured is not a number, so that no comparison ever takes
// it for little; the zero Measured has measured nothing.
type Measured struct {
	values []float64 // by slot
	// one is the same of each side alone, before both were made alike: as it is drawn it
	// is done on the left. nil for a variant without sides.
	one [2][]float64
	// Moments are the spine's angles at each sampled instant, for rules about two
	// quantities at the same time.
	Moments []Spine
}

// NewtonMetres turns a share of body weight × height into N·m.
func NewtonMetres(share, heightCM, massKG float64) float64 {
	return share * massKG * Gravity * heightCM / 100
}

// Gravity is the acceleration of free fall in m/s².
const Gravity = 9.81

// unmeasured is a Measured to be filled.
func unmeasured() Measured {
	m := Measured{values: make([]float64, slots)}
	for i := range m.values {
		m.values[i] = math.NaN()
	}
	return m
}

// AtRest is what would be measured of a body that does nothing at all: every quantity
// at its least, at one instant. It is what tests of limits begin with.
func AtRest() Measured {
	return Measured{values: make([]float64, slots), Moments: make([]Spine, 1)}
}

// With is a copy in which the value of a published name is another: a number, a bool
// or a word. A plain name of a sided quantity sets both sides. It panics when there is
// no such value.
func (m Measured) With(name string, value any) Measured {
	k, ok := keys[name]
	if !ok {
		panic("no quantity is called " + name)
	}
	if n, whole := value.(int); whole {
		value = float64(n)
	}
	v, err := k.Quantity.Scale(value)
	if err != nil {
		panic(err)
	}
	m.values, m.one = slices.Clone(m.values), [2][]float64{}
	m.set(k, v)
	return m
}

func (m *Measured) set(k Key, v float64) {
	m.values[k.slot] = v
	if k.both {
		m.values[k.slot+1] = v
	}
}

// put records a value under its published name. That a name is in the Registry is for
// the tests of measuring to show: an unknown one panics.
func (m *Measured) put(name string, v float64) {
	k, ok := keys[name]
	if !ok {
		panic("no quantity is called " + name)
	}
	m.set(k, v)
}

func (m *Measured) flag(name string, on bool) { m.put(name, map[bool]float64{true: 1}[on]) }

// Without is a copy in which a value was not measured.
func (m Measured) Without(name string) Measured {
	m.values, m.one = slices.Clone(m.values), [2][]float64{}
	m.put(name, math.NaN())
	return m
}

// At is the value of a key on the scale of its quantity, of the worse side where none
// is named; not a number where it was not measured.
func (m Measured) At(k Key) float64 {
	if m.values == nil || k.Quantity == nil {
		return math.NaN()
	}
	if k.both {
		return math.Max(m.values[k.slot], m.values[k.slot+1]) // NaN if either is
	}
	return m.values[k.slot]
}

// Number is the value of a published name such as lumbar_flexion_loaded; not a number
// where there is none.
func (m Measured) Number(name string) float64 { return m.At(keys[name]) }

// Flag is the value of a true-or-false quantity; one that was not measured is false.
// Limits do not ask it: see At.
func (m Measured) Flag(name string) bool { return m.Number(name) == 1 }

// Word is the value of a quantity that is a word; empty where it was not measured.
func (m Measured) Word(name string) string {
	k := keys[name]
	if v := m.At(k); !math.IsNaN(v) {
		return k.Quantity.Order[int(v)]
	}
	return ""
}

var demandKey = mustKey("demand", "", WhenAny)

// Demand is how hard the form is, 0 to 10.
func (m Measured) Demand() float64 { return m.At(demandKey) }

// Done says whether anything was measured.
func (m Measured) Done() bool { return m.values != nil }

// missing names what was not measured.
func (m Measured) missing() error {
	var names []string
	for _, q := range Registry {
		for _, scope := range q.Scopes {
			for _, side := range q.sides() {
				if k, err := q.Key(side, scope); err != nil || math.IsNaN(m.At(k)) {
					names = append(names, k.Name())
				}
			}
		}
	}
	if len(names) > 0 {
		return fmt.Errorf("not measured: %s", strings.Join(names, ", "))
	}
	return nil
}

// mirror makes both sides of every quantity, and both ways of every instant, as the
// worse of the two, so that a variant with sides is measured as done on both.
func (m *Measured) mirror() {
	m.one = [2][]float64{slices.Clone(m.values), slices.Clone(m.values)}
	for _, q := range Registry {
		if !q.Sided {
			continue
		}
		for s := range q.Scopes {
			left := q.first + 2*s
			m.one[1][left], m.one[1][left+1] = m.values[left+1], m.values[left]
			worse := math.Max(m.values[left], m.values[left+1])
			m.values[left], m.values[left+1] = worse, worse
		}
	}
	for _, moment := range slices.Clone(m.Moments) {
		m.Moments = append(m.Moments, moment.mirrored())
	}
}

// On is what was measured of one side alone, "left" or "right": what the other would
// break does not bar it. Of a variant without sides, and of both, it is all.
func (m Measured) On(side string) Measured {
	half := len(m.Moments) / 2 // the mirrored instants follow those as drawn
	switch {
	case m.one[0] == nil:
	case side == "left":
		return Measured{values: m.one[0], Moments: m.Moments[:half]}
	case side == "right":
		return Measured{values: m.one[1], Moments: m.Moments[half:]}
	}
	return m
}

// For gives the quantities as published: numbers rounded to a tenth (loads to
// a thousandth) and the low-back moment in N·m for the client's height in cm
// and mass in kg. What never happened under load, held or fast is left out, and so
// is a hold where there is none.
func (m Measured) For(heightCM, massKG float64) Quantities {
	out := Quantities{}
	if !m.Done() {
		return out
	}
	for i := range Registry {
		q := &Registry[i]
		if q.Inner {
			continue
		}
		sides := q.sides()
		if q.Worse {
			sides = append(sides, "")
		}
		for _, scope := range q.Scopes {
			for _, side := range sides {
				k, _ := q.Key(side, scope)
				v := m.At(k)
				if math.IsNaN(v) || math.IsInf(v, 0) || v == 0 && (scope != WhenAny || q.Unit == Seconds) {
					continue
				}
				out[k.Name()] = q.published(v, heightCM, massKG)
			}
		}
	}
	return out
}

// published is a value as it goes into JSON.
func (q *Quantity) published(v, heightCM, massKG float64) any {
	switch {
	case q.Kind == Flag:
		return v == 1
	case q.Kind == Word:
		return q.Order[int(v)]
	}
	fine := 10.0
	switch q.Unit {
	case Share, Torque:
		fine = 1000
	case Standing:
		fine = 100
	case Weight:
		v, fine = v*massKG*Gravity, 1
	case Newtons:
		fine = 1
	case Moment:
		v = NewtonMetres(v, heightCM, massKG)
	case Heights:
		v *= heightCM
	}
	return math.Round(v*fine) / fine
}

// Quantities are published movement quantities: number, bool or word by name.
type Quantities map[string]any

// UnmarshalJSON keeps numbers as float64.
func (q *Quantities) UnmarshalJSON(b []byte) error {
	var raw map[string]any
	if err := json.Unmarshal(b, &raw); err != nil {
		return err
	}
	*q = raw
	return nil
}
