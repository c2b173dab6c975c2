package main

import (
	"encoding/json"
	"fmt"
	"io"
	"slices"
	"strings"
	"text/tabwriter"

	"restbend/app"
	"restbend/core/civil"
	"restbend/core/exercise"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/plan/tell"
	"restbend/core/readiness"
	"restbend/formats"
)

// output chooses between JSON and plain text.
type output struct {
	JSON bool `name:"json" help:"Print JSON as documented in docs/schema."`
}

func printJSON(w io.Writer, v any) error {
	e := json.NewEncoder(w)
	e.SetIndent("", "  ")
	e.SetEscapeHTML(false)
	return e.Encode(v)
}

// clientFile is a command's client, read as of a day.
type clientFile struct {
	Client string `arg:"" help:"A client file (restbend.client/1), or - for standard input."`
	day
}

func (f clientFile) read(s streams) (*app.Judge, limit.Client, civil.Day, error) {
	on, err := f.date()
	if err != nil {
		return nil, limit.Client{}, on, err
	}
	b, err := readFile(f.Client, s.in)
	if err != nil {
		return nil, limit.Client{}, on, err
	}
	c, err := formats.ReadClient(b, on) // before the library is read for it
	if err != nil {
		return nil, c, on, err
	}
	j, err := loadJudge()
	if err != nil {
		return nil, c, on, err
	}
	return j, c, on, j.Check(c, on)
}

type catalogCommand struct{ output }

func (c catalogCommand) Run(s streams) error {
	j, err := loadJudge()
	if err != nil {
		return err
	}
	if c.JSON {
		return printJSON(s.out, formats.NewCatalog(j.Library.Variants))
	}
	w := tabwriter.NewWriter(s.out, 0, 4, 2, ' ', 0)
	for _, f := range j.Library.Families {
		fmt.Fprintf(w, "%s\n", f.Name)
		for _, v := range f.Variants {
			fmt.Fprintf(w, "  %s\t%s\t%s\t%s\n", v.ID, v.Name, v.Position.Words(), v.Studio.Words(v.Sided()))
		}
	}
	return w.Flush()
}

type limitsCommand struct {
	clientFile
	output
}

func (c limitsCommand) Run(s streams) error {
	j, client, on, err := c.read(s)
	if err != nil {
		return err
	}
	set := j.Limits(client, on)
	if c.JSON {
		err = printJSON(s.out, formats.NewLimits(set))
	} else {
		printLimits(s.out, set)
	}
	return referred(err, set.Status())
}

// referred turns an answer that gives nothing into its exit status.
func referred(err error, status string) error {
	if err == nil && slices.Contains([]string{limit.Refer, plan.Stop, plan.Ask}, status) {
		return errRefer
	}
	return err
}

// printReadiness says what the day allows where it is not everything: why, what is to be
// asked, who should hear of it.
func printReadiness(w io.Writer, r readiness.Readiness) {
	if r.Status != readiness.Ready {
		fmt.Fprintf(w, "%s\n", r.Status)
	}
	for _, b := range r.Because {
		fmt.Fprintf(w, "    %s (%s; %s)\n", b.Text, b.Rule, b.Source)
	}
	for _, q := range r.Asks {
		fmt.Fprintf(w, "ask: %s (%s)\n", q.Question, q.Field)
	}
	for _, text := range r.Instead {
		fmt.Fprintln(w, "instead:", text)
	}
	for _, m := range r.Tell {
		who := m.Who
		if who == "emergency" {
			who = "emergency service"
		}
		fmt.Fprintf(w, "tell the %s, %s: %s\n", who, strings.ReplaceAll(m.When, "_", " "), m.Text)
	}
}

func printLimits(w io.Writer, set readiness.Limits) {
	printReadiness(w, set.Readiness)
	if set.Status() != limit.OK {
		return
	}
	for l := range set.Rows() {
		fmt.Fprintf(w, "%s\n", app.LimitWords(l))
		for _, r := range l.Reasons {
			fmt.Fprintf(w, "    %s (%s; %s)\n", r.Text, r.Rule, r.Source)
		}
	}
	for _, k := range set.Session() {
		fmt.Fprintf(w, "in one session at most %s\n", plan.CountWords(k.Count, k.Max))
		for _, r := range k.Reasons {
			fmt.Fprintf(w, "    %s (%s; %s)\n", r.Text, r.Rule, r.Source)
		}
	}
	for _, r := range set.Risks {
		fmt.Fprintf(w, "%s: %s (%s)\n", strings.ReplaceAll(r.ID, "_", " "), r.Because, r.Source)
	}
	for _, d := range set.Defaults {
		fmt.Fprintln(w, d)
	}
}

