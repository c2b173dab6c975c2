// Package handout makes what is given to a client or a colleague: the sheet for home as PDF
// and the file that works without a connection.
package handout

import (
	"fmt"
	"strings"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/home"
	"restbend/draw"
	"restbend/library"
	"restbend/pdf"
)

// Heading is who a sheet is for and from.
type Heading struct {
	ID      string // of the programme, so that a diary finds home
	Client  string
	Studio  string
	On      string // the day in words
	Again   string // when it is reviewed, in words
	Caution string // of the client; empty unless it is wished
	Units   app.Units
}

// Options of a sheet.
type Options struct {
	Size  string // of pdf.Sizes; A4 where it is empty
	Large bool
	Weeks int // of boxes to tick; 2 where it is 0
	Font  []byte
}

const (
	figureW, figureH = 34.0, 23.0
	boxSize          = 4.2
	boxStep          = 5.6
	boxesAbove       = 4.4
)

// SeenMoving is how far a joint goes, in degrees, before two pictures differ for the eye.
const SeenMoving = 8.0

var weekLetters = []string{"M", "T", "W", "T", "F", "S", "S"}

// formOf is an exercise of a programme in the form it is done at home.
func formOf(l *library.Library, it home.Item) (*exercise.Variant, *exercise.Form) {
	v := l.Variant(it.Variant)
	if v == nil {
		return nil, nil
	}
	return v, v.FormAt(it.Share, it.Adaptations)
}

// pictures are set-up and end position of an exercise; one where the two are alike.
func pictures(l *library.Library, it home.Item) ([][]byte, error) {
	v, form := formOf(l, it)
	if v == nil {
		return nil, nil
	}
	var out [][]byte
	poses := []string{"start", v.ShowPose(form)}
	if !form.Moves(SeenMoving) {
		poses = poses[1:]
	}
	for _, pose := range poses {
		p, err := draw.Variant(v, form, pose, false, "", draw.Thumb, draw.Light)
		if err != nil {
			return nil, err
		}
		if len(out) > 0 && string(p.SVG) == string(out[0]) {
			for _, other := range form.Movement.Order { // the one that shows the movement
				if q, err := draw.Variant(
					v,
					form,
					other,
					false,
					"",
					draw.Thumb,
					draw.Light,
				); err == nil &&
					string(q.SVG) != string(out[0]) {
					p = q
				}
			}
		}
		if len(out) == 0 || string(p.SVG) != string(out[0]) {
			out = append(out, p.SVG)
		}
	}
	return out, nil
}

// with is a dose with what it is done with.
func with(dose string, uses []string, s exercise.Settings, u app.Units) string {
	if things := app.WithWords(uses, s, u); things != "" {
		return dose + ", with " + things
	}
	return dose
}

// Said is what is printed of an exercise, each thing once.
func Said(it home.Item, u app.Units) (dose, setUp, remember, care string) {
	dose = with(app.DoseWords(it.Dose, it.Sides)+", "+app.HomeDays(it), it.Uses, it.Settings, u) + "."
	setUp, remember, care = it.SetUp, it.Remember, u.Say(it.Caution)
	if care != "" {
		care = strings.ToUpper(care[:1]) + care[1:] + "."
		if len(it.Adaptations) > 0 && strings.HasPrefix(strings.ToLower(remember), strings.ToLower(it.Adaptations[0].Text)) {
			care = ""
		}
	}
	return
}

