package plan

import (
	"slices"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// oneRungEach keeps one variant of a family in each phase and position: the
// recorded one, or the easiest. For a goal that none of these serves, the easiest
// that does comes back, unless it is too far up its ladder to begin with.
func (r Request) oneRungEach(all []candidate) []candidate {
	type place struct {
		family string
		phase  exercise.Phase
		pos    exercise.Position
	}
	best, starts := map[place]int{}, r.starts(all)
	for i, c := range all {
		k := place{c.variant.Family, c.phase, c.variant.Position}
		j, taken := best[k]
		if !taken || r.better(c, all[j], starts) {
			best[k] = i
		}
	}
	var out []candidate
	for i, c := range all {
		if best[place{c.variant.Family, c.phase, c.variant.Position}] == i {
			out = append(out, c)
		}
	}
	for _, p := range exercise.Purposes {
		serves := func(c candidate) bool { return slices.Contains(c.variant.Purposes, p) }
		if r.weight(p) < goalWeight || slices.ContainsFunc(out, serves) {
			continue
		}
		easiest := -1
		for i, c := range all {
			if serves(c) && r.lib.depth(c.variant) <= farUp && (easiest < 0 || r.better(c, all[easiest], starts)) {
				easiest = i
			}
		}
		if easiest >= 0 {
			out = append(out, all[easiest])
		}
	}
	return out
}

// farUp is how many rungs may lie below one that a client begins with for a goal.
const farUp = 1

// passedOver says whether a rung gives way to the one its family has reached: the
// client works there, by the record or else as in the last session. On a sore day
// it is a step below the record, and nothing new but the first way in the direction
// that eases the back.
func (r Request) passedOver(c candidate, all []candidate) bool {
	calm := r.Limits.Irritability == limit.Calm
	if c.must || calm && r.recorded(c.variant) {
		return false
	}
	depth := r.lib.depth(c.variant)
	recent := r.recent(c.variant)
	eases := depth <= 1 && r.Limits.Irritability < limit.Flared && r.eases(c.judged.Form.Measured) > 0
	for _, k := range all {
		switch {
		case k.variant.Family != c.variant.Family:
		case r.recorded(k.variant):
			if calm || depth >= max(1, r.lib.depth(k.variant)) {
				return true
			}
		case k.variant.Position != c.variant.Position: // another branch of the ladder
		case !recent && r.recent(k.variant), !calm && !recent && !eases && r.lib.depth(k.variant) < depth:
			return true
		}
	}
	return false
}

// beyond says whether an exercise lies further up its ladder than the rung on record.
func (r Request) beyond(c candidate) bool {
	return !c.must && !quietPhase(c.phase) && slices.ContainsFunc(r.Client.Rungs, func(k limit.Rung) bool {
		v := r.find(k.Variant)
		return v != nil && v.Family == c.variant.Family && r.lib.depth(v) < r.lib.depth(c.variant) && !r.recorded(c.variant)
	})
}

func (r Request) recent(v *exercise.Variant) bool { return slices.Contains(r.History.Recent, v.ID) }

// better prefers the rung on record, then the one nearest to where measures say to begin,
// then the one its ladder comes to first; a sore
// day has no eye for the record.
func (r Request) better(a, b candidate, starts map[string]int) bool {
	if a.must != b.must {
		return a.must
	}
	if r.Limits.Irritability == limit.Calm {
		if x, y := r.recorded(a.variant), r.recorded(b.variant); x != y {
			return x
		}
	}
	if x, y := r.off(a, starts), r.off(b, starts); x != y && a.variant.Family == b.variant.Family {
		return x < y
	}
	if x, y := r.lib.depth(a.variant), r.lib.depth(b.variant); x != y {
		return x < y
	}
	return a.judged.Form.Measured.Demand() < b.judged.Form.Measured.Demand()
}

// onRecord says whether any rung of a family is on the client's record.
func (r Request) onRecord(family string) bool {
	return slices.ContainsFunc(r.Client.Rungs, func(k limit.Rung) bool { return k.Family == family })
}

func (r Request) recorded(v *exercise.Variant) bool {
	return slices.ContainsFunc(r.Client.Rungs, func(k limit.Rung) bool { return k.Variant == v.ID })
}
