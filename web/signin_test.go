package web

import (
	"context"
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
)

// TestSigningIn goes through the door as it is meant to be gone through, and as it is not.
func TestSigningIn(t *testing.T) {
	t.Parallel()
	x := newLocked(t)
	ctx := context.Background()
	id := x.add("olive", "owner")
	v := x.visitor()
	for i := range 5 {
		status, _, body := v.post("/sign-in", url.Values{"login": {"olive"}, "password": {fmt.Sprint("wrong ", i)}})
		assert.Equal(t, http.StatusUnprocessableEntity, status)
		assert.NotContains(t, body, fmt.Sprint("wrong ", i), "a password is not sent back")
	}
	status, _, body := v.post("/sign-in", url.Values{"login": {"Olive"}, "password": {secretWords}})
	assert.Equal(t, http.StatusTooManyRequests, status, "also with the right one")
	assert.Contains(t, body, "Wait 15 seconds")
	x.clock = x.clock.Add(16 * time.Second)

	// What was sent without being signed in is sent again.
	all, err := x.Store.Clients(ctx)
	require.NoError(t, err)
	status, _, body = v.post(
		"/clients/"+all[0].ID+"/rights/consent",
		url.Values{"consent": {"to be \"written\" to"}, "given": {"yes"}, "on": {"2026-11-20"}},
	)
	assert.Equal(t, http.StatusUnauthorized, status)
	assert.Contains(t, body, `name="carried.consent" value="to be &#34;written&#34; to"`)
	status, _, body = v.post(
		"/sign-in",
		url.Values{
			"login":           {"OLIVE"},
			"password":        {secretWords},
			"to":              {"//elsewhere.example"},
			"path":            {"/clients/" + all[0].ID + "/rights/consent"},
			"carried.consent": {"to be written to"},
			"carried.given":   {"yes"},
			"carried.on":      {"2026-11-20"},
		},
	)
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, body, `name="consent" value="to be written to"`)
	assert.Contains(t, body, `action="/clients/`+all[0].ID+`/rights/consent"`)
	for _, to := range []string{"//evil.example", "https://evil.example", `/\evil.example`, "javascript:alert(1)", ""} {
		assert.Equal(t, "/", onward(to))
	}

	// One-time codes: with the code of the moment, once.
	secret, _, err := app.NewOnce("Loft", "olive")
	require.NoError(t, err)
	code := func() string {
		c, err := totp.GenerateCode(secret, x.clock)
		require.NoError(t, err)
		return c
	}
	require.Error(t, x.SetOnce(ctx, id, secretWords, secret, "000000"))
	require.NoError(t, x.SetOnce(ctx, id, secretWords, secret, code()))
	status, _ = v.get("/clients")
	assert.Equal(t, http.StatusSeeOther, status, "another way of signing in ends what was before")
	x.clock = x.clock.Add(time.Minute)
	form := url.Values{"login": {"olive"}, "password": {secretWords}, "to": {"/people"}}
	status, _, _ = v.post("/sign-in", form)
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	form.Set("code", code())
	status, to, _ := v.post("/sign-in", form)
	assert.Equal(t, http.StatusSeeOther, status)
	assert.Equal(t, "/people", to)
	status, _, _ = x.visitor().post("/sign-in", form)
	assert.Equal(t, http.StatusUnprocessableEntity, status, "a code is taken once")
	require.NoError(t, x.SetOnce(ctx, id, secretWords, "", ""))
	v = x.as("olive")

	// A screen that nobody touched locks; a short code opens it, five wrong ones sign out.
	require.Error(t, x.SetShort(ctx, id, secretWords, "1234"), "digits in a row")
	require.Error(t, x.SetShort(ctx, id, "another password", "4719"), "the password is asked for")
	opens, err := x.Unlocks(ctx, id, "4719")
	require.NoError(t, err)
	assert.False(t, opens, "nothing was set")
	require.NoError(t, x.SetShort(ctx, id, secretWords, "4719"))
	require.Error(t, x.SetShort(ctx, id, "another password", ""), "nor is it taken away without")
	opens, err = x.Unlocks(ctx, id, "4719")
	require.NoError(t, err)
	assert.True(t, opens)
	x.clock = x.clock.Add(21 * time.Minute)
	status, to1 := v.get("/clients?q=a")
	assert.Equal(t, http.StatusSeeOther, status)
	assert.True(t, strings.HasPrefix(to1, "/locked?to=%2Fclients%3Fq%3Da"), to1)
	plans, err := x.Store.PlansOn(ctx, x.Today().String())
	require.NoError(t, err)
	status, to1 = v.get("/plans/" + plans[0].ID + "/marks")
	assert.Equal(t, http.StatusSeeOther, status, "what was marked is not shown, "+to1)
	r1, err := v.Post(x.URL+"/plans/"+plans[0].ID+"/marks", "application/json", strings.NewReader(`{"marks":[]}`))
	require.NoError(t, err)
	r1.Body.Close()
	assert.NotEqual(t, http.StatusLocked, r1.StatusCode, "and what is marked is taken")
	status, _, body = v.post("/clients/"+all[0].ID+"/rights/consent", url.Values{"consent": {"photographs"}})
	assert.Equal(t, http.StatusLocked, status)
	assert.Contains(t, body, "photographs")
	status, to, _ = v.post("/unlock", url.Values{"code": {"4719"}, "to": {"/records"}})
	assert.Equal(t, http.StatusSeeOther, status)
	assert.Equal(t, "/records", to)
	status, _ = v.get("/records")
	assert.Equal(t, http.StatusOK, status)
	status, _, _ = v.post("/lock", nil)
	assert.Equal(t, http.StatusSeeOther, status)
	for range 5 {
		status, _, body = v.post("/unlock", url.Values{"code": {"0000"}})
		assert.Equal(t, http.StatusUnprocessableEntity, status)
	}
	assert.Contains(t, body, "Five wrong codes")
	_, to1 = v.get("/records")
	assert.True(t, strings.HasPrefix(to1, "/sign-in"))

	// Signing out, here and everywhere.
	one, two := x.as("olive"), x.as("olive")
	resp, err := one.PostForm(x.URL+"/sign-out", nil)
	require.NoError(t, err)
	resp.Body.Close()
	assert.Equal(t, `"cache", "storage"`, resp.Header.Get("Clear-Site-Data"))
	status, _ = one.get("/")
	assert.Equal(t, http.StatusSeeOther, status)
	one = x.as("olive")
	status, _, _ = one.post("/me/everywhere", nil)
	assert.Equal(t, http.StatusSeeOther, status)
	status, _ = two.get("/")
	assert.Equal(t, http.StatusSeeOther, status)
	status, _ = one.get("/me")
	assert.Equal(t, http.StatusOK, status)
	status, _, _ = one.post("/me/password", url.Values{"now": {secretWords}, "password": {"short"}, "again": {"short"}})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	status, _, body = one.post("/me/password", url.Values{"now": {secretWords}, "password": {"password1234"}, "again": {"password1234"}})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, body, "guessed too easily")

	for _, weak := range []string{"Olive-2026!", "qwertyuiop12", "aaaaaaaaaaaaaa", "1234567890123", "Pilates-Studio-Spring",
		"SummerSummer"} {
		assert.ErrorContains(t, x.GivePassword(ctx, id, weak), "guessed too easily", weak)
	}
	for _, strong := range []string{"kettle moth umbrella", "7vZp!qW2mRx", "der Hafen liegt im Nebel"} {
		assert.NoError(t, x.GivePassword(ctx, id, strong), strong)
	}
	require.NoError(t, x.GivePassword(ctx, id, secretWords))

	// The cookie is no script's and no other site's.
	r, err := http.PostForm(x.URL+"/sign-in", url.Values{"login": {"olive"}, "password": {secretWords}})
	require.NoError(t, err)
	r.Body.Close()
	resp, err = x.visitor().PostForm(x.URL+"/sign-in", url.Values{"login": {"olive"}, "password": {secretWords}})
	require.NoError(t, err)
	resp.Body.Close()
	assert.True(t, resp.Cookies()[0].HttpOnly)
	assert.Equal(t, http.SameSiteLaxMode, resp.Cookies()[0].SameSite)
}

