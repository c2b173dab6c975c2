package web

import (
	"context"
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"restbend/app"
	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/draw"
	"restbend/store"
)

// screening is the page of movement tests and measures.
type screening struct {
	Client     store.Client
	Age        string
	Caution    string
	Cards      []testCard   // for this visit
	Tests      []screenCard // the others that may be done
	Barred     []screenCard
	Moment     string // when the tests are taken: empty, before or after the work
	Measures   []measureField
	Findings   []app.Choice
	Sensations []app.Choice
	Matrices   []matrix
	Set        limit.Limits
	Refusal    string
	Values     map[string]string
	Clock      clockView
	Faults     []faultLine
	Cautions   *cautions
	Due        []string // measures that are due again
}

// faultLine is a fault that can be ticked as seen.
type faultLine struct {
	limit.SeenFault
	Last string // when it was seen last
}

type screenCard struct {
	Test    limit.ScreenTest
	Barred  string
	Instead string // what answers the same question
	Figure  Figure
	Last    string // the last findings in words
	Failed  bool
}

type measureField struct {
	ID, Words, Unit string
	How, Like       string // how it is taken, and a variant whose figure shows it
	Sided, Timed    bool
	Counted         int // seconds in which it is counted, 0 for none
	Last            string
	Again           bool   // it is time to measure it again
	Change          string // since the first time, by side
}

// againAfter is how long a measure stands before it is due again (common practice: about a
// month, or two after a pause).
const againAfter = limit.FreshDays

// recall says what was measured before.
func (m *measureField) recall(measures []limit.Measure, today civil.Day) {
	last := map[string]limit.Measure{}
	for _, r := range measures {
		if r.ID == m.ID {
			last[r.Side] = r
		}
	}
	var said []string
	for _, side := range []string{"left", "right", ""} {
		if r, met := last[side]; met {
			words := strings.TrimSpace(fmt.Sprintf("%s %g %s", side, r.Value, m.Unit))
			if r.On != "" {
				words += ", " + dateWords(r.On)
			}
			said = append(said, words)
		}
	}
	m.Last = strings.Join(said, "; ")
	m.retest(measures, today)
}

// retest says when a measure was taken first and last, and whether it is due again.
func (m *measureField) retest(measures []limit.Measure, today civil.Day) {
	first, last := map[string]float64{}, map[string]float64{}
	latest := ""
	for _, r := range measures {
		if r.ID != m.ID {
			continue
		}
		if _, met := first[r.Side]; !met {
			first[r.Side] = r.Value
		}
		last[r.Side], latest = r.Value, max(latest, r.On)
	}
	if on, err := civil.Parse(latest); err == nil {
		m.Again = today.Since(on) > againAfter
	}
	var words []string
	for _, side := range []string{"", "left", "right"} {
		if was, met := first[side]; met && last[side] != was {
			words = append(words, strings.TrimSpace(fmt.Sprintf("%s %g to %g", side, was, last[side])))
		}
	}
	m.Change = strings.Join(words, ", ")
}

// measureWords names a measure.
func measureWords(id string) string {
	for _, f := range measureFields {
		if f.ID == id {
			return strings.ToLower(f.Words[:1]) + f.Words[1:]
		}
	}
	return strings.ReplaceAll(id, "_", " ")
}

