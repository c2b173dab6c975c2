package exercise

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"restbend/core/body"
)

// Net moments above which a region counts as loaded, as shares of body weight
// × height (contract).
const (
	loadedLowBack    = 0.03
	loadedLowestRibs = 0.012
	// liftedTrunk is the moment of head and ribs that are lifted from lying, or of legs face down,
	// from which the muscles that hold them bend the whole back: a little less than the head's own.
	liftedTrunk = 0.005
)

const (
	heldSeconds = 5.0  // a hold from here on counts as held
	fastDegrees = 60.0 // per second; from here on a movement counts as fast
	// jerkDegrees is the same of a hip or shoulder that is thrown: three times what a
	// quick step asks of a hip (common practice).
	jerkDegrees = 360.0
	standsOnOne = 0.8  // seconds on one leg from which it is balancing and not a step
	propping    = 0.10 // share of body weight on one arm from which a hold is an effort
	betweenKeys = 4    // samples from one key pose to the next
	offBalance  = 0.02 // body heights by which the weight may miss its base: a foot's width of error
	// offBalanceHeld is the same with a hand on a support, which is not modelled
	// as bearing weight but does steady.
	offBalanceHeld = 0.06
)

// Measure works out every movement quantity of a movement from its poses.
func Measure(m Movement) (Measured, error) {
	frames, err := m.Frames()
	if err != nil {
		return Measured{}, err
	}
	return MeasureFrames(m, frames)
}

// MeasureFrames is Measure for a movement that has been solved. It measures every
// quantity of the Registry, or fails.
//
//revive:disable-next-line:cyclomatic One line or two for each quantity, in the order of the registry.
func MeasureFrames(m Movement, frames []Frame) (Measured, error) {
	out := unmeasured()
	var limbs limbPeaks
	var spine spinePeaks
	var onOne float64 // the last second on two feet
	var headLift, headLow, single bool
	var lies [2]bool
	var onHead float64
	var heelUp, leaning bool
	kneels := m.Position == "kneeling" || m.Position == "half_kneeling"
	moves, harder := movingBase(m, frames)
	stands, feet := -1, -1 // least steady base, by its place in the order, with a hand on a support and by the feet alone
	carried := make([]body.Loads, len(frames))
	discs := make([]bearing, len(frames))
	held, scene := outsideOf(m, frames), m.Scene
	overhead := false
	for i, f := range frames {
		if f.Same >= 0 {
			carried[i] = carried[f.Same]
			continue
		}
		fig := &frames[i].Figure
		scene.Pulls, scene.Strapped = held.pulls(fig), legsHeld(m, frames, i)
		carried[i] = fig.Carry(scene)
		overhead = overhead || held.overhead(fig)
	}
	for i, f := range frames {
		fig := &frames[i].Figure
		loads := carried[i]
		var still body.Held
		if !toProp(m, frames, carried, i) {
			still = lying(m.Position, loads)
		}
		discs[i] = bearingOf(loads, still, fig.Pose.Base)
		working := math.Max(loads.LowBack, still.Sum())
		most := offBalance
		if m.Hands {
			most = offBalanceHeld
		}
		if f.Pose != "" && loads.Residual > most {
			return out, fmt.Errorf(
				"pose %s: the body is off balance: its weight lies outside what it rests on by %.3f of body height",
				f.Pose,
				loads.Residual,
			)
		}
		resisted := m.resisted()
		loaded := [3]bool{resisted || working > loadedLowBack, resisted || loads.LowestRibs > loadedLowestRibs, false}
		low, ribs := rolledUp(fig, loads)
		lifted := still.Front+still.Back+still.Side > liftedTrunk
		loaded[0] = loaded[0] || low || lifted || still.Psoas > offFloor
		loaded[1] = loaded[1] || ribs || lifted
		kept := f.Pose != "" && f.Pose == m.HoldsAt && m.Hold >= heldSeconds
		if f.Rolling {
			continue
		}
		if !singleLeg(m, loads) {
			onOne = f.Seconds
		} else if f.Seconds-onOne >= standsOnOne {
			single = true
		}
		now := spineOf(fig.Pose)
		spine.take(now, f.Seconds, loaded, kept)
		limbs.move(fig, loads, f.Seconds)
		if f.Same >= 0 {
			continue // its peaks are in already
		}
		out.Moments = append(out.Moments, now)
		limbs.take(fig, loads, still)
		if f.Pose == "start" || kept {
			limbs.rest(fig)
		}
		headLift = headLift || fig.Head.F.Z > 0.3 && fig.Pelvis.F.Z > 0.5 && fig.Gap(body.HeadPart, scene) > headOff
		if !loads.Lies { // lying it bears its own weight alone
			onHead = math.Max(onHead, loads.Share(body.HeadPart))
		}
		headLow = headLow || fig.Skull().At.Z < fig.Spine[14].At.Z-0.08
		if f.Pose != "" {
			stands = max(stands, baseOrder(base(m, fig, loads, m.Hands)))
			feet = max(feet, baseOrder(base(m, fig, loads, false)))
			heelUp = heelUp || standsOnBall(fig, loads)
			leaning = leaning || !m.Hands && loads.Share(handPart[:]...)+loads.Share(forearmPart[:]...) > leansOn
			kneels = kneels || !loads.Lies && loads.Share(kneePart[0])+loads.Share(kneePart[1]) > 0.05
		}
	}
	limbs.bear(m, frames, carried, discs)
	if single && !m.Hands {
		stands = baseOrder("single")
	}
	limbs.into(&out)
	spine.into(&out)
	for _, pose := range m.Poses {
		lies = [2]bool{lies[0] || pose.Base == body.SideLeft, lies[1] || pose.Base == body.SideRight}
	}
	out.flag("lies_on_left", lies[body.Left])
	out.flag("lies_on_right", lies[body.Right])
	works := limbs.lowBack > loadedLowBack
	out.put("hold_seconds", m.Hold)
	out.put("hold_seconds_loaded", 0)
	if works || limbs.arm > propping {
		out.put("hold_seconds_loaded", m.Hold)
	}
	out.flag("overhead_load", overhead)
	out.flag("head_lift", headLift)
	out.put("head_load", onHead)
	out.put("balance_steps", float64(m.balance(feet, frames, single, heelUp, leaning, harder)))
	out.flag("head_below_heart", headLow)
	out.flag("hips_above_heart", raisedHips(frames))
	out.flag("prone", m.Position == "prone")
	out.flag("supine_flat", m.Position == "supine")
	out.flag("side_lying", m.Position == "side_lying")
	out.flag("floor_sit", m.Position == "floor_sit")
	out.flag("kneeling", kneels)
	out.flag("floor_transfer", m.Position.OnFloor())
	out.flag("single_leg", single)
	out.flag("split_stance", splitStance(m, frames))
	out.flag("eyes_closed", m.EyesClosed)
	out.flag("moving_base", moves)
	out.flag("breath_hold", slices.ContainsFunc(m.Steps, func(s Step) bool { return s.Breath == BreathHeld }))
	out.flag("ballistic", spine.quickest > fastDegrees || limbs.quickest > jerkDegrees)
	out.flag("loaded", m.resisted() || works || limbs.lowestRibs > loadedLowestRibs)
	out.flag("pillow", m.Pillow)
	out.flag("raised_seat", m.RaisedSeat)
	out.flag("fists", m.Fists)
	out.flag("support_hand", m.Hands)
	out.put("base_of_support", float64(stands))
	spring, err := byID["spring_load"].Scale(cmp.Or(m.Spring, "none"))
	if err != nil {
		return out, fmt.Errorf("spring: %w", err)
	}
	out.put("spring_load", spring)
	hard := demand(m, limbs, headLift, stands == baseOrder("single"))
	out.put("demand", hard)
	out.put("effort_held_seconds", 0)
	if hard >= effortDemand {
		out.put("effort_held_seconds", m.Hold)
	}
	out.put("end_range_held_seconds", 0)
	if m.Hold > 0 && atEndRange(m, frames) {
		out.put("end_range_held_seconds", m.Hold)
	}
	if m.Sided {
		out.mirror() // all is there by now, so that each side alone has all of it
	}
	return out, out.missing()
}

