package progress

import (
	"slices"

	"restbend/core/lesson"
	"restbend/core/limit"
)

// What the sessions say as wholes: what refers, and whether anything may step up.

func (d *decider) refer(rule string) {
	d.answer.Status = limit.Refer
	d.note("%s Stop, and refer: the clinician’s word comes before the next session.", d.Rules[rule].says())
}

// session looks at the sessions as wholes: what refers, and whether anything may step up.
func (d *decider) session() {
	if d.Limits.Status() == limit.Refer {
		d.refer("red_flag")
	}
	var last *lesson.Record
	if n := len(d.records); n > 0 {
		last = &d.records[n-1]
	}
	if last == nil {
		d.note("There is no record to decide from: the first steps stand.")
		return
	}
	d.refers()
	s := d.Rules.settling(*last)
	worst, _ := pain(*last)
	switch {
	case !s.answered:
		d.quiet, d.why = true, "how the last session settled"
	case d.Limits.Irritability > limit.Calm:
		d.quiet, d.why = true, "a calm day: it is irritable, so nothing steps up"
	case !s.ok && !d.leaves(*last):
		d.quiet, d.why = true, "a session that settles as it ordinarily does"
	case worst >= d.Rules["hurt"].Pain && !d.leaves(*last) || slices.ContainsFunc(last.Items, func(x lesson.Done) bool {
		return x.Ended == "pain" || x.Pain != nil && x.Pain.Score >= d.Rules["hurt"].Pain
	}):
		d.quiet, d.why = true, "a session in which nothing hurts"
	}
	if s.hours > d.Rules["left_out"].Hours || worst > d.Rules["left_out"].Pain {
		d.worse = true
		d.note("The next session is planned one pain level worse, and the clinician asked.")
	}
	if !s.answered {
		d.note("Nobody has asked yet how the session of %s settled: until it is answered nothing steps up.", last.On)
	}
	if d.leaves(*last) {
		d.note("%s", d.Rules["leaving"].says())
	}
}

// refers looks for what sends the client on. What a clinician has looked at since does not
// count again.
//
//revive:disable-next-line:cyclomatic One branch for each row of the rules, in their order.
func (d *decider) refers() {
	open := d.records
	if seen := d.client.Seen; seen != nil {
		open = slices.DeleteFunc(slices.Clone(open), func(r lesson.Record) bool { return r.On <= seen.On })
	}
	if len(open) == 0 {
		return
	}
	last := &open[len(open)-1]
	for _, r := range open {
		if f := r.FollowUp; f != nil && len(f.RedFlags) > 0 {
			d.refer("red_flag")
			for _, flag := range f.RedFlags {
				if !slices.Contains(d.answer.Client.RedFlags, flag) {
					d.answer.Client.RedFlags = append(slices.Clone(d.answer.Client.RedFlags), flag)
				}
			}
		}
	}
	if f := last.FollowUp; f != nil {
		if f.Spread && f.HoursToSettle > d.Rules["spread"].Hours {
			d.refer("spread")
		}
		for _, s := range f.Symptoms {
			switch {
			case (s.Change == "down" || s.Change == "new" && leg(s.Where)) && f.HoursToSettle > d.Rules["spread"].Hours:
				d.refer("spread")
			case s.Change == "stays" && (s.Kind == "tingling" || s.Kind == "numbness"):
				d.refer("stays")
			}
			if s.Where == "upper_back" && s.Kind == "pain" && s.Change == "new" && d.brokenVertebra() {
				if p, _ := pain(*last); p > d.Rules["mid_back"].Pain ||
					f.PainNextDay != nil && *f.PainNextDay > d.Rules["mid_back"].Pain {
					d.refer("mid_back")
				}
			}
		}
	}
	for _, it := range last.Items {
		if it.Pain != nil && it.Pain.Where == "upper_back" && it.Pain.Score > d.Rules["mid_back"].Pain && d.brokenVertebra() {
			d.refer("mid_back")
		}
	}
	var pains []int
	for _, r := range open {
		if p, ok := pain(r); ok {
			pains = append(pains, p)
		}
	}
	if rule, n := d.Rules["again"], len(pains); n >= rule.Sessions &&
		!slices.ContainsFunc(pains[n-rule.Sessions:], func(p int) bool { return p <= rule.Pain }) {
		d.refer("again")
	}
	if rule, n := d.Rules["rising"], len(pains); n >= rule.Sessions {
		rising := pains[n-1] >= rule.Pain
		for i := n - rule.Sessions + 1; i < n; i++ {
			rising = rising && pains[i] > pains[i-1]
		}
		if rising {
			d.refer("rising")
		}
	}
}

func leg(where string) bool {
	return slices.Contains([]string{"seat", "thigh", "knee", "calf", "foot"}, where)
}

func (d *decider) brokenVertebra() bool {
	for _, k := range d.client.Conditions {
		if yes, said := k.Yes("vertebral_fracture"); said && yes {
			return true
		}
	}
	return false
}

// leaves says whether symptoms left the limb after a session, and nothing moved down it;
// that outweighs pain up to the rule's figure on the same day.
func (d *decider) leaves(r lesson.Record) bool {
	if r.FollowUp == nil {
		return false
	}
	leaving := false
	for _, s := range r.FollowUp.Symptoms {
		switch s.Change {
		case "leaving", "gone":
			leaving = true
		case "down", "new":
			return false
		}
	}
	p, _ := pain(r)
	return leaving && p <= d.Rules["leaving"].Pain && !r.FollowUp.Spread
}

// movedDown says whether symptoms moved down a limb after a session.
func movedDown(r lesson.Record) bool {
	return r.FollowUp != nil &&
		(r.FollowUp.Spread || slices.ContainsFunc(r.FollowUp.Symptoms, func(s lesson.Symptom) bool { return s.Change == "down" }))
}
