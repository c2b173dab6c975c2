package limit

import (
	"math"
	"slices"
	"strings"

	"restbend/core/exercise"
)

// Reason is why a limit or a verdict is as it is.
type Reason struct {
	Rule     string `json:"rule"`
	Text     string `json:"text"`
	Quantity string `json:"quantity,omitempty"`
	Value    any    `json:"value,omitempty"`
	Limit    any    `json:"limit,omitempty"`
	Source   string `json:"source"`
	When     string `json:"when,omitempty"` // how soon somebody has to be asked, of what refers
}

// Urgent says whether what refers cannot wait until the next session.
func (r Reason) Urgent() bool { return r.When == Now || r.When == SameDay }

// Limit is one row: what holds for one quantity, the strictest of all sources, with
// every source's reason.
type Limit struct {
	Quantity string         `json:"quantity"`
	Max      any            `json:"max,omitempty"` // a number, or the most for an ordered word
	Allowed  *bool          `json:"allowed,omitempty"`
	When     exercise.Scope `json:"when"`
	With     *With          `json:"with,omitempty"`
	Needs    []string       `json:"needs,omitempty"` // aids, any of which makes the row harmless
	Reasons  []Reason       `json:"reasons"`
	// Protects says that a moving end stays MovingMargin away from the figure: new joints, repairs
	// and discs.
	Protects bool `json:"protects,omitempty"`
	// Bar tells a shut direction from a cap, for drawings and sentences.
	Bar bool `json:"bar"`

	key  exercise.Key // what is looked at; of no quantity where the name is not known
	rest exercise.Key // the same at rest, of a row that protects
	most float64      // on the scale that values are kept on

	slack float64 // by which a value may be over
}

// Number is the limit's figure; ok is false for flags and words.
func (l Limit) Number() (float64, bool) {
	v, ok := l.Max.(float64)
	return v, ok
}

// size is the body that shares of weight and height are of.
type size struct{ heightCM, massKG float64 }

func (b size) newtonMetres(share float64) float64 {
	return exercise.NewtonMetres(share, b.heightCM, b.massKG)
}

// row makes a row of a limit as it is written: a number (of lumbar_moment a share of
// weight × height), a word or false. A name or value that is not known, which checks at
// load and on reading refuse, makes a row that everything breaks.
func (b size) row(quantity string, when exercise.Scope, written any, because Reason) Limit {
	l := Limit{Quantity: quantity, When: when, Reasons: []Reason{because}, most: math.NaN()}
	q, side := exercise.Split(quantity)
	if q != nil {
		if key, err := q.Key(side, when); err == nil {
			l.key = key
		}
		if most, err := q.Scale(written); err == nil {
			l.most = most
		}
		if q.Unit == exercise.Degrees {
			l.slack = DegreesSlack
		}
		if still := exercise.Find(q.ID + "_resting"); still != nil {
			if key, err := still.Key(side, exercise.WhenAny); err == nil {
				l.rest = key
			}
		}
	}
	switch v := written.(type) {
	case bool:
		l.Allowed = &v
	case float64:
		if l.Max = v; q != nil && q.ID == "lumbar_moment" {
			l.Max = round(b.newtonMetres(v), 1)
		}
	default:
		l.Max = v
	}
	return l
}

// RowsOf are the rows of limits as they are written, for a body of this height and mass: of
// those marked as sided on one side, or on both where none is given. A bar is a direction
// that is shut.
func RowsOf(written []RuleLimit, side string, bar bool, because Reason, heightCM, massKG float64) []Limit {
	var out []Limit
	body := size{heightCM, massKG}
	for _, l := range written {
		names := []string{l.Quantity}
		if l.Sided {
			q, _ := exercise.Split(l.Quantity)
			names = sidesOf(q, side)
		}
		for _, name := range names {
			row := body.row(name, l.when(), l.written(), because)
			row.With, row.Needs, row.Bar, row.Protects = l.With, l.Needs, bar, l.Protects
			out = append(out, row)
		}
	}
	return out
}

// same says whether two rows limit the same thing: a quantity and side, in a scope,
// together with the same other quantity and made harmless by the same aids.
func (l Limit) same(o Limit) bool {
	return l.Quantity == o.Quantity && l.When == o.When && slices.Equal(l.Needs, o.Needs) &&
		(l.With == nil) == (o.With == nil) && (l.With == nil || *l.With == *o.With)
}

// merge puts the rows of all sources together. This is the order of precedence, whole:
//
//  1. What refers (a warning sign, an age, a condition) is no row: it stands beside the
//     limits and nothing here touches it.
//  2. A clearance takes away the rows of the rule that it names, before they come here,
//     and nothing else.
//  3. Of rows that limit the same thing the strictest wins, whichever source it is of,
//     a clinician's instruction included; the reasons of all are kept.
//  4. Rows of other scopes (loaded, held, fast), sides, companions and aids all hold at
//     once, beside one another.
//
// The rows come out by quantity and scope.
func merge(rows []Limit) []Limit {
	var out []Limit
	for _, n := range rows {
		i := slices.IndexFunc(out, n.same)
		if i < 0 {
			n.Reasons = slices.Clone(n.Reasons)
			out = append(out, n)
			continue
		}
		l := &out[i]
		l.Reasons = append(l.Reasons, n.Reasons...)
		l.Bar, l.Protects = l.Bar || n.Bar, l.Protects || n.Protects
		if !(n.most >= l.most) { // stricter, or not to be compared
			l.Max, l.Allowed, l.key, l.most = n.Max, n.Allowed, n.key, n.most
		}
	}
	slices.SortStableFunc(out, func(a, b Limit) int {
		return strings.Compare(a.Quantity+string(a.When), b.Quantity+string(b.When))
	})
	return out
}

// How much over a figure still passes: rounding, since a published figure is rounded to a tenth; of
// an angle half a degree, which nobody sees. A moving end stays MovingMargin degrees away from
// what is protected (common practice).
const (
	slack        = 0.0001
	DegreesSlack = 0.5

	MovingMargin = 5.0
)

// breaks says whether a form breaks the row, and with which value on the scale of the
// quantity. What was not measured breaks: it is not a number, and no comparison with it
// holds.
func (l Limit) breaks(m exercise.Measured) (value float64, broken bool) {
	for _, aid := range l.Needs {
		if m.Flag(aid) {
			return 0, false
		}
	}
	if l.With != nil {
		return l.together(m)
	}
	value = m.At(l.key)
	most := l.most + math.Max(slack, l.slack)
	if l.Protects && l.When == exercise.WhenAny {
		if still := m.At(l.rest); !(value <= still+DegreesSlack) { // it moves there
			most = l.most - MovingMargin + DegreesSlack
		}
	}
	return value, !(value <= most)
}

// together looks for an instant at which both quantities are over.
func (l Limit) together(m exercise.Measured) (value float64, broken bool) {
	if len(m.Moments) == 0 {
		return math.NaN(), true
	}
	for _, moment := range m.Moments {
		value = moment.Worst(l.Quantity)
		if !(value <= l.most+math.Max(slack, l.slack)) && !(moment.Worst(l.With.Quantity) <= l.With.Over) {
			return value, true
		}
	}
	return 0, false
}

func round(v float64, digits int) float64 {
	p := math.Pow(10, float64(digits))
	return math.Round(v*p) / p
}

// BrokenBy says whether what was measured of a form breaks the row.
func (l Limit) BrokenBy(m exercise.Measured) bool {
	_, broken := l.breaks(m)
	return broken
}
