package app

import (
	"slices"
	"time"

	"restbend/core/civil"
	"restbend/core/limit"
	"restbend/store"
)

// dated is a client whose figures of the day carry their days, beside the client as it was
// saved before, if at all: pain, pressure and height that are new are of today.
func (s *Studio) dated(c limit.Client, before *store.Client) limit.Client {
	today := s.Today().String()
	was := limit.Client{}
	if before != nil {
		was = before.Client
	}
	switch {
	case c.Pain.Now == nil && c.Pain.Worst24h == nil:
		c.Pain.On = ""
	case !same(c.Pain.Now, was.Pain.Now) || !same(c.Pain.Worst24h, was.Pain.Worst24h):
		if c.Pain.On == "" || c.Pain.On == was.Pain.On {
			c.Pain.On = today
		}
	case c.Pain.On == "":
		c.Pain.On = today
	}
	switch {
	case c.RestingPressure == "":
		c.RestingPressureOn = ""
	case c.RestingPressureOn == "" || c.RestingPressure != was.RestingPressure && c.RestingPressureOn == was.RestingPressureOn:
		c.RestingPressureOn = today
	}
	c.Heights = s.heights(c, before)
	if n := len(c.Heights); n > 0 {
		c.HeightCM = c.Heights[n-1].CM
	}
	return c
}

func same(a, b *int) bool { return a == nil && b == nil || a != nil && b != nil && *a == *b }

// heights are the measured heights with the one now among them. Another height on the same
// day is a correction.
func (s *Studio) heights(c limit.Client, before *store.Client) []limit.Height {
	out := slices.Clone(c.Heights)
	if before != nil && len(out) == 0 {
		out = slices.Clone(before.Client.Heights)
	}
	if c.HeightCM <= 0 {
		return out
	}
	if before != nil && len(out) == 0 && before.Client.HeightCM > 0 { // kept before heights had days
		out = append(out, limit.Height{CM: before.Client.HeightCM, On: s.dayAt(before.Updated)})
	}
	slices.SortStableFunc(out, func(a, b limit.Height) int { return civilOrder(a.On, b.On) })
	if n := len(out); n > 0 && out[n-1].CM == c.HeightCM {
		return out
	}
	today := s.Today().String()
	out = slices.DeleteFunc(out, func(h limit.Height) bool { return h.On == today })
	return append(out, limit.Height{CM: c.HeightCM, On: today})
}

func civilOrder(a, b string) int {
	x, _ := civil.Parse(a) // days that were checked
	y, _ := civil.Parse(b)
	return x.Compare(y)
}

// dayAt is the day of an instant as the database writes it, by the studio's clock.
func (s *Studio) dayAt(instant string) string {
	t, err := time.Parse(time.RFC3339Nano, instant)
	if err != nil {
		return s.Today().String()
	}
	return civil.Of(t.In(s.Now().Location())).String()
}
