package exchange_test

import (
	"bytes"
	"encoding/csv"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/asticode/go-astisub"
	goical "github.com/emersion/go-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/app"
	"restbend/core/limit"
	"restbend/core/readiness"
	"restbend/demo"
	"restbend/exchange"
	"restbend/store"
)

// studio is the demo's on 24 November 2026.
func studio(t testing.TB) *app.Studio {
	judge, err := app.NewJudge()
	require.NoError(t, err)
	db, err := demoDB()
	require.NoError(t, err)
	dir := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(dir, "copy.db"), db, 0o600))
	require.NoError(t, store.Restore(ctx, filepath.Join(dir, "copy.db"), filepath.Join(dir, "studio")))
	s, err := store.Open(ctx, filepath.Join(dir, "studio"))
	require.NoError(t, err)
	t.Cleanup(func() { s.Close() })
	return &app.Studio{Judge: judge, Store: s, Now: func() time.Time { return demoDay }}
}

var demoDay = time.Date(2026, 11, 24, 10, 0, 0, 0, time.UTC)

// demoDB is the demo's database, filled once for all tests.
var demoDB = sync.OnceValues(func() ([]byte, error) {
	judge, err := app.NewJudge()
	if err != nil {
		return nil, err
	}
	dir, err := os.MkdirTemp("", "exchange")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	s, err := store.Open(ctx, dir)
	if err != nil {
		return nil, err
	}
	defer s.Close()
	if err := demo.Fill(ctx, judge, s, demoDay); err != nil {
		return nil, err
	}
	file := filepath.Join(dir, "copy.db")
	if err := store.Backup(ctx, dir, file); err != nil {
		return nil, err
	}
	return os.ReadFile(file)
})

// TestACalendarIsReadByAnother: sessions at their time in the place they are held, also over
// the change of the clocks; cancelled where they were taken away; the same UIDs again.
func TestACalendarIsReadByAnother(t *testing.T) {
	s := studio(t)
	all, err := s.Store.Clients(ctx)
	require.NoError(t, err)
	id, err := s.AddPlan(ctx, all[0].ID, app.Wish{Minutes: 20, Place: "mat", Approach: "steady"}, "2027-03-29", "09:30")
	require.NoError(t, err)
	gone, err := s.AddPlan(ctx, all[0].ID, app.Wish{Minutes: 20, Place: "mat", Approach: "steady"}, "2027-01-04", "")
	require.NoError(t, err)
	require.NoError(t, s.Store.Change(ctx, func(tx *store.Tx) error { return tx.TakePlanAway(gone, true, s.Now()) }))
	home, err := s.AddHome(ctx, all[0].ID, 3, 3)
	require.NoError(t, err)
	place, err := time.LoadLocation("Europe/London")
	require.NoError(t, err)
	write := func() string {
		plans, err := s.Store.EveryPlanOf(ctx, all[0].ID)
		require.NoError(t, err)
		homes, err := s.Store.HomesOf(ctx, all[0].ID)
		require.NoError(t, err)
		var b bytes.Buffer
		require.NoError(t, exchange.Calendar(&b, []exchange.Booked{{Name: all[0].Client.Name, Plans: plans, Homes: homes}}, place))
		return b.String()
	}
	text := write()
	assert.Equal(t, text, write(), "the same again")
	cal, err := goical.NewDecoder(strings.NewReader(text)).Decode()
	require.NoError(t, err)
	found := map[string]goical.Event{}
	for _, e := range cal.Events() {
		uid, err := e.Props.Text(goical.PropUID)
		require.NoError(t, err)
		assert.NotContains(t, found, uid)
		found[uid] = e
	}
	e := found[id+"@restbend"]
	start, err := e.DateTimeStart(time.UTC)
	require.NoError(t, err)
	assert.Equal(t, time.Date(2027, 3, 29, 8, 30, 0, 0, time.UTC), start, "summer time has begun")
	end, err := e.DateTimeEnd(time.UTC)
	require.NoError(t, err)
	assert.Equal(t, 20*time.Minute, end.Sub(start))
	status, err := found[gone+"@restbend"].Props.Text(goical.PropStatus)
	require.NoError(t, err)
	assert.Equal(t, "CANCELLED", status)
	at := found[home+"@restbend"]
	rule, err := at.Props.RecurrenceRule()
	require.NoError(t, err)
	assert.Len(t, rule.Byweekday, 3)
	for _, line := range strings.Split(text, "\r\n") {
		assert.LessOrEqual(t, len(line), 75, "lines are folded")
	}
}

