package web

import (
	"fmt"
	"html/template"
	"slices"
	"strings"

	"restbend/core/lesson"
	"restbend/core/plan"
	"restbend/draw"
	"restbend/store"
)

// A lesson as it was taught, beside how it was planned.

// taughtRow is one exercise and side of a record, with what was put right of it.
type taughtRow struct {
	wrapRow
	How was
}

// taughtRows are the exercises of a record: otherwise than planned, and as planned.
func (w *site) taughtRows(row store.Plan, r store.Record) (otherwise, planned []taughtRow) {
	for _, x := range w.wrapRows(row, r.Record) {
		t := taughtRow{x, history(r, func(rec lesson.Record) string {
			var of []lesson.Done
			for _, d := range rec.Items {
				if d.Variant == x.Done[0].Variant && d.Item == x.Done[0].Item && d.Side == x.Side {
					of = append(of, d)
				}
			}
			if of == nil {
				return "–"
			}
			return doneSaid(of)
		})}
		if x.Otherwise || len(t.How.Before) > 0 {
			otherwise = append(otherwise, t)
		} else {
			planned = append(planned, t)
		}
	}
	return otherwise, planned
}

// taughtRibbon draws what was done of a plan, with a post for every mark; what was not
// reached is not on it. Empty where nothing was done.
func (w *site) taughtRibbon(row store.Plan, r lesson.Record, width float64) template.HTML {
	done := row
	done.Plan.Items = nil
	var posts []draw.RibbonPost
	at := 0.0
	for _, it := range row.Plan.Items {
		var of []lesson.Done
		for _, d := range r.Items {
			if d.Item == it.ID && !d.Skipped {
				of = append(of, d)
			}
		}
		if len(of) == 0 {
			continue
		}
		share := doneShare(it, of)
		it.SecondsWork, it.SecondsRest = it.SecondsWork*share, it.SecondsRest*share
		done.Plan.Items = append(done.Plan.Items, it)
		begins := at + it.SecondsChange
		at += it.Seconds()
		for i, d := range of {
			if d.Ended == "done" && d.Pain == nil && d.Tighter == "" {
				continue
			}
			label := fmt.Sprintf("%s%s: %s", d.Name, map[bool]string{true: ", " + d.Side}[d.Side != ""], doneWords(d))
			if d.Ended == "done" && d.Pain == nil {
				label = d.Name + ": " + d.Tighter + " tighter"
			}
			posts = append(posts,
				draw.RibbonPost{
					At:    begins + (at-begins)*float64(i+1)/float64(len(of)),
					Shut:  d.Ended == "pain" || d.Pain != nil,
					Label: label,
				},
			)
		}
	}
	if len(done.Plan.Items) == 0 {
		return ""
	}
	done.Plan.SecondsTotal = at
	drawn := w.ribbonOf(done, -1, width, false, -1)
	drawn.Posts, drawn.Title = posts, fmt.Sprintf("As taught: %d of %d exercises", len(done.Plan.Items), len(row.Plan.Items))
	return template.HTML(draw.SVGRibbon(drawn))
}

// doneShare is how much of an exercise was done, 0 to 1.
func doneShare(it plan.Item, done []lesson.Done) float64 {
	asked, did := 0.0, 0.0
	for _, side := range lesson.SidesOf(it.Sides, it.Dose) {
		for _, n := range it.Dose.On(side).SetSizes() {
			asked += float64(n)
		}
	}
	for _, d := range done {
		n := d.Repetitions
		if it.Dose.Breaths > 0 && it.Dose.Breaths <= n {
			n = 1
		}
		did += float64(max(1, d.Sets) * n)
	}
	if asked == 0 {
		return 1
	}
	return min(1, max(0.1, did/asked))
}

// seriesView is what a device measured, as a line.
type seriesView struct {
	Words string
	Line  template.HTML
}

func seriesViews(all []store.Series) []seriesView {
	words := map[string]string{"cuff": "Pressure cuff", "belt": "Breath belt", "grip": "Hand grip"}
	var out []seriesView
	for _, x := range all {
		if len(x.Values) < 2 {
			continue
		}
		lo, hi := min(slices.Min(x.Values), x.Low), max(slices.Max(x.Values), x.High)
		y := func(v float64) float64 { return 56 - 52*(v-lo)/max(hi-lo, 1e-9) }
		var path strings.Builder
		for i, v := range x.Values {
			fmt.Fprintf(
				&path,
				"%s%.1f %.1f",
				map[bool]string{true: "M", false: "L"}[i == 0],
				480*float64(i)/float64(len(x.Values)-1),
				y(v),
			)
		}
		inside := 0
		for _, v := range x.Values {
			if v >= x.Low && v <= x.High {
				inside++
			}
		}
		said := fmt.Sprintf(
			"%s, simulated: %.0f to %.0f %s over %.0f s, %d%% of it in the band of %g to %g",
			words[x.Device],
			slices.Min(x.Values),
			slices.Max(x.Values),
			x.Unit,
			float64(len(x.Values))*x.Step,
			100*inside/len(x.Values),
			x.Low,
			x.High,
		)
		out = append(out,
			seriesView{
				said,
				template.HTML(
					fmt.Sprintf(
						`<svg viewBox="0 0 480 60" width="480" height="60" role="img" aria-label="%s"><rect x="0" y="%.1f" `+
							`width="480" height="%.1f" fill="#E7DDCA"/><path d="%s" fill="none" stroke="#1D2A3F" `+
							`stroke-width="1.5"/></svg>`,
						template.HTMLEscapeString(said),
						y(x.High),
						y(x.Low)-y(x.High),
						path.String(),
					),
				),
			},
		)
	}
	return out
}
