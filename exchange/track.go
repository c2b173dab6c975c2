package exchange

import (
	"fmt"
	"io"
	"time"

	"github.com/asticode/go-astisub"

	"restbend/core/lesson"
	"restbend/core/plan"
)

// Track writes a session as a WebVTT cue track: what is done, second by second.
func Track(w io.Writer, p plan.Plan) error {
	subs := astisub.NewSubtitles()
	for _, b := range lesson.Beats(p) {
		if b.Seconds <= 0 {
			continue
		}
		it := p.Items[b.Item]
		words := it.Name
		switch b.Kind {
		case "change":
			words = "Now: " + it.Name + ". " + it.SetUp
		case "rest":
			words = "Rest"
		default:
			if b.Side != "" {
				words += ", " + b.Side
			}
			if b.Of > 0 {
				words += fmt.Sprintf(": %d of %d", b.N, b.Of)
			}
		}
		subs.Items = append(subs.Items, &astisub.Item{StartAt: seconds(b.At), EndAt: seconds(b.At + b.Seconds),
			Lines: []astisub.Line{{Items: []astisub.LineItem{{Text: words}}}}})
	}
	if len(subs.Items) == 0 {
		return &Bad{"plan", "it has no exercises, so there is nothing to cue"}
	}
	return subs.WriteToWebVTT(w)
}

func seconds(s float64) time.Duration { return time.Duration(s * float64(time.Second)) }
