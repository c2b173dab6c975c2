package handout

import (
	"fmt"
	"strings"

	"restbend/app"
	"restbend/core/home"
	"restbend/core/plan"
	"restbend/library"
	"restbend/pdf"
)

// Section is a heading with lines under it.
type Section struct {
	Title string
	Lines []string
}

// sheetOf begins a sheet with who it is for.
func sheetOf(title string, h Heading, o Options) (*pdf.Sheet, error) {
	size, ok := pdf.Sizes[o.Size]
	switch {
	case o.Size == "":
		size = pdf.Sizes["a4"]
	case !ok:
		return nil, fmt.Errorf("size: %q is not a paper size; expected a4 or letter", o.Size)
	}
	s, err := pdf.New(title+": "+h.Client, size, o.Large, o.Font)
	if err != nil {
		return nil, err
	}
	right := h.Studio
	if h.On != "" {
		right += "\n" + h.On
	}
	high := max(s.At(0, 0, s.Width()*0.62, pdf.Title, h.Client), s.At(s.Width()*0.68, 1.5, s.Width()*0.32, pdf.Quiet, right))
	s.Skip(max(high, 9) + 1.5)
	if h.Caution != "" {
		s.Line(pdf.Quiet, h.Caution)
	}
	return s, nil
}

// Page is a page of sections, such as a report.
func Page(title string, h Heading, sections []Section, o Options) (*pdf.Sheet, error) {
	s, err := sheetOf(title, h, o)
	if err != nil {
		return nil, err
	}
	s.Rule()
	for _, part := range sections {
		if len(part.Lines) == 0 {
			continue
		}
		s.Room(12 * s.Scale())
		s.Line(pdf.Heading, part.Title)
		for _, line := range part.Lines {
			s.Line(pdf.Body, line)
		}
		s.Skip(1.5)
	}
	s.Line(pdf.Quiet, "The usual cautions, not a diagnosis. The clinician’s word comes first.")
	return s, nil
}

// OnceEach are the cues of exercises as they are printed: a sentence that stands on the page
// already is not said again.
func OnceEach(items []plan.Item) [][]string {
	said := map[string]bool{}
	out := make([][]string, len(items))
	for i, it := range items {
		for _, cue := range it.Cues {
			if !said[cue] {
				said[cue] = true
				out[i] = append(out[i], cue)
			}
		}
	}
	return out
}

// Lesson is a session on paper: each exercise with its pictures, dose and cues, and a box to
// tick; below it what to keep away from.
func Lesson(p plan.Plan, h Heading, care []Section, l *library.Library, o Options) (*pdf.Sheet, error) {
	s, err := sheetOf("Session", h, o)
	if err != nil {
		return nil, err
	}
	s.Line(pdf.Body, fmt.Sprintf("%s min %s, %d exercises.", app.Clock(p.SecondsTotal), p.Place.Words(), len(p.Items)))
	s.Rule()
	x := 2*figureW + 6
	w := s.Width() - x - 8
	once := OnceEach(p.Items)
	for n, it := range p.Items {
		svgs, err := pictures(l, home.Item{Variant: it.Variant, Share: it.SurfaceShare, Adaptations: it.Adaptations})
		if err != nil {
			return nil, err
		}
		parts := []struct {
			k     pdf.Kind
			words string
		}{{pdf.Heading, fmt.Sprintf("%d. %s", n+1, it.Name)}, {pdf.Strong,
			with(app.DoseWords(it.Dose, it.Sides), it.Uses, it.Settings, h.Units)}, {pdf.Care, it.First}, {pdf.Care, it.OnlySide}}
		for _, a := range it.Adaptations {
			parts = append(parts, struct {
				k     pdf.Kind
				words string
			}{pdf.Care, h.Units.Say(a.Text)})
		}
		cues := strings.Join(append(once[n], it.BreathCue), " ")
		parts = append(parts, struct {
			k     pdf.Kind
			words string
		}{pdf.Body, cues})
		high := 0.0
		for _, part := range parts {
			if part.words != "" {
				high += s.Height(w, part.k, part.words) + 0.4
			}
		}
		s.Room(max(high, figureH) + 3)
		for i, svg := range svgs {
			if err := s.Figure(float64(i)*(figureW+2), 0.5, figureW, figureH*0.8, svg); err != nil {
				return nil, err
			}
		}
		y := 0.0
		for _, part := range parts {
			if part.words != "" {
				y += s.At(x, y, w, part.k, part.words) + 0.4
			}
		}
		s.Box(s.Width()-boxSize, 1, boxSize, true)
		s.Skip(max(y, figureH*0.8) + 1.5)
		s.Rule()
	}
	for _, part := range care {
		if len(part.Lines) == 0 {
			continue
		}
		s.Room(12 * s.Scale())
		s.Line(pdf.Heading, part.Title)
		for _, line := range part.Lines {
			s.Line(pdf.Body, line)
		}
	}
	s.Line(pdf.Body, "Pain before ____   during ____   after ____")
	return s, nil
}
