package web

import (
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/formats"
)

// intake is the client form as shown: what was typed, and what is wrong.
type intake struct {
	ID      string
	Version string
	Client  limit.Client
	Values  map[string]string // what was typed into free fields, kept on a refusal
	Wrong   map[string]string // sentence by field
	Refusal string
}

// offeredGoals are the purposes that the library of this version serves.
func (w *site) offeredGoals() []exercise.Purpose {
	var out []exercise.Purpose
	for _, p := range exercise.Purposes {
		if slices.ContainsFunc(w.Library.Variants, func(v *exercise.Variant) bool { return slices.Contains(v.Purposes, p) }) {
			out = append(out, p)
		}
	}
	return out
}

func (w *site) showIntake(c *gin.Context, status int, f intake) {
	if f.Wrong == nil {
		f.Wrong = map[string]string{}
	}
	w.pages.render(c, status, "intake", gin.H{"Form": f, "Flags": limit.RedFlags, "Goals": w.offeredGoals(),
		"Places": exercise.Places, "Approaches": exercise.Approaches, "Equipment": exercise.Equipment, "Conditions": app.ConditionForms})
}

func (w *site) newClient(c *gin.Context) {
	w.showIntake(c, http.StatusOK, intake{Client: limit.Client{Place: "mat", Approach: "steady", Minutes: limit.DefaultMinutes,
		Equipment: []string{"mat", "chair"}}, Values: map[string]string{}})
}

