package web

import (
	"context"
	"fmt"
	"html/template"
	"math"
	"net/http"
	"net/url"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/body"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/draw"
	"restbend/formats"
	"restbend/store"
)

// bench is the lever bench as shown.
type bench struct {
	Wish    app.LeverWish
	Client  string
	Clients []store.Client
	Answer  formats.Lever
	Figure  template.HTML
	Bars    template.HTML
	Change  string    // against the floor version
	Cap     string    // against the client's cap
	Owned   []float64 // surfaces the client has, cm
	Known   bool      // the height at hand is one of them
	Over    bool
	Refusal string
	Units   app.Units
	Usual   string // size of whoever is not named
}

func (w *site) lever(c *gin.Context) {
	clients, err := w.choices(c.Request.Context(), c.Query("client"))
	if err != nil {
		w.refused(c, err)
		return
	}
	u := visitorOf(c).Look.Units
	b := bench{
		Client:  c.Query("client"),
		Clients: clients,
		Units:   u,
		Usual:   u.Height(limit.DefaultHeightCM) + ", " + u.Mass(limit.DefaultMassKG),
		Wish: app.LeverWish{On: query(c, "on", "hands"), From: query(c, "from", "toes"), Side: c.Query("side") == "yes",
			HeightCM: limit.DefaultHeightCM, MassKG: limit.DefaultMassKG},
	}
	var set limit.Limits
	if b.Client != "" {
		k, err := w.Store.Client(c.Request.Context(), b.Client)
		if err != nil {
			w.refused(c, err)
			return
		}
		b.Wish.HeightCM, b.Wish.MassKG = k.Client.Size()
		set = w.Limits(k.Client, w.Today()).Limits
		b.Owned = k.Client.Owned.SurfaceCM
	}
	status := http.StatusOK
	var ok bool
	if b.Wish.RaiseCM, ok = readNumber(query(c, "raise", "0")); !ok {
		err = &formats.Invalid{Path: "raise", Want: fmt.Sprintf("expected centimetres as a number, found %q", c.Query("raise"))}
	}
	var l body.Lever
	if err == nil {
		l, err = app.Lever(b.Wish)
	}
	if err != nil {
		status, b.Refusal = w.sentence(c, err)
		if status != http.StatusUnprocessableEntity {
			fail(c, status, b.Refusal)
			return
		}
		b.Refusal = strings.Replace(b.Refusal, "Raise-cm: ", "Surface: ", 1)
	} else {
		b.show(l, set)
	}
	b.Known = slices.Contains(b.Owned, b.Wish.RaiseCM)
	w.pages.render(c, status, "lever", b)
}

// addSurface keeps a height tried on the bench as one the client has.
func (w *site) addSurface(c *gin.Context) {
	cm, ok := readNumber(c.PostForm("surface"))
	err := error(
		&formats.Invalid{Path: "surface", Want: fmt.Sprintf("expected centimetres as a number, found %q", c.PostForm("surface"))},
	)
	if ok {
		err = w.idempotentOnly(c, func(ctx context.Context) error { return w.AddSurface(ctx, c.Param("id"), cm) })
	}
	if err != nil {
		w.refused(c, err)
		return
	}
	c.Redirect(
		http.StatusSeeOther,
		"/lever?"+url.Values{
			"client": {c.Param("id")},
			"raise":  {c.PostForm("surface")},
			"on":     {c.PostForm("on")},
			"from":   {c.PostForm("from")},
		}.Encode(),
	)
}

func query(c *gin.Context, field, otherwise string) string {
	if v := c.Query(field); v != "" {
		return v
	}
	return otherwise
}

