package course_test

import (
	"bytes"
	"encoding/json"
	"flag"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"restbend/core/civil"
	"restbend/core/course"
	"restbend/core/exercise"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/limit/limittest"
	"restbend/core/plan"
	"restbend/core/readiness"
	"restbend/core/readiness/readinesstest"
	"restbend/library"
)

// many runs the property tests over far more courses: go test ./core/course -many.
var many = flag.Bool("many", false, "run property tests over many more random courses")

var monday = civil.Date(2026, 11, 23)

// The tests use the real library: what is to be safe is what is shipped.
var lib, planLib = func() (*library.Library, plan.Library) {
	l, err := library.Load()
	if err != nil {
		panic(err)
	}
	return l, plan.NewLibrary(l.Variants, l.Hash, l.StandIns)
}()

func request(t require.TestingT, c limit.Client, weeks, sessions, homeDays int) course.Request {
	rules, err := library.ProgressRules()
	require.NoError(t, err)
	limits := func(c limit.Client, on civil.Day) readiness.Limits { return readinesstest.Limits(c, lib.Days(), on) }
	if c.Place == "" {
		c.Place = "mat"
	}
	return course.Request{Plan: plan.Request{Client: c, Limits: limits(c, monday), Place: c.Place, Approach: "steady",
		Minutes: 30}, Library: planLib, Now: limits(c, monday), Limits: limits, Rules: rules,
		From: monday, Today: monday, Weeks: weeks, Sessions: sessions, HomeDays: homeDays}
}

func bone() limit.Client {
	return limit.Client{
		Name:      "Ann",
		BirthYear: 1955,
		HeightCM:  161,
		MassKG:    62,
		Equipment: []string{"mat", "chair", "pillow", "towel"},
		Goals:     []exercise.Purpose{"balance", "upper_back_posture"},
		Conditions: []limit.Condition{
			limit.Condition{ID: "osteoporosis"}.With("vertebral_fracture", false),
		},
		Measures: []limit.Measure{{ID: "chair_stand_30s", Value: 9, On: "2026-11-20"}},
	}
}

// dayAfter is the date so many days after the first Monday.
func dayAfter(n int) string { return monday.AddDate(0, 0, n).String() }

// TestSixWeeks: two lessons and three home days a week, what fragile bone wants on as many
// days, an easy week, and the tests again at the end.
func TestSixWeeks(t *testing.T) {
	r := request(t, bone(), 6, 2, 3)
	c := course.Make(r)
	require.Equal(t, plan.Ready, c.Status)
	require.Len(t, c.Weeks, 6)
	for n, w := range c.Weeks {
		require.Len(t, w.Days, 7)
		kinds := map[string]int{}
		for d, day := range w.Days {
			assert.Equal(t, dayAfter(7*n+d), day.On)
			kinds[day.Kind]++
		}
		assert.Equal(t, 2, kinds[course.Studio]+kinds[course.Review], "week %d", w.Week)
		assert.Equal(t, 3, kinds[course.Home])
		assert.Positive(t, kinds[course.Rest], "a day of rest")
		if w.Week == 6 || w.Easy {
			continue
		}
		for p, n := range w.Wanted {
			assert.GreaterOrEqual(t, w.Tally[p], n, "%s in week %d", p, w.Week)
		}
	}
	assert.Equal(t,
		map[string]int{"balance": 4, "upper_back_posture": 2, "leg_strength": 2, "back_extensor_endurance": 2},
		c.Weeks[0].Wanted,
	)
	assert.True(t, c.Weeks[3].Easy)
	assert.Less(t, c.Weeks[3].Load, c.Weeks[2].Load)
	assert.Equal(t, c.ReviewOn, c.Weeks[5].Days[3].On)
	assert.Equal(t, []string{"chair_stand_30s"}, c.Retests)
	// The frame stays and the middle turns.
	lessons := func(w course.Week) (out []course.Day) {
		return slices.DeleteFunc(slices.Clone(w.Days), func(d course.Day) bool { return d.Kind != course.Studio })
	}
	one, two := lessons(c.Weeks[0])[0], lessons(c.Weeks[0])[1]
	assert.Equal(t, one.Items[0].Variant, two.Items[0].Variant, "they open alike")
	assert.Equal(t, one.Items[len(one.Items)-1].Variant, two.Items[len(two.Items)-1].Variant, "and close alike")
	differ := 0
	for _, it := range two.Items {
		if !slices.ContainsFunc(one.Items, func(k course.Item) bool { return k.Variant == it.Variant }) {
			differ++
		}
	}
	assert.Greater(t, differ, 2)
	// Something new comes, and says on what it rests.
	comes := 0
	for _, w := range c.Weeks[1:] {
		for _, s := range w.Comes {
			assert.Contains(t, s.If, "clean")
			comes++
		}
	}
	assert.Positive(t, comes)
	first, err := json.Marshal(c)
	require.NoError(t, err)
	for range 2 {
		again, err := json.Marshal(course.Make(r))
		require.NoError(t, err)
		require.True(t, bytes.Equal(first, again), "the same again")
	}
}