func (w *site) editClient(c *gin.Context) {
	k, err := w.Store.Client(c, c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	w.showIntake(c, http.StatusOK, intake{ID: k.ID, Version: strconv.Itoa(k.Version), Client: k.Client, Values: valuesOf(k.Client)})
}

func (w *site) addClient(c *gin.Context) {
	f := readIntake(c, limit.Client{Format: "restbend.client/1"})
	if len(f.Wrong) == 0 {
		id, err := w.AddClient(c, f.Client)
		if err == nil {
			c.Redirect(http.StatusSeeOther, "/clients/"+id)
			return
		}
		if !f.take(err) {
			w.refused(c, err)
			return
		}
	}
	w.showIntake(c, http.StatusUnprocessableEntity, f)
}

func (w *site) changeClient(c *gin.Context) {
	k, err := w.Store.Client(c, c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	f := readIntake(c, k.Client) // what the form does not show stays
	f.ID, f.Version = k.ID, c.PostForm("version")
	version, err := strconv.Atoi(f.Version)
	if err != nil {
		f.Wrong["version"] = "The form is incomplete; reload the page."
	}
	if len(f.Wrong) == 0 {
		err := w.ChangeClient(c, k.ID, version, f.Client)
		if err == nil {
			c.Redirect(http.StatusSeeOther, "/clients/"+k.ID)
			return
		}
		if !f.take(err) {
			w.refused(c, err)
			return
		}
	}
	w.showIntake(c, http.StatusUnprocessableEntity, f)
}

// take puts a refusal beside the field it names.
func (f *intake) take(err error) bool {
	var invalid *formats.Invalid
	if !errors.As(err, &invalid) {
		return false
	}
	field := invalid.Path
	for i, k := range f.Client.Conditions {
		field = strings.Replace(field, fmt.Sprintf("conditions[%d]", i), k.ID, 1)
	}
	for i := range f.Client.Measures {
		field = strings.Replace(field, fmt.Sprintf("measures[%d].value", i), f.Client.Measures[i].ID, 1)
	}
	f.Wrong[field] = app.Capital(invalid.Want) + "."
	f.Refusal = app.Capital(strings.ReplaceAll(field, "_", " ")) + ": " + invalid.Want + "."
	return true
}

// readIntake reads the form into the client it starts from.
func readIntake(c *gin.Context, into limit.Client) intake {
	f := intake{Client: into, Values: map[string]string{}, Wrong: map[string]string{}}
	k := &f.Client
	number := func(field string, what string) *float64 {
		v := strings.TrimSpace(c.PostForm(field))
		f.Values[field] = v
		if v == "" {
			return nil
		}
		n, err := strconv.ParseFloat(strings.Replace(strings.ReplaceAll(v, "−", "-"), ",", ".", 1), 64)
		if err != nil {
			f.Wrong[field] = fmt.Sprintf("Expected %s as a number, found %q.", what, v)
			return nil
		}
		return &n
	}
	value := func(p *float64) float64 {
		if p == nil {
			return 0
		}
		return *p
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
	k.Name = strings.TrimSpace(c.PostForm("name"))
	k.RedFlags = c.PostFormArray("red_flags")
	k.BirthYear = 0
	if y := whole("birth_year", "a year such as 1956"); y != nil {
		k.BirthYear = *y
	}
	k.Sex = c.PostForm("sex")
	k.HeightCM = value(number("height_cm", "centimetres"))
	k.MassKG = value(number("mass_kg", "kilograms"))
	k.TallestHeightCM = value(number("tallest_height_cm", "centimetres"))
	k.GoalText = strings.TrimSpace(c.PostForm("goal_text"))
	k.Goals = nil
	for _, g := range c.PostFormArray("goals") {
		k.Goals = append(k.Goals, exercise.Purpose(g))
	}
	k.Conditions = readConditions(c, &f, number)
	k.Pain = limit.Pain{Now: whole("pain_now", "0 to 10"), Worst24h: whole("pain_worst", "0 to 10"), SettlesHours: number("settles_hours", "hours")}
	bears := func(name string) *bool {
		yes := c.PostForm("bears_"+name) != "no"
		if yes {
			return nil
		}
		return &yes
	}
	k.Tolerates = limit.Tolerates{Floor: bears("floor"), Kneeling: bears("kneeling"), Prone: bears("prone"), SupineFlat: bears("supine_flat"),
		WristLoad: bears("wrist_load"), StandingMinutes: k.Tolerates.StandingMinutes}
	k.Place, k.Approach = exercise.Place(c.PostForm("place")), exercise.Approach(c.PostForm("approach"))
	k.Equipment = c.PostFormArray("equipment")
	k.Minutes = 0
	if m := whole("minutes", "5 to 120"); m != nil {
		k.Minutes = *m
		if *m < 5 || *m > 120 {
			f.Wrong["minutes"] = fmt.Sprintf("Expected 5 to 120 minutes, found %d.", *m)
		}
	}
	k.Strict = c.PostForm("strict") == "yes"
	k.Measures = slices.DeleteFunc(slices.Clone(k.Measures), func(m limit.Measure) bool { return m.ID == "breath_seconds" })
	if b := number("breath_seconds", "seconds"); b != nil {
		k.Measures = append(k.Measures, limit.Measure{ID: "breath_seconds", Value: *b})
	}
	return f
}

// readConditions reads the ticked conditions and the details under each.
func readConditions(c *gin.Context, f *intake, number func(field, what string) *float64) []limit.Condition {
	var out []limit.Condition
	yes := func(field string) *bool {
		switch c.PostForm(field) {
		case "yes":
			b := true
			return &b
		case "no":
			b := false
			return &b
		}
		return nil
	}
	for _, id := range c.PostFormArray("conditions") {
		at := func(detail string) string { return id + "." + detail }
		word := func(detail string) string {
			v := strings.TrimSpace(c.PostForm(at(detail)))
			f.Values[at(detail)] = v
			return v
		}
		k := limit.Condition{ID: id, Stage: word("stage"), Side: word("side"), Eases: word("eases"), Which: word("which"), Approach: word("approach"),
			Levels: word("levels"), Reading: word("reading"),
			TScore: number(at("t_score"), "a score such as −2.8"), MonthsSince: number(at("months_since"), "months"),
			LegSymptoms: yes(at("leg_symptoms")), VertebralFracture: yes(at("vertebral_fracture")), Cleared: yes(at("cleared_for_exercise")),
			Controlled: yes(at("controlled")), RestPain: yes(at("rest_pain"))}
		for _, region := range []string{"thoracic", "lumbar"} {
			cobb := number(at(region+"_cobb"), "degrees")
			if side := word(region); side != "" {
				curve := limit.Curve{Region: region, Convex: side}
				if cobb != nil {
					curve.CobbDeg = *cobb
				}
				k.Curves = append(k.Curves, curve)
			}
		}
		out = append(out, k)
	}
	return out
}

// valuesOf writes a client's figures into the form's free fields.
func valuesOf(c limit.Client) map[string]string {
	v := map[string]string{}
	put := func(field string, n float64) {
		if n != 0 {
			v[field] = strconv.FormatFloat(n, 'g', -1, 64)
		}
	}
	put("birth_year", float64(c.BirthYear))
	put("height_cm", c.HeightCM)
	put("mass_kg", c.MassKG)
	put("tallest_height_cm", c.TallestHeightCM)
	put("minutes", float64(c.Minutes))
	if c.Pain.Now != nil {
		v["pain_now"] = strconv.Itoa(*c.Pain.Now)
	}
	if c.Pain.Worst24h != nil {
		v["pain_worst"] = strconv.Itoa(*c.Pain.Worst24h)
	}
	if c.Pain.SettlesHours != nil {
		v["settles_hours"] = strconv.FormatFloat(*c.Pain.SettlesHours, 'g', -1, 64)
	}
	for _, k := range c.Conditions {
		set := func(detail, value string) { v[k.ID+"."+detail] = value }
		for detail, p := range map[string]*float64{"t_score": k.TScore, "months_since": k.MonthsSince} {
			if p != nil {
				set(detail, strconv.FormatFloat(*p, 'g', -1, 64))
			}
		}
		for detail, p := range map[string]*bool{"leg_symptoms": k.LegSymptoms, "vertebral_fracture": k.VertebralFracture,
			"cleared_for_exercise": k.Cleared, "controlled": k.Controlled, "rest_pain": k.RestPain} {
			set(detail, yesNo(p))
		}
		for detail, word := range map[string]string{"stage": k.Stage, "side": k.Side, "eases": k.Eases, "which": k.Which,
			"approach": k.Approach, "levels": k.Levels, "reading": k.Reading} {
			set(detail, word)
		}
		for _, curve := range k.Curves {
			set(curve.Region, curve.Convex)
			put(k.ID+"."+curve.Region+"_cobb", curve.CobbDeg)
		}
	}
	for _, m := range c.Measures {
		if m.ID == "breath_seconds" {
			put("breath_seconds", m.Value)
		}
	}
	return v
}

// Has and the like tell the form what is ticked.
func (f intake) Has(id string) bool { return f.Client.Has(id) }

// HasFlag says whether a warning sign is ticked.
func (f intake) HasFlag(id string) bool { return slices.Contains(f.Client.RedFlags, id) }

// HasGoal says whether a goal is ticked.
func (f intake) HasGoal(p exercise.Purpose) bool { return slices.Contains(f.Client.Goals, p) }

// HasKit says whether a piece of equipment is ticked.
func (f intake) HasKit(e string) bool { return slices.Contains(f.Client.Equipment, e) }

// yesNo is a three-way answer as the form's word.
func yesNo(b *bool) string {
	switch {
	case b == nil:
		return ""
	case *b:
		return "yes"
	}
	return "no"
}

// Refuses says whether the client was marked as not bearing something.
func (f intake) Refuses(b *bool) bool { return b != nil && !*b }
