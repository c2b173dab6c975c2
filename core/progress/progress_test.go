package progress_test

import (
	"encoding/json"
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/progress"
	"restbend/core/readiness/readinesstest"
	"restbend/library"
)

var today = civil.Date(2026, 11, 25)

func world(t require.TestingT, c limit.Client) progress.World {
	l, err := library.Load()
	require.NoError(t, err)
	rules, err := library.ProgressRules()
	require.NoError(t, err)
	return progress.World{
		Variants: l.Variants,
		Rules:    rules,
		Limits:   readinesstest.Limits(c, l.Days(), today),
		Kit:      limit.KitOf(c, "mat"),
	}
}

var plain = limit.Client{Format: "restbend.client/1", Place: "mat", Equipment: []string{"mat", "chair"}}

func hold(n int, seconds float64) *exercise.Dose {
	return &exercise.Dose{Kind: exercise.HoldSeconds, Sets: 1, Repetitions: n, Seconds: seconds}
}

// session is a record of the day so many days ago, with one-arm reaching on both sides.
type session struct {
	ago           int
	before, worst int
	ended         string
	reps          int
	hurt          int // pain on the right; 0 for none
	follow        *lesson.FollowUp
	variant       string
	planned       *exercise.Dose
}

func settled() *lesson.FollowUp { return &lesson.FollowUp{HoursToSettle: 2, Kind: "none"} }

func (s session) record() lesson.Record {
	on := today.AddDate(0, 0, -s.ago).String()
	if s.variant == "" {
		s.variant = "bird_dog_arm"
	}
	if s.planned == nil {
		s.planned = hold(6, 10)
	}
	if s.ended == "" {
		s.ended = "done"
	}
	if s.reps == 0 && s.ended == "done" {
		s.reps = s.planned.Repetitions
	}
	r := lesson.Record{
		Format:   "restbend.record/1",
		Plan:     "plan-" + on,
		On:       on,
		Pain:     lesson.Pain{Before: &s.before, During: &s.worst, After: &s.worst},
		FollowUp: s.follow,
	}
	for _, side := range []string{"left", "right"} {
		d := lesson.Done{
			Variant:     s.variant,
			Side:        side,
			Sets:        1,
			Repetitions: s.planned.Repetitions,
			Seconds:     s.planned.Seconds,
			Ended:       "done",
			Planned:     s.planned,
		}
		if side == "right" {
			d.Ended, d.Repetitions = s.ended, s.reps
			if s.hurt > 0 {
				d.Pain = &lesson.PainAt{Score: s.hurt, Where: "shoulder"}
			}
		}
		r.Items = append(r.Items, d)
	}
	return r
}

func records(of ...session) (out []lesson.Record) {
	for _, s := range of {
		out = append(out, s.record())
	}
	return out
}

// right is the decision about the right side.
func right(t *testing.T, a progress.Answer) progress.Decision {
	t.Helper()
	for _, d := range a.Decisions {
		if d.Side == "right" {
			return d
		}
	}
	require.Fail(t, "nothing decided", "%+v", a.Notes)
	return progress.Decision{}
}

