package plan

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/optimize"
)

// tolerance is how far the session may be from the minutes asked, as a share,
// before the plan says so.
const tolerance = 0.03

// Best finds the session for the request. The same request always gives the
// same plan. It is the one entry to the choosing.
func Best(r Request, lib Library) Plan {
	p, _ := BestBounded(r, lib)
	return p
}

// BestBounded is Best with the proof of how good the plan is.
func BestBounded(r Request, lib Library) (Plan, optimize.Bound) { return r.from(lib).best() }

// best is the plan for a request that is answered from a library.
func (r Request) best() (Plan, optimize.Bound) {
	var bound optimize.Bound
	p := r.empty()
	if status := r.Limits.Status(); status != limit.OK {
		p.Status, p.Notes = status, append(p.Notes, r.Limits.Readiness.Texts()...)
		return p, bound
	}
	p.Notes = append(p.Notes, r.Limits.Defaults...)
	for _, k := range r.Limits.Cleared {
		p.Notes = append(p.Notes, fmt.Sprintf("Loosened for this client: %s, cleared by %s on %s.", k.Rule, k.By, k.On))
	}
	minutes, because := r.advised()
	if minutes < r.Minutes {
		p.MinutesAdvised = minutes
		p.Notes = append([]string{r.adviceNote(minutes, because)}, p.Notes...)
	}
	target := minutes * 60
	bound = p.fillEither(r, target)
	p.Missed = bound.Gap()
	p.Notes = append(p.Notes, r.frameNotes(p.Items)...)
	p.Notes = append(p.Notes, r.endNotes(p.Items)...)
	p.LeftOut = leftOut(r, p.Items)
	p.Notes = append(p.Notes, r.lost(p)...)
	p.Notes = append(p.Notes, r.seatNotes(p, target)...)
	if len(p.Items) < fewItems && len(r.Fixed)+len(r.Done) == 0 {
		if len(p.Items) == 1 {
			p.Notes = append(p.Notes, fmt.Sprintf("Only %s is left, and one exercise is no session.", lower(p.Items[0].Name)))
		}
		p.Items = []Item{}
		p.retimeFrom(r, standingPosition)
		p.Unserved, _ = r.goals(p)
		p.fallsShort(r, target)
		p.Status = Infeasible
		p.Notes = append(p.Notes, r.advice()...)
		return p, bound
	}
	unserved, notes := r.goals(p)
	p.Unserved, p.Notes = unserved, append(p.Notes, notes...)
	p.fallsShort(r, target)
	if miss := p.SecondsTotal - float64(target); math.Abs(miss) > tolerance*float64(target) {
		p.Notes = append(p.Notes, r.shortNote(p, target, p.Shortfall))
	}
	if words := p.countedWords(); words != "" {
		p.Notes = append(p.Notes, words)
	}
	return p, bound
}

// empty is a plan for the request with nothing in it yet.
func (r Request) empty() Plan {
	p := Plan{
		Format:        "restbend.plan/1",
		Status:        Ready,
		Place:         r.Place,
		Approach:      r.Approach,
		MinutesAsked:  r.Minutes,
		Items:         []Item{},
		Unserved:      []Unserved{},
		LeftOut:       []LeftOut{},
		Notes:         []string{},
		Library:       r.lib.Hash,
		Breath:        r.Client.BreathSeconds(),
		StandingFirst: r.StandingFirst,
		Home:          r.Home,
		Focus:         r.Focus,
		Slow:          r.Limits.Slow,
	}
	if r.Client.Pain.Now != nil {
		p.PainNow = *r.Client.Pain.Now
	}
	day := r.Limits.Readiness
	p.Readiness = &day
	return p
}

// fallsShort says what the plan lacks, and where more would suit.
func (p *Plan) fallsShort(r Request, target int) {
	if p.Shortfall = r.short(*p, target); p.Shortfall != nil {
		p.Shortfall.Places = r.elsewhere(*p, target)
	}
}

// seatRounds is how often a session with seats is planned again for the minutes that they leave.
const seatRounds = 3

// fillEither fills the plan to so many seconds, with seats between stretches on two feet
// where the client bears only so long and the minutes do not come out without.
func (p *Plan) fillEither(r Request, target int) optimize.Bound {
	miss := func(p Plan) float64 { // too long is worse than too short
		if p.SecondsTotal > (1+tolerance)*float64(target) {
			return p.SecondsTotal
		}
		return math.Abs(p.SecondsTotal - float64(target))
	}
	r.seated = false
	bound := p.fillWide(r, target)
	if p.fits(target) || !r.maySit() {
		return bound
	}
	r.seated = true
	seats := 1
	for next, round := *p, 0; round < seatRounds && !p.fits(target); round++ {
		b := next.fillWide(r, target-seats*r.seatCost())
		if miss(next) < miss(*p) {
			*p, bound = next, b
		}
		seats = max(1, next.Seats())
	}
	return bound
}

