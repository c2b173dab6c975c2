package web

import (
	"context"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"net/http/httptest"
	"slices"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
	"restbend/core/exercise"
	"restbend/core/lesson"
	"restbend/core/limit"
	"restbend/core/plan"
	"restbend/core/readiness"
)

// TestSafetyPainInALessonWithoutAConnection goes through three lessons whose server is gone: pain in
// a limb, pain in the back, a warning sign. What the page then leads to is inside what the day
// allows by the server's own rules, and everything is sent when the connection is back.
func TestSafetyPainInALessonWithoutAConnection(t *testing.T) {
	for name, c := range map[string]struct {
		client, where string
		score         int
		flag          string
	}{
		"a limb":  {client: "Odette", where: "knee", score: 7},
		"a back":  {client: "Tobias", where: "low back", score: 9},
		"a sign":  {client: "Marguerite", flag: "saddle_numbness"},
		"neither": {client: "Edmund", where: "wrist", score: 2},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			h, s := demoHandler(t)
			began := time.Now()
			s.Now = func() time.Time { return now.Add(time.Since(began)) }
			f := &fragile{t: t, handler: h}
			f.start()
			defer func() { f.stop() }()
			row := planned(t, s, c.client)
			b := newBrowser(t, 1024, 768)
			b.open(f.address + "/plans/" + row.ID + "/teach")
			b.until(
				`document.getElementById("teach")?.dataset.ready === "yes" && document.getElementById("teach")?.dataset.heard === "yes"`,
			)
			b.until(`navigator.serviceWorker.controller !== null`)
			b.until(`(caches.match(location.pathname).then((kept) => { window.putBy = !!kept; }), window.putBy === true)`)
			f.stop()
			b.do(chromedp.KeyEvent(" "), chromedp.KeyEvent(" "), chromedp.KeyEvent(kb.ArrowRight))
			hurt := read[string](b, `document.getElementById("t-name").innerText`)
			if c.flag != "" {
				b.do(chromedp.KeyEvent("m"))
				sign, _ := limit.FindRedFlag(c.flag)
				_ = read[any](b,
					fmt.Sprintf(
						`[...document.querySelectorAll("[role=tab]")].find(x => x.innerText === "It hurts").click(); `+
							`[...document.querySelectorAll("#t-drawer-body button")].find(x => x.innerText === %q).click(); 0`,
						sign.Question,
					),
				)
			} else {
				b.do(chromedp.KeyEvent("p"))
				b.until(`document.getElementById("t-pain").open`)
				_ = read[any](b,
					fmt.Sprintf(
						`[...document.querySelectorAll("#t-where button")].find(x => x.innerText === %q).click(); `+
							`document.querySelectorAll("#t-score button")[%d].click(); 0`,
						c.where,
						c.score,
					),
				)
			}
			ends := c.flag != "" || c.score >= 8
			if c.score != 2 {
				b.until(`document.getElementById("t-halt").open`)
				assert.Equal(t, ends, read[bool](b, `document.getElementById("t-halt-on").hidden`))
				assert.Equal(t, ends, read[bool](b, `document.getElementById("t-halt-rest").hidden`))
			}
			var marks []lesson.Mark
			if ends { // nothing leads back into the lesson, nor does loading it again
				assert.NotEmpty(t, b.text("#t-halt-end"))
				_ = read[any](b, `document.getElementById("t-halt").close(); document.getElementById("k-pause").click(); 0`)
				b.until(`document.getElementById("t-halt").open`)
				_ = read[any](b, `document.getElementById("t-halt").close(); document.getElementById("k-next").click(); 0`)
				b.until(`document.getElementById("t-halt").open`)
				b.do(chromedp.Reload())
				b.until(`document.getElementById("t-halt")?.open`)
			} else if c.score != 2 {
				_ = read[any](b, `document.getElementById("t-halt-on").click(); 0`)
			}
			var went []string // on to the end
			for range 30 {
				name := b.glimpse(`location.pathname.endsWith("/teach") ? document.getElementById("t-name").innerText : ""`)
				if ends || name == "" || len(went) > 1 && name == went[len(went)-1] {
					break
				}
				went = append(went, name)
				b.do(chromedp.KeyEvent(kb.ArrowRight), chromedp.Sleep(30*time.Millisecond))
			}
			f.start()
			_ = read[any](b, `window.dispatchEvent(new Event("online")); 0`)
			require.Eventually(t, func() bool {
				var err error
				marks, err = s.Store.Marks(context.Background(), row.ID)
				require.NoError(t, err)
				return slices.ContainsFunc(marks, func(m lesson.Mark) bool { return m.Kind == "warning" || m.Kind == "corrected" })
			}, 20*time.Second, 100*time.Millisecond)
			k, err := s.Store.Client(context.Background(), row.ClientID)
			require.NoError(t, err)
			ready, err := s.ReadyFor(context.Background(), k.ID, k.Client, lesson.Felt(marks), s.Today(), readiness.Teach)
			require.NoError(t, err)
			if ends {
				assert.NotEqual(t, limit.OK, ready.Status(), "the server says the same")
				if c.flag != "" {
					assert.Equal(t, []string{c.flag}, k.Client.OpenFlags(s.Today()))
				}
				return
			}
			require.Equal(t, limit.OK, ready.Status())
			barred := map[string]bool{}
			for _, i := range s.Outside(row.Plan, ready) {
				barred[row.Plan.Items[i].Name] = true
			}
			if c.score > 5 {
				barred[hurt] = true
				assert.NotEmpty(t, barred)
			}
			for _, name := range went {
				assert.False(t, barred[name], "%s is not for today, and was led to", name)
			}
			assert.NotEmpty(t, went)
		})
	}
}

