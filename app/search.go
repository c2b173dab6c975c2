package app

import (
	"fmt"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/core/find"
	"restbend/library"
)

// pages are what can be found of the program itself, with what else they are called.
var pages = []find.Doc{
	{ID: "page today", Title: "Today", Link: "/", Sub: "who comes, and whom to ask"},
	{ID: "page calendar", Title: "Calendar", Link: "/calendar", Sub: "four weeks, in which lessons are moved"},
	{ID: "page clients", Title: "Clients", Link: "/clients", Also: []string{"people patients"}},
	{ID: "page new client", Title: "New client", Link: "/clients/new", Also: []string{"intake add"}},
	{ID: "page classes", Title: "Classes", Link: "/classes"},
	{ID: "page library", Title: "Library", Link: "/library", Also: []string{"exercises catalogue"}},
	{ID: "page bench", Title: "Bench", Link: "/lever", Also: []string{"lever raise surface plank height"}},
	{ID: "page records", Title: "Records", Link: "/records", Also: []string{"sessions taught notes"}},
	{ID: "page exchange", Title: "In and out", Link: "/exchange", Also: []string{"archive tables files"}},
	{ID: "page people", Title: "People", Link: "/people", Sub: "who work in the studio"},
	{ID: "page copies", Title: "Copies", Link: "/copies", Also: []string{"retention lock minutes"}},
	{ID: "page trail", Title: "Who did what", Link: "/trail", Also: []string{"trail"}},
	{
		ID:    "page settings",
		Title: "Settings",
		Link:  "/settings",
		Also:  []string{"dark light units text size cues studio hours days equipment"},
	},
	{ID: "page words", Title: "Words", Link: "/help/words", Also: []string{"glossary terms"}, Sub: "what the terms mean"},
	{ID: "page me", Title: "How you sign in", Link: "/me", Also: []string{"one-time code short lock sign out"}},
}

// Finder looks through exercises, what they serve, conditions and pages.
func (j *Judge) Finder() (*find.Index, error) {
	sayings, err := library.Sayings()
	if err != nil {
		return nil, err
	}
	docs := slices.Clone(pages)
	for i := range docs {
		docs[i].Kind = "Pages"
	}
	for _, d := range j.Library.Conditions {
		docs = append(docs,
			find.Doc{
				ID:    "condition " + d.ID,
				Kind:  "Conditions",
				Title: d.Name,
				Also:  []string{d.Also, strings.ReplaceAll(d.ID, "_", " ")},
				Link:  "/library?condition=" + d.ID,
				Sub:   "what suits, in the library",
			},
		)
	}
	for _, p := range exercise.Purposes {
		docs = append(docs,
			find.Doc{
				ID:    "purpose " + string(p),
				Kind:  "What it serves",
				Title: Capital(p.Words()),
				Also:  []string{strings.ReplaceAll(string(p), "_", " ")},
				Link:  "/library?purpose=" + string(p),
				Sub:   "all that serves it",
			},
		)
	}
	for _, f := range j.Library.Families {
		for _, v := range f.Variants {
			var also []string
			for _, p := range v.Purposes {
				also = append(also, p.Words())
			}
			docs = append(docs,
				find.Doc{
					ID:    "exercise " + v.ID,
					Kind:  "Exercises",
					Title: v.Name,
					Also:  append(also, f.Name, strings.ReplaceAll(v.ID, "_", " ")),
					Text: strings.Join(
						[]string{v.Why, v.SetUp, v.Position.Words(), strings.Join(v.Equipment, " ")},
						" ",
					),
					Link: "/library/" + v.ID,
					Sub:  v.Position.Words(),
				},
			)
		}
	}
	known := map[string]bool{}
	for _, d := range docs {
		known[d.ID] = true
	}
	for _, s := range sayings {
		for _, id := range s.To {
			if !known[id] {
				return nil, fmt.Errorf("sayings.yaml: %v: there is no %q", s.Say, id)
			}
		}
	}
	return find.New(docs, sayings), nil
}