// fits says whether the session takes so many seconds, near enough.
func (p Plan) fits(target int) bool {
	return math.Abs(p.SecondsTotal-float64(target)) <= tolerance*float64(target)
}

// fillWide fills the plan to so many seconds: with one rung of each family, or where that
// does not do with several.
func (p *Plan) fillWide(r Request, target int) optimize.Bound {
	bound := p.fill(r, r.candidates(false), target)
	if !p.fits(target) {
		bound = p.fill(r, r.candidates(true), target)
	}
	return bound
}

func minutesWords(seconds float64) string {
	m := int(seconds) / 60
	return fmt.Sprintf("%d min %d s", m, int(math.Round(seconds))-60*m)
}

// fill fills the plan to so many seconds from the candidates. Where the minutes would buy
// more than is safe, it is chosen again with a higher price on that, so that the proof is
// one for the plan that is given.
func (p *Plan) fill(r Request, cs []candidate, target int) optimize.Bound {
	for r.bar = overCap; ; r.bar *= dearer {
		p.Items = []Item{}
		f := r.newFrame(target)
		problem := r.problem(cs, f)
		chosen, bound := problem.Best(usual)
		for _, c := range chosen {
			k := cs[c.Candidate]
			it := r.item(k.variant, k.judged, k.phase, k.doses[c.Option].dose)
			it.Locked = k.must
			p.Items = append(p.Items, it)
		}
		p.Items = arranged(p.Items)
		p.retimeFrom(r, f.from)
		p.reordered(r, f, target)
		p.takeSeats(r, f.from)
		if over, _ := p.over(r); over == nil && !r.overStands(*p) || r.bar >= dearest {
			p.trim(r) // only what is locked can be too much by then
			return bound
		}
	}
}

// lost says which exercises could not stay, and why: locked ones, and those taken
// over from elsewhere that are not for this client or place.
func (r Request) lost(p Plan) []string {
	var out []string
	for n, it := range slices.Concat(r.Fixed, r.Kept) {
		if slices.ContainsFunc(p.Items, func(k Item) bool { return k.Variant == it.Variant }) {
			continue
		}
		why, was := "the minutes do not hold it", "was locked and"
		if n >= len(r.Fixed) {
			why, was = "", "was to be kept but"
		}
		if v := r.find(it.Variant); v == nil {
			why = "it is no longer in the library"
		} else if !r.available(v) {
			why = "it " + r.unavailable(v)
		} else if j := r.judge(v); j.Verdict == exercise.Avoid {
			why = j.Reasons[0].Text
		} else if !r.bears(it.Phase) {
			why = "pain today leaves only quiet breath and easy movement"
		} else if len(r.options(candidate{variant: v, judged: j, phase: it.Phase})) == 0 {
			why = "no dose of it is inside the limits"
		}
		if why != "" {
			out = append(out, fmt.Sprintf("%s %s could not stay: %s", it.Name, was, strings.TrimSuffix(why, ".")+"."))
		}
	}
	return out
}

// item writes out one exercise of the session.
func (r Request) item(v *exercise.Variant, j limit.Judgement, phase exercise.Phase, d exercise.Dose) Item {
	it := Item{
		Variant:     v.ID,
		Family:      v.Family,
		Name:        v.Name,
		Phase:       phase,
		Position:    v.Position,
		EndPosition: v.EndPosition,
		Sides:       r.sides(v),
		SideMeans:   v.SideMeans,
		Dose:        d,
		Adaptations: []exercise.Adaptation{},
		Verdict:     j.Verdict,
		OnlySide:    r.onlySide(v),
		Quantities:  j.Measured().For(r.Limits.HeightCM, r.Limits.MassKG),
		Demand:      tenth(j.Form.Measured.Demand()),
		Purposes:    v.Purposes,
		Because:     r.because(v, phase),
		SetUp:       v.SetUp,
		Cues:        r.cues(v, j.Form),
		BreathCue:   v.BreathCue,
		Faults:      v.Faults,
		Stop:        v.Stop,
	}
	it.Adaptations = append(it.Adaptations, j.Form.Adaptations...)
	it.Settings, it.SurfaceShare, it.Uses = j.Settings, j.Share, r.uses(v)
	if to, m, ok := r.decidedSettings(v, j); ok {
		it.set(to, m, r)
	}
	if j.Verdict == exercise.Adapt {
		it.Reasons = j.Reasons
	}
	for _, s := range j.Form.Movement.Steps {
		it.Steps = append(it.Steps, Step{s.Seconds, s.Breath})
		if d.StaySeconds > 0 && s.To == j.Form.Movement.HoldsAt {
			it.Steps = append(it.Steps, Step{d.StaySeconds, "free"})
		}
	}
	return it
}

