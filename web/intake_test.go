package web

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"regexp"
	"strconv"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// full is the intake form with every field filled in.
func full() url.Values {
	return url.Values{
		"name":              {"Perpetua Vane"},
		"birth_year":        {"1957"},
		"sex":               {"female"},
		"height_cm":         {"164,5"},
		"tallest_height_cm": {"167"},
		"mass_kg":           {"61"},
		"breath_seconds": {
			"4.5",
		},
		"conditions":                      {"osteoporosis", "disc_sciatica", "wrist_pain"},
		"osteoporosis.t_score":            {"−2.8"},
		"osteoporosis.vertebral_fracture": {"yes"},
		"strict":                          {"yes"},
		"disc_sciatica.stage": {
			"later",
		},
		"disc_sciatica.side":         {"right"},
		"disc_sciatica.eases":        {"flexion"},
		"disc_sciatica.leg_symptoms": {"no"},
		"wrist_pain.side":            {"both"},
		"pain_now": {
			"0",
		},
		"pain_worst":     {"4"},
		"settles_hours":  {"6"},
		"bears_kneeling": {"no"},
		"goal_text":      {"to sing standing up"},
		"goals":          {"breath", "balance"},
		"place":          {"bed"},
		"approach":       {"breath"},
		"minutes":        {"25"},
		"equipment":      {"bed", "pillow"},
		"owned.surface_cm": {
			"46, 74.5",
		},
		"owned.weight_kg":   {"1;2"},
		"owned.pillow_cm":   {"8 12"},
		"owned.wedge_grade": {"1, 2"},
		"owned.band":        {"light"},
		"owned.arc":         {"low"},
	}
}

