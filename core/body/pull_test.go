package body

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

// share is newtons as a share of the weight of a body of 70 kg.
func share(newtons float64) float64 { return newtons / (70 * 9.81) }

// ahead is a body standing with both arms level ahead of it.
func ahead(t *testing.T) Figure {
	p := standing()
	for s := range p.Arms {
		p.Arms[s] = Limb{Upper: Vec{X: 1}, Lower: Vec{X: 1}}
	}
	return solved(t, p, Scene{})
}

// lowBackVector is the moment at the low back of everything above it in the air, worked
// out here by its own sum: gravity on each mass, and the pulls on the arms.
func lowBackVector(f Figure, pulls ...outside) Vec {
	arms, _ := f.limbMasses()
	lumbar, thorax := f.trunkMasses()
	all := append(append(append(lumbar[1:], thorax...), f.headMass()), append(arms[0], arms[1]...)...)
	var sum Vec
	for _, m := range all {
		sum = sum.Add(m.at.Sub(f.LowBack()).Cross(Vec{Z: -m.share}))
	}
	for _, o := range pulls {
		sum = sum.Add(o.at.Sub(f.LowBack()).Cross(o.force))
	}
	return sum
}

// TestAWeightInEachHand: 2 kg at arm's length. By hand: the middle of the hand is
// 0.386 of height before the shoulder (0.186 + 0.146 of the arm, 0.054 of half a hand),
// which stands 0.014 before the low back, so 2 × 9.81 N × 0.40 × 1.70 m is 13.3 N·m a
// hand more.
func TestAWeightInEachHand(t *testing.T) {
	f := ahead(t)
	bare := f.Carry(Scene{})
	one := f.Carry(Scene{Pulls: []Pull{{Part: "hand_left", Share: share(2 * 9.81)}}})
	both := f.Carry(Scene{Pulls: []Pull{{Part: "hand_left", Share: share(2 * 9.81)}, {Part: "hand_right", Share: share(2 * 9.81)}}})
	reach := f.Grip("hand_left").X - f.LowBack().X
	assert.InDelta(t, 0.40, reach, 0.002, "how far ahead of the low back the hand is")
	more := (both.LowBack - bare.LowBack) * 70 * 9.81 * 1.70
	assert.InDelta(t, 2*2*9.81*reach*1.70, more, 0.3, "both: straight forward, so it simply adds")
	assert.Greater(t, one.LowBack, bare.LowBack)
	assert.InDelta(t,
		lowBackVector(f, outside{at: f.Grip("hand_left"), force: Vec{Z: -share(2 * 9.81)}}).Len(),
		one.LowBack,
		1e-3,
		"one: to the side too",
	)
	feet := func(l Loads) float64 {
		return l.Share("heel_left", "ball_left", "toes_left", "heel_right", "ball_right", "toes_right")
	}
	assert.InDelta(t, 1+share(4*9.81), feet(both), 0.001, "the feet carry the weights as well: 39.2 of 687 N more")
	assert.Greater(t, both.LowestRibs, bare.LowestRibs)
}

// TestASidewaysPull on a straight press: 40 N to the right at the hands turn the trunk by
// 40 N × the distance ahead. By hand: 40 × 0.40 × 1.70 = 27 N·m about the upright axis.
func TestASidewaysPull(t *testing.T) {
	f := ahead(t)
	far := Vec{f.Grip("hand_left").X, -40, f.Grip("hand_left").Z}
	pull := Scene{Pulls: []Pull{{Part: "hand_left", To: &far, Share: share(40)}}}
	l := f.Carry(pull)
	force := outside{at: f.Grip("hand_left"), force: Vec{Y: -share(40)}}
	turn := lowBackVector(f, force).Sub(lowBackVector(f)).Z
	reach := f.Grip("hand_left").X - f.LowBack().X
	assert.InDelta(t, -40*reach*1.70, turn*70*9.81*1.70, 0.1, "about the upright axis")
	assert.InDelta(t, lowBackVector(f, force).Len(), l.LowBack, 0.002, "and with what it bends sideways")
	assert.Less(t, l.Residual, 0.02, "the soles hold against it")
}

// TestAPullAhead: a row with 60 N toward a point ahead at the height of the hands. By
// hand: it bends the trunk forward by 60 N × the height of the hands over the low back.
func TestAPullAhead(t *testing.T) {
	f := ahead(t)
	at := f.Grip("hand_left")
	to := Vec{40, at.Y, at.Z}
	l := f.Carry(Scene{Pulls: []Pull{{Part: "hand_left", To: &to, Share: share(60)}}})
	high := at.Z - f.LowBack().Z
	assert.InDelta(t, 0.22, high, 0.04)
	more := lowBackVector(f, outside{at: at, force: Vec{X: share(60)}}).Sub(lowBackVector(f))
	assert.InDelta(t, 60*high*1.70, more.Y*70*9.81*1.70, 0.1, "forward bending")
	assert.Greater(t, l.LowBack, f.Carry(Scene{}).LowBack+0.01)
}