// AsDone is a variant as it was done earlier in a session, at the settings that were
// kept of it, where they were: so many repetitions in
// all, where they were counted, else its usual dose.
func (r Request) AsDone(v *exercise.Variant, repetitions int, s exercise.Settings) Item {
	d := r.usual(v)
	if repetitions > 0 && (d.Kind == exercise.Repetitions || d.Kind == exercise.Circles || d.Kind == exercise.HoldSeconds) {
		d.Sets, d.RepetitionsBySet, d.Repetitions = 1, nil, repetitions
	}
	it := r.item(v, r.judge(v), v.Phases[0], d)
	if s != (exercise.Settings{}) {
		it.Settings, it.SurfaceShare = s, s.SurfaceCM/r.Limits.HeightCM
	}
	return it
}

// uses are the things the variant is done with, of those that are at hand.
func (r Request) uses(v *exercise.Variant) (out []string) {
	out = slices.Clone(v.Equipment)
	kit := slices.Concat(r.kit(), r.Place.OwnEquipment(), []string{"wall"})
	defer func() { // at home, what stands in for it is named
		for i, e := range out {
			if !slices.Contains(r.Client.Equipment, e) && !slices.Contains(r.Place.OwnEquipment(), e) && r.Home &&
				len(r.lib.StandIns[e]) > 0 {
				out[i] = r.lib.StandIns[e][0]
			}
		}
	}()
	for _, oneOf := range v.EquipmentOneOf {
		if i := slices.IndexFunc(oneOf, func(e string) bool { return slices.Contains(kit, e) }); i >= 0 &&
			!slices.Contains(out, oneOf[i]) {
			out = append(out, oneOf[i])
		}
	}
	return out
}

// because says why the variant is here: "goal: …", "need: …" or "phase: …",
// each with an id of the vocabulary.
func (r Request) because(v *exercise.Variant, phase exercise.Phase) []string {
	out := []string{}
	if r.Focus != "" && slices.Contains(v.Purposes, r.Focus) {
		out = append(out, "focus: "+string(r.Focus))
	}
	for _, p := range v.Purposes {
		if p != r.Focus && slices.Contains(r.Client.Goals, p) {
			out = append(out, "goal: "+string(p))
		}
	}
	for _, p := range v.Purposes {
		for _, n := range r.Limits.Needs {
			if line := "need: " + string(p); n.Purpose == p && p != r.Focus && !slices.Contains(out, "goal: "+string(p)) &&
				!slices.Contains(out, line) {
				out = append(out, line)
			}
		}
	}
	if len(out) == 0 {
		out = append(out, "phase: "+string(phase))
	}
	return out
}

// leftOut lists what fits the place and the equipment but not the client.
func leftOut(r Request, items []Item) []LeftOut {
	out := []LeftOut{}
	for _, v := range r.lib.Variants {
		if !r.available(v) {
			continue
		}
		j := r.judge(v)
		if j.Verdict != exercise.Avoid {
			continue
		}
		out = append(out, LeftOut{v.ID, v.Name, j.Verdict, j.Reasons, r.instead(v, items)})
	}
	return out
}

// instead names what does the job of a barred variant here: one of its own
// swaps, best one that is in the plan, else a rung of its family or any variant that keeps
// its first purpose.
func (r Request) instead(v *exercise.Variant, items []Item) string {
	in := func(id string) bool { return slices.ContainsFunc(items, func(i Item) bool { return i.Variant == id }) }
	fits := func(w *exercise.Variant) bool {
		return w != nil && w != v && r.available(w) && r.judge(w).Verdict != exercise.Avoid
	}
	for _, wantIn := range []bool{true, false} {
		for _, id := range v.Swaps {
			if w := r.find(id); fits(w) && in(id) == wantIn {
				return id
			}
		}
	}
	for _, own := range []bool{true, false} { // a rung of its own family first
		for _, w := range r.lib.Variants {
			if fits(w) && (w.Family == v.Family || !own) && slices.Contains(w.Purposes, v.Purposes[0]) {
				return w.ID
			}
		}
	}
	return ""
}

// Instead names what does the job of a variant for the request, best one of items;
// empty when nothing does.
func Instead(r Request, lib Library, v *exercise.Variant, items []Item) string {
	r = r.from(lib)
	return r.instead(v, items)
}

// advice says what to change when nothing fits.
func (r Request) advice() []string {
	var out []string
	for _, place := range exercise.Places {
		q := r
		q.Place = place
		if n := len(q.candidates(true)); n > 0 && place != r.Place {
			out = append(out, fmt.Sprintf("%d exercises would be safe %s.", n, place.Words()))
		}
	}
	if len(out) == 0 {
		out = append(out,
			"Nothing in the library is inside this client's limits; please ask the clinician which of them may be loosened.",
		)
	}
	return append([]string{fmt.Sprintf("Nothing safe fits %s with the equipment at hand.", r.Place.Words())}, out...)
}
