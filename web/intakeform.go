package web

import (
	"errors"
	"fmt"
	"maps"
	"net/url"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/formats"
)

// intake is the client form as shown: what was typed, and what is wrong.
type intake struct {
	ID      string // of a client that is changed
	Draft   string // where it is kept as it is filled in
	Step    int    // how often it was kept
	Resumed bool   // it was begun earlier
	Version string
	Year    int // this year
	Client  limit.Client
	Values  map[string]string // what was typed into free fields, kept on a refusal
	Wrong   map[string]string // sentence by field
	Refusal string
	Units   string // in which heights and weights were sent: imperial or metric
}

// idle marks the answers that would have no effect: what is asked about a condition that
// is not ticked. Where it is taken out of a client, its answers go with it.
func (f *intake) idle(conditions []app.ConditionForm, posted url.Values, before *limit.Client) {
	for _, k := range conditions {
		if slices.Contains(posted["conditions"], k.ID) || before != nil && before.Has(k.ID) {
			continue
		}
		names := []string{}
		for _, d := range k.Details {
			names = append(names, k.ID+"."+d.Name)
		}
		if k.ID == "osteoporosis" {
			names = append(names, "strict")
		}
		for _, name := range names {
			if typed := strings.TrimSpace(posted.Get(name)); typed != "" {
				f.Values[name] = typed
				f.Wrong[name] = fmt.Sprintf("This counts only where “%s” is ticked: tick it, or take this answer out.", k.Words)
			}
		}
	}
}

// take puts a refusal beside the field it names.
func (f *intake) take(err error) bool {
	var invalid *formats.Invalid
	if !errors.As(err, &invalid) {
		return false
	}
	field := app.FormField(f.Client, invalid.Path)
	if at := strings.Index(field, "["); at > 0 && strings.HasPrefix(field, "owned.") {
		field = field[:at]
	}
	want := invalid.Want
	if unitsOf(f.Units) == app.Imperial { // what is kept is metric, and so are its bounds
		switch {
		case strings.HasSuffix(field, "_cm"):
			want += ", in centimetres"
		case strings.HasSuffix(field, "_kg"):
			want += ", in kilograms"
		}
	}
	f.Wrong[field] = app.Capital(want) + "."
	f.Refusal = app.Capital(strings.ReplaceAll(strings.TrimPrefix(field, "owned."), "_", " ")) + ": " + want + "."
	return true
}

