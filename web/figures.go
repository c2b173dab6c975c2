package web

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"net/http"
	"regexp"
	"strconv"
	"sync"

	"github.com/gin-gonic/gin"

	"restbend/core/exercise"
	"restbend/core/plan"
	"restbend/draw"
	"restbend/library"
)

// figures keeps every drawing once it is made, under the hash of its content.
type figures struct {
	library *library.Library
	mu      sync.Mutex
	byWant  map[want]Figure
	films   map[want][]still
	byHash  map[string][]byte
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

func newFigures(l *library.Library) *figures {
	return &figures{library: l, byWant: map[want]Figure{}, byHash: map[string][]byte{}, films: map[want][]still{}}
}

var drawnSize = regexp.MustCompile(` width="(\d+)" height="(\d+)"`)

// get draws the figure, or finds it. A variant that has left the library since
// a plan was made has no figure any more, only its words.
func (f *figures) get(w want) Figure {
	f.mu.Lock()
	fig, ok := f.byWant[w]
	f.mu.Unlock()
	if ok {
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
	svg, err := draw.Variant(v, w.form, w.pose, w.ghost, w.view, size, w.theme)
	if err != nil {
		return Figure{}
	}
	f.mu.Lock() // drawn outside the lock, so that two pages draw side by side
	defer f.mu.Unlock()
	return f.keep(w, svg)
}

// still is one picture of a movement and its second.
type still struct {
	At  float64 `json:"at"`
	URL string  `json:"url"`
}

// film draws the stills of a movement, or finds them.
func (f *figures) film(w want) []still {
	f.mu.Lock()
	defer f.mu.Unlock()
	if film, ok := f.films[w]; ok {
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
	f.films[w] = film
	return film
}

// store keeps a drawing under the hash of its content and returns its address.
func (f *figures) store(svg []byte) string {
	sum := sha256.Sum256(svg)
	name := hex.EncodeToString(sum[:8])
	f.byHash[name] = svg
	return "/figures/" + name + ".svg"
}

func (f *figures) keep(w want, svg []byte) Figure {
	fig := Figure{URL: f.store(svg)}
	if m := drawnSize.FindSubmatch(svg); m != nil {
		fig.W, _ = strconv.ParseFloat(string(m[1]), 64) // the pattern holds digits only
		fig.H, _ = strconv.ParseFloat(string(m[2]), 64)
	}
	f.byWant[w] = fig
	return fig
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
func (f *figures) onRibbon(it plan.Item, theme draw.Theme) want {
	w := f.item(it)
	w.theme = theme
	if v := f.library.Variant(it.Variant); v != nil && v.Show.View == string(draw.AboveView) {
		w.view = draw.SideView
	}
	return w
}

// warm draws every thumbnail ahead of need.
func (f *figures) warm() {
	for _, v := range f.library.Variants {
		f.thumb(v.ID)
	}
}

func (f *figures) serve(c *gin.Context) {
	name := c.Param("name")
	f.mu.Lock()
	svg, ok := f.byHash[trimSVG(name)]
	f.mu.Unlock()
	if !ok {
		fail(c, http.StatusNotFound, "There is no such figure. Reload the page to have it drawn again.")
		return
	}
	c.Header("Cache-Control", "public, max-age=31536000, immutable")
	c.Data(http.StatusOK, "image/svg+xml", svg)
}

func trimSVG(name string) string { return string(bytes.TrimSuffix([]byte(name), []byte(".svg"))) }
