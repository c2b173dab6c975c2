package lesson

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// Mark is one thing that happened in a lesson, as it was tapped. Marks are only ever
// added; what was wrong is corrected by another mark.
type Mark struct {
	ID      string  `json:"id"`                // a UUID, made where it was tapped
	Item    string  `json:"item,omitempty"`    // the plan item's lasting id; empty for the lesson as a whole
	Variant string  `json:"variant,omitempty"` // which exercise stood there then
	Side    string  `json:"side,omitempty"`
	Set     int     `json:"set,omitempty"` // from 1
	Kind    string  `json:"kind"`          // one of Kinds
	At      string  `json:"at"`            // wall clock, RFC 3339
	ClockS  float64 `json:"clock_s"`       // seconds of the lesson

	Repetitions int     `json:"repetitions,omitempty"` // done in the set
	Seconds     float64 `json:"seconds,omitempty"`     // of the last clean repetition or hold; added_time: how many
	BestHold    float64 `json:"best_hold,omitempty"`
	Score       *int    `json:"score,omitempty"` // pain, 0 to 10
	Where       string  `json:"where,omitempty"`
	Moment      string  `json:"moment,omitempty"` // side_check: before or after
	Less        string  `json:"less,omitempty"`   // side_check: left, right or equal
	Hour        int     `json:"hour,omitempty"`   // clock_hour: 1 to 12
	Quality     string  `json:"quality,omitempty"`
	Cue         string  `json:"cue,omitempty"`
	To          string  `json:"to,omitempty"`    // swapped, easier, harder: the exercise
	Which       string  `json:"which,omitempty"` // stepped: the step, in words
	Text        string  `json:"text,omitempty"`
	Flag        string  `json:"flag,omitempty"` // warning: the id of the sign

	Of     string          `json:"of,omitempty"` // corrected: the id of the mark
	Values json.RawMessage `json:"values,omitempty"`
	Void   bool            `json:"void,omitempty"` // corrected: it never was
	By     string          `json:"by,omitempty"`
}

// Kinds are the kinds of marks there are.
var Kinds = []string{
	"begun",
	"set_done",
	"pain",
	"form",
	"shaking",
	"tingling",
	"cramp",
	"soreness",
	"pinch",
	"solid_stop",
	"tighter",
	"side_check",
	"clock_hour",
	"cue_worked",
	"easier",
	"harder",
	"swapped",
	"stepped",
	"skipped",
	"added_time",
	"paused",
	"resumed",
	"note",
	"warning",
	"ended",
	"corrected",
}

// ending are the kinds of marks that end a set.
var ending = []string{"form", "pain", "shaking", "soreness", "tingling", "cramp"}

// Mistake is what is wrong with a mark: which field, and what was expected.
type Mistake struct{ Field, Want string }

func (m *Mistake) Error() string { return m.Field + ": " + m.Want }

// The most that a mark may say.
const (
	longestLesson = 6 * 3600 // seconds of the lesson's clock
	longestText   = 2000     // characters
	ahead         = 5 * time.Minute
)

