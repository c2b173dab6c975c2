package readinesstest

import (
	"restbend/core/civil"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/readiness"
)

// Case is a day on which one signal is there and nothing else.
type Case struct {
	Signal string // of readiness.Signals
	// Client changes the base client on a day; nil where it is not the client who shows it.
	Client func(c *limit.Client, day civil.Day)
	Past   []readiness.Visit // days of them count back from the day: see Visits
	Marks  []readiness.Mark
}

// Gives says whether an act goes on with a status, as docs/safety.md has it.
func Gives(status readiness.Status, act readiness.Act) bool {
	switch status {
	case readiness.Ready, readiness.Gentle:
		return true
	case readiness.Ask:
		return act == readiness.Judge
	case readiness.Stop:
		return act == readiness.Judge || act == readiness.Ahead
	}
	return false
}

// For is the case of each signal; false where there is none.
func For(signal string) (Case, bool) {
	for _, c := range Cases {
		if c.Signal == signal {
			return c, true
		}
	}
	return Case{}, false
}

// Base is a client with nothing that a day looks at: asked about everything, and no pain.
func Base(day civil.Day) limit.Client {
	none := 0
	return limit.Client{Format: "restbend.client/1", Name: "Juniper Ashdale", BirthYear: day.Year() - 50, HeightCM: 168,
		MassKG: 66, RedFlags: []string{}, Place: "mat", Minutes: 10,
		Pain: limit.Pain{Now: &none, On: day.String()}}
}

// On is the client of a case on a day.
func (c Case) On(day civil.Day) limit.Client {
	k := Base(day)
	if c.Client != nil {
		c.Client(&k, day)
	}
	return k
}

// Yesterday is the session that a case has behind it; false where it has none.
func (c Case) Yesterday(day civil.Day) (readiness.Visit, bool) {
	if len(c.Past) == 0 {
		return readiness.Visit{}, false
	}
	v := c.Past[0]
	v.On = day.AddDate(0, 0, -1)
	return v, true
}

// Record is the record of a session on the day before, with what the case says afterwards.
func (c Case) Record(day civil.Day) lesson.Record {
	after := lesson.FollowUp{HoursToSettle: 10}
	if v, has := c.Yesterday(day); has {
		if after.RedFlags = v.Flags; v.Refers != "" { // by the rules of progress
			after.HoursToSettle = 60
			after.Symptoms = []lesson.Symptom{{Where: "foot", Kind: "numbness", Change: "stays"}}
		}
	}
	return lesson.Record{Format: "restbend.record/1", On: day.AddDate(0, 0, -1).String(), Items: []lesson.Done{},
		Pain: lesson.Pain{Before: new(int), After: new(int)}, FollowUp: &after}
}

// Visits are the sessions of a case.
func (c Case) Visits(day civil.Day) []readiness.Visit {
	if v, has := c.Yesterday(day); has {
		return []readiness.Visit{v}
	}
	return nil
}

func pain(score int, where ...string) func(*limit.Client, civil.Day) {
	return func(c *limit.Client, day civil.Day) {
		c.Pain.Now = &score
		c.Today = &limit.Today{On: day.String(), Where: where}
	}
}

func marked(kind string, score int, where string) []readiness.Mark {
	m := readiness.Mark{Kind: kind, Where: where}
	if kind == "pain" {
		m.Score = &score
	}
	return []readiness.Mark{m}
}

func has(one limit.Condition) func(*limit.Client, civil.Day) {
	return func(c *limit.Client, _ civil.Day) { c.Conditions = []limit.Condition{one} }
}