// measureFields are the measures that are taken beside the tests.
var measureFields = []measureField{
	{
		ID:      "chair_stand_30s",
		Words:   "Chair stands in 30 seconds",
		Unit:    "times",
		Counted: 30,
		Like:    "sit_to_stand",
		How:     "A chair against the wall, arms crossed. Up to a full stand and down again, as often as is safe in half a minute.",
	},
	{
		ID:    "balance_stage_s",
		Words: "Heel to toe, held",
		Unit:  "s",
		Timed: true,
		Like:  "tandem_stance",
		How:   "Beside a support, one foot straight before the other. Ten seconds are enough.",
	},
	{
		ID:    "single_leg_stance_s",
		Words: "One leg, eyes open",
		Unit:  "s",
		Sided: true,
		Timed: true,
		Like:  "single_leg",
		How:   "Beside a support, arms free. The best of three, each side.",
	},
	{
		ID:    "timed_up_and_go_s",
		Words: "Up, three metres and back",
		Unit:  "s",
		Timed: true,
		Like:  "easy_walk",
		How:   "From sitting: up, three metres at an easy walk, round, back and down.",
	},
	{
		ID:    "side_bridge_s",
		Words: "Side bridge, held",
		Unit:  "s",
		Sided: true,
		Timed: true,
		Like:  "side_bridge_feet",
		How:   "On the forearm, straight from head to feet, for as long as the line stays.",
	},
	{
		ID:    "back_extensor_hold_s",
		Words: "Back hold",
		Unit:  "s",
		Timed: true,
		Like:  "head_float_arms",
		How:   "Face down, the upper body held level over the edge, for as long as it stays level.",
	},
	{
		ID:    "trunk_flexor_hold_s",
		Words: "Front hold",
		Unit:  "s",
		Timed: true,
		Like:  "lean_back_floor",
		How:   "Sitting, knees bent, leant back half-way with a long back, for as long as the line stays.",
	},
	{
		ID:    "plank_hold_s",
		Words: "Plank, held",
		Unit:  "s",
		Timed: true,
		Like:  "plank_forearms",
		How:   "On forearms and toes, for as long as the line stays.",
	},
	{
		ID:    "lumbar_flexion_deg",
		Words: "Low back, rounding forward",
		Unit:  "°",
		Like:  "seated_flex_extend",
		How:   "Two inclinometers, or a tape over the low back, from standing tall to as far forward as is easy.",
	},
	{
		ID:    "lumbar_extension_deg",
		Words: "Low back, arching",
		Unit:  "°",
		Like:  "seated_flex_extend",
		How:   "As rounding, hands on the hips, as far back as is easy.",
	},
	{
		ID:    "fingertip_floor_cm",
		Words: "Fingertips to the floor",
		Unit:  "cm",
		Like:  "table_hang_rest",
		How:   "Bend forward with straight knees; what is left from the fingertips to the floor. Under the soles it counts below nought.",
	},
	{
		ID:    "thoracic_rotation_deg",
		Words: "Upper back, turning",
		Unit:  "°",
		Sided: true,
		Like:  "seated_turn",
		How:   "Sitting, arms crossed on the chest, the pelvis still: how far the chest turns.",
	},
	{
		ID:    "side_bend_cm",
		Words: "Side bend, fingertips travel",
		Unit:  "cm",
		Sided: true,
		Like:  "standing_side_bend_hand",
		How:   "Back to a wall, how far the fingertips slide down the thigh.",
	},
	{
		ID:    "straight_leg_raise_deg",
		Words: "Straight leg, raised lying",
		Unit:  "°",
		Sided: true,
		Like:  "hamstring_strap_supine",
		How:   "On the back, the other leg long; raise the straight leg by hand until the first pull, no further.",
	},
	{
		ID:    "trunk_rotation_angle_deg",
		Words: "Trunk rotation, bending forward",
		Unit:  "°",
		Like:  "table_hang_rest",
		How:   "Bending forward, palms together, a level across the ribs at their most uneven.",
	},
	{
		ID:    "breath_seconds",
		Words: "One breath, in and out",
		Unit:  "s",
		Like:  "rib_breath_chair",
		How:   "Time five easy breaths and divide.",
	},
	{ID: "specific_activity", Words: "The activity wanted back, 0 to 10", Unit: "of 10", How: "0 is not able, 10 as before."},
}

// matrix says how the exercises of the next session answer what a test showed.
type matrix struct {
	Test    limit.ScreenTest
	Finding string
	Planned bool
	Columns []*exercise.Variant
	Rows    []matrixRow
	Idle    []string // exercises that answer nothing here
}

type matrixRow struct {
	Need  exercise.Purpose
	Cells []matrixCell
	Open  bool   // nothing answers it fully
	Best  []link // what would
}

type matrixCell struct{ Level, Why string }

type link struct{ Name, URL string }

func choices(order []string, words map[string]string) []app.Choice {
	out := make([]app.Choice, len(order))
	for i, id := range order {
		out[i] = app.Choice{Value: id, Words: words[id]}
	}
	return out
}

