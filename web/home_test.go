package web

import (
	"context"
	"encoding/json"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
	"restbend/core/home"
	"restbend/store"
)

// odette is the demo client with six weeks on record.
func odette(t *testing.T, s *app.Studio) store.Client {
	t.Helper()
	all, err := s.Store.Clients(context.Background())
	require.NoError(t, err)
	for _, k := range all {
		if strings.HasPrefix(k.Client.Name, "Odette") {
			return k
		}
	}
	require.Fail(t, "she is not in the demo")
	return store.Client{}
}

// TestAProgrammeForHome is made, changed with every change checked, taken back, printed and
// taken away.
func TestAProgrammeForHome(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	ctx := context.Background()
	k := odette(t, s)
	resp, body := ask(t, http.MethodPost, srv.URL+"/clients/"+k.ID+"/homes", url.Values{"items": {"9"}, "days": {"7"}}, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, resp.StatusCode)
	assert.Contains(t, body, "Items: 9; expected 2 to 6.")
	resp, _ = ask(t, http.MethodPost, srv.URL+"/clients/"+k.ID+"/homes", url.Values{"items": {"4"}, "days": {"7"}}, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	page := srv.URL + resp.Header.Get("Location")
	id := page[strings.LastIndex(page, "/")+1:]
	now := func() store.Home {
		row, err := s.Store.Home(ctx, id)
		require.NoError(t, err)
		return row
	}
	assert.Equal(t, "ready", now().Programme.Status)
	before := now().Programme
	edit := func(revision string, says url.Values) (int, string) {
		says.Set("revision", revision)
		resp, body := ask(t, http.MethodPost, page+"/edit", says, nil)
		return resp.StatusCode, body
	}
	for says, e := range map[string]url.Values{
		"does not go home":     {"kind": {"add"}, "variant": {"curl_up"}},
		"Kind":                 {"kind": {"magic"}},
		"is not in the progra": {"kind": {"remove"}, "variant": {"curl_up"}},
		"Days":                 {"kind": {"dose"}, "variant": {before.Items[0].Variant}, "dose": {"6"}},
	} {
		status, body := edit("1", e)
		assert.Equal(t, http.StatusUnprocessableEntity, status, says)
		assert.Contains(t, body, says)
		assert.Equal(t, before, now().Programme, "%s: nothing is changed", says)
	}
	status, _ := edit("1", url.Values{"kind": {"remove"}, "variant": {before.Items[0].Variant}})
	require.Equal(t, http.StatusSeeOther, status)
	assert.Len(t, now().Programme.Items, len(before.Items)-1)
	status, _ = edit("1", url.Values{"kind": {"remove"}, "variant": {before.Items[1].Variant}})
	assert.Equal(t, http.StatusConflict, status, "from an older window")
	_, body = get(t, page)
	assert.Contains(t, body, "taken out.")
	resp, _ = ask(t, http.MethodPost, page+"/undo", url.Values{"revision": {"2"}}, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	assert.Equal(t, before, now().Programme, "taken back")
	_, body = get(t, page+"?q=curl-up")
	assert.Contains(t, body, "does not go home")

	for _, query := range []string{"", "?size=letter", "?large=yes", "?caution=yes"} {
		resp, body := ask(t, http.MethodGet, page+"/sheet.pdf"+query, nil, nil)
		assert.Equal(t, http.StatusOK, resp.StatusCode, query)
		assert.True(t, strings.HasPrefix(body, "%PDF-"), query)
	}
	resp, body = ask(t, http.MethodGet, page+"/sheet.pdf?size=a9", nil, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, resp.StatusCode)
	assert.Contains(t, body, "expected a4 or letter")

	// A letter is written into the folder; one to nobody is refused as it was typed.
	resp, body = ask(t,
		http.MethodPost,
		page+"/mail",
		url.Values{"to": {"ada"}, "subject": {"At home"}, "text": {"Typed with care"}, "sheet": {"yes"}},
		nil,
	)
	assert.Equal(t, http.StatusUnprocessableEntity, resp.StatusCode)
	assert.Contains(t, body, "expected one such as name@example.org")
	assert.Contains(t, body, "Typed with care")
	resp, _ = ask(t,
		http.MethodPost,
		page+"/mail",
		url.Values{
			"to":       {"ada@example.org"},
			"subject":  {"At home"},
			"text":     {"x"},
			"sheet":    {"yes"},
			"file":     {"yes"},
			"calendar": {"yes"},
		},
		nil,
	)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	_, body = get(t, srv.URL+"/outbox")
	assert.Contains(t, body, "ada@example.org")
	link := regexp.MustCompile(`/outbox/[^"]+`).FindString(body)
	_, mail := get(t, srv.URL+link)
	for _, name := range []string{"at-home.pdf", "at-home.html", "sessions.ics"} {
		assert.Contains(t, mail, name)
	}

	resp, _ = ask(t, http.MethodPost, page+"/away", url.Values{}, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	homes, err := s.Store.HomesOf(ctx, k.ID)
	require.NoError(t, err)
	assert.Empty(t, homes)
	resp, _ = ask(t, http.MethodPost, page+"/away", url.Values{"back": {"yes"}}, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	homes, err = s.Store.HomesOf(ctx, k.ID)
	require.NoError(t, err)
	assert.Len(t, homes, 1)
}

// TestTheFileForHome works from disk without a server, on a phone's screen: the clock runs,
// what was done is kept over a reload, and the code that is read out comes back in.
func TestTheFileForHome(t *testing.T) {
	t.Parallel()
	srv, s := demoSite(t)
	ctx := context.Background()
	k := odette(t, s)
	id, err := s.AddHome(ctx, k.ID, 3, 7)
	require.NoError(t, err)
	resp, file := ask(t, http.MethodGet, srv.URL+homeLink(id)+"/at-home.html", nil, nil)
	require.Equal(t, http.StatusOK, resp.StatusCode)
	assert.Less(t, len(file), 1<<20, "under a megabyte")
	assert.NotRegexp(t, `(?:src|href)="?https?:`, file, "nothing is fetched")
	path := filepath.Join(t.TempDir(), "at-home.html")
	require.NoError(t, os.WriteFile(path, []byte(file), 0o600))
	srv.CloseClientConnections()

	b := newBrowser(t, 390, 844)
	b.open("file://" + path)
	b.until(`document.querySelectorAll(".card").length >= 3`)
	assert.LessOrEqual(t, read[int](b, `document.documentElement.scrollWidth`), 390)
	b.press(`.card .tongue`)
	b.until(`document.querySelector(".clock").innerText.includes("get ready")`)
	b.press(`.card .tongue`)
	b.until(`document.querySelector(".clock").innerText === ""`)
	b.press(`.card .done`)
	b.press(`#pain button:nth-child(3)`)
	b.until(
		`document.querySelector(".done").getAttribute("aria-pressed") === "true" && ` +
			`document.getElementById("code").innerText.endsWith("A2")`,
	)
	b.accessible("the file for home")
	b.open("file://" + path)
	b.until(`document.querySelector(".done").getAttribute("aria-pressed") === "true"`)
	code := b.text("#code")

	// The code is looked at, then taken in; the diary stands there and answers the follow-up.
	today := s.Today().String()
	code = s.Today().Format("060102") + code[6:] // the browser lives in another day than the demo
	page := srv.URL + homeLink(id) + "/diary"
	resp, body := ask(t, http.MethodPost, page, url.Values{"diary": {code}}, nil)
	require.Equal(t, http.StatusOK, resp.StatusCode, body)
	assert.Contains(t, body, "This is what it says")
	kept, err := s.Store.DiariesOf(ctx, id)
	require.NoError(t, err)
	assert.Empty(t, kept, "looking takes nothing in")
	resp, _ = ask(t, http.MethodPost, page, url.Values{"diary": {code}, "take": {"yes"}}, nil)
	require.Equal(t, http.StatusSeeOther, resp.StatusCode)
	kept, err = s.Store.DiariesOf(ctx, id)
	require.NoError(t, err)
	require.Len(t, kept, 1)
	assert.Equal(t, today, kept[0].Diary.Entries[0].On)
	records, err := s.Store.RecordsOf(ctx, k.ID)
	require.NoError(t, err)
	last := records[len(records)-1]
	require.NotNil(t, last.Record.FollowUp, "yesterday's lesson is answered")
	assert.Equal(t, 2, *last.Record.FollowUp.PainNextDay)
	assert.Equal(t, "none", last.Record.FollowUp.Kind)

	// What is no diary, or another's, is refused with the field.
	d := home.Diary{Format: "restbend.diary/1", Home: "another", Entries: []home.Entry{{On: today, Done: []string{}}}}
	text, err := json.Marshal(d)
	require.NoError(t, err)
	for says, sent := range map[string]string{"Code": "soup", "another programme": string(text), "format": `{"format":"x"}`,
		"Code: expected": ""} {
		resp, body := ask(t, http.MethodPost, page, url.Values{"diary": {sent}, "take": {"yes"}}, nil)
		assert.Equal(t, http.StatusUnprocessableEntity, resp.StatusCode, says)
		assert.Contains(t, strings.ToLower(body), strings.ToLower(says), says)
	}
	b.do(chromedp.Navigate(srv.URL + homeLink(id)))
	b.until(`document.querySelector(".home-item")`)
	b.accessible("the programme for home")
}