// Check says what is wrong with a mark of a plan with the given items, as of now; nil
// when it can be kept.
//
//revive:disable-next-line:cyclomatic One check for each field, each with its own sentence.
func (m Mark) Check(items []string, now time.Time) *Mistake {
	bad := func(field, format string, args ...any) *Mistake { return &Mistake{field, fmt.Sprintf(format, args...)} }
	oneOf := func(field, value string, of ...string) *Mistake {
		if value != "" && !slices.Contains(of, value) {
			return bad(field, "%q is not known; expected one of %s", value, strings.Join(of, ", "))
		}
		return nil
	}
	if !uuid(m.ID) {
		return bad("id", "expected a UUID made by the sender, found %q", m.ID)
	}
	if m.Kind == "" {
		return bad("kind", "is missing; expected one of %s", strings.Join(Kinds, ", "))
	}
	if m.Item != "" && !slices.Contains(items, m.Item) {
		return bad("item", "%q is no exercise of this plan, nor was it one", m.Item)
	}
	at, err := time.Parse(time.RFC3339, m.At)
	switch {
	case err != nil:
		return bad("at", "expected a moment such as 2026-11-25T10:30:00Z, found %q", m.At)
	case at.After(now.Add(ahead)):
		return bad("at", "%s is in the future", m.At)
	case at.Year() < 2000:
		return bad("at", "%s is long past", m.At)
	}
	for _, wrong := range []*Mistake{oneOf("kind", m.Kind, Kinds...), oneOf("side", m.Side, "left", "right"),
		oneOf("where", m.Where, exercise.ComplaintPlaces...),
		oneOf("moment", m.Moment, "before", "after"), oneOf("less", m.Less, "left", "right", "equal"),
		oneOf("quality", m.Quality, "smooth", "hesitant", "jerky")} {
		if wrong != nil {
			return wrong
		}
	}
	for _, n := range []struct {
		field           string
		value, from, to float64
	}{{"clock_s", m.ClockS, 0, longestLesson}, {"set", float64(m.Set), 0, 50}, {"repetitions", float64(m.Repetitions), 0, 500},
		{"seconds", m.Seconds, 0, 7200},
		{"best_hold", m.BestHold, 0, 7200}, {"hour", float64(m.Hour), 0, 12}} {
		if !(n.value >= n.from && n.value <= n.to) {
			return bad(n.field, "%g cannot be right; expected %g to %g", n.value, n.from, n.to)
		}
	}
	if _, known := limit.FindRedFlag(m.Flag); m.Kind == "warning" && !known {
		return bad("flag", "%q is no warning sign", m.Flag)
	}
	if m.Score != nil && (*m.Score < 0 || *m.Score > 10) {
		return bad("score", "expected 0 to 10, found %d", *m.Score)
	}
	for field, text := range map[string]string{"text": m.Text, "cue": m.Cue, "which": m.Which, "by": m.By, "to": m.To,
		"variant": m.Variant} {
		if len(text) > longestText {
			return bad(field, "is %d characters long; expected at most %d", len(text), longestText)
		}
	}
	needs := map[string]struct {
		field   string
		missing bool
	}{
		"side_check": {"less", m.Less == "" || m.Moment == ""},
		"clock_hour": {"hour", m.Hour == 0},
		"swapped":    {"to", m.To == ""},
		"stepped":    {"which", m.Which == ""},
		"note": {
			"text",
			strings.TrimSpace(m.Text) == "",
		},
		"tighter":  {"side", m.Side == ""},
		"set_done": {"item", m.Item == ""},
		"skipped":  {"item", m.Item == ""},
	}
	if need, ok := needs[m.Kind]; ok && need.missing {
		return bad(need.field, "is needed with %s", m.Kind)
	}
	if m.Kind == "corrected" {
		if !uuid(m.Of) || m.Of == m.ID {
			return bad("of", "expected the id of another mark, found %q", m.Of)
		}
		if m.Void == (len(m.Values) > 0) {
			return bad("values", "expected the new values, or void")
		}
		if wrong := m.checkValues(items, now); wrong != nil {
			return wrong
		}
	}
	return nil
}

// checkValues holds the new values of a correction against what a mark may say.
func (m Mark) checkValues(items []string, now time.Time) *Mistake {
	if len(m.Values) == 0 {
		return nil
	}
	as := Mark{ID: m.Of, Kind: "note", Text: "-", At: m.At, Item: m.Item, ClockS: m.ClockS}
	if err := json.Unmarshal(m.Values, &as); err != nil {
		return &Mistake{"values", "expected fields of a mark with their new values"}
	}
	if as.ID != m.Of || as.Kind == "corrected" || as.Of != "" {
		return &Mistake{"values", "a correction changes neither id nor what it is of"}
	}
	if wrong := as.Check(items, now); wrong != nil {
		return &Mistake{"values." + wrong.Field, wrong.Want}
	}
	return nil
}

// uuid says whether a text is a UUID as it is written.
func uuid(s string) bool {
	if len(s) != 36 {
		return false
	}
	for i, r := range s {
		if i == 8 || i == 13 || i == 18 || i == 23 {
			if r != '-' {
				return false
			}
		} else if !strings.ContainsRune("0123456789abcdefABCDEF", r) {
			return false
		}
	}
	return true
}

// Settled are marks each once, with corrections made, in the order in which they
// happened, whatever order they come in. Corrections themselves are no longer among them.
func Settled(marks []Mark) []Mark {
	inOrder := slices.Clone(marks)
	slices.SortFunc(inOrder, func(a, b Mark) int {
		if a.ClockS != b.ClockS {
			return map[bool]int{true: -1, false: 1}[a.ClockS < b.ClockS]
		}
		return strings.Compare(a.At+a.ID, b.At+b.ID)
	})
	at := map[string]int{}
	var out []Mark
	for _, m := range inOrder {
		if _, twice := at[m.ID]; !twice && m.Kind != "corrected" {
			at[m.ID] = len(out)
			out = append(out, m)
		}
	}
	void := map[string]bool{}
	done := map[string]bool{}
	for _, m := range inOrder {
		i, known := at[m.Of]
		if m.Kind != "corrected" || !known || done[m.ID] {
			continue
		}
		done[m.ID] = true
		if m.Void {
			void[m.Of] = true
			continue
		}
		was := out[i]
		if json.Unmarshal(m.Values, &out[i]) != nil {
			out[i] = was // refused when it was kept; here to be safe
		}
		out[i].ID, out[i].At, out[i].ClockS = was.ID, was.At, was.ClockS
		void[m.Of] = false
	}
	return slices.DeleteFunc(out, func(m Mark) bool { return void[m.ID] })
}
