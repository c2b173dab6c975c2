package app

import (
	"context"
	"encoding/json"
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"
	_ "time/tzdata" // for machines that have no zones
	"unicode/utf8"

	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/formats"
	"restbend/store"
)

// Look is how one person sees the pages, on every device they sign in on.
type Look struct {
	Scheme  string `json:"scheme,omitempty"` // light, dark, or empty to follow the system
	Text    string `json:"text,omitempty"`   // large, larger, or empty for the usual size
	Units   Units  `json:"units,omitempty"`
	Letters string `json:"letters,omitempty"` // off where a single letter is no short cut
	Cues    string `json:"cues,omitempty"`    // how many of an exercise are shown: 1, 2, or empty for all
}

// Shown is a session with as many cues of each exercise as are wanted, from the first.
func (l Look) Shown(p plan.Plan) plan.Plan {
	n, err := strconv.Atoi(l.Cues)
	if err != nil {
		return p
	}
	p.Items = slices.Clone(p.Items)
	for i, it := range p.Items {
		p.Items[i].Cues = it.Cues[:min(n, len(it.Cues))]
	}
	return p
}

// lookKey is where the look of a person is kept.
func lookKey(person string) string { return "look:" + person }

// LookOf is how a person sees the pages; the default where they never chose.
func (s *Studio) LookOf(ctx context.Context, person string) Look {
	var l Look
	if err := json.Unmarshal([]byte(s.Store.Setting(ctx, lookKey(person))), &l); err != nil || l.check() != nil {
		return Look{}
	}
	return l
}

func (l Look) check() error {
	for _, x := range []struct {
		path, value string
		known       []string
	}{{"scheme", l.Scheme, []string{"", "light", "dark"}}, {"size of the text", l.Text, []string{"", "large", "larger"}},
		{"units", string(l.Units), []string{"", "imperial"}}, {"cues", l.Cues, []string{"", "1", "2"}},
		{"letters", l.Letters, []string{"", "off"}}} {
		if !slices.Contains(x.known, x.value) {
			return &formats.Invalid{Path: x.path, Want: fmt.Sprintf("%q is not one of those offered", x.value)}
		}
	}
	return nil
}

// SetLook keeps how a person sees the pages.
func (s *Studio) SetLook(ctx context.Context, person string, l Look) error {
	if err := l.check(); err != nil {
		return err
	}
	doc, err := json.Marshal(l)
	if err != nil {
		return err
	}
	return s.Store.Change(ctx, func(t *store.Tx) error { return t.SetSetting(lookKey(person), string(doc)) })
}

// House is what holds for the whole studio.
type House struct {
	Name     string            `json:"-"`
	Days     []time.Weekday    `json:"days"`           // on which it is open; none said means every day
	From     string            `json:"from,omitempty"` // local times such as 08:30; empty for any
	To       string            `json:"to,omitempty"`
	Room     []string          `json:"room"` // equipment that stands there
	Place    exercise.Place    `json:"place,omitempty"`
	Approach exercise.Approach `json:"approach,omitempty"` // of a new client
	Minutes  int               `json:"minutes,omitempty"`
	// Emergency is the number to ring; empty where it was not set.
	Emergency string `json:"emergency,omitempty"`
	Zone      string `json:"zone,omitempty"` // of the studio, such as Europe/Lisbon; empty for the machine's
}

// zoneOf is a time zone by its name; nil, the machine's, for none.
func zoneOf(name string) (*time.Location, error) {
	if name == "" {
		return nil, nil
	}
	if zone, err := time.LoadLocation(name); err == nil && name != "Local" {
		return zone, nil
	}
	return nil, &formats.Invalid{Path: "time zone",
		Want: fmt.Sprintf("expected a name such as Europe/Lisbon or America/Lima, or nothing for this computer’s, found %q", name)}
}

// emergencyNumber is how a number to ring is written.
var emergencyNumber = regexp.MustCompile(`^\+?[0-9][0-9 ]{1,18}$`)

// House is what was set for the studio, with what is usual where nothing was.
func (s *Studio) House(ctx context.Context) House {
	var h House
	if err := json.Unmarshal([]byte(s.Store.Setting(ctx, "house")), &h); err != nil {
		h = House{}
	}
	h.Name = s.Store.Setting(ctx, "studio")
	if len(h.Room) == 0 {
		h.Room = []string{"mat", "chair"}
	}
	if h.Place == "" {
		h.Place = "mat"
	}
	if h.Approach == "" {
		h.Approach = "steady"
	}
	if h.Minutes == 0 {
		h.Minutes = limit.DefaultMinutes
	}
	return h
}

// Closed says why nothing is usually taught on a day at a time; "" when the studio is open.
func (h House) Closed(on civil.Day, at string) string {
	if len(h.Days) > 0 && !slices.Contains(h.Days, on.Weekday()) {
		return "The studio is closed on " + on.Weekday().String() + "s."
	}
	if at != "" && h.From != "" && at < h.From {
		return "The studio opens at " + h.From + "."
	}
	if at != "" && h.To != "" && at >= h.To {
		return "The studio closes at " + h.To + "."
	}
	return ""
}

// SetHouse keeps what holds for the studio. A refusal is a *formats.Invalid.
func (s *Studio) SetHouse(ctx context.Context, h House) error {
	h.Name = strings.TrimSpace(h.Name)
	if n := utf8.RuneCountInString(h.Name); n < 1 || n > 80 {
		return &formats.Invalid{Path: "name of the studio", Want: "expected 1 to 80 characters"}
	}
	for _, at := range []string{h.From, h.To} {
		if at != "" {
			if err := checkTime(at); err != nil {
				return err
			}
		}
	}
	if h.From != "" && h.To != "" && h.To <= h.From {
		return &formats.Invalid{Path: "closes at", Want: fmt.Sprintf("expected a time after %s, found %s", h.From, h.To)}
	}
	for _, e := range h.Room {
		if err := known("equipment", e, exercise.Equipment); err != nil {
			return err
		}
	}
	if err := known("place", h.Place, exercise.Places); err != nil {
		return err
	}
	if err := known("approach", h.Approach, exercise.Approaches); err != nil {
		return err
	}
	if h.Minutes < 5 || h.Minutes > 120 {
		return &formats.Invalid{Path: "minutes", Want: "expected 5 to 120, found " + strconv.Itoa(h.Minutes)}
	}
	if h.Emergency = strings.TrimSpace(h.Emergency); h.Emergency != "" && !emergencyNumber.MatchString(h.Emergency) {
		return &formats.Invalid{
			Path: "emergency number",
			Want: fmt.Sprintf("expected a number to ring such as 112, found %q", h.Emergency),
		}
	}
	h.Zone = strings.TrimSpace(h.Zone)
	if _, err := zoneOf(h.Zone); err != nil {
		return err
	}
	for _, d := range h.Days {
		if d < time.Sunday || d > time.Saturday {
			return &formats.Invalid{Path: "days", Want: "expected days of the week"}
		}
	}
	doc, err := json.Marshal(h)
	if err != nil {
		return err
	}
	err = s.Store.Change(ctx, func(t *store.Tx) error {
		if err := t.SetSetting("studio", h.Name); err != nil {
			return err
		}
		return t.SetSetting("house", string(doc))
	})
	if err == nil {
		s.apply(h)
	}
	return err
}
