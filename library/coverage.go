package library

import (
	"fmt"
	"slices"
	"strings"

	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/limit"
)

// coveragePlaces are the places a session can be held in without a studio.
var coveragePlaces = []exercise.Place{"mat", "bed", "table", "chair", "standing"}

// byAnatomy says why a place leaves a purpose out, where the body or the place
// and not the library is the reason.
var byAnatomy = map[exercise.Place]map[exercise.Purpose]string{
	"bed": {
		"arm_loading":   "a soft surface gives under a hand or forearm",
		"balance":       "balance is trained on the feet",
		"calf_strength": "calves are loaded on the feet",
		"gait":          "walking is done on the feet",
		"hip_hinge":     "the hinge needs the feet on the floor; on the bed's edge it is a chair exercise",
		"anti_rotation": "bands and all fours want a firm surface",
	},
	"table": {
		"balance":       "balance is trained on the feet",
		"calf_strength": "calves are loaded on the feet",
		"gait":          "walking is done on the feet",
		"hip_hinge":     "the hinge needs the feet on the floor",
	},
	"chair": {"gait": "walking is done on the feet"},
	"standing": {
		"decompression": "unloading needs the back to be carried",
		"transfers":     "getting down and up begins on a chair, a bed or the floor",
	},
}

// coverageClient is somebody with the condition and nothing else, with the
// details that allow a session.
func coverageClient(d limit.Description) limit.Client {
	two := 2
	k := limit.Condition{ID: d.ID}
	for field, answer := range map[string]any{"side": "right", "stage": "subacute", "cleared_for_exercise": true, "months_since": 14.0,
		"levels":  "L4-S1",
		"reading": "148/92", "curves": []limit.Curve{{Region: "thoracic", Convex: "right", CobbDeg: 24}}} {
		if d.Field(field) != nil {
			k = k.With(field, answer)
		}
	}
	return limit.Client{Equipment: exercise.Equipment, Pain: limit.Pain{Now: &two}, Conditions: []limit.Condition{k}}
}

// Served counts the safe variants that serve a purpose in a place for a client.
func (l *Library) Served(set limit.Limits, place exercise.Place, purpose exercise.Purpose) int {
	n := 0
	for _, v := range l.Variants {
		if slices.Contains(v.Purposes, purpose) && place.Holds(v.Position) && slices.Contains(v.Places, place) &&
			limit.Judge(set, v, limit.Kit{}).Verdict != exercise.Avoid {
			n++
		}
	}
	return n
}

// Coverage writes how many safe variants serve each purpose in each place, for
// each condition, as Markdown. Holes are named with the reason where anatomy
// leaves them.
func (l *Library) Coverage(on civil.Day) string {
	var b strings.Builder
	b.WriteString(
		"# Coverage\n\nHow many variants are safe (as they are or adapted) for each purpose, place and condition, with all equipment " +
			"at hand.\n" +
			"Written by the test of the library; run `go test ./library -run Coverage -update` after a change.\n",
	)
	var conditions []string // those that are planned for
	sets := map[string]limit.Limits{}
	for _, d := range l.Conditions {
		if set := limit.For(coverageClient(d), l.Conditions, on); set.Status() == limit.OK {
			conditions, sets[d.ID] = append(conditions, d.ID), set
		}
	}
	for _, place := range coveragePlaces {
		fmt.Fprintf(&b, "\n## %s\n\n| purpose | nobody in particular |", strings.ToUpper(place.Words()[:1])+place.Words()[1:])
		for _, id := range conditions {
			fmt.Fprintf(&b, " %s |", strings.ReplaceAll(id, "_", " "))
		}
		b.WriteString("\n|---|" + strings.Repeat("--:|", len(conditions)+1) + "\n")
		for _, p := range exercise.Purposes {
			fmt.Fprintf(&b, "| %s | %d |", p.Words(), l.Served(limit.Limits{}, place, p))
			for _, id := range conditions {
				fmt.Fprintf(&b, " %d |", l.Served(sets[id], place, p))
			}
			b.WriteString("\n")
		}
	}
	b.WriteString("\n## Holes\n\n")
	for _, place := range coveragePlaces {
		for _, p := range exercise.Purposes {
			if l.Served(limit.Limits{}, place, p) == 0 {
				reason := byAnatomy[place][p]
				if reason == "" {
					reason = "to be filled"
				}
				fmt.Fprintf(&b, "- %s, %s: %s.\n", place.Words(), p.Words(), reason)
			}
		}
		for _, id := range conditions {
			for _, n := range sets[id].Needs {
				if l.Served(sets[id], place, n.Purpose) == 0 && l.Served(limit.Limits{}, place, n.Purpose) > 0 {
					fmt.Fprintf(&b,
						"- %s, %s wanted with %s: what is there is barred.\n",
						place.Words(),
						n.Purpose.Words(),
						strings.ReplaceAll(id, "_", " "),
					)
				}
			}
		}
	}
	return b.String()
}