func (w *site) screens(c *gin.Context) {
	k, err := w.Store.Client(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	w.showScreens(c, http.StatusOK, k, "", map[string]string{})
}

func (w *site) showScreens(c *gin.Context, status int, k store.Client, refusal string, values map[string]string) {
	set := w.Limits(k.Client, w.Today())
	s := screening{
		Client:   k,
		Age:      age(k.Client.BirthYear, w.Today()),
		Caution:  w.Library.Conditions.Words(k.Client),
		Set:      set.Limits,
		Refusal:  refusal,
		Values:   values,
		Cautions: w.cautions(set, true),
		Findings: choices(
			[]string{"able", "loses_neutral", "weak", "uncoordinated", "stiff", "painful", "unsteady"},
			limit.FindingWords,
		),
		Sensations: choices([]string{"none", "stretch", "solid_stop", "pinch", "pain", "tingle"}, limit.SensationWords),
	}
	if set.Status() != limit.Refer {
		var err error
		if s.Cards, err = w.cards(c, k); err != nil {
			w.refused(c, err)
			return
		}
	}
	if s.Moment = values["moment"]; s.Moment == "" && slices.ContainsFunc(s.Cards, func(t testCard) bool { return t.Taken }) {
		s.Moment = "after"
	}
	onCard := map[string]bool{}
	for _, card := range s.Cards {
		onCard[card.ID] = true
		for _, m := range card.Measures {
			onCard[m.ID] = true
		}
	}
	failed := limit.FailedScreens(k.Client)
	for _, t := range limit.ScreenTests {
		if onCard[t.ID] {
			continue
		}
		card := screenCard{Test: t, Barred: t.Barred(set.Limits), Figure: w.figures.thumb(t.Like),
			Last: strings.Join(findingsOf(k.Client, t.ID), "; ")}
		if card.Barred != "" {
			if name, need := t.Instead(set.Limits); name != "" {
				card.Instead = fmt.Sprintf("%s shows %s too.", name, need.Words())
			} else {
				card.Instead = "No other test here shows the same: ask how it goes in daily life."
			}
			s.Barred = append(s.Barred, card)
			continue
		}
		card.Failed = slices.ContainsFunc(failed, func(r limit.Screen) bool { return r.ID == t.ID })
		s.Tests = append(s.Tests, card)
	}
	for _, m := range measureFields {
		m.recall(k.Client.Measures, w.Today())
		if m.Again {
			s.Due = append(s.Due, m.Words)
		}
		if !onCard[m.ID] {
			s.Measures = append(s.Measures, m)
		}
	}
	s.Clock = w.clockOf(k)
	for _, f := range limit.SeenFaults {
		line := faultLine{SeenFault: f}
		for _, seen := range k.Client.FaultsSeen {
			if seen.ID == f.ID {
				line.Last = dateWords(seen.On)
			}
		}
		s.Faults = append(s.Faults, line)
	}
	columns := w.nextSession(c, k.ID)
	for _, r := range failed {
		if t, ok := limit.FindScreenTest(r.ID); ok {
			s.Matrices = append(s.Matrices, w.matrix(t, r, columns, set.Limits, k))
		}
	}
	w.pages.render(c, status, "screens", s)
}

// nextSession are the exercises of the next planned session, for holding them
// against the needs.
func (w *site) nextSession(c *gin.Context, client string) []*exercise.Variant {
	plans, err := w.Store.PlansComing(c.Request.Context(), client, 1)
	if err != nil {
		return nil // the page stands without; the log has the cause elsewhere
	}
	var out []*exercise.Variant
	for _, p := range plans {
		for _, it := range p.Plan.Items {
			if v := w.Library.Variant(it.Variant); v != nil && !slices.Contains(out, v) {
				out = append(out, v)
			}
		}
	}
	return out
}

func (w *site) matrix(t limit.ScreenTest, r limit.Screen, planned []*exercise.Variant, set limit.Limits, client store.Client) matrix {
	kit := limit.KitOf(client.Client, client.Client.Place)
	m := matrix{Test: t, Finding: strings.TrimSpace(r.Side + " " + limit.FindingWords[r.Finding]), Planned: len(planned) > 0}
	for _, v := range planned {
		if slices.ContainsFunc(t.Needs, func(need exercise.Purpose) bool { level, _ := t.Answer(need, v); return level != "" }) {
			m.Columns = append(m.Columns, v)
		} else {
			m.Idle = append(m.Idle, v.Name)
		}
	}
	for _, need := range t.Needs {
		row := matrixRow{Need: need, Open: true}
		for _, v := range m.Columns {
			level, why := t.Answer(need, v)
			row.Cells = append(row.Cells, matrixCell{level, why})
			row.Open = row.Open && level != "full"
		}
		families := map[string]bool{}
		for _, v := range w.Library.Variants {
			if len(row.Best) == 4 {
				break
			}
			if level, _ := t.Answer(need, v); level == "full" && !families[v.Family] &&
				limit.Judge(set, v, kit).Verdict != exercise.Avoid {
				families[v.Family] = true
				row.Best = append(row.Best, link{v.Name, "/library/" + v.ID + "?client=" + client.ID})
			}
		}
		m.Rows = append(m.Rows, row)
	}
	return m
}

// addScreens keeps the findings and measures that were filled in, all or none.
func (w *site) addScreens(c *gin.Context) {
	k, err := w.Store.Client(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	into, values, refusal := readTests(k, c.PostForm)
	values["moment"] = c.PostForm("moment")
	into.Were, into.Seen = form(c)["faults_were"], form(c)["faults"]
	if refusal == "" {
		err := w.idempotentOnly(c, func(ctx context.Context) error { return w.AddTests(ctx, k.ID, into) })
		if err == nil {
			c.Redirect(http.StatusSeeOther, "/clients/"+k.ID+"/screens")
			return
		}
		status, sentence := w.sentence(c, err)
		if status != http.StatusUnprocessableEntity {
			fail(c, status, sentence)
			return
		}
		refusal = sentence
	}
	w.showScreens(c, http.StatusUnprocessableEntity, k, refusal, values)
}

// readTests reads the findings and measures of a form, with what was typed by field, and
// what is wrong in it.
func readTests(k store.Client, of func(string) string) (into app.Tests, values map[string]string, refusal string) {
	values = map[string]string{}
	field := func(name string) string {
		values[name] = strings.TrimSpace(of(name))
		return values[name]
	}
	for _, t := range limit.ScreenTests {
		finding, side, sensation := field(t.ID+".finding"), field(t.ID+".side"), field(t.ID+".sensation")
		if finding != "" {
			into.Screens = append(into.Screens,
				limit.Screen{ID: t.ID, Finding: finding, Side: side, Sensation: sensation, Moment: of("moment")},
			)
		}
	}
	for _, m := range measureFields {
		sides := []string{""}
		if m.Sided {
			sides = []string{"left", "right"}
		}
		for _, side := range sides {
			typed := field(strings.TrimSuffix("m."+m.ID+"."+side, "."))
			if typed == "" {
				continue
			}
			v, ok := readNumber(typed)
			if !ok {
				refusal = fmt.Sprintf("%s: expected a number, found %q. Nothing was saved yet.", m.Words, typed)
				continue
			}
			measure := limit.Measure{ID: m.ID, Side: side, Value: v}
			if m.ID == "balance_stage_s" {
				measure.Stage = 3
			}
			if m.ID == "specific_activity" {
				measure.Activity = k.Client.GoalText
			}
			into.Measures = append(into.Measures, measure)
		}
	}
	return into, values, refusal
}

// takeBackScreen takes out what was entered today, so that a slip can be mended.
func (w *site) takeBackScreen(c *gin.Context) {
	if err := w.TakeBackTests(c.Request.Context(), c.Param("id")); err != nil {
		w.refused(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/clients/"+url.PathEscape(c.Param("id"))+"/screens")
}

// limitsSheet is the limits on one page, for print.
func (w *site) limitsSheet(c *gin.Context) {
	k, err := w.Store.Client(c.Request.Context(), c.Param("id"))
	if err != nil {
		w.refused(c, err)
		return
	}
	set := w.Limits(k.Client, w.Today())
	w.pages.render(c,
		http.StatusOK,
		"limits",
		gin.H{
			"Client":   k,
			"Age":      age(k.Client.BirthYear, w.Today()),
			"Caution":  w.Library.Conditions.Words(k.Client),
			"Set":      set,
			"Promises": app.Promises(set.Limits),
			"NotNow":   app.NotNow(set.Limits),
			"Session":  sessionLines(set.Limits),
			"Reach": reachOf(set.Limits,
				exercise.Measured{}, k.Client),
			"Curves": template.HTML(draw.SVGCurves(curvesOf(k.Client), draw.Light)),
			"Today":  w.Today().String(),
		},
	)
}

// curvesOf are the client's curves for the curve map; none when there is no
// scoliosis.
func curvesOf(c limit.Client) []draw.Curve {
	var out []draw.Curve
	for _, k := range c.Conditions {
		for _, curve := range k.Curves("curves") {
			out = append(out, draw.Curve{Region: curve.Region, ToLeft: curve.Convex == "left", Degrees: curve.CobbDeg})
		}
	}
	return out
}