// readIntake reads the form into the client it starts from.
//
//revive:disable-next-line:cyclomatic One field of the form after the other.
func readIntake(conditions limit.Conditions, form url.Values, into limit.Client, year int) intake {
	f := intake{Client: into, Year: year, Units: form.Get("units"), Values: map[string]string{}, Wrong: map[string]string{}}
	k := &f.Client
	number := func(field string, what string) *float64 {
		v := strings.TrimSpace(form.Get(field))
		f.Values[field] = v
		if v == "" {
			return nil
		}
		n, ok := readNumber(v)
		if !ok {
			f.Wrong[field] = fmt.Sprintf("Expected %s as a number, found %q.", what, v)
			return nil
		}
		return &n
	}
	whole := func(field, what string) *int {
		p := number(field, what)
		if p == nil {
			return nil
		}
		n := int(*p)
		if float64(n) != *p {
			f.Wrong[field] = fmt.Sprintf("Expected %s as a whole number.", what)
		}
		return &n
	}
	k.Name = strings.TrimSpace(form.Get("name"))
	switch flags := form["red_flags"]; {
	case form.Get("asked") == "yes" && len(flags) > 0:
		first, _ := limit.FindRedFlag(flags[0])
		f.Wrong["red_flags"] = fmt.Sprintf("“Asked all, none” and “%s” are both marked: which of the two is right?", first.Name)
		k.RedFlags = flags
	case len(flags) > 0:
		k.RedFlags = flags
	case form.Get("asked") == "yes":
		k.RedFlags = []string{}
	default:
		k.RedFlags = nil
	}
	if k.RedFlags != nil { // whoever came from a table has been asked now
		k.Screened = nil
	}
	k.OtherConditions = readOthers(form["other_conditions"], into.OtherConditions)
	k.Notes, k.Pronouns = strings.TrimSpace(form.Get("notes")), form.Get("pronouns")
	k.UsualPain = whole("usual_pain", "0 to 5")
	k.BirthYear = 0
	if y := whole("birth_year", "a year such as 1956"); y != nil {
		k.BirthYear = *y
	}
	if age := whole("age", "years"); age != nil {
		switch made := f.Year - *age; {
		case k.BirthYear == 0 && f.Wrong["birth_year"] == "":
			k.BirthYear = made
		case k.BirthYear != made && k.BirthYear != made-1:
			f.Wrong["age"] = fmt.Sprintf(
				"Born in %d makes %d, and the age is given as %d: which of the two is right?",
				k.BirthYear,
				f.Year-k.BirthYear,
				*age,
			)
		}
	}
	k.Sex = form.Get("sex")
	u := unitsOf(form.Get("units"))
	sized := func(field, what string, read func(string) (float64, bool)) float64 {
		v := strings.TrimSpace(form.Get(field))
		f.Values[field] = v
		n, ok := read(v)
		if v != "" && !ok {
			f.Wrong[field] = fmt.Sprintf("Expected %s, found %q.", what, v)
		}
		return n
	}
	const aHeight, aWeight = "a height such as 168 cm or 5 ft 6", "a weight such as 68 kg or 150 lb"
	k.HeightCM = sized("height_cm", aHeight, u.ReadHeight)
	k.MassKG = sized("mass_kg", aWeight, u.ReadMass)
	k.TallestHeightCM = sized("tallest_height_cm", aHeight, u.ReadHeight)
	k.EasedBy, k.WorseBy = strings.TrimSpace(form.Get("eased_by")), strings.TrimSpace(form.Get("worse_by"))
	k.GoalText = strings.TrimSpace(form.Get("goal_text"))
	k.Goals = nil
	for _, g := range form["goals"] {
		k.Goals = append(k.Goals, exercise.Purpose(g))
	}
	k.Tasks = form["tasks"]
	k.Conditions = app.ReadConditions(conditions, form, number, f.Values)
	k.Pain.Now, k.Pain.Worst24h, k.Pain.SettlesHours = whole("pain_now", "0 to 10"), whole("pain_worst",
		"0 to 10"), number("settles_hours", "hours")
	if n, worst := k.Pain.Now, k.Pain.Worst24h; n != nil && worst != nil && *n > *worst && f.Wrong["pain_now"] == "" {
		f.Wrong["pain_worst"] = fmt.Sprintf("Pain now is %d and the worst of the last day %d: which of the two is right?", *n, *worst)
	}
	bears := func(name string) *bool {
		yes := form.Get("bears_"+name) != "no"
		if yes {
			return nil
		}
		return &yes
	}
	k.Tolerates = limit.Tolerates{
		Floor:           bears("floor"),
		Kneeling:        bears("kneeling"),
		Prone:           bears("prone"),
		SupineFlat:      bears("supine_flat"),
		WristLoad:       bears("wrist_load"),
		StandingMinutes: number("standing_minutes", "minutes"),
	}
	k.Place, k.Approach = exercise.Place(form.Get("place")), exercise.Approach(form.Get("approach"))
	k.Equipment = form["equipment"]
	k.Owned = readOwned(form, u, &f)
	k.Minutes = 0
	if m := whole("minutes", "5 to 120"); m != nil {
		k.Minutes = *m
		if *m < 5 || *m > 120 {
			f.Wrong["minutes"] = fmt.Sprintf("Expected 5 to 120 minutes, found %d.", *m)
		}
	}
	k.Strict = form.Get("strict") == "yes"
	k.Steroids.Taken = form.Get("steroids") == "yes"
	k.BetaBlocker, k.Sedatives = form.Get("beta_blocker") == "yes", form.Get("sedatives") == "yes"
	if form.Has("last_height_cm") {
		k.LastHeightCM = sized("last_height_cm", aHeight, u.ReadHeight)
	}
	k.FallsThisYear = 0
	if n := whole("falls_this_year", "0 to 99"); n != nil {
		k.FallsThisYear = *n
	}
	k.FallInjury = form.Get("fall_injury") == "yes"
	k.Measures = slices.DeleteFunc(slices.Clone(k.Measures), func(m limit.Measure) bool { return m.ID == "breath_seconds" })
	if b := number("breath_seconds", "seconds"); b != nil {
		k.Measures = append(k.Measures, limit.Measure{ID: "breath_seconds", Value: *b})
	}
	return f
}

