package body

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/num/quat"
)

// standing is a plain upright pose, arms hanging.
func standing() Pose {
	p := Pose{Base: Standing, Rest: []Part{"feet"}}
	for s := range p.Legs {
		p.Legs[s] = Limb{Upper: Vec{0, 0, -1}, Lower: Vec{0, 0, -1}, Pole: Vec{1, 0, 0}}
		p.Arms[s] = Limb{Upper: Vec{0, 0, -1}, Lower: Vec{0.1, 0, -1}}
	}
	return p
}

func solved(t *testing.T, p Pose, s Scene) Figure {
	t.Helper()
	f, err := Solve(p, s)
	require.NoError(t, err)
	return f
}

func TestSegmentMassesSumToOne(t *testing.T) {
	// Winter, table 4.1, after Dempster (from memory).
	arm, leg := massHand+massForeArm+massUpperArm, massFoot+massShank+massThigh
	assert.InDelta(t, 0.050, arm, 1e-9)
	assert.InDelta(t, 0.161, leg, 1e-9)
	assert.InDelta(t, 1, 2*arm+2*leg+massHead+massThorax+massAbdomen+massPelvis, 1e-9)
}

func TestStandingBody(t *testing.T) {
	f := solved(t, standing(), Scene{})
	centre := f.CentreOfMass()
	// Standing centre of mass at about 55 to 57% of height; common textbook value.
	assert.Greater(t, centre.Z, 0.55)
	assert.Less(t, centre.Z, 0.575)
	assert.InDelta(t, 0, centre.Y, 1e-9)
	// Hip height 0.530 and shoulder height 0.818: Drillis and Contini (from memory).
	assert.InDelta(t, 0.530, f.Legs[Left].Root.Z, 0.005)
	assert.InDelta(t, 0.818, f.Arms[Left].Root.Z, 0.014, "0.013 under it now")
	skull := f.Skull()
	assert.InDelta(t, 1, skull.At.Z+skull.Radius, 0.02, "the crown is one height up")
	assert.InDelta(t, 0, f.Head.F.Z, 0.01, "the head looks straight ahead")
}

func TestTurnMatchesAReferenceLibrary(t *testing.T) {
	for _, axis := range []Vec{{1, 0, 0}, {0, 1, 0}, Vec{1, 2, -0.5}.Unit()} {
		for _, angle := range []float64{-170, -30, 12, 90} {
			half := angle * math.Pi / 360
			q := quat.Number{
				Real: math.Cos(half),
				Imag: axis.X * math.Sin(half),
				Jmag: axis.Y * math.Sin(half),
				Kmag: axis.Z * math.Sin(half),
			}
			v := Vec{0.3, -0.7, 0.2}
			want := quat.Mul(quat.Mul(q, quat.Number{Imag: v.X, Jmag: v.Y, Kmag: v.Z}), quat.Conj(q))
			got := v.Turn(axis, angle)
			assert.InDelta(t, 0, got.Sub(Vec{want.Imag, want.Jmag, want.Kmag}).Len(), 1e-12)
		}
	}
}

func TestBendsGoTheWayTheirNamesSay(t *testing.T) {
	base := solved(t, standing(), Scene{})
	for name, c := range map[string]struct {
		bend  Bend
		moved func(Vec) float64 // of the skull, positive when right
	}{
		"forward":   {Bend{Flexion: 30}, func(v Vec) float64 { return v.X }},
		"back":      {Bend{Flexion: -20}, func(v Vec) float64 { return -v.X }},
		"left side": {Bend{Side: 20}, func(v Vec) float64 { return v.Y }},
	} {
		p := standing()
		p.Lumbar = c.bend
		f := solved(t, p, Scene{})
		assert.Greater(t, c.moved(f.Skull().At.Sub(base.Skull().At)), 0.05, name)
	}
	p := standing()
	p.Thoracic.Turn = 30
	f := solved(t, p, Scene{})
	assert.Greater(t, f.Chest.F.Y, 0.3, "turning left faces left")
}

