package exercise

import (
	"fmt"
	"math"

	"restbend/core/body"
)

// Frame is one sampled instant of a movement.
type Frame struct {
	Pose    string // the key pose, or "" on the way
	Seconds float64
	Figure  body.Figure
	Rolling bool // from one base position into another, whose loads are not worked out
	Same    int  // index of an earlier frame with the same posture, or -1
}

// Frames solves the movement: every key pose and samples on the way between.
// Errors name the pose.
func (m Movement) Frames() ([]Frame, error) {
	figures, err := m.Figures()
	if err != nil {
		return nil, err
	}
	return m.between(figures, betweenKeys), nil
}

// between fills in so many samples from one key pose to the next.
func (m Movement) between(figures map[string]body.Figure, samples int) []Frame {
	frames := []Frame{{Pose: "start", Figure: figures["start"], Same: -1}}
	now, at, index := "start", 0.0, map[string]int{"start": 0}
	ways := map[[2]string]int{} // index of the first frame of a way already filmed
	for _, s := range m.Steps {
		a, b := figures[now], figures[s.To]
		first := len(frames)
		there, again := ways[[2]string{now, s.To}]
		back, returning := ways[[2]string{s.To, now}]
		for i := 1; i <= samples; i++ {
			t := float64(i) / float64(samples)
			f := Frame{Seconds: at + t*s.Seconds, Rolling: i < samples && a.Pose.Base != b.Pose.Base, Same: -1}
			switch {
			case i == samples:
				f.Pose, f.Figure = s.To, b
				if k, seen := index[s.To]; seen {
					f.Same = k
				} else {
					index[s.To] = len(frames)
				}
			case again:
				f.Same, f.Figure = there+i-1, frames[there+i-1].Figure
			case returning: // the same way back
				k := back + samples - i - 1
				f.Same, f.Figure = k, frames[k].Figure
			default:
				f.Figure = body.Between(a, b, (1-math.Cos(math.Pi*t))/2, m.Scene)
				if a.Pose.Base != b.Pose.Base {
					f.Figure.Clear(m.Scene)
				}
			}
			frames = append(frames, f)
		}
		if !again {
			ways[[2]string{now, s.To}] = first
		}
		now, at = s.To, at+s.Seconds
		if m.Stay > 0 && s.To == m.HoldsAt {
			at += m.Stay
		}
	}
	return frames
}

// Figures solves the key poses by name.
func (m Movement) Figures() (map[string]body.Figure, error) {
	out := map[string]body.Figure{}
	scene := m.Scene
	for _, name := range m.Order {
		f, err := body.Solve(m.Poses[name], scene)
		if err != nil {
			return nil, fmt.Errorf("pose %s: %w", name, err)
		}
		if name == "start" {
			scene.Start = &f
		} else if m.range01() < 1 {
			f = body.Between(out["start"], f, m.range01(), m.Scene)
		}
		out[name] = f
	}
	return out, nil
}