// lying is what muscles hold when lying, since the floor does not do their work, whatever is
// under the trunk. On the back the front holds head and ribs that are curled up, and the hip
// flexors the legs in the air; face down the back holds legs and arms that are lifted; on the
// side one side holds head and ribs that are lifted, and both legs when neither is down.
func lying(p Position, l body.Loads) (held body.Held) {
	switch p {
	case "supine":
		held.Psoas, held.Front = l.Flexors[0]+l.Flexors[1], l.Curl
	case "prone":
		held.Back = l.Curl
		if l.Air[0] || l.Air[1] {
			held.Back = math.Max(held.Back, l.Arms[0]+l.Arms[1])
		}
		for s, up := range l.Air {
			if up {
				held.Back += body.LegMass * l.LegLevers[s]
			}
		}
	case "side_lying":
		held.Side = l.Curl
		if l.Air[0] && l.Air[1] {
			held.Side += body.LegMass * (l.LegLevers[0] + l.LegLevers[1])
		}
	}
	return held
}

// legsHeld says which legs are held up at an instant: by a strap, or by hands or the
// other leg in the key pose that the movement comes from or goes to, since they are there
// on the way too.
func legsHeld(m Movement, frames []Frame, at int) [2]bool {
	held := m.Scene.Strapped
	from, to := keyPoses(frames, at)
	if from == to {
		return held // seen by itself
	}
	for s := body.Left; s <= body.Right; s++ {
		held[s] = held[s] || frames[from].Figure.LegHeld(s) || frames[to].Figure.LegHeld(s)
	}
	return held
}

