package body

import "math"

// How pelvis and hip bend together. The hip by itself ends near 120° (AAOS), and well before
// that what lies behind it draws the pelvis along: from here on the pelvis rolls back and the low
// back rounds by most of what the pose asks for (common practice). With straight knees the
// hamstrings do so earlier; all from memory.
const (
	hipAlone         = 100.0 // degrees that the hip bends before the pelvis follows, with the knee bent
	hipAloneStraight = 55.0  // and with it straight: of a straight leg raised to 80° a good part is the pelvis (Bohannon 1985)
	kneeSlackens     = 60.0  // degrees of knee bend from which the hamstrings no longer hold
	pelvisShare      = 0.8   // of what is asked beyond
	otherHipOpens    = 10.0  // degrees to which the other hip lets the pelvis roll
)

// hipRoll is by how many degrees the hips roll the pelvis back, and round the low back. On the
// back it is none: there the floor decides how a pelvis curls, and the poses say it.
func (f *Figure) hipRoll() float64 {
	if f.Pose.Base == Supine {
		return 0
	}
	a := f.Angles()
	most := [2]float64{}
	for s := range f.Legs {
		if f.Pose.Legs[s].Frame == "pelvis" && !f.Legs[s].Pinned {
			return 0 // the legs go with the pelvis
		}
		slack := clamp(a.KneeFlexion[s]/kneeSlackens, 0, 1)
		alone := hipAloneStraight + (hipAlone-hipAloneStraight)*slack
		most[s] = pelvisShare * math.Max(0, a.HipFlexion[s]-alone)
	}
	roll := 0.0
	for s, by := range most {
		if most[1-s] == 0 {
			by /= 2 // the other hip holds the pelvis
		}
		roll = math.Max(roll, math.Min(by, math.Max(most[1-s], a.HipFlexion[1-s]+otherHipOpens)))
	}
	return roll
}
