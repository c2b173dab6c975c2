package exercise

import (
	"encoding/binary"
	"fmt"
	"math"
	"sync"
)

// Measuring every variant takes most of a second, and comes out the same every time. So
// what was measured can be kept between runs, and is read back when it is first wanted.

// Snapshot is what is kept of a variant: how it moves, and what was measured of its plain
// form and of each adapted one, as MarshalBinary writes it; of one that no body could
// take, nothing. What the adapted forms are follows from the movement.
type Snapshot struct {
	Movement Movement
	Plain    Measured
	Adapted  [][]byte
}

// Snapshot measures whatever of a variant that was Made is not measured yet, and is what is to
// be kept of it.
func (v *Variant) Snapshot() (Snapshot, error) {
	k := Snapshot{Movement: v.Plain().Movement, Plain: v.Plain().Measured}
	for _, f := range v.forms()[1:] {
		var b []byte
		if f.measure() {
			var err error
			if b, err = f.Measured.MarshalBinary(); err != nil {
				return k, err
			}
		}
		k.Adapted = append(k.Adapted, b)
	}
	return k, nil
}

// recalled are forms that are read back once, when they are first wanted.
type recalled struct {
	once  sync.Once
	read  func() Snapshot
	forms []*Form
}

// Restore makes a variant ready for use, as Made does, from what was kept of it.
func (v *Variant) Restore(read func() Snapshot) {
	v.recalled, v.heights, v.steps = &recalled{read: read}, new(heights), new(smallSteps)
}

// forms are the variant's forms, the plain one first.
func (v *Variant) forms() []*Form {
	r := v.recalled
	if r == nil {
		return v.Forms
	}
	r.once.Do(func() {
		k := r.read()
		plain := &Form{Movement: k.Movement, Measured: k.Plain}
		r.forms = plain.withAdaptations(v.MayAdapt)
		for i, f := range r.forms[1:] {
			f.kept = k.Adapted[i : i+1]
		}
	})
	return r.forms
}

// MarshalBinary writes what was measured as floats of eight bytes: how many values there
// are, the values, those of each side where there are sides, and the moments.
func (m Measured) MarshalBinary() ([]byte, error) {
	put := binary.LittleEndian.AppendUint64
	out := binary.LittleEndian.AppendUint32(nil, uint32(len(m.values)))
	sides := byte(0)
	if m.one[0] != nil {
		sides = 2
	}
	out = append(out, sides)
	for _, list := range append([][]float64{m.values}, m.one[:sides]...) {
		for _, v := range list {
			out = put(out, math.Float64bits(v))
		}
	}
	out = binary.LittleEndian.AppendUint32(out, uint32(len(m.Moments)))
	for _, at := range m.Moments {
		for _, v := range at {
			out = put(out, math.Float64bits(v))
		}
	}
	return out, nil
}

// UnmarshalBinary reads what MarshalBinary wrote, by the same registry of quantities.
func (m *Measured) UnmarshalBinary(b []byte) error {
	const head, float = 5, 8
	if len(b) < head || int(binary.LittleEndian.Uint32(b)) != slots || b[4] != 0 && b[4] != 2 {
		return fmt.Errorf("measured: it was not kept for %d values", slots)
	}
	sides := int(b[4])
	b = b[head:]
	if len(b) < float*slots*(1+sides)+4 {
		return fmt.Errorf("measured: it ends too early")
	}
	read := func() float64 {
		v := math.Float64frombits(binary.LittleEndian.Uint64(b))
		b = b[float:]
		return v
	}
	list := func() []float64 {
		out := make([]float64, slots)
		for i := range out {
			out[i] = read()
		}
		return out
	}
	*m = Measured{values: list()}
	for i := range sides {
		m.one[i] = list()
	}
	n := int(binary.LittleEndian.Uint32(b))
	if b = b[4:]; len(b) != n*float*len(Spine{}) {
		return fmt.Errorf("measured: expected %d moments", n)
	}
	m.Moments = make([]Spine, n)
	for i := range m.Moments {
		for k := range m.Moments[i] {
			m.Moments[i][k] = read()
		}
	}
	return nil
}
