package home

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"restbend/core/civil"
	"restbend/core/exercise"
)

// Diary is restbend.diary/1: what a client noted at home, for a programme.
type Diary struct {
	Format  string  `json:"format"`
	Home    string  `json:"home"` // the programme it was noted for
	Entries []Entry `json:"entries"`
}

// Entry is one day: which exercises were done, and how it was.
type Entry struct {
	On    string   `json:"on"`
	Done  []string `json:"done"`            // variants
	Pain  *int     `json:"pain,omitempty"`  // 0 to 10
	Sore  bool     `json:"sore,omitempty"`  // the kind that passes
	Where string   `json:"where,omitempty"` // one of exercise.ComplaintPlaces
	Note  string   `json:"note,omitempty"`
}

// Bounds of a diary.
const (
	mostEntries = 400
	mostNote    = 500
)

// ID tells a diary by what is in it: the same one twice is one.
func (d Diary) ID() string {
	b, _ := json.Marshal(d) // plain values always can
	sum := sha256.Sum256(b)
	return hex.EncodeToString(sum[:12])
}

// Check says what is wrong with a diary for a programme; the error names the field.
func (d Diary) Check(p Programme, today civil.Day) error {
	if d.Format != "restbend.diary/1" {
		return fmt.Errorf("format: %q; expected restbend.diary/1", d.Format)
	}
	if len(d.Entries) == 0 || len(d.Entries) > mostEntries {
		return fmt.Errorf("entries: %d; expected 1 to %d", len(d.Entries), mostEntries)
	}
	seen := map[string]bool{}
	for i, e := range d.Entries {
		at := func(field, format string, args ...any) error {
			return fmt.Errorf("entries[%d].%s: %s", i, field, fmt.Sprintf(format, args...))
		}
		day, err := civil.Parse(e.On)
		switch {
		case err != nil || day.After(today):
			return at("on", "%q is in the future or no date; expected %s or earlier", e.On, today.String())
		case seen[e.On]:
			return at("on", "%s is there twice; expected one entry a day", e.On)
		case e.Pain != nil && (*e.Pain < 0 || *e.Pain > 10):
			return at("pain", "%d; expected 0 to 10", *e.Pain)
		case e.Where != "" && !slices.Contains(exercise.ComplaintPlaces, e.Where):
			return at("where", "%q; expected one of %s", e.Where, strings.Join(exercise.ComplaintPlaces, ", "))
		case len([]rune(e.Note)) > mostNote:
			return at("note", "%d characters; expected at most %d", len([]rune(e.Note)), mostNote)
		}
		seen[e.On] = true
		for n, v := range e.Done {
			if !slices.ContainsFunc(slices.Concat(p.Items, p.Micro), func(it Item) bool { return it.Variant == v }) {
				return at(fmt.Sprintf("done[%d]", n), "%q is not in this programme", v)
			}
		}
	}
	return nil
}

// Worst is the highest pain of the days after one, up to so many days later; ok is false
// where none was noted.
func (d Diary) Worst(after string, days int) (pain int, ok bool) {
	from, err := civil.Parse(after)
	if err != nil {
		return 0, false
	}
	for _, e := range d.Entries {
		on, err := civil.Parse(e.On)
		if err != nil || e.Pain == nil || !on.After(from) || on.Since(from) > days {
			continue
		}
		pain, ok = max(pain, *e.Pain), true
	}
	return
}

// Code is the diary as short text that can be read out: for each day its date, what was
// done by number, and the pain. Decode reads it back.
func (d Diary) Code(p Programme) string {
	var out []string
	for _, e := range d.Entries {
		done := ""
		for i, it := range p.Items {
			if slices.Contains(e.Done, it.Variant) {
				done += string(rune('A' + i))
			}
		}
		pain := "-"
		if e.Pain != nil {
			pain = fmt.Sprint(*e.Pain)
		}
		sore := ""
		if e.Sore {
			sore = "s"
		}
		if done == "" {
			done = "0"
		}
		out = append(out, strings.ReplaceAll(e.On[2:], "-", "")+done+pain+sore)
	}
	return strings.Join(out, " ")
}

// Decode reads a code for a programme; the error names the word that cannot be read.
func Decode(code, homeID string, p Programme) (Diary, error) {
	d := Diary{Format: "restbend.diary/1", Home: homeID, Entries: []Entry{}}
	for n, word := range strings.Fields(code) {
		bad := func(want string) (Diary, error) {
			return Diary{}, fmt.Errorf("code: word %d, %q, cannot be read; %s", n+1, word, want)
		}
		if len(word) < 8 {
			return bad("expected six figures of the day, letters of what was done, and the pain, such as 261125ABD2")
		}
		day, err := time.Parse("060102", word[:6])
		if err != nil {
			return bad("its first six figures are no day, such as 261125")
		}
		e := Entry{On: day.Format(time.DateOnly), Done: []string{}}
		rest := strings.ToUpper(word[6:])
		if strings.HasSuffix(rest, "S") && len(rest) > 1 && strings.ContainsAny(rest[len(rest)-2:len(rest)-1], "0123456789-") {
			e.Sore, rest = true, rest[:len(rest)-1]
		}
		i := 0
		for ; i < len(rest) && rest[i] >= 'A' && rest[i] <= 'F'; i++ {
			at := int(rest[i] - 'A')
			if at >= len(p.Items) {
				return bad(fmt.Sprintf("there is no exercise %c", rest[i]))
			}
			e.Done = append(e.Done, p.Items[at].Variant)
		}
		if i == 0 && strings.HasPrefix(rest, "0") {
			i = 1
		}
		switch pain := rest[i:]; pain {
		case "-":
		default:
			v := -1
			if _, err := fmt.Sscanf(pain, "%d", &v); err != nil || fmt.Sprint(v) != pain || v < 0 || v > 10 {
				return bad("its last figure is the pain, 0 to 10, or - where it was not noted")
			}
			e.Pain = &v
		}
		d.Entries = append(d.Entries, e)
	}
	if len(d.Entries) == 0 {
		return d, fmt.Errorf("code: expected words such as 261125ABD2, found none")
	}
	return d, nil
}