// effortDemand is the demand from which a hold is isometric work that raises the
// pressure (common practice).
const effortDemand = 4.0

// endShare is the share of an ordinary range from which a shape is near its end.
const endShare = 0.8

// ordinary are ordinary ranges in degrees: AAOS and AMA handbooks, for the turn of the
// low back White and Panjabi (from memory).
var ordinary = map[string]float64{
	"lumbar_flexion":     60,
	"lumbar_extension":   25,
	"lumbar_side_bend":   25,
	"lumbar_rotation":    6,
	"thoracic_flexion":   35,
	"thoracic_extension": 25,
	"thoracic_side_bend": 25,
	"thoracic_rotation":  33,
	"cervical_flexion":   50,
	"cervical_extension": 60,
	"cervical_side_bend": 45,
	"cervical_rotation":  80,
}

// OrdinaryRange is the ordinary range in degrees of a quantity of the spine, whichever side it names;
// known is false for others.
func OrdinaryRange(quantity string) (degrees float64, known bool) {
	quantity = strings.TrimSuffix(strings.TrimSuffix(quantity, "_left"), "_right")
	degrees, known = ordinary[quantity]
	return
}

const (
	ordinaryHipFlexion   = 120.0
	ordinaryHipExtension = 25.0
	ordinaryShoulder     = 180.0
	ordinaryStraightLeg  = 80.0
)

// atEndRange says whether the pose that is held is near the end of an ordinary range in
// the spine, a hip or a shoulder.
func atEndRange(m Movement, frames []Frame) bool {
	return slices.ContainsFunc(frames, func(f Frame) bool {
		if f.Pose == "" || f.Pose != m.HoldsAt {
			return false
		}
		spine := spineOf(f.Figure.Pose)
		for name, range_ := range ordinary {
			if spine.Worst(name) > endShare*range_ {
				return true
			}
		}
		a := f.Figure.Angles()
		for s := body.Left; s <= body.Right; s++ {
			if a.HipFlexion[s] > endShare*ordinaryHipFlexion || -a.HipFlexion[s] > endShare*ordinaryHipExtension ||
				a.ShoulderLift[s] > endShare*ordinaryShoulder || a.StraightRaise[s] > endShare*ordinaryStraightLeg {
				return true
			}
		}
		return false
	})
}

// raisedHips says whether some pose, lying on the back, has the hips above the heart, which lies
// in the middle of the chest.
func raisedHips(frames []Frame) bool {
	return slices.ContainsFunc(frames, func(f Frame) bool {
		return f.Pose != "" && f.Figure.Pelvis.F.Z > 0.3 && f.Figure.Origin.Z > heart(&f.Figure).Z+0.06
	})
}

func heart(f *body.Figure) body.Vec { return f.Spine[13].At.Along(f.Spine[13].Frame.F, 0.05) }

// resisted says whether outside resistance acts through the trunk.
func (m Movement) resisted() bool { return m.Resistance != "" && m.Resistance != "none" }

// rolledUp says which regions carry the weight of a pelvis that is rolled up off the
// floor: the low back as soon as it is up, the ribs once the lowest are off the floor too.
// The shape does not tell who carries: a region bent under weight is under load, however
// small its net moment.
func rolledUp(f *body.Figure, l body.Loads) (lowBack, ribs bool) {
	up := f.Pelvis.F.Z > -0.5 && f.Origin.Z > liftedPelvis && l.Share(body.Seat, "hip_left", "hip_right") < 0.02 &&
		l.Share(body.ChestPart, "shoulder_left", "shoulder_right", body.HeadPart) > carriesAbove && f.Chest.F.Z > 0
	return up, up && f.LowestRibs().Z > liftedRibs
}

// carriesAbove is the share of body weight on chest, shoulders and head from which the
// spine below hangs on them.
const carriesAbove = 0.3

const (
	liftedRibs = 0.065 // body heights of the spine at the lowest ribs over the floor; lying it is at 0.043
	headOff    = 0.01  // body heights from which a head is lifted
)

// demand is one number from 0 to 10 for how hard a variant is, used wherever
// "harder", "heavy" or the ribbon's thickness is meant. Up to 4 points for the
// low-back moment (0.10 of weight × height earns all), up to 3 for the load on
// one arm that props the shoulder (0.60 of body weight), up to 3 for the larger
// hip moment (0.12), 1 for a single leg without a hand, and a half each for a
// head lifted in lying and for outside resistance. The weights are this
// product's own choice.
func demand(m Movement, limbs limbPeaks, headLift, single bool) float64 {
	d := 4*math.Min(1, limbs.lowBack/0.10) + 3*math.Min(1, limbs.arm/0.60) + 3*math.Min(1, limbs.hips/0.12)
	if single {
		d++
	}
	if headLift {
		d += 0.5
	}
	if m.resisted() {
		d += 0.5
	}
	return math.Min(10, d)
}
