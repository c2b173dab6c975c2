package web

import (
	"fmt"
	"html/template"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/draw"
	"restbend/store"
)

// ribbon draws a plan's height ribbon.
func (w *site) ribbon(row store.Plan, chosen int, width float64, tall bool) template.HTML {
	return w.ribbonAt(row, chosen, width, tall, -1)
}

// ribbonAt is the ribbon with a marker after so many seconds; none when
// negative.
func (w *site) ribbonAt(row store.Plan, chosen int, width float64, tall bool, done float64) template.HTML {
	return template.HTML(draw.SVGRibbon(w.ribbonOf(row, chosen, width, tall, done)))
}

// ribbonOf is a plan's ribbon, not yet drawn.
func (w *site) ribbonOf(row store.Plan, chosen int, width float64, tall bool, done float64) draw.Ribbon {
	p := row.Plan
	r := draw.Ribbon{Width: width, Tall: tall,
		Done:  done,
		Title: fmt.Sprintf("Session of %s with %d exercises", app.Clock(p.SecondsTotal), len(p.Items))}
	floor := false
	onFloor := func(pos exercise.Position) bool { return pos.OnFloor() && p.Place != "bed" && p.Place != "table" }
	for i, it := range p.Items {
		f := w.figures.get(w.figures.onRibbon(it))
		change, end := it.SecondsChange, 0.0
		if i == len(p.Items)-1 { // the last one's change holds the way up
			end = p.ComingUp(it.EndPosition)
			change -= end
			r.End, r.EndUp = end, onFloor(it.EndPosition)
		}
		piece := draw.RibbonPiece{
			Change:   change,
			Stay:     it.SecondsWork + it.SecondsRest,
			Level:    it.Position.Level(),
			Load:     it.Demand / 6,
			Position: string(it.Position),
			Phase:    string(it.Phase),
			Number:   i + 1,
			Figure:   f.URL,
			FigureW:  f.W,
			FigureH:  f.H,
			Chosen:   i == chosen,
			Label:    fmt.Sprintf("%d, %s, %s, %s", i+1, it.Name, it.Position.Words(), app.Clock(it.Seconds())),
		}
		if tall {
			piece.Link = fmt.Sprintf("/plans/%s?item=%d", row.ID, i+1)
		}
		if now := onFloor(it.Position); now != floor {
			piece.FloorMove = 1
			if now {
				piece.FloorMove = -1
			}
			floor = now
		}
		floor = onFloor(it.EndPosition)
		piece.Load = min(1, piece.Load)
		r.Pieces = append(r.Pieces, piece)
	}
	return r
}