// TestTheTable has a case for each row of the contract's table, judged by hand first.
func TestTheTable(t *testing.T) {
	pain := func(hours float64) *lesson.FollowUp { return &lesson.FollowUp{HoursToSettle: hours, Kind: "pain"} }
	sore := func(hours float64) *lesson.FollowUp {
		return &lesson.FollowUp{HoursToSettle: hours, Kind: "soreness"}
	}
	moved := func(change string, hours float64) *lesson.FollowUp {
		return &lesson.FollowUp{
			HoursToSettle: hours,
			Kind:          "pain",
			Symptoms:      []lesson.Symptom{{Where: "calf", Kind: "pain", Change: change}},
		}
	}
	short := hold(6, 5)
	for name, c := range map[string]struct {
		of                  []session
		step, changed, rule string
		to                  string // the exercise that follows; empty for the same
		dose                *exercise.Dose
		refers              bool
	}{
		"twice clean, the rung earned": {of: []session{{ago: 8, follow: settled()}, {ago: 4, follow: settled()}},
			step: progress.StepUp, changed: "rung", rule: "clean", to: "bird_dog_leg"},
		"twice clean, a small dose": {of: []session{{ago: 8, follow: settled(), planned: short},
			{ago: 4, follow: settled(), planned: short}}, step: progress.StepUp, changed: "dose", rule: "clean", dose: hold(6, 7)},
		"clean once":           {of: []session{{ago: 4, follow: settled()}}, step: progress.Hold, rule: "hold"},
		"nobody has asked yet": {of: []session{{ago: 8, follow: settled()}, {ago: 4}}, step: progress.Hold, rule: "hold"},
		"form broke": {of: []session{{ago: 8, follow: settled()},
			{ago: 4, ended: "form", reps: 4, follow: settled()}}, step: progress.Hold, rule: "hold", dose: hold(4, 10)},
		"left by choice": {of: []session{{ago: 8, follow: settled()},
			{ago: 4, ended: "choice", reps: 4, follow: settled()}}, step: progress.Hold, rule: "hold", dose: hold(4, 10)},
		"all of it, and then enough": {of: []session{{ago: 8, follow: settled()},
			{ago: 4, ended: "choice", reps: 6, follow: settled()}}, step: progress.StepUp, changed: "rung", rule: "clean"},
		"twice broken before half": {of: []session{{ago: 8, ended: "form", reps: 2, follow: settled()},
			{ago: 4, ended: "shaking", reps: 2, follow: settled()}}, step: progress.StepBack, changed: "dose", rule: "broke",
			dose: hold(2, 10)},
		"pain of 4 on it": {of: []session{{ago: 8, follow: settled()},
			{ago: 4, worst: 4, ended: "pain", reps: 3, hurt: 4, follow: settled()}}, step: progress.StepBack, changed: "setting",
			rule: "hurt"},
		"two more than before": {of: []session{{ago: 4, worst: 2, ended: "pain", reps: 3, hurt: 2, follow: settled()}},
			step: progress.StepBack, changed: "setting", rule: "hurt"},
		"pain that stayed for 30 hours": {of: []session{{ago: 8, follow: settled()}, {ago: 4, follow: pain(30)}},
			step: progress.StepBack, changed: "setting", rule: "unsettled"},
		"soreness of 30 hours is ordinary": {of: []session{{ago: 8, follow: settled()}, {ago: 4, follow: sore(30)}},
			step: progress.StepUp, changed: "rung", rule: "clean", to: "bird_dog_leg"},
		"soreness of 40 hours is not": {of: []session{{ago: 8, follow: settled()}, {ago: 4, follow: sore(40)}},
			step: progress.StepBack, changed: "setting", rule: "unsettled"},
		"pain of 7 on it": {of: []session{{ago: 8, follow: settled()},
			{ago: 4, worst: 7, ended: "pain", reps: 1, hurt: 7, follow: settled()}}, step: progress.StepBack, rule: "left_out"},
		"over two days to settle": {of: []session{{ago: 8, follow: settled()},
			{ago: 4, worst: 4, ended: "pain", reps: 1, hurt: 4, follow: pain(50)}}, step: progress.StepBack, rule: "left_out"},
		"spread for over a day": {of: []session{{ago: 4,
			follow: &lesson.FollowUp{HoursToSettle: 30, Kind: "pain", Spread: true}}}, step: progress.Refer, refers: true},
		"moved down for an hour": {of: []session{{ago: 4, worst: 4, ended: "pain", reps: 2, follow: moved("down", 1)}},
			step: progress.StepBack, rule: "hurt"},
		"moved down for over a day": {of: []session{{ago: 4, follow: moved("down", 30)}}, step: progress.Refer, refers: true},
		"numbness that stays": {of: []session{{ago: 4,
			follow: &lesson.FollowUp{Kind: "none", Symptoms: []lesson.Symptom{{Where: "foot", Kind: "numbness", Change: "stays"}}}}},
			step: progress.Refer, refers: true},
		"twice over 5": {of: []session{{ago: 8, worst: 6, follow: settled()},
			{ago: 4, worst: 6, follow: settled()}}, step: progress.Refer, refers: true},
		"rising over three": {of: []session{{ago: 12, worst: 2, follow: settled()},
			{ago: 8, worst: 3, follow: settled()}, {ago: 4, worst: 4, follow: settled()}}, step: progress.Refer, refers: true},
		"a warning sign": {of: []session{{ago: 4,
			follow: &lesson.FollowUp{Kind: "none", RedFlags: []string{"saddle_numbness"}}}}, step: progress.Refer, refers: true},
		"leaving the limb, pain 4 in the back": {of: []session{{ago: 4, worst: 4, ended: "pain", reps: 3, hurt: 4,
			follow: moved("leaving", 5)}}, step: progress.Hold, rule: "leaving"},
		"two weeks and more away": {of: []session{{ago: 20, follow: settled()}, {ago: 16, follow: settled()}},
			step: progress.StepBack, changed: "dose", rule: "away"},
		"six weeks and more away": {of: []session{{ago: 50, follow: settled()},
			{ago: 46, follow: settled(), variant: "bird_dog_leg"}}, step: progress.StepBack, changed: "rung", rule: "long_away"},
	} {
		t.Run(name, func(t *testing.T) {
			a, err := progress.Decide(plain, records(c.of...), world(t, plain), today)
			require.NoError(t, err)
			d := right(t, a)
			assert.Equal(t, c.step, d.Step, "%v", d.Because)
			assert.Equal(t, c.refers, a.Status == limit.Refer, "%v", a.Notes)
			if c.changed != "" {
				assert.Equal(t, c.changed, d.Changed)
			}
			if c.rule != "" {
				assert.Equal(t, []string{c.rule}, d.Rules)
			}
			if c.to != "" {
				assert.Equal(t, c.to, d.To.Variant)
			}
			if c.dose != nil {
				assert.True(t, c.dose.Same(*d.To.Dose), "%+v", d.To.Dose)
			}
			assert.NotEmpty(t, d.Because)
			if d.Step == progress.Hold {
				assert.NotEmpty(t, d.WaitingFor)
			}
		})
	}
}

