package web

import (
	"fmt"
	"slices"
	"strings"

	"restbend/app"
	"restbend/core/class"
	"restbend/core/exercise"
	"restbend/core/plan"
	"restbend/draw"
	"restbend/store"
)

// The lines of a class: who does what in each item, and what is said of it.

// figureOf is the drawing of a version.
func (w *site) figureOf(v class.Version, large bool) Figure {
	of := want{variant: v.Variant, theme: draw.Light, large: large}
	if k := w.Library.Variant(v.Variant); k != nil && len(v.Adaptations) > 0 {
		of.form = k.FormAt(0, v.Adaptations)
	}
	return w.figures.get(of)
}

// largeFigure is the large drawing of what a person does in an item.
func (w *site) largeFigure(it class.Item, person int) string {
	for _, v := range it.Versions {
		if v.Person == person {
			return w.figureOf(v, true).URL
		}
	}
	return ""
}

// versionWords say what a version is beside the thread's own.
func versionWords(v class.Version, own bool) (kind, words string) {
	switch {
	case v.Resting:
		return "is-rest", "rests"
	case v.Instead:
		return "is-instead", "instead"
	case own:
		return "", ""
	case v.Verdict == exercise.Adapt:
		return "is-easier", "adapted"
	}
	return "is-other", "another way"
}

// columns is an order of the people in which those who do the same stand side by side.
func columns(c class.Class) []int {
	var left []int
	for _, m := range c.People {
		if m.Status == plan.Ready {
			left = append(left, m.Person)
		}
	}
	alike := func(a, b int) (n int) {
		for _, it := range c.Items {
			if kindIn(it, a) == kindIn(it, b) {
				n++
			}
		}
		return n
	}
	var out []int
	for len(left) > 0 {
		best, most := 0, -1
		for i, p := range left {
			n := 0
			if len(out) > 0 {
				n = alike(out[len(out)-1], p)
			}
			if n > most {
				best, most = i, n
			}
		}
		out = append(out, left[best])
		left = slices.Delete(left, best, best+1)
	}
	return out
}

// kindIn is the kind of version that a person does in an item; empty for who is not there.
func kindIn(it class.Item, person int) string {
	for _, v := range it.Versions {
		if v.Person == person {
			return v.Kind()
		}
	}
	return ""
}

// classLines are the items of a class, one block for all who do the same side by side.
func (w *site) classLines(k store.Class, order []int, chosen int) []classLine {
	var out []classLine
	for i, it := range k.Class.Items {
		kinds := it.Kinds()
		own := kinds[0][0].Kind()
		for _, kind := range kinds {
			if !kind[0].Resting {
				own = kind[0].Kind()
				break
			}
		}
		l := classLine{
			Item:   it,
			Number: i + 1,
			Link:   fmt.Sprintf("%s?item=%d", classLink(k.ID), i+1),
			Chosen: i == chosen,
			Kinds:  len(kinds),
		}
		by := map[int]class.Version{}
		for _, v := range it.Versions {
			by[v.Person] = v
		}
		for column, p := range order {
			v, here := by[p]
			if n := len(l.Blocks); n > 0 && kindIn(it, order[column-1]) == kindIn(it, p) {
				l.Blocks[n-1].Span++
				continue
			}
			if !here { // who left, or came late
				l.Blocks = append(l.Blocks, classBlock{From: column + 1, Span: 1, Class: "is-rest", Words: "not here"})
				continue
			}
			b := classBlock{From: column + 1, Span: 1, Figure: w.figureOf(v, false), Name: v.Name}
			b.Class, b.Words = versionWords(v, v.Kind() == own)
			l.Blocks = append(l.Blocks, b)
		}
		for _, kind := range kinds {
			l.Groups = append(l.Groups, w.classGroup(k.Class, kind, own))
		}
		slices.SortStableFunc(l.Groups, func(a, b classGroup) int { return boolOrder(a.Words != "", b.Words != "") })
		l.Figure = l.Groups[0].Figure
		out = append(out, l)
	}
	return out
}

func boolOrder(a, b bool) int {
	switch {
	case a == b:
		return 0
	case a:
		return 1
	}
	return -1
}

// ready is how many take part in a class.
func ready(c class.Class) (n int) {
	for _, m := range c.People {
		if m.Status == plan.Ready {
			n++
		}
	}
	return n
}

func (w *site) classGroup(c class.Class, kind []class.Version, own string) classGroup {
	v := kind[0]
	g := classGroup{Name: v.Name, Figure: w.figureOf(v, false)}
	_, g.Words = versionWords(v, v.Kind() == own)
	if k := w.Library.Variant(v.Variant); k != nil {
		form := k.FormAt(0, v.Adaptations)
		g.SetUp, g.Cues = k.SetUp, k.CuesOf(form)
	}
	doses := map[string][]string{}
	var said []string
	for _, v := range kind {
		first := firstName(c.People[v.Person].Name)
		g.Names, g.People = append(g.Names, first), append(g.People, v.Person)
		words := app.DoseWords(v.Dose, v.Sides)
		if !slices.Contains(said, words) {
			said = append(said, words)
		}
		doses[words] = append(doses[words], first)
		for _, why := range v.Because {
			if !slices.Contains(g.Why, why) && len(g.Why) < 3 {
				g.Why = append(g.Why, why)
			}
		}
	}
	for _, a := range v.Adaptations {
		g.Cues = append([]string{app.Capital(a.Text) + "."}, g.Cues...)
	}
	slices.SortStableFunc(said, func(a, b string) int { return len(doses[b]) - len(doses[a]) })
	for i, words := range said {
		if i > 0 || 2*len(doses[words]) < len(kind) { // what most of them do wants no names
			words = strings.Join(doses[words], ", ") + ": " + words
		}
		g.Doses = append(g.Doses, words)
	}
	if len(kind) == ready(c) && len(kind) > 2 {
		g.Names = []string{"Everybody"}
	}
	return g
}
