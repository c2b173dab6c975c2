package web

import (
	"crypto/sha256"
	"encoding/hex"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"
	lru "github.com/hashicorp/golang-lru/v2"

	"restbend/core/exercise"
	"restbend/core/plan"
	"restbend/draw"
	"restbend/library"
)

// How many drawings are kept: more than a full library needs in both themes and every
// view it is looked at from, so that what a page names is there when it is fetched.
const (
	mostFigures = 8000
	mostFilms   = 300
)

// figures keeps drawings under the hash of their content, and what was drawn for whom;
// what was not asked for in the longest time goes first and is drawn again when wanted.
type figures struct {
	library *library.Library
	byWant  *lru.Cache[want, Figure]
	films   *lru.Cache[want, []still]
	byHash  *lru.Cache[string, []byte]
}

// want names one drawing.
type want struct {
	variant, pose string
	form          *exercise.Form // nil for the plain form
	view          draw.View
	large, ghost  bool
	theme         draw.Theme
}

// Figure is the address of a drawing and its own size in pixels.
type Figure struct {
	URL  string  `json:"url"`
	W, H float64 `json:"-"`
}

// NewFigures keeps the drawings of a library, for one site or for several.
func NewFigures(l *library.Library) *Figures {
	return &Figures{newFigures(l)}
}

// Figures are drawings that sites may share.
type Figures struct{ *figures }

func newFigures(l *library.Library) *figures {
	return &figures{l, bounded[want, Figure](mostFigures), bounded[want, []still](mostFilms), bounded[string, []byte](mostFigures)}
}

func bounded[K comparable, V any](most int) *lru.Cache[K, V] {
	c, err := lru.New[K, V](most)
	if err != nil {
		panic(err) // only for a size below one
	}
	return c
}

// get draws the figure, or finds it. A variant that has left the library since
// a plan was made has no figure any more, only its words.
func (f *figures) get(w want) Figure {
	if fig, ok := f.byWant.Get(w); ok && f.has(fig.URL) {
		return fig
	}
	v := f.library.Variant(w.variant)
	if v == nil {
		return Figure{}
	}
	size := draw.Thumb
	if w.large {
		size = draw.Large
	}
	picture, err := draw.Variant(v, w.form, w.pose, w.ghost, w.view, size, w.theme)
	if err != nil {
		return Figure{}
	}
	fig := Figure{f.store(picture.SVG), picture.W, picture.H}
	f.byWant.Add(w, fig)
	return fig
}

// still is one picture of a movement and its second.
type still struct {
	At  float64 `json:"at"`
	URL string  `json:"url"`
}

// film draws the stills of a movement, or finds them. Nothing waits for it meanwhile;
// two who ask at once may both draw it.
func (f *figures) film(w want) []still {
	if film, ok := f.films.Get(w); ok && !slices.ContainsFunc(film, func(s still) bool { return !f.has(s.URL) }) {
		return film
	}
	v := f.library.Variant(w.variant)
	if v == nil {
		return nil
	}
	stills, err := draw.Motion(v, w.form, w.view, draw.Film, w.theme)
	if err != nil {
		return nil
	}
	film := make([]still, len(stills))
	for i, s := range stills {
		film[i] = still{s.At, f.store(s.SVG)}
	}
	f.films.Add(w, film)
	return film
}

// store keeps a drawing under the hash of its content and returns its address.
func (f *figures) store(svg []byte) string {
	sum := sha256.Sum256(svg)
	name := hex.EncodeToString(sum[:8])
	f.byHash.Add(name, svg)
	return figurePath + name + ".svg"
}

const figurePath = "/figures/"

// has says whether the drawing at an address is there still, and keeps it longer.
func (f *figures) has(url string) bool {
	_, ok := f.byHash.Get(nameOf(strings.TrimPrefix(url, figurePath)))
	return ok
}

// thumb is the small figure of a variant.
func (f *figures) thumb(variant string) Figure {
	return f.get(want{variant: variant, theme: draw.Light})
}

// item is the want for an exercise of a plan, in the form it is to be taught.
func (f *figures) item(it plan.Item) want {
	w := want{variant: it.Variant, theme: draw.Light}
	if v := f.library.Variant(it.Variant); v != nil && (len(it.Adaptations) > 0 || it.SurfaceShare > 0) {
		w.form = v.FormAt(it.SurfaceShare, it.Adaptations)
	}
	return w
}

// onRibbon is the want for an exercise on the height ribbon, where bodies lie
// on a line and so are seen from the side.
func (f *figures) onRibbon(it plan.Item) want {
	w := f.item(it)
	if v := f.library.Variant(it.Variant); v != nil && v.Show.View == string(draw.AboveView) {
		w.view = draw.SideView
	}
	return w
}

// Warm draws what lists show, so that it is there when it is asked for.
func (f *Figures) Warm() { f.warm() }

func (f *figures) warm() {
	for _, v := range f.library.Variants {
		f.thumb(v.ID)
	}
}

func (f *figures) serve(c *gin.Context) {
	name := c.Param("name")
	svg, ok := f.byHash.Get(nameOf(name))
	if !ok {
		fail(c, http.StatusNotFound, "There is no such figure. Reload the page to have it drawn again.")
		return
	}
	lasts(c)
	c.Data(http.StatusOK, "image/svg+xml", svg)
}

func nameOf(file string) string { return strings.TrimSuffix(file, ".svg") }
