package exercise

import (
	"fmt"
	"slices"

	"restbend/core/body"
)

// Adaptation is one change that keeps the purpose.
type Adaptation struct {
	ID   string `json:"id"`
	Text string `json:"text"`
}

// AdaptationIDs are the adaptations this version can carry out on a movement.
var AdaptationIDs = []string{"smaller_range", "allowed_directions_only", "head_down", "flat_back", "arms_lower", "shorter_hold"}

// Form is a variant as taught: plain, or with adaptations, measured.
type Form struct {
	Adaptations []Adaptation
	Movement    Movement
	Measured    Measured
	Lost        float64 // share of the movement's range given up, for choosing
}

// Plain is the variant's form without adaptations.
func (v *Variant) Plain() *Form { return &v.Forms[0] }

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
	for i := range v.Forms {
		if slices.Equal(v.Forms[i].Adaptations, adaptations) {
			return &v.Forms[i]
		}
	}
	return v.Plain()
}

// smallerRanges are the sizes tried, largest first.
var smallerRanges = []struct {
	share float64
	words string
}{{0.75, "three quarters"}, {0.5, "half"}, {0.25, "a quarter"}}

// Adapted lists every adapted form the variant bears, fewest adaptations
// first, then least range lost, then in the order the variant lists them. They
// are not measured yet.
func Adapted(m Movement, may []string) []Form {
	one := func(m Movement, id string) []Form {
		var out []Form
		switch id {
		case "smaller_range":
			for _, r := range smallerRanges {
				a := m
				a.Range = m.range01() * r.share
				out = append(out, Form{[]Adaptation{{id, "smaller range, " + r.words}}, a, Measured{}, 1 - r.share})
			}
		case "head_down":
			out = append(out, Form{[]Adaptation{{id, "head down"}}, m.posed(headDown), Measured{}, 0.3})
		case "flat_back":
			out = append(out, Form{[]Adaptation{{id, "flat back instead of rounding"}}, m.posed(flatBack), Measured{}, 0.2})
		case "arms_lower":
			out = append(out, Form{[]Adaptation{{id, "arms no higher than the shoulders"}}, m.posed(armsLower), Measured{}, 0.2})
		case "shorter_hold":
			for _, most := range shorterHolds {
				if m.Hold > most {
					a := m
					a.Hold = most
					out = append(out, Form{[]Adaptation{{id, fmt.Sprintf("holds of %g s at most", most)}}, a, Measured{}, 0.1 + 0.3/most})
				}
			}
		case "allowed_directions_only":
			for _, pose := range m.Order[1:] {
				word, ok := m.Directions[pose]
				if !ok {
					continue
				}
				if a, ok := m.Without(pose); ok {
					out = append(out, Form{[]Adaptation{{id, fmt.Sprintf("one direction only, no %s", word)}}, a, Measured{}, 0.5})
				}
			}
		}
		return out
	}
	var singles, pairs []Form
	for i, id := range may {
		for _, f := range one(m, id) {
			singles = append(singles, f)
			for _, second := range may[i+1:] {
				for _, g := range one(f.Movement, second) {
					pairs = append(pairs, Form{append(slices.Clone(f.Adaptations), g.Adaptations...), g.Movement, Measured{}, 1 - (1-f.Lost)*(1-g.Lost)})
				}
			}
		}
	}
	byLoss := func(a, b Form) int {
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

// Without is the movement with one key pose left out and the steps to and from
// it joined. ok is false when nothing would be left to do.
func (m Movement) Without(pose string) (Movement, bool) {
	var steps []Step
	at := "start"
	for _, s := range m.Steps {
		if s.To == pose || s.To == at {
			continue
		}
		steps = append(steps, s)
		at = s.To
	}
	if len(steps) == 0 {
		return m, false
	}
	m.Steps = steps
	m.Order = slices.DeleteFunc(slices.Clone(m.Order), func(n string) bool { return n == pose })
	if m.HoldsAt == pose {
		m.HoldsAt = ""
	}
	return m, true
}

// shorterHolds are the caps tried on a hold, in seconds.
var shorterHolds = []float64{10, 5}

// posed is the movement with every pose changed.
func (m Movement) posed(change func(body.Pose) body.Pose) Movement {
	poses := make(map[string]body.Pose, len(m.Poses))
	for name, p := range m.Poses {
		poses[name] = change(p)
	}
	m.Poses = poses
	return m
}

// headDown lays the head, and the upper back that carried it up, on the
// surface. It is for bodies that lie on their back.
func headDown(p body.Pose) body.Pose {
	p.Thoracic.Flexion = min(p.Thoracic.Flexion, 0)
	p.Cervical = body.Bend{}
	p.Settle = append(slices.Clone(p.Settle), body.Settle{Vary: "cervical.flexion", Range: [2]float64{-50, 50}, Until: "touch", Part: body.HeadPart})
	return p
}

// flatBack takes the rounding out of the back; the hips still fold.
func flatBack(p body.Pose) body.Pose {
	p.Lumbar.Flexion, p.Thoracic.Flexion = min(p.Lumbar.Flexion, 0), min(p.Thoracic.Flexion, 0)
	return p
}

// highestArm is how far from hanging an arm that is not to go high may be
// raised, in degrees: a little below the shoulder.
const highestArm = 82

// armsLower brings free arms that go above the shoulder down to just below it,
// straight, on the same side; an arm near straight overhead comes down in front.
func armsLower(p body.Pose) body.Pose {
	for s, arm := range p.Arms {
		down, front := p.Hanging(arm.Frame)
		upper := arm.Upper.Unit()
		if arm.Pin != nil || upper == (body.Vec{}) || upper.AngleTo(down) <= highestArm {
			continue
		}
		toward := upper.Perp(down)
		if toward.Len() < 0.35 || toward.Dot(front) < -0.1 { // overhead, or past it
			toward = front.Perp(down)
		}
		p.Arms[s].Upper = down.Turn(down.Cross(toward).Unit(), highestArm)
		p.Arms[s].Lower = p.Arms[s].Upper
	}
	return p
}