func TestWhatCannotBeBelieved(t *testing.T) {
	one := session{ago: 4, follow: settled()}.record()
	other := one
	other.Items = slices.Clone(one.Items)
	other.Items[0].Ended = "form"
	late := session{ago: -2}.record()
	nothing := one
	nothing.Items = []lesson.Done{{Variant: "bird_dog_arm", Ended: "done"}}
	for field, of := range map[string][]lesson.Record{"plan": {one, other}, "on": {late}, "items[0].repetitions": {nothing}} {
		_, err := progress.Decide(plain, of, world(t, plain), today)
		var wrong *progress.Contradiction
		if assert.ErrorAs(t, err, &wrong, field) {
			assert.Equal(t, field, wrong.Field)
		}
	}
	twice, err := progress.Decide(plain, []lesson.Record{one, one}, world(t, plain), today)
	require.NoError(t, err)
	once, err := progress.Decide(plain, []lesson.Record{one}, world(t, plain), today)
	require.NoError(t, err)
	assert.Equal(t, once, twice, "the same file twice counts once")
	unknown := one
	unknown.Items = append(slices.Clone(one.Items), lesson.Done{Variant: "moon_walk", Ended: "done", Repetitions: 3})
	a, err := progress.Decide(plain, []lesson.Record{unknown}, world(t, plain), today)
	require.NoError(t, err)
	assert.Contains(t, fmt.Sprint(a.Notes), "moon_walk is not in the library")
	assert.Len(t, a.Decisions, 2)
}

func TestSidesAreDecidedApart(t *testing.T) {
	// The left is clean twice, the right broke: the weaker side sets the rung.
	a, err := progress.Decide(
		plain,
		records(session{ago: 8, follow: settled()}, session{ago: 4, ended: "form", reps: 5, follow: settled()}),
		world(t, plain),
		today,
	)
	require.NoError(t, err)
	for _, d := range a.Decisions {
		assert.Equal(t, "bird_dog_arm", d.To.Variant, d.Side)
	}
	tight := session{ago: 4, follow: settled()}.record()
	tight.Items[1].Tighter = "right"
	a, err = progress.Decide(plain, []lesson.Record{tight}, world(t, plain), today)
	require.NoError(t, err)
	assert.Equal(t, map[string]int{"left": 6, "right": 9}, right(t, a).To.Dose.BySide, "half as much again")
}