// Cases are one for each signal.
var Cases = []Case{
	{Signal: "warning_sign", Client: func(c *limit.Client, _ civil.Day) { c.RedFlags = []string{"calf_swollen_hot"} }},
	{Signal: "emergency_sign", Client: func(c *limit.Client, _ civil.Day) { c.RedFlags = []string{"saddle_numbness"} }},
	{Signal: "sign_today", Client: func(c *limit.Client, day civil.Day) {
		c.RedFlags = []string{"fever_unwell"}
		c.FlagsCleared = []limit.FlagCleared{{Flag: "fever_unwell", By: "Dr Sorrel", On: day.AddDate(0, -1, 0).String()}}
		c.Today = &limit.Today{On: day.String(), New: []string{"fever_unwell"}}
	}},
	{Signal: "sign_after_session", Past: []readiness.Visit{{Flags: []string{"progressive_leg_weakness"}}}},
	{Signal: "record_refers", Past: []readiness.Visit{{Refers: "Numbness in a foot after the session."}}},
	{Signal: "too_fresh", Client: has(limit.Condition{ID: "spinal_fusion"}.With("cleared_for_exercise", false))},
	{Signal: "pregnant", Client: has(limit.Condition{ID: "pregnant"})},
	{Signal: "under_16", Client: func(c *limit.Client, day civil.Day) { c.BirthYear = day.Year() - 14 }},
	{Signal: "very_high_pressure", Client: func(c *limit.Client, day civil.Day) {
		c.RestingPressure, c.RestingPressureOn = "184/100", day.String()
	}},
	{Signal: "sign_in_answer", Client: func(c *limit.Client, day civil.Day) {
		c.Notes = "numb between the legs when sitting"
		c.Answers = []limit.Answer{{Field: "notes", Found: "numb between the legs", Answer: "yes", By: "Maren", On: day.String()}}
	}},
	{Signal: "pain_8_back", Client: pain(8, "low_back")},
	{Signal: "pain_8_unknown", Client: pain(9)},
	{Signal: "pain_8_two_parts", Client: pain(8, "knee", "shoulder")},
	{Signal: "low_pressure_dizzy", Client: func(c *limit.Client, day civil.Day) {
		c.RestingPressure, c.RestingPressureOn = "82/48", day.String()
		c.Today = &limit.Today{On: day.String(), Dizzy: true}
	}},
	{Signal: "fast_pulse", Client: func(c *limit.Client, day civil.Day) {
		pulse := 131
		c.Today = &limit.Today{On: day.String(), Pulse: &pulse}
	}},
	{Signal: "marked_8_back", Marks: marked("pain", 8, "low_back")},
	{Signal: "marked_chest", Marks: marked("pain", 6, "chest")},
	{Signal: "free_text", Client: func(c *limit.Client, _ civil.Day) { c.Notes = "numb between the legs when sitting" }},
	{Signal: "contradiction", Client: func(c *limit.Client, _ civil.Day) {
		now, worst := 3, 1
		c.Pain.Now, c.Pain.Worst24h = &now, &worst
	}},
	{Signal: "new_pain_with_signs", Client: func(c *limit.Client, day civil.Day) {
		pain(6, "low_back")(c, day)
		c.Today.New = []string{"numbness"}
	}},
	{Signal: "unscreened", Client: func(c *limit.Client, _ civil.Day) { c.Screened = new(bool) }},
	{Signal: "old_high_pressure", Client: func(c *limit.Client, day civil.Day) {
		c.RestingPressure, c.RestingPressureOn = "164/96", day.AddDate(0, 0, -3).String()
	}},
	{Signal: "pain_unknown", Client: func(c *limit.Client, _ civil.Day) { c.Pain = limit.Pain{} }},
	{Signal: "never_asked", Client: func(c *limit.Client, _ civil.Day) { c.RedFlags = nil }},
	{Signal: "other_condition", Client: func(c *limit.Client, _ civil.Day) {
		c.OtherConditions = []limit.OtherCondition{{Text: "a rare illness of the sinews"}}
	}},
	{Signal: "pain_6", Client: pain(6, "low_back")},
	{Signal: "pain_8_limb", Client: pain(8, "knee")},
	{Signal: "pain_8_agreed", Client: func(c *limit.Client, day civil.Day) {
		pain(8, "low_back")(c, day)
		c.UsualAgreed = &limit.Agreed{By: "Dr Sorrel", On: day.AddDate(0, -1, 0).String()}
	}},
	{Signal: "marked_6_back", Marks: marked("pain", 6, "low_back")},
	{Signal: "marked_tingling", Marks: marked("tingling", 0, "calf")},
	{Signal: "marked_6_limb", Marks: marked("pain", 6, "knee")},
}