// TestAnyCourse: whatever the client, every lesson is inside her limits, the load rises by no
// more than a tenth a week, and no more than one rung changes.
func TestAnyCourse(t *testing.T) {
	ready, enough := 0, 8
	if *many {
		enough = 1000
	}
	rapid.Check(t, func(t *rapid.T) {
		if ready >= enough {
			return // enough of them
		}
		pain := rapid.IntRange(0, 6).Draw(t, "pain")
		c := limit.Client{
			HeightCM:  rapid.Float64Range(150, 190).Draw(t, "height"),
			MassKG:    rapid.Float64Range(50, 100).Draw(t, "mass"),
			BirthYear: rapid.IntRange(1940, 2000).Draw(t, "born"),
			Pain: limit.Pain{
				Now: &pain,
			},
			Equipment: []string{"mat", "chair", "pillow"},
			Place:     rapid.SampledFrom(exercise.Places).Draw(t, "place"),
			Goals: rapid.SliceOfNDistinct(
				rapid.SampledFrom(exercise.Purposes),
				0,
				3,
				rapid.ID,
			).Draw(t,
				"goals",
			),
			Conditions: limittest.Conditions(t, lib.Conditions, 2),
		}
		r := request(t,
			c,
			rapid.IntRange(2, 5).Draw(t, "weeks"),
			rapid.IntRange(1, 3).Draw(t, "sessions"),
			rapid.IntRange(0, 3).Draw(t, "home"),
		)
		k := course.Make(r)
		if k.Status != plan.Ready {
			assert.NotEmpty(t, k.Notes)
			return
		}
		ready++
		last := 0.0
		for _, w := range k.Weeks {
			lessons := 0
			for _, d := range w.Days {
				if d.Kind == course.Studio {
					lessons++
				}
				on, _ := civil.Parse(d.On)
				for _, it := range d.Plan.Items {
					v := lib.Variant(it.Variant)
					side := ""
					if len(it.Sides) == 1 {
						side = it.Sides[0]
					}
					assert.Empty(t,
						r.Limits(c, on).Breaks(v.FormAt(it.SurfaceShare, it.Adaptations).Measured.On(side)),
						"%s on %s",
						it.Name,
						d.On,
					)
				}
			}
			if lessons == 0 { // nothing but a review
				continue
			}
			if last > 0 && !w.Easy {
				assert.LessOrEqual(t, w.Load, 1.1*last+0.1, "week %d", w.Week)
			}
			if !w.Easy {
				last = w.Load
			}
		}
	})
	assert.Greater(t, ready, 5)
}

// TestWhatWasMissedIsMovedOnce: Monday's lesson was not taught; it goes to the next free day
// of its week and to no other, and a later miss is not piled up.
func TestWhatWasMissedIsMovedOnce(t *testing.T) {
	r := request(t, bone(), 2, 2, 2)
	r.Today = monday.AddDate(0, 0, 2) // Wednesday
	c := course.Make(r)
	days := c.Weeks[0].Days
	assert.True(t, days[0].Missed)
	assert.Equal(t, course.Rest, days[0].Kind)
	moved := slices.IndexFunc(days, func(d course.Day) bool { return d.Moved })
	require.Positive(t, moved)
	assert.GreaterOrEqual(t, days[moved].On, dayAfter(2))
	lessons := 0
	for _, w := range c.Weeks {
		for _, d := range w.Days {
			if d.Kind == course.Studio || d.Kind == course.Review {
				lessons++
			}
		}
	}
	assert.Equal(t, 4, lessons)
	// It was taught: nothing is moved, and the course goes on from what happened.
	p := c.Weeks[0].Days[moved].Plan
	rec := lesson.Fold([]plan.Plan{p}, lesson.AllDone(p))
	rec.On = dayAfter(0)
	r.Records = []lesson.Record{rec}
	c = course.Make(r)
	assert.True(t, c.Weeks[0].Days[0].Taught)
	assert.False(t, slices.ContainsFunc(c.Weeks[0].Days, func(d course.Day) bool { return d.Missed || d.Moved }))
}

// TestDaysOffAndWhatCannotBe: nothing stands on a day off, and what does not fit is named.
func TestDaysOffAndWhatCannotBe(t *testing.T) {
	r := request(t, bone(), 2, 3, 1)
	r.Off = []time.Weekday{time.Monday, time.Thursday}
	for _, w := range course.Make(r).Weeks {
		for i, d := range w.Days {
			if i == 0 || i == 3 {
				assert.NotContains(t, []string{course.Studio, course.Review}, d.Kind, d.On)
			}
		}
	}
	for says, change := range map[string]func(*course.Request){
		"weeks":             func(r *course.Request) { r.Weeks = 27 },
		"sessions-per-week": func(r *course.Request) { r.Sessions = 0 },
		"days that are not off": func(r *course.Request) {
			r.Sessions, r.Off = 5, []time.Weekday{0, 1, 2}
		},
		"more than a week has": func(r *course.Request) { r.Sessions, r.HomeDays = 4, 5 },
	} {
		r := request(t, bone(), 4, 2, 2)
		change(&r)
		assert.ErrorContains(t, r.Check(), says)
	}
	c := bone()
	c.RedFlags = []string{"saddle_numbness"}
	k := course.Make(request(t, c, 2, 2, 2))
	assert.Equal(t, limit.Refer, k.Status)
	assert.NotEmpty(t, k.Notes)
}

func BenchmarkEightWeeks(b *testing.B) {
	r := request(b, bone(), 8, 2, 3)
	for b.Loop() {
		course.Make(r)
	}
}
