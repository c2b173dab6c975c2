package class_test

import (
	"flag"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"restbend/core/civil"
	"restbend/core/class"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/limit/limittest"
	"restbend/core/plan"
	"restbend/core/readiness/readinesstest"
	"restbend/library"
)

// many runs the property test over far more classes: go test ./core/class -many.
var many = flag.Bool("many", false, "run property tests over many more random classes")

var today = civil.Date(2026, 11, 25)

// The tests use the real library: what is to be safe is what is shipped.
var lib, planLib = func() (*library.Library, plan.Library) {
	l, err := library.Load()
	if err != nil {
		panic(err)
	}
	return l, plan.NewLibrary(l.Variants, l.Hash, l.StandIns)
}()

// eight invented people: fragile bone, a disc, two curves, a fusion, a wrist, one who may
// fall and cannot get down, one who arches badly, and one with nothing the matter.
func eight() []limit.Client {
	kit := []string{"mat", "chair", "pillow", "towel", "band"}
	condition := func(id string) limit.Condition { return limit.Condition{ID: id} }
	no := false
	return []limit.Client{
		{
			Name:       "Odette",
			BirthYear:  1955,
			HeightCM:   161,
			MassKG:     62,
			Equipment:  kit,
			Conditions: []limit.Condition{condition("osteoporosis").With("t_score", -2.8).With("vertebral_fracture", true)},
			Goals:      []exercise.Purpose{"balance", "leg_strength", "upper_back_posture"},
		},
		{
			Name:      "Tobias",
			BirthYear: 1982,
			HeightCM:  184,
			MassKG:    86,
			Equipment: kit,
			Conditions: []limit.Condition{
				condition("disc_sciatica").With("stage", "subacute").With("side", "left").With("eases", "extension"),
			},
			Goals: []exercise.Purpose{"deep_core", "hip_hinge"},
		},
		{
			Name:      "Marguerite",
			BirthYear: 1960,
			HeightCM:  168,
			MassKG:    74,
			Equipment: kit,
			Conditions: []limit.Condition{
				condition("osteoporosis").With("t_score", -2.6).With("vertebral_fracture", false),
				condition("wrist_pain").With("side", "right"),
			},
			Goals: []exercise.Purpose{"back_extensor_endurance", "balance"},
		},
		{
			Name:      "Anselm",
			BirthYear: 1968,
			HeightCM:  176,
			MassKG:    81,
			Equipment: kit,
			Conditions: []limit.Condition{
				condition("spinal_fusion").With("levels", "L4-S1").With("months_since", 16.0).With("cleared_for_exercise", true),
			},
			Goals: []exercise.Purpose{"back_extensor_endurance", "hip_extension"},
		},
		{
			Name:       "Saffron",
			BirthYear:  1991,
			HeightCM:   170,
			MassKG:     63,
			Equipment:  kit,
			Conditions: []limit.Condition{condition("desk_stiffness")},
			Goals:      []exercise.Purpose{"deep_core", "mobility_rotation"},
		},
		{
			Name:       "Edmund",
			BirthYear:  1947,
			HeightCM:   171,
			MassKG:     68,
			Equipment:  []string{"chair", "pillow"},
			Conditions: []limit.Condition{condition("osteoporosis"), condition("falls_risk")},
			Tolerates:  limit.Tolerates{Floor: &no, Kneeling: &no},
			Goals:      []exercise.Purpose{"balance", "transfers"},
		},
		{
			Name:      "Ines",
			BirthYear: 1987,
			HeightCM:  166,
			MassKG:    60,
			Equipment: kit,
			Goals:     []exercise.Purpose{"hip_mobility", "deep_core"},
		},
		{
			Name:       "Rufus",
			BirthYear:  1972,
			HeightCM:   179,
			MassKG:     88,
			Equipment:  kit,
			Conditions: []limit.Condition{condition("extension_sensitive")},
			Goals:      []exercise.Purpose{"hip_extension", "gait"},
		},
	}
}

func request(clients []limit.Client, place exercise.Place, minutes int) class.Request {
	r := class.Request{Place: place, Minutes: minutes}
	for _, c := range clients {
		c.Place = place
		r.People = append(r.People, class.Person{Name: c.Name,
			Request: plan.Request{Client: c, Limits: readinesstest.Limits(c, lib.Days(), today), Place: place, Approach: "steady",
				Minutes: minutes}})
	}
	return r
}

func BenchmarkClass(b *testing.B) {
	for _, of := range []int{2, 4, 8, 12} {
		b.Run(string(rune('0'+of/10))+string(rune('0'+of%10)), func(b *testing.B) {
			people := append(eight(), eight()...)[:of]
			for b.Loop() {
				class.Best(request(people, "mat", 30), planLib)
			}
		})
	}
}

