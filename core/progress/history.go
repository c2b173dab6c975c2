package progress

import (
	"encoding/json"
	"fmt"
	"math"
	"reflect"
	"slices"
	"strings"

	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/lesson"
)

// Contradiction is a record that cannot be believed: which of those given, where in it, and
// what was expected.
type Contradiction struct {
	Record      int
	Field, Want string
}

func (c *Contradiction) Error() string {
	return fmt.Sprintf("records[%d].%s: %s", c.Record, c.Field, c.Want)
}

// sorted are records each once, by date; two accounts of one session are a Contradiction.
func sorted(records []lesson.Record, on civil.Day) ([]lesson.Record, error) {
	type key struct{ plan, on string }
	var out []lesson.Record
	seen := map[key]int{}
	for i, r := range records {
		day, err := civil.Parse(r.On)
		if err != nil || day.After(on) {
			return nil, &Contradiction{i, "on", fmt.Sprintf("%s is in the future or no date; expected %s or earlier", r.On, on.String())}
		}
		for n, it := range r.Items {
			if it.Ended == "done" && !it.Skipped && it.Repetitions == 0 && it.Seconds == 0 {
				return nil, &Contradiction{
					i,
					fmt.Sprintf("items[%d].repetitions", n),
					fmt.Sprintf("0 of %s and done cannot both be right", it.Variant),
				}
			}
		}
		k := key{r.Plan, r.On}
		if r.Plan != "" {
			k.on = ""
		}
		if at, twice := seen[k]; twice {
			if reflect.DeepEqual(plainly(out[at]), plainly(r)) {
				continue
			}
			return nil, &Contradiction{i, "plan", fmt.Sprintf("two accounts of one session on %s; expected one", r.On)}
		}
		seen[k] = len(out)
		out = append(out, r)
	}
	slices.SortStableFunc(out, func(a, b lesson.Record) int { return strings.Compare(a.On, b.On) })
	return out, nil
}

// plainly is a record as its file reads, for comparing.
func plainly(r lesson.Record) string {
	b, _ := json.Marshal(r) // plain values always can
	return string(b)
}

// pain is the pain of a session, 0 to 10: the higher of during and after; ok is false
// where neither was asked.
func pain(r lesson.Record) (worst int, ok bool) {
	for _, p := range []*int{r.Pain.During, r.Pain.After} {
		if p != nil {
			worst, ok = max(worst, *p), true
		}
	}
	return
}

// settling is how a session settled.
type settling struct {
	answered bool
	hours    float64
	kind     string
	ok       bool // as it ordinarily does
}

func (rules Rules) settling(r lesson.Record) settling {
	f := r.FollowUp
	if f == nil {
		return settling{}
	}
	s := settling{answered: true, hours: f.HoursToSettle, kind: f.Kind, ok: true}
	switch f.Kind {
	case "soreness":
		s.ok = f.HoursToSettle <= rules["settled"].SorenessHours
	case "none":
	default:
		s.ok = f.HoursToSettle <= rules["settled"].PainHours
	}
	if f.PainNextDay != nil && r.Pain.Before != nil && *f.PainNextDay > *r.Pain.Before && f.Kind != "soreness" {
		s.ok = false
	}
	if f.Spread {
		s.ok = false
	}
	return s
}

// turn is one exercise and side in one session.
type turn struct {
	on      string
	record  lesson.Record
	runs    []lesson.Done
	planned exercise.Dose
	share   float64 // of the dose that was done, at most 1
	full    bool    // all of the dose, every set ended done
	over    bool    // more than the dose was done
	ended   string  // how the last set ended, or the worst of them
	hurt    int     // pain on it; −1 for none
	best    float64 // the longest clean hold
	reps    int     // the most repetitions of a set that were comfortable
}

// amounts are the repetitions and seconds of each of a run, whether its seconds are those
// of one repetition or of the whole.
func amounts(d lesson.Done, p exercise.Dose) (sets, repetitions int, seconds float64) {
	sets, repetitions, seconds = max(1, d.Sets), d.Repetitions, d.Seconds
	if repetitions == 0 && seconds > 0 {
		repetitions = 1
	}
	if each := p.Hold(0); each > 0 && repetitions > 1 && seconds >= each*float64(repetitions)*0.75 {
		seconds /= float64(repetitions)
	}
	return
}

func (rules Rules) turn(r lesson.Record, runs []lesson.Done, usual exercise.Dose) turn {
	t := turn{on: r.On, record: r, runs: runs, planned: usual, hurt: -1, ended: "done"}
	for _, d := range runs {
		if d.Planned != nil {
			t.planned = *d.Planned
		}
	}
	p := t.planned
	want, all := 0.0, 0
	weight := func(seconds float64) float64 {
		if p.Kind == exercise.HoldSeconds || p.Kind == exercise.AlternatingSeconds {
			return seconds
		}
		return 1
	}
	each := p.Hold(0)
	sizes := p.SetSizes()
	for _, n := range sizes {
		if p.Breaths > 0 {
			n = p.Breaths
		}
		want += float64(n) * weight(each)
		all += n
	}
	got, count := 0.0, 0
	done := true
	for _, d := range runs {
		sets, reps, seconds := amounts(d, p)
		if seconds == 0 {
			seconds = each
		}
		got += float64(sets*reps) * weight(seconds)
		if d.Ended == "done" || d.Ended == "choice" {
			t.reps = max(t.reps, reps)
		} else {
			t.reps = max(t.reps, reps, d.OddFrom-1)
		}
		t.best = math.Max(t.best, d.BestHold)
		if d.Ended == "done" && p.Kind == exercise.HoldSeconds {
			t.best = math.Max(t.best, seconds)
		}
		count += sets
		if d.Ended != "done" && d.Ended != "choice" {
			done = false
			t.ended = d.Ended
		} else if d.Ended == "choice" && t.ended == "done" {
			t.ended = "choice"
		}
		if d.Pain != nil {
			t.hurt = max(t.hurt, d.Pain.Score)
		} else if d.Ended == "pain" {
			if p, ok := pain(r); ok {
				t.hurt = max(t.hurt, p)
			}
			t.hurt = max(t.hurt, rules["hurt"].Pain) // it ended for pain, and nobody said how much
		}
	}
	if want > 0 {
		t.share = got / want
	}
	t.over = t.share > 1.001
	t.full = done && t.share >= 0.999 && count >= len(sizes)
	if t.share >= 0.999 && t.ended == "choice" { // all of it, and then enough
		t.ended = "done"
	}
	t.share = math.Min(1, t.share)
	return t
}

// turns are what was done of a variant on a side in each session, oldest first.
func (d *decider) turns(v *exercise.Variant, side string) []turn {
	usual := d.usual(v, side)
	var out []turn
	for _, r := range d.records {
		places, order := map[string][]lesson.Done{}, []string{} // it may stand twice in a session
		for _, it := range r.Items {
			if it.Variant == v.ID && it.Side == side && !it.Skipped {
				if places[it.Item] == nil {
					order = append(order, it.Item)
				}
				places[it.Item] = append(places[it.Item], it)
			}
		}
		var least *turn
		for _, place := range order {
			t := d.Rules.turn(r, places[place], usual)
			if least == nil || t.hurt > least.hurt || t.hurt == least.hurt && t.share < least.share {
				least = &t
			}
		}
		if least != nil {
			out = append(out, *least)
		}
	}
	return out
}