// readOthers reads conditions in words, one a line; what was agreed of one that stays is
// kept.
func readOthers(typed []string, before []limit.OtherCondition) []limit.OtherCondition {
	var out []limit.OtherCondition
	for _, line := range strings.Split(strings.Join(typed, "\n"), "\n") {
		text := strings.TrimSpace(line)
		if text == "" {
			continue
		}
		o := limit.OtherCondition{Text: text}
		for _, b := range before {
			if b.Text == text {
				o = b
			}
		}
		out = append(out, o)
	}
	return out
}

// suchAs says how figures of things are asked for.
var suchAs = map[app.Units]struct{ Surface, Weight, Pillow string }{
	app.Metric:   {"heights in centimetres such as 45 75", "kilograms such as 1 2", "centimetres such as 6 10"},
	app.Imperial: {"heights in inches such as 18 30", "pounds such as 2 5", "inches such as 3 4"},
}

// unitsOf reads in which units a form was written.
func unitsOf(field string) app.Units {
	if field == string(app.Imperial) {
		return app.Imperial
	}
	return app.Metric
}

// figureAndUnit is a figure before its unit, which belong together in a row of figures.
var figureAndUnit = regexp.MustCompile(`(\d) +(cm|in|kg|lb|m)\b`)

// tightComma is one that may part two figures or stand for a decimal point.
var tightComma = regexp.MustCompile(`\d,\d`)

// readOwned reads the heights, strengths and weights there are. Figures stand in one
// field each, parted by spaces, commas or semicolons; a comma that may as well be a
// decimal point is asked about.
func readOwned(form url.Values, u app.Units, f *intake) limit.Owned {
	list := func(field, what string, read func(string) (float64, bool)) (out []float64) {
		field = "owned." + field
		text := strings.TrimSpace(form.Get(field))
		f.Values[field] = text
		if both := tightComma.FindString(text); both != "" {
			f.Wrong[field] = fmt.Sprintf("Is %q one figure or two? Write 1.5 for one, and 1 5 for two.", both)
			return nil
		}
		for _, word := range strings.FieldsFunc(figureAndUnit.ReplaceAllString(text, "$1$2"),
			func(r rune) bool { return r == ' ' || r == ';' || r == ',' }) {
			n, ok := read(word)
			if !ok {
				f.Wrong[field] = fmt.Sprintf("Expected %s, found %q.", what, word)
				return nil
			}
			out = append(out, n)
		}
		return out
	}
	such := suchAs[u]
	o := limit.Owned{SurfaceCM: list("surface_cm", such.Surface, u.ReadLength), WeightKG: list("weight_kg", such.Weight, u.ReadMass),
		PillowCM: list("pillow_cm", such.Pillow, u.ReadLength), Band: form["owned.band"], Arc: form["owned.arc"]}
	for _, n := range list("wedge_grade", "grades from 1 to 4", readNumber) {
		if n != float64(int(n)) {
			f.Wrong["owned.wedge_grade"] = fmt.Sprintf("Expected whole grades from 1 to 4, found %g.", n)
			return o
		}
		o.WedgeGrade = append(o.WedgeGrade, int(n))
	}
	return o
}