// TestACueTrackIsReadByAnother and ends when the session ends.
func TestACueTrackIsReadByAnother(t *testing.T) {
	s := studio(t)
	plans, err := s.Store.PlansOn(ctx, "2026-11-24")
	require.NoError(t, err)
	require.NotEmpty(t, plans)
	var b bytes.Buffer
	require.NoError(t, exchange.Track(&b, plans[0].Plan))
	subs, err := astisub.ReadFromWebVTT(bytes.NewReader(b.Bytes()))
	require.NoError(t, err)
	last := subs.Items[len(subs.Items)-1]
	assert.InDelta(t, plans[0].Plan.SecondsTotal, last.EndAt.Seconds(), 0.5)
	assert.Contains(t, b.String(), plans[0].Plan.Items[0].Name)
	for i, it := range subs.Items[1:] {
		assert.GreaterOrEqual(t, it.StartAt, subs.Items[i].EndAt-time.Millisecond, "one after the other")
	}
	plans[0].Plan.Items = nil
	assert.ErrorContains(t, exchange.Track(&b, plans[0].Plan), "no exercises")
}

// TestTablesReadBack: what a spreadsheet would run as a formula is text, and clients come
// back as they were.
func TestTablesReadBack(t *testing.T) {
	s := studio(t)
	all, err := s.Store.Clients(ctx)
	require.NoError(t, err)
	all[0].Client.Name, all[0].Client.GoalText = "=HYPERLINK(\"x\")", "-1, \"quoted\"\nand a line"
	var b bytes.Buffer
	require.NoError(t, exchange.Clients(all).Write(&b))
	rows, err := csv.NewReader(bytes.NewReader(b.Bytes())).ReadAll()
	require.NoError(t, err)
	assert.Equal(t, "'=HYPERLINK(\"x\")", rows[1][1])
	assert.Len(t, rows, len(all)+1)

	into := &app.Studio{Judge: s.Judge, Store: open(t), Now: s.Now}
	report, err := exchange.TakeClients(ctx, into, "clients.csv", append([]byte("\xef\xbb\xbf"), b.Bytes()...), exchange.Options{})
	require.NoError(t, err)
	assert.Empty(t, report.Refused)
	assert.Equal(t, len(all), report.Taken)
	back, err := into.Store.Clients(ctx)
	require.NoError(t, err)
	names := map[string]limit.Client{}
	for _, k := range back {
		names[k.Client.Name] = k.Client
	}
	require.NotEmpty(t, report.Lacks)
	assert.Contains(t, report.Lacks[0], "does not carry warning signs")
	for _, k := range back {
		require.NotNil(t, k.Client.Screened, k.Client.Name)
		assert.False(t, *k.Client.Screened)
		for _, act := range []readiness.Act{readiness.Plan, readiness.Teach, readiness.Ahead} {
			ready, err := into.ReadyFor(ctx, k.ID, k.Client, nil, into.Today(), act)
			require.NoError(t, err)
			assert.NotEqual(t, limit.OK, ready.Status(), "%s, %s", k.Client.Name, act)
		}
		rules := map[string]bool{}
		for l := range into.Limits(k.Client, into.Today()).Rows() {
			for _, why := range l.Reasons {
				rules[why.Rule] = true
			}
		}
		assert.True(t, rules["tolerates.kneeling"], "what nobody has asked about is not borne: %s", k.Client.Name)
	}
	for _, k := range all {
		assert.Equal(t, k.Client.GoalText, names[k.Client.Name].GoalText)
		assert.Equal(t, k.Client.BirthYear, names[k.Client.Name].BirthYear)
		assert.Equal(t, k.Client.Goals, names[k.Client.Name].Goals)
	}
	report, err = exchange.TakeClients(ctx, into, "clients.csv", b.Bytes(), exchange.Options{})
	require.NoError(t, err)
	assert.Equal(t, len(all), report.Same, "they are there")

	for name, table := range map[string]exchange.Table{"measures": exchange.Measures(all), "library": exchange.Shelf(s.Library)} {
		b.Reset()
		require.NoError(t, table.Write(&b), name)
		_, err := csv.NewReader(&b).ReadAll()
		assert.NoError(t, err, name)
	}
}