func TestLeftOutUntilSettled(t *testing.T) {
	hurt := session{ago: 8, worst: 7, ended: "pain", reps: 1, hurt: 7, follow: settled()}
	a, err := progress.Decide(plain, records(hurt), world(t, plain), today)
	require.NoError(t, err)
	require.Len(t, a.Client.Resting, 1)
	assert.Equal(t, "bird_dog_arm", a.Client.Resting[0].Variant)
	assert.Equal(t, 7, *a.Client.Pain.PlannedAs, "as bad as it was, and no better")
	assert.NotEqual(t, today.String(), a.Client.Pain.On, "which is not said to be today's")
	calm := hurt
	calm.worst, calm.hurt, calm.follow = 2, 2, &lesson.FollowUp{HoursToSettle: 60, Kind: "pain"}
	b, err := progress.Decide(plain, records(calm), world(t, plain), today)
	require.NoError(t, err)
	assert.Equal(t, 3, *b.Client.Pain.PlannedAs, "one level worse than it left")
	first := right(t, a).To.Variant
	again := a.Client
	a, err = progress.Decide(
		again,
		records(hurt, session{ago: 2, variant: first, planned: hold(4, 5), follow: settled()}),
		world(t, plain),
		today,
	)
	require.NoError(t, err)
	assert.Empty(t, a.Client.Resting, "a session has settled since")
}

// TestPropertiesOfDecisions over random histories: never up after pain or unsettled, never
// two changes at once, deciding twice gives the same, in any order, and evidence is in the
// records.
func TestPropertiesOfDecisions(t *testing.T) {
	w := world(t, plain)
	rapid.Check(t, func(t *rapid.T) {
		var of []session
		for i := range rapid.IntRange(1, 5).Draw(t, "sessions") {
			s := session{
				ago:    3 + 4*i,
				before: rapid.IntRange(0, 3).Draw(t, "before"),
				worst:  rapid.IntRange(0, 7).Draw(t, "worst"),
				ended: rapid.SampledFrom([]string{"done", "done", "done", "form", "pain", "shaking", "choice"}).Draw(t,
					"ended",
				),
				reps:    rapid.IntRange(1, 6).Draw(t, "reps"),
				planned: hold(6, rapid.SampledFrom([]float64{5, 8, 10}).Draw(t, "seconds")),
			}
			if s.ended == "done" {
				s.reps = 6
			}
			if rapid.Bool().Draw(t, "asked") {
				s.follow = &lesson.FollowUp{
					HoursToSettle: rapid.SampledFrom([]float64{0, 3, 30, 60}).Draw(t, "hours"),
					Kind:          rapid.SampledFrom([]string{"none", "soreness", "pain"}).Draw(t, "kind"),
				}
			}
			of = append(of, s)
		}
		rs := records(of...)
		a, err := progress.Decide(plain, rs, w, today)
		require.NoError(t, err)
		slices.Reverse(rs)
		b, err := progress.Decide(plain, rs, w, today)
		require.NoError(t, err)
		assert.Equal(t, a, b)
		latest := of[0]
		days := map[string]bool{}
		for _, r := range rs {
			days[r.On] = true
		}
		for _, d := range a.Decisions {
			if d.Step == progress.StepUp {
				assert.NotEqual(t, limit.Refer, a.Status)
				assert.LessOrEqual(t, latest.worst, 2, "never up after pain")
				require.NotNil(t, latest.follow, "never up before it is known how it settled")
				changes := 0
				if d.To.Variant != d.Variant {
					changes++
				} else if !d.To.Dose.Same(*latest.planned) {
					changes++
				}
				assert.LessOrEqual(t, changes, 1)
				assert.NotEmpty(t, d.Changed)
			}
			for _, e := range d.Evidence {
				assert.True(t, days[e.On], "evidence of a day that is in no record")
			}
			if d.Step != progress.Refer {
				v := slices.IndexFunc(w.Variants, func(v *exercise.Variant) bool { return v.ID == d.To.Variant })
				require.GreaterOrEqual(t, v, 0)
				assert.NotEqual(t,
					exercise.Avoid,
					limit.Judge(w.Limits.Limits, w.Variants[v], w.Kit).Verdict,
					"never to something barred",
				)
			}
		}
		out, err := json.Marshal(a)
		require.NoError(t, err)
		assert.NotContains(t, string(out), "null")
	})
}

// TestBackThenForwardNeverSkips: from a rung back, and from there forward again, leads to
// the rung it came from and no further.
func TestBackThenForwardNeverSkips(t *testing.T) {
	w := world(t, plain)
	a, err := progress.Decide(
		plain,
		records(session{ago: 20 - 8, variant: "bird_dog_leg", worst: 4, ended: "pain", reps: 2, hurt: 4, follow: settled()}),
		w,
		today,
	)
	require.NoError(t, err)
	lower := right(t, a).To
	require.Equal(t, "bird_dog_arm", lower.Variant)
	a, err = progress.Decide(
		a.Client,
		records(session{ago: 12, variant: "bird_dog_leg", worst: 4, ended: "pain", reps: 2, hurt: 4, follow: settled()},
			session{ago: 8, variant: lower.Variant, follow: settled()}, session{ago: 4, variant: lower.Variant, follow: settled()}),
		w,
		today,
	)
	require.NoError(t, err)
	assert.Equal(t, "bird_dog_leg", right(t, a).To.Variant)
}