// holds checks a class by what it says itself: everybody has a version in every item, inside
// her own limits and the item's seconds, and no more kinds are on show than can be taught.
func holds(t require.TestingT, r class.Request, c class.Class) {
	total := 0.0
	for _, it := range c.Items {
		total += it.Seconds
		assert.LessOrEqual(t, len(it.Kinds()), class.Versions, it.Thread)
		here := 0
		for _, m := range c.People {
			if m.Status == plan.Ready {
				here++
			}
		}
		require.Len(t, it.Versions, here)
		for _, v := range it.Versions {
			limits := r.People[v.Person].Request.Limits
			form := lib.Variant(v.Variant).FormAt(v.Settings.SurfaceCM/limits.HeightCM, v.Adaptations)
			side := ""
			if len(v.Sides) == 1 {
				side = v.Sides[0]
			}
			assert.Empty(t, limits.Breaks(form.Measured.On(side)), "%s does %s", c.People[v.Person].Name, v.Name)
			assert.NotEqual(t, exercise.Avoid, v.Verdict)
			breath := r.People[v.Person].Request.Client.BreathSeconds()
			assert.LessOrEqual(t,
				v.Dose.Work(len(v.Sides), breath),
				it.Seconds,
				"%s: %s in %s",
				c.People[v.Person].Name,
				v.Dose.Words(true),
				it.Thread,
			)
		}
	}
	assert.InDelta(t, total, c.SecondsTotal, 0.01)
	assert.LessOrEqual(t, c.SecondsTotal, float64(60*r.Minutes)*1.03)
	for _, m := range c.People {
		if m.Status != plan.Ready {
			continue
		}
		assert.LessOrEqual(t, m.Share, 1.0)
		limits := r.People[m.Person].Request.Limits
		use := m.Plan.Use(planLib)
		for _, k := range limits.Session() {
			assert.LessOrEqual(t, use[k.Count], k.Max+1e-6, "%s: %s", m.Name, k.Count)
		}
	}
}

// TestAClassOfEight: all take part, she who cannot get down on a chair beside the others.
func TestAClassOfEight(t *testing.T) {
	r := request(eight(), "mat", 30)
	c := class.Best(r, planLib)
	require.Equal(t, plan.Ready, c.Status)
	holds(t, r, c)
	assert.InEpsilon(t, 1800, c.SecondsTotal, 0.05)
	for _, m := range c.People {
		assert.Greater(t, m.Share, 0.7, m.Name)
		assert.LessOrEqual(t, m.Share, 1.0)
	}
	assert.Equal(t, exercise.Place("chair"), c.People[5].Place, "Edmund cannot get down")
	for _, it := range c.Items {
		assert.False(t, it.Versions[5].Position.OnFloor(), it.Thread)
	}
	assert.Equal(t, 7, c.Equipment["mat"])
	assert.Positive(t, c.Equipment["chair"])
	assert.Equal(t, exercise.Phase("settle"), c.Items[0].Phase)
	assert.Equal(t, exercise.Phase("close"), c.Items[len(c.Items)-1].Phase)

	// The order of names does not matter.
	people := eight()
	slices.Reverse(people)
	other := class.Best(request(people, "mat", 30), planLib)
	require.Len(t, other.Items, len(c.Items))
	for i, it := range other.Items {
		assert.Equal(t, c.Items[i].Thread, it.Thread)
		assert.Equal(t, c.Items[i].Versions[0].Variant, it.Versions[7].Variant)
	}
	for i, m := range other.People {
		assert.InDelta(t, c.People[7-i].Share, m.Share, 1e-9)
	}
}

// TestSafetyAnyClassIsSafe: random people in random places.
func TestSafetyAnyClassIsSafe(t *testing.T) {
	ready, enough := 0, 12
	if *many {
		enough = 1000
	}
	rapid.Check(t, func(t *rapid.T) {
		if ready >= enough {
			return // enough of them
		}
		var people []limit.Client
		for i := range rapid.IntRange(2, 5).Draw(t, "people") {
			pain := rapid.IntRange(0, 7).Draw(t, "pain")
			c := limit.Client{
				Name:     string(rune('A' + i)),
				HeightCM: rapid.Float64Range(145, 200).Draw(t, "height"),
				MassKG:   rapid.Float64Range(45, 110).Draw(t, "mass"),
				BirthYear: rapid.IntRange(1935, 2000).Draw(t,
					"born",
				),
				Pain:      limit.Pain{Now: &pain},
				Equipment: []string{"mat", "chair", "pillow", "band"},
				Goals:     rapid.SliceOfNDistinct(rapid.SampledFrom(exercise.Purposes), 0, 3, rapid.ID).Draw(t, "goals"),
			}
			if rapid.IntRange(0, 3).Draw(t, "floor") == 0 {
				no := false
				c.Tolerates.Floor = &no
			}
			c.Conditions = limittest.Conditions(t, lib.Conditions, 2)
			people = append(people, c)
		}
		r := request(
			people,
			rapid.SampledFrom(exercise.Places).Draw(t, "place"),
			rapid.SampledFrom([]int{12, 20, 30, 45}).Draw(t, "minutes"),
		)
		c := class.Best(r, planLib)
		if c.Status != plan.Ready {
			assert.NotEmpty(t, c.Notes)
			return
		}
		ready++
		holds(t, r, c)
	})
	assert.Greater(t, ready, 10)
}