// TestOddTablesAreNamed by line and field, and nothing of them is taken.
func TestOddTablesAreNamed(t *testing.T) {
	into := studio(t)
	before, err := into.Store.Clients(ctx)
	require.NoError(t, err)
	for says, text := range map[string]string{
		"UTF-16": "\xff\xfen\x00a\x00", "not written in UTF-8": "name\n\xff\xfe\xfd", "is no text": "name\n\x00",
		"a quotation mark":  "name\n\"Ada",
		"at least one line": "name", "no column \"colour\"": "name,colour\nAda,red", "is there twice": "name,name\nAda,Bo",
	} {
		_, err := exchange.TakeClients(ctx, into, "odd.csv", []byte(text), exchange.Options{})
		assert.ErrorContains(t, err, says)
		assert.ErrorContains(t, err, "odd.csv")
	}
	report, err := exchange.TakeClients(ctx,
		into,
		"odd.csv",
		[]byte(
			"name,birth_year,pain_now,conditions\nAda,1960,2,\n,1970,1,\nBo,soon,1,\nCy,1970,12,\nDee,1970,1,dragon_pox\nEve,1970,1,,"+
				"more\n",
		),
		exchange.Options{},
	)
	require.NoError(t, err)
	assert.Equal(t, 1, report.Taken)
	var lines []int
	for _, r := range report.Refused {
		lines = append(lines, r.Line)
	}
	assert.Equal(t, []int{3, 4, 5, 6, 7}, lines)
	after, err := into.Store.Clients(ctx)
	require.NoError(t, err)
	assert.Len(t, after, len(before), "all or nothing")
}

// FuzzTable: whatever is sent, it is read, or refused with its name.
func FuzzTable(f *testing.F) {
	f.Add([]byte("name,birth_year\nAda,1960\n"))
	f.Add([]byte("\xef\xbb\xbfname\n'=1\n"))
	judge, err := app.NewJudge()
	require.NoError(f, err)
	s := &app.Studio{Judge: judge, Store: open(f), Now: time.Now}
	f.Fuzz(func(t *testing.T, b []byte) {
		if _, err := exchange.TakeClients(ctx, s, "t.csv", b, exchange.Options{DryRun: true}); err != nil {
			assert.ErrorContains(t, err, "t.csv")
		}
	})
}

// FuzzArchive: whatever is sent, nothing of a broken archive is taken.
func FuzzArchive(f *testing.F) {
	f.Add(archive(f, filled(f, 1), "2026-11-25"))
	f.Add([]byte("PK\x03\x04"))
	to := open(f)
	f.Fuzz(func(t *testing.T, b []byte) {
		if _, err := exchange.TakeArchive(ctx, to, bytes.NewReader(b), int64(len(b)), exchange.Options{DryRun: true}); err != nil {
			var bad *exchange.Bad
			assert.ErrorAs(t, err, &bad)
		}
	})
}
