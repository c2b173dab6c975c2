package main

import (
	"bufio"
	"context"
	"flag"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os/exec"
	"path"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/store"
)

var kills = flag.Int("kills", 3, "how often the server is killed while it is written to")

// running is a server in a process of its own.
type running struct {
	cmd     *exec.Cmd
	address string
}

func start(t *testing.T, binary, dir string) running {
	t.Helper()
	cmd := exec.Command(binary, "serve", "--addr", "127.0.0.1:0", "--data", dir)
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	line, err := bufio.NewReader(out).ReadString('\n')
	require.NoError(t, err)
	r := running{cmd, regexp.MustCompile(`http://\S+`).FindString(line)}
	if resp, err := stay.Get(r.address + "/"); err == nil { // the first time somebody has to begin
		resp.Body.Close()
		if strings.HasPrefix(resp.Header.Get("Location"), "/first") {
			status, _ := r.post(
				"/first",
				url.Values{"studio": {"Loft"}, "name": {"Maren"}, "login": {"maren"}, "password": {theirs}, "again": {theirs}},
			)
			require.Equal(t, http.StatusSeeOther, status)
		}
	}
	return r
}

// theirs is the owner's password.
const theirs = "lantern over nine quiet boats"

// built is the program, compiled for the test.
func built(t *testing.T) string {
	t.Helper()
	binary := filepath.Join(t.TempDir(), "restbend")
	out, err := exec.Command("go", "build", "-o", binary, ".").CombinedOutput()
	require.NoError(t, err, string(out))
	return binary
}

func newClient(name string) url.Values {
	return url.Values{
		"key":       {uuid.NewString()},
		"name":      {name},
		"place":     {"chair"},
		"approach":  {"steady"},
		"minutes":   {"15"},
		"equipment": {"chair"},
	}
}

// planned adds a client and a plan, and gives the paths of both.
func (r running) planned(t *testing.T) (home, plan string) {
	t.Helper()
	_, home = r.post("/clients", newClient("Ada First"))
	require.NotEmpty(t, home)
	_, plan = r.post(home+"/plans", url.Values{"key": {uuid.NewString()}, "minutes": {"10"}})
	require.Contains(t, plan, "/plans/")
	return home, plan
}

// kill ends the process as a power cut would.
func (r running) kill() {
	_ = r.cmd.Process.Kill() // it may have ended
	_ = r.cmd.Wait()
}

var stay = &http.Client{
	Timeout:       10 * time.Second,
	Jar:           jar(),
	CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
}

func jar() http.CookieJar {
	j, err := cookiejar.New(nil)
	if err != nil {
		panic(err) // never without options
	}
	return j
}

// post sends a form; without an answer the status is 0.
func (r running) post(path string, form url.Values) (status int, location string) {
	resp, err := stay.PostForm(r.address+path, form)
	if err != nil {
		return 0, ""
	}
	defer resp.Body.Close()
	_, _ = io.Copy(io.Discard, resp.Body) // nothing in it matters here
	return resp.StatusCode, resp.Header.Get("Location")
}

func (r running) get(t *testing.T, path string) string {
	t.Helper()
	resp, err := stay.Get(r.address + path)
	require.NoError(t, err)
	defer resp.Body.Close()
	b, err := io.ReadAll(resp.Body)
	require.NoError(t, err)
	require.Equal(t, http.StatusOK, resp.StatusCode, path)
	return string(b)
}

// write is one thing that was asked for, and what shows that it was done.
type write struct {
	path string
	form url.Values
	page string // where it is seen
	mark string // there, once; empty: the place it led to
	led  string
}