type checkCommand struct {
	clientFile
	output
	Variants []string `arg:"" optional:"" name:"variant" help:"Exercises to judge, by id; all when left out."`
}

func (c checkCommand) Run(s streams) error {
	j, client, on, err := c.read(s)
	if err != nil {
		return err
	}
	variants := j.Library.Variants
	if len(c.Variants) > 0 {
		variants = nil
		for _, id := range c.Variants {
			v := j.Library.Variant(id)
			if v == nil {
				return &formats.Invalid{Path: "variant", Want: fmt.Sprintf("%q is not in the library; `restbend catalog` lists them", id)}
			}
			variants = append(variants, v)
		}
	}
	set := j.Limits(client, on)
	answer := formats.NewCheck(set, variants, limit.KitOf(client, client.Place))
	if c.JSON {
		return referred(printJSON(s.out, answer), set.Status())
	}
	printReadiness(s.out, answer.Readiness)
	for _, v := range answer.Verdicts {
		fmt.Fprintf(s.out, "%-6s  %s\n", v.Verdict, j.Library.Variant(v.Variant).Name)
		for _, a := range v.Adaptations {
			fmt.Fprintf(s.out, "          %s\n", a.Text)
		}
		for _, r := range v.Reasons {
			fmt.Fprintf(s.out, "          %s\n", app.ReasonWords(r))
		}
		for _, side := range []string{"left", "right"} {
			if one, ok := v.Sides[side]; ok {
				fmt.Fprintf(s.out, "          on the %s alone: %s\n", side, one.Verdict)
			}
		}
		if near := j.Instead(client, v.Variant, on); v.Verdict == exercise.Avoid && near != nil {
			fmt.Fprintf(s.out, "          Instead: %s.\n", near.Name)
		}
	}
	return referred(nil, set.Status())
}

type planCommand struct {
	clientFile
	output
	Minutes  *int   `help:"Minutes, 5 to 120." placeholder:"N"`
	Place    string `help:"mat, bed, table, chair, standing or studio."`
	Approach string `help:"steady, segment, breath or sensing."`
	// The rest of a session that has begun.
	Done          string            `help:"Record file of what has been done already; plans the rest." placeholder:"RECORD"`
	MinutesLeft   *int              `help:"Minutes left for the rest, 2 to 120." placeholder:"N"`
	Focus         string            `help:"A purpose to serve above all, such as balance." placeholder:"PURPOSE"`
	StandingFirst bool              `help:"Work on two feet before the floor."`
	Doses         map[string]string `name:"dose" help:"Your own dose, such as 'bird_dog=2 × 8'." placeholder:"EXERCISE=DOSE" mapsep:";"`
	Home          bool              `help:"For home: home doses, and everyday things for equipment."`
}

func (c planCommand) Run(s streams) error {
	j, client, on, err := c.read(s)
	if err != nil {
		return err
	}
	wish := app.Wish{
		Place:         exercise.Place(c.Place),
		Approach:      exercise.Approach(c.Approach),
		StandingFirst: c.StandingFirst,
		Home:          c.Home,
		Focus:         exercise.Purpose(c.Focus),
	}
	if c.Minutes != nil {
		if *c.Minutes < 5 || *c.Minutes > 120 {
			return &formats.Invalid{Path: "--minutes", Want: fmt.Sprintf("expected 5 to 120, found %d", *c.Minutes)}
		}
		wish.Minutes = *c.Minutes
	}
	var p plan.Plan
	if c.Done != "" || c.MinutesLeft != nil {
		p, err = c.rest(j, client, wish, on, s)
	} else {
		p, err = j.Plan(client, wish, c.Doses, on)
	}
	if err != nil {
		return err
	}
	if c.JSON {
		err = printJSON(s.out, p)
	} else {
		printReadiness(s.out, *p.Readiness)
		printPlan(s.out, p)
		if p.Status == plan.Ready && len(p.Items) > 0 && len(c.Doses) == 0 {
			fmt.Fprintln(s.out, tell.Near(p.Missed))
		}
		for _, text := range p.Readiness.Cautions {
			fmt.Fprintln(s.out, "caution:", text)
		}
		fmt.Fprintln(s.out, app.WhenToStop, strings.Join(j.CallWhen(), " "))
	}
	return referred(err, p.Status)
}