// show works out what the bench says of a shape.
func (b *bench) show(l body.Lever, set limit.Limits) {
	b.Answer = formats.NewLever(l, b.Wish.HeightCM, b.Wish.MassKG)
	b.Figure = template.HTML(leanSVG(l, b.Wish))
	arms := b.Answer.HandsShare + b.Answer.ForearmsShare
	floor, err := app.Lever(
		app.LeverWish{On: b.Wish.On, From: b.Wish.From, Side: b.Wish.Side, HeightCM: b.Wish.HeightCM, MassKG: b.Wish.MassKG},
	)
	floorArms, floorMoment, floorCompression := 0.0, 0.0, 0.0
	if err == nil { // the floor version always exists; without it nothing is compared
		f := formats.NewLever(floor, b.Wish.HeightCM, b.Wish.MassKG)
		floorArms, floorMoment, floorCompression = f.HandsShare+f.ForearmsShare, f.LumbarMoment, f.LumbarCompression
		if b.Wish.RaiseCM > 0 {
			b.Change = fmt.Sprintf(
				"On the floor the arms carry %.0f%% and the low back %.0f N·m: here %s and %s.",
				100*floorArms,
				floorMoment,
				lessOrMore(100*(arms-floorArms), "points"),
				lessOrMore(b.Answer.LumbarMoment-floorMoment, "N·m"),
			)
		}
	}
	moment, compression := 0.0, 0.0
	for m := range set.Rows() {
		switch figure, ok := m.Number(); {
		case ok && m.Quantity == "lumbar_moment":
			moment = figure
		case ok && m.Quantity == "lumbar_compression":
			compression = figure
		}
	}
	b.Bars = template.HTML(draw.SVGLoads([]draw.Load{
		{Name: armWords(b.Wish), Value: arms, Floor: floorArms, Full: 1, Words: fmt.Sprintf("%.0f%%", 100*arms)},
		{Name: legWords(b.Wish), Value: 1 - arms, Floor: 1 - floorArms, Full: 1, Words: fmt.Sprintf("%.0f%%", 100-math.Round(100*arms))},
		{
			Name:  "the low back",
			Value: b.Answer.LumbarMoment,
			Floor: floorMoment,
			Full:  exercise.NewtonMetres(0.12, b.Wish.HeightCM, b.Wish.MassKG),
			Cap:   moment,
			Words: fmt.Sprintf("%.0f N·m", b.Answer.LumbarMoment),
		},
		{
			Name:  "compression of its discs, times quiet standing",
			Value: b.Answer.LumbarCompression,
			Floor: floorCompression,
			Full:  4,
			Cap:   compression,
			Words: fmt.Sprintf("%.1f ×", b.Answer.LumbarCompression),
		},
	}, draw.Light))
	if b.Client != "" {
		b.against(l, set, moment)
	}
}

// against holds the shape against the client's caps on the low back and wrists.
func (b *bench) against(l body.Lever, set limit.Limits, cap float64) {
	one := l.Hands
	if !b.Wish.Side {
		one /= 2
	}
	m := exercise.AtRest() // nothing else is looked at
	m = m.With("lumbar_moment", l.LowBack).With("lumbar_compression", b.Answer.LumbarCompression).With("wrist_load", one)
	broken := set.Breaks(m)
	switch {
	case len(broken) > 0:
		b.Over = true
		b.Cap = app.ReasonWords(broken[0])
	case cap > 0:
		b.Cap = fmt.Sprintf("Within the cap of %.0f N·m for the low back.", cap)
	default:
		b.Cap = "No cap on these loads for this client."
	}
}

func lessOrMore(change float64, unit string) string {
	word := "more"
	if change < 0 {
		word = "less"
	}
	return fmt.Sprintf("%.0f %s %s", math.Abs(change), unit, word)
}

func armWords(w app.LeverWish) string {
	switch {
	case w.Side && w.On == "forearms":
		return "the forearm"
	case w.Side:
		return "the hand"
	}
	return "the " + w.On
}

func legWords(w app.LeverWish) string {
	if w.From == "toes" {
		return "the feet"
	}
	return "the knees"
}

// leanSVG draws the shape with the surface it leans on, its feet always at the
// same place.
func leanSVG(l body.Lever, wish app.LeverWish) []byte {
	f := l.Figure
	at := f.Legs[body.Right].End
	if wish.From == "knees" {
		at = f.Legs[body.Right].Mid
	}
	f.Shift(body.Vec{X: -at.X, Y: -f.Origin.Y})
	var props []draw.Prop
	for _, s := range l.Scene.Boxes {
		lo, hi := s.Min, s.Max
		lo.X, hi.X = lo.X-at.X, hi.X-at.X
		props = append(props, draw.Prop{Min: lo, Max: hi})
		for _, x := range []float64{lo.X + 0.02, hi.X - 0.035} {
			props = append(props, draw.Prop{Min: body.Vec{X: x, Y: -0.2}, Max: body.Vec{X: x + 0.015, Y: -0.18, Z: lo.Z}})
		}
	}
	room := []body.Vec{{X: -0.22, Z: -0.02}, {X: 1.2, Z: 0.98}}
	s := draw.Subject{Figure: &f, Props: props, View: draw.SideView, Room: room}
	if wish.Side { // lying on the right side the head is to the left
		s.Room = []body.Vec{{X: -1.2, Z: -0.02}, {X: 0.22, Z: 0.98}}
	}
	return draw.SVG(s, draw.Large, draw.Light).SVG
}
