package optimize_test

import (
	"fmt"

	"restbend/core/optimize"
)

// A day out: what to see in three hours, in the order in which the places lie, when one
// more museum brings less than the first, and one place is across the river.
func Example() {
	const art, air = 0, 1 // features
	const here, there = 0, 1
	places := []string{"small museum", "garden", "large museum", "hill"}
	p := optimize.Problem{
		Features: []optimize.Feature{{Slopes: [3]float64{5, 1, 0}}, {Slopes: [3]float64{4, 3, 0}}},
		Candidates: []optimize.Candidate{
			{
				Start:   here,
				End:     here,
				Options: []optimize.Option{{Seconds: 2400, Returns: 1}},
				Units:   []optimize.Unit{{Feature: art, Amount: 0.8}},
			},
			{
				Start:   here,
				End:     here,
				Options: []optimize.Option{{Seconds: 1800, Returns: 0.6}, {Seconds: 3600, Returns: 1}},
				Units:   []optimize.Unit{{Feature: air, Amount: 1}},
			},
			{
				Start:   there,
				End:     there,
				Options: []optimize.Option{{Seconds: 5400, Returns: 1}},
				Units:   []optimize.Unit{{Feature: art, Amount: 1.2}},
			},
			{
				Start:   there,
				End:     there,
				Options: []optimize.Option{{Seconds: 3600, Returns: 1}},
				Units:   []optimize.Unit{{Feature: air, Amount: 1}},
			},
		},
		Ways: optimize.Ways{
			From:        here,
			Home:        here,
			Begun:       -1,
			Seconds:     [][]int{{0, 900}, {900, 0}},
			Cost:        [][]float64{{0, 0.5}, {0.5, 0}},
			HomeSeconds: []int{0, 900},
			May:         [][][]bool{{{true, true}, {true, true}}},
			MayStart:    []bool{true, true},
		},
		Time: optimize.Time{Target: 10800, Least: 9000, Limit: 10800, Miss: 0.0001, Outside: 1000, MissOutside: 1},
		Skip: []float64{0},
	}
	chosen, bound := p.Best(optimize.Effort{Passes: 1000, Ordinary: 1})
	for _, x := range chosen {
		fmt.Printf("%s, %d minutes\n", places[x.Candidate], p.Candidates[x.Candidate].Options[x.Option].Seconds/60)
	}
	fmt.Printf("worth %.2f, and nothing more than %.2f\n", bound.Value, bound.Most)
	// Output:
	// small museum, 40 minutes
	// garden, 30 minutes
	// hill, 60 minutes
	// worth 8.68, and nothing more than 8.68
}

// Two friends on the same way, who need not do the same at each stop.
func ExampleOption_shares() {
	const his, hers = 0, 1
	stop := optimize.Candidate{Options: []optimize.Option{{Seconds: 600, Returns: 1, Shares: [][]optimize.Way{
		{{Own: 1}, {Own: 0, Units: []optimize.Unit{{Feature: his, Amount: 1}}}},
		{{Own: 1}, {Own: 0, Units: []optimize.Unit{{Feature: hers, Amount: 1}}}},
	}}}}
	p := optimize.Problem{
		Features:   []optimize.Feature{{Slopes: [3]float64{3, 0, 0}}, {Slopes: [3]float64{0.5, 0, 0}}},
		Candidates: []optimize.Candidate{stop},
		Ways: optimize.Ways{
			Begun:       -1,
			Seconds:     [][]int{{0}},
			Cost:        [][]float64{{0}},
			HomeSeconds: []int{0},
			May:         [][][]bool{{{true}}},
			MayStart:    []bool{true},
		},
		Time: optimize.Time{Target: 600, Least: 600, Limit: 600},
		Skip: []float64{0},
	}
	chosen, bound := p.Best(optimize.Effort{Passes: 100, Ordinary: 1})
	fmt.Println(chosen[0].Picks[:2], bound.Value)
	// Output: [1 0] 4
}