// TestWhoIsLeftOutOfAClass: a warning sign and nothing safe are named, and the class goes on
// without them as long as two are left.
func TestWhoIsLeftOutOfAClass(t *testing.T) {
	people := eight()[:3]
	people[1].RedFlags = []string{"saddle_numbness"}
	c := class.Best(request(people, "mat", 20), planLib)
	assert.Equal(t, plan.Ready, c.Status)
	assert.Equal(t, limit.Refer, c.People[1].Status)
	assert.Contains(t, strings.Join(c.Notes, " "), "Tobias is left out")
	for _, it := range c.Items {
		assert.Len(t, it.Versions, 2)
	}
	people[2].RedFlags = people[1].RedFlags
	c = class.Best(request(people, "mat", 20), planLib)
	assert.Equal(t, plan.Refer, c.Status, "the reason why fewer than two are left")
	assert.Contains(t, strings.Join(c.Notes, " "), "no class")

	r := request(eight()[:1], "mat", 20)
	assert.ErrorContains(t, r.Check(), "expected 2 to 12")
	r = request(eight()[:2], "mat", 20)
	r.People[0].ID, r.People[1].ID = "x", "x"
	assert.ErrorContains(t, r.Check(), "twice")
}

// TestWhoGoesTogether: of two who cannot get down and three who can, the groups are those; and
// nobody is lost.
func TestWhoGoesTogether(t *testing.T) {
	people := eight()
	again := people[5]
	again.Name = "Edna"
	list := []limit.Client{people[1], people[5], people[4], again, people[6]}
	g, ok := class.Split(request(list, "mat", 20), planLib)
	require.True(t, ok)
	assert.ElementsMatch(t, []int{0, 1, 2, 3, 4}, slices.Concat(g.Groups[0], g.Groups[1]))
	sitting := g.Groups[0]
	if !slices.Contains(sitting, 1) {
		sitting = g.Groups[1]
	}
	assert.Equal(t, []int{1, 3}, sitting)
	for i, c := range g.Classes {
		assert.Equal(t, plan.Ready, c.Status)
		assert.Len(t, c.People, len(g.Groups[i]))
	}
	one := class.Best(request(list, "mat", 20), planLib)
	assert.GreaterOrEqual(t, g.Least(), one.Least()-0.03, "two classes are hardly worse than one")
	_, ok = class.Split(request(list[:3], "mat", 20), planLib)
	assert.False(t, ok, "three make no two classes")
}

// TestWhatOneThingMoreWouldChange: only what somebody lacks is asked about.
func TestWhatOneThingMoreWouldChange(t *testing.T) {
	people := eight()[4:7]
	for i := range people {
		people[i].Equipment = []string{"mat", "chair", "pillow", "band", "small_ball"}
	}
	people[0].Equipment = []string{"mat", "chair"}
	more := class.Given(request(people, "chair", 15), planLib)
	lacking := map[string]int{}
	for _, m := range more {
		lacking[m.Thing] = m.Lacking
		assert.Positive(t, m.Least)
	}
	assert.Equal(t, map[string]int{"band": 1, "small_ball": 1, "pillow": 1, "stick": 3}, lacking)
}

// TestSafetyNobodyStandsLongerInAClass than they bear, also by the clock of the class.
func TestSafetyNobodyStandsLongerInAClass(t *testing.T) {
	five := 5.0
	for _, place := range []exercise.Place{"mat", "chair", "standing"} {
		people := []limit.Client{eight()[6], eight()[4]}
		people[0].Tolerates.StandingMinutes = &five
		c := class.Best(request(people, place, 30), planLib)
		require.Len(t, c.People, 2)
		on, longest, own := 0.0, 0.0, 0.0
		for _, it := range c.Items {
			for _, v := range it.Versions {
				if v.Person != 0 {
					continue
				}
				if v.Position != "standing" && v.Position != "standing_supported" {
					on = 0
					continue
				}
				on += it.Seconds
				longest = max(longest, on)
			}
		}
		for _, it := range c.People[0].Plan.Items {
			if it.Position == "standing" || it.Position == "standing_supported" {
				own += it.SecondsWork + it.SecondsRest
			}
		}
		t.Logf("%s: %.0f s unbroken by the clock of the class, %.0f s of her own, share %.2f", place, longest, own, c.People[0].Share)
		assert.LessOrEqual(t, own, 300.0)
		assert.LessOrEqual(t, longest, 300.0)
	}
}
