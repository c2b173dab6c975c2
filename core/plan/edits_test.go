package plan_test

import (
	"math"
	"slices"
	"testing"

	"pgregory.net/rapid"

	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/plan/edit"
)

// sound fails when a plan breaks a limit, does not add up, holds what is not at hand
// or goes over a cap of the whole session that it was inside of before. A seat that was sat
// through stays in the plan as an exercise that was done.
func sound(t *rapid.T, p plan.Plan, r plan.Request, sat map[string]bool, before map[string]float64, after string) {
	sum := 0.0
	for _, it := range p.Items {
		v := lib.Variant(it.Variant)
		if broken := r.Limits.Breaks(v.FormAt(it.SurfaceShare, it.Adaptations).Measured.On(alone(it))); len(broken) > 0 {
			t.Fatalf("after %s: %s breaks %s", after, it.Variant, broken[0].Rule)
		}
		it.Seat = it.Seat || sat[it.Variant]
		if !offered(r, v, it) {
			t.Fatalf("after %s: %s is not at hand", after, it.Variant)
		}
		if len(it.Dose.SetSizes()) == 0 || it.SecondsWork <= 0 {
			t.Fatalf("after %s: %s has no dose", after, it.Variant)
		}
		sum += it.Seconds()
	}
	if math.Abs(sum-p.SecondsTotal) > 0.2 {
		t.Fatalf("after %s: total %g, items sum to %g", after, p.SecondsTotal, sum)
	}
	use := p.Use(planLib)
	for _, k := range r.Limits.Session() {
		if use[k.Count] > math.Max(k.Max, before[k.Count])+1e-6 {
			t.Fatalf("after %s: %s", after, plan.CountWords(k.Count, use[k.Count]))
		}
	}
}

// TestSafetyNoChangeByHandMakesAPlanUnsound makes random changes to random clients' plans:
// each is either refused, and the plan as it was, or leaves a sound plan.
func TestSafetyNoChangeByHandMakesAPlanUnsound(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		place := rapid.SampledFrom(exercise.Places).Draw(t, "place")
		r := request(clients(t), place, rapid.IntRange(10, 40).Draw(t, "minutes"))
		p := plan.Best(r, planLib)
		if p.Status != plan.Ready {
			return
		}
		sat := map[string]bool{}
		for range rapid.IntRange(1, 6).Draw(t, "changes") {
			was, use := p, p.Use(planLib)
			was.Items = slices.Clone(p.Items)
			i := rapid.IntRange(-1, len(p.Items)).Draw(t, "item")
			id := rapid.SampledFrom(lib.Variants).Draw(t, "variant").ID
			kind := rapid.SampledFrom([]string{"swap", "add", "remove", "move", "dose", "lock", "fit", "continue"}).Draw(t, "kind")
			var err error
			switch kind {
			case "swap":
				err = edit.Swap(&p, r, planLib, i, id)
			case "add":
				_, err = edit.Add(&p, r, planLib, id)
			case "remove":
				err = edit.Remove(&p, r, planLib, i)
			case "move":
				err = edit.Move(&p, r, planLib, i, rapid.IntRange(0, len(p.Items)).Draw(t, "to"))
			case "dose":
				doses := edit.Doses(p, r, planLib, i)
				if len(doses) == 0 {
					continue
				}
				err = edit.SetDose(&p, r, planLib, i, rapid.SampledFrom(doses).Draw(t, "dose").Words(len(p.Items[i].Sides) > 0))
			case "lock":
				err = edit.Lock(&p, i, true)
			case "fit":
				edit.Fit(&p, r, planLib)
				if p.Status != plan.Ready {
					return
				}
			case "continue":
				for _, it := range p.Items {
					sat[it.Variant] = sat[it.Variant] || it.Seat
				}
				var next plan.Plan
				if next, err = edit.Continue(p, r, planLib, max(0, i), rapid.IntRange(3, 20).Draw(t, "left")); err == nil {
					p = next
				}
			}
			if err != nil &&
				!slices.EqualFunc(
					was.Items,
					p.Items,
					func(a, b plan.Item) bool { return a.Variant == b.Variant && a.Seconds() == b.Seconds() },
				) {
				t.Fatalf("%s was refused (%v) and the plan changed all the same", kind, err)
			}
			if len(p.Items) == 0 {
				return
			}
			sound(t, p, r, sat, use, kind)
		}
	})
}

// TestDosesAreAmongWhatIsOffered: what the planner chose can be chosen by hand, and
// the offers rise in length.
func TestDosesAreAmongWhatIsOffered(t *testing.T) {
	for _, place := range []exercise.Place{"mat", "chair", "bed", "standing"} {
		c := limit.Client{Equipment: []string{"mat", "chair", "bed"}, Goals: []exercise.Purpose{"balance", "deep_core"}}
		r := request(c, place, 30)
		p := plan.Best(r, planLib)
		for i, it := range p.Items {
			doses := edit.Doses(p, r, planLib, i)
			if !slices.ContainsFunc(doses, func(d exercise.Dose) bool { return d.Words(true) == it.Dose.Words(true) }) {
				t.Errorf("%s: %s is not offered", it.Variant, it.Dose.Words(true))
			}
			for k := 1; k < len(doses); k++ {
				if doses[k].Work(len(it.Sides), 5) < doses[k-1].Work(len(it.Sides), 5)-1e-9 {
					t.Errorf("%s: %s before %s", it.Variant, doses[k-1].Words(true), doses[k].Words(true))
				}
			}
		}
	}
}