// Sheet sets a programme on paper, one or two pages.
func Sheet(p home.Programme, h Heading, l *library.Library, o Options) (*pdf.Sheet, error) {
	if o.Weeks == 0 {
		o.Weeks = 2
	}
	s, err := sheetOf("At home", h, o)
	if err != nil {
		return nil, err
	}
	s.Line(pdf.Body, fmt.Sprintf("About %d minutes a day. We look at it again on %s.", p.MinutesADay, h.Again))
	s.Rule()
	for n, it := range p.Items {
		if err := item(s, l, it, n, o.Weeks, h.Units); err != nil {
			return nil, err
		}
	}
	if len(p.Micro) > 0 {
		s.Room(14 * s.Scale())
		s.Line(pdf.Heading, "Through the day")
		for _, it := range p.Micro {
			dose, setUp, remember, _ := Said(it, h.Units)
			s.Line(pdf.Body, it.Name+": "+dose+" "+setUp+" "+remember)
		}
		s.Rule()
	}
	columns(s, "Do", p.Do, "Not for now", p.DoNot)
	s.Rule()
	s.Room(12 * s.Scale())
	s.Line(pdf.Heading, "When to stop, and when to call")
	for _, line := range append(append([]string{}, p.StopWhen...), p.CallWhen...) {
		s.Line(pdf.Body, line)
	}
	s.Skip(1)
	s.Room(20 * s.Scale())
	s.Line(pdf.Heading, "The day after a lesson")
	s.Line(pdf.Body, "Pain before the lesson ____ , that evening ____ , the next day ____ (0 none, 10 the worst).")
	s.Line(
		pdf.Body,
		"Sore: no / yes, gone after ____ hours.   Pain that lasted: no / yes, gone after ____ hours.   Down an arm or a leg: no / yes.",
	)
	s.Line(pdf.Quiet, "The usual cautions, not a diagnosis. Your clinician’s word comes first.")
	return s, nil
}

// item sets one exercise: pictures on the left, words beside them, boxes below.
func item(s *pdf.Sheet, l *library.Library, it home.Item, n, weeks int, u app.Units) error {
	dose, setUp, remember, care := Said(it, u)
	x := 2*figureW + 6
	w := s.Width() - x
	high := func(k pdf.Kind, words string) float64 { return s.Height(w, k, words) }
	name := fmt.Sprintf("%s. %s", string(rune('A'+n)), it.Name)
	words := high(
		pdf.Heading,
		name,
	) + high(
		pdf.Strong,
		dose,
	) + high(
		pdf.Body,
		setUp,
	) + high(
		pdf.Strong,
		remember,
	) + high(
		pdf.Care,
		care,
	) + 2.5
	boxes := boxesAbove*s.Scale() + boxSize + 1.5
	s.Room(max(words+boxes, figureH+8))
	svgs, err := pictures(l, it)
	if err != nil {
		return err
	}
	for i, svg := range svgs {
		if err := s.Figure(float64(i)*(figureW+2), 1, figureW, figureH, svg); err != nil {
			return err
		}
		if len(svgs) > 1 {
			s.At(float64(i)*(figureW+2)+figureW/2-4, figureH+1.2, 14, pdf.Quiet, []string{"start", "then"}[i])
		}
	}
	y := 0.0
	for _, part := range []struct {
		k     pdf.Kind
		words string
	}{{pdf.Heading, name}, {pdf.Strong, dose}, {pdf.Body, setUp}, {pdf.Strong, remember}, {pdf.Care, care}} {
		if part.words != "" {
			y += s.At(x, y, w, part.k, part.words) + 0.4
		}
	}
	y += 0.6
	for week := range weeks {
		for d, letter := range weekLetters {
			at := x + float64(week)*(7*boxStep+5) + float64(d)*boxStep
			s.At(at+0.9, y, 6, pdf.Quiet, letter)
			s.Box(at, y+boxesAbove*s.Scale(), boxSize, slicesHas(it.Days, home.Days[d]))
		}
	}
	s.Skip(max(y+boxes, figureH+6) + 1.5)
	s.Rule()
	return nil
}

func slicesHas(days []string, day string) bool {
	for _, d := range days {
		if d == day {
			return true
		}
	}
	return false
}

// columns sets two lists side by side.
func columns(s *pdf.Sheet, left string, a []string, right string, b []string) {
	w := (s.Width() - 8) / 2
	height := func(title string, lines []string) float64 {
		h := s.Height(w, pdf.Heading, title) + 0.6
		for _, line := range lines {
			h += s.Height(w, pdf.Body, line) + 0.4
		}
		return h
	}
	high := max(height(left, a), height(right, b))
	s.Room(high)
	for i, list := range []struct {
		title string
		lines []string
	}{{left, a}, {right, b}} {
		x := float64(i) * (w + 8)
		y := s.At(x, 0, w, pdf.Heading, list.title) + 0.6
		for _, line := range list.lines {
			y += s.At(x, y, w, pdf.Body, line) + 0.4
		}
	}
	s.Skip(high + 1)
}