// TestTheRestPlannedAnewHeedsWhatHurts: pain just marked bars what loads it, the exercise that
// hurt does not come back, and a choice made by hand stays.
func TestTheRestPlannedAnewHeedsWhatHurts(t *testing.T) {
	t.Parallel()
	_, s := demoHandler(t)
	ctx := context.Background()
	row := planned(t, s, "Marguerite")
	require.Greater(t, len(row.Plan.Items), 4)
	// A swap by hand, further on.
	last := len(row.Plan.Items) - 2
	r, err := s.RequestOf(ctx, row)
	require.NoError(t, err)
	swapped := ""
	for _, v := range s.Library.Variants {
		if plan.Offers(r, s.PlanLibrary(), v) && v.Position == "supine" &&
			!slices.ContainsFunc(row.Plan.Items, func(it plan.Item) bool { return it.Family == v.Family }) {
			if _, err := s.EditPlan(ctx, row.ID, row.Revision, app.Edit{Kind: "swap", Item: last, Variant: v.ID}); err == nil {
				swapped = v.ID
				break
			}
		}
	}
	require.NotEmpty(t, swapped)
	row, err = s.Store.Plan(ctx, row.ID)
	require.NoError(t, err)
	hurts, score := row.Plan.Items[1], 6
	_, refused, err := s.KeepMarks(ctx, row.ID, []lesson.Mark{{ID: "0190d5a0-0000-7000-8000-000000000001", Item: hurts.ID,
		Variant: hurts.Variant, Kind: "pain", Score: &score, Where: "wrist", At: now.Format(time.RFC3339), ClockS: 60}})
	require.NoError(t, err)
	require.Empty(t, refused)
	_, err = s.EditPlan(ctx, row.ID, row.Revision, app.Edit{Kind: "continue", Item: 1, ID: hurts.ID, Was: hurts.Variant, Minutes: 15})
	require.NoError(t, err)
	row, err = s.Store.Plan(ctx, row.ID)
	require.NoError(t, err)
	k, err := s.Store.Client(ctx, row.ClientID)
	require.NoError(t, err)
	ready, err := s.ReadyFor(ctx,
		k.ID,
		k.Client,
		[]readiness.Mark{{Kind: "pain", Score: &score, Where: "wrist"}},
		s.Today(),
		readiness.Teach,
	)
	require.NoError(t, err)
	for i, it := range row.Plan.Items[2:] {
		assert.NotEqual(t, hurts.Variant, it.Variant, "it does not come back")
		assert.NotContains(t, s.Outside(row.Plan, ready), i+2, "%s loads what hurts", it.Name)
	}
	at := slices.IndexFunc(row.Plan.Items, func(it plan.Item) bool { return it.Variant == swapped })
	require.GreaterOrEqual(t, at, 0, "what was chosen by hand stays")
	assert.False(t, row.Plan.Items[at].Locked)
}