func TestReach(t *testing.T) {
	p := standing()
	p.Arms[Left] = Limb{Pin: &Pin{Of: "pelvis", At: Vec{0.14, 0.1, 0.57}}, Pole: Vec{-1, 0.5, 0}}
	f := solved(t, p, Scene{})
	assert.InDelta(t, 0, f.Arms[Left].End.Sub(Vec{0.14, 0.1, 0.57}).Len(), 0.001, "the wrist is on its pin")
	assert.InDelta(t, upperArmLength, f.Arms[Left].Mid.Sub(f.Arms[Left].Root).Len(), 1e-6)
	assert.InDelta(t, foreArmLength, f.Arms[Left].End.Sub(f.Arms[Left].Mid).Len(), 1e-6)
	assert.Less(t, f.Arms[Left].Mid.X, f.Arms[Left].Root.Mix(f.Arms[Left].End, 0.5).X, "the elbow points back")

	for name, c := range map[string]struct {
		change func(*Pose)
		says   string
	}{
		"too far":        {func(p *Pose) { p.Arms[Right].Pin = &Pin{Of: "pelvis", At: Vec{1, 0, 1}} }, "right arm: pin: out of reach"},
		"unknown origin": {func(p *Pose) { p.Legs[Left].Pin = &Pin{Of: "moon"} }, "left leg: pin.of"},
		"no start yet":   {func(p *Pose) { p.Legs[Left].Pin = &Pin{Of: "start"} }, "after the start pose"},
		"unknown base":   {func(p *Pose) { p.Base = "floating" }, "base:"},
		"unknown angle":  {func(p *Pose) { p.Settle = []Settle{{Vary: "knee.flexion"}} }, "settle.vary"},
		"nothing settles": {func(p *Pose) {
			p.Settle = []Settle{{Vary: "cervical.flexion", Range: [2]float64{0, 5}, Until: "touch", Part: HeadPart}}
		}, "finds no place"},
	} {
		p := standing()
		c.change(&p)
		_, err := Solve(p, Scene{})
		assert.ErrorContains(t, err, c.says, name)
	}
}

func TestMirrorSwapsEverything(t *testing.T) {
	p := standing()
	p.Lumbar, p.Thoracic = Bend{Side: 10}, Bend{Turn: 15}
	p.Legs[Left] = Limb{Upper: Vec{0.9, 0.1, -0.4}, Lower: Vec{0, 0, -1}}
	p.Rest = []Part{"foot_right"}
	a, b := solved(t, p, Scene{}), solved(t, p.Mirror(), Scene{})
	assert.InDelta(t, 0, a.Legs[Left].End.Mirror().Sub(b.Legs[Right].End).Len(), 1e-9)
	assert.InDelta(t, 0, a.Skull().At.Mirror().Sub(b.Skull().At).Len(), 1e-9)
	assert.InDelta(t, a.Angles().HipFlexion[Left], b.Angles().HipFlexion[Right], 1e-9)
	side := Pose{Base: SideRight}
	assert.Equal(t, SideLeft, side.Mirror().Base)
}

func TestAngles(t *testing.T) {
	p := standing()
	p.Legs[Left] = Limb{Upper: Vec{1, 0, 0}, Lower: Vec{0, 0, -1}}
	p.Legs[Right] = Limb{Upper: Vec{-0.2, 0, -1}, Lower: Vec{-0.2, 0, -1}, Pole: Vec{1, 0, 0}}
	p.Arms[Left] = Limb{Upper: Vec{1, 0, 0}, Lower: Vec{1, 0, 0}}
	f := solved(t, p, Scene{})
	a := f.Angles()
	assert.InDelta(t, 90, a.HipFlexion[Left], 0.1)
	assert.InDelta(t, 90, a.KneeFlexion[Left], 0.1)
	assert.InDelta(t, -11.3, a.HipFlexion[Right], 0.1, "behind is extension")
	assert.InDelta(t, 0, a.HipRotation[Left], 0.5)
	assert.InDelta(t, 90, a.ShoulderLift[Left], 2)
	assert.Zero(t, a.StraightRaise[Left], "the knee is bent")
	p.Legs[Left] = Limb{Upper: Vec{1, 0, -1}, Lower: Vec{1, 0, -1}, Pole: Vec{1, 0, 1}}
	f = solved(t, p, Scene{})
	assert.InDelta(t, 45, f.Angles().StraightRaise[Left], 0.5)
}

// Half of 20° of foot on top of the raise; 2.5° less for each degree of knee past 20°.
func TestNerveBehindALeg(t *testing.T) {
	for _, c := range []struct {
		says             string
		hip, knee, ankle float64
		want             float64
	}{
		{"raised straight, the foot at rest", 60, 0, -30, 60},
		{"a soft knee is still straight", 60, 20, 0, 60},
		{"the foot drawn up adds half", 60, 0, 20, 70},
		{"a knee that bends slackens it", 60, 30, 0, 35},
		{"sitting on a chair", 90, 90, 0, 0},
		{"standing with the shin leaning forward", 0, 0, 19, 0},
		{"hardly raised, the foot adds no more than half of that", 8, 0, 20, 12},
		{"behind the body", -10, 0, 20, 0},
	} {
		assert.InDelta(t, c.want, nerve(c.hip, c.knee, c.ankle), 1e-9, c.says)
	}
	p := standing()
	p.Legs[Left] = Limb{Upper: Vec{1, 0, -1}, Lower: Vec{1, 0, -1}, Pole: Vec{1, 0, 1}, End: Vec{0.64, 0, 1}}
	f := solved(t, p, Scene{})
	assert.InDelta(t, 12.4, f.Angles().AnkleLift[Left], 0.5, "45° down in front and 57.4° up: 102.4° between")
	assert.InDelta(t, 51.2, f.Angles().StraightRaise[Left], 0.5)
}

