package handout

import (
	"bytes"
	"crypto/sha256"
	_ "embed"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"html/template"

	"restbend/core/exercise"
	"restbend/core/home"
	"restbend/core/lesson"
	"restbend/draw"
	"restbend/library"
)

// The file for home: one page that holds all it needs, works without a connection and asks
// nobody anything. It keeps a diary in the browser and gives it back as a file or a code.

//go:embed file.html
var fileHTML string

//go:embed file.css
var fileCSS string

//go:embed file.js
var fileJS string

var fileTemplate = template.Must(template.New("file").Parse(fileHTML))

// mostStills is how many pictures show one movement in the file.
const mostStills = 8

// beat is one stretch of an exercise's clock.
type beat struct {
	Say     string  `json:"say"`
	Seconds float64 `json:"seconds"`
	Moving  bool    `json:"moving"` // the figure moves meanwhile
	Side    string  `json:"side,omitempty"`
}

// card is an exercise in the file.
type card struct {
	Variant  string   `json:"variant"`
	Name     string   `json:"name"`
	Dose     string   `json:"dose"`
	SetUp    string   `json:"set_up"`
	Remember string   `json:"remember"`
	Cues     []string `json:"cues"`
	Breath   string   `json:"breath"`
	Care     string   `json:"care"`
	Stop     []string `json:"stop"`
	Days     []string `json:"days"`
	Film     []string `json:"film"`  // pictures as data addresses
	Shown    string   `json:"shown"` // the side at work in them
	Beats    []beat   `json:"beats"`
}

// Rests of the file's clock, in seconds (common practice).
const (
	getReady  = 5.0
	fileRest  = 10.0
	otherSide = 8.0
	letGo     = 3.0
)

// beats are the clock of a dose: sides, sets and holds, with rests between.
func beats(it home.Item, breath float64) []beat {
	out := []beat{{Say: "get ready", Seconds: getReady}}
	for _, b := range lesson.Count(it.Dose, lesson.SidesOf(it.Sides, it.Dose), breath, fileRest, otherSide) {
		say, where := "", ""
		if b.Side != "" {
			where = ", " + b.Side
		}
		if b.Label != "" {
			where += ", " + b.Label
		}
		one := beat{Seconds: b.Seconds, Moving: b.Unit != "holds", Side: b.Side}
		switch {
		case b.Label == "change sides":
			say, one.Moving = "now the "+b.Side, false
		case b.Kind == "rest":
			say, one.Moving = "rest", false
		case b.Unit == "holds":
			if b.N > 1 && !it.Dose.Alternating {
				out = append(out, beat{Say: "let go", Seconds: letGo, Moving: true, Side: b.Side})
			}
			say = fmt.Sprintf("hold %d of %d%s", b.N, b.Of, where)
		case it.Dose.Kind == exercise.HoldBreaths:
			say, one.Moving = fmt.Sprintf("stay, breath %d of %d%s", b.N, b.Of, where), false
			if b.N == b.Of {
				say = "stay, and come out" + where
			}
		case b.Unit == "breaths":
			say = fmt.Sprintf("breath %d of %d%s", b.N, b.Of, where)
		case b.Unit == "seconds":
			say = "alternating sides"
		default:
			say = fmt.Sprintf("%d of %d%s", b.N, b.Of, where)
		}
		one.Say = say
		out = append(out, one)
	}
	return out
}

// film is a movement as a few pictures.
func film(l *library.Library, it home.Item) (out []string, err error) {
	v, form := formOf(l, it)
	if v == nil {
		return nil, nil
	}
	stills, err := draw.Motion(v, form, "", draw.Film, draw.Light)
	if err != nil {
		return nil, err
	}
	step := max(1, (len(stills)+mostStills-1)/mostStills)
	for i := 0; i < len(stills); i += step {
		out = append(out, "data:image/svg+xml;base64,"+base64.StdEncoding.EncodeToString(stills[i].SVG))
	}
	return out, nil
}

// File is the file for home.
func File(p home.Programme, h Heading, l *library.Library) ([]byte, error) {
	cardOf := func(it home.Item) (card, error) {
		dose, setUp, remember, care := Said(it, h.Units)
		c := card{
			Variant:  it.Variant,
			Name:     it.Name,
			Dose:     dose,
			SetUp:    setUp,
			Remember: remember,
			Cues:     it.Cues,
			Breath:   it.Breath,
			Care:     care,
			Stop:     it.Stop,
			Days:     it.Days,
		}
		if v := l.Variant(it.Variant); v != nil {
			c.Shown = v.ShownSide()
		}
		var err error
		c.Film, err = film(l, it)
		c.Beats = beats(it, p.Breath)
		return c, err
	}
	data := struct {
		Home   string   `json:"home"`
		Items  []card   `json:"items"`
		Micro  []card   `json:"micro"`
		Places []string `json:"places"`
	}{Home: h.ID, Items: []card{}, Micro: []card{}, Places: exercise.ComplaintPlaces}
	for _, list := range []struct {
		from []home.Item
		to   *[]card
	}{{p.Items, &data.Items}, {p.Micro, &data.Micro}} {
		for _, it := range list.from {
			c, err := cardOf(it)
			if err != nil {
				return nil, err
			}
			*list.to = append(*list.to, c)
		}
	}
	doc, err := json.Marshal(data) // escapes < and >, so that it cannot end its element
	if err != nil {
		return nil, err
	}
	hash := func(s string) string {
		sum := sha256.Sum256([]byte(s))
		return "'sha256-" + base64.StdEncoding.EncodeToString(sum[:]) + "'"
	}
	var b bytes.Buffer
	err = fileTemplate.Execute(&b, map[string]any{
		"Heading": h,
		"P":       p,
		"Data":    template.JS(doc),
		"CSS":     template.CSS(fileCSS),
		"JS":      template.JS(fileJS),
		"Policy": "default-src 'none'; img-src data:; style-src " + hash(
			fileCSS,
		) + "; script-src " + hash(
			fileJS,
		) + "; base-uri 'none'; form-action 'none'",
	})
	return b.Bytes(), err
}