// TestSafetyNoTapsLeadToWhatTheDayBars: whatever is marked in a lesson, in any order and taken back
// or put right, the page bars all that the server bars, and ends where the server ends.
func TestSafetyNoTapsLeadToWhatTheDayBars(t *testing.T) {
	t.Parallel()
	h, s := demoHandler(t)
	srv := httptest.NewServer(h)
	t.Cleanup(srv.Close) // after the browser, which follows the lesson
	ctx := context.Background()
	row := planned(t, s, "Marguerite")
	k, err := s.Store.Client(ctx, row.ClientID)
	require.NoError(t, err)
	chance := rand.New(rand.NewPCG(31, 1))
	var taps [][]lesson.Mark
	for n := range 300 {
		var marks []lesson.Mark
		for i := range 1 + chance.IntN(6) {
			where := append([]string{""}, exercise.ComplaintPlaces...)[chance.IntN(1+len(exercise.ComplaintPlaces))]
			score := chance.IntN(11)
			m := lesson.Mark{
				ID:     fmt.Sprintf("%d-%d", n, i),
				Item:   row.Plan.Items[chance.IntN(len(row.Plan.Items))].ID,
				ClockS: float64(i),
			}
			switch chance.IntN(8) {
			case 0:
				m.Kind, m.Where = "tingling", where
			case 1:
				m.Kind = "set_done"
			case 2, 3:
				if i > 0 {
					m.Item, m.Kind, m.Of = "", "corrected", marks[chance.IntN(i)].ID
					if m.Void = chance.IntN(2) == 0; !m.Void {
						m.Values = json.RawMessage(fmt.Sprintf(`{"score":%d,"where":%q}`, score, where))
					}
					break
				}
				fallthrough
			default:
				m.Kind, m.Where, m.Score = "pain", where, &score
			}
			marks = append(marks, m)
		}
		taps = append(taps, marks)
	}
	b := newBrowser(t, 1024, 768)
	b.open(srv.URL + "/plans/" + row.ID + "/teach")
	b.until(`document.getElementById("teach")?.dataset.ready === "yes"`)
	doc, err := json.Marshal(taps)
	require.NoError(t, err)
	type weighed struct {
		Ended  string
		Barred []bool
	}
	page := read[[]weighed](b,
		`{ const lesson = JSON.parse(document.getElementById("lesson").textContent); `+string(
			doc,
		)+`.map((marks) => { const d = assessMarks(lesson, marks); return { Ended: d.ended, Barred: lesson.items.map((it) => `+
			`d.barred(it)) }; }) }`,
	)
	require.Len(t, page, len(taps))
	ends, bars, free := 0, 0, 0
	for n, marks := range taps {
		ready, err := s.ReadyFor(ctx, k.ID, k.Client, lesson.Felt(marks), s.Today(), readiness.Teach)
		require.NoError(t, err)
		if ready.Status() != limit.OK {
			ends++
			assert.NotEmpty(t, page[n].Ended, "%v", doc)
			continue
		}
		assert.Empty(t, page[n].Ended)
		outside := s.Outside(row.Plan, ready)
		for _, i := range outside {
			assert.True(t, page[n].Barred[i], "%s: %+v", row.Plan.Items[i].Name, marks)
		}
		for _, m := range lesson.Settled(marks) {
			if m.Kind != "pain" || m.Score == nil || *m.Score < 6 {
				continue
			}
			i := slices.IndexFunc(row.Plan.Items, func(it plan.Item) bool { return it.ID == m.Item })
			assert.True(t, page[n].Barred[i], "where it hurt")
		}
		if len(outside) > 0 {
			bars++
		} else {
			free++
		}
	}
	t.Logf("%d end, %d bar something, %d bar nothing", ends, bars, free)
	assert.Greater(t, ends, 20)
	assert.Greater(t, bars, 20)
	assert.Greater(t, free, 20)
}
