package readiness

import (
	"fmt"
	"slices"
	"strings"

	"restbend/core/civil"
	"restbend/core/limit"
)

// Signal is something that makes a day less than ready. Signals without a check of their own
// are found by the check of another and stand here so that every door is tried with them.
type Signal struct {
	ID    string
	Words string // for the table in docs/safety.md
	// Status is what the day is; On gives it for acts where it is otherwise.
	Status Status
	On     map[Act]Status

	check func(*assessment)
}

// Expected is the status of a day with this signal alone, for an act.
func (s Signal) Expected(a Act) Status {
	if other, ok := s.On[a]; ok {
		return other
	}
	return s.Status
}

// Signals are all there are. A day is as the strictest of them.
var Signals = []Signal{
	{ID: "warning_sign", Words: "A warning sign that no clinician has cleared", Status: Refer, check: (*assessment).refers},
	{ID: "emergency_sign", Words: "A warning sign that is an emergency", Status: Refer},
	{ID: "sign_today", Words: "A warning sign said today, cleared or not before", Status: Refer},
	{ID: "sign_after_session", Words: "A warning sign said after a session", Status: Refer, check: (*assessment).saidAfter},
	{ID: "record_refers", Words: "Symptoms after a session that refer, not looked at since", Status: Refer},
	{ID: "too_fresh", Words: "An operation that is too fresh, or not cleared", Status: Refer},
	{ID: "pregnant", Words: "Pregnancy", Status: Refer},
	{ID: "under_16", Words: "Under 16", Status: Refer},
	{ID: "very_high_pressure", Words: "Pressure today 180 or 110 and over", Status: Refer},
	{ID: "sign_in_answer", Words: "A find in free text, answered so that it is a sign", Status: Refer},
	{ID: "pain_8_back", Words: "Pain today 8 or more in the back", Status: Stop, check: (*assessment).painToday},
	{ID: "pain_8_unknown", Words: "Pain today 8 or more, nobody knows where", Status: Stop},
	{ID: "pain_8_two_parts", Words: "Pain today 8 or more in two parts", Status: Stop},
	{ID: "low_pressure_dizzy", Words: "Pressure today under 90 or 60, with dizziness", Status: Stop, check: (*assessment).faint},
	{ID: "fast_pulse", Words: "Resting pulse over 120", Status: Stop},
	{ID: "marked_8_back", Words: "Pain 8 or more in the back, marked in the lesson", Status: Stop, check: (*assessment).marked},
	{ID: "marked_chest", Words: "Pain over 5 in the chest, marked in the lesson", Status: Stop},
	{ID: "free_text", Words: "A find in free text that nobody has answered", Status: Ask, check: (*assessment).freeText},
	{ID: "contradiction", Words: "Answers that cannot all be right", Status: Ask, check: (*assessment).contradictions},
	{ID: "new_pain_with_signs", Words: "New pain of 6 or 7 after a blow, at night or with limb signs", Status: Ask},
	{ID: "unscreened", Words: "From a table: nobody has asked yet", Status: Ask, check: (*assessment).unscreened},
	{ID: "old_high_pressure", Words: "Pressure 160 or 100 and over on an earlier day", Status: Ready,
		On: map[Act]Status{Teach: Ask}, check: (*assessment).oldPressure},
	{ID: "pain_unknown", Words: "Pain today not asked", Status: Ready, On: map[Act]Status{Teach: Ask}, check: (*assessment).painUnknown},
	{
		ID:     "never_asked",
		Words:  "Warning signs never asked",
		Status: Gentle,
		On:     map[Act]Status{Teach: Ask},
		check:  (*assessment).neverAsked,
	},
	{ID: "other_condition", Words: "Another condition that nobody has agreed to", Status: Gentle, check: (*assessment).others},
	{ID: "pain_6", Words: "Pain today 6 or 7", Status: Gentle},
	{ID: "pain_8_limb", Words: "Pain today 8 or more in one limb", Status: Gentle},
	{ID: "pain_8_agreed", Words: "Pain today 8 with a clinician’s agreement", Status: Gentle},
	{ID: "marked_6_back", Words: "Pain 6 or 7 in the back, marked in the lesson", Status: Gentle},
	{ID: "marked_tingling", Words: "Tingling in a limb, marked in the lesson", Status: Gentle},
	{ID: "marked_6_limb", Words: "Pain over 5 in a limb, marked in the lesson", Status: Ready},
}

