package web

import (
	"strings"

	"restbend/app"
	"restbend/core/readiness"
)

// cautions are what is said on every page on which work is planned or taught; folded up
// where the page is to fit a screen two metres away.
type cautions struct {
	Lines []string
	Stop  string
	Call  []string
	Open  bool
}

func (w *site) cautions(set readiness.Limits, open bool) *cautions {
	return &cautions{set.Readiness.Cautions, app.WhenToStop, w.CallWhen(), open}
}

// call is when to call, in one line.
func (w *site) call() string { return strings.Join(w.CallWhen(), " ") }