func TestCarry(t *testing.T) {
	t.Run("standing shares alike", func(t *testing.T) {
		f := solved(t, standing(), Scene{})
		l := f.Carry(Scene{})
		assert.Less(t, l.Residual, 0.001)
		left := l.Share("heel_left", "ball_left", "toes_left")
		assert.InDelta(t, 0.5, left, 0.01)
		// Rough value to expect: 0.007 of weight × height, a figure of this product.
		assert.InDelta(t, 0.007, l.LowBack, 0.002, "0.0017 under it now")
	})
	t.Run("leaning forward loads the low back in order", func(t *testing.T) {
		last := 0.0
		for _, lean := range []float64{0, 15, 40, 90} {
			p := standing()
			p.Pelvis.Flexion = lean
			f := solved(t, p, Scene{})
			l := f.Carry(Scene{})
			assert.Greater(t, l.LowBack, last)
			last = l.LowBack
		}
		// Rough value to expect for 90°: 0.10.
		assert.InDelta(t, 0.10, last, 0.010, "0.009 under it now")
	})
	t.Run("weight outside the feet is noticed", func(t *testing.T) {
		p := standing()
		p.Pelvis.Flexion = 90
		for s := range p.Arms {
			p.Arms[s] = Limb{Upper: Vec{1, 0, 0}, Lower: Vec{1, 0, 0}}
		}
		f := solved(t, p, Scene{})
		assert.Greater(t, f.Carry(Scene{}).Residual, 0.02)
	})
	t.Run("contacts only push and carry the whole body", func(t *testing.T) {
		f := solved(t, standing(), Scene{})
		sum := 0.0
		for _, c := range f.Carry(Scene{}).Contacts {
			assert.GreaterOrEqual(t, c.Share, 0.0)
			sum += c.Share
		}
		assert.InDelta(t, 1, sum, 0.001)
	})
}

func TestPushOnly(t *testing.T) {
	// A beam with a weight a quarter of the way along rests on its ends 3 to 1.
	x := pushOnly([][]float64{{100, 100}, {0, 100}}, []float64{100, 25})
	assert.InDelta(t, 0.75, x[0], 1e-4)
	assert.InDelta(t, 0.25, x[1], 1e-4)
	// What would have to pull is left at nothing.
	x = pushOnly([][]float64{{1, 0}, {0, 1}}, []float64{2, -3})
	assert.InDelta(t, 2, x[0], 1e-3)
	assert.Zero(t, x[1])
	assert.Empty(t, pushOnly(nil, nil))
}

func TestBetweenKeepsWhatStays(t *testing.T) {
	p := standing()
	for s := range p.Legs {
		p.Legs[s] = Limb{Pin: &Pin{Of: "world", At: Vec{0, signed(s) * 0.05, 0.039}}, Pole: Vec{1, 0, 0}}
	}
	p.Rest = nil
	low := p
	a := solved(t, p, Scene{})
	a.Shift(Vec{0, 0, 0.5})
	low.Lumbar.Flexion = 20
	b := solved(t, low, Scene{})
	b.Shift(Vec{0, 0, 0.4})
	for s := range a.Legs { // stand both figures on the same spots
		for _, f := range []*Figure{&a, &b} {
			f.Legs[s].End = Vec{0, signed(s) * 0.05, 0.039}
		}
	}
	m := Between(a, b, 0.5, Scene{})
	assert.InDelta(t, 0, m.Legs[Left].End.Sub(a.Legs[Left].End).Len(), 0.005)
	assert.InDelta(t, 10, m.Pose.Lumbar.Flexion, 1e-9)
}

func TestCheckPart(t *testing.T) {
	assert.NoError(t, CheckPart("knee_left"))
	assert.ErrorContains(t, CheckPart("tail"), "not a part of the body")
	assert.Equal(t, Part("knee_right"), Part("knee_left").Mirror())
	assert.Equal(t, Seat, Seat.Mirror())
}

func BenchmarkSolveAndCarry(b *testing.B) {
	p := standing()
	for b.Loop() {
		f, _ := Solve(p, Scene{})
		f.Carry(Scene{})
	}
}
