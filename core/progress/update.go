package progress

import (
	"math"
	"slices"

	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/limit"
)

// sides puts the two sides of one exercise together: the weaker sets the rung, the stronger
// may gain dose and never the rung; the tighter gets half as much again.
func (d *decider) sides() {
	rank := map[string]int{Refer: 0, StepBack: 1, Hold: 2, StepUp: 3}
	of := d.answer.Decisions
	for i := range of {
		for j := range of {
			a, b := &of[i], &of[j]
			if i == j || a.Family != b.Family || a.Side == "" || b.Side == "" || a.Side == b.Side {
				continue
			}
			if a.Step == StepUp && a.Changed == "rung" && (rank[b.Step] < rank[StepUp] || b.Changed != "rung") {
				v := d.find(a.Variant)
				dose := *a.To.Dose
				a.Because = append(a.Because[:1:1], "The "+b.Side+" side is not there yet, and the weaker side sets the step.")
				if last := d.turns(v, a.Side); len(last) > 0 {
					dose = last[len(last)-1].planned
				}
				more, ok := more(dose, v)
				a.To = Target{a.Variant, &more, v.Settings}
				if a.Changed = "dose"; !ok {
					a.Step, a.Changed, a.WaitingFor = Hold, "", "the "+b.Side+" side"
				}
			}
			if a.Step == Hold && b.Step == StepBack && b.Changed == "rung" {
				a.Because = append(a.Because, "The "+b.Side+" side goes back a step, and the weaker side sets it.")
				a.To.Variant, a.Changed = b.To.Variant, "rung"
				a.To.Dose, a.To.Settings = b.To.Dose, b.To.Settings
				a.Step = StepBack
			}
		}
	}
	d.tighter()
}

// tighter gives the side that was tighter in the last session half as much again.
func (d *decider) tighter() {
	if len(d.records) == 0 {
		return
	}
	for _, it := range d.records[len(d.records)-1].Items {
		if it.Tighter == "" {
			continue
		}
		for i := range d.answer.Decisions {
			k := &d.answer.Decisions[i]
			if k.Variant != it.Variant || k.Side != it.Tighter || k.Step == StepBack || k.Step == Refer || k.To.Dose == nil ||
				len(k.To.Dose.BySide) > 0 {
				continue
			}
			if uneven := k.To.Dose.Uneven(it.Tighter); len(uneven.BySide) > 0 {
				k.To.Dose = &uneven
				k.Because = append(k.Because, "The "+it.Tighter+" side is tighter, so it gets half as much again.")
			}
		}
	}
}

// update brings the client up to date with what was decided.
//
//revive:disable-next-line:cyclomatic One branch for each row of the rules, in their order.
func (d *decider) update() {
	c := &d.answer.Client
	c.Rungs = slices.Clone(c.Rungs)
	families, latest := map[string]bool{}, map[string]string{}
	for _, k := range d.answer.Decisions {
		families[k.Family] = true
		latest[k.Family] = max(latest[k.Family], k.Evidence[len(k.Evidence)-1].On)
	}
	for _, r := range c.Rungs { // somebody's word stands until it has been tried
		if o := r.Overruled; o != nil && families[r.Family] && o.On >= latest[r.Family] && d.answer.Status != limit.Refer {
			delete(families, r.Family)
			d.note("%s: overruled by %s on %s: %s", r.Variant, o.By, o.On, o.Reason)
		}
	}
	c.Rungs = slices.DeleteFunc(c.Rungs, func(r limit.Rung) bool { return families[r.Family] })
	for _, k := range d.answer.Decisions {
		if k.Step == Refer || !families[k.Family] {
			continue
		}
		rung := limit.Rung{Family: k.Family, Variant: k.To.Variant, Side: k.Side, Dose: k.To.Dose, Settings: k.To.Settings}
		if i := slices.IndexFunc(
			c.Rungs,
			func(r limit.Rung) bool { return r.Family == k.Family && r.Variant == rung.Variant && r.Side != k.Side },
		); i >= 0 && k.Side != "" && sameDose(c.Rungs[i].Dose, rung.Dose) &&
			c.Rungs[i].Settings == rung.Settings {
			c.Rungs[i].Side = "" // both sides alike
			continue
		}
		c.Rungs = append(c.Rungs, rung)
	}
	d.settled()
	if n := len(d.records); n > 0 {
		last := d.records[n-1]
		now, on := last.Pain.After, last.On
		if f := last.FollowUp; f != nil && f.PainNextDay != nil {
			now = f.PainNextDay
			if day, err := civil.Parse(last.On); err == nil {
				on = day.AddDate(0, 0, 1).String()
			}
		}
		if now != nil && (c.Pain.Now == nil || c.Pain.On != "" && c.Pain.On < on) { // what was said since stands
			c.Pain.Now, c.Pain.On, c.Pain.Worst24h = now, on, nil
		}
		if c.Pain.PlannedAs = nil; d.worse {
			as := 3 // calm as sore, sore as flared: the levels of common practice
			if now != nil && *now >= 3 {
				as = max(*now, 6)
			}
			c.Pain.PlannedAs = &as
		}
		if f := last.FollowUp; f != nil && f.Kind == "pain" {
			hours := math.Min(f.HoursToSettle, 1000)
			c.Pain.SettlesHours = &hours
		}
	}
}

// settled brings back what was left out, once a later session has settled.
func (d *decider) settled() {
	c := &d.answer.Client
	c.Resting = slices.DeleteFunc(slices.Clone(c.Resting), func(r limit.Resting) bool {
		for _, s := range d.records {
			if x := d.Rules.settling(s); s.On > r.Since && x.answered && x.ok {
				d.note("A session has settled since %s: %s may come back, from its gentlest step.", r.Since, r.Variant)
				return true
			}
		}
		return false
	})
	if len(c.Resting) == 0 {
		c.Resting = nil
	}
}

func sameDose(a, b *exercise.Dose) bool {
	return a == nil && b == nil || a != nil && b != nil && a.Same(*b)
}