// rest plans what is left of a session that has begun.
func (c planCommand) rest(j *app.Judge, client limit.Client, wish app.Wish, on civil.Day, s streams) (plan.Plan, error) {
	switch {
	case c.Done == "":
		return plan.Plan{}, &formats.Invalid{Path: "--minutes-left", Want: "goes with --done, the record of what has been done"}
	case c.MinutesLeft == nil:
		return plan.Plan{}, &formats.Invalid{Path: "--done", Want: "goes with --minutes-left, the minutes that are left"}
	case c.Minutes != nil:
		return plan.Plan{}, &formats.Invalid{Path: "--minutes", Want: "does not go with --done; expected --minutes-left alone"}
	case *c.MinutesLeft < 2 || *c.MinutesLeft > 120:
		return plan.Plan{}, &formats.Invalid{Path: "--minutes-left", Want: fmt.Sprintf("expected 2 to 120, found %d", *c.MinutesLeft)}
	case c.Done == "-" && c.Client == "-":
		return plan.Plan{}, &formats.Invalid{Path: "--done", Want: "client and record cannot both be read from standard input"}
	}
	b, err := readFile(c.Done, s.in)
	if err != nil {
		return plan.Plan{}, err
	}
	done, err := formats.ReadRecord(b, on)
	if err != nil {
		return plan.Plan{}, err
	}
	return j.PlanRest(client, wish, done, *c.MinutesLeft, on)
}

func printPlan(w io.Writer, p plan.Plan) {
	if p.Status == plan.Ready {
		fmt.Fprintf(w, "%.0f minutes %s: %s\n", p.Target()/60, p.Place.Words(), app.Clock(p.SecondsTotal))
	}
	phase := exercise.Phase("")
	t := tabwriter.NewWriter(w, 0, 4, 2, ' ', 0)
	for i, it := range p.Items {
		if it.Phase != phase {
			phase = it.Phase
			fmt.Fprintf(t, "%s\n", phase)
		}
		fmt.Fprintf(t,
			"  %d\t%s\t%s\t%s\t%s\n",
			i+1,
			it.Name,
			it.Position.Words(),
			app.DoseWords(it.Dose, it.Sides),
			app.Clock(it.Seconds()),
		)
		for _, a := range it.Adaptations {
			fmt.Fprintf(t, "  \t  %s\n", a.Text)
		}
		if it.First != "" {
			fmt.Fprintf(t, "  \t  %s\n", it.First)
		}
		if it.OnlySide != "" {
			fmt.Fprintf(t, "  \t  %s\n", it.OnlySide)
		}
		if with := app.WithWords(it.Uses, it.Settings, app.Metric); with != "" {
			fmt.Fprintf(t, "  \t  with %s\n", with)
		}
	}
	t.Flush()
	for _, n := range p.Notes {
		fmt.Fprintln(w, n)
	}
	for _, b := range p.Barrings() {
		fmt.Fprintf(w, "left out, %d: %s\n   ", len(b.Of), b.Because)
		for i, l := range b.Of {
			if i > 0 {
				fmt.Fprint(w, ",")
			}
			fmt.Fprintf(w, " %s", l.Name)
			if i := slices.IndexFunc(p.Items, func(i plan.Item) bool { return i.Variant == l.Instead }); i >= 0 {
				fmt.Fprintf(w, " (%s instead)", p.Items[i].Name)
			}
		}
		fmt.Fprintln(w, ".")
	}
}

type leverCommand struct {
	On     string  `default:"hands" help:"hands or forearms."`
	From   string  `default:"toes" help:"toes or knees."`
	Side   bool    `help:"A side bridge instead of facing down."`
	Raise  float64 `name:"raise-cm" help:"Height of the surface under the arms." placeholder:"CM"`
	Height float64 `name:"height-cm" default:"168" help:"The person's height."`
	Mass   float64 `name:"mass-kg" default:"68" help:"The person's mass."`
	output
}

func (c leverCommand) Run(s streams) error {
	l, err := app.Lever(app.LeverWish{On: c.On, From: c.From, Side: c.Side, RaiseCM: c.Raise, HeightCM: c.Height, MassKG: c.Mass})
	if err != nil {
		return err
	}
	answer := formats.NewLever(l, c.Height, c.Mass)
	if c.JSON {
		return printJSON(s.out, answer)
	}
	for _, share := range []struct {
		words string
		value float64
	}{{"hands", answer.HandsShare}, {"forearms", answer.ForearmsShare}, {"toes", answer.ToesShare}, {"knees", answer.KneesShare}} {
		if share.value > 0 {
			fmt.Fprintf(s.out, "%-9s %4.0f%% of body weight\n", share.words, 100*share.value)
		}
	}
	fmt.Fprintf(s.out, "low back  %4.0f N·m, compression %.0f N, %.1f times quiet standing\ntrunk     %4.0f° from level\n",
		answer.LumbarMoment, answer.LumbarCompressionN, answer.LumbarCompression, answer.TrunkAngle)
	return nil
}