// refers takes over what refers the client: warning signs, age, conditions and readings.
func (k *assessment) refers() {
	for _, why := range k.set.Refer() {
		k.restrict(Refer, why.Rule, why.Source, why.Text)
		if id, sign := strings.CutPrefix(why.Rule, "red_flag."); sign {
			name := strings.ReplaceAll(id, "_", " ")
			if f, known := limit.FindRedFlag(id); known {
				name = f.Name
			}
			k.tellOf(why.When, name)
			continue
		}
		switch why.When {
		case limit.Now:
			k.tell("emergency", "now", fmt.Sprintf("Ring %s now: %s", k.number(), why.Text))
		case limit.SameDay:
			k.tell("doctor", "today", why.Text)
		default:
			k.tell("clinician", "before_next", why.Text)
		}
	}
}

// saidAfter looks for what was said after sessions and that nobody has looked at since.
func (k *assessment) saidAfter() {
	seen := civil.Day{}
	if k.client.Seen != nil {
		seen, _ = civil.Parse(k.client.Seen.On) // checked when it was read
	}
	for n, v := range k.past {
		if !v.On.After(seen) {
			continue
		}
		for _, id := range v.Flags {
			cleared := slices.ContainsFunc(
				k.client.FlagsCleared,
				func(c limit.FlagCleared) bool { return c.Flag == id && c.On > v.On.String() },
			)
			if cleared || slices.Contains(k.client.OpenFlags(k.day), id) {
				continue
			}
			name, when := strings.ReplaceAll(id, "_", " "), limit.SameDay
			if f, known := limit.FindRedFlag(id); known {
				name, when = f.Name, f.When
			}
			k.restrict(
				Refer,
				"after."+id,
				ownSource,
				fmt.Sprintf("Warning sign after the session of %s: %s. No session is planned.", v.On, name),
			)
			k.tellOf(when, name)
		}
		if v.Refers != "" && n == len(k.past)-1 {
			k.restrict(Refer, "after.symptoms", ownSource, v.Refers)
			k.tell("clinician", "before_next", v.Refers)
		}
	}
}

// painToday weighs the pain of the day.
func (k *assessment) painToday() {
	h := k.hurts
	if !k.known {
		return
	}
	agreed := k.client.UsualAgreed != nil && h.score <= agreedPain
	parts := len(h.parts) == 1 && k.limb(h.parts[0].Where)
	switch {
	case h.score >= stopPain && !agreed && !parts:
		where := "and nobody knows where"
		if len(h.parts) > 0 {
			where = "in the " + wordsOf(h.parts)
		}
		k.restrict(Stop, "pain.stop", painSource, fmt.Sprintf("Pain is %d of 10 today %s: no session today.", h.score, where))
		k.tell("clinician", "before_next", fmt.Sprintf("The clinician hears of pain %d of 10 before the next session.", h.score))
		k.instead("Rest in the easiest position, walk a little if it helps, and move the session to another day.")
	case h.score >= gentlePain:
		k.restrict(Gentle, "pain.gentle", painSource, fmt.Sprintf("Pain is %d of 10 today: only gentle work, little and quiet.", h.score))
		k.tell("clinician", "soon", fmt.Sprintf("Pain is %d of 10: the clinician should hear of it.", h.score))
	}
	if h.score >= stopPain && parts {
		k.bar(h.parts[0])
		k.out.Because[len(k.out.Because)-1].Text = fmt.Sprintf(
			"Pain is %d of 10 in the %s today: nothing loads it, and the rest is gentle.",
			h.score,
			wordsOf(h.parts),
		)
	}
	signs := []string{}
	if t := k.client.Today; t != nil {
		for _, s := range t.New {
			if slices.Contains(limit.NewSigns, s) {
				signs = append(signs, newWords[s])
			}
		}
	}
	if len(signs) == 0 {
		return
	}
	question := fmt.Sprintf("New today: %s. Has somebody who may judge it looked at it?", strings.Join(signs, ", "))
	k.asks("today.new", strings.Join(k.client.Today.New, ", "), question)
	if h.score >= gentlePain {
		k.restrict(Ask, "pain.new_with_signs", ownSource,
			fmt.Sprintf("Pain is %d of 10, with %s that is new: ask a clinician before a session.", h.score, strings.Join(signs, ", ")))
		k.tell("clinician", "today", question)
	}
}

