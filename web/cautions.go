package web

import (
	"restbend/app"
	"restbend/core/limit"
)

// cautions are what is said on every page on which work is planned or taught; folded up
// where the page is to fit a screen two metres away.
type cautions struct {
	Lines      []string
	Stop, Call string
	Open       bool
}

func (w *site) cautions(set limit.Set, open bool) *cautions {
	return &cautions{app.Cautions(set, w.Library.Book), app.WhenToStop, app.WhenToCall, open}
}