// TestPeopleAreLookedAfter: the last owner stays one, a name is one person's, who has left is
// not let in.
func TestPeopleAreLookedAfter(t *testing.T) {
	t.Parallel()
	x := newLocked(t)
	ctx := context.Background()
	x.add("olive", "owner")
	v := x.as("olive")
	status, to, body := v.post(
		"/people",
		url.Values{"name": {"Ines"}, "login": {"ines"}, "role": {"instructor"}, "password": {secretWords}},
	)
	require.Equal(t, http.StatusSeeOther, status, body)
	_, _, body = v.post("/people", url.Values{"name": {"Ines Two"}, "login": {"INES"}, "role": {"reader"}, "password": {secretWords}})
	assert.Contains(t, body, "is somebody’s already")
	assert.Contains(t, body, `value="Ines Two"`)
	status, _, _ = v.post(to+"/away", nil)
	assert.Equal(t, http.StatusSeeOther, status)
	status, _, _ = x.visitor().post("/sign-in", url.Values{"login": {"ines"}, "password": {secretWords}})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	all, err := x.Store.People(ctx)
	require.NoError(t, err)
	for _, p := range all {
		if p.Role == "owner" && p.Login != "olive" {
			require.NoError(t, x.Leave(ctx, p.ID, true)) // the demo's
		}
	}
	me, err := x.Store.PersonNamed(ctx, "olive")
	require.NoError(t, err)
	_, _, body = v.post("/people/"+me.ID+"/who", url.Values{"name": {"Olive"}, "login": {"olive"}, "role": {"reader"}})
	assert.Contains(t, body, "without an owner")
	me, err = x.Store.PersonNamed(ctx, "olive")
	require.NoError(t, err)
	assert.Equal(t, "owner", me.Role)
}