func TestIntakeKeepsEveryAnswer(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	resp, _ := ask(t, http.MethodPost, srv.URL+"/clients", full(), nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	row, err := s.Store.Client(context.Background(), client(t, s, "Perpetua"))
	require.NoError(t, err)
	k := row.Client
	assert.Equal(t, 1957, k.BirthYear)
	assert.Equal(t, 164.5, k.HeightCM, "a comma is a decimal point too")
	score, _ := k.Conditions[0].Figure("t_score")
	assert.Equal(t, -2.8, score, "and a minus sign is a minus")
	broken, _ := k.Conditions[0].Yes("vertebral_fracture")
	assert.True(t, broken)
	assert.True(t, k.Strict)
	assert.Equal(t, "later", k.Conditions[1].Word("stage"))
	assert.Equal(t, "right", k.Conditions[1].Word("side"))
	leg, said := k.Conditions[1].Yes("leg_symptoms")
	assert.True(t, said && !leg)
	assert.Equal(t, "both", k.Conditions[2].Word("side"))
	assert.Equal(t, 0, *k.Pain.Now, "no pain is an answer")
	assert.False(t, *k.Tolerates.Kneeling)
	assert.Nil(t, k.Tolerates.Floor, "not said")
	assert.Equal(t, []exercise.Purpose{"breath", "balance"}, k.Goals)
	assert.Equal(t, 4.5, k.BreathSeconds())
	assert.Equal(t,
		limit.Owned{
			SurfaceCM:  []float64{46, 74.5},
			Band:       []string{"light"},
			WeightKG:   []float64{1, 2},
			WedgeGrade: []int{1, 2},
			Arc:        []string{"low"},
			PillowCM:   []float64{8, 12},
		},
		k.Owned,
	)

	// Opening the form again and saving it changes nothing but the version.
	_, form := get(t, srv.URL+"/clients/"+row.ID+"/edit")
	for _, want := range []string{`value="1957"`, `value="164.5"`, `value="-2.8"`, `value="4.5"`, `value="to sing standing up"`,
		`name="strict" value="yes" checked`, `value="bed" selected`, `value="46 74.5"`, `name="owned.band" value="light" checked`} {
		assert.Contains(t, form, want)
	}
	version := regexp.MustCompile(`name="version" value="(\d+)"`).FindStringSubmatch(form)
	require.NotNil(t, version)
	again := full()
	again.Set("version", version[1])
	resp, _ = ask(t, http.MethodPost, srv.URL+"/clients/"+row.ID, again, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	after, err := s.Store.Client(context.Background(), row.ID)
	require.NoError(t, err)
	assert.Equal(t, k, after.Client)
	assert.Equal(t, row.Version+1, after.Version)

	// A second window that still shows the old version: what it does not touch stays as the
	// first made it, and where both say something else it is asked, with the form filled.
	again.Set("mass_kg", "63")
	again.Set("version", fmt.Sprint(after.Version))
	resp, _ = ask(t, http.MethodPost, srv.URL+"/clients/"+row.ID, again, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	again.Set("mass_kg", "61")
	again.Set("minutes", "40")
	resp, _ = ask(t, http.MethodPost, srv.URL+"/clients/"+row.ID, again, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	after, err = s.Store.Client(context.Background(), row.ID)
	require.NoError(t, err)
	assert.Equal(t, []float64{63, 40}, []float64{after.Client.MassKG, float64(after.Client.Minutes)})
	again.Set("mass_kg", "65")
	resp, body := ask(t, http.MethodPost, srv.URL+"/clients/"+row.ID, again, nil)
	assert.Equal(t, http.StatusConflict, resp.StatusCode)
	assert.Contains(t, body, "mass kg was 61 and is 63 by now; here it is 65")
	for _, want := range []string{`name="mass_kg" inputmode="decimal" ` +
		`value="65"`, fmt.Sprintf(`name="version" value="%d"`, after.Version), `name="minutes" inputmode="numeric" value="40"`} {
		assert.Contains(t, body, want)
	}
}

func TestEditingKeepsWhatTheFormDoesNotShow(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	id := client(t, s, "Odette")
	before, err := s.Store.Client(context.Background(), id)
	require.NoError(t, err)
	form := full()
	form.Set("version", strconv.Itoa(before.Version))
	resp, _ := ask(t, http.MethodPost, srv.URL+"/clients/"+id, form, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	after, err := s.Store.Client(context.Background(), id)
	require.NoError(t, err)
	assert.Equal(t, before.Client.Rungs, after.Client.Rungs)
	assert.Contains(t, after.Client.Measures, before.Client.Measures[1], "the chair stand stays")
}

func TestIntakeRefusalsStandByTheirFields(t *testing.T) {
	t.Parallel()
	srv, _ := demoSite(t)
	for says, change := range map[string]func(url.Values){
		"Expected 0 to 10 as a whole number.": func(v url.Values) { v.Set("pain_now", "2.5") },
		"Must be at most 10":                  func(v url.Values) { v.Set("pain_now", "11"); v.Set("pain_worst", "11") },
		"Pain now is 5 and the worst of the last day 2: which of the two is right?": func(v url.Values) {
			v.Set("pain_now",
				"5")
			v.Set("pain_worst", "2")
		},
		"160 is less than the height now":                                      func(v url.Values) { v.Set("tallest_height_cm", "160") },
		"Expected 5 to 120 minutes, found 600.":                                func(v url.Values) { v.Set("minutes", "600") },
		"cannot be right for breath_seconds":                                   func(v url.Values) { v.Set("breath_seconds", "90") },
		"Must be at most 5":                                                    func(v url.Values) { v.Set("osteoporosis.t_score", "28") },
		"Must be at least 1900":                                                func(v url.Values) { v.Set("birth_year", "57") },
		"Expected heights in centimetres such as 45 75, found &#34;knee&#34;.": func(v url.Values) { v.Set("owned.surface_cm", "45 knee") },
		"Expected a weight such as 68 kg or 150 lb, found &#34;NaN&#34;":       func(v url.Values) { v.Set("mass_kg", "NaN") },
		"Expected kilograms such as 1 2, found &#34;Inf&#34;":                  func(v url.Values) { v.Set("owned.weight_kg", "Inf") },
		"Is &#34;5,7&#34; one figure or two?":                                  func(v url.Values) { v.Set("owned.surface_cm", "45,75") },
		"Must be at least 10, found 4":                                         func(v url.Values) { v.Set("owned.surface_cm", "45 4") },
		"Expected whole grades from 1 to 4":                                    func(v url.Values) { v.Set("owned.wedge_grade", "1.5") },
		"Must be at most 4":                                                    func(v url.Values) { v.Set("owned.wedge_grade", "7") },
		"Expected a weight such as 68 kg or 150 lb, found &#34;sixty&#34;":     func(v url.Values) { v.Set("mass_kg", "sixty") },
	} {
		form := full()
		change(form)
		resp, body := ask(t, http.MethodPost, srv.URL+"/clients", form, nil)
		assert.Equal(t, 422, resp.StatusCode, says)
		assert.Contains(t, body, says)
		assert.Regexp(t, `class="wrong"`, body, says)
		assert.Contains(t, body, `value="to sing standing up"`, "nothing typed is lost")
	}
}

// TestIntakeIsKeptAsItGoes fills in an intake with a mistake half-way, leaves and
// comes back, takes an answer back, meets a red flag, and saves.
func TestIntakeIsKeptAsItGoes(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	b := newBrowser(t, 1280, 900)
	b.open(srv.URL + "/clients/new")
	b.do(
		chromedp.SendKeys(`input[name=name]`, "Oriel Hask-Test"),
		chromedp.SendKeys(`input[name=birth_year]`, "1950"),
		chromedp.SendKeys(`input[name=age]`, "30"),
		chromedp.SendKeys(`input[name=height_cm]`, "1.63"),
		chromedp.SendKeys(`input[name=goal_text]`, "an hour in the garden"),
	)
	b.press(`input[name=tasks][value=stairs]`)
	b.until(`document.querySelector("#kept")?.innerText.includes("Kept at")`)
	b.until(
		`document.querySelector("#kept").innerText.includes("Born in 1950 makes 76, and the age is given as 30: which of the two is ` +
			`right?")`,
	)
	b.until(`document.querySelector("#kept").innerText.includes("down to the floor and up")`)

	// Leave at once after one more answer; all is there on the clients' page, and nothing is a client's yet.
	b.press(`input[name=tasks][value=chairs]`)
	b.open(srv.URL + "/clients")
	require.Eventually(t, func() bool {
		begun, err := s.Store.Intakes(context.Background())
		return err == nil && len(begun) == 1 && len(begun[0].Form["tasks"]) == 2
	}, 10*time.Second, 20*time.Millisecond, "what was given a moment ago counts as well")
	assert.Contains(t, b.text(".begun"), "Oriel Hask-Test")
	assert.NotContains(t, b.text(".client-list"), "Oriel")
	b.do(chromedp.Click(`.begun a`))
	b.until(`document.querySelector("input[name=height_cm]")?.value === "1.63"`)
	assert.Equal(t, "an hour in the garden", read[string](b, `document.querySelector("input[name=goal_text]").value`))
	for _, task := range []string{"stairs", "chairs"} {
		assert.True(t, read[bool](b, `document.querySelector("input[name=tasks][value=`+task+`]").checked`), task)
	}

	// A red flag answers at once, with the urgency it has; taken back, it is gone.
	b.do(chromedp.Click(`input[name=red_flags][value=saddle_numbness]`))
	b.until(`document.querySelector("#kept .urgent")?.innerText.includes("This is an emergency")`)
	b.accessible("intake with a red flag")
	b.do(chromedp.Click(`#kept .text-button`))
	b.until(
		`document.querySelector("input[name=red_flags][value=saddle_numbness]")?.checked === false && !document.querySelector("#kept ` +
			`.urgent")`,
	)

	// Mend the mistakes and save.
	_ = read[any](b,
		`document.querySelector("input[name=age]").value = ""; document.querySelector("input[name=height_cm]").value = "163"; 0`,
	)
	b.do(chromedp.Click(`form.intake .submit button`))
	b.until(`document.querySelector("h1")?.innerText === "Oriel Hask-Test" && document.querySelector(".reach")`)
	row, err := s.Store.Client(context.Background(), client(t, s, "Oriel"))
	require.NoError(t, err)
	assert.Equal(t, 1950, row.Client.BirthYear)
	assert.Equal(t, []string{"chairs", "stairs"}, row.Client.Tasks)
	open, err := s.Store.Intakes(context.Background())
	require.NoError(t, err)
	assert.Empty(t, open, "what is saved is no longer open")

	// Changing a client that was begun goes on where it was; dropped, all is as before.
	b.open(srv.URL + "/clients/" + row.ID + "/edit")
	b.do(chromedp.SetValue(`input[name=mass_kg]`, "61"), chromedp.Click(`input[name=tasks][value=bed]`))
	b.until(`document.querySelector("#kept")?.innerText.includes("Kept at")`)
	b.open(srv.URL + "/clients/" + row.ID + "/edit")
	b.until(`document.querySelector(".resumed") && document.querySelector("input[name=mass_kg]").value === "61"`)
	b.do(chromedp.Click(`.resumed button`))
	b.until(`document.querySelector(".client-list")`)
	after, err := s.Store.Client(context.Background(), row.ID)
	require.NoError(t, err)
	assert.Equal(t, row.Client, after.Client)
}
