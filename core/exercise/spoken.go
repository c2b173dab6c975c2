package exercise

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strings"
)

// spoken is what an adaptation does to the words of an exercise: it has a cue of its own,
// which comes first, and cues that speak of what it takes away go.
type spoken struct {
	cue   string
	takes *regexp.Regexp // words of what is taken away; nil for nothing
}

func away(words ...string) *regexp.Regexp {
	return regexp.MustCompile(`(?i)\b(` + strings.Join(words, "|") + `)\b`)
}

// adaptedWords are the words of each adaptation.
var adaptedWords = map[string]spoken{
	"smaller_range": {"Stay in the small, easy part of the movement.", away("wide", "all the way", "far wall", "overhead")},
	"allowed_directions_only": {
		"Leave out the %s; come home to the middle and stop there.",
		away("forward and back", "both ways", "come last"),
	},
	"head_down": {"Leave the head down and heavy.", away("head", "chin", "rise as one", "rise", "look at your thighs")},
	"flat_back": {"Keep the back long and let the hips fold.", away("round", "roll", "curl", "peel", "crown down")},
	"arms_lower": {
		"Keep the arms below the height of the shoulders.",
		away("overhead", "wide and up", "reach up", "beside the ear", "ceiling", "up and away", "arms open wide"),
	},
	"bent_lever": {
		"Keep the knee bent as the leg goes.",
		away(
			"straight",
			"leg long",
			"long leg",
			"heel away",
			"heel to the far wall",
			"reach the leg",
			"lengthen the lower leg",
			"both legs reach",
		),
	},
	"one_limb": {
		"One side moves and the other rests.",
		away("both", "together", "the other hand", "reach apart", "arms open", "meet again"),
	},
	"pillow": {"Let the pillow take the weight.", nil},
	"support_hand": {
		"Rest one hand lightly on the support.",
		away("without hands", "hands free", "only an idea", "both hands", "hands leave"),
	},
	"raise_surface": {"Lean on the higher surface.", nil},
	"higher_seat":   {"Sit high, the knees lower than the hips.", away("chair's edge")},
	"shorter_hold":  {"Come down while it is still easy.", away("ten", "counts", "longer", "stay longer", "minute")},
	"hands_swapped": {"Change hands: the easy arm goes above.", nil},
	"fists": {
		"Knuckles down, thumbs forward, wrists straight.",
		away("palms?", "fingers?", "heels of the hands", "whole hand"),
	},
}

// directionWords are what a cue says of a direction that is left out.
var directionWords = map[string]*regexp.Regexp{
	"arching": away(
		"arch",
		"lift",
		"breastbone",
		"look ahead",
		"hollow",
	),
	"lifting":   away("lift", "breastbone", "look ahead"),
	"hollowing": away("hollow", "arch"),
	"rounding": away(
		"round",
		"tail",
		"crown down",
		"roll over",
	),
	"flattening":        away("flat", "flatten", "press"),
	"rolling back":      away("back", "behind"),
	"rolling forward":   away("forward"),
	"closing the space": away("close", "press"),
	"opening it":        away("open"),
	"bending left":      away("side and side", "sideways"),
	"bending right":     away("side and side", "sideways"),
	"turning left":      away("turn and turn"),
	"turning right":     away("turn and turn"),
	"forward":           away("forward", "ahead"),
	"backward":          away("back", "behind"),
}

// OneThing is the one thing to remember of an exercise: the first cue, unless another is
// named.
func (v *Variant) OneThing() string { return cmp.Or(v.Remember, v.Cues[0]) }

// CuesOf are the cues of the variant in a form: its own as it is written; adapted, those of
// the adaptations first and then its own that speak of nothing that was taken away.
func (v *Variant) CuesOf(f *Form) []string {
	if len(f.Adaptations) == 0 {
		return v.Cues
	}
	var out []string
	own := slices.Clone(v.Cues)
	for _, a := range f.Adaptations {
		words := adaptedWords[a.ID]
		gone := []*regexp.Regexp{words.takes}
		if _, left, ok := strings.Cut(a.Text, ", no "); ok {
			words.cue = fmt.Sprintf(words.cue, left)
			gone = append(gone, directionWords[left])
		}
		out = append(out, words.cue)
		own = slices.DeleteFunc(own, func(cue string) bool {
			return slices.ContainsFunc(gone, func(r *regexp.Regexp) bool { return r != nil && r.MatchString(cue) })
		})
	}
	return append(out, own...)
}
