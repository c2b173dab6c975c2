package web

import (
	"context"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"testing"

	"restbend/core/civil"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestAVisitOpensWithARecheck(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	plan := planned(t, s, "Tobias")
	_, page := get(t, srv.URL+"/plans/"+plan.ID)
	assert.Contains(t, page, "/plans/"+plan.ID+"/check")
	address := srv.URL + "/plans/" + plan.ID + "/check"
	_, page = get(t, address)
	assert.Contains(t, page, "Asked all, none")
	resp, body := ask(t, http.MethodPost, address, url.Values{"asked": {"yes"}, "pain": {"lots"}}, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, resp.StatusCode)
	assert.Contains(t, body, "Pain now: expected a whole number from 0 to 10")

	resp, _ = ask(t, http.MethodPost, address, url.Values{"asked": {"yes"}, "pain": {strconv.Itoa(plan.Plan.PainNow)}}, nil)
	assert.Equal(t, "/plans/"+plan.ID+"/teach", resp.Header.Get("Location"), "nothing has changed")
	resp, _ = ask(t, http.MethodPost, address, url.Values{"asked": {"yes"}, "pain": {"6"}}, nil)
	assert.Equal(t, "/plans/"+plan.ID, resp.Header.Get("Location"), "planned anew, to be looked over")
	assert.Equal(t, 6, planned(t, s, "Tobias").Plan.PainNow)

	resp, _ = ask(t, http.MethodPost, address, url.Values{"pain": {"2"}, "red_flags": {"saddle_numbness"}}, nil)
	assert.Equal(t, "/clients/"+plan.ClientID, resp.Header.Get("Location"))
	_, page = get(t, srv.URL+"/clients/"+plan.ClientID)
	assert.Contains(t, page, "refer: emergency, now")
	assert.Contains(t, page, "This is an emergency")
	status, _ := get(t, srv.URL+"/plans/"+plan.ID+"/teach")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
}

func TestARuleIsLoosenedOnSomebodysWord(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	id := client(t, s, "Odette")
	loosen := srv.URL + "/clients/" + id + "/clearances"
	resp, body := ask(t, http.MethodPost, loosen, url.Values{"rule": {"osteoporosis.head_lift"}, "by": {""}}, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, resp.StatusCode)
	assert.Contains(t, body, "Who cleared it: expected a name. Nothing was changed.")
	resp, _ = ask(t,
		http.MethodPost,
		loosen,
		url.Values{"rule": {"osteoporosis.head_lift"}, "by": {"Dr Fennel"}, "note": {"chin to chest only"}},
		nil,
	)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	_, page := get(t, srv.URL+"/clients/"+id)
	assert.Contains(t, page, "Dr Fennel")
	assert.NotContains(t, page, "<summary>Lifting the head when lying</summary>")
	_, sheet := get(t, srv.URL+"/clients/"+id+"/limits")
	assert.Contains(t, sheet, "Dr Fennel", "shown on the sheet too")
	resp, _ = ask(t, http.MethodPost, loosen+"/remove", url.Values{"rule": {"osteoporosis.head_lift"}}, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	_, page = get(t, srv.URL+"/clients/"+id)
	assert.Contains(t, page, "<summary>Lifting the head when lying</summary>")
}

func TestScreensAreKeptOrRefusedWhole(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	id := client(t, s, "Saffron")
	address := srv.URL + "/clients/" + id + "/screens"
	before, err := s.Store.Client(context.Background(), id)
	require.NoError(t, err)
	form := url.Values{
		"half_squat.finding":         {"loses_neutral"},
		"moment":                     {"before"},
		"m.single_leg_stance_s.left": {"4"},
		"m.plain":                    {"x"},
		"m.timed_up_and_go_s":        {"quick"},
	}
	resp, body := ask(t, http.MethodPost, address, form, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, resp.StatusCode)
	assert.Contains(t, body, "Up, three metres and back: expected a number")
	assert.Contains(t, body, `name="m.single_leg_stance_s.left" inputmode="decimal" size="6" value="4"`, "what was typed is still there")
	after, err := s.Store.Client(context.Background(), id)
	require.NoError(t, err)
	assert.Equal(t, before.Client, after.Client, "nothing half saved")
	form.Set("m.single_leg_stance_s.left", "900")
	form.Del("m.timed_up_and_go_s")
	_, body = ask(t, http.MethodPost, address, form, nil)
	assert.Contains(t, body, "900 cannot be right")

	form.Set("m.single_leg_stance_s.left", "4")
	resp, _ = ask(t, http.MethodPost, address, form, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	_, page := get(t, address)
	assert.Contains(t, page, "Half squat: the back lost its shape")
	assert.Contains(t, page, "under 5 s goes with injurious falls")
	assert.Contains(t, page, "hips moving while the spine stays")
	form = url.Values{"half_squat.finding": {"able"}, "moment": {"before"}, "m.single_leg_stance_s.left": {"6"}}
	resp, _ = ask(t, http.MethodPost, address, form, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	again, err := s.Store.Client(context.Background(), id)
	require.NoError(t, err)
	assert.Len(t, again.Client.Measures, len(before.Client.Measures)+1, "again on the same day corrects it")
	assert.Len(t, again.Client.Screens, len(before.Client.Screens)+1)
	resp, _ = ask(t, http.MethodPost, address+"/take-back", url.Values{}, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	_, page = get(t, address)
	assert.NotContains(t, page, "Half squat: the back lost its shape")
}

func TestEveryConditionCanBeAskedAbout(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	form := full()
	for field := range form { // details of what is not ticked would be asked about
		if strings.Contains(field, "osteoporosis.") || strings.Contains(field, "disc_sciatica.") ||
			strings.Contains(field, "wrist_pain.") ||
			field == "strict" {
			form.Del(field)
		}
	}
	form["conditions"] = []string{"spinal_fusion", "scoliosis", "hip_replacement", "raised_blood_pressure", "shoulder_pain"}
	for field, v := range map[string]string{"spinal_fusion.levels": "L4-S1", "spinal_fusion.weeks_since": "61",
		"spinal_fusion.cleared_for_exercise": "yes",
		"scoliosis.thoracic":                 "right", "scoliosis.thoracic_cobb": "24", "hip_replacement.side": "left",
		"hip_replacement.approach": "posterior", "hip_replacement.weeks_since": "35",
		"hip_replacement.cleared_for_exercise": "yes",
		"raised_blood_pressure.reading":        "138/84", "raised_blood_pressure.controlled": "yes", "shoulder_pain.rest_pain": "no"} {
		form.Set(field, v)
	}
	resp, _ := ask(t, http.MethodPost, srv.URL+"/clients", form, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	row, err := s.Store.Client(context.Background(), client(t, s, "Perpetua"))
	require.NoError(t, err)
	k := row.Client.Conditions
	assert.Equal(t, "L4-S1", k[0].Word("levels"))
	cleared, _ := k[0].Yes("cleared_for_exercise")
	operated, err := civil.Parse(k[0].Word("operated_on"))
	require.NoError(t, err)
	assert.InDelta(t, 0, operated.Since(s.Today().AddDate(0, -14, 0)), 3, "kept as a date, which ages by itself")
	assert.True(t, cleared)
	assert.Equal(t, "right", k[1].Curves("curves")[0].Convex)
	assert.Equal(t, 24.0, k[1].Curves("curves")[0].CobbDeg)
	assert.Equal(t, "posterior", k[2].Word("approach"))
	assert.Equal(t, "138/84", k[3].Word("reading"))
	resting, said := k[4].Yes("rest_pain")
	assert.True(t, said && !resting)
	_, edit := get(t, srv.URL+"/clients/"+row.ID+"/edit")
	assert.Contains(t, edit, `name="spinal_fusion.levels" value="L4-S1"`)
	_, page := get(t, srv.URL+"/clients/"+row.ID)
	assert.Contains(t, page, "class=\"curves\"")
}
