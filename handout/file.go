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
	Film     []string `json:"film"` // pictures as data addresses
	Tempo    float64  `json:"tempo"`
	Beats    []beat   `json:"beats"`
}

// Rests of the file's clock, in seconds (common practice).
const (
	getReady  = 5.0
	fileRest  = 10.0
	otherSide = 8.0
)

// beats are the clock of a dose: sides, sets and holds in turn, with rests between.
func beats(it home.Item, tempo, breath float64) []beat {
	out := []beat{{"get ready", getReady, false}}
	sides := []string{""}
	if len(it.Sides) > 0 && it.Dose.Kind != exercise.AlternatingSeconds {
		sides = it.Sides
	}
	for i, side := range sides {
		if i > 0 {
			out = append(out, beat{"now the " + side, otherSide, false})
		}
		d := it.Dose
		if side != "" {
			d = d.On(side)
		}
		where := ""
		if side != "" {
			where = ", " + side
		}
		for n, size := range d.SetSizes() {
			if n > 0 {
				out = append(out, beat{"rest", fileRest, false})
			}
			switch d.Kind {
			case exercise.HoldSeconds:
				for k := range size {
					if k > 0 {
						out = append(out, beat{"let go", 3, true})
					}
					out = append(out, beat{fmt.Sprintf("hold %d of %d%s", k+1, size, where), d.Hold(k), false})
				}
			case exercise.HoldBreaths:
				out = append(out, beat{fmt.Sprintf("stay for %d breaths%s", d.Breaths, where), float64(d.Breaths+1) * breath, false})
			case exercise.Breaths:
				for k := range d.Breaths {
					out = append(out, beat{fmt.Sprintf("breath %d of %d%s", k+1, d.Breaths, where), breath, true})
				}
			case exercise.AlternatingSeconds:
				out = append(out, beat{"side and side in turn", d.Seconds, true})
			default:
				each := d.Seconds
				if each == 0 {
					each = tempo
				}
				for k := range size {
					out = append(out, beat{fmt.Sprintf("%d of %d%s", k+1, size, where), each, true})
				}
			}
		}
	}
	return out
}

// film is a movement as a few pictures.
func film(l *library.Library, it home.Item) (out []string, tempo float64, err error) {
	v, form := formOf(l, it)
	if v == nil {
		return nil, 0, nil
	}
	stills, err := draw.Motion(v, form, "", draw.Film, draw.Light)
	if err != nil {
		return nil, 0, err
	}
	step := max(1, (len(stills)+mostStills-1)/mostStills)
	for i := 0; i < len(stills); i += step {
		out = append(out, "data:image/svg+xml;base64,"+base64.StdEncoding.EncodeToString(stills[i].SVG))
	}
	return out, form.Movement.Tempo(), nil
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
		var err error
		c.Film, c.Tempo, err = film(l, it)
		c.Beats = beats(it, c.Tempo, p.Breath)
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