// valuesOf writes a client's figures into the form's free fields.
func valuesOf(conditions limit.Conditions, c limit.Client, u app.Units) map[string]string {
	v := map[string]string{}
	put := func(field string, n float64) {
		if n != 0 {
			v[field] = strconv.FormatFloat(n, 'g', -1, 64)
		}
	}
	put("birth_year", float64(c.BirthYear))
	for field, cm := range map[string]float64{"height_cm": c.HeightCM, "tallest_height_cm": c.TallestHeightCM,
		"last_height_cm": c.LastHeightCM} {
		if cm != 0 {
			v[field] = u.HeightFigure(cm)
		}
	}
	if c.MassKG != 0 {
		v["mass_kg"] = u.MassFigure(c.MassKG)
	}
	put("falls_this_year", float64(c.FallsThisYear))
	put("minutes", float64(c.Minutes))
	if c.Pain.Now != nil {
		v["pain_now"] = strconv.Itoa(*c.Pain.Now)
	}
	if c.UsualPain != nil {
		v["usual_pain"] = strconv.Itoa(*c.UsualPain)
	}
	if c.Pain.Worst24h != nil {
		v["pain_worst"] = strconv.Itoa(*c.Pain.Worst24h)
	}
	if c.Pain.SettlesHours != nil {
		v["settles_hours"] = strconv.FormatFloat(*c.Pain.SettlesHours, 'g', -1, 64)
	}
	if m := c.Tolerates.StandingMinutes; m != nil {
		v["standing_minutes"] = strconv.FormatFloat(*m, 'g', -1, 64)
	}
	maps.Copy(v, app.ConditionValues(conditions, c))
	figures := func(field string, list []float64, figure func(float64) string) {
		var words []string
		for _, n := range list {
			words = append(words, figure(n))
		}
		v["owned."+field] = strings.Join(words, " ")
	}
	figures("surface_cm", c.Owned.SurfaceCM, u.LengthFigure)
	figures("weight_kg", c.Owned.WeightKG, u.MassFigure)
	figures("pillow_cm", c.Owned.PillowCM, u.LengthFigure)
	var grades []float64
	for _, g := range c.Owned.WedgeGrade {
		grades = append(grades, float64(g))
	}
	figures("wedge_grade", grades, app.Metric.LengthFigure)
	for _, m := range c.Measures {
		if m.ID == "breath_seconds" {
			put("breath_seconds", m.Value)
		}
	}
	return v
}

// units are those in which a form is written: as it was sent, or for a fresh one as whoever
// looks writes.
func (f intake) units(l app.Look) app.Units {
	if f.Units != "" {
		return unitsOf(f.Units)
	}
	return l.Units
}

// Has and the like tell the form what is ticked.
func (f intake) Has(id string) bool { return f.Client.Has(id) }

// Asked says whether somebody asked about all warning signs and found none.
func (f intake) Asked() bool { return f.Client.RedFlags != nil && len(f.Client.RedFlags) == 0 }

// Others are the conditions in words, one a line.
func (f intake) Others() string {
	var out []string
	for _, o := range f.Client.OtherConditions {
		out = append(out, o.Text)
	}
	return strings.Join(out, "\n")
}

// HasTask says whether a daily task is ticked.
func (f intake) HasTask(id string) bool { return slices.Contains(f.Client.Tasks, id) }

// HasGoal says whether a goal is ticked.
func (f intake) HasGoal(p exercise.Purpose) bool { return slices.Contains(f.Client.Goals, p) }

// HasKit says whether a piece of equipment is ticked.
func (f intake) HasKit(e string) bool { return slices.Contains(f.Client.Equipment, e) }

// HasBand says whether a band is ticked.
func (f intake) HasBand(s string) bool { return slices.Contains(f.Client.Owned.Band, s) }

// HasArc says whether an arc is ticked.
func (f intake) HasArc(s string) bool { return slices.Contains(f.Client.Owned.Arc, s) }

// Refuses says whether the client was marked as not bearing something.
func (f intake) Refuses(b *bool) bool { return b != nil && !*b }

// flagBox is a warning sign to be asked about.
type flagBox struct {
	limit.RedFlag
	Marked bool
}

func flagBoxes(marked []string) []flagBox {
	var out []flagBox
	for _, f := range limit.RedFlags {
		out = append(out, flagBox{f, slices.Contains(marked, f.ID)})
	}
	return out
}