// newWords say what is new on a day.
var newWords = map[string]string{"blow": "a fall or blow", "night": "pain at night", "limb_pain": "pain down a limb",
	"numbness": "numbness", "tingling": "tingling", "weakness": "weakness"}

func wordsOf(parts []Part) string {
	var out []string
	for _, p := range parts {
		out = append(out, p.Words())
	}
	return strings.Join(out, " and the ")
}

// faint looks at pressure and pulse of the day.
func (k *assessment) faint() {
	p, taken := limit.ReadPressure(k.client.RestingPressure)
	dizzy := k.client.Has("dizziness_or_medication") || k.client.Today != nil && k.client.Today.Dizzy
	today := k.client.RestingPressureOn == "" || k.client.RestingPressureOn == k.day.String()
	if taken && today && dizzy && (p.Upper < lowUpper || p.Lower < lowLower) {
		k.restrict(Stop, "pressure.low", ownSource, fmt.Sprintf("The pressure is %s, with dizziness: no session today.", p))
		k.tell("doctor", "today", fmt.Sprintf("A doctor hears today of a pressure of %s with dizziness.", p))
		k.instead("Sit or lie down, drink something, and rise slowly.")
	}
	if t := k.client.Today; t != nil && t.Pulse != nil && *t.Pulse > fastPulse {
		k.restrict(Stop, "pulse.fast", ownSource, fmt.Sprintf("The pulse at rest is %d, over %d: no session today.", *t.Pulse, fastPulse))
		k.tell("doctor", "today", fmt.Sprintf("A doctor hears today of a pulse of %d at rest.", *t.Pulse))
		k.instead("Rest, and take the pulse again; if it stays or is uneven, the doctor hears of it now.")
	}
}

const calmEnd = "End calmly: the easiest position, slow breath, up slowly with a hand on something."

// marked weighs what was marked in the lesson of the day.
func (k *assessment) marked() {
	worst := map[Part]int{}
	var parts []Part
	tingling := false
	for _, m := range k.marks {
		p := Part{m.Where, m.Side}
		switch {
		case m.Kind == "tingling":
			tingling = tingling || m.Where == "" || k.limb(m.Where)
		case m.Kind == "pain" && m.Score != nil && *m.Score >= gentlePain:
			if _, before := worst[p]; !before {
				parts = append(parts, p)
			}
			worst[p] = max(worst[p], *m.Score)
		}
	}
	worse, most := []Part{}, 0 // where it is 8 or more
	for _, p := range parts {
		rule := k.part(p.Where)
		k.bar(p)
		if most = max(most, worst[p]); worst[p] >= stopPain {
			worse = append(worse, p)
		}
		switch {
		case rule != nil && rule.Kind == Alarm:
			k.restrict(
				Stop,
				"mark.alarm",
				ownSource,
				fmt.Sprintf("Pain %d of 10 in the %s, marked in the lesson: the lesson ends.", worst[p], p.Words()),
			)
			k.instead(calmEnd)
			k.tell(
				"emergency",
				"now",
				fmt.Sprintf("Pain in the %s that does not pass at rest at once: ring %s now.", p.Words(), k.number()),
			)
		case rule == nil || rule.Kind == Back:
			where := "where nobody said"
			if rule != nil {
				where = "in the " + p.Words()
			}
			k.restrict(
				Gentle,
				"mark.back",
				painSource,
				fmt.Sprintf("Pain %d of 10 %s, marked in the lesson: what is left is gentle.", worst[p], where),
			)
		default:
			k.out.Because = append(k.out.Because, Reason{
				"mark.limb",
				fmt.Sprintf(
					"Pain %d of 10 in the %s, marked in the lesson: nothing loads it any more today.",
					worst[p],
					p.Words(),
				),
				painSource,
			})
		}
	}
	if len(worse) > 1 || len(worse) == 1 && !k.limb(worse[0].Where) {
		k.restrict(Stop, "mark.stop", painSource, fmt.Sprintf("Pain %d of 10, marked in the lesson: it ends here.", most))
		k.instead(calmEnd)
	}
	if most > 0 {
		k.tell("clinician", "soon", fmt.Sprintf("Pain was %d of 10 in the lesson: the clinician should hear of it.", most))
	}
	if tingling {
		k.restrict(Gentle, "mark.tingling", ownSource, "Tingling, marked in the lesson: what is left is gentle.")
	}
}