// TestAPullUpward takes weight off: 10 N straight up at both hands. By hand: the moment
// of the arms falls by 2 × 10 N × 0.40 × 1.70 m = 13.6 N·m.
func TestAPullUpward(t *testing.T) {
	f := ahead(t)
	up := Scene{Pulls: []Pull{{Part: "hand_left", Share: -share(10)}, {Part: "hand_right", Share: -share(10)}}}
	l, bare := f.Carry(up), f.Carry(Scene{})
	reach := f.Grip("hand_left").X - f.LowBack().X
	assert.InDelta(t, bare.LowBack-2*share(10)*reach, l.LowBack, 1e-3, "10 N each, short of lifting the arms")
	assert.Less(t, l.LowBack, bare.LowBack)
	assert.InDelta(t, 1-share(20), l.Share("heel_left", "ball_left", "toes_left", "heel_right", "ball_right", "toes_right"), 0.001)
}

// TestAPushApart: a ring pressed between the hands pushes each as much as the other, so
// that nothing reaches the back; pressed by one hand against a hip it does.
func TestAPushApart(t *testing.T) {
	f := ahead(t)
	bare := f.Carry(Scene{})
	ring := f.Carry(Scene{Pulls: []Pull{{Part: "hand_left", Other: "hand_right", Share: -share(30)}}})
	assert.InDelta(t, bare.LowBack, ring.LowBack, 1e-4)
	assert.InDelta(t, bare.LowestRibs, ring.LowestRibs, 1e-4)
	hip := f.Carry(Scene{Pulls: []Pull{{Part: "hand_left", Other: "hip_left", Share: -share(30)}}})
	assert.Greater(t, math.Abs(hip.LowBack-bare.LowBack), 0.002)
}

// TestABandRoundAFoot loads that hip alone. By hand: 30 N back at the ankle, 0.49 of
// height under the hip: 30 × 0.49 × 1.70 = 25 N·m.
func TestABandRoundAFoot(t *testing.T) {
	f := solved(t, standing(), Scene{})
	back := Vec{-40, f.Grip("foot_left").Y, f.Grip("foot_left").Z}
	bare, l := f.Carry(Scene{}), f.Carry(Scene{Pulls: []Pull{{Part: "foot_left", To: &back, Share: share(30)}}})
	drop := f.Legs[Left].Root.Z - f.Grip("foot_left").Z
	assert.InDelta(t, 0.49, drop, 0.01)
	assert.InDelta(t, bare.LowBack, l.LowBack, 0.002, "nothing above the hip changes")
	assert.Greater(t, l.Hips[Left]+l.Hips[Right], bare.Hips[Left]+bare.Hips[Right], "the hips answer")
	m := Pull{Part: "foot_left", Other: "hand_left", To: &Vec{0, 1, 0}, Share: 1}.Mirror()
	assert.Equal(t, Part("foot_right"), m.Part)
	assert.Equal(t, Part("hand_right"), m.Other)
	assert.Equal(t, -1.0, m.To.Y)
}

// TestLegsInTheAir: a straight leg held up from lying pulls at its hip by its weight
// times how far out it is. By hand: 0.161 of the weight, its centre 0.447 × 0.53 of
// height from the hip, so about 0.035; a leg that a hand or strap holds pulls at nothing.
func TestLegsInTheAir(t *testing.T) {
	p := Pose{
		Base:   Supine,
		Rest:   []Part{Seat},
		Settle: []Settle{{Vary: "pelvis.flexion", Range: [2]float64{-14, 14}, Until: "touch", Part: ChestPart}},
	}
	for s := range p.Legs {
		p.Legs[s] = Limb{Pin: &Pin{Of: "root", At: Vec{0.262, signed(s) * 0.05, 0.039}}, Pole: Vec{0, 0, 1}, End: Vec{1, 0, 0}}
		p.Arms[s] = Limb{Upper: Vec{0.95, signed(s) * 0.24, -0.22}, Lower: Vec{1, 0, -0.03}}
	}
	resting := solved(t, p, Scene{})
	bent := resting.Carry(Scene{})
	assert.Equal(t, [2]bool{false, false}, bent.Air)
	assert.Zero(t, bent.Flexors[Left])
	p.Legs[Left] = Limb{Upper: Vec{1, 0, 0.15}, Lower: Vec{1, 0, 0.15}, Pole: Vec{0, 0, 1}, End: Vec{0, 0, 1}}
	f := solved(t, p, Scene{})
	l := f.Carry(Scene{})
	assert.Equal(t, [2]bool{true, false}, l.Air)
	assert.InDelta(t, 0.161*0.447*0.49, l.Flexors[Left], 0.003)
	assert.Zero(t, l.Flexors[Right])
	assert.Zero(t, f.Carry(Scene{Strapped: [2]bool{true, false}}).Flexors[Left])
	p.Legs[Left] = Limb{Upper: Vec{0, 0, 1}, Lower: Vec{0, 0, 1}, Pole: Vec{-1, 0, 0}, End: Vec{-1, 0, 0}}
	upright := solved(t, p, Scene{})
	assert.Less(t, upright.Carry(Scene{}).Flexors[Left], 0.004, "straight up it hangs over the hip")
	assert.InDelta(t, 0.161, LegMass, 1e-9)
}