// TestAHardKillLosesAndDoublesNothing: while clients, plans, notes and
// corrections are written by several hands, the server is killed. After it
// is started again all that was acknowledged is there; all that was not is sent again,
// and is there once. (The long run: go test ./cmd/restbend -run HardKill -kills 100.)
func TestAHardKillLosesAndDoublesNothing(t *testing.T) {
	binary, dir := built(t), t.TempDir()
	r := start(t, binary, dir)
	defer func() { r.kill() }()

	home, plan := r.planned(t)
	status, record := r.post(plan+"/record", url.Values{"key": {uuid.NewString()}, "before": {"2"}, "after": {"1"}})
	require.Equal(t, http.StatusSeeOther, status)

	var all []*write
	number := 0
	var mu sync.Mutex
	next := func(hand int) *write {
		mu.Lock()
		defer mu.Unlock()
		number++
		mark := fmt.Sprintf("mark%dq", number)
		w := &write{path: record + "/notes", form: url.Values{"note": {mark}}, page: record, mark: mark}
		switch hand {
		case 1:
			w = &write{path: "/clients", form: newClient(mark), page: "/clients?q=" + mark, mark: `client-name">` + mark}
		case 2:
			w = &write{path: home + "/plans", form: url.Values{"minutes": {fmt.Sprint(5 + number%20)}, "second": {"yes"}}}
		case 3:
			w = &write{
				path: record + "/correct",
				form: url.Values{"by": {"Ada"}, "why": {mark}, "was": {fmt.Sprint(1 + number%3000)}, "before": {"2"}, "after": {"1"}},
				page: record,
				mark: mark,
			}
		}
		w.form.Set("key", uuid.NewString())
		all = append(all, w)
		return w
	}
	corrected := correctable(r.get(t, record+"/correct"))
	acknowledged, resent := 0, 0
	for range *kills {
		var hands sync.WaitGroup
		stop := make(chan struct{})
		var unanswered []*write
		for hand := range 4 {
			hands.Go(func() {
				for {
					select {
					case <-stop:
						return
					default:
					}
					w := next(hand)
					if hand == 3 {
						for k, v := range corrected {
							w.form[k] = v
						}
						w.form.Set("seconds-1", w.form.Get("was")) // each says something else
						w.form.Del("was")
					}
					status, to := r.post(w.path, w.form)
					mu.Lock()
					if status == 0 {
						unanswered = append(unanswered, w)
						mu.Unlock()
						return
					}
					assert.Equal(t, http.StatusSeeOther, status, w.path)
					w.led = to
					acknowledged++
					mu.Unlock()
				}
			})
		}
		time.Sleep(time.Duration(50+rand.IntN(350)) * time.Millisecond)
		r.kill()
		close(stop)
		hands.Wait()
		r = start(t, binary, dir)
		for _, w := range unanswered {
			status, to := r.post(w.path, w.form)
			require.Equal(t, http.StatusSeeOther, status, w.path)
			w.led = to
			resent++
		}
	}
	pages, led := map[string]string{}, map[string]bool{}
	for _, w := range all {
		require.NotEmpty(t, w.led)
		if w.mark == "" {
			assert.False(t, led[w.led], "two plans are one")
			led[w.led] = true
			continue
		}
		if pages[w.page] == "" {
			pages[w.page] = r.get(t, w.page)
		}
		assert.Equal(t, 1, strings.Count(pages[w.page], w.mark), w.mark)
	}
	r.kill()
	db, err := store.Open(context.Background(), dir)
	require.NoError(t, err)
	defer db.Close()
	plans, err := db.PlansOf(context.Background(), path.Base(home))
	require.NoError(t, err)
	assert.Len(t, plans, len(led)+1, "every plan that was asked for, the one that was taught, and no other")
	n, _, err := db.CheckTrail(context.Background())
	require.NoError(t, err, "the trail is unbroken")
	assert.Greater(t, n, acknowledged, "and has all of it")
	t.Logf("%d kills, %d acknowledged, %d sent again", *kills, acknowledged, resent)
	assert.Greater(t, acknowledged, *kills)
}

// correctable are the exercises of a record as its form has them.
func correctable(page string) url.Values {
	v := url.Values{}
	for _, m := range regexp.MustCompile(`name="((?:repetitions|seconds)-\d+)"[^>]*value="(\d+)"`).FindAllStringSubmatch(page, -1) {
		v.Set(m[1], m[2])
	}
	for _, m := range regexp.MustCompile(`name="(ended-\d+)"`).FindAllStringSubmatch(page, -1) {
		v.Set(m[1], "form")
	}
	return v
}

// TestAHardKillLosesNoMark: while the marks of a lesson stream in, the server is killed;
// every mark that was acknowledged is there, once, and those that were not are taken when
// they are sent again. (The long run: -run HardKillLosesNoMark -kills 100.)
func TestAHardKillLosesNoMark(t *testing.T) {
	binary, dir := built(t), t.TempDir()
	r := start(t, binary, dir)
	defer func() { r.kill() }()
	_, plan := r.planned(t)
	at := time.Now().Format(time.RFC3339)
	send := func(ids []string) bool {
		var marks []string
		for _, id := range ids {
			marks = append(marks, fmt.Sprintf(`{"id":%q,"kind":"note","text":"x","at":%q,"clock_s":1}`, id, at))
		}
		resp, err := stay.Post(r.address+plan+"/marks", "application/json", strings.NewReader(`{"marks":[`+strings.Join(marks, ",")+`]}`))
		if err != nil {
			return false
		}
		defer resp.Body.Close()
		b, err := io.ReadAll(resp.Body)
		return err == nil && resp.StatusCode == http.StatusOK && strings.Count(string(b), `-`) >= 4*len(ids)
	}
	acknowledged, unanswered := []string{}, []string{}
	for range *kills {
		stop, ended := make(chan struct{}), make(chan struct{})
		go func() {
			defer close(ended)
			for beat := time.NewTicker(10 * time.Millisecond); ; <-beat.C {
				select {
				case <-stop:
					beat.Stop()
					return
				default:
				}
				id := uuid.NewString()
				if send([]string{id}) {
					acknowledged = append(acknowledged, id)
				} else {
					unanswered = append(unanswered, id)
				}
			}
		}()
		time.Sleep(time.Duration(50+rand.IntN(200)) * time.Millisecond)
		r.kill()
		close(stop)
		<-ended
		r = start(t, binary, dir)
		kept := r.get(t, plan+"/marks")
		for _, id := range acknowledged {
			require.Equal(t, 1, strings.Count(kept, id), id)
		}
	}
	if len(unanswered) > 0 {
		require.True(t, send(unanswered))
	}
	kept := r.get(t, plan+"/marks")
	for _, id := range append(acknowledged, unanswered...) {
		require.Equal(t, 1, strings.Count(kept, id), id)
	}
	t.Logf("%d kills, %d acknowledged, %d sent again", *kills, len(acknowledged), len(unanswered))
	assert.Greater(t, len(acknowledged), *kills)
}