func TestRulesAreChecked(t *testing.T) {
	for says, rows := range map[string][]progress.Rule{"is not a rule": {{ID: "joy"}}, "lacks a reason": {{ID: "clean"}},
		"stands twice": {{ID: "clean", Reason: "x", Source: "y"}, {ID: "clean", Reason: "x", Source: "y"}}, "is missing": nil} {
		_, err := progress.NewRules(rows)
		assert.ErrorContains(t, err, says)
	}
}

// TestTheClientsOwnDoseCounts where a record does not say what was planned.
func TestTheClientsOwnDoseCounts(t *testing.T) {
	c := plain
	c.Rungs = []limit.Rung{{Family: "bird_dog", Variant: "bird_dog_arm", Dose: hold(6, 5)}}
	rs := records(session{ago: 8, follow: settled(), planned: hold(6, 5)}, session{ago: 4, follow: settled(), planned: hold(6, 5)})
	for i := range rs {
		for n := range rs[i].Items {
			rs[i].Items[n].Planned = nil
		}
	}
	a, err := progress.Decide(c, rs, world(t, c), today)
	require.NoError(t, err)
	d := right(t, a)
	assert.Equal(t, []string{progress.StepUp, "dose"}, []string{d.Step, d.Changed}, "%v", d)
	assert.True(t, hold(6, 7).Same(*d.To.Dose))
	rs[1].Items[1].Skipped = true // skipped with done is skipped
	a, err = progress.Decide(c, rs, world(t, c), today)
	require.NoError(t, err)
	assert.Equal(t, progress.Hold, right(t, a).Step)
}

// TestWhatAClinicianHasSeenRefersNoMore: without it a client would be referred for ever,
// since there is no new record without a session.
func TestWhatAClinicianHasSeenRefersNoMore(t *testing.T) {
	c := plain
	rs := records(session{ago: 8, worst: 6, follow: settled()}, session{ago: 4, worst: 6, follow: settled()})
	for seen, status := range map[string]string{"": limit.Refer, "2026-11-17": limit.OK, "2026-11-21": limit.OK,
		"2026-11-10": limit.Refer} {
		if c.Seen = nil; seen != "" {
			c.Seen = &limit.SeenBy{By: "Dr A. Example", On: seen}
		}
		a, err := progress.Decide(c, rs, world(t, c), today)
		require.NoError(t, err)
		assert.Equal(t, status, a.Status, seen)
		if status == limit.OK {
			assert.NotEqual(t, progress.StepUp, right(t, a).Step)
		}
	}
}

// TestASettingIsOneNotchAndAllowed: a stronger band comes before the next rung, and not
// where the limits bar it.
func TestASettingIsOneNotchAndAllowed(t *testing.T) {
	w := world(t, plain)
	v := w.Variants[slices.IndexFunc(w.Variants, func(v *exercise.Variant) bool { return v.ID == "band_row_standing" })]
	top := v.Studio
	top.Repetitions, top.Sets, top.RepetitionsBySet = max(30, int(v.Earn.Amount)), max(1, v.Earn.Sets), nil
	var rs []lesson.Record
	for _, ago := range []int{8, 4} {
		s := session{ago: ago, follow: settled()}.record()
		s.Items = []lesson.Done{
			{Variant: v.ID, Sets: top.Sets, Repetitions: top.Repetitions, Ended: "done", Planned: &top, Settings: v.Settings},
		}
		rs = append(rs, s)
	}
	a, err := progress.Decide(plain, rs, w, today)
	require.NoError(t, err)
	require.Len(t, a.Decisions, 1)
	assert.Equal(t,
		[]string{progress.StepUp, "setting", v.ID},
		[]string{a.Decisions[0].Step, a.Decisions[0].Changed, a.Decisions[0].To.Variant},
		"%v",
		a.Decisions[0],
	)
	assert.Equal(t, "medium", a.Decisions[0].To.Settings.Band)
}