// contradictions are answers that cannot all be right.
func (k *assessment) contradictions() {
	ask := func(field, found, question string) {
		k.restrict(Ask, "contradiction."+field, ownSource, question)
		k.asks(field, found, question)
	}
	c := k.given
	if n, w := c.Pain.Now, c.Pain.Worst24h; n != nil && w != nil && *n > *w {
		ask(
			"pain.worst_24h",
			fmt.Sprint(*w),
			fmt.Sprintf("Pain now is %d and the worst of the last day %d: which of the two is right?", *n, *w),
		)
	}
	if t, n := k.client.Today, c.Pain.Now; t != nil && t.Pain != nil && n != nil && (c.Pain.On == "" || c.Pain.On == t.On) &&
		*t.Pain != *n {
		ask(
			"today.pain",
			fmt.Sprint(*t.Pain),
			fmt.Sprintf("Pain today is given as %d and as %d: which of the two is right?", *t.Pain, *n),
		)
	}
	for _, one := range c.Conditions {
		operated, cleared := one.Word(limit.DateField), one.Word(limit.ClearedOn)
		if operated != "" && cleared != "" && cleared < operated {
			name := one.ID
			if d := k.Conditions.Condition(one.ID); d != nil {
				name = strings.ToLower(d.Name)
			}
			ask("conditions."+one.ID, cleared, fmt.Sprintf("The %s was cleared on %s, before the operation on %s: which day is right?",
				name, cleared, operated))
		}
	}
}

// unscreened asks about whoever came from a table.
func (k *assessment) unscreened() {
	if s := k.client.Screened; s != nil && !*s {
		k.restrict(
			Ask,
			"client.unscreened",
			ownSource,
			"This client came from a table: nobody has asked about warning signs, pain and what is borne.",
		)
		k.asks("screened", "false", "Go through the intake once: warning signs, pain, operations and what is borne.")
	}
}

// clearances asks about an operation long past that nobody has cleared; the limits do not wait
// for the answer.
func (k *assessment) clearances() {
	for _, one := range k.client.Conditions {
		if d := k.Conditions.Condition(one.ID); d != nil {
			if question := d.Unasked(one, k.client, k.day); question != "" {
				k.asks("conditions."+one.ID, "", question)
			}
		}
	}
}

// oldPressure asks for a high pressure to be taken again before a lesson.
func (k *assessment) oldPressure() {
	if k.act == Teach && k.given.RestingPressure != k.client.RestingPressure {
		k.restrict(Ask, "pressure.again", ownSource, fmt.Sprintf("The pressure was %s on %s: take it again before the lesson.",
			k.given.RestingPressure, k.given.RestingPressureOn))
	}
}

// painUnknown asks for the pain of the day before a lesson, and says where pain has risen.
func (k *assessment) painUnknown() {
	if k.act == Teach && !k.known {
		k.restrict(Ask, "pain.unknown", ownSource, "Nobody has asked about pain today: ask before the lesson.")
	}
	k.rising()
}

// neverAsked keeps whoever was never asked about warning signs to gentle work, and asks
// before a lesson.
func (k *assessment) neverAsked() {
	if k.client.RedFlags != nil {
		return
	}
	status := Gentle
	if k.act == Teach {
		status = Ask
	}
	const text = "Nobody has asked about warning signs yet: until then only gentle work."
	k.restrict(status, "client.never_asked", ownSource, text)
	k.asks("red_flags", "", "Has anybody asked about the warning signs? Ask all of them.")
}

// others keeps whoever has a condition that is not known here to gentle work until somebody
// has agreed.
func (k *assessment) others() {
	for i, o := range k.client.OtherConditions {
		if o.Agreed == nil && strings.TrimSpace(o.Text) != "" {
			k.restrict(Gentle, "client.other_condition", ownSource,
				fmt.Sprintf("“%s” is not known here, and nobody has agreed to exercise with it: only gentle work.", o.Text))
			k.asks(fmt.Sprintf("other_conditions[%d]", i), o.Text, fmt.Sprintf("Who has agreed to exercise with “%s”, and when?", o.Text))
			k.tell("clinician", "before_next", fmt.Sprintf("Ask whether exercise is right with “%s”.", o.Text))
		}
	}
}

// instead says what to do in place of a session, once.
func (k *assessment) instead(text string) {
	if !slices.Contains(k.out.Instead, text) {
		k.out.Instead = append(k.out.Instead, text)
	}
}
